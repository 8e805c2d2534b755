#pragma once
#include "core/crs/crs.h"

namespace ledge::globe {

/// Longitude and latitude from Greenwich on the datum of a map: what domains are told in.
inline crs::CrsPtr degreesOf(const crs::CrsPtr& map) {
    auto out = std::make_shared<crs::Crs>(crs::geographicBase(*map));
    out->primeMeridian = 0;
    out->code = 0;
    return out;
}

}  // namespace ledge::globe
