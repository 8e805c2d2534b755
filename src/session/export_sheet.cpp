#include "session/export_sheet.h"

#include <QBuffer>
#include <QImageWriter>
#include <QPdfWriter>

#include "core/base/numbers.h"
#include "document/map_crs.h"
#include "io/files/atomic_file.h"
#include "session/checked_file.h"

namespace ledge::session {
namespace {
namespace fs = std::filesystem;
constexpr double kMostPixels = 5e8;

Result<void> writeImage(QImage image, double dpi, const fs::path& path) {
    const int perMetre = qRound(dpi / 0.0254);
    image.setDotsPerMeterX(perMetre);
    image.setDotsPerMeterY(perMetre);
    const std::string suffix = lowered(path.extension().string());
    QBuffer bytes;
    bytes.open(QIODevice::WriteOnly);
    QImageWriter writer(&bytes, suffix == ".png" ? "png" : "jpg");
    if (suffix != ".png") writer.setQuality(92);
    if (!writer.write(image))
        return io::ioFailure(path, writer.errorString().toStdString(), "choose a lower dpi");
    return io::writeText(path, {bytes.data().constData(), static_cast<std::size_t>(bytes.size())});
}

Result<std::string> checkedSuffix(const fs::path& path, bool allowsPdf, QSize pixels) {
    const std::string suffix = lowered(path.extension().string());
    const bool isPdf = suffix == ".pdf";
    if (suffix != ".png" && suffix != ".jpg" && suffix != ".jpeg" && !(isPdf && allowsPdf))
        return Error{ErrorCode::Unsupported, path.string(), "cannot be written as " + suffix,
                     allowsPdf ? "use .png, .jpg or .pdf" : "use .png or .jpg"};
    if (double(pixels.width()) * pixels.height() > kMostPixels || pixels.width() > 32000 ||
        pixels.height() > 32000)
        return Error{ErrorCode::LimitExceeded, path.string(),
                     "the picture would be " + std::to_string(pixels.width()) + " × " +
                         std::to_string(pixels.height()) + " pixels",
                     "choose a lower dpi"};
    if (pixels.width() < 1 || pixels.height() < 1)
        return Error{ErrorCode::InvalidArgument, path.string(), "the picture would have no pixels",
                     "choose a higher dpi"};
    return suffix;
}

carto::PanelPainter panelPainter(const doc::Document& document,
                                 const std::shared_ptr<const SourceCache>& cache, bool asVectors,
                                 const Progress& progress, carto::MapReport& report) {
    return [&document, cache, asVectors, &progress,
            &report](QPainter& painter, const doc::SheetItem& item,
                     const carto::MapFrame& frame) -> Result<void> {
        const auto& layers = carto::panelLayers(document, *item.as<doc::MapPanel>());
        carto::MapRenderer renderer(cache);
        carto::MapReport own;
        Result<void> outcome;
        if (asVectors) {
            outcome = renderer.paint(painter, document, layers, frame, progress, own);
        } else {
            auto picture = renderer.picture(document, layers, frame, progress, own);
            if (!picture) return picture.error();
            painter.drawImage(QPointF(0, 0), *picture);
        }
        report.problems.insert(report.problems.end(), own.problems.begin(), own.problems.end());
        report.labels.insert(report.labels.end(), own.labels.begin(), own.labels.end());
        report.leftOut.insert(report.leftOut.end(), own.leftOut.begin(), own.leftOut.end());
        return outcome;
    };
}
}  // namespace

Result<carto::MapReport> exportSheet(const doc::Document& document, const doc::Sheet& sheet,
                                     std::shared_ptr<const SourceCache> cache, const fs::path& path,
                                     const SheetExport& options, const Progress& progress) {
    const double dpi = options.dpi;
    const QSize pixels = carto::pagePixels(sheet, dpi);
    const auto suffix = checkedSuffix(path, true, pixels);
    if (!suffix) return suffix.error();
    const bool isPdf = *suffix == ".pdf";
    carto::MapReport report;
    const auto panels = panelPainter(document, cache, isPdf, progress, report);
    if (!isPdf) {
        QImage image(pixels, QImage::Format_ARGB32_Premultiplied);
        if (image.isNull())
            return Error{ErrorCode::LimitExceeded, path.string(), "not enough memory",
                         "choose a lower dpi"};
        image.fill(Qt::white);
        QPainter painter(&image);
        const auto done = carto::paintSheet(painter, document, sheet, dpi / 25.4, *cache, panels);
        if (!done) return done.error();
        painter.end();
        if (const auto written = writeImage(image.convertToFormat(QImage::Format_RGB32), dpi, path);
            !written)
            return written.error();
        return report;
    }
    io::AtomicFile file(path);
    CheckedFile out(file.temporary());
    if (!out.begin())
        return io::ioFailure(path, "could not be created",
                             "check that the folder exists and can be written");
    {
        QPdfWriter writer(&out);
        writer.setTitle(QString::fromStdString(sheet.name));
        writer.setCreator(QStringLiteral("Indigo Ledge"));
        writer.setPageSize(QPageSize(QSizeF(sheet.widthMm, sheet.heightMm), QPageSize::Millimeter,
                                     QString(), QPageSize::ExactMatch));
        writer.setPageMargins(QMarginsF(0, 0, 0, 0));
        writer.setResolution(qRound(dpi));
        QPainter painter;
        if (!painter.begin(&writer))
            return io::ioFailure(path, "could not be created",
                                 "check that the folder exists and can be written");
        // Class rasters and hillshades keep their colours; else pictures would become JPEG.
        painter.setRenderHint(QPainter::LosslessImageRendering, !options.mayLoseColours);
        const auto done =
            carto::paintSheet(painter, document, sheet, qRound(options.dpi) / 25.4, *cache, panels);
        if (!done) return done.error();
    }
    if (const auto done = out.finish(path); !done) return done.error();
    if (const auto done = file.commit(); !done) return done.error();
    return report;
}

Result<carto::MapReport> exportView(const doc::Document& document, const doc::MapView& view,
                                    std::shared_ptr<const SourceCache> cache, QSize size,
                                    double dpi, const fs::path& path, const Progress& progress) {
    const auto suffix = checkedSuffix(path, false, size);
    if (!suffix) return suffix.error();
    carto::MapFrame frame;
    frame.crs = doc::mapCrs(document);
    frame.view = view;
    frame.widthPx = size.width(), frame.heightPx = size.height();
    frame.pxPerMm = dpi / 25.4;
    carto::MapReport report;
    carto::MapRenderer renderer(std::move(cache));
    auto picture = renderer.picture(document, document.layers, frame, progress, report);
    if (!picture) return picture.error();
    QImage image(size, QImage::Format_RGB32);
    image.fill(Qt::white);
    QPainter(&image).drawImage(0, 0, *picture);
    if (const auto done = writeImage(std::move(image), dpi, path); !done) return done.error();
    return report;
}

}  // namespace ledge::session
