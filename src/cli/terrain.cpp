#include <iostream>

#include "cli/arguments.h"
#include "core/base/constants.h"
#include "core/base/numbers.h"
#include "core/symbol/ramp_text.h"
#include "core/terrain/profile.h"
#include "io/files/atomic_file.h"
#include "session/source_cache.h"
#include "session/terrain_files.h"

namespace ledge::cli {
namespace {
struct Options {
    std::string dem, dest, heightScale = "auto", heightUnit = "auto", lights, levels;
    std::string compression = "none";
    std::string unit = "degrees", gradient = "horn", column = "level";
    std::string family = "humid", limits, stops;
    double azimuth = 315, altitude = 45, interval = 0, start = 0;
    int smoothing = 0, indexEvery = 0;
    bool hasShadows = false;
    bool mayReplace = false, isFilled = false, withOverviews = false;
};

Result<session::HeightReading> readingOf(const Options& o, const RasterInfo& dem) {
    session::HeightReading out;
    const std::string unit = o.heightUnit == "auto" ? dem.bands.front().unit : o.heightUnit;
    out.metresPerHeight = unit == "foot" ? kMetresPerFoot : 1;
    if (o.heightScale == "auto") return out;
    const auto number = parseNumber(o.heightScale);
    if (!number || !(*number > 0) || !std::isfinite(*number))
        return Error{ErrorCode::InvalidArgument, "--height-scale", "not auto or a positive number",
                     ""};
    out.heightScale = *number;
    return out;
}

Result<std::vector<terrain::Light>> lightsOf(const Options& o) {
    if (o.lights.empty()) return std::vector<terrain::Light>{{o.azimuth, o.altitude}};
    std::vector<terrain::Light> out;
    std::string rest = o.lights + ",";
    for (auto comma = rest.find(','); comma != std::string::npos; comma = rest.find(',')) {
        const auto pair = numberList(rest.substr(0, comma), '/');
        if (!pair) return pair.error();
        if (pair->size() != 2)
            return Error{ErrorCode::InvalidArgument, "--lights", "each light is azimuth/altitude",
                         "for example 315/45,270/30"};
        out.push_back({(*pair)[0], (*pair)[1]});
        rest.erase(0, comma + 1);
    }
    return out;
}

struct Ready {
    RasterPtr dem;
    session::HeightReading heights;
};
Result<Ready> prepared(const Options& o) {
    if (const auto fine = checkOutput(o.dest, o.mayReplace); !fine) return fine.error();
    auto dem = openRaster(o.dem);
    if (!dem) return dem.error();
    const auto heights = readingOf(o, (*dem)->info());
    if (!heights) return heights.error();
    return Ready{*dem, *heights};
}

session::DerivedFile fileOf(const Options& o) {
    return {o.dest, {compressionOf(o.compression), o.withOverviews}};
}

// Work on a DEM that is done or failed: either way what could not be read is told.
Result<void> told(const RasterSource& dem, Result<void> done) {
    sayDamage(dem);
    return done;
}

terrain::Surface surfaceOf(const Ready& ready, const Options& o) {
    return {ready.dem, ready.heights.factor(), *terrain::gradientMethodOf(o.gradient)};
}

Result<void> hillshade(const Options& o, const Context& context) {
    const auto ready = prepared(o);
    if (!ready) return ready.error();
    const auto lights = lightsOf(o);
    if (!lights) return lights.error();
    return told(*ready->dem, session::writeHillshade(surfaceOf(*ready, o), *lights, o.hasShadows,
                                                     fileOf(o), context.progress));
}

Result<void> slope(const Options& o, const Context& context) {
    const auto ready = prepared(o);
    if (!ready) return ready.error();
    const auto unit =
        o.unit == "percent" ? terrain::SlopeUnit::Percent : terrain::SlopeUnit::Degrees;
    return told(*ready->dem,
                session::writeSlope(surfaceOf(*ready, o), unit, fileOf(o), context.progress));
}

Result<void> aspect(const Options& o, const Context& context) {
    const auto ready = prepared(o);
    if (!ready) return ready.error();
    return told(*ready->dem,
                session::writeAspect(surfaceOf(*ready, o), fileOf(o), context.progress));
}

Result<void> tint(const Options& o, const Context& context) {
    const auto ready = prepared(o);
    if (!ready) return ready.error();
    if (!o.stops.empty()) {
        const auto ramp = rampFromText(o.stops);
        if (!ramp) return ramp.error();
        return told(*ready->dem, session::writeHeightTint(surfaceOf(*ready, o), *ramp, fileOf(o),
                                                          context.progress));
    }
    std::vector<double> limits;
    if (!o.limits.empty()) {
        const auto given = numberList(o.limits, ',');
        if (!given) return given.error();
        if (given->size() != 2 || !((*given)[0] < (*given)[1]))
            return Error{ErrorCode::InvalidArgument, "--limits", "not a range",
                         "give lowest,highest in metres"};
        limits = *given;
    } else {
        const auto numbers = statistics(*ready->dem, 0, context.progress.part(0, 0.3));
        if (!numbers) return numbers.error();
        if (numbers->count == 0)
            return Error{ErrorCode::InvalidArgument, o.dem, "holds no heights", ""};
        limits = {numbers->min * ready->heights.factor(), numbers->max * ready->heights.factor()};
    }
    return told(*ready->dem, session::writeHeightTint(surfaceOf(*ready, o),
                                                      heightTint(o.family, limits[0], limits[1]),
                                                      fileOf(o), context.progress.part(0.3, 1)));
}

Result<void> steepness(const Options& o, const Context& context) {
    const auto ready = prepared(o);
    if (!ready) return ready.error();
    return told(*ready->dem, session::writeSteepnessTint(surfaceOf(*ready, o), steepnessTint(),
                                                         fileOf(o), context.progress));
}

Result<void> contours(const Options& o, const Context& context) {
    const auto ready = prepared(o);
    if (!ready) return ready.error();
    terrain::ContourLevels levels{o.interval, o.start, {}};
    if (!o.levels.empty()) {
        const auto listed = numberList(o.levels, ',');
        if (!listed) return listed.error();
        levels.listed = *listed;
    } else if (!(o.interval > 0)) {
        return Error{ErrorCode::InvalidArgument, "terrain contours", "no levels asked for",
                     "give --interval I or --levels a,b,c"};
    }
    const Progress part = context.progress.part(0, 0.8);
    auto table =
        o.isFilled
            ? session::filledContourTable(*ready->dem, ready->heights, levels, o.smoothing, part)
            : session::contourTable(*ready->dem, ready->heights, {o.column, o.indexEvery}, levels,
                                    o.smoothing, part);
    sayDamage(*ready->dem);
    if (!table) return table.error();
    return io::writeTable(*table, o.dest, context.progress.part(0.8, 1));
}
}  // namespace

namespace {
struct ProfileOptions {
    std::string dem, from, to, along, layer, crs, out;
    double step = 0;
    bool mayReplace = false;
};

Result<Point> pointOf(const std::string& name, const std::string& text) {
    const auto numbers = numberList(text, ',');
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
    auto source = io::openSource(o.along);
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
    const auto command = [&](const char* name, const char* what, auto run) {
        auto* c = terrain->add_subcommand(name, what);
        auto o = std::make_shared<Options>();
        c->add_option("DEM", o->dem)->required();
        c->add_option("DEST", o->dest)->required();
        c->add_option("--height-scale", o->heightScale,
                      "auto, or a number heights are multiplied by");
        c->add_option("--height-unit", o->heightUnit, "auto takes what the DEM says, else metres")
            ->check(CLI::IsMember({"auto", "metre", "foot"}));
        c->add_flag("--replace", o->mayReplace, "Overwrite DEST");
        add(c, [o, run](const Context& context) { return run(*o, context); });
        return std::pair{c, o};
    };
    auto [shade, s] = command("hillshade", "8-bit shaded relief", hillshade);
    shade->add_option("--azimuth", s->azimuth, "Degrees clockwise from north");
    shade->add_option("--altitude", s->altitude, "Degrees above the horizon")
        ->check(CLI::Range(0, 90));
    shade->add_option("--lights", s->lights, "Several lights blended: az/alt,az/alt");
    shade->add_flag("--shadows", s->hasShadows, "Shadows cast over the terrain");
    const auto addGradient = [](CLI::App& to, Options& options) {
        addCompression(to, options.compression);
        to.add_flag("--overviews", options.withOverviews, "Reduced copies inside");
        to.add_option("--gradient", options.gradient,
                      "How a cell's gradient comes from the eight around it")
            ->check(CLI::IsMember({"horn", "zevenbergen-thorne"}));
    };
    addGradient(*shade, *s);
    auto [steep, p] = command("slope", "Slope as 32-bit floats", slope);
    steep->add_option("--unit", p->unit)->check(CLI::IsMember({"degrees", "percent"}));
    addGradient(*steep, *p);
    auto [facing, f] = command("aspect", "Direction downhill as 32-bit floats", aspect);
    addGradient(*facing, *f);
    auto [tints, t] = command("tint", "Heights as colours: red, green, blue, alpha", tint);
    std::vector<std::string> families;
    for (const TintFamily& family : tintFamilies()) families.push_back(family.id);
    tints->add_option("--family", t->family)->check(CLI::IsMember(families));
    tints->add_option("--limits", t->limits, "lowest,highest in metres; without it the DEM's");
    tints->add_option("--stops", t->stops, "A ramp of your own: height:colour,height:colour");
    addCompression(*tints, t->compression);
    tints->add_flag("--overviews", t->withOverviews, "Reduced copies inside");
    auto [tilted, k] =
        command("steepness", "Steep ground darkened: red, green, blue, alpha", steepness);
    addGradient(*tilted, *k);
    auto [lines, l] = command("contours", "Contour lines with their level", contours);
    lines->add_option("--interval", l->interval)->check(CLI::PositiveNumber);
    lines->add_option("--start", l->start, "A level the interval counts from");
    lines->add_option("--levels", l->levels, "Just these, separated by commas");
    lines->add_flag("--filled", l->isFilled,
                    "Areas between the levels, with level_low and level_high");
    lines
        ->add_option("--smooth", l->smoothing,
                     "Draw on a smoothed surface, in 1 to 8 steps to a cell; lines never cross")
        ->check(CLI::Range(1, 8));
    lines
        ->add_option("--index-every", l->indexEvery, "Add a column that marks every so many levels")
        ->check(CLI::PositiveNumber);
    lines->add_option("--column", l->column, "Name of the attribute that holds the level");
}

}  // namespace ledge::cli
