#include "cli/arguments.h"
#include "core/feature/reproject.h"
#include "core/raster/clipped_raster.h"
#include "session/source_cache.h"

namespace ledge::cli {
namespace {
struct Options {
    std::string source, dest, extent, by, layer, compression = "deflate";
    bool mayReplace = false, withOverviews = false;
};

// The areas of a file in the raster's CRS.
Result<std::vector<Geometry>> areasOf(const Options& o, const crs::CrsPtr& crs,
                                      const Context& context) {
    auto source = io::openSource(o.by, context.progress);
    if (!source) return source.error();
    const auto* features = std::get_if<FeatureSourcePtr>(&*source);
    if (!features)
        return Error{ErrorCode::InvalidArgument, o.by, "holds a raster, not areas",
                     "give a vector file with polygons"};
    const auto layer = session::layerIndex(**features, o.layer);
    if (!layer) return layer.error();
    // Only where they are counts.
    Query query;
    query.columns.emplace();
    const auto table = readAll(**features, *layer, context.progress.part(0, 0.2), query);
    if (!table) return table.error();
    const crs::CrsPtr& from = (*table)->info.crs;
    const auto moved = from && crs && !crs::isSame(from, crs) ? reprojected(**table, crs)
                                                              : Result<FeatureTable>(**table);
    if (!moved) return moved.error();
    std::vector<Geometry> out;
    for (const FeatureView f : *moved) out.push_back(f.geometry.toGeometry());
    return out;
}

Result<void> clip(const Options& o, const Context& context) {
    if (const auto fine = checkOutput(o.dest, o.mayReplace); !fine) return fine;
    if (o.extent.empty() == o.by.empty())
        return Error{ErrorCode::InvalidArgument, "clip", "what to clip by is not clear",
                     "give either --extent x0,y0,x1,y1 or --by AREAS"};
    const auto raster = openRaster(o.source);
    if (!raster) return raster.error();
    Result<RasterPtr> clipped = *raster;
    if (!o.extent.empty()) {
        const auto box = boxArgument("--extent", o.extent);
        if (!box) return box.error();
        clipped = clippedTo(*raster, *box);
    } else {
        const auto areas = areasOf(o, (*raster)->info().crs, context);
        if (!areas) return areas.error();
        clipped = clippedTo(*raster, *areas);
    }
    if (!clipped) return clipped.error();
    const auto done =
        io::writeRaster(**clipped, o.dest, {compressionOf(o.compression), o.withOverviews},
                        context.progress.part(0.2, 1));
    sayDamage(**raster);
    return done;
}
}  // namespace

void addClip(CLI::App& app, const AddCommand& add) {
    auto* c = app.add_subcommand("clip", "Cut a raster to an extent or to areas, cells unchanged");
    auto o = std::make_shared<Options>();
    c->add_option("SOURCE", o->source)->required();
    c->add_option("DEST", o->dest)->required();
    c->add_option("--extent", o->extent, "x0,y0,x1,y1 in the raster's CRS");
    c->add_option("--by", o->by, "A vector file; cells outside its areas get no data");
    c->add_option("--layer", o->layer, "Layer of that file");
    addCompression(*c, o->compression);
    c->add_flag("--overviews", o->withOverviews, "Reduced copies inside");
    c->add_flag("--replace", o->mayReplace, "Overwrite DEST");
    add(c, [o](const Context& context) { return clip(*o, context); });
}

}  // namespace ledge::cli
