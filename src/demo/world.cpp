#include "demo/world.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/crs/geodesic.h"
#include "core/geometry/measure.h"
#include "core/globe/domain.h"
#include "core/terrain/filled_contours.h"
#include "demo/noise.h"

namespace ledge::demo {
namespace {
constexpr std::size_t kCols = 721, kRows = 361;  // the first and the last column are one meridian
constexpr double kCell = 0.5;
constexpr double kSmallestLand = 14;  // square degrees as they lie on the globe, of what is named

struct Spot {
    double x, y, z;
};
Spot onSphere(Point p) {
    const double lat = p.y * kPi / 180, lon = p.x * kPi / 180;
    return {std::cos(lat) * std::cos(lon), std::cos(lat) * std::sin(lon), std::sin(lat)};
}

// Noise of space on the sphere: no seam and no pole. Three planes of it, blended.
double sphereNoise(const Spot& s, double scale, std::uint64_t seed, int octaves) {
    const double x = s.x * scale, y = s.y * scale, z = s.z * scale;
    return (fractalNoise(x + 0.61 * z, y - 0.43 * z, seed, octaves) +
            fractalNoise(y + 0.57 * x, z - 0.39 * x, seed + 101, octaves) +
            fractalNoise(z + 0.52 * y, x - 0.47 * y, seed + 211, octaves)) /
           1.9;
}

struct Mass {
    Point middle;
    double reach, height;
};
// Where the lands are: their shores are the noise's.
constexpr std::array kMasses{
    Mass{{30, -90}, 21, 0.75},  Mass{{174, 16}, 21, 0.62}, Mass{{-20, 86}, 10, 0.5},
    Mass{{22, 12}, 25, 0.68},   Mass{{40, 48}, 22, 0.55},  Mass{{-92, 38}, 27, 0.62},
    Mass{{-70, -22}, 21, 0.66}, Mass{{112, -28}, 20, 0.6}, Mass{{95, 40}, 19, 0.5},
    Mass{{-150, -38}, 8, 0.45}, Mass{{-35, 62}, 8, 0.4}};

double heightAt(Point p, std::uint64_t seed) {
    double mass = -0.34;
    for (const Mass& m : kMasses) {
        const double share = globe::arcBetween(m.middle, p) / m.reach;
        mass += m.height * std::exp(-share * share);
    }
    const Spot s = onSphere(p);
    const double shore = mass + 0.42 * sphereNoise(s, 2.6, seed, 6);
    const double hills = std::max(0.0, 0.5 + sphereNoise(s, 7, seed + 17, 4));
    return shore > 0 ? 40 + 3400 * shore * (0.25 + hills) : 5200 * shore - 20;
}

// Polygons with their pieces on both sides of the antimeridian put together.
struct Land {
    std::vector<Geometry> pieces;
    double area = 0;  // square degrees, as on the globe
};

Geometry pieceOf(const Geometry& all, std::size_t polygon) {
    const std::size_t begin = all.polygons[polygon];
    const std::size_t end =
        polygon + 1 < all.polygons.size() ? all.polygons[polygon + 1] : all.partCount();
    Geometry out;
    out.type = GeometryType::Polygon;
    for (std::size_t i = begin; i < end; ++i) out.addPart(all, i, i == begin);
    return out;
}

double globeArea(const Geometry& g) {
    double sum = 0;
    for (std::size_t k = 0; k < g.partCount(); ++k) {
        const auto ring = g.part(k);
        for (std::size_t i = 1; i < ring.size(); ++i)
            sum += (ring[i].x - ring[i - 1].x) *
                   std::sin((ring[i].y + ring[i - 1].y) / 2 * kPi / 180) * 180 / kPi;
    }
    return std::abs(sum);
}

// Latitudes at which a piece lies on a meridian.
Box touching(const Geometry& g, double lon) {
    Box out;
    for (const Point p : g.points)
        if (std::abs(p.x - lon) < 1e-9) out.add(p);
    return out;
}

std::vector<Land> landsOf(const Geometry& all) {
    std::vector<Land> out;
    std::vector<bool> isTaken(all.polygons.size(), false);
    std::vector<Geometry> pieces;
    for (std::size_t i = 0; i < all.polygons.size(); ++i) pieces.push_back(pieceOf(all, i));
    const auto meet = [](const Box& a, const Box& b) {
        return !a.isEmpty() && !b.isEmpty() && a.yMin <= b.yMax && b.yMin <= a.yMax;
    };
    for (std::size_t i = 0; i < pieces.size(); ++i) {
        if (isTaken[i]) continue;
        Land land;
        std::vector<std::size_t> open{i};
        isTaken[i] = true;
        while (!open.empty()) {
            const std::size_t now = open.back();
            open.pop_back();
            land.area += globeArea(pieces[now]);
            for (std::size_t k = 0; k < pieces.size(); ++k) {
                if (isTaken[k]) continue;
                if (!meet(touching(pieces[now], 180), touching(pieces[k], -180)) &&
                    !meet(touching(pieces[now], -180), touching(pieces[k], 180)))
                    continue;
                isTaken[k] = true;
                open.push_back(k);
            }
            land.pieces.push_back(pieces[now]);
        }
        out.push_back(std::move(land));
    }
    std::sort(out.begin(), out.end(), [](const Land& a, const Land& b) { return a.area > b.area; });
    return out;
}

constexpr std::array kNames{"Velmarra",  "Orsund",   "Karthuun", "Isquelle",
                            "Brindovar", "Tolmery",  "Ulmaria",  "Pellovan",
                            "Nessirk",   "Hvarland", "Quorrin",  "Sedgemur"};
constexpr std::array kCapitals{"Velm",     "Orsholt", "Karth",  "Port Isquel", "Brindahl", "Tolm",
                               "Ulmhaven", "Pellow",  "Nessir", "Hvarness",    "Quorrick", "Sedge"};
constexpr std::array kRegions{"Inner Sea", "Outer Sea", "Southern"};

void addLands(World& world, const Geometry& all) {
    FeatureList lands, capitals;
    lands.info.name = "lands";
    capitals.info.name = "capitals";
    lands.info.geometry = GeometryType::Polygon;
    capitals.info.geometry = GeometryType::Point;
    lands.info.crs = capitals.info.crs = *crs::crsFromCode(4326);
    lands.info.fields = {
        {"name", FieldType::Text}, {"region", FieldType::Text}, {"people", FieldType::Integer}};
    capitals.info.fields = {
        {"name", FieldType::Text}, {"land", FieldType::Text}, {"rank", FieldType::Integer}};
    FeatureKey key = 0;
    for (const Land& land : landsOf(all)) {
        Geometry shape;
        shape.type = GeometryType::Polygon;
        shape.isMulti = land.pieces.size() > 1;
        const Geometry* widest = &land.pieces.front();
        for (const Geometry& piece : land.pieces) {
            if (globeArea(piece) > globeArea(*widest)) widest = &piece;
            std::size_t nextOuter = 0;
            for (std::size_t i = 0; i < piece.partCount(); ++i) {
                const bool isOuter =
                    nextOuter < piece.polygons.size() && piece.polygons[nextOuter] == i;
                nextOuter += isOuter;
                shape.addPart(piece, i, isOuter);
            }
        }
        const auto index = static_cast<std::size_t>(key);
        const bool isNamed = land.area > kSmallestLand && index < kNames.size();
        const Point at = anchorOf(*widest);
        const bool isEmpty = at.y < -60 || at.y > 78;
        const char* region = kRegions[at.y < -15 ? 2 : std::abs(at.x) < 110 ? 0 : 1];
        lands.features.push_back(
            {++key,
             std::move(shape),
             {isNamed ? Value(std::string(kNames[index])) : Value(), std::string(region),
              isEmpty ? std::int64_t{0}
                      : static_cast<std::int64_t>(land.area *
                                                  static_cast<double>(9 + 5 * (index % 4))) *
                            1000}});
        if (isNamed && !isEmpty)
            capitals.features.push_back({key,
                                         Geometry::point(at),
                                         {std::string(kCapitals[index]), std::string(kNames[index]),
                                          static_cast<std::int64_t>(land.area)}});
    }
    world.lands = FeatureTable(std::move(lands));
    world.capitals = FeatureTable(std::move(capitals));
}

// Between the two capitals farthest apart of the first few.
void addCourses(World& world) {
    FeatureList out;
    out.info.name = "courses";
    out.info.geometry = GeometryType::Line;
    out.info.crs = *crs::crsFromCode(4326);
    out.info.fields = {{"name", FieldType::Text},
                       {"from", FieldType::Text},
                       {"to", FieldType::Text},
                       {"km", FieldType::Real}};
    std::size_t a = 0, b = 0;
    double most = 0;
    const crs::Geodesic geodesic{crs::Ellipsoid{}};
    const std::size_t count = std::min<std::size_t>(world.capitals.size(), 7);
    for (std::size_t i = 0; i < count; ++i)
        for (std::size_t k = i + 1; k < count; ++k) {
            const Point p = world.capitals.geometry(i).points[0],
                        q = world.capitals.geometry(k).points[0];
            // Over the antimeridian, and on one side of the equator, where the two ways differ.
            if (std::abs(p.x - q.x) < 180 || p.y * q.y < 0) continue;
            const double length = geodesic.inverse(p, q).distance;
            if (length > most) most = length, a = i, b = k;
        }
    if (most == 0) return;
    const Point from = world.capitals.geometry(a).points[0],
                to = world.capitals.geometry(b).points[0];
    const auto add = [&](const char* name, std::vector<Point> line, double metres) {
        out.features.push_back({static_cast<FeatureKey>(out.features.size()) + 1,
                                Geometry::line(std::move(line)),
                                {std::string(name), world.capitals.value(a, 0),
                                 world.capitals.value(b, 0), std::round(metres / 100) / 10}});
    };
    constexpr int kSteps = 180;
    const auto shortest = geodesic.inverse(from, to);
    std::vector<Point> curve;
    for (int i = 0; i <= kSteps; ++i)
        curve.push_back(
            geodesic.direct(from, shortest.bearingStart, shortest.distance * i / kSteps).at);
    add("shortest way", std::move(curve), shortest.distance);
    const auto rhumb = crs::rhumbLine(crs::Ellipsoid{}, from, to);
    std::vector<Point> constant;
    for (int i = 0; i <= kSteps; ++i)
        constant.push_back(
            crs::rhumbEnd(crs::Ellipsoid{}, from, rhumb.bearingStart, rhumb.distance * i / kSteps));
    add("constant bearing", std::move(constant), rhumb.distance);
    world.courses = FeatureTable(std::move(out));
}
}  // namespace

Result<World> makeWorld(std::uint64_t seed, const Progress& progress) {
    Grid<float> heights(kRows, kCols);
    for (std::size_t r = 0; r < kRows; ++r) {
        if (progress.stopped()) return cancelled("world");
        for (std::size_t c = 0; c + 1 < kCols; ++c)
            heights(r, c) = static_cast<float>(std::round(heightAt(
                {-180 + kCell * static_cast<double>(c), 90 - kCell * static_cast<double>(r)},
                seed)));
        heights(r, kCols - 1) = heights(r, 0);
        progress.at(0.6 * static_cast<double>(r) / kRows);
    }
    const Affine toWorld{kCell, 0, -180 - kCell / 2, 0, -kCell, 90 + kCell / 2};
    const auto bands =
        terrain::filledContours(heights.view(), toWorld, {10, 0, {0.0}}, progress.part(0.6, 0.9));
    if (!bands) return bands.error();
    World world;
    for (const auto& band : *bands)
        if (band.low >= 0) addLands(world, band.area);
    addCourses(world);
    RasterInfo info;
    info.crs = *crs::crsFromCode(4326);
    info.toWorld = toWorld;
    info.bands = {{CellType::Int16, {}, "metre"}};
    // Without the meridian that is there twice.
    Grid<float> once(kRows, kCols - 1);
    for (std::size_t r = 0; r < kRows; ++r)
        for (std::size_t c = 0; c + 1 < kCols; ++c) once(r, c) = heights(r, c);
    world.relief = std::make_shared<MemoryRaster>(info, std::move(once));
    progress.at(1);
    return world;
}

}  // namespace ledge::demo
