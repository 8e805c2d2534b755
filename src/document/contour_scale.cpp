#include "document/contour_scale.h"

#include <cmath>

#include "document/edits/light_edits.h"

namespace ledge::doc {
namespace {
constexpr double kApart = 0.0004;  // metres of height per unit of the scale

// Multiples that keep an interval round: 25 becomes 50 and 100, 10 becomes 20 and 50.
std::vector<int> multiples(double interval) {
    const double mantissa = interval / std::pow(10, std::floor(std::log10(interval) + 1e-9));
    const auto is = [mantissa](double v) { return std::abs(mantissa - v) < 1e-6; };
    if (is(2)) return {5, 10};
    if (is(2.5) || is(5)) return {2, 4, 10};
    return {2, 5, 10};
}
}  // namespace

ContourStyle contoursAt(const ContourStyle& style, double scale) {
    ContourStyle out = style;
    const double least = scale * kApart;
    double interval = style.levels.interval;
    if (!style.thins || !style.levels.listed.empty() || !(interval > 0) || !std::isfinite(least))
        return out;
    for (double decade = style.levels.interval; interval < least; decade *= 10)
        for (const int times : multiples(style.levels.interval)) {
            interval = decade * times;
            if (interval >= least) break;
        }
    out.levels.interval = interval;
    const double index = style.levels.interval * style.indexEvery / interval;
    if (index >= 2 - 1e-9 && std::abs(index - std::round(index)) < 1e-6)
        out.indexEvery = static_cast<int>(std::lround(index));
    return out;
}

std::vector<LayerPtr> layersAt(const std::vector<LayerPtr>& layers, double scale) {
    std::vector<LayerPtr> out;
    for (const LayerPtr& one : layers) {
        out.push_back(one);
        auto changed = std::make_shared<Layer>(*one);
        if (auto* group = changed->as<Group>()) {
            group->children = layersAt(group->children, scale);
        } else if (auto* contours = changed->as<Contours>()) {
            const double full = contours->style.levels.interval;
            contours->style = contoursAt(contours->style, scale);
            if (changed->name == contourName(full))
                changed->name = contourName(contours->style.levels.interval);
        } else {
            continue;
        }
        out.back() = std::move(changed);
    }
    return out;
}

}  // namespace ledge::doc
