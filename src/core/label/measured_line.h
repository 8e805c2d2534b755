#pragma once
#include <algorithm>
#include <cmath>
#include <span>
#include <vector>

#include "core/geometry/point.h"

namespace ledge::label {

/// A line that knows positions by length. The line must outlive it.
class Measured {
public:
    explicit Measured(std::span<const Point> line) : m_line(line), m_lengths(line.size(), 0) {
        for (std::size_t i = 1; i < line.size(); ++i)
            m_lengths[i] = m_lengths[i - 1] + distance(line[i - 1], line[i]);
    }
    double length() const { return m_lengths.empty() ? 0 : m_lengths.back(); }
    Point at(double s) const {
        const std::size_t i = sideAt(s);
        const double step = m_lengths[i] - m_lengths[i - 1];
        const double t = step > 0 ? (s - m_lengths[i - 1]) / step : 0;
        return m_line[i - 1] + (m_line[i] - m_line[i - 1]) * t;
    }
    /// Direction of the side at a length, radians.
    double angleAt(double s) const {
        const std::size_t i = sideAt(s);
        return std::atan2(m_line[i].y - m_line[i - 1].y, m_line[i].x - m_line[i - 1].x);
    }
    /// Largest distance of the stretch from its chord, over the chord's length.
    double bend(double from, double to) const {
        const Point a = at(from), b = at(to), d = b - a;
        const double chord = std::hypot(d.x, d.y);
        if (chord < 0.6 * (to - from)) return 1;
        double worst = 0;
        for (int i = 1; i < 8; ++i) {
            const Point p = at(from + (to - from) * i / 8) - a;
            worst = std::max(worst, std::abs(d.x * p.y - d.y * p.x) / (chord * chord));
        }
        return worst;
    }

private:
    // Where the side ends that a length lies on.
    std::size_t sideAt(double s) const {
        return static_cast<std::size_t>(
            std::lower_bound(m_lengths.begin() + 1, m_lengths.end() - 1, s) - m_lengths.begin());
    }
    std::span<const Point> m_line;
    std::vector<double> m_lengths;
};

}  // namespace ledge::label
