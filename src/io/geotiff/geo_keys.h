#pragma once
#include <cstdint>
#include <map>
#include <string>
#include <vector>

#include "core/crs/crs.h"

namespace ledge::io {

/// The GeoTIFF key directory (OGC 19-008r4) in its three tags' raw form.
struct GeoKeyTags {
    std::vector<std::uint16_t> directory;  ///< tag 34735
    std::vector<double> doubles;           ///< tag 34736
    std::string ascii;                     ///< tag 34737
};

struct GeoKeys {
    crs::CrsPtr crs;
    bool pixelIsPoint = false;
    std::string heightUnit;          ///< "metre" or "foot" when the keys say
    std::vector<std::string> notes;  ///< what could not be understood, in words
};

/// Never fails: what cannot be used becomes a note and an undeclared CRS.
GeoKeys readGeoKeys(const GeoKeyTags& tags);
/// Keys for a CRS: by EPSG code, or user-defined with its parameters; and for heights in "metre" or
/// "foot".
GeoKeyTags writeGeoKeys(const crs::Crs& crs, const std::string& heightUnit = {});
/// Whether the standard has keys for a CRS; the others are told by a .prj beside the file.
bool hasGeoKeys(const crs::Crs& crs);

}  // namespace ledge::io
