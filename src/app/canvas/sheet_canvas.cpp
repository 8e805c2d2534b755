#include "app/canvas/sheet_canvas.h"

#include <QContextMenuEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QShortcut>

#include "app/sheet/item_menu.h"
#include "app/theme.h"
#include "core/base/numbers.h"
#include "document/edits/item_layout.h"
#include "document/edits/sheet_edits.h"
#include "document/json/members.h"
#include "document/map_crs.h"
#include "document/panels.h"

namespace ledge::app {
namespace {
constexpr double kMarginPx = 28;
constexpr double kReachPx = 6;

double rounded(double mm) { return std::round(mm * 10) / 10; }

std::string rectText(const doc::PageRect& r) {
    std::string out;
    for (const double side : {r.left, r.top, r.width, r.height})
        out += (out.empty() ? "" : ",") + exactNumber(rounded(side));
    return out;
}
}  // namespace

SheetCanvas::SheetCanvas(Workspace& workspace, QWidget* parent)
    : QWidget(parent), m_workspace(workspace),
      m_renderers(std::make_shared<std::map<doc::Id, carto::MapRenderer>>()) {
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
        redraw();
    });
    connect(&workspace, &Workspace::pageChanged, this, &SheetCanvas::redraw);
    connect(&workspace, &Workspace::itemSelected, this, qOverload<>(&QWidget::update));
    connect(&workspace, &Workspace::contentModeChanged, this, qOverload<>(&QWidget::update));
}

double SheetCanvas::pxPerMm() const {
    const doc::Sheet* sheet = m_workspace.sheet();
    if (!sheet) return 1;
    const double fit = std::min((width() - kRulerPx - 2 * kMarginPx) / sheet->widthMm,
                                (height() - kRulerPx - 2 * kMarginPx) / sheet->heightMm);
    return std::max(0.1, fit * m_zoom);
}

QPointF SheetCanvas::pageOrigin() const {
    const doc::Sheet* sheet = m_workspace.sheet();
    if (!sheet) return {};
    return QPointF(width() + kRulerPx - sheet->widthMm * pxPerMm(),
                   height() + kRulerPx - sheet->heightMm * pxPerMm()) /
               2 +
           m_shift;
}
QPointF SheetCanvas::toWidget(QPointF mm) const { return pageOrigin() + mm * pxPerMm(); }
QPointF SheetCanvas::toPage(QPointF widget) const { return (widget - pageOrigin()) / pxPerMm(); }
QRectF SheetCanvas::boxOf(const doc::PageRect& r) const {
    return {toWidget({r.left, r.top}), QSizeF(r.width, r.height) * pxPerMm()};
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
        carto::MapReport report;
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
                const auto picture = renderer.picture(
                    shown.document, doc::panelLayers(shown.document, *item.as<doc::MapPanel>()),
                    frame, {stop, {}}, report);
                if (!picture) return picture.error();
                p.drawImage(0, 0, *picture);
                return {};
            },
            shown.live);
        painter.end();
        if (!done || stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, page, sheetId, generation] {
            m_page = page;
            m_pageOf = sheetId;
            if (generation == m_generation) m_isStale = false;
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
    const QRectF page(pageOrigin(), QSizeF(sheet->widthMm, sheet->heightMm) * pxPerMm());
    painter.fillRect(page.translated(4, 4), QColor(35, 38, 90, 50));
    painter.fillRect(page, Qt::white);
    if (!m_page.isNull() && m_pageOf == sheet->id) {
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        painter.drawImage(page, m_page);
    }
    paintGuides(painter, *sheet, page);
    paintSelection(painter, *sheet);
    if (m_drag == Drag::Rubber) {
        painter.setPen(QPen(theme().indigo, 1, Qt::DashLine));
        painter.setBrush(QColor(61, 66, 150, 24));
        painter.drawRect(QRectF(toWidget(m_rubber.topLeft()), m_rubber.size() * pxPerMm()));
    }
    paintRulers(painter, *sheet);
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
        const QRectF box = boxOf(item->rect);
        const bool isInside = m_workspace.movesContent() && id == m_workspace.selectedItem();
        painter.setPen(QPen(QColor("#F6F6FB"), 3));
        painter.drawRect(box);
        painter.setPen(QPen(theme().lichen, isInside ? 2.5 : 1.4,
                            isSelected(id) ? Qt::SolidLine : Qt::DashLine));
        painter.drawRect(box);
    }
    const doc::SheetItem* item = m_workspace.item();
    if (!item) return;
    const QRectF box = boxOf(item->rect);
    if (m_workspace.movesContent()) {
        const QString said = tr("The map inside moves · Esc ends");
        const QRectF label(box.center().x() - 110, box.top() + 8, 220, 22);
        painter.setPen(Qt::NoPen);
        painter.setBrush(QColor(35, 38, 90, 220));
        painter.drawRoundedRect(label, 6, 6);
        painter.setPen(Qt::white);
        painter.drawText(label, Qt::AlignCenter, said);
        return;
    }
    if (item->isLocked || m_workspace.selectedItems().size() > 1) return;
    painter.setPen(QPen(theme().lichen, 1.4));
    painter.setBrush(Qt::white);
    for (const double u : {0.0, 0.5, 1.0})
        for (const double v : {0.0, 0.5, 1.0})
            if (u != 0.5 || v != 0.5)
                painter.drawRect(QRectF(box.left() + box.width() * u - 3,
                                        box.top() + box.height() * v - 3, 6, 6));
}

