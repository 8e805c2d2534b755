#pragma once
#include <filesystem>

#include "carto/sheet/series_pages.h"
#include "carto/sheet_painter.h"
#include "session/export/sheet_formats.h"
#include "session/source_cache.h"

namespace ledge::session {

struct SheetExport {
    double dpi = 300;
    /// Whether pictures inside a PDF may become JPEG, which is smaller and blurs classes.
    bool mayLoseColours = false;
    bool isArchival = false;  ///< PDF/A-2b
    /// One map panel alone, as a picture with its place beside it (world file and .prj); 0: all.
    doc::Id onlyPanel = 0;
    int onlyPage = 0;  ///< of a series, from 1; 0: all
};

/// Writes a sheet by the suffix: as a picture (pixel size = page size x dpi), SVG, or PDF (fonts
/// embedded, vectors kept, blended parts flattened at the dpi, pictures without loss, layers that
/// can be switched, panels that know where they lie). A GeoTIFF lies where its first panel does. A
/// series goes into one PDF, and in other formats into a file a page, named after it. Each file is
/// there whole or not at all. The report tells layers that could not be drawn. Errors: Unsupported,
/// LimitExceeded, IoFailure, Cancelled; of a series the pages written so far stay.
Result<carto::MapReport> exportSheet(const doc::Document& document, const doc::Sheet& sheet,
                                     std::shared_ptr<const SourceCache> cache,
                                     const std::filesystem::path& path, const SheetExport& options,
                                     const Progress& progress);

/// A page as a picture, for the clipboard and previews.
Result<QImage> sheetPicture(const carto::SheetPage& page, std::shared_ptr<const SourceCache> cache,
                            double dpi, const Progress& progress, carto::MapReport& report);

/// A saved view, or where the map looked last, as a picture of a size in pixels.
Result<carto::MapReport> exportView(const doc::Document& document, const doc::MapView& view,
                                    std::shared_ptr<const SourceCache> cache, QSize size,
                                    double dpi, const std::filesystem::path& path,
                                    const Progress& progress);

}  // namespace ledge::session
