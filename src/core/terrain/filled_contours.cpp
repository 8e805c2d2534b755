#include "core/terrain/filled_contours.h"

#include <algorithm>
#include <cmath>

#include "core/feature/feature_index.h"
#include "core/geometry/measure.h"
#include "core/terrain/detail/ring_cutter.h"

namespace ledge::terrain {
namespace {
// What surrounds the data falls away so steeply that every line is a ring which passes a millionth
// of a cell outside the last centres, where it is then drawn in to them.
constexpr double kFall = 1e6;

/// One level's rings with the ground above on the left, on the lattice of centres: x by column, y
/// by row upwards. Those that run along the rim of the data are kept apart.
struct LevelRings {
    std::vector<Ring> inner, rim;
};

class Rim {
public:
    explicit Rim(BlockView<const float> heights) : m_heights(heights) {}
    /// Moves points that lie beyond the last centres onto them; whether there were any.
    bool drawIn(Ring& ring) const {
        bool isAtRim = false;
        for (Point& p : ring) {
            const Point low{std::floor(p.x), std::floor(p.y)}, high{std::ceil(p.x), std::ceil(p.y)};
            const bool isLow = hasData(low);
            if (isLow == hasData(high)) continue;
            p = isLow ? low : high;
            isAtRim = true;
        }
        if (isAtRim) ring.erase(std::unique(ring.begin(), ring.end()), ring.end());
        return isAtRim;
    }

private:
    bool hasData(Point node) const {
        const double col = node.x, row = -node.y;
        return col >= 0 && row >= 0 && col < static_cast<double>(m_heights.cols()) &&
               row < static_cast<double>(m_heights.rows()) &&
               std::isfinite(
                   m_heights(static_cast<std::size_t>(row), static_cast<std::size_t>(col)));
    }
    BlockView<const float> m_heights;
};

/// The rings between one level and the next, which is nothing for the last.
std::vector<Ring> ringsBetween(const LevelRings& low, const LevelRings* high) {
    std::vector<Ring> out = low.inner;
    RingCutter rim;
    for (const Ring& ring : low.rim) rim.add(ring);
    if (high) {
        for (const Ring& ring : high->inner) out.emplace_back(ring.rbegin(), ring.rend());
        for (const Ring& ring : high->rim) rim.add({ring.rbegin(), ring.rend()});
    }
    for (Ring& ring : rim.rings()) out.push_back(std::move(ring));
    return out;
}

// Rings with the band on their left, as polygons: rings that turn left are outer ones, the others
// are holes of the smallest outer ring around them.
Geometry polygonsOf(std::vector<Ring> rings) {
    std::vector<Ring> outer, holes;
    for (Ring& ring : rings) {
        if (ring.size() < 4) continue;
        const double area = signedArea(ring);
        if (area > 0)
            outer.push_back(std::move(ring));
        else if (area < 0)
            holes.push_back(std::move(ring));
    }
    FeatureTableBuilder builder({});
    std::vector<double> areas;
    for (const Ring& ring : outer) {
        builder.add(0, Geometry::polygon({ring}), {});
        areas.push_back(signedArea(ring));
    }
    const FeatureTable table = builder.finish();
    const FeatureIndex index(table);
    std::vector<std::vector<std::size_t>> holesOf(outer.size());
    for (std::size_t h = 0; h < holes.size(); ++h) {
        // Rings touch at points only, so the middle of a piece lies well inside the polygon.
        const Point probe = (holes[h][0] + holes[h][1]) * 0.5;
        Box box;
        box.add(probe);
        std::size_t best = outer.size();
        for (const std::size_t i : index.meeting(box))
            if (isInside(table.geometry(i), probe) &&
                (best == outer.size() || areas[i] < areas[best]))
                best = i;
        if (best < outer.size()) holesOf[best].push_back(h);
    }
    Geometry out;
    out.type = GeometryType::Polygon;
    out.isMulti = true;
    const auto put = [&out](const Ring& ring, bool isOuter) {
        out.beginPart(isOuter);
        out.points.insert(out.points.end(), ring.begin(), ring.end());
    };
    for (std::size_t i = 0; i < outer.size(); ++i) {
        put(outer[i], true);
        for (const std::size_t h : holesOf[i]) put(holes[h], false);
    }
    return out;
}
}  // namespace

Result<std::vector<ContourBand>> filledContours(BlockView<const float> heights,
                                                const Affine& toWorld, const ContourLevels& wanted,
                                                const Progress& progress) {
    if (wanted.listed.empty() && !(wanted.interval > 0 && std::isfinite(wanted.interval)))
        return Error{ErrorCode::InvalidArgument, "contours", "the interval must be positive", ""};
    const std::size_t rows = heights.rows(), cols = heights.cols();
    double low = std::numeric_limits<double>::infinity(), high = -low;
    for (std::size_t r = 0; r < rows; ++r)
        for (std::size_t c = 0; c < cols; ++c) {
            const float h = heights(r, c);
            if (!std::isfinite(h)) continue;
            low = std::min(low, static_cast<double>(h));
            high = std::max(high, static_cast<double>(h));
        }
    std::vector<ContourBand> out;
    if (!(low <= high)) return out;
    const double span = std::max(high - low, 1e-3 * std::max(1.0, std::abs(high)));
    Grid<float> ringed(rows + 2, cols + 2, static_cast<float>(low - kFall * span));
    for (std::size_t r = 0; r < rows; ++r)
        for (std::size_t c = 0; c < cols; ++c)
            if (std::isfinite(heights(r, c))) ringed(r + 1, c + 1) = heights(r, c);
    const auto levels = wanted.within(std::nextafter(low, high), high);
    ContourLevels all;
    all.listed = {low - span};  // around all data
    all.listed.insert(all.listed.end(), levels.begin(), levels.end());
    const Grid<float>& padded = ringed;
    const auto lines =
        contours(padded.view(), {1, 0, -1.5, 0, -1, 1.5}, all, progress.part(0, 0.6));
    if (!lines) return lines.error();
    const Rim rim(heights);
    std::vector<LevelRings> above(all.listed.size());
    for (const Contour& line : *lines) {
        const auto k = static_cast<std::size_t>(
            std::lower_bound(all.listed.begin(), all.listed.end(), line.level) -
            all.listed.begin());
        Ring ring = line.points;
        auto& of = above[k];
        (rim.drawIn(ring) ? of.rim : of.inner).push_back(std::move(ring));
    }
    const Affine fromLattice = toWorld.after({1, 0, 0.5, 0, -1, 0.5});
    constexpr double kInfinite = std::numeric_limits<double>::infinity();
    for (std::size_t k = 0; k < above.size(); ++k) {
        if (progress.stopped()) return cancelled("contours");
        auto rings = ringsBetween(above[k], k + 1 < above.size() ? &above[k + 1] : nullptr);
        for (Ring& ring : rings) {
            for (Point& p : ring) p = fromLattice(p);
            // A grid whose rows go north turns everything over.
            if (fromLattice.determinant() < 0) std::reverse(ring.begin(), ring.end());
        }
        ContourBand band{k == 0 ? -kInfinite : all.listed[k],
                         k + 1 < above.size() ? all.listed[k + 1] : kInfinite,
                         polygonsOf(std::move(rings))};
        if (!band.area.isEmpty()) out.push_back(std::move(band));
        progress.at(0.6 + 0.4 * static_cast<double>(k + 1) / static_cast<double>(above.size()));
    }
    return out;
}

}  // namespace ledge::terrain
