#include "core/base/paper.h"

#include <algorithm>
#include <cmath>

#include "core/base/numbers.h"

namespace ledge {
namespace {
struct Unit {
    std::string_view name;
    double mm;
};
constexpr Unit kUnits[] = {{"mm", 1},    {"cm", 10},   {"inches", 25.4}, {"inch", 25.4},
                           {"in", 25.4}, {"\"", 25.4}, {"\u2033", 25.4}, {"pt", 25.4 / 72},
                           {"m", 1000},  {"", 1}};
}  // namespace

Result<double> paperMm(std::string_view text) {
    const std::string said = lowered(trimmed(std::string(text)));
    for (const Unit& unit : kUnits) {
        if (!said.ends_with(unit.name)) continue;
        const auto number = parseNumber(trimmed(said.substr(0, said.size() - unit.name.size())));
        if (number && std::isfinite(*number)) return *number * unit.mm;
        break;
    }
    return Error{ErrorCode::InvalidArgument, "\"" + std::string(text) + "\"", "is no length",
                 "write a number of millimetres, or one with mm, cm, in or pt, such as 6 in"};
}

const std::vector<NamedPage>& namedPages() {
    static const std::vector<NamedPage> pages{
        {"A6", 105, 148},         {"A5", 148, 210},         {"A4", 210, 297},
        {"A3", 297, 420},         {"A2", 420, 594},         {"A1", 594, 841},
        {"A0", 841, 1189},        {"B5", 176, 250},         {"B4", 250, 353},
        {"B3", 353, 500},         {"ANSI A", 215.9, 279.4}, {"ANSI B", 279.4, 431.8},
        {"ANSI C", 431.8, 558.8}, {"ANSI D", 558.8, 863.6}, {"ANSI E", 863.6, 1117.6}};
    return pages;
}

const NamedPage* pageNamed(std::string_view name) {
    for (const NamedPage& page : namedPages())
        if (page.name == name) return &page;
    return nullptr;
}

std::string pageText(double width, double height) {
    constexpr double kOff = 0.6;
    for (const NamedPage& page : namedPages()) {
        if (std::abs(page.widthMm - std::min(width, height)) > kOff ||
            std::abs(page.heightMm - std::max(width, height)) > kOff)
            continue;
        return std::string(page.name) + (width > height ? " across" : " upright");
    }
    const auto text = [](double mm) { return formatNumber(std::round(mm * 10) / 10, {-1, false}); };
    return text(width) + " × " + text(height) + " mm";
}

}  // namespace ledge
