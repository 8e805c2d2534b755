#include "io/shapefile/shapefile.h"

#include <array>

#include "core/base/numbers.h"
#include "core/crs/wkt.h"
#include "core/geometry/measure.h"
#include "io/files/atomic_file.h"
#include "io/files/byte_reader.h"
#include "io/files/sidecars.h"
#include "io/memory_features.h"
#include "io/shapefile/dbf.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;
constexpr auto kBig = std::endian::big;
constexpr std::size_t kHeaderBytes = 100;

// Shape types: 1 point, 3 line, 5 polygon, 8 multipoint; +10 with Z, +20 with M.
GeometryType typeOf(std::int32_t shape) {
    switch (shape % 10) {
    case 1:
    case 8: return GeometryType::Point;
    case 3: return GeometryType::Line;
    case 5: return GeometryType::Polygon;
    default: return GeometryType::None;
    }
}

Point readPoint(ByteReader& in) {
    const auto x = in.read<double>(std::endian::little);
    return {x, in.read<double>(std::endian::little)};
}

// Outer rings run clockwise; holes follow the outer ring that contains them.
Geometry assembled(const Geometry& rings) {
    std::vector<std::vector<std::size_t>> groups;
    std::vector<std::size_t> holes;
    for (std::size_t i = 0; i < rings.partCount(); ++i)
        signedArea(rings.part(i)) <= 0 || rings.partCount() == 1 ? groups.push_back({i})
                                                                 : holes.push_back(i);
    std::vector<Geometry> shells;
    if (!holes.empty())
        for (const auto& group : groups) {
            const auto ring = rings.part(group.front());
            shells.push_back(Geometry::polygon({{ring.begin(), ring.end()}}));
        }
    for (const std::size_t hole : holes) {
        bool found = false;
        for (std::size_t g = 0; g < shells.size() && !found; ++g) {
            found = isInside(shells[g], rings.part(hole).front());
            if (found) groups[g].push_back(hole);
        }
        if (!found) groups.push_back({hole});  // wrongly wound: better shown than lost
    }
    Geometry out;
    out.type = GeometryType::Polygon;
    out.isMulti = groups.size() > 1;
    for (const auto& group : groups)
        for (const std::size_t i : group) out.addPart(rings, i, i == group.front());
    return out;
}

// Of Z shapes both follow the points, of M shapes the measures alone; measures may be left out.
// A range of two numbers stands before each, but for single points.
void readHeights(ByteReader& in, std::int32_t shape, Geometry& out) {
    constexpr double kNoMeasure = -1e38;  // what is smaller is none
    const bool isSingle = shape % 10 == 1;
    const auto values = [&](std::vector<double>& into) {
        if (!isSingle) in.skip(16);
        for (std::size_t i = 0; i < out.points.size(); ++i)
            into.push_back(in.read<double>(std::endian::little));
    };
    if (shape / 10 == 1) values(out.z);
    const std::size_t size = 8 * out.points.size() + (isSingle ? 0 : 16);
    if (shape / 10 == 0 || in.left() < size) return;
    values(out.m);
    for (double& m : out.m)
        if (m < kNoMeasure) m = std::nan("");
    if (std::all_of(out.m.begin(), out.m.end(), [](double m) { return std::isnan(m); }))
        out.m.clear();
}

std::optional<Geometry> readParts(ByteReader& in, std::int32_t shape) {
    in.skip(32);
    const auto partCount = in.read<std::int32_t>(std::endian::little);
    const auto pointCount = in.read<std::int32_t>(std::endian::little);
    if (!in.isGood() || partCount < 0 || pointCount < 0 ||
        static_cast<std::size_t>(partCount) * 4 + static_cast<std::size_t>(pointCount) * 16 >
            in.left())
        return {};
    Geometry out;
    out.type = typeOf(shape);
    for (int i = 0; i < partCount; ++i) {
        const auto start = in.read<std::int32_t>(std::endian::little);
        if (start < 0 || start > pointCount ||
            (!out.parts.empty() && static_cast<std::uint32_t>(start) < out.parts.back()))
            return {};
        // Parts without points are left out.
        if (start < pointCount &&
            (out.parts.empty() || out.parts.back() != static_cast<std::uint32_t>(start)))
            out.parts.push_back(static_cast<std::uint32_t>(start));
    }
    for (int i = 0; i < pointCount; ++i) out.points.push_back(readPoint(in));
    readHeights(in, shape, out);
    if (out.parts.empty() || out.parts.front() > 0) {  // points before the first part are of none
        Geometry kept;
        kept.type = out.type;
        for (std::size_t i = 0; i < out.partCount(); ++i) kept.addPart(out, i);
        out = std::move(kept);
    }
    if (out.type == GeometryType::Polygon) return assembled(out);
    out.isMulti = out.parts.size() > 1;
    return out;
}

