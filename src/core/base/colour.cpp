#include "core/base/colour.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <cstdio>

namespace ledge {
namespace {
double toLinear(std::uint8_t value) {
    const double s = value / 255.0;
    return s <= 0.04045 ? s / 12.92 : std::pow((s + 0.055) / 1.055, 2.4);
}
std::uint8_t toByte(double linear) {
    const double l = std::clamp(linear, 0.0, 1.0);
    const double s = l <= 0.0031308 ? 12.92 * l : 1.055 * std::pow(l, 1 / 2.4) - 0.055;
    return static_cast<std::uint8_t>(std::lround(s * 255.0));
}
}  // namespace

std::string colourText(Colour c) {
    std::array<char, 12> buffer{};
    if (c.a == 255)
        std::snprintf(buffer.data(), buffer.size(), "#%02X%02X%02X", c.r, c.g, c.b);
    else
        std::snprintf(buffer.data(), buffer.size(), "#%02X%02X%02X%02X", c.r, c.g, c.b, c.a);
    return buffer.data();
}

std::optional<Colour> parseColour(std::string_view text) {
    if ((text.size() != 7 && text.size() != 9) || text.front() != '#') return {};
    std::array<std::uint8_t, 4> parts{0, 0, 0, 255};
    for (std::size_t i = 1, k = 0; i < text.size(); i += 2, ++k) {
        const auto [end, code] =
            std::from_chars(text.data() + i, text.data() + i + 2, parts[k], 16);
        if (code != std::errc{} || end != text.data() + i + 2) return {};
    }
    return Colour{parts[0], parts[1], parts[2], parts[3]};
}

OkLab toOkLab(Colour c) {
    const double r = toLinear(c.r), g = toLinear(c.g), b = toLinear(c.b);
    const double l = std::cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
    const double m = std::cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
    const double s = std::cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
    return {0.2104542553 * l + 0.7936177850 * m - 0.0040720468 * s,
            1.9779984951 * l - 2.4285922050 * m + 0.4505937099 * s,
            0.0259040371 * l + 0.7827717662 * m - 0.8086757660 * s};
}

Colour fromOkLab(OkLab lab, std::uint8_t alpha) {
    const auto cube = [](double v) { return v * v * v; };
    const double l = cube(lab.lightness + 0.3963377774 * lab.a + 0.2158037573 * lab.b);
    const double m = cube(lab.lightness - 0.1055613458 * lab.a - 0.0638541728 * lab.b);
    const double s = cube(lab.lightness - 0.0894841775 * lab.a - 1.2914855480 * lab.b);
    return {toByte(4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s),
            toByte(-1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s),
            toByte(-0.0041960863 * l - 0.7034186147 * m + 1.7076147010 * s), alpha};
}

Colour mixed(Colour from, Colour to, double share) {
    const double t = std::clamp(share, 0.0, 1.0);
    const OkLab one = toOkLab(from), two = toOkLab(to);
    const double alpha = from.a + (to.a - from.a) * t;
    return fromOkLab({one.lightness + (two.lightness - one.lightness) * t,
                      one.a + (two.a - one.a) * t, one.b + (two.b - one.b) * t},
                     static_cast<std::uint8_t>(std::lround(alpha)));
}

Colour withLightness(Colour colour, double lightness) {
    OkLab lab = toOkLab(colour);
    lab.lightness = std::clamp(lightness, 0.0, 1.0);
    return fromOkLab(lab, colour.a);
}

double colourDistance(Colour one, Colour other) {
    const OkLab p = toOkLab(one), q = toOkLab(other);
    return 100.0 * std::hypot(p.lightness - q.lightness, p.a - q.a, p.b - q.b);
}

}  // namespace ledge
