#include "app/sheet_wall.h"

#include <QPainter>

#include "carto/sheet/series_pages.h"
#include "session/aside.h"
#include "session/export_sheet.h"

namespace ledge::app {
namespace {
constexpr int kGap = 36;
// Sharper than shown, so that small type stays legible when it is made smaller.
constexpr double kDpi = 150;

QImage pictureOf(const doc::Document& document, const doc::Sheet& sheet,
                 const std::shared_ptr<session::SourceCache>& sources) {
    return session::aside([&]() -> QImage {
        const auto pages = carto::SeriesPages::of(document, sheet, *sources);
        if (!pages) return {};
        carto::MapReport report;
        const auto page = pages->page(std::min<std::size_t>(1, pages->size() - 1));
        auto made = session::sheetPicture(page, sources, kDpi, {}, report);
        return made ? *std::move(made) : QImage();
    });
}
}  // namespace

QImage sheetWall(const session::Session& session, int widthPx) {
    const auto document = session.snapshot();
    std::vector<QImage> pages;
    for (const doc::Sheet& sheet : document->sheets) {
        pages.push_back(pictureOf(*document, sheet, session.sources()));
        if (pages.back().isNull()) return {};
    }
    // Two rows at one scale each, as high as makes them as wide as the wall.
    const std::size_t half = (pages.size() + 1) / 2;
    QImage wall(widthPx, 4 * widthPx, QImage::Format_RGB32);
    wall.fill(QColor("#DFE0EC"));
    QPainter painter(&wall);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    double top = kGap;
    for (const auto& [first, last] : {std::pair(std::size_t{0}, half), {half, pages.size()}}) {
        double wide = 0;  // of all in the row, one high
        for (std::size_t i = first; i < last; ++i)
            wide += double(pages[i].width()) / pages[i].height();
        const double free = widthPx - kGap * double(last - first + 1);
        const double high = std::min(free / std::max(wide, 1e-9), widthPx * 0.42);
        double left = kGap + (free - high * wide) / 2;
        for (std::size_t i = first; i < last; ++i) {
            const QSizeF size(high * pages[i].width() / pages[i].height(), high);
            painter.fillRect(QRectF(QPointF(left + 4, top + 4), size), QColor(35, 38, 90, 50));
            painter.drawImage(
                QPointF(left, top),
                pages[i].scaled(size.toSize(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation));
            left += size.width() + kGap;
        }
        top += high + kGap;
    }
    painter.end();
    return wall.copy(0, 0, widthPx, qRound(top));
}

}  // namespace ledge::app