std::optional<Geometry> readShape(ByteReader in) {
    const auto shape = in.read<std::int32_t>(std::endian::little);
    const GeometryType type = typeOf(shape);
    if (!in.isGood()) return {};
    if (shape == 0) return Geometry{};
    if (type == GeometryType::None) return {};
    std::optional<Geometry> out;
    if (shape % 10 == 1) {
        out = Geometry::point(readPoint(in));
        readHeights(in, shape, *out);
    } else if (shape % 10 == 8) {
        in.skip(32);
        const auto count = in.read<std::int32_t>(std::endian::little);
        if (!in.isGood() || count < 0 || static_cast<std::size_t>(count) * 16 > in.left())
            return {};
        out = Geometry{};
        out->type = GeometryType::Point;
        out->isMulti = true;
        for (int i = 0; i < count; ++i) {
            out->beginPart();
            out->points.push_back(readPoint(in));
        }
        readHeights(in, shape, *out);
    } else {
        out = readParts(in, shape);
    }
    return in.isGood() ? out : std::nullopt;
}
}  // namespace

namespace {
// What a file beside it says of the text of its table; code pages by number too.
std::string encodingBeside(const fs::path& path) {
    const auto cpg = sidecar(path, ".cpg");
    const auto text = cpg ? readText(*cpg, 4096) : Result<std::string>(std::string());
    if (!text) return {};
    std::string name = trimmed(*text);
    if (!name.empty() && name.find_first_not_of("0123456789") == std::string::npos)
        name = (name.size() == 4 && name.starts_with("125") ? "windows-" : "cp") + name;
    if (name == "cp65001") return "UTF-8";
    return name;
}
}  // namespace

Result<FeatureSourcePtr> openShapefile(const fs::path& path, const Progress& progress,
                                       const Reading& reading) {
    const auto text = readText(path, std::uintmax_t{4} << 30);
    if (!text) return text.error();
    const auto bytes = bytesOf(*text);
    ByteReader in(bytes);
    const bool isShape = in.read<std::int32_t>(kBig) == 9994;
    in.seek(24);
    const auto stated = in.read<std::int32_t>(kBig);  // of the whole file, in words of two bytes
    in.seek(32);
    const auto shape = in.read<std::int32_t>(std::endian::little);
    if (!in.isGood() || !isShape || text->size() < kHeaderBytes)
        return badFormat(path, "not a shapefile, or cut short in its header");
    FeatureList table;
    table.info.name = path.stem().string();
    table.info.geometry = typeOf(shape);
    if (table.info.geometry == GeometryType::None && shape != 0)
        return Error{ErrorCode::Unsupported, nameOf(path),
                     "shape type " + std::to_string(shape) + " is not supported", ""};
    std::size_t at = kHeaderBytes;
    while (at + 8 <= text->size()) {
        if (table.features.size() % 1024 == 0) {
            if (progress.stopped()) return cancelled(nameOf(path));
            progress.at(0.6 * static_cast<double>(at) / static_cast<double>(text->size()));
        }
        in.seek(at + 4);
        const auto words = in.read<std::int32_t>(kBig);
        const std::size_t length = words < 0 ? 0 : static_cast<std::size_t>(words) * 2;
        const auto geometry = words < 2 || length > text->size() - at - 8
                                  ? std::nullopt
                                  : readShape(ByteReader(bytes.subspan(at + 8, length)));
        if (!geometry) {
            table.info.notes.push_back("damaged or cut short at byte " + std::to_string(at) +
                                       "; the " + std::to_string(table.features.size()) +
                                       " shapes before that are shown");
            break;
        }
        table.features.push_back({static_cast<std::int64_t>(table.features.size()), *geometry, {}});
        at += 8 + length;
    }
    // Cut between two shapes, only the length it states tells.
    if (table.info.notes.empty() && stated > 0 &&
        static_cast<std::size_t>(stated) * 2 > text->size())
        table.info.notes.push_back("cut short: " + std::to_string(text->size()) + " of " +
                                   std::to_string(static_cast<std::size_t>(stated) * 2) +
                                   " bytes; the " + std::to_string(table.features.size()) +
                                   " shapes before that are shown");
    if (table.features.empty() && !table.info.notes.empty())
        return badFormat(path, "no shape in it can be read");
    table.info.crs = crsBeside(path, table.info.notes);
    if (const auto dbf = sidecar(path, ".dbf")) {
        const std::string encoding =
            reading.encoding.empty() ? encodingBeside(path) : reading.encoding;
        auto rows = readDbf(*dbf, table.features.size(), encoding, progress.part(0.6, 1));
        if (progress.stopped()) return cancelled(nameOf(path));
        if (rows) {
            table.info.fields = rows->fields;
            table.info.reading.encoding = rows->encoding.empty() ? "UTF-8" : rows->encoding;
            for (std::size_t i = 0; i < rows->rows.size(); ++i)
                table.features[i].values = std::move(rows->rows[i]);
            for (auto& note : rows->notes) table.info.notes.push_back(note);
        } else {
            table.info.notes.push_back(rows.error().text());
        }
    } else {
        table.info.notes.push_back("no .dbf file beside it: its features have no attributes");
    }
    return FeatureSourcePtr(
        std::make_shared<MemoryFeatures>("Shapefile", std::vector<FeatureTable>{std::move(table)}));
}

