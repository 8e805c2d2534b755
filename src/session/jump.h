#pragma once
#include <string>
#include <vector>

#include "session/source_cache.h"

namespace ledge::session {

/// Something the jump field can go to.
struct JumpTarget {
    enum class Kind { Coordinate, Place, Layer, View, Sheet, Crs };
    Kind kind = Kind::Place;
    std::string text;    ///< what matched
    std::string detail;  ///< what it is, in words
    Point at;            ///< in the map's CRS, for coordinates and places
    doc::Id id = 0;      ///< layer, view or sheet
    std::string crs;     ///< for CRSs
};

/// Targets that match a typed text, best first: a coordinate (see typedPosition), views, sheets,
/// layers, features by their name field, and a CRS as EPSG:n. At most `limit`.
std::vector<JumpTarget> jumpTargets(const doc::Document& document, const SourceCache& sources,
                                    const crs::CrsPtr& mapCrs, const std::string& typed,
                                    std::size_t limit = 12);

/// A typed scale: "60000", "1:60 000", "1 : 60k"; its denominator.
std::optional<double> parseScale(const std::string& typed);

}  // namespace ledge::session
