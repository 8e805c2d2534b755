#pragma once
#include "core/crs/methods/kernel.h"

namespace ledge::crs {

enum class Cone { OneParallel, TwoParallels, Belgium, Michigan };

/// Lambert conformal conic (EPSG 9801, 9802, 9803, 1051; the west-orientated 9826 is the first with
/// its axis turned); IOGP Guidance Note 7-2, 3.1.1. The opposite pole is outside the domain.
template <Cone kKind>
class LambertConformalKernel {
public:
    LambertConformalKernel(const ProjectionParameters& p, const Ellipsoid& e);
    Point forward(double lambda, double phi) const;
    Point inverse(double x, double y) const;

private:
    // Belgium's grid is turned by 29.2985 arc-seconds.
    static constexpr double kTurn =
        kKind == Cone::Belgium ? 29.2985 / 3600 * kRadiansPerDegree : 0.0;
    ConformalLatitude m_conformal;
    double m_n = 0;       // cone constant, negative in the south
    double m_factor = 0;  // radius = factor * exp(-n psi), of the sign of n
    double m_originRadius = 0;
};

/// Albers equal-area conic (EPSG 9822); Snyder, pp. 101-102.
class AlbersKernel {
public:
    AlbersKernel(const ProjectionParameters& p, const Ellipsoid& e);
    Point forward(double lambda, double phi) const;
    Point inverse(double x, double y) const;

private:
    double radius(double sineBeta) const;
    AuthalicLatitude m_authalic;
    double m_semiMajor, m_n = 0, m_c = 0, m_originRadius = 0;
};

/// Equidistant conic (EPSG 1119); Snyder, pp. 114-115.
class EquidistantConicKernel {
public:
    EquidistantConicKernel(const ProjectionParameters& p, const Ellipsoid& e);
    Point forward(double lambda, double phi) const;
    Point inverse(double x, double y) const;

private:
    MeridianDistance m_meridian;
    double m_n = 0, m_apex = 0, m_originRadius = 0;  // radius = apex - meridian distance
};

}  // namespace ledge::crs