namespace {
void putPoint(std::string& out, Point p) {
    putNumber(out, p.x, std::endian::little);
    putNumber(out, p.y, std::endian::little);
}
void putBox(std::string& out, const Box& box) {
    putPoint(out, {box.xMin, box.yMin});
    putPoint(out, {box.xMax, box.yMax});
}

constexpr double kNoMeasure = -1e39;

// What heights or measures a file is to have, and the range of each.
struct Extra {
    bool z = false, m = false;
    double zLow = 0, zHigh = 0, mLow = 0, mHigh = 0;
};

std::pair<double, double> rangeOf(std::span<const double> values, double missing) {
    double low = INFINITY, high = -INFINITY;
    for (const double v : values)
        if (std::isfinite(v)) low = std::min(low, v), high = std::max(high, v);
    return low > high ? std::pair(missing, missing) : std::pair(low, high);
}

Extra extraOf(const FeatureTable& table) {
    Extra out{table.info.hasZ, table.info.hasM};
    double z[] = {INFINITY, -INFINITY}, m[] = {INFINITY, -INFINITY};
    for (const FeatureView f : table) {
        if (!f.geometry.z.empty()) {
            const auto [low, high] = rangeOf(f.geometry.z, 0);
            z[0] = std::min(z[0], low), z[1] = std::max(z[1], high);
        }
        for (const double v : f.geometry.m)
            if (std::isfinite(v)) m[0] = std::min(m[0], v), m[1] = std::max(m[1], v);
    }
    if (z[0] <= z[1]) out.zLow = z[0], out.zHigh = z[1];
    if (m[0] <= m[1]) out.mLow = m[0], out.mHigh = m[1];
    return out;
}

void putValues(std::string& out, std::span<const double> values, std::size_t count, double missing,
               bool withRange) {
    if (withRange) {
        const auto [low, high] = rangeOf(values, missing);
        putNumber(out, low, std::endian::little);
        putNumber(out, high, std::endian::little);
    }
    for (std::size_t i = 0; i < count; ++i)
        putNumber(out, i < values.size() && std::isfinite(values[i]) ? values[i] : missing,
                  std::endian::little);
}

// Rings wound as the format wants: outer clockwise, holes counter-clockwise. `shape` is the plain
// type; heights and measures raise it.
std::string shapeBytes(const GeometryView& any, std::int32_t shape, const Extra& extra) {
    std::string out;
    if (any.isEmpty()) {
        putNumber(out, std::int32_t{0}, std::endian::little);
        return out;
    }
    const Geometry g = wound(any, true);
    putNumber(out, shape + (extra.z ? 10 : extra.m ? 20 : 0), std::endian::little);
    if (shape != 1) {
        putBox(out, g.box());
        if (shape != 8) putNumber(out, static_cast<std::int32_t>(g.partCount()), std::endian::little);
        putNumber(out, static_cast<std::int32_t>(g.points.size()), std::endian::little);
        if (shape != 8)
            for (const std::uint32_t start : g.parts)
                putNumber(out, static_cast<std::int32_t>(start), std::endian::little);
    }
    const std::size_t count = shape == 1 ? 1 : g.points.size();
    for (std::size_t i = 0; i < count; ++i) putPoint(out, g.points[i]);
    if (extra.z) putValues(out, g.z, count, 0, shape != 1);
    // A single point with a height always has a measure; other shapes have one where any has.
    if (extra.m || (extra.z && shape == 1)) putValues(out, g.m, count, kNoMeasure, shape != 1);
    return out;
}

std::string shapeHeader(std::int32_t shape, const Box& box, const Extra& extra, std::size_t bytes) {
    std::string out;
    putNumber(out, std::int32_t{9994}, kBig);
    out.append(20, '\0');
    putNumber(out, static_cast<std::int32_t>(bytes / 2), kBig);
    putNumber(out, std::int32_t{1000}, std::endian::little);
    putNumber(out, shape + (extra.z ? 10 : extra.m ? 20 : 0), std::endian::little);
    putBox(out, box.isEmpty() ? Box{0, 0, 0, 0} : box);
    for (const double v : {extra.zLow, extra.zHigh, extra.mLow, extra.mHigh})
        putNumber(out, v, std::endian::little);
    return out;
}
}  // namespace

