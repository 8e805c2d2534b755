#include "app/canvas/sheet_canvas.h"

#include <QPainter>
#include <QShortcut>

#include "app/theme.h"
#include "document/edits/item_layout.h"
#include "document/map_crs.h"
#include "document/panels.h"

namespace ledge::app {
namespace {
constexpr double kMarginPx = 28;
}  // namespace

SheetCanvas::SheetCanvas(Workspace& workspace, QWidget* parent)
    : QWidget(parent), m_workspace(workspace),
      m_renderers(std::make_shared<std::map<doc::Id, carto::MapRenderer>>()), m_corners(workspace),
      m_drawing(workspace), m_labelling(workspace) {
    setObjectName("sheetCanvas");
    setAccessibleName(tr("Sheet"));
    setAccessibleDescription(
        tr("Tab goes from item to item, arrows move, Enter moves the map inside a panel"));
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    connect(&workspace.session(), &session::Session::changed, this,
            [this](const doc::Change& change) {
                const bool isOfOthers = !change.touchesMap() && !change.isOther &&
                                        change.profiles.empty() &&
                                        !change.sheets.contains(m_workspace.sheetId());
                if (!isOfOthers) redraw();
            });
    connect(&workspace.session(), &session::Session::replaced, this,
            [this] { m_renderers = std::make_shared<std::map<doc::Id, carto::MapRenderer>>(); });
    connect(&workspace, &Workspace::canvasChanged, this, [this] {
        m_zoom = 1;
        m_shift = {};
        m_drag = Drag::Nothing;
        m_corners.end();
        m_drawing.end();
        redraw();
    });
    connect(&workspace, &Workspace::shapeDrawingAsked, this, [this](doc::ShapeForm form) {
        const doc::Sheet* sheet = m_workspace.sheet();
        if (!sheet) return;
        m_workspace.setMovesContent(false);
        m_corners.end();
        m_drawing.begin(form, {sheet->widthMm / 2, sheet->heightMm / 2});
        setCursor(Qt::CrossCursor);
        setFocus();
        update();
    });
    connect(&workspace, &Workspace::pageChanged, this, &SheetCanvas::redraw);
    connect(&workspace, &Workspace::itemSelected, this, [this] {
        followPanel();
        update();
    });
    connect(&workspace, &Workspace::contentModeChanged, this, [this] {
        // Labels are placed inside of a panel only.
        if (!m_workspace.movesContent() && m_workspace.sheetId() != 0 &&
            m_workspace.tool() == Tool::Label)
            m_workspace.setTool(Tool::Move);
        followPanel();
        update();
    });
    connect(&workspace, &Workspace::toolChanged, this, [this] {
        followPanel();
        update();
    });
    connect(&m_labelling, &LabelTool::changed, this, qOverload<>(&QWidget::update));
    connect(&m_labelling, &LabelTool::textAsked, this,
            [this](const carto::LabelOf& of, const QString& text) {
                askLabelText(m_workspace, of, text, this);
            });
}

PageView SheetCanvas::pageView() const {
    const doc::Sheet* sheet = m_workspace.sheet();
    if (!sheet) return {{}, 1, size()};
    const double fit = std::min((width() - kRulerPx - 2 * kMarginPx) / sheet->widthMm,
                                (height() - kRulerPx - 2 * kMarginPx) / sheet->heightMm);
    const double k = std::max(0.1, fit * m_zoom);
    const QPointF origin = QPointF(width() + kRulerPx - sheet->widthMm * k,
                                   height() + kRulerPx - sheet->heightMm * k) /
                               2 +
                           m_shift;
    return {origin, k, size()};
}

void SheetCanvas::redraw() {
    if (!isVisible() || !m_workspace.sheet()) return update();
    m_isStale = true;
    const int generation = ++m_generation;
    const double scale = pxPerMm() * devicePixelRatioF();
    m_worker.start([this, generation, scale, sheetId = m_workspace.sheetId(),
                    number = m_workspace.shownPage(), renderers = m_renderers,
                    snapshot = m_workspace.session().snapshot(),
                    sources = m_workspace.session().sources()](const std::stop_token& stop) {
        const doc::Sheet* sheet = snapshot->sheet(sheetId);
        if (!sheet) return;
        QImage page(QSize(qRound(sheet->widthMm * scale), qRound(sheet->heightMm * scale)),
                    QImage::Format_ARGB32_Premultiplied);
        if (page.isNull()) return;
        page.fill(Qt::white);
        QPainter painter(&page);
        std::map<doc::Id, ShownPanel> panels;
        // A series that cannot be made shows the sheet as it is; its remarks say why.
        const auto series = carto::SeriesPages::of(*snapshot, *sheet, *sources, {stop, {}});
        carto::SheetPage shown{*snapshot, *sheet, {}};
        if (series)
            shown = series->page(std::min(static_cast<std::size_t>(number), series->size()) - 1);
        const auto done = carto::paintSheet(
            painter, shown.document, shown.sheet, scale, *sources,
            [&](QPainter& p, const doc::SheetItem& item,
                const carto::MapFrame& frame) -> Result<void> {
                auto& renderer = renderers->try_emplace(item.id, sources).first->second;
                ShownPanel& panel = panels[item.id];
                panel.frame = frame;
                panel.toPage = p.transform() * QTransform::fromScale(1 / scale, 1 / scale);
                const auto picture = renderer.picture(
                    shown.document, doc::panelLayers(shown.document, *item.as<doc::MapPanel>()),
                    frame, {stop, {}}, panel.report);
                if (!picture) return picture.error();
                p.drawImage(0, 0, *picture);
                return {};
            },
            shown.live);
        painter.end();
        if (!done || stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, page, sheetId, generation, panels] {
            m_page = page;
            m_pageOf = sheetId;
            m_panels = panels;
            if (generation == m_generation) m_isStale = false;
            followPanel();
            update();
            Q_EMIT drawn();
        });
    });
}

