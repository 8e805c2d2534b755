#include <iostream>
#include <sstream>

#include "cli/asking.h"
#include "core/base/numbers.h"
#include "core/crs/datum_choices.h"
#include "core/globe/raster_extent.h"
#include "core/globe/reproject.h"
#include "core/raster/reprojected_raster.h"
#include "io/ntv2/ntv2.h"
#include "session/converting.h"
#include "session/source_cache.h"

namespace ledge::cli {
namespace {
struct ConvertOptions : AskOptions {
    std::string source, dest, toCrs, columns, extent, grid, operation;
    std::string resampling = "bilinear", compression = "deflate";
    std::vector<std::string> computing;
    double cell = 0;
    double tolerance = globe::Reprojecting{}.tolerance;
    bool mayReplace = false, withOverviews = false, isStrict = false;
};

// What is done between the datums, as a remark; scripts ask `ledge crs operations`.
void sayOperation(const crs::Transformation& way, const Context& context) {
    if (context.isQuiet || way.datumPath().isSameDatum) return;
    std::cerr << "ledge: datum operation: " << way.datumOperation() << '\n';
}

// A CRS whose datum is left by a grid file towards the target's.
Result<crs::CrsPtr> withGrid(const crs::CrsPtr& from, const crs::CrsPtr& target,
                             const std::string& path) {
    if (!from || !target)
        return Error{ErrorCode::InvalidArgument, path, "a grid leads from one CRS to another",
                     "give --to-crs, and --declare-crs when the file has no CRS"};
    auto grid = io::gridOperation(path, from->geographicCode, target->geographicCode);
    if (!grid) return grid.error();
    auto own = std::make_shared<crs::Crs>(*from);
    own->ownOperation = std::make_shared<crs::DatumOperation>(*std::move(grid));
    return crs::CrsPtr(own);
}

// A CRS whose datum is left by what was asked for: a grid file, a chosen operation, or neither.
Result<crs::CrsPtr> led(const crs::CrsPtr& from, const crs::CrsPtr& target, const ConvertOptions& o) {
    auto out = o.grid.empty() ? Result<crs::CrsPtr>(from) : withGrid(from, target, o.grid);
    if (!out || o.operation.empty()) return out;
    return crs::withOperation(*out, target, o.operation);
}

Result<RasterPtr> regridded(const RasterPtr& source, const ConvertOptions& o, const crs::CrsPtr& target,
                            const Context& context) {
    const auto way = crs::Transformation::between(source->info().crs, target);
    if (!way) return way.error();
    sayOperation(*way, context);
    std::optional<Box> extent;
    if (!o.extent.empty()) {
        const auto box = boxArgument("--extent", o.extent);
        if (!box) return box.error();
        extent = *box;
    } else if (target) {
        const auto usual = globe::extentOn(source->info(), target, *way);
        if (!usual) return usual.error();
        extent = usual->box;
        if (!usual->remark.empty() && !context.isQuiet)
            std::cerr << "ledge: " << usual->remark << "; --extent takes another\n";
    }
    const auto grid = suggestedGrid(source->info(), *way,
                                    o.cell > 0 ? std::optional(o.cell) : std::nullopt, extent);
    if (!grid) return grid.error();
    return RasterPtr(std::make_shared<ReprojectedRaster>(
        source, *way, target ? target : source->info().crs, *grid, resamplingNamed(o.resampling)));
}

Error noCrs(const ConvertOptions& o) {
    return {ErrorCode::InvalidArgument, o.source, "has no CRS to reproject from",
            "add --declare-crs with the CRS it is in"};
}

Result<void> convertRaster(RasterPtr raster, const ConvertOptions& o, const crs::CrsPtr& declared,
                           const crs::CrsPtr& target, const Context& context) {
    if (!io::writesRaster(o.dest))
        return Error{ErrorCode::Unsupported, o.dest, "rasters cannot be written in this format",
                     "use .tif, .asc, .png or .jpg"};
    if (declared) raster = io::declared(raster, declared);
    if (!o.grid.empty() || !o.operation.empty()) {
        const auto leading = led(raster->info().crs, target, o);
        if (!leading) return leading.error();
        raster = io::declared(raster, *leading);
    }
    if (target && !raster->info().crs) return noCrs(o);
    if (target || !o.extent.empty() || o.cell > 0) {
        auto moved = regridded(raster, o, target ? target : raster->info().crs, context);
        if (!moved) return moved.error();
        raster = *std::move(moved);
    }
    const auto done =
        io::writeRaster(*raster, o.dest, {compressionOf(o.compression), o.withOverviews},
                        context.progress, replacing(o.mayReplace));
    sayDamage(*raster);
    return done;
}

// A layer goes through part by part where nothing has to be known of all of it.
Result<void> convertParts(const FeatureSource& source, std::size_t layer, const ConvertOptions& o,
                          const crs::CrsPtr& declared, const crs::CrsPtr& target,
                          const Context& context) {
    session::Converting how;
    if (!o.columns.empty()) how.columns = namesIn(o.columns);
    crs::CrsPtr from = declared ? declared : source.layers()[layer].crs;
    if (!o.grid.empty() || !o.operation.empty()) {
        const auto leading = led(from, target, o);
        if (!leading) return leading.error();
        from = *leading;
    }
    how.from = from;
    how.to = target;
    how.how = {o.tolerance, false, o.isStrict};
    if (target) {
        if (!from) return noCrs(o);
        if (const auto way = crs::Transformation::between(from, target))
            sayOperation(*way, context);
    }
    if (!o.extent.empty()) {
        const auto box = boxArgument("--extent", o.extent);
        if (!box) return box.error();
        how.extent = *box;
    }
    const auto told = session::convertInParts(source, layer, how, o.dest, context.progress,
                                              replacing(o.mayReplace));
    if (!told) return told.error();
    if (!told->empty() && !context.isQuiet) std::cerr << "ledge: " << *told << '\n';
    return {};
}

Result<void> convertFeatures(const FeatureSource& source, const ConvertOptions& o,
                             const crs::CrsPtr& declared, const crs::CrsPtr& target,
                             const Context& context) {
    if (!io::writesVector(o.dest))
        return Error{ErrorCode::Unsupported, o.dest,
                     "vector layers cannot be written in this format",
                     "use " + io::suffixWords(io::Writes::Tables)};
    const auto layer = session::layerIndex(source, o.layer);
    if (!layer) return layer.error();
    const auto computing = computingOf(o.computing);
    if (!computing) return computing.error();
    const bool isAsked = !o.keep.empty() || !o.near.empty();
    std::optional<std::vector<std::string>> columns;
    if (!o.columns.empty()) columns = namesIn(o.columns);
    if (!isAsked && computing->empty() &&
        session::convertsInParts(source, *layer, o.source, o.dest))
        return convertParts(source, *layer, o, declared, target, context);
    Query query;
    // Conditions and formulas may read columns that are not kept.
    if (!isAsked && computing->empty()) query.columns = columns;
    if (isAsked) query.keep = keepFor(o, o.computing);
    // What is thinned for being looked at is meant whole, unless it is named.
    const auto read = readAll(source, o.layer.empty() ? source.whole(*layer) : *layer,
                              context.progress.part(0, 0.35), query);
    if (!read) return read.error();
    FeatureTable table = **read;  // columns and coordinates are shared
    if (declared) table.info.crs = declared;
    if (isAsked || !computing->empty()) {
        const auto rows = rowsOf(table, o, context, context.progress.part(0.35, 0.38));
        if (!rows) return rows.error();
        std::vector<std::string> remarks;
        auto selected =
            session::selectedTable(table, isAsked ? &*rows : nullptr, columns, *computing, remarks,
                                   context.progress.part(0.38, 0.4));
        if (!selected) return selected.error();
        table = *std::move(selected);
        if (!context.isQuiet)
            for (const std::string& remark : remarks) std::cerr << "ledge: " << remark << '\n';
    }
    if (!o.grid.empty() || !o.operation.empty()) {
        const auto leading = led(table.info.crs, target, o);
        if (!leading) return leading.error();
        table.info.crs = *leading;
    }
    if (target && !table.info.crs) return noCrs(o);
    if (target) {
        if (const auto way = crs::Transformation::between(table.info.crs, target))
            sayOperation(*way, context);
        auto moved = globe::reprojected(table, target, {o.tolerance, false, o.isStrict},
                                        context.progress.part(0.4, 0.5));
        if (!moved) return moved.error();
        const std::string remark = moved->remark(table.size());
        if (!remark.empty() && !context.isQuiet) std::cerr << "ledge: " << remark << '\n';
        table = std::move(moved->table);
    }
    if (!o.extent.empty()) {
        const auto box = boxArgument("--extent", o.extent);
        if (!box) return box.error();
        table = table.filtered(
            [&](const FeatureView& f) { return table.box(f.index).intersects(*box); });
    }
    if (!context.isQuiet)
        for (const std::string& limit : io::limitsOf(table, o.dest))
            std::cerr << "ledge: " << limit << '\n';
    return io::writeTable(table, o.dest, context.progress.part(0.5, 1), replacing(o.mayReplace));
}

Result<void> convert(const ConvertOptions& o, const Context& context) {
    if (const auto fine = checkOutput(o.dest, o.mayReplace); !fine) return fine;
    crs::CrsPtr declared, target;
    if (!o.declareCrs.empty()) {
        auto parsed = crsArgument(o.declareCrs, context);
        if (!parsed) return parsed.error();
        declared = *parsed;
    }
    if (!o.toCrs.empty()) {
        auto parsed = crsArgument(o.toCrs, context);
        if (!parsed) return parsed.error();
        target = *parsed;
    }
    auto source = io::openSource(o.source, context.progress, o.reading);
    if (!source) return source.error();
    if (auto* raster = std::get_if<RasterPtr>(&*source)) {
        if (!o.keep.empty() || !o.near.empty() || !o.computing.empty())
            return Error{ErrorCode::InvalidArgument, o.source, "is a raster, which has no features",
                         "leave out --keep, --near and --compute"};
        return convertRaster(*raster, o, declared, target, context);
    }
    return convertFeatures(*std::get<FeatureSourcePtr>(*source), o, declared, target, context);
}
}  // namespace

void addConvert(CLI::App& app, const AddCommand& add) {
    auto* c = app.add_subcommand("convert", "Write a source in another format, CRS or grid");
    auto o = std::make_shared<ConvertOptions>();
    c->add_option("SOURCE", o->source)->required();
    c->add_option("DEST", o->dest,
                  "Format by suffix: " + io::suffixWords(io::Writes::Rasters) + "; " +
                      io::suffixWords(io::Writes::Tables))
        ->required();
    addAsking(*c, *o);
    c->add_option("--to-crs", o->toCrs, "Reproject: make new coordinates in this CRS");
    c->add_option("--grid", o->grid, "A grid of shifts (NTv2 .gsb) between the two datums");
    addOperation(*c, o->operation);
    c->add_option("--tolerance", o->tolerance,
                  "Metres that sides of features may stray from their true course (0.1)")
        ->check(CLI::PositiveNumber);
    c->add_flag("--strict", o->isStrict, "Features outside the target's domain are an error");
    c->add_option("--columns", o->columns, "Keep only these, separated by commas");
    c->add_option("--compute", o->computing, "One more column: NAME=FORMULA");
    c->add_option("--resampling", o->resampling)
        ->check(CLI::IsMember(
            std::vector<std::string>(kResamplingNames.begin(), kResamplingNames.end())));
    c->add_option("--cell", o->cell, "Cell size in the target's unit")->check(CLI::PositiveNumber);
    c->add_option("--extent", o->extent, "x0,y0,x1,y1 in the target CRS");
    addCompression(*c, o->compression);
    c->add_flag("--overviews", o->withOverviews,
                "GeoTIFF: reduced copies inside, laid out for reading over a network");
    c->add_flag("--replace", o->mayReplace, "Overwrite DEST");
    add(c, [o](const Context& context) { return convert(*o, context); });
}

}  // namespace ledge::cli
