#pragma once
#include "core/crs/ellipsoid.h"

namespace ledge::crs {

/// Seven-parameter similarity in the position vector convention (EPSG method 1033, linearised):
/// translations in metres, rotations in arc-seconds, scale difference in parts per million.
/// The coordinate frame convention (1032) has the opposite rotation signs.
struct Helmert {
    double dx = 0, dy = 0, dz = 0;
    double rx = 0, ry = 0, rz = 0;
    double ppm = 0;

    bool operator==(const Helmert&) const = default;
    bool isNull() const { return *this == Helmert{}; }
    Geocentric forward(Geocentric p) const;
    /// Exact inverse of forward, by solving the 3 x 3 system.
    Geocentric inverse(Geocentric p) const;
};

}  // namespace ledge::crs
