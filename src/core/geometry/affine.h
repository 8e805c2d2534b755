#pragma once
#include <optional>

#include "core/geometry/point.h"

namespace ledge {

/// x' = a x + b y + c, y' = d x + e y + f.
struct Affine {
    double a = 1, b = 0, c = 0, d = 0, e = 1, f = 0;

    bool operator==(const Affine&) const = default;
    Point operator()(Point p) const { return {a * p.x + b * p.y + c, d * p.x + e * p.y + f}; }
    double determinant() const { return a * e - b * d; }
    bool isUsable() const { return std::isfinite(a + b + c + d + e + f) && determinant() != 0; }
    bool isNorthUp() const { return b == 0 && d == 0 && a > 0 && e < 0; }
    /// Nothing for a singular map.
    std::optional<Affine> inverse() const {
        if (!isUsable()) return {};
        const double s = 1 / determinant();
        return Affine{e * s, -b * s, (b * f - c * e) * s, -d * s, a * s, (c * d - a * f) * s};
    }
    /// First `inner`, then this.
    Affine after(const Affine& inner) const {
        return {a * inner.a + b * inner.d,     a * inner.b + b * inner.e,
                a * inner.c + b * inner.f + c, d * inner.a + e * inner.d,
                d * inner.b + e * inner.e,     d * inner.c + e * inner.f + f};
    }
    double columnLength() const { return std::hypot(a, d); }
    double rowLength() const { return std::hypot(b, e); }
};

}  // namespace ledge
