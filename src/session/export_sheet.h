#pragma once
#include <filesystem>

#include "carto/sheet_painter.h"
#include "session/source_cache.h"

namespace ledge::session {

struct SheetExport {
    double dpi = 300;
    /// Whether pictures inside a PDF may become JPEG, which is smaller and blurs classes.
    bool mayLoseColours = false;
};

/// Writes a sheet as PNG or JPEG (pixel size = page size x dpi) or PDF (fonts embedded, vectors
/// kept, blended parts flattened at the dpi, pictures without loss), by the suffix. Atomic. The
/// report tells layers that could not be drawn. Errors: Unsupported, LimitExceeded, IoFailure,
/// Cancelled.
Result<carto::MapReport> exportSheet(const doc::Document& document, const doc::Sheet& sheet,
                                     std::shared_ptr<const SourceCache> cache,
                                     const std::filesystem::path& path, const SheetExport& options,
                                     const Progress& progress);

/// A saved view, or where the map looked last, as a picture of a size in pixels.
Result<carto::MapReport> exportView(const doc::Document& document, const doc::MapView& view,
                                    std::shared_ptr<const SourceCache> cache, QSize size,
                                    double dpi, const std::filesystem::path& path,
                                    const Progress& progress);

}  // namespace ledge::session
