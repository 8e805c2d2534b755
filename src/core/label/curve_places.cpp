#include "core/label/curve_places.h"

#include <cmath>
#include <numeric>

#include "core/base/constants.h"
#include "core/label/measured_line.h"
#include "core/symbol/hatch.h"

namespace ledge::label {
namespace {
constexpr double kMostTurn = 25 * kRadiansPerDegree;  // from a letter to the next

double turned(double angle) { return std::remainder(angle, 2 * kPi); }

// The line that baselines stand on: beside the given one, so that letters keep their distances on
// the inner side of a bend too. Heads are to the left of the way the text runs.
std::vector<Point> baseline(std::span<const Point> line, bool isReversed, double lift) {
    return beside(line, isReversed ? lift : -lift);
}

// The letters of a text along a measured baseline.
std::vector<Letter> letters(const Measured& measured, std::span<const double> advances, double from,
                            bool isReversed) {
    std::vector<Letter> out;
    out.reserve(advances.size());
    double at = from;
    for (const double advance : advances) {
        const double begin = isReversed ? at - advance : at, end = begin + advance;
        const Point a = measured.at(begin), b = measured.at(end);
        double angle = std::atan2(b.y - a.y, b.x - a.x);
        if (isReversed) angle = turned(angle + kPi);
        const Point along{std::cos(angle), std::sin(angle)};
        out.push_back({(a + b) * 0.5 - along * (advance / 2), angle});
        at += isReversed ? -advance : advance;
    }
    return out;
}

// The place of a text from a length on; nothing where it cannot stand.
std::optional<Candidate> placeAt(const Measured& measured, std::span<const double> advances,
                                 TextSize height, double from, double width, bool isReversed) {
    const auto set = letters(measured, advances, from, isReversed);
    double sum = 0;
    for (std::size_t i = 0; i < set.size(); ++i) {
        if (std::cos(set[i].angleRadians) < -0.2) return {};  // on its back
        if (i == 0) continue;
        const double turn = std::abs(turned(set[i].angleRadians - set[i - 1].angleRadians));
        if (turn > kMostTurn) return {};
        sum += turn;
    }
    Candidate out;
    out.origin = set.front().origin;
    out.angleRadians = set.front().angleRadians;
    out.from = from;
    out.isReversed = isReversed;
    for (std::size_t i = 0; i < set.size(); ++i)
        for (const Box& box : turnedBoxes(set[i].origin, set[i].angleRadians,
                                          {advances[i], height.ascent, height.descent}))
            out.boxes.push_back(box);
    const Point d = set.back().origin - set.front().origin;
    const double tilt = std::abs(std::atan2(d.y, d.x));
    const double begin = isReversed ? from - width : from;
    out.cost = 2 * sum + 0.4 * std::min(tilt, kPi - tilt) +
               std::abs(begin + width / 2 - measured.length() / 2) / measured.length();
    return out;
}
}  // namespace

std::vector<Letter> lettersAlong(std::span<const Point> line, std::span<const double> advances,
                                 double from, bool isReversed, double lift) {
    const auto base = baseline(line, isReversed, lift);
    if (base.size() < 2) return {};
    return letters(Measured(base), advances, from, isReversed);
}

std::vector<Candidate> alongCurve(std::span<const Point> line, std::span<const double> advances,
                                  TextSize height, double spacing, double lift) {
    std::vector<Candidate> out;
    if (line.size() < 2 || advances.empty()) return out;
    const double width = std::accumulate(advances.begin(), advances.end(), 0.0);
    const double margin = width * 0.08, step = std::max(spacing, width * 0.2);
    for (const bool isReversed : {false, true}) {
        const auto base = baseline(line, isReversed, lift);
        if (base.size() < 2) continue;
        const Measured measured(base);
        for (double from = margin; from + width + margin <= measured.length(); from += step) {
            // Each stretch is read one way only.
            if ((measured.at(from + width).x < measured.at(from).x) != isReversed) continue;
            if (auto place = placeAt(measured, advances, height, isReversed ? from + width : from,
                                     width, isReversed))
                out.push_back(*std::move(place));
        }
    }
    return out;
}

// Slices across the longest direction; in each the middle of the widest span inside that goes on
// from the one before.
std::vector<Point> axisOf(std::span<const std::vector<Point>> rings) {
    constexpr int kSlices = 24;
    Point sum{};
    double count = 0, xx = 0, xy = 0, yy = 0;
    // By the second moments of the outline, weighed by length.
    const auto sides = [&](const auto& use) {
        for (const auto& ring : rings)
            for (std::size_t i = 1; i < ring.size(); ++i)
                use((ring[i] + ring[i - 1]) * 0.5, distance(ring[i], ring[i - 1]));
    };
    sides([&](Point p, double w) { sum = sum + p * w, count += w; });
    if (!(count > 0)) return {};
    const Point centre = sum * (1 / count);
    sides([&](Point p, double w) {
        const Point d = p - centre;
        xx += w * d.x * d.x, xy += w * d.x * d.y, yy += w * d.y * d.y;
    });
    const double angle = 0.5 * std::atan2(2 * xy, xx - yy);
    const Point along{std::cos(angle), std::sin(angle)};
    double low = INFINITY, high = -INFINITY, near = INFINITY, far = -INFINITY;
    for (const auto& ring : rings)
        for (const Point p : ring) {
            const Point d = p - centre;
            const double s = d.x * along.x + d.y * along.y, t = d.y * along.x - d.x * along.y;
            low = std::min(low, s), high = std::max(high, s);
            near = std::min(near, t), far = std::max(far, t);
        }
    if (!(high - low > 1.5 * (far - near))) return {};
    const double spacing = (high - low) / kSlices;
    // Lines across it: hatching rises against y, as degrees do on paper.
    const Point origin = centre + along * (low + spacing / 2);
    const double degrees = -(angle + kPi / 2) * kDegreesPerRadian;
    std::vector<std::pair<double, Segment>> spans;
    for (const Segment& span : hatched(rings, spacing, degrees, origin)) {
        const Point d = (span.first + span.second) * 0.5 - centre;
        spans.emplace_back(d.x * along.x + d.y * along.y, span);
    }
    std::sort(spans.begin(), spans.end(),
              [](const auto& one, const auto& two) { return one.first < two.first; });
    std::vector<Point> out;
    for (std::size_t i = 0; i < spans.size();) {
        std::size_t best = i, end = i;
        for (; end < spans.size() && spans[end].first - spans[i].first < spacing / 2; ++end)
            if (distance(spans[end].second.first, spans[end].second.second) >
                distance(spans[best].second.first, spans[best].second.second))
                best = end;
        out.push_back((spans[best].second.first + spans[best].second.second) * 0.5);
        i = end;
    }
    // Calm: each place the mean of its neighbours, three times.
    for (int round = 0; round < 3; ++round)
        for (std::size_t i = 1; i + 1 < out.size(); ++i)
            out[i] = (out[i - 1] + out[i] * 2 + out[i + 1]) * 0.25;
    if (out.size() > 1 && out.back().x < out.front().x) std::reverse(out.begin(), out.end());
    return out;
}

}  // namespace ledge::label
