#include "core/raster/clipped_raster.h"
#include "core/raster/typed_raster.h"

#include <algorithm>
#include <cmath>

namespace ledge {
namespace {
// A window of a raster; overviews are left behind, since their cells need not fit it.
class WindowRaster final : public RasterSource {
public:
    WindowRaster(RasterPtr source, CellWindow window)
        : m_source(std::move(source)), m_window(window) {
        m_info = m_source->info();
        m_info.width = window.cols, m_info.height = window.rows;
        m_info.toWorld = m_info.toWorld.after(
            {1, 0, static_cast<double>(window.col), 0, 1, static_cast<double>(window.row)});
        m_info.overviews = 0;
    }
    const RasterInfo& info() const override { return m_info; }
    Result<void> read(int band, CellWindow w, BlockView<double> out) const override {
        return m_source->read(band, moved(w), out);
    }
    Result<void> read(int band, CellWindow w, BlockView<float> out) const override {
        return m_source->read(band, moved(w), out);
    }
    std::vector<std::string> damage() const override { return m_source->damage(); }

private:
    CellWindow moved(CellWindow w) const {
        return {w.col + m_window.col, w.row + m_window.row, w.cols, w.rows};
    }
    RasterPtr m_source;
    CellWindow m_window;
    RasterInfo m_info;
};

// Even-odd filling of rings, in cell coordinates.
class MaskedRaster final : public TypedRaster<MaskedRaster> {
public:
    MaskedRaster(RasterPtr source, std::vector<std::pair<Point, Point>> edges)
        : m_source(std::move(source)), m_edges(std::move(edges)), m_info(m_source->info()) {
        for (BandInfo& band : m_info.bands)
            if (!band.nodata)
                band.nodata = isFloating(band.type) ? kNaN : cellRange(band.type).first;
        std::sort(m_edges.begin(), m_edges.end(),
                  [](const auto& a, const auto& b) { return a.first.y < b.first.y; });
        for (const auto& [top, bottom] : m_edges) m_longest = std::max(m_longest, bottom.y - top.y);
    }
    const RasterInfo& info() const override { return m_info; }
    std::vector<std::string> damage() const override { return m_source->damage(); }

private:
    friend class TypedRaster<MaskedRaster>;
    template <typename T>
    Result<void> readAs(int band, CellWindow w, BlockView<T> out) const {
        const auto done = m_source->read(band, w, out);
        if (!done) return done;
        std::vector<double> crossings;
        for (std::size_t r = 0; r < out.rows(); ++r) {
            const double y = static_cast<double>(w.row) + static_cast<double>(r) + 0.5;
            crossings.clear();
            const auto first = std::lower_bound(
                m_edges.begin(), m_edges.end(), y - m_longest - 1,
                [](const auto& edge, double value) { return edge.first.y < value; });
            for (auto it = first; it != m_edges.end() && it->first.y <= y; ++it) {
                const auto& [a, b] = *it;
                if (b.y > y) crossings.push_back(a.x + (b.x - a.x) * (y - a.y) / (b.y - a.y));
            }
            std::sort(crossings.begin(), crossings.end());
            std::size_t passed = 0;
            for (std::size_t c = 0; c < out.cols(); ++c) {
                const double x = static_cast<double>(w.col) + static_cast<double>(c) + 0.5;
                while (passed < crossings.size() && crossings[passed] <= x) ++passed;
                if (passed % 2 == 0) out(r, c) = std::numeric_limits<T>::quiet_NaN();
            }
        }
        return {};
    }

    RasterPtr m_source;
    std::vector<std::pair<Point, Point>> m_edges;  ///< upper end first, by its row
    double m_longest = 0;                          ///< rows that any of them passes
    RasterInfo m_info;
};

Error apart() {
    return {ErrorCode::InvalidArgument, "clip", "the raster does not reach there",
            "check the extent and its CRS"};
}

// Cells that a box in cell coordinates touches.
CellWindow touched(const Box& cells, const RasterInfo& info) {
    const auto inside = [](double v, std::int64_t most) {
        return static_cast<std::int64_t>(std::clamp(v, 0.0, static_cast<double>(most)));
    };
    // A thousandth of a cell is rounding, not a wish for one more.
    const std::int64_t col = inside(std::floor(cells.xMin + 1e-3), info.width);
    const std::int64_t row = inside(std::floor(cells.yMin + 1e-3), info.height);
    return {col, row, inside(std::ceil(cells.xMax - 1e-3), info.width) - col,
            inside(std::ceil(cells.yMax - 1e-3), info.height) - row};
}
}  // namespace

Result<RasterPtr> clippedTo(RasterPtr source, const Box& box) {
    const RasterInfo& info = source->info();
    const auto toCell = info.toWorld.inverse();
    if (!toCell) return apart();
    Box cells;
    for (const Point p : {Point{box.xMin, box.yMin}, Point{box.xMax, box.yMin},
                          Point{box.xMin, box.yMax}, Point{box.xMax, box.yMax}})
        cells.add((*toCell)(p));
    const CellWindow window = touched(cells, info);
    if (window.isEmpty()) return apart();
    return RasterPtr(std::make_shared<WindowRaster>(std::move(source), window));
}

Result<RasterPtr> clippedTo(RasterPtr source, const std::vector<Geometry>& areas) {
    Box box;
    for (const Geometry& area : areas)
        if (area.type == GeometryType::Polygon)
            for (const Point p : area.points) box.add(p);
    if (box.isEmpty())
        return Error{ErrorCode::InvalidArgument, "clip", "there is no area to clip by",
                     "give polygons"};
    auto window = clippedTo(std::move(source), box);
    if (!window) return window;
    const auto toCell = (*window)->info().toWorld.inverse();
    std::vector<std::pair<Point, Point>> edges;
    for (const Geometry& area : areas) {
        if (area.type != GeometryType::Polygon) continue;
        for (std::size_t i = 0; i < area.partCount(); ++i) {
            const auto ring = area.part(i);
            for (std::size_t k = 0; k + 1 < ring.size(); ++k) {
                Point a = (*toCell)(ring[k]), b = (*toCell)(ring[k + 1]);
                if (a.y == b.y || !a.isFinite() || !b.isFinite()) continue;
                if (a.y > b.y) std::swap(a, b);
                edges.emplace_back(a, b);
            }
        }
    }
    return RasterPtr(std::make_shared<MaskedRaster>(*std::move(window), std::move(edges)));
}

}  // namespace ledge
