#include "core/terrain/contours.h"

#include <algorithm>
#include <cmath>

#include "core/base/numbers.h"
#include "core/terrain/contour_sweep.h"
#include "core/terrain/detail/row_kernels.h"

namespace ledge::terrain {
namespace {
constexpr std::size_t kMostLevels = 100'000;

// Widens a range by the finite heights of a row.
LEDGE_ROW_KERNEL void rangeOf(const float* heights, std::size_t size, float& least, float& most) {
    float low = least, high = most;
    for (std::size_t c = 0; c < size; ++c) {
        const float v = heights[c];
        const bool isData = v - v == 0;
        low = isData && v < low ? v : low;
        high = isData && v > high ? v : high;
    }
    least = low, most = high;
}

}  // namespace

std::vector<double> ContourLevels::within(double low, double high) const {
    std::vector<double> out;
    if (!listed.empty()) {
        for (const double level : listed)
            if (level >= low && level <= high) out.push_back(level);
        std::sort(out.begin(), out.end());
        out.erase(std::unique(out.begin(), out.end()), out.end());
        return out;
    }
    if (!(interval > 0) || !std::isfinite(low) || !std::isfinite(high)) return out;
    for (double k = std::ceil((low - base) / interval);
         base + k * interval <= high && out.size() < kMostLevels; ++k)
        out.push_back(base + k * interval);
    return out;
}

Result<std::vector<double>> ContourLevels::checked(double low, double high) const {
    if (listed.empty() && !(interval > 0 && std::isfinite(interval)))
        return Error{ErrorCode::InvalidArgument, "contours", "the interval must be positive", ""};
    std::vector<double> levels = within(low, high);
    if (levels.size() >= kMostLevels)
        return Error{ErrorCode::LimitExceeded, "contours",
                     "the interval gives more than 100 000 levels", "choose a larger interval"};
    return levels;
}

bool ContourLevels::isIndex(double level, int nth) const {
    if (nth <= 0 || !listed.empty() || !(interval > 0)) return false;
    return std::llround((level - base) / interval) % nth == 0;
}

Result<std::vector<Contour>> contours(BlockView<const float> heights, const Affine& toWorld,
                                      const ContourLevels& wanted, const Progress& progress) {
    float least = std::numeric_limits<float>::infinity(), most = -least;
    for (std::size_t r = 0; r < heights.rows(); ++r)
        rangeOf(heights.row(r).data(), heights.cols(), least, most);
    const auto levels = wanted.checked(static_cast<double>(least), static_cast<double>(most));
    if (!levels) return levels.error();
    if (levels->empty() || heights.rows() < 2 || heights.cols() < 2) return std::vector<Contour>{};
    ContourSweep sweep(heights.cols(), toWorld, *levels);
    for (std::size_t r = 0; r < heights.rows(); ++r) {
        if (progress.stopped()) return cancelled("contours");
        if (const auto done = sweep.add(heights.row(r)); !done) return done.error();
        progress.at(0.9 * static_cast<double>(r) / static_cast<double>(heights.rows()));
    }
    return sweep.finish();
}

double suggestedInterval(std::vector<float> tangents, double scaleDenominator) {
    std::erase_if(tangents, [](float t) { return !std::isfinite(t); });
    double steep = 0.2;
    if (!tangents.empty()) {
        const auto at = tangents.begin() +
                        static_cast<std::ptrdiff_t>(static_cast<double>(tangents.size() - 1) * 0.9);
        std::nth_element(tangents.begin(), at, tangents.end());
        steep = std::max(0.001, static_cast<double>(*at));
    }
    const double groundMetres = 0.0005 * scaleDenominator;
    return roundUpToInterval(std::max(1e-6, groundMetres * steep * (1 - 1e-6)));  // float tangents
}

}  // namespace ledge::terrain
