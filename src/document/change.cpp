#include "document/change.h"

#include <algorithm>
#include <unordered_map>

namespace ledge::doc {
namespace {
const Layer& one(const LayerPtr& layer) { return *layer; }
template <typename T>
const T& one(const T& value) {
    return value;
}
template <typename T>
const T& one(const Shared<T>& value) {
    return *value;
}

// A group's strips are told by themselves.
bool isAlike(const LayerPtr& a, const LayerPtr& b) {
    if (a == b) return true;
    if (!a->isGroup() || !b->isGroup()) return *a == *b;
    Layer x = *a, y = *b;
    x.as<Group>()->children.clear();
    y.as<Group>()->children.clear();
    return x == y;
}
template <typename T>
bool isAlike(const T& a, const T& b) {
    return a == b;
}

template <typename T>
std::set<Id> differing(const std::vector<T>& before, const std::vector<T>& after) {
    std::set<Id> out;
    std::unordered_map<Id, const T*> old;
    for (const T& t : before) old.emplace(one(t).id, &t);
    for (const T& t : after) {
        const auto it = old.find(one(t).id);
        if (it == old.end()) {
            out.insert(one(t).id);
            continue;
        }
        if (!isAlike(*it->second, t)) out.insert(one(t).id);
        old.erase(it);
    }
    for (const auto& [id, gone] : old) out.insert(id);
    return out;
}

// Each strip with the group it is in, in order.
void gatherPlaces(const std::vector<LayerPtr>& layers, Id group,
                  std::vector<std::pair<Id, Id>>& out) {
    for (const LayerPtr& layer : layers) {
        out.emplace_back(layer->id, group);
        if (const auto* inner = layer->as<Group>()) gatherPlaces(inner->children, layer->id, out);
    }
}
std::vector<std::pair<Id, Id>> placesIn(const std::vector<LayerPtr>& layers) {
    std::vector<std::pair<Id, Id>> out;
    gatherPlaces(layers, 0, out);
    return out;
}
}  // namespace

Change changeBetween(const Document& before, const Document& after) {
    Change out;
    if (before.layers != after.layers) {  // by their places in memory
        out.layers = differing(allLayers(before.layers), allLayers(after.layers));
        out.isStackMoved = placesIn(before.layers) != placesIn(after.layers);
    }
    out.sources = differing(before.sources, after.sources);
    out.sheets = differing(before.sheets, after.sheets);
    out.views = differing(before.views, after.views);
    out.profiles = differing(before.profiles, after.profiles);
    out.questions = differing(before.questions, after.questions);
    out.isCrsMoved = before.mapCrs != after.mapCrs || before.customCrs != after.customCrs ||
                     before.datumChoices != after.datumChoices;
    out.isOther = before.name != after.name || !(before.display == after.display) ||
                  before.lightPrefix != after.lightPrefix;
    return out;
}

}  // namespace ledge::doc
