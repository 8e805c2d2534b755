#include "document/edits/edit_table.h"

#include <algorithm>
#include <set>
#include <sstream>

#include "core/base/numbers.h"
#include "core/base/paper.h"

namespace ledge::doc {
namespace {
using Kind = EditArgument::Kind;

struct Named {
    Id id = 0;
    std::string name;
};

// What a target may be, with its names.
std::vector<Named> targetsOf(const Document& d, Kind kind, Id sheet) {
    std::vector<Named> out;
    const auto add = [&out]<typename T>(const std::vector<T>& all) {
        for (const T& one : all)
            if constexpr (requires { one->name; })
                out.push_back({one->id, one->name});
            else
                out.push_back({one.id, one.name});
    };
    switch (kind) {
    case Kind::Layer:
    case Kind::Layers:
    case Kind::Group:
        for (const LayerPtr& layer : allLayers(d.layers))
            if (kind != Kind::Group || layer->isGroup()) out.push_back({layer->id, layer->name});
        break;
    case Kind::Source:
    case Kind::Sources: add(d.sources); break;
    case Kind::View: add(d.views); break;
    case Kind::Profile: add(d.profiles); break;
    case Kind::Question: add(d.questions); break;
    case Kind::Sheet: add(d.sheets); break;
    case Kind::Item:
    case Kind::Items:
        if (const Sheet* found = d.sheet(sheet)) add(found->items);
        break;
    case Kind::Text:
    case Kind::Number:
    case Kind::Length:
    case Kind::Lengths:
    case Kind::Yes:
    case Kind::Choice:
    case Kind::Numbers:
    case Kind::Crs: break;
    }
    return out;
}

std::string listed(const std::vector<Named>& targets) {
    std::string out;
    for (const Named& one : targets) {
        if (out.size() > 300) return "there are: " + out + ", …";
        out += (out.empty() ? "" : ", ") + one.name + " (#" + std::to_string(one.id) + ")";
    }
    return out.empty() ? "there are none" : "there are: " + out;
}
}  // namespace

class EditChecker {
public:
    EditChecker(const Document& document, const NamedEdit& edit)
        : m_document(document), m_edit(edit) {}

    Result<EditValues> checked(const EditWords& words) {
        // Whoever gave several that cannot be used is told of them all.
        std::vector<Error> wrong;
        for (const auto& word : words)
            if (std::none_of(m_edit.arguments.begin(), m_edit.arguments.end(),
                             [&word](const EditArgument& a) { return a.name == word.first; }))
                wrong.push_back(
                    bad(word.first, "is no argument of this edit", "it has: " + argumentNames()));
        for (const EditArgument& argument : m_edit.arguments) {
            const auto it = words.find(argument.name);
            if (it == words.end()) {
                if (argument.isRequired)
                    wrong.push_back(bad(std::string(argument.name), "is missing",
                                        "give " + std::string(argument.name) + "=…"));
                continue;
            }
            // An item is looked for on its sheet.
            if (isOfSheet(argument) && !m_values.has("sheet")) continue;
            if (const auto done = take(argument, it->second); !done) {
                wrong.push_back(done.error());
                m_values.m_values.erase(std::string(argument.name));
            }
        }
        if (wrong.empty()) return std::move(m_values);
        Error all = wrong.front();
        for (std::size_t i = 1; i < wrong.size(); ++i) all.mend += "; " + wrong[i].text();
        return all;
    }
    /// Whether a target that may be gone is gone.
    bool isNothingToDo() const { return m_isGone; }

private:
    Error bad(const std::string& what, const std::string& why, const std::string& mend) const {
        return {ErrorCode::InvalidArgument, std::string(m_edit.name) + " " + what, why, mend};
    }
    std::string argumentNames() const {
        std::string out;
        for (const EditArgument& a : m_edit.arguments)
            out += (out.empty() ? "" : ", ") + std::string(a.name);
        return out;
    }

    Result<double> number(const EditArgument& a, const std::string& word) const {
        const bool isLength = a.kind == Kind::Length || a.kind == Kind::Lengths;
        const auto length = isLength ? paperMm(word) : Result<double>(0.0);
        const auto value = !isLength ? parseNumber(word)
                           : length  ? std::optional(*length)
                                     : std::nullopt;
        if (value && std::isfinite(*value) && *value >= a.low && *value <= a.high) return *value;
        const std::string range =
            a.low > -1e300 && a.high < 1e300
                ? formatNumber(a.low, {-1, false}) + " to " + formatNumber(a.high, {-1, false})
                : std::string("a number");
        return bad(std::string(a.name), "\"" + word + "\" cannot be used",
                   "give " + range + (a.unit.empty() ? "" : " (" + std::string(a.unit) + ")"));
    }

