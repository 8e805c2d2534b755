#include "session/terrain_files.h"

#include <cmath>
#include <mutex>

#include "core/base/numbers.h"
#include "core/base/parallel.h"
#include "core/raster/ground.h"
#include "core/terrain/contour_sweep.h"
#include "core/terrain/filled_contours.h"
#include "core/terrain/smooth_surface.h"

namespace ledge::session {
namespace {
namespace fs = std::filesystem;
constexpr std::int64_t kBlockRows = 256;
}  // namespace

// Each thread reads and works on few rows at a time, so that they stay in its cache.
Result<void> writeComputed(const RasterSource& source, const DerivedFile& file,
                           const Progress& progress, std::size_t pieceRows) {
    const fs::path& path = file.path;
    const RasterInfo& info = source.info();
    auto sink = io::createRaster(path, info, file.writing, file.replacing);
    if (!sink) return sink.error();
    const auto width = static_cast<std::size_t>(info.width);
    const auto blockRows =
        std::max<std::int64_t>(kBlockRows, static_cast<std::int64_t>(pieceRows * threadCount()));
    Grid<float> out(static_cast<std::size_t>(blockRows), width);
    for (int band = 0; band < static_cast<int>(info.bands.size()); ++band) {
        for (std::int64_t row = 0; row < info.height; row += blockRows) {
            if (progress.stopped()) return cancelled(path.string());
            const std::int64_t count = std::min(blockRows, info.height - row);
            Result<void> failure;
            std::mutex mutex;
            parallelRanges(
                static_cast<std::size_t>(count), pieceRows,
                [&](std::size_t begin, std::size_t end) {
                    const CellWindow window{0, row + static_cast<std::int64_t>(begin), info.width,
                                            static_cast<std::int64_t>(end - begin)};
                    const auto done =
                        source.read(band, window, out.view().part(begin, 0, end - begin, width));
                    const std::lock_guard lock(mutex);
                    if (!done) failure = done;
                });
            if (!failure) return failure;
            const auto rows = out.view().part(0, 0, static_cast<std::size_t>(count), width);
            if (const auto done = (*sink)->append(BlockView<const float>(rows)); !done) return done;
            progress.at(
                (band + static_cast<double>(row + count) / static_cast<double>(info.height)) /
                static_cast<double>(info.bands.size()));
        }
    }
    return (*sink)->finish();
}

std::string heightScaleText(const RasterInfo& info, const HeightReading& heights) {
    if (heights.heightScale) return "Set by hand: heights × " + formatNumber(*heights.heightScale);
    const bool isFoot = heights.metresPerHeight != 1;
    const std::string height = isFoot ? "heights in feet, taken × 0.3048" : "heights in metres";
    if (!info.crs) return "Auto — " + height + "; ground unit unknown, taken as metres";
    if (info.crs->isGeographic())
        return "Auto — " + height + "; ground in degrees, turned into metres row by row";
    const std::string unit = info.crs->unit.size == 1
                                 ? "ground in metres"
                                 : "ground in " + info.crs->unit.name + " of " +
                                       formatNumber(info.crs->unit.size) + " m";
    // What the projection does to lengths there is undone, place by place.
    const double shrunk = std::sqrt(
        std::abs(Ground(info)
                     .at(static_cast<double>(info.width) / 2, static_cast<double>(info.height) / 2)
                     .area() /
                 (info.toWorld.determinant() * info.crs->unit.size * info.crs->unit.size)));
    if (std::isfinite(shrunk) && std::abs(shrunk - 1) >= 0.005)
        return "Auto — " + height + "; " + unit + ", × " + formatNumber(shrunk, {2, false}) +
               " in the middle, as the projection draws it there; from the ellipsoid, place by "
               "place";
    if (info.crs->unit.size == 1 && !isFoot) return "Auto 1.0 — heights and ground both in metres";
    return "Auto — " + height + "; " + unit;
}

namespace {
// All heights of a DEM in metres.
Result<Grid<float>> wholeDem(const RasterSource& dem, const HeightReading& heights,
                             const Progress& progress) {
    const RasterInfo& info = dem.info();
    Grid<float> cells(static_cast<std::size_t>(info.height), static_cast<std::size_t>(info.width));
    for (std::int64_t row = 0; row < info.height; row += kBlockRows) {
        if (progress.stopped()) return cancelled("contours");
        const std::int64_t count = std::min(kBlockRows, info.height - row);
        const auto part = cells.view().part(static_cast<std::size_t>(row), 0,
                                            static_cast<std::size_t>(count), cells.cols());
        if (const auto done = dem.read(0, {0, row, info.width, count}, part); !done)
            return done.error();
        progress.at(static_cast<double>(row) / static_cast<double>(info.height));
    }
    if (const auto factor = static_cast<float>(heights.factor()); factor != 1)
        for (float& h : cells.cells()) h *= factor;
    return cells;
}
}  // namespace

namespace {
// The heights that contours are drawn on, smoothed when asked.
Result<terrain::SmoothSurface> contourSurface(const RasterSource& dem, const HeightReading& heights,
                                              int smoothing, const Progress& progress) {
    const RasterInfo& info = dem.info();
    const auto steps = static_cast<std::int64_t>(std::max(1, smoothing));
    if (info.width * info.height * steps * steps > 400'000'000)
        return Error{ErrorCode::LimitExceeded, "contours",
                     "the DEM has more than 400 million cells" +
                         std::string(steps > 1 ? " once smoothed" : ""),
                     "convert it with a larger --cell first"};
    auto cells = wholeDem(dem, heights, progress);
    if (!cells) return cells.error();
    if (smoothing <= 0) return terrain::SmoothSurface{*std::move(cells), info.toWorld};
    return terrain::smoothSurface(cells->view(), info.toWorld, static_cast<std::size_t>(steps));
}
}  // namespace

namespace {
constexpr std::int64_t kStreamedCells = 64'000'000;

// Lines of a DEM of any size: read twice, for its range and for the lines, never held whole.
Result<std::vector<terrain::Contour>> streamedContours(const RasterSource& dem,
                                                       const HeightReading& heights,
                                                       const terrain::ContourLevels& wanted,
                                                       const Progress& progress) {
    const RasterInfo& info = dem.info();
    const auto numbers = statistics(dem, 0, progress.part(0, 0.4));
    if (!numbers) return numbers.error();
    const auto factor = static_cast<float>(heights.factor());
    const auto metres = [factor](double v) {
        return static_cast<double>(static_cast<float>(v) * factor);
    };
    const auto levels = wanted.checked(metres(numbers->min), metres(numbers->max));
    if (!levels) return levels.error();
    if (levels->empty() || info.height < 2 || info.width < 2)
        return std::vector<terrain::Contour>{};
    terrain::ContourSweep sweep(static_cast<std::size_t>(info.width), info.toWorld, *levels);
    Grid<float> rows(static_cast<std::size_t>(kBlockRows), static_cast<std::size_t>(info.width));
    for (std::int64_t row = 0; row < info.height; row += kBlockRows) {
        if (progress.stopped()) return cancelled("contours");
        const std::int64_t count = std::min(kBlockRows, info.height - row);
        const auto part = rows.view().part(0, 0, static_cast<std::size_t>(count), rows.cols());
        if (const auto done = dem.read(0, {0, row, info.width, count}, part); !done)
            return done.error();
        for (std::size_t r = 0; r < part.rows(); ++r) {
            if (factor != 1)
                for (float& h : part.row(r)) h *= factor;
            if (const auto done = sweep.add(part.row(r)); !done) return done.error();
        }
        progress.at(0.4 + 0.6 * static_cast<double>(row) / static_cast<double>(info.height));
    }
    return sweep.finish();
}

Result<std::vector<terrain::Contour>> linesOf(const RasterSource& dem, const HeightReading& heights,
                                              const terrain::ContourLevels& levels, int smoothing,
                                              const Progress& progress) {
    if (smoothing <= 0 && dem.info().width * dem.info().height > kStreamedCells)
        return streamedContours(dem, heights, levels, progress);
    const auto surface = contourSurface(dem, heights, smoothing, progress.part(0, 0.3));
    if (!surface) return surface.error();
    return terrain::contours(surface->heights.view(), surface->toWorld, levels,
                             progress.part(0.3, 1));
}
}  // namespace

Result<FeatureTable> filledContourTable(const RasterSource& dem, const HeightReading& heights,
                                        const terrain::ContourLevels& levels, int smoothing,
                                        const Progress& progress) {
    const auto surface = contourSurface(dem, heights, smoothing, progress.part(0, 0.3));
    if (!surface) return surface.error();
    auto bands = terrain::filledContours(surface->heights.view(), surface->toWorld, levels,
                                         progress.part(0.3, 1));
    if (!bands) return bands.error();
    FeatureList out;
    out.info.name = "filled contours";
    out.info.geometry = GeometryType::Polygon;
    out.info.crs = dem.info().crs;
    out.info.fields = {{"level_low", FieldType::Real}, {"level_high", FieldType::Real}};
    const auto value = [](double level) { return std::isfinite(level) ? Value(level) : Value(); };
    for (terrain::ContourBand& band : *bands)
        out.features.push_back({static_cast<std::int64_t>(out.features.size()) + 1,
                                std::move(band.area),
                                {value(band.low), value(band.high)}});
    return FeatureTable(std::move(out));
}

Result<FeatureTable> contourTable(const RasterSource& dem, const HeightReading& heights,
                                  const ContourColumns& columns,
                                  const terrain::ContourLevels& levels, int smoothing,
                                  const Progress& progress) {
    auto lines = linesOf(dem, heights, levels, smoothing, progress);
    if (!lines) return lines.error();
    FeatureList out;
    out.info.name = "contours";
    out.info.geometry = GeometryType::Line;
    out.info.crs = dem.info().crs;
    out.info.fields = {{columns.level, FieldType::Real}};
    if (columns.indexEvery > 0) out.info.fields.push_back({"index", FieldType::Boolean});
    for (terrain::Contour& line : *lines) {
        std::vector<Value> values{line.level};
        if (columns.indexEvery > 0)
            values.emplace_back(levels.isIndex(line.level, columns.indexEvery));
        out.features.push_back({static_cast<std::int64_t>(out.features.size()),
                                Geometry::line(std::move(line.points)), std::move(values)});
    }
    return FeatureTable(std::move(out));
}

}  // namespace ledge::session
