#include "core/derive/gridding.h"

#include <algorithm>
#include <cmath>

#include "core/base/numbers.h"

namespace ledge::derive {
namespace {
constexpr double kMostCells = 100e6;
}

Result<Gridder> Gridder::over(const Box& extent, double side, Gridding how) {
    if (extent.isEmpty())
        return Error{ErrorCode::InvalidArgument, "grid", "there are no points",
                     "choose a layer with points"};
    if (!(side > 0) || !std::isfinite(side))
        return Error{ErrorCode::InvalidArgument, "cell", "is no positive number",
                     "give the side of a cell in the layer's unit"};
    Gridder out;
    out.m_side = side;
    out.m_how = how;
    const double west = std::floor(extent.xMin / side), south = std::floor(extent.yMin / side),
                 east = std::floor(extent.xMax / side) + 1,
                 north = std::floor(extent.yMax / side) + 1;
    const double cells = (east - west) * (north - south);
    if (!(cells <= kMostCells))
        return Error{ErrorCode::LimitExceeded, "cell",
                     "there would be " + formatNumber(cells) + " cells of " + formatNumber(side),
                     "give a larger side"};
    out.m_box = {west * side, south * side, east * side, north * side};
    out.m_columns = static_cast<std::int64_t>(east - west);
    out.m_rows = static_cast<std::int64_t>(north - south);
    const auto count = static_cast<std::size_t>(out.m_columns * out.m_rows);
    const bool isMean = how == Gridding::Mean;
    if (isMean) out.m_sums.assign(count, 0);
    if (!isMean) out.m_cells.assign(count, std::nanf(""));
    if (isMean || how == Gridding::Count) out.m_counts.assign(count, 0);
    return out;
}

void Gridder::add(Point at, double value) {
    if (!at.isFinite() || !(std::isfinite(value) || m_how == Gridding::Count)) return;
    const double column = std::floor((at.x - m_box.xMin) / m_side),
                 row = std::ceil((m_box.yMax - at.y) / m_side) - 1;
    if (!(column >= 0 && row >= 0 && column < static_cast<double>(m_columns) &&
          row < static_cast<double>(m_rows)))
        return;
    const auto i = static_cast<std::size_t>(static_cast<std::int64_t>(row) * m_columns +
                                            static_cast<std::int64_t>(column));
    const auto v = static_cast<float>(value);
    const auto put = [&](float better) {
        float& cell = m_cells[i];
        cell = std::isnan(cell) ? v : better;
    };
    switch (m_how) {
    case Gridding::Lowest: put(std::min(m_cells[i], v)); break;
    case Gridding::Highest: put(std::max(m_cells[i], v)); break;
    case Gridding::Count: m_cells[i] = static_cast<float>(++m_counts[i]); break;
    case Gridding::Mean:
        m_sums[i] += value;
        ++m_counts[i];
        break;
    }
}

std::int64_t Gridder::filled() const {
    if (m_how == Gridding::Mean)
        return std::count_if(m_counts.begin(), m_counts.end(), [](auto n) { return n > 0; });
    return std::count_if(m_cells.begin(), m_cells.end(), [](float v) { return !std::isnan(v); });
}

RasterPtr Gridder::finish(const crs::CrsPtr& crs) {
    RasterInfo info;
    info.crs = crs;
    info.toWorld = {m_side, 0, m_box.xMin, 0, -m_side, m_box.yMax};
    const auto columns = static_cast<std::size_t>(m_columns),
               rows = static_cast<std::size_t>(m_rows);
    Grid<float> cells(rows, columns, std::nanf(""));
    for (std::size_t i = 0; i < rows * columns; ++i) {
        float& cell = cells(i / columns, i % columns);
        if (m_how != Gridding::Mean)
            cell = m_cells[i];
        else if (m_counts[i] > 0)
            cell = static_cast<float>(m_sums[i] / m_counts[i]);
    }
    return std::make_shared<MemoryRaster>(std::move(info), std::move(cells));
}

}  // namespace ledge::derive
