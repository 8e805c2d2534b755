#include "session/profiles.h"

#include <algorithm>

#include "core/base/numbers.h"
#include "core/crs/transformation.h"

namespace ledge::session {
namespace {
constexpr double kMostSamples = 20'000;

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

Result<std::vector<ProfileRun>> runProfile(const doc::Document& document, const SourceCache& cache,
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
        const auto raster = cache.raster(*source);
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
        const double metres = carto::metresPerHeight(*source);
        for (terrain::ProfilePoint& p : *points) p.height *= metres;
        ProfileRun run{source->id, source->name, *std::move(points), {}};
        run.summary = terrain::summary(run.points);
        out.push_back(std::move(run));
    }
    return out;
}

std::vector<doc::Id> surfacesOf(const doc::Document& document) {
    std::vector<doc::Id> out;
    auto layers = doc::drawnLayers(document.layers);
    for (auto it = layers.rbegin(); it != layers.rend(); ++it)
        if (it->layer->readsHeights() &&
            std::find(out.begin(), out.end(), it->layer->source) == out.end())
            out.push_back(it->layer->source);
    return out;
}

std::string profileCsv(const std::vector<ProfileRun>& runs) {
    const auto quoted = [](const std::string& name) {
        std::string out = "\"";
        for (const char c : name) out += c == '"' ? "\"\"" : std::string(1, c);
        return out + "\"";
    };
    std::string out = "distance,x,y";
    for (const ProfileRun& run : runs) out += runs.size() == 1 ? ",height" : "," + quoted(run.name);
    out += "\n";
    if (runs.empty()) return out;
    for (std::size_t i = 0; i < runs[0].points.size(); ++i) {
        const auto& p = runs[0].points[i];
        out += exactNumber(p.distance) + "," + exactNumber(p.at.x) + "," + exactNumber(p.at.y);
        for (const ProfileRun& run : runs) {
            const double h = i < run.points.size() ? run.points[i].height : kNaN;
            out += "," + (std::isnan(h) ? std::string() : exactNumber(h));
        }
        out += "\n";
    }
    return out;
}

Point positionAt(const ProfileRun& run, double distance) {
    const auto it = std::lower_bound(
        run.points.begin(), run.points.end(), distance,
        [](const terrain::ProfilePoint& p, double wanted) { return p.distance < wanted; });
    if (it == run.points.end()) return run.points.empty() ? kNowhere : run.points.back().at;
    return it->at;
}

double distanceNear(const ProfileRun& run, Point at) {
    double nearest = std::numeric_limits<double>::infinity(), out = kNaN;
    for (const auto& p : run.points)
        if (const double away = distance(p.at, at); away < nearest)
            nearest = away, out = p.distance;
    return out;
}

std::string newProfileName(const doc::Document& document) {
    for (std::size_t n = document.profiles.size() + 1;; ++n) {
        const std::string name = "Profile " + std::to_string(n);
        if (std::none_of(document.profiles.begin(), document.profiles.end(),
                         [&](const doc::SavedProfile& p) { return p.name == name; }))
            return name;
    }
}

}  // namespace ledge::session
