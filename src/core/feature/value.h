#pragma once
#include <cstdint>
#include <string>
#include <variant>

namespace ledge {

enum class FieldType : std::uint8_t { Text, Integer, Real, Boolean };
std::string fieldTypeName(FieldType type);

/// An attribute value; monostate is missing.
using Value = std::variant<std::monostate, bool, std::int64_t, double, std::string>;
bool isMissing(const Value& value);
/// As a number where it is one; NaN otherwise. Text is not parsed.
double numberOf(const Value& value);
/// For people; "–" when missing.
std::string displayText(const Value& value);
/// For files: numbers read back exactly; empty when missing.
std::string exactText(const Value& value);

struct Field {
    std::string name;
    FieldType type = FieldType::Text;
    bool operator==(const Field&) const = default;
};

}  // namespace ledge
