#pragma once
#include <filesystem>

#include "core/symbol/ramp.h"
#include "core/terrain/contours.h"
#include "core/terrain/derived_raster.h"
#include "document/document.h"
#include "io/registry.h"

/// Derivatives of a DEM written to files, block by block; what the command and the window share.
/// All write atomically and leave nothing behind when stopped.
namespace ledge::session {

struct HeightReading {
    double metresPerHeight = 1;         ///< of the DEM's height unit
    std::optional<double> heightScale;  ///< times which heights are taken; nothing: 1
    double factor() const { return metresPerHeight * heightScale.value_or(1); }
};

/// Where a derived raster goes.
struct DerivedFile {
    std::filesystem::path path;
    io::RasterWriting writing{io::Compression::None};
    io::Replacing replacing = io::Replacing::Own;
};

/// What the automatic height scale did, in words.
std::string heightScaleText(const RasterInfo& info, const HeightReading& heights);

/// A raster that is computed as it is read, on all cores, to a GeoTIFF. `pieceRows` are computed at
/// a time by each thread. Errors: Unsupported for another suffix; those of reading and writing.
Result<void> writeComputed(const RasterSource& source, const DerivedFile& file,
                           const Progress& progress, std::size_t pieceRows = 32);

/// Filled contours of a whole DEM in its CRS with the columns level_low and level_high (missing
/// below the first and above the last level). `smoothing` 0: straight from cell to cell; n: on a
/// surface smoothed in n steps to a cell. Errors: LimitExceeded over 400 million cells.
Result<FeatureTable> filledContourTable(const RasterSource& dem, const HeightReading& heights,
                                        const terrain::ContourLevels& levels, int smoothing,
                                        const Progress& progress);

struct ContourColumns {
    std::string level = "level";  ///< metres when the DEM's unit is known
    int indexEvery = 0;           ///< over 0: a column "index", true at every so many levels
};
/// Contour lines of a whole DEM in its CRS; smoothing as above. A large DEM is streamed, so that
/// only a smoothed one is limited in size. Errors: LimitExceeded as above, when smoothed.
Result<FeatureTable> contourTable(const RasterSource& dem, const HeightReading& heights,
                                  const ContourColumns& columns,
                                  const terrain::ContourLevels& levels, int smoothing,
                                  const Progress& progress);

}  // namespace ledge::session
