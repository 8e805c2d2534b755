#pragma once
#include "core/raster/raster_source.h"
#include "core/terrain/hillshade.h"

namespace ledge::terrain {

/// How heights are taken for a derivative.
struct Surface {
    RasterPtr dem;
    double heightScale = 1;  ///< metres in one unit of its first band, times any exaggeration
    GradientMethod method = GradientMethod::Horn;
};

/// Derivatives of a DEM as rasters of the same grid, computed window by window when they are read,
/// with the rim of heights around it that they need; the same cells for any window. Ground sizes
/// come from the ellipsoid for every CRS (see Ground), on turned, mirrored and sheared grids too.
/// Slope: float32, nodata -9999.
RasterPtr slopeRaster(const Surface& surface, SlopeUnit unit);
/// Degrees clockwise from true north, flat ground without data: float32, nodata -9999.
RasterPtr aspectRaster(const Surface& surface);
/// 1 to 255, nodata 0: 8-bit. Azimuths of lights count from the north of the DEM's CRS, so that the
/// file looks like the map in that CRS. With `relief` (highest less lowest height, in metres) each
/// light counts only where it reaches over the terrain between; cells in the shadow of some lights
/// are darkened by their share.
RasterPtr hillshadeRaster(const Surface& surface, std::vector<Light> lights,
                          std::optional<double> relief = {});

}  // namespace ledge::terrain
