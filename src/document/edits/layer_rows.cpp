#include "document/edits/additions.h"
#include "document/edits/edit_table.h"
#include "document/edits/layer_arguments.h"
#include "document/edits/layer_edits.h"
#include "document/json/members.h"
#include "document/json/style_text.h"

namespace ledge::doc {
namespace {
using Kind = EditArgument::Kind;

std::vector<std::string_view> blends() { return {blendNames().begin(), blendNames().end()}; }

// Layers already together in a group of this name.
bool areGrouped(const Document& d, const std::vector<Id>& named, const std::string& name) {
    const auto ids = outermost(d, named);
    for (const Id id : ids) {
        const auto place = placeOf(d, id);
        const Layer* group = place ? d.layer(place->group) : nullptr;
        if (!group || group->name != name) return false;
    }
    return !ids.empty();
}

void takeRamp(RasterStyle& style, const RasterStyle& from) {
    style.ramp = from.ramp, style.family = from.family, style.spread = from.spread;
    style.method = from.method, style.stepCount = from.stepCount;
}

// Rasters that share their ramp with a layer follow it.
Document withSharedRamp(Document document, const Layer& changed) {
    const auto* raster = changed.as<RasterLayer>();
    if (!raster || raster->style.sharedRamp == 0) return document;
    for (const LayerPtr& one : allLayers(document.layers)) {
        const auto* other = one->as<RasterLayer>();
        if (!other || one->id == changed.id || other->style.sharedRamp != raster->style.sharedRamp)
            continue;
        document = withLayer(std::move(document), one->id, [&](Layer& l) {
            takeRamp(l.as<RasterLayer>()->style, raster->style);
        });
    }
    return document;
}
}  // namespace

std::vector<NamedEdit> layerEditRows() {
    return {
        {"layer-name",
         "Rename {layer}",
         {kLayer, {"name", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withLayer(d, v.id("layer"), [&](Layer& l) { l.name = v.text("name"); });
         }},
        {"layer-visible",
         "Lamp of {layer}",
         {kLayer, {"visible", Kind::Yes}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withLayer(d, v.id("layer"), [&](Layer& l) { l.isVisible = v.isOn("visible"); });
         }},
        {"layer-opacity",
         "Opacity of {layer}",
         {kLayer, {"percent", Kind::Number, "percent", true, 0, 100}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withLayer(d, v.id("layer"),
                              [&](Layer& l) { l.opacity = v.number("percent") / 100; });
         }},
        {"layer-blend",
         "Blend mode of {layer}",
         {kLayer, {"mode", Kind::Choice, "", true, 0, 0, blends()}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withLayer(d, v.id("layer"),
                              [&](Layer& l) { l.blend = *blendNamed(v.text("mode")); });
         }},
        {"layer-scales",
         "Scale range of {layer}",
         {kLayer,
          {"widest", Kind::Number, "1 : n on the ground, 0: no limit", false, 0, 1e10},
          {"closest", Kind::Number, "1 : n on the ground, 0: no limit", false, 0, 1e10}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withLayer(d, v.id("layer"), [&](Layer& l) {
                 if (v.has("widest")) l.widestScale = v.number("widest");
                 if (v.has("closest")) l.closestScale = v.number("closest");
             });
         }},
        {"layer-fold",
         "Fold {group}",
         {{"group", Kind::Group}, {"folded", Kind::Yes}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withLayer(d, v.id("group"), [&](Layer& l) {
                 if (auto* group = l.as<Group>()) group->isFolded = v.isOn("folded");
             });
         }},
        {"layer-move",
         "Move {layer}",
         {kLayer,
          {"group", Kind::Group, "", false},
          {"index", Kind::Number, "layers above it", true, 0, 1e6}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return moveLayer(
                 d, v.id("layer"),
                 {v.has("group") ? v.id("group") : 0, static_cast<std::size_t>(v.number("index"))});
         }},
        {"layers-visible",
         "Lamp of {layers}",
         {{"layers", Kind::Layers}, {"visible", Kind::Yes}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withLayers(d, v.ids("layers"),
                               [&](Layer& l) { l.isVisible = v.isOn("visible"); });
         }},
        {"layers-move",
         "Move {layers}",
         {{"layers", Kind::Layers},
          {"group", Kind::Group, "", false},
          {"index", Kind::Number, "of those that stay, layers above them", true, 0, 1e6}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return moveLayers(
                 d, v.ids("layers"),
                 {v.has("group") ? v.id("group") : 0, static_cast<std::size_t>(v.number("index"))});
         }},
        {"layers-remove",
         "Remove {layers}",
         {{"layers", Kind::Layers, "", true, 0, 0, {}, true}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return removeLayers(d, v.ids("layers"));
         }},
        {"layer-group",
         "Group layers",
         {{"layers", Kind::Layers}, {"name", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             if (areGrouped(d, v.ids("layers"), v.text("name"))) return d;
             return groupLayers(d, v.ids("layers"), v.text("name")).first;
         }},
        {"layers-add",
         "Add layers",
         {{"layers", Kind::Text, "a JSON list as a project has it"},
          {"sources", Kind::Text, "a JSON list, of files not in the project yet", false},
          {"map-crs", Kind::Crs, "", false},
          {"index", Kind::Number, "layers above them", false, 0, 1e6},
          {"said", Kind::Text, "what the undo list calls it", false}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             auto next = withAdditions(
                 d, v.has("sources") ? v.text("sources") : std::string(), v.text("layers"),
                 v.has("index") ? static_cast<std::size_t>(v.number("index")) : 0);
             if (next && v.has("map-crs")) next->mapCrs = v.text("map-crs");
             return next;
         }},
        {"layer-remove",
         "Remove {layer}",
         {{"layer", Kind::Layer, "", true, 0, 0, {}, true}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return removeLayer(d, v.id("layer"));
         }},
        {"layer-style",
         "Style of {layer}",
         {kLayer, {"style", Kind::Text, "as a .ledgestyle file has it"}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const auto next = withStyleText(*d.layer(v.id("layer")), v.text("style"));
             if (!next) return next.error();
             return withLayer(d, v.id("layer"), [&](Layer& l) { l = *next; });
         }},
        {"layer-set",
         "{member} of {layer}",
         {kLayer,
          {"member", Kind::Text},
          {"value", Kind::Text},
          {"said", Kind::Text, "what the undo list calls it", false}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const auto next =
                 withMember(*d.layer(v.id("layer")), v.text("member"), v.text("value"));
             if (!next) return next.error();
             Document out = withLayer(d, v.id("layer"), [&](Layer& l) { l = *next; });
             return v.text("member").starts_with("style") ? withSharedRamp(std::move(out), *next)
                                                          : out;
         }},
        {"ramp-share",
         "Ramp of {layer} shared",
         {kLayer, {"with", Kind::Text, "a raster whose ramp it takes, or nothing"}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const auto* own = d.layer(v.id("layer"))->as<RasterLayer>();
             if (!own)
                 return Error{ErrorCode::InvalidArgument, "ramp-share layer", "is no raster layer",
                              "name a raster layer"};
             const std::string with = v.text("with");
             if (with == "nothing")
                 return withLayer(d, v.id("layer"),
                                  [](Layer& l) { l.as<RasterLayer>()->style.sharedRamp = 0; });
             const Layer* other = nullptr;
             int free = 1;
             for (const LayerPtr& one : allLayers(d.layers)) {
                 if ((one->name == with || "#" + std::to_string(one->id) == with) &&
                     one->as<RasterLayer>() && one->id != v.id("layer"))
                     other = one.get();
                 if (const auto* raster = one->as<RasterLayer>())
                     free = std::max(free, raster->style.sharedRamp + 1);
             }
             if (!other)
                 return Error{ErrorCode::NotFound, "ramp-share with \"" + with + "\"",
                              "is no other raster layer", "name one, or say nothing"};
             const RasterStyle& theirs = other->as<RasterLayer>()->style;
             const int number = theirs.sharedRamp != 0       ? theirs.sharedRamp
                                : own->style.sharedRamp != 0 ? own->style.sharedRamp
                                                             : free;
             Document out = withLayer(
                 d, other->id, [&](Layer& l) { l.as<RasterLayer>()->style.sharedRamp = number; });
             return withLayer(std::move(out), v.id("layer"), [&](Layer& l) {
                 l.as<RasterLayer>()->style.sharedRamp = number;
                 takeRamp(l.as<RasterLayer>()->style, theirs);
             });
         }},
    };
}

}  // namespace ledge::doc
