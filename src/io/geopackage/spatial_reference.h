#pragma once
#include <string>
#include <vector>

#include "core/crs/crs.h"
#include "io/geopackage/database.h"

namespace ledge::io {

/// The CRS of a row of gpkg_spatial_ref_sys; undeclared for the reserved ids 0 and -1, and, with a
/// note, for texts that cannot be used.
crs::CrsPtr spatialReference(const Database& database, std::int64_t id,
                             std::vector<std::string>& notes);

}  // namespace ledge::io
