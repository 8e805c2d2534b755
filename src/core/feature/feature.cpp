#include "core/feature/feature.h"

#include <algorithm>

namespace ledge {

Result<std::vector<std::size_t>> fieldsOf(const LayerInfo& layer, const Query& query) {
    std::vector<std::size_t> out;
    std::string known;
    for (std::size_t i = 0; i < layer.fields.size(); ++i) {
        const std::string& name = layer.fields[i].name;
        known += (i > 0 ? ", " : "") + name;
        if (!query.columns ||
            std::find(query.columns->begin(), query.columns->end(), name) != query.columns->end())
            out.push_back(i);
    }
    if (query.columns)
        for (const std::string& wanted : *query.columns)
            if (std::none_of(layer.fields.begin(), layer.fields.end(),
                             [&](const Field& f) { return f.name == wanted; }))
                return Error{ErrorCode::NotFound, layer.name,
                             "there is no column \"" + wanted + "\"", "it has: " + known};
    return out;
}

Result<TablePtr> readAll(const FeatureSource& source, std::size_t layer, const Progress& progress,
                         const Query& query) {
    const bool isWhole = query.extent.isEmpty() && !query.columns && query.limit == 0 &&
                         !query.filter && query.keep.empty();
    if (TablePtr whole = isWhole ? source.held(layer) : nullptr) return whole;
    LayerInfo info = source.layers()[layer];
    const auto fields = fieldsOf(info, query);
    if (!fields) return fields.error();
    std::vector<Field> kept;
    for (const std::size_t i : *fields) kept.push_back(info.fields[i]);
    info.fields = std::move(kept);
    FeatureTableBuilder builder(std::move(info));
    const auto done = source.scan(
        layer, query,
        [&](const Feature& feature) {
            builder.add(feature);
            return true;
        },
        progress);
    if (!done) return done.error();
    return TablePtr(std::make_shared<const FeatureTable>(builder.finish()));
}

}  // namespace ledge
