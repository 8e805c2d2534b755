#pragma once
#include <deque>
#include <optional>
#include <string>
#include <unordered_map>

#include "core/feature/feature_table.h"
#include "core/query/row_values.h"
#include "document/document.h"

namespace ledge::doc {

/// The rule of a style over the rows of one table: which of its looks a row has. Looks are few and
/// rows many, so a row is answered by an index and no look is copied. A field that is not there and
/// a formula that cannot be understood give no values; see trouble(). For one thread.
class LookFinder {
public:
    /// `style` and `table` must outlive it. `scale` is that of the map, for rules that have limits.
    LookFinder(const VectorStyle& style, const FeatureTable& table, double scale = 0);

    /// Into looks().
    std::size_t indexOf(std::size_t row);
    const Look& look(std::size_t index) const { return m_looks[index]; }
    const Look& lookOf(std::size_t row) { return m_looks[indexOf(row)]; }
    /// Those met so far; they keep their places.
    const std::deque<Look>& looks() const { return m_looks; }
    /// Which of the categories, classes or rules of its style a row is drawn by, from 0; or one of
    /// those below.
    static constexpr int kAll = -1, kMissing = -2, kOthers = -3, kNowhere = -4;
    int entryOf(std::size_t row);
    /// The number that classes, ramps and sizes go by; NaN where there is none.
    double number(std::size_t row);
    /// What of the style could not be understood, in words; empty when all was.
    const std::string& trouble() const { return m_trouble; }

private:
    std::optional<query::RowValues> valuesOf(const std::string& said);
    std::size_t added(Look look);
    std::size_t addedFor(std::size_t entry, const Look& look, bool isShown);
    std::size_t ofValue(const Value& value) const;
    std::size_t ofRamp(double number, GeometryType type);
    std::size_t ofClass(double number) const;
    std::size_t ofSize(double number, GeometryType type);
    std::size_t ofRule(std::size_t row);
    std::size_t ofRow(std::size_t row);
    std::size_t turned(std::size_t look, double degrees);

    const VectorStyle& m_style;
    const FeatureTable& m_table;
    std::string m_trouble;
    std::optional<query::RowValues> m_value, m_per, m_turn;
    std::vector<std::pair<std::optional<query::RowValues>, std::size_t>> m_rules;
    std::optional<RampTable> m_ramp;  ///< made when the first number is looked up
    std::deque<Look> m_looks;  // of all, of missing values, of other values, none, then of each
    std::vector<int> m_entries{kAll, kMissing, kOthers, kNowhere};  ///< of the looks of rules
    std::size_t m_first = 0;                                        ///< of the classes
    double m_mm = 1;  ///< paper millimetres in one of the style's sizes
    std::unordered_map<std::uint64_t, std::size_t> m_byTurn;
    std::unordered_map<std::string, std::size_t> m_byValue;
    std::unordered_map<std::uint64_t, std::size_t> m_byColour;  ///< or by size
};

/// Millimetres on paper of a metre on the ground at a scale; of none, those at 1 : 10 000.
double mmPerGroundMetre(double scale);
/// A look whose sizes are so many times as large.
Look enlarged(Look look, double times);

/// How wide a mark or a line is drawn for a number, millimetres: with area proportional to the
/// number (a radius of its square root), or of its power 0.57, the exponent by which larger circles
/// are judged too small (Flannery 1971); or with the width proportional. Never less than the
/// smallest; nothing for numbers below zero and none.
double sizeFor(double number, const SizeRule& rule);
/// The same for a class, the `at`th of `count`, from the smallest to the largest: areas, or widths,
/// apart by the same amount.
double sizeOfClass(std::size_t at, std::size_t count, const SizeRule& rule);

}  // namespace ledge::doc
