#include "core/derive/zonal.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <map>

#include "core/base/numbers.h"
#include "core/crs/transformation.h"
#include "core/derive/columns.h"
#include "core/geometry/measure.h"
#include "core/globe/reproject.h"

namespace ledge::derive {
namespace {
// Rows of cells that are read together.
constexpr std::int64_t kStripRows = 64;

Result<crs::Transformation> wayTo(const RasterSource& raster, const crs::CrsPtr& from) {
    if ((from == nullptr) != (raster.info().crs == nullptr))
        return Error{ErrorCode::InvalidArgument, "raster", "one of both has no CRS",
                     "declare its CRS"};
    return crs::Transformation::between(from, raster.info().crs);
}

// Where the edges of a shape cross a row of cell centres, in columns, ascending. `toCells` leads
// from the world to columns and rows.
std::vector<double> crossings(const GeometryView& g, const Affine& toCells, double row) {
    std::vector<double> out;
    for (std::size_t i = 0; i < g.partCount(); ++i) {
        const auto part = g.part(i);
        for (std::size_t k = 1; k < part.size(); ++k) {
            const Point a = toCells(part[k - 1]), b = toCells(part[k]);
            if ((a.y <= row) == (b.y <= row)) continue;
            out.push_back(a.x + (row - a.y) / (b.y - a.y) * (b.x - a.x));
        }
    }
    std::sort(out.begin(), out.end());
    return out;
}

Result<std::vector<double>> valuesWithin(const GeometryView& g, const RasterSource& raster,
                                         int band, const Progress& progress) {
    const RasterInfo& info = raster.info();
    const auto inverted = info.toWorld.inverse();
    if (!inverted) return Error{ErrorCode::BadFormat, "raster", "has no place on the ground", ""};
    const Affine& inverse = *inverted;
    Box cells;
    for (const Point p : g.points) cells.add(inverse(p));
    const auto clampTo = [](double v, std::int64_t most) {
        return static_cast<std::int64_t>(std::clamp(v, 0.0, static_cast<double>(most)));
    };
    const std::int64_t left = clampTo(std::floor(cells.xMin), info.width),
                       right = clampTo(std::ceil(cells.xMax), info.width),
                       top = clampTo(std::floor(cells.yMin), info.height),
                       bottom = clampTo(std::ceil(cells.yMax), info.height);
    std::vector<double> out;
    if (left >= right || top >= bottom) return out;
    for (std::int64_t row = top; row < bottom; row += kStripRows) {
        if (progress.stopped()) return cancelled("areas");
        const CellWindow window{left, row, right - left, std::min(kStripRows, bottom - row)};
        Grid<double> block(static_cast<std::size_t>(window.rows),
                           static_cast<std::size_t>(window.cols));
        if (const auto read = raster.read(band, window, block.view()); !read) return read.error();
        for (std::int64_t r = 0; r < window.rows; ++r) {
            const auto at = crossings(g, inverse, static_cast<double>(row + r) + 0.5);
            for (std::size_t k = 0; k + 1 < at.size(); k += 2) {
                const std::int64_t from = clampTo(std::ceil(at[k] - 0.5), info.width),
                                   until = clampTo(std::ceil(at[k + 1] - 0.5), info.width);
                for (std::int64_t c = std::max(from, left); c < std::min(until, right); ++c) {
                    const double v =
                        block(static_cast<std::size_t>(r), static_cast<std::size_t>(c - left));
                    if (!std::isnan(v)) out.push_back(v);
                }
            }
        }
    }
    return out;
}

double majorityOf(const std::vector<double>& sorted) {
    double best = kNaN;
    std::size_t most = 0;
    for (std::size_t i = 0; i < sorted.size();) {
        std::size_t next = i;
        while (next < sorted.size() && sorted[next] == sorted[i]) ++next;
        if (next - i > most) most = next - i, best = sorted[i];
        i = next;
    }
    return best;
}
}  // namespace

Result<FeatureTable> withZonal(const FeatureTable& areas, const RasterSource& raster, int band,
                               const std::string& prefix, Remarks& remarks,
                               const Progress& progress) {
    if (const auto way = wayTo(raster, areas.info.crs); !way) return way.error();
    FeatureTable there = areas;
    if (areas.info.crs && !crs::isSame(areas.info.crs, raster.info().crs)) {
        auto moved = globe::reprojected(areas, raster.info().crs, {}, progress.part(0, 0.1));
        if (!moved) return moved.error();
        there = std::move(moved->table);
    }
    std::unordered_map<FeatureKey, std::size_t> rowOf;
    for (std::size_t i = 0; i < there.size(); ++i) rowOf.emplace(there.key(i), i);
    enum Which { Mean, Sum, Median, Min, Max, Majority, kWhich };
    std::vector<double> counts(areas.size(), 0);
    std::vector<std::vector<double>> figures(kWhich, std::vector<double>(areas.size(), kNaN));
    std::size_t empty = 0;
    for (std::size_t i = 0; i < areas.size(); ++i) {
        progress.part(0.1, 1).at(static_cast<double>(i) / static_cast<double>(areas.size()));
        const auto row = rowOf.find(areas.key(i));
        if (row == rowOf.end() || there.geometry(row->second).type != GeometryType::Polygon) {
            ++empty;
            continue;
        }
        auto values = valuesWithin(there.geometry(row->second), raster, band, progress);
        if (!values) return values.error();
        std::sort(values->begin(), values->end());
        const auto& v = *values;
        counts[i] = static_cast<double>(v.size());
        if (v.empty()) {
            ++empty;
            continue;
        }
        double sum = 0;
        for (const double one : v) sum += one;
        figures[Sum][i] = sum;
        figures[Mean][i] = sum / static_cast<double>(v.size());
        figures[Median][i] = (v[(v.size() - 1) / 2] + v[v.size() / 2]) / 2;
        figures[Min][i] = v.front();
        figures[Max][i] = v.back();
        figures[Majority][i] = majorityOf(v);
    }
    if (empty > 0)
        remarks.push_back(formatNumber(static_cast<double>(empty)) +
                          (empty == 1 ? " area holds" : " areas hold") + " no cell with data");
    FeatureTable out = withNumbers(areas, {prefix + "count", FieldType::Integer}, counts);
    const char* names[] = {"mean", "sum", "median", "min", "max", "majority"};
    for (int k = 0; k < kWhich; ++k)
        out = withNumbers(out, {prefix + names[k], FieldType::Real},
                          figures[static_cast<std::size_t>(k)]);
    return out;
}

Result<FeatureTable> withCellValues(const FeatureTable& table, const RasterSource& raster, int band,
                                    const std::string& name, Remarks& remarks,
                                    const Progress& progress) {
    const auto way = wayTo(raster, table.info.crs);
    if (!way) return way.error();
    std::vector<double> values(table.size(), kNaN);
    std::size_t without = 0;
    for (std::size_t i = 0; i < table.size(); ++i) {
        if (i % 1024 == 0) {
            if (progress.stopped()) return cancelled(table.info.name);
            progress.at(static_cast<double>(i) / static_cast<double>(table.size()));
        }
        const GeometryView g = table.geometry(i);
        if (!g.isEmpty()) {
            const Point at = g.type == GeometryType::Point ? g.points[0] : anchorOf(g);
            values[i] = valueAt(raster, band, way->forward(at));
        }
        if (std::isnan(values[i])) ++without;
    }
    if (without > 0)
        remarks.push_back(formatNumber(static_cast<double>(without)) +
                          (without == 1 ? " feature lies" : " features lie") +
                          " where no data are");
    return withNumbers(table, {name, FieldType::Real}, values);
}

}  // namespace ledge::derive
