#include "core/globe/boundary.h"

#include <algorithm>
#include <cmath>

namespace ledge::globe {
namespace {
using crs::kRadiansPerDegree;

// Beyond this a side is looked at in pieces, so that none meets a circle twice unseen.
constexpr double kLongSide = 2;
constexpr double kNear = 1e-9;  // degrees within which a position is on an edge

double shareAt(double a, double b, double value) { return (value - a) / (b - a); }

void addShare(std::vector<double>& shares, double share) {
    if (share > 0 && share < 1) shares.push_back(share);
}
}  // namespace

StripBoundary::StripBoundary(const Domain& domain)
    : m_domain(domain), m_west(domain.isWhole() ? -180 + kHair : -domain.halfWidth),
      m_east(-m_west) {
    m_corners.push_back({m_west, domain.south});
    const auto slit = [&](const Slit& s, double pole, double hair) {
        for (const double side : {-hair, hair})
            for (const double lat : {side == -hair ? pole : 0.0, side == -hair ? 0.0 : pole})
                m_corners.push_back({s.longitude + side, lat});
    };
    for (const Slit& s : domain.slits)
        if (!s.isNorth) slit(s, domain.south, kHair);
    m_corners.push_back({m_east, domain.south});
    m_corners.push_back({m_east, domain.north});
    for (auto s = domain.slits.rbegin(); s != domain.slits.rend(); ++s)
        if (s->isNorth) slit(*s, domain.north, -kHair);
    m_corners.push_back({m_west, domain.north});
    m_corners.push_back(m_corners.front());
}

void StripBoundary::meetings(Point a, Point b, std::vector<double>& shares) const {
    const double low = std::min(a.x, b.x), high = std::max(a.x, b.x);
    const auto meridian = [&](double lon) {
        for (double x = lon + 360 * std::ceil((low - lon) / 360); x <= high; x += 360)
            if (x > low && x < high) addShare(shares, shareAt(a.x, b.x, x));
    };
    const auto parallel = [&](double lat) {
        if ((a.y < lat) != (b.y < lat) && a.y != lat && b.y != lat)
            addShare(shares, shareAt(a.y, b.y, lat));
    };
    meridian(m_domain.halfWidth);
    if (!m_domain.isWhole()) meridian(-m_domain.halfWidth);
    if (m_domain.south > -90) parallel(m_domain.south);
    if (m_domain.north < 90) parallel(m_domain.north);
    for (const Slit& s : m_domain.slits) meridian(s.longitude);
    if (!m_domain.slits.empty()) parallel(0);
    std::sort(shares.begin(), shares.end());
}

Cell StripBoundary::cellAt(Point p) const {
    Cell out;
    out.turn = static_cast<int>(std::floor((p.x + 180) / 360));
    const double x = p.x - 360.0 * out.turn;
    out.isInside =
        std::abs(x) <= m_domain.halfWidth && p.y >= m_domain.south && p.y <= m_domain.north;
    // Along an edge it is as its neighbour, but not where it lies beyond another edge.
    out.isUnsure = out.isInside && (std::abs(x) == m_domain.halfWidth ||
                                    (m_domain.south > -90 && p.y == m_domain.south) ||
                                    (m_domain.north < 90 && p.y == m_domain.north));
    if (m_domain.slits.empty()) return out;
    out.half = p.y > 0 ? 1 : (p.y < 0 ? -1 : 0);
    for (const Slit& s : m_domain.slits) {
        if (s.isNorth != (out.half > 0) || out.half == 0) continue;
        out.lobe += x > s.longitude;
        out.isUnsure = out.isUnsure || x == s.longitude;
    }
    return out;
}

bool StripBoundary::tears(const Cell& a, const Cell& b) const {
    if (a.isInside != b.isInside) return true;
    if (!a.isInside) return false;
    return a.turn != b.turn || (a.half != 0 && a.half == b.half && a.lobe != b.lobe);
}

Spot StripBoundary::spotAt(const Cell& cell, Point p) const {
    Point q{p.x - 360.0 * cell.turn, std::clamp(p.y, m_domain.south, m_domain.north)};
    const auto along = [&](std::size_t edge) {
        const Point a = m_corners[edge], b = m_corners[edge + 1];
        const bool isUpright = a.x == b.x;
        const double share = isUpright ? shareAt(a.y, b.y, q.y) : shareAt(a.x, b.x, q.x);
        if (isUpright)
            q.x = a.x;
        else
            q = {std::clamp(q.x, std::min(a.x, b.x), std::max(a.x, b.x)), a.y};
        return static_cast<double>(edge) + std::clamp(share, 0.0, 1.0);
    };
    // The nearest edge; of a slit's two sides the one that bounds this cell's lobe.
    std::size_t best = 0;
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i + 1 < m_corners.size(); ++i) {
        const Point a = m_corners[i], b = m_corners[i + 1];
        const auto outside = [](double v, double u, double w) {
            return std::max({std::min(u, w) - v, v - std::max(u, w), 0.0});
        };
        double away = std::hypot(outside(q.x, a.x, b.x), outside(q.y, a.y, b.y));
        // Sides of slits, and the ends of lobes at a pole, bound one lobe only.
        const bool isSlit = a.x == b.x && std::abs(a.x) < m_domain.halfWidth - kNear;
        const bool isPole = a.y == b.y && !m_domain.slits.empty() && a.y != 0;
        if (cell.half != 0 && (isSlit || isPole)) {
            int lobe = 0;
            for (const Slit& s : m_domain.slits)
                lobe += s.isNorth == (cell.half > 0) && (a.x + b.x) / 2 > s.longitude;
            if (lobe != cell.lobe || (a.y + b.y > 0) != (cell.half > 0)) away += 1;
        }
        if (away < least - kNear) least = away, best = i;
    }
    const double s = along(best);
    return {s, q};
}

