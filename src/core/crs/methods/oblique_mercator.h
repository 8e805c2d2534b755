#pragma once
#include "core/crs/methods/kernel.h"

namespace ledge::crs {

enum class HotineVariant { A, B, TwoPoint, Swiss };

/// Hotine oblique Mercator, false origin at the natural origin (EPSG 9812) or the centre (9815);
/// IOGP Guidance Note 7-2, 3.2.4; by two points of the initial line: Snyder, pp. 72-73. The Swiss
/// oblique Mercator (9814) is the second with an azimuth of 90 degrees.
template <HotineVariant kVariant>
class HotineKernel {
public:
    HotineKernel(const ProjectionParameters& p, const Ellipsoid& e);
    Point forward(double lambda, double phi) const;
    Point inverse(double x, double y) const;

private:
    ConformalLatitude m_conformal;
    double m_a = 0, m_b = 0, m_h = 0, m_lambda0 = 0;  // lambda0 from the central meridian
    double m_uCentre = 0;
    Direction m_gamma0, m_rectified;
};

/// Krovak's oblique conformal conic (EPSG 9819, 1041), positive east and north; IOGP Guidance Note
/// 7-2, 3.1.5.
class KrovakKernel {
public:
    KrovakKernel(const ProjectionParameters& p, const Ellipsoid& e);
    Point forward(double lambda, double phi) const;
    Point inverse(double x, double y) const;

private:
    ConformalLatitude m_conformal;
    double m_b = 0, m_logT0 = 0, m_n = 0, m_r0 = 0, m_parallel = 0;
    Direction m_axis;
};

}  // namespace ledge::crs