// Millimetres along two edges of the canvas; where the selected item lies is shaded.
void SheetCanvas::paintRulers(QPainter& painter, const doc::Sheet& sheet) const {
    const double k = pxPerMm();
    const QPointF from = pageOrigin();
    const auto& t = theme();
    painter.fillRect(QRectF(0, 0, width(), kRulerPx), t.stone);
    painter.fillRect(QRectF(0, 0, kRulerPx, height()), t.stone);
    if (const auto* item = m_workspace.item()) {
        const QRectF box = boxOf(item->rect);
        QColor shade = t.lichen;
        shade.setAlpha(70);
        painter.fillRect(QRectF(box.left(), 0, box.width(), kRulerPx), shade);
        painter.fillRect(QRectF(0, box.top(), kRulerPx, box.height()), shade);
    }
    const double step = roundUpToInterval(48 / k);
    painter.setPen(t.muted);
    QFont font = painter.font();
    font.setPixelSize(9);
    painter.setFont(font);
    const double fine = step / 5;
    const auto ticks = [&](double length, double start, double end, const auto& draw) {
        for (double mm = std::ceil((0 - start) / k / fine) * fine; start + mm * k < end;
             mm += fine) {
            if (mm < -1e-9 || mm > length + 1e-9) continue;
            const bool isLong = std::abs(mm / step - std::round(mm / step)) < 1e-6;
            draw(start + mm * k, isLong ? QString::number(std::round(mm * 100) / 100) : QString());
        }
    };
    ticks(sheet.widthMm, from.x(), width(), [&](double at, const QString& said) {
        if (at < kRulerPx) return;
        painter.drawLine(QPointF(at, kRulerPx), QPointF(at, said.isEmpty() ? kRulerPx - 4 : 4));
        if (!said.isEmpty()) painter.drawText(QPointF(at + 2, 10), said);
    });
    ticks(sheet.heightMm, from.y(), height(), [&](double at, const QString& said) {
        if (at < kRulerPx) return;
        painter.drawLine(QPointF(kRulerPx, at), QPointF(said.isEmpty() ? kRulerPx - 4 : 4, at));
        if (said.isEmpty()) return;
        painter.save();
        painter.translate(10, at - 2);
        painter.rotate(-90);
        painter.drawText(QPointF(0, 0), said);
        painter.restore();
    });
    painter.fillRect(QRectF(0, 0, kRulerPx, kRulerPx), t.stone);
    painter.drawText(QRectF(0, 0, kRulerPx, kRulerPx), Qt::AlignCenter, "mm");
}

