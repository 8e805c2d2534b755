#pragma once
#include <span>
#include <string_view>

#include "core/query/batch.h"

namespace ledge::query {

/// The arguments and the result of a function for one row.
class Row {
public:
    Row(std::span<const Values> arguments, std::size_t at, const Batch& batch, Values& out)
        : m_arguments(arguments), m_at(at), m_batch(batch), m_out(out) {}

    std::size_t count() const { return m_arguments.size(); }
    bool has(std::size_t k) const { return k < count() && m_arguments[k].valid[m_at] != 0; }
    double number(std::size_t k) const { return m_arguments[k].number(m_at); }
    double number(std::size_t k, double usual) const { return k < count() ? number(k) : usual; }
    std::string_view text(std::size_t k) const { return m_arguments[k].texts[m_at]; }
    GeometryView shape(std::size_t k) const { return m_arguments[k].shapes[m_at]; }
    Span span(std::size_t k) const { return m_arguments[k].span(m_at); }
    bool truth(std::size_t k) const { return m_arguments[k].wholes[m_at] != 0; }
    Value value(std::size_t k) const { return m_arguments[k].value(m_at); }
    Kind kind(std::size_t k) const { return m_arguments[k].kind; }
    const std::vector<Value>& array(std::size_t k) const { return m_arguments[k].arrays[m_at]; }
    const globe::GroundMeasure& ground() const { return m_batch.ground; }
    std::size_t row() const { return m_batch.begin + m_at; }

    /// The result; one that is no finite number is a failure.
    void set(double value);
    void set(std::int64_t value);
    void set(bool value);
    void set(std::string value);
    void set(Geometry value);
    void set(Date value);
    void set(TimeStamp value);
    /// There is no result for this row, and that is told.
    void fail(const std::string& why) const { m_batch.troubles.add(row(), why); }

private:
    std::span<const Values> m_arguments;
    std::size_t m_at;
    const Batch& m_batch;
    Values& m_out;
};

/// What a function may be given: any of several kinds.
enum class Takes : std::uint8_t {
    Anything,
    Boolean,
    Number,
    Text,
    Time,  ///< date, instant or interval
    Day,   ///< date or instant
    Shape,
    Array
};

enum class Topic : std::uint8_t {
    Numbers,
    Texts,
    Dates,
    Shapes,
    Space,
    Time,
    Lists,
    Choice,
    Groups
};

/// One row a function: the formula editor, the help, binding and evaluating go by it.
struct Function {
    std::string_view name;
    Topic topic;
    std::string_view arguments;  ///< by name, for people: "text, start, length"
    std::string_view help;
    std::vector<Takes> takes;
    std::size_t least;  ///< arguments that must be given
    Kind gives;         ///< Nothing: the kind that its values have in common
    /// Of one row whose arguments are all there; null where the engine does it as a whole.
    void (*apply)(Row&) = nullptr;
    /// More arguments of the last kind may follow.
    bool repeats = false;
    /// Missing arguments are its business.
    bool takesMissing = false;
};

std::span<const Function> functions();
/// Null when there is none; names in small letters.
const Function* functionNamed(std::string_view name);

/// Rows of the table by topic.
std::vector<Function> numberFunctions();
std::vector<Function> textFunctions();
std::vector<Function> dateFunctions();
std::vector<Function> shapeFunctions();
std::vector<Function> predicateFunctions();
std::vector<Function> groupFunctions();

}  // namespace ledge::query
