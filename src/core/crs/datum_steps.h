#pragma once
#include "core/crs/datum_operations.h"

namespace ledge::crs {

/// A geocentric position after an operation, or before it; metres. Null operations, rotations of
/// the longitude and grids leave it as it is: those work on longitude and latitude, if at all.
/// Molodensky-Badekas: X' = T + P + M (X - P) about the pivot P (EPSG 1034, 1061).
Geocentric applied(const DatumOperation& operation, Geocentric position, bool isInverse);

}  // namespace ledge::crs
