#pragma once
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/crs/crs.h"

namespace ledge::session {

/// What is doubtful about the CRS of some data.
struct CrsConcern {
    enum class Kind { Undeclared, LooksLikeDegrees, TooLargeForDegrees, OutsideArea, OutsideGrid };
    Kind kind = Kind::Undeclared;
    std::string badge;  ///< in a few words, for a strip
    std::string text;   ///< what, why and how to mend, for a bench page
};
/// From the extent in the data's own CRS; nothing when all is well.
std::optional<CrsConcern> crsConcern(const crs::CrsPtr& crs, const Box& extent);

/// A CRS in which data would lie where the rest of the project lies.
struct CrsGuess {
    int code = 0;
    std::string name;
    double share = 0;  ///< of the data's extent that falls on the rest, 0 to 1
};
/// Guesses for an extent of unknown CRS: those in use in the project, geographic and projected ones
/// meant for the place, and the UTM zones, tried in turn; best first, at most four. `place`:
/// longitudes and latitudes of the rest of the project; empty: no guess.
std::vector<CrsGuess> guessCrs(const Box& extent, const Box& place, const crs::CrsPtr& mapCrs,
                               std::span<const int> codesInUse);

/// How far data of unknown CRS lie from the rest of a project (longitudes and latitudes) when their
/// coordinates are taken as the map's own, in words; empty when they lie on it.
std::string misplacement(const Box& extent, const crs::CrsPtr& mapCrs, const Box& place);

/// What another CRS for a map changes, a line each: unit, distortion at a place (longitude and
/// latitude), the operation between the datums with its accuracy, whether the place is outside the
/// area it is meant for.
struct CrsChange {
    std::vector<std::string> lines;
    std::string warning;  ///< empty when all is well
};
CrsChange crsChange(const crs::CrsPtr& from, const crs::CrsPtr& to, Point lonLat);

/// The name of an area of use without its list of countries, at most some 80 letters.
std::string areaInShort(std::string_view name);

/// A CRS in words for a bench page: name, kind and unit, datum, area of use, a line each.
std::string crsInWords(const crs::Crs& crs);

}  // namespace ledge::session
