#include "core/crs/methods/transverse_mercator.h"

namespace ledge::crs {
namespace {
constexpr double kWidest = 80 * kRadiansPerDegree;

// Sum of c[j] sin(2 j z) for complex z, from sine and cosine of 2 xi and sinh and cosh of 2 eta.
// Written out, because complex products otherwise check for infinities.
Point complexSum(const LatitudeSeries& series, double s, double c, double sh, double ch) {
    const double twiceRe = 2 * c * ch, twiceIm = -2 * s * sh;
    double re1 = 0, im1 = 0, re2 = 0, im2 = 0;
    for (int j = series.order; j >= 1; --j) {
        const double re =
            twiceRe * re1 - twiceIm * im1 - re2 + series.c[static_cast<std::size_t>(j)];
        const double im = twiceRe * im1 + twiceIm * re1 - im2;
        re2 = re1, im2 = im1, re1 = re, im1 = im;
    }
    const double sineRe = s * ch, sineIm = c * sh;
    return {sineIm * re1 + sineRe * im1, sineRe * re1 - sineIm * im1};  // eta, xi
}

double arTanh(double u) {
    const double a = std::abs(u);
    return std::copysign(0.5 * std::log1p(2 * a / (1 - a)), u);
}

// exp(-d), |d| small in all but far-off places.
double expMinus(double d) {
    if (std::abs(d) > 0.03) return std::exp(-d);
    return 1 -
           d * (1 - d / 2 * (1 - d / 3 * (1 - d / 4 * (1 - d / 5 * (1 - d / 6 * (1 - d / 7))))));
}
}  // namespace

TransverseMercatorKernel::TransverseMercatorKernel(const ProjectionParameters& p,
                                                   const Ellipsoid& e)
    : m_conformal(e) {
    const MeridianArc arc(e);
    m_radius = arc.radius * p.scaleFactor;
    if (e.inverseFlattening != 0) {
        const auto chi = [&](long double phi) { return conformalLatitude(e, phi); };
        const auto mu = [&](long double phi) { return arc.rectifying(phi); };
        m_alpha = seriesBetween(chi, mu);
        m_beta = seriesBetween(mu, chi);
    }
    m_originNorthing = forward(0, radians(p.latitudeOfOrigin)).y;
}

Point TransverseMercatorKernel::forward(double lambda, double phi) const {
    if (!(std::abs(lambda) <= kWidest)) return kNowhere;
    const Direction chi = m_conformal.fromGeodetic(Direction::of(phi));
    const Direction lon = Direction::of(lambda);
    const double u = chi.cosine * lon.sine, x = chi.cosine * lon.cosine, y = chi.sine;
    const double r2 = x * x + y * y;
    const Point shift =
        complexSum(m_alpha, 2 * x * y / r2, (x - y) * (x + y) / r2, 2 * u / r2, (1 + u * u) / r2);
    return {m_radius * (arTanh(u) + shift.x),
            m_radius * (std::atan2(y, x) + shift.y) - m_originNorthing};
}

Point TransverseMercatorKernel::inverse(double easting, double northing) const {
    const double xi = (northing + m_originNorthing) / m_radius, eta = easting / m_radius;
    if (!(std::abs(eta) < 2.5) || !(std::abs(xi) <= kPi)) return kNowhere;
    const Direction along = Direction::of(xi);
    const double grown = std::exp(eta);
    const double sh = (grown - 1 / grown) / 2, ch = (grown + 1 / grown) / 2;
    const Point shift = complexSum(m_beta, 2 * along.sine * along.cosine,
                                   (along.cosine - along.sine) * (along.cosine + along.sine),
                                   2 * sh * ch, 1 + 2 * sh * sh);
    // m_beta leads from the rectifying to the conformal sphere.
    const Direction at = along.turned(shift.y);
    const double back = grown * expMinus(-shift.x);
    const double sinh = (back - 1 / back) / 2, cosh = (back + 1 / back) / 2;
    const double side = std::sqrt(sinh * sinh + at.cosine * at.cosine);
    const double chi = std::atan2(at.sine, side);
    return {std::atan2(sinh, at.cosine),
            m_conformal.toGeodetic(chi, {at.sine / cosh, side / cosh})};
}

}  // namespace ledge::crs
