#include "core/terrain/hillshade.h"

#include <cmath>
#include <numbers>

namespace ledge::terrain {
namespace {
constexpr double kRadians = std::numbers::pi / 180;

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

[[gnu::target_clones("avx512f", "avx2", "default")]] void
shadeRow(const float* east, const float* north, Beam beam, float* out, std::size_t count) {
    for (std::size_t c = 0; c < count; ++c) {
        const float p = east[c], q = north[c];
        const float dot = beam.up - p * beam.east - q * beam.north;
        const float lit = dot / std::sqrt(1.0F + p * p + q * q);
        out[c] = lit < 0.0F ? 0.0F : lit;  // NaN stays
    }
}

void shadeRowOfMany(std::span<const float> east, std::span<const float> north,
                    const std::vector<Beam>& beams, std::span<float> out) {
    for (std::size_t c = 0; c < out.size(); ++c) {
        const float p = east[c], q = north[c];
        const float squared = p * p + q * q;
        const float length = std::sqrt(1.0F + squared);
        float sum = 0, total = 0;
        for (const Beam& beam : beams) {
            const float lit = (beam.up - p * beam.east - q * beam.north) / length;
            // sin^2 of the angle between the light's azimuth and downhill; 1 on flat ground.
            const float cross = p * beam.cosine - q * beam.sine;
            const float weight = squared > 0 ? cross * cross / squared + 1e-3F : 1.0F;
            sum += weight * (lit < 0 ? 0.0F : lit);
            total += weight;
        }
        out[c] = sum / total + (squared - squared);
    }
}
}  // namespace

float shadeByte(float illumination) { return std::round(1.0F + 254.0F * illumination); }

Result<void> hillshade(BlockView<const float> heights, std::span<const CellSize> cells,
                       double heightScale, const std::vector<Light>& lights, BlockView<float> out,
                       const std::stop_token& stop) {
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
    std::vector<float> east(out.cols()), north(out.cols());
    for (std::size_t r = 0; r < out.rows(); ++r) {
        if (stop.stop_requested()) return cancelled("hillshade");
        if (!(cells[r].xMetres > 0 && cells[r].yMetres > 0))
            return Error{ErrorCode::InvalidArgument, "hillshade", "cell size must be positive", ""};
        gradientRow(heights.row(r), heights.row(r + 1), heights.row(r + 2), cells[r], heightScale,
                    GradientMethod::Horn, east, north);
        if (beams.size() == 1)
            shadeRow(east.data(), north.data(), beams[0], out.row(r).data(), out.cols());
        else
            shadeRowOfMany(east, north, beams, out.row(r));
    }
    return {};
}

}  // namespace ledge::terrain