    static bool isOfSheet(const EditArgument& a) {
        return a.kind == Kind::Item || a.kind == Kind::Items;
    }
    std::vector<Named> targets(const EditArgument& a) const {
        const Id sheet = isOfSheet(a) && m_values.has("sheet") ? m_values.id("sheet") : 0;
        return targetsOf(m_document, a.kind, sheet);
    }
    // Zero for one that may be gone and is.
    Result<Id> target(const EditArgument& a, const std::string& word,
                      const std::vector<Named>& targets) const {
        const bool isId = word.starts_with('#');
        for (const Named& one : targets)
            if (!isId && one.name == word) return one.id;
        if (const auto id = parseNumber(isId ? word.substr(1) : word))
            for (const Named& one : targets)
                if (static_cast<double>(one.id) == *id) return one.id;
        if (a.mayBeGone) return Id{0};
        return Error{ErrorCode::NotFound,
                     std::string(m_edit.name) + " " + std::string(a.name) + " \"" + word + "\"",
                     "is not in the project", listed(targets)};
    }

    // Ids are looked up, names searched, each once for the whole list.
    Result<std::vector<Id>> targetList(const EditArgument& a, const std::string& words) const {
        const auto all = targets(a);
        std::set<Id> known;
        for (const Named& one : all) known.insert(one.id);
        std::vector<Id> out;
        std::stringstream in(words);
        for (std::string part; std::getline(in, part, ',');) {
            const std::string word = trimmed(part);
            const auto number = word.starts_with('#') ? parseNumber(word.substr(1)) : std::nullopt;
            if (number && *number >= 1 && *number < 1e15 &&
                known.contains(static_cast<Id>(*number))) {
                out.push_back(static_cast<Id>(*number));
                continue;
            }
            const auto id = target(a, word, all);
            if (!id) return id.error();
            if (*id != 0) out.push_back(*id);
        }
        return out;
    }

    Result<void> take(const EditArgument& a, const std::string& word) {
        auto& slot = m_values.m_values[std::string(a.name)];
        switch (a.kind) {
        case Kind::Text: slot = word; return {};
        case Kind::Number:
        case Kind::Length: {
            const auto value = number(a, word);
            if (!value) return value.error();
            slot = *value;
            return {};
        }
        case Kind::Yes:
            if (word != "yes" && word != "no")
                return bad(std::string(a.name), "\"" + word + "\" is neither yes nor no",
                           "give yes or no");
            slot = word == "yes";
            return {};
        case Kind::Choice: {
            std::string known;
            for (const std::string_view choice : a.choices) {
                known += (known.empty() ? "" : ", ") + std::string(choice);
                if (choice == word) slot = word;
            }
            if (std::find(a.choices.begin(), a.choices.end(), word) != a.choices.end()) return {};
            return bad(std::string(a.name), "\"" + word + "\" is no choice", "there are: " + known);
        }
        case Kind::Numbers:
        case Kind::Lengths: {
            std::vector<double> out;
            std::stringstream in(word);
            for (std::string part; std::getline(in, part, ',');) {
                const auto value = number(a, part);
                if (!value) return value.error();
                out.push_back(*value);
            }
            slot = std::move(out);
            return {};
        }
        case Kind::Crs:
            if (const auto crs = crs::parseCrs(word); !crs) return crs.error();
            slot = word;
            return {};
        case Kind::Layers:
        case Kind::Items:
        case Kind::Sources: {
            auto out = targetList(a, word);
            if (!out) return out.error();
            m_isGone = m_isGone || (out->empty() && a.mayBeGone);
            slot = *std::move(out);
            return {};
        }
        case Kind::Group:
            if (word.empty()) {
                slot = Id{0};
                return {};
            }
            [[fallthrough]];
        case Kind::Layer:
        case Kind::Source:
        case Kind::View:
        case Kind::Profile:
        case Kind::Question:
        case Kind::Sheet:
        case Kind::Item: {
            const auto id = target(a, word, targets(a));
            if (!id) return id.error();
            m_isGone = m_isGone || *id == 0;
            slot = *id;
            return {};
        }
        }
        return {};
    }