void SheetCanvas::resizeEvent(QResizeEvent*) { redraw(); }
void SheetCanvas::showEvent(QShowEvent*) { redraw(); }

void SheetCanvas::wheelEvent(QWheelEvent* event) {
    const QPointF beneath = toPage(event->position());
    const double turns = event->angleDelta().y() / 120.0;
    if (m_workspace.movesContent()) return zoomContent(std::pow(1.2, -turns), beneath);
    m_zoom = std::clamp(m_zoom * std::pow(1.2, turns), 0.5, 12.0);
    m_shift += event->position() - toWidget(beneath);
    redraw();
    update();
}

const doc::SheetItem* SheetCanvas::hit(QPointF mm) const {
    const doc::Sheet* sheet = m_workspace.sheet();
    for (const doc::SheetItem& item : sheet->items)
        if (!item.isHidden && gripAt(item.rect, mm, 0).isInside) return &item;
    return nullptr;
}

bool SheetCanvas::isSelected(doc::Id id) const {
    const auto& all = m_workspace.selectedItems();
    return std::find(all.begin(), all.end(), id) != all.end();
}

// Pressed on one of some, they stay together, to be dragged.
void SheetCanvas::pressItem(const doc::SheetItem* item, bool extends) {
    if (!item) {
        if (!extends) m_workspace.selectItem(0);
        return;
    }
    auto items = m_workspace.selectedItems();
    if (!extends) {
        if (isSelected(item->id))
            m_workspace.selectItems(items, item->id);
        else
            m_workspace.selectItem(item->id);
    } else if (!isSelected(item->id)) {
        items.push_back(item->id);
        m_workspace.selectItems(items, item->id);
    } else {
        std::erase(items, item->id);
        m_workspace.selectItems(items, items.empty() ? 0 : items.back());
    }
    m_workspace.setBench(Bench::Sheet);
}

void SheetCanvas::startMoving(QPointF mm, const Grip& grip) {
    const doc::Sheet* sheet = m_workspace.sheet();
    m_drag = Drag::Items;
    m_grip = grip;
    m_pressedAt = mm;
    m_moved.clear();
    if (grip.isHandle()) {
        if (const auto* item = m_workspace.item()) m_moved.emplace_back(item->id, item->rect);
        return;
    }
    // The current one first: it is the one that snaps.
    for (const doc::Id id : doc::withGroups(*sheet, m_workspace.selectedItems()))
        if (const auto* item = sheet->item(id); item && !item->isLocked)
            m_moved.insert(id == m_workspace.selectedItem() ? m_moved.begin() : m_moved.end(),
                           {id, item->rect});
}

void SheetCanvas::mousePressEvent(QMouseEvent* event) {
    setFocus();
    const doc::Sheet* sheet = m_workspace.sheet();
    if (!sheet) return;
    const QPointF at = event->position(), mm = toPage(at);
    m_pressedAt = m_lastAt = mm;
    m_snap = {};
    if (event->button() == Qt::MiddleButton) {
        m_drag = Drag::Page;
        m_lastAt = at;
        return;
    }
    if (event->button() != Qt::LeftButton || pressGuide(at)) return;
    if (m_workspace.movesContent()) {
        const auto* panel = m_workspace.item();
        if (panel && gripAt(panel->rect, mm, 0).isInside) {
            m_drag = Drag::Content;
            return;
        }
        m_workspace.setMovesContent(false);
    }
    // The selected item's handles come first, then whatever is on top.
    const double reach = kReachPx / pxPerMm();
    const bool extends = event->modifiers() & (Qt::ShiftModifier | Qt::ControlModifier);
    if (const auto* item = m_workspace.item();
        item && !item->isLocked && !extends && m_workspace.selectedItems().size() == 1)
        if (const Grip grip = gripAt(item->rect, mm, reach); grip.isHandle())
            return startMoving(mm, grip);
    const doc::SheetItem* item = hit(mm);
    pressItem(item, extends);
    if (item && isSelected(item->id)) return startMoving(mm, {true, 0, 0});
    if (!item) {
        m_drag = Drag::Rubber;
        m_rubber = QRectF(mm, mm);
    }
}

