#include "io/registry.h"

#include <fstream>

#include "core/base/numbers.h"
#include "io/asciigrid/ascii_grid.h"
#include "io/binarygrid/binary_grid.h"
#include "io/files/atomic_file.h"
#include "io/geojson/geojson.h"
#include "io/geopackage/geopackage.h"
#include "io/geopackage/tile_reader.h"
#include "io/geotiff/geotiff_reader.h"
#include "io/geotiff/geotiff_writer.h"
#include "io/picture/picture_codec.h"
#include "io/picture/picture_file.h"
#include "io/shapefile/shapefile.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;

std::string suffixOf(const fs::path& path) { return lowered(path.extension().string()); }

template <typename T>
Result<Source> wrapped(Result<T> opened) {
    if (!opened) return opened.error();
    return Source(*std::move(opened));
}

Result<std::string> headOf(const fs::path& path) {
    std::error_code code;
    if (!fs::exists(path, code))
        return Error{ErrorCode::NotFound, nameOf(path), "no such file", "check the path"};
    if (fs::is_directory(path, code))
        return Error{ErrorCode::InvalidArgument, nameOf(path), "a folder, not a file",
                     "choose a file in it"};
    std::ifstream in(path, std::ios::binary);
    if (!in) return ioFailure(path, "cannot be opened", "check permissions");
    std::string head(512, '\0');
    in.read(head.data(), 512);
    head.resize(static_cast<std::size_t>(std::max<std::streamsize>(0, in.gcount())));
    if (head.empty()) return badFormat(path, "the file is empty", "get a fresh copy");
    return head;
}

}  // namespace

Result<Source> openSource(const fs::path& path, const Progress& progress) {
    const auto head = headOf(path);
    if (!head) return head.error();
    const auto starts = [&](std::string_view magic) { return head->starts_with(magic); };
    using namespace std::string_view_literals;
    if (starts("II*\0"sv) || starts("MM\0*"sv) || starts("II+\0"sv) || starts("MM\0+"sv))
        return wrapped(openGeoTiff(path));
    if (starts("SQLite format 3\0"sv))
        return holdsOnlyTiles(path) ? wrapped(openTiles(path)) : wrapped(openGeoPackage(path));
    if (starts("\0\0\x27\x0a"sv)) {
        if (suffixOf(path) != ".shx") return wrapped(openShapefile(path, progress));
        return Error{ErrorCode::Unsupported, nameOf(path), "the index of a shapefile",
                     "open the .shp beside it"};
    }
    if (looksLikePng(*head) || looksLikeJpeg(*head)) return wrapped(openPicture(path));
    // Headerless ones have nothing but their names.
    if (looksLikeElevationTile(path)) return wrapped(openElevationTile(path));
    if (suffixOf(path) == ".flt") return wrapped(openFloatGrid(path));
    if (looksLikeAsciiGrid(*head)) return wrapped(openAsciiGrid(path));
    const std::string start = trimmed(starts("\xEF\xBB\xBF") ? head->substr(3) : *head);
    if (start.starts_with("{")) return wrapped(openGeoJson(path, progress));
    const std::string suffix = suffixOf(path);
    if (suffix == ".dbf" || suffix == ".prj" || suffix == ".cpg")
        return Error{ErrorCode::Unsupported, nameOf(path), "a part of a shapefile",
                     "open the .shp beside it"};
    if (suffix == ".hgt") return wrapped(openElevationTile(path));  // says what is wrong
    if (suffix == ".hdr")
        return Error{ErrorCode::Unsupported, nameOf(path), "the header of a binary grid",
                     "open the .flt beside it"};
    for (const char* known :
         {".tif", ".tiff", ".gpkg", ".shp", ".asc", ".geojson", ".png", ".jpg", ".jpeg"})
        if (suffix == known) return badFormat(path, "its content is not what its suffix says");
    return Error{
        ErrorCode::Unsupported, nameOf(path), "not a format that can be read",
        "use GeoTIFF, PNG, JPEG, ASCII grid, .hgt, .flt, GeoPackage, shapefile or GeoJSON"};
}

namespace {
bool isPicture(const std::string& suffix) {
    return suffix == ".png" || suffix == ".jpg" || suffix == ".jpeg";
}
}  // namespace

bool writesVector(const fs::path& path) {
    const std::string s = suffixOf(path);
    return s == ".gpkg" || s == ".geojson" || s == ".json" || s == ".shp";
}
bool writesRaster(const fs::path& path) {
    const std::string s = suffixOf(path);
    return s == ".tif" || s == ".tiff" || s == ".asc" || isPicture(s);
}

Result<void> writeTable(const FeatureTable& table, const fs::path& path, const Progress& progress) {
    const std::string suffix = suffixOf(path);
    if (suffix == ".gpkg") return writeGeoPackage(table, path, progress);
    if (suffix == ".geojson" || suffix == ".json") return writeGeoJson(table, path, progress);
    if (suffix == ".shp") return writeShapefile(table, path, progress);
    return Error{ErrorCode::Unsupported, nameOf(path),
                 "vector layers cannot be written as " + suffix, "use .gpkg, .geojson or .shp"};
}

Result<void> writeRaster(const RasterSource& source, const fs::path& path,
                         const RasterWriting& writing, const Progress& progress) {
    const std::string suffix = suffixOf(path);
    if (suffix == ".tif" || suffix == ".tiff")
        return copyToGeoTiff(source, path, writing, progress);
    if (suffix == ".asc") return writeAsciiGrid(source, path, progress);
    if (isPicture(suffix)) return writePicture(source, path, progress);
    return Error{ErrorCode::Unsupported, nameOf(path), "rasters cannot be written as " + suffix,
                 "use .tif, .asc, .png or .jpg"};
}

RasterPtr declared(RasterPtr source, crs::CrsPtr crs) {
    RasterInfo info = source->info();
    info.crs = std::move(crs);
    return std::make_shared<ForwardedRaster>(std::move(source), std::move(info));
}

}  // namespace ledge::io
