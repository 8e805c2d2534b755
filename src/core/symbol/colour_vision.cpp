#include "core/symbol/colour_vision.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace ledge {
namespace {
using Matrix = std::array<double, 9>;
constexpr Matrix kSeen{1, 0, 0, 0, 1, 0, 0, 0, 1};
constexpr Matrix kNoRed{0.152286, 1.052583,  -0.204868, 0.114503, 0.786281,
                        0.099216, -0.003882, -0.048116, 1.051998};
constexpr Matrix kNoGreen{0.367322, 0.860646,  -0.227968, 0.280085, 0.672501,
                          0.047413, -0.011820, 0.042940,  0.968881};
constexpr Matrix kNoBlue{1.255528, -0.076749, -0.178779, -0.078411, 0.930809,
                         0.147602, 0.004733,  0.691367,  0.303900};
// Luminance of sRGB (IEC 61966-2-1).
constexpr Matrix kGrey{0.2126, 0.7152, 0.0722, 0.2126, 0.7152, 0.0722, 0.2126, 0.7152, 0.0722};

const Matrix& matrixOf(Vision vision) {
    switch (vision) {
    case Vision::Usual: return kSeen;
    case Vision::NoRed: return kNoRed;
    case Vision::NoGreen: return kNoGreen;
    case Vision::NoBlue: return kNoBlue;
    case Vision::Grey: return kGrey;
    }
    return kSeen;
}

double linear(double v) { return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); }
const std::array<float, 256>& linearTable() {
    static const std::array<float, 256> table = [] {
        std::array<float, 256> out{};
        for (std::size_t i = 0; i < 256; ++i)
            out[i] = static_cast<float>(linear(static_cast<double>(i) / 255));
        return out;
    }();
    return table;
}
// sRGB of linear light in 4096 steps.
const std::array<std::uint8_t, 4097>& encodedTable() {
    static const std::array<std::uint8_t, 4097> table = [] {
        std::array<std::uint8_t, 4097> out{};
        for (std::size_t i = 0; i <= 4096; ++i) {
            const double v = static_cast<double>(i) / 4096;
            const double e = v <= 0.0031308 ? v * 12.92 : 1.055 * std::pow(v, 1 / 2.4) - 0.055;
            out[i] = static_cast<std::uint8_t>(std::lround(e * 255));
        }
        return out;
    }();
    return table;
}
}  // namespace

Colour seenBy(Vision vision, Colour c) {
    if (vision == Vision::Usual) return c;
    const Matrix& m = matrixOf(vision);
    const auto& light = linearTable();
    const double r = light[c.r], g = light[c.g], b = light[c.b];
    const auto put = [](double v) {
        return encodedTable()[static_cast<std::size_t>(
            std::lround(std::clamp(v, 0.0, 1.0) * 4096))];
    };
    return {put(m[0] * r + m[1] * g + m[2] * b), put(m[3] * r + m[4] * g + m[5] * b),
            put(m[6] * r + m[7] * g + m[8] * b), c.a};
}

void seeBy(Vision vision, std::span<std::uint32_t> pixels) {
    if (vision == Vision::Usual) return;
    // Maps hold long stretches of one colour.
    std::uint32_t last = 0, lastSeen = 0;
    bool hasLast = false;
    for (std::uint32_t& pixel : pixels) {
        if (!hasLast || pixel != last) {
            const auto channel = [pixel](int shift) {
                return static_cast<std::uint8_t>((pixel >> shift) & 0xFF);
            };
            const Colour seen = seenBy(vision, {channel(16), channel(8), channel(0), channel(24)});
            last = pixel;
            lastSeen = static_cast<std::uint32_t>(seen.a) << 24 |
                       static_cast<std::uint32_t>(seen.r) << 16 |
                       static_cast<std::uint32_t>(seen.g) << 8 | seen.b;
            hasLast = true;
        }
        pixel = lastSeen;
    }
}

std::vector<Alike> neighboursAlike(std::span<const Colour> colours, double least) {
    constexpr double kLeastGrey = 4;
    std::vector<Alike> out;
    for (std::size_t i = 0; i + 1 < colours.size(); ++i) {
        std::optional<Alike> worst;
        for (const Vision vision : kVisions) {
            const double distance =
                colourDistance(seenBy(vision, colours[i]), seenBy(vision, colours[i + 1]));
            if (distance >= (vision == Vision::Grey ? std::min(kLeastGrey, least) : least))
                continue;
            if (!worst || distance < worst->distance) worst = Alike{i, vision, distance};
        }
        if (worst) out.push_back(*worst);
    }
    return out;
}

}  // namespace ledge
