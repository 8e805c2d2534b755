#pragma once
#include "core/crs/projection.h"

namespace ledge::crs {

/// Gauss-Krueger projection by Krueger's series in the third flattening to order 8
/// (Karney, J. Geodesy 85, 2011). The coefficients are the Fourier coefficients of the rectifying
/// latitude over the conformal one, found by quadrature in extended precision. Error below 1e-6 m
/// within 40 degrees of the central meridian; beyond 80 degrees the result is NaN.
class TransverseMercator final : public Projection {
public:
    TransverseMercator(const ProjectionParameters& parameters, const Ellipsoid& ellipsoid);
    void forward(std::span<Point> points) const override;
    void inverse(std::span<Point> points) const override;

private:
    static constexpr int kOrder = 8;
    Point forwardMetres(double lonDifference, double latitude) const;

    ProjectionParameters m_parameters;
    double m_eccentricity;
    double m_radius = 0;          // rectifying radius times the scale factor
    double m_originNorthing = 0;  // of the latitude of origin
    std::array<double, kOrder + 1> m_alpha{};
    std::array<double, kOrder + 1> m_beta{};
};

}  // namespace ledge::crs
