#pragma once
#include "core/feature/feature_table.h"
#include "core/geometry/relate.h"
#include "core/globe/ground_measure.h"

namespace ledge::globe {

/// The features of a layer laid out for finding those near to others: metres on the ellipsoid of
/// the asking layer's CRS, over the antimeridian and near poles too; plane units where the asking
/// layer has no CRS. Immutable; safe from several threads.
class Nearness {
public:
    /// `from` is the CRS of the shapes that will be asked about. Errors: those between the CRSs,
    /// InvalidArgument when only one of them has any; Cancelled.
    static Result<Nearness> to(const FeatureTable& others, const crs::CrsPtr& from,
                               const Progress& progress = {});

    struct Found {
        std::size_t row = 0;  ///< in the other table
        double metres = 0;
    };
    /// The nearest feature no farther than `most` metres; the first of several equally near.
    std::optional<Found> nearest(const GeometryView& shape, double most) const;
    bool isWithin(const GeometryView& shape, double metres) const;

private:
    explicit Nearness(const crs::CrsPtr& from) : m_ground(from) {}
    void add(std::size_t row, Geometry shape);
    std::optional<Found> search(const GeometryView& shape, double most, bool isAnyEnough) const;
    double between(const GeometryView& a, const GeometryView& b) const;
    template <typename Visit>
    void near(const PackedTree& tree, const Box& box, double metres, const Visit& visit) const;

    GroundMeasure m_ground;
    // Long shapes in short pieces, so that a search looks only at what is near.
    struct Piece {
        std::size_t row;
        Geometry shape;
    };
    std::vector<Piece> m_pieces;
    PackedTree m_pieceTree;
    struct Area {
        std::size_t row;
        PreparedShape shape;
    };
    std::vector<Area> m_areas;
    PackedTree m_areaTree;
    double m_width = 0;  ///< of everything, in degrees or plane units
};

/// The rows of a table that lie within some metres of any feature that `nearness` holds, on all
/// cores; ascending. Errors: Cancelled.
Result<std::vector<std::size_t>> rowsWithin(const FeatureTable& table, const Nearness& nearness,
                                            double metres, const Progress& progress = {});

}  // namespace ledge::globe
