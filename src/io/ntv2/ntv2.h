#pragma once
#include <filesystem>

#include "core/crs/datum_operations.h"
#include "core/crs/shift_grid.h"

namespace ledge::io {

/// Reads a binary NTv2 file of latitude and longitude shifts (.gsb), either byte order.
/// Errors: NotFound, BadFormat with what does not fit, LimitExceeded.
Result<crs::ShiftGrid> readShiftGrid(const std::filesystem::path& path);

/// The operation that a grid file stands for, from one geographic CRS to another, meant for the
/// area it covers.
Result<crs::DatumOperation> gridOperation(const std::filesystem::path& path, int source,
                                          int target);

}  // namespace ledge::io
