#include "core/raster/counts.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>

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

Result<std::map<double, std::int64_t>> valueCounts(const RasterSource& source, int band,
                                                   std::size_t most, const Progress& progress) {
    std::map<double, std::int64_t> out;
    std::array<std::int64_t, 256> small{};  // most class rasters hold nothing else
    std::size_t smallKinds = 0;
    const auto done =
        forAllCells(source, band, progress, [&](std::span<const double> row) -> Result<void> {
            for (const double v : row) {
                if (std::isnan(v)) continue;
                if (v >= 0 && v < 256 && v == std::floor(v))
                    smallKinds += small[static_cast<std::size_t>(v)]++ == 0 ? 1u : 0u;
                else
                    ++out[v];
            }
            // As soon as it is known, so that large pictures are not read for nothing.
            if (out.size() + smallKinds > most)
                return Error{ErrorCode::LimitExceeded, "counting values",
                             "there are more than " + std::to_string(most) + " different ones",
                             "this is no raster of classes"};
            return {};
        });
    if (!done) return done.error();
    for (std::size_t i = 0; i < small.size(); ++i)
        if (small[i] > 0) out[static_cast<double>(i)] = small[i];
    return out;
}

}  // namespace ledge
