#include "session/reproject_file.h"

#include "core/feature/reproject.h"
#include "core/raster/reprojected_raster.h"

namespace ledge::session {

Result<void> reprojectToFile(const SourceCache& sources, const doc::SourceRef& source,
                             const crs::CrsPtr& target, Resampling resampling,
                             const std::filesystem::path& path, const Progress& progress) {
    const crs::CrsPtr from = sources.crsOf(source);
    if (!from || !target)
        return Error{ErrorCode::InvalidArgument, source.name, "has no CRS to reproject from",
                     "declare the CRS it is in first"};
    if (const auto table = sources.table(source, progress.part(0, 0.4))) {
        const auto moved = reprojected(**table, target);
        if (!moved) return moved.error();
        return io::writeTable(*moved, path, progress.part(0.5, 1));
    }
    const auto pyramid = sources.raster(source);
    if (!pyramid) return pyramid.error();
    // The pyramid lives as long as this; its source is shared without owning it.
    const RasterPtr raster(*pyramid, &(*pyramid)->source());
    const auto way = crs::Transformation::between(from, target);
    if (!way) return way.error();
    const auto grid = suggestedGrid(raster->info(), *way);
    if (!grid) return grid.error();
    const ReprojectedRaster moved(raster, *way, target, *grid, resampling);
    return io::writeRaster(moved, path, io::Compression::Deflate, progress);
}

}  // namespace ledge::session
