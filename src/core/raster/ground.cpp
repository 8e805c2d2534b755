#include "core/raster/ground.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ledge {
namespace {
using crs::GroundMetric;
constexpr std::size_t kMostStrips = 6;
constexpr double kSizeTolerance = 5e-7, kTurnTolerance = 1e-4;
constexpr double kAlike = 5e-5;

GroundMetric mixed(const GroundMetric& a, const GroundMetric& b, double t) {
    const auto mix = [t](double p, double q) { return p + t * (q - p); };
    return {mix(a.xx, b.xx), mix(a.xy, b.xy), mix(a.yy, b.yy), mix(a.northSine, b.northSine),
            mix(a.northCosine, b.northCosine)};
}

bool isNear(const GroundMetric& a, const GroundMetric& b) {
    const double size = kSizeTolerance * std::max(a.xx, a.yy);
    const double turn = a.northSine * b.northCosine - a.northCosine * b.northSine;
    const double length = std::hypot(b.northSine, b.northCosine);
    return std::abs(a.xx - b.xx) < size && std::abs(a.yy - b.yy) < size &&
           std::abs(a.xy - b.xy) < size && std::abs(turn) < kTurnTolerance * length;
}
}  // namespace

/// A square of cells with its metric on a lattice of (steps + 1)^2 places, from corner to corner.
struct Ground::Patch {
    std::int64_t row0 = 0, col0 = 0;
    std::int64_t side = 1;   ///< cells along either axis
    std::int64_t alike = 1;  ///< columns, a power of two, over which cells of a row are alike
    int steps = 1;
    std::vector<GroundMetric> lattice;

    GroundMetric at(double col, double row) const {
        const double x =
            std::clamp((col - static_cast<double>(col0)) / static_cast<double>(side), 0.0, 1.0) *
            steps;
        const double y =
            std::clamp((row - static_cast<double>(row0)) / static_cast<double>(side), 0.0, 1.0) *
            steps;
        const int c = std::min(static_cast<int>(x), steps - 1);
        const int r = std::min(static_cast<int>(y), steps - 1);
        const auto node = [&](int row1, int col1) -> const GroundMetric& {
            return lattice[static_cast<std::size_t>(row1 * (steps + 1) + col1)];
        };
        return mixed(mixed(node(r, c), node(r, c + 1), x - c),
                     mixed(node(r + 1, c), node(r + 1, c + 1), x - c), y - r);
    }
};

/// The patches of some rows, from west to east.
struct Ground::Strip {
    std::vector<std::shared_ptr<const Patch>> patches;
};

Ground::Ground(crs::CrsPtr crs, const Affine& toWorld, std::int64_t width, std::int64_t height)
    : m_crs(std::move(crs)), m_toWorld(toWorld), m_width(width), m_height(height),
      m_side(width >= 4096 ? 1024 : 256) {
    if (m_crs && isByRow()) m_zones = std::make_shared<crs::ZoneArea>(m_crs->ellipsoid);
}

// In degrees and upright, every row is its own latitude; without a CRS all cells are one.
bool Ground::isByRow() const {
    return !m_crs || (m_crs->isGeographic() && m_toWorld.b == 0 && m_toWorld.d == 0);
}

std::shared_ptr<const Ground::Patch> Ground::patch(std::int64_t row0, std::int64_t col0) const {
    auto out = std::make_shared<Patch>();
    out->row0 = row0, out->col0 = col0, out->side = m_side;
    const auto side = static_cast<double>(m_side);
    const double unit = m_crs ? m_crs->unit.size : 1;
    for (out->steps = 1;; out->steps *= 2) {
        const int n = out->steps;
        const auto place = [&](double r, double c) {
            return m_toWorld({static_cast<double>(col0) + c * side / n,
                              static_cast<double>(row0) + r * side / n});
        };
        std::vector<Point> nodes, middles;
        for (int r = 0; r <= n; ++r)
            for (int c = 0; c <= n; ++c) nodes.push_back(place(r, c));
        // Where interpolation is worst; of many squares, some of each row.
        const int skip = std::max(1, n / 8);
        for (int r = 0; r < n; r += skip)
            for (int c = r % skip; c < n; c += skip) middles.push_back(place(r + 0.5, c + 0.5));
        out->lattice = crs::groundMetrics(m_crs, nodes);
        for (GroundMetric& m : out->lattice)
            if (!m.isFinite()) m = {unit * unit, 0, unit * unit, 0, 1};
        if (n >= m_side) break;
        const auto truth = crs::groundMetrics(m_crs, middles);
        std::size_t i = 0;
        bool isGood = true;
        for (int r = 0; r < n && isGood; r += skip)
            for (int c = r % skip; c < n; c += skip, ++i) {
                const double col = static_cast<double>(col0) + (c + 0.5) * side / n;
                const double row = static_cast<double>(row0) + (r + 0.5) * side / n;
                if (truth[i].isFinite() && !isNear(truth[i], out->at(col, row))) isGood = false;
            }
        if (isGood) break;
    }
    out->alike = m_side;
    while (out->alike > 1 && !isAlike(*out)) out->alike /= 2;
    return out;
}

