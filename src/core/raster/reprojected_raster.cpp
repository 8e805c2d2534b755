#include "core/raster/reprojected_raster.h"

#include <array>
#include <atomic>
#include <mutex>

#include "core/base/parallel.h"
#include "core/raster/bilinear_row.h"
#include "core/raster/cubic.h"

namespace ledge {
namespace {
constexpr std::int64_t kTileRows = 64, kTileCols = 256;
constexpr std::int64_t kExactSide = 4;
constexpr std::int64_t kMostCells = 4 << 20;  // of the source for one tile

Error cannotRead(const RasterInfo& info) {
    return {ErrorCode::InvalidArgument, "reprojecting " + info.format,
            "the raster's placement cannot be inverted", "check its georeference"};
}

// Source positions along one row of a part whose corners are interpolated between.
struct RowLine {
    Point left, step;

    RowLine(const std::array<Point, 4>& corners, CellWindow part, std::int64_t row) {
        const double w = static_cast<double>(part.cols - 1), h = static_cast<double>(part.rows - 1);
        const double v = h > 0 ? static_cast<double>(row) / h : 0;
        left = corners[0] * (1 - v) + corners[2] * v;
        const Point right = corners[1] * (1 - v) + corners[3] * v;
        step = w > 0 ? (right - left) * (1 / w) : Point{};
    }
    Point at(std::int64_t col) const {
        const auto c = static_cast<double>(col);
        return {left.x + step.x * c, left.y + step.y * c};
    }
};

// Source cells around a window, with columns that may run past the seam of a raster that reaches
// around the earth.
template <typename T>
struct Patch {
    Patch(std::int64_t firstRow, std::int64_t firstCol, std::int64_t rows, std::int64_t cols)
        : cells(static_cast<std::size_t>(rows), static_cast<std::size_t>(cols),
                std::numeric_limits<T>::quiet_NaN()),
          col(firstCol), row(firstRow), m_first(cells.cells().data()), m_stride(cols),
          m_left(static_cast<double>(firstCol) + 0.5), m_top(static_cast<double>(firstRow) + 0.5),
          m_lastCol(static_cast<double>(cols - 1)), m_lastRow(static_cast<double>(rows - 1)) {}

    Grid<T> cells;
    std::int64_t col, row;

    T at(std::int64_t r, std::int64_t c) const {
        r -= row, c -= col;
        if (r < 0 || c < 0 || r >= static_cast<std::int64_t>(cells.rows()) ||
            c >= static_cast<std::int64_t>(cells.cols()))
            return std::numeric_limits<T>::quiet_NaN();
        return cells(static_cast<std::size_t>(r), static_cast<std::size_t>(c));
    }

    template <std::size_t N>
    T weighted(std::int64_t r0, std::int64_t c0, const std::array<double, N>& rowWeights,
               const std::array<double, N>& colWeights) const {
        double sum = 0, total = 0;
        for (std::size_t i = 0; i < N; ++i)
            for (std::size_t j = 0; j < N; ++j) {
                const T v =
                    at(r0 + static_cast<std::int64_t>(i), c0 + static_cast<std::int64_t>(j));
                if (std::isnan(v)) continue;
                const double w = rowWeights[i] * colWeights[j];
                sum += w * static_cast<double>(v);
                total += w;
            }
        return total > 0.2 ? static_cast<T>(sum / total) : std::numeric_limits<T>::quiet_NaN();
    }

    T nearest(Point p) const {
        const double px = p.x - static_cast<double>(col), py = p.y - static_cast<double>(row);
        if (!(px >= 0 && py >= 0 && px < m_lastCol + 1 && py < m_lastRow + 1))
            return std::numeric_limits<T>::quiet_NaN();
        return m_first[static_cast<std::ptrdiff_t>(py) * m_stride +
                       static_cast<std::ptrdiff_t>(px)];
    }

