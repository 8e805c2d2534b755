#pragma once
#include "core/feature/feature_table.h"

/// Tables made from tables.
namespace ledge::derive {

/// What whoever asked should know: what did not match, what was left out.
using Remarks = std::vector<std::string>;

/// A column's place by its name; in another case when only one is called so.
/// Errors: NotFound with those that there are.
Result<std::size_t> fieldPlace(const LayerInfo& layer, const std::string& name);

/// The first table with columns of the second, row by row where two fields hold the same value.
/// Numbers and texts that say the same number are the same; so are texts that differ only in case
/// or in blanks around them, which is told. A row that matches several takes the first of them, and
/// that is told; rows without a match on either side are counted. Joined columns that the first
/// table has already get the second's name before theirs.
/// `columns` of the second; all but its key when empty.
/// Errors: those of fieldPlace; InvalidArgument when nothing matches at all; Cancelled.
Result<FeatureTable> joined(const FeatureTable& table, const std::string& key,
                            const FeatureTable& other, const std::string& otherKey,
                            const std::vector<std::string>& columns, Remarks& remarks,
                            const Progress& progress = {});

/// The areas of a table with what points of another, in the same CRS, come to within each: their
/// number as `count`, and for each of `fields` (numbers) the sum and mean, as sum_NAME and
/// mean_NAME. Points on the boundary of two areas count in the first.
/// Errors: those of fieldPlace; InvalidArgument for fields that are no numbers; Cancelled.
Result<FeatureTable> withPointsWithin(const FeatureTable& areas, const FeatureTable& points,
                                      const std::vector<std::string>& fields, Remarks& remarks,
                                      const Progress& progress = {});

/// A table with the columns of the nearest feature of another, whatever its CRS, and its distance
/// in metres on the ellipsoid as `distance_m`; missing where none lies within `most` metres.
/// Errors: those of Nearness and fieldPlace; Cancelled.
Result<FeatureTable> withNearest(const FeatureTable& table, const FeatureTable& other,
                                 const std::vector<std::string>& columns, double most,
                                 Remarks& remarks, const Progress& progress = {});

}  // namespace ledge::derive
