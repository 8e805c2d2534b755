#include <algorithm>

#include "document/edits/edit_table.h"
#include "document/edits/layer_arguments.h"
#include "document/edits/layer_edits.h"
#include "document/label_pins.h"

namespace ledge::doc {
namespace {
using Kind = EditArgument::Kind;
const EditArgument kSet{"set", Kind::Number, "place among the layer's label sets", false, 0, 1000};
const EditArgument kKey{"key", Kind::Number, "key of the feature", true, -9e15, 9e15};

Error noLabels(const Layer& layer, std::size_t set) {
    const auto* vector = layer.as<VectorLayer>();
    return {ErrorCode::NotFound, layer.name,
            vector ? "has " + std::to_string(vector->labels.size()) + " label sets, no number " +
                         std::to_string(set)
                   : "is no layer of features",
            "name another"};
}

// A label set of a layer changed.
template <typename Change>
Result<Document> withSet(const Document& d, const EditValues& v, const Change& change) {
    const auto set = v.has("set") ? static_cast<std::size_t>(v.number("set")) : 0;
    const Layer& layer = *d.layer(v.id("layer"));
    const auto* vector = layer.as<VectorLayer>();
    if (!vector || set >= vector->labels.size()) return noLabels(layer, set);
    return withLayer(d, v.id("layer"), [&](Layer& l) { change(l.as<VectorLayer>()->labels[set]); });
}

}  // namespace

std::vector<NamedEdit> labelEditRows() {
    return {
        {"label-pin",
         "Place a label of {layer}",
         {kLayer,
          kSet,
          kKey,
          {"right-mm", Kind::Number, "mm on paper, from what it names to its middle", false, -1000,
           1000},
          {"down-mm", Kind::Number, "mm on paper, the same", false, -1000, 1000},
          {"turn", Kind::Number, "degrees, clockwise", false, -360, 360},
          {"scale", Kind::Number, "1 : n; it holds from half to twice of it, 0: always", false, 0,
           1e10},
          {"hidden", Kind::Yes, "", false},
          {"text", Kind::Text, "in place of the label's; \\n breaks lines", false},
          {"size-pt", Kind::Number, "points, in place of the set's; 0: as the set has it", false, 0,
           500},
          {"colour", Kind::Text, "in place of the set's; none: as the set has it", false}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const bool hasColour = v.has("colour") && v.text("colour") != "none";
             if (hasColour && !parseColour(v.text("colour")))
                 return Error{ErrorCode::InvalidArgument, "label-pin colour",
                              "\"" + v.text("colour") + "\" is no colour", "write #RRGGBB or none"};
             const auto change = [&](LabelPin& pin) {
                 if (v.has("right-mm") || v.has("down-mm")) {
                     pin.isPlaced = true;
                     pin.isHidden = false;
                 }
                 if (v.has("right-mm")) pin.rightMm = v.number("right-mm");
                 if (v.has("down-mm")) pin.downMm = v.number("down-mm");
                 if (v.has("turn")) pin.turn = v.number("turn");
                 if (v.has("scale")) pin.scale = v.number("scale");
                 if (v.has("hidden")) pin.isHidden = v.isOn("hidden");
                 if (v.has("text")) pin.text = v.text("text");
                 if (v.has("size-pt")) pin.sizePt = v.number("size-pt");
                 if (v.has("colour"))
                     pin.colour = hasColour ? parseColour(v.text("colour")) : std::nullopt;
             };
             const bool isPlace = v.has("scale") || v.has("right-mm") || v.has("down-mm");
             return withSet(d, v, [&](LabelStyle& labels) {
                 const auto key = static_cast<std::int64_t>(v.number("key"));
                 if (isPlace || !labels.pin(key, 0))
                     change(pinAt(labels, key, v.has("scale") ? v.number("scale") : 0));
                 else  // what it says and looks like is the same at all scales
                     for (LabelPin& pin : labels.pins)
                         if (pin.key == key) change(pin);
                 sortPins(labels.pins);
             });
         }},
        {"label-unpin",
         "Labels of {layer} where there is room",
         {kLayer,
          kSet,
          {"key", Kind::Number, "key of the feature; without it all", false, -9e15, 9e15},
          {"scale", Kind::Number, "1 : n; only the place that holds there", false, 0, 1e10}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withSet(d, v, [&](LabelStyle& labels) {
                 if (!v.has("key")) return labels.pins.clear();
                 unpin(labels, static_cast<std::int64_t>(v.number("key")),
                       v.has("scale") ? std::optional(v.number("scale")) : std::nullopt);
             });
         }},
        {"label-set",
         "Labels {name} of {layer}",
         {kLayer, {"name", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const Layer& layer = *d.layer(v.id("layer"));
             const auto* vector = layer.as<VectorLayer>();
             if (!vector) return noLabels(layer, 0);
             for (const LabelStyle& labels : vector->labels)
                 if (labels.name == v.text("name")) return d;
             return withLayer(d, v.id("layer"), [&](Layer& l) {
                 auto& all = l.as<VectorLayer>()->labels;
                 LabelStyle next = all.empty() ? LabelStyle() : all.front();
                 next.name = v.text("name");
                 next.pins.clear();
                 next.keep.clear();
                 all.push_back(std::move(next));
             });
         }},
        {"label-set-remove",
         "Remove labels {name} of {layer}",
         {kLayer, {"name", Kind::Text}, kSet},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             if (!d.layer(v.id("layer"))->as<VectorLayer>())
                 return noLabels(*d.layer(v.id("layer")), 0);
             return withLayer(d, v.id("layer"), [&](Layer& l) {
                 auto& all = l.as<VectorLayer>()->labels;
                 // Files may hold two of one name: by its place only one of them goes.
                 std::size_t place = 0;
                 std::erase_if(all, [&](const LabelStyle& one) {
                     const std::size_t at = place++;
                     return one.name == v.text("name") &&
                            (!v.has("set") || at == static_cast<std::size_t>(v.number("set")));
                 });
                 if (all.empty()) all.emplace_back();
             });
         }},
    };
}

}  // namespace ledge::doc