// Whether the ends of all parts of a patch have the cells of their middles; at some rows.
bool Ground::isAlike(const Patch& patch) const {
    const double width = static_cast<double>(patch.alike);
    for (const double share : {0.0, 0.5, 1.0}) {
        const double row = static_cast<double>(patch.row0) + share * static_cast<double>(m_side);
        for (std::int64_t begin = 0; begin < m_side; begin += patch.alike) {
            const double left = static_cast<double>(patch.col0 + begin);
            const CellSize middle = cellOf(patch.at(left + width / 2, row));
            const double size = std::max(std::hypot(middle.xMetres, middle.colNorth),
                                         std::hypot(middle.yMetres, middle.rowEast));
            for (const double col : {left, left + width}) {
                const CellSize end = cellOf(patch.at(col, row));
                for (const double d :
                     {end.xMetres - middle.xMetres, end.yMetres - middle.yMetres,
                      end.colNorth - middle.colNorth, end.rowEast - middle.rowEast})
                    if (std::abs(d) > kAlike * size) return false;
            }
        }
    }
    return true;
}

std::shared_ptr<const Ground::Strip> Ground::strip(std::int64_t index) const {
    {
        const std::lock_guard lock(m_mutex);
        for (auto it = m_strips.begin(); it != m_strips.end(); ++it) {
            if (it->first != index) continue;
            m_strips.splice(m_strips.begin(), m_strips, it);
            return m_strips.front().second;
        }
    }
    auto made = std::make_shared<Strip>();
    for (std::int64_t col = 0; col < std::max<std::int64_t>(1, m_width); col += m_side)
        made->patches.push_back(patch(index * m_side, col));
    const std::lock_guard lock(m_mutex);
    m_strips.emplace_front(index, made);
    if (m_strips.size() > kMostStrips) m_strips.pop_back();
    return made;
}

crs::GroundMetric Ground::metric(double col, double row) const {
    if (isByRow()) {
        const Point at = m_toWorld({col, row});
        GroundMetric out = crs::groundMetrics(m_crs, std::span(&at, 1)).front();
        out.xx = std::max(out.xx, 1e-12);  // at a pole
        return out;
    }
    const auto side = static_cast<double>(m_side);
    const auto index =
        std::clamp<std::int64_t>(static_cast<std::int64_t>(std::floor(row / side)), 0,
                                 std::max<std::int64_t>(0, (m_height - 1) / m_side));
    const auto rows = strip(index);
    const auto column = std::clamp<std::int64_t>(static_cast<std::int64_t>(std::floor(col / side)),
                                                 0, std::ssize(rows->patches) - 1);
    return rows->patches[static_cast<std::size_t>(column)]->at(col, row);
}

// The frame of the CRS's north: y along it, x with its shear, both turned where the CRS counts west
// or south.
CellSize Ground::cellOf(const GroundMetric& m) const {
    const double signX = m_crs && m_crs->isWestward ? -1 : 1;
    const double signY = m_crs && m_crs->isSouthward ? -1 : 1;
    const double yNorth = std::sqrt(m.yy);
    const double xNorth = m.xy / yNorth;
    const double xEast = std::sqrt(std::max(0.0, m.xx - xNorth * xNorth));
    const double east = signX * xEast, shear = signY * xNorth, north = signY * yNorth;
    CellSize out;
    out.xMetres = m_toWorld.a * east;
    out.colNorth = m_toWorld.a * shear + m_toWorld.d * north;
    out.rowEast = m_toWorld.b * east;
    out.yMetres = -(m_toWorld.b * shear + m_toWorld.e * north);
    return out;
}

CellSize Ground::at(double col, double row) const { return cellOf(metric(col, row)); }

