#include "core/crs/datum.h"

namespace ledge::crs {
namespace {
constexpr double kRadiansPerArcSecond = kRadiansPerDegree / 3600;
}

Geocentric Helmert::forward(Geocentric p) const {
    const double s = 1 + ppm * 1e-6;
    const double x = rx * kRadiansPerArcSecond, y = ry * kRadiansPerArcSecond,
                 z = rz * kRadiansPerArcSecond;
    return {dx + s * (p.x - z * p.y + y * p.z), dy + s * (z * p.x + p.y - x * p.z),
            dz + s * (-y * p.x + x * p.y + p.z)};
}

Geocentric Helmert::inverse(Geocentric p) const {
    const double s = 1 + ppm * 1e-6;
    const double x = rx * kRadiansPerArcSecond, y = ry * kRadiansPerArcSecond,
                 z = rz * kRadiansPerArcSecond;
    const double a = (p.x - dx) / s, b = (p.y - dy) / s, c = (p.z - dz) / s;
    // Inverse of I + K for the skew matrix K of w = (x, y, z): (I + w w^T - K) / (1 + |w|^2).
    const double dot = x * a + y * b + z * c, norm = 1 + x * x + y * y + z * z;
    return {(a + z * b - y * c + x * dot) / norm, (b - z * a + x * c + y * dot) / norm,
            (c + y * a - x * b + z * dot) / norm};
}

}  // namespace ledge::crs
