#include "core/raster/warp.h"

#include <array>
#include <atomic>

#include "core/base/parallel.h"

namespace ledge {
namespace {
constexpr std::size_t kStep = 16;
constexpr double kTolerance = 0.05;  // cells of the level read

// Source cell coordinates for every target cell centre of rows [begin, end), exact.
class CellFinder {
public:
    CellFinder(const crs::Transformation& toTarget, const TargetGrid& target, const Affine& toCell)
        : m_toTarget(toTarget), m_target(target), m_toCell(toCell) {}

    Point at(double row, double col) const {
        const Point p = m_toTarget.inverse(m_target.toWorld({col + 0.5, row + 0.5}));
        return m_toCell(p);
    }
    // Positions over a tile: interpolated from its corners when that is good enough.
    void tile(std::size_t row, std::size_t col, std::size_t rows, std::size_t cols,
              std::span<Point> out) const {
        const auto r0 = static_cast<double>(row), c0 = static_cast<double>(col);
        const auto h = static_cast<double>(kStep), w = static_cast<double>(kStep);
        std::array<Point, 9> p;
        for (int i = 0; i < 9; ++i)
            p[static_cast<std::size_t>(i)] =
                m_target.toWorld({c0 + w * (i % 3) / 2 + 0.5, r0 + h * (i / 3) / 2 + 0.5});
        m_toTarget.inverse(p);
        for (Point& q : p) q = m_toCell(q);
        const auto between = [&](double u, double v) {
            return (p[0] * (1 - u) + p[2] * u) * (1 - v) + (p[6] * (1 - u) + p[8] * u) * v;
        };
        double worst = 0;
        for (const int i : {1, 3, 4, 5, 7})
            worst = std::max(worst, distance(p[static_cast<std::size_t>(i)],
                                             between((i % 3) / 2.0, (i / 3) / 2.0)));
        const bool isSmooth = worst <= kTolerance;  // false for NaN as well
        for (std::size_t r = 0; r < rows; ++r) {
            for (std::size_t c = 0; c < cols; ++c) {
                const auto dr = static_cast<double>(r), dc = static_cast<double>(c);
                out[r * kStep + c] = isSmooth ? between(dc / w, dr / h) : at(r0 + dr, c0 + dc);
            }
        }
    }

private:
    const crs::Transformation& m_toTarget;
    const TargetGrid& m_target;
    const Affine& m_toCell;
};

std::array<double, 4> cubicWeights(double t) {
    // Catmull-Rom spline (1974): interpolates, keeps straight slopes straight.
    return {((-0.5 * t + 1) * t - 0.5) * t, (1.5 * t - 2.5) * t * t + 1,
            ((-1.5 * t + 2) * t + 0.5) * t, (0.5 * t - 0.5) * t * t};
}

// Weighted mean over a square of cells whose upper left is (row, col), data cells only.
template <std::size_t N>
float weighted(BlockView<const float> cells, std::int64_t row, std::int64_t col,
               const std::array<double, N>& rowWeights, const std::array<double, N>& colWeights) {
    double sum = 0, total = 0;
    for (std::size_t i = 0; i < N; ++i) {
        const std::int64_t r = row + static_cast<std::int64_t>(i);
        if (r < 0 || r >= static_cast<std::int64_t>(cells.rows())) continue;
        for (std::size_t j = 0; j < N; ++j) {
            const std::int64_t c = col + static_cast<std::int64_t>(j);
            if (c < 0 || c >= static_cast<std::int64_t>(cells.cols())) continue;
            const float v = cells(static_cast<std::size_t>(r), static_cast<std::size_t>(c));
            if (std::isnan(v)) continue;
            const double w = rowWeights[i] * colWeights[j];
            sum += w * static_cast<double>(v);
            total += w;
        }
    }
    return total > 0.2 ? static_cast<float>(sum / total) : std::numeric_limits<float>::quiet_NaN();
}

float sample(BlockView<const float> cells, Point at, Resampling resampling) {
    const double col = std::floor(at.x), row = std::floor(at.y);
    if (!(col >= 0 && row >= 0 && col < static_cast<double>(cells.cols()) &&
          row < static_cast<double>(cells.rows())))
        return std::numeric_limits<float>::quiet_NaN();
    const float nearest = cells(static_cast<std::size_t>(row), static_cast<std::size_t>(col));
    if (std::isnan(nearest) || resampling == Resampling::Nearest) return nearest;
    const double x = at.x - 0.5, y = at.y - 0.5;
    const double tx = x - std::floor(x), ty = y - std::floor(y);
    const auto c = static_cast<std::int64_t>(std::floor(x));
    const auto r = static_cast<std::int64_t>(std::floor(y));
    if (resampling == Resampling::Cubic) {
        const float v = weighted<4>(cells, r - 1, c - 1, cubicWeights(ty), cubicWeights(tx));
        if (!std::isnan(v)) return v;
    }
    return weighted<2>(cells, r, c, {1 - ty, ty}, {1 - tx, tx});
}

// Cells of the raster per target cell, from differences over the middle and the corners.
double reduction(const CellFinder& finder, const TargetGrid& target) {
    double best = 0;
    const auto h = static_cast<double>(target.rows), w = static_cast<double>(target.cols);
    for (const double v : {0.5, 0.1, 0.9}) {
        for (const double u : {0.5, 0.1, 0.9}) {
            const Point a = finder.at(v * h, u * w);
            const double across = distance(finder.at(v * h, u * w + 1), a);
            const double down = distance(finder.at(v * h + 1, u * w), a);
            if (std::isfinite(across) && std::isfinite(down))
                best = std::max(best, std::sqrt(across * down));
        }
    }
    return best;
}
}  // namespace

Result<Grid<float>> warped(const Pyramid& pyramid, const crs::Transformation& toTarget,
                           const TargetGrid& target, Resampling resampling,
                           const Progress& progress) {
    const RasterInfo& info = pyramid.source().info();
    Grid<float> out(target.rows, target.cols, std::numeric_limits<float>::quiet_NaN());
    const auto toFullCell = info.toWorld.inverse();
    if (!toFullCell || target.rows == 0 || target.cols == 0) return out;
    const double cellsPerTarget = reduction(CellFinder(toTarget, target, *toFullCell), target);
    int level = 0;
    if (cellsPerTarget > 1.5)
        level = std::clamp(static_cast<int>(std::floor(std::log2(cellsPerTarget / 0.75))), 0,
                           pyramid.levelCount() - 1);
    const double shrink = std::ldexp(1.0, -level);
    const Affine toCell = Affine{shrink, 0, 0, 0, shrink, 0}.after(*toFullCell);
    const CellFinder finder(toTarget, target, toCell);

    // The window needed: the target's lattice in source cells.
    Box needed;
    const std::size_t latticeRows = target.rows / kStep + 2, latticeCols = target.cols / kStep + 2;
    for (std::size_t i = 0; i < latticeRows; ++i) {
        std::vector<Point> row;
        for (std::size_t j = 0; j < latticeCols; ++j)
            row.push_back(target.toWorld({static_cast<double>(std::min(j * kStep, target.cols)),
                                          static_cast<double>(std::min(i * kStep, target.rows))}));
        toTarget.inverse(row);
        for (const Point p : row) needed.add(toCell(p));
        if (progress.stopped()) return cancelled("reprojecting");
    }
    needed = needed.grown(3).intersected(
        {0, 0, static_cast<double>(pyramid.cols(level)), static_cast<double>(pyramid.rows(level))});
    if (needed.isEmpty()) return out;
    const CellWindow window{static_cast<std::int64_t>(std::floor(needed.xMin)),
                            static_cast<std::int64_t>(std::floor(needed.yMin)),
                            static_cast<std::int64_t>(std::ceil(needed.width())) + 1,
                            static_cast<std::int64_t>(std::ceil(needed.height())) + 1};
    const auto reduction =
        resampling == Resampling::Nearest ? Reduction::Cell : pyramid.usualReduction();
    const auto cells = pyramid.read(level, window, reduction, progress.part(0, 0.6));
    if (!cells) return cells.error();
    const Point offset{static_cast<double>(window.col), static_cast<double>(window.row)};

    std::atomic<std::size_t> rowsDone{0};
    parallelRanges(target.rows, kStep, [&](std::size_t begin, std::size_t end) {
        if (progress.stopped()) return;
        std::array<Point, kStep * kStep> at;
        for (std::size_t col = 0; col < target.cols; col += kStep) {
            const std::size_t cols = std::min(kStep, target.cols - col);
            finder.tile(begin, col, end - begin, cols, at);
            for (std::size_t r = begin; r < end; ++r)
                for (std::size_t c = 0; c < cols; ++c)
                    out(r, col + c) =
                        sample(cells->view(), at[(r - begin) * kStep + c] - offset, resampling);
        }
        rowsDone += end - begin;
        progress.at(0.6 + 0.4 * static_cast<double>(rowsDone) / static_cast<double>(target.rows));
    });
    if (progress.stopped()) return cancelled("reprojecting");
    return out;
}

Result<TargetGrid> suggestedGrid(const RasterInfo& info, const crs::Transformation& toTarget,
                                 std::optional<double> cell, std::optional<Box> extent) {
    const Box box = extent ? *extent : toTarget.forward(info.extent());
    const Error impossible{ErrorCode::InvalidArgument, "reprojecting raster",
                           "no part of it lies inside the target CRS's domain",
                           "check the CRS declared for the file"};
    if (box.isEmpty()) return impossible;
    if (!cell) {
        // Side of a square with the area of the image of the middle cell.
        const Point middle{static_cast<double>(info.width) / 2,
                           static_cast<double>(info.height) / 2};
        const Point o = toTarget.forward(info.toWorld(middle));
        const Point x = toTarget.forward(info.toWorld(middle + Point{1, 0})) - o;
        const Point y = toTarget.forward(info.toWorld(middle + Point{0, 1})) - o;
        const double area = std::abs(x.x * y.y - x.y * y.x);
        if (!(area > 0) || !std::isfinite(area)) return impossible;
        cell = std::sqrt(area);
    }
    if (!(*cell > 0) || !std::isfinite(*cell))
        return Error{ErrorCode::InvalidArgument, "cell size", "it must be positive", ""};
    const double cols = std::ceil(box.width() / *cell - 1e-9);
    const double rows = std::ceil(box.height() / *cell - 1e-9);
    if (!(cols * rows < 4e10))
        return Error{ErrorCode::LimitExceeded, "output raster",
                     "more than 40 000 million cells would be written", "give a larger cell"};
    return TargetGrid{static_cast<std::size_t>(std::max(1.0, rows)),
                      static_cast<std::size_t>(std::max(1.0, cols)),
                      {*cell, 0, box.xMin, 0, -*cell, box.yMax}};
}

}  // namespace ledge
