#include "session/sld_filter.h"

#include <array>

#include "core/base/numbers.h"
#include "io/xml/xml.h"

namespace ledge::session {
namespace {
using TreeOp = query::Tree::Op;
struct Named {
    TreeOp op;
    const char* element;
    const char* sign;
};
constexpr std::array<Named, 6> kComparisons{
    {{TreeOp::Equal, "PropertyIsEqualTo", "="},
     {TreeOp::NotEqual, "PropertyIsNotEqualTo", "<>"},
     {TreeOp::Less, "PropertyIsLessThan", "<"},
     {TreeOp::LessEqual, "PropertyIsLessThanOrEqualTo", "<="},
     {TreeOp::Greater, "PropertyIsGreaterThan", ">"},
     {TreeOp::GreaterEqual, "PropertyIsGreaterThanOrEqualTo", ">="}}};
constexpr std::array<Named, 4> kSums{{{TreeOp::Plus, "Add", "+"},
                                      {TreeOp::Minus, "Sub", "-"},
                                      {TreeOp::Times, "Mul", "*"},
                                      {TreeOp::Divide, "Div", "/"}}};

template <std::size_t N>
const Named* byOp(const std::array<Named, N>& all, TreeOp op) {
    for (const Named& one : all)
        if (one.op == op) return &one;
    return nullptr;
}
template <std::size_t N>
const Named* byElement(const std::array<Named, N>& all, std::string_view element) {
    for (const Named& one : all)
        if (one.element == element) return &one;
    return nullptr;
}

pugi::xml_node add(pugi::xml_node into, const char* name) {
    return into.append_child((std::string("ogc:") + name).c_str());
}
void addText(pugi::xml_node into, const char* name, const std::string& text) {
    add(into, name).text().set(text.c_str());
}

bool addExpression(pugi::xml_node into, const query::Tree& tree) {
    if (tree.op == TreeOp::Name) return addText(into, "PropertyName", tree.name), true;
    if (tree.op == TreeOp::Literal && !isMissing(tree.value))
        return addText(into, "Literal", exactText(tree.value)), true;
    if (tree.op == TreeOp::Negative && tree.parts[0]->op == TreeOp::Literal)
        return addText(into, "Literal", "-" + exactText(tree.parts[0]->value)), true;
    const Named* sum = byOp(kSums, tree.op);
    if (!sum || tree.parts.size() != 2) return false;
    const pugi::xml_node node = add(into, sum->element);
    return addExpression(node, *tree.parts[0]) && addExpression(node, *tree.parts[1]);
}

bool addCondition(pugi::xml_node into, const query::Tree& tree) {
    if (const Named* comparison = byOp(kComparisons, tree.op)) {
        const pugi::xml_node node = add(into, comparison->element);
        return addExpression(node, *tree.parts[0]) && addExpression(node, *tree.parts[1]);
    }
    switch (tree.op) {
    case TreeOp::And:
    case TreeOp::Or:
    case TreeOp::Not: {
        const pugi::xml_node node = add(into, tree.op == TreeOp::And  ? "And"
                                              : tree.op == TreeOp::Or ? "Or"
                                                                      : "Not");
        for (const auto& part : tree.parts)
            if (!addCondition(node, *part)) return false;
        return true;
    }
    case TreeOp::IsNull: {
        if (tree.parts[0]->op != TreeOp::Name) return false;
        addText(add(into, "PropertyIsNull"), "PropertyName", tree.parts[0]->name);
        return true;
    }
    case TreeOp::Between: {
        const pugi::xml_node node = add(into, "PropertyIsBetween");
        return addExpression(node, *tree.parts[0]) &&
               addExpression(add(node, "LowerBoundary"), *tree.parts[1]) &&
               addExpression(add(node, "UpperBoundary"), *tree.parts[2]);
    }
    case TreeOp::Like: {
        if (tree.parts[0]->op != TreeOp::Name || tree.parts[1]->op != TreeOp::Literal) return false;
        pugi::xml_node node = add(into, "PropertyIsLike");
        node.append_attribute("wildCard") = "%";
        node.append_attribute("singleChar") = "_";
        node.append_attribute("escapeChar") = "\\";
        return addExpression(node, *tree.parts[0]) && addExpression(node, *tree.parts[1]);
    }
    case TreeOp::In: {
        const pugi::xml_node node = add(into, "Or");
        for (std::size_t i = 1; i < tree.parts.size(); ++i) {
            const pugi::xml_node one = add(node, "PropertyIsEqualTo");
            if (!addExpression(one, *tree.parts[0]) || !addExpression(one, *tree.parts[i]))
                return false;
        }
        return true;
    }
    default: return false;
    }
}

Error unknown(const pugi::xml_node& node) {
    return {ErrorCode::Unsupported, "filter",
            std::string(io::nameOfNode(node)) + " is none of the comparisons that can be read here",
            "write the rule's condition by hand"};
}

std::vector<pugi::xml_node> elements(const pugi::xml_node& node) {
    std::vector<pugi::xml_node> out;
    for (const pugi::xml_node& one : node.children())
        if (one.type() == pugi::node_element) out.push_back(one);
    return out;
}

Result<std::string> expressionText(const pugi::xml_node& node) {
    const std::string_view name = io::nameOfNode(node);
    if (name == "PropertyName") return query::nameText(io::textOf(node));
    if (name == "Literal") {
        const std::string text = io::textOf(node);
        return parseNumber(text) ? trimmed(text) : query::literalText(text);
    }
    const Named* sum = byElement(kSums, name);
    const auto parts = elements(node);
    if (!sum || parts.size() != 2) return unknown(node);
    const auto one = expressionText(parts[0]), two = expressionText(parts[1]);
    if (!one) return one;
    if (!two) return two;
    return "(" + *one + " " + sum->sign + " " + *two + ")";
}

Result<std::string> conditionText(const pugi::xml_node& node, int depth) {
    if (depth > 40) return unknown(node);
    const std::string_view name = io::nameOfNode(node);
    const auto parts = elements(node);
    if (name == "And" || name == "Or" || name == "Not") {
        std::string out;
        for (const pugi::xml_node& part : parts) {
            const auto one = conditionText(part, depth + 1);
            if (!one) return one;
            out += (out.empty() ? "" : name == "And" ? " AND " : " OR ") + ("(" + *one) + ")";
        }
        return name == "Not" ? "NOT " + out : out;
    }
    std::vector<std::string> texts;
    for (const pugi::xml_node& part : parts) {
        const std::string_view kind = io::nameOfNode(part);
        const bool isBoundary = kind == "LowerBoundary" || kind == "UpperBoundary";
        const auto inner = isBoundary ? elements(part) : std::vector<pugi::xml_node>{part};
        if (inner.empty()) return unknown(part);
        const auto text = expressionText(inner.front());
        if (!text) return text;
        texts.push_back(*text);
    }
    if (const Named* comparison = byElement(kComparisons, name); comparison && texts.size() == 2)
        return texts[0] + " " + comparison->sign + " " + texts[1];
    if (name == "PropertyIsNull" && texts.size() == 1) return texts[0] + " IS NULL";
    if (name == "PropertyIsBetween" && texts.size() == 3)
        return texts[0] + " BETWEEN " + texts[1] + " AND " + texts[2];
    if (name == "PropertyIsLike" && texts.size() == 2) {
        // Wild cards of their own become those of the language.
        const std::string many = io::attributeOf(node, "wildCard"),
                          one = io::attributeOf(node, "singleChar");
        std::string pattern = texts[1];
        for (const auto& [from, to] : {std::pair{many, '%'}, {one, '_'}})
            if (from.size() == 1)
                for (char& c : pattern)
                    if (c == from[0]) c = to;
        return texts[0] + " LIKE " + pattern;
    }
    return unknown(node);
}
}  // namespace

bool addFilter(pugi::xml_node into, const query::Tree& condition) {
    const pugi::xml_node filter = add(into, "Filter");
    if (addCondition(filter, condition)) return true;
    into.remove_child(filter);
    return false;
}

Result<std::string> filterText(const pugi::xml_node& filter) {
    const auto parts = elements(filter);
    if (parts.empty()) return std::string();
    return conditionText(parts.front(), 0);
}

}  // namespace ledge::session
