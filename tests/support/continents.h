#pragma once
#include <cmath>
#include <random>

#include "core/crs/method_table.h"
#include "core/feature/feature_table.h"
#include "core/globe/domain.h"

/// An invented world whose shores are known in closed form: each land is what lies within a radius
/// of its middle, the radius a wave about the azimuth. So whether a place is on land is told
/// without any polygon.
namespace ledge::test {

struct Land {
    const char* name;
    Point middle;
    double radius;  ///< degrees of arc
    double waves;   ///< share of the radius
    bool hasLake = false;

    double shore(double azimuth) const {
        const double a = azimuth * kPi / 180;
        return radius * (1 + waves * (0.6 * std::sin(3 * a + 1) + 0.4 * std::cos(5 * a)));
    }
    bool holds(Point p) const {
        const double arc = globe::arcBetween(middle, p);
        if (hasLake && arc < radius * 0.3) return false;
        return arc < shore(globe::azimuthTo(middle, p));
    }
    /// How far a place is from a shore, at least, degrees of arc, roughly.
    double clearance(Point p) const {
        const double arc = globe::arcBetween(middle, p);
        const double outer = std::abs(arc - shore(globe::azimuthTo(middle, p)));
        return 0.6 * (hasLake ? std::min(outer, std::abs(arc - radius * 0.3)) : outer);
    }
};

/// Over the antimeridian, over and around both poles, with a lake and what lies in it.
inline const std::vector<Land>& lands() {
    static const std::vector<Land> all{
        {"Southcap", {20, -90}, 22, 0.2},          {"Northcap", {0, 90}, 6, 0.3},
        {"Overpole", {40, 80}, 16, 0.1},           {"Dateline", {178, 12}, 18, 0.3},
        {"Small Dateline", {-179.5, -17}, 1, 0.2}, {"Midland", {15, 20}, 25, 0.25, true},
        {"Lake Isle", {15, 20}, 4, 0.2},           {"Westland", {-95, 5}, 24, 0.3},
        {"Eastland", {105, 45}, 22, 0.3},          {"Far South", {-130, -45}, 14, 0.2},
        {"Down Under", {130, -25}, 13, 0.2}};
    return all;
}

/// Its polygons, longitudes from -180 to 180 or, for `from0`, from 0 to 360, jumping where they
/// must; rings run either way.
inline FeatureTable worldOf(int corners, bool from0 = false) {
    FeatureList list;
    list.info.name = "lands";
    list.info.crs = *crs::crsFromCode(4326);
    list.info.geometry = GeometryType::Polygon;
    list.info.fields = {{"name", FieldType::Text}};
    FeatureKey key = 0;
    for (const Land& land : lands()) {
        const auto ring = [&](const auto& radius, bool isTurned) {
            std::vector<Point> out;
            for (int i = 0; i < corners; ++i) {
                const double azimuth = (isTurned ? -360.0 : 360.0) * i / corners;
                Point p = globe::arcFrom(land.middle, azimuth, radius(azimuth));
                p.x = std::remainder(p.x, 360.0);
                if (from0 && p.x < 0) p.x += 360;
                out.push_back(p);
            }
            out.push_back(out.front());
            return out;
        };
        std::vector<std::vector<Point>> rings{
            ring([&](double a) { return land.shore(a); }, key % 2 == 0)};
        if (land.hasLake) rings.push_back(ring([&](double) { return land.radius * 0.3; }, true));
        list.features.push_back({++key, Geometry::polygon(rings), {std::string(land.name)}});
    }
    return FeatureTable(std::move(list));
}

/// A CRS of each method, on WGS 84, centred where one likes.
inline crs::CrsPtr crsOf(const crs::MethodInfo& info, Point centre) {
    auto out = std::make_shared<crs::Crs>(**crs::crsFromCode(4326));
    out->code = 0;
    out->name = info.name;
    out->method = info.method;
    out->isWestward = info.isWestward, out->isSouthward = info.isSouthward;
    auto& p = out->parameters;
    using crs::Method;
    p.latitudeOfOrigin = centre.y;
    p.centralMeridian = centre.x;
    p.standardParallel1 = centre.y;
    p.standardParallel2 = centre.y + 10;
    p.azimuth = 35, p.rectifiedGridAngle = 35;
    p.pseudoParallel = 78.5;
    p.latitude1 = centre.y - 5, p.longitude1 = centre.x - 4;
    p.latitude2 = centre.y + 6, p.longitude2 = centre.x + 4;
    if (info.method == Method::Krovak)
        p.latitudeOfOrigin = 49.5, p.azimuth = 30.28813972222222;
    if (info.method == Method::PolarStereographicA) p.latitudeOfOrigin = 90;
    if (info.method == Method::WinkelTripel) p.standardParallel1 = 50.4597762;
    return out;
}

inline Point randomPlace(std::mt19937& random) {
    std::uniform_real_distribution<double> unit(-1, 1);
    return {180 * unit(random), std::asin(unit(random)) * 180 / kPi};
}

}  // namespace ledge::test
