#include "session/table_replacing.h"

#include <algorithm>

#include "core/base/letters.h"
#include "core/feature/edit_log.h"

namespace ledge::session {
namespace {
// The text with every place of `find` replaced; nothing where there is none. Case folding may
// change lengths, so places are looked for letter by letter.
std::optional<std::string> replacedIn(const std::string& text, const Replacing& what,
                                      const std::string& folded) {
    if (what.isWholeCell) {
        const bool isIt = what.isCaseKept ? text == what.find : caseFolded(text) == folded;
        return isIt && text != what.with ? std::optional(what.with) : std::nullopt;
    }
    const std::size_t letterTotal = letterCount(what.find);
    std::string out;
    bool isFound = false;
    for (std::size_t at = 0; at < text.size();) {
        const std::string_view rest = std::string_view(text).substr(at);
        const std::string_view here = letters(rest, 0, letterTotal);
        const bool isIt =
            what.isCaseKept ? here == what.find : !here.empty() && caseFolded(here) == folded;
        if (isIt) {
            out += what.with;
            at += here.size();
            isFound = true;
        } else {
            const std::string_view one = letters(rest, 0, 1);
            out += one;
            at += std::max<std::size_t>(one.size(), 1);
        }
    }
    return isFound && out != text ? std::optional(std::move(out)) : std::nullopt;
}
}  // namespace

Result<Replaced> replaced(const FeatureTable& table, const std::vector<std::uint32_t>& rows,
                          const std::vector<std::size_t>& fields, const Replacing& what,
                          const Progress& progress) {
    Replaced out;
    if (what.find.empty()) return out;
    const std::string folded = caseFolded(what.find);
    for (std::size_t i = 0; i < rows.size(); ++i) {
        if (i % 4096 == 0 && progress.stopped()) return cancelled(table.info.name);
        for (const std::size_t field : fields) {
            if (table.isMissing(rows[i], field)) continue;
            const FieldType type = table.info.fields[field].type;
            if (type == FieldType::Bytes) continue;
            const auto next = replacedIn(exactText(table.value(rows[i], field)), what, folded);
            if (!next) continue;
            const bool isCut = next->find_first_of("\t\n") != std::string::npos;
            if (isCut || (!next->empty() && !valueOf(*next, type))) {
                ++out.refused;
                continue;
            }
            ++out.count;
            out.cells += std::to_string(table.key(rows[i])) + "\t" + table.info.fields[field].name;
            if (!next->empty() || type == FieldType::Text) out.cells += "\t" + *next;
            out.cells += "\n";
        }
    }
    return out;
}

}  // namespace ledge::session
