#include "io/registry.h"

#include <algorithm>
#include <array>

#include "core/base/numbers.h"
#include "io/asciigrid/ascii_grid.h"
#include "io/binarygrid/binary_grid.h"
#include "io/csv/csv_table.h"
#include "io/dxf/dxf.h"
#include "io/files/atomic_file.h"
#include "io/files/held_locks.h"
#include "io/files/leftovers.h"
#include "io/geojson/geojson.h"
#include "io/geopackage/geopackage.h"
#include "io/geopackage/tile_reader.h"
#include "io/geotiff/geotiff_reader.h"
#include "io/geotiff/geotiff_writer.h"
#include "io/gml/gml.h"
#include "io/gpx/gpx.h"
#include "io/kml/kml.h"
#include "io/las/las.h"
#include "io/picture/picture_codec.h"
#include "io/picture/picture_file.h"
#include "io/shapefile/shapefile.h"
#include "io/zip/zipped_shapefile.h"

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
    if (!fs::is_regular_file(path, code))
        return Error{ErrorCode::Unsupported, nameOf(path), "a pipe or device, which is read once",
                     "write it to a file first, and give that"};
    auto head = readBeginning(path, 512);
    if (!head) return ioFailure(path, "cannot be opened", "check permissions");
    if (head->empty()) return badFormat(path, "the file is empty", "get a fresh copy");
    return *std::move(head);
}

using namespace std::string_view_literals;
using Head = std::string_view;

// The reader of a format as the table wants it.
template <auto read>
Result<Source> opened(const fs::path& path, const Progress&, const Reading&) {
    return wrapped(read(path));
}
template <auto read>
Result<Source> openedInSteps(const fs::path& path, const Progress& progress, const Reading&) {
    return wrapped(read(path, progress));
}
template <auto read>
Result<Source> openedAsTold(const fs::path& path, const Progress& progress,
                            const Reading& reading) {
    return wrapped(read(path, progress, reading));
}

bool isTiff(Head head, const fs::path&) {
    return head.starts_with("II*\0"sv) || head.starts_with("MM\0*"sv) ||
           head.starts_with("II+\0"sv) || head.starts_with("MM\0+"sv);
}
bool isDatabase(Head head, const fs::path&) { return head.starts_with("SQLite format 3\0"sv); }
Result<Source> openDatabase(const fs::path& path, const Progress& progress, const Reading&) {
    return holdsOnlyTiles(path) ? wrapped(openTiles(path))
                                : wrapped(openGeoPackage(path, progress));
}
bool isShapefile(Head head, const fs::path& path) {
    return head.starts_with("\0\0\x27\x0a"sv) && suffixOf(path) != ".shx";
}
bool isPng(Head head, const fs::path&) { return looksLikePng(head); }
bool isJpeg(Head head, const fs::path&) { return looksLikeJpeg(head); }
bool isElevationTile(Head, const fs::path& path) {
    return looksLikeElevationTile(path) || suffixOf(path) == ".hgt";  // which says what is wrong
}
bool isFloatGrid(Head, const fs::path& path) { return suffixOf(path) == ".flt"; }
bool isAsciiGrid(Head head, const fs::path&) { return looksLikeAsciiGrid(std::string(head)); }
bool isJsonLines(Head, const fs::path& path) {
    return suffixOf(path) == ".geojsonl" || suffixOf(path) == ".ndjson";
}
bool isKml(Head head, const fs::path& path) {
    return suffixOf(path) == ".kml" || head.find("<kml") != Head::npos;
}
bool isGpx(Head head, const fs::path& path) {
    return suffixOf(path) == ".gpx" || head.find("<gpx") != Head::npos;
}
bool isKmz(Head head, const fs::path& path) {
    return head.starts_with("PK") && suffixOf(path) == ".kmz";
}
bool isZip(Head head, const fs::path&) { return head.starts_with("PK\x03\x04"sv); }
bool isGml(Head head, const fs::path& path) {
    return suffixOf(path) == ".gml" || head.find("opengis.net/gml") != Head::npos ||
           head.find("FeatureCollection xmlns") != Head::npos;
}
// Its first group is 0, a section.
bool isDrawing(Head head, const fs::path& path) {
    return suffixOf(path) == ".dxf" ||
           (trimmed(head.substr(0, head.find('\n'))) == "0" && head.find("SECTION") != Head::npos);
}
bool isPointCloud(Head head, const fs::path&) { return head.starts_with("LASF"); }
bool isTopology(Head, const fs::path& path) { return suffixOf(path) == ".topojson"; }
bool isTextTable(Head, const fs::path& path) {
    return suffixOf(path) == ".csv" || suffixOf(path) == ".tsv";
}
bool isJson(Head head, const fs::path&) {
    return trimmed(std::string(head.starts_with("\xEF\xBB\xBF") ? head.substr(3) : head))
        .starts_with("{");
}