void SheetCanvas::moveItems(QPointF mm, bool isFree) {
    if (m_moved.empty()) return;
    const doc::PageRect before = m_moved.front().second;
    m_snap = {};
    m_snap.rect = dragged(before, m_grip, mm - m_pressedAt);
    if (!isFree) {
        std::vector<doc::Id> moved;
        for (const auto& one : m_moved) moved.push_back(one.first);
        m_snap = snapped(m_snap.rect, m_grip, *m_workspace.sheet(), moved, kReachPx / pxPerMm());
    }
    const doc::PageRect after = m_snap.rect;
    if (m_grip.isHandle() || m_moved.size() == 1) {
        m_workspace.performOnSheet(
            "item-rect",
            {{"item", Workspace::target(m_moved.front().first)}, {"rect", rectText(after)}},
            QString("rect%1").arg(m_moved.front().first));
        return;
    }
    std::string items, rects;
    for (const auto& [id, rect] : m_moved) {
        doc::PageRect r = rect;
        r.left += after.left - before.left, r.top += after.top - before.top;
        items += (items.empty() ? "" : ",") + Workspace::target(id);
        rects += (rects.empty() ? "" : ",") + rectText(r);
    }
    m_workspace.performOnSheet("items-place", {{"items", items}, {"rects", rects}}, "rects");
}

void SheetCanvas::look(const doc::MapPanel& panel, const QString& mergeKey) {
    const double scale = doc::groundScale(panel, doc::crsIn(m_workspace.document(), panel.crs));
    m_workspace.performOnItem(
        "panel-look",
        {{"centre", exactNumber(panel.centre.x) + "," + exactNumber(panel.centre.y)},
         {"scale", exactNumber(scale)},
         {"rotation", exactNumber(std::remainder(panel.rotation, 360.0))}},
        mergeKey);
}

void SheetCanvas::moveContent(QPointF mm) {
    const QPointF by = mm - m_lastAt;
    m_lastAt = mm;
    const auto* item = m_workspace.item();
    const auto* panel = item ? item->as<doc::MapPanel>() : nullptr;
    if (panel) look(doc::moved(m_workspace.document(), *panel, {by.x(), by.y()}), "content");
}

void SheetCanvas::zoomContent(double factor, QPointF mm) {
    const auto* item = m_workspace.item();
    const auto* panel = item ? item->as<doc::MapPanel>() : nullptr;
    if (!panel) return;
    const doc::PageRect& r = item->rect;
    const Point about{mm.x() - r.left - r.width / 2, mm.y() - r.top - r.height / 2};
    look(doc::zoomed(m_workspace.document(), *panel, factor, about), "contentZoom");
}

void SheetCanvas::turnContent(double degrees) {
    const auto* item = m_workspace.item();
    const auto* panel = item ? item->as<doc::MapPanel>() : nullptr;
    if (!panel) return;
    const double now = doc::resolved(m_workspace.document(), *panel).rotation;
    m_workspace.performOnItem("panel-rotation",
                              {{"degrees", exactNumber(std::remainder(now + degrees, 360.0))}},
                              "contentTurn");
}

void SheetCanvas::chooseWithin(const QRectF& mm) {
    std::vector<doc::Id> items;
    for (const doc::SheetItem& item : m_workspace.sheet()->items)
        if (!item.isHidden &&
            mm.contains(QRectF(item.rect.left, item.rect.top, item.rect.width, item.rect.height)))
            items.push_back(item.id);
    m_workspace.selectItems(items, items.empty() ? 0 : items.front());
    if (!items.empty()) m_workspace.setBench(Bench::Sheet);
}

