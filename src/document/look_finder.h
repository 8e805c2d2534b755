#pragma once
#include <deque>
#include <optional>
#include <string>
#include <unordered_map>

#include "core/feature/feature_table.h"
#include "document/style.h"

namespace ledge::doc {

/// The rule of a style over the rows of one table: which of its looks a row has. Looks are few and
/// rows many, so a row is answered by an index and no look is copied. For one thread.
class LookFinder {
public:
    /// `style` must outlive it.
    LookFinder(const VectorStyle& style, const FeatureTable& table);

    /// Into looks().
    std::size_t indexOf(std::size_t row);
    const Look& look(std::size_t index) const { return m_looks[index]; }
    const Look& lookOf(std::size_t row) { return m_looks[indexOf(row)]; }
    /// Those met so far; they keep their places.
    const std::deque<Look>& looks() const { return m_looks; }

private:
    std::size_t ofValue(const Value& value) const;
    std::size_t ofNumber(double number, GeometryType type);

    const VectorStyle& m_style;
    const FeatureTable& m_table;
    int m_field;
    std::optional<RampTable> m_ramp;  ///< made when the first number is looked up
    std::deque<Look> m_looks;  // of all, of missing values, of other values, then of each value
    std::unordered_map<std::string, std::size_t> m_byValue;
    std::unordered_map<std::uint64_t, std::size_t> m_byColour;
};

}  // namespace ledge::doc
