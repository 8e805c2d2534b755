#include "session/export_sheet.h"

#include <QBuffer>
#include <QImageWriter>
#include <QPdfWriter>
#include <QSvgGenerator>

#include "carto/qtext.h"
#include "carto/sheet/panel_insets.h"
#include "core/base/numbers.h"
#include "core/crs/transformation.h"
#include "core/crs/wkt.h"
#include "document/map_crs.h"
#include "io/files/atomic_file.h"
#include "io/files/world_file.h"
#include "io/picture/picture_codec.h"
#include "io/registry.h"
#include "session/checked_file.h"
#include "session/export/pdf_assembly.h"
#include "session/export/pdf_pictures.h"
#include "session/export/svg_parts.h"

namespace ledge::session {
namespace {
namespace fs = std::filesystem;
constexpr double kMostPixels = 5e8;
constexpr double kPointsPerMm = 72 / 25.4;


Result<void> writePng(const QImage& image, double dpi, const fs::path& path) {
    io::Picture shape;
    shape.width = static_cast<std::size_t>(image.width());
    shape.height = static_cast<std::size_t>(image.height());
    shape.bands = 3, shape.dotsPerInch = dpi;
    io::AtomicFile file(path);
    const auto rows = [&](std::size_t row, std::span<std::byte> values) -> Result<void> {
        const auto* line =
            reinterpret_cast<const QRgb*>(image.constScanLine(static_cast<int>(row)));
        for (std::size_t x = 0; x < shape.width; ++x) {
            values[3 * x] = static_cast<std::byte>(qRed(line[x]));
            values[3 * x + 1] = static_cast<std::byte>(qGreen(line[x]));
            values[3 * x + 2] = static_cast<std::byte>(qBlue(line[x]));
        }
        return {};
    };
    if (file.temporary().empty())
        return io::ioFailure(path, "could not be created",
                             "check that the folder exists and can be written");
    if (const auto done = io::encodePng(shape, file.temporary(), rows); !done) {
        Error error = done.error();
        error.what = path.string();  // not the file it was written into first
        return error;
    }
    return file.commit();
}

Result<void> writeImage(QImage image, double dpi, const fs::path& path, const SheetFormatInfo& as) {
    if (as.format == SheetFormat::Png) return writePng(image, dpi, path);
    const int perMetre = qRound(dpi / 0.0254);
    image.setDotsPerMeterX(perMetre);
    image.setDotsPerMeterY(perMetre);
    QBuffer bytes;
    bytes.open(QIODevice::WriteOnly);
    QImageWriter writer(&bytes, "jpg");
    writer.setQuality(92);
    if (!writer.write(image))
        return io::ioFailure(path, writer.errorString().toStdString(), "choose a lower dpi");
    return io::writeText(path, {bytes.data().constData(), static_cast<std::size_t>(bytes.size())});
}

Result<void> checkPixels(const fs::path& path, QSize pixels) {
    if (double(pixels.width()) * pixels.height() > kMostPixels || pixels.width() > 32000 ||
        pixels.height() > 32000)
        return Error{ErrorCode::LimitExceeded, path.string(),
                     "the picture would be " + std::to_string(pixels.width()) + " × " +
                         std::to_string(pixels.height()) + " pixels",
                     "choose a lower dpi"};
    if (pixels.width() < 1 || pixels.height() < 1)
        return Error{ErrorCode::InvalidArgument, path.string(), "the picture would have no pixels",
                     "choose a higher dpi"};
    return {};
}

void add(carto::MapReport& to, carto::MapReport from) {
    const auto move = [](auto& out, auto& in) {
        out.insert(out.end(), std::make_move_iterator(in.begin()),
                   std::make_move_iterator(in.end()));
    };
    move(to.problems, from.problems);
    move(to.labels, from.labels);
    move(to.leftOut, from.leftOut);
}

// Where parts of a page begin and end, in formats that keep them apart.
struct PartTeller {
    /// Its name, what it is cut to, and how opaque it is.
    std::function<void(QPainter&, const carto::MapPart&, const QRectF&)> begin;
    std::function<void(QPainter&)> end;
    /// Takes a large picture in place of the painter; may be none.
    std::function<Result<void>(QPainter&, const QRectF&, const QImage&)> picture = {};
    bool canBlend = false;
};

carto::PanelPainter panelPainter(const doc::Document& document,
                                 const std::shared_ptr<const SourceCache>& cache,
                                 const PartTeller* parts, const Progress& progress,
                                 carto::MapReport& report) {
    return [&document, cache, parts, &progress,
            &report](QPainter& painter, const doc::SheetItem& item,
                     const carto::MapFrame& frame) -> Result<void> {
        const auto layers = doc::panelLayers(document, *item.as<doc::MapPanel>());
        carto::MapRenderer renderer(cache);
        carto::MapReport own;
        Result<void> outcome;
        if (parts) {
            const QRectF clip =
                painter.worldTransform().mapRect(QRectF(0, 0, frame.widthPx, frame.heightPx));
            outcome = renderer.paint(
                painter, document, layers, frame, progress, own,
                {[&](const carto::MapPart& part) { parts->begin(painter, part, clip); },
                 parts->canBlend, parts->picture});
            parts->end(painter);
        } else {
            outcome = renderer.paint(painter, document, layers, frame, progress, own);
        }
        add(report, std::move(own));
        return outcome;
    };
}

// Where a panel's map lies in pixels of the page, as a way from those to the map.
Affine groundOfPage(const doc::Document& document, const doc::SheetItem& item, double pxPerMm) {
    const carto::MapFrame frame = carto::panelFrame(document, item, pxPerMm);
    const QPointF origin = carto::frameOrigin(item, frame, pxPerMm);
    return frame.toMap().after({1, 0, -origin.x(), 0, 1, -origin.y()});
}

const doc::SheetItem* firstPlaced(const doc::Sheet& sheet) {
    for (auto it = sheet.items.rbegin(); it != sheet.items.rend(); ++it)
        if ((*it)->as<doc::MapPanel>() && !(*it)->isHidden && (*it)->turn == 0) return &**it;
    return nullptr;
}

crs::CrsPtr panelCrs(const doc::Document& document, const doc::SheetItem& item) {
    return doc::crsIn(document, doc::resolved(document, *item.as<doc::MapPanel>()).crs);
}

Result<void> writeTiff(const QImage& image, double dpi, const fs::path& path,
                       const carto::SheetPage& page) {
    RasterInfo info;
    info.width = image.width(), info.height = image.height();
    for (const BandRole role : {BandRole::Red, BandRole::Green, BandRole::Blue}) {
        BandInfo band;
        band.type = CellType::UInt8;
        band.role = role;
        info.bands.push_back(band);
    }
    if (const doc::SheetItem* panel = firstPlaced(page.sheet)) {
        info.toWorld = groundOfPage(page.document, *panel, dpi / 25.4);
        info.crs = panelCrs(page.document, *panel);
    }
    io::RasterWriting writing(io::Compression::Deflate);
    writing.dotsPerInch = dpi;
    auto sink = io::createRaster(path, info, writing);
    if (!sink) return sink.error();
    const auto width = static_cast<std::size_t>(image.width());
    Grid<float> row(1, width);
    for (int band = 0; band < 3; ++band)
        for (int y = 0; y < image.height(); ++y) {
            const auto* line = reinterpret_cast<const QRgb*>(image.constScanLine(y));
            for (std::size_t x = 0; x < width; ++x)
                row(0, x) = static_cast<float>(band == 0   ? qRed(line[x])
                                               : band == 1 ? qGreen(line[x])
                                                           : qBlue(line[x]));
            if (const auto done = (*sink)->append(std::as_const(row).view()); !done) return done;
        }
    return (*sink)->finish();
}

Result<QImage> painted(const carto::SheetPage& page,
                       const std::shared_ptr<const SourceCache>& cache, double dpi,
                       const Progress& progress, carto::MapReport& report, const fs::path& path) {
    const QSize pixels = carto::pagePixels(page.sheet, dpi);
    if (const auto fine = checkPixels(path, pixels); !fine) return fine.error();
    // Opaque from the start: half the work of blending, and nothing to convert.
    QImage image(pixels, QImage::Format_RGB32);
    if (image.isNull())
        return Error{ErrorCode::LimitExceeded, path.string(), "not enough memory",
                     "choose a lower dpi"};
    image.fill(Qt::white);
    QPainter painter(&image);
    const auto done =
        carto::paintSheet(painter, page.document, page.sheet, dpi / 25.4, *cache,
                          panelPainter(page.document, cache, nullptr, progress, report), page.live);
    if (!done) return done.error();
    painter.end();
    return image;
}

Result<void> writeSvg(const carto::SheetPage& page, const std::shared_ptr<const SourceCache>& cache,
                      double dpi, const fs::path& path, const Progress& progress,
                      carto::MapReport& report) {
    QBuffer bytes;
    bytes.open(QIODevice::WriteOnly);
    SvgParts parts;
    {
        QSvgGenerator svg;
        svg.setOutputDevice(&bytes);
        svg.setTitle(qtext(page.sheet.name));
        svg.setDescription(qtext(page.document.name));
        svg.setResolution(qRound(dpi));
        const double pxPerMm = svg.resolution() / 25.4;
        svg.setViewBox(QRectF(0, 0, page.sheet.widthMm * pxPerMm, page.sheet.heightMm * pxPerMm));
        QPainter painter(&svg);
        const PartTeller teller{[&](QPainter& p, const carto::MapPart& part, const QRectF& clip) {
                                    parts.begin(p, part.name, clip, part.opacity);
                                },
                                [&](QPainter& p) { parts.end(p); }};
        const auto done = carto::paintSheet(
            painter, page.document, page.sheet, pxPerMm, *cache,
            panelPainter(page.document, cache, &teller, progress, report), page.live);
        if (!done) return done;
    }
    QByteArray text = parts.grouped(bytes.data());
    // The generator knows pixels only, and a profile without clips; the page is exact.
    const auto mm = [](double v) { return QByteArray::number(v, 'f', 3) + "mm"; };
    text.replace(" version=\"1.2\" baseProfile=\"tiny\"", " version=\"1.1\"");
    text.replace("<svg viewBox", "<svg width=\"" + mm(page.sheet.widthMm) + "\" height=\"" +
                                     mm(page.sheet.heightMm) + "\" viewBox");
    return io::writeText(path, {text.constData(), static_cast<std::size_t>(text.size())});
}

PdfViewport viewportOf(const doc::Document& document, const doc::Sheet& sheet,
                       const doc::SheetItem& item) {
    PdfViewport out;
    const crs::CrsPtr crs = panelCrs(document, item);
    const doc::PageRect& r = item.rect;
    out.name = qtext(item.name);
    out.box = QRectF(r.left * kPointsPerMm, (sheet.heightMm - r.top - r.height) * kPointsPerMm,
                     r.width * kPointsPerMm, r.height * kPointsPerMm);
    out.epsg = crs->code, out.wkt = crs::toPlainWkt(*crs), out.isGeographic = crs->isGeographic();
    const auto base = std::make_shared<crs::Crs>(crs::geographicBase(*crs));
    const auto way = crs::Transformation::between(crs, base);
    const Affine toGround = groundOfPage(document, item, 1);
    for (const auto& [x, y] :
         {std::pair(r.left, r.top + r.height), std::pair(r.left, r.top),
          std::pair(r.left + r.width, r.top), std::pair(r.left + r.width, r.top + r.height)}) {
        const Point p = way ? way->forward(toGround({x, y})) : Point{kNaN, kNaN};
        if (!p.isFinite()) return {};  // a corner beyond the CRS: no place that could be told
        out.corners.emplace_back(p.y, p.x);
    }
    return out;
}

// One painter over all pages: each part is painted on a page of its own, and put together after.
class PdfPainting {
public:
    PdfPainting(const fs::path& path, const SheetExport& options,
                std::shared_ptr<const SourceCache> cache)
        : m_path(path), m_options(options), m_cache(std::move(cache)), m_raw(path), m_whole(path),
          m_deflated(path), m_pictures(m_deflated.temporary(), path) {}

