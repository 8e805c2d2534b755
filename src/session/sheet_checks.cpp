#include "session/sheet_checks.h"

#include <QObject>
#include <cmath>
#include <set>

#include "carto/own_marks.h"
#include "carto/qtext.h"
#include "carto/sheet/panel_insets.h"
#include "carto/sheet/picture_painter.h"
#include "carto/sheet/table_painter.h"
#include "core/base/numbers.h"
#include "document/edits/item_layout.h"
#include "document/edits/sheet_edits.h"
#include "document/json/members.h"
#include "document/kinds.h"
#include "document/map_crs.h"
#include "session/panel_extent.h"

namespace ledge::session {
namespace {
constexpr double kLeastPt = 5, kLeastContrast = 3, kLeastShare = 0.5, kFarAcross = 0.7;
// Share of the export's resolution below which a picture is coarse.
constexpr double kCoarse = 0.6;

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
    static QString name(const doc::SheetItem& item) { return qtext(item.name); }
    void remove(const doc::SheetItem& item, const QString& said) {
        say(item.id, said, QObject::tr("Remove it"), "item-remove");
    }
    void reshape(const doc::SheetItem& item, const QString& said, const QString& mend,
                 const doc::PageRect& rect) {
        say(item.id, said, mend, "item-rect", {{"rect", doc::rectWords(rect)}});
    }
    bool isOnPage(const doc::PageRect& r) const {
        return r.left >= 0 && r.top >= 0 && r.left + r.width <= m_sheet.widthMm &&
               r.top + r.height <= m_sheet.heightMm;
    }

