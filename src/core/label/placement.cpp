#include "core/label/placement.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <unordered_map>

#include "core/base/constants.h"

namespace ledge::label {
namespace {
constexpr double kCell = 48;
constexpr double kMostBend = 0.22;  // radians between the chord and the line beneath the text

// Boxes taken so far, in a hashed grid.
class Taken {
public:
    bool isFree(const Box& box) const {
        bool free = true;
        visit(box, [&](std::int64_t key) {
            const auto it = m_cells.find(key);
            if (it == m_cells.end()) return;
            for (const Box& other : it->second)
                if (other.xMin < box.xMax && box.xMin < other.xMax && other.yMin < box.yMax &&
                    box.yMin < other.yMax)
                    free = false;
        });
        return free;
    }
    void add(const Box& box) {
        visit(box, [&](std::int64_t key) { m_cells[key].push_back(box); });
    }

private:
    template <typename F>
    static void visit(const Box& box, F f) {
        if (box.isEmpty()) return;
        const auto cell = [](double v) { return static_cast<std::int64_t>(std::floor(v / kCell)); };
        for (std::int64_t y = cell(box.yMin); y <= cell(box.yMax); ++y)
            for (std::int64_t x = cell(box.xMin); x <= cell(box.xMax); ++x) f(y * 1'000'003 + x);
    }
    std::unordered_map<std::int64_t, std::vector<Box>> m_cells;
};

Box textBox(Point origin, TextSize t) {
    return {origin.x, origin.y - t.ascent, origin.x + t.width, origin.y + t.descent};
}

// Boxes covering a turned text, one for each stretch as long as the text is high.
std::vector<Box> turnedBoxes(Point origin, double angle, TextSize t) {
    const double high = t.ascent + t.descent;
    const int count = std::max(1, static_cast<int>(std::ceil(t.width / std::max(1.0, high))));
    const Point along{std::cos(angle), std::sin(angle)}, up{along.y, -along.x};
    std::vector<Box> boxes;
    for (int i = 0; i < count; ++i) {
        Box box;
        for (const double s : {t.width * i / count, t.width * (i + 1) / count})
            for (const double h : {-t.descent, t.ascent}) box.add(origin + along * s + up * h);
        boxes.push_back(box);
    }
    return boxes;
}

// A line that knows positions by length.
class Measured {
public:
    explicit Measured(std::span<const Point> line) : m_line(line), m_lengths(line.size(), 0) {
        for (std::size_t i = 1; i < line.size(); ++i)
            m_lengths[i] = m_lengths[i - 1] + distance(line[i - 1], line[i]);
    }
    double length() const { return m_lengths.empty() ? 0 : m_lengths.back(); }
    Point at(double s) const {
        const auto it = std::lower_bound(m_lengths.begin() + 1, m_lengths.end() - 1, s);
        const auto i = static_cast<std::size_t>(it - m_lengths.begin());
        const double step = m_lengths[i] - m_lengths[i - 1];
        const double t = step > 0 ? (s - m_lengths[i - 1]) / step : 0;
        return m_line[i - 1] + (m_line[i] - m_line[i - 1]) * t;
    }
    // Largest distance of the stretch from its chord, over the chord's length.
    double bend(double from, double to) const {
        const Point a = at(from), b = at(to), d = b - a;
        const double chord = std::hypot(d.x, d.y);
        if (chord < 0.6 * (to - from)) return 1;
        double worst = 0;
        for (int i = 1; i < 8; ++i) {
            const Point p = at(from + (to - from) * i / 8) - a;
            worst = std::max(worst, std::abs(d.x * p.y - d.y * p.x) / (chord * chord));
        }
        return worst;
    }

private:
    std::span<const Point> m_line;
    std::vector<double> m_lengths;
};
}  // namespace

std::vector<std::optional<std::size_t>> place(std::span<const Request> requests,
                                              std::span<const Box> obstacles, const Box& frame) {
    Taken taken;
    for (const Box& box : obstacles) taken.add(box);
    std::vector<std::size_t> order(requests.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
        if (requests[a].rank != requests[b].rank) return requests[a].rank > requests[b].rank;
        return requests[a].size > requests[b].size;
    });
    const auto fits = [&](const Candidate& candidate) {
        return std::all_of(candidate.boxes.begin(), candidate.boxes.end(), [&](const Box& box) {
            return box.xMin >= frame.xMin && box.yMin >= frame.yMin && box.xMax <= frame.xMax &&
                   box.yMax <= frame.yMax && taken.isFree(box);
        });
    };
    std::vector<std::optional<std::size_t>> chosen(requests.size());
    for (const std::size_t i : order) {
        const auto& candidates = requests[i].candidates;
        for (std::size_t k = 0; k < candidates.size(); ++k)
            if ((!chosen[i] || candidates[k].cost < candidates[*chosen[i]].cost) &&
                fits(candidates[k]))
                chosen[i] = k;
        if (chosen[i])
            for (const Box& box : candidates[*chosen[i]].boxes) taken.add(box);
    }
    return chosen;
}

std::vector<Candidate> aroundPoint(Point a, double radius, TextSize t) {
    const double near = radius * 0.75, far = radius * 1.3;
    const double middle = (t.ascent - t.descent) / 2;
    const Point origins[] = {{a.x + near, a.y - near - t.descent},
                             {a.x - near - t.width, a.y - near - t.descent},
                             {a.x + near, a.y + near + t.ascent},
                             {a.x - near - t.width, a.y + near + t.ascent},
                             {a.x + far, a.y + middle},
                             {a.x - far - t.width, a.y + middle},
                             {a.x - t.width / 2, a.y - far - t.descent},
                             {a.x - t.width / 2, a.y + far + t.ascent}};
    std::vector<Candidate> out;
    for (const Point origin : origins)
        out.push_back({origin, 0, {textBox(origin, t)}, static_cast<double>(out.size())});
    return out;
}

std::vector<Candidate> centredOn(Point a, TextSize t) {
    const Point origin{a.x - t.width / 2, a.y + (t.ascent - t.descent) / 2};
    return {{origin, 0, {textBox(origin, t)}, 0}};
}

std::vector<Candidate> alongLine(std::span<const Point> line, TextSize t, double spacing,
                                 bool readsUphill) {
    std::vector<Candidate> out;
    if (line.size() < 2) return out;
    const Measured measured(line);
    const double length = measured.length();
    if (length < t.width * 1.4) return out;
    const double step = std::max(spacing, t.width * 0.25);
    for (double from = t.width * 0.2; from + t.width * 1.1 <= length; from += step) {
        const double bend = measured.bend(from, from + t.width);
        if (bend > kMostBend) continue;
        const Point a = measured.at(from), b = measured.at(from + t.width);
        double angle = std::atan2(b.y - a.y, b.x - a.x);
        const bool turns = !readsUphill && b.x < a.x;
        if (turns) angle += angle > 0 ? -kPi : kPi;
        const Point along{std::cos(angle), std::sin(angle)}, up{along.y, -along.x};
        const double middle = (t.ascent - t.descent) / 2;
        const Point origin = (a + b) * 0.5 - along * (t.width / 2) - up * middle;
        // Nearly upright and straight places first.
        const double tilt = readsUphill ? 0.3 * (1 - std::cos(angle)) : 0.2 * std::abs(angle);
        out.push_back({origin, angle, turnedBoxes(origin, angle, t), bend * 4 + tilt});
    }
    return out;
}

}  // namespace ledge::label
