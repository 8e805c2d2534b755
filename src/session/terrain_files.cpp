#include "session/terrain_files.h"

#include "core/base/numbers.h"
#include "core/base/parallel.h"
#include "core/terrain/aspect.h"
#include "core/terrain/filled_contours.h"

namespace ledge::session {
namespace {
namespace fs = std::filesystem;
constexpr std::int64_t kBlockRows = 256;

// Rows [first - 1, first + count + 1) of a DEM with a column to either side, the edge of the raster
// continued linearly.
Result<Grid<float>> haloBlock(const RasterSource& dem, std::int64_t first, std::int64_t count) {
    const RasterInfo& info = dem.info();
    const std::int64_t row0 = std::max<std::int64_t>(0, first - 1);
    const std::int64_t row1 = std::min(info.height, first + count + 1);
    Grid<float> cells(static_cast<std::size_t>(row1 - row0), static_cast<std::size_t>(info.width));
    if (const auto done = dem.read(0, {0, row0, info.width, row1 - row0}, cells.view()); !done)
        return done.error();
    const Grid<float> wide = terrain::withHalo(cells.view());
    // withHalo added a row at either end; where the DEM itself gave that row, ours is dropped.
    const std::size_t skip = first > 0 ? 1 : 0;
    Grid<float> out(static_cast<std::size_t>(count + 2), wide.cols());
    for (std::size_t r = 0; r < out.rows(); ++r)
        std::copy(wide.row(r + skip).begin(), wide.row(r + skip).end(), out.row(r).begin());
    return out;
}

using Kernel = std::function<Result<void>(BlockView<const float>, std::span<const CellSize>,
                                          BlockView<float>)>;

Result<void> writeDerived(const RasterSource& dem, RasterInfo info, const fs::path& path,
                          const Kernel& kernel, const Progress& progress) {
    if (path.extension() != ".tif" && path.extension() != ".tiff")
        return Error{ErrorCode::Unsupported, path.string(),
                     "derived rasters are written as GeoTIFF", "use a name that ends in .tif"};
    auto sink = io::createGeoTiff(path, info, io::Compression::Deflate);
    if (!sink) return sink.error();
    for (std::int64_t row = 0; row < info.height; row += kBlockRows) {
        if (progress.stopped()) return cancelled(path.string());
        const std::int64_t count = std::min(kBlockRows, info.height - row);
        const auto heights = haloBlock(dem, row, count);
        if (!heights) return heights.error();
        const auto cells = rowCellSizes(info, row, count);
        Grid<float> out(static_cast<std::size_t>(count), static_cast<std::size_t>(info.width));
        Result<void> failure;
        std::mutex mutex;
        parallelRanges(out.rows(), 32, [&](std::size_t begin, std::size_t end) {
            const auto done =
                kernel(heights->view().part(begin, 0, end - begin + 2, heights->cols()),
                       std::span(cells).subspan(begin, end - begin),
                       out.view().part(begin, 0, end - begin, out.cols()));
            const std::lock_guard lock(mutex);
            if (!done) failure = done;
        });
        if (!failure) return failure;
        if (const auto done = (*sink)->append(BlockView<const float>(out.view())); !done)
            return done;
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
                            terrain::GradientMethod method, const fs::path& path,
                            const Progress& progress) {
    const auto kernel = [&](BlockView<const float> in, std::span<const CellSize> cells,
                            BlockView<float> out) -> Result<void> {
        const auto done =
            terrain::hillshade(in, cells, heights.factor(), method, lights, out, progress.stop);
        for (std::size_t r = 0; r < out.rows(); ++r)
            for (float& v : out.row(r)) v = terrain::shadeByte(v);
        return done;
    };
    return writeDerived(dem, derivedInfo(dem.info(), {CellType::UInt8, 0.0, ""}), path, kernel,
                        progress);
}

Result<void> writeSlope(const RasterSource& dem, const HeightReading& heights,
                        terrain::SlopeUnit unit, terrain::GradientMethod method,
                        const fs::path& path, const Progress& progress) {
    const auto kernel = [&](BlockView<const float> in, std::span<const CellSize> cells,
                            BlockView<float> out) {
        return terrain::slope(in, cells, heights.factor(), method, unit, out, progress.stop);
    };
    return writeDerived(dem, derivedInfo(dem.info(), {CellType::Float32, -9999.0, ""}), path,
                        kernel, progress);
}

Result<void> writeAspect(const RasterSource& dem, const HeightReading& heights,
                         terrain::GradientMethod method, const fs::path& path,
                         const Progress& progress) {
    const auto kernel = [&](BlockView<const float> in, std::span<const CellSize> cells,
                            BlockView<float> out) {
        return terrain::aspect(in, cells, heights.factor(), method, out, progress.stop);
    };
    return writeDerived(dem, derivedInfo(dem.info(), {CellType::Float32, -9999.0, ""}), path,
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
