#include "core/derive/related.h"

#include <algorithm>
#include <atomic>

#include "core/base/numbers.h"
#include "core/base/parallel.h"
#include "core/derive/columns.h"
#include "core/derive/joins.h"
#include "core/derive/polygons.h"
#include "core/geometry/measure.h"

namespace ledge::derive {
namespace {
constexpr std::size_t kRowsAtATime = 64;

// Features laid out once, to be found by place from all cores.
struct Prepared {
    std::vector<PreparedShape> shapes;
    PackedTree tree;
};
Result<Prepared> prepared(const FeatureTable& table, bool onlyAreas, const Progress& progress) {
    Prepared out;
    std::vector<Box> boxes;
    out.shapes.reserve(table.size());
    for (std::size_t i = 0; i < table.size(); ++i) {
        if (i % 1024 == 0 && progress.stopped()) return cancelled(table.info.name);
        out.shapes.emplace_back(table.geometry(i));
        const bool isFit = !onlyAreas || out.shapes.back().type() == GeometryType::Polygon;
        boxes.push_back(isFit ? out.shapes.back().box() : Box());
    }
    out.tree = PackedTree(boxes);
    return out;
}

// What of a shape lies in an area: square units, units of length, or whether a point does.
double amountWithin(const PreparedShape& shape, const PreparedShape& area) {
    switch (shape.type()) {
    case GeometryType::Point:
        return static_cast<double>(
            std::count_if(shape.shape().points.begin(), shape.shape().points.end(),
                          [&](Point p) { return area.locate(p) != Location::Outside; }));
    case GeometryType::Line: return planarLength(runsWithin(shape, area));
    case GeometryType::Polygon: {
        const auto common = intersectionOf(shape.shape(), area.shape());
        return common ? planarArea(*common) : 0;
    }
    case GeometryType::None: break;
    }
    return 0;
}
double wholeOf(const PreparedShape& shape) {
    switch (shape.type()) {
    case GeometryType::Point: return static_cast<double>(shape.shape().points.size());
    case GeometryType::Line: return planarLength(shape.shape());
    case GeometryType::Polygon: return planarArea(shape.shape());
    case GeometryType::None: break;
    }
    return 0;
}
}  // namespace

Result<std::vector<std::size_t>> rowsRelated(const FeatureTable& table, const FeatureTable& others,
                                             Relation relation, const Progress& progress) {
    const auto there = prepared(others, false, progress);
    if (!there) return there.error();
    const bool isDisjoint = relation == Relation::Disjoint;
    std::vector<std::uint8_t> isKept(table.size(), 0);
    std::atomic<std::size_t> done{0};
    parallelRanges(table.size(), kRowsAtATime, [&](std::size_t from, std::size_t to) {
        if (progress.stopped()) return;
        for (std::size_t i = from; i < to; ++i) {
            const PreparedShape shape(table.geometry(i));
            bool found = false;
            there->tree.meeting(shape.box(), [&](std::size_t k) {
                found = isDisjoint ? meets(shape, there->shapes[k])
                                   : holds(relation, shape, there->shapes[k]);
                return !found;
            });
            isKept[i] = found != isDisjoint ? 1 : 0;
        }
        done += to - from;
        progress.at(static_cast<double>(done) / static_cast<double>(table.size()));
    });
    if (progress.stopped()) return cancelled(table.info.name);
    std::vector<std::size_t> out;
    for (std::size_t i = 0; i < isKept.size(); ++i)
        if (isKept[i] != 0) out.push_back(i);
    return out;
}

Result<FeatureTable> withLargestShare(const FeatureTable& table, const FeatureTable& areas,
                                      const std::vector<std::string>& columns,
                                      std::vector<std::string>& remarks, const Progress& progress) {
    const auto in = incoming(table, areas, columns, {});
    if (!in) return in.error();
    const auto there = prepared(areas, true, progress);
    if (!there) return there.error();
    std::vector<std::uint32_t> matches(table.size(), kNoMatch);
    std::vector<double> shares(table.size(), kNaN);
    std::atomic<std::size_t> done{0};
    parallelRanges(table.size(), kRowsAtATime, [&](std::size_t from, std::size_t to) {
        if (progress.stopped()) return;
        for (std::size_t i = from; i < to; ++i) {
            const PreparedShape shape(table.geometry(i));
            if (shape.isEmpty()) continue;
            double most = 0;
            there->tree.meeting(shape.box(), [&](std::size_t k) {
                const double amount = amountWithin(shape, there->shapes[k]);
                // Of equal shares the first, in whatever order they are found.
                if (amount > most || (amount == most && amount > 0 && k < matches[i])) {
                    most = amount;
                    matches[i] = static_cast<std::uint32_t>(k);
                }
                return true;
            });
            if (matches[i] != kNoMatch) shares[i] = std::min(100.0, 100 * most / wholeOf(shape));
        }
        done += to - from;
        progress.at(static_cast<double>(done) / static_cast<double>(table.size()));
    });
    if (progress.stopped()) return cancelled(table.info.name);
    const auto none = std::count(matches.begin(), matches.end(), kNoMatch);
    if (none > 0)
        remarks.push_back(formatNumber(static_cast<double>(none)) +
                          (none == 1 ? " feature lies" : " features lie") + " in no area");
    return withNumbers(withColumnsOf(table, areas, *in, matches),
                       {"share_percent", FieldType::Real}, shares);
}

}  // namespace ledge::derive
