#include "core/crs/methods/world.h"

#include <array>

namespace ledge::crs {
namespace {
const double kRoot2 = std::sqrt(2.0);

// Root of an increasing odd function on [-most, most]; Newton kept inside by bisection.
template <typename F>
double solvedFor(double value, double most, F functionAndSlope) {
    double low = -most, high = most, at = std::clamp(value / functionAndSlope(0.0).y, low, high);
    for (int i = 0; i < 80; ++i) {
        const Point now = functionAndSlope(at);
        const double miss = now.x - value;
        (miss > 0 ? high : low) = at;
        double next = at - miss / now.y;
        if (!(next >= low && next <= high)) next = (low + high) / 2;
        if (std::abs(next - at) < 1e-16) break;
        at = next;
    }
    return at;
}

double asinOr(double s) {
    return std::abs(s) > 1 + 1e-9 ? kNaN : std::asin(std::clamp(s, -1.0, 1.0));
}

// theta of Mollweide: 2 theta + sin 2 theta = pi sin phi. Near the pole in terms of the distance
// from it, because the slope vanishes there.
double mollweideTheta(double phi) {
    if (isPole(phi)) return std::copysign(kPi / 2, phi);
    const double target = kPi * std::sin(phi);
    if (std::abs(phi) < 1.4)
        return solvedFor(target, kPi / 2, [](double t) {
            return Point{2 * t + std::sin(2 * t), 2 + 2 * std::cos(2 * t)};
        });
    // u - sin u = pi (1 - sin |phi|) for u = pi - 2 theta.
    const double h = std::sin((kPi / 2 - std::abs(phi)) / 2), gap = 2 * kPi * h * h;
    double u = std::cbrt(6 * gap);
    for (int i = 0; i < 30; ++i) {
        const double q = u * u;
        const double f =
            u < 0.6 ? u * q / 6 * (1 - q / 20 * (1 - q / 42 * (1 - q / 72 * (1 - q / 110))))
                    : u - std::sin(u);
        const double half = std::sin(u / 2), step = (f - gap) / (2 * half * half);
        u -= step;
        if (std::abs(step) < 1e-16 * u) break;
    }
    return std::copysign((kPi - u) / 2, phi);
}
}  // namespace

Point MollweideShape::row(double phi) {
    const double theta = mollweideTheta(phi);
    return {2 * kRoot2 / kPi * std::cos(theta), kRoot2 * std::sin(theta)};
}
double MollweideShape::latitude(double y) {
    const double theta = asinOr(y / kRoot2);
    return asinOr((2 * theta + std::sin(2 * theta)) / kPi);
}

namespace {
const double kEckert1 = 2 * std::sqrt(2 / (3 * kPi));
const double kEckert2 = std::sqrt(2 * kPi / 3);
const double kEckert3 = 4 / std::sqrt(kPi * (4 + kPi));
const double kEckert4 = 2 * std::sqrt(kPi / (4 + kPi));
const double kEckert5 = 1 / std::sqrt(2 + kPi);
}  // namespace

Point Eckert1Shape::row(double phi) {
    return {kEckert1 * (1 - std::abs(phi) / kPi), kEckert1 * phi};
}
double Eckert1Shape::latitude(double y) { return y / kEckert1; }

Point Eckert2Shape::row(double phi) {
    const double root = std::sqrt(4 - 3 * std::sin(std::abs(phi)));
    return {2 / std::sqrt(6 * kPi) * root, std::copysign(kEckert2 * (2 - root), phi)};
}
double Eckert2Shape::latitude(double y) {
    const double root = 2 - std::abs(y) / kEckert2;
    return root < 0 ? kNaN : std::copysign(asinOr((4 - root * root) / 3), y);
}

Point Eckert3Shape::row(double phi) {
    const double share = 2 * phi / kPi;
    return {kEckert3 / 2 * (1 + std::sqrt(std::max(0.0, 1 - share * share))), kEckert3 * phi};
}
double Eckert3Shape::latitude(double y) { return y / kEckert3; }

namespace {
// Eckert IV near a pole, by u = pi/2 - theta: the slope over theta vanishes there.
double eckert4FromPole(double phi) {
    const double h = std::sin((kPi / 2 - std::abs(phi)) / 2), gap = (4 + kPi) * h * h;
    double u = std::sqrt(gap);
    for (int i = 0; i < 30 && u > 0; ++i) {
        const double s = std::sin(u), half = std::sin(u / 2);
        const double step = (u - s * std::cos(u) + 4 * half * half - gap) / (2 * s * (1 + s));
        u -= step;
        if (std::abs(step) < 1e-16 * u) break;
    }
    return u;
}
}  // namespace

Point Eckert4Shape::row(double phi) {
    if (std::abs(phi) > 1.4) {
        const double u = eckert4FromPole(phi);
        return {kEckert3 / 2 * (1 + std::sin(u)), std::copysign(kEckert4 * std::cos(u), phi)};
    }
    const double theta = solvedFor((2 + kPi / 2) * std::sin(phi), kPi / 2, [](double t) {
        const double s = std::sin(t), c = std::cos(t);
        return Point{t + s * c + 2 * s, 2 * c * (1 + c)};
    });
    return {kEckert3 / 2 * (1 + std::cos(theta)), kEckert4 * std::sin(theta)};
}
double Eckert4Shape::latitude(double y) {
    const double theta = asinOr(y / kEckert4), s = std::sin(theta);
    return asinOr((theta + s * std::cos(theta) + 2 * s) / (2 + kPi / 2));
}

Point NaturalEarthShape::row(double phi) {
    const double q = phi * phi, q2 = q * q, q5 = q2 * q2 * q;
    return {0.8707 - 0.131979 * q - 0.013791 * q2 + 0.003971 * q5 - 0.001529 * q5 * q,
            phi *
                (1.007226 + 0.015085 * q - 0.044475 * q2 * q + 0.028874 * q2 * q2 - 0.005916 * q5)};
}
double NaturalEarthShape::latitude(double y) {
    const double pole = row(kPi / 2).y;
    if (std::abs(y) > pole * (1 + 1e-12)) return kNaN;
    return solvedFor(std::clamp(y, -pole, pole), kPi / 2, [](double phi) {
        const double q = phi * phi, q2 = q * q, q5 = q2 * q2 * q;
        return Point{row(phi).y, 1.007226 + 3 * 0.015085 * q - 7 * 0.044475 * q2 * q +
                                     9 * 0.028874 * q2 * q2 - 11 * 0.005916 * q5};
    });
}

Point Eckert5Shape::row(double phi) { return {kEckert5 * (1 + std::cos(phi)), 2 * kEckert5 * phi}; }
double Eckert5Shape::latitude(double y) { return y / (2 * kEckert5); }

Point Eckert6Shape::row(double phi) {
    const double theta = solvedFor((1 + kPi / 2) * std::sin(phi), kPi / 2, [](double t) {
        return Point{t + std::sin(t), 1 + std::cos(t)};
    });
    return {kEckert5 * (1 + std::cos(theta)), 2 * kEckert5 * theta};
}
double Eckert6Shape::latitude(double y) {
    const double theta = y / (2 * kEckert5);
    return asinOr((theta + std::sin(theta)) / (1 + kPi / 2));
}

namespace {
constexpr std::array<double, 19> kRobinsonX{1.0000, 0.9986, 0.9954, 0.9900, 0.9822, 0.9730, 0.9600,
                                            0.9427, 0.9216, 0.8962, 0.8679, 0.8350, 0.7986, 0.7597,
                                            0.7186, 0.6732, 0.6213, 0.5722, 0.5322};
constexpr std::array<double, 19> kRobinsonY{0.0000, 0.0620, 0.1240, 0.1860, 0.2480, 0.3100, 0.3720,
                                            0.4340, 0.4958, 0.5571, 0.6176, 0.6769, 0.7346, 0.7903,
                                            0.8435, 0.8936, 0.9394, 0.9761, 1.0000};

// Cubic spline through a table over steps of 1; at 0 its first (even) or second (odd) derivative
// vanishes, at the end its second.
class Spline {
public:
    Spline(const std::array<double, 19>& table, bool isEven) : m_y(table) {
        std::array<double, 19> diagonal{}, right{}, upper{};
        diagonal[0] = isEven ? 2 : 1;
        upper[0] = isEven ? 1 : 0;
        right[0] = isEven ? 6 * (table[1] - table[0]) : 0;
        for (std::size_t i = 1; i < 18; ++i)
            right[i] = 6 * (table[i + 1] - 2 * table[i] + table[i - 1]);
        for (std::size_t i = 1; i < 18; ++i) {
            const double w = 1 / diagonal[i - 1];
            diagonal[i] = 4 - w * upper[i - 1];
            upper[i] = 1;
            right[i] -= w * right[i - 1];
        }
        m_second[18] = 0;
        for (std::size_t i = 18; i-- > 0;)
            m_second[i] = (right[i] - upper[i] * m_second[i + 1]) / diagonal[i];
    }
    Point at(double x) const {  // value, slope
        const auto i = static_cast<std::size_t>(std::clamp(std::floor(x), 0.0, 17.0));
        const double t = x - static_cast<double>(i), u = 1 - t;
        const double a = m_second[i], b = m_second[i + 1];
        return {u * m_y[i] + t * m_y[i + 1] + ((u * u * u - u) * a + (t * t * t - t) * b) / 6,
                m_y[i + 1] - m_y[i] + ((3 * t * t - 1) * b - (3 * u * u - 1) * a) / 6};
    }

private:
    std::array<double, 19> m_y;
    std::array<double, 19> m_second{};
};
const Spline& robinsonX() {
    static const Spline spline(kRobinsonX, true);
    return spline;
}
const Spline& robinsonY() {
    static const Spline spline(kRobinsonY, false);
    return spline;
}
constexpr double kRobinsonUp = 1.3523, kRobinsonAlong = 0.8487;
}  // namespace

Point RobinsonShape::row(double phi) {
    const double steps = std::abs(phi) / kRadiansPerDegree / 5;
    return {kRobinsonAlong * robinsonX().at(steps).x,
            std::copysign(kRobinsonUp * robinsonY().at(steps).x, phi)};
}
double RobinsonShape::latitude(double y) {
    const double value = std::abs(y) / kRobinsonUp;
    if (!(value <= 1 + 1e-9)) return kNaN;
    double steps = value * 18;
    for (int i = 0; i < 40; ++i) {
        const Point now = robinsonY().at(steps);
        const double step = (now.x - value) / now.y;
        steps = std::clamp(steps - step, 0.0, 18.0);
        if (std::abs(step) < 1e-15) break;
    }
    return std::copysign(radians(steps * 5), y);
}

namespace {
constexpr double kA1 = 1.340264, kA2 = -0.081106, kA3 = 0.000893, kA4 = 0.003796;
const double kRoot3 = std::sqrt(3.0);
}  // namespace

Point EqualEarthShape::row(double phi) const {
    const double sine = kRoot3 / 2 * m_authalic.fromGeodetic(Direction::of(phi)).sine;
    const double t = std::asin(sine), q = t * t, q3 = q * q * q;
    return {2 * kRoot3 / 3 * std::cos(t) / (kA1 + 3 * kA2 * q + q3 * (7 * kA3 + 9 * kA4 * q)),
            t * (kA1 + kA2 * q + q3 * (kA3 + kA4 * q))};
}
double EqualEarthShape::latitude(double y) const {
    const double most = kPi / 3;
    const auto curve = [](double t) {
        const double q = t * t, q3 = q * q * q;
        return Point{t * (kA1 + kA2 * q + q3 * (kA3 + kA4 * q)),
                     kA1 + 3 * kA2 * q + q3 * (7 * kA3 + 9 * kA4 * q)};
    };
    if (!(std::abs(y) <= curve(most).x * (1 + 1e-12))) return kNaN;
    const double sine = std::sin(solvedFor(y, most, curve)) * 2 / kRoot3;
    return m_authalic.fromSine(std::clamp(sine, -1.0, 1.0));
}

namespace {
// Aitoff on the unit sphere.
Point aitoff(double lambda, double phi) {
    const Direction half = Direction::of(lambda / 2), lat = Direction::of(phi);
    const double across = lat.cosine * half.sine, chord = std::hypot(across, lat.sine);
    const double angle = std::atan2(chord, lat.cosine * half.cosine);
    const double scale = chord < 1e-12 ? 1 : angle / chord;
    return {2 * scale * across, scale * lat.sine};
}
}  // namespace

Point AitoffKernel::forward(double lambda, double phi) const {
    return aitoff(lambda, phi) * m_radius;
}
Point AitoffKernel::inverse(double x, double y) const {
    // An azimuthal equidistant map of half the longitude, doubled.
    const double u = x / 2 / m_radius, v = y / m_radius, angle = std::hypot(u, v);
    if (!(angle <= kPi / 2 * (1 + 1e-12))) return kNowhere;
    const double scale = angle < 1e-12 ? 1 : std::sin(angle) / angle;
    const double east = u * scale, north = std::cos(angle);
    const Point out{2 * std::atan2(east, north), std::atan2(v * scale, std::hypot(east, north))};
    return out;
}

Point HammerKernel::forward(double lambda, double phi) const {
    const Direction half = Direction::of(lambda / 2), lat = Direction::of(phi);
    const double scale = m_radius * kRoot2 / std::sqrt(1 + lat.cosine * half.cosine);
    return {2 * scale * lat.cosine * half.sine, scale * lat.sine};
}
Point HammerKernel::inverse(double x, double y) const {
    const double u = x / 2 / m_radius, v = y / m_radius, q = u * u + v * v;
    if (!(q <= 2 * (1 + 1e-12))) return kNowhere;
    const double scale = std::sqrt(std::max(0.0, 1 - q / 4)), north = 1 - q / 2;
    const double east = u * scale;
    return {2 * std::atan2(east, north), std::atan2(v * scale, std::hypot(east, north))};
}

Point WinkelTripelKernel::forward(double lambda, double phi) const {
    const Point p = aitoff(lambda, phi);
    return Point{(p.x + lambda * m_parallel) / 2, (p.y + phi) / 2} * m_radius;
}
Point WinkelTripelKernel::inverse(double x, double y) const {
    const double phi = y / m_radius;
    if (!(std::abs(phi) <= kPi / 2 * (1 + 1e-9)) || !(std::abs(x) <= 3 * m_radius)) return kNowhere;
    const Point guess{2 * x / m_radius / (std::cos(phi) + m_parallel), phi};
    return solvedInverse([this](double l, double b) { return forward(l, b); }, {x, y}, guess);
}

Point VanDerGrintenKernel::forward(double lambda, double phi) const {
    const double share = std::min(1.0, std::abs(2 * phi / kPi));
    const double sign = phi < 0 ? -1 : 1;
    if (share == 0) return {m_radius * lambda, 0};
    const double theta = std::asin(share);
    if (lambda == 0 || share == 1) return {0, sign * kPi * m_radius * std::tan(theta / 2)};
    const double a = std::abs(kPi / lambda - lambda / kPi) / 2, a2 = a * a;
    const double c = std::cos(theta), g = c / (share + c - 1), p = g * (2 / share - 1);
    const double p2 = p * p, q = a2 + g, bottom = p2 + a2, gp = g - p2;
    const double x = kPi * m_radius *
                     (a * gp + std::sqrt(std::max(0.0, a2 * gp * gp - bottom * (g * g - p2)))) /
                     bottom;
    const double y = kPi * m_radius *
                     std::abs(p * q - a * std::sqrt(std::max(0.0, (a2 + 1) * bottom - q * q))) /
                     bottom;
    return {std::copysign(x, lambda), sign * y};
}
Point VanDerGrintenKernel::inverse(double x, double y) const {
    const double u = x / (kPi * m_radius), v = y / (kPi * m_radius), q = u * u + v * v;
    if (!(q <= 1 + 1e-12)) return kNowhere;
    double phi = 0;
    if (std::abs(v) > 1e-13) {
        const double c1 = -std::abs(v) * (1 + q), c2 = c1 - 2 * v * v + u * u;
        const double c3 = -2 * c1 + 1 + 2 * v * v + q * q;
        const double d =
            v * v / c3 + (2 * c2 * c2 * c2 / (c3 * c3 * c3) - 9 * c1 * c2 / (c3 * c3)) / 27;
        const double a1 = (c1 - c2 * c2 / (3 * c3)) / c3, m1 = 2 * std::sqrt(-a1 / 3);
        const double turn = std::acos(std::clamp(3 * d / (a1 * m1), -1.0, 1.0)) / 3;
        phi = std::copysign(kPi * (-m1 * std::cos(turn + kPi / 3) - c2 / (3 * c3)), v);
    }
    const double lambda =
        std::abs(u) < 1e-13
            ? 0
            : kPi * (q - 1 + std::sqrt(std::max(0.0, 1 + 2 * (u * u - v * v) + q * q))) / (2 * u);
    return solvedInverse([this](double l, double b) { return forward(l, b); }, {x, y},
                         {lambda, phi});
}

namespace {
struct Lobe {
    double west, east, middle;  // degrees
};
constexpr std::array<Lobe, 2> kNorth{Lobe{-180, -40, -100}, Lobe{-40, 180, 30}};
constexpr std::array<Lobe, 4> kSouth{Lobe{-180, -100, -160}, Lobe{-100, -20, -60},
                                     Lobe{-20, 80, 20}, Lobe{80, 180, 140}};
const double kJoin = radians(40 + 44 / 60.0 + 11.8 / 3600);
// Drop of Mollweide's curve so that both meet at the join.
double joinDrop() {
    static const double drop = MollweideShape::row(kJoin).y - kJoin;
    return drop;
}
std::span<const Lobe> lobes(bool isNorth) {
    return isNorth ? std::span<const Lobe>(kNorth) : std::span<const Lobe>(kSouth);
}
Point homolosineRow(double phi) {
    if (std::abs(phi) <= kJoin) return {std::cos(phi), phi};
    const Point row = MollweideShape::row(phi);
    return {row.x, row.y - std::copysign(joinDrop(), phi)};
}
}  // namespace

Point HomolosineKernel::forward(double lambda, double phi) const {
    const Point row = homolosineRow(phi);
    for (const Lobe& lobe : lobes(phi >= 0)) {
        if (lambda > radians(lobe.east) && lobe.east < 180) continue;
        const double middle = radians(lobe.middle);
        return {m_radius * (middle + row.x * (lambda - middle)), m_radius * row.y};
    }
    return kNowhere;
}
Point HomolosineKernel::inverse(double x, double y) const {
    const double u = x / m_radius, v = y / m_radius;
    const double phi =
        std::abs(v) <= kJoin ? v : MollweideShape::latitude(v + std::copysign(joinDrop(), v));
    if (!(std::abs(phi) <= kPi / 2)) return kNowhere;
    const double along = homolosineRow(phi).x;
    for (const Lobe& lobe : lobes(v >= 0)) {
        const double middle = radians(lobe.middle);
        if (u > radians(lobe.east) && lobe.east < 180) continue;
        const double lambda = middle + (along > 1e-12 ? (u - middle) / along : 0);
        const bool isInside =
            lambda >= radians(lobe.west) - 1e-9 && lambda <= radians(lobe.east) + 1e-9;
        return isInside ? Point{lambda, phi} : kNowhere;
    }
    return kNowhere;
}

}  // namespace ledge::crs
