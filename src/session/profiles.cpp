#include "session/profiles.h"

#include <algorithm>

#include "core/base/numbers.h"
#include "io/files/csv.h"

namespace ledge::session {
namespace {
std::string crsName(const crs::Crs& crs) {
    return crs.code != 0 ? "EPSG:" + std::to_string(crs.code) : crs.name;
}
}  // namespace

std::vector<doc::Id> surfacesOf(const doc::Document& document) {
    std::vector<doc::Id> out;
    auto layers = doc::drawnLayers(document.layers);
    for (auto it = layers.rbegin(); it != layers.rend(); ++it)
        if (it->layer->readsHeights() &&
            std::find(out.begin(), out.end(), it->layer->source) == out.end())
            out.push_back(it->layer->source);
    return out;
}

std::string profileCsv(const std::vector<ProfileRun>& runs, const crs::CrsPtr& crs) {
    const bool isDegrees = crs && crs->isGeographic();
    const std::string behind = crs ? " (" + crsName(*crs) + ")" : std::string();
    std::string out = "distance_m," + io::csvCell((isDegrees ? "longitude" : "x") + behind) + "," +
                      io::csvCell((isDegrees ? "latitude" : "y") + behind);
    for (const ProfileRun& run : runs)
        out += "," + (runs.size() == 1 ? std::string("height_m") : io::csvCell(run.name + "_m"));
    out += "\n";
    const auto rounded = [](double v, double step) {
        const double steps = std::round(v / step);  // divided, not multiplied: 0.1 stays 0.1
        return exactNumber(steps == 0 ? 0 : steps / std::round(1 / step));
    };
    const double place = isDegrees ? 1e-7 : 0.01;
    if (runs.empty()) return out;
    for (std::size_t i = 0; i < runs[0].points.size(); ++i) {
        const auto& p = runs[0].points[i];
        out +=
            rounded(p.distance, 0.01) + "," + rounded(p.at.x, place) + "," + rounded(p.at.y, place);
        for (const ProfileRun& run : runs) {
            const double h = i < run.points.size() ? run.points[i].height : kNaN;
            out += "," + (std::isnan(h) ? std::string() : rounded(h, 0.01));
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

namespace {
bool isTaken(const doc::Document& document, const std::string& name) {
    return std::any_of(document.profiles.begin(), document.profiles.end(),
                       [&](const doc::SavedProfile& p) { return p.name == name; });
}
}  // namespace

std::string newProfileName(const doc::Document& document) {
    for (std::size_t n = document.profiles.size() + 1;; ++n)
        if (const std::string name = "Profile " + std::to_string(n); !isTaken(document, name))
            return name;
}

std::string freeProfileName(const doc::Document& document, const std::string& wanted) {
    if (!isTaken(document, wanted)) return wanted;
    for (int n = 2;; ++n)
        if (const std::string name = wanted + " " + std::to_string(n); !isTaken(document, name))
            return name;
}

}  // namespace ledge::session
