#include "core/base/calendar.h"

#include <array>
#include <chrono>
#include <cstdio>

namespace ledge {
namespace {
namespace chrono = std::chrono;
constexpr std::int64_t kDayMs = 86'400'000;

// Reads digits and signs from the front of a text.
class Reader {
public:
    explicit Reader(std::string_view text) : m_text(text) {}
    bool isAtEnd() const { return m_at == m_text.size(); }
    bool take(char c) {
        if (isAtEnd() || m_text[m_at] != c) return false;
        ++m_at;
        return true;
    }
    std::optional<int> digits(std::size_t count) {
        if (m_at + count > m_text.size()) return {};
        int out = 0;
        for (std::size_t i = 0; i < count; ++i) {
            const char c = m_text[m_at + i];
            if (c < '0' || c > '9') return {};
            out = out * 10 + (c - '0');
        }
        m_at += count;
        return out;
    }
    // A fraction of a second as milliseconds; further digits are cut off.
    std::optional<int> fraction() {
        int out = 0, seen = 0;
        while (!isAtEnd() && m_text[m_at] >= '0' && m_text[m_at] <= '9') {
            if (seen < 3) out = out * 10 + (m_text[m_at] - '0');
            ++seen, ++m_at;
        }
        for (int i = seen; i < 3; ++i) out *= 10;
        return seen > 0 ? std::optional(out) : std::nullopt;
    }
    std::optional<Date> date() {
        const auto year = digits(4);
        if (!year || !take('-')) return {};
        const auto month = digits(2);
        if (!month || !take('-')) return {};
        const auto day = digits(2);
        if (!day) return {};
        const chrono::year_month_day ymd{chrono::year(*year),
                                         chrono::month(static_cast<unsigned>(*month)),
                                         chrono::day(static_cast<unsigned>(*day))};
        if (!ymd.ok()) return {};
        return Date{static_cast<std::int32_t>(chrono::sys_days(ymd).time_since_epoch().count())};
    }

private:
    std::string_view m_text;
    std::size_t m_at = 0;
};

// "Z", an offset, or nothing; in minutes.
std::optional<int> offset(Reader& in) {
    if (in.isAtEnd() || in.take('Z')) return 0;
    const bool isWest = in.take('-');
    if (!isWest && !in.take('+')) return {};
    const auto hours = in.digits(2);
    if (!hours || *hours > 23) return {};
    in.take(':');
    const auto minutes = in.isAtEnd() ? std::optional(0) : in.digits(2);
    if (!minutes || *minutes > 59) return {};
    return (isWest ? -1 : 1) * (*hours * 60 + *minutes);
}
}  // namespace

std::string isoText(Date date) {
    const chrono::year_month_day ymd{chrono::sys_days(chrono::days(date.days))};
    std::array<char, 40> out{};
    std::snprintf(out.data(), out.size(), "%04d-%02u-%02u", static_cast<int>(ymd.year()),
                  static_cast<unsigned>(ymd.month()), static_cast<unsigned>(ymd.day()));
    return out.data();
}

std::string isoText(TimeStamp time) {
    std::int64_t days = time.milliseconds / kDayMs, rest = time.milliseconds % kDayMs;
    if (rest < 0) rest += kDayMs, --days;
    std::array<char, 40> out{};
    std::snprintf(out.data(), out.size(), "T%02d:%02d:%02d.%03dZ", static_cast<int>(rest / 3600000),
                  static_cast<int>(rest / 60000 % 60), static_cast<int>(rest / 1000 % 60),
                  static_cast<int>(rest % 1000));
    return isoText(Date{static_cast<std::int32_t>(days)}) + out.data();
}

std::optional<Date> parseDate(std::string_view text) {
    Reader in(text);
    const auto out = in.date();
    return in.isAtEnd() ? out : std::nullopt;
}

std::optional<TimeStamp> parseTimeStamp(std::string_view text) {
    Reader in(text);
    const auto day = in.date();
    if (!day || (!in.take('T') && !in.take(' '))) return {};
    const auto hours = in.digits(2);
    if (!hours || *hours > 23 || !in.take(':')) return {};
    const auto minutes = in.digits(2);
    if (!minutes || *minutes > 59) return {};
    int seconds = 0, fraction = 0;
    if (in.take(':')) {
        const auto read = in.digits(2);
        if (!read || *read > 59) return {};
        seconds = *read;
        if (in.take('.')) {
            const auto part = in.fraction();
            if (!part) return {};
            fraction = *part;
        }
    }
    const auto away = offset(in);
    if (!away || !in.isAtEnd()) return {};
    return TimeStamp{day->days * kDayMs +
                     ((*hours * 60 + *minutes - *away) * std::int64_t{60} + seconds) * 1000 +
                     fraction};
}

}  // namespace ledge
