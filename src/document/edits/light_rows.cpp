#include "document/edits/edit_table.h"
#include "document/edits/layer_arguments.h"
#include "document/edits/light_edits.h"

namespace ledge::doc {
namespace {
using Kind = EditArgument::Kind;
const EditArgument kAzimuth{"azimuth", Kind::Number, "degrees from the map's north", true, 0, 360};
const EditArgument kAltitude{"altitude", Kind::Number, "degrees", true, 0, 90};

terrain::Light lightOf(const EditValues& v) { return {v.number("azimuth"), v.number("altitude")}; }

template <typename Content>
std::optional<Error> isOther(const Document& d, const EditValues& v, const char* edit,
                             const char* wanted) {
    if (d.layer(v.id("layer"))->as<Content>()) return {};
    return Error{ErrorCode::InvalidArgument, std::string(edit) + " layer",
                 std::string("is no ") + wanted, std::string("name a ") + wanted};
}
}  // namespace

std::vector<NamedEdit> lightEditRows() {
    return {
        {"light",
         "Light of {layer}",
         {kLayer, kAzimuth, kAltitude},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             if (auto no = isOther<Hillshade>(d, v, "light", "hillshade")) return *no;
             return withLight(d, v.id("layer"), lightOf(v));
         }},
        {"light-keep",
         "Keep light of {layer}",
         {kLayer, kAzimuth, kAltitude},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             if (auto no = isOther<Hillshade>(d, v, "light-keep", "hillshade")) return *no;
             return withKeptLight(d, v.id("layer"), lightOf(v));
         }},
        {"light-drop",
         "Remove kept light of {layer}",
         {kLayer, kAzimuth, kAltitude},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             if (auto no = isOther<Hillshade>(d, v, "light-drop", "hillshade")) return *no;
             return withoutKeptLight(d, v.id("layer"), lightOf(v));
         }},
        {"lights-blend",
         "Blend lights of {layer}",
         {kLayer, {"blended", Kind::Yes}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             if (auto no = isOther<Hillshade>(d, v, "lights-blend", "hillshade")) return *no;
             return withBlendedLights(d, v.id("layer"), v.isOn("blended"));
         }},
        {"lights-word",
         "Word for lights",
         {{"word", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             Document next = d;
             next.lightPrefix = v.text("word");
             return next;
         }},
        {"light-add",
         "Add light",
         {{"beside", Kind::Layer}, kAzimuth, kAltitude},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const Layer& beside = *d.layer(v.id("beside"));
             if (!beside.readsHeights())
                 return Error{ErrorCode::InvalidArgument, "light-add beside",
                              "is not made from an elevation model",
                              "name a height tint, hillshade, steepness tint or contours"};
             const std::string name = lightName(lightOf(v), d.lightPrefix);
             for (const LayerPtr& there : allLayers(d.layers))
                 if (there->name == name && there->source == beside.source &&
                     there->as<Hillshade>())
                     return d;
             return addLight(d, beside.id, lightOf(v)).first;
         }},
        {"contour-interval",
         "Contour interval of {layer}",
         {kLayer, {"metres", Kind::Number, "metres", true, 1e-6, 1e6}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             if (auto no = isOther<Contours>(d, v, "contour-interval", "contour layer")) return *no;
             return withInterval(d, v.id("layer"), v.number("metres"));
         }},
    };
}

}  // namespace ledge::doc
