#include "core/derive/joins.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <unordered_map>

#include "core/base/letters.h"
#include "core/base/numbers.h"
#include "core/base/parallel.h"
#include "core/derive/columns.h"
#include "core/geometry/relate.h"
#include "core/globe/nearness.h"

namespace ledge::derive {
namespace {
constexpr std::size_t kRows = 1024;
constexpr std::uint32_t kNone = kNoMatch;

std::string countText(std::size_t n, const std::string& one, const std::string& many) {
    return formatNumber(static_cast<double>(n)) + " " + (n == 1 ? one : many);
}

// Numbers by what they are, whole or not; a text such as "007" is a code, not the number 7.
std::string keyText(const Value& value) {
    const double number = numberOf(value);
    const bool isNumber = !std::isnan(number) && !std::holds_alternative<bool>(value);
    return isNumber ? exactNumber(number) : exactText(value);
}
std::string looseText(const std::string& key) { return caseFolded(trimmed(key)); }

}  // namespace

Result<std::size_t> fieldPlace(const LayerInfo& layer, const std::string& name) {
    std::optional<std::size_t> alike;
    std::string known;
    for (std::size_t i = 0; i < layer.fields.size(); ++i) {
        if (layer.fields[i].name == name) return i;
        if (caseFolded(layer.fields[i].name) == caseFolded(name)) alike = i;
        known += (known.empty() ? "" : ", ") + layer.fields[i].name;
    }
    if (alike) return *alike;
    return Error{ErrorCode::NotFound, "field \"" + name + "\"", layer.name + " has no such field",
                 "it has: " + known};
}

Result<FeatureTable> joined(const FeatureTable& table, const std::string& key,
                            const FeatureTable& other, const std::string& otherKey,
                            const std::vector<std::string>& columns, Remarks& remarks,
                            const Progress& progress) {
    const auto own = fieldPlace(table.info, key);
    if (!own) return own.error();
    const auto theirs = fieldPlace(other.info, otherKey);
    if (!theirs) return theirs.error();
    const auto in = incoming(table, other, columns, *theirs);
    if (!in) return in.error();
    std::unordered_map<std::string, std::uint32_t> exact, loose;
    std::size_t repeated = 0;
    for (std::size_t i = 0; i < other.size(); ++i) {
        if (i % 65536 == 0 && progress.stopped()) return cancelled("join");
        if (other.isMissing(i, *theirs)) continue;
        const std::string text = keyText(other.value(i, *theirs));
        if (!exact.emplace(text, static_cast<std::uint32_t>(i)).second) ++repeated;
        loose.emplace(looseText(text), static_cast<std::uint32_t>(i));
    }
    progress.at(0.4);
    std::vector<std::uint32_t> matches(table.size(), kNone);
    std::vector<bool> isUsed(other.size(), false);
    std::size_t unmatched = 0, nearly = 0;
    std::string example;
    for (std::size_t i = 0; i < table.size(); ++i) {
        if (i % 65536 == 0 && progress.stopped()) return cancelled("join");
        if (table.isMissing(i, *own)) {
            ++unmatched;
            continue;
        }
        const std::string text = keyText(table.value(i, *own));
        if (const auto it = exact.find(text); it != exact.end()) {
            matches[i] = it->second;
        } else if (const auto near = loose.find(looseText(text)); near != loose.end()) {
            matches[i] = near->second;
            if (nearly++ == 0)
                example =
                    "\"" + text + "\" with \"" + keyText(other.value(near->second, *theirs)) + "\"";
        } else {
            ++unmatched;
            continue;
        }
        isUsed[matches[i]] = true;
    }
    if (unmatched == table.size() && !table.isEmpty())
        return Error{
            ErrorCode::InvalidArgument, "join", "no value of " + key + " is one of " + otherKey,
            "look at both columns: " +
                (table.isEmpty() ? std::string() : displayText(table.value(0, *own))) + " beside " +
                (other.isEmpty() ? std::string("nothing") : displayText(other.value(0, *theirs)))};
    const auto unused = static_cast<std::size_t>(std::count(isUsed.begin(), isUsed.end(), false));
    if (unmatched > 0)
        remarks.push_back(countText(unmatched, "row of ", "rows of ") + table.info.name +
                          " found no match");
    if (unused > 0)
        remarks.push_back(countText(unused, "row of ", "rows of ") + other.info.name +
                          " matched nothing");
    if (nearly > 0)
        remarks.push_back(countText(nearly, "match differs", "matches differ") +
                          " in case or blanks: " + example);
    if (repeated > 0)
        remarks.push_back(countText(repeated, "row of ", "rows of ") + other.info.name +
                          " repeats a key; the first counts");
    return withColumnsOf(table, other, *in, matches);
}

Result<FeatureTable> withPointsWithin(const FeatureTable& areas, const FeatureTable& points,
                                      const std::vector<std::string>& fields, Remarks& remarks,
                                      const Progress& progress) {
    std::vector<std::size_t> summed;
    for (const std::string& name : fields) {
        const auto place = fieldPlace(points.info, name);
        if (!place) return place.error();
        const FieldType type = points.info.fields[*place].type;
        if (type != FieldType::Integer && type != FieldType::Real)
            return Error{ErrorCode::InvalidArgument, "field \"" + name + "\"",
                         "holds no numbers to sum up", "name a field of numbers"};
        summed.push_back(*place);
    }
    // Areas laid out once; where a point lies is looked up in them on all cores.
    std::vector<PreparedShape> shapes;
    std::vector<Box> boxes;
    shapes.reserve(areas.size());
    for (std::size_t i = 0; i < areas.size(); ++i) {
        if (progress.stopped()) return cancelled(areas.info.name);
        shapes.emplace_back(areas.geometry(i));
        boxes.push_back(shapes.back().type() == GeometryType::Polygon ? shapes.back().box()
                                                                      : Box());
    }
    const PackedTree tree(boxes);
    progress.at(0.2);
    std::vector<std::uint32_t> within(points.size(), kNone);
    std::atomic<std::size_t> done{0};
    parallelRanges(points.size(), kRows, [&](std::size_t from, std::size_t to) {
        if (progress.stopped()) return;
        for (std::size_t i = from; i < to; ++i) {
            const GeometryView g = points.geometry(i);
            if (g.isEmpty()) continue;
            Box here;
            here.add(g.points[0]);
            tree.meeting(here, [&](std::size_t area) {
                if (area < within[i] && shapes[area].locate(g.points[0]) != Location::Outside)
                    within[i] = static_cast<std::uint32_t>(area);
                return true;
            });
        }
        done += to - from;
        progress.part(0.2, 0.9).at(static_cast<double>(done) / static_cast<double>(points.size()));
    });
    if (progress.stopped()) return cancelled(points.info.name);
    std::vector<double> counts(areas.size(), 0);
    std::size_t outside = 0;
    for (const std::uint32_t area : within)
        area == kNone ? void(++outside) : void(counts[area] += 1);
    FeatureTable out = withNumbers(areas, {"count", FieldType::Integer}, counts);
    for (std::size_t k = 0; k < summed.size(); ++k) {
        std::vector<double> sums(areas.size(), kNaN), means(areas.size(), kNaN);
        std::vector<std::size_t> there(areas.size(), 0);
        for (std::size_t i = 0; i < points.size(); ++i) {
            const double v = points.number(i, summed[k]);
            if (within[i] == kNone || std::isnan(v)) continue;
            double& sum = sums[within[i]];
            sum = (there[within[i]]++ == 0 ? 0 : sum) + v;
        }
        for (std::size_t i = 0; i < areas.size(); ++i)
            if (there[i] > 0) means[i] = sums[i] / static_cast<double>(there[i]);
        const std::string& name = points.info.fields[summed[k]].name;
        out = withNumbers(out, {"sum_" + name, FieldType::Real}, sums);
        out = withNumbers(out, {"mean_" + name, FieldType::Real}, means);
    }
    if (outside > 0)
        remarks.push_back(countText(outside, "point lies", "points lie") + " in no area");
    return out;
}

Result<FeatureTable> withNearest(const FeatureTable& table, const FeatureTable& other,
                                 const std::vector<std::string>& columns, double most,
                                 Remarks& remarks, const Progress& progress) {
    const auto in = incoming(table, other, columns, {});
    if (!in) return in.error();
    const auto nearness = globe::Nearness::to(other, table.info.crs, progress.part(0, 0.1));
    if (!nearness) return nearness.error();
    std::vector<std::uint32_t> matches(table.size(), kNone);
    std::vector<double> metres(table.size(), kNaN);
    std::atomic<std::size_t> done{0};
    parallelRanges(table.size(), 64, [&](std::size_t from, std::size_t to) {
        if (progress.stopped()) return;
        for (std::size_t i = from; i < to; ++i) {
            const auto found = nearness->nearest(table.geometry(i), most);
            if (!found) continue;
            matches[i] = static_cast<std::uint32_t>(found->row);
            metres[i] = found->metres;
        }
        done += to - from;
        progress.part(0.1, 1).at(static_cast<double>(done) / static_cast<double>(table.size()));
    });
    if (progress.stopped()) return cancelled(table.info.name);
    const auto alone = static_cast<std::size_t>(std::count(matches.begin(), matches.end(), kNone));
    if (alone > 0)
        remarks.push_back(countText(alone, "feature has", "features have") + " none near enough");
    FeatureTable out = withColumnsOf(table, other, *in, matches);
    return withNumbers(out, {"distance_m", FieldType::Real}, metres);
}

}  // namespace ledge::derive