    void place(const doc::SheetItem& item) {
        const QRectF page(0, 0, m_sheet.widthMm, m_sheet.heightMm), rect = rectOf(item);
        if (rect.width() < 0.5 || rect.height() < 0.5)
            reshape(item, QObject::tr("%1 has hardly a size").arg(name(item)),
                    QObject::tr("Make it 20 × 10 mm"), {item.rect.left, item.rect.top, 20, 10});
        if (!page.adjusted(-0.05, -0.05, 0.05, 0.05).contains(rect) && m_sheet.bleedMm <= 0) {
            doc::PageRect in = item.rect;
            in.width = std::min(in.width, m_sheet.widthMm),
            in.height = std::min(in.height, m_sheet.heightMm);
            in.left = std::clamp(in.left, 0.0, m_sheet.widthMm - in.width);
            in.top = std::clamp(in.top, 0.0, m_sheet.heightMm - in.height);
            reshape(item, QObject::tr("%1 reaches beyond the page").arg(name(item)),
                    QObject::tr("Move it in"), in);
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
                .arg(qtext(family), name(item)),
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
        reshape(
            item,
            QObject::tr("%1 needs %2 mm more height").arg(name(item)).arg(needed - room, 0, 'f', 1),
            QObject::tr("Make it higher"), r);
    }
    // The smallest rectangle from its corner on, or up and to the left of the page's edges, in
    // which all of a legend has room; none where the page is too small.
    std::optional<doc::PageRect> roomFor(const doc::SheetItem& item,
                                         const std::vector<carto::LegendEntry>& entries) const {
        constexpr double kPx = 10, kStep = 1.08;
        doc::SheetItem tried = item;
        for (double times = kStep; times < 40; times *= kStep) {
            doc::PageRect& r = tried.rect;
            r.width = std::min(item.rect.width * times, m_sheet.widthMm);
            r.height = std::min(item.rect.height * times, m_sheet.heightMm);
            r.left = std::clamp(item.rect.left, 0.0, m_sheet.widthMm - r.width);
            r.top = std::clamp(item.rect.top, 0.0, m_sheet.heightMm - r.height);
            const QRectF rect = carto::contentRect(tried);
            const auto layout = carto::legendLayout(QRectF(rect.topLeft() * kPx, rect.size() * kPx),
                                                    entries, *item.as<doc::LegendItem>(), kPx);
            if (layout.leftOut == 0) return r;
        }
        return {};
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
        if (entries.empty()) return remove(item, QObject::tr("%1 has no entry").arg(name(item)));
        const auto layout = carto::legendLayout(QRectF(rect.topLeft() * kPx, rect.size() * kPx),
                                                entries, content, kPx);
        if (layout.leftOut > 0) {
            const QString said = QObject::tr("Entries that do not fit into %1: %2")
                                     .arg(name(item))
                                     .arg(layout.leftOut);
            if (const auto room = roomFor(item, entries))
                reshape(item, said, QObject::tr("Make it larger"), *room);
            else
                say(item.id, said);
        } else if (layout.sizePt < kLeastPt - 1e-6)
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
            return remove(item, QObject::tr("%1 has no map panel to measure").arg(name(item)));
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
            remove(item, QObject::tr("%1 has no map panel to point on").arg(name(item)));
    }
    void of(const doc::SheetItem& item, const doc::ProfileItem& content) {
        size(item, content.sizePt);
        if (!m_document.profile(content.profile))
            remove(item, QObject::tr("The profile of %1 is no longer kept").arg(name(item)));
    }
    void of(const doc::SheetItem& item, const doc::PictureItem& content) {
        const auto facts = carto::pictureFacts(content.file);
        if (!facts) return remove(item, qtext(facts.error().text()));
        if (facts->isDrawing) return;
        const QRectF rect = carto::contentRect(item);
        const double across = carto::pictureRect(rect, facts->size, content).width();
        const double dpi = facts->size.width() / (across / 25.4);
        if (dpi >= m_dpi * kCoarse) return;
        doc::PageRect sharp = item.rect;
        const double times = dpi / (m_dpi * kCoarse) * 0.99;
        sharp.width *= times, sharp.height *= times;
        reshape(item,
                QObject::tr("%1 has %2 dpi where the export has %3: it will be coarse")
                    .arg(name(item))
                    .arg(dpi, 0, 'f', 0)
                    .arg(m_dpi, 0, 'f', 0),
                QObject::tr("Make it smaller"), sharp);
    }
    void of(const doc::SheetItem&, const doc::ShapeItem&) {}
    void of(const doc::SheetItem& item, const doc::TableItem& content) {
        size(item, content.sizePt);
        const auto table = carto::tableText(m_document, content, m_data);
        if (!table) return remove(item, qtext(table.error().text()));
        constexpr double kPx = 10;
        const QRectF rect = carto::contentRect(item);
        QImage nowhere(1, 1, QImage::Format_RGB32);
        QPainter painter(&nowhere);
        const auto left = carto::paintTable(
            painter, QRectF(rect.topLeft() * kPx, rect.size() * kPx), *table, content, kPx);
        if (left <= 0) return;
        const auto fit = static_cast<long long>(table->rows.size()) - static_cast<long long>(left);
        const QString said =
            QObject::tr("Rows that do not fit into %1: %2").arg(name(item)).arg(left);
        if (fit > 0)
            set(item, said, QObject::tr("List %1 rows").arg(fit), "most_rows", std::to_string(fit));
        else
            say(item.id, said);
    }
    void of(const doc::SheetItem& item, const doc::ChartItem& content) {
        size(item, content.sizePt);
        const doc::Layer* layer = m_document.layer(content.layer);
        if (!layer) return remove(item, QObject::tr("The layer of %1 is gone").arg(name(item)));
    }
    void of(const doc::SheetItem& item, const doc::UnknownItem& content) {
        say(item.id,
            QObject::tr("%1 is of a kind (%2) that this version cannot draw")
                .arg(name(item), qtext(content.kind)),
            QObject::tr("Hide it"), "item-visible", {{"visible", "no"}});
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
                    .arg(name(item), qtext(formatNumber(std::round(scale)))),
                QObject::tr("Make it 1 : %1").arg(qtext(formatNumber(round))), "panel-scale",
                {{"scale", exactNumber(round)}});
        auto readable = content.grids;
        std::erase_if(readable, [](const doc::PanelGrid& grid) {
            return !crs::parseCrs(grid.style.crs).has_value();
        });
        if (readable.size() < content.grids.size())
            set(item, QObject::tr("A grid of %1 has a CRS that cannot be read").arg(name(item)),
                QObject::tr("Take it away"), "grids", doc::styleText(readable));
        const auto layers = doc::panelLayers(m_document, content);
        const auto drawn = doc::drawnLayers(layers, scale);
        const QRectF whole(0, 0, frame.widthPx, frame.heightPx);
        QRectF filled, all;
        bool isKnown = true, hasGrid = false;
        for (const doc::DrawnLayer& one : drawn) {
            hasGrid = hasGrid || one.layer->template as<doc::GridLines>();
            if (!doc::kindInfo(*one.layer).needsSource) continue;
            const auto on = extentOn(m_document, *one.layer, frame, m_data);
            if (!on)
                isKnown = false;
            else
                all = all.united(*on), filled = filled.united(on->intersected(whole));
            if (one.layer->template as<doc::VectorLayer>()) noteClasses(*one.layer, item);
        }
        if (!isKnown) return;
        if (drawn.empty() || (filled.isEmpty() && !hasGrid))
            return lookAtAll(item, QObject::tr("%1 shows nothing").arg(name(item)), frame, all);
        // What reaches far one way cannot be shown larger.
        const double across = filled.width() / whole.width(),
                     down = filled.height() / whole.height();
        const double share = across * down;
        if (share < kLeastShare && std::max(across, down) < kFarAcross && !hasGrid)
            lookAtAll(
                item,
                QObject::tr("The map fills %1 % of %2").arg(100 * share, 0, 'f', 0).arg(name(item)),
                frame, all);
    }

