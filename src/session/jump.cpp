#include "session/jump.h"

#include <sstream>

#include "core/base/numbers.h"
#include "core/crs/catalogue.h"
#include "core/geometry/measure.h"
#include "core/query/row_values.h"
#include "session/typed_position.h"

namespace ledge::session {
namespace {
bool matches(const std::string& name, const std::string& typed) {
    return lowered(name).find(typed) != std::string::npos;
}

void addPlaces(const doc::Document& document, const SourceCache& sources, const crs::CrsPtr& mapCrs,
               const std::string& typed, std::size_t limit, std::vector<JumpTarget>& out) {
    for (const auto& layer : doc::allLayers(document.layers)) {
        const auto* vector = layer->as<doc::VectorLayer>();
        const auto* source = document.source(layer->source);
        if (!vector || !source || vector->naming().empty()) continue;
        const auto features = sources.features(*source, mapCrs);
        if (!features) continue;
        const FeatureTable& table = *(*features)->table;
        auto names = query::RowValues::of(vector->naming(), table);
        if (!names) continue;
        for (const FeatureView feature : table) {
            if (out.size() >= limit) return;
            const Value value = names->value(feature.index);
            if (isMissing(value) || feature.geometry.isEmpty()) continue;
            const std::string name = displayText(value);
            if (matches(name, typed))
                out.push_back({JumpTarget::Kind::Place, name, layer->name,
                               anchorOf(feature.geometry), 0, ""});
        }
    }
}
}  // namespace

std::optional<double> parseScale(const std::string& typed) {
    std::string text = typed;
    if (const auto colon = text.find(':'); colon != std::string::npos)
        text = text.substr(colon + 1);
    for (const char* space : {"\u2009", "\u00A0", " "})
        for (auto at = text.find(space); at != std::string::npos; at = text.find(space))
            text.erase(at, std::string_view(space).size());
    double factor = 1;
    if (!text.empty() && (text.back() == 'k' || text.back() == 'K')) factor = 1000, text.pop_back();
    const auto number = parseNumber(text);
    if (!number || !(*number > 0) || *number * factor > 1e9) return {};
    return *number * factor;
}

std::vector<JumpTarget> jumpTargets(const doc::Document& document, const SourceCache& sources,
                                    const crs::CrsPtr& mapCrs, const std::string& text,
                                    std::size_t limit) {
    std::vector<JumpTarget> out;
    const std::string typed = lowered(trimmed(text));
    if (typed.empty()) return out;
    using Kind = JumpTarget::Kind;
    std::vector<JumpTarget> crsFound;  // after what the project itself holds
    if (const auto at = typedPosition(trimmed(text), mapCrs))
        out.push_back({Kind::Coordinate, trimmed(text), "coordinate", *at, 0, ""});
    const auto addCrs = [](std::vector<JumpTarget>& to, const std::string& name, int code) {
        to.push_back(
            {Kind::Crs, name, "use as the map's CRS", {}, 0, "EPSG:" + std::to_string(code)});
    };
    if (typed.starts_with("epsg:")) {
        if (const auto crs = crs::parseCrs(typed); crs && *crs)
            addCrs(out, (*crs)->name, (*crs)->code);
    } else if (typed.size() >= 3) {
        for (const auto* entry : crs::Catalogue::shipped().find(typed, 4))
            addCrs(crsFound, std::string(entry->name), entry->code);
    }
    for (const auto& view : document.views)
        if (matches(view.name, typed))
            out.push_back({Kind::View, view.name, "view", {}, view.id, ""});
    for (const doc::Sheet& sheet : document.sheets)
        if (matches(sheet.name, typed))
            out.push_back({Kind::Sheet, sheet.name, "sheet", {}, sheet.id, ""});
    for (const auto& layer : doc::allLayers(document.layers))
        if (matches(layer->name, typed))
            out.push_back({Kind::Layer, layer->name, doc::layerKind(*layer), {}, layer->id, ""});
    if (typed.size() >= 2) addPlaces(document, sources, mapCrs, typed, limit, out);
    out.insert(out.end(), crsFound.begin(), crsFound.end());
    if (out.size() > limit) out.resize(limit);
    return out;
}

}  // namespace ledge::session