std::vector<std::string> limitsOfShapefile(const FeatureTable& table) {
    std::vector<std::string> out = limitsOfDbf(table);
    // What has a code is known with its shift by whoever reads it.
    if (table.info.crs && table.info.crs->code == 0 && table.info.crs->toWgs84 &&
        !(*table.info.crs->toWgs84 == crs::Helmert()))
        out.push_back("its .prj does not hold the datum shift that the CRS states");
    return out;
}

Result<void> writeShapefile(const FeatureTable& table, FileSet& set, const Progress& progress) {
    const fs::path& path = set.target();
    std::int32_t shape = 1;
    for (const FeatureView f : table) {
        if (f.geometry.isEmpty()) continue;
        if (f.geometry.type != table.info.geometry)
            return Error{ErrorCode::Unsupported, nameOf(path),
                         "a shapefile holds one kind of geometry; this layer mixes several",
                         "write a GeoPackage or GeoJSON instead"};
        if (f.geometry.type == GeometryType::Point && f.geometry.points.size() > 1) shape = 8;
    }
    if (table.info.geometry == GeometryType::Line) shape = 3;
    if (table.info.geometry == GeometryType::Polygon) shape = 5;
    if (const auto done = set.put(".cpg", "UTF-8"); !done) return done;
    if (const auto done = putCrs(set, table.info.crs); !done) return done;
    const Extra extra = extraOf(table);
    std::string records, index;
    for (std::size_t i = 0; i < table.size(); ++i) {
        if (i % 1024 == 0) {
            if (progress.stopped()) return cancelled(nameOf(path));
            progress.at(0.5 * static_cast<double>(i) / static_cast<double>(table.size()));
        }
        const std::string body = shapeBytes(table.geometry(i), shape, extra);
        putNumber(index, static_cast<std::int32_t>((kHeaderBytes + records.size()) / 2), kBig);
        putNumber(index, static_cast<std::int32_t>(body.size() / 2), kBig);
        putNumber(records, static_cast<std::int32_t>(i + 1), kBig);
        putNumber(records, static_cast<std::int32_t>(body.size() / 2), kBig);
        records += body;
        if (records.size() > (std::size_t{2} << 30))
            return Error{ErrorCode::LimitExceeded, nameOf(path), "larger than a shapefile can be",
                         "write a GeoPackage instead"};
    }
    const Box box = table.info.extent;
    const std::string shp = shapeHeader(shape, box, extra, kHeaderBytes + records.size()) + records;
    const std::string shx = shapeHeader(shape, box, extra, kHeaderBytes + index.size()) + index;
    const std::string dbf = dbfBytes(table, progress.part(0.5, 1));
    if (progress.stopped()) return cancelled(nameOf(path));
    if (const auto done = set.put(".dbf", dbf); !done) return done;
    if (const auto done = set.put(".shx", shx); !done) return done;
    return fillFile(set.main(), shp, path);
}

}  // namespace ledge::io
