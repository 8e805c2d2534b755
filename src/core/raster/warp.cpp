#include "core/raster/warp.h"

#include <array>
#include <atomic>
#include <mutex>

#include "core/base/parallel.h"
#include "core/raster/cubic.h"

namespace ledge {
namespace {
constexpr std::size_t kStep = 16;

// How source columns run around the earth.
struct Round {
    double turn = 0;        ///< columns in 360 degrees; 0 where they do not run around
    double middle = 0;      ///< column about which positions are told
    bool isClosed = false;  ///< the last column lies beside the first

    static Round of(const RasterInfo& info) {
        Round out;
        const Affine& t = info.toWorld;
        if (!info.crs || !info.crs->isGeographic() || t.b != 0 || t.d != 0 || t.a == 0) return out;
        const auto width = static_cast<double>(info.width);
        out.turn = 360 / std::abs(t.a);
        out.middle = width / 2;
        out.isClosed = std::abs(width - out.turn) < 0.5;
        return out;
    }
    /// The same place as near to a column as can be.
    double near(double x, double column) const {
        return turn > 0 ? x - turn * std::round((x - column) / turn) : x;
    }
};

// Source cell coordinates for every target cell centre of rows [begin, end), exact.
class CellFinder {
public:
    CellFinder(const crs::Transformation& toTarget, const TargetGrid& target, const Affine& toCell,
               const Round& round)
        : m_toTarget(toTarget), m_target(target), m_toCell(toCell), m_round(round) {}

    Point at(double row, double col) const {
        Point p = m_toCell(m_toTarget.inverse(m_target.toWorld({col + 0.5, row + 0.5})));
        p.x = m_round.near(p.x, m_round.middle);
        return p;
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
        p[4].x = m_round.near(p[4].x, m_round.middle);
        for (Point& q : p) q.x = m_round.near(q.x, p[4].x);
        const auto between = [&](double u, double v) {
            return (p[0] * (1 - u) + p[2] * u) * (1 - v) + (p[6] * (1 - u) + p[8] * u) * v;
        };
        bool isSmooth = true;  // not where one of them lies outside
        for (const int i : {1, 3, 4, 5, 7})
            isSmooth = isSmooth && distance(p[static_cast<std::size_t>(i)],
                                            between((i % 3) / 2.0, (i / 3) / 2.0)) <= kCellTolerance;
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
    Round m_round;
};

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
double reduction(const CellFinder& finder, const Round& round, const TargetGrid& target) {
    double best = 0;
    const auto h = static_cast<double>(target.rows), w = static_cast<double>(target.cols);
    for (const double v : {0.5, 0.1, 0.9}) {
        for (const double u : {0.5, 0.1, 0.9}) {
            const Point a = finder.at(v * h, u * w);
            const auto apart = [&](Point b) {
                return std::hypot(round.near(b.x - a.x, 0), b.y - a.y);
            };
            const double across = apart(finder.at(v * h, u * w + 1));
            const double down = apart(finder.at(v * h + 1, u * w));
            if (std::isfinite(across) && std::isfinite(down))
                best = std::max(best, std::sqrt(across * down));
        }
    }
    return best;
}
}  // namespace

namespace {
// Cells of a window of a level whose columns may run on around the earth.
Result<Grid<float>> readAround(const Pyramid& pyramid, int level, CellWindow window,
                               const Round& round, Reduction reduction, const Progress& progress) {
    if (!round.isClosed) return pyramid.read(level, window, reduction, progress);
    const std::int64_t period = pyramid.cols(level);
    if (window.col >= 0 && window.col + window.cols <= period)
        return pyramid.read(level, window, reduction, progress);
    Grid<float> out(static_cast<std::size_t>(window.rows), static_cast<std::size_t>(window.cols));
    for (std::int64_t done = 0; done < window.cols;) {
        const std::int64_t col = ((window.col + done) % period + period) % period;
        const std::int64_t cols = std::min(window.cols - done, period - col);
        const auto part =
            pyramid.read(level, {col, window.row, cols, window.rows}, reduction, progress);
        if (!part) return part.error();
        for (std::size_t r = 0; r < out.rows(); ++r)
            for (std::int64_t c = 0; c < cols; ++c)
                out(r, static_cast<std::size_t>(done + c)) =
                    (*part)(r, static_cast<std::size_t>(c));
        done += cols;
    }
    return out;
}

CellWindow windowOf(const Box& box) {
    return {static_cast<std::int64_t>(std::floor(box.xMin)),
            static_cast<std::int64_t>(std::floor(box.yMin)),
            static_cast<std::int64_t>(std::ceil(box.width())) + 1,
            static_cast<std::int64_t>(std::ceil(box.height())) + 1};
}

// What of a box there are cells for; columns of a closed raster go on and on.
Box available(Box box, const Pyramid& pyramid, int level, const Round& round) {
    box = box.grown(3);
    const auto cols = static_cast<double>(pyramid.cols(level));
    const Box all{round.isClosed ? box.xMin : 0, 0, round.isClosed ? box.xMax : cols,
                  static_cast<double>(pyramid.rows(level))};
    return box.intersected(all);
}

// How much of the source one target cell covers: an ellipse by its axes, in cells.
struct Footprint {
    double minor = 0, major = 0;
    Point along;  ///< half the major axis

