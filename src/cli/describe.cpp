#include <iostream>
#include <nlohmann/json.hpp>

#include "cli/arguments.h"
#include "core/base/numbers.h"
#include "core/globe/across.h"
#include "core/raster/counts.h"
#include "session/project_store.h"

namespace ledge::cli {
namespace {
using Json = nlohmann::ordered_json;

Json number(double v) { return std::isfinite(v) ? Json(v) : Json(nullptr); }

Json crsJson(const crs::CrsPtr& crs) {
    if (!crs) return nullptr;
    return {{"code", crs->code != 0 ? Json("EPSG:" + std::to_string(crs->code)) : Json(nullptr)},
            {"name", crs->name},
            {"kind", crs->isGeographic() ? "geographic" : "projected"},
            {"unit", crs->isGeographic() ? "degree" : crs->unit.name}};
}
Json boxJson(const Box& b) {
    if (b.isEmpty()) return nullptr;
    return {b.xMin, b.yMin, b.xMax, b.yMax};
}

std::string unitWords(const std::string& unit) { return unit.empty() ? "" : " " + unit; }
std::string roleName(BandRole role) {
    switch (role) {
    case BandRole::Red: return "red";
    case BandRole::Green: return "green";
    case BandRole::Blue: return "blue";
    case BandRole::Alpha: return "alpha";
    case BandRole::Data: break;
    }
    return "data";
}
std::string bandWords(const BandInfo& band) {
    std::string out;
    if (!band.name.empty()) out += ", \"" + band.name + "\"";
    if (band.role != BandRole::Data) out += ", " + roleName(band.role);
    if (band.scale != 1 || band.offset != 0)
        out += ", stored cells x " + exactNumber(band.scale) + " + " + exactNumber(band.offset);
    if (!band.palette.empty())
        out += ", palette of " + std::to_string(band.palette.size()) + " colours";
    return out;
}
std::string crsWords(const crs::CrsPtr& crs) {
    if (!crs) return "undeclared";
    return crs->name + " (" + (crs->code != 0 ? "EPSG:" + std::to_string(crs->code) + ", " : "") +
           crs->kindAndUnit() + ")";
}
std::string boxWords(const Box& b) {
    if (b.isEmpty()) return "none";
    return exactNumber(b.xMin) + " " + exactNumber(b.yMin) + " to " + exactNumber(b.xMax) + " " +
           exactNumber(b.yMax);
}

Result<void> describeRaster(const RasterSource& raster, bool withNumbers, std::size_t bins,
                            const Context& context) {
    const RasterInfo& info = raster.info();
    Json bands = Json::array();
    std::string words;
    for (std::size_t i = 0; i < info.bands.size(); ++i) {
        const BandInfo& band = info.bands[i];
        RasterStatistics numbers;
        if (withNumbers) {
            const auto computed = statistics(raster, static_cast<int>(i), context.progress);
            if (!computed) return computed.error();
            numbers = *computed;
        }
        Json said{{"type", cellTypeName(band.type)},
                  {"nodata", band.nodata ? number(*band.nodata) : Json(nullptr)},
                  {"min", number(numbers.min)},
                  {"max", number(numbers.max)},
                  {"unit", band.unit}};
        if (withNumbers)
            said.update({{"mean", number(numbers.mean)},
                         {"stddev", number(numbers.deviation)},
                         {"count", numbers.count},
                         {"missing", numbers.missing}});
        if (withNumbers && bins > 0 && numbers.count > 0) {
            const double high = numbers.max > numbers.min ? numbers.max : numbers.min + 1;
            const auto counted =
                histogram(raster, static_cast<int>(i), numbers.min, high, bins, context.progress);
            if (!counted) return counted.error();
            said["histogram"] = {
                {"low", counted->low}, {"high", counted->high}, {"counts", counted->counts}};
        }
        if (!band.name.empty()) said["name"] = band.name;
        if (band.role != BandRole::Data) said["role"] = roleName(band.role);
        if (band.scale != 1 || band.offset != 0)
            said.update({{"scale", band.scale}, {"offset", band.offset}});
        if (!band.palette.empty()) said["palette"] = band.palette.size();
        bands.push_back(std::move(said));
        words += "band " + std::to_string(i + 1) + "   " + cellTypeName(band.type) +
                 unitWords(band.unit) + bandWords(band);
        if (withNumbers)
            words += ", " + exactNumber(numbers.min) + " to " + exactNumber(numbers.max) +
                     ", mean " + roundedNumber(numbers.mean, 8) + ", " +
                     std::to_string(numbers.missing) + " missing";
        words += "\n";
    }
    sayDamage(raster);
    const double dx = info.toWorld.columnLength(), dy = info.toWorld.rowLength();
    if (context.asJson) {
        const Json out{{"kind", "raster"},
                       {"format", info.format},
                       {"width", info.width},
                       {"height", info.height},
                       {"bands", bands},
                       {"crs", crsJson(info.crs)},
                       {"extent", boxJson(info.extent())},
                       {"cell", {dx, dy}},
                       {"overviews", info.overviews},
                       {"notes", info.notes}};
        std::cout << out.dump(2) << '\n';
        return {};
    }
    std::cout << "raster   " << info.format << "\nsize     " << info.width << " x " << info.height
              << " cells of " << exactNumber(dx) << " x " << exactNumber(dy) << "\nCRS      "
              << crsWords(info.crs) << "\nextent   " << boxWords(info.extent()) << '\n'
              << words;
    if (info.overviews > 0) std::cout << "levels   " << info.overviews << " overviews\n";
    for (const std::string& note : info.notes) std::cout << "note     " << note << '\n';
    return {};
}

// Only layers in degrees that seem to go all around are looked through.
std::optional<Box> acrossOf(const FeatureSource& source, std::size_t layer,
                            const Context& context) {
    const LayerInfo& info = source.layers()[layer];
    if (!info.crs || !info.crs->isGeographic() || info.extent.width() <= 180) return {};
    Query query;
    query.columns.emplace();
    const auto table = readAll(source, layer, context.progress, query);
    return table ? globe::acrossAntimeridian(**table) : std::nullopt;
}

Result<void> describeFeatures(const FeatureSource& source, const Context& context) {
    Json layers = Json::array();
    for (std::size_t k = 0; k < source.layers().size(); ++k) {
        const LayerInfo& info = source.layers()[k];
        const auto across = acrossOf(source, k, context);
        Json fields = Json::array();
        for (const Field& f : info.fields)
            fields.push_back({{"name", f.name}, {"type", fieldTypeName(f.type)}});
        const std::string type = geometryTypeName(info.geometry, info.isMulti);
        layers.push_back({{"name", info.name},
                          {"geometry", type},
                          {"count", info.count},
                          {"crs", crsJson(info.crs)},
                          {"extent", boxJson(info.extent)},
                          {"fields", fields},
                          {"notes", info.notes}});
        if (across)
            layers.back()["across_180"] = {{"west", across->xMin}, {"east", across->xMax - 360}};
        if (context.asJson) continue;
        std::cout << "layer    " << info.name << "\n  " << type << ", " << info.count
                  << " features\n  CRS    " << crsWords(info.crs) << "\n  extent "
                  << boxWords(info.extent)
                  << (across ? "\n  across 180°: " + globe::longitudeWords(*across) : "")
                  << "\n  fields ";
        for (std::size_t i = 0; i < info.fields.size(); ++i)
            std::cout << (i > 0 ? ", " : "") << info.fields[i].name << " ("
                      << fieldTypeName(info.fields[i].type) << ")";
        std::cout << '\n';
        for (const std::string& note : info.notes) std::cout << "  note   " << note << '\n';
    }
    if (context.asJson)
        std::cout << Json{{"kind", "vector"}, {"format", source.format()}, {"layers", layers}}.dump(
                         2)
                  << '\n';
    return {};
}

Result<void> describeProject(const std::string& path, const Context& context) {
    const auto document = session::loadProject(path);
    if (!document) return document.error();
    Json views = Json::array(), sheets = Json::array(), layers = Json::array();
    for (const auto& view : document->views) views.push_back({{"name", view.name}});
    for (const doc::Sheet& sheet : document->sheets)
        sheets.push_back({{"name", sheet.name},
                          {"width_mm", sheet.widthMm},
                          {"height_mm", sheet.heightMm},
                          {"pages", 1}});
    for (const auto& layer : doc::allLayers(document->layers)) {
        const auto* source = document->source(layer->source);
        layers.push_back(
            {{"name", layer->name},
             {"kind", doc::layerKind(*layer)},
             {"source", source ? Json(source->path.string()) : Json(nullptr)},
             {"crs", source && source->declaredCrs ? Json(*source->declaredCrs) : Json(nullptr)}});
    }
    const auto mapCrs = crs::parseCrs(document->mapCrs);
    const Json out{{"kind", "project"},
                   {"name", document->name},
                   {"crs", mapCrs ? crsJson(*mapCrs) : Json(nullptr)},
                   {"views", views},
                   {"sheets", sheets},
                   {"layers", layers}};
    if (context.asJson) {
        std::cout << out.dump(2) << '\n';
        return {};
    }
    std::cout << "project  " << document->name << "\nCRS      "
              << crsWords(mapCrs ? *mapCrs : nullptr) << '\n';
    for (const auto& view : document->views) std::cout << "view     " << view.name << '\n';
    for (const doc::Sheet& sheet : document->sheets)
        std::cout << "sheet    " << sheet.name << ", " << exactNumber(sheet.widthMm) << " x "
                  << exactNumber(sheet.heightMm) << " mm\n";
    for (const auto& layer : doc::allLayers(document->layers))
        std::cout << "layer    " << layer->name << " (" << doc::layerKind(*layer) << ")\n";
    return {};
}

Result<void> describe(const std::string& path, bool withNumbers, std::size_t bins,
                      const Context& context) {
    if (lowered(std::filesystem::path(path).extension().string()) == ".ledge")
        return describeProject(path, context);
    const auto source = io::openSource(path, context.progress);
    if (!source) return source.error();
    if (const auto* raster = std::get_if<RasterPtr>(&*source))
        return describeRaster(**raster, withNumbers, bins, context);
    return describeFeatures(*std::get<FeatureSourcePtr>(*source), context);
}
}  // namespace

void addDescribe(CLI::App& app, const AddCommand& add) {
    auto* command = app.add_subcommand("describe", "Tell what is in a file or project");
    auto path = std::make_shared<std::string>();
    auto numbers = std::make_shared<bool>(false);
    command->add_option("SOURCE", *path)->required();
    command->add_flag("--numbers", *numbers, "Read every cell for minimum, maximum and mean");
    auto bins = std::make_shared<std::size_t>(0);
    command
        ->add_option("--histogram", *bins,
                     "With --numbers and --json: counts in so many even bins, from every cell")
        ->check(CLI::Range(1, 65536));
    add(command, [=](const Context& context) {
        return describe(*path, *numbers || *bins > 0, *bins, context);
    });
}

}  // namespace ledge::cli
