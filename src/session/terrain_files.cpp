#include "session/terrain_files.h"

#include "core/base/numbers.h"
#include "core/base/parallel.h"
#include "core/terrain/aspect.h"
#include "core/terrain/filled_contours.h"
#include "io/geotiff/geotiff_writer.h"

namespace ledge::session {
namespace {
namespace fs = std::filesystem;
constexpr std::int64_t kBlockRows = 256;
constexpr std::size_t kPieceRows = 32;

using Kernel = std::function<Result<void>(BlockView<const float>, std::span<const CellSize>,
                                          BlockView<float>)>;

// Rows [first, first + count) of a DEM with a cell of rim around them, beyond the edge of the
// raster continued linearly.
Result<void> readWithRim(const RasterSource& dem, std::int64_t first, std::int64_t count,
                         BlockView<float> out) {
    const RasterInfo& info = dem.info();
    const std::int64_t row0 = std::max<std::int64_t>(0, first - 1);
    const std::int64_t row1 = std::min(info.height, first + count + 1);
    const bool atNorth = first == 0, atSouth = first + count == info.height;
    const auto inner = out.part(atNorth ? 1 : 0, 1, static_cast<std::size_t>(row1 - row0),
                                static_cast<std::size_t>(info.width));
    const auto done = dem.read(0, {0, row0, info.width, row1 - row0}, inner);
    if (done) terrain::continueRim(out, atNorth, atSouth);
    return done;
}

// Each thread reads and works on few rows at a time, so that they stay in its cache.
Result<void> writeDerived(const RasterSource& dem, RasterInfo info, const DerivedFile& file,
                          const Kernel& kernel, const Progress& progress) {
    const fs::path& path = file.path;
    if (path.extension() != ".tif" && path.extension() != ".tiff")
        return Error{ErrorCode::Unsupported, path.string(),
                     "derived rasters are written as GeoTIFF", "use a name that ends in .tif"};
    auto sink = io::createGeoTiff(path, info, file.writing);
    if (!sink) return sink.error();
    const auto width = static_cast<std::size_t>(info.width);
    Grid<float> out(kBlockRows, width);
    for (std::int64_t row = 0; row < info.height; row += kBlockRows) {
        if (progress.stopped()) return cancelled(path.string());
        const std::int64_t count = std::min(kBlockRows, info.height - row);
        const auto cells = rowCellSizes(info, row, count);
        Result<void> failure;
        std::mutex mutex;
        parallelRanges(static_cast<std::size_t>(count), kPieceRows,
                       [&](std::size_t begin, std::size_t end) {
            static thread_local Grid<float> rim;
            if (rim.cols() != width + 2) rim = Grid<float>(kPieceRows + 2, width + 2);
            const auto heights = rim.view().part(0, 0, end - begin + 2, width + 2);
            auto done = readWithRim(dem, row + static_cast<std::int64_t>(begin),
                                    static_cast<std::int64_t>(end - begin), heights);
            if (done)
                done = kernel(heights, std::span(cells).subspan(begin, end - begin),
                              out.view().part(begin, 0, end - begin, width));
            const std::lock_guard lock(mutex);
            if (!done) failure = done;
        });
        if (!failure) return failure;
        const auto rows = out.view().part(0, 0, static_cast<std::size_t>(count), width);
        if (const auto done = (*sink)->append(BlockView<const float>(rows)); !done) return done;
        progress.at(static_cast<double>(row + count) / static_cast<double>(info.height));
    }
    return (*sink)->finish();
}

RasterInfo derivedInfo(const RasterInfo& dem, BandInfo band) {
    RasterInfo out = dem;
    out.bands = {std::move(band)};
    return out;
}
}  // namespace

std::vector<CellSize> rowCellSizes(const RasterInfo& info, std::int64_t first, std::int64_t count) {
    const double dx = info.toWorld.columnLength(), dy = info.toWorld.rowLength();
    std::vector<CellSize> sizes;
    for (std::int64_t r = first; r < first + count; ++r) {
        Point metres{1, 1};
        if (info.crs && info.crs->isGeographic()) {
            const Point middle =
                info.toWorld({static_cast<double>(info.width) / 2, static_cast<double>(r) + 0.5});
            metres = crs::metresPerDegree(info.crs->ellipsoid, middle.y);
            metres.x = std::max(metres.x, 1e-6);  // at a pole
        } else if (info.crs) {
            metres = {info.crs->unit.size, info.crs->unit.size};
        }
        sizes.push_back({dx * metres.x, dy * metres.y});
    }
    return sizes;
}

std::string heightScaleText(const RasterInfo& info, const HeightReading& heights) {
    if (heights.heightScale) return "Set by hand: heights × " + formatNumber(*heights.heightScale);
    const bool isFoot = heights.metresPerHeight != 1;
    const std::string height = isFoot ? "heights in feet, taken × 0.3048" : "heights in metres";
    if (!info.crs) return "Auto — " + height + "; ground unit unknown, taken as metres";
    if (info.crs->isGeographic())
        return "Auto — " + height + "; ground in degrees, turned into metres row by row";
    if (info.crs->unit.size == 1 && !isFoot) return "Auto 1.0 — heights and ground both in metres";
    return "Auto — " + height + "; ground in " + info.crs->unit.name + " of " +
           formatNumber(info.crs->unit.size) + " m";
}

Result<void> writeHillshade(const RasterSource& dem, const HeightReading& heights,
                            const std::vector<terrain::Light>& lights,
                            terrain::GradientMethod method, const DerivedFile& file,
                            const Progress& progress) {
    const auto kernel = [&](BlockView<const float> in, std::span<const CellSize> cells,
                            BlockView<float> out) -> Result<void> {
        const auto done =
            terrain::hillshade(in, cells, heights.factor(), method, lights, out, progress.stop);
        for (std::size_t r = 0; r < out.rows(); ++r)
            terrain::toShadeBytes(out.row(r).data(), out.cols());
        return done;
    };
    return writeDerived(dem, derivedInfo(dem.info(), {CellType::UInt8, 0.0, ""}), file, kernel,
                        progress);
}

Result<void> writeSlope(const RasterSource& dem, const HeightReading& heights,
                        terrain::SlopeUnit unit, terrain::GradientMethod method,
                        const DerivedFile& file, const Progress& progress) {
    const auto kernel = [&](BlockView<const float> in, std::span<const CellSize> cells,
                            BlockView<float> out) {
        return terrain::slope(in, cells, heights.factor(), method, unit, out, progress.stop);
    };
    return writeDerived(dem, derivedInfo(dem.info(), {CellType::Float32, -9999.0, ""}), file,
                        kernel, progress);
}

Result<void> writeAspect(const RasterSource& dem, const HeightReading& heights,
                         terrain::GradientMethod method, const DerivedFile& file,
                         const Progress& progress) {
    const auto kernel = [&](BlockView<const float> in, std::span<const CellSize> cells,
                            BlockView<float> out) {
        return terrain::aspect(in, cells, heights.factor(), method, out, progress.stop);
    };
    return writeDerived(dem, derivedInfo(dem.info(), {CellType::Float32, -9999.0, ""}), file,
                        kernel, progress);
}

namespace {
// All heights of a DEM in metres.
Result<Grid<float>> wholeDem(const RasterSource& dem, const HeightReading& heights,
                             const Progress& progress) {
    const RasterInfo& info = dem.info();
    if (info.width * info.height > 400'000'000)
        return Error{ErrorCode::LimitExceeded, "contours",
                     "the DEM has more than 400 million cells",
                     "convert it with a larger --cell first"};
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

Result<FeatureTable> filledContourTable(const RasterSource& dem, const HeightReading& heights,
                                        const terrain::ContourLevels& levels,
                                        const Progress& progress) {
    const auto cells = wholeDem(dem, heights, progress.part(0, 0.3));
    if (!cells) return cells.error();
    auto bands =
        terrain::filledContours(cells->view(), dem.info().toWorld, levels, progress.part(0.3, 1));
    if (!bands) return bands.error();
    FeatureTable out;
    out.info.name = "filled contours";
    out.info.geometry = GeometryType::Polygon;
    out.info.crs = dem.info().crs;
    out.info.fields = {{"level_low", FieldType::Real}, {"level_high", FieldType::Real}};
    const auto value = [](double level) { return std::isfinite(level) ? Value(level) : Value(); };
    for (terrain::ContourBand& band : *bands)
        out.features.push_back({static_cast<std::int64_t>(out.features.size()) + 1,
                                std::move(band.area),
                                {value(band.low), value(band.high)}});
    out.refreshInfo();
    return out;
}

Result<FeatureTable> contourTable(const RasterSource& dem, const HeightReading& heights,
                                  const terrain::ContourLevels& levels, const std::string& column,
                                  const Progress& progress) {
    const RasterInfo& info = dem.info();
    const auto cells = wholeDem(dem, heights, progress.part(0, 0.3));
    if (!cells) return cells.error();
    auto lines = terrain::contours(cells->view(), info.toWorld, levels, progress.part(0.3, 1));
    if (!lines) return lines.error();
    FeatureTable out;
    out.info.name = "contours";
    out.info.geometry = GeometryType::Line;
    out.info.crs = info.crs;
    out.info.fields = {{column, FieldType::Real}};
    for (terrain::Contour& line : *lines)
        out.features.push_back({static_cast<std::int64_t>(out.features.size()),
                                Geometry::line(std::move(line.points)),
                                {line.level}});
    out.refreshInfo();
    return out;
}

}  // namespace ledge::session
