#pragma once
#include <memory>
#include <span>
#include <string>

#include "core/crs/crs.h"
#include "core/crs/datum_operations.h"

namespace ledge::crs {

/// Coordinates of one CRS in another, by way of longitude and latitude and, where the datums
/// differ, of geocentric coordinates from height 0 on. A null CRS on either side leaves coordinates
/// unchanged. Immutable and thread-safe.
class Transformation {
public:
    /// Identity.
    Transformation() = default;
    /// By the best operation between the datums for a place (degrees; where both CRSs are meant to
    /// be used when it is not given). `grids` are operations of the user's own.
    static Result<Transformation> between(const CrsPtr& from, const CrsPtr& to,
                                          const Box& place = {},
                                          std::span<const DatumOperation> grids = {});
    /// By a chosen path between the datums.
    static Result<Transformation> along(const CrsPtr& from, const CrsPtr& to, DatumPath path);

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

    /// What is done between the datums.
    const DatumPath& datumPath() const { return m_path; }
    /// The same in words.
    const std::string& datumOperation() const { return m_operation; }

private:
    struct Side {
        CrsPtr crs;
        std::shared_ptr<const Projection> projection;
    };
    static void toLonLat(std::span<Point> points, const Side& side);
    static void fromLonLat(std::span<Point> points, const Side& side);
    void shiftDatum(std::span<Point> points, const Crs& from, const Crs& to, bool isInverse) const;

    std::shared_ptr<const Side> m_from, m_to;
    bool m_shiftsDatum = false;
    DatumPath m_path;
    std::string m_operation = "same datum";
};

/// Ground metres per unit of x and y of a CRS at a position in it, by differences of its inverse;
/// NaN outside the domain. An undeclared CRS counts as metres.
Point groundUnits(const CrsPtr& crs, Point at);
/// Angle from true north to the CRS's grid north at a position, degrees clockwise.
double gridConvergence(const CrsPtr& crs, Point at);

/// How a projection draws the ground at a place: scale factors along the parallel and the meridian
/// (1: true), the largest and smallest in any direction, areal scale, and convergence in degrees.
struct Distortion {
    double alongParallel = kNaN, alongMeridian = kNaN;
    double largest = kNaN, smallest = kNaN, areal = kNaN;
    double convergence = kNaN;
};
/// By differences of the forward projection at longitude and latitude (degrees from Greenwich, on
/// the CRS's own datum); Snyder, pp. 20-26. All NaN outside the domain; of a geographic CRS, of its
/// plain drawing in degrees with the meridian true.
Distortion distortionAt(const Crs& crs, Point lonLat);

/// Longitude and latitude (WGS 84, degrees) of a position; NaN for an undeclared CRS.
Point toLonLat(const CrsPtr& crs, Point at);

}  // namespace ledge::crs