    T bilinear(Point p) const {
        // Nearly all positions have four neighbours with data: truncation and one product each.
        const double px = p.x - m_left, py = p.y - m_top;
        if (px >= 0 && py >= 0 && px < m_lastCol && py < m_lastRow) {
            const auto nearCol = static_cast<std::int32_t>(px),
                       nearRow = static_cast<std::int32_t>(py);
            const double u = px - nearCol, v = py - nearRow;
            const T* up = m_first + static_cast<std::ptrdiff_t>(nearRow) * m_stride + nearCol;
            const T* down = up + m_stride;
            const double top =
                static_cast<double>(up[0]) * (1 - u) + static_cast<double>(up[1]) * u;
            const double low =
                static_cast<double>(down[0]) * (1 - u) + static_cast<double>(down[1]) * u;
            const double value = top * (1 - v) + low * v;
            if (!std::isnan(value)) return static_cast<T>(value);
        }
        if (std::isnan(nearest(p))) return std::numeric_limits<T>::quiet_NaN();
        const double x = p.x - 0.5, y = p.y - 0.5;
        const double fx = std::floor(x), fy = std::floor(y);
        return weighted<2>(static_cast<std::int64_t>(fy), static_cast<std::int64_t>(fx),
                           {1 - (y - fy), y - fy}, {1 - (x - fx), x - fx});
    }

    T cubic(Point p) const {
        if (std::isnan(nearest(p))) return std::numeric_limits<T>::quiet_NaN();
        const double x = p.x - 0.5, y = p.y - 0.5;
        const double fx = std::floor(x), fy = std::floor(y);
        const T value =
            weighted<4>(static_cast<std::int64_t>(fy) - 1, static_cast<std::int64_t>(fx) - 1,
                        cubicWeights(y - fy), cubicWeights(x - fx));
        return std::isnan(value) ? bilinear(p) : value;
    }

    // Mean over the box that a target cell covers.
    T averaged(Point p, Point half) const {
        const auto c0 = static_cast<std::int64_t>(std::ceil(p.x - half.x - 0.5));
        const auto c1 = static_cast<std::int64_t>(std::ceil(p.x + half.x - 0.5));
        const auto r0 = static_cast<std::int64_t>(std::ceil(p.y - half.y - 0.5));
        const auto r1 = static_cast<std::int64_t>(std::ceil(p.y + half.y - 0.5));
        double sum = 0;
        std::int64_t count = 0;
        for (std::int64_t r = r0; r < r1; ++r)
            for (std::int64_t c = c0; c < c1; ++c) {
                const T v = at(r, c);
                if (std::isnan(v)) continue;
                sum += static_cast<double>(v);
                ++count;
            }
        if (count > 0) return static_cast<T>(sum / static_cast<double>(count));
        return r1 > r0 && c1 > c0 ? std::numeric_limits<T>::quiet_NaN() : bilinear(p);
    }

