#include "carto/relief.h"

#include <atomic>
#include <cmath>
#include <functional>

#include "carto/blank_picture.h"
#include "core/base/parallel.h"
#include "core/crs/transformation.h"
#include "core/raster/gaussian.h"
#include "core/raster/ground.h"
#include "core/terrain/cast_shadows.h"

namespace ledge::carto {
namespace {

QRgb premultiplied(Colour c, float share) {
    const float alpha = std::clamp(share, 0.0F, 1.0F) * static_cast<float>(c.a);
    const auto part = [&](std::uint8_t v) {
        return static_cast<int>(static_cast<float>(v) * alpha / 255.0F + 0.5F);
    };
    return qRgba(part(c.r), part(c.g), part(c.b), static_cast<int>(alpha + 0.5F));
}

// How the pixels of a frame lie over the ground; its own turn is in it.
Ground groundOf(const MapFrame& frame) {
    return Ground(frame.crs, frame.toMap(), frame.widthPx, frame.heightPx);
}

// Rows of a frame in parallel, in parts alike over the ground: `work(first row, first column, one
// cell a row, columns)`. Whether all of it was done.
bool forPixels(const MapFrame& frame, std::size_t rows, std::size_t cols,
               const std::function<bool(std::size_t, std::size_t, std::span<const CellSize>,
                                        std::size_t)>& work) {
    const Ground ground = groundOf(frame);
    std::atomic<bool> failed{false};
    parallelRanges(rows, kRowsAtATime, [&](std::size_t begin, std::size_t end) {
        const CellWindow window{0, static_cast<std::int64_t>(begin),
                                static_cast<std::int64_t>(cols),
                                static_cast<std::int64_t>(end - begin)};
        const auto done = ground.forParts(
            window, [&](CellWindow part, std::span<const CellSize> cells) -> Result<void> {
                if (work(begin, static_cast<std::size_t>(part.col), cells,
                         static_cast<std::size_t>(part.cols)))
                    return {};
                return cancelled("relief");
            });
        if (!done) failed = true;
    });
    return !failed;
}

// Illumination for each pixel of the frame; lights count from the north of the map's CRS.
Result<Grid<float>> illumination(const Grid<float>& heights, const MapFrame& frame,
                                 const doc::HillshadeStyle& style, double metresPerHeight,
                                 const Grid<float>& reached, const std::stop_token& stop) {
    const std::size_t rows = heights.rows() - 2, cols = heights.cols() - 2;
    const double factor = metresPerHeight * style.heightScale.value_or(1.0);
    Grid<float> out(rows, cols);
    const bool isDone = forPixels(
        frame, rows, cols,
        [&](std::size_t row, std::size_t col, std::span<const CellSize> cells, std::size_t width) {
            return terrain::hillshade(heights.view().part(row, col, cells.size() + 2, width + 2),
                                      cells, factor, style.gradient, style.lights,
                                      out.view().part(row, col, cells.size(), width), stop)
                .has_value();
        });
    if (!isDone) return cancelled("hillshade");
    if (!reached.isEmpty())
        for (std::size_t i = 0; i < out.cells().size(); ++i) out.cells()[i] *= reached.cells()[i];
    return out;
}
}  // namespace

double cellPixels(const Pyramid& pyramid, const MapFrame& frame) {
    const RasterInfo& info = pyramid.source().info();
    const double metres = info.toWorld.columnLength() * (info.crs ? info.crs->metresPerUnit() : 1);
    return metres / (frame.unitsPerPx() * (frame.crs ? frame.crs->metresPerUnit() : 1));
}

double reliefSmoothing(const Pyramid& pyramid, const MapFrame& frame) {
    constexpr double kToldApartMm = 0.26, kGrowth = 0.9, kMost = 2;
    const double cellMm = cellPixels(pyramid, frame) / frame.pxPerMm;
    if (!(cellMm > 0) || cellMm > kToldApartMm / 1.25) return 0;
    const double reduction = std::log2(kToldApartMm / cellMm);
    return kToldApartMm * std::min(kMost, kGrowth * reduction) * frame.pxPerMm;
}

Result<Grid<float>> frameHeights(const Pyramid& pyramid, const MapFrame& frame,
                                 Resampling resampling, const Progress& progress,
                                 double smoothing) {
    const auto way = crs::Transformation::between(pyramid.source().info().crs, frame.crs);
    if (!way) return way.error();
    const std::size_t reach = gaussianReach(smoothing);
    auto wide =
        warped(pyramid, *way, frame.grid(1 + static_cast<int>(reach)), resampling, progress);
    if (!wide || reach == 0) return wide;
    const Grid<float> smooth = gaussian(*wide, smoothing);
    Grid<float> out(smooth.rows() - 2 * reach, smooth.cols() - 2 * reach);
    for (std::size_t r = 0; r < out.rows(); ++r) {
        const auto from = smooth.row(r + reach).subspan(reach, out.cols());
        std::copy(from.begin(), from.end(), out.row(r).begin());
    }
    return out;
}

Result<Grid<float>> lightShares(const Pyramid& pyramid, const MapFrame& frame,
                                const Grid<float>& heights, const doc::HillshadeStyle& style,
                                double metresPerHeight, const Progress& progress) {
    constexpr std::size_t kWidestRim = 400;  // pixels
    const double factor = metresPerHeight * style.heightScale.value_or(1.0);
    float low = std::numeric_limits<float>::infinity(), high = -low;
    for (const float v : heights.cells()) low = v < low ? v : low, high = v > high ? v : high;
    Grid<float> out(heights.rows() - 2, heights.cols() - 2, 1);
    if (!(high > low)) return out;
    const CellSize middle = groundOf(frame).at(frame.widthPx / 2.0, frame.heightPx / 2.0);
    std::size_t rim = 1;
    for (const terrain::Light& light : style.lights) {
        const auto reach =
            terrain::shadowReach(light, static_cast<double>(high - low) * factor, middle);
        rim = std::max(rim, static_cast<std::size_t>(reach.longest()));
    }
    rim = std::min(rim, kWidestRim);
    const auto way = crs::Transformation::between(pyramid.source().info().crs, frame.crs);
    if (!way) return way.error();
    const auto wide =
        warped(pyramid, *way, frame.grid(static_cast<int>(rim)), Resampling::Bilinear, progress);
    if (!wide) return wide.error();
    std::fill(out.cells().begin(), out.cells().end(), 0.0F);
    const float share = 1.0F / static_cast<float>(style.lights.size());
    const bool isDone = forPixels(
        frame, out.rows(), out.cols(),
        [&](std::size_t row, std::size_t col, std::span<const CellSize> cells, std::size_t width) {
            Grid<float> lit(cells.size(), width);
            for (const terrain::Light& light : style.lights) {
                if (!terrain::castShadows(wide->view(), rim + row, rim + col, cells, factor, light,
                                          lit.view(), progress.stop))
                    return false;
                for (std::size_t r = 0; r < lit.rows(); ++r)
                    for (std::size_t c = 0; c < width; ++c)
                        out(row + r, col + c) += share * lit(r, c);
            }
            return true;
        });
    if (!isDone) return cancelled("cast shadows");
    return out;
}

Result<ShadePictures> shadePictures(const Grid<float>& heights, const MapFrame& frame,
                                    const doc::HillshadeStyle& style, double metresPerHeight,
                                    const Grid<float>& reached, const std::stop_token& stop) {
    const auto lit = illumination(heights, frame, style, metresPerHeight, reached, stop);
    if (!lit) return lit.error();
    ShadePictures out{blankPicture(lit->rows(), lit->cols()), blankPicture(lit->rows(), lit->cols())};
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
    parallelRanges(lit->rows(), kRowsAtATime, [&](std::size_t begin, std::size_t end) {
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
    QImage out = blankPicture(lit->rows(), lit->cols());
    const Ramp grey{{{0, style.shade}, {0.7, {0xC9, 0xC9, 0xD2}}, {1, {0xFB, 0xFA, 0xF6}}}};
    const RampTable table(grey);
    QRgb* const bits = reinterpret_cast<QRgb*>(out.bits());
    for (std::size_t i = 0; i < lit->cells().size(); ++i)
        bits[i] = premultiplied(table.at(lit->cells()[i]), std::isnan(lit->cells()[i]) ? 0 : 1);
    return out;
}

QImage tinted(const Grid<float>& heights, const Ramp& ramp, double factor) {
    const std::size_t rows = heights.rows() - 2, cols = heights.cols() - 2;
    QImage out = blankPicture(rows, cols);
    const RampTable table(ramp);
    QRgb* const bits = reinterpret_cast<QRgb*>(out.bits());
    const auto scale = static_cast<float>(factor);
    parallelRanges(rows, kRowsAtATime, [&](std::size_t begin, std::size_t end) {
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
    Grid<float> slopes(rows + 2, cols + 2);
    const double factor = metresPerHeight * style.heightScale.value_or(1.0);
    const bool isDone = forPixels(
        frame, rows, cols,
        [&](std::size_t row, std::size_t col, std::span<const CellSize> cells, std::size_t width) {
            return terrain::slope(heights.view().part(row, col, cells.size() + 2, width + 2), cells,
                                  factor, style.gradient, terrain::SlopeUnit::Degrees,
                                  slopes.view().part(row + 1, col + 1, cells.size(), width), stop)
                .has_value();
        });
    if (!isDone) return cancelled("slope");
    return tinted(slopes, style.ramp, 1);
}

}  // namespace ledge::carto
