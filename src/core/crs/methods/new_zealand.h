#pragma once
#include <array>
#include <complex>

#include "core/crs/methods/kernel.h"

namespace ledge::crs {

/// New Zealand Map Grid (EPSG 9811), a polynomial of the isometric latitude; IOGP Guidance Note
/// 7-2, 3.2.6. Within 13 degrees of its origin, where the polynomial can be reversed.
class NewZealandKernel {
public:
    NewZealandKernel(const ProjectionParameters& p, const Ellipsoid& e)
        : m_semiMajor(e.semiMajor), m_originDegrees(p.latitudeOfOrigin) {}
    Point forward(double lambda, double phi) const {
        const double d = phi / kRadiansPerDegree - m_originDegrees;
        if (!(std::abs(d) <= 13) || !(std::abs(lambda) <= radians(13))) return kNowhere;
        const Complex z = grid({isometric(d), lambda}).first;
        return {z.imag() * m_semiMajor, z.real() * m_semiMajor};
    }
    Point inverse(double x, double y) const {
        const Complex target{y / m_semiMajor, x / m_semiMajor};
        if (!(std::abs(target) < 0.3)) return kNowhere;
        Complex zeta = target / kB[0];
        for (int i = 0; i < 20; ++i) {
            const auto [z, slope] = grid(zeta);
            const Complex step = (z - target) / slope;
            zeta -= step;
            if (std::abs(step) < 1e-16) break;
        }
        double d = 0;
        for (int i = 0; i < 30; ++i) {
            const double h = 1e-6;
            const double step =
                (isometric(d) - zeta.real()) * 2 * h / (isometric(d + h) - isometric(d - h));
            d -= step;
            if (std::abs(step) < 1e-13) break;
        }
        return {zeta.imag(), radians(d + m_originDegrees)};
    }

private:
    using Complex = std::complex<double>;
    static constexpr std::array<double, 10> kA{
        0.6399175073, -0.1358797613, 0.063294409, -0.02526853, 0.0117879,
        -0.0055161,   0.0026906,     -0.001333,   0.00067,     -0.00034};
    inline static const std::array<Complex, 6> kB{
        Complex{0.7557853228, 0.0},         Complex{0.249204646, 0.003371507},
        Complex{-0.001541739, 0.041058560}, Complex{-0.10162907, 0.01727609},
        Complex{-0.26623489, -0.36249218},  Complex{-0.6870983, -1.1651967}};

    // Difference of isometric latitude for one of latitude, in degrees.
    static double isometric(double degrees) {
        const double x = degrees * 3600e-5;
        double sum = 0;
        for (std::size_t i = kA.size(); i-- > 0;) sum = sum * x + kA[i];
        return sum * x;
    }
    static std::pair<Complex, Complex> grid(Complex zeta) {
        Complex sum = 0, slope = 0;
        for (std::size_t i = kB.size(); i-- > 0;) {
            slope = slope * zeta + sum;
            sum = sum * zeta + kB[i];
        }
        return {sum * zeta, slope * zeta + sum};
    }
    double m_semiMajor, m_originDegrees;
};

}  // namespace ledge::crs
