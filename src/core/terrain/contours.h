#pragma once
#include <vector>

#include "core/base/progress.h"
#include "core/geometry/affine.h"
#include "core/raster/block_view.h"

namespace ledge::terrain {

struct Contour {
    double level = 0;
    std::vector<Point> points;  ///< closed rings repeat their first point
};

/// Levels to draw: every `interval` counted from `base`, or just the listed ones when there are
/// any.
struct ContourLevels {
    double interval = 10, base = 0;
    std::vector<double> listed;
    bool operator==(const ContourLevels&) const = default;

    /// The levels within [low, high], ascending; at most 100 000.
    std::vector<double> within(double low, double high) const;
    /// The same. Errors: InvalidArgument for an interval not positive, LimitExceeded for too many.
    Result<std::vector<double>> checked(double low, double high) const;
    /// Whether `level` is every `nth` from the base.
    bool isIndex(double level, int nth) const;
};

/// Contour lines of a height grid whose values stand at cell centres.
///
/// `toWorld` goes from (column, row) of cell corners to the output coordinates. Higher ground lies
/// to the left of each line where `toWorld` is north-up. Squares of four centres with any NaN hold
/// no line. Saddles are joined by the mean of the four corners: those at or above the level belong
/// together when the mean is at or above it. Levels are met by linear interpolation along grid
/// edges. Lines never cross, and end only at the rim of the data.
/// Method: marching squares after Maple, Geometric Modeling and Graphics, 2003; our linking
/// (ContourSweep).
/// Errors: InvalidArgument for an interval not positive; Cancelled.
/// Cost: cells plus crossings, whatever the number of levels; about 40 bytes a vertex while at
/// work.
Result<std::vector<Contour>> contours(BlockView<const float> heights, const Affine& toWorld,
                                      const ContourLevels& levels, const Progress& progress = {});

/// The smallest of 1-2-2.5-5 x 10^n metres that keeps lines at least 0.5 mm apart at a scale on
/// the slope that 90 % of the cells do not exceed. `slopeTangents` may hold NaN.
double suggestedInterval(std::vector<float> slopeTangents, double scaleDenominator);

}  // namespace ledge::terrain