    // Whether every position of a box has four neighbours here.
    bool holds(const Box& box) const {
        return box.xMin >= m_left && box.yMin >= m_top && box.xMax < m_left + m_lastCol - 1e-6 &&
               box.yMax < m_top + m_lastRow - 1e-6;
    }
    void bilinearAlong(const RowLine& line, std::span<T> out) const {
        bilinearRow(m_first, m_stride,
                    {line.left.x - m_left, line.left.y - m_top, line.step.x, line.step.y},
                    out.data(), out.size());
        for (std::size_t c = 0; c < out.size(); ++c)
            if (std::isnan(out[c])) out[c] = bilinear(line.at(static_cast<std::int64_t>(c)));
    }

private:
    const T* m_first;
    std::ptrdiff_t m_stride;
    double m_left, m_top;  ///< centre of the first cell
    double m_lastCol, m_lastRow;
};
}  // namespace

ReprojectedRaster::ReprojectedRaster(RasterPtr source, crs::Transformation toTarget,
                                     crs::CrsPtr targetCrs, const TargetGrid& grid,
                                     Resampling resampling)
    : m_source(std::move(source)), m_toTarget(std::move(toTarget)), m_info(m_source->info()),
      m_resampling(resampling) {
    const RasterInfo& from = m_source->info();
    m_toSourceCell = from.toWorld.inverse().value_or(Affine{0, 0, kNaN, 0, 0, kNaN});
    if (from.crs && from.crs->isGeographic() && from.toWorld.isNorthUp()) {
        const double turn = 360 / from.toWorld.a;
        if (std::abs(static_cast<double>(from.width) - turn) < 1.5) m_turn = turn;
    }
    m_info.crs = std::move(targetCrs);
    m_info.toWorld = grid.toWorld;
    m_info.width = static_cast<std::int64_t>(grid.cols);
    m_info.height = static_cast<std::int64_t>(grid.rows);
    m_info.overviews = 0;
    m_info.notes.clear();
    for (BandInfo& band : m_info.bands)
        if (!band.nodata)  // cells outside the source need one
            band.nodata = isFloating(band.type) ? kNaN : cellRange(band.type).second;
}

Point ReprojectedRaster::sourceCell(double col, double row) const {
    return m_toSourceCell(m_toTarget.inverse(m_info.toWorld({col, row})));
}

std::optional<std::array<Point, 4>> ReprojectedRaster::plainCorners(CellWindow part) const {
    const double w = static_cast<double>(part.cols - 1), h = static_cast<double>(part.rows - 1);
    const double c0 = static_cast<double>(part.col) + 0.5, r0 = static_cast<double>(part.row) + 0.5;
    std::array<Point, 9> p;
    for (int i = 0; i < 9; ++i)
        p[static_cast<std::size_t>(i)] =
            m_info.toWorld({c0 + w * (i % 3) / 2, r0 + h * (i / 3) / 2});
    m_toTarget.inverse(p);
    for (Point& q : p) q = m_toSourceCell(q);
    const auto between = [&p](double u, double v) {
        return (p[0] * (1 - u) + p[2] * u) * (1 - v) + (p[6] * (1 - u) + p[8] * u) * v;
    };
    for (const int i : {1, 3, 4, 5, 7})
        if (!(distance(p[static_cast<std::size_t>(i)], between((i % 3) / 2.0, (i / 3) / 2.0)) <=
              kCellTolerance))
            return {};
    return std::array{p[0], p[2], p[6], p[8]};
}

void ReprojectedRaster::findPart(CellWindow tile, CellWindow part, std::span<Point> at,
                                 Box& reached) const {
    const auto put = [&](std::int64_t r, std::int64_t c) -> Point& {
        return at[static_cast<std::size_t>((r - tile.row) * tile.cols + (c - tile.col))];
    };
    const double c0 = static_cast<double>(part.col) + 0.5, r0 = static_cast<double>(part.row) + 0.5;
    if (part.cols <= kExactSide && part.rows <= kExactSide) {
        std::array<Point, kExactSide * kExactSide> p;
        std::size_t n = 0;
        for (std::int64_t r = 0; r < part.rows; ++r)
            for (std::int64_t c = 0; c < part.cols; ++c)
                p[n++] = m_info.toWorld({c0 + static_cast<double>(c), r0 + static_cast<double>(r)});
        m_toTarget.inverse(std::span(p).first(n));
        n = 0;
        for (std::int64_t r = 0; r < part.rows; ++r)
            for (std::int64_t c = 0; c < part.cols; ++c)
                reached.add(put(part.row + r, part.col + c) = m_toSourceCell(p[n++]));
        return;
    }
    if (const auto corners = plainCorners(part)) {
        for (const Point corner : *corners) reached.add(corner);
        for (std::int64_t r = 0; r < part.rows; ++r) {
            const RowLine line(*corners, part, r);
            Point* to = &put(part.row + r, part.col);
            for (std::int64_t c = 0; c < part.cols; ++c) to[c] = line.at(c);
        }
        return;
    }
    const std::int64_t cols = part.cols > kExactSide ? (part.cols + 1) / 2 : part.cols;
    const std::int64_t rows = part.rows > kExactSide ? (part.rows + 1) / 2 : part.rows;
    for (std::int64_t r = 0; r < part.rows; r += rows)
        for (std::int64_t c = 0; c < part.cols; c += cols)
            findPart(tile,
                     {part.col + c, part.row + r, std::min(cols, part.cols - c),
                      std::min(rows, part.rows - r)},
                     at, reached);
}

Box ReprojectedRaster::findPositions(CellWindow tile, std::span<Point> at) const {
    Box reached;
    findPart(tile, tile, at, reached);
    if (m_turn == 0) return reached;
    reached = {};
    for (Point& p : at) {
        if (p.isFinite()) p.x -= std::floor(p.x / m_turn) * m_turn;
        reached.add(p);
    }
    return reached;
}

template <typename T>
Result<void> ReprojectedRaster::fillTile(int band, CellWindow tile, BlockView<T> out) const {
    // Most tiles are plain: their positions need no room.
    const auto corners = m_turn == 0 ? plainCorners(tile) : std::nullopt;
    std::vector<Point> at;
    Box reached;
    if (corners) {
        for (const Point corner : *corners) reached.add(corner);
    } else {
        at.resize(static_cast<std::size_t>(tile.rows * tile.cols));
        reached = findPositions(tile, at);
    }
    const RasterInfo& from = m_source->info();
    // How far around a position cells are read.
    Point half{1, 1};
    if (m_resampling == Resampling::Average) {
        const double c = static_cast<double>(tile.col) + static_cast<double>(tile.cols) / 2;
        const double r = static_cast<double>(tile.row) + static_cast<double>(tile.rows) / 2;
        const Point o = sourceCell(c, r);
        const Point x = sourceCell(c + 1, r) - o, y = sourceCell(c, r + 1) - o;
        half = {(std::abs(x.x) + std::abs(y.x)) / 2, (std::abs(x.y) + std::abs(y.y)) / 2};
        if (!half.isFinite() || half.x > 4096 || half.y > 4096) half = {1, 1};
    }
    const Box inside =
        Box{0, 0, static_cast<double>(from.width), static_cast<double>(from.height)}.grown(1);
    const Box needed = reached.intersected(inside);
    const auto fillWithNothing = [&out] {
        for (std::size_t r = 0; r < out.rows(); ++r)
            std::fill(out.row(r).begin(), out.row(r).end(), std::numeric_limits<T>::quiet_NaN());
    };
    if (needed.isEmpty()) {
        fillWithNothing();
        return {};
    }
    const std::int64_t rimX = static_cast<std::int64_t>(std::ceil(half.x)) + 2;
    const std::int64_t rimY = static_cast<std::int64_t>(std::ceil(half.y)) + 2;
    std::int64_t c0 = static_cast<std::int64_t>(std::floor(needed.xMin)) - rimX;
    std::int64_t c1 = static_cast<std::int64_t>(std::floor(needed.xMax)) + rimX + 1;
    const std::int64_t r0 =
        std::max<std::int64_t>(0, static_cast<std::int64_t>(std::floor(needed.yMin)) - rimY);
    const std::int64_t r1 =
        std::min(from.height, static_cast<std::int64_t>(std::floor(needed.yMax)) + rimY + 1);
    const bool wraps = m_turn > 0;
    if (!wraps) c0 = std::max<std::int64_t>(0, c0), c1 = std::min(from.width, c1);
    if (c1 <= c0 || r1 <= r0) {
        fillWithNothing();
        return {};
    }
    // Bounded memory: near a pole or a seam a small tile may need much of the source.
    if ((c1 - c0) * (r1 - r0) > kMostCells && tile.rows * tile.cols > 1) {
        const std::int64_t cols = (tile.cols + 1) / 2, rows = (tile.rows + 1) / 2;
        for (std::int64_t r = 0; r < tile.rows; r += rows)
            for (std::int64_t c = 0; c < tile.cols; c += cols) {
                const CellWindow part{tile.col + c, tile.row + r, std::min(cols, tile.cols - c),
                                      std::min(rows, tile.rows - r)};
                const auto done =
                    fillTile<T>(band, part,
                                out.part(static_cast<std::size_t>(r), static_cast<std::size_t>(c),
                                         static_cast<std::size_t>(part.rows),
                                         static_cast<std::size_t>(part.cols)));
                if (!done) return done;
            }
        return {};
    }
    Patch<T> patch(r0, c0, r1 - r0, c1 - c0);
    for (std::int64_t c = c0; c < c1;) {
        const std::int64_t inRaster = wraps ? ((c % from.width) + from.width) % from.width : c;
        const std::int64_t count = std::min(c1 - c, from.width - inRaster);
        const auto view =
            patch.cells.view().part(0, static_cast<std::size_t>(c - c0), patch.cells.rows(),
                                    static_cast<std::size_t>(count));
        if (const auto done = m_source->read(band, {inRaster, r0, count, r1 - r0}, view); !done)
            return done;
        c += count;
    }
    const auto sampleAll = [&](auto sample) {
        for (std::size_t r = 0; r < out.rows(); ++r) {
            auto to = out.row(r);
            if (corners) {
                const RowLine line(*corners, tile, static_cast<std::int64_t>(r));
                for (std::size_t c = 0; c < to.size(); ++c)
                    to[c] = sample(line.at(static_cast<std::int64_t>(c)));
            } else {
                const Point* positions = &at[r * static_cast<std::size_t>(tile.cols)];
                for (std::size_t c = 0; c < to.size(); ++c)
                    to[c] = inside.contains(positions[c]) ? sample(positions[c])
                                                          : std::numeric_limits<T>::quiet_NaN();
            }
        }
    };
    switch (m_resampling) {
    case Resampling::Nearest: sampleAll([&](Point p) { return patch.nearest(p); }); break;
    case Resampling::Bilinear:
        if (corners && patch.holds(needed) && reached == needed)
            for (std::size_t r = 0; r < out.rows(); ++r)
                patch.bilinearAlong(RowLine(*corners, tile, static_cast<std::int64_t>(r)),
                                    out.row(r));
        else
            sampleAll([&](Point p) { return patch.bilinear(p); });
        break;
    case Resampling::Cubic: sampleAll([&](Point p) { return patch.cubic(p); }); break;
    case Resampling::Average: sampleAll([&](Point p) { return patch.averaged(p, half); }); break;
    }
    return {};
}

template <typename T>
Result<void> ReprojectedRaster::readAs(int band, CellWindow window, BlockView<T> out) const {
    if (!m_toSourceCell.isUsable()) return cannotRead(m_source->info());
    // Tiles lie on a fixed lattice, so that positions do not depend on the window asked.
    const std::int64_t firstRow = window.row / kTileRows, firstCol = window.col / kTileCols;
    const std::int64_t lastRow = (window.row + window.rows - 1) / kTileRows;
    const std::int64_t lastCol = (window.col + window.cols - 1) / kTileCols;
    const std::int64_t across = lastCol - firstCol + 1;
    const auto count = static_cast<std::size_t>((lastRow - firstRow + 1) * across);
    std::mutex mutex;  // guards failure
    std::optional<Error> failure;
    std::atomic<bool> hasFailed{false};
    parallelRanges(count, 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end && !hasFailed; ++i) {
            const auto index = static_cast<std::int64_t>(i);
            const std::int64_t row = (firstRow + index / across) * kTileRows;
            const std::int64_t col = (firstCol + index % across) * kTileCols;
            const CellWindow tile{col, row, std::min(kTileCols, m_info.width - col),
                                  std::min(kTileRows, m_info.height - row)};
            const std::int64_t r0 = std::max(row, window.row), c0 = std::max(col, window.col);
            const std::int64_t r1 = std::min(row + tile.rows, window.row + window.rows);
            const std::int64_t c1 = std::min(col + tile.cols, window.col + window.cols);
            const auto to =
                out.part(static_cast<std::size_t>(r0 - window.row),
                         static_cast<std::size_t>(c0 - window.col),
                         static_cast<std::size_t>(r1 - r0), static_cast<std::size_t>(c1 - c0));
            Result<void> done;
            if (to.rows() == static_cast<std::size_t>(tile.rows) &&
                to.cols() == static_cast<std::size_t>(tile.cols)) {
                done = fillTile<T>(band, tile, to);
            } else {
                Grid<T> whole(static_cast<std::size_t>(tile.rows),
                              static_cast<std::size_t>(tile.cols));
                done = fillTile<T>(band, tile, whole.view());
                for (std::size_t r = 0; r < to.rows(); ++r)
                    for (std::size_t c = 0; c < to.cols(); ++c)
                        to(r, c) = whole(static_cast<std::size_t>(r0 - row) + r,
                                         static_cast<std::size_t>(c0 - col) + c);
            }
            if (done) continue;
            const std::lock_guard lock(mutex);
            failure = done.error();
            hasFailed = true;
        }
    });
    if (failure) return *failure;
    return {};
}

Result<void> ReprojectedRaster::read(int band, CellWindow window, BlockView<double> out) const {
    return readAs<double>(band, window, out);
}
Result<void> ReprojectedRaster::read(int band, CellWindow window, BlockView<float> out) const {
    return readAs<float>(band, window, out);
}

}  // namespace ledge
