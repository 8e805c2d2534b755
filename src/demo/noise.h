#pragma once
#include <cmath>
#include <cstdint>

namespace ledge::demo {

/// Smooth value noise in about [-1, 1], lattice of 1 unit.
inline double valueNoise(double x, double y, std::uint64_t seed) {
    const auto corner = [seed](std::int64_t i, std::int64_t j) {
        std::uint64_t h = seed + static_cast<std::uint64_t>(i) * 0x9E3779B97F4A7C15ull +
                          static_cast<std::uint64_t>(j) * 0xC2B2AE3D27D4EB4Full;
        h = (h ^ (h >> 29)) * 0xBF58476D1CE4E5B9ull;
        h = (h ^ (h >> 32)) * 0x94D049BB133111EBull;
        return static_cast<double>(h >> 11) * 0x1.0p-52 - 1;
    };
    const double fx = std::floor(x), fy = std::floor(y);
    const auto i = static_cast<std::int64_t>(fx), j = static_cast<std::int64_t>(fy);
    const auto fade = [](double t) { return t * t * t * (t * (t * 6 - 15) + 10); };
    const double u = fade(x - fx), v = fade(y - fy);
    const double top = corner(i, j) * (1 - u) + corner(i + 1, j) * u;
    const double bottom = corner(i, j + 1) * (1 - u) + corner(i + 1, j + 1) * u;
    return top * (1 - v) + bottom * v;
}

/// Octaves of it, each half as strong and twice as fine.
inline double fractalNoise(double x, double y, std::uint64_t seed, int octaves) {
    double sum = 0, strength = 1, total = 0;
    for (int k = 0; k < octaves; ++k) {
        sum += strength * valueNoise(x, y, seed + static_cast<std::uint64_t>(k) * 7919);
        total += strength;
        strength /= 2, x *= 2.03, y *= 2.03;
    }
    return sum / total;
}

}  // namespace ledge::demo
