#include "core/query/batch.h"

#include <cmath>

#include "core/base/numbers.h"

namespace ledge::query {
namespace {
constexpr std::int64_t kDay = 86400000;
}

std::string kindText(Kind kind) {
    switch (kind) {
    case Kind::Nothing: return "NULL";
    case Kind::Boolean: return "true or false";
    case Kind::Integer:
    case Kind::Real: return "a number";
    case Kind::Text: return "a text";
    case Kind::Date: return "a date";
    case Kind::TimeStamp: return "an instant";
    case Kind::Interval: return "an interval of time";
    case Kind::Shape: return "a shape";
    case Kind::Array: return "a list";
    }
    return "";
}

Kind kindOf(FieldType type) {
    switch (type) {
    case FieldType::Text: return Kind::Text;
    case FieldType::Integer: return Kind::Integer;
    case FieldType::Real: return Kind::Real;
    case FieldType::Boolean: return Kind::Boolean;
    case FieldType::Date: return Kind::Date;
    case FieldType::TimeStamp: return Kind::TimeStamp;
    case FieldType::Bytes: break;
    }
    return Kind::Nothing;
}

void Values::reset(Kind of, std::size_t count) {
    kind = of;
    valid.assign(count, 0);
    wholes.clear();
    reals.clear();
    texts.clear();
    shapes.clear();
    spans.clear();
    arrays.clear();
    ownTexts.clear();
    ownShapes.clear();
    switch (kind) {
    case Kind::Nothing: break;
    case Kind::Boolean:
    case Kind::Integer:
    case Kind::Date:
    case Kind::TimeStamp: wholes.assign(count, 0); break;
    case Kind::Real: reals.assign(count, kNaN); break;
    case Kind::Text: texts.assign(count, {}); break;
    case Kind::Interval: spans.assign(count, {}); break;
    case Kind::Shape: shapes.assign(count, {}); break;
    case Kind::Array: arrays.assign(count, {}); break;
    }
}

Value Values::value(std::size_t i) const {
    if (valid[i] == 0) return {};
    switch (kind) {
    case Kind::Boolean: return wholes[i] != 0;
    case Kind::Integer: return wholes[i];
    case Kind::Real: return reals[i];
    case Kind::Text: return std::string(texts[i]);
    case Kind::Date: return Date{static_cast<std::int32_t>(wholes[i])};
    case Kind::TimeStamp: return TimeStamp{wholes[i]};
    case Kind::Nothing:
    case Kind::Interval:
    case Kind::Shape:
    case Kind::Array: break;
    }
    return {};
}

Span Values::span(std::size_t i) const {
    if (kind == Kind::Interval) return spans[i];
    if (kind == Kind::Date) return {wholes[i] * kDay, wholes[i] * kDay + kDay - 1};
    return {wholes[i], wholes[i]};
}

void Values::put(std::size_t i, const Value& value) {
    if (isMissing(value)) return;
    valid[i] = 1;
    switch (kind) {
    case Kind::Boolean: wholes[i] = std::get<bool>(value) ? 1 : 0; break;
    case Kind::Integer: wholes[i] = std::get<std::int64_t>(value); break;
    case Kind::Real: reals[i] = numberOf(value); break;
    case Kind::Date: wholes[i] = std::get<Date>(value).days; break;
    case Kind::TimeStamp:
        // A day among instants is its beginning.
        wholes[i] = std::holds_alternative<Date>(value) ? std::get<Date>(value).days * kDay
                                                        : std::get<TimeStamp>(value).milliseconds;
        break;
    case Kind::Text:
        // Room for all at once, so that what is referred to stays where it is.
        if (ownTexts.empty()) ownTexts.resize(valid.size());
        ownTexts[i] = exactText(value);
        texts[i] = ownTexts[i];
        break;
    case Kind::Nothing:
    case Kind::Interval:
    case Kind::Shape:
    case Kind::Array: break;
    }
}

void Troubles::add(std::size_t row, const std::string& why) {
    ++m_count;
    const std::lock_guard lock(m_mutex);
    if (row >= m_first) return;
    m_first = row;
    m_why = why;
}

std::string Troubles::text() const {
    const std::lock_guard lock(m_mutex);
    if (m_count == 0) return "";
    return formatNumber(static_cast<double>(m_count)) +
           (m_count == 1 ? " row has no value: row " : " rows have no value: first row ") +
           formatNumber(static_cast<double>(m_first + 1)) + ": " + m_why;
}

}  // namespace ledge::query
