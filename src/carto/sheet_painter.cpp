#include "carto/sheet_painter.h"

#include <QPainterPath>

#include "carto/live_formula.h"
#include "carto/profile_runs.h"
#include "carto/scale_bar.h"
#include "carto/sheet/chart_painter.h"
#include "carto/sheet/north_arrow.h"
#include "carto/sheet/panel_grid.h"
#include "carto/sheet/panel_insets.h"
#include "carto/sheet/picture_painter.h"
#include "carto/sheet/shape_painter.h"
#include "carto/sheet/table_painter.h"
#include "carto/vector_painter.h"
#include "core/base/numbers.h"
#include "document/contour_scale.h"
#include "document/map_crs.h"

namespace ledge::carto {
namespace {
const Colour kInk{0x23, 0x26, 0x3F}, kMuted{0x6B, 0x6F, 0x8E};

class ItemPainter {
public:
    ItemPainter(QPainter& painter, const doc::Document& document, const doc::Sheet& sheet,
                double mm, const doc::DrawingData& data, const PanelPainter& paintPanel,
                const LivePage& page)
        : m_painter(painter), m_document(document), m_sheet(sheet), m_mm(mm), m_data(data),
          m_paintPanel(paintPanel), m_page(page) {}

    Result<void> paint(const doc::SheetItem& item) {
        m_item = &item;
        const doc::PageRect& r = item.rect;
        const QRectF outer(r.left * m_mm, r.top * m_mm, r.width * m_mm, r.height * m_mm);
        const QRectF inner = contentRect(item);
        m_rect = QRectF(inner.topLeft() * m_mm, inner.size() * m_mm);
        m_painter.save();
        m_painter.setOpacity(m_painter.opacity() * item.opacity);
        if (item.turn != 0) {
            m_painter.translate(outer.center());
            m_painter.rotate(item.turn);
            m_painter.translate(-outer.center());
        }
        const double corner = item.cornerMm * m_mm;
        if (item.hasBackground) {
            m_painter.setPen(Qt::NoPen);
            m_painter.setBrush(qt(item.background));
            m_painter.drawRoundedRect(outer, corner, corner);
        }
        const auto done =
            std::visit([this](const auto& content) { return draw(content); }, item.content);
        if (item.frameMm > 0) {
            m_painter.setBrush(Qt::NoBrush);
            QPen pen(qt(item.frame), item.frameMm * m_mm);
            pen.setJoinStyle(Qt::MiterJoin);
            m_painter.setPen(pen);
            corner > 0 ? m_painter.drawRoundedRect(outer, corner, corner)
                       : m_painter.drawRect(outer);
        }
        if (const auto* panel = item.as<doc::MapPanel>(); panel && done) beyond(*panel);
        m_painter.restore();
        return done;
    }

private:
    Result<void> draw(const doc::MapPanel& panel) {
        const MapFrame frame = panelFrame(m_document, *m_item, m_mm);
        const QPointF origin = frameOrigin(*m_item, frame, m_mm);
        m_painter.save();
        if (m_item->cornerMm > 0) {
            QPainterPath rounded;
            rounded.addRoundedRect(m_rect, m_item->cornerMm * m_mm, m_item->cornerMm * m_mm);
            m_painter.setClipPath(rounded, Qt::IntersectClip);
        } else {
            m_painter.setClipRect(m_rect, Qt::IntersectClip);
        }
        // A frame has whole pixels; its middle stays the panel's.
        m_painter.translate(origin);
        if (const auto shape = panelShape(m_document, panel, frame, m_data))
            m_painter.setClipPath(*shape, Qt::IntersectClip);
        const auto done = m_paintPanel(m_painter, *m_item, frame);
        if (done) markFeature(frame);
        m_painter.restore();
        return done;
    }

    // On a series' index panel the feature of the page is outlined.
    void markFeature(const MapFrame& frame) {
        const doc::Series& series = m_sheet.series;
        if (series.indexPanel != m_item->id || !m_page.table) return;
        const doc::Layer* layer = m_document.layer(series.layer);
        const doc::SourceRef* source = layer ? m_document.source(layer->source) : nullptr;
        if (!source) return;
        const auto features = m_data.features(*source, frame.crs, frame.tolerance());
        if (!features) return;
        const FeatureKey key = m_page.table->key(m_page.row);
        for (std::size_t row = 0; row < (*features)->table->size(); ++row)
            if ((*features)->table->key(row) == key)
                return paintOutline(m_painter, frame, (*features)->table->geometry(row),
                                    (*features)->seamsOf(row));
    }