Result<void> writeAscii(const RasterSource& source, FileSet& set, const RasterWriting&,
                        const Progress& progress) {
    return writeAsciiGrid(source, set, progress);
}
Result<void> writePlainPicture(const RasterSource& source, FileSet& set, const RasterWriting&,
                               const Progress& progress) {
    return writePicture(source, set, progress);
}
// What formats of plain places have no room for.
std::vector<std::string> withoutMeasures(const FeatureTable& table) {
    if (!table.info.hasM) return {};
    return {"measures (M) are left out"};
}
std::string listed(const std::vector<std::string>& words) {
    std::string out;
    for (std::size_t i = 0; i < words.size(); ++i)
        out += (i == 0 ? "" : i + 1 == words.size() ? " or " : ", ") + words[i];
    return out;
}

bool does(const Format& format, Writes kind) {
    switch (kind) {
    case Writes::Nothing: return true;
    case Writes::Tables: return format.writeTable != nullptr;
    case Writes::Rasters: return format.writeRaster != nullptr;
    }
    return false;
}

// A file of another name than `but` that has this one as its part; empty when there is none.
fs::path otherWith(const fs::path& part, const fs::path& but) {
    std::error_code code;
    for (const Format& format : formats())
        for (const FilePart& one : format.parts)
            for (const std::string_view suffix : format.suffixes) {
                fs::path main = part;
                if (one.isAfter)
                    main.replace_extension();
                else
                    main.replace_extension(suffix);
                if (main != but && suffixOf(main) == suffix && one.of(main) == part &&
                    fs::exists(main, code))
                    return main;
            }
    return {};
}

// The file beside this one that it is a part of.
std::optional<fs::path> wholeOf(const fs::path& part) {
    const fs::path main = otherWith(part, {});
    return main.empty() ? std::nullopt : std::optional(main);
}

const Format* formatOf(const fs::path& path, Writes kind) {
    for (const Format& format : formats())
        if (does(format, kind) && format.has(suffixOf(path))) return &format;
    return nullptr;
}
}  // namespace

bool Format::has(std::string_view suffix) const {
    return std::find(suffixes.begin(), suffixes.end(), suffix) != suffixes.end();
}

