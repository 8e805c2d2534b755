#pragma once
#include <array>
#include <string_view>

#include "core/derive/joins.h"

namespace ledge::derive {

/// Each feature with the area within so many metres of it. On the ellipsoid the distance is true
/// around every place: it is made in a plane centred on the feature (azimuthal equidistant), long
/// ones piece by piece; in the plane it is so many units of the CRS. Below 0 areas shrink; what
/// nothing is left of has no shape. `steps` sides make a full turn. Errors: Cancelled.
Result<FeatureTable> buffered(const FeatureTable& table, double metres, bool isPlanar, int steps,
                              Remarks& remarks, const Progress& progress = {});

/// What of the features lies in the areas of another table, in the same CRS. Errors: Cancelled.
Result<FeatureTable> clippedBy(const FeatureTable& table, const FeatureTable& areas,
                               Remarks& remarks, const Progress& progress = {});

/// Features with the same value of a field made one, the numbers of other fields summed up; without
/// a field all become one. Areas grow together; points and lines become several in one.
/// Errors: those of fieldPlace; Cancelled.
Result<FeatureTable> dissolved(const FeatureTable& table, const std::string& field,
                               Remarks& remarks, const Progress& progress = {});

enum class NewShape : std::uint8_t { Centroid, Inside, Hull, Outline, Area };
inline constexpr std::array<std::string_view, 5> kNewShapeNames{"centroid", "inside", "hull",
                                                                "outline", "area"};
/// Each feature with another shape: its centre of gravity, a point well inside, its convex hull,
/// the lines around an area, or the area that a line encloses (its ends joined). What has none
/// loses its shape, and that is told. Errors: Cancelled.
Result<FeatureTable> reshaped(const FeatureTable& table, NewShape shape, Remarks& remarks,
                              const Progress& progress = {});

/// Points from two fields of coordinates, in `crs`. Rows without both have no shape, which is told.
/// Errors: those of fieldPlace; InvalidArgument for fields that are no numbers.
Result<FeatureTable> pointsFrom(const FeatureTable& table, const std::string& xField,
                                const std::string& yField, crs::CrsPtr crs, Remarks& remarks);

/// Points in areas: `count` of them at random in each (uniformly in the plane of the CRS, the same
/// ones for the same seed), or a lattice `spacing` apart over all. Each has the fields of its area.
/// Errors: InvalidArgument for none of both, or too many points; Cancelled.
Result<FeatureTable> scattered(const FeatureTable& areas, int count, double spacing,
                               std::uint64_t seed, const Progress& progress = {});

}  // namespace ledge::derive
