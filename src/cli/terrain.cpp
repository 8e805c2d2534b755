#include "cli/arguments.h"
#include "core/base/numbers.h"
#include "session/terrain_files.h"

namespace ledge::cli {
namespace {
struct Options {
    std::string dem, dest, heightScale = "auto", heightUnit = "metre", lights, levels;
    std::string unit = "degrees", gradient = "horn", column = "level";
    double azimuth = 315, altitude = 45, interval = 0, start = 0;
    bool mayReplace = false;
};

Result<session::HeightReading> readingOf(const Options& o) {
    session::HeightReading out;
    out.metresPerHeight = o.heightUnit == "foot" ? 0.3048 : 1;
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
    const auto heights = readingOf(o);
    if (!heights) return heights.error();
    auto dem = openRaster(o.dem);
    if (!dem) return dem.error();
    return Ready{*dem, *heights};
}

Result<void> hillshade(const Options& o, const Context& context) {
    const auto ready = prepared(o);
    if (!ready) return ready.error();
    const auto lights = lightsOf(o);
    if (!lights) return lights.error();
    return session::writeHillshade(*ready->dem, ready->heights, *lights, o.dest, context.progress);
}

Result<void> slope(const Options& o, const Context& context) {
    const auto ready = prepared(o);
    if (!ready) return ready.error();
    return session::writeSlope(*ready->dem, ready->heights,
                               o.unit == "percent" ? terrain::SlopeUnit::Percent
                                                   : terrain::SlopeUnit::Degrees,
                               o.gradient == "horn" ? terrain::GradientMethod::Horn
                                                    : terrain::GradientMethod::ZevenbergenThorne,
                               o.dest, context.progress);
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
    auto table = session::contourTable(*ready->dem, ready->heights, levels, o.column,
                                       context.progress.part(0, 0.8));
    if (!table) return table.error();
    return io::writeTable(*table, o.dest, context.progress.part(0.8, 1));
}
}  // namespace

void addTerrain(CLI::App& app, const AddCommand& add) {
    auto* terrain = app.add_subcommand("terrain", "Derive from an elevation model");
    terrain->require_subcommand(1);
    const auto command = [&](const char* name, const char* what, auto run) {
        auto* c = terrain->add_subcommand(name, what);
        auto o = std::make_shared<Options>();
        c->add_option("DEM", o->dem)->required();
        c->add_option("DEST", o->dest)->required();
        c->add_option("--height-scale", o->heightScale,
                      "auto, or a number heights are multiplied by");
        c->add_option("--height-unit", o->heightUnit)->check(CLI::IsMember({"metre", "foot"}));
        c->add_flag("--replace", o->mayReplace, "Overwrite DEST");
        add(c, [o, run](const Context& context) { return run(*o, context); });
        return std::pair{c, o};
    };
    auto [shade, s] = command("hillshade", "8-bit shaded relief", hillshade);
    shade->add_option("--azimuth", s->azimuth, "Degrees clockwise from north");
    shade->add_option("--altitude", s->altitude, "Degrees above the horizon")
        ->check(CLI::Range(0, 90));
    shade->add_option("--lights", s->lights, "Several lights blended: az/alt,az/alt");
    auto [steep, p] = command("slope", "Slope as 32-bit floats", slope);
    steep->add_option("--unit", p->unit)->check(CLI::IsMember({"degrees", "percent"}));
    steep->add_option("--gradient", p->gradient)
        ->check(CLI::IsMember({"horn", "zevenbergen-thorne"}));
    auto [lines, l] = command("contours", "Contour lines with their level", contours);
    lines->add_option("--interval", l->interval)->check(CLI::PositiveNumber);
    lines->add_option("--start", l->start, "A level the interval counts from");
    lines->add_option("--levels", l->levels, "Just these, separated by commas");
    lines->add_option("--column", l->column, "Name of the attribute that holds the level");
}

}  // namespace ledge::cli