    const Document& m_document;
    const NamedEdit& m_edit;
    EditValues m_values;
    bool m_isGone = false;
};

namespace {
// The path of a member as people read it: "style.line_mm" is the line's.
std::string memberWords(std::string path) {
    const auto isNumber = [](const std::string& word) {
        return !word.empty() && word.find_first_not_of("0123456789") == word.npos;
    };
    // One of a list is known by the list.
    if (const auto dot = path.rfind('.'); dot != path.npos && isNumber(path.substr(dot + 1)))
        path.resize(dot);
    std::string out = path.substr(path.rfind('.') + 1);
    // A whole part, or a member whose name says little without what it is of.
    const auto before = path.substr(0, path.size() - std::min(path.size(), out.size() + 1));
    const std::string owner = before.substr(before.rfind('.') + 1);
    if (!owner.empty() && owner != "style" && !isNumber(owner)) out = owner + " " + out;
    for (const std::string_view unit : {"_mm", "_pt"})
        if (out.ends_with(unit)) out.resize(out.size() - unit.size());
    std::replace(out.begin(), out.end(), '_', ' ');
    if (!out.empty() && out[0] >= 'a' && out[0] <= 'z') out[0] = static_cast<char>(out[0] - 32);
    return out;
}

// "{layer}" by the name of what the argument means, other braces by its word.
std::string filled(const NamedEdit& edit, const Document& document, const EditValues& values,
                   const EditWords& words) {
    if (const auto said = words.find("said"); said != words.end()) return said->second;
    std::string out(edit.sentence);
    for (const EditArgument& a : edit.arguments) {
        const std::string brace = "{" + std::string(a.name) + "}";
        const auto at = out.find(brace);
        const auto word = words.find(a.name);
        if (at == std::string::npos || word == words.end() || !values.has(a.name)) continue;
        std::string name = word->second;
        const bool isTarget = a.kind == Kind::Layer || a.kind == Kind::Source ||
                              a.kind == Kind::View || a.kind == Kind::Profile ||
                              a.kind == Kind::Question || a.kind == Kind::Sheet ||
                              a.kind == Kind::Item;
        if (a.kind == Kind::Items) {
            const auto& ids = values.ids(a.name);
            const Sheet* sheet = document.sheet(values.id("sheet"));
            const SheetItem* only = sheet && ids.size() == 1 ? sheet->item(ids.front()) : nullptr;
            name = only ? only->name : std::to_string(ids.size()) + " items";
        }
        if (a.kind == Kind::Layers) {
            const auto& ids = values.ids(a.name);
            const Layer* only = ids.size() == 1 ? document.layer(ids.front()) : nullptr;
            name = only ? only->name : std::to_string(ids.size()) + " layers";
        }
        if (isTarget)
            for (const Named& one :
                 targetsOf(document, a.kind, values.has("sheet") ? values.id("sheet") : 0))
                if (one.id == values.id(a.name)) name = one.name;
        if (a.name == "member") {
            // Of some members of a part, the first says what was done.
            const auto value = words.find("value");
            if (value != words.end() && value->second.starts_with("{\"") && name == "style")
                name += "." + value->second.substr(2, value->second.find('"', 2) - 2);
            name = memberWords(name);
        }
        out.replace(at, brace.size(), name);
    }
    return out;
}
}  // namespace

std::span<const NamedEdit> namedEdits() {
    static const std::vector<NamedEdit> all = [] {
        std::vector<NamedEdit> out;
        for (auto rows :
             {mapEditRows(), layerEditRows(), labelEditRows(), lightEditRows(), tableEditRows(),
              questionEditRows(), sheetEditRows(), itemEditRows(), panelEditRows()})
            out.insert(out.end(), rows.begin(), rows.end());
        return out;
    }();
    return all;
}

const NamedEdit* namedEdit(std::string_view name) {
    for (const NamedEdit& edit : namedEdits())
        if (edit.name == name) return &edit;
    return nullptr;
}

Result<EditOutcome> applied(const Document& document, std::string_view name,
                            const EditWords& arguments) {
    const NamedEdit* edit = namedEdit(name);
    if (!edit)
        return Error{ErrorCode::NotFound, "edit \"" + std::string(name) + "\"",
                     "there is none of this name", "see them all with: ledge edits"};
    EditChecker checker(document, *edit);
    const auto values = checker.checked(arguments);
    if (!values) return values.error();
    if (checker.isNothingToDo()) return EditOutcome{document, std::string(edit->sentence)};
    auto next = edit->apply(document, *values);
    if (!next) return next.error();
    return EditOutcome{*std::move(next), filled(*edit, document, *values, arguments)};
}

}  // namespace ledge::doc
