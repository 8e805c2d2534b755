#include "session/sheet_checks.h"

#include <QObject>
#include <cmath>
#include <set>

#include "carto/own_marks.h"
#include "carto/sheet/panel_insets.h"
#include "carto/sheet/picture_painter.h"
#include "carto/sheet/table_painter.h"
#include "core/base/numbers.h"
#include "document/edits/sheet_edits.h"
#include "document/kinds.h"
#include "document/map_crs.h"
#include "session/panel_extent.h"

namespace ledge::session {
namespace {
constexpr double kLeastPt = 5, kLeastContrast = 3, kLeastShare = 0.5, kFarAcross = 0.7;

QString text(const std::string& s) { return QString::fromStdString(s); }
std::string target(doc::Id id) { return "#" + std::to_string(id); }

double linear(std::uint8_t v) {
    const double c = v / 255.0;
    return c <= 0.04045 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4);
}
double luminance(Colour c) {
    return 0.2126 * linear(c.r) + 0.7152 * linear(c.g) + 0.0722 * linear(c.b);
}

QRectF rectOf(const doc::SheetItem& item) {
    return {item.rect.left, item.rect.top, item.rect.width, item.rect.height};
}

// The box of a layer's data on a panel's frame, in its pixels; nothing where it cannot be told.
std::optional<QRectF> extentOn(const doc::Document& document, const doc::Layer& layer,
                               const carto::MapFrame& frame, const doc::DrawingData& data) {
    const auto box = layerExtent(document, layer, frame.crs, data);
    if (!box) return {};
    QRectF out;
    if (box->isEmpty()) return out;
    const Affine way = frame.toPixels();
    for (const Point corner : {Point{box->xMin, box->yMin}, Point{box->xMax, box->yMin},
                               Point{box->xMin, box->yMax}, Point{box->xMax, box->yMax}}) {
        const Point p = way(corner);
        out = out.united(QRectF(p.x - 0.5, p.y - 0.5, 1, 1));
    }
    return out;
}

class Checker {
public:
    Checker(const doc::Document& document, const doc::Sheet& sheet, const doc::DrawingData& data,
            double dpi)
        : m_document(document), m_sheet(sheet), m_data(data), m_dpi(dpi) {}

    std::vector<SheetRemark> all(const Progress& progress) {
        if (m_sheet.items.empty()) say(0, QObject::tr("Nothing is on this sheet yet"));
        for (const doc::SheetItem& item : m_sheet.items) {
            if (progress.stopped()) return {};
            if (item.isHidden) continue;
            place(item);
            std::visit([&](const auto& content) { of(item, content); }, item.content);
        }
        overlaps();
        legends();
        credits();
        return std::move(m_remarks);
    }

private:
    void say(doc::Id item, const QString& said, const QString& mend = {},
             const std::string& edit = {}, doc::EditWords words = {}) {
        if (!edit.empty()) {
            words["sheet"] = target(m_sheet.id);
            if (item != 0 && edit != "item-add") words["item"] = target(item);
        }
        m_remarks.push_back({item, said, mend, edit, std::move(words)});
    }
    void set(const doc::SheetItem& item, const QString& said, const QString& mend,
             const char* member, const std::string& value) {
        say(item.id, said, mend, "item-set", {{"member", member}, {"value", value}});
    }
    static QString name(const doc::SheetItem& item) { return text(item.name); }

    void place(const doc::SheetItem& item) {
        const QRectF page(0, 0, m_sheet.widthMm, m_sheet.heightMm), rect = rectOf(item);
        if (rect.width() < 0.5 || rect.height() < 0.5)
            say(item.id, QObject::tr("%1 has hardly a size").arg(name(item)));
        if (!page.adjusted(-0.05, -0.05, 0.05, 0.05).contains(rect) && m_sheet.bleedMm <= 0) {
            doc::PageRect in = item.rect;
            in.width = std::min(in.width, m_sheet.widthMm),
            in.height = std::min(in.height, m_sheet.heightMm);
            in.left = std::clamp(in.left, 0.0, m_sheet.widthMm - in.width);
            in.top = std::clamp(in.top, 0.0, m_sheet.heightMm - in.height);
            std::string said;
            for (const double v : {in.left, in.top, in.width, in.height})
                said += (said.empty() ? "" : ",") + exactNumber(v);
            say(item.id, QObject::tr("%1 reaches beyond the page").arg(name(item)),
                QObject::tr("Move it in"), "item-rect", {{"rect", said}});
        }
    }

