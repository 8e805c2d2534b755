#include "carto/sheet_painter.h"

#include <QDate>
#include <QLocale>

#include "carto/legend.h"
#include "carto/live_formula.h"
#include "carto/profile_runs.h"
#include "carto/scale_bar.h"
#include "core/base/numbers.h"
#include "document/contour_scale.h"
#include "document/map_crs.h"

namespace ledge::carto {
namespace {
const Colour kInk{0x23, 0x26, 0x3F}, kMuted{0x6B, 0x6F, 0x8E};

class ItemPainter {
public:
    ItemPainter(QPainter& painter, const doc::Document& document, const doc::Sheet& sheet,
                double mm, const doc::DrawingData& data, const PanelPainter& paintPanel)
        : m_painter(painter), m_document(document), m_sheet(sheet), m_mm(mm), m_data(data),
          m_paintPanel(paintPanel) {}

    Result<void> paint(const doc::SheetItem& item) {
        const doc::PageRect& r = item.rect;
        m_rect = QRectF(r.left * m_mm, r.top * m_mm, r.width * m_mm, r.height * m_mm);
        m_item = &item;
        return std::visit([this](const auto& content) { return draw(content); }, item.content);
    }

private:
    Result<void> draw(const doc::MapPanel& panel) {
        const MapFrame frame = panelFrame(m_document, *m_item, m_mm);
        m_painter.save();
        m_painter.setClipRect(m_rect);
        // A frame has whole pixels; its middle stays the panel's.
        m_painter.translate(m_rect.left() + (m_rect.width() - frame.widthPx) / 2,
                            m_rect.top() + (m_rect.height() - frame.heightPx) / 2);
        const auto done = m_paintPanel(m_painter, *m_item, frame);
        m_painter.restore();
        if (panel.frameMm > 0) {
            m_painter.setBrush(Qt::NoBrush);
            QPen pen(qt(kInk), panel.frameMm * m_mm);
            pen.setJoinStyle(Qt::MiterJoin);
            m_painter.setPen(pen);
            m_painter.drawRect(m_rect);
        }
        if (panel.hasTicks) drawTicks(frame);
        return done;
    }

    // Round coordinates where they cross the panel's upper and left edges, outside the neat line.
    void drawTicks(const MapFrame& frame) {
        const Affine map = frame.toMap();
        const double w = frame.widthPx, h = frame.heightPx;
        if (std::abs(frame.view.rotation) > 30) return;
        const TextStyle style{5.5, false, false, kMuted, false, 0};
        m_painter.setPen(QPen(qt(kInk), 0.18 * m_mm));
        drawTicksAlong(map({0, 0}).x, map({w, 0}).x, true, style);
        drawTicksAlong(map({0, h}).y, map({0, 0}).y, false, style);
    }

    void drawTicksAlong(double from, double to, bool isTop, const TextStyle& style) {
        const double span = to - from;
        if (!(span > 0) || !std::isfinite(span)) return;
        const double step = roundUpToInterval(span / (isTop ? 6 : 5));
        const int decimals = std::max(0, static_cast<int>(std::ceil(-std::log10(step))));
        for (double v = std::ceil(from / step) * step; v < to; v += step) {
            const double share = (v - from) / span;
            const QString text = QString::fromStdString(formatNumber(v, {decimals, true}));
            const auto size = measure(text, style, m_mm);
            if (isTop) {
                const QPointF at(m_rect.left() + share * m_rect.width(), m_rect.top());
                m_painter.drawLine(at, at - QPointF(0, 1.2 * m_mm));
                drawText(m_painter, {at.x() - size.width / 2, at.y() - 1.9 * m_mm}, 0, text, style,
                         m_mm);
            } else {
                const QPointF at(m_rect.left(), m_rect.bottom() - share * m_rect.height());
                m_painter.drawLine(at, at - QPointF(1.2 * m_mm, 0));
                drawText(m_painter, {at.x() - 1.9 * m_mm, at.y() + size.width / 2},
                         -1.5707963267948966, text, style, m_mm);
            }
        }
    }