    // What stands over or outside a panel's neat line.
    void beyond(const doc::MapPanel& panel) {
        const MapFrame frame = panelFrame(m_document, *m_item, m_mm);
        if (panel.hasTicks && panel.grids.empty()) drawTicks(frame);
        std::size_t number = 0;
        for (const doc::PanelGrid& grid : panel.grids)
            // A grid whose CRS cannot be read is told by the checks; the map stands without it.
            (void)paintPanelGrid(m_painter, m_rect, frame, grid,
                                 number++ % 2 == 0 ? GridSides::TopLeft : GridSides::FootRight, {});
        paintInsets(m_painter, m_document, m_sheet, *m_item, m_mm);
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
        TextStyle style{item.sizePt, item.isBold, item.isItalic, item.colour, false, 0};
        style.font = item.font;
        drawLines(linesOf(m_document, m_sheet, *m_item, m_data, m_mm, m_page), style, item.align,
                  item.upright, item.lineSpacing);
        return {};
    }

    Result<void> draw(const doc::CreditsItem& item) {
        const TextStyle style{item.sizePt, false, false, kMuted, false, 0};
        drawLines(linesOf(m_document, m_sheet, *m_item, m_data, m_mm, m_page), style, item.align);
        return {};
    }

    void drawLines(const QStringList& lines, const TextStyle& style, doc::Align align,
                   doc::Upright upright = doc::Upright::Top, double spacing = 1.3) {
        const double line = style.sizePt * kMmPerPoint * m_mm;
        const double needed =
            line * (1 + spacing * static_cast<double>(lines.size() - 1)) + line * 0.25;
        const double room = m_rect.height() - needed;
        double baseline = m_rect.top() + line;
        if (upright == doc::Upright::Middle) baseline += room / 2;
        if (upright == doc::Upright::Bottom) baseline += room;
        for (const QString& said : lines) {
            const double width = measure(said, style, m_mm).width;
            double x = m_rect.left();
            if (align == doc::Align::Centre) x += (m_rect.width() - width) / 2;
            if (align == doc::Align::Right) x += m_rect.width() - width;
            drawText(m_painter, {x, baseline}, 0, said, style, m_mm);
            baseline += line * spacing;
        }
    }

    // Where something cannot be drawn its reason stands.
    void drawReason(const Error& error, double sizePt) {
        const TextStyle style{sizePt, false, true, kMuted, false, 0};
        drawLines(wrapped(QString::fromStdString(error.text()), style, m_rect.width(), m_mm), style,
                  doc::Align::Left);
    }

    Result<void> draw(const doc::LegendItem& item) {
        paintLegend(m_painter, m_rect, legendOf(m_document, m_sheet, item, m_data), item, m_mm);
        return {};
    }

    Result<void> draw(const doc::ScaleBarItem& item) {
        if (const doc::SheetItem* panel = m_sheet.panel(item.panel))
            paintScaleBar(m_painter, m_rect, panelFrame(m_document, *panel, m_mm),
                          m_document.display.lengths, item, m_mm);
        return {};
    }

    Result<void> draw(const doc::NorthArrowItem& item) {
        if (const doc::SheetItem* panel = m_sheet.panel(item.panel))
            paintNorthArrow(m_painter, m_rect, panelFrame(m_document, *panel, m_mm), item, m_mm);
        return {};
    }

    Result<void> draw(const doc::ProfileItem& item) {
        const doc::SavedProfile* kept = m_document.profile(item.profile);
        const auto runs = kept ? runProfile(m_document, m_data, *kept, {})
                               : Error{ErrorCode::NotFound, "profile", "is no longer kept",
                                       "choose another for this item"};
        if (!runs) {
            drawReason(runs.error(), item.sizePt);
            return {};
        }
        ProfileChart chart = chartOf(*runs, m_document.display.lengths);
        chart.textPt = item.sizePt;
        paintProfileChart(m_painter, m_rect, chart, m_mm);
        return {};
    }

    Result<void> draw(const doc::PictureItem& item) {
        if (const auto done = paintPicture(m_painter, m_rect, item); !done) {
            m_painter.setPen(QPen(qt(kMuted), 0.15 * m_mm, Qt::DashLine));
            m_painter.setBrush(Qt::NoBrush);
            m_painter.drawRect(m_rect);
            drawReason(done.error(), 6.5);
        }
        return {};
    }

    Result<void> draw(const doc::ShapeItem& item) {
        paintShape(m_painter, m_rect, item, m_mm);
        return {};
    }

    Result<void> draw(const doc::TableItem& item) {
        const auto text = tableText(m_document, item, m_data);
        if (text)
            paintTable(m_painter, m_rect, *text, item, m_mm);
        else
            drawReason(text.error(), item.sizePt);
        return {};
    }

    Result<void> draw(const doc::ChartItem& item) {
        const auto bars = chartBars(m_document, item, m_data);
        if (bars)
            paintChart(m_painter, m_rect, *bars, item, m_mm);
        else
            drawReason(bars.error(), item.sizePt);
        return {};
    }

    Result<void> draw(const doc::UnknownItem&) { return {}; }  // what a newer version puts here