// Out of a ruler comes a new guide; one on the page is moved, and let go beyond the page.
bool SheetCanvas::pressGuide(QPointF at) {
    const doc::Sheet& sheet = *m_workspace.sheet();
    const QPointF mm = toPage(at);
    m_guide = SIZE_MAX;
    const auto begin = [&](Drag drag, double where) {
        m_drag = drag, m_guideAt = where;
        update();
        return true;
    };
    if (at.x() < kRulerPx) return begin(Drag::GuideAcross, mm.x());
    if (at.y() < kRulerPx) return begin(Drag::GuideDown, mm.y());
    const double reach = 3 / pxPerMm();
    // Within items guides are out of reach: there things are chosen.
    if (hit(mm)) return false;
    for (std::size_t i = 0; i < sheet.guidesAcross.size(); ++i)
        if (std::abs(sheet.guidesAcross[i] - mm.x()) < reach)
            return m_guide = i, begin(Drag::GuideAcross, mm.x());
    for (std::size_t i = 0; i < sheet.guidesDown.size(); ++i)
        if (std::abs(sheet.guidesDown[i] - mm.y()) < reach)
            return m_guide = i, begin(Drag::GuideDown, mm.y());
    return false;
}

void SheetCanvas::dropGuide(QPointF at) {
    const doc::Sheet& sheet = *m_workspace.sheet();
    const bool isAcross = m_drag == Drag::GuideAcross;
    auto guides = isAcross ? sheet.guidesAcross : sheet.guidesDown;
    const QPointF mm = toPage(at);
    const double where = rounded(isAcross ? mm.x() : mm.y());
    const bool isOnPage = where >= 0 && where <= (isAcross ? sheet.widthMm : sheet.heightMm);
    if (m_guide < guides.size())
        guides.erase(guides.begin() + static_cast<std::ptrdiff_t>(m_guide));
    if (isOnPage) guides.push_back(where);
    std::string said;
    for (const double one : guides) said += (said.empty() ? "" : ",") + exactNumber(one);
    m_workspace.performOnSheet("sheet-set", {{"member", isAcross ? "guides_across" : "guides_down"},
                                             {"value", "[" + said + "]"}});
}

void SheetCanvas::noteHover(QPointF mm) {
    Q_EMIT hovered(tr("%1, %2 mm on the page")
                       .arg(rounded(mm.x()), 0, 'f', 1)
                       .arg(rounded(mm.y()), 0, 'f', 1));
}

void SheetCanvas::mouseMoveEvent(QMouseEvent* event) {
    const QPointF at = event->position(), mm = toPage(at);
    const bool isFree = event->modifiers() & Qt::AltModifier;
    noteHover(mm);
    switch (m_drag) {
    case Drag::Items: moveItems(mm, isFree); return update();
    case Drag::Content: return moveContent(mm);
    case Drag::Page:
        m_shift += at - m_lastAt;
        m_lastAt = at;
        return update();
    case Drag::Rubber: m_rubber = QRectF(m_pressedAt, mm).normalized(); return update();
    case Drag::GuideAcross: m_guideAt = mm.x(); return update();
    case Drag::GuideDown: m_guideAt = mm.y(); return update();
    case Drag::Nothing: break;
    }
    if (m_workspace.movesContent()) return setCursor(Qt::OpenHandCursor);
    const auto* item = m_workspace.item();
    const bool isOne = item && !item->isLocked && m_workspace.selectedItems().size() == 1;
    const Grip over = isOne ? gripAt(item->rect, mm, kReachPx / pxPerMm()) : Grip{};
    setCursor(!over.isHandle() ? Qt::ArrowCursor
              : over.horizontal != 0 && over.vertical != 0
                  ? (over.horizontal == over.vertical ? Qt::SizeFDiagCursor : Qt::SizeBDiagCursor)
              : over.horizontal != 0 ? Qt::SizeHorCursor
                                     : Qt::SizeVerCursor);
}

void SheetCanvas::mouseReleaseEvent(QMouseEvent* event) {
    const Drag was = std::exchange(m_drag, Drag::Nothing);
    if (was == Drag::Rubber && (m_rubber.width() > 1 || m_rubber.height() > 1))
        chooseWithin(m_rubber);
    if (was == Drag::GuideAcross || was == Drag::GuideDown) {
        m_drag = was;
        dropGuide(event->position());
        m_drag = Drag::Nothing;
    }
    if (was == Drag::Page) redraw();
    m_grip = {};
    m_moved.clear();
    m_snap = {};
    m_workspace.session().seal();
    update();
}

