#include "core/raster/bilinear_row.h"

#include <cstdint>

namespace ledge {
namespace {
template <typename T>
[[gnu::always_inline]] inline void walkRow(const T* block, std::ptrdiff_t stride, RowWalk walk,
                                           T* out, std::size_t count) {
    const auto rowStride = static_cast<std::int32_t>(stride);
    const auto last = static_cast<std::int32_t>(count);
    for (std::int32_t i = 0; i < last; ++i) {
        const double x = walk.x + walk.stepX * i, y = walk.y + walk.stepY * i;
        const auto col = static_cast<std::int32_t>(x), row = static_cast<std::int32_t>(y);
        const double u = x - col, v = y - row;
        const std::int32_t at = row * rowStride + col;
        const double a = static_cast<double>(block[at]), b = static_cast<double>(block[at + 1]);
        const double c = static_cast<double>(block[at + rowStride]),
                     d = static_cast<double>(block[at + rowStride + 1]);
        const double top = a + (b - a) * u, low = c + (d - c) * u;
        out[i] = static_cast<T>(top + (low - top) * v);
    }
}
}  // namespace

[[gnu::target_clones("arch=x86-64-v3", "default")]] void bilinearRow(const float* block,
                                                                     std::ptrdiff_t stride,
                                                                     RowWalk walk, float* out,
                                                                     std::size_t count) {
    walkRow(block, stride, walk, out, count);
}

[[gnu::target_clones("arch=x86-64-v3", "default")]] void bilinearRow(const double* block,
                                                                     std::ptrdiff_t stride,
                                                                     RowWalk walk, double* out,
                                                                     std::size_t count) {
    walkRow(block, stride, walk, out, count);
}

}  // namespace ledge
