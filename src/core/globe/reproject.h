#pragma once
#include "core/crs/transformation.h"
#include "core/feature/feature.h"
#include "core/globe/mapping.h"

namespace ledge::globe {

struct Reprojecting {
    double tolerance = 0.1;  ///< metres that sides may stray from their true course
    bool always = false;     ///< also cut where both CRSs are the same
    bool isStrict = false;   ///< what lies outside is an error
};

struct Reprojected {
    FeatureTable table;       ///< without the features that lie wholly outside
    std::size_t outside = 0;  ///< how many those are
    std::size_t cut = 0;      ///< of how many something was cut away or apart
    std::size_t clamped = 0;  ///< of how many latitudes beyond a pole were taken for the pole

    /// "12 of 255 features lie outside UTM zone 29N and are left out; 3 are cut at its edge"; empty
    /// when there is nothing to tell.
    std::string remark(std::size_t all, bool isStrict = false) const;
};

/// The same features in another CRS, on all cores: cut where its map is torn or ends, sides as
/// straight as they were in the old one.
/// Errors: Cancelled; InvalidArgument when all features lie outside, or any when strict; those of
/// Transformation::between.
Result<Reprojected> reprojected(const FeatureTable& table, const crs::CrsPtr& to,
                                const Reprojecting& how = {}, const Progress& progress = {});

/// What parts of one whole are reprojected by. Errors: those of Transformation::between.
Result<Mapping> mappingFor(const crs::CrsPtr& from, const crs::CrsPtr& to, const Reprojecting& how,
                           const Whole& whole);
/// One part of many: what lies outside is left out and counted. Errors: Cancelled.
Result<Reprojected> reprojectedPart(const FeatureTable& part, const Mapping& mapping,
                                    const Reprojecting& how, const Progress& progress = {});
/// Whether what lies outside is an error: all of the `placed` features that have a geometry, or any
/// when strict. `sum` counts over all parts, of `all` features; its table tells name and CRS.
Result<void> checkOutside(const Reprojected& sum, std::size_t placed, std::size_t all,
                          bool isStrict);

}  // namespace ledge::globe
