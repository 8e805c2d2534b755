#pragma once
#include <compare>
#include <cstdint>
#include <string>
#include <variant>

#include "core/base/calendar.h"

namespace ledge {

enum class FieldType : std::uint8_t { Text, Integer, Real, Boolean, Date, TimeStamp, Bytes };
std::string fieldTypeName(FieldType type);

/// What a source keeps and does not tell the meaning of.
struct Bytes {
    std::string data;
    auto operator<=>(const Bytes&) const = default;
};

/// An attribute value; monostate is missing.
using Value =
    std::variant<std::monostate, bool, std::int64_t, double, std::string, Date, TimeStamp, Bytes>;
bool isMissing(const Value& value);
/// As a number where it is one; NaN otherwise. Text is not parsed, days are not counted.
double numberOf(const Value& value);
/// For people; "–" when missing.
std::string displayText(const Value& value);
/// For files: numbers read back exactly, days and instants as ISO 8601 has them, bytes in pairs of
/// hexadecimal digits; empty when missing.
std::string exactText(const Value& value);

struct Field {
    std::string name;
    FieldType type = FieldType::Text;
    bool operator==(const Field&) const = default;
};

}  // namespace ledge
