#pragma once
#include "core/crs/transformation.h"
#include "core/raster/raster_source.h"

namespace ledge::globe {

/// Where a raster lies on the map of another CRS.
struct RasterExtent {
    Box box;             ///< in the map's CRS
    std::string remark;  ///< when that is less than the raster: to what it was kept, and why
};

/// The box of what of a raster lies inside the domain of a CRS; where the raster covers more of the
/// earth than the CRS is meant for, of what lies inside its area of use. Asked of many positions
/// all over the raster, never of its corners alone. Errors: InvalidArgument when nothing of it lies
/// inside.
Result<RasterExtent> extentOn(const RasterInfo& info, const crs::CrsPtr& map,
                              const crs::Transformation& toMap);

/// The box of all that a map of the whole earth, or of half of it, shows; empty for maps of less.
Box wholeMap(const crs::CrsPtr& map);

}  // namespace ledge::globe