    Result<void> write(const std::vector<std::function<carto::SheetPage()>>& pages,
                       const PdfFacts& facts, const Progress& progress, carto::MapReport& report) {
        CheckedFile out(m_raw.temporary());
        const auto cannot = [this] {
            return io::ioFailure(m_path, "could not be created",
                                 "check that the folder exists and can be written");
        };
        if (!out.begin()) return cannot();
        {
            QPdfWriter writer(&out);
            writer.setResolution(qRound(m_options.dpi));
            writer.setPageMargins(QMarginsF(0, 0, 0, 0));
            QPainter painter;
            for (std::size_t i = 0; i < pages.size(); ++i) {
                if (progress.stopped()) return cancelled("exporting");
                progress.at(static_cast<double>(i) / static_cast<double>(pages.size()));
                const carto::SheetPage page = pages[i]();
                setSize(writer, page.sheet);
                if (i == 0 ? !painter.begin(&writer) : !writer.newPage()) return cannot();
                const double count = static_cast<double>(pages.size());
                const auto done = paint(painter, writer, page,
                                        progress.part(static_cast<double>(i) / count,
                                                      static_cast<double>(i + 1) / count),
                                        report);
                if (!done) return done;
            }
        }
        if (const auto done = out.finish(m_path); !done) return done;
        if (const auto done = assemblePdf(m_raw.temporary(), m_whole.temporary(), m_pages, facts,
                                          m_pictures, progress);
            !done)
            return done;
        return m_whole.commit();
    }

private:
    void setSize(QPdfWriter& writer, const doc::Sheet& sheet) const {
        const double bleed = 2 * sheet.bleedMm;
        writer.setPageSize(QPageSize(QSizeF(sheet.widthMm + bleed, sheet.heightMm + bleed),
                                     QPageSize::Millimeter, QString(), QPageSize::ExactMatch));
    }
    Result<void> paint(QPainter& painter, QPdfWriter& writer, const carto::SheetPage& page,
                       const Progress& progress, carto::MapReport& report) {
        const double mm = qRound(m_options.dpi) / 25.4;
        PdfPage& made = m_pages.emplace_back();
        made.widthPt = page.sheet.widthMm * kPointsPerMm;
        made.heightPt = page.sheet.heightMm * kPointsPerMm;
        made.bleedPt = page.sheet.bleedMm * kPointsPerMm;
        made.parts.push_back({});
        // Class rasters and hillshades keep their colours; else pictures would become JPEG.
        painter.setRenderHint(QPainter::LosslessImageRendering, !m_options.mayLoseColours);
        painter.save();
        painter.translate(page.sheet.bleedMm * mm, page.sheet.bleedMm * mm);
        const auto next = [&](const carto::MapPart& part) {
            writer.newPage();
            made.parts.push_back(part);
        };
        const PartTeller teller{
            [&](QPainter&, const carto::MapPart& part, const QRectF&) { next(part); },
            [&](QPainter&) { next({}); },
            m_options.mayLoseColours
                ? decltype(PartTeller::picture)()
                : [this](QPainter& p, const QRectF& at,
                         const QImage& image) { return m_pictures.paint(p, at, image); },
            true};
        const auto done = carto::paintSheet(
            painter, page.document, page.sheet, mm, *m_cache,
            panelPainter(page.document, m_cache, &teller, progress, report), page.live);
        painter.restore();
        for (const doc::SheetItem& item : page.sheet.items) {
            if (!item.as<doc::MapPanel>() || item.isHidden || item.turn != 0 ||
                !panelCrs(page.document, item))
                continue;
            PdfViewport view = viewportOf(page.document, page.sheet, item);
            if (!view.corners.empty()) made.viewports.push_back(std::move(view));
        }
        return done;
    }

