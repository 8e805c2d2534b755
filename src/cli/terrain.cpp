#include <iostream>

#include "cli/derive.h"
#include "core/base/number_list.h"
#include "core/base/numbers.h"
#include "core/terrain/profile.h"
#include "io/files/atomic_file.h"
#include "session/source_cache.h"

namespace ledge::cli {
namespace {
struct TerrainOptions : Deriving {
    std::string dem, heightUnit = "auto";
    double azimuth = 315, altitude = 45;
};

Result<void> deriveHeights(const session::Operation& operation, const TerrainOptions& o,
                           const Context& context) {
    auto dem = inputAt(o.dem);
    std::string unit = o.heightUnit;
    if (unit == "auto") {
        const auto raster = openRaster(o.dem);
        if (!raster) return raster.error();
        unit = (*raster)->info().bands.front().unit;
    }
    if (unit == "foot") dem.heightUnit = doc::HeightUnit::Foot;
    return derive(operation, {std::move(dem)}, o, context);
}

struct ProfileOptions {
    std::string dem, from, to, along, layer, crs, out;
    double step = 0;
    bool mayReplace = false;
};

Result<Point> pointOf(const std::string& name, const std::string& text) {
    const auto numbers = parseNumbers(text, ',');
    if (!numbers) return numbers.error();
    if (numbers->size() != 2)
        return Error{ErrorCode::InvalidArgument, name, "\"" + text + "\" is no position",
                     "give x,y"};
    return Point{(*numbers)[0], (*numbers)[1]};
}

struct ProfileLines {
    crs::CrsPtr crs;
    std::vector<std::vector<Point>> lines;
};

Result<ProfileLines> linesAlong(const ProfileOptions& o, const Context& context) {
    auto source = io::openSource(o.along, context.progress);
    if (!source) return source.error();
    const auto* features = std::get_if<FeatureSourcePtr>(&*source);
    if (!features)
        return Error{ErrorCode::InvalidArgument, o.along, "holds a raster, not lines",
                     "give a vector file with lines"};
    const auto layer = session::layerIndex(**features, o.layer);
    if (!layer) return layer.error();
    const auto table = readAll(**features, *layer, context.progress.part(0, 0.2));
    if (!table) return table.error();
    ProfileLines out{(*table)->info.crs, {}};
    for (const FeatureView f : **table) {
        if (f.geometry.type != GeometryType::Line && f.geometry.type != GeometryType::Polygon)
            continue;
        for (std::size_t i = 0; i < f.geometry.partCount(); ++i) {
            const auto part = f.geometry.part(i);
            if (part.size() > 1) out.lines.emplace_back(part.begin(), part.end());
        }
    }
    if (out.lines.empty())
        return Error{ErrorCode::InvalidArgument, o.along, "holds no lines",
                     "give a vector file with lines"};
    return out;
}

Result<ProfileLines> linesOf(const ProfileOptions& o, const RasterInfo& dem,
                             const Context& context) {
    ProfileLines out{dem.crs, {}};
    if (!o.along.empty()) {
        auto along = linesAlong(o, context);
        if (!along) return along;
        out = *std::move(along);
    } else {
        if (o.from.empty() || o.to.empty())
            return Error{ErrorCode::InvalidArgument, "terrain profile", "no line given",
                         "give --from x,y --to x,y, or --along SOURCE"};
        const auto from = pointOf("--from", o.from), to = pointOf("--to", o.to);
        if (!from) return from.error();
        if (!to) return to.error();
        out.lines.push_back({*from, *to});
    }
    if (!o.crs.empty()) {
        const auto crs = crsArgument(o.crs, context);
        if (!crs) return crs.error();
        out.crs = *crs;
    }
    return out;
}

Result<void> profile(const ProfileOptions& o, const Context& context) {
    if (o.out != "-")
        if (const auto fine = checkOutput(o.out, o.mayReplace); !fine) return fine;
    const auto dem = openRaster(o.dem);
    if (!dem) return dem.error();
    const auto lines = linesOf(o, (*dem)->info(), context);
    if (!lines) return lines.error();
    const bool hasSeveral = lines->lines.size() > 1;
    std::string text = hasSeveral ? "line,distance,x,y,height\n" : "distance,x,y,height\n";
    for (std::size_t i = 0; i < lines->lines.size(); ++i) {
        const auto points = terrain::profile(**dem, 0, lines->crs, lines->lines[i], o.step,
                                             context.progress.part(0.2, 1));
        if (!points) return points.error();
        for (const auto& p : *points) {
            if (hasSeveral) text += std::to_string(i + 1) + ",";
            text += exactNumber(p.distance) + "," + exactNumber(p.at.x) + "," +
                    exactNumber(p.at.y) + "," +
                    (std::isnan(p.height) ? "" : exactNumber(p.height)) + "\n";
        }
    }
    if (o.out != "-") return io::writeText(o.out, text);
    std::cout << text;
    return {};
}

void addProfile(CLI::App& terrain, const AddCommand& add) {
    auto* c = terrain.add_subcommand("profile", "Heights along a line, as CSV");
    auto o = std::make_shared<ProfileOptions>();
    c->add_option("DEM", o->dem)->required();
    c->add_option("--from", o->from, "x,y of the start");
    c->add_option("--to", o->to, "x,y of the end");
    c->add_option("--along", o->along, "A vector file whose lines are followed");
    c->add_option("--layer", o->layer, "Layer of a file with several");
    c->add_option("--crs", o->crs, "CRS of the line; without it the DEM's, or the file's");
    c->add_option("--step", o->step, "Metres between samples; without it a cell")
        ->check(CLI::PositiveNumber);
    c->add_option("--out", o->out, "CSV to write; - for standard output")->required();
    c->add_flag("--replace", o->mayReplace, "Overwrite it");
    add(c, [o](const Context& context) { return profile(*o, context); });
}
}  // namespace

void addTerrain(CLI::App& app, const AddCommand& add) {
    auto* terrain = app.add_subcommand("terrain", "Derive from an elevation model");
    terrain->require_subcommand(1);
    addProfile(*terrain, add);
    for (const session::Operation& operation : session::operations()) {
        if (!operation.readsHeights) continue;
        auto* c = terrain->add_subcommand(operation.name, operation.help);
        auto o = std::make_shared<TerrainOptions>();
        c->add_option("DEM", o->dem)->required();
        c->add_option("DEST", o->dest)->required();
        o->compression = "none";
        addDeriving(*c, operation, *o);
        c->add_option("--height-unit", o->heightUnit, "auto takes what the DEM says, else metres")
            ->check(CLI::IsMember({"auto", "metre", "foot"}));
        // The command asks for levels; only the form starts with some.
        if (operation.setting("levels"))
            c->get_option("--interval")->description("Metres from level to level; or --levels");
        if (operation.setting("lights")) {
            c->add_option("--azimuth", o->azimuth, "Of one light: degrees clockwise from north");
            c->add_option("--altitude", o->altitude, "Of one light: degrees above the horizon")
                ->check(CLI::Range(0, 90));
        }
        add(c, [o, &operation](const Context& context) -> Result<void> {
            if (operation.setting("lights"))
                o->settings.try_emplace("lights",
                                        exactNumber(o->azimuth) + "/" + exactNumber(o->altitude));
            if (operation.setting("levels") && !o->settings.contains("levels") &&
                !o->settings.contains("interval"))
                return Error{ErrorCode::InvalidArgument, "terrain contours", "no levels asked for",
                             "give --interval I or --levels a,b,c"};
            return deriveHeights(operation, *o, context);
        });
    }
}

}  // namespace ledge::cli