    Result<void> draw(const doc::TextItem& item) {
        const TextStyle style{item.sizePt, item.isBold, item.isItalic, item.colour, false, 0};
        drawLines(withFormulas(liveText(item.text, m_document, m_sheet), m_document, m_data), style,
                  item.align);
        return {};
    }

    Result<void> draw(const doc::CreditsItem& item) {
        const TextStyle style{item.sizePt, false, false, kMuted, false, 0};
        drawLines(creditsText(m_document, m_sheet, item), style, item.align);
        return {};
    }

    void drawLines(const QString& text, const TextStyle& style, doc::Align align) {
        const double line = style.sizePt * kMmPerPoint * m_mm;
        double baseline = m_rect.top() + line;
        for (const QString& said : wrapped(text, style)) {
            const double width = measure(said, style, m_mm).width;
            double x = m_rect.left();
            if (align == doc::Align::Centre) x += (m_rect.width() - width) / 2;
            if (align == doc::Align::Right) x += m_rect.width() - width;
            drawText(m_painter, {x, baseline}, 0, said, style, m_mm);
            baseline += line * 1.3;
        }
    }

    QStringList wrapped(const QString& text, const TextStyle& style) const {
        QStringList out;
        for (const QString& paragraph : text.split('\n')) {
            QString line;
            for (const QString& word : paragraph.split(' ')) {
                const QString longer = line.isEmpty() ? word : line + ' ' + word;
                if (!line.isEmpty() && measure(longer, style, m_mm).width > m_rect.width()) {
                    out << line;
                    line = word;
                } else {
                    line = longer;
                }
            }
            out << line;
        }
        return out;
    }

    Result<void> draw(const doc::LegendItem& item) {
        const doc::SheetItem* panel = m_sheet.panel(item.panel);
        if (!panel) return {};
        const doc::MapPanel& map = *panel->as<doc::MapPanel>();
        const double scale = doc::groundScale(map, doc::crsIn(m_document, map.crs));
        const auto entries =
            legendEntries(doc::layersAt(panelLayers(m_document, map), scale), item);
        paintLegend(m_painter, m_rect, entries, item, m_mm);
        return {};
    }

    Result<void> draw(const doc::ScaleBarItem& item) {
        const doc::SheetItem* panel = m_sheet.panel(item.panel);
        if (!panel) return {};
        const MapFrame frame = panelFrame(m_document, *panel, m_mm);
        const double room = std::min(m_rect.width() - 12 * m_mm, frame.widthPx / 3.0);
        const ScaleBar bar = scaleBarFor(frame, room, m_document.display.lengths);
        paintScaleBar(m_painter, {m_rect.left() + 2 * m_mm, m_rect.top() + 6 * m_mm}, bar,
                      item.sizePt, m_mm);
        return {};
    }

    Result<void> draw(const doc::UnknownItem&) { return {}; }  // what a newer version puts here

    Result<void> draw(const doc::NorthArrowItem& item) {
        if (const doc::SheetItem* panel = m_sheet.panel(item.panel))
            paintNorthArrow(m_painter, m_rect, panelFrame(m_document, *panel, m_mm), m_mm);
        return {};
    }

    // What cannot be read leaves its reason on the page; the rest of the sheet is not lost with it.
    Result<void> draw(const doc::ProfileItem& item) {
        const doc::SavedProfile* kept = m_document.profile(item.profile);
        const auto runs = kept ? runProfile(m_document, m_data, *kept, {})
                               : Error{ErrorCode::NotFound, "profile", "is no longer kept",
                                       "choose another for this item"};
        if (!runs) {
            drawLines(QString::fromStdString(runs.error().text()),
                      {item.sizePt, false, true, kMuted, false, 0}, doc::Align::Left);
            return {};
        }
        ProfileChart chart = chartOf(*runs, m_document.display.lengths);
        chart.textPt = item.sizePt;
        paintProfileChart(m_painter, m_rect, chart, m_mm);
        return {};
    }