    fs::path m_path;
    SheetExport m_options;
    std::shared_ptr<const SourceCache> m_cache;
    io::AtomicFile m_raw, m_whole, m_deflated;  ///< only the second is ever renamed
    PdfPictures m_pictures;
    std::vector<PdfPage> m_pages;
};

PdfFacts factsOf(const doc::Document& document, const doc::Sheet& sheet,
                 const SheetExport& options) {
    PdfFacts facts;
    facts.title = qtext(sheet.name), facts.author = qtext(document.author);
    facts.subject = qtext(document.name), facts.isArchival = options.isArchival;
    return facts;
}

Result<void> writePanel(const carto::SheetPage& page,
                        const std::shared_ptr<const SourceCache>& cache, const fs::path& path,
                        const SheetFormatInfo& as, const SheetExport& options,
                        const Progress& progress, carto::MapReport& report) {
    const doc::SheetItem* item = page.sheet.item(options.onlyPanel);
    if (!item || !item->as<doc::MapPanel>())
        return Error{ErrorCode::NotFound, "panel", "is not on the sheet", "name a map panel of it"};
    if (!as.isPicture)
        return Error{ErrorCode::Unsupported, path.string(), "a panel alone is written as a picture",
                     "use .png, .jpg or .tif"};
    carto::SheetPage alone = page;
    alone.sheet.items.clear();
    doc::SheetItem only = *item;
    only.rect.left = only.rect.top = 0, only.frameMm = 0, only.turn = 0;
    only.as<doc::MapPanel>()->hasTicks = false;
    alone.sheet.widthMm = only.rect.width, alone.sheet.heightMm = only.rect.height;
    alone.sheet.items.push_back(only);
    auto image = painted(alone, cache, options.dpi, progress, report, path);
    if (!image) return image.error();
    if (as.format == SheetFormat::Tiff) return writeTiff(*image, options.dpi, path, alone);
    if (const auto done = writeImage(*std::move(image), options.dpi, path, as); !done) return done;
    const std::string world =
        io::worldFileText(groundOfPage(alone.document, only, options.dpi / 25.4));
    if (const auto done = io::writeText(io::worldFilePath(path), world); !done) return done;
    const crs::CrsPtr crs = panelCrs(alone.document, only);
    if (!crs) return {};
    fs::path prj = path;
    prj.replace_extension(".prj");
    return io::writeText(prj, crs::toPlainWkt(*crs));
}

Result<void> writePage(const carto::SheetPage& page,
                       const std::shared_ptr<const SourceCache>& cache, const fs::path& path,
                       const SheetFormatInfo& as, const SheetExport& options,
                       const Progress& progress, carto::MapReport& report) {
    if (options.onlyPanel != 0) return writePanel(page, cache, path, as, options, progress, report);
    if (as.format == SheetFormat::Svg)
        return writeSvg(page, cache, options.dpi, path, progress, report);
    auto image = painted(page, cache, options.dpi, progress, report, path);
    if (!image) return image.error();
    if (as.format == SheetFormat::Tiff) return writeTiff(*image, options.dpi, path, page);
    return writeImage(*std::move(image), options.dpi, path, as);
}
}  // namespace

Result<QImage> sheetPicture(const carto::SheetPage& page, std::shared_ptr<const SourceCache> cache,
                            double dpi, const Progress& progress, carto::MapReport& report) {
    return painted(page, cache, dpi, progress, report, page.sheet.name);
}

Result<carto::MapReport> exportSheet(const doc::Document& document, const doc::Sheet& sheet,
                                     std::shared_ptr<const SourceCache> cache, const fs::path& path,
                                     const SheetExport& options, const Progress& progress) {
    const auto as = sheetFormatOf(path);
    if (!as) return as.error();
    if (const auto fine = checkPixels(path, carto::pagePixels(sheet, options.dpi)); !fine)
        return fine.error();
    const auto series = carto::SeriesPages::of(document, sheet, *cache, progress);
    if (!series) return series.error();
    if (options.onlyPage < 0 || options.onlyPage > static_cast<int>(series->size()))
        return Error{ErrorCode::InvalidArgument, "page " + std::to_string(options.onlyPage),
                     "is not one of " + std::to_string(series->size()), "give one from 1 on"};
    const std::size_t first =
        options.onlyPage > 0 ? static_cast<std::size_t>(options.onlyPage) - 1 : 0;
    const std::size_t last = options.onlyPage > 0 ? first + 1 : series->size();
    carto::MapReport report;
    if (as->format == SheetFormat::Pdf && options.onlyPanel == 0) {
        std::vector<std::function<carto::SheetPage()>> pages;
        for (std::size_t i = first; i < last; ++i)
            pages.push_back([&series, i] { return series->page(i); });
        PdfPainting pdf(path, options, cache);
        if (const auto done = pdf.write(pages, factsOf(document, sheet, options), progress, report);
            !done)
            return done.error();
        return report;
    }
    for (std::size_t i = first; i < last; ++i) {
        if (progress.stopped()) return cancelled("exporting");
        progress.at(static_cast<double>(i - first) / static_cast<double>(last - first));
        // Of several pages each has a file of its own beside the one that was named.
        fs::path file = path;
        if (last - first > 1)
            file.replace_filename(path.stem().string() + "_" + series->fileName(i).toStdString() +
                                  path.extension().string());
        const auto count = static_cast<double>(last - first), at = static_cast<double>(i - first);
        const auto done = writePage(series->page(i), cache, file, *as, options,
                                    progress.part(at / count, (at + 1) / count), report);
        if (!done) return done.error();
    }
    return report;
}

Result<carto::MapReport> exportView(const doc::Document& document, const doc::MapView& view,
                                    std::shared_ptr<const SourceCache> cache, QSize size,
                                    double dpi, const fs::path& path, const Progress& progress) {
    const auto as = sheetFormatOf(path);
    if (!as) return as.error();
    if (!as->isPicture || as->format == SheetFormat::Tiff)
        return Error{ErrorCode::Unsupported, path.string(),
                     "a view cannot be written as " + std::string(as->suffix), "use .png or .jpg"};
    if (const auto fine = checkPixels(path, size); !fine) return fine.error();
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
    if (const auto done = writeImage(std::move(image), dpi, path, *as); !done) return done.error();
    return report;
}

}  // namespace ledge::session