    void size(const doc::SheetItem& item, double sizePt) {
        if (sizePt >= kLeastPt - 1e-6) return;
        set(item,
            QObject::tr("%1 is set in %2 pt; print needs 5").arg(name(item)).arg(sizePt, 0, 'g', 3),
            QObject::tr("Set it in 5 pt"), "size_pt", "5");
    }
    void contrast(const doc::SheetItem& item, Colour ink) {
        const Colour paper = item.hasBackground ? item.background : Colour{255, 255, 255};
        if (contrastRatio(ink, paper) >= kLeastContrast) return;
        set(item,
            QObject::tr("%1 is pale: its contrast is %2 to 1")
                .arg(name(item))
                .arg(contrastRatio(ink, paper), 0, 'f', 1),
            QObject::tr("Set it in ink"), "colour", "#23263F");
    }
    void font(const doc::SheetItem& item, const std::string& family) {
        if (carto::hasFont(family)) return;
        set(item,
            QObject::tr("The font %1 of %2 is not on this computer; another stands in")
                .arg(text(family), name(item)),
            QObject::tr("Use the usual one"), "font", "");
    }
    // Lines that need more room than they have.
    void lines(const doc::SheetItem& item, double sizePt, double spacing) {
        constexpr double kPx = 10;  // per millimetre
        const QStringList said = carto::linesOf(m_document, m_sheet, item, m_data, kPx);
        const double line = sizePt * carto::kMmPerPoint;
        const double needed = line * (1.05 + spacing * static_cast<double>(said.size() - 1));
        const double room = carto::contentRect(item).height();
        if (needed <= room * 1.02 + 0.3) return;
        doc::PageRect r = item.rect;
        r.height += needed - room + 0.3;
        std::string rect;
        for (const double v : {r.left, r.top, r.width, r.height})
            rect += (rect.empty() ? "" : ",") + exactNumber(std::round(v * 10) / 10);
        say(item.id,
            QObject::tr("%1 needs %2 mm more height").arg(name(item)).arg(needed - room, 0, 'f', 1),
            QObject::tr("Make it higher"), "item-rect", {{"rect", rect}});
    }