Point StripBoundary::inside(const Cell& cell, Point p) const {
    Point q{p.x - 360.0 * cell.turn, p.y};
    q.x = std::clamp(q.x, m_west, m_east);
    if (cell.half == 0) return q;
    int lobe = 0;
    for (const Slit& s : m_domain.slits) {
        if (s.isNorth != (cell.half > 0)) continue;
        if (lobe++ < cell.lobe)
            q.x = std::max(q.x, s.longitude + kHair);
        else
            q.x = std::min(q.x, s.longitude - kHair);
    }
    return q;
}

Point StripBoundary::cornerAt(double along) const {
    const auto count = m_corners.size() - 1;
    return m_corners[static_cast<std::size_t>(along) % count];
}

Point StripBoundary::somewhere() const {
    return {m_east, m_domain.south + 0.6180339887 * (m_domain.north - m_domain.south)};
}

CapBoundary::CapBoundary(const Domain& domain, double step)
    : m_domain(domain), m_step(step), m_sine(std::sin(domain.centre.y * kRadiansPerDegree)),
      m_cosine(std::cos(domain.centre.y * kRadiansPerDegree)),
      m_edge(std::cos(domain.radius * kRadiansPerDegree)) {}

double CapBoundary::height(Point p) const {
    return m_sine * std::sin(p.y * kRadiansPerDegree) +
           m_cosine * std::cos(p.y * kRadiansPerDegree) *
               std::cos((p.x - m_domain.centre.x) * kRadiansPerDegree) -
           m_edge;
}

void CapBoundary::meetings(Point a, Point b, std::vector<double>& shares) const {
    const Point along = b - a;
    const double size = std::max(std::abs(along.x), std::abs(along.y));
    const double parts = std::max(1.0, std::ceil(size / kLongSide));
    double before = height(a);
    for (double i = 1; i <= parts; i += 1) {
        double low = (i - 1) / parts, high = i / parts;
        const double after = height(i == parts ? b : a + along * high);
        if ((before > 0) != (after > 0)) {
            for (int k = 0; k < 60 && high - low > 1e-15; ++k) {
                const double middle = (low + high) / 2;
                ((height(a + along * middle) > 0) == (before > 0) ? low : high) = middle;
            }
            addShare(shares, (low + high) / 2);
        }
        before = after;
    }
}

Cell CapBoundary::cellAt(Point middle) const {
    Cell out;
    const double h = height(middle);
    out.isInside = h > 0;
    out.isUnsure = h == 0;
    return out;
}

Spot CapBoundary::spotAt(const Cell&, Point p) const {
    const double along = -azimuthTo(m_domain.centre, p) / 360;
    Point q = at(along);
    q.x += 360 * std::round((p.x - q.x) / 360);
    return {along < 0 ? along + 1 : along, q};
}

Point CapBoundary::chart(Point p) const {
    const double az = azimuthTo(m_domain.centre, p) * kRadiansPerDegree;
    const double arc = arcBetween(m_domain.centre, p);
    return {arc * std::sin(az), arc * std::cos(az)};
}

}  // namespace ledge::globe
