#include "session/derive/raster_operations.h"

#include <cmath>
#include <sstream>

#include "core/base/numbers.h"
#include "core/crs/datum_choices.h"
#include "core/globe/raster_extent.h"
#include "core/globe/reproject.h"
#include "core/raster/calculated_raster.h"
#include "core/raster/clipped_raster.h"
#include "core/raster/coloured_raster.h"
#include "core/raster/reprojected_raster.h"
#include "core/symbol/ramp_text.h"
#include "session/terrain_files.h"

namespace ledge::session {
namespace {
using Kind = Setting::Kind;

// "auto" or a factor.
Result<HeightReading> heightsOf(const Work& work) {
    const auto input = work.input();
    if (!input) return input.error();
    HeightReading out{doc::metresPer((*input)->heightUnit), {}};
    const std::string scale = work.text("height-scale");
    if (scale.empty() || scale == "auto") return out;
    const auto number = parseNumber(scale);
    if (!number || !(*number > 0) || !std::isfinite(*number))
        return badSetting("height scale", "\"" + scale + "\" is neither auto nor above 0",
                          "write auto or a factor such as 1.5");
    out.heightScale = *number;
    return out;
}

Result<terrain::Surface> surfaceOf(const Work& work) {
    const auto dem = work.raster();
    if (!dem) return dem.error();
    const auto heights = heightsOf(work);
    if (!heights) return heights.error();
    const auto method = terrain::gradientMethodOf(work.text("gradient"));
    return terrain::Surface{*dem, heights->factor(),
                            method.value_or(terrain::GradientMethod::Horn)};
}

Result<std::vector<terrain::Light>> lightsOf(const Work& work) {
    std::vector<terrain::Light> out;
    std::stringstream in(work.text("lights"));
    for (std::string pair; std::getline(in, pair, ',');) {
        const auto slash = pair.find('/');
        const auto azimuth = parseNumber(pair.substr(0, slash));
        const auto altitude =
            slash == std::string::npos ? std::nullopt : parseNumber(pair.substr(slash + 1));
        if (!azimuth || !altitude || !(*altitude >= 0 && *altitude <= 90))
            return badSetting("lights", "\"" + pair + "\" is no light",
                              "write azimuth/altitude, for example 315/45,270/30");
        out.push_back({*azimuth, *altitude});
    }
    if (out.empty()) return badSetting("lights", "there is none", "write azimuth/altitude");
    return out;
}

Result<RasterPtr> hillshade(const Work& work) {
    const auto surface = surfaceOf(work);
    if (!surface) return surface.error();
    const auto lights = lightsOf(work);
    if (!lights) return lights.error();
    if (!work.isOn("shadows")) return terrain::hillshadeRaster(*surface, *lights);
    const auto numbers = statistics(*surface->dem, 0, work.progress.part(0, 0.2));
    if (!numbers) return numbers.error();
    return terrain::hillshadeRaster(*surface, *lights,
                                    (numbers->max - numbers->min) * surface->heightScale);
}

Result<RasterPtr> slope(const Work& work) {
    const auto surface = surfaceOf(work);
    if (!surface) return surface.error();
    return terrain::slopeRaster(*surface, work.text("unit") == "percent"
                                              ? terrain::SlopeUnit::Percent
                                              : terrain::SlopeUnit::Degrees);
}

Result<RasterPtr> aspect(const Work& work) {
    const auto surface = surfaceOf(work);
    if (!surface) return surface.error();
    return terrain::aspectRaster(*surface);
}

// Lowest and highest in metres, as given or those of the DEM.
Result<std::pair<double, double>> tintLimits(const Work& work, const RasterSource& dem,
                                             const HeightReading& heights) {
    if (!work.text("limits").empty()) {
        const auto given = work.numbers("limits");
        if (!given) return given.error();
        if (given->size() != 2 || !((*given)[0] < (*given)[1]))
            return badSetting("limits", "not a range", "give lowest,highest in metres");
        return std::pair{(*given)[0], (*given)[1]};
    }
    const auto numbers = statistics(dem, 0, work.progress);
    if (!numbers) return numbers.error();
    if (numbers->count == 0)
        return Error{ErrorCode::InvalidArgument, work.lineage.inputs[0].path.filename().string(),
                     "holds no heights", "choose another DEM"};
    return std::pair{numbers->min * heights.factor(), numbers->max * heights.factor()};
}

Result<RasterPtr> tint(const Work& work) {
    const auto dem = work.raster();
    if (!dem) return dem.error();
    const auto heights = heightsOf(work);
    if (!heights) return heights.error();
    if (!work.text("stops").empty()) {
        const auto ramp = rampFromText(work.text("stops"));
        if (!ramp) return ramp.error();
        return colouredRaster(*dem, 0, *ramp, heights->factor());
    }
    const auto limits = tintLimits(work, **dem, *heights);
    if (!limits) return limits.error();
    return colouredRaster(*dem, 0, heightTint(work.text("family"), limits->first, limits->second),
                          heights->factor());
}

Result<RasterPtr> steepness(const Work& work) {
    const auto surface = surfaceOf(work);
    if (!surface) return surface.error();
    return colouredRaster(terrain::slopeRaster(*surface, terrain::SlopeUnit::Degrees), 0,
                          steepnessTint());
}

Result<FeatureTable> contours(const Work& work) {
    const auto dem = work.raster();
    if (!dem) return dem.error();
    const auto heights = heightsOf(work);
    if (!heights) return heights.error();
    const auto interval = work.number("interval"), start = work.number("start"),
               every = work.number("index-every"), smooth = work.number("smooth");
    for (const auto* one : {&interval, &start, &every, &smooth})
        if (!*one) return one->error();
    terrain::ContourLevels levels{*interval, *start, {}};
    if (!work.text("levels").empty()) {
        const auto listed = work.numbers("levels");
        if (!listed) return listed.error();
        levels.listed = *listed;
    } else if (!(*interval > 0)) {
        return badSetting("interval", "is not above 0", "give an interval, or list the levels");
    }
    const int steps = static_cast<int>(*smooth);
    if (work.isOn("filled"))
        return filledContourTable(**dem, *heights, levels, steps, work.progress);
    return contourTable(**dem, *heights, {work.text("column"), static_cast<int>(*every)}, levels,
                        steps, work.progress);
}

Result<std::optional<Box>> extentOf(const Work& work) {
    if (work.text("extent").empty()) return std::optional<Box>();
    const auto numbers = work.numbers("extent");
    if (!numbers) return numbers.error();
    if (numbers->size() != 4 || !((*numbers)[0] < (*numbers)[2]) ||
        !((*numbers)[1] < (*numbers)[3]))
        return badSetting("extent", "is no extent", "write west,south,east,north");
    Box box;
    box.add(Point{(*numbers)[0], (*numbers)[1]});
    box.add(Point{(*numbers)[2], (*numbers)[3]});
    return std::optional(box);
}

// On another grid, in another CRS when `target` is one.
Result<RasterPtr> regridded(const Work& work, const crs::CrsPtr& target) {
    const auto source = work.raster();
    if (!source) return source.error();
    const crs::CrsPtr& from = (*source)->info().crs;
    const auto way = crs::Transformation::between(from, target ? target : from);
    if (!way) return way.error();
    const auto cell = work.number("cell");
    if (!cell) return cell.error();
    auto extent = extentOf(work);
    if (!extent) return extent.error();
    if (!*extent && target) {
        const auto usual = globe::extentOn((*source)->info(), target, *way);
        if (!usual) return usual.error();
        *extent = usual->box;
        work.remark(usual->remark);
    }
    const auto grid = suggestedGrid((*source)->info(), *way,
                                    *cell > 0 ? std::optional(*cell) : std::nullopt, *extent);
    if (!grid) return grid.error();
    return RasterPtr(std::make_shared<ReprojectedRaster>(
        *source, *way, target ? target : from, *grid, resamplingNamed(work.text("resampling"))));
}

Result<RasterPtr> resampled(const Work& work) { return regridded(work, nullptr); }

// With the datum operation that leads there, when one was chosen.
Result<crs::CrsPtr> targetOf(const Work& work, const crs::CrsPtr& from) {
    auto target = crs::parseCrs(work.text("to-crs"));
    if (!target) return target.error();
    if (!*target) return badSetting("CRS", "none is given", "choose the CRS to reproject to");
    if (!from)
        return Error{ErrorCode::InvalidArgument, work.lineage.inputs[0].path.filename().string(),
                     "has no CRS to reproject from", "declare the CRS it is in first"};
    const std::string operation = work.text("operation");
    if (operation.empty()) return *target;
    if (const auto led = crs::withOperation(from, *target, operation); !led) return led.error();
    return crs::withChoices(*target,
                            {{from->geographicCode, (*target)->geographicCode, operation}});
}

Result<RasterPtr> reprojectedRaster(const Work& work) {
    const auto source = work.raster();
    if (!source) return source.error();
    const auto target = targetOf(work, (*source)->info().crs);
    if (!target) return target.error();
    return regridded(work, *target);
}

Result<FeatureTable> reprojectedTable(const Work& work) {
    const auto table = work.table();
    if (!table) return table.error();
    const auto target = targetOf(work, (*table)->info.crs);
    if (!target) return target.error();
    auto moved = globe::reprojected(**table, *target, {}, work.progress);
    if (!moved) return moved.error();
    work.remark(moved->remark((*table)->size()));
    return std::move(moved->table);
}

Result<RasterPtr> clip(const Work& work) {
    const auto source = work.raster();
    if (!source) return source.error();
    if (work.lineage.inputs.size() < 2) {
        const auto extent = extentOf(work);
        if (!extent) return extent.error();
        if (!*extent)
            return badSetting("extent", "is missing", "write west,south,east,north in its CRS");
        return clippedTo(*source, **extent);
    }
    const auto table = work.table(1);
    if (!table) return table.error();
    const crs::CrsPtr& crs = (*source)->info().crs;
    const bool needsMove = (*table)->info.crs && crs && !crs::isSame((*table)->info.crs, crs);
    FeatureTable moved = **table;
    if (needsMove) {
        auto there = globe::reprojected(moved, crs, {}, work.progress);
        if (!there) return there.error();
        moved = std::move(there->table);
    }
    std::vector<Geometry> areas;
    for (const FeatureView f : moved) areas.push_back(f.geometry.toGeometry());
    return clippedTo(*source, areas);
}

Result<RasterPtr> calculate(const Work& work) {
    std::vector<NamedBand> bands;
    for (std::size_t i = 0; i < work.lineage.inputs.size(); ++i) {
        const auto raster = work.raster(i);
        if (!raster) return raster.error();
        bands.push_back({work.lineage.inputs[i].name, *raster, work.lineage.inputs[i].band});
    }
    return calculatedRaster(work.text("expression"), std::move(bands));
}

const Setting kGradient{
    "gradient",   "Gradient", "How a cell's gradient comes from the eight around it",
    Kind::Choice, "horn",     {"horn", "zevenbergen-thorne"}};
const Setting kHeightScale{"height-scale", "Height scale",
                           "auto, or a number that heights are multiplied by", Kind::Text, "auto"};
const Setting kResampling{
    "resampling", "Resampling", "How a new cell comes from the old ones around it",
    Kind::Choice, "bilinear",   {kResamplingNames.begin(), kResamplingNames.end()}};
const Setting kCell{"cell",
                    "Cell size (0: as it is)",
                    "In the target's unit; 0: as large as it is now",
                    Kind::Number,
                    "0",
                    {},
                    0,
                    1e6,
                    6};
const Setting kExtent{"extent", "Extent: west,south,east,north",
                      "west,south,east,north in the CRS of the result", Kind::Text, ""};

std::vector<std::string> tintNames() {
    std::vector<std::string> out;
    for (const TintFamily& family : tintFamilies()) out.push_back(family.id);
    return out;
}

// "Sea below 0 in blues; land humid (green, ochre, brown), …".
std::string tintHelp() {
    std::string out;
    for (const TintFamily& family : tintFamilies())
        out += (out.empty() ? "" : ", ") + family.id + " (" + family.colours + ")";
    return "Colours of the land, low to high: " + out + "; the sea below 0 is blue";
}

}  // namespace

std::vector<Operation> rasterOperations() {
    return {
        {"hillshade",
         "Hillshade",
         "terrain hillshade",
         "8-bit shaded relief",
         {{"lights", "Lights: azimuth/altitude",
           "Where light comes from, in degrees; several are blended: az/alt,az/alt", Kind::Text,
           "315/45"},
          {"shadows", "Shadows cast over the terrain", "Shadows cast over the terrain", Kind::Yes,
           "no"},
          kGradient,
          kHeightScale},
         hillshade,
         nullptr,
         true},
        {"slope",
         "Slope",
         "terrain slope",
         "Slope as 32-bit floats",
         {{"unit",
           "Unit",
           "Degrees from level, or rise in percent",
           Kind::Choice,
           "degrees",
           {"degrees", "percent"}},
          kGradient,
          kHeightScale},
         slope,
         nullptr,
         true},
        {"aspect",
         "Aspect",
         "terrain aspect",
         "Direction downhill as 32-bit floats",
         {kGradient, kHeightScale},
         aspect,
         nullptr,
         true},
        {"tint",
         "Height tint",
         "terrain tint",
         "Heights as colours: red, green, blue, alpha",
         {{"family", "Colours", tintHelp(), Kind::Choice, "humid", tintNames()},
          {"limits", "Limits: lowest,highest",
           "lowest,highest in metres; without it those of the DEM", Kind::Text, ""},
          {"stops", "Or just these: height:colour",
           "A ramp of your own: height:colour,height:colour", Kind::Text, ""},
          kHeightScale},
         tint,
         nullptr,
         true},
        {"steepness",
         "Steepness",
         "terrain steepness",
         "Steep ground darkened: red, green, blue, alpha",
         {kGradient, kHeightScale},
         steepness,
         nullptr,
         true},
        {"contours",
         "Contours",
         "terrain contours",
         "Contour lines with their level",
         {{"interval",
           "Interval (metres)",
           "Metres from level to level",
           Kind::Number,
           "10",
           {},
           0,
           1e4,
           2},
          {"start",
           "Counted from",
           "A level that the interval counts from",
           Kind::Number,
           "0",
           {},
           -2e4,
           2e4,
           2},
          {"levels", "Or just these levels", "Just these, separated by commas", Kind::Text, ""},
          {"index-every",
           "Index line every",
           "Adds a column that marks every so many levels; 0: none",
           Kind::Number,
           "0",
           {},
           0,
           1000,
           0},
          {"smooth",
           "Smoothing",
           "Draws on a smoothed surface, in 1 to 8 steps to a cell; lines never cross",
           Kind::Number,
           "0",
           {},
           0,
           8,
           0},
          {"filled", "Areas between the levels",
           "Areas between the levels, with level_low and level_high", Kind::Yes, "no"},
          {"column", "Name of the column", "Name of the attribute that holds the level", Kind::Text,
           "level"},
          kHeightScale},
         nullptr,
         contours,
         true},
        {"reproject",
         "Reproject",
         "convert",
         "The same in another CRS",
         {{"to-crs", "To CRS", "By its code, name or WKT", Kind::Text, ""},
          {"operation", "Datum operation (empty: the best)",
           "By its code or name, as `ledge crs operations` lists them; none: take latitude and "
           "longitude as they are",
           Kind::Text, ""},
          kResampling,
          kCell,
          kExtent},
         reprojectedRaster,
         reprojectedTable},
        {"resample",
         "Resample",
         "convert",
         "The same on other cells",
         {kCell, kResampling, kExtent},
         resampled},
        {"clip", "Clip", "clip", "Cut to an extent or to areas, cells unchanged", {kExtent}, clip},
        {"calculate",
         "Formula",
         "calculate",
         "A formula over bands, cell by cell",
         {{"expression", "Formula", "Over the bands by their names, for example if(h > 0, h, 0)",
           Kind::Text, ""}},
         calculate},
    };
}

}  // namespace ledge::session
