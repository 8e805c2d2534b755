#include "core/query/field_rename.h"

#include <algorithm>
#include <vector>

#include "core/query/tree.h"

namespace ledge::query {
namespace {
void collect(const Tree& tree, const std::string& name, std::vector<Place>& out) {
    if (tree.op == Tree::Op::Name && tree.name == name) out.push_back({tree.from, tree.to});
    for (const TreePtr& part : tree.parts)
        if (part) collect(*part, name, out);
}
}  // namespace

std::string withFieldRenamed(const std::string& said, const std::string& from,
                             const std::string& to) {
    if (said == from) return to;
    if (said.find(from) == std::string::npos) return said;
    const auto tree = parse(said);
    if (!tree) return said;
    std::vector<Place> places;
    collect(**tree, from, places);
    // From the last on, so that the places of the others hold.
    std::sort(places.begin(), places.end(),
              [](const Place& a, const Place& b) { return a.from > b.from; });
    std::string out = said;
    for (const Place& at : places) out.replace(at.from, at.to - at.from, nameText(to));
    return out;
}

}  // namespace ledge::query
