#include "io/geopackage/sql_condition.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/base/numbers.h"
#include "core/query/tree.h"
#include "io/geopackage/database.h"

namespace ledge::io {
namespace {
using query::Tree;
using Op = Tree::Op;

// Numbers that doubles and SQLite's whole numbers compare alike.
constexpr double kExact = 9007199254740992.0;

const Field* fieldOf(const Tree& tree, const LayerInfo& layer) {
    if (tree.op != Op::Name) return nullptr;
    const auto it = std::find_if(layer.fields.begin(), layer.fields.end(),
                                 [&](const Field& f) { return f.name == tree.name; });
    return it == layer.fields.end() ? nullptr : &*it;
}

std::optional<double> numberIn(const Tree& tree) {
    if (tree.op == Op::Negative && tree.parts.size() == 1) {
        const auto inner = numberIn(*tree.parts.front());
        return inner ? std::optional(-*inner) : std::nullopt;
    }
    if (tree.op != Op::Literal || std::holds_alternative<bool>(tree.value)) return {};
    const double out = numberOf(tree.value);
    return std::abs(out) < kExact ? std::optional(out) : std::nullopt;
}

// Only letters that mean the same in every encoding that a file may be wrongly in.
std::optional<std::string> textIn(const Tree& tree) {
    const auto* text = tree.op == Op::Literal ? std::get_if<std::string>(&tree.value) : nullptr;
    if (!text ||
        !std::all_of(text->begin(), text->end(), [](char c) { return c > 0x1F && c < 0x7F; }))
        return {};
    std::string out = "'";
    for (const char c : *text) out += c == '\'' ? std::string("''") : std::string(1, c);
    return out + "'";
}

// A literal that a field of this type is compared with as SQLite would: numbers with numbers, texts
// with texts.
std::optional<std::string> literalFor(const Field& field, const Tree& tree) {
    if (field.type == FieldType::Integer || field.type == FieldType::Real) {
        const auto number = numberIn(tree);
        return number ? std::optional(exactNumber(*number)) : std::nullopt;
    }
    if (field.type == FieldType::Text) return textIn(tree);
    return {};
}

// SQLite keeps what it is given: a number in a column of texts, and the other way round. What is
// not as declared is left to whoever looks again.
std::string orElse(const Field& field, const std::string& condition) {
    const std::string type = "typeof(" + sqlName(field.name) + ")";
    return "(" + condition + " OR " + type +
           (field.type == FieldType::Text ? " NOT IN ('text','null'))"
                                          : " NOT IN ('integer','real','null'))");
}

std::string comparison(const Tree& tree, const char* sign, const char* turned,
                       const LayerInfo& layer) {
    const Tree &left = *tree.parts[0], &right = *tree.parts[1];
    const bool isTurned = fieldOf(left, layer) == nullptr;
    const Field* field = fieldOf(isTurned ? right : left, layer);
    if (!field) return {};
    // Orders of texts differ between languages; sameness does not.
    const bool isSame = std::string_view(sign) == "=" || std::string_view(sign) == "<>";
    if (field->type == FieldType::Text && !isSame) return {};
    const auto literal = literalFor(*field, isTurned ? left : right);
    if (!literal) return {};
    return orElse(*field, sqlName(field->name) + (isTurned ? turned : sign) + *literal);
}

std::string conditionOf(const Tree& tree, const LayerInfo& layer, int depth) {
    constexpr int kDeepest = 60;  // SQLite refuses expressions deeper than a thousand
    if (depth > kDeepest) return {};
    switch (tree.op) {
    case Op::And:
    case Op::Or: {
        std::string out;
        for (const query::TreePtr& part : tree.parts) {
            const std::string one = conditionOf(*part, layer, depth + 1);
            if (one.empty() && tree.op == Op::Or) return {};
            if (one.empty()) continue;
            out += (out.empty() ? "" : tree.op == Op::And ? " AND " : " OR ") + one;
        }
        return out.empty() ? out : "(" + out + ")";
    }
    case Op::Equal: return comparison(tree, "=", "=", layer);
    case Op::NotEqual: return comparison(tree, "<>", "<>", layer);
    case Op::Less: return comparison(tree, "<", ">", layer);
    case Op::LessEqual: return comparison(tree, "<=", ">=", layer);
    case Op::Greater: return comparison(tree, ">", "<", layer);
    case Op::GreaterEqual: return comparison(tree, ">=", "<=", layer);
    case Op::Between: {
        const Field* field = fieldOf(*tree.parts[0], layer);
        if (!field || field->type == FieldType::Text) return {};
        const auto low = literalFor(*field, *tree.parts[1]),
                   high = literalFor(*field, *tree.parts[2]);
        if (!low || !high) return {};
        return orElse(*field, sqlName(field->name) + " BETWEEN " + *low + " AND " + *high);
    }
    case Op::In: {
        const Field* field = fieldOf(*tree.parts[0], layer);
        if (!field) return {};
        std::string all;
        for (std::size_t i = 1; i < tree.parts.size(); ++i) {
            const auto one = literalFor(*field, *tree.parts[i]);
            if (!one) return {};
            all += (i > 1 ? "," : "") + *one;
        }
        return orElse(*field, sqlName(field->name) + " IN (" + all + ")");
    }
    case Op::IsNull: {
        const Field* field = fieldOf(*tree.parts[0], layer);
        return field ? "(" + sqlName(field->name) + " IS NULL)" : std::string();
    }
    default: return {};
    }
}
// Functions may be of all rows, such as sums: then none may be left out.
bool callsAny(const Tree& tree) {
    return tree.op == Op::Call ||
           std::any_of(tree.parts.begin(), tree.parts.end(),
                       [](const query::TreePtr& part) { return callsAny(*part); });
}
}  // namespace

std::string sqlCondition(const std::string& keep, const LayerInfo& layer) {
    if (keep.empty()) return {};
    const auto tree = query::parse(keep);
    return tree && !callsAny(**tree) ? conditionOf(**tree, layer, 0) : std::string();
}

}  // namespace ledge::io