    // At a round scale at which all that is drawn, in the frame's pixels, is in.
    void lookAtAll(const doc::SheetItem& item, const QString& said, const carto::MapFrame& frame,
                   const QRectF& all) {
        const double times =
            std::max(all.width() / frame.widthPx, all.height() / frame.heightPx) * 1.04;
        const Point centre = frame.toMap()({all.center().x(), all.center().y()});
        const double scale = doc::roundScale(frame.groundScale() * times);
        if (all.isEmpty() || !std::isfinite(scale) || scale < 1 || !centre.isFinite())
            return say(item.id, said);
        say(item.id, said, QObject::tr("Look at all of it"), "panel-look",
            {{"centre", exactNumber(centre.x) + "," + exactNumber(centre.y)},
             {"scale", exactNumber(scale)}});
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
            if (!listed.contains(layer)) noLegend(layer, panel);
    }
    // One that is there lists it again, unless it is of another panel.
    void noLegend(doc::Id layer, doc::Id panel) {
        const auto* classed = m_document.layer(layer);
        const QString said = QObject::tr("No legend says what the classes of %1 are")
                                 .arg(qtext(classed ? classed->name : ""));
        for (const doc::SheetItem& item : m_sheet.items) {
            const auto* legend = item.as<doc::LegendItem>();
            const auto* of = legend ? m_sheet.panel(legend->panel) : nullptr;
            if (!legend || item.isHidden || !of || of->id != panel) continue;
            if (std::find(legend->left_out.begin(), legend->left_out.end(), layer) ==
                legend->left_out.end())
                continue;
            return say(item.id, said, QObject::tr("List it in %1").arg(name(item)), "legend-listed",
                       {{"layer", target(layer)}, {"listed", "yes"}});
        }
        const double m = m_sheet.marginMm, high = std::min(40.0, m_sheet.heightMm / 3);
        say(0, said, QObject::tr("Add a legend"), "item-add",
            {{"kind", "legend"},
             {"name", "Key"},
             {"panel", target(panel)},
             {"rect", doc::rectWords({m, std::max(0.0, m_sheet.heightMm - m - high),
                                      std::min(70.0, m_sheet.widthMm - 2 * m), high})}});
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
                if (both.width() <= 1 || both.height() <= 1) continue;
                const QString said = QObject::tr("%1 lies over %2").arg(name(a), name(b));
                if (const auto beside = movedOff(a, b))
                    reshape(a, said, QObject::tr("Move it off"), *beside);
                else
                    say(a.id, said);
            }
    }
    // The shortest way off another thing that stays on the page.
    std::optional<doc::PageRect> movedOff(const doc::SheetItem& item,
                                          const doc::SheetItem& other) const {
        const doc::PageRect &a = item.rect, &b = other.rect;
        std::optional<doc::PageRect> best;
        double least = 0;
        for (const auto& [right, down] : {std::pair(b.left + b.width - a.left, 0.0),
                                          {b.left - a.left - a.width, 0.0},
                                          {0.0, b.top + b.height - a.top},
                                          {0.0, b.top - a.top - a.height}}) {
            const doc::PageRect moved{a.left + right, a.top + down, a.width, a.height};
            const double way = std::abs(right) + std::abs(down);
            if (isOnPage(moved) && (!best || way < least)) best = moved, least = way;
        }
        return best;
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
