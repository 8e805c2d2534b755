#include "core/raster/gaussian.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "core/base/parallel.h"

namespace ledge {
namespace {
constexpr std::size_t kRows = 16;

std::vector<float> weightsOf(double sigma) {
    std::vector<float> out(gaussianReach(sigma) + 1);
    for (std::size_t i = 0; i < out.size(); ++i) {
        const double at = static_cast<double>(i) / sigma;
        out[i] = static_cast<float>(std::exp(-0.5 * at * at));
    }
    return out;
}

// Sums along one direction: `at(i)` is the cell i steps along, of `count`.
template <typename At, typename Put>
void alongLine(std::size_t count, const std::vector<float>& weights, const At& at, const Put& put) {
    const auto reach = static_cast<std::ptrdiff_t>(weights.size()) - 1;
    for (std::size_t i = 0; i < count; ++i) {
        const auto centre = static_cast<std::ptrdiff_t>(i);
        const auto first = std::max<std::ptrdiff_t>(0, centre - reach);
        const auto last = std::min(static_cast<std::ptrdiff_t>(count) - 1, centre + reach);
        float sum = 0, total = 0;
        for (std::ptrdiff_t k = first; k <= last; ++k) {
            const float v = at(static_cast<std::size_t>(k));
            const float w = weights[static_cast<std::size_t>(std::abs(k - centre))];
            const bool isData = v == v;
            sum += isData ? w * v : 0.0F;
            total += isData ? w : 0.0F;
        }
        put(i, total > 0 ? sum / total : at(i));
    }
}
}  // namespace

std::size_t gaussianReach(double sigma) {
    return sigma > 0 ? static_cast<std::size_t>(std::ceil(3 * sigma)) : 0;
}

Grid<float> gaussian(const Grid<float>& cells, double sigma) {
    if (!(sigma > 0)) return cells;
    const auto weights = weightsOf(sigma);
    Grid<float> across(cells.rows(), cells.cols()), out(cells.rows(), cells.cols());
    parallelRanges(cells.rows(), kRows, [&](std::size_t begin, std::size_t end) {
        for (std::size_t r = begin; r < end; ++r)
            alongLine(
                cells.cols(), weights, [&](std::size_t c) { return cells(r, c); },
                [&](std::size_t c, float v) { across(r, c) = v; });
    });
    // Row by row again, so that memory is read as it lies.
    const auto reach = weights.size() - 1;
    parallelRanges(cells.rows(), kRows, [&](std::size_t begin, std::size_t end) {
        std::vector<float> sums(cells.cols()), totals(cells.cols());
        for (std::size_t r = begin; r < end; ++r) {
            std::fill(sums.begin(), sums.end(), 0.0F);
            std::fill(totals.begin(), totals.end(), 0.0F);
            const std::size_t first = r > reach ? r - reach : 0;
            const std::size_t last = std::min(cells.rows() - 1, r + reach);
            for (std::size_t k = first; k <= last; ++k) {
                const float w = weights[k > r ? k - r : r - k];
                const auto from = across.row(k);
                for (std::size_t c = 0; c < cells.cols(); ++c) {
                    const bool isData = from[c] == from[c];
                    sums[c] += isData ? w * from[c] : 0.0F;
                    totals[c] += isData ? w : 0.0F;
                }
            }
            for (std::size_t c = 0; c < cells.cols(); ++c) {
                const float own = cells(r, c);
                out(r, c) = own == own && totals[c] > 0 ? sums[c] / totals[c] : own;
            }
        }
    });
    return out;
}

}  // namespace ledge