void SheetCanvas::mouseDoubleClickEvent(QMouseEvent* event) {
    const doc::Sheet* sheet = m_workspace.sheet();
    if (!sheet || event->button() != Qt::LeftButton) return;
    m_drag = Drag::Nothing;
    const doc::SheetItem* item = hit(toPage(event->position()));
    if (item && item->as<doc::MapPanel>()) {
        m_workspace.selectItem(item->id);
        return m_workspace.setMovesContent(true);
    }
    // A text is written where it is asked for: in the bench.
    if (item)
        if (QWidget* text = window()->findChild<QWidget*>("itemText"); text && text->isVisible())
            text->setFocus(Qt::MouseFocusReason);
}

void SheetCanvas::contextMenuEvent(QContextMenuEvent* event) {
    const doc::Sheet* sheet = m_workspace.sheet();
    if (!sheet) return;
    QPoint at = event->globalPos();
    if (event->reason() == QContextMenuEvent::Mouse) {
        const doc::SheetItem* item = hit(toPage(event->pos()));
        if (item && !isSelected(item->id)) m_workspace.selectItem(item->id);
    } else if (const auto* item = m_workspace.item()) {
        at = mapToGlobal(boxOf(item->rect).center().toPoint());
    }
    ItemMenu menu(m_workspace, this);
    menu.exec(at);
}

// Keys that the window has other uses for are the page's while it has the focus.
bool SheetCanvas::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride) {
        auto* key = static_cast<QKeyEvent*>(event);
        const bool isOwn = key->matches(QKeySequence::Copy) || key->matches(QKeySequence::Cut) ||
                           key->matches(QKeySequence::Paste) ||
                           key->matches(QKeySequence::SelectAll);
        if (isOwn) {
            event->accept();
            return true;
        }
    }
    // Tab goes from item to item, and on to the window after the last.
    if (event->type() == QEvent::KeyPress) {
        auto* key = static_cast<QKeyEvent*>(event);
        const bool isBack = key->key() == Qt::Key_Backtab;
        const doc::Sheet* sheet = m_workspace.sheet();
        if ((key->key() == Qt::Key_Tab || isBack) && sheet && !sheet->items.empty()) {
            std::size_t at = sheet->items.size();
            for (std::size_t i = 0; i < sheet->items.size(); ++i)
                if (sheet->items[i]->id == m_workspace.selectedItem()) at = i;
            const bool isAtEnd = isBack ? at == 0 : at + 1 == sheet->items.size();
            if (!isAtEnd) {
                stepItem(isBack ? -1 : 1);
                return true;
            }
        }
    }
    return QWidget::event(event);
}

void SheetCanvas::stepItem(int by) {
    const doc::Sheet* sheet = m_workspace.sheet();
    const auto count = static_cast<int>(sheet->items.size());
    int at = by > 0 ? -1 : count;
    for (int i = 0; i < count; ++i)
        if (sheet->items[static_cast<std::size_t>(i)]->id == m_workspace.selectedItem()) at = i;
    const int next = std::clamp(at + by, 0, count - 1);
    m_workspace.selectItem(sheet->items[static_cast<std::size_t>(next)]->id);
    m_workspace.setBench(Bench::Sheet);
}

void SheetCanvas::nudge(double right, double down) {
    doc::Sheet moved = *m_workspace.sheet();
    doc::moveItems(moved, m_workspace.selectedItems(), right, down);
    std::string items, rects;
    for (const doc::Id id : doc::withGroups(moved, m_workspace.selectedItems())) {
        items += (items.empty() ? "" : ",") + Workspace::target(id);
        // Not rounded: a step is as long as it says.
        const doc::PageRect& r = moved.item(id)->rect;
        for (const double side : {r.left, r.top, r.width, r.height})
            rects += (rects.empty() ? "" : ",") + exactNumber(side);
    }
    m_workspace.performOnSheet("items-place", {{"items", items}, {"rects", rects}}, "nudge");
}

