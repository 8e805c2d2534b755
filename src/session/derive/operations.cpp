#include "session/derive/operations.h"

#include <cmath>
#include <sstream>

#include "core/base/number_list.h"
#include "core/base/numbers.h"
#include "core/crs/datum_choices.h"
#include "core/globe/raster_extent.h"
#include "core/globe/reproject.h"
#include "core/raster/calculated_raster.h"
#include "core/raster/clipped_raster.h"
#include "core/raster/coloured_raster.h"
#include "core/raster/reprojected_raster.h"
#include "core/symbol/ramp_text.h"
#include "session/derive/feature_operations.h"
#include "session/terrain_files.h"

namespace ledge::session {
namespace {
using Kind = Setting::Kind;

doc::SourceRef sourceOf(const doc::LineageInput& input) {
    doc::SourceRef out;
    out.name = input.path.filename().string();
    out.path = input.path;
    out.layer = input.layer;
    out.declaredCrs = input.declaredCrs;
    out.shiftGrid = input.shiftGrid;
    out.heightUnit = input.heightUnit;
    return out;
}

Result<const doc::LineageInput*> inputOf(const Work& work, std::size_t at) {
    if (at < work.lineage.inputs.size()) return &work.lineage.inputs[at];
    return Error{ErrorCode::InvalidArgument, work.lineage.operation, "has no input to work on",
                 "choose a layer first"};
}

Error badSetting(const std::string& key, const std::string& why, const std::string& mend) {
    return {ErrorCode::InvalidArgument, key, why, mend};
}

// "auto" or a factor.
Result<HeightReading> heightsOf(const Work& work) {
    const auto input = inputOf(work, 0);
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

std::vector<Operation> makeOperations() {
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

std::string quoted(const std::string& text) {
    const bool isPlain =
        !text.empty() && text.find_first_not_of("abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWX"
                                                "YZ0123456789_./-:,+=@%") == std::string::npos;
    if (isPlain) return text;
    std::string out = "'";
    for (const char c : text) out += c == '\'' ? std::string("'\\''") : std::string(1, c);
    return out + "'";
}

std::string fileName(const doc::LineageInput& input) {
    return quoted(input.path.filename().string());
}
}  // namespace

std::string Work::text(const std::string& key) const {
    const auto given = lineage.parameters.find(key);
    if (given != lineage.parameters.end()) return given->second;
    const Operation* operation = operationNamed(lineage.operation);
    const Setting* setting = operation ? operation->setting(key) : nullptr;
    return setting ? setting->usual : std::string();
}

void Work::remark(const std::string& text) const {
    if (remarks && !text.empty()) remarks->push_back(text);
}

Result<double> Work::number(const std::string& key) const {
    const std::string said = text(key);
    const auto value = parseNumber(said);
    if (!value || !std::isfinite(*value))
        return badSetting(key, "\"" + said + "\" is no number", "write a number");
    return *value;
}

Result<std::vector<double>> Work::numbers(const std::string& key, char separator) const {
    auto out = parseNumbers(text(key), separator);
    if (!out) return badSetting(key, out.error().why, out.error().mend);
    return out;
}

Result<RasterPtr> Work::raster(std::size_t input) const {
    const auto found = inputOf(*this, input);
    if (!found) return found.error();
    const auto opened = cache.raster(sourceOf(**found));
    if (!opened) return opened.error();
    return (*opened)->raster();
}

Result<TablePtr> Work::table(std::size_t input) const {
    const auto found = inputOf(*this, input);
    if (!found) return found.error();
    return cache.table(sourceOf(**found), progress.part(0, 0.3));
}

Result<void> checkSetting(const Setting& setting, const std::string& value) {
    switch (setting.kind) {
    case Kind::Number: {
        const auto number = parseNumber(value);
        const bool isWhole = setting.decimals > 0 || (number && *number == std::floor(*number));
        if (number && isWhole && *number >= setting.low && *number <= setting.high) return {};
        return badSetting(setting.key, "\"" + value + "\" cannot be used",
                          std::string("give a ") + (setting.decimals > 0 ? "" : "whole ") +
                              "number from " + exactNumber(setting.low) + " to " +
                              exactNumber(setting.high));
    }
    case Kind::Choice: {
        std::string all;
        for (const std::string& choice : setting.choices) {
            if (choice == value) return {};
            all += (all.empty() ? "" : ", ") + choice;
        }
        return badSetting(setting.key, "\"" + value + "\" is none of its values",
                          "choose one of: " + all);
    }
    case Kind::Yes:
        if (value == "yes" || value == "no") return {};
        return badSetting(setting.key, "\"" + value + "\" is neither yes nor no",
                          "write yes or no");
    case Kind::Text: return {};  // what it means only the operation knows
    }
    return {};
}

const Setting* Operation::setting(const std::string& key) const {
    for (const Setting& one : settings)
        if (one.key == key) return &one;
    return nullptr;
}

const std::vector<Operation>& operations() {
    static const std::vector<Operation> all = [] {
        auto out = makeOperations();
        auto more = featureOperations();
        out.insert(out.end(), std::make_move_iterator(more.begin()),
                   std::make_move_iterator(more.end()));
        return out;
    }();
    return all;
}

const Operation* operationNamed(const std::string& name) {
    for (const Operation& one : operations())
        if (one.name == name) return &one;
    return nullptr;
}

namespace {
// The operation of a lineage whose settings can all be used.
Result<const Operation*> usableOperation(const doc::Lineage& lineage) {
    if (const Operation* found = operationNamed(lineage.operation)) {
        for (const auto& [key, value] : lineage.parameters)
            if (const Setting* setting = found->setting(key))
                if (const auto fine = checkSetting(*setting, value); !fine) return fine.error();
        return found;
    }
    return Error{ErrorCode::NotFound, "\"" + lineage.operation + "\"",
                 "is no operation of this version", "open the project with a newer one"};
}

bool makesFeatures(const Operation& operation, const Work& work) {
    return operation.table && (!operation.raster || work.table().has_value());
}
}  // namespace

Result<RasterPtr> derivedRaster(const doc::Lineage& lineage, const SourceCache& cache,
                                const Progress& progress) {
    const auto operation = usableOperation(lineage);
    if (!operation) return operation.error();
    if (!(*operation)->raster)
        return Error{ErrorCode::Unsupported, (*operation)->title, "makes features, not a raster",
                     "write it to a file"};
    return (*operation)->raster({lineage, cache, progress});
}

bool givesFeatures(const doc::Lineage& lineage) {
    const Operation* operation = operationNamed(lineage.operation);
    return operation && operation->isOfFeatures && operation->table;
}

Result<FeatureTable> derivedTable(const doc::Lineage& lineage, const SourceCache& cache,
                                  const Progress& progress, Remarks* remarks) {
    const auto operation = usableOperation(lineage);
    if (!operation) return operation.error();
    if (!(*operation)->table)
        return Error{ErrorCode::Unsupported, (*operation)->title, "makes a raster, not features",
                     "choose another operation"};
    return (*operation)->table({lineage, cache, progress, remarks});
}

Result<Remarks> lossesOf(const doc::Lineage& lineage, const SourceCache& cache,
                         const std::filesystem::path& target, const Progress& progress) {
    if (!io::mayLimit(target)) return Remarks();
    const auto operation = usableOperation(lineage);
    if (!operation) return operation.error();
    Remarks unasked;
    const Work work{lineage, cache, progress, &unasked};
    if (!makesFeatures(**operation, work)) return Remarks();
    const auto table = (*operation)->table(work);
    if (!table) return table.error();
    return io::limitsOf(*table, target);
}

Result<Remarks> writeDerived(const doc::Lineage& lineage, const SourceCache& cache,
                             const std::filesystem::path& target, const Progress& progress,
                             std::optional<io::RasterWriting> how, io::Replacing replacing) {
    const auto operation = usableOperation(lineage);
    if (!operation) return operation.error();
    for (const doc::LineageInput& input : lineage.inputs)
        if (!input.path.empty() && input.path == target)
            return Error{ErrorCode::InvalidArgument, target.filename().string(),
                         "is what it is made from", "write to another name"};
    const Progress making = progress.part(0, (*operation)->table ? 0.8 : 0.2);
    Remarks remarks;
    const Work work{lineage, cache, making, &remarks};
    const auto told = [&](const Result<void>& done) {
        return done ? Result<Remarks>(remarks) : Result<Remarks>(done.error());
    };
    if (makesFeatures(**operation, work)) {
        const auto table = (*operation)->table(work);
        if (!table) return table.error();
        for (const std::string& limit : io::limitsOf(*table, target)) work.remark(limit);
        return told(io::writeTable(*table, target, progress.part(0.8, 1), replacing));
    }
    const auto raster = (*operation)->raster(work);
    if (!raster) return raster.error();
    const Progress writing = progress.part(0.2, 1);
    if ((*operation)->readsHeights)
        // Shadows come from far: large pieces, so that heights around are not read too often.
        return told(writeComputed(
            **raster, {target, how.value_or(io::RasterWriting(io::Compression::None)), replacing},
            writing, work.isOn("shadows") ? 256 : 32));
    return told(
        io::writeRaster(**raster, target, how.value_or(io::RasterWriting()), writing, replacing));
}

std::string commandOf(const doc::Lineage& lineage, const std::string& target) {
    const Operation* operation = operationNamed(lineage.operation);
    if (!operation || lineage.inputs.empty()) return {};
    const auto& first = lineage.inputs.front();
    std::string out = "ledge " + operation->command;
    const auto given = [&](const std::string& key) {
        const auto it = lineage.parameters.find(key);
        return it == lineage.parameters.end() ? std::string() : it->second;
    };
    if (operation->name == "calculate") {
        out += " " + quoted(given("expression")) + " " + quoted(target);
        for (const doc::LineageInput& input : lineage.inputs)
            out += "\n  --band " + input.name + "=" + fileName(input) +
                   (input.band > 0 ? ":" + std::to_string(input.band + 1) : "");
        return out;
    }
    out += " " + fileName(first) + " " + quoted(target);
    if (!first.layer.empty()) out += " --layer " + quoted(first.layer);
    if (lineage.inputs.size() > 1) {
        const auto& second = lineage.inputs[1];
        out += (operation->isOfFeatures ? " --with " : " --by ") + fileName(second);
        if (!second.layer.empty())
            out +=
                (operation->isOfFeatures ? " --with-layer " : " --layer ") + quoted(second.layer);
        if (operation->isOfFeatures && second.band > 0)
            out += " --with-band " + std::to_string(second.band + 1);
    }
    for (const Setting& setting : operation->settings) {
        const std::string value = given(setting.key);
        if (value.empty() || (value == setting.usual && setting.key != "interval")) continue;
        if (setting.kind == Kind::Yes) {
            if (value == "yes") out += "\n  --" + setting.key;
            continue;
        }
        out += "\n  --" + setting.key + " " + quoted(value);
    }
    if (first.declaredCrs && operation->command == "convert")
        out += "\n  --declare-crs " + quoted(*first.declaredCrs);
    if (first.shiftGrid && operation->command == "convert")
        out += "\n  --grid " + quoted(first.shiftGrid->path.filename().string());
    if (operation->readsHeights && first.heightUnit == doc::HeightUnit::Foot)
        out += "\n  --height-unit foot";
    return out;
}

}  // namespace ledge::session
