#include "core/geometry/clip.h"

#include <array>
#include <utility>

namespace ledge {
namespace {
// Narrows [enter, leave] of a segment to the half-plane p t <= q; false when nothing is left.
bool narrow(double p, double q, double& enter, double& leave) {
    if (p == 0) return q >= 0;
    const double t = q / p;
    if (p < 0)
        enter = std::max(enter, t);
    else
        leave = std::min(leave, t);
    return enter <= leave;
}

double offLine(Point p, Point a, Point b) {
    const Point d = b - a;
    const double length = std::hypot(d.x, d.y);
    if (length == 0) return distance(p, a);
    return std::abs(d.x * (p.y - a.y) - d.y * (p.x - a.x)) / length;
}
}  // namespace

std::vector<LinePiece> clippedPieces(std::span<const Point> line, const Box& box) {
    std::vector<LinePiece> pieces;
    bool open = false;
    double along = 0;
    for (std::size_t i = 1; i < line.size(); ++i) {
        const Point a = line[i - 1], d = line[i] - a;
        double enter = 0, leave = 1;
        const bool isFinite = a.isFinite() && line[i].isFinite();
        const double length = isFinite ? std::hypot(d.x, d.y) : 0;
        const bool visible = isFinite && narrow(-d.x, a.x - box.xMin, enter, leave) &&
                             narrow(d.x, box.xMax - a.x, enter, leave) &&
                             narrow(-d.y, a.y - box.yMin, enter, leave) &&
                             narrow(d.y, box.yMax - a.y, enter, leave);
        if (visible) {
            if (!open || enter > 0) pieces.push_back({{a + d * enter}, along + enter * length});
            pieces.back().points.push_back(leave < 1 ? a + d * leave : line[i]);
        }
        open = visible && leave >= 1;
        along += length;
    }
    return pieces;
}

std::vector<std::vector<Point>> clipLine(std::span<const Point> line, const Box& box) {
    std::vector<std::vector<Point>> out;
    for (LinePiece& piece : clippedPieces(line, box)) out.push_back(std::move(piece.points));
    return out;
}

std::vector<Point> clipRing(std::span<const Point> ring, const Box& box) {
    std::vector<Point> in(ring.begin(), ring.end());
    for (int side = 0; side < 4 && !in.empty(); ++side) {
        const auto depth = [&](Point p) {
            switch (side) {
            case 0: return p.x - box.xMin;
            case 1: return box.xMax - p.x;
            case 2: return p.y - box.yMin;
            default: return box.yMax - p.y;
            }
        };
        std::vector<Point> out;
        out.reserve(in.size() + 8);
        for (std::size_t i = 0; i < in.size(); ++i) {
            const Point a = in[i], b = in[(i + 1) % in.size()];
            const double da = depth(a), db = depth(b);
            if (da >= 0) out.push_back(a);
            if ((da >= 0) != (db >= 0)) out.push_back(a + (b - a) * (da / (da - db)));
        }
        in = std::move(out);
    }
    if (in.size() < 3) return {};
    if (in.front() != in.back()) in.push_back(in.front());
    return in;
}

std::vector<Point> simplified(std::span<const Point> line, double tolerance) {
    if (line.size() < 3) return {line.begin(), line.end()};
    std::vector<bool> keep(line.size(), false);
    keep.front() = keep.back() = true;
    std::vector<std::pair<std::size_t, std::size_t>> open{{0, line.size() - 1}};
    while (!open.empty()) {
        const auto [first, last] = open.back();
        open.pop_back();
        double worst = tolerance;
        std::size_t at = 0;
        for (std::size_t i = first + 1; i < last; ++i)
            if (const double off = offLine(line[i], line[first], line[last]); off > worst)
                worst = off, at = i;
        if (at == 0) continue;
        keep[at] = true;
        open.push_back({first, at});
        open.push_back({at, last});
    }
    std::vector<Point> out;
    for (std::size_t i = 0; i < line.size(); ++i)
        if (keep[i]) out.push_back(line[i]);
    return out;
}

std::vector<Point> smoothed(std::span<const Point> line, int rounds) {
    std::vector<Point> in(line.begin(), line.end());
    for (int round = 0; round < rounds && in.size() >= 3; ++round) {
        const bool closed = in.front() == in.back();
        std::vector<Point> out;
        out.reserve(in.size() * 2);
        if (!closed) out.push_back(in.front());
        for (std::size_t i = 1; i < in.size(); ++i) {
            out.push_back(in[i - 1] * 0.75 + in[i] * 0.25);
            out.push_back(in[i - 1] * 0.25 + in[i] * 0.75);
        }
        if (closed)
            out.push_back(out.front());
        else
            out.push_back(in.back());
        in = std::move(out);
    }
    return in;
}

}  // namespace ledge
