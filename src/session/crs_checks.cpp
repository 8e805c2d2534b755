#include "session/crs_checks.h"

#include <algorithm>
#include <set>

#include "core/base/numbers.h"
#include "core/base/units.h"
#include "core/crs/catalogue.h"
#include "core/crs/geodesic.h"
#include "core/crs/transformation.h"

namespace ledge::session {
namespace {
Box lonLatBox(const crs::CrsPtr& crs, const Box& extent) {
    const auto way = crs::Transformation::between(crs, crs::crsFromCode(4326).value_or(nullptr));
    return way ? way->forward(extent) : Box{};
}

bool fitsDegrees(const Box& e) {
    // Cells whose middles stand on a pole reach half a cell beyond it.
    constexpr double kHalfCell = 1.5;
    return e.xMin >= -360 - kHalfCell && e.xMax <= 360 + kHalfCell && e.yMin >= -90 - kHalfCell &&
           e.yMax <= 90 + kHalfCell;
}

double area(const Box& box) { return box.isEmpty() ? 0 : box.width() * box.height(); }
}  // namespace

std::optional<CrsConcern> crsConcern(const crs::CrsPtr& crs, const Box& extent) {
    using Kind = CrsConcern::Kind;
    if (extent.isEmpty()) return {};
    const bool looksLikeDegrees = fitsDegrees(extent);
    if (!crs)
        return CrsConcern{Kind::Undeclared, "no CRS",
                          looksLikeDegrees
                              ? "The file does not say its CRS. Its coordinates look like degrees."
                              : "The file does not say its CRS. Its coordinates are too large for "
                                "degrees: they are metres or feet of a projected CRS."};
    if (crs->isGeographic() && !looksLikeDegrees)
        return CrsConcern{Kind::TooLargeForDegrees, "not degrees",
                          crs->name + " is in degrees, but these coordinates are too large for "
                                      "that. Declare the projected CRS they are in."};
    // A place within a kilometre of the origin of a projected CRS is unlikely; degrees are common.
    if (!crs->isGeographic() && looksLikeDegrees && crs->unit.size > 0.1)
        return CrsConcern{Kind::LooksLikeDegrees, "looks like degrees",
                          "These coordinates look like degrees, but " + crs->name + " is in " +
                              crs->unit.name + "s. Declare a geographic CRS."};
    if (crs->ownOperation) {
        crs::Crs plain = *crs;
        plain.ownOperation.reset();
        const Box there = lonLatBox(std::make_shared<crs::Crs>(plain), extent);
        const crs::AreaOfUse& cover = crs->ownOperation->area;
        if (!there.isEmpty() && !cover.contains({there.xMin, there.yMin}) &&
            !cover.contains({there.xMax, there.yMax}))
            return CrsConcern{Kind::OutsideGrid, "outside its grid",
                              "The grid of shifts " + cover.name + " covers " +
                                  formatDegrees(cover.box.yMin, true) + " to " +
                                  formatDegrees(cover.box.yMax, true) + ", " +
                                  formatDegrees(cover.box.xMin, false) + " to " +
                                  formatDegrees(cover.box.xMax, false) +
                                  ", not these data. Drop it, or choose another."};
    }
    if (!crs->area || crs->area->box.isEmpty()) return {};
    const Box there = lonLatBox(crs, extent);
    if (there.isEmpty())
        return CrsConcern{Kind::OutsideArea, "outside its CRS",
                          "Nothing of it lies within the domain of " + crs->name +
                              ". Declare the CRS it is really in."};
    const double rim = std::max(0.5, 0.02 * crs->area->box.width());
    crs::AreaOfUse area = *crs->area;
    area.box = area.box.grown(rim);
    if (area.overlaps(there)) return {};
    return CrsConcern{Kind::OutsideArea, "outside its CRS",
                      "It lies at " + formatDegrees(there.centre().y, true) + " " +
                          formatDegrees(there.centre().x, false) + ", outside the area " +
                          crs->name + " is meant for: " + areaInShort(crs->area->name) +
                          ". If that is wrong, declare the CRS it is really in."};
}

std::vector<CrsGuess> guessCrs(const Box& extent, const Box& place, const crs::CrsPtr& mapCrs,
                               std::span<const int> codesInUse) {
    std::vector<CrsGuess> out;
    if (extent.isEmpty() || place.isEmpty()) return out;
    const auto& catalogue = crs::Catalogue::shipped();
    std::vector<int> candidates(codesInUse.begin(), codesInUse.end());
    if (mapCrs) candidates.insert(candidates.begin(), {mapCrs->code, mapCrs->geographicCode});
    candidates.push_back(4326);
    for (int zone = 1; zone <= 60; ++zone)
        candidates.insert(candidates.end(), {32600 + zone, 32700 + zone});
    for (const auto* entry : catalogue.suitable(place.centre(), 60))
        candidates.push_back(entry->code);
    candidates.insert(candidates.end(), {3857, 3034, 3035});
    const int mapDatum = mapCrs ? mapCrs->geographicCode : 4326;
    struct Ranked {
        CrsGuess guess;
        double rank;
    };
    std::vector<Ranked> found;
    std::set<int> tried;
    for (std::size_t i = 0; i < candidates.size(); ++i) {
        if (candidates[i] == 0 || !tried.insert(candidates[i]).second) continue;
        const auto crs = catalogue.byCode(candidates[i]);
        if (!crs) continue;
        if ((*crs)->isGeographic() && !fitsDegrees(extent)) continue;
        const Box there = lonLatBox(*crs, extent);
        if (there.isEmpty() || area(there) > 50 * area(place) + 4) continue;
        const double whole = area(there);
        const double share = whole > 0 ? area(there.intersected(place)) / whole
                                       : (place.contains(there.centre()) ? 1 : 0);
        if (share < 0.2) continue;
        // A datum other than the map's moves things by a hundred metres: second choice.
        const double rank = share + ((*crs)->geographicCode == mapDatum ? 0.3 : 0) -
                            0.0001 * static_cast<double>(i);
        found.push_back({{candidates[i], (*crs)->name, share}, rank});
    }
    std::sort(found.begin(), found.end(),
              [](const Ranked& a, const Ranked& b) { return a.rank > b.rank; });
    for (std::size_t i = 0; i < std::min<std::size_t>(4, found.size()); ++i)
        out.push_back(found[i].guess);
    return out;
}

std::string misplacement(const Box& extent, const crs::CrsPtr& mapCrs, const Box& place) {
    if (!mapCrs || extent.isEmpty() || place.isEmpty()) return {};
    const Box there = lonLatBox(mapCrs, extent);
    if (there.isEmpty())
        return "Taken as coordinates of the map (" + mapCrs->name + ") they lie nowhere on earth.";
    if (there.intersects(place)) return {};
    const auto line = crs::Geodesic(mapCrs->ellipsoid).inverse(place.centre(), there.centre());
    constexpr const char* kWinds[] = {"north", "north-east", "east", "south-east",
                                      "south", "south-west", "west", "north-west"};
    const int wind = static_cast<int>(std::lround(line.bearingStart / 45) + 8) % 8;
    return "Taken as coordinates of the map (" + mapCrs->name + ") they lie " +
           formatLength(line.distance, LengthUnit::Metric) + " " + kWinds[wind] +
           " of the other data.";
}

CrsChange crsChange(const crs::CrsPtr& from, const crs::CrsPtr& to, Point lonLat) {
    CrsChange out;
    if (!to) {
        out.lines.push_back("Plain local coordinates: nothing is reprojected.");
        return out;
    }
    const auto unitOf = [](const crs::CrsPtr& crs) {
        return !crs ? std::string("none") : crs->isGeographic() ? "degree" : crs->unit.name;
    };
    out.lines.push_back(
        "Unit: " + unitOf(to) +
        (unitOf(from) == unitOf(to) ? std::string() : " (now " + unitOf(from) + ")"));
    if (lonLat.isFinite()) {
        const crs::Distortion d = crs::distortionAt(*to, lonLat);
        if (!std::isfinite(d.areal)) {
            out.warning = "The middle of the map lies outside the domain of this projection.";
        } else {
            const auto factor = [](double v) { return formatNumber(v, {4, false}); };
            out.lines.push_back(std::abs(d.largest - d.smallest) < 5e-5
                                    ? "Lengths in the middle of the map: × " + factor(d.largest)
                                    : "Lengths in the middle of the map: × " + factor(d.smallest) +
                                          " to " + factor(d.largest));
            const double percent = (d.areal - 1) * 100;
            out.lines.push_back("Areas there: " + std::string(percent > 0 ? "+" : "") +
                                formatNumber(percent, {std::abs(percent) < 10 ? 2 : 0, false}) +
                                " %");
            if (!to->isGeographic() && std::abs(d.convergence) >= 0.05)
                out.lines.push_back(
                    "Grid north: " + formatNumber(std::abs(d.convergence), {1, false}) + "° " +
                    (d.convergence > 0 ? "east" : "west") + " of true north");
        }
        if (to->area && !to->area->contains(lonLat) && out.warning.empty())
            out.warning = "Meant for another place: " + areaInShort(to->area->name) + ".";
    }
    if (from && !crs::hasSameDatum(*from, *to)) {
        Box place;
        place.add(lonLat);
        out.lines.push_back("Between the datums: " +
                            crs::datumPaths(*from, *to, place).front().text());
    }
    return out;
}

std::string areaInShort(std::string_view name) {
    constexpr std::size_t kMost = 80;
    const auto colon = name.find(": ");
    std::string out(colon != std::string_view::npos && colon > 3 ? name.substr(0, colon) : name);
    if (out.size() <= kMost) return out;
    // At a gap between words, and not within a letter of several bytes.
    auto end = out.find_last_of(" ;,.", kMost);
    if (end == std::string::npos || end < kMost / 2) end = kMost;
    while (end > 0 && (static_cast<unsigned char>(out[end]) & 0xC0) == 0x80) --end;
    out.erase(end);
    while (!out.empty() && std::string_view(" ;,.-").find(out.back()) != std::string_view::npos)
        out.pop_back();
    return out + " …";
}

std::string crsInWords(const crs::Crs& crs) {
    std::string out = crs.name;
    if (crs.code != 0) out += " (EPSG:" + std::to_string(crs.code) + ")";
    out += "\n" + crs.kindAndUnit() + " · datum " + crs.datumName;
    if (crs.area && !crs.area->name.empty()) out += "\nfor " + areaInShort(crs.area->name);
    return out;
}

}  // namespace ledge::session
