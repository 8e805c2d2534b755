#include "core/feature/value.h"

#include <cmath>

#include "core/base/numbers.h"
#include "core/geometry/point.h"

namespace ledge {
namespace {
std::string hexText(const std::string& data) {
    constexpr std::string_view kDigits = "0123456789abcdef";
    std::string out;
    out.reserve(data.size() * 2);
    for (const char c : data) {
        const auto byte = static_cast<unsigned char>(c);
        out += kDigits[byte >> 4];
        out += kDigits[byte & 15];
    }
    return out;
}
}  // namespace

std::string fieldTypeName(FieldType type) {
    switch (type) {
    case FieldType::Text: return "text";
    case FieldType::Integer: return "integer";
    case FieldType::Real: return "real";
    case FieldType::Boolean: return "boolean";
    case FieldType::Date: return "date";
    case FieldType::TimeStamp: return "time stamp";
    case FieldType::Bytes: return "bytes";
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
    if (const auto* day = std::get_if<Date>(&value)) return isoText(*day);
    if (const auto* time = std::get_if<TimeStamp>(&value)) {
        // To the second, which is what people ask for.
        std::string out = isoText(*time).substr(0, 19);
        out[10] = ' ';
        return out + " UTC";
    }
    if (const auto* bytes = std::get_if<Bytes>(&value))
        return formatNumber(static_cast<double>(bytes->data.size())) + " bytes";
    return formatNumber(numberOf(value));
}

std::string exactText(const Value& value) {
    if (isMissing(value)) return "";
    if (const auto* text = std::get_if<std::string>(&value)) return *text;
    if (const auto* flag = std::get_if<bool>(&value)) return *flag ? "true" : "false";
    if (const auto* whole = std::get_if<std::int64_t>(&value)) return std::to_string(*whole);
    if (const auto* day = std::get_if<Date>(&value)) return isoText(*day);
    if (const auto* time = std::get_if<TimeStamp>(&value)) return isoText(*time);
    if (const auto* bytes = std::get_if<Bytes>(&value)) return hexText(bytes->data);
    return exactNumber(numberOf(value));
}

}  // namespace ledge
