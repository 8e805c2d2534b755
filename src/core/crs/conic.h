#pragma once
#include "core/crs/projection.h"

namespace ledge::crs {

/// Lambert conformal conic with one (EPSG 9801) or two (9802) standard parallels;
/// Snyder, USGS Professional Paper 1395, pp. 107-109. The opposite pole is outside the domain.
class LambertConformalConic final : public Projection {
public:
    LambertConformalConic(Method variant, const ProjectionParameters& parameters,
                          const Ellipsoid& ellipsoid);
    void forward(std::span<Point> points) const override;
    void inverse(std::span<Point> points) const override;

private:
    ProjectionParameters m_parameters;
    double m_eccentricity;
    double m_n = 0;       // cone constant, negative in the south
    double m_factor = 0;  // radius = factor * exp(-n psi)
    double m_originRadius = 0;
};

}  // namespace ledge::crs
