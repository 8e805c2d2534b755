#pragma once
#include <array>
#include <optional>
#include <string_view>
#include <variant>
#include <vector>

#include "core/feature/feature_table.h"
#include "core/query/tree.h"

namespace ledge::query {

/// A comparison as plain controls have it: a field, how, and a value as it is typed.
struct PlainTest {
    enum class How : std::uint8_t {
        Equal,
        Unequal,
        Less,
        AtMost,
        More,
        AtLeast,
        Holds,   ///< a text has it in it, whatever the case
        Begins,  ///< a text begins with it, whatever the case
        Missing,
        There
    };
    std::string field;
    How how = How::Equal;
    std::string value;
    bool operator==(const PlainTest&) const = default;
};
/// As people read them, in the order of How.
inline constexpr std::array<std::string_view, 10> kHowWords{
    "is",       "is not",    "below",       "at most",    "above",
    "at least", "has in it", "begins with", "is missing", "is there"};
constexpr bool takesValue(PlainTest::How how) {
    return how != PlainTest::How::Missing && how != PlainTest::How::There;
}

/// Several of which all, any or none must hold, nested at will.
struct PlainGroup {
    enum class Join : std::uint8_t { All, Any, None };
    Join join = Join::All;
    std::vector<std::variant<PlainTest, PlainGroup>> parts;
    bool operator==(const PlainGroup&) const = default;
};

/// The same as a question; null for a group without parts. Values are read by the types of their
/// fields: what is no number stays a text, and the question says so when it is asked.
TreePtr treeOf(const PlainGroup& group, const LayerInfo& layer);
/// A question as plain controls have it; nothing when it says more than they can.
std::optional<PlainGroup> plainOf(const Tree& tree);

}  // namespace ledge::query