bool SheetCanvas::contentKey(QKeyEvent* event) {
    const double step = event->modifiers() & Qt::ShiftModifier ? 1 : 10;
    const auto* item = m_workspace.item();
    const QPointF middle = item ? QPointF(item->rect.left + item->rect.width / 2,
                                          item->rect.top + item->rect.height / 2)
                                : QPointF();
    const auto move = [&](double x, double y) {
        if (const auto* panel = item ? item->as<doc::MapPanel>() : nullptr)
            look(doc::moved(m_workspace.document(), *panel, {x, y}), "content");
        return true;
    };
    switch (event->key()) {
    // The map goes where the arrow points from: what lies there comes into view.
    case Qt::Key_Left: return move(step, 0);
    case Qt::Key_Right: return move(-step, 0);
    case Qt::Key_Up: return move(0, step);
    case Qt::Key_Down: return move(0, -step);
    case Qt::Key_Plus:
    case Qt::Key_Equal: zoomContent(1 / 1.25, middle); return true;
    case Qt::Key_Minus: zoomContent(1.25, middle); return true;
    case Qt::Key_BracketLeft: turnContent(-5); return true;
    case Qt::Key_BracketRight: turnContent(5); return true;
    case Qt::Key_Escape:
    case Qt::Key_Return: m_workspace.setMovesContent(false); return true;
    default: return false;
    }
}

bool SheetCanvas::itemKey(QKeyEvent* event) {
    const double step = event->modifiers() & Qt::ShiftModifier ? 0.1 : 1;
    const bool isOrder = event->modifiers() & Qt::ControlModifier;
    const auto* item = m_workspace.item();
    const auto order = [&](const char* to) {
        orderSelected(m_workspace, to);
        return true;
    };
    const bool isFar = event->modifiers() & Qt::ShiftModifier;
    switch (event->key()) {
    case Qt::Key_Left: nudge(-step, 0); return true;
    case Qt::Key_Right: nudge(step, 0); return true;
    case Qt::Key_Up:
        if (isOrder) return order(isFar ? "front" : "forward");
        nudge(0, -step);
        return true;
    case Qt::Key_Down:
        if (isOrder) return order(isFar ? "back" : "backward");
        nudge(0, step);
        return true;
    case Qt::Key_Delete: m_workspace.performOnItems("items-remove", {}); return true;
    case Qt::Key_D:
        if (!isOrder) return false;
        doubleItems(m_workspace);
        return true;
    case Qt::Key_G:
        if (!isOrder) return false;
        m_workspace.performOnItems("items-group", {{"grouped", isFar ? "no" : "yes"}});
        return true;
    case Qt::Key_Return:
        if (!item->as<doc::MapPanel>()) return false;
        m_workspace.setMovesContent(true);
        return true;
    default: return false;
    }
}

void SheetCanvas::keyPressEvent(QKeyEvent* event) {
    const doc::Sheet* sheet = m_workspace.sheet();
    if (!sheet) return QWidget::keyPressEvent(event);
    if (event->matches(QKeySequence::Copy)) return copyItems(m_workspace);
    if (event->matches(QKeySequence::Cut)) return cutItems(m_workspace);
    if (event->matches(QKeySequence::Paste)) return pasteItems(m_workspace);
    if (event->matches(QKeySequence::SelectAll)) {
        std::vector<doc::Id> all;
        for (const doc::SheetItem& item : sheet->items) all.push_back(item.id);
        return m_workspace.selectItems(all, all.empty() ? 0 : all.front());
    }
    if (m_workspace.movesContent() && contentKey(event)) return;
    if (m_workspace.item() && itemKey(event)) return;
    if (event->key() == Qt::Key_Escape) return m_workspace.selectItem(0);
    if (event->key() == Qt::Key_Plus || event->key() == Qt::Key_Minus) {
        m_zoom = std::clamp(m_zoom * (event->key() == Qt::Key_Plus ? 1.25 : 0.8), 0.5, 12.0);
        return redraw();
    }
    QWidget::keyPressEvent(event);
}

}  // namespace ledge::app
