#include "core/raster/pyramid.h"

#include "core/base/parallel.h"

namespace ledge {
namespace {
constexpr std::int64_t kSmallestLevel = 4;

std::int64_t sizeAt(std::int64_t size, int level) {
    const std::int64_t step = std::int64_t{1} << level;
    return (size + step - 1) / step;
}

// Mean of the data cells in each step x step square of `cells`, into `out`.
void average(BlockView<const float> cells, std::size_t step, std::span<float> out) {
    for (std::size_t c = 0; c < out.size(); ++c) {
        double sum = 0;
        int count = 0;
        const std::size_t end = std::min(cells.cols(), (c + 1) * step);
        for (std::size_t r = 0; r < cells.rows(); ++r)
            for (std::size_t k = c * step; k < end; ++k)
                if (const float v = cells(r, k); !std::isnan(v))
                    sum += static_cast<double>(v), ++count;
        out[c] =
            count > 0 ? static_cast<float>(sum / count) : std::numeric_limits<float>::quiet_NaN();
    }
}
}  // namespace

namespace {
// The upper left cell of each step x step square.
void thin(BlockView<const float> cells, std::size_t step, std::span<float> out) {
    for (std::size_t c = 0; c < out.size(); ++c) out[c] = cells(0, c * step);
}

Grid<float> thinned(BlockView<const float> cells) {
    Grid<float> out((cells.rows() + 1) / 2, (cells.cols() + 1) / 2);
    for (std::size_t r = 0; r < out.rows(); ++r)
        thin(cells.part(2 * r, 0, 1, cells.cols()), 2, out.row(r));
    return out;
}
}  // namespace

Grid<float> halved(BlockView<const float> cells) {
    Grid<float> out((cells.rows() + 1) / 2, (cells.cols() + 1) / 2);
    parallelRanges(out.rows(), 64, [&](std::size_t begin, std::size_t end) {
        for (std::size_t r = begin; r < end; ++r) {
            const std::size_t rows = std::min<std::size_t>(2, cells.rows() - 2 * r);
            average(cells.part(2 * r, 0, rows, cells.cols()), 2, out.row(r));
        }
    });
    return out;
}

Pyramid::Pyramid(RasterPtr source, int band, std::int64_t keptCells)
    : m_source(std::move(source)), m_band(band), m_keptCells(keptCells) {
    const RasterInfo& info = m_source->info();
    int levels = 1;
    while (levels < 30 && std::max(sizeAt(info.width, levels - 1),
                                   sizeAt(info.height, levels - 1)) > kSmallestLevel)
        ++levels;
    for (auto& made : m_levels) made.resize(static_cast<std::size_t>(levels));
    m_native.emplace_back(0, m_source);
    for (const RasterPtr& overview : m_source->overviews()) {
        // Some writers round sizes down.
        const auto fits = [](std::int64_t size, std::int64_t whole) {
            return size == whole || size == whole - 1;
        };
        for (int k = m_native.back().first + 1; k < levels; ++k)
            if (fits(overview->info().width, cols(k)) && fits(overview->info().height, rows(k))) {
                m_native.emplace_back(k, overview);
                break;
            }
    }
}

std::pair<int, RasterPtr> Pyramid::native(int level, Reduction reduction) const {
    auto best = m_native.front();
    // Overviews of other bands than classes are means.
    if (reduction != usualReduction()) return best;
    for (const auto& one : m_native)
        if (one.first <= level) best = one;
    return best;
}

int Pyramid::levelOf(std::int64_t longestSide) const {
    int level = 0;
    while (level + 1 < levelCount() && std::max(cols(level), rows(level)) > longestSide) ++level;
    return level;
}

std::int64_t Pyramid::cols(int level) const { return sizeAt(m_source->info().width, level); }
std::int64_t Pyramid::rows(int level) const { return sizeAt(m_source->info().height, level); }

Result<Pyramid::Kept> Pyramid::kept(int level, Reduction reduction,
                                    const Progress& progress) const {
    const std::lock_guard lock(m_mutex);
    auto& made = levels(reduction);
    auto& slot = made[static_cast<std::size_t>(level)];
    if (slot) return slot;
    int from = level;
    while (from > native(level, reduction).first && !made[static_cast<std::size_t>(from)] &&
           cols(from - 1) * rows(from - 1) <= m_keptCells)
        --from;
    if (!made[static_cast<std::size_t>(from)]) {
        auto cells = reduced(from, {0, 0, cols(from), rows(from)}, reduction, progress);
        if (!cells) return cells.error();
        made[static_cast<std::size_t>(from)] = std::make_shared<Grid<float>>(*std::move(cells));
    }
    for (int k = from + 1; k <= level; ++k)
        if (auto& next = made[static_cast<std::size_t>(k)]; !next) {
            const auto finer = made[static_cast<std::size_t>(k - 1)]->view();
            next = std::make_shared<Grid<float>>(reduction == Reduction::Cell ? thinned(finer)
                                                                              : halved(finer));
        }
    return slot;
}

// Only the rows that are shown are read.
Result<void> Pyramid::readCells(int level, CellWindow window, const Progress& progress,
                                Grid<float>& out) const {
    const auto [base, source] = native(level, Reduction::Cell);
    const RasterInfo& info = source->info();
    const std::int64_t step = std::int64_t{1} << (level - base);
    const std::int64_t firstCol = window.col * step;
    const std::int64_t colCount =
        std::min(info.width, (window.col + window.cols - 1) * step + 1) - firstCol;
    if (colCount <= 0) return {};
    Grid<float> row(1, static_cast<std::size_t>(colCount));
    for (std::int64_t r = 0; r < window.rows; ++r) {
        if (progress.stopped()) return cancelled("reading " + info.format);
        const std::int64_t at = (window.row + r) * step;
        if (at >= info.height) break;
        if (const auto done = source->read(m_band, {firstCol, at, colCount, 1}, row.view()); !done)
            return done;
        const auto target = out.row(static_cast<std::size_t>(r));
        const std::size_t count = (row.cols() - 1) / static_cast<std::size_t>(step) + 1;
        thin(row.view(), static_cast<std::size_t>(step), target.first(count));
        progress.at(static_cast<double>(r) / static_cast<double>(window.rows));
    }
    return {};
}

Result<Grid<float>> Pyramid::reduced(int level, CellWindow window, Reduction reduction,
                                     const Progress& progress) const {
    const auto [base, source] = native(level, reduction);
    const RasterInfo& info = source->info();
    const std::int64_t step = std::int64_t{1} << (level - base);
    Grid<float> out(static_cast<std::size_t>(window.rows), static_cast<std::size_t>(window.cols),
                    std::numeric_limits<float>::quiet_NaN());
    if (reduction == Reduction::Cell && step > 1) {
        if (const auto done = readCells(level, window, progress, out); !done) return done.error();
        return out;
    }
    const std::int64_t firstCol = window.col * step;
    const std::int64_t colCount =
        std::min(info.width, (window.col + window.cols) * step) - firstCol;
    if (colCount <= 0) return out;
    // Several output rows a read, so that small levels do not read row by row.
    const std::int64_t batch = std::max<std::int64_t>(1, 64 / step);
    Grid<float> rows(static_cast<std::size_t>(batch * step), static_cast<std::size_t>(colCount));
    for (std::int64_t r = 0; r < window.rows; r += batch) {
        if (progress.stopped()) return cancelled("reading " + info.format);
        const std::int64_t firstRow = (window.row + r) * step;
        const std::int64_t rowCount = std::min(info.height - firstRow, batch * step);
        if (rowCount <= 0) break;
        const auto part = rows.view().part(0, 0, static_cast<std::size_t>(rowCount), rows.cols());
        if (const auto done = source->read(m_band, {firstCol, firstRow, colCount, rowCount}, part);
            !done)
            return done.error();
        for (std::int64_t k = 0; k < batch && r + k < window.rows; ++k) {
            const auto begin = static_cast<std::size_t>(k * step);
            if (begin >= part.rows()) break;
            const std::size_t count = std::min(static_cast<std::size_t>(step), part.rows() - begin);
            const auto target = out.row(static_cast<std::size_t>(r + k));
            if (step == 1)
                std::copy(part.row(begin).begin(), part.row(begin).end(), target.begin());
            else
                average(part.part(begin, 0, count, part.cols()), static_cast<std::size_t>(step),
                        target);
        }
        progress.at(static_cast<double>(r) / static_cast<double>(window.rows));
    }
    return out;
}

Result<Grid<float>> Pyramid::read(int level, CellWindow window, Reduction reduction,
                                  const Progress& progress) const {
    Grid<float> out(static_cast<std::size_t>(window.rows), static_cast<std::size_t>(window.cols),
                    std::numeric_limits<float>::quiet_NaN());
    const std::int64_t col0 = std::max<std::int64_t>(0, window.col);
    const std::int64_t row0 = std::max<std::int64_t>(0, window.row);
    const std::int64_t col1 = std::min(cols(level), window.col + window.cols);
    const std::int64_t row1 = std::min(rows(level), window.row + window.rows);
    if (col1 <= col0 || row1 <= row0) return out;
    const auto place = out.view().part(
        static_cast<std::size_t>(row0 - window.row), static_cast<std::size_t>(col0 - window.col),
        static_cast<std::size_t>(row1 - row0), static_cast<std::size_t>(col1 - col0));
    const auto copy = [&place](BlockView<const float> from) {
        for (std::size_t r = 0; r < place.rows(); ++r)
            std::copy(from.row(r).begin(), from.row(r).end(), place.row(r).begin());
    };
    const bool isNative = level > 0 && native(level, reduction).first == level;
    if (!isNative && cols(level) * rows(level) <= m_keptCells) {
        const auto whole = kept(level, reduction, progress);
        if (!whole) return whole.error();
        copy((*whole)->view().part(static_cast<std::size_t>(row0), static_cast<std::size_t>(col0),
                                   place.rows(), place.cols()));
    } else {
        const auto part =
            reduced(level, {col0, row0, col1 - col0, row1 - row0}, reduction, progress);
        if (!part) return part.error();
        copy(part->view());
    }
    return out;
}

}  // namespace ledge
