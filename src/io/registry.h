#pragma once
#include <filesystem>
#include <span>
#include <string_view>
#include <variant>
#include <vector>

#include "core/base/locator.h"
#include "core/base/progress.h"
#include "core/feature/feature.h"
#include "core/raster/raster_source.h"
#include "io/files/file_set.h"
#include "io/raster_writing.h"

namespace ledge::io {

using Source = std::variant<RasterPtr, FeatureSourcePtr>;

/// Opens a file by its content; what cannot be read in parts is read whole, and can be stopped.
/// Errors: NotFound, BadFormat, Unsupported, LimitExceeded, IoFailure, Cancelled.
Result<Source> openSource(const std::filesystem::path& path, const Progress& progress = {},
                          const Reading& reading = {});
/// Opens what a locator names. Errors: those above; Unsupported for addresses of services.
Result<Source> openSource(const Locator& where, const Progress& progress = {});

/// They fill a set, which then appears as one. A database of several layers, and a raster that is
/// written row by row, are complete before they return.
using WriteTable = Result<void> (*)(const FeatureTable&, FileSet&, const Progress&);
using WriteParts = Result<void> (*)(const LayerInfo&, const NextPart&, FileSet&, const Progress&);
using WriteRaster = Result<void> (*)(const RasterSource&, FileSet&, const RasterWriting&,
                                     const Progress&);

/// One row a format: what it is called, which suffixes name it, of which files it is made, how it
/// is known, read and written.
struct Format {
    std::string_view name;
    std::vector<std::string_view> suffixes;  ///< small letters with their dot, the usual one first
    std::vector<FilePart> parts;             ///< files beside it that belong to it
    /// By the first bytes of a file, or by its name where it has no head.
    bool (*isFormatOf)(std::string_view head, const std::filesystem::path& path) = nullptr;
    Result<Source> (*open)(const std::filesystem::path& path, const Progress& progress,
                           const Reading& reading) = nullptr;
    WriteTable writeTable = nullptr;    ///< null: features are not written in it
    WriteRaster writeRaster = nullptr;  ///< null: rasters are not written in it
    /// What of a table would be lost in it, in words; null: nothing.
    std::vector<std::string> (*limits)(const FeatureTable& table) = nullptr;
    WriteParts writeParts = nullptr;  ///< null: a table must be given whole
    bool has(std::string_view suffix) const;
};
/// In the order in which a file is tried.
std::span<const Format> formats();

enum class Writes : std::uint8_t { Nothing, Tables, Rasters };
/// Suffixes of the formats that are read, or that write a kind of data; small letters.
std::vector<std::string> suffixes(Writes kind = Writes::Nothing);
/// The same in words: ".gpkg, .geojson or .shp".
std::string suffixWords(Writes kind = Writes::Nothing);
/// Names of the formats that are read: "GeoTIFF, PNG, … or GeoJSON".
std::string formatWords();

/// Whether a suffix names a vector or raster format that can be written.
bool writesVector(const std::filesystem::path& path);
bool writesRaster(const std::filesystem::path& path);

/// What of a table would be lost in the format of the suffix, in words, before it is written.
std::vector<std::string> limitsOf(const FeatureTable& table, const std::filesystem::path& path);
/// Whether that format may lose anything at all.
bool mayLimit(const std::filesystem::path& path);

/// Write a table or a raster in the format of the suffix, with its parts all or nothing. Errors:
/// Unsupported for other suffixes; InvalidArgument where a part is not ours to replace; those of
/// the format.
Result<void> writeTable(const FeatureTable& table, const std::filesystem::path& path,
                        const Progress& progress, Replacing replacing = Replacing::Own);
Result<void> writeRaster(const RasterSource& source, const std::filesystem::path& path,
                         const RasterWriting& writing, const Progress& progress,
                         Replacing replacing = Replacing::Own);
/// Whether the format of the suffix takes tables part by part.
bool writesParts(const std::filesystem::path& path);
/// A table that comes part by part, its keys unique; `info` tells name, CRS and fields. Errors: as
/// for writeTable(), and those of `next`.
Result<void> writeParts(const LayerInfo& info, const NextPart& next,
                        const std::filesystem::path& path, const Progress& progress,
                        Replacing replacing = Replacing::Own);
/// A raster that is given row by row. Errors: Unsupported for formats other than GeoTIFF.
Result<std::unique_ptr<RasterSink>> createRaster(const std::filesystem::path& path,
                                                 const RasterInfo& info,
                                                 const RasterWriting& writing,
                                                 Replacing replacing = Replacing::Own);

/// A raster with another CRS declared, cells untouched.
RasterPtr declared(RasterPtr source, crs::CrsPtr crs);

}  // namespace ledge::io