    QPainter& m_painter;
    const doc::Document& m_document;
    const doc::Sheet& m_sheet;
    double m_mm;
    const doc::DrawingData& m_data;
    const PanelPainter& m_paintPanel;
    const LivePage& m_page;
    QRectF m_rect;
    const doc::SheetItem* m_item = nullptr;
};

}  // namespace

QRectF contentRect(const doc::SheetItem& item) {
    const doc::PageRect& r = item.rect;
    // A panel's map goes to its neat line; all else keeps off its frame.
    const double off =
        item.as<doc::MapPanel>() ? item.paddingMm : item.paddingMm + item.frameMm / 2;
    const double across = std::min(off, r.width / 2), down = std::min(off, r.height / 2);
    return {r.left + across, r.top + down, r.width - 2 * across, r.height - 2 * down};
}

QStringList linesOf(const doc::Document& document, const doc::Sheet& sheet,
                    const doc::SheetItem& item, const doc::DrawingData& data, double mm,
                    const LivePage& page) {
    TextStyle style;
    QString said;
    if (const auto* text = item.as<doc::TextItem>()) {
        style.sizePt = text->sizePt, style.isBold = text->isBold, style.isItalic = text->isItalic;
        style.font = text->font;
        said = withFormulas(liveText(text->text, document, sheet, page), document, data);
    } else if (const auto* credits = item.as<doc::CreditsItem>()) {
        style.sizePt = credits->sizePt;
        said = creditsText(document, sheet, *credits, page);
    }
    return wrapped(said, style, contentRect(item).width() * mm, mm);
}

std::vector<LegendEntry> legendOf(const doc::Document& document, const doc::Sheet& sheet,
                                  const doc::LegendItem& item, const doc::DrawingData& data) {
    const doc::SheetItem* panel = sheet.panel(item.panel);
    if (!panel) return {};
    const MapFrame frame = panelFrame(document, *panel, 96 / 25.4);
    const auto layers = doc::panelLayers(document, *panel->as<doc::MapPanel>());
    const double scale = frame.groundScale();
    if (!item.isOfView) return legendEntries(doc::layersAt(layers, scale), item, scale);
    const ShownEntries shown = shownEntries(document, layers, frame, data);
    return legendEntries(doc::layersAt(layers, scale), item, scale, &shown);
}

Result<void> paintSheet(QPainter& painter, const doc::Document& document, const doc::Sheet& sheet,
                        double pxPerMm, const doc::DrawingData& data,
                        const PanelPainter& paintPanel, const LivePage& page) {
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.fillRect(QRectF(0, 0, sheet.widthMm * pxPerMm, sheet.heightMm * pxPerMm), Qt::white);
    ItemPainter items(painter, document, sheet, pxPerMm, data, paintPanel, page);
    for (auto it = sheet.items.rbegin(); it != sheet.items.rend(); ++it) {
        const doc::SheetItem& item = *it;
        if (item.isHidden) continue;
        if (const auto done = items.paint(item); !done) return done;
    }
    return {};
}

QStringList gatheredCredits(const doc::Document& document, const doc::Sheet& sheet) {
    QStringList out;
    for (const doc::SheetItem& item : sheet.items) {
        const auto* panel = item.as<doc::MapPanel>();
        if (!panel || item.isHidden) continue;
        for (const doc::DrawnLayer& one : doc::drawnLayers(doc::panelLayers(document, *panel))) {
            const doc::SourceRef* source = document.source(one.layer->source);
            if (!source || source->credit.empty()) continue;
            const QString credit = QString::fromStdString(source->credit);
            if (!out.contains(credit)) out << credit;
        }
    }
    return out;
}

QString creditsText(const doc::Document& document, const doc::Sheet& sheet,
                    const doc::CreditsItem& item, const LivePage& page) {
    QStringList said;
    for (const QString& credit : gatheredCredits(document, sheet)) {
        const auto it = item.wording.find(credit.toStdString());
        const QString own = it == item.wording.end() ? credit : QString::fromStdString(it->second);
        if (!said.contains(own)) said << own;
    }
    if (!item.added.empty()) said << liveText(item.added, document, sheet, page);
    return said.join(" · ");
}

QStringList missingCredits(const doc::Document& document, const doc::Sheet& sheet) {
    QStringList missing = gatheredCredits(document, sheet);
    for (const doc::SheetItem& item : sheet.items) {
        if (item.isHidden || item.opacity <= 0) continue;
        const auto* text = item.as<doc::TextItem>();
        if (text && text->text.find("{credits}") != std::string::npos) return {};
        if (const auto* credits = item.as<doc::CreditsItem>())
            // One whose wording was emptied is not shown.
            missing.removeIf([credits](const QString& credit) {
                const auto it = credits->wording.find(credit.toStdString());
                return it == credits->wording.end() || !it->second.empty();
            });
    }
    return missing;
}

QSize pagePixels(const doc::Sheet& sheet, double dpi) {
    return {qRound(sheet.widthMm / 25.4 * dpi), qRound(sheet.heightMm / 25.4 * dpi)};
}

}  // namespace ledge::carto