    void of(const doc::SheetItem& item, const doc::TextItem& content) {
        size(item, content.sizePt);
        contrast(item, content.colour);
        font(item, content.font);
        lines(item, content.sizePt, content.lineSpacing);
    }
    void of(const doc::SheetItem& item, const doc::CreditsItem& content) {
        size(item, content.sizePt);
        lines(item, content.sizePt, 1.3);
    }
    void of(const doc::SheetItem& item, const doc::LegendItem& content) {
        constexpr double kPx = 10;
        const QRectF rect = carto::contentRect(item);
        const auto entries = carto::legendOf(m_document, m_sheet, content, m_data);
        font(item, content.font);
        if (entries.empty()) return say(item.id, QObject::tr("%1 has no entry").arg(name(item)));
        const auto layout = carto::legendLayout(QRectF(rect.topLeft() * kPx, rect.size() * kPx),
                                                entries, content, kPx);
        if (layout.leftOut > 0)
            say(item.id, QObject::tr("Entries that do not fit into %1: %2")
                             .arg(name(item))
                             .arg(layout.leftOut));
        else if (layout.sizePt < kLeastPt - 1e-6)
            size(item, layout.sizePt);
        if (content.isOfView) return;
        doc::LegendItem ofView = content;
        ofView.isOfView = true;
        const auto seen = carto::legendOf(m_document, m_sheet, ofView, m_data);
        if (seen.size() < entries.size())
            set(item,
                QObject::tr("Entries of %1 that are nowhere on its map: %2")
                    .arg(name(item))
                    .arg(entries.size() - seen.size()),
                QObject::tr("List what is on it"), "of_view", "yes");
    }
    void of(const doc::SheetItem& item, const doc::ScaleBarItem& content) {
        size(item, content.sizePt);
        const doc::SheetItem* panel = m_sheet.panel(content.panel);
        if (!panel)
            return say(item.id, QObject::tr("%1 has no map panel to measure").arg(name(item)));
        const auto frame = carto::panelFrame(m_document, *panel, 10);
        if (frame.scaleVariation() > 0.02)
            say(item.id,
                QObject::tr(
                    "The scale of %1 varies by %2 % over its panel; the bar holds in the middle")
                    .arg(name(*panel))
                    .arg(100 * frame.scaleVariation(), 0, 'f', 0));
    }
    void of(const doc::SheetItem& item, const doc::NorthArrowItem& content) {
        if (!m_sheet.panel(content.panel))
            say(item.id, QObject::tr("%1 has no map panel to point on").arg(name(item)));
    }
    void of(const doc::SheetItem& item, const doc::ProfileItem& content) {
        size(item, content.sizePt);
        if (!m_document.profile(content.profile))
            say(item.id, QObject::tr("The profile of %1 is no longer kept").arg(name(item)));
    }
    void of(const doc::SheetItem& item, const doc::PictureItem& content) {
        const auto facts = carto::pictureFacts(content.file);
        if (!facts) return say(item.id, text(facts.error().text()));
        if (facts->isDrawing) return;
        const QRectF rect = carto::contentRect(item);
        const double across = carto::pictureRect(rect, facts->size, content).width();
        const double dpi = facts->size.width() / (across / 25.4);
        if (dpi < m_dpi * 0.6)
            say(item.id, QObject::tr("%1 has %2 dpi where the export has %3: it will be coarse")
                             .arg(name(item))
                             .arg(dpi, 0, 'f', 0)
                             .arg(m_dpi, 0, 'f', 0));
    }
    void of(const doc::SheetItem&, const doc::ShapeItem&) {}
    void of(const doc::SheetItem& item, const doc::TableItem& content) {
        size(item, content.sizePt);
        const auto table = carto::tableText(m_document, content, m_data);
        if (!table) return say(item.id, text(table.error().text()));
        constexpr double kPx = 10;
        const QRectF rect = carto::contentRect(item);
        QImage nowhere(1, 1, QImage::Format_RGB32);
        QPainter painter(&nowhere);
        const auto left = carto::paintTable(
            painter, QRectF(rect.topLeft() * kPx, rect.size() * kPx), *table, content, kPx);
        if (left > 0)
            say(item.id, QObject::tr("Rows that do not fit into %1: %2").arg(name(item)).arg(left));
    }
    void of(const doc::SheetItem& item, const doc::ChartItem& content) {
        size(item, content.sizePt);
        const doc::Layer* layer = m_document.layer(content.layer);
        if (!layer) return say(item.id, QObject::tr("The layer of %1 is gone").arg(name(item)));
    }
    void of(const doc::SheetItem& item, const doc::UnknownItem& content) {
        say(item.id, QObject::tr("%1 is of a kind (%2) that this version cannot draw")
                         .arg(name(item), text(content.kind)));
    }
    void of(const doc::SheetItem& item, const doc::MapPanel& content) {
        const doc::MapPanel panel = doc::resolved(m_document, content);
        const carto::MapFrame frame = carto::panelFrame(m_document, item, 4);
        const double scale = frame.groundScale();
        if (!std::isfinite(scale) || !panel.centre.isFinite())
            return say(item.id,
                       QObject::tr("%1 looks beyond where its CRS is defined").arg(name(item)));
        const double round = doc::roundScale(scale);
        if (std::abs(round / scale - 1) > 0.002 && content.follows == 0)
            say(item.id,
                QObject::tr("The scale of %1 is not round: 1 : %2")
                    .arg(name(item), text(formatNumber(std::round(scale)))),
                QObject::tr("Make it 1 : %1").arg(text(formatNumber(round))), "panel-scale",
                {{"scale", exactNumber(round)}});
        for (const doc::PanelGrid& grid : content.grids)
            if (const auto crs = crs::parseCrs(grid.style.crs); !crs)
                say(item.id,
                    QObject::tr("A grid of %1 has a CRS that cannot be read").arg(name(item)));
        const auto layers = doc::panelLayers(m_document, content);
        const auto drawn = doc::drawnLayers(layers, scale);
        const QRectF whole(0, 0, frame.widthPx, frame.heightPx);
        QRectF filled;
        bool isKnown = true, hasGrid = false;
        for (const doc::DrawnLayer& one : drawn) {
            hasGrid = hasGrid || one.layer->template as<doc::GridLines>();
            if (!doc::kindInfo(*one.layer).needsSource) continue;
            const auto on = extentOn(m_document, *one.layer, frame, m_data);
            if (!on)
                isKnown = false;
            else if (on->intersects(whole))
                filled = filled.united(on->intersected(whole));
            if (one.layer->template as<doc::VectorLayer>()) noteClasses(*one.layer, item);
        }
        if (!isKnown) return;
        if (drawn.empty() || (filled.isEmpty() && !hasGrid))
            return say(item.id, QObject::tr("%1 shows nothing").arg(name(item)));
        // What reaches far one way cannot be shown larger.
        const double across = filled.width() / whole.width(),
                     down = filled.height() / whole.height();
        const double share = across * down;
        if (share < kLeastShare && std::max(across, down) < kFarAcross && !hasGrid)
            say(item.id, QObject::tr("The map fills %1 % of %2")
                             .arg(100 * share, 0, 'f', 0)
                             .arg(name(item)));
    }

