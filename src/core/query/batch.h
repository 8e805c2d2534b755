#pragma once
#include <atomic>
#include <mutex>
#include <optional>
#include <unordered_map>

#include "core/feature/feature_table.h"
#include "core/globe/ground_measure.h"

namespace ledge::query {

/// What an expression's values are. Nothing is the kind of NULL, which goes with every other.
enum class Kind : std::uint8_t {
    Nothing,
    Boolean,
    Integer,
    Real,
    Text,
    Date,
    TimeStamp,
    Interval,
    Shape,
    Array
};
/// "a number", "a text": for messages.
std::string kindText(Kind kind);
Kind kindOf(FieldType type);
inline bool isNumber(Kind kind) { return kind == Kind::Integer || kind == Kind::Real; }
inline bool isTime(Kind kind) {
    return kind == Kind::Date || kind == Kind::TimeStamp || kind == Kind::Interval;
}

/// From an instant to another, both in it; milliseconds. Open ends lie farther than every time.
struct Span {
    std::int64_t from = INT64_MIN, to = INT64_MAX;
    bool operator==(const Span&) const = default;
};

/// The values of an expression for the rows of a batch, in arrays of their kind.
struct Values {
    Kind kind = Kind::Nothing;
    std::vector<std::uint8_t> valid;   ///< whether there is a value
    std::vector<std::int64_t> wholes;  ///< of Boolean (0, 1), Integer, Date, TimeStamp
    std::vector<double> reals;         ///< of Real
    std::vector<std::string_view> texts;
    std::vector<GeometryView> shapes;
    std::vector<Span> spans;
    std::vector<std::vector<Value>> arrays;
    // What texts and shapes refer to that are in no column.
    std::vector<std::string> ownTexts;
    std::vector<Geometry> ownShapes;

    Values() = default;
    Values(const Values&) = delete;  // views would refer to the other's texts
    Values& operator=(const Values&) = delete;
    Values(Values&&) = default;
    Values& operator=(Values&&) = default;

    /// `count` missing ones.
    void reset(Kind kind, std::size_t count);
    std::size_t size() const { return valid.size(); }
    double number(std::size_t i) const {
        return kind == Kind::Real ? reals[i] : static_cast<double>(wholes[i]);
    }
    Value value(std::size_t i) const;
    /// Of Date, TimeStamp and Interval: a date lasts its whole day.
    Span span(std::size_t i) const;
    void put(std::size_t i, const Value& value);
};

/// What went wrong with the values of some rows; they are missing then.
class Troubles {
public:
    void add(std::size_t row, const std::string& why);
    std::int64_t count() const { return m_count; }
    /// "3 rows had no value: row 12: division by 0"; empty without.
    std::string text() const;

private:
    mutable std::mutex m_mutex;
    std::atomic<std::int64_t> m_count{0};
    std::size_t m_first = SIZE_MAX;
    std::string m_why;
};

/// Results of an aggregate: by the exact text of the group, one under "" without groups.
using GroupResults = std::unordered_map<std::string, double>;

/// Rows that are answered together.
struct Batch {
    const FeatureTable& table;
    std::size_t begin = 0, count = 0;  ///< in the table; all of one run
    const globe::GroundMeasure& ground;
    Troubles& troubles;
    const std::vector<GroupResults>& groups;  ///< of each aggregate of the question
    /// Rows whose value will be looked at; all when empty. Others may be left missing.
    std::vector<std::uint8_t> wanted = {};
    bool isWanted(std::size_t i) const { return wanted.empty() || wanted[i] != 0; }
    Batch only(std::vector<std::uint8_t> rows) const {
        return {table, begin, count, ground, troubles, groups, std::move(rows)};
    }
};

}  // namespace ledge::query
