#pragma once
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace ledge {

/// A day of the proleptic Gregorian calendar, counted from 1970-01-01.
struct Date {
    std::int32_t days = 0;
    auto operator<=>(const Date&) const = default;
};
/// An instant in UTC, milliseconds from the beginning of 1970-01-01; leap seconds are not counted.
struct TimeStamp {
    std::int64_t milliseconds = 0;
    auto operator<=>(const TimeStamp&) const = default;
};

/// As ISO 8601 writes it: "2026-11-26", "2026-11-26T19:12:40.000Z".
std::string isoText(Date date);
std::string isoText(TimeStamp time);
/// The whole text as a date ("2026-11-26") or an instant (with "T" or a blank, seconds and their
/// fraction as far as given, "Z" or an offset such as "+02:00"; UTC without one). Nothing for days
/// that there are not, and for other texts. Years 0 to 9999.
std::optional<Date> parseDate(std::string_view text);
std::optional<TimeStamp> parseTimeStamp(std::string_view text);

}  // namespace ledge
