#pragma once
#include "session/source_cache.h"

/// Features made and changed by hand: what the map shows of them, and the edits that say it. Edits
/// are texts for the edit "table-edits"; places on the map are in its CRS, edits in the source's.
namespace ledge::session {

/// A feature in hand: its shape as the source has it, and where its vertices lie on the map, one
/// for one.
struct ShapeInHand {
    doc::Id source = 0;
    FeatureKey key = 0;
    Geometry own, onMap;
    bool isEmpty() const { return own.isEmpty(); }
};
/// Errors: those of reading; NotFound for a key that is not there.
Result<ShapeInHand> shapeInHand(const doc::SourceRef& source, const SourceCache& cache,
                                FeatureKey key, const crs::CrsPtr& mapCrs,
                                const Progress& progress = {});

/// A shape drawn on the map as the source has it. Errors: those between the CRSs; InvalidArgument
/// where a vertex has no place in the source's CRS.
Result<Geometry> inSource(const Geometry& onMap, const crs::CrsPtr& mapCrs,
                          const crs::CrsPtr& sourceCrs);

/// A new feature. Errors: those above; InvalidArgument for a type that the layer does not hold.
Result<std::string> addingEdits(const doc::SourceRef& source, const SourceCache& cache,
                                const Geometry& onMap, const crs::CrsPtr& mapCrs,
                                const Progress& progress = {});
/// Another shape of one feature, in its source's CRS; without any, the feature goes.
std::string shapeEdit(FeatureKey key, const std::optional<Geometry>& own);
/// A feature cut along a line: it keeps its largest piece, the others are new features with its
/// values. Errors: those of splitAlong.
Result<std::string> splittingEdits(const doc::SourceRef& source, const SourceCache& cache,
                                   const std::vector<FeatureKey>& keys, const Geometry& cutOnMap,
                                   const crs::CrsPtr& mapCrs, const Progress& progress = {});
/// Several features as the first of them; areas grow together. Errors: InvalidArgument for fewer
/// than two, or of several types.
Result<std::string> mergingEdits(const doc::SourceRef& source, const SourceCache& cache,
                                 const std::vector<FeatureKey>& keys,
                                 const Progress& progress = {});
/// The parts of features as features of their own, with the same values.
Result<std::string> partingEdits(const doc::SourceRef& source, const SourceCache& cache,
                                 const std::vector<FeatureKey>& keys,
                                 const Progress& progress = {});

/// A length and a bearing as people type them: "120 45", "1.2 km N 45 E", "300ft @ 271.5";
/// metres where no unit is said. Nothing for what is none.
struct TypedLeg {
    double metres = 0, bearing = 0;  ///< degrees clockwise from true north
    bool hasUnit = false;            ///< the length was said with one, so that it can be no place
};
std::optional<TypedLeg> typedLeg(const std::string& typed);
/// Where a leg leads from a place on the map: on the ellipsoid; in the plane without a CRS. Not
/// finite where it leaves the map.
Point endOfLeg(const crs::CrsPtr& mapCrs, Point from, const TypedLeg& leg);

/// A file for features that are to be drawn: one empty layer with a field for a name. Errors: those
/// of writing.
Result<void> writeEmptyLayer(const std::filesystem::path& path, GeometryType type,
                             const crs::CrsPtr& crs);

}  // namespace ledge::session
