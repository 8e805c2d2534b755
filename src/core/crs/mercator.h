#pragma once
#include "core/crs/projection.h"

namespace ledge::crs {

/// Ellipsoidal Mercator, variants A (EPSG 9804) and B (9805); IOGP Guidance Note 7-2.
class Mercator final : public Projection {
public:
    Mercator(Method variant, const ProjectionParameters& parameters, const Ellipsoid& ellipsoid);
    void forward(std::span<Point> points) const override;
    void inverse(std::span<Point> points) const override;

private:
    ProjectionParameters m_parameters;
    double m_eccentricity;
    double m_radius = 0;
};

/// Spherical Mercator formulas on the ellipsoid's coordinates (EPSG 1024). Not conformal.
/// Beyond 89.99 degrees of latitude the result is NaN.
class WebMercator final : public Projection {
public:
    WebMercator(const ProjectionParameters& parameters, const Ellipsoid& ellipsoid);
    void forward(std::span<Point> points) const override;
    void inverse(std::span<Point> points) const override;

private:
    ProjectionParameters m_parameters;
    double m_radius;
};

}  // namespace ledge::crs