std::span<const Format> formats() {
    static const std::vector<Format> all{
        {"GeoTIFF",
         {".tif", ".tiff"},
         {{".ovr", true}, {".msk", true}, {".prj"}, {".tfw"}},
         isTiff,
         opened<openGeoTiff>,
         nullptr,
         copyToGeoTiff},
        {"GeoPackage",
         {".gpkg"},
         {},
         isDatabase,
         openDatabase,
         writeGeoPackage,
         nullptr,
         nullptr,
         writeGeoPackageParts},
        {"shapefile",
         {".shp"},
         {{".shx"}, {".dbf"}, {".cpg"}, {".prj"}},
         isShapefile,
         openedAsTold<openShapefile>,
         writeShapefile,
         nullptr,
         limitsOfShapefile},
        {"PNG",
         {".png"},
         {{".pgw"}, {".prj"}},
         isPng,
         opened<openPicture>,
         nullptr,
         writePlainPicture},
        {"JPEG",
         {".jpg", ".jpeg"},
         {{".jgw"}, {".prj"}},
         isJpeg,
         opened<openPicture>,
         nullptr,
         writePlainPicture},
        {"elevation tile", {".hgt"}, {}, isElevationTile, opened<openElevationTile>},
        {"binary grid", {".flt"}, {{".hdr"}, {".prj"}}, isFloatGrid, opened<openFloatGrid>},
        {"ASCII grid",
         {".asc"},
         {{".prj"}},
         isAsciiGrid,
         opened<openAsciiGrid>,
         nullptr,
         writeAscii},
        {"GeoJSON lines",
         {".geojsonl", ".ndjson"},
         {},
         isJsonLines,
         openedInSteps<openGeoJsonLines>,
         writeGeoJsonLines,
         nullptr,
         withoutMeasures},
        {"KML", {".kml"}, {}, isKml, openedInSteps<openKml>, writeKml, nullptr, withoutMeasures},
        {"KMZ", {".kmz"}, {}, isKmz, openedInSteps<openKmz>, writeKmz, nullptr, withoutMeasures},
        {"zipped shapefile", {".zip"}, {}, isZip, openedAsTold<openZippedShapefile>},
        {"GPX", {".gpx"}, {}, isGpx, openedInSteps<openGpx>, writeGpx, nullptr, limitsOfGpx},
        {"GML", {".gml"}, {}, isGml, openedInSteps<openGml>},
        {"DXF",
         {".dxf"},
         {{".prj"}},
         isDrawing,
         openedAsTold<openDxf>,
         writeDxf,
         nullptr,
         limitsOfDxf},
        {"LAS", {".las"}, {}, isPointCloud, opened<openLas>},
        {"TopoJSON", {".topojson"}, {}, isTopology, openedInSteps<openGeoJson>},
        {"CSV", {".csv", ".tsv"}, {{".prj"}}, isTextTable, openedAsTold<openCsv>, writeCsv},
        {"GeoJSON",
         {".geojson", ".json"},
         {},
         isJson,
         openedInSteps<openGeoJson>,
         writeGeoJson,
         nullptr,
         withoutMeasures},
    };
    return all;
}

std::vector<std::string> suffixes(Writes kind) {
    std::vector<std::string> out;
    for (const Format& format : formats())
        if (does(format, kind))
            out.insert(out.end(), format.suffixes.begin(), format.suffixes.end());
    return out;
}

std::string suffixWords(Writes kind) {
    std::vector<std::string> usual;
    for (const Format& format : formats())
        if (does(format, kind)) usual.emplace_back(format.suffixes.front());
    return listed(usual);
}

std::string formatWords() {
    std::vector<std::string> names;
    for (const Format& format : formats()) names.emplace_back(format.name);
    return listed(names);
}

Result<Source> openSource(const fs::path& path, const Progress& progress, const Reading& reading) {
    if (const auto done = finishInterrupted(path); !done) return done.error();
    const auto head = headOf(path);
    if (!head) return head.error();
    for (const Format& format : formats())
        if (format.isFormatOf(*head, path)) return format.open(path, progress, reading);
    const std::string suffix = suffixOf(path);
    if (const auto whole = wholeOf(path))
        return Error{ErrorCode::Unsupported, nameOf(path), "a part of " + nameOf(whole->filename()),
                     "open that instead"};
    std::vector<std::string> wholes;
    for (const Format& format : formats())
        for (const FilePart& part : format.parts)
            if (part.suffix == suffix) wholes.emplace_back(format.suffixes.front());
    if (!wholes.empty())
        return Error{ErrorCode::Unsupported, nameOf(path), "a part of another file",
                     "open the " + listed(wholes) + " of the same name"};
    for (const Format& format : formats())
        if (format.has(suffix)) return badFormat(path, "its content is not what its suffix says");
    return Error{ErrorCode::Unsupported, nameOf(path), "not a format that can be read",
                 "use " + formatWords()};
}

