#pragma once
#include <map>
#include <memory>

#include "core/base/progress.h"
#include "core/crs/transformation.h"
#include "core/feature/feature_table.h"
#include "core/globe/cut.h"
#include "core/globe/patches.h"

namespace ledge::globe {

/// Features as the map of another CRS shows them.
struct Mapped {
    FeatureTable table;  ///< the same rows; those with nothing inside have no geometry
    /// How far, at most, sides between two points stray from where they belong, in units of the
    /// map: with a tolerance of as much or more the same points serve.
    double strayed = 0;
    std::size_t outside = 0;  ///< features that lie wholly outside
    std::size_t cut = 0;      ///< features of which something was cut away or apart
    std::size_t clamped = 0;  ///< features with latitudes beyond a pole, taken for the pole
    /// Sides of polygons that are no outlines, of the rows that have such: see Cut::isSeam.
    std::map<std::size_t, std::vector<std::uint8_t>> seams;
};

/// Maps features: sides are straight in the source's own CRS and get as many points between as keep
/// them within `tolerance` (units of the map) of their true course; what the map's domain leaves is
/// cut at its boundary. Coordinates of points that are inside are those of the transformation: of
/// tables of many small shapes to a micrometre, see Patches. `always`: also where both
/// CRSs are the same one in degrees, so that data over the antimeridian are cut there. Where
/// nothing is to be done the table is the same. Errors: those of the transformation; Cancelled.
Result<Mapped> mapped(const FeatureTable& table, const crs::CrsPtr& to, double tolerance,
                      bool always = false, const Progress& progress = {});

/// All that is to be mapped, of which a table may be a part.
struct Whole {
    Box extent;
    std::size_t count = 0;
};
Whole wholeOf(const FeatureTable& table);

/// One geometry on its own, such as a measured line, the same way.
class Mapper {
public:
    /// Errors: those of the transformation.
    static Result<Mapper> between(const crs::CrsPtr& from, const crs::CrsPtr& to, double tolerance);

    /// What is used again from one geometry to the next; one for each thread.
    struct Scratch {
        Cut cut;
        Geometry lonLat;
        std::vector<std::uint8_t> isSeam;
        std::vector<Point> images;
    };
    struct Outcome {
        bool isCut = false, isClamped = false;
        double strayed = 0;
    };
    /// Into an empty geometry; `isSeam` as in Cut.
    Outcome map(const GeometryView& geometry, Geometry& out, std::vector<std::uint8_t>& isSeam,
                Scratch& scratch) const;
    /// For a table of so many small shapes that it pays; nothing for others, nor where the way
    /// between the datums is not smooth.
    std::optional<Patches> patches(const Whole& whole) const;
    /// Whether nothing needs to be done but for cutting.
    bool isSame() const { return m_isSame; }
    /// Whether one of the sides knows of no globe.
    bool isPlane() const { return m_isPlane; }
    /// Whether features in degrees are to be cut, or turned, for a map in the same degrees.
    bool needsCutting(const FeatureTable& table) const;
    const Domain& domain() const { return m_cutter.domain(); }

private:
    Mapper(Cutter cutter) : m_cutter(std::move(cutter)) {}
    // Both return how far sides stray at most, in units of the map.
    double toDegrees(const GeometryView& geometry, Geometry& out, std::vector<Point>& images) const;
    double refine(const GeometryView& degrees, std::span<const std::uint8_t> seams, Geometry& out,
                  std::vector<std::uint8_t>& isSeam, std::vector<Point>& images) const;
    void toEdges(Geometry& degrees) const;
    bool mapWellInside(std::span<const Point> places, std::vector<Point>& lonLat,
                       std::vector<Point>& images) const;
    PatchWay::Sides sidesIn(std::span<const Point> lonLat, double degrees, double scale) const;

    Cutter m_cutter;
    crs::Transformation m_toLonLat, m_toMap;
    bool m_isSame = false;         ///< the same CRS on both sides
    bool m_isPlane = false;        ///< no globe on one of the sides
    bool m_isFromDegrees = false;  ///< sides are straight in longitude and latitude
    bool m_isInDegrees = false;    ///< longitudes and latitudes of the map's own datum
    bool m_isToDegrees = false;    ///< and stay so
    double m_tolerance = 0, m_groundTolerance = 0, m_metresPerUnit = 1;
};

/// The parts of one whole, mapped as mapped() would map all of it: what is worked out for one
/// serves the others.
class Mapping {
public:
    /// Errors: those of the transformation.
    static Result<Mapping> between(const crs::CrsPtr& from, const crs::CrsPtr& to, double tolerance,
                                   const Whole& whole);
    /// Errors: Cancelled.
    Result<Mapped> map(const FeatureTable& part, bool always, const Progress& progress) const;

private:
    std::shared_ptr<const Mapper> m_mapper;  ///< where patches know it
    std::shared_ptr<const Patches> m_patches;
    crs::CrsPtr m_to;
};

}  // namespace ledge::globe
