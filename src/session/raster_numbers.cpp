#include "session/raster_numbers.h"

#include "core/base/numbers.h"

namespace ledge::session {
namespace {
constexpr std::int64_t kSampledSide = 1024;

Result<RasterNumbers> counted(const RasterSource& raster, int band, std::size_t bins,
                              const Progress& progress) {
    RasterNumbers out;
    const auto numbers = statistics(raster, band, progress.part(0, 0.5));
    if (!numbers) return numbers.error();
    out.statistics = *numbers;
    if (numbers->count == 0) return out;
    const double high = numbers->max > numbers->min ? numbers->max : numbers->min + 1;
    const auto found = histogram(raster, band, numbers->min, high, bins, progress.part(0.5, 1));
    if (!found) return found.error();
    out.histogram = *found;
    return out;
}
}  // namespace

Result<RasterNumbers> sampledNumbers(const Pyramid& pyramid, std::size_t bins,
                                     const Progress& progress) {
    const int level = pyramid.levelOf(kSampledSide);
    if (level == 0) return counted(pyramid.source(), pyramid.band(), bins, progress);
    auto cells = pyramid.read(level, {0, 0, pyramid.cols(level), pyramid.rows(level)},
                              progress.part(0, 0.5));
    if (!cells) return cells.error();
    RasterInfo info;
    info.bands = {{CellType::Float32, {}, ""}};
    const MemoryRaster copy(info, *std::move(cells));
    auto out = counted(copy, 0, bins, progress.part(0.5, 1));
    if (out) out->isSampled = true;
    return out;
}

Result<RasterNumbers> exactNumbers(const RasterSource& raster, int band, std::size_t bins,
                                   const Progress& progress) {
    return counted(raster, band, bins, progress);
}

std::string numbersText(const RasterNumbers& numbers, const std::string& unit) {
    const RasterStatistics& s = numbers.statistics;
    if (s.count == 0) return "No cell holds data.";
    const auto value = [](double v) {
        const double size = std::abs(v);
        return formatNumber(v, {size >= 1000 ? 0 : size >= 10 ? 1 : 3, true});
    };
    const std::string behind = unit == "metre"  ? " m"
                               : unit == "foot" ? " ft"
                               : unit.empty()   ? ""
                                                : " " + unit;
    std::string out = value(s.min) + " to " + value(s.max) + behind + "\nmean " + value(s.mean) +
                      ", standard deviation " + value(s.deviation) + "\n";
    if (numbers.isSampled)
        return out + "sampled at reduced size: about " + formatNumber(double(s.count), {0, true}) +
               " cells";
    return out + "every one of " + formatNumber(double(s.count + s.missing), {0, true}) +
           " cells counted, " + formatNumber(double(s.missing), {0, true}) + " without data";
}

}  // namespace ledge::session
