#include "core/crs/geodesic.h"

#include <cmath>
#include <vector>

#include "core/crs/latitudes.h"
#include "core/crs/projection.h"

namespace ledge::crs {
namespace {
// Names follow the paper: bet reduced latitude, alp azimuth, sig arc on the auxiliary sphere, omg
// longitude there, s sine, c cosine. Equation numbers are those of Karney (2013).
const double kTiny = std::sqrt(std::numeric_limits<double>::min());
constexpr double kEps = std::numeric_limits<double>::epsilon();
const double kTol0 = kEps, kTol1 = 200 * kEps, kTol2 = std::sqrt(kEps);
const double kTolBisect = kEps * std::sqrt(kEps);
const double kXThreshold = 1000 * std::sqrt(kEps);

// The numbers here are far from the ends of the range: no need for std::hypot's care.
double norm(double s, double c) { return std::sqrt(s * s + c * c); }

void normalise(double& s, double& c) {
    const double h = norm(s, c);
    s /= h, c /= h;
}

// Within [-180, 180]; nearly always there already.
double folded(double degrees) {
    return std::abs(degrees) <= 180 ? degrees : std::remainder(degrees, 360.0);
}

struct SineCosine {
    double s, c;
};
// Exact at multiples of 90 degrees.
SineCosine ofDegrees(double degrees) {
    const double turned = folded(degrees);
    const int quadrant = static_cast<int>(turned / 90 + (turned < 0 ? -0.5 : 0.5));
    const double r = (turned - 90.0 * quadrant) * kRadiansPerDegree;
    const double s = std::sin(r), c = std::cos(r);
    switch (quadrant & 3) {
    case 0: return {s, c};
    case 1: return {c, -s};
    case 2: return {-s, -c};
    default: return {-c, s};
    }
}

double degreesOf(double s, double c) { return std::atan2(s, c) / kRadiansPerDegree; }

// Sum of c[k] sin(2 k x), k = 1 to 6, by Clenshaw's recurrence.
template <std::size_t N>
double sineSum(double s, double c, const std::array<double, N>& k) {
    const double twice = 2 * (c - s) * (c + s);
    double b1 = 0, b2 = 0;
    for (std::size_t i = N - 1; i >= 1; --i) {
        const double b = twice * b1 - b2 + k[i];
        b2 = b1, b1 = b;
    }
    return 2 * s * c * b1;
}
// Sum of c[k] cos((2 k + 1) x), k = 0 to 5.
double cosineSum(double s, double c, const std::array<double, 7>& k) {
    const double twice = 2 * (c - s) * (c + s);
    double b1 = 0, b2 = 0;
    for (int i = 5; i >= 0; --i) {
        const double b = twice * b1 - b2 + k[static_cast<std::size_t>(i)];
        b2 = b1, b1 = b;
    }
    return c * (b1 - b2);
}

using Series = std::array<double, 7>;
double a1m1(double e) {  // (17), less 1
    const double q = e * e, t = q * (64 + q * (4 + q)) / 256;
    return (t + e) / (1 - e);
}
Series c1(double e) {  // (18)
    const double q = e * e;
    Series c{};
    double d = e;
    c[1] = d * (-0.5 + q * (3.0 / 16 - q / 32));
    d *= e, c[2] = d * (-1.0 / 16 + q * (1.0 / 32 - q * 9 / 2048));
    d *= e, c[3] = d * (-1.0 / 48 + q * 3 / 256);
    d *= e, c[4] = d * (-5.0 / 512 + q * 3 / 512);
    d *= e, c[5] = -d * 7 / 1280;
    d *= e, c[6] = -d * 7 / 2048;
    return c;
}
Series c1Reverted(double e) {  // (21)
    const double q = e * e;
    Series c{};
    double d = e;
    c[1] = d * (0.5 + q * (-9.0 / 32 + q * 205 / 1536));
    d *= e, c[2] = d * (5.0 / 16 + q * (-37.0 / 96 + q * 1335 / 4096));
    d *= e, c[3] = d * (29.0 / 96 - q * 75 / 128);
    d *= e, c[4] = d * (539.0 / 1536 - q * 2391 / 2560);
    d *= e, c[5] = d * 3467 / 7680;
    d *= e, c[6] = d * 38081 / 61440;
    return c;
}
double a2m1(double e) {  // (42), less 1
    const double q = e * e, t = q * (-11 * q * q - 28 * q - 192) / 256;
    return (t - e) / (1 + e);
}
Series c2(double e) {  // (43)
    const double q = e * e;
    Series c{};
    double d = e;
    c[1] = d * (0.5 + q * (1.0 / 16 + q / 32));
    d *= e, c[2] = d * (3.0 / 16 + q * (1.0 / 32 + q * 35 / 2048));
    d *= e, c[3] = d * (5.0 / 48 + q * 5 / 256);
    d *= e, c[4] = d * (35.0 / 512 + q * 7 / 512);
    d *= e, c[5] = d * 63 / 1280;
    d *= e, c[6] = d * 77 / 2048;
    return c;
}

// Largest root of k^4 + 2 k^3 - (x^2 + y^2 - 1) k^2 - 2 y^2 k - y^2 = 0 (55).
double astroid(double x, double y) {
    const double p = x * x, q = y * y, r = (p + q - 1) / 6;
    if (q == 0 && r <= 0) return 0;
    const double s = p * q / 4, r2 = r * r, r3 = r * r2, disc = s * (s + 2 * r3);
    double u = r;
    if (disc >= 0) {
        double t3 = s + r3;
        t3 += t3 < 0 ? -std::sqrt(disc) : std::sqrt(disc);
        const double t = std::cbrt(t3);
        u += t + (t != 0 ? r2 / t : 0);
    } else {
        const double angle = std::atan2(std::sqrt(-disc), -(s + r3));
        u += 2 * r * std::cos(angle / 3);
    }
    const double v = std::sqrt(u * u + q), uv = u < 0 ? q / (v - u) : u + v;
    const double w = (uv - q) / (2 * v);
    return uv / (std::sqrt(uv + w * w) + w);
}

bool isUsable(Point p) { return p.isFinite() && std::abs(p.y) <= 90; }
}  // namespace

Geodesic::Geodesic(const Ellipsoid& e)
    : m_ellipsoid(e), m_a(e.semiMajor), m_f(e.flattening()), m_f1(1 - m_f), m_e2(m_f * (2 - m_f)),
      m_ep2(m_e2 / (m_f1 * m_f1)), m_n(m_f / (2 - m_f)), m_b(m_a * m_f1),
      m_c2((m_a * m_a +
            m_b * m_b * (m_e2 == 0 ? 1 : std::atanh(std::sqrt(m_e2)) / std::sqrt(m_e2))) /
           2),
      m_etol2(0.1 * kTol2 /
              std::sqrt(std::max(0.001, std::abs(m_f)) * std::min(1.0, 1 - m_f / 2) / 2)) {
    const double n = m_n;
    m_a3x = {1,
             -(1 - n) / 2,
             -(1.0 / 4 + n / 8 - 3 * n * n / 8),
             -(1.0 / 16 + 3 * n / 16 + n * n / 16),
             -(3.0 / 64 + n / 32),
             -3.0 / 128};  // (24)
    m_c3x = {(1 - n) / 4,
             (1 - n * n) / 8,
             3.0 / 64 + 3 * n / 64 - n * n / 64,
             5.0 / 128 + n / 64,
             3.0 / 128,
             1.0 / 16 - 3 * n / 32 + n * n / 32,
             3.0 / 64 - n / 32 - 3 * n * n / 64,
             3.0 / 128 + n / 128,
             5.0 / 256,
             5.0 / 192 - 3 * n / 64 + 5 * n * n / 192,
             3.0 / 128 - 5 * n / 192,
             7.0 / 512,
             7.0 / 512 - 7 * n / 256,
             7.0 / 512,
             21.0 / 2560};  // (25)
    m_c4x = {2.0 / 3 + n * (-4.0 / 15 +
                            n * (8.0 / 105 + n * (4.0 / 315 + n * (16.0 / 3465 + n * 20 / 9009)))),
             -1.0 / 5 + n * (16.0 / 35 + n * (-32.0 / 105 + n * (16.0 / 385 + n * 64 / 15015))),
             -2.0 / 105 + n * (-32.0 / 315 + n * (1088.0 / 3465 - n * 1184 / 5005)),
             11.0 / 315 + n * (-368.0 / 3465 - n * 32 / 6435),
             4.0 / 1155 + n * 1088 / 45045,
             97.0 / 15015,
             1.0 / 45 + n * (-16.0 / 315 + n * (32.0 / 945 + n * (-16.0 / 3465 - n * 64 / 135135))),
             -2.0 / 105 + n * (64.0 / 945 + n * (-128.0 / 1485 + n * 1984 / 45045)),
             -1.0 / 105 + n * (16.0 / 2079 + n * 5792 / 135135),
             4.0 / 1155 - n * 2944 / 135135,
             1.0 / 9009,
             4.0 / 525 + n * (-32.0 / 1575 + n * (64.0 / 3465 - n * 32 / 5005)),
             -8.0 / 1575 + n * (128.0 / 5775 - n * 256 / 6825),
             -8.0 / 1925 + n * 1856 / 225225,
             8.0 / 10725,
             8.0 / 2205 + n * (-256.0 / 24255 + n * 512 / 45045),
             -16.0 / 8085 + n * 1024 / 105105,
             -136.0 / 63063,
             64.0 / 31185 - n * 512 / 81081,
             -128.0 / 135135,
             128.0 / 99099};  // (63)
}

namespace {
// By Horner's rule, coefficients from the lowest power.
double polynomial(const double* coefficients, std::size_t count, double x) {
    double sum = 0;
    while (count-- > 0) sum = sum * x + coefficients[count];
    return sum;
}
}  // namespace

double Geodesic::a3(double e) const { return polynomial(m_a3x.data(), m_a3x.size(), e); }

Geodesic::Coefficients Geodesic::c3(double e) const {
    Coefficients c{};
    std::size_t at = 0;
    double power = 1;
    for (std::size_t l = 1; l < 6; ++l) {
        power *= e;
        const std::size_t count = 6 - l;
        c[l] = power * polynomial(&m_c3x[at], count, e);
        at += count;
    }
    return c;
}

Geodesic::Coefficients Geodesic::c4(double e) const {
    Coefficients c{};
    std::size_t at = 0;
    double power = 1;
    for (std::size_t l = 0; l < 6; ++l) {
        const std::size_t count = 6 - l;
        c[l] = power * polynomial(&m_c4x[at], count, e);
        at += count;
        power *= e;
    }
    return c;
}

Geodesic::Lengths Geodesic::lengths(double eps, double sig12, double ssig1, double csig1,
                                    double dn1, double ssig2, double csig2, double dn2,
                                    bool wantsDistance) const {
    const double a1 = a1m1(eps), a2 = a2m1(eps);
    const Series k1 = c1(eps), k2 = c2(eps);
    Lengths out;
    out.m0 = a1 - a2;
    double j12 = 0;
    if (wantsDistance) {
        const double b1 = sineSum(ssig2, csig2, k1) - sineSum(ssig1, csig1, k1);
        out.s12b = (1 + a1) * (sig12 + b1);
        const double b2 = sineSum(ssig2, csig2, k2) - sineSum(ssig1, csig1, k2);
        j12 = out.m0 * sig12 + ((1 + a1) * b1 - (1 + a2) * b2);
    } else {
        Series k{};
        for (std::size_t i = 1; i <= 6; ++i) k[i] = (1 + a1) * k1[i] - (1 + a2) * k2[i];
        j12 = out.m0 * sig12 + (sineSum(ssig2, csig2, k) - sineSum(ssig1, csig1, k));
    }
    out.m12b = dn2 * (csig1 * ssig2) - dn1 * (ssig1 * csig2) - csig1 * csig2 * j12;  // (38)
    return out;
}

double Geodesic::startingPoint(double sbet1, double cbet1, double sbet2, double cbet2, double lam12,
                               double& salp1, double& calp1, double& salp2, double& calp2,
                               double& dnm) const {
    double sig12 = -1;
    const double sbet12 = sbet2 * cbet1 - cbet2 * sbet1;
    const double cbet12 = cbet2 * cbet1 + sbet2 * sbet1;
    const double sbet12a = sbet2 * cbet1 + cbet2 * sbet1;
    const bool isShort = cbet12 >= 0 && sbet12 < 0.5 && cbet2 * lam12 < 0.5;
    double omg12 = lam12;
    if (isShort) {
        double sbetm2 = (sbet1 + sbet2) * (sbet1 + sbet2);
        sbetm2 /= sbetm2 + (cbet1 + cbet2) * (cbet1 + cbet2);
        dnm = std::sqrt(1 + m_ep2 * sbetm2);
        omg12 /= m_f1 * dnm;
    }
    double somg12 = std::sin(omg12), comg12 = std::cos(omg12);
    salp1 = cbet2 * somg12;
    calp1 = comg12 >= 0 ? sbet12 + cbet2 * sbet1 * somg12 * somg12 / (1 + comg12)
                        : sbet12a - cbet2 * sbet1 * somg12 * somg12 / (1 - comg12);
    const double ssig12 = norm(salp1, calp1);
    const double csig12 = sbet1 * sbet2 + cbet1 * cbet2 * comg12;
    if (isShort && ssig12 < m_etol2) {
        salp2 = cbet1 * somg12;
        calp2 =
            sbet12 - cbet1 * sbet2 * (comg12 >= 0 ? somg12 * somg12 / (1 + comg12) : 1 - comg12);
        normalise(salp2, calp2);
        sig12 = std::atan2(ssig12, csig12);
    } else if (std::abs(m_n) > 0.1 || csig12 >= 0 ||
               ssig12 >= 6 * std::abs(m_n) * kPi * cbet1 * cbet1) {
        // The spherical start is near enough.
    } else {
        // Nearly antipodal: section 5 of the paper.
        const double k2 = sbet1 * sbet1 * m_ep2;
        const double eps = k2 / (2 * (1 + std::sqrt(1 + k2)) + k2);
        const double lamScale = m_f * cbet1 * a3(eps) * kPi, betScale = lamScale * cbet1;
        const double x = (lam12 - kPi) / lamScale, y = sbet12a / betScale;
        if (y > -kTol1 && x > -1 - kXThreshold) {
            salp1 = std::min(1.0, -x);
            calp1 = -std::sqrt(1 - salp1 * salp1);
        } else {
            const double k = astroid(x, y);
            const double omg12a = lamScale * -x * k / (1 + k);
            somg12 = std::sin(omg12a), comg12 = -std::cos(omg12a);
            salp1 = cbet2 * somg12;
            calp1 = sbet12a - cbet2 * sbet1 * somg12 * somg12 / (1 - comg12);
        }
    }
    if (salp1 > 0)
        normalise(salp1, calp1);
    else
        salp1 = 1, calp1 = 0;
    return sig12;
}

Geodesic::Hybrid Geodesic::longitudeAt(double sbet1, double cbet1, double dn1, double sbet2,
                                       double cbet2, double dn2, double salp1, double calp1,
                                       bool wantsSlope) const {
    Hybrid h;
    if (sbet1 == 0 && calp1 == 0) calp1 = -kTiny;
    const double salp0 = salp1 * cbet1, calp0 = norm(calp1, salp1 * sbet1);
    const double somg1 = salp0 * sbet1, comg1 = calp1 * cbet1;
    h.ssig1 = sbet1, h.csig1 = comg1;
    normalise(h.ssig1, h.csig1);
    h.salp2 = cbet2 != cbet1 ? salp0 / cbet2 : salp1;
    h.calp2 = cbet2 != cbet1 || std::abs(sbet2) != -sbet1
                  ? std::sqrt(calp1 * cbet1 * calp1 * cbet1 +
                              (cbet1 < -sbet1 ? (cbet2 - cbet1) * (cbet1 + cbet2)
                                              : (sbet1 - sbet2) * (sbet1 + sbet2))) /
                        cbet2
                  : std::abs(calp1);
    const double somg2 = salp0 * sbet2, comg2 = h.calp2 * cbet2;
    h.ssig2 = sbet2, h.csig2 = comg2;
    normalise(h.ssig2, h.csig2);
    h.sig12 = std::atan2(std::max(0.0, h.csig1 * h.ssig2 - h.ssig1 * h.csig2),
                         h.csig1 * h.csig2 + h.ssig1 * h.ssig2);
    const double omg12 =
        std::atan2(std::max(0.0, comg1 * somg2 - somg1 * comg2), comg1 * comg2 + somg1 * somg2);
    const double k2 = calp0 * calp0 * m_ep2;
    h.eps = k2 / (2 * (1 + std::sqrt(1 + k2)) + k2);
    const Coefficients k = c3(h.eps);
    const double b = sineSum(h.ssig2, h.csig2, k) - sineSum(h.ssig1, h.csig1, k);
    h.domg12 = m_f * a3(h.eps) * salp0 * (h.sig12 + b);
    h.lam12 = omg12 - h.domg12;
    if (wantsSlope) {
        if (h.calp2 == 0)
            h.dlam = -2 * m_f1 * dn1 / sbet1;
        else
            h.dlam =
                lengths(h.eps, h.sig12, h.ssig1, h.csig1, dn1, h.ssig2, h.csig2, dn2, false).m12b *
                m_f1 / (h.calp2 * cbet2);  // (46)
    }
    return h;
}

Geodesic::Solution Geodesic::solve(Point from, Point to, bool wantsArea) const {
    double lon12 = folded(to.x - from.x);
    const int lonSign = lon12 >= 0 ? 1 : -1;
    lon12 *= lonSign;
    const double lam12 = lon12 * kRadiansPerDegree;
    const SineCosine lam = ofDegrees(lon12);
    double lat1 = from.y, lat2 = to.y;
    const int swap = std::abs(lat1) < std::abs(lat2) ? -1 : 1;
    if (swap < 0) std::swap(lat1, lat2);
    const int latSign = lat1 < 0 ? 1 : -1;
    lat1 *= latSign, lat2 *= latSign;
    const auto reduced = [this](double lat) {
        SineCosine b = ofDegrees(lat);
        b.s *= m_f1;
        normalise(b.s, b.c);
        b.c = std::max(kTiny, b.c);
        return b;
    };
    const SineCosine b1 = reduced(lat1);
    SineCosine b2 = reduced(lat2);
    if (b1.c < -b1.s) {
        if (b2.c == b1.c) b2.s = b2.s < 0 ? b1.s : -b1.s;
    } else if (std::abs(b2.s) == -b1.s) {
        b2.c = b1.c;
    }
    const double dn1 = std::sqrt(1 + m_ep2 * b1.s * b1.s), dn2 = std::sqrt(1 + m_ep2 * b2.s * b2.s);
    double salp1 = 0, calp1 = 0, salp2 = 0, calp2 = 0, sig12 = 0, s12 = 0;
    bool isMeridian = lat1 == -90 || lam.s == 0;
    double m12 = 0;
    double omg12 = 0;
    bool knowsOmega = false;
    if (isMeridian) {
        calp1 = lam.c, salp1 = lam.s;
        calp2 = 1, salp2 = 0;
        const double ssig1 = b1.s, csig1 = calp1 * b1.c, ssig2 = b2.s, csig2 = calp2 * b2.c;
        sig12 =
            std::atan2(std::max(0.0, csig1 * ssig2 - ssig1 * csig2), csig1 * csig2 + ssig1 * ssig2);
        const Lengths l = lengths(m_n, sig12, ssig1, csig1, dn1, ssig2, csig2, dn2, true);
        m12 = l.m12b;
        s12 = l.s12b;
        if (sig12 < 1 || m12 >= 0) {
            if (sig12 < 3 * kTiny) sig12 = m12 = s12 = 0;
            s12 *= m_b;
        } else {
            isMeridian = false;  // the meridian is not the shortest
        }
    }
    if (!isMeridian && b1.s == 0 && (m_f <= 0 || lon12 <= 180 - 180 * m_f)) {
        calp1 = calp2 = 0;
        salp1 = salp2 = 1;
        s12 = m_a * lam12;
        sig12 = omg12 = lam12 / m_f1;
        knowsOmega = true;
    } else if (!isMeridian) {
        double dnm = 0;
        sig12 = startingPoint(b1.s, b1.c, b2.s, b2.c, lam12, salp1, calp1, salp2, calp2, dnm);
        if (sig12 >= 0) {
            s12 = sig12 * m_b * dnm;
            omg12 = lam12 / (m_f1 * dnm);
            knowsOmega = true;
        } else {
            double salpA = kTiny, calpA = 1, salpB = kTiny, calpB = -1;
            Hybrid h;
            bool isTripping = false, hasBisected = false;
            for (int i = 0; i < 100; ++i) {
                h = longitudeAt(b1.s, b1.c, dn1, b2.s, b2.c, dn2, salp1, calp1, i < 20);
                const double v = h.lam12 - lam12;
                if (hasBisected || !(std::abs(v) >= (isTripping ? 8 : 1) * kTol0)) break;
                if (v > 0 && (i > 20 || calp1 / salp1 > calpB / salpB))
                    salpB = salp1, calpB = calp1;
                else if (v < 0 && (i > 20 || calp1 / salp1 < calpA / salpA))
                    salpA = salp1, calpA = calp1;
                if (i < 20 && h.dlam > 0) {
                    const double d = -v / h.dlam, sd = std::sin(d), cd = std::cos(d);
                    const double next = salp1 * cd + calp1 * sd;
                    if (next > 0 && std::abs(d) < kPi) {
                        calp1 = calp1 * cd - salp1 * sd;
                        salp1 = next;
                        normalise(salp1, calp1);
                        isTripping = std::abs(v) <= 16 * kTol0;
                        continue;
                    }
                }
                salp1 = (salpA + salpB) / 2;
                calp1 = (calpA + calpB) / 2;
                normalise(salp1, calp1);
                isTripping = false;
                hasBisected = std::abs(salpA - salp1) + (calpA - calp1) < kTolBisect ||
                              std::abs(salp1 - salpB) + (calp1 - calpB) < kTolBisect;
            }
            sig12 = h.sig12, salp2 = h.salp2, calp2 = h.calp2;
            // More exact than the azimuths, whose difference may be tiny.
            omg12 = lam12 + h.domg12;
            knowsOmega = true;
            s12 = m_b *
                  lengths(h.eps, sig12, h.ssig1, h.csig1, dn1, h.ssig2, h.csig2, dn2, true).s12b;
        }
    }
    Solution out;
    out.s12 = s12;
    if (wantsArea) {
        const double salp0 = salp1 * b1.c, calp0 = norm(calp1, salp1 * b1.s);
        if (calp0 != 0 && salp0 != 0) {
            double ssig1 = b1.s, csig1 = calp1 * b1.c, ssig2 = b2.s, csig2 = calp2 * b2.c;
            normalise(ssig1, csig1);
            normalise(ssig2, csig2);
            const double k2 = calp0 * calp0 * m_ep2;
            const double eps = k2 / (2 * (1 + std::sqrt(1 + k2)) + k2);
            const double a4 = m_a * m_a * calp0 * salp0 * m_e2;  // (59)
            const Coefficients k = c4(eps);
            out.area = a4 * (cosineSum(ssig2, csig2, k) - cosineSum(ssig1, csig1, k));
        }
        double alp12 = 0;
        const double somg12 = knowsOmega ? std::sin(omg12) : lam.s;
        const double comg12 = knowsOmega ? std::cos(omg12) : lam.c;
        if (!isMeridian && knowsOmega && comg12 > -0.7071 && b2.s - b1.s < 1.75) {
            const double domg = 1 + comg12, dbet1 = 1 + b1.c, dbet2 = 1 + b2.c;
            alp12 = 2 * std::atan2(somg12 * (b1.s * dbet2 + b2.s * dbet1),
                                   domg * (b1.s * b2.s + dbet1 * dbet2));  // (63')
        } else {
            double s = salp2 * calp1 - calp2 * salp1, c = calp2 * calp1 + salp2 * salp1;
            if (s == 0 && c < 0) s = kTiny * calp1, c = -1;
            alp12 = std::atan2(s, c);
        }
        out.area = (out.area + m_c2 * alp12) * lonSign * latSign;
    }
    if (swap < 0) {
        std::swap(salp1, salp2);
        std::swap(calp1, calp2);
    }
    const int side = lonSign, up = swap * latSign;
    out.sinAzi1 = salp1 * side, out.cosAzi1 = calp1 * up;
    out.sinAzi2 = salp2 * side, out.cosAzi2 = calp2 * up;
    return out;
}

Geodesic::Line Geodesic::inverse(Point from, Point to) const {
    if (!isUsable(from) || !isUsable(to)) return {kNaN, kNaN, kNaN};
    const Solution s = solve(from, to, false);
    return {s.s12, degreesOf(s.sinAzi1, s.cosAzi1), degreesOf(s.sinAzi2, s.cosAzi2)};
}

Geodesic::End Geodesic::direct(Point from, double bearing, double distance) const {
    if (!isUsable(from) || !std::isfinite(bearing) || !std::isfinite(distance))
        return {kNowhere, kNaN};
    const SineCosine alp1 = ofDegrees(bearing);
    SineCosine bet1 = ofDegrees(from.y);
    bet1.s *= m_f1;
    normalise(bet1.s, bet1.c);
    bet1.c = std::max(kTiny, bet1.c);
    const double salp0 = alp1.s * bet1.c, calp0 = norm(alp1.c, alp1.s * bet1.s);
    double ssig1 = bet1.s;
    double csig1 = bet1.s != 0 || alp1.c != 0 ? bet1.c * alp1.c : 1.0;
    const double somg1 = salp0 * bet1.s, comg1 = csig1;
    normalise(ssig1, csig1);
    const double k2 = calp0 * calp0 * m_ep2;
    const double eps = k2 / (2 * (1 + std::sqrt(1 + k2)) + k2);
    const double a1 = a1m1(eps);
    const double b11 = sineSum(ssig1, csig1, c1(eps));
    const double s = std::sin(b11), c = std::cos(b11);
    const double stau1 = ssig1 * c + csig1 * s, ctau1 = csig1 * c - ssig1 * s;
    const double tau12 = distance / (m_b * (1 + a1));
    const double st = std::sin(tau12), ct = std::cos(tau12);
    const double b12 = -sineSum(stau1 * ct + ctau1 * st, ctau1 * ct - stau1 * st, c1Reverted(eps));
    const double sig12 = tau12 - (b12 - b11);
    const double ss = std::sin(sig12), cs = std::cos(sig12);
    const double ssig2 = ssig1 * cs + csig1 * ss;
    double csig2 = csig1 * cs - ssig1 * ss;
    const double sbet2 = calp0 * ssig2;
    double cbet2 = norm(salp0, calp0 * csig2);
    if (cbet2 == 0) cbet2 = csig2 = kTiny;
    const double salp2 = salp0, calp2 = calp0 * csig2;
    const double east = std::copysign(1.0, salp0), somg2 = salp0 * ssig2, comg2 = csig2;
    const double omg12 =
        east * (sig12 - (std::atan2(ssig2, csig2) - std::atan2(ssig1, csig1)) +
                (std::atan2(east * somg2, comg2) - std::atan2(east * somg1, comg1)));
    const Coefficients k = c3(eps);
    const double lam12 =
        omg12 -
        m_f * salp0 * a3(eps) * (sig12 + (sineSum(ssig2, csig2, k) - sineSum(ssig1, csig1, k)));
    double lon = from.x + std::remainder(lam12 / kRadiansPerDegree, 360.0);
    if (lon > 180) lon -= 360;
    if (lon < -180) lon += 360;
    return {{lon, degreesOf(sbet2, m_f1 * cbet2)}, degreesOf(salp2, calp2)};
}

std::vector<Point> Geodesic::densified(Point from, Point to, double step) const {
    const Line line = inverse(from, to);
    std::vector<Point> out{from};
    if (std::isfinite(line.distance) && step > 0) {
        const auto pieces =
            static_cast<int>(std::clamp(std::ceil(line.distance / step), 1.0, 9999.0));
        for (int i = 1; i < pieces; ++i)
            out.push_back(direct(from, line.bearingStart, line.distance * i / pieces).at);
    }
    out.push_back(to);
    return out;
}

Geodesic::Ring Geodesic::polygon(std::span<const Point> ring) const {
    std::size_t count = ring.size();
    if (count > 1 && ring.front() == ring.back()) --count;
    Ring out;
    if (count < 2) return out;
    long double area = 0, perimeter = 0;
    int crossings = 0;
    for (std::size_t i = 0; i < count; ++i) {
        const Point a = ring[i], b = ring[(i + 1) % count];
        if (!isUsable(a) || !isUsable(b)) return {kNaN, kNaN};
        const Solution s = solve(a, b, true);
        area -= static_cast<long double>(s.area);
        perimeter += static_cast<long double>(s.s12);
        // An edge over the meridian of Greenwich; an odd number means a pole inside.
        const double lon1 = std::remainder(a.x, 360.0), lon2 = std::remainder(b.x, 360.0);
        const double lon12 = std::remainder(b.x - a.x, 360.0);
        if (lon12 > 0 && lon1 < 0 && lon2 >= 0) ++crossings;
        if (lon12 < 0 && lon1 >= 0 && lon2 < 0) --crossings;
    }
    const long double whole = 4 * static_cast<long double>(kPi) * static_cast<long double>(m_c2);
    area = std::remainder(area, whole);
    if (crossings & 1) area += (area < 0 ? 1 : -1) * whole / 2;
    if (area > whole / 2) area -= whole;
    if (area <= -whole / 2) area += whole;
    out.area = static_cast<double>(area);
    out.perimeter = static_cast<double>(perimeter);
    return out;
}

Geodesic::Line rhumbLine(const Ellipsoid& e, Point from, Point to) {
    if (!isUsable(from) || !isUsable(to)) return {kNaN, kNaN, kNaN};
    const ConformalLatitude conformal(e);
    const MeridianDistance meridian(e);
    const double phi1 = from.y * kRadiansPerDegree, phi2 = to.y * kRadiansPerDegree;
    const double dLon = std::remainder(to.x - from.x, 360.0) * kRadiansPerDegree;
    const double psi = conformal.isometric(phi2) - conformal.isometric(phi1);
    const double along = meridian.at(phi2) - meridian.at(phi1);
    const double bearing = std::atan2(dLon, psi);
    double length = 0;
    if (std::abs(phi2 - phi1) > 1e-7) {
        length = std::abs(along) * std::hypot(dLon, psi) / std::abs(psi);
        if (!std::isfinite(psi)) length = std::abs(along);
    } else {
        const double phi = (phi1 + phi2) / 2;
        const double radius =
            e.semiMajor * std::cos(phi) * primeVertical(std::sin(phi), e.eccentricitySquared());
        length = std::hypot(along, radius * dLon);
    }
    const double degrees = bearing / kRadiansPerDegree;
    return {length, degrees, degrees};
}

Point rhumbEnd(const Ellipsoid& e, Point from, double bearing, double distance) {
    if (!isUsable(from)) return kNowhere;
    const ConformalLatitude conformal(e);
    const MeridianDistance meridian(e);
    const SineCosine way = ofDegrees(bearing);
    const double phi1 = from.y * kRadiansPerDegree;
    const double end = meridian.at(phi1) + distance * way.c;
    if (!(std::abs(end) <= meridian.toPole())) return kNowhere;
    const double phi2 = meridian.latitude(end);
    double dLon = 0;
    if (std::abs(phi2 - phi1) > 1e-7) {
        dLon = way.s / way.c * (conformal.isometric(phi2) - conformal.isometric(phi1));
    } else {
        const double phi = (phi1 + phi2) / 2;
        dLon =
            distance * way.s /
            (e.semiMajor * std::cos(phi) * primeVertical(std::sin(phi), e.eccentricitySquared()));
    }
    return {std::remainder(from.x + dLon / kRadiansPerDegree, 360.0), phi2 / kRadiansPerDegree};
}

}  // namespace ledge::crs
