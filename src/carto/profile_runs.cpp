#include "carto/profile_runs.h"

#include <array>

#include "core/crs/transformation.h"

namespace ledge::carto {
namespace {
constexpr double kMostSamples = 20'000;

const std::array<Colour, 4> kSeriesColours{
    {{0x3D, 0x42, 0x96}, {0xB4, 0x53, 0x2A}, {0x3F, 0x6B, 0x3A}, {0xA8, 0x74, 0x1A}}};

double cellMetres(const RasterInfo& info) {
    const Point ground = crs::groundUnits(info.crs, info.extent().centre());
    return std::min(info.toWorld.columnLength() * ground.x, info.toWorld.rowLength() * ground.y);
}

double roughLength(const crs::CrsPtr& crs, const std::vector<Point>& line) {
    double sum = 0;
    const Point ground = line.empty() ? Point{1, 1} : crs::groundUnits(crs, line.front());
    for (std::size_t i = 1; i < line.size(); ++i)
        sum += std::hypot((line[i].x - line[i - 1].x) * ground.x,
                          (line[i].y - line[i - 1].y) * ground.y);
    return sum;
}
}  // namespace

Result<std::vector<ProfileRun>> runProfile(const doc::Document& document,
                                           const doc::DrawingData& data,
                                           const doc::SavedProfile& profile,
                                           const Progress& progress) {
    crs::CrsPtr crs;
    if (!profile.crs.empty()) {
        const auto parsed = crs::parseCrs(profile.crs);
        if (!parsed) return parsed.error();
        crs = *parsed;
    }
    std::vector<std::pair<const doc::SourceRef*, std::shared_ptr<const Pyramid>>> surfaces;
    double step = std::numeric_limits<double>::infinity();
    std::optional<Error> trouble;
    for (const doc::Id id : profile.sources) {
        const doc::SourceRef* source = document.source(id);
        if (!source) continue;
        const auto raster = data.raster(*source);
        if (!raster) {
            trouble = raster.error();
            continue;
        }
        surfaces.emplace_back(source, *raster);
        step = std::min(step, cellMetres((*raster)->source().info()));
    }
    if (surfaces.empty())
        return trouble ? *trouble
                       : Error{ErrorCode::NotFound, profile.name,
                               "no raster of heights is lit in the stack", "add a DEM"};
    step = std::max(step, roughLength(crs, profile.line) / kMostSamples);
    std::vector<ProfileRun> out;
    for (const auto& [source, raster] : surfaces) {
        const double done = static_cast<double>(out.size()) / static_cast<double>(surfaces.size());
        auto points =
            terrain::profile(raster->source(), 0, crs, profile.line, step,
                             progress.part(done, done + 1 / static_cast<double>(surfaces.size())));
        if (!points) return points.error();
        const double metres = doc::metresPerHeight(*source);
        for (terrain::ProfilePoint& p : *points) p.height *= metres;
        ProfileRun run{source->id, source->name, *std::move(points), {}};
        run.summary = terrain::summary(run.points);
        out.push_back(std::move(run));
    }
    return out;
}

ProfileChart chartOf(const std::vector<ProfileRun>& runs, LengthUnit unit) {
    ProfileChart chart;
    chart.unit = unit;
    for (std::size_t i = 0; i < runs.size(); ++i) {
        ProfileSeries series;
        series.name = QString::fromStdString(runs[i].name);
        series.colour = kSeriesColours[i % kSeriesColours.size()];
        for (const auto& p : runs[i].points) series.points.push_back({p.distance, p.height});
        chart.series.push_back(std::move(series));
    }
    return chart;
}

}  // namespace ledge::carto
