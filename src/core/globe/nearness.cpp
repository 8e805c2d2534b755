#include "core/globe/nearness.h"

#include <atomic>
#include <cmath>

#include "core/base/parallel.h"

namespace ledge::globe {
namespace {
constexpr std::size_t kPiece = 32;  // sides
// A little more than a degree of the meridian is short of anywhere on the ellipsoids in use.
constexpr double kFewestMetresPerDegree = 110000;
constexpr std::size_t kRows = 256;
}  // namespace

Result<Nearness> Nearness::to(const FeatureTable& others, const crs::CrsPtr& from,
                              const Progress& progress) {
    const crs::CrsPtr& theirs = others.info.crs;
    if ((from == nullptr) != (theirs == nullptr))
        return Error{ErrorCode::InvalidArgument, from ? others.info.name : "the layer",
                     "has no CRS, so nothing can be told near to it", "declare its CRS"};
    Nearness out(from);
    crs::Transformation way;
    if (from) {
        const auto between = crs::Transformation::between(
            theirs, std::make_shared<crs::Crs>(crs::geographicBase(*from)));
        if (!between) return between.error();
        way = *between;
    }
    for (std::size_t i = 0; i < others.size(); ++i) {
        if (i % 1024 == 0 && progress.stopped()) return cancelled(others.info.name);
        Geometry shape = others.geometry(i).toGeometry();
        if (shape.isEmpty()) continue;
        way.forward(shape.points);
        if (shape.isFinite()) out.add(i, std::move(shape));
    }
    std::vector<Box> boxes;
    Box all;
    for (const Piece& piece : out.m_pieces) {
        boxes.push_back(piece.shape.box());
        all.add(boxes.back());
    }
    out.m_pieceTree = PackedTree(boxes);
    boxes.clear();
    for (const Area& area : out.m_areas) boxes.push_back(area.shape.box());
    out.m_areaTree = PackedTree(boxes);
    out.m_width = std::max(all.width(), all.height());
    return out;
}

void Nearness::add(std::size_t row, Geometry shape) {
    if (shape.type == GeometryType::Polygon) m_areas.push_back({row, PreparedShape(shape)});
    for (std::size_t i = 0; i < shape.partCount(); ++i) {
        const auto part = shape.part(i);
        if (part.size() == 1) {
            m_pieces.push_back({row, Geometry::point(part[0])});
            continue;
        }
        for (std::size_t k = 0; k + 1 < part.size(); k += kPiece) {
            const std::size_t count = std::min(kPiece + 1, part.size() - k);
            const auto piece = part.subspan(k, count);
            m_pieces.push_back({row, Geometry::line({piece.begin(), piece.end()})});
        }
    }
}

double Nearness::between(const GeometryView& a, const GeometryView& b) const {
    if (!m_ground.isOnEllipsoid()) return m_ground.distance(a, b);
    return distanceOnEllipsoid(*m_ground.geodesic(), a, b);
}

// What may lie within `metres` of a box, by degrees; on both sides of the antimeridian.
template <typename Visit>
void Nearness::near(const PackedTree& tree, const Box& box, double metres,
                    const Visit& visit) const {
    if (!m_ground.isOnEllipsoid()) {
        tree.meeting(box.grown(metres), visit);
        return;
    }
    const double up = metres / kFewestMetresPerDegree;
    const double farthest = std::max(std::abs(box.yMin - up), std::abs(box.yMax + up));
    const double cosine = farthest < 89.9 ? std::cos(farthest * crs::kRadiansPerDegree) : 0;
    const double aside = cosine > 0 ? std::min(360.0, up / cosine) : 360;
    for (const double turn : {0.0, -360.0, 360.0}) {
        const Box around{box.xMin - aside + turn, box.yMin - up, box.xMax + aside + turn,
                         box.yMax + up};
        if (!tree.meeting(around, visit)) return;
    }
}

std::optional<Nearness::Found> Nearness::search(const GeometryView& shape, double most,
                                                bool isAnyEnough) const {
    Geometry own = shape.toGeometry();
    own.points = m_ground.degrees(shape.points);
    if (own.isEmpty() || !own.isFinite()) return {};
    const Box box = own.box();
    std::optional<Found> best;
    const auto take = [&](std::size_t row, double metres) {
        if (!(metres <= most)) return true;
        if (!best || metres < best->metres || (metres == best->metres && row < best->row))
            best = Found{row, metres};
        return !isAnyEnough;
    };
    const PreparedShape prepared(own);
    m_areaTree.meeting(box, [&](std::size_t i) {
        return !meets(prepared, m_areas[i].shape) || take(m_areas[i].row, 0);
    });
    if (best && isAnyEnough) return best;
    near(m_pieceTree, box, most, [&](std::size_t i) {
        if (best && best->metres == 0 && best->row <= m_pieces[i].row) return true;
        return take(m_pieces[i].row, between(own, m_pieces[i].shape));
    });
    return best;
}

std::optional<Nearness::Found> Nearness::nearest(const GeometryView& shape, double most) const {
    // From near to far, so that few are compared: each step looks ten times as far.
    const double widest = m_ground.isOnEllipsoid() ? 2.1e7 : std::max(m_width, 1.0) * 4;
    const double end = std::min(most, std::isfinite(most) ? most : widest * 1e6);
    for (double reach = widest / 1e5; reach < end; reach *= 10)
        if (const auto found = search(shape, reach, false)) return found;
    return search(shape, end, false);
}

bool Nearness::isWithin(const GeometryView& shape, double metres) const {
    return search(shape, metres, true).has_value();
}

Result<std::vector<std::size_t>> rowsWithin(const FeatureTable& table, const Nearness& nearness,
                                            double metres, const Progress& progress) {
    std::vector<std::uint8_t> is(table.size());
    std::atomic<std::size_t> done{0};
    parallelRanges(table.size(), kRows, [&](std::size_t from, std::size_t to) {
        if (progress.stopped()) return;
        for (std::size_t i = from; i < to; ++i)
            is[i] = nearness.isWithin(table.geometry(i), metres) ? 1 : 0;
        done += to - from;
        progress.at(static_cast<double>(done) / static_cast<double>(table.size()));
    });
    if (progress.stopped()) return cancelled(table.info.name);
    std::vector<std::size_t> out;
    for (std::size_t i = 0; i < is.size(); ++i)
        if (is[i] != 0) out.push_back(i);
    return out;
}

}  // namespace ledge::globe
