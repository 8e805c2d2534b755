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

// Of pages that differ in what they show at one place all, to be compared; else the second, which
// tells more of a series than the first.
std::vector<QImage> picturesOf(const doc::Document& document, const doc::Sheet& sheet,
                               const std::shared_ptr<session::SourceCache>& sources) {
    constexpr std::size_t kMostCompared = 4;
    return session::aside([&]() -> std::vector<QImage> {
        const auto pages = carto::SeriesPages::of(document, sheet, *sources);
        if (!pages) return {};
        const auto over = sheet.series.over;
        const bool isCompared =
            over != doc::SeriesOver::Nothing && over != doc::SeriesOver::Features;
        const std::size_t first = isCompared ? 0 : std::min<std::size_t>(1, pages->size() - 1);
        const std::size_t end = isCompared ? std::min(kMostCompared, pages->size()) : first + 1;
        std::vector<QImage> out;
        for (std::size_t i = first; i < end; ++i) {
            carto::MapReport report;
            auto made = session::sheetPicture(pages->page(i), sources, kDpi, {}, report);
            if (!made) return {};
            out.push_back(*std::move(made));
        }
        return out;
    });
}

double widthOf(const std::vector<QImage>& pages) {  // one high
    double out = 0;
    for (const QImage& page : pages) out += double(page.width()) / page.height();
    return out;
}
}  // namespace

QImage sheetWall(const session::Session& session, int widthPx) {
    constexpr double kWidest = 3.1;  // a row's width over its height
    const auto document = session.snapshot();
    std::vector<std::vector<QImage>> rows(1);
    for (const doc::Sheet& sheet : document->sheets) {
        const auto pages = picturesOf(*document, sheet, session.sources());
        if (pages.empty()) return {};
        const bool fits = rows.back().empty() || widthOf(rows.back()) + widthOf(pages) <= kWidest;
        if (!fits) rows.emplace_back();
        rows.back().insert(rows.back().end(), pages.begin(), pages.end());
    }
    // Each row at one scale, as high as makes it as wide as the wall.
    QImage wall(widthPx, 4 * widthPx, QImage::Format_RGB32);
    wall.fill(QColor("#DFE0EC"));
    QPainter painter(&wall);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    double top = kGap;
    for (const std::vector<QImage>& row : rows) {
        const double wide = widthOf(row);
        const double free = widthPx - kGap * double(row.size() + 1);
        const double high = std::min(free / std::max(wide, 1e-9), widthPx * 0.36);
        double left = kGap + (free - high * wide) / 2;
        for (const QImage& page : row) {
            const QSizeF size(high * page.width() / page.height(), high);
            painter.fillRect(QRectF(QPointF(left + 4, top + 4), size), QColor(35, 38, 90, 50));
            painter.drawImage(QPointF(left, top), page.scaled(size.toSize(), Qt::IgnoreAspectRatio,
                                                              Qt::SmoothTransformation));
            left += size.width() + kGap;
        }
        top += high + kGap;
    }
    painter.end();
    return wall.copy(0, 0, widthPx, qRound(top));
}

}  // namespace ledge::app