void SheetCanvas::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().isDark ? QColor("#14162A") : QColor("#DFE0EC"));
    const doc::Sheet* sheet = m_workspace.sheet();
    if (!sheet) return;
    painter.setRenderHint(QPainter::Antialiasing);
    const PageView view = pageView();
    const QRectF page(view.origin, QSizeF(sheet->widthMm, sheet->heightMm) * view.pxPerMm);
    painter.fillRect(page.translated(4, 4), QColor(35, 38, 90, 50));
    painter.fillRect(page, Qt::white);
    if (!m_page.isNull() && m_pageOf == sheet->id) {
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        painter.drawImage(page, m_page);
    }
    paintGuides(painter, *sheet, page);
    if (m_workspace.movesContent()) paintLabels(painter);
    paintSelection(painter, *sheet);
    m_corners.paint(painter, view);
    m_drawing.paint(painter, view);
    if (m_drag == Drag::Rubber) {
        painter.setPen(QPen(theme().indigo, 1, Qt::DashLine));
        painter.setBrush(QColor(61, 66, 150, 24));
        painter.drawRect(QRectF(toWidget(m_rubber.topLeft()), m_rubber.size() * pxPerMm()));
    }
    paintRulers(painter, view, *sheet, m_workspace.item());
}

void SheetCanvas::paintGuides(QPainter& painter, const doc::Sheet& sheet,
                              const QRectF& page) const {
    painter.setBrush(Qt::NoBrush);
    if (hasFocus() || m_drag != Drag::Nothing) {
        const double m = sheet.marginMm;
        if (m > 0 && 2 * m < std::min(sheet.widthMm, sheet.heightMm)) {
            painter.setPen(QPen(QColor(61, 66, 150, 60), 1, Qt::DotLine));
            painter.drawRect(boxOf({m, m, sheet.widthMm - 2 * m, sheet.heightMm - 2 * m}));
        }
    }
    const auto down = [&](double x, const QColor& colour) {
        painter.setPen(QPen(colour, 1));
        const double at = toWidget({x, 0}).x();
        painter.drawLine(QPointF(at, page.top() - 6), QPointF(at, page.bottom() + 6));
    };
    const auto across = [&](double y, const QColor& colour) {
        painter.setPen(QPen(colour, 1));
        const double at = toWidget({0, y}).y();
        painter.drawLine(QPointF(page.left() - 6, at), QPointF(page.right() + 6, at));
    };
    const QColor quiet(63, 107, 58, 150);
    for (std::size_t i = 0; i < sheet.guidesAcross.size(); ++i)
        if (m_drag != Drag::GuideAcross || i != m_guide) down(sheet.guidesAcross[i], quiet);
    for (std::size_t i = 0; i < sheet.guidesDown.size(); ++i)
        if (m_drag != Drag::GuideDown || i != m_guide) across(sheet.guidesDown[i], quiet);
    if (m_drag == Drag::GuideAcross) down(m_guideAt, theme().lichen);
    if (m_drag == Drag::GuideDown) across(m_guideAt, theme().lichen);
    if (m_drag == Drag::Items && m_snap.across) down(*m_snap.across, theme().lichen);
    if (m_drag == Drag::Items && m_snap.down) across(*m_snap.down, theme().lichen);
}

