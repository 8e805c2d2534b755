#include "carto/relief.h"

#include "core/base/parallel.h"
#include "core/crs/transformation.h"
#include "core/terrain/cast_shadows.h"

namespace ledge::carto {
namespace {
constexpr std::size_t kRows = 32;

QImage blank(std::size_t rows, std::size_t cols) {
    return QImage(static_cast<int>(cols), static_cast<int>(rows),
                  QImage::Format_ARGB32_Premultiplied);
}

QRgb premultiplied(Colour c, float share) {
    const float alpha = std::clamp(share, 0.0F, 1.0F) * static_cast<float>(c.a);
    const auto part = [&](std::uint8_t v) {
        return static_cast<int>(static_cast<float>(v) * alpha / 255.0F + 0.5F);
    };
    return qRgba(part(c.r), part(c.g), part(c.b), static_cast<int>(alpha + 0.5F));
}

// Illumination for each pixel of the frame, in parallel; lights are given from grid north and the
// picture is turned by the view's rotation.
Result<Grid<float>> illumination(const Grid<float>& heights, const MapFrame& frame,
                                 const doc::HillshadeStyle& style, double metresPerHeight,
                                 const Grid<float>& reached, const std::stop_token& stop) {
    const std::size_t rows = heights.rows() - 2, cols = heights.cols() - 2;
    auto lights = style.lights;
    for (terrain::Light& light : lights) light.azimuth += frame.view.rotation;
    const auto cells = pixelSizes(frame);
    const double factor = metresPerHeight * style.heightScale.value_or(1.0);
    Grid<float> out(rows, cols);
    std::atomic<bool> failed{false};
    parallelRanges(rows, kRows, [&](std::size_t begin, std::size_t end) {
        const auto part = out.view().part(begin, 0, end - begin, cols);
        if (!terrain::hillshade(heights.view().part(begin, 0, end - begin + 2, cols + 2),
                                std::span(cells).subspan(begin, end - begin), factor,
                                style.gradient, lights, part, stop))
            failed = true;
    });
    if (failed) return cancelled("hillshade");
    if (!reached.isEmpty())
        for (std::size_t i = 0; i < out.cells().size(); ++i) out.cells()[i] *= reached.cells()[i];
    return out;
}
}  // namespace

Result<Grid<float>> frameHeights(const Pyramid& pyramid, const MapFrame& frame,
                                 Resampling resampling, const Progress& progress) {
    const auto way = crs::Transformation::between(pyramid.source().info().crs, frame.crs);
    if (!way) return way.error();
    return warped(pyramid, *way, frame.grid(1), resampling, progress);
}

Result<Grid<float>> lightShares(const Pyramid& pyramid, const MapFrame& frame,
                                const Grid<float>& heights, const doc::HillshadeStyle& style,
                                double metresPerHeight, const Progress& progress) {
    constexpr std::size_t kWidestRim = 400;  // pixels
    const auto cells = pixelSizes(frame);
    const double factor = metresPerHeight * style.heightScale.value_or(1.0);
    float low = std::numeric_limits<float>::infinity(), high = -low;
    for (const float v : heights.cells()) low = v < low ? v : low, high = v > high ? v : high;
    Grid<float> out(heights.rows() - 2, heights.cols() - 2, 1);
    if (!(high > low)) return out;
    auto lights = style.lights;
    std::size_t rim = 1;
    for (terrain::Light& light : lights) {
        light.azimuth += frame.view.rotation;
        rim = std::max(rim, terrain::shadowReach(light, static_cast<double>(high - low) * factor,
                                                 cells[cells.size() / 2]));
    }
    rim = std::min(rim, kWidestRim);
    const auto way = crs::Transformation::between(pyramid.source().info().crs, frame.crs);
    if (!way) return way.error();
    const auto wide =
        warped(pyramid, *way, frame.grid(static_cast<int>(rim)), Resampling::Bilinear, progress);
    if (!wide) return wide.error();
    std::fill(out.cells().begin(), out.cells().end(), 0.0F);
    std::atomic<bool> failed{false};
    const float share = 1.0F / static_cast<float>(lights.size());
    for (const terrain::Light& light : lights)
        parallelRanges(out.rows(), kRows, [&](std::size_t begin, std::size_t end) {
            Grid<float> lit(end - begin, out.cols());
            if (!terrain::castShadows(wide->view(), rim + begin, rim,
                                      std::span(cells).subspan(begin, end - begin), factor, light,
                                      lit.view(), progress.stop))
                failed = true;
            for (std::size_t r = begin; r < end; ++r)
                for (std::size_t c = 0; c < out.cols(); ++c) out(r, c) += share * lit(r - begin, c);
        });
    if (failed) return cancelled("cast shadows");
    return out;
}

std::vector<CellSize> pixelSizes(const MapFrame& frame) {
    const Affine map = frame.toMap();
    const double perPx = frame.unitsPerPx();
    std::vector<CellSize> sizes;
    Point last{frame.groundMetresPerUnit(), frame.groundMetresPerUnit()};
    for (int r = 0; r < frame.heightPx; ++r) {
        if (r % 16 == 0) {
            const Point at = map({frame.widthPx / 2.0, std::min(r + 8.0, double(frame.heightPx))});
            const Point ground = crs::groundUnits(frame.crs, at);
            if (ground.x > 0 && ground.y > 0) last = ground;
        }
        sizes.push_back({perPx * last.x, perPx * last.y});
    }
    return sizes;
}

Result<ShadePictures> shadePictures(const Grid<float>& heights, const MapFrame& frame,
                                    const doc::HillshadeStyle& style, double metresPerHeight,
                                    const Grid<float>& reached, const std::stop_token& stop) {
    const auto lit = illumination(heights, frame, style, metresPerHeight, reached, stop);
    if (!lit) return lit.error();
    ShadePictures out{blank(lit->rows(), lit->cols()), blank(lit->rows(), lit->cols())};
    const double altitude = style.lights.front().altitude * crs::kRadiansPerDegree;
    const auto flat = static_cast<float>(std::max(0.05, std::sin(altitude)));
    // What each of 1024 steps of illumination looks like.
    constexpr std::size_t kSteps = 1024;
    std::vector<QRgb> dark(kSteps + 1), bright(kSteps + 1);
    for (std::size_t i = 0; i <= kSteps; ++i) {
        const float shade = static_cast<float>(i) / kSteps / flat;
        dark[i] = premultiplied(style.shade, 1 - shade);
        const float most = std::max(0.05F, 1 / flat - 1);
        bright[i] = premultiplied(style.highlight, 0.4F * (shade - 1) / most);
    }
    QRgb* const shadeBits = reinterpret_cast<QRgb*>(out.shade.bits());
    QRgb* const lightBits = reinterpret_cast<QRgb*>(out.light.bits());
    parallelRanges(lit->rows(), kRows, [&](std::size_t begin, std::size_t end) {
        for (std::size_t r = begin; r < end; ++r) {
            const auto row = lit->row(r);
            for (std::size_t c = 0; c < row.size(); ++c) {
                const bool isMissing = std::isnan(row[c]);
                const auto step = isMissing ? 0 : static_cast<std::size_t>(row[c] * kSteps + 0.5F);
                shadeBits[r * row.size() + c] = isMissing ? 0 : dark[step];
                lightBits[r * row.size() + c] = isMissing ? 0 : bright[step];
            }
        }
    });
    return out;
}

Result<QImage> plainShade(const Grid<float>& heights, const MapFrame& frame,
                          const doc::HillshadeStyle& style, double metresPerHeight,
                          const Grid<float>& reached, const std::stop_token& stop) {
    const auto lit = illumination(heights, frame, style, metresPerHeight, reached, stop);
    if (!lit) return lit.error();
    QImage out = blank(lit->rows(), lit->cols());
    const Ramp grey{{{0, style.shade}, {0.7, {0xC9, 0xC9, 0xD2}}, {1, {0xFB, 0xFA, 0xF6}}}};
    const RampTable table(grey);
    QRgb* const bits = reinterpret_cast<QRgb*>(out.bits());
    for (std::size_t i = 0; i < lit->cells().size(); ++i)
        bits[i] = premultiplied(table.at(lit->cells()[i]), std::isnan(lit->cells()[i]) ? 0 : 1);
    return out;
}

QImage tinted(const Grid<float>& heights, const Ramp& ramp, double factor) {
    const std::size_t rows = heights.rows() - 2, cols = heights.cols() - 2;
    QImage out = blank(rows, cols);
    const RampTable table(ramp);
    QRgb* const bits = reinterpret_cast<QRgb*>(out.bits());
    const auto scale = static_cast<float>(factor);
    parallelRanges(rows, kRows, [&](std::size_t begin, std::size_t end) {
        for (std::size_t r = begin; r < end; ++r) {
            const auto row = heights.row(r + 1);
            for (std::size_t c = 0; c < cols; ++c) {
                const Colour colour = table.at(row[c + 1] * scale);
                bits[r * cols + c] = premultiplied(colour, 1);
            }
        }
    });
    return out;
}

Result<QImage> steepnessPicture(const Grid<float>& heights, const MapFrame& frame,
                                const doc::SteepnessStyle& style, double metresPerHeight,
                                const std::stop_token& stop) {
    const std::size_t rows = heights.rows() - 2, cols = heights.cols() - 2;
    const auto cells = pixelSizes(frame);
    Grid<float> slopes(rows + 2, cols + 2);
    const double factor = metresPerHeight * style.heightScale.value_or(1.0);
    std::atomic<bool> failed{false};
    parallelRanges(rows, kRows, [&](std::size_t begin, std::size_t end) {
        const auto part = slopes.view().part(begin + 1, 1, end - begin, cols);
        if (!terrain::slope(heights.view().part(begin, 0, end - begin + 2, cols + 2),
                            std::span(cells).subspan(begin, end - begin), factor, style.gradient,
                            terrain::SlopeUnit::Degrees, part, stop))
            failed = true;
    });
    if (failed) return cancelled("slope");
    return tinted(slopes, style.ramp, 1);
}

}  // namespace ledge::carto
