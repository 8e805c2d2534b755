#include <algorithm>
#include <cmath>

#include "core/base/numbers.h"
#include "core/geometry/wkt_shape.h"
#include "core/query/lexer.h"

namespace ledge::query {
namespace {
using Op = Tree::Op;

// How tightly an operator holds its parts; what holds less needs parentheses within it.
int strength(Op op) {
    switch (op) {
    case Op::Or: return 1;
    case Op::And: return 2;
    case Op::Not: return 3;
    case Op::Equal:
    case Op::NotEqual:
    case Op::Less:
    case Op::LessEqual:
    case Op::Greater:
    case Op::GreaterEqual:
    case Op::Like:
    case Op::Between:
    case Op::In:
    case Op::IsNull: return 4;
    case Op::Plus:
    case Op::Minus: return 5;
    case Op::Times:
    case Op::Divide:
    case Op::Remainder:
    case Op::WholeQuotient: return 6;
    case Op::Negative: return 7;
    case Op::Power: return 8;
    case Op::Literal:
    case Op::Name:
    case Op::Call:
    case Op::Shape:
    case Op::Interval:
    case Op::Array: break;
    }
    return 9;
}

std::string_view signOf(Op op) {
    switch (op) {
    case Op::Or: return " OR ";
    case Op::And: return " AND ";
    case Op::Equal: return " = ";
    case Op::NotEqual: return " <> ";
    case Op::Less: return " < ";
    case Op::LessEqual: return " <= ";
    case Op::Greater: return " > ";
    case Op::GreaterEqual: return " >= ";
    case Op::Like: return " LIKE ";
    case Op::Plus: return " + ";
    case Op::Minus: return " - ";
    case Op::Times: return " * ";
    case Op::Divide: return " / ";
    case Op::Remainder: return " % ";
    case Op::WholeQuotient: return " div ";
    case Op::Power: return "^";
    case Op::Literal:
    case Op::Name:
    case Op::Call:
    case Op::Shape:
    case Op::Interval:
    case Op::Array:
    case Op::Not:
    case Op::Between:
    case Op::In:
    case Op::IsNull:
    case Op::Negative: break;
    }
    return "";
}

bool isNegativeNumber(const Tree& t) {
    return t.op == Op::Literal && (numberOf(t.value) < 0 || std::signbit(numberOf(t.value)));
}

std::string within(const Tree& part, int least) {
    // A number with a sign holds no tighter than a sign does.
    const int own = isNegativeNumber(part) ? strength(Op::Negative) : strength(part.op);
    const std::string text = toText(part);
    return own < least ? "(" + text + ")" : text;
}

std::string listed(const std::vector<TreePtr>& parts, std::size_t from = 0, int least = 0) {
    std::string out = "(";
    for (std::size_t i = from; i < parts.size(); ++i)
        out += (i > from ? ", " : "") + within(*parts[i], least);
    return out + ")";
}

std::string valueText(const Value& value) {
    if (isMissing(value)) return "NULL";
    if (const auto* text = std::get_if<std::string>(&value)) return literalText(*text);
    if (const auto* flag = std::get_if<bool>(&value)) return *flag ? "TRUE" : "FALSE";
    if (std::holds_alternative<Date>(value)) return "DATE('" + exactText(value) + "')";
    if (std::holds_alternative<TimeStamp>(value)) return "TIMESTAMP('" + exactText(value) + "')";
    std::string out = exactText(value);
    // A real number stays one.
    if (std::holds_alternative<double>(value) && out.find_first_of(".eE") == std::string::npos &&
        std::isfinite(numberOf(value)))
        out += ".0";
    return out;
}

std::string endText(const Tree& end) {
    if (end.op != Op::Literal) return toText(end);
    return isMissing(end.value) ? "'..'" : "'" + exactText(end.value) + "'";
}

std::string predicateText(const Tree& t, bool isNot) {
    const std::string no = isNot ? " NOT" : "";
    const int inner = strength(Op::Plus);
    switch (t.op) {
    case Op::Like: return within(*t.parts[0], inner) + no + " LIKE " + within(*t.parts[1], inner);
    case Op::Between:
        return within(*t.parts[0], inner) + no + " BETWEEN " + within(*t.parts[1], inner) +
               " AND " + within(*t.parts[2], inner);
    case Op::In: return within(*t.parts[0], inner) + no + " IN " + listed(t.parts, 1, inner);
    default: return within(*t.parts[0], inner) + " IS" + no + " NULL";
    }
}
bool saysNotInside(Op op) {
    return op == Op::Like || op == Op::Between || op == Op::In || op == Op::IsNull;
}
}  // namespace

std::string toText(const Tree& t) {
    switch (t.op) {
    case Op::Literal: return valueText(t.value);
    case Op::Name: return nameText(t.name);
    case Op::Call: {
        std::string name = t.name;
        // Predicates and their like are written as the standard does.
        if (name.size() > 2 && name[1] == '_')
            std::transform(name.begin(), name.end(), name.begin(), [](char c) {
                return static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
            });
        if (name == "casei") name = "CASEI";
        if (name == "accenti") name = "ACCENTI";
        return name + listed(t.parts);
    }
    case Op::Shape: {
        if (t.name != "bbox") return wktOf(*t.shape);
        const Box box = t.shape->box();
        return "BBOX(" + exactNumber(box.xMin) + ", " + exactNumber(box.yMin) + ", " +
               exactNumber(box.xMax) + ", " + exactNumber(box.yMax) + ")";
    }
    case Op::Interval:
        return "INTERVAL(" + endText(*t.parts[0]) + ", " + endText(*t.parts[1]) + ")";
    case Op::Array: return listed(t.parts);
    case Op::Not:
        if (saysNotInside(t.parts[0]->op)) return predicateText(*t.parts[0], true);
        return "NOT " + within(*t.parts[0], strength(Op::Not));
    case Op::Like:
    case Op::Between:
    case Op::In:
    case Op::IsNull: return predicateText(t, false);
    case Op::Negative: {
        // Signs of signs stand side by side: in parentheses they would be nested twice as deep.
        const std::string inner = within(*t.parts[0], strength(Op::Negative));
        return (inner.starts_with('-') ? "- " : "-") + inner;
    }
    case Op::Power:
        return within(*t.parts[0], strength(Op::Power) + 1) + "^" +
               within(*t.parts[1], strength(Op::Negative));
    case Op::Or:
    case Op::And: {
        std::string out;
        for (std::size_t i = 0; i < t.parts.size(); ++i)
            out +=
                (i > 0 ? std::string(signOf(t.op)) : "") + within(*t.parts[i], strength(t.op) + 1);
        return out;
    }
    case Op::Equal:
    case Op::NotEqual:
    case Op::Less:
    case Op::LessEqual:
    case Op::Greater:
    case Op::GreaterEqual:
        return within(*t.parts[0], strength(Op::Plus)) + std::string(signOf(t.op)) +
               within(*t.parts[1], strength(Op::Plus));
    case Op::Plus:
    case Op::Minus:
    case Op::Times:
    case Op::Divide:
    case Op::Remainder:
    case Op::WholeQuotient: break;
    }
    return within(*t.parts[0], strength(t.op)) + std::string(signOf(t.op)) +
           within(*t.parts[1], strength(t.op) + 1);
}

std::string nameText(const std::string& name) {
    const auto pieces = tokens(name, nullptr);
    const bool isPlain = pieces && pieces->size() == 2 &&
                         pieces->front().kind == Token::Kind::Name && pieces->front().text == name;
    // Words of the language are no names; whether they are shows in reading them.
    if (isPlain) {
        const auto read = parse(name);
        if (read && (*read)->op == Op::Name) return name;
    }
    std::string out = "\"";
    for (const char c : name) out += c == '"' ? std::string("\"\"") : std::string(1, c);
    return out + "\"";
}

std::string literalText(const std::string& text) {
    std::string out = "'";
    std::size_t run = 0;  // of backslashes
    for (const char c : text) {
        if (c == '\'') out += std::string(run, '\\') + "'";
        run = c == '\\' ? run + 1 : 0;
        out += c;
    }
    out.append(run, '\\');
    return out + "'";
}

bool isAlike(const Tree& one, const Tree& other) {
    if (one.op != other.op || one.name != other.name || one.value.index() != other.value.index() ||
        exactText(one.value) != exactText(other.value) || one.parts.size() != other.parts.size())
        return false;
    if ((one.shape == nullptr) != (other.shape == nullptr)) return false;
    // As they are written: missing heights among others stand as 0.
    if (one.shape && wktOf(*one.shape) != wktOf(*other.shape)) return false;
    for (std::size_t i = 0; i < one.parts.size(); ++i)
        if (!isAlike(*one.parts[i], *other.parts[i])) return false;
    return true;
}

}  // namespace ledge::query
