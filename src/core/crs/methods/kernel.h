#pragma once
#include <cmath>

#include "core/crs/latitudes.h"
#include "core/crs/projection.h"

namespace ledge::crs {

/// A projection from a kernel: a value with `Point forward(lambda, phi)` from radians, lambda from
/// the central meridian, to metres from the natural origin, and `Point inverse(x, y)` back; both
/// NaN outside the domain. The loops are here, so that a kernel inlines into them.
template <typename Kernel>
class KernelProjection final : public Projection {
public:
    KernelProjection(const ProjectionParameters& p, const Ellipsoid& e)
        : m_kernel(p, e), m_lon(p.centralMeridian), m_east(p.falseEasting),
          m_north(p.falseNorthing) {}

    void forward(std::span<Point> points) const override {
        for (Point& point : points) {
            if (!(std::abs(point.y) <= 90) || !std::isfinite(point.x)) {
                point = kNowhere;
                continue;
            }
            const double lambda = longitudeDifference(point.x, m_lon) * kRadiansPerDegree;
            const Point metres = m_kernel.forward(lambda, point.y * kRadiansPerDegree);
            point = {metres.x + m_east, metres.y + m_north};
        }
    }
    void inverse(std::span<Point> points) const override {
        for (Point& point : points) {
            const Point angles = m_kernel.inverse(point.x - m_east, point.y - m_north);
            const double lon = m_lon + angles.x / kRadiansPerDegree;
            point = {lon > 180 ? lon - 360 : (lon < -180 ? lon + 360 : lon),
                     angles.y / kRadiansPerDegree};
        }
    }

private:
    Kernel m_kernel;
    double m_lon, m_east, m_north;
};

template <typename Kernel>
std::unique_ptr<const Projection> projectionWith(const ProjectionParameters& p,
                                                 const Ellipsoid& e) {
    return std::make_unique<KernelProjection<Kernel>>(p, e);
}

inline bool isPole(double phi) { return std::abs(phi) >= kPi / 2 - 1e-15; }
inline double radians(double degrees) { return degrees * kRadiansPerDegree; }

/// The (lambda, phi) whose image under `forward` is `target`, by Newton's method with differences,
/// halving steps that lead away; NaN when none is found within 1e-7 m. For methods without a
/// closed inverse.
template <typename Forward>
Point solvedInverse(const Forward& forward, Point target, Point guess) {
    constexpr double kStep = 1e-6, kGood = 1e-9;
    const auto clamped = [](Point p) {
        return Point{std::clamp(p.x, -kPi, kPi), std::clamp(p.y, -kPi / 2, kPi / 2)};
    };
    Point at = clamped(guess);
    Point miss = forward(at.x, at.y) - target;
    for (int i = 0; i < 60; ++i) {
        const double size = std::hypot(miss.x, miss.y);
        if (size < kGood) break;
        const double hx = at.x > 0 ? -kStep : kStep, hy = at.y > 0 ? -kStep : kStep;
        const Point dx =
            (forward(at.x + hx, at.y) - forward(at.x - hx * 0.5, at.y)) * (1 / (1.5 * hx));
        const Point dy =
            (forward(at.x, at.y + hy) - forward(at.x, at.y - hy * 0.5)) * (1 / (1.5 * hy));
        const double det = dx.x * dy.y - dx.y * dy.x;
        if (!(std::abs(det) > 0)) return size < 1e-7 ? at : kNowhere;
        const Point step{(miss.x * dy.y - miss.y * dy.x) / det,
                         (dx.x * miss.y - dx.y * miss.x) / det};
        bool better = false;
        for (double share = 1; share > 1e-4; share /= 2) {
            const Point next = clamped(at - step * share);
            const Point nextMiss = forward(next.x, next.y) - target;
            if (std::hypot(nextMiss.x, nextMiss.y) < size) {
                at = next, miss = nextMiss, better = true;
                break;
            }
        }
        if (!better) break;
    }
    return std::hypot(miss.x, miss.y) < 1e-7 ? at : kNowhere;
}

}  // namespace ledge::crs
