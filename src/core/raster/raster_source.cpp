#include "core/raster/raster_source.h"

#include <array>

namespace ledge {
namespace {
struct TypeFacts {
    const char* name;
    std::size_t bytes;
    double min, max;
};
constexpr double kInfinite = std::numeric_limits<double>::infinity();
constexpr std::array<TypeFacts, 8> kFacts{{{"uint8", 1, 0, 255},
                                           {"int8", 1, -128, 127},
                                           {"uint16", 2, 0, 65535},
                                           {"int16", 2, -32768, 32767},
                                           {"uint32", 4, 0, 4294967295.0},
                                           {"int32", 4, -2147483648.0, 2147483647.0},
                                           {"float32", 4, -kInfinite, kInfinite},
                                           {"float64", 8, -kInfinite, kInfinite}}};
const TypeFacts& facts(CellType type) { return kFacts[static_cast<std::size_t>(type)]; }

template <typename T>
void copyWindow(const Grid<float>& cells, CellWindow window, BlockView<T> out) {
    for (std::size_t r = 0; r < out.rows(); ++r) {
        const auto from = cells.row(static_cast<std::size_t>(window.row) + r)
                              .subspan(static_cast<std::size_t>(window.col), out.cols());
        std::copy(from.begin(), from.end(), out.row(r).begin());
    }
}
}  // namespace

std::string cellTypeName(CellType type) { return facts(type).name; }
std::size_t cellBytes(CellType type) { return facts(type).bytes; }
bool isFloating(CellType type) { return type == CellType::Float32 || type == CellType::Float64; }
std::pair<double, double> cellRange(CellType type) { return {facts(type).min, facts(type).max}; }

Box RasterInfo::extent() const {
    Box box;
    const auto w = static_cast<double>(width), h = static_cast<double>(height);
    for (const Point corner : {Point{0, 0}, Point{w, 0}, Point{0, h}, Point{w, h}})
        box.add(toWorld(corner));
    return box;
}

MemoryRaster::MemoryRaster(RasterInfo info, Grid<float> cells)
    : m_info(std::move(info)), m_cells(std::move(cells)) {
    m_info.width = static_cast<std::int64_t>(m_cells.cols());
    m_info.height = static_cast<std::int64_t>(m_cells.rows());
    if (m_info.bands.empty()) m_info.bands.push_back({CellType::Float32, kNaN, ""});
    if (m_info.format.empty()) m_info.format = "memory";
}

Result<void> MemoryRaster::read(int, CellWindow window, BlockView<double> out) const {
    copyWindow(m_cells, window, out);
    return {};
}
Result<void> MemoryRaster::read(int, CellWindow window, BlockView<float> out) const {
    copyWindow(m_cells, window, out);
    return {};
}

double valueAt(const RasterSource& source, int band, Point world) {
    const RasterInfo& info = source.info();
    const auto toCell = info.toWorld.inverse();
    if (!toCell || !world.isFinite()) return kNaN;
    const Point cell = (*toCell)(world);
    if (!(cell.x >= 0 && cell.y >= 0 && cell.x < static_cast<double>(info.width) &&
          cell.y < static_cast<double>(info.height)))
        return kNaN;
    double value = kNaN;
    const CellWindow window{static_cast<std::int64_t>(cell.x), static_cast<std::int64_t>(cell.y), 1,
                            1};
    if (const auto done = source.read(band, window, BlockView<double>(&value, 1, 1, 1)); !done)
        return kNaN;
    return value;
}

Result<RasterStatistics> statistics(const RasterSource& source, int band,
                                    const Progress& progress) {
    const RasterInfo& info = source.info();
    constexpr std::int64_t kRows = 64;
    Grid<double> rows(kRows, static_cast<std::size_t>(info.width));
    RasterStatistics out;
    double mean = 0, squares = 0;
    for (std::int64_t row = 0; row < info.height; row += kRows) {
        if (progress.stopped()) return cancelled("statistics");
        const std::int64_t count = std::min(kRows, info.height - row);
        const auto part = rows.view().part(0, 0, static_cast<std::size_t>(count), rows.cols());
        if (const auto done = source.read(band, {0, row, info.width, count}, part); !done)
            return done.error();
        for (std::size_t r = 0; r < part.rows(); ++r) {
            for (const double value : part.row(r)) {
                if (std::isnan(value)) {
                    ++out.missing;
                    continue;
                }
                ++out.count;
                // Welford 1962: one pass without cancellation.
                const double off = value - mean;
                mean += off / static_cast<double>(out.count);
                squares += off * (value - mean);
                out.min = std::isnan(out.min) ? value : std::min(out.min, value);
                out.max = std::isnan(out.max) ? value : std::max(out.max, value);
            }
        }
        progress.at(static_cast<double>(row + count) / static_cast<double>(info.height));
    }
    if (out.count > 0) {
        out.mean = mean;
        out.deviation = std::sqrt(squares / static_cast<double>(out.count));
    }
    return out;
}

}  // namespace ledge
