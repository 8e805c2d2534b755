#include "core/terrain/profile.h"

#include <algorithm>
#include <cmath>

#include "core/crs/geodesic.h"
#include "core/crs/transformation.h"

namespace ledge::terrain {
namespace {
constexpr double kMostSamples = 1e7;
constexpr std::size_t kRun = 512;
constexpr std::int64_t kMostCells = 1 << 22;

// Where the samples stand, with their distances; heights still missing.
Result<std::vector<ProfilePoint>> samples(const crs::CrsPtr& lineCrs, std::span<const Point> line,
                                          double step) {
    std::vector<Point> corners(line.begin(), line.end());
    std::optional<crs::Geodesic> geodesic;
    crs::Transformation toEllipsoid;
    if (lineCrs) {
        geodesic.emplace(lineCrs->ellipsoid);
        auto way = crs::Transformation::between(
            lineCrs, std::make_shared<crs::Crs>(crs::geographicBase(*lineCrs)));
        if (!way) return way.error();
        toEllipsoid = *std::move(way);
        toEllipsoid.forward(corners);
    }
    std::vector<ProfilePoint> out;
    double travelled = 0;
    for (std::size_t i = 0; i + 1 < line.size(); ++i) {
        const Point a = corners[i], b = corners[i + 1];
        if (!a.isFinite() || !b.isFinite())
            return Error{ErrorCode::InvalidArgument, "profile",
                         "vertex " + std::to_string(a.isFinite() ? i + 2 : i + 1) +
                             " of the line lies outside the domain of its CRS",
                         "check the CRS of the line"};
        const auto way =
            geodesic ? geodesic->inverse(a, b) : crs::Geodesic::Line{distance(a, b), 0, 0};
        const double pieces = std::max(1.0, std::ceil(way.distance / step - 1e-9));
        if (static_cast<double>(out.size()) + pieces > kMostSamples)
            return Error{ErrorCode::LimitExceeded, "profile", "more than ten million samples",
                         "give a longer step"};
        const auto count = static_cast<std::size_t>(pieces);
        for (std::size_t k = out.empty() ? 0 : 1; k <= count; ++k) {
            const double share = static_cast<double>(k) / pieces;
            const Point at = k == 0       ? a
                             : k == count ? b
                             : geodesic
                                 ? geodesic->direct(a, way.bearingStart, way.distance * share).at
                                 : a + (b - a) * share;
            out.push_back({travelled + way.distance * share, at, kNaN});
        }
        travelled += way.distance;
    }
    if (lineCrs) {
        std::vector<Point> back;
        for (const ProfilePoint& p : out) back.push_back(p.at);
        toEllipsoid.inverse(back);
        for (std::size_t i = 0; i < out.size(); ++i) out[i].at = back[i];
        out.front().at = line.front(), out.back().at = line.back();
    }
    return out;
}

double bilinear(BlockView<const double> cells, Point p) {
    const auto rows = static_cast<double>(cells.rows()), cols = static_cast<double>(cells.cols());
    if (!(p.x >= 0 && p.y >= 0 && p.x <= cols && p.y <= rows)) return kNaN;
    const double x = std::clamp(p.x - 0.5, 0.0, cols - 1), y = std::clamp(p.y - 0.5, 0.0, rows - 1);
    const auto c = static_cast<std::size_t>(std::min(x, std::max(0.0, cols - 2)));
    const auto r = static_cast<std::size_t>(std::min(y, std::max(0.0, rows - 2)));
    const std::size_t c1 = std::min(c + 1, cells.cols() - 1),
                      r1 = std::min(r + 1, cells.rows() - 1);
    const double u = x - static_cast<double>(c), v = y - static_cast<double>(r);
    const double value = (cells(r, c) * (1 - u) + cells(r, c1) * u) * (1 - v) +
                         (cells(r1, c) * (1 - u) + cells(r1, c1) * u) * v;
    if (!std::isnan(value)) return value;
    return cells(std::min(static_cast<std::size_t>(p.y), cells.rows() - 1),
                 std::min(static_cast<std::size_t>(p.x), cells.cols() - 1));
}

// Heights for samples whose places in the DEM's cells are known; one read for a run of neighbours.
Result<void> readHeights(const RasterSource& dem, int band, std::span<const Point> cells,
                         std::span<ProfilePoint> out) {
    const RasterInfo& info = dem.info();
    const Box whole{0, 0, static_cast<double>(info.width), static_cast<double>(info.height)};
    Box box;
    for (const Point p : cells)
        if (whole.contains(p)) box.add(p);
    if (box.isEmpty()) return {};
    const Box needed = box.grown(1.5).intersected(whole);
    CellWindow window{static_cast<std::int64_t>(needed.xMin),
                      static_cast<std::int64_t>(needed.yMin), 0, 0};
    window.cols =
        std::min(info.width, static_cast<std::int64_t>(std::ceil(needed.xMax))) - window.col;
    window.rows =
        std::min(info.height, static_cast<std::int64_t>(std::ceil(needed.yMax))) - window.row;
    if (window.cols * window.rows > kMostCells && cells.size() > 1) {
        const std::size_t half = cells.size() / 2;
        if (const auto done = readHeights(dem, band, cells.first(half), out.first(half)); !done)
            return done;
        return readHeights(dem, band, cells.subspan(half), out.subspan(half));
    }
    Grid<double> block(static_cast<std::size_t>(window.rows),
                       static_cast<std::size_t>(window.cols));
    if (const auto done = dem.read(band, window, block.view()); !done) return done;
    const Point corner{static_cast<double>(window.col), static_cast<double>(window.row)};
    const Grid<double>& heights = block;
    for (std::size_t i = 0; i < cells.size(); ++i)
        if (whole.contains(cells[i])) out[i].height = bilinear(heights.view(), cells[i] - corner);
    return {};
}
}  // namespace

Result<std::vector<ProfilePoint>> profile(const RasterSource& dem, int band,
                                          const crs::CrsPtr& lineCrs, std::span<const Point> line,
                                          double step, const Progress& progress) {
    const RasterInfo& info = dem.info();
    const auto toCell = info.toWorld.inverse();
    if (line.size() < 2 || !toCell)
        return Error{ErrorCode::InvalidArgument, "profile", "a line needs two points", ""};
    const auto toDem = crs::Transformation::between(lineCrs, info.crs);
    if (!toDem) return toDem.error();
    if (step == 0) {
        const Point ground = crs::groundUnits(info.crs, info.extent().centre());
        step =
            std::min(info.toWorld.columnLength() * ground.x, info.toWorld.rowLength() * ground.y);
    }
    if (!(step > 0) || !std::isfinite(step))
        return Error{ErrorCode::InvalidArgument, "profile", "the step must be positive metres", ""};
    auto out = samples(lineCrs, line, step);
    if (!out) return out;
    std::vector<Point> cells;
    for (std::size_t begin = 0; begin < out->size(); begin += kRun) {
        if (progress.stopped()) return cancelled("profile");
        const auto run = std::span(*out).subspan(begin, std::min(kRun, out->size() - begin));
        cells.clear();
        for (const ProfilePoint& p : run) cells.push_back(p.at);
        toDem->forward(cells);
        for (Point& p : cells) p = (*toCell)(p);
        if (const auto done = readHeights(dem, band, cells, run); !done) return done.error();
        progress.at(static_cast<double>(begin) / static_cast<double>(out->size()));
    }
    return out;
}

ProfileSummary summary(std::span<const ProfilePoint> points, double metresPerHeight) {
    ProfileSummary out;
    for (std::size_t i = 0; i < points.size(); ++i) {
        const double h = points[i].height * metresPerHeight;
        const double at = points[i].distance - points[0].distance;
        if (!(h >= out.lowest) && !std::isnan(h)) out.lowest = h, out.lowestAt = at;
        if (!(h <= out.highest) && !std::isnan(h)) out.highest = h, out.highestAt = at;
        if (i == 0) continue;
        const double along = points[i].distance - points[i - 1].distance;
        const double rise = h - points[i - 1].height * metresPerHeight;
        if (std::isnan(rise)) {
            out.surfaceLength += along;
            continue;
        }
        out.surfaceLength += std::hypot(along, rise);
        (rise > 0 ? out.ascent : out.descent) += std::abs(rise);
        if (along > 0 && !(std::abs(rise) / along <= out.steepest)) {
            out.steepest = std::abs(rise) / along;
            out.steepestFrom = points[i - 1].distance;
        }
    }
    if (!points.empty()) out.length = points.back().distance - points.front().distance;
    return out;
}

}  // namespace ledge::terrain
