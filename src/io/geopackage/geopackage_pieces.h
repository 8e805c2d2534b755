#pragma once
#include "io/geopackage/feature_rows.h"

namespace ledge::io {

/// A layer with keys of SQLite's own in pieces of about so many rows, on as many connections as
/// there are cores; null where its keys lie too far apart, where it is one piece, and where the
/// connections cannot be held to one state of the file (a write-ahead log, a file replaced
/// meanwhile). Whoever cannot have pieces scans.
std::unique_ptr<const TablePieces> piecesOf(const std::filesystem::path& path,
                                            const LayerInfo& layer, const LayerColumns& columns,
                                            std::size_t rows, const Progress& progress);

}  // namespace ledge::io
