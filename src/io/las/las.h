#pragma once
#include "core/base/progress.h"
#include "core/feature/feature.h"

namespace ledge::io {

/// More points than this are not looked at one by one.
inline constexpr std::int64_t kMostPointsShown = 1'000'000;

/// Opens a point cloud (ASPRS LAS 1.0 to 1.4, uncompressed) with heights and the fields class,
/// intensity and return. Of more than kMostPointsShown points, the first layer is every so manieth
/// one, as its name says, and the second all of them, which only streaming is meant for. Points
/// that are marked as withheld are left out. The CRS is that of its WKT or GeoTIFF keys.
/// Errors: BadFormat; Unsupported for compressed points.
Result<FeatureSourcePtr> openLas(const std::filesystem::path& path);

}  // namespace ledge::io
