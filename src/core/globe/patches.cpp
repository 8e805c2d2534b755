#include "core/globe/patches.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace ledge::globe {
namespace {
constexpr std::size_t kSize = 5;
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

Patches::Patches(const Box& extent, std::size_t count, PatchWay way) : m_way(std::move(way)) {
    constexpr std::int64_t kMostCells = 100'000;
    const double cells = static_cast<double>(std::max<std::size_t>(count, 1));
    const double area = std::max(extent.width(), 1e-9) * std::max(extent.height(), 1e-9);
    const auto cellOf = [this](double v) {
        return static_cast<std::int64_t>(std::floor(v / m_side));
    };
    // Never so small that their numbers would not be told apart.
    const double farthest = std::max({std::abs(extent.xMin), std::abs(extent.xMax),
                                      std::abs(extent.yMin), std::abs(extent.yMax)});
    m_side = std::exp2(std::ceil(std::log2(std::max(std::sqrt(area / cells), farthest * 1e-9))));
    for (;; m_side *= 2) {
        m_firstColumn = cellOf(extent.xMin), m_firstRow = cellOf(extent.yMin);
        m_columns = cellOf(extent.xMax) - m_firstColumn + 1;
        m_rows = cellOf(extent.yMax) - m_firstRow + 1;
        // Long and narrow countries have more of them than their area says.
        if (m_columns <= kMostCells && m_rows <= kMostCells && m_columns * m_rows <= kMostCells)
            break;
    }
    m_cells = std::make_unique<Cell[]>(static_cast<std::size_t>(m_columns * m_rows));
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
    out.half = {m_side / 2, m_side / 2};
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

const Patches::Patch* Patches::patchAt(Point p) const {
    const double column = std::floor(p.x / m_side) - static_cast<double>(m_firstColumn),
                 row = std::floor(p.y / m_side) - static_cast<double>(m_firstRow);
    if (!(column >= 0 && column < static_cast<double>(m_columns) && row >= 0 &&
          row < static_cast<double>(m_rows)))
        return nullptr;
    Cell& cell = m_cells[static_cast<std::size_t>(row) * static_cast<std::size_t>(m_columns) +
                         static_cast<std::size_t>(column)];
    std::call_once(cell.isMade, [&] {
        cell.patch = made({(static_cast<double>(m_firstColumn) + column + 0.5) * m_side,
                           (static_cast<double>(m_firstRow) + row + 0.5) * m_side});
    });
    return cell.patch.isGood ? &cell.patch : nullptr;
}

std::optional<Point> Patches::map(Point p) const {
    const Patch* patch = patchAt(p);
    return patch ? std::optional(patch->at(p)) : std::nullopt;
}

std::optional<double> Patches::map(const GeometryView& shape, std::vector<Point>& images) const {
    images.resize(shape.points.size());
    double shortest = std::numeric_limits<double>::infinity(), strays = 0;
    for (std::size_t i = 0; i < images.size(); ++i) {
        const Patch* patch = patchAt(shape.points[i]);
        if (!patch) return {};
        images[i] = patch->at(shape.points[i]);
        shortest = std::min(shortest, patch->sides.longestSquare);
        strays = std::max(strays, patch->sides.straysPerSquare);
    }
    if (shape.type == GeometryType::Point) return 0;
    double longest = 0;
    for (std::size_t k = 0; k < shape.partCount(); ++k) {
        const auto part = shape.part(k);
        for (std::size_t i = 1; i < part.size(); ++i) {
            const Point side = part[i] - part[i - 1];
            longest = std::max(longest, side.x * side.x + side.y * side.y);
        }
    }
    if (!(longest <= shortest)) return {};
    return longest * strays;
}

void Patches::adopt(const GeometryView& shape, Geometry& image) const {
    const double near = 4 * m_way.exactness;
    std::size_t next = 0;
    for (const Point p : shape.points) {
        const auto mine = map(p);
        if (!mine) continue;
        std::size_t at = next;
        while (at < image.points.size() && !(distance(image.points[at], *mine) <= near)) ++at;
        if (at == image.points.size()) return;  // not all of it is there
        image.points[at] = *mine;
        next = at + 1;
    }
}

}  // namespace ledge::globe
