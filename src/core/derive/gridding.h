#pragma once
#include "core/base/result.h"
#include "core/geometry/point.h"
#include "core/raster/raster_source.h"

namespace ledge::derive {

enum class Gridding : std::uint8_t { Mean, Lowest, Highest, Count };
inline constexpr std::array<std::string_view, 4> kGriddingNames{"mean", "lowest", "highest",
                                                                "count"};

/// Cells filled from values at places, one after another: the mean, lowest or highest of those that
/// lie in a cell, or how many do. Cells are squares whose corners are multiples of their side;
/// those without any value have none. A place on a side belongs to the cell right of or above it.
class Gridder {
public:
    /// Errors: InvalidArgument for an empty extent or a side that is no positive number;
    /// LimitExceeded for more cells than memory should hold.
    static Result<Gridder> over(const Box& extent, double side, Gridding how);

    void add(Point at, double value);
    std::int64_t filled() const;
    RasterPtr finish(const crs::CrsPtr& crs);

private:
    Box m_box;
    double m_side = 1;
    Gridding m_how = Gridding::Mean;
    std::int64_t m_columns = 0, m_rows = 0;
    std::vector<float> m_cells;  ///< NaN where there is none; empty for means
    std::vector<double> m_sums;  ///< of means
    std::vector<std::uint32_t> m_counts;
};

}  // namespace ledge::derive
