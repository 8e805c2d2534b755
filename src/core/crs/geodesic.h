#pragma once
#include <array>
#include <span>
#include <vector>

#include "core/crs/ellipsoid.h"

namespace ledge::crs {

/// Shortest lines on an ellipsoid of revolution, their lengths and the areas they bound, by the
/// series of Karney, "Algorithms for geodesics", J. Geodesy 87, 2013, to the sixth order in the
/// third flattening: errors below 1e-8 m for flattenings up to 1/150, oblate. Immutable and
/// thread-safe. Angles in degrees, bearings clockwise from north, lengths in metres.
class Geodesic {
public:
    explicit Geodesic(const Ellipsoid& ellipsoid);

    struct Line {
        double distance = 0;
        double bearingStart = 0;  ///< at the first point
        double bearingEnd = 0;    ///< direction of travel at the second
    };
    /// The shortest line between two points. Points joined by two equally short lines get the one
    /// that leaves northwards; over the poles for longitudes 180 degrees apart.
    /// NaN for positions that are not finite or beyond a pole.
    Line inverse(Point from, Point to) const;

    struct End {
        Point at;
        double bearing = 0;
    };
    /// Where a line of a length leads.
    End direct(Point from, double bearing, double distance) const;
    /// Points along a line from its start to its end, evenly apart by at most `step` metres, both
    /// ends included: the true curve for drawing. At most 10 000 points.
    std::vector<Point> densified(Point from, Point to, double step) const;

    struct Ring {
        double area = 0;       ///< square metres, counter-clockwise positive
        double perimeter = 0;  ///< metres
    };
    /// Area and perimeter of a ring of geodesic edges, open or closed. A ring around a pole counts
    /// the pole's side; the smaller of the two sides counts for others.
    Ring polygon(std::span<const Point> ring) const;

    const Ellipsoid& ellipsoid() const { return m_ellipsoid; }

private:
    static constexpr int kOrder = 6;
    using Coefficients = std::array<double, kOrder + 1>;
    struct Solution {
        double s12 = 0, area = 0;  // area: to the equator
        double sinAzi1 = 0, cosAzi1 = 1, sinAzi2 = 0, cosAzi2 = 1;
    };
    struct Lengths {
        double s12b = 0, m12b = 0, m0 = 0;
    };

    Solution solve(Point from, Point to, bool wantsArea) const;
    Lengths lengths(double eps, double sig12, double ssig1, double csig1, double dn1, double ssig2,
                    double csig2, double dn2, bool wantsDistance) const;
    double a3(double eps) const;
    Coefficients c3(double eps) const;
    Coefficients c4(double eps) const;
    double startingPoint(double sbet1, double cbet1, double sbet2, double cbet2, double lam12,
                         double& salp1, double& calp1, double& salp2, double& calp2,
                         double& dnm) const;
    struct Hybrid {
        double lam12 = 0, salp2 = 0, calp2 = 0, sig12 = 0, ssig1 = 0, csig1 = 0, ssig2 = 0,
               csig2 = 0, eps = 0, domg12 = 0, dlam = 0;
    };
    Hybrid longitudeAt(double sbet1, double cbet1, double dn1, double sbet2, double cbet2,
                       double dn2, double salp1, double calp1, bool wantsSlope) const;

    Ellipsoid m_ellipsoid;
    double m_a, m_f, m_f1, m_e2, m_ep2, m_n, m_b, m_c2, m_etol2;
    std::array<double, 6> m_a3x{};
    std::array<double, 15> m_c3x{};
    std::array<double, 21> m_c4x{};
};

/// The line of constant bearing (loxodrome) by the isometric latitude: its bearing in degrees and
/// its length in metres; the shorter way round.
Geodesic::Line rhumbLine(const Ellipsoid& ellipsoid, Point from, Point to);
/// Where a rhumb line leads; NaN beyond a pole.
Point rhumbEnd(const Ellipsoid& ellipsoid, Point from, double bearing, double distance);

}  // namespace ledge::crs
