#pragma once
#include <QRectF>
#include <QString>
#include <filesystem>
#include <vector>

#include "carto/map_renderer.h"
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/geometry/point.h"
#include "session/export/pdf_pictures.h"

/// Putting pages of a PDF together from the parts that were painted one by one, with what the
/// painter cannot say: layers that can be switched, where maps lie on the earth, who made it.
namespace ledge::session {

/// A map on a page: its rectangle in points from the page's lower left corner, and the latitude and
/// longitude of the corners lower left, upper left, upper right, lower right.
struct PdfViewport {
    QString name;
    QRectF box;
    std::vector<std::pair<double, double>> corners;
    int epsg = 0;     ///< of the CRS; 0: by its text
    std::string wkt;  ///< WKT1
    bool isGeographic = false;
};

struct PdfPage {
    /// A painted page each, laid over those before it; switched by its name, if it has one.
    std::vector<carto::MapPart> parts;
    std::vector<PdfViewport> viewports;
    double widthPt = 0, heightPt = 0;
    double bleedPt = 0;  ///< beyond the page on all sides, in the painted parts
};

struct PdfFacts {
    QString title, author, subject;
    /// Everything that PDF/A-2b (ISO 19005-2) asks for: output intent, XMP metadata, no pictures
    /// that viewers smooth by their own rules.
    bool isArchival = false;
};

/// Writes `out` from the parts in `raw`, as many pages there as all parts together, with the
/// pictures that were painted as marks. Layers of one
/// name are one, on all pages. Georeference by ISO 32000-2, 12.10. Errors: IoFailure; Cancelled.
Result<void> assemblePdf(const std::filesystem::path& raw, const std::filesystem::path& out,
                         const std::vector<PdfPage>& pages, const PdfFacts& facts,
                         PdfPictures& pictures, const Progress& progress);

}  // namespace ledge::session
