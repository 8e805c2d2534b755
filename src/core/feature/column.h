#pragma once
#include <span>
#include <string_view>
#include <vector>

#include "core/feature/known_texts.h"
#include "core/feature/value.h"

namespace ledge {

/// The values of one field for a run of features: one array of its type, a bit a value that says
/// whether there is one, and texts that repeat stored once.
class Column {
public:
    explicit Column(FieldType type) : m_type(type) {}

    /// A value that does not fit makes the column wider first: whole numbers become real, anything
    /// else text; what was there before keeps its meaning.
    void append(const Value& value);
    /// The values [begin, end) of another column.
    void append(const Column& from, std::size_t begin, std::size_t end);
    /// Lets go of what only appending needs.
    void close();

    FieldType type() const { return m_type; }
    std::size_t size() const { return m_size; }
    bool isMissing(std::size_t i) const { return (m_valid[i / 64] >> (i % 64) & 1) == 0; }
    Value value(std::size_t i) const;
    /// As numberOf(): NaN for texts and missing values.
    double number(std::size_t i) const;
    /// Of a text column; empty when missing.
    std::string_view text(std::size_t i) const;
    /// The arrays themselves, a place a value whether there is one or not: of whole numbers, days
    /// and milliseconds; of real numbers; of truths. Empty for columns of other types.
    std::span<const std::int64_t> wholes() const { return m_wholes; }
    std::span<const double> reals() const { return m_reals; }
    std::span<const std::uint8_t> flags() const { return m_flags; }
    Column converted(FieldType type) const;
    /// Bytes held, roughly.
    std::size_t bytes() const;

private:
    void widen(FieldType type);
    std::uint32_t codeOf(std::string_view text);
    std::string_view ofCode(std::uint32_t code) const;
    std::string_view stored(std::size_t i) const;

    FieldType m_type;
    std::size_t m_size = 0;
    std::vector<std::uint64_t> m_valid;
    std::vector<std::int64_t> m_wholes;  ///< also days and milliseconds
    std::vector<double> m_reals;
    std::vector<std::uint8_t> m_flags;
    // Texts and bytes: a code a value, and where the text of each code ends.
    std::vector<std::uint32_t> m_codes;
    std::vector<std::uint64_t> m_ends;
    std::string m_letters;
    KnownTexts m_known;  ///< while appending
};

/// The narrowest type that holds values of both.
FieldType widerType(FieldType one, FieldType other);
/// The type of a value; text for a missing one.
FieldType typeOf(const Value& value);

}  // namespace ledge
