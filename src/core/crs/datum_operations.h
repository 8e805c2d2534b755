#pragma once
#include <memory>
#include <span>
#include <string>
#include <vector>

#include "core/crs/crs.h"

namespace ledge::crs {

class ShiftGrid;

/// One operation between two geographic CRSs, in the direction source to target.
struct DatumOperation {
    enum class Kind {
        Null,               ///< the datums count as one
        GeocentricShift,    ///< three or seven parameters between geocentric coordinates
        MolodenskyBadekas,  ///< seven parameters about a pivot
        LongitudeRotation,  ///< another prime meridian, nothing else
        Grid,               ///< a grid of shifts from a file
    };
    int code = 0;  ///< EPSG code, 0 where there is none
    std::string name;
    int source = 0, target = 0;  ///< codes of geographic CRSs
    Kind kind = Kind::Null;
    Helmert shift;  ///< rotations turned into the position vector convention
    Geocentric pivot;
    double accuracyMetres = kNaN;  ///< as stated; NaN unknown
    AreaOfUse area;
    bool isConfirmed = false;  ///< an independent source agrees
    std::shared_ptr<const ShiftGrid> grid;

    /// "geocentric translation", "7-parameter (position vector)", …
    std::string methodText() const;
};

/// The reviewed operations shipped with the program.
std::span<const DatumOperation> reviewedOperations();

/// Operations one after the other, from one datum to another.
struct DatumPath {
    struct Step {
        DatumOperation operation;
        bool isInverse = false;
    };
    std::vector<Step> steps;
    double accuracyMetres = 0;      ///< root sum square of the steps; NaN when one is unknown
    bool isUnknown = false;         ///< no operation: latitude and longitude are taken as they are
    bool isChosen = false;          ///< by the user, for this pair of datums
    bool isOutsideArea = false;     ///< the operations are meant for another place
    bool isOwn = false;             ///< chosen by the user for these data
    bool isFromDefinition = false;  ///< a shift listed in the definition itself, not reviewed
    bool isSameDatum = false;

    /// "ED50 to WGS 84 (1), 10 m" in words for people.
    std::string text() const;
    /// "±10 m", "accuracy unknown".
    std::string accuracyText() const;
};

/// Every way from one datum to the other, best first: what was chosen (see DatumChoices), then
/// those meant for the place before others, then by accuracy. Never empty: taking latitude and
/// longitude as they are, or the single "same datum", is always there. `place` in degrees; when not
/// given, what the areas of use of both CRSs share. `grids` are operations of the user's own.
std::vector<DatumPath> datumPaths(const Crs& from, const Crs& to, const Box& place = {},
                                  std::span<const DatumOperation> grids = {});

}  // namespace ledge::crs