Result<Source> openSource(const Locator& where, const Progress& progress) {
    if (where.isFile()) return openSource(where.path, progress, where.reading);
    return Error{ErrorCode::Unsupported, where.text(), "services cannot be read here",
                 "use a file, or a version that reads services"};
}

std::vector<std::string> limitsOf(const FeatureTable& table, const fs::path& path) {
    const Format* format = formatOf(path, Writes::Tables);
    return format && format->limits ? format->limits(table) : std::vector<std::string>();
}

bool mayLimit(const fs::path& path) {
    const Format* format = formatOf(path, Writes::Tables);
    return format && format->limits;
}

bool writesVector(const fs::path& path) { return formatOf(path, Writes::Tables) != nullptr; }
bool writesRaster(const fs::path& path) { return formatOf(path, Writes::Rasters) != nullptr; }

namespace {
Error cannotWrite(const fs::path& path, Writes kind) {
    return {ErrorCode::Unsupported, nameOf(path),
            (kind == Writes::Tables ? "vector layers cannot be written as "
                                    : "rasters cannot be written as ") +
                suffixOf(path),
            "use " + suffixWords(kind)};
}

FileSet setFor(const Format& format, const fs::path& path, Replacing replacing) {
    std::vector<fs::path> others;
    for (const FilePart& part : format.parts) others.push_back(otherWith(part.of(path), path));
    return FileSet(path, format.parts, std::move(others), replacing);
}
}  // namespace

Result<void> writeTable(const FeatureTable& table, const fs::path& path, const Progress& progress,
                        Replacing replacing) {
    const Format* format = formatOf(path, Writes::Tables);
    if (!format) return cannotWrite(path, Writes::Tables);
    FileSet set = setFor(*format, path, replacing);
    if (const auto done = format->writeTable(table, set, progress); !done)
        return set.named(done.error());
    return set.commit();
}

bool writesParts(const fs::path& path) {
    const Format* format = formatOf(path, Writes::Tables);
    return format && format->writeParts;
}

Result<void> writeParts(const LayerInfo& info, const NextPart& next, const fs::path& path,
                        const Progress& progress, Replacing replacing) {
    const Format* format = formatOf(path, Writes::Tables);
    if (!format || !format->writeParts) return cannotWrite(path, Writes::Tables);
    FileSet set = setFor(*format, path, replacing);
    if (const auto done = format->writeParts(info, next, set, progress); !done)
        return set.named(done.error());
    return set.commit();
}

Result<void> writeRaster(const RasterSource& source, const fs::path& path,
                         const RasterWriting& writing, const Progress& progress,
                         Replacing replacing) {
    const Format* format = formatOf(path, Writes::Rasters);
    if (!format) return cannotWrite(path, Writes::Rasters);
    FileSet set = setFor(*format, path, replacing);
    if (const auto done = format->writeRaster(source, set, writing, progress); !done)
        return set.named(done.error());
    return set.commit();
}

Result<std::unique_ptr<RasterSink>> createRaster(const fs::path& path, const RasterInfo& info,
                                                 const RasterWriting& writing,
                                                 Replacing replacing) {
    const Format* format = formatOf(path, Writes::Rasters);
    if (!format || format->writeRaster != copyToGeoTiff)
        return Error{ErrorCode::Unsupported, nameOf(path),
                     "computed rasters are written as GeoTIFF", "use a name that ends in .tif"};
    return createGeoTiff(setFor(*format, path, replacing), info, writing);
}

RasterPtr declared(RasterPtr source, crs::CrsPtr crs) {
    RasterInfo info = source->info();
    info.crs = std::move(crs);
    return std::make_shared<ForwardedRaster>(std::move(source), std::move(info));
}

}  // namespace ledge::io
