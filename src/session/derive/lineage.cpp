#include "session/derive/lineage.h"

#include <chrono>
#include <set>

#include "core/base/numbers.h"
#include "core/raster/expression.h"
#include "core/symbol/ramp_text.h"

namespace ledge::session {
namespace {
namespace fs = std::filesystem;

std::string scaleText(const doc::HeightScale& scale) {
    return scale ? exactNumber(*scale) : std::string("auto");
}

// Small letters, digits and _, not beginning with a digit.
std::string identifier(const std::string& text) {
    std::string out;
    for (const char c : lowered(text)) {
        const bool isFine = (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9');
        if (isFine)
            out += c;
        else if (!out.empty() && out.back() != '_')
            out += '_';
    }
    while (!out.empty() && out.back() == '_') out.pop_back();
    if (out.empty() || (out[0] >= '0' && out[0] <= '9')) out = "r_" + out;
    return out;
}

const doc::SourceRef* sourceOfFile(const doc::Document& document, const fs::path& path,
                                   const std::string& layer) {
    for (const doc::SourceRef& s : document.sources)
        if (!s.path.empty() && s.path == path && s.layer == layer) return &s;
    return nullptr;
}

void gatherReasons(const doc::Document& document, const doc::SourceRef& source,
                   std::set<doc::Id>& visited, std::vector<std::string>& out) {
    if (!source.lineage || !visited.insert(source.id).second) return;
    for (const doc::LineageInput& input : source.lineage->inputs) {
        const std::string name = input.path.filename().string();
        const doc::FileStamp now = stampOf(input.path);
        if (now.bytes < 0)
            out.push_back(name + " is no longer there");
        else if (!source.isLive() && now != input.stamp)
            out.push_back(name + " has changed since");
        const doc::SourceRef* known = sourceOfFile(document, input.path, input.layer);
        if (!known) continue;
        if (known->declaredCrs != input.declaredCrs || known->shiftGrid != input.shiftGrid)
            out.push_back("the CRS of " + name + " was declared anew");
        if (source.lineage->parameters.contains("height-scale") &&
            known->heightUnit != input.heightUnit)
            out.push_back("the height unit of " + name + " was changed");
        gatherReasons(document, *known, visited, out);
    }
}
}  // namespace

doc::FileStamp stampOf(const fs::path& path) {
    std::error_code code;
    doc::FileStamp out;
    const auto bytes = fs::file_size(path, code);
    if (code) return out;
    const auto modified = fs::last_write_time(path, code);
    if (code) return out;
    out.bytes = static_cast<std::int64_t>(bytes);
    const auto system = std::chrono::file_clock::to_sys(modified);
    out.modifiedMs =
        std::chrono::duration_cast<std::chrono::milliseconds>(system.time_since_epoch()).count();
    return out;
}

doc::LineageInput inputFrom(const doc::SourceRef& source, std::string name, int band) {
    return {source,           std::move(name),   band, source.declaredCrs,
            source.shiftGrid, source.heightUnit, {}};
}

namespace {
// What each kind that is made from heights is called as an operation, and its settings; other kinds
// are written from nothing but themselves.
struct LineageSettings {
    bool isFilled;
    std::map<std::string, std::string>& given;

