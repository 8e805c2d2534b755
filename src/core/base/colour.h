#pragma once
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace ledge {

/// An sRGB colour with straight alpha, 0 to 255 each.
struct Colour {
    std::uint8_t r = 0, g = 0, b = 0, a = 255;
    bool operator==(const Colour&) const = default;
};

/// "#RRGGBB", or "#RRGGBBAA" when not opaque.
std::string colourText(Colour colour);
std::optional<Colour> parseColour(std::string_view text);

/// A colour in OKLab (Ottosson, "A perceptual color space for image processing", 2020).
struct OkLab {
    double lightness = 0, a = 0, b = 0;
};
OkLab toOkLab(Colour colour);
Colour fromOkLab(OkLab lab, std::uint8_t alpha = 255);

/// Mixture in OKLab, `share` of `to`; alpha mixes linearly.
Colour mixed(Colour from, Colour to, double share);
/// The same hue with another OKLab lightness.
Colour withLightness(Colour colour, double lightness);
/// Distance of two colours in OKLab, times 100.
double colourDistance(Colour one, Colour other);

}  // namespace ledge
