#include "core/terrain/hillshade.h"

#include <algorithm>
#include <cmath>

#include "core/base/constants.h"
#include "core/terrain/detail/row_kernels.h"

namespace ledge::terrain {
namespace {
constexpr double kRadians = kRadiansPerDegree;

struct Beam {
    float east, north, up;  // unit vector to the light
    float sine, cosine;     // of the azimuth
};

Beam beamOf(const Light& light) {
    const double az = light.azimuth * kRadians, alt = light.altitude * kRadians;
    return {static_cast<float>(std::sin(az) * std::cos(alt)),
            static_cast<float>(std::cos(az) * std::cos(alt)), static_cast<float>(std::sin(alt)),
            static_cast<float>(std::sin(az)), static_cast<float>(std::cos(az))};
}

LEDGE_ROW_KERNEL void shadeRow(GradientRows rows, Beam beam, float* out, std::size_t count) {
    for (std::size_t c = 0; c < count; ++c) {
        const Gradient g = rows.at(c);
        const float dot = beam.up - g.east * beam.east - g.north * beam.north;
        const float lit = dot / std::sqrt(1.0F + g.east * g.east + g.north * g.north);
        out[c] = lit < 0.0F ? 0.0F : lit;  // NaN stays
    }
}

// Adds one of several lights, weighted by how far it lies from the local aspect.
LEDGE_ROW_KERNEL void addLight(GradientRows rows, Beam beam, float* sum, float* total,
                               std::size_t count) {
    for (std::size_t c = 0; c < count; ++c) {
        const Gradient g = rows.at(c);
        const float squared = g.east * g.east + g.north * g.north;
        const float lit =
            (beam.up - g.east * beam.east - g.north * beam.north) / std::sqrt(1.0F + squared);
        // sin^2 of the angle between the light's azimuth and downhill; 1 on flat ground.
        const float cross = g.east * beam.cosine - g.north * beam.sine;
        const float weight =
            squared > 0.0F ? cross * cross / (squared > 0.0F ? squared : 1.0F) + 1e-3F : 1.0F;
        sum[c] += weight * (lit < 0.0F ? 0.0F : lit) + (squared - squared);
        total[c] += weight;
    }
}

LEDGE_ROW_KERNEL void divideRow(const float* sum, const float* total, float* out,
                                std::size_t count) {
    for (std::size_t c = 0; c < count; ++c) out[c] = sum[c] / total[c];
}
}  // namespace

LEDGE_ROW_KERNEL void toShadeBytes(float* illumination, std::size_t count) {
    for (std::size_t c = 0; c < count; ++c) {
        const float v = illumination[c], byte = 1.5F + 254.0F * v;
        const auto whole = static_cast<float>(static_cast<std::int32_t>(v == v ? byte : 0.0F));
        illumination[c] = v == v ? whole : v;
    }
}

Result<void> hillshade(BlockView<const float> heights, std::span<const CellSize> cells,
                       double heightScale, GradientMethod method, const std::vector<Light>& lights,
                       BlockView<float> out, const std::stop_token& stop) {
    if (heights.rows() != out.rows() + 2 || heights.cols() != out.cols() + 2 ||
        cells.size() != out.rows())
        return Error{ErrorCode::InvalidArgument, "hillshade",
                     "heights need a one-cell halo and one cell size a row", ""};
    if (lights.empty()) return Error{ErrorCode::InvalidArgument, "hillshade", "no light given", ""};
    std::vector<Beam> beams;
    for (const Light& light : lights) {
        if (!std::isfinite(light.azimuth) || !(light.altitude >= 0 && light.altitude <= 90))
            return Error{ErrorCode::InvalidArgument, "hillshade",
                         "a light's altitude must lie within 0 to 90 degrees", ""};
        beams.push_back(beamOf(light));
    }
    std::vector<float> sum(beams.size() > 1 ? out.cols() : 0), total(sum.size());
    for (std::size_t r = 0; r < out.rows(); ++r) {
        if (stop.stop_requested()) return cancelled("hillshade");
        if (!isUsableSize(cells[r]))
            return Error{ErrorCode::InvalidArgument, "hillshade", "cell size must be positive", ""};
        const GradientRows rows(heights, r, cells[r], heightScale, method);
        if (beams.size() == 1) {
            shadeRow(rows, beams[0], out.row(r).data(), out.cols());
            continue;
        }
        std::fill(sum.begin(), sum.end(), 0.0F);
        std::fill(total.begin(), total.end(), 0.0F);
        for (const Beam& beam : beams) addLight(rows, beam, sum.data(), total.data(), out.cols());
        divideRow(sum.data(), total.data(), out.row(r).data(), out.cols());
    }
    return {};
}

}  // namespace ledge::terrain
