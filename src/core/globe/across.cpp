#include "core/globe/across.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "core/globe/grid_lines.h"

namespace ledge::globe {

std::optional<Box> acrossAntimeridian(const FeatureTable& table) {
    // What takes more than half of the earth is told from -180 to 180 as well.
    constexpr double kLeastGap = 180;
    if (!table.info.crs || !table.info.crs->isGeographic() || table.info.extent.width() <= 180)
        return {};
    std::vector<std::pair<double, double>> spans;  // from the west, within a turn
    for (std::size_t i = 0; i < table.size(); ++i) {
        const GeometryView g = table.geometry(i);
        for (std::size_t k = 0; k < g.partCount(); ++k) {
            // Sides that jump go over the antimeridian.
            double x = 0, west = 0, east = 0;
            const auto part = g.part(k);
            for (std::size_t n = 1; n < part.size(); ++n) {
                const double d = part[n].x - part[n - 1].x;
                x += std::abs(d) == 360 ? d : std::remainder(d, 360.0);
                west = std::min(west, x), east = std::max(east, x);
            }
            double from = std::fmod(part[0].x + west, 360.0);
            if (from < 0) from += 360;
            spans.emplace_back(from, from + (east - west));
        }
    }
    if (spans.empty()) return {};
    std::sort(spans.begin(), spans.end());
    // The widest gap between them is where they are looked at from outside.
    double reach = spans.front().second, gap = 0, begin = 0;
    for (const auto& [from, to] : spans) {
        if (from - reach > gap) gap = from - reach, begin = from;
        reach = std::max(reach, to);
    }
    if (const double last = spans.front().first + 360 - reach; last > gap)
        gap = last, begin = spans.front().first;
    if (gap < kLeastGap) return {};
    double west = std::remainder(begin, 360.0);
    if (west == 180) west = -180;
    const Box out{west, table.info.extent.yMin, west + 360 - gap, table.info.extent.yMax};
    if (out.xMax <= 180) return {};
    return out;
}

std::string longitudeWords(const Box& degrees) {
    return graticuleLabel(degrees.xMin, false) + " to " + graticuleLabel(degrees.xMax, false);
}

}  // namespace ledge::globe