    QPainter& m_painter;
    const doc::Document& m_document;
    const doc::Sheet& m_sheet;
    double m_mm;
    const doc::DrawingData& m_data;
    const PanelPainter& m_paintPanel;
    QRectF m_rect;
    const doc::SheetItem* m_item = nullptr;
};

QStringList sheetCredits(const doc::Document& document, const doc::Sheet& sheet) {
    QStringList out;
    for (const doc::SheetItem& item : sheet.items) {
        const auto* panel = item.as<doc::MapPanel>();
        if (!panel || item.isHidden) continue;
        for (const doc::DrawnLayer& one : doc::drawnLayers(panelLayers(document, *panel))) {
            const doc::SourceRef* source = document.source(one.layer->source);
            if (!source || source->credit.empty()) continue;
            const QString credit = QString::fromStdString(source->credit);
            if (!out.contains(credit)) out << credit;
        }
    }
    return out;
}
}  // namespace

const std::vector<doc::LayerPtr>& panelLayers(const doc::Document& document,
                                              const doc::MapPanel& panel) {
    return panel.frozen ? *panel.frozen : document.layers;
}

MapFrame panelFrame(const doc::Document& document, const doc::SheetItem& item, double pxPerMm) {
    const auto& panel = *item.as<doc::MapPanel>();
    MapFrame frame;
    frame.crs = doc::crsIn(document, panel.crs);
    frame.view = doc::viewOf(panel);
    frame.widthPx = std::max(1, static_cast<int>(std::ceil(item.rect.width * pxPerMm)));
    frame.heightPx = std::max(1, static_cast<int>(std::ceil(item.rect.height * pxPerMm)));
    frame.pxPerMm = pxPerMm;
    return frame;
}

Result<void> paintSheet(QPainter& painter, const doc::Document& document, const doc::Sheet& sheet,
                        double pxPerMm, const doc::DrawingData& data,
                        const PanelPainter& paintPanel) {
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.fillRect(QRectF(0, 0, sheet.widthMm * pxPerMm, sheet.heightMm * pxPerMm), Qt::white);
    ItemPainter items(painter, document, sheet, pxPerMm, data, paintPanel);
    for (auto it = sheet.items.rbegin(); it != sheet.items.rend(); ++it) {
        const doc::SheetItem& item = *it;
        if (item.isHidden) continue;
        if (const auto done = items.paint(item); !done) return done;
    }
    return {};
}

QString liveText(const std::string& text, const doc::Document& document, const doc::Sheet& sheet) {
    QString out = QString::fromStdString(text);
    const doc::SheetItem* item = sheet.panel(0);
    const auto* panel = item ? item->as<doc::MapPanel>() : nullptr;
    const auto crs = crs::parseCrs(panel ? panel->crs : document.mapCrs);
    const QString crsName =
        crs && *crs ? QString::fromStdString((*crs)->name) : QObject::tr("local coordinates");
    out.replace("{project}", QString::fromStdString(document.name));
    out.replace("{sheet}", QString::fromStdString(sheet.name));
    out.replace("{crs}", crsName);
    if (panel)
        out.replace("{scale}",
                    QString::fromStdString(panelFrame(document, *item, 96 / 25.4).scaleText()));
    out.replace("{date}", QLocale(QLocale::English).toString(QDate::currentDate(), "d MMMM yyyy"));
    return out;
}

QString creditsText(const doc::Document& document, const doc::Sheet& sheet,
                    const doc::CreditsItem& item) {
    QString out = sheetCredits(document, sheet).join(" · ");
    if (!item.added.empty())
        out += (out.isEmpty() ? "" : " · ") + liveText(item.added, document, sheet);
    return out;
}

QStringList missingCredits(const doc::Document& document, const doc::Sheet& sheet) {
    for (const doc::SheetItem& item : sheet.items)
        if (item.as<doc::CreditsItem>() && !item.isHidden) return {};
    return sheetCredits(document, sheet);
}

QSize pagePixels(const doc::Sheet& sheet, double dpi) {
    return {qRound(sheet.widthMm / 25.4 * dpi), qRound(sheet.heightMm / 25.4 * dpi)};
}

}  // namespace ledge::carto
