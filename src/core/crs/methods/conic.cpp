#include "core/crs/methods/conic.h"

namespace ledge::crs {
namespace {
// Radius of a parallel over the semi-major axis.
double parallelRadius(double phi, const Ellipsoid& e) {
    return std::cos(phi) * primeVertical(std::sin(phi), e.eccentricitySquared());
}

// Angle and radius of a point about a cone's apex; NaN in the gap of the unrolled cone.
Point aboutApex(double x, double fromApex, double n) {
    const double sign = n < 0 ? -1 : 1;
    const double theta = std::atan2(sign * x, sign * fromApex);
    if (!(std::abs(theta) <= std::abs(n) * kPi * (1 + 1e-12))) return kNowhere;
    return {theta, sign * std::hypot(x, fromApex)};
}
}  // namespace

template <Cone kKind>
LambertConformalKernel<kKind>::LambertConformalKernel(const ProjectionParameters& p,
                                                      const Ellipsoid& e)
    : m_conformal(e) {
    const double origin = radians(p.latitudeOfOrigin);
    const double first = kKind == Cone::OneParallel ? origin : radians(p.standardParallel1);
    const double second = kKind == Cone::OneParallel ? origin : radians(p.standardParallel2);
    const double psi = m_conformal.isometric(first);
    m_n = std::abs(first - second) < 1e-11
              ? std::sin(first)
              : std::log(parallelRadius(first, e) / parallelRadius(second, e)) /
                    (m_conformal.isometric(second) - psi);
    const bool isScaled = kKind == Cone::OneParallel || kKind == Cone::Michigan;
    m_factor = e.semiMajor * (isScaled ? p.scaleFactor : 1.0) * parallelRadius(first, e) / m_n *
               std::exp(m_n * psi);
    m_originRadius = isPole(origin) ? 0 : m_factor * std::exp(-m_n * m_conformal.isometric(origin));
}

template <Cone kKind>
Point LambertConformalKernel<kKind>::forward(double lambda, double phi) const {
    double radius = 0;
    if (!isPole(phi))
        radius = m_factor * std::exp(m_n * std::log(m_conformal.expMinusIsometric(phi)));
    else if ((phi > 0) != (m_n > 0))
        return kNowhere;
    const Direction theta = Direction::of(m_n * lambda - kTurn);
    return {radius * theta.sine, m_originRadius - radius * theta.cosine};
}

template <Cone kKind>
Point LambertConformalKernel<kKind>::inverse(double x, double y) const {
    const double sign = m_n < 0 ? -1 : 1;
    const double across = sign * x, down = sign * (m_originRadius - y);
    const double theta = std::atan2(across, down) + kTurn;
    const double square = across * across + down * down;
    if (!(std::abs(theta) <= std::abs(m_n) * kPi * (1 + 1e-12)) || !std::isfinite(square))
        return kNowhere;
    if (square == 0) return {0, sign * kPi / 2};
    const double logT = 0.5 * std::log(square / (m_factor * m_factor)) / m_n;
    if (std::abs(logT) > 30) return kNowhere;
    return {theta / m_n, m_conformal.fromExpMinusIsometric(std::exp(logT))};
}

template class LambertConformalKernel<Cone::OneParallel>;
template class LambertConformalKernel<Cone::TwoParallels>;
template class LambertConformalKernel<Cone::Belgium>;
template class LambertConformalKernel<Cone::Michigan>;

AlbersKernel::AlbersKernel(const ProjectionParameters& p, const Ellipsoid& e)
    : m_authalic(e), m_semiMajor(e.semiMajor) {
    const double first = radians(p.standardParallel1), second = radians(p.standardParallel2);
    const auto q = [this](double phi) {
        return m_authalic.qPole() * m_authalic.fromGeodetic(Direction::of(phi)).sine;
    };
    const double m1 = parallelRadius(first, e), m2 = parallelRadius(second, e);
    m_n = std::abs(first - second) < 1e-11 ? std::sin(first)
                                           : (m1 - m2) * (m1 + m2) / (q(second) - q(first));
    m_c = m1 * m1 + m_n * q(first);
    m_originRadius =
        radius(m_authalic.fromGeodetic(Direction::of(radians(p.latitudeOfOrigin))).sine);
}

double AlbersKernel::radius(double sineBeta) const {
    return m_semiMajor / m_n * std::sqrt(std::max(0.0, m_c - m_n * m_authalic.qPole() * sineBeta));
}

Point AlbersKernel::forward(double lambda, double phi) const {
    const double r = radius(m_authalic.fromGeodetic(Direction::of(phi)).sine);
    const Direction theta = Direction::of(m_n * lambda);
    return {r * theta.sine, m_originRadius - r * theta.cosine};
}

Point AlbersKernel::inverse(double x, double y) const {
    const Point polar = aboutApex(x, m_originRadius - y, m_n);
    const double share = polar.y * m_n / m_semiMajor;
    const double sineBeta = (m_c - share * share) / (m_n * m_authalic.qPole());
    if (!(std::abs(sineBeta) <= 1 + 1e-12)) return kNowhere;
    return {polar.x / m_n, m_authalic.fromSine(std::clamp(sineBeta, -1.0, 1.0))};
}

EquidistantConicKernel::EquidistantConicKernel(const ProjectionParameters& p, const Ellipsoid& e)
    : m_meridian(e) {
    const double first = radians(p.standardParallel1), second = radians(p.standardParallel2);
    const double m1 = parallelRadius(first, e), m2 = parallelRadius(second, e);
    m_n = std::abs(first - second) < 1e-11
              ? std::sin(first)
              : e.semiMajor * (m1 - m2) / (m_meridian.at(second) - m_meridian.at(first));
    m_apex = e.semiMajor * m1 / m_n + m_meridian.at(first);
    m_originRadius = m_apex - m_meridian.at(radians(p.latitudeOfOrigin));
}

Point EquidistantConicKernel::forward(double lambda, double phi) const {
    const double r = m_apex - m_meridian.at(phi);
    const Direction theta = Direction::of(m_n * lambda);
    return {r * theta.sine, m_originRadius - r * theta.cosine};
}

Point EquidistantConicKernel::inverse(double x, double y) const {
    const Point polar = aboutApex(x, m_originRadius - y, m_n);
    const double distance = m_apex - polar.y;
    if (!(std::abs(distance) <= m_meridian.toPole() * (1 + 1e-12))) return kNowhere;
    return {polar.x / m_n, std::clamp(m_meridian.latitude(distance), -kPi / 2, kPi / 2)};
}

}  // namespace ledge::crs
