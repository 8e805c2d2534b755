#pragma once
#include <span>
#include <string_view>

#include "core/crs/crs.h"

namespace ledge::crs {

/// A ready CRS for maps of the world or of a large part of it, on WGS 84, centred where one likes.
/// Written as "world:KEY", "world:KEY@LON" or, where a latitude counts, "world:KEY@LON,LAT".
struct WorldCrs {
    enum class Keeps { Areas, Shapes, Distances, Balance };
    std::string_view key;
    std::string_view name;
    Keeps keeps = Keeps::Balance;
    Method method = Method::None;
    bool takesLatitude = false;   ///< centred on a point, not only on a meridian
    std::string_view otherNames;  ///< by which it is searched too
};
std::span<const WorldCrs> worldCrss();
/// "equal-area", "conformal", "equidistant", "compromise".
std::string_view nameOf(WorldCrs::Keeps keeps);

/// Null when there is none of this key.
const WorldCrs* worldCrs(std::string_view key);
/// Where a text "world:…" is centred; nothing for other texts.
std::optional<Point> worldCentre(std::string_view text);
/// The text of one centred elsewhere.
std::string worldCrsText(const WorldCrs& crs, Point centre);
/// A text "world:…" centred elsewhere, to tenths of a degree; nothing for other texts.
std::optional<std::string> recentred(std::string_view text, Point lonLat);

/// Errors: NotFound for unknown keys, BadFormat for a centre that cannot be read.
Result<CrsPtr> parseWorldCrs(std::string_view text);

}  // namespace ledge::crs
