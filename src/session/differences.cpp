#include "session/differences.h"

#include <functional>

#include "document/change.h"

namespace ledge::session {
namespace {
constexpr std::size_t kMostNames = 4;

using NameOf = std::function<std::string(const doc::Document&, doc::Id)>;

// The name of a thing where it is there; nothing to say of it else.
template <typename Found>
std::string nameOf(const Found* found) {
    return found ? (found->name.empty() ? "without a name" : found->name) : std::string();
}

std::string line(const std::string& kind, const std::set<doc::Id>& ids, const NameOf& name,
                 const doc::Document& from, const doc::Document& to) {
    std::string out;
    std::size_t told = 0;
    for (const doc::Id id : ids) {
        const std::string before = name(from, id), after = name(to, id);
        if (before.empty() && after.empty()) continue;
        if (++told > kMostNames) continue;
        out += (out.empty() ? kind + ": " : ", ") + (before.empty()  ? after + " added"
                                                     : after.empty() ? before + " gone"
                                                                     : after + " changed");
    }
    if (told > kMostNames) out += ", " + std::to_string(told - kMostNames) + " more";
    return out;
}
}  // namespace

std::vector<std::string> differences(const doc::Document& from, const doc::Document& to) {
    const doc::Change change = doc::changeBetween(from, to);
    std::vector<std::string> out;
    const auto add = [&](const std::string& text) {
        if (!text.empty()) out.push_back(text);
    };
    using doc::Document;
    add(line(
        "layers", change.layers, [](const Document& d, doc::Id id) { return nameOf(d.layer(id)); },
        from, to));
    add(line(
        "sources", change.sources,
        [](const Document& d, doc::Id id) { return nameOf(d.source(id)); }, from, to));
    add(line(
        "sheets", change.sheets, [](const Document& d, doc::Id id) { return nameOf(d.sheet(id)); },
        from, to));
    add(line(
        "views", change.views, [](const Document& d, doc::Id id) { return nameOf(d.view(id)); },
        from, to));
    add(line(
        "profiles", change.profiles,
        [](const Document& d, doc::Id id) { return nameOf(d.profile(id)); }, from, to));
    add(line(
        "questions", change.questions,
        [](const Document& d, doc::Id id) { return nameOf(d.question(id)); }, from, to));
    if (change.isStackMoved) add("order or groups of the layers");
    if (change.isCrsMoved) add("CRS of the map");
    if (change.isOther) add("name or settings of the project");
    return out;
}

}  // namespace ledge::session