    static Footprint of(Point across, Point down) {
        const double xx = across.x * across.x + down.x * down.x;
        const double yy = across.y * across.y + down.y * down.y;
        const double xy = across.x * across.y + down.x * down.y;
        const double middle = (xx + yy) / 2, spread = std::hypot((xx - yy) / 2, xy);
        Footprint out;
        out.major = std::sqrt(middle + spread);
        out.minor = std::sqrt(std::max(0.0, middle - spread));
        const double angle = 0.5 * std::atan2(2 * xy, xx - yy);
        out.along = Point{std::cos(angle), std::sin(angle)} * (out.major / 2);
        return out;
    }
};

// Where one level does not suit all of the target: each cell reads two levels by its own size in
// the source, and as many samples along the longer axis as that has of the shorter.
class VariedWarp {
public:
    VariedWarp(const Pyramid& pyramid, const CellFinder& finder, const Round& round,
               const TargetGrid& target, Resampling resampling)
        : m_pyramid(pyramid), m_finder(finder), m_round(round), m_target(target),
          m_resampling(resampling), m_isCell(resampling == Resampling::Nearest) {}

    static constexpr double kMostSamples = 16;
    static constexpr double kSuits = 0.75;  ///< cells of the level read for one of the target

    Result<void> rows(std::size_t begin, std::size_t end, Grid<float>& out,
                      const Progress& progress) const {
        const std::size_t cols = m_target.cols;
        std::vector<Point> at((end - begin) * cols);
        std::array<Point, kStep * kStep> tile;
        for (std::size_t row = begin; row < end; row += kStep)
            for (std::size_t col = 0; col < cols; col += kStep) {
                const std::size_t h = std::min(kStep, end - row), w = std::min(kStep, cols - col);
                m_finder.tile(row, col, h, w, tile);
                for (std::size_t r = 0; r < h; ++r)
                    for (std::size_t c = 0; c < w; ++c)
                        at[(row - begin + r) * cols + col + c] = tile[r * kStep + c];
            }
        std::vector<Footprint> sizes(at.size());
        std::vector<Box> needed(static_cast<std::size_t>(m_pyramid.levelCount()));
        for (std::size_t i = 0; i < at.size(); ++i) {
            if (!at[i].isFinite()) continue;
            sizes[i] = sizeAt(at, i, cols);
            const double level = levelOf(sizes[i]);
            for (const int k : {static_cast<int>(level), static_cast<int>(std::ceil(level))}) {
                const double shrink = std::ldexp(1.0, -k);
                Box& box = needed[static_cast<std::size_t>(k)];
                // A closed raster is read in its own turn and beyond it on both sides.
                box.add((at[i] - sizes[i].along) * shrink);
                box.add((at[i] + sizes[i].along) * shrink);
            }
        }
        std::vector<Grid<float>> cells(needed.size());
        std::vector<Point> origins(needed.size());
        for (std::size_t k = 0; k < needed.size(); ++k) {
            if (needed[k].isEmpty()) continue;
            const int level = static_cast<int>(k);
            const Box box = available(needed[k], m_pyramid, level, m_round);
            if (box.isEmpty()) continue;
            const CellWindow window = windowOf(box);
            auto read =
                readAround(m_pyramid, level, window, m_round,
                           m_isCell ? Reduction::Cell : m_pyramid.usualReduction(), progress);
            if (!read) return read.error();
            cells[k] = *std::move(read);
            origins[k] = {static_cast<double>(window.col), static_cast<double>(window.row)};
        }
        const auto one = [&](Point p, int k) {
            const auto i = static_cast<std::size_t>(k);
            if (cells[i].isEmpty()) return std::numeric_limits<float>::quiet_NaN();
            return sample(cells[i].view(), p * std::ldexp(1.0, -k) - origins[i], m_resampling);
        };
        for (std::size_t i = 0; i < at.size(); ++i) {
            if (!at[i].isFinite()) continue;
            const double level = levelOf(sizes[i]);
            const int fine = static_cast<int>(level);
            const double share = level - fine;
            float& value = out(begin + i / cols, i % cols);
            if (m_isCell) {
                value = one(at[i], fine);
                continue;
            }
            const double count = samplesOf(sizes[i]);
            double sum = 0, total = 0;
            for (double n = 0; n < count; n += 1) {
                const Point p = at[i] + sizes[i].along * ((2 * n + 1) / count - 1);
                const float a = one(p, fine), b = share > 0 ? one(p, fine + 1) : a;
                if (std::isnan(a) && std::isnan(b)) continue;
                const double v = std::isnan(a)   ? static_cast<double>(b)
                                 : std::isnan(b) ? static_cast<double>(a)
                                                 : static_cast<double>(a) * (1 - share) +
                                                       static_cast<double>(b) * share;
                sum += v;
                total += 1;
            }
            // A cell whose middle has no data has none.
            if (total > 0 && !std::isnan(one(at[i], fine))) value = static_cast<float>(sum / total);
        }
        return {};
    }

