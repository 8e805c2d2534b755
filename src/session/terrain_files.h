#pragma once
#include <filesystem>

#include "core/terrain/contours.h"
#include "core/terrain/hillshade.h"
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

    DerivedFile(std::filesystem::path file) : path(std::move(file)) {}
    DerivedFile(std::filesystem::path file, io::RasterWriting how)
        : path(std::move(file)), writing(how) {}
};

/// What the automatic height scale did, in words.
std::string heightScaleText(const RasterInfo& info, const HeightReading& heights);

/// 8-bit, 1 to 255, nodata 0.
Result<void> writeHillshade(const RasterSource& dem, const HeightReading& heights,
                            const std::vector<terrain::Light>& lights,
                            terrain::GradientMethod method, const DerivedFile& file,
                            const Progress& progress);
/// float32.
Result<void> writeSlope(const RasterSource& dem, const HeightReading& heights,
                        terrain::SlopeUnit unit, terrain::GradientMethod method,
                        const DerivedFile& file, const Progress& progress);

/// float32, degrees clockwise from north; flat ground is nodata.
Result<void> writeAspect(const RasterSource& dem, const HeightReading& heights,
                         terrain::GradientMethod method, const DerivedFile& file,
                         const Progress& progress);

/// Filled contours of a whole DEM in its CRS with the columns level_low and level_high (missing
/// below the first and above the last level).
Result<FeatureTable> filledContourTable(const RasterSource& dem, const HeightReading& heights,
                                        const terrain::ContourLevels& levels,
                                        const Progress& progress);

/// Contour lines of a whole DEM in its CRS with the level in `column` (metres when the DEM's unit
/// is known). Errors: LimitExceeded over 400 million cells.
Result<FeatureTable> contourTable(const RasterSource& dem, const HeightReading& heights,
                                  const terrain::ContourLevels& levels, const std::string& column,
                                  const Progress& progress);

/// Ground size of the cells of each row: metres, on the ellipsoid for geographic grids.
std::vector<CellSize> rowCellSizes(const RasterInfo& info, std::int64_t firstRow,
                                   std::int64_t count);

}  // namespace ledge::session
