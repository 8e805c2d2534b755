#include "carto/raster_painter.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "carto/blank_picture.h"
#include "core/base/parallel.h"

namespace ledge::carto {
namespace {
constexpr std::size_t kSteps = 1024;

// What each of 1024 steps between the limits looks like.
class Curve {
public:
    Curve(const StretchLimits& limits, double gamma)
        : m_low(static_cast<float>(limits.low)),
          m_perValue(static_cast<float>(kSteps / (limits.high - limits.low))) {
        for (std::size_t i = 0; i <= kSteps; ++i)
            m_steps[i] =
                stretched(static_cast<float>(limits.low + (limits.high - limits.low) *
                                                              static_cast<double>(i) / kSteps),
                          limits, gamma);
    }
    int at(float value) const {
        const float step = (value - m_low) * m_perValue + 0.5F;
        const float kept = step > 0 ? std::min(step, static_cast<float>(kSteps)) : 0.0F;
        return m_steps[static_cast<std::size_t>(kept)];
    }

private:
    float m_low, m_perValue;
    std::array<std::uint8_t, kSteps + 1> m_steps{};
};
}  // namespace

QImage imagePicture(const std::array<Grid<float>, 3>& channels, const Grid<float>& alpha,
                    const doc::ImageStyle& style) {
    const std::size_t rows = channels[0].rows() - 2, cols = channels[0].cols() - 2;
    std::vector<Curve> curves;
    for (std::size_t i = 0; i < 3; ++i) {
        const StretchLimits limits =
            style.isOfView && style.stretch != Stretch::Stored
                ? stretchLimits(channels[i].cells(), style.stretch, style.amount())
                : style.limits[i];
        curves.emplace_back(limits, style.gamma);
    }
    QImage out = blankPicture(rows, cols);
    QRgb* const bits = reinterpret_cast<QRgb*>(out.bits());
    parallelRanges(rows, kRowsAtATime, [&](std::size_t begin, std::size_t end) {
        for (std::size_t r = begin; r < end; ++r)
            for (std::size_t c = 0; c < cols; ++c) {
                const float red = channels[0](r + 1, c + 1), green = channels[1](r + 1, c + 1),
                            blue = channels[2](r + 1, c + 1);
                QRgb& pixel = bits[r * cols + c];
                if (std::isnan(red + green + blue)) {
                    pixel = 0;
                    continue;
                }
                int opaque = 255;
                if (!alpha.isEmpty()) {
                    const float a = alpha(r + 1, c + 1);
                    opaque = std::isnan(a) ? 0 : static_cast<int>(std::clamp(a, 0.0F, 255.0F));
                }
                pixel = qPremultiply(
                    qRgba(curves[0].at(red), curves[1].at(green), curves[2].at(blue), opaque));
            }
    });
    return out;
}

QImage classPicture(const Grid<float>& cells, const std::vector<doc::RasterClass>& classes) {
    const std::size_t rows = cells.rows() - 2, cols = cells.cols() - 2;
    std::array<QRgb, 256> small{};  // most classes
    std::map<float, QRgb> others;
    for (const doc::RasterClass& one : classes) {
        const Colour c = one.colour;
        const QRgb pixel = one.isShown ? qPremultiply(qRgba(c.r, c.g, c.b, c.a)) : 0;
        if (one.value >= 0 && one.value < 256 && one.value == std::floor(one.value))
            small[static_cast<std::size_t>(one.value)] = pixel;
        else
            others[static_cast<float>(one.value)] = pixel;
    }
    QImage out = blankPicture(rows, cols);
    QRgb* const bits = reinterpret_cast<QRgb*>(out.bits());
    parallelRanges(rows, kRowsAtATime, [&](std::size_t begin, std::size_t end) {
        for (std::size_t r = begin; r < end; ++r)
            for (std::size_t c = 0; c < cols; ++c) {
                const float v = cells(r + 1, c + 1);
                QRgb pixel = 0;
                if (v >= 0 && v < 256 && v == std::floor(v)) {
                    pixel = small[static_cast<std::size_t>(v)];
                } else if (const auto it = others.find(v); it != others.end()) {
                    pixel = it->second;
                }
                bits[r * cols + c] = pixel;
            }
    });
    return out;
}

}  // namespace ledge::carto
