#include "core/globe/reproject.h"

#include "core/globe/mapping.h"

namespace ledge::globe {

std::string Reprojected::remark(std::size_t all, bool isStrict) const {
    std::string out;
    const auto add = [&](const std::string& text) { out += (out.empty() ? "" : "; ") + text; };
    const auto be = [](std::size_t n, const char* one, const char* many) {
        return std::to_string(n) + (n == 1 ? one : many);
    };
    const std::string where = table.info.crs ? table.info.crs->name : std::string("the map");
    if (outside > 0)
        add(std::to_string(outside) + " of " + std::to_string(all) + " features " +
            (outside == 1 ? "lies" : "lie") + " outside " + where +
            (isStrict       ? ""
             : outside == 1 ? " and is left out"
                            : " and are left out"));
    if (isStrict) return out;
    if (cut > 0) add(be(cut, " feature is", " features are") + " cut at the edge of " + where);
    if (clamped > 0)
        add(be(clamped, " feature has", " features have") +
            " latitudes beyond a pole, taken for the pole");
    return out;
}

Result<void> checkOutside(const Reprojected& sum, std::size_t placed, std::size_t all,
                          bool isStrict) {
    const bool isAll = sum.outside > 0 && sum.outside == placed;
    if (!isAll && !(isStrict && sum.outside > 0)) return {};
    const LayerInfo& info = sum.table.info;
    return Error{ErrorCode::InvalidArgument, info.name,
                 isStrict ? sum.remark(all, true)
                          : "none of its features lies inside the domain of " + info.crs->name,
                 "check the CRS declared for the layer, or choose another target" +
                     std::string(isStrict ? ", or leave out --strict" : "")};
}

Result<Mapping> mappingFor(const crs::CrsPtr& from, const crs::CrsPtr& to, const Reprojecting& how,
                           const Whole& whole) {
    return Mapping::between(from, to, how.tolerance / (to ? to->metresPerUnit() : 1), whole);
}

Result<Reprojected> reprojectedPart(const FeatureTable& part, const Mapping& mapping,
                                    const Reprojecting& how, const Progress& progress) {
    auto made = mapping.map(part, how.always, progress);
    if (!made) return made.error();
    Reprojected out;
    out.outside = made->outside;
    out.cut = made->cut;
    out.clamped = made->clamped;
    out.table = std::move(made->table);
    if (out.outside == 0) return out;
    const FeatureTable& now = out.table;
    out.table = now.filtered([&](const FeatureView& f) {
        return part.box(f.index).isEmpty() || !now.box(f.index).isEmpty();
    });
    return out;
}

Result<Reprojected> reprojected(const FeatureTable& table, const crs::CrsPtr& to,
                                const Reprojecting& how, const Progress& progress) {
    const auto mapping = mappingFor(table.info.crs, to, how, wholeOf(table));
    if (!mapping) return mapping.error();
    auto out = reprojectedPart(table, *mapping, how, progress);
    if (!out || out->outside == 0) return out;
    std::size_t placed = 0;
    for (std::size_t i = 0; i < table.size(); ++i) placed += !table.box(i).isEmpty();
    if (const auto fine = checkOutside(*out, placed, table.size(), how.isStrict); !fine)
        return fine.error();
    return out;
}

}  // namespace ledge::globe
