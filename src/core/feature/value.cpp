#include "core/feature/value.h"

#include <cmath>

#include "core/base/numbers.h"
#include "core/geometry/point.h"

namespace ledge {

std::string fieldTypeName(FieldType type) {
    switch (type) {
    case FieldType::Text: return "text";
    case FieldType::Integer: return "integer";
    case FieldType::Real: return "real";
    case FieldType::Boolean: return "boolean";
    }
    return "";
}

bool isMissing(const Value& value) {
    if (const auto* real = std::get_if<double>(&value)) return std::isnan(*real);
    return std::holds_alternative<std::monostate>(value);
}

double numberOf(const Value& value) {
    if (const auto* real = std::get_if<double>(&value)) return *real;
    if (const auto* whole = std::get_if<std::int64_t>(&value)) return static_cast<double>(*whole);
    if (const auto* flag = std::get_if<bool>(&value)) return *flag ? 1 : 0;
    return kNaN;
}

std::string displayText(const Value& value) {
    if (isMissing(value)) return "\u2013";
    if (const auto* text = std::get_if<std::string>(&value)) return *text;
    if (const auto* flag = std::get_if<bool>(&value)) return *flag ? "yes" : "no";
    return formatNumber(numberOf(value));
}

std::string exactText(const Value& value) {
    if (isMissing(value)) return "";
    if (const auto* text = std::get_if<std::string>(&value)) return *text;
    if (const auto* flag = std::get_if<bool>(&value)) return *flag ? "true" : "false";
    if (const auto* whole = std::get_if<std::int64_t>(&value)) return std::to_string(*whole);
    return exactNumber(numberOf(value));
}

}  // namespace ledge
