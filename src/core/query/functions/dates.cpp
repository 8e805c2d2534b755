#include <chrono>
#include <cmath>

#include "core/query/function_table.h"

namespace ledge::query {
namespace {
constexpr std::int64_t kMillisecondsADay = 86400000;
std::chrono::year_month_day dayOf(const Row& row) {
    const std::int64_t begin = row.span(0).from;
    const auto days =
        static_cast<int>(std::floor(static_cast<double>(begin) / static_cast<double>(kMillisecondsADay)));
    return std::chrono::sys_days(std::chrono::days(days));
}
std::int64_t timeOfDay(const Row& row) {
    const std::int64_t begin = row.span(0).from;
    return ((begin % kMillisecondsADay) + kMillisecondsADay) % kMillisecondsADay;
}
Function ofDay(std::string_view name, std::string_view help, void (*apply)(Row&)) {
    return {name, Topic::Dates, "date", help, {Takes::Day}, 1, Kind::Integer, apply};
}
std::int64_t whole(auto v) { return static_cast<std::int64_t>(v); }
}  // namespace

std::vector<Function> dateFunctions() {
    return {
        ofDay("year", "Its year", [](Row& row) { row.set(whole(int(dayOf(row).year()))); }),
        ofDay("month", "Its month, from 1",
              [](Row& row) { row.set(whole(unsigned(dayOf(row).month()))); }),
        ofDay("day", "Its day of the month",
              [](Row& row) { row.set(whole(unsigned(dayOf(row).day()))); }),
        ofDay("weekday", "1 for Monday to 7 for Sunday (ISO 8601)",
              [](Row& row) {
                  row.set(whole(
                      std::chrono::weekday(std::chrono::sys_days(dayOf(row))).iso_encoding()));
              }),
        ofDay("hour", "Its hour, UTC", [](Row& row) { row.set(timeOfDay(row) / 3600000); }),
        {"days_between",
         Topic::Dates,
         "from, to",
         "Days from one to the other, with their parts",
         {Takes::Day, Takes::Day},
         2,
         Kind::Real,
         [](Row& row) {
             row.set(static_cast<double>(row.span(1).from - row.span(0).from) /
                     static_cast<double>(kMillisecondsADay));
         }},
        {"date",
         Topic::Dates,
         "year, month, day",
         "The day of these numbers",
         {Takes::Number, Takes::Number, Takes::Number},
         3,
         Kind::Date,
         [](Row& row) {
             const auto day = std::chrono::year(static_cast<int>(row.number(0))) /
                              std::chrono::month(static_cast<unsigned>(row.number(1))) /
                              std::chrono::day(static_cast<unsigned>(row.number(2)));
             if (!day.ok() || row.number(0) < 0 || row.number(0) > 9999)
                 return row.fail("there is no such day");
             row.set(Date{
                 static_cast<std::int32_t>(std::chrono::sys_days(day).time_since_epoch().count())});
         }},
        {"to_date",
         Topic::Dates,
         "text",
         "The day that a text such as 2026-11-27 says",
         {Takes::Text},
         1,
         Kind::Date,
         [](Row& row) {
             const auto day = parseDate(row.text(0));
             if (!day) return row.fail("\"" + std::string(row.text(0)) + "\" is no date");
             row.set(*day);
         }},
    };
}

}  // namespace ledge::query