    std::string operator()(const doc::Hillshade& shade) const {
        for (const terrain::Light& light : shade.style.lights)
            given["lights"] += (given["lights"].empty() ? "" : ",") + exactNumber(light.azimuth) +
                               "/" + exactNumber(light.altitude);
        given["shadows"] = shade.style.hasShadows ? "yes" : "no";
        given["gradient"] = terrain::nameOf(shade.style.gradient);
        given["height-scale"] = scaleText(shade.style.heightScale);
        return "hillshade";
    }
    std::string operator()(const doc::Steepness& steep) const {
        given["gradient"] = terrain::nameOf(steep.style.gradient);
        given["height-scale"] = scaleText(steep.style.heightScale);
        return "slope";
    }
    std::string operator()(const doc::HeightTint& tint) const {
        given["stops"] = rampText(tint.style.ramp);
        given["height-scale"] = "auto";
        return "tint";
    }
    std::string operator()(const doc::Contours& contours) const {
        const doc::ContourStyle& style = contours.style;
        given["interval"] = exactNumber(style.levels.interval);
        given["start"] = exactNumber(style.levels.base);
        for (const double level : style.levels.listed)
            given["levels"] += (given["levels"].empty() ? "" : ",") + exactNumber(level);
        given["index-every"] = std::to_string(isFilled ? 0 : style.indexEvery);
        given["smooth"] = std::to_string(style.smoothing);
        given["filled"] = isFilled ? "yes" : "no";
        given["height-scale"] = "auto";
        return "contours";
    }
    std::string operator()(const doc::Group&) const { return {}; }
    std::string operator()(const doc::VectorLayer&) const { return {}; }
    std::string operator()(const doc::RasterLayer&) const { return {}; }
    std::string operator()(const doc::GridLines&) const { return {}; }
    std::string operator()(const doc::UnknownLayer&) const { return {}; }
};
}  // namespace

std::optional<doc::Lineage> lineageOf(const doc::Layer& layer, const doc::SourceRef& source,
                                      bool isFilled) {
    doc::Lineage out;
    out.operation = std::visit(LineageSettings{isFilled, out.parameters}, layer.content);
    if (out.operation.empty()) return std::nullopt;
    out.inputs = {inputFrom(source)};
    return out;
}

std::string bandName(std::size_t band) { return "band" + std::to_string(band + 1); }

std::vector<doc::LineageInput>
namedBands(const doc::Document& document, doc::Id first,
           const std::function<std::size_t(const doc::SourceRef&)>& bandsOf) {
    std::vector<doc::LineageInput> out;
    std::set<std::string> taken;
    const auto add = [&](const doc::SourceRef& source, bool isFirst) {
        if (source.path.empty()) return;
        const std::string base = identifier(source.name);
        const std::size_t count = bandsOf(source);
        for (std::size_t band = 0; band < count; ++band) {
            std::string name = isFirst     ? bandName(band)
                               : band == 0 ? base
                                           : base + "_" + bandName(band);
            while (!taken.insert(name).second) name += "_";
            out.push_back(inputFrom(source, name, static_cast<int>(band)));
        }
    };
    if (const doc::SourceRef* source = document.source(first)) add(*source, true);
    for (const doc::SourceRef& source : document.sources)
        if (source.id != first) add(source, false);
    return out;
}

Result<doc::Lineage> calculation(const std::string& formula,
                                 const std::vector<doc::LineageInput>& bands) {
    std::vector<std::string> names;
    for (const doc::LineageInput& band : bands) names.push_back(band.name);
    const auto parsed = Expression::parse(formula, names);
    if (!parsed) return parsed.error();
    doc::Lineage out;
    out.operation = "calculate";
    out.parameters["expression"] = formula;
    for (std::size_t i = 0; i < bands.size(); ++i)
        if (parsed->used()[i]) out.inputs.push_back(bands[i]);
    if (out.inputs.empty())
        return Error{ErrorCode::InvalidArgument, "formula", "names no band",
                     "use at least one of the names listed"};
    return out;
}

std::vector<std::string> staleReasons(const doc::Document& document, const doc::SourceRef& source) {
    std::vector<std::string> out;
    std::set<doc::Id> visited;
    gatherReasons(document, source, visited, out);
    return out;
}

doc::Lineage brought(doc::Lineage lineage, const doc::Document& document) {
    for (doc::LineageInput& input : lineage.inputs) {
        const doc::SourceRef* known = sourceOfFile(document, input.path, input.layer);
        if (!known) continue;
        input.declaredCrs = known->declaredCrs;
        input.shiftGrid = known->shiftGrid;
        input.heightUnit = known->heightUnit;
    }
    return lineage;
}

doc::Lineage stamped(doc::Lineage lineage) {
    for (doc::LineageInput& input : lineage.inputs) input.stamp = stampOf(input.path);
    return lineage;
}

std::pair<doc::Document, doc::Id> withDerived(doc::Document document, const fs::path& path,
                                              const doc::Lineage& lineage) {
    doc::Id found = 0;
    for (doc::SourceRef& source : document.sources)
        if (source.path == path) {
            source.lineage = lineage;
            if (found == 0) found = source.id;
        }
    return {std::move(document), found};
}

}  // namespace ledge::session
