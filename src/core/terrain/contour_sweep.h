#pragma once
#include <memory>
#include <span>

#include "core/terrain/contours.h"

namespace ledge::terrain {

/// Contour lines of rows of heights that come one after the other from north to south, so that a
/// grid of any size needs memory for two rows and for the lines alone. Rules and errors as those of
/// contours().
///
/// Lines grow as the rows pass: where two cross a square they are joined, each new vertex goes to
/// the end of the line it belongs to. Only the ends in the last row are looked up again, so the
/// cost of a vertex does not grow with the length or number of lines.
class ContourSweep {
public:
    /// `levels` ascending, at least one.
    ContourSweep(std::size_t cols, const Affine& toWorld, std::vector<double> levels);
    ~ContourSweep();

    /// The next row of heights at cell centres; NaN for no data.
    /// Errors: LimitExceeded over 2000 million vertices.
    Result<void> add(std::span<const float> heights);
    /// All lines, by level. Nothing can be added afterwards.
    std::vector<Contour> finish();

private:
    class Work;
    std::unique_ptr<Work> m_work;
};

}  // namespace ledge::terrain