// Each row goes by the parts of its own strip: they begin at multiples of their width and have the
// cell in their middle, so that every window has the same cells.
Result<void> Ground::forParts(CellWindow w, const Visit& visit) const {
    std::vector<CellSize> cells(static_cast<std::size_t>(w.rows));
    if (isByRow()) {
        for (std::size_t r = 0; r < cells.size(); ++r)
            cells[r] = at(0.5, static_cast<double>(w.row) + static_cast<double>(r) + 0.5);
        return visit(w, cells);
    }
    std::vector<std::shared_ptr<const Strip>> strips;
    for (std::int64_t i = w.row / m_side; i <= (w.row + w.rows - 1) / m_side; ++i)
        strips.push_back(strip(i));
    for (std::int64_t col = w.col; col < w.col + w.cols;) {
        const auto column = static_cast<std::size_t>(col / m_side);
        std::int64_t narrowest = m_side;
        for (const auto& rows : strips)
            narrowest = std::min(narrowest, rows->patches[column]->alike);
        const std::int64_t end = std::min((col / narrowest + 1) * narrowest, w.col + w.cols);
        for (std::size_t r = 0; r < cells.size(); ++r) {
            const std::int64_t row = w.row + static_cast<std::int64_t>(r);
            const auto strip = static_cast<std::size_t>(row / m_side - w.row / m_side);
            const Patch& patch = *strips[strip]->patches[column];
            const std::int64_t begin = col / patch.alike * patch.alike;
            cells[r] =
                cellOf(patch.at(static_cast<double>(begin) + static_cast<double>(patch.alike) / 2,
                                static_cast<double>(row) + 0.5));
        }
        if (const auto done = visit({col, w.row, end - col, w.rows}, cells); !done) return done;
        col = end;
    }
    return {};
}

void Ground::convergence(std::int64_t row, std::int64_t firstCol, std::span<float> degrees) const {
    if (isByRow()) return std::fill(degrees.begin(), degrees.end(), 0.0F);
    // Straight between places close enough together for 1e-4 radian.
    constexpr std::size_t kApart = 8;
    const double middle = static_cast<double>(row) + 0.5;
    const auto angle = [&](std::size_t i) {
        const auto m = metric(static_cast<double>(firstCol) + static_cast<double>(i) + 0.5, middle);
        return std::atan2(m.northSine, m.northCosine) / crs::kRadiansPerDegree;
    };
    double from = degrees.empty() ? 0 : angle(0);
    for (std::size_t begin = 0; begin < degrees.size(); begin += kApart) {
        const std::size_t end = std::min(begin + kApart, degrees.size() - 1);
        const double to = angle(end), change = std::remainder(to - from, 360.0);
        const bool isStraight = std::abs(change) < 1;
        for (std::size_t i = begin; i < std::min(begin + kApart, degrees.size()); ++i) {
            const double t =
                end > begin ? static_cast<double>(i - begin) / static_cast<double>(end - begin) : 0;
            degrees[i] = static_cast<float>(isStraight ? from + t * change : angle(i));
        }
        from = to;
    }
}

void Ground::areas(std::int64_t row, std::int64_t firstCol, std::span<double> out) const {
    const double unit = std::abs(m_toWorld.determinant());
    if (isByRow() && m_crs) {
        const double north = m_toWorld({0, static_cast<double>(row)}).y;
        const double south = m_toWorld({0, static_cast<double>(row + 1)}).y;
        const double area = m_zones->between(std::clamp(south, -90.0, 90.0),
                                             std::clamp(north, -90.0, 90.0), std::abs(m_toWorld.a));
        return std::fill(out.begin(), out.end(), area);
    }
    // Over small cells the middle stands for all; over large ones Gauss's rule of two by two
    // places.
    const double metres = m_toWorld.columnLength() * (m_crs ? m_crs->metresPerUnit() : 1);
    const double aside = metres > 1000 ? 0.5 / std::sqrt(3.0) : 0;
    for (std::size_t i = 0; i < out.size(); ++i) {
        const double col = static_cast<double>(firstCol) + static_cast<double>(i) + 0.5;
        const double mid = static_cast<double>(row) + 0.5;
        if (aside == 0) {
            out[i] = unit * metric(col, mid).area();
            continue;
        }
        double sum = 0;
        for (const double y : {mid - aside, mid + aside})
            for (const double x : {col - aside, col + aside}) sum += metric(x, y).area();
        out[i] = unit * sum / 4;
    }
}

}  // namespace ledge
