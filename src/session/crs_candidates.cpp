#include "session/crs_candidates.h"

#include <algorithm>
#include <map>

#include "core/base/numbers.h"
#include "core/crs/catalogue.h"
#include "core/crs/datum_choices.h"
#include "session/crs_checks.h"

namespace ledge::session {
namespace {
Box boxOf(Point place) {
    Box box;
    if (place.isFinite()) box.add(place);
    return box;
}

// How far from one datum to another leads, in steps that a search may weigh.
struct Distance {
    int rank = 0;  ///< 0: the same datum or some metres, 1: some ten metres, 2: not known
    std::string words;
};

Distance distanceBetween(const crs::Crs& from, const crs::Crs& to, Point place) {
    const auto path = crs::datumPaths(from, to, boxOf(place)).front();
    if (path.isSameDatum) return {};
    if (path.isUnknown) return {2, "no operation known"};
    if (path.isFromDefinition || !std::isfinite(path.accuracyMetres)) return {2, "not reviewed"};
    return {path.accuracyMetres <= 5 && !path.isOutsideArea ? 0 : 1, path.accuracyText()};
}

std::string areaOf(const crs::DatumPath& path) {
    if (path.steps.empty()) return {};
    const crs::DatumPath::Step* smallest = &path.steps.front();
    for (const auto& step : path.steps)
        if (step.operation.area.squareDegrees() < smallest->operation.area.squareDegrees())
            smallest = &step;
    return areaInShort(smallest->operation.area.name);
}
}  // namespace

std::vector<CrsCandidate> findCrs(const std::string& typed, Point place, const crs::CrsPtr& from,
                                  std::size_t limit) {
    struct Ranked {
        CrsCandidate candidate;
        int rank = 0;
    };
    std::vector<Ranked> found;
    std::map<int, Distance> distances;  // by geographic code: many stand on one datum
    std::string code = lowered(trimmed(typed));
    if (code.starts_with("epsg:")) code.erase(0, 5);
    for (const auto* entry : crs::Catalogue::shipped().find(typed, limit)) {
        Ranked one{
            {entry->text, !place.isFinite() || crs::AreaOfUse{{}, entry->area}.contains(place), {}},
            0};
        const auto definition = crs::parseCrs(entry->text);
        if (definition && *definition && from) {
            auto& known = distances;
            auto it = known.find((*definition)->geographicCode);
            if (it == known.end())
                it = known
                         .emplace((*definition)->geographicCode,
                                  distanceBetween(*from, **definition, place))
                         .first;
            one.rank = it->second.rank;
            one.candidate.accuracy = it->second.words;
        }
        if (!one.candidate.isForPlace) one.rank += 10;
        if (entry->code != 0 && code == std::to_string(entry->code)) one.rank = -1;
        found.push_back(std::move(one));
    }
    std::stable_sort(found.begin(), found.end(),
                     [](const Ranked& a, const Ranked& b) { return a.rank < b.rank; });
    std::vector<CrsCandidate> out;
    for (Ranked& one : found) out.push_back(std::move(one.candidate));
    return out;
}

std::vector<DatumOffer> datumOffers(const crs::CrsPtr& from, const crs::CrsPtr& to, Point place) {
    if (!from || !to || crs::hasSameDatum(*from, *to)) return {};
    crs::Crs plainFrom = *from, plainTo = *to;
    plainFrom.choices.reset(), plainTo.choices.reset();
    const auto paths = crs::datumPaths(plainFrom, plainTo, boxOf(place));
    std::vector<DatumOffer> out{
        {"", "The best here: " + paths.front().text(), areaOf(paths.front())}};
    for (const auto& path : paths)
        out.push_back({crs::choiceText(path), path.text(), areaOf(path)});
    return out;
}

}  // namespace ledge::session
