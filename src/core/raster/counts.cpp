#include "core/raster/counts.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>

#include "core/raster/ground.h"

namespace ledge {
namespace {
// Passes every cell of a band, a strip of rows at a time.
Result<void> forAllCells(const RasterSource& source, int band, const Progress& progress,
                         const std::function<Result<void>(std::span<const double>)>& visit) {
    const RasterInfo& info = source.info();
    constexpr std::int64_t kRows = 64;
    Grid<double> rows(kRows, static_cast<std::size_t>(info.width));
    for (std::int64_t row = 0; row < info.height; row += kRows) {
        if (progress.stopped()) return cancelled("counting");
        const std::int64_t count = std::min(kRows, info.height - row);
        const auto part = rows.view().part(0, 0, static_cast<std::size_t>(count), rows.cols());
        if (const auto done = source.read(band, {0, row, info.width, count}, part); !done)
            return done;
        for (std::size_t r = 0; r < part.rows(); ++r)
            if (const auto done = visit(part.row(r)); !done) return done;
        progress.at(static_cast<double>(row + count) / static_cast<double>(info.height));
    }
    return {};
}
}  // namespace

Result<Histogram> histogram(const RasterSource& source, int band, double low, double high,
                            std::size_t bins, const Progress& progress) {
    if (!(high > low) || bins == 0)
        return Error{ErrorCode::InvalidArgument, "histogram", "no range to count in", ""};
    Histogram out{low, high, std::vector<std::int64_t>(bins)};
    const double perValue = static_cast<double>(bins) / (high - low);
    const auto done = forAllCells(source, band, progress, [&](std::span<const double> row) {
        for (const double v : row) {
            if (std::isnan(v))
                ++out.missing;
            else if (v < low)
                ++out.below;
            else if (v > high)
                ++out.above;
            else
                ++out.counts[std::min(bins - 1, static_cast<std::size_t>((v - low) * perValue))];
        }
        return Result<void>();
    });
    if (!done) return done.error();
    return out;
}

namespace {
// Sums of the values of one row; most class rasters hold none but small whole numbers.
class RowSums {
public:
    void add(std::span<const double> row, std::span<const double> areas) {
        for (std::size_t c = 0; c < row.size(); ++c) {
            const double v = row[c];
            if (std::isnan(v)) continue;
            ValueSum& sum = v >= 0 && v < 256 && v == std::floor(v)
                                ? m_small[static_cast<std::size_t>(v)]
                                : m_others[v];
            ++sum.cells;
            sum.squareMetres += areas[c];
        }
    }
    void addTo(std::map<double, ValueSum>& all) const {
        const auto join = [&all](double value, const ValueSum& sum) {
            ValueSum& whole = all[value];
            whole.cells += sum.cells;
            whole.squareMetres += sum.squareMetres;
        };
        for (std::size_t i = 0; i < m_small.size(); ++i)
            if (m_small[i].cells > 0) join(static_cast<double>(i), m_small[i]);
        for (const auto& [value, sum] : m_others) join(value, sum);
    }

private:
    std::array<ValueSum, 256> m_small{};
    std::map<double, ValueSum> m_others;
};
}  // namespace

Result<std::map<double, ValueSum>> valueSums(const RasterSource& source, int band, std::size_t most,
                                             const Progress& progress) {
    std::map<double, ValueSum> out;
    const RasterInfo& info = source.info();
    const Ground ground(info);
    std::vector<double> areas(static_cast<std::size_t>(info.width), 0.0);
    std::int64_t row = 0;
    RowSums sums;
    const auto done =
        forAllCells(source, band, progress, [&](std::span<const double> cells) -> Result<void> {
            if (info.crs) ground.areas(row, 0, areas);
            sums.add(cells, areas);
            // Now and then, so that large pictures are not read for nothing.
            constexpr std::int64_t kRowsTogether = 16;
            if (++row % kRowsTogether != 0 && row != info.height) return {};
            sums.addTo(out);
            sums = {};
            if (out.size() > most)
                return Error{ErrorCode::LimitExceeded, "counting values",
                             "there are more than " + std::to_string(most) + " different ones",
                             "this is no raster of classes"};
            return {};
        });
    if (!done) return done.error();
    return out;
}

}  // namespace ledge
