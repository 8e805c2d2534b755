#include "document/json/former_keys.h"

#include "core/geometry/wkt_shape.h"

namespace ledge::doc {
namespace {
using Json = nlohmann::ordered_json;

void rename(Json& object, const char* former, const char* today) {
    if (!object.is_object() || !object.contains(former) || object.contains(today)) return;
    Json value = std::move(object[former]);
    object.erase(former);
    object[today] = std::move(value);
}

// Every element of a list that is a member of an object, if there is one.
template <typename F>
void forEach(Json& object, const char* list, const F& act) {
    if (!object.is_object()) return;
    const auto it = object.find(list);
    if (it == object.end() || !it->is_array()) return;
    for (Json& one : *it) act(one);
}
// Shapes of edits were a kind and points.
void nameShape(Json& edit) {
    if (!edit.is_object() || !edit.contains("points") || !edit.contains("type")) return;
    const Json type = edit["type"], points = edit["points"];
    edit.erase("type"), edit.erase("points");
    std::vector<Point> at;
    if (points.is_array())
        for (const Json& p : points)
            if (p.is_array() && p.size() == 2 && p[0].is_number() && p[1].is_number())
                at.push_back({p[0].get<double>(), p[1].get<double>()});
    edit["shape"] = at.empty()          ? std::string()
                    : type == "point"   ? wktOf(Geometry::point(at.front()))
                    : type == "line"    ? wktOf(Geometry::line(at))
                    : type == "polygon" ? wktOf(Geometry::polygon({at}))
                                        : std::string();
}
// A layer had one set of labels, on a field.
void listLabels(Json& layer) {
    forEach(layer, "layers", listLabels);
    if (!layer.is_object()) return;
    const auto it = layer.find("labels");
    if (it == layer.end()) return;
    Json& labels = *it;
    if (labels.is_object()) labels = Json::array({Json(labels)});
    if (!labels.is_array()) return;
    for (Json& set : labels) {
        rename(set, "field", "text");
        rename(set, "rank_field", "rank");
    }
}
}  // namespace

Json withTodaysKeys(Json project) {
    forEach(project, "layers", listLabels);
    forEach(project, "sheets", [](Json& sheet) {
        forEach(sheet, "items", [](Json& item) {
            rename(item, "frozen", "kept_layers");
            forEach(item, "kept_layers", listLabels);
        });
    });
    forEach(project, "sources", [](Json& source) { forEach(source, "edits", nameShape); });
    return project;
}

}  // namespace ledge::doc
