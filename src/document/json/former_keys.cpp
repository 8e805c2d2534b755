#include "document/json/former_keys.h"

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
}  // namespace

Json withTodaysKeys(Json project) {
    forEach(project, "sheets", [](Json& sheet) {
        forEach(sheet, "items", [](Json& item) { rename(item, "frozen", "kept_layers"); });
    });
    return project;
}

}  // namespace ledge::doc
