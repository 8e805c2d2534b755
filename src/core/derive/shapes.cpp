#include "core/derive/shapes.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <unordered_map>

#include "core/base/numbers.h"
#include "core/base/parallel.h"
#include "core/base/random.h"
#include "core/derive/polygons.h"
#include "core/geometry/measure.h"
#include "core/geometry/relate.h"
#include "core/globe/ground_measure.h"

namespace ledge::derive {
namespace {
// So far from its centre a plane is true to a tenth of a thousandth.
constexpr double kReach = 150000;
constexpr std::size_t kMostPoints = 10'000'000;

void noteLost(Remarks& remarks, std::size_t lost, const std::string& why) {
    if (lost > 0)
        remarks.push_back(formatNumber(static_cast<double>(lost)) +
                          (lost == 1 ? " feature " : " features ") + why);
}

// Degrees to and from a plane around a place.
struct Around {
    const crs::Geodesic& geodesic;
    Point centre;
    Point to(Point p) const {
        const auto line = geodesic.inverse(centre, p);
        const double bearing = line.bearingStart * kRadiansPerDegree;
        return {line.distance * std::sin(bearing), line.distance * std::cos(bearing)};
    }
    Point from(Point p) const {
        const double far = std::hypot(p.x, p.y);
        if (far == 0) return centre;
        Point out = geodesic.direct(centre, std::atan2(p.x, p.y) / kRadiansPerDegree, far).at;
        // On the centre's side of the antimeridian, so that rings stay whole.
        out.x -= 360 * std::round((out.x - centre.x) / 360);
        return out;
    }
};

// Parts of a shape in degrees that lie within a plane's reach each.
std::vector<Geometry> piecesOf(const Geometry& shape, const crs::Geodesic& geodesic) {
    const Box box = shape.box();
    const double across =
        geodesic
            .inverse({box.xMin, (box.yMin + box.yMax) / 2}, {box.xMax, (box.yMin + box.yMax) / 2})
            .distance;
    const double up = (box.yMax - box.yMin) * 111000;
    if (shape.type == GeometryType::Polygon || std::max(across, up) < 2 * kReach) return {shape};
    std::vector<Geometry> out;
    for (std::size_t i = 0; i < shape.partCount(); ++i) {
        const auto part = shape.part(i);
        if (part.size() == 1) {
            out.push_back(Geometry::point(part[0]));
            continue;
        }
        std::vector<Point> run{part[0]};
        for (std::size_t k = 1; k < part.size(); ++k) {
            for (const Point p : geodesic.densified(part[k - 1], part[k], kReach / 2)) {
                if (p == run.back()) continue;
                run.push_back(p);
                if (geodesic.inverse(run.front(), p).distance < kReach) continue;
                out.push_back(Geometry::line(run));
                run = {p};
            }
        }
        if (run.size() > 1) out.push_back(Geometry::line(run));
    }
    return out;
}

std::optional<Geometry> bufferOnGround(const Geometry& degrees, const crs::Geodesic& geodesic,
                                       double metres, int steps) {
    std::vector<Geometry> areas;
    for (Geometry& piece : piecesOf(degrees, geodesic)) {
        const Around plane{geodesic, piece.box().centre()};
        for (Point& p : piece.points) p = plane.to(p);
        auto area = bufferOf(piece, metres, steps);
        if (!area) return {};
        for (Point& p : area->points) p = plane.from(p);
        areas.push_back(*std::move(area));
    }
    return areas.size() == 1 ? std::optional(areas.front()) : unionOf(areas);
}
}  // namespace

Result<FeatureTable> buffered(const FeatureTable& table, double metres, bool isPlanar, int steps,
                              Remarks& remarks, const Progress& progress) {
    const globe::GroundMeasure ground(isPlanar ? nullptr : table.info.crs);
    crs::Transformation back;
    if (ground.isOnEllipsoid()) {
        const auto way = crs::Transformation::between(
            std::make_shared<crs::Crs>(crs::geographicBase(*table.info.crs)), table.info.crs);
        if (!way) return way.error();
        back = *way;
    }
    std::atomic<std::size_t> failed{0}, gone{0};
    auto out = table.withGeometries(
        [&](std::size_t, const GeometryView& g, Geometry& made) {
            Geometry shape = g.toGeometry();
            std::optional<Geometry> area;
            if (ground.isOnEllipsoid()) {
                shape.points = ground.degrees(g.points);
                if (shape.isFinite())
                    area = bufferOnGround(shape, *ground.geodesic(), metres, steps);
                if (area) back.forward(area->points);
            } else {
                area = bufferOf(shape, metres, steps);
            }
            if (!area)
                ++failed;
            else if (area->isEmpty())
                ++gone;
            else
                made = *std::move(area);
        },
        progress);
    if (!out) return out;
    noteLost(remarks, failed, "could not be worked out and lost their shapes");
    noteLost(remarks, gone, "had nothing left");
    out->info.geometry = GeometryType::None;
    out->info.isMulti = false;
    out->refreshInfo();
    return out;
}

Result<FeatureTable> clippedBy(const FeatureTable& table, const FeatureTable& areas,
                               Remarks& remarks, const Progress& progress) {
    std::vector<Geometry> all;
    for (const FeatureView f : areas)
        if (f.geometry.type == GeometryType::Polygon) all.push_back(f.geometry.toGeometry());
    auto whole = unionOf(all);
    if (!whole) {
        remarks.push_back("areas that could not be joined were taken one by one");
        whole = Geometry();
        whole->type = GeometryType::Polygon;
        whole->isMulti = true;
        for (const Geometry& one : all)
            for (std::size_t i = 0; i < one.partCount(); ++i)
                whole->addPart(one, i,
                               std::find(one.polygons.begin(), one.polygons.end(), i) !=
                                   one.polygons.end());
    }
    const PreparedShape within(*whole);
    std::atomic<std::size_t> failed{0};
    std::vector<std::uint8_t> isKept(table.size(), 0);
    auto cut = table.withGeometries(
        [&](std::size_t row, const GeometryView& g, Geometry& made) {
            if (!g.box().intersects(within.box())) return;
            if (g.type == GeometryType::Point) {
                made.type = GeometryType::Point;
                made.isMulti = g.isMulti;
                for (std::size_t i = 0; i < g.partCount(); ++i)
                    if (within.locate(g.part(i)[0]) != Location::Outside) made.addPart(g, i);
            } else if (g.type == GeometryType::Line) {
                made = runsWithin(PreparedShape(g), within);
                made.isMulti = made.partCount() > 1;
            } else {
                auto both = intersectionOf(g.toGeometry(), *whole);
                if (!both) {
                    ++failed;
                    return;
                }
                made = *std::move(both);
            }
            isKept[row] = made.isEmpty() ? 0 : 1;
        },
        progress);
    if (!cut) return cut;
    noteLost(remarks, failed, "could not be cut and are left out");
    std::vector<std::size_t> rows;
    for (std::size_t i = 0; i < isKept.size(); ++i)
        if (isKept[i] != 0) rows.push_back(i);
    FeatureTable out = cut->atRows(rows);
    out.refreshInfo();
    return out;
}

Result<FeatureTable> dissolved(const FeatureTable& table, const std::string& field,
                               Remarks& remarks, const Progress& progress) {
    std::optional<std::size_t> by;
    if (!field.empty()) {
        const auto place = fieldPlace(table.info, field);
        if (!place) return place.error();
        by = *place;
    }
    struct Group {
        Value value;
        std::vector<std::size_t> rows;
    };
    std::vector<Group> groups;
    std::unordered_map<std::string, std::size_t> known;
    for (std::size_t i = 0; i < table.size(); ++i) {
        const Value value = by ? table.value(i, *by) : Value();
        const std::string key = (isMissing(value) ? "" : "=") + exactText(value);
        const auto [it, isNew] = known.emplace(key, groups.size());
        if (isNew) groups.push_back({value, {}});
        groups[it->second].rows.push_back(i);
    }
    LayerInfo info = table.info;
    info.fields.clear();
    info.geometry = GeometryType::None;
    std::vector<std::size_t> summed;
    if (by) info.fields.push_back(table.info.fields[*by]);
    info.fields.push_back({"features", FieldType::Integer});
    for (std::size_t k = 0; k < table.info.fields.size(); ++k) {
        const FieldType type = table.info.fields[k].type;
        if (k == by || (type != FieldType::Integer && type != FieldType::Real)) continue;
        summed.push_back(k);
        info.fields.push_back({"sum_" + table.info.fields[k].name, FieldType::Real});
    }
    FeatureTableBuilder builder(info);
    std::size_t failed = 0;
    for (std::size_t g = 0; g < groups.size(); ++g) {
        if (progress.stopped()) return cancelled("dissolve");
        progress.at(static_cast<double>(g) / static_cast<double>(groups.size()));
        const Group& group = groups[g];
        std::vector<Geometry> shapes;
        for (const std::size_t row : group.rows)
            if (!table.geometry(row).isEmpty()) shapes.push_back(table.geometry(row).toGeometry());
        const bool areAreas =
            !shapes.empty() && std::all_of(shapes.begin(), shapes.end(), [](const Geometry& one) {
                return one.type == GeometryType::Polygon;
            });
        Geometry together;
        if (auto united = areAreas ? unionOf(shapes) : std::nullopt) {
            together = *std::move(united);
        } else if (!shapes.empty()) {
            if (areAreas) ++failed;
            together.type = shapes.front().type;
            together.isMulti = true;
            for (const Geometry& one : shapes) {
                if (one.type != together.type) continue;
                for (std::size_t i = 0; i < one.partCount(); ++i)
                    together.addPart(one, i,
                                     std::find(one.polygons.begin(), one.polygons.end(), i) !=
                                         one.polygons.end());
            }
        }
        std::vector<Value> values;
        if (by) values.push_back(group.value);
        values.emplace_back(static_cast<std::int64_t>(group.rows.size()));
        for (const std::size_t k : summed) {
            double sum = 0;
            bool isAny = false;
            for (const std::size_t row : group.rows)
                if (const double v = table.number(row, k); !std::isnan(v)) sum += v, isAny = true;
            values.push_back(isAny ? Value(sum) : Value());
        }
        builder.add(static_cast<FeatureKey>(g + 1), together, values);
    }
    noteLost(remarks, failed, "could not be grown together and stay several areas in one");
    FeatureTable out = builder.finish();
    out.refreshInfo();
    return out;
}

Result<FeatureTable> reshaped(const FeatureTable& table, NewShape shape, Remarks& remarks,
                              const Progress& progress) {
    std::atomic<std::size_t> lost{0};
    auto out = table.withGeometries(
        [&](std::size_t, const GeometryView& g, Geometry& made) {
            switch (shape) {
            case NewShape::Centroid: made = Geometry::point(centroidOf(g)); break;
            case NewShape::Inside: made = Geometry::point(anchorOf(g)); break;
            case NewShape::Hull: made = hullOf(g); break;
            case NewShape::Outline:
                if (g.type == GeometryType::Polygon) {
                    made.type = GeometryType::Line;
                    made.isMulti = g.partCount() > 1;
                    for (std::size_t i = 0; i < g.partCount(); ++i) made.addPart(g, i);
                }
                break;
            case NewShape::Area:
                if (g.type == GeometryType::Line) {
                    made.type = GeometryType::Polygon;
                    for (std::size_t i = 0; i < g.partCount(); ++i) {
                        const auto part = g.part(i);
                        if (part.size() < 3) continue;
                        made.beginPart(true);
                        made.points.insert(made.points.end(), part.begin(), part.end());
                        if (part.front() != part.back()) made.points.push_back(part.front());
                    }
                    made.isMulti = made.polygons.size() > 1;
                }
                break;
            }
            if (made.isEmpty()) ++lost;
        },
        progress);
    if (!out) return out;
    noteLost(remarks, lost, "have no such shape");
    out->info.geometry = GeometryType::None;
    out->info.isMulti = false;
    out->refreshInfo();
    return out;
}

Result<FeatureTable> pointsFrom(const FeatureTable& table, const std::string& xField,
                                const std::string& yField, crs::CrsPtr crs, Remarks& remarks) {
    std::array<std::size_t, 2> places{};
    for (std::size_t i = 0; i < 2; ++i) {
        const auto place = fieldPlace(table.info, i == 0 ? xField : yField);
        if (!place) return place.error();
        const FieldType type = table.info.fields[*place].type;
        if (type != FieldType::Integer && type != FieldType::Real)
            return Error{ErrorCode::InvalidArgument,
                         "field \"" + table.info.fields[*place].name + "\"", "holds no numbers",
                         "compute a column with to_number(\u2026) first"};
        places[i] = *place;
    }
    LayerInfo info = table.info;
    info.crs = std::move(crs);
    info.geometry = GeometryType::Point;
    FeatureTableBuilder builder(info);
    std::vector<Value> values(info.fields.size());
    std::size_t lost = 0;
    for (const FeatureView f : table) {
        for (std::size_t k = 0; k < values.size(); ++k) values[k] = f.value(k);
        const Point at{f.number(places[0]), f.number(places[1])};
        if (!at.isFinite()) ++lost;
        builder.add(f.id, at.isFinite() ? Geometry::point(at) : Geometry(), values);
    }
    noteLost(remarks, lost, "have no coordinates");
    FeatureTable out = builder.finish();
    out.refreshInfo();
    return out;
}

Result<FeatureTable> scattered(const FeatureTable& areas, int count, double spacing,
                               std::uint64_t seed, const Progress& progress) {
    if (!(count > 0) && !(spacing > 0))
        return Error{ErrorCode::InvalidArgument, "points", "neither their number nor how far apart",
                     "give one of both"};
    LayerInfo info = areas.info;
    info.geometry = GeometryType::Point;
    info.isMulti = false;
    FeatureTableBuilder builder(info);
    std::vector<Value> values(info.fields.size());
    FeatureKey key = 0;
    for (const FeatureView f : areas) {
        if (progress.stopped()) return cancelled("points");
        progress.at(static_cast<double>(f.index) / static_cast<double>(areas.size()));
        if (f.geometry.type != GeometryType::Polygon || f.geometry.isEmpty()) continue;
        const PreparedShape area(f.geometry);
        const Box box = area.box();
        for (std::size_t k = 0; k < values.size(); ++k) values[k] = f.value(k);
        const auto add = [&](Point p) { builder.add(++key, Geometry::point(p), values); };
        const double expected = spacing > 0
                                    ? (box.width() / spacing + 1) * (box.height() / spacing + 1)
                                    : static_cast<double>(count);
        if (static_cast<double>(key) + expected > static_cast<double>(kMostPoints))
            return Error{ErrorCode::LimitExceeded, "points", "there would be more than ten million",
                         "give fewer, or space them wider"};
        if (spacing > 0) {
            // One lattice for all areas, so that neighbours continue each other.
            for (double y = std::ceil(box.yMin / spacing) * spacing; y <= box.yMax; y += spacing)
                for (double x = std::ceil(box.xMin / spacing) * spacing; x <= box.xMax;
                     x += spacing)
                    if (area.locate({x, y}) != Location::Outside) add({x, y});
            continue;
        }
        Random random(seed ^ (static_cast<std::uint64_t>(f.id) * 0x9E3779B97F4A7C15ULL));
        // Thin shapes fill little of their boxes; one without any room gives up.
        int left = count;
        for (long tries = 0; left > 0 && tries < 100000L + 1000L * count; ++tries) {
            const Point p{random.between(box.xMin, box.xMax), random.between(box.yMin, box.yMax)};
            if (area.locate(p) != Location::Inside) continue;
            add(p);
            --left;
        }
    }
    FeatureTable out = builder.finish();
    out.refreshInfo();
    return out;
}

}  // namespace ledge::derive
