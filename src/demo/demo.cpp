#include "demo/demo.h"

#include <unistd.h>

#include "core/base/constants.h"
#include "core/globe/reproject.h"
#include "core/raster/warp.h"
#include "demo/demo_project.h"
#include "demo/features.h"
#include "demo/imagery.h"
#include "demo/world.h"
#include "demo/world_project.h"
#include "io/registry.h"
#include "session/project_store.h"

namespace ledge::demo {
namespace {
constexpr const char* kProject = "skerravoe.ledge";
namespace fs = std::filesystem;

Result<void> writeOldSurvey(const Terrain& terrain, const RasterPtr& dem, const fs::path& path,
                            const Progress& progress) {
    // The old survey used the zone to the west, feet, and forgot to say so.
    const auto zone28 = crs::crsFromCode(32628);
    const auto way = crs::Transformation::between(dem->info().crs, *zone28);
    if (!way) return way.error();
    const Point low = terrain.toWorld({0, double(terrain.heights.rows())});
    const Point high = terrain.toWorld({double(terrain.heights.cols()) * 0.62, 0});
    Box box;
    box.add(low + Point{2000, 3000});
    box.add(high - Point{0, 1500});
    Box there = way->forward(box);
    for (double* v : {&there.xMin, &there.yMin, &there.xMax, &there.yMax})
        *v = std::round(*v / 50) * 50;
    const auto grid = suggestedGrid(dem->info(), *way, 50.0, there);
    if (!grid) return grid.error();
    auto cells = warped(Pyramid(dem, 0), *way, *grid, Resampling::Average, progress);
    if (!cells) return cells.error();
    for (float& h : cells->cells())
        h = h > 0 ? std::round(h / static_cast<float>(kMetresPerFoot))
                  : std::numeric_limits<float>::quiet_NaN();
    RasterInfo info;
    info.toWorld = grid->toWorld;
    return io::writeRaster(MemoryRaster(info, *std::move(cells)), path, io::Compression::None,
                           progress);
}

Result<void> writeIn(const FeatureTable& table, int epsg, const fs::path& path) {
    const auto moved = globe::reprojected(table, *crs::crsFromCode(epsg));
    if (!moved) return moved.error();
    return io::writeTable(moved->table, path, {});
}
}  // namespace

Result<void> writeWorld(const fs::path& folder, const Progress& progress) {
    constexpr std::uint64_t kSeed = 20261;
    const auto world = makeWorld(kSeed, progress);
    if (!world) return world.error();
    if (const auto done = io::writeRaster(*world->relief, folder / "world_relief.tif",
                                          {io::Compression::Deflate, true}, {});
        !done)
        return done;
    for (const auto& [table, name] : {std::pair{&world->lands, "lands.geojson"},
                                      std::pair{&world->capitals, "capitals.geojson"},
                                      std::pair{&world->courses, "courses.geojson"}})
        if (const auto done = io::writeTable(*table, folder / name, {}); !done) return done;
    return session::saveProject(worldProject(folder), folder / "world.ledge");
}

namespace {
Result<void> writeIsland(const fs::path& folder, const Options& options, const Progress& progress) {
    auto terrain = makeTerrain(options, progress.part(0, 0.6));
    if (!terrain) return terrain.error();
    auto features = makeFeatures(*terrain, options, progress.part(0.6, 0.8));
    if (!features) return features.error();

    RasterInfo info;
    info.toWorld = terrain->toWorld;
    info.crs = *crs::crsFromCode(32629);
    info.bands = {{CellType::Float32, -9999.0, "metre"}};
    Grid<float> rounded = terrain->heights;
    for (float& h : rounded.cells())
        h = std::round(h * 10) / 10;  // a decimetre is what surveys give
    const RasterPtr dem = std::make_shared<MemoryRaster>(info, std::move(rounded));
    const fs::path demPath = folder / "island_dem.tif";
    if (const auto done =
            io::writeRaster(*dem, demPath, io::Compression::Deflate, progress.part(0.8, 0.9));
        !done)
        return done;
    if (const auto done =
            writeOldSurvey(*terrain, dem, folder / "old_survey.asc", progress.part(0.9, 0.95));
        !done)
        return done;

    const RasterPtr cover = landCover(*terrain);
    const RasterPtr aerial = aerialPicture(*terrain, *cover);
    for (const auto& [raster, name] :
         {std::pair{cover, "land_cover.tif"}, std::pair{aerial, "aerial_summer.tif"}})
        if (const auto done =
                io::writeRaster(*raster, folder / name, {io::Compression::Deflate, true}, {});
            !done)
            return done;

    const fs::path base = folder / "base.gpkg";
    for (const FeatureTable* table :
         {&features->coast, &features->lochs, &features->streams, &features->roads})
        if (const auto done = io::writeTable(*table, base, {}); !done) return done;
    const fs::path council = folder / "council.gpkg";
    if (const auto done = writeIn(features->districts, 25829, council); !done) return done;
    if (const auto done = writeIn(features->gauges, 25829, council); !done) return done;
    if (const auto done = io::writeTable(features->paths, folder / "hill_paths.geojson", {}); !done)
        return done;
    if (const auto done = io::writeTable(features->places, folder / "places.geojson", {}); !done)
        return done;
    if (const auto done = writeIn(features->crofts, 3034, folder / "crofts.shp"); !done)
        return done;

    const doc::Document project = demoProject(folder, *features, *terrain, *cover);
    if (const auto done = session::saveProject(project, folder / kProject); !done) return done;
    if (const auto done = writeWorld(folder, {}); !done) return done;
    progress.at(1);
    return {};
}
}  // namespace

// All of it is made in a folder inside and moved when it is there: a disk that is full leaves
// nothing.
Result<fs::path> writeDemo(const fs::path& folder, const Options& options,
                           const Progress& progress) {
    std::error_code code;
    const bool isNew = !fs::exists(folder, code);
    const fs::path made = folder / (".demo-" + std::to_string(::getpid()));
    fs::create_directories(made, code);
    if (code)
        return Error{ErrorCode::IoFailure, folder.string(), code.message(),
                     "choose another folder"};
    auto done = writeIsland(made, options, progress);
    if (done)
        for (const auto& file : fs::directory_iterator(made)) {
            fs::rename(file.path(), folder / file.path().filename(), code);
            if (code) done = io::ioFailure(folder / file.path().filename(), code.message());
        }
    fs::remove_all(made, code);
    if (done) return folder / kProject;
    if (isNew) fs::remove(folder, code);  // when empty
    Error error = done.error();
    // Nobody asked for the folder inside.
    if (const auto at = error.what.find(made.string()); at != std::string::npos)
        error.what.replace(at, made.string().size(), folder.string());
    return error;
}

}  // namespace ledge::demo
