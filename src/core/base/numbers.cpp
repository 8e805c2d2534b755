#include "core/base/numbers.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <cstdio>

namespace ledge {
namespace {
constexpr const char* kThinSpace = "\u2009";
constexpr const char* kMinus = "\u2212";

std::string grouped(const std::string& digits) {
    if (digits.size() < 5) return digits;
    std::string out;
    for (std::size_t i = 0; i < digits.size(); ++i) {
        if (i > 0 && (digits.size() - i) % 3 == 0) out += kThinSpace;
        out += digits[i];
    }
    return out;
}
}  // namespace

std::string formatNumber(double value, NumberFormat format) {
    if (!std::isfinite(value)) return "\u2013";
    std::array<char, 400> buffer{};
    const int decimals = format.decimals < 0 ? 6 : std::min(format.decimals, 15);
    std::snprintf(buffer.data(), buffer.size(), "%.*f", decimals, std::abs(value));
    std::string text = buffer.data();
    if (format.decimals < 0 && text.find('.') != std::string::npos) {
        text.erase(text.find_last_not_of('0') + 1);
        if (text.back() == '.') text.pop_back();
    }
    const auto dot = text.find('.');
    const std::string fraction = dot == std::string::npos ? "" : text.substr(dot);
    const std::string whole = text.substr(0, dot);
    const bool isZero = text.find_first_not_of("0.") == std::string::npos;
    return (value < 0 && !isZero ? kMinus : "") +
           (format.groupsThousands ? grouped(whole) : whole) + fraction;
}

std::string exactNumber(double value) {
    if (std::isnan(value)) return "";
    std::array<char, 40> buffer{};
    const double size = std::abs(value);
    const bool isPlain = size == 0 || (size >= 1e-5 && size < 1e15);
    const auto end = isPlain
                         ? std::to_chars(buffer.data(), buffer.data() + buffer.size(), value,
                                         std::chars_format::fixed)
                               .ptr
                         : std::to_chars(buffer.data(), buffer.data() + buffer.size(), value).ptr;
    return {buffer.data(), end};
}

std::string roundedNumber(double value, int digits) {
    if (std::isnan(value)) return "";
    std::array<char, 64> buffer{};
    std::snprintf(buffer.data(), buffer.size(), "%.*g", std::clamp(digits, 1, 17), value);
    return buffer.data();
}

std::optional<double> parseNumber(std::string_view text) {
    while (!text.empty() && std::isspace(static_cast<unsigned char>(text.front())))
        text.remove_prefix(1);
    while (!text.empty() && std::isspace(static_cast<unsigned char>(text.back())))
        text.remove_suffix(1);
    if (!text.empty() && text.front() == '+') text.remove_prefix(1);
    double value = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (code != std::errc{} || end != text.data() + text.size() || text.empty()) return {};
    return value;
}

double roundDownTo125(double value) {
    const double power = std::pow(10.0, std::floor(std::log10(value) + 1e-12));
    for (const double step : {5.0, 2.0})
        if (step * power <= value * (1 + 1e-12)) return step * power;
    return power;
}

double roundUpToInterval(double value) {
    const double power = std::pow(10.0, std::floor(std::log10(value) + 1e-12));
    for (const double step : {1.0, 2.0, 2.5, 5.0})
        if (step * power >= value * (1 - 1e-12)) return step * power;
    return 10 * power;
}

std::string formatDegrees(double degrees, bool isLatitude) {
    if (!std::isfinite(degrees)) return "\u2013";
    const long tenths = std::lround(std::abs(degrees) * 36000.0);
    const char* letter = isLatitude ? (degrees < 0 ? "S" : "N") : (degrees < 0 ? "W" : "E");
    std::array<char, 80> buffer{};
    std::snprintf(buffer.data(), buffer.size(), "%ld° %02ld′ %04.1f″ %s", tenths / 36000,
                  tenths / 600 % 60, static_cast<double>(tenths % 600) / 10.0, letter);
    return buffer.data();
}

double shownScale(double denominator) {
    if (!(denominator > 0) || !std::isfinite(denominator)) return denominator;
    const double power = std::pow(10.0, std::floor(std::log10(denominator)) - 2);
    const double three = std::round(denominator / power) * power;
    if (std::abs(three / denominator - 1) < 1e-3) return three;
    return std::round(denominator / power * 10) * power / 10;
}

std::string formatScale(double denominator) {
    return "1 : " + formatNumber(denominator, {denominator < 10 ? 2 : 0, true});
}

std::string trimmed(std::string_view text) {
    const auto isBlank = [](char c) { return std::isspace(static_cast<unsigned char>(c)) != 0; };
    while (!text.empty() && isBlank(text.front())) text.remove_prefix(1);
    while (!text.empty() && isBlank(text.back())) text.remove_suffix(1);
    return std::string(text);
}

std::string lowered(std::string_view text) {
    std::string out(text);
    std::transform(out.begin(), out.end(), out.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return out;
}

}  // namespace ledge
