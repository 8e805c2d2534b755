#include "core/base/array_file.h"
#include "core/feature/feature_table.h"

namespace ledge {

void FeatureTable::saveShapes(ArrayWriter& out) const {
    out.put(static_cast<std::uint64_t>(m_runs.size()));
    for (const Run& r : m_runs) {
        const Layout& l = *r.layout;
        out.put(l.keys);
        out.put(l.kinds);
        for (const auto* places :
             {&l.points, &l.firstParts, &l.firstPolygons, &l.parts, &l.polygons})
            out.put(*places);
        out.put(l.z);
        out.put(l.m);
        out.put(r.places->points);
        out.put(r.places->boxes);
    }
}

std::optional<FeatureTable> FeatureTable::withSavedShapes(ArrayReader& in) const {
    std::uint64_t runs = 0;
    if (!in.take(runs) || runs != m_runs.size()) return {};
    FeatureTable out = *this;
    for (Run& r : out.m_runs) {
        Layout layout;
        Places places;
        in.take(layout.keys);
        in.take(layout.kinds);
        for (auto* one : {&layout.points, &layout.firstParts, &layout.firstPolygons, &layout.parts,
                          &layout.polygons})
            in.take(*one);
        in.take(layout.z);
        in.take(layout.m);
        in.take(places.points);
        in.take(places.boxes);
        if (!in.isGood() || layout.keys != r.layout->keys) return {};
        if (!isAlike(layout, *r.layout))
            r.layout = std::make_shared<const Layout>(std::move(layout));
        r.places = std::make_shared<const Places>(std::move(places));
    }
    return out;
}

}  // namespace ledge
