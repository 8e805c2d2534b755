#include "core/symbol/dots.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/random.h"
#include "core/symbol/hatch.h"

namespace ledge {
namespace {
constexpr std::int64_t kMostDots = 100'000;
constexpr int kTries = 8;
constexpr double kLines = 1024;  // across a shape

// Random places inside, by scan lines weighted by their lengths.
class Inside {
public:
    Inside(const GeometryView& polygon, std::span<const GeometryView> excluded) {
        const Box box = polygon.box();
        m_spacing = std::max(box.height(), 1e-9 * box.width()) / kLines;
        // Half a line in, so that the first is not an edge.
        const Point origin{box.xMin, box.yMin + m_spacing / 2};
        m_lines = hatched(ringsOf(polygon), m_spacing, 0, origin);
        for (const GeometryView& other : excluded)
            if (other.type == GeometryType::Polygon && other.box().intersects(box))
                leaveOut(hatched(ringsOf(other), m_spacing, 0, origin), origin.y);
        double sum = 0;
        for (const auto& [from, to] : m_lines) m_upTo.push_back(sum += to.x - from.x);
    }
    bool isEmpty() const { return m_upTo.empty() || !(m_upTo.back() > 0); }
    double area() const { return m_upTo.back() * m_spacing; }
    Point any(Random& random) const {
        const double at = random.between(0, m_upTo.back());
        const auto i =
            std::min(m_lines.size() - 1,
                     static_cast<std::size_t>(std::upper_bound(m_upTo.begin(), m_upTo.end(), at) -
                                              m_upTo.begin()));
        const auto& [from, to] = m_lines[i];
        return {to.x - (m_upTo[i] - at), from.y};
    }

private:
    static std::vector<std::vector<Point>> ringsOf(const GeometryView& polygon) {
        std::vector<std::vector<Point>> rings;
        for (std::size_t i = 0; i < polygon.partCount(); ++i) {
            const auto part = polygon.part(i);
            rings.emplace_back(part.begin(), part.end());
        }
        return rings;
    }
    // Cuts stretches out of those that lie on the same scan lines.
    void leaveOut(const std::vector<Segment>& cuts, double first) {
        const auto lineOf = [&](const Segment& s) {
            return std::llround((s.first.y - first) / m_spacing);
        };
        std::map<long long, std::vector<Segment>> byLine;
        for (const Segment& cut : cuts) byLine[lineOf(cut)].push_back(cut);
        std::vector<Segment> left;
        for (const Segment& whole : m_lines) {
            std::vector<Segment> pieces{whole};
            if (const auto it = byLine.find(lineOf(whole)); it != byLine.end())
                for (const Segment& cut : it->second) pieces = without(pieces, cut);
            left.insert(left.end(), pieces.begin(), pieces.end());
        }
        m_lines = std::move(left);
    }
    static std::vector<Segment> without(const std::vector<Segment>& pieces, const Segment& cut) {
        std::vector<Segment> out;
        const auto keep = [&out](double from, double to, double y) {
            if (from < to) out.emplace_back(Point{from, y}, Point{to, y});
        };
        for (const auto& [from, to] : pieces) {
            keep(from.x, std::min(to.x, cut.first.x), from.y);
            keep(std::max(from.x, cut.second.x), to.x, from.y);
        }
        return out;
    }
    std::vector<Segment> m_lines;
    std::vector<double> m_upTo;
    double m_spacing = 0;
};

// Dots so far, in cells about as wide as they will lie apart.
class Cells {
public:
    Cells(const Box& box, double side) : m_box(box), m_side(side) {
        m_columns = static_cast<std::size_t>(box.width() / side) + 1;
        m_rows = static_cast<std::size_t>(box.height() / side) + 1;
        m_cells.resize(m_columns * m_rows);
    }
    /// Squared distance to the nearest, at most that of what lies two cells away.
    double nearest(Point p) const {
        double best = 4 * m_side * m_side;
        const auto [column, row] = cellOf(p);
        for (std::size_t r = row < 2 ? 0 : row - 2; r <= std::min(row + 2, m_rows - 1); ++r)
            for (std::size_t c = column < 2 ? 0 : column - 2;
                 c <= std::min(column + 2, m_columns - 1); ++c)
                for (const Point q : m_cells[r * m_columns + c]) {
                    const Point d = q - p;
                    best = std::min(best, d.x * d.x + d.y * d.y);
                }
        return best;
    }
    void add(Point p) {
        const auto [column, row] = cellOf(p);
        m_cells[row * m_columns + column].push_back(p);
    }

private:
    std::pair<std::size_t, std::size_t> cellOf(Point p) const {
        const auto place = [](double v, std::size_t count) {
            return std::min(static_cast<std::size_t>(std::max(0.0, v)), count - 1);
        };
        return {place((p.x - m_box.xMin) / m_side, m_columns),
                place((p.y - m_box.yMin) / m_side, m_rows)};
    }
    Box m_box;
    double m_side;
    std::size_t m_columns, m_rows;
    std::vector<std::vector<Point>> m_cells;
};

// Which kind each dot is of, mixed.
std::vector<std::uint8_t> kindsOf(std::span<const std::int64_t> counts, Random& random) {
    std::int64_t wanted = 0;
    for (const std::int64_t count : counts) wanted += std::max<std::int64_t>(0, count);
    std::vector<std::uint8_t> out;
    for (std::size_t kind = 0; kind < counts.size() && kind < 256; ++kind) {
        std::int64_t count = std::max<std::int64_t>(0, counts[kind]);
        if (wanted > kMostDots)
            count = static_cast<std::int64_t>(static_cast<double>(count) * kMostDots /
                                              static_cast<double>(wanted));
        out.insert(out.end(), static_cast<std::size_t>(count), static_cast<std::uint8_t>(kind));
    }
    for (std::size_t i = out.size(); i > 1; --i)
        std::swap(out[i - 1], out[static_cast<std::size_t>(random.below(static_cast<int>(i)))]);
    return out;
}
}  // namespace

StrewnDots strewn(const GeometryView& polygon, std::span<const std::int64_t> counts,
                  std::uint64_t seed, std::span<const GeometryView> excluded) {
    StrewnDots out;
    if (polygon.type != GeometryType::Polygon || polygon.isEmpty()) return out;
    Random random(seed);
    out.kind = kindsOf(counts, random);
    const Inside inside(polygon, excluded);
    if (inside.isEmpty()) out.kind.clear();
    if (out.kind.empty()) return out;
    const Box box = polygon.box();
    const double side = std::max(std::sqrt(inside.area() / static_cast<double>(out.kind.size())),
                                 std::max(box.width(), box.height()) / 2000);
    Cells cells(box, side);
    out.at.reserve(out.kind.size());
    while (out.at.size() < out.kind.size()) {
        Point best = inside.any(random);
        double farthest = cells.nearest(best);
        for (int i = 1; i < kTries; ++i) {
            const Point p = inside.any(random);
            if (const double away = cells.nearest(p); away > farthest) farthest = away, best = p;
        }
        cells.add(best);
        out.at.push_back(best);
    }
    return out;
}

}  // namespace ledge
