#include "core/base/parallel.h"
#include "core/feature/feature_table.h"

namespace ledge {

void FeatureTable::join(Layout& layout, Places& places, const Layout& from, const Places& of,
                        std::size_t begin, std::size_t end) {
    const auto append = [](auto& to, const auto& all, std::size_t first, std::size_t last) {
        to.insert(to.end(), all.begin() + static_cast<std::ptrdiff_t>(first),
                  all.begin() + static_cast<std::ptrdiff_t>(last));
    };
    const auto appendBegins = [&](std::vector<std::uint32_t>& to,
                                  const std::vector<std::uint32_t>& begins) {
        const std::uint32_t base = to.back() - begins[begin];
        for (std::size_t i = begin; i < end; ++i) to.push_back(base + begins[i + 1]);
    };
    const std::size_t first = from.points[begin], last = from.points[end];
    const std::size_t before = places.points.size();
    append(layout.keys, from.keys, begin, end);
    append(layout.kinds, from.kinds, begin, end);
    append(places.points, of.points, first, last);
    append(places.boxes, of.boxes, begin, end);
    const auto grow = [&](std::vector<double>& to, const std::vector<double>& all) {
        if (to.empty() && all.empty()) return;
        to.resize(before, std::nan(""));
        if (!all.empty()) append(to, all, first, last);
        to.resize(places.points.size(), std::nan(""));
    };
    grow(layout.z, from.z);
    grow(layout.m, from.m);
    append(layout.parts, from.parts, from.firstParts[begin], from.firstParts[end]);
    append(layout.polygons, from.polygons, from.firstPolygons[begin], from.firstPolygons[end]);
    appendBegins(layout.points, from.points);
    appendBegins(layout.firstParts, from.firstParts);
    appendBegins(layout.firstPolygons, from.firstPolygons);
}

FeatureTable FeatureTableBuilder::finish(std::vector<FeatureTableBuilder> parts) {
    using Run = FeatureTable::Run;
    struct Slice {
        const Run* run;
        std::size_t begin, end;
        bool isWhole() const { return begin == 0 && end == run->layout->keys.size(); }
    };
    if (parts.empty()) return {};
    FeatureTableBuilder all(parts.front().m_table.info);
    std::vector<Field>& fields = all.m_table.info.fields;
    // What each run of the whole is made of.
    std::vector<std::vector<Slice>> made;
    std::size_t room = 0;
    for (FeatureTableBuilder& part : parts) {
        part.endRun();
        all.m_bad += part.m_bad;
        all.m_table.m_size += part.m_table.m_size;
        for (std::size_t k = 0; k < fields.size(); ++k)
            fields[k].type = widerType(fields[k].type, part.m_table.info.fields[k].type);
        for (const Run& run : part.m_table.m_runs) {
            const std::size_t size = run.layout->keys.size();
            for (std::size_t begin = 0; begin < size;) {
                if (room == 0) {
                    made.emplace_back();
                    room = FeatureTable::kRun;
                }
                const std::size_t taken = std::min(room, size - begin);
                made.back().push_back({&run, begin, begin + taken});
                begin += taken, room -= taken;
            }
        }
    }
    all.m_table.m_runs.resize(made.size());
    parallelRanges(made.size(), 1, [&](std::size_t first, std::size_t last) {
        for (std::size_t r = first; r < last; ++r) {
            const std::vector<Slice>& slices = made[r];
            Run& run = all.m_table.m_runs[r];
            if (slices.size() == 1 && slices.front().isWhole()) {
                run = *slices.front().run;
                continue;
            }
            FeatureTableBuilder one(all.m_table.info);
            one.reserveLike(*slices.front().run->layout, *slices.front().run->places);
            for (const Slice& slice : slices) {
                FeatureTable::join(one.m_layout, one.m_places, *slice.run->layout,
                                   *slice.run->places, slice.begin, slice.end);
                for (std::size_t k = 0; k < fields.size(); ++k)
                    one.m_columns[k].append(*slice.run->columns[k], slice.begin, slice.end);
            }
            one.endRun();
            run = std::move(one.m_table.m_runs.front());
        }
    });
    return all.finish();
}

}  // namespace ledge
