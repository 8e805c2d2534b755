#include "document/shown_value.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/numbers.h"

namespace ledge::doc {
namespace {
// A day in words as a column has it; instants with their time where the day is written whole.
std::string dateText(const Value& value, DateForm form) {
    constexpr std::array<const char*, 12> kMonths{"Jan", "Feb", "Mar", "Apr", "May", "Jun",
                                                  "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"};
    const std::string iso = exactText(value);
    if (form == DateForm::Iso || iso.size() < 10) return displayText(value);
    const std::string year = iso.substr(0, 4), month = iso.substr(5, 2), day = iso.substr(8, 2);
    const auto number =
        static_cast<std::size_t>(month[0] - '0') * 10 + static_cast<std::size_t>(month[1] - '0');
    const std::string name = kMonths[std::clamp<std::size_t>(number, 1, 12) - 1];
    const std::string time = iso.size() > 16 ? " " + iso.substr(11, 5) : "";
    switch (form) {
    case DateForm::Dotted: return day + "." + month + "." + year + time;
    case DateForm::Named:
        return (day[0] == '0' ? day.substr(1) : day) + " " + name + " " + year + time;
    case DateForm::MonthYear: return name + " " + year;
    case DateForm::Year: return year;
    case DateForm::Iso: break;
    }
    return iso;
}
}  // namespace

std::string shownText(const Value& value, const ColumnLook& look) {
    if (std::holds_alternative<Date>(value) || std::holds_alternative<TimeStamp>(value))
        return dateText(value, look.dates);
    const double number = numberOf(value);
    if (std::isnan(number) || std::holds_alternative<bool>(value)) return displayText(value);
    std::string out = formatNumber(look.isPercent ? number * 100 : number, look.numbers);
    if (look.isPercent) return out + " %";
    return look.unit.empty() ? out : out + " " + look.unit;
}

}  // namespace ledge::doc