    double levelOf(const Footprint& size) const {
        const double minor = std::max(size.minor, size.major / kMostSamples);
        const double level = std::log2(std::max(minor, 1e-9) / kSuits);
        return std::clamp(m_isCell ? std::floor(level) : level, 0.0,
                          static_cast<double>(m_pyramid.levelCount() - 1));
    }

private:
    static double samplesOf(const Footprint& size) {
        return std::clamp(std::ceil(size.major / std::max(size.minor, kSuits)), 1.0, kMostSamples);
    }
    Footprint sizeAt(std::span<const Point> at, std::size_t i, std::size_t cols) const {
        const auto step = [&](bool hasNext, std::size_t next, bool hasLast, std::size_t last) {
            const bool isNext = hasNext && at[next].isFinite();
            if (!isNext && !(hasLast && at[last].isFinite())) return Point{};
            Point d = isNext ? at[next] - at[i] : at[i] - at[last];
            d.x = m_round.near(d.x, 0);
            return d;
        };
        const std::size_t col = i % cols;
        return Footprint::of(step(col + 1 < cols, i + 1, col > 0, i - 1),
                             step(i + cols < at.size(), i + cols, i >= cols, i - cols));
    }

    const Pyramid& m_pyramid;
    const CellFinder& m_finder;
    Round m_round;
    const TargetGrid& m_target;
    Resampling m_resampling;
    bool m_isCell;
};

// Whether one level suits all of the target: the sizes of its cells in the source, here and there.
bool isVaried(const CellFinder& finder, const Round& round, const TargetGrid& target) {
    constexpr int kLooks = 9;
    constexpr double kAlike = 2, kRound = 2.5;
    double least = std::numeric_limits<double>::infinity(), most = 0, longest = 0;
    for (int i = 0; i < kLooks; ++i)
        for (int j = 0; j < kLooks; ++j) {
            const double row = (i + 0.5) / kLooks * static_cast<double>(target.rows),
                         col = (j + 0.5) / kLooks * static_cast<double>(target.cols);
            const Point a = finder.at(row, col);
            Point across = finder.at(row, col + 1) - a, down = finder.at(row + 1, col) - a;
            across.x = round.near(across.x, 0), down.x = round.near(down.x, 0);
            if (!across.isFinite() || !down.isFinite()) continue;
            const Footprint size = Footprint::of(across, down);
            if (size.major < 1.5) {  // read as it is
                least = std::min(least, 1.0), most = std::max(most, 1.0);
                continue;
            }
            const double minor = std::max(size.minor, 1.0);
            least = std::min(least, minor), most = std::max(most, minor);
            longest = std::max(longest, size.major / minor);
        }
    return most > kAlike * least || longest > kRound;
}
}  // namespace

Result<Grid<float>> warped(const Pyramid& pyramid, const crs::Transformation& toTarget,
                           const TargetGrid& target, Resampling resampling,
                           const Progress& progress) {
    const RasterInfo& info = pyramid.source().info();
    Grid<float> out(target.rows, target.cols, std::numeric_limits<float>::quiet_NaN());
    const auto toFullCell = info.toWorld.inverse();
    if (!toFullCell || target.rows == 0 || target.cols == 0) return out;
    Round round = Round::of(info);
    if (round.isClosed) {  // told about what is in the middle, so that no window runs all around
        const Point centre =
            CellFinder(toTarget, target, *toFullCell, round)
                .at(static_cast<double>(target.rows) / 2, static_cast<double>(target.cols) / 2);
        if (centre.isFinite()) round.middle = centre.x;
    }
    const CellFinder whole(toTarget, target, *toFullCell, round);
    if (pyramid.levelCount() > 1 && isVaried(whole, round, target)) {
        constexpr std::size_t kBand = 64;
        const VariedWarp varied(pyramid, whole, round, target, resampling);
        std::atomic<std::size_t> rowsDone{0};
        std::mutex mutex;  // guards the failure
        std::optional<Error> failure;
        parallelRanges(target.rows, kBand, [&](std::size_t begin, std::size_t end) {
            if (progress.stopped()) return;
            if (const auto done = varied.rows(begin, end, out, progress); !done) {
                const std::lock_guard lock(mutex);
                failure = done.error();
            }
            rowsDone += end - begin;
            progress.at(static_cast<double>(rowsDone) / static_cast<double>(target.rows));
        });
        if (progress.stopped()) return cancelled("reprojecting");
        if (failure) return *failure;
        return out;
    }
    const double cellsPerTarget = reduction(whole, round, target);
    int level = 0;
    if (cellsPerTarget > 1.5)
        level = std::clamp(static_cast<int>(std::floor(std::log2(cellsPerTarget / 0.75))), 0,
                           pyramid.levelCount() - 1);
    const double shrink = std::ldexp(1.0, -level);
    const Affine toCell = Affine{shrink, 0, 0, 0, shrink, 0}.after(*toFullCell);
    round.turn *= shrink, round.middle *= shrink;
    const CellFinder finder(toTarget, target, toCell, round);

    // The window needed: the target's lattice in source cells, in one turn around the earth or,
    // where it runs over the seam of that, in the turn about its own middle.
    Box needed;
    const std::size_t latticeRows = target.rows / kStep + 2, latticeCols = target.cols / kStep + 2;
    std::vector<Point> above, row;
    for (std::size_t i = 0; i < latticeRows; ++i) {
        row.clear();
        for (std::size_t j = 0; j < latticeCols; ++j)
            row.push_back(target.toWorld({static_cast<double>(std::min(j * kStep, target.cols)),
                                          static_cast<double>(std::min(i * kStep, target.rows))}));
        toTarget.inverse(row);
        for (Point& p : row) {
            p = toCell(p);
            p.x = round.near(p.x, round.middle);
            needed.add(p);
        }
        // Where the map ends between them, each cell is asked.
        for (std::size_t j = 0; i > 0 && j + 1 < latticeCols; ++j) {
            const int finite = above[j].isFinite() + above[j + 1].isFinite() + row[j].isFinite() +
                               row[j + 1].isFinite();
            const std::size_t top = (i - 1) * kStep, left = j * kStep;
            if (finite == 4 || top >= target.rows || left >= target.cols) continue;
            const std::size_t step = finite == 0 ? 4 : 1;
            for (std::size_t r = 0; r < kStep; r += step)
                for (std::size_t c = 0; c < kStep; c += step)
                    needed.add(
                        finder.at(static_cast<double>(top + r), static_cast<double>(left + c)));
        }
        above = row;
        if (progress.stopped()) return cancelled("reprojecting");
    }
    if (round.isClosed) needed.xMin -= 1, needed.xMax += 1;
    needed = available(needed, pyramid, level, round);
    if (needed.isEmpty()) return out;
    const CellWindow window = windowOf(needed);
    const auto reduction =
        resampling == Resampling::Nearest ? Reduction::Cell : pyramid.usualReduction();
    const auto cells = readAround(pyramid, level, window, round, reduction, progress.part(0, 0.6));
    if (!cells) return cells.error();
    const Point offset{static_cast<double>(window.col), static_cast<double>(window.row)};
    const double first = offset.x + static_cast<double>(window.cols) / 2;

    std::atomic<std::size_t> rowsDone{0};
    parallelRanges(target.rows, kStep, [&](std::size_t begin, std::size_t end) {
        if (progress.stopped()) return;
        std::array<Point, kStep * kStep> at;
        for (std::size_t col = 0; col < target.cols; col += kStep) {
            const std::size_t cols = std::min(kStep, target.cols - col);
            finder.tile(begin, col, end - begin, cols, at);
            for (std::size_t r = begin; r < end; ++r)
                for (std::size_t c = 0; c < cols; ++c) {
                    Point p = at[(r - begin) * kStep + c];
                    if (round.isClosed) p.x = round.near(p.x, first);
                    out(r, col + c) = sample(cells->view(), p - offset, resampling);
                }
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
        // Side of a square with the area of the image of the middle cell; where that lies outside,
        // of a middling one of what lies inside.
        const auto areaAt = [&](Point position) {
            const Point o = toTarget.forward(info.toWorld(position));
            const Point x = toTarget.forward(info.toWorld(position + Point{1, 0})) - o;
            const Point y = toTarget.forward(info.toWorld(position + Point{0, 1})) - o;
            return box.contains(o) ? std::abs(x.x * y.y - x.y * y.x) : kNaN;
        };
        double area =
            areaAt({static_cast<double>(info.width) / 2, static_cast<double>(info.height) / 2});
        if (const auto toCell = info.toWorld.inverse(); toCell && !std::isfinite(area)) {
            constexpr int kLooks = 8;
            std::vector<double> areas;
            for (int i = 0; i < kLooks; ++i)
                for (int j = 0; j < kLooks; ++j) {
                    const Point at{box.xMin + box.width() * (i + 0.5) / kLooks,
                                   box.yMin + box.height() * (j + 0.5) / kLooks};
                    const double one = areaAt((*toCell)(toTarget.inverse(at)));
                    if (std::isfinite(one) && one > 0) areas.push_back(one);
                }
            if (areas.empty()) return impossible;
            std::nth_element(areas.begin(),
                             areas.begin() + static_cast<std::ptrdiff_t>(areas.size() / 2),
                             areas.end());
            area = areas[areas.size() / 2];
        }
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
