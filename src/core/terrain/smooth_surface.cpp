#include "core/terrain/smooth_surface.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/parallel.h"

namespace ledge::terrain {
namespace {
using Weights = std::array<float, 4>;

Weights weightsAt(float t) {
    const float u = 1 - t;
    return {u * u * u / 6, (3 * t * t * t - 6 * t * t + 4) / 6,
            (-3 * t * t * t + 3 * t * t + 3 * t + 1) / 6, t * t * t / 6};
}
}  // namespace

SmoothSurface smoothSurface(BlockView<const float> heights, const Affine& toWorld,
                            std::size_t steps) {
    steps = std::max<std::size_t>(1, steps);
    const std::size_t rows = heights.rows(), cols = heights.cols();
    const double part = 1 / static_cast<double>(steps), shift = 0.5 - 0.5 * part;
    SmoothSurface out{{}, toWorld.after({part, 0, shift, 0, part, shift})};
    if (rows < 2 || cols < 2) return out;
    out.heights = Grid<float>((rows - 1) * steps + 1, (cols - 1) * steps + 1);
    std::vector<Weights> weights;
    for (std::size_t k = 0; k < steps; ++k)
        weights.push_back(weightsAt(static_cast<float>(k) / static_cast<float>(steps)));
    const auto last = [](std::size_t i, std::size_t count) { return std::min(i, count - 1); };
    parallelRanges(out.heights.rows(), 16, [&](std::size_t begin, std::size_t end) {
        for (std::size_t fineRow = begin; fineRow < end; ++fineRow) {
            // The last line of centres belongs to the square before it.
            const std::size_t r = std::min(fineRow / steps, rows - 2);
            const Weights down =
                fineRow == (rows - 1) * steps ? weightsAt(1) : weights[fineRow % steps];
            const std::array<std::size_t, 4> across{r > 0 ? r - 1 : 0, r, r + 1, last(r + 2, rows)};
            const auto to = out.heights.row(fineRow);
            for (std::size_t c = 0; c + 1 < cols; ++c) {
                const float corners =
                    heights(r, c) + heights(r, c + 1) + heights(r + 1, c) + heights(r + 1, c + 1);
                const std::array<std::size_t, 4> along{c > 0 ? c - 1 : 0, c, c + 1,
                                                       last(c + 2, cols)};
                // Sums down each of the four columns serve all fine columns between.
                Weights sums{}, totals{};
                for (std::size_t j = 0; j < 4; ++j)
                    for (std::size_t i = 0; i < 4; ++i) {
                        const float v = heights(across[i], along[j]);
                        const bool isData = v == v;
                        sums[j] += isData ? down[i] * v : 0.0F;
                        totals[j] += isData ? down[i] : 0.0F;
                    }
                const std::size_t count = c + 2 == cols ? steps + 1 : steps;
                for (std::size_t k = 0; k < count; ++k) {
                    const Weights w = k == steps ? weightsAt(1) : weights[k];
                    float sum = 0, total = 0;
                    for (std::size_t j = 0; j < 4; ++j)
                        sum += w[j] * sums[j], total += w[j] * totals[j];
                    to[c * steps + k] =
                        corners == corners ? sum / total : std::numeric_limits<float>::quiet_NaN();
                }
            }
        }
    });
    return out;
}

}  // namespace ledge::terrain
