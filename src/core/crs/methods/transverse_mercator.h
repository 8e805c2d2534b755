#pragma once
#include "core/crs/methods/kernel.h"

namespace ledge::crs {

/// Gauss-Krueger projection by Krueger's series in the third flattening (Karney, "Transverse
/// Mercator with an accuracy of a few nanometers", J. Geodesy 85, 2011). The coefficients are the
/// Fourier coefficients of the rectifying latitude over the conformal one. Error below 1e-6 m
/// within 40 degrees of the central meridian; beyond 80 degrees the result is NaN.
class TransverseMercatorKernel {
public:
    TransverseMercatorKernel(const ProjectionParameters& parameters, const Ellipsoid& ellipsoid);
    Point forward(double lambda, double phi) const;
    Point inverse(double x, double y) const;

private:
    ConformalLatitude m_conformal;
    LatitudeSeries m_alpha, m_beta;  // rectifying over conformal latitude and back
    double m_radius = 0;             // rectifying radius times the scale factor
    double m_originNorthing = 0;
};

}  // namespace ledge::crs
