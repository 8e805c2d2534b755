#pragma once
#include <cmath>
#include <cstdint>

#include "core/geometry/point.h"

namespace ledge::globe {

/// Puts points between the ends of a side until its image follows its true course.
///
/// `bound(a, b, A, B)` says how far at most the image of the side from a to b (images A, B) strays
/// from the straight line, from sizes alone; only where that is more than `tolerance` the middle is
/// looked at. `image(p)` maps a point, `put(share, p, image)` takes points in order, without the
/// ends. Returns how far the image strays at most.
template <typename Bound, typename Image, typename Stray, typename Put>
class Refiner {
public:
    Refiner(double tolerance, const Bound& bound, const Image& image, const Stray& stray,
            const Put& put)
        : m_tolerance(tolerance), m_bound(bound), m_image(image), m_stray(stray), m_put(put) {}

    double side(Point a, Point b, Point imageA, Point imageB) {
        return between(a, b, imageA, imageB, 0, 1, 0);
    }

private:
    // A middle that lies near the straight line tells nothing where a side is so long that its
    // image may turn twice.
    static constexpr double kTrusted = 64;
    static constexpr int kDeepest = 14;

    double between(Point a, Point b, Point imageA, Point imageB, double from, double to,
                   int depth) {
        const double most = m_bound(a, b, imageA, imageB);
        if (!(most > m_tolerance)) return std::isfinite(most) ? most : 0;
        const Point middle = (a + b) * 0.5;
        const Point image = m_image(middle);
        if (!image.isFinite() || depth == kDeepest) return 0;
        const double strays = m_stray(image, imageA, imageB);
        if (strays <= m_tolerance / 2 && most < kTrusted * m_tolerance) return m_tolerance;
        const double share = (from + to) / 2;
        const double before = between(a, middle, imageA, image, from, share, depth + 1);
        m_put(share, middle, image);
        return std::max(before, between(middle, b, image, imageB, share, to, depth + 1));
    }

    double m_tolerance;
    const Bound& m_bound;
    const Image& m_image;
    const Stray& m_stray;
    const Put& m_put;
};

}  // namespace ledge::globe
