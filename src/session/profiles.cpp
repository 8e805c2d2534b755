#include "session/profiles.h"

#include <algorithm>

#include "core/base/numbers.h"
#include "io/files/csv.h"

namespace ledge::session {
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
    std::string out = "distance,x,y";
    for (const ProfileRun& run : runs)
        out += runs.size() == 1 ? ",height" : "," + io::csvCell(run.name);
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
