#include <cmath>

#include "core/base/constants.h"
#include "core/label/measured_line.h"
#include "core/label/placement.h"

namespace ledge::label {
namespace {
constexpr double kMostBend = 0.22;  // radians between the chord and the line beneath the text
}

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
