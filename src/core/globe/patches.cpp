#include "core/globe/patches.h"

#include <algorithm>
#include <cmath>

namespace ledge::globe {
namespace {
constexpr std::size_t kSize = 5;
// Shapes about the middle of a cell lie in its margin, too, as shares of the cell.
constexpr double kMargin = 0.25;
// Steps between checked places miss a little of what changes fastest.
constexpr double kSafe = 1.2;

using Matrix = std::array<std::array<double, kSize>, kSize>;

// Zeros and extrema of the Chebyshev polynomial of that degree.
std::array<double, kSize> nodes() {
    std::array<double, kSize> out{};
    for (std::size_t k = 0; k < kSize; ++k)
        out[k] = std::cos((2.0 * static_cast<double>(k) + 1) * M_PI / (2 * kSize));
    return out;
}
std::array<double, kSize + 1> extrema() {
    std::array<double, kSize + 1> out{};
    for (std::size_t k = 0; k <= kSize; ++k)
        out[k] = std::cos(static_cast<double>(k) * M_PI / kSize);
    return out;
}

// Powers of the polynomial that is 1 at one node and 0 at the others, for each node.
Matrix lagrangePowers() {
    const auto at = nodes();
    Matrix out{};
    for (std::size_t k = 0; k < kSize; ++k) {
        std::array<double, kSize> powers{1};
        std::size_t degree = 0;
        for (std::size_t other = 0; other < kSize; ++other) {
            if (other == k) continue;
            const double by = 1 / (at[k] - at[other]);
            for (std::size_t i = ++degree; i > 0; --i)
                powers[i] = (powers[i - 1] - at[other] * powers[i]) * by;
            powers[0] *= -at[other] * by;
        }
        out[k] = powers;
    }
    return out;
}

double greatestStep(std::span<const Point> values, std::span<const Point> places) {
    constexpr std::size_t kRow = kSize + 1;
    double out = 0;
    const auto look = [&](std::size_t a, std::size_t b) {
        const double step = distance(places[a], places[b]);
        if (step > 0) out = std::max(out, distance(values[a], values[b]) / step);
    };
    for (std::size_t i = 0; i < kRow; ++i)
        for (std::size_t k = 0; k + 1 < kRow; ++k) {
            look(i * kRow + k, i * kRow + k + 1);
            look(k * kRow + i, (k + 1) * kRow + i);
        }
    // Along both at once, at worst.
    return out * std::sqrt(2.0) * kSafe;
}
}  // namespace

Patches::Patches(const Box& extent, std::size_t count, PatchWay way)
    : m_extent(extent), m_way(std::move(way)) {
    const double width = std::max(extent.width(), 1e-9), height = std::max(extent.height(), 1e-9);
    const double side =
        std::sqrt(width * height / static_cast<double>(std::max<std::size_t>(count, 1)));
    const auto pieces = [&](double length) {
        return static_cast<std::size_t>(
            std::clamp(std::ceil(length / side), 1.0, static_cast<double>(count) + 1));
    };
    m_columns = pieces(width), m_rows = pieces(height);
    m_cell = {width / static_cast<double>(m_columns), height / static_cast<double>(m_rows)};
    m_cells = std::make_unique<Cell[]>(m_columns * m_rows);
}

Point Patches::Patch::at(Point p) const {
    const double u = (p.x - middle.x) / half.x, v = (p.y - middle.y) / half.y;
    Point out{0, 0};
    static_assert(kNodes == 5);
    for (std::size_t i = kNodes; i-- > 0;) {
        const Point* row = &powers[i * kNodes];
        const Point along = (((row[4] * v + row[3]) * v + row[2]) * v + row[1]) * v + row[0];
        out = out * u + along;
    }
    return out;
}

Patches::Patch Patches::made(Point middle) const {
    static const Matrix kPowers = lagrangePowers();
    Patch out;
    out.middle = middle;
    out.half = m_cell * (0.5 + kMargin);
    const auto places = [&](const auto& shares) {
        std::vector<Point> all;
        for (const double u : shares)
            for (const double v : shares)
                all.push_back({middle.x + u * out.half.x, middle.y + v * out.half.y});
        return all;
    };
    std::vector<Point> lonLat, images;
    if (!m_way.exact(places(nodes()), lonLat, images)) return out;
    for (std::size_t a = 0; a < kNodes; ++a)
        for (std::size_t b = 0; b < kNodes; ++b)
            for (std::size_t i = 0; i < kNodes; ++i)
                for (std::size_t k = 0; k < kNodes; ++k)
                    out.powers[i * kNodes + k] =
                        out.powers[i * kNodes + k] +
                        images[a * kNodes + b] * (kPowers[a][i] * kPowers[b][k]);
    const auto checked = places(extrema());
    if (!m_way.exact(checked, lonLat, images)) return out;
    for (std::size_t i = 0; i < checked.size(); ++i)
        if (!(distance(out.at(checked[i]), images[i]) <= m_way.exactness)) return out;
    out.sides = m_way.sides(lonLat, greatestStep(lonLat, checked), greatestStep(images, checked));
    out.isGood = true;
    return out;
}

const Patches::Patch& Patches::patchAt(Point p) const {
    const auto place = [](double share, std::size_t count) {
        return std::min(static_cast<std::size_t>(std::max(share, 0.0)), count - 1);
    };
    const std::size_t column = place((p.x - m_extent.xMin) / m_cell.x, m_columns),
                      row = place((p.y - m_extent.yMin) / m_cell.y, m_rows);
    Cell& cell = m_cells[row * m_columns + column];
    std::call_once(cell.isMade, [&] {
        cell.patch = made({m_extent.xMin + (static_cast<double>(column) + 0.5) * m_cell.x,
                           m_extent.yMin + (static_cast<double>(row) + 0.5) * m_cell.y});
    });
    return cell.patch;
}

std::optional<double> Patches::map(const GeometryView& shape, std::vector<Point>& images) const {
    const Box box = shape.box();
    if (box.isEmpty()) return {};
    const Patch& patch = patchAt(box.centre());
    if (!patch.isGood) return {};
    if (box.xMin < patch.middle.x - patch.half.x || box.xMax > patch.middle.x + patch.half.x ||
        box.yMin < patch.middle.y - patch.half.y || box.yMax > patch.middle.y + patch.half.y)
        return {};
    double longest = 0;
    for (std::size_t k = 0; k < shape.partCount(); ++k) {
        const auto part = shape.part(k);
        for (std::size_t i = 1; i < part.size(); ++i) {
            const Point side = part[i] - part[i - 1];
            longest = std::max(longest, side.x * side.x + side.y * side.y);
        }
    }
    if (shape.type != GeometryType::Point && !(longest <= patch.sides.longestSquare)) return {};
    images.resize(shape.points.size());
    for (std::size_t i = 0; i < images.size(); ++i) {
        if (!shape.points[i].isFinite()) return {};  // no box holds it
        images[i] = patch.at(shape.points[i]);
    }
    return shape.type == GeometryType::Point ? 0 : longest * patch.sides.straysPerSquare;
}

}  // namespace ledge::globe
