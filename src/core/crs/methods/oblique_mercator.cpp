#include "core/crs/methods/oblique_mercator.h"

namespace ledge::crs {

template <HotineVariant kVariant>
HotineKernel<kVariant>::HotineKernel(const ProjectionParameters& p, const Ellipsoid& e)
    : m_conformal(e) {
    const double phi = radians(p.latitudeOfOrigin), s = std::sin(phi), c = std::cos(phi);
    const double e2 = e.eccentricitySquared(), sign = phi < 0 ? -1 : 1;
    m_b = std::sqrt(1 + e2 * c * c * c * c / (1 - e2));
    m_a = e.semiMajor * m_b * p.scaleFactor * std::sqrt(1 - e2) / (1 - e2 * s * s);
    const double d = std::max(1.0, m_b * std::sqrt(1 - e2) * primeVertical(s, e2) / c);
    const double root = std::sqrt(d * d - 1);
    const double f = d + root * sign;
    double azimuth = kVariant == HotineVariant::Swiss ? kPi / 2 : radians(p.azimuth);
    double gridAngle = kVariant == HotineVariant::Swiss ? kPi / 2 : radians(p.rectifiedGridAngle);
    const double power = std::exp(-m_b * m_conformal.isometric(phi));  // t0^B
    if constexpr (kVariant == HotineVariant::TwoPoint) {
        const double east = f * power;
        const double h = std::exp(-m_b * m_conformal.isometric(radians(p.latitude1)));
        const double l = std::exp(-m_b * m_conformal.isometric(radians(p.latitude2)));
        const double span = radians(longitudeDifference(p.longitude1, p.longitude2));
        const double middle =
            radians(longitudeDifference(p.longitude1, p.centralMeridian)) - span / 2;
        const double j = (east * east - l * h) / (east * east + l * h);
        m_lambda0 = middle - std::atan(j * std::tan(m_b * span / 2) * (l + h) / (l - h)) / m_b;
        const double first = radians(longitudeDifference(p.longitude1, p.centralMeridian));
        const double ratio = east / h;
        const double gamma =
            std::atan(2 * std::sin(m_b * (first - m_lambda0)) / (ratio - 1 / ratio));
        m_h = east;
        m_gamma0 = Direction::of(gamma);
        azimuth = std::asin(std::clamp(d * std::sin(gamma), -1.0, 1.0));
        gridAngle = azimuth;
    } else {
        m_h = f * power;
        const double sine = std::sin(azimuth) / d;
        m_gamma0 = {sine, std::sqrt(1 - sine * sine)};
        const double g = (f - 1 / f) / 2;
        m_lambda0 = -std::asin(std::clamp(g * m_gamma0.sine / m_gamma0.cosine, -1.0, 1.0)) / m_b;
    }
    m_rectified = Direction::of(gridAngle);
    if constexpr (kVariant == HotineVariant::B || kVariant == HotineVariant::Swiss)
        m_uCentre = m_a / m_b * std::atan2(root, std::cos(azimuth)) * sign;
}

template <HotineVariant kVariant>
Point HotineKernel<kVariant>::forward(double lambda, double phi) const {
    if (isPole(phi)) return kNowhere;
    const double q = m_h * std::exp(m_b * m_conformal.isometric(phi));
    const double s = (q - 1 / q) / 2, t = (q + 1 / q) / 2;
    double turn = lambda - m_lambda0;
    if (turn > kPi) turn -= 2 * kPi;
    if (turn < -kPi) turn += 2 * kPi;
    const Direction lon = Direction::of(m_b * turn);
    const double side = (s * m_gamma0.sine - lon.sine * m_gamma0.cosine) / t;
    if (!(std::abs(side) < 1 - 1e-12)) return kNowhere;
    const double v = m_a * std::log((1 - side) / (1 + side)) / (2 * m_b);
    const double u =
        m_a / m_b * std::atan2(s * m_gamma0.cosine + lon.sine * m_gamma0.sine, lon.cosine) -
        m_uCentre;
    return {v * m_rectified.cosine + u * m_rectified.sine,
            u * m_rectified.cosine - v * m_rectified.sine};
}

template <HotineVariant kVariant>
Point HotineKernel<kVariant>::inverse(double x, double y) const {
    const double v = x * m_rectified.cosine - y * m_rectified.sine;
    const double u = y * m_rectified.cosine + x * m_rectified.sine + m_uCentre;
    if (!(std::abs(v) < 12 * m_a) || !(std::abs(u) <= m_a / m_b * kPi * 1.5)) return kNowhere;
    const double q = std::exp(-m_b * v / m_a);
    const double s = (q - 1 / q) / 2, t = (q + 1 / q) / 2;
    const Direction along = Direction::of(m_b * u / m_a);
    const double side = (along.sine * m_gamma0.cosine + s * m_gamma0.sine) / t;
    if (!(std::abs(side) < 1)) return kNowhere;
    const double logT = std::log(m_h / std::sqrt((1 + side) / (1 - side))) / m_b;
    double lambda =
        m_lambda0 -
        std::atan2(s * m_gamma0.cosine - along.sine * m_gamma0.sine, along.cosine) / m_b;
    if (lambda > kPi) lambda -= 2 * kPi;
    if (lambda < -kPi) lambda += 2 * kPi;
    return {lambda, m_conformal.fromExpMinusIsometric(std::exp(logT))};
}

template class HotineKernel<HotineVariant::A>;
template class HotineKernel<HotineVariant::B>;
template class HotineKernel<HotineVariant::TwoPoint>;
template class HotineKernel<HotineVariant::Swiss>;

KrovakKernel::KrovakKernel(const ProjectionParameters& p, const Ellipsoid& e) : m_conformal(e) {
    const double phi = radians(p.latitudeOfOrigin), s = std::sin(phi), c = std::cos(phi);
    const double e2 = e.eccentricitySquared();
    m_b = std::sqrt(1 + e2 * c * c * c * c / (1 - e2));
    const double a = e.semiMajor * std::sqrt(1 - e2) / (1 - e2 * s * s);
    const double gamma = std::asin(s / m_b);
    m_logT0 = std::asinh(std::tan(gamma)) - m_b * m_conformal.isometric(phi);
    const double parallel = radians(p.pseudoParallel);
    m_n = std::sin(parallel);
    m_r0 = p.scaleFactor * a / std::tan(parallel);
    m_parallel = std::asinh(std::tan(parallel));
    m_axis = Direction::of(radians(p.azimuth));
}

Point KrovakKernel::forward(double lambda, double phi) const {
    if (isPole(phi)) return kNowhere;
    const double up = m_logT0 + m_b * m_conformal.isometric(phi);
    const Direction u{std::tanh(up), 1 / std::cosh(up)};
    const Direction v = Direction::of(-m_b * lambda);
    const double sineT = m_axis.cosine * u.sine + m_axis.sine * u.cosine * v.cosine;
    const double across = u.cosine * v.sine;
    const double along = m_axis.cosine * u.cosine * v.cosine - m_axis.sine * u.sine;
    const double cosineT = std::hypot(across, along);
    if (!(cosineT > 1e-12)) return kNowhere;
    const double d = std::atan2(across, along);
    if (std::abs(d) > kPi / 2) return kNowhere;
    const double r = m_r0 * std::exp(m_n * (m_parallel - std::asinh(sineT / cosineT)));
    return {-r * std::sin(m_n * d), -r * std::cos(m_n * d)};
}

Point KrovakKernel::inverse(double x, double y) const {
    const double r = std::hypot(x, y), d = std::atan2(-x, -y) / m_n;
    if (!(r > 0) || !(std::abs(d) <= kPi / 2)) return kNowhere;
    const double t = m_parallel - std::log(r / m_r0) / m_n;
    const double sineT = std::tanh(t), cosineT = 1 / std::cosh(t);
    const double sineU = m_axis.cosine * sineT - m_axis.sine * cosineT * std::cos(d);
    const double across = cosineT * std::sin(d);
    const double along = m_axis.sine * sineT + m_axis.cosine * cosineT * std::cos(d);
    const double psi = (std::asinh(sineU / std::hypot(across, along)) - m_logT0) / m_b;
    return {-std::atan2(across, along) / m_b, m_conformal.fromExpMinusIsometric(std::exp(-psi))};
}

}  // namespace ledge::crs