void SheetCanvas::paintSelection(QPainter& painter, const doc::Sheet& sheet) const {
    painter.setBrush(Qt::NoBrush);
    for (const doc::Id id : doc::withGroups(sheet, m_workspace.selectedItems())) {
        const doc::SheetItem* item = sheet.item(id);
        if (!item) continue;
        painter.save();
        const QRectF box = boxOf(item->rect);
        painter.translate(box.center());
        painter.rotate(item->turn);
        painter.translate(-box.center());
        const bool isInside = m_workspace.movesContent() && id == m_workspace.selectedItem();
        painter.setPen(QPen(QColor("#F6F6FB"), 3));
        painter.drawRect(box);
        painter.setPen(QPen(theme().lichen, isInside ? 2.5 : 1.4,
                            isSelected(id) ? Qt::SolidLine : Qt::DashLine));
        painter.drawRect(box);
        painter.restore();
    }
    const doc::SheetItem* item = m_workspace.item();
    if (!item) return;
    const QRectF box = boxOf(item->rect);
    if (m_workspace.movesContent()) {
        const QString said = m_workspace.tool() == Tool::Label
                                 ? tr("Drag its labels · Esc ends")
                                 : tr("The map inside moves · Alt+L places its labels · Esc ends");
        const double width = painter.fontMetrics().horizontalAdvance(said) + 24;
        const QRectF label(box.center().x() - width / 2, box.top() + 8, width, 22);
        painter.setPen(Qt::NoPen);
        painter.setBrush(QColor(35, 38, 90, 220));
        painter.drawRoundedRect(label, 6, 6);
        painter.setPen(Qt::white);
        painter.drawText(label, Qt::AlignCenter, said);
        return;
    }
    if (item->isLocked || m_workspace.selectedItems().size() > 1 || m_corners.isOn()) return;
    painter.setPen(QPen(theme().lichen, 1.4));
    painter.setBrush(Qt::white);
    const QPointF grip = turnGrip(*item);
    painter.drawLine(turned(QPointF(box.center().x(), box.top()), box.center(), item->turn), grip);
    painter.drawEllipse(grip, 4, 4);
    painter.save();
    painter.translate(box.center());
    painter.rotate(item->turn);
    for (const double u : {-0.5, 0.0, 0.5})
        for (const double v : {-0.5, 0.0, 0.5})
            if (u != 0 || v != 0)
                painter.drawRect(QRectF(box.width() * u - 3, box.height() * v - 3, 6, 6));
    painter.restore();
}

QPointF SheetCanvas::turnGrip(const doc::SheetItem& item) const {
    constexpr double kAbovePx = 20;
    const QRectF box = boxOf(item.rect);
    return turned({box.center().x(), box.top() - kAbovePx}, box.center(), item.turn);
}

// In steps of five degrees, with Alt freely.
const SheetCanvas::ShownPanel* SheetCanvas::labelledPanel() const {
    const auto* item = m_workspace.item();
    if (!m_workspace.movesContent() || m_workspace.tool() != Tool::Label || !item || m_isStale)
        return nullptr;
    // Labels of kept layers are kept, too.
    const auto* panel = item->as<doc::MapPanel>();
    const auto it = m_panels.find(item->id);
    return it == m_panels.end() || !panel || panel->frozen ? nullptr : &it->second;
}

void SheetCanvas::followPanel() {
    const ShownPanel* panel = labelledPanel();
    m_labelling.follow(panel ? panel->report : carto::MapReport(),
                       panel ? panel->frame : carto::MapFrame());
}

QPointF SheetCanvas::fromPanel(doc::Id panel, Point framePx) const {
    const auto it = m_panels.find(panel);
    if (it == m_panels.end()) return {};
    return toWidget(it->second.toPage.map(QPointF(framePx.x, framePx.y)));
}

void SheetCanvas::paintLabels(QPainter& painter) const {
    const ShownPanel* panel = labelledPanel();
    if (!panel) return;
    const PageView view = pageView();
    painter.save();
    painter.setTransform(panel->toPage * QTransform::fromScale(view.pxPerMm, view.pxPerMm) *
                             QTransform::fromTranslate(view.origin.x(), view.origin.y()),
                         true);
    m_labelling.paint(painter, panel->frame);
    painter.restore();
}

void SheetCanvas::resizeEvent(QResizeEvent*) { redraw(); }
void SheetCanvas::showEvent(QShowEvent*) { redraw(); }

}  // namespace ledge::app
