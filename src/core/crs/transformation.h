#pragma once
#include <memory>
#include <span>
#include <string>

#include "core/crs/crs.h"

namespace ledge::crs {

/// Coordinates of one CRS in another, by way of longitude and latitude and, where the datums
/// differ, of geocentric coordinates at height 0. A null CRS on either side leaves coordinates
/// unchanged. Immutable and thread-safe.
class Transformation {
public:
    /// Identity.
    Transformation() = default;
    static Result<Transformation> between(const CrsPtr& from, const CrsPtr& to);

    bool isIdentity() const { return !m_from; }
    /// In place; positions outside a domain become NaN.
    void forward(std::span<Point> points) const;
    void inverse(std::span<Point> points) const;
    Point forward(Point p) const;
    Point inverse(Point p) const;
    /// The box of the image of a box, from points along its sides and inside; empty when nothing
    /// of it can be transformed.
    Box forward(const Box& box) const;
    Box inverse(const Box& box) const;

    /// What is done between the datums, in words: "same datum", "geocentric translation",
    /// "7-parameter (position vector)", "ballpark: no operation known".
    const std::string& datumOperation() const { return m_operation; }

private:
    struct Side {
        CrsPtr crs;
        std::shared_ptr<const Projection> projection;
    };
    void run(std::span<Point> points, const Side& from, const Side& to) const;

    std::shared_ptr<const Side> m_from, m_to;
    bool m_shiftsDatum = false;
    std::string m_operation = "same datum";
};

/// Ground metres per unit of x and y of a CRS at a position in it, by differences of its inverse;
/// NaN outside the domain. An undeclared CRS counts as metres.
Point groundUnits(const CrsPtr& crs, Point at);
/// Angle from true north to the CRS's grid north at a position, degrees clockwise.
double gridConvergence(const CrsPtr& crs, Point at);
/// Longitude and latitude (WGS 84, degrees) of a position; NaN for an undeclared CRS.
Point toLonLat(const CrsPtr& crs, Point at);

}  // namespace ledge::crs
