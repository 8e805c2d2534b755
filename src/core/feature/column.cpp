#include "core/feature/column.h"

#include <cmath>

#include "core/geometry/point.h"

namespace ledge {

FieldType widerType(FieldType one, FieldType other) {
    if (one == other) return one;
    const auto isNumber = [](FieldType t) {
        return t == FieldType::Integer || t == FieldType::Real;
    };
    return isNumber(one) && isNumber(other) ? FieldType::Real : FieldType::Text;
}

FieldType typeOf(const Value& value) {
    if (std::holds_alternative<bool>(value)) return FieldType::Boolean;
    if (std::holds_alternative<std::int64_t>(value)) return FieldType::Integer;
    if (std::holds_alternative<double>(value)) return FieldType::Real;
    if (std::holds_alternative<Date>(value)) return FieldType::Date;
    if (std::holds_alternative<TimeStamp>(value)) return FieldType::TimeStamp;
    if (std::holds_alternative<Bytes>(value)) return FieldType::Bytes;
    return FieldType::Text;
}

std::uint32_t Column::codeOf(std::string_view text) {
    const auto known = m_known.find(text, [this](std::uint32_t code) { return ofCode(code); });
    if (known) return *known;
    const auto code = static_cast<std::uint32_t>(m_ends.size());
    m_letters += text;
    m_ends.push_back(m_letters.size());
    m_known.remember(text, code);
    return code;
}

void Column::append(const Value& value) {
    const bool isThere = !ledge::isMissing(value);
    if (isThere) {
        const FieldType own = typeOf(value);
        // A whole number in a real column is a real number; a text column takes all as text.
        const FieldType wide = m_type == FieldType::Text ? m_type : widerType(m_type, own);
        if (wide != m_type) widen(wide);
    }
    if (m_size % 64 == 0) m_valid.push_back(0);
    if (isThere) m_valid.back() |= std::uint64_t{1} << (m_size % 64);
    ++m_size;
    switch (m_type) {
    case FieldType::Integer: m_wholes.push_back(isThere ? std::get<std::int64_t>(value) : 0); break;
    case FieldType::Real: m_reals.push_back(isThere ? numberOf(value) : kNaN); break;
    case FieldType::Boolean: m_flags.push_back(isThere && std::get<bool>(value) ? 1 : 0); break;
    case FieldType::Date: m_wholes.push_back(isThere ? std::get<Date>(value).days : 0); break;
    case FieldType::TimeStamp:
        m_wholes.push_back(isThere ? std::get<TimeStamp>(value).milliseconds : 0);
        break;
    case FieldType::Bytes:
        m_codes.push_back(isThere ? codeOf(std::get<Bytes>(value).data) : 0);
        break;
    case FieldType::Text: {
        const auto* text = std::get_if<std::string>(&value);
        m_codes.push_back(!isThere ? 0 : text ? codeOf(*text) : codeOf(exactText(value)));
        break;
    }
    }
}

void Column::append(const Column& from, std::size_t begin, std::size_t end) {
    if (from.m_type != m_type) {
        for (std::size_t i = begin; i < end; ++i) append(from.value(i));
        return;
    }
    const auto copy = [begin, end](auto& to, const auto& all) {
        if (!all.empty())
            to.insert(to.end(), all.begin() + static_cast<std::ptrdiff_t>(begin),
                      all.begin() + static_cast<std::ptrdiff_t>(end));
    };
    copy(m_wholes, from.m_wholes);
    copy(m_reals, from.m_reals);
    copy(m_flags, from.m_flags);
    constexpr std::uint32_t kUnknown = ~std::uint32_t{0};
    std::vector<std::uint32_t> ownCodes(from.m_ends.size(), kUnknown);
    for (std::size_t i = begin; i < end; ++i) {
        const bool isThere = !from.isMissing(i);
        if (m_size % 64 == 0) m_valid.push_back(0);
        if (isThere) m_valid.back() |= std::uint64_t{1} << (m_size % 64);
        ++m_size;
        if (m_type != FieldType::Text && m_type != FieldType::Bytes) continue;
        std::uint32_t own = 0;
        if (isThere) {
            std::uint32_t& code = ownCodes[from.m_codes[i]];
            if (code == kUnknown) code = codeOf(from.stored(i));
            own = code;
        }
        m_codes.push_back(own);
    }
}

void Column::widen(FieldType type) { *this = converted(type); }

Column Column::converted(FieldType type) const {
    if (type == m_type) return *this;
    Column out(type);
    for (std::size_t i = 0; i < m_size; ++i) {
        const Value old = value(i);
        if (type == FieldType::Real && !ledge::isMissing(old))
            out.append(numberOf(old));
        else if (type == FieldType::Text && !ledge::isMissing(old))
            out.append(exactText(old));
        else
            out.append(old);
    }
    return out;
}

void Column::close() {
    m_known = {};
    m_valid.shrink_to_fit();
    m_wholes.shrink_to_fit();
    m_reals.shrink_to_fit();
    m_flags.shrink_to_fit();
    m_codes.shrink_to_fit();
    m_ends.shrink_to_fit();
    m_letters.shrink_to_fit();
}

Value Column::value(std::size_t i) const {
    if (isMissing(i)) return {};
    switch (m_type) {
    case FieldType::Integer: return m_wholes[i];
    case FieldType::Real: return m_reals[i];
    case FieldType::Boolean: return m_flags[i] != 0;
    case FieldType::Date: return Date{static_cast<std::int32_t>(m_wholes[i])};
    case FieldType::TimeStamp: return TimeStamp{m_wholes[i]};
    case FieldType::Bytes: return Bytes{std::string(stored(i))};
    case FieldType::Text: return std::string(stored(i));
    }
    return {};
}

double Column::number(std::size_t i) const {
    if (isMissing(i)) return kNaN;
    switch (m_type) {
    case FieldType::Integer: return static_cast<double>(m_wholes[i]);
    case FieldType::Real: return m_reals[i];
    case FieldType::Boolean: return m_flags[i];
    case FieldType::Text:
    case FieldType::Date:
    case FieldType::TimeStamp:
    case FieldType::Bytes: break;
    }
    return kNaN;
}

std::string_view Column::text(std::size_t i) const {
    return m_type == FieldType::Text && !isMissing(i) ? stored(i) : std::string_view();
}

std::string_view Column::stored(std::size_t i) const { return ofCode(m_codes[i]); }

std::string_view Column::ofCode(std::uint32_t code) const {
    const std::uint64_t begin = code == 0 ? 0 : m_ends[code - 1];
    return std::string_view(m_letters).substr(begin, m_ends[code] - begin);
}

std::size_t Column::bytes() const {
    return m_valid.capacity() * 8 + m_wholes.capacity() * 8 + m_reals.capacity() * 8 +
           m_flags.capacity() + m_codes.capacity() * 4 + m_ends.capacity() * 8 +
           m_letters.capacity();
}

}  // namespace ledge