    void noteClasses(const doc::Layer& layer, const doc::SheetItem& panel) {
        const auto classing = layer.as<doc::VectorLayer>()->style.classing;
        if (classing == doc::Classing::Single) return;
        m_classed.emplace(layer.id, panel.id);
    }

    void legends() {
        std::set<doc::Id> listed;
        for (const doc::SheetItem& item : m_sheet.items)
            if (const auto* legend = item.as<doc::LegendItem>(); legend && !item.isHidden)
                for (const auto& entry : carto::legendOf(m_document, m_sheet, *legend, m_data))
                    listed.insert(entry.layer);
        for (const auto& [layer, panel] : m_classed)
            if (!listed.contains(layer))
                say(0,
                    QObject::tr("No legend says what the classes of %1 are")
                        .arg(text(m_document.layer(layer) ? m_document.layer(layer)->name : "")));
    }

    void credits() {
        const QStringList missing = carto::missingCredits(m_document, m_sheet);
        if (missing.isEmpty()) return;
        const double m = m_sheet.marginMm;
        const std::string rect = exactNumber(m) + "," +
                                 exactNumber(std::max(0.0, m_sheet.heightMm - m)) + "," +
                                 exactNumber(std::max(10.0, m_sheet.widthMm - 2 * m)) + ",4";
        say(0, QObject::tr("Not credited: %1").arg(missing.join(", ")),
            QObject::tr("Add credits at the foot"), "item-add",
            {{"kind", "credits"}, {"name", "Sources"}, {"rect", rect}});
    }

    // Two things that are read, one over the other.
    void overlaps() {
        const auto isRead = [](const doc::SheetItem& item) {
            return !item.isHidden && item.turn == 0 && !item.as<doc::MapPanel>() &&
                   !item.as<doc::ShapeItem>() && !item.as<doc::PictureItem>() &&
                   !item.as<doc::UnknownItem>();
        };
        for (std::size_t i = 0; i < m_sheet.items.size(); ++i)
            for (std::size_t k = i + 1; k < m_sheet.items.size(); ++k) {
                const doc::SheetItem &a = m_sheet.items[i], &b = m_sheet.items[k];
                if (!isRead(a) || !isRead(b)) continue;
                const QRectF both = rectOf(a).intersected(rectOf(b));
                if (both.width() > 1 && both.height() > 1)
                    say(a.id, QObject::tr("%1 lies over %2").arg(name(a), name(b)));
            }
    }

    const doc::Document& m_document;
    const doc::Sheet& m_sheet;
    const doc::DrawingData& m_data;
    double m_dpi;
    std::map<doc::Id, doc::Id> m_classed;
    std::vector<SheetRemark> m_remarks;
};
}  // namespace

double contrastRatio(Colour one, Colour other) {
    const double a = luminance(one), b = luminance(other);
    return (std::max(a, b) + 0.05) / (std::min(a, b) + 0.05);
}

std::vector<SheetRemark> sheetRemarks(const doc::Document& document, const doc::Sheet& sheet,
                                      const doc::DrawingData& data, double dpi,
                                      const Progress& progress) {
    return Checker(document, sheet, data, dpi).all(progress);
}

}  // namespace ledge::session
