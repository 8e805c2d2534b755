#pragma once
#include "core/raster/expression.h"
#include "core/raster/raster_source.h"

namespace ledge {

/// A band of a raster under the name that an expression knows it by.
struct NamedBand {
    std::string name;
    RasterPtr raster;
    int band = 0;  ///< from 0
};

/// An expression over bands as a float raster, computed when it is read. Its grid is that of the
/// first band; rasters on other grids or in other CRSs are brought to it, bilinear.
/// Errors: those of Expression::parse; InvalidArgument for a raster whose CRS is not known when
/// another's is, or a band that is not there.
Result<RasterPtr> calculatedRaster(const std::string& expression, std::vector<NamedBand> bands);

}  // namespace ledge
