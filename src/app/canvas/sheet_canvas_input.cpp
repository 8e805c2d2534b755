#include <QContextMenuEvent>
#include <QMouseEvent>

#include "app/canvas/label_menu.h"
#include "app/canvas/sheet_canvas.h"
#include "app/sheet/item_menu.h"
#include "core/base/numbers.h"
#include "document/edits/item_layout.h"
#include "document/edits/sheet_edits.h"
#include "document/json/members.h"
#include "document/map_crs.h"
#include "document/panels.h"

/// Mouse, wheel and keyboard of the sheet on the canvas.
namespace ledge::app {
namespace {
constexpr double kReachPx = 6;

double rounded(double mm) { return std::round(mm * 10) / 10; }

QPointF middleOf(const doc::PageRect& r) { return {r.left + r.width / 2, r.top + r.height / 2}; }

// The grip of an item at a place of the page, whatever its turn.
Grip gripOf(const doc::SheetItem& item, QPointF mm, double reachMm) {
    return gripAt(item.rect, turned(mm, middleOf(item.rect), -item.turn), reachMm);
}
}  // namespace

void SheetCanvas::turnItem(QPointF mm, bool isFree) {
    const auto* item = m_workspace.item();
    if (!item) return;
    const QPointF off = mm - middleOf(item->rect);
    const double degrees = std::atan2(off.x(), -off.y()) * 180 / M_PI;
    const double step = isFree ? 0.1 : 5;
    m_workspace.setItemMember("turn", exactNumber(std::round(degrees / step) * step), "turn");
}

bool SheetCanvas::pressLabel(QPointF mm) {
    if (m_workspace.item()->as<doc::MapPanel>()->frozen)
        m_workspace.say(tr("This panel keeps its layers as they were, its labels too; let it "
                           "follow the map's styles to place them"),
                        true);
    const ShownPanel* panel = labelledPanel();
    if (!panel) return false;
    const QPointF at = panel->toPage.inverted().map(mm);
    return m_labelling.press({at.x(), at.y()}, panel->frame);
}

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
        if (!item.isHidden && gripOf(item, mm, 0).isInside) return &item;
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
    if (m_drawing.isOn() && event->button() == Qt::LeftButton) {
        m_drawing.hover(mm, event->modifiers() & Qt::AltModifier);
        m_drawing.addCorner();
        return update();
    }
    if (event->button() != Qt::LeftButton || pressGuide(at)) return;
    if (m_workspace.movesContent()) {
        const auto* panel = m_workspace.item();
        if (panel && gripOf(*panel, mm, 0).isInside) {
            if (m_workspace.tool() != Tool::Label)
                m_drag = Drag::Content;
            else if (pressLabel(mm))
                m_drag = Drag::Label;
            return;
        }
        m_workspace.setMovesContent(false);
    }
    // The selected item's handles come first, then whatever is on top.
    const double reach = kReachPx / pxPerMm();
    if (m_corners.isOn()) {
        if (m_corners.press(mm, reach)) {
            m_drag = Drag::Corner;
            return update();
        }
        m_corners.end();
    }
    const bool extends = event->modifiers() & (Qt::ShiftModifier | Qt::ControlModifier);
    if (const auto* item = m_workspace.item();
        item && !item->isLocked && !extends && m_workspace.selectedItems().size() == 1) {
        const QPointF toGrip = at - turnGrip(*item);
        if (std::hypot(toGrip.x(), toGrip.y()) <= kReachPx) {
            m_drag = Drag::Turn;
            return;
        }
        if (const Grip grip = gripOf(*item, mm, reach); grip.isHandle())
            return startMoving(mm, grip);
    }
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
    const auto* first = m_workspace.sheet()->item(m_moved.front().first);
    const double turn = m_grip.isHandle() && first ? first->turn : 0;
    m_snap.rect = dragged(before, m_grip, turned(mm - m_pressedAt, {}, -turn));
    if (turn != 0) {
        // The side across from the handle stays where it is on the page.
        const QPointF middle = middleOf(m_snap.rect);
        const QPointF by = turned(middle, middleOf(before), turn) - middle;
        m_snap.rect.left += by.x(), m_snap.rect.top += by.y();
    } else if (!isFree) {
        std::vector<doc::Id> moved;
        for (const auto& one : m_moved) moved.push_back(one.first);
        m_snap = snapped(m_snap.rect, m_grip, *m_workspace.sheet(), moved, kReachPx / pxPerMm());
    }
    const doc::PageRect after = m_snap.rect;
    if (m_grip.isHandle() || m_moved.size() == 1) {
        m_workspace.performOnSheet(
            "item-rect",
            {{"item", Workspace::target(m_moved.front().first)}, {"rect", doc::rectWords(after)}},
            QString("rect%1").arg(m_moved.front().first));
        return;
    }
    std::string items, rects;
    for (const auto& [id, rect] : m_moved) {
        doc::PageRect r = rect;
        r.left += after.left - before.left, r.top += after.top - before.top;
        items += (items.empty() ? "" : ",") + Workspace::target(id);
        rects += (rects.empty() ? "" : ",") + doc::rectWords(r);
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
    if (m_drawing.isOn() && m_drag == Drag::Nothing) {
        m_drawing.hover(mm, isFree);
        return update();
    }
    switch (m_drag) {
    case Drag::Items: moveItems(mm, isFree); return update();
    case Drag::Turn: turnItem(mm, isFree); return update();
    case Drag::Corner: m_corners.drag(mm, isFree); return update();
    case Drag::Label:
        if (const ShownPanel* panel = labelledPanel()) {
            const QPointF px = panel->toPage.inverted().map(mm);
            m_labelling.drag({px.x(), px.y()});
        }
        return;
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
    if (m_workspace.movesContent()) {
        const ShownPanel* panel = labelledPanel();
        const QPointF px = panel ? panel->toPage.inverted().map(mm) : QPointF();
        const bool isOver = panel && m_labelling.hasLabelAt({px.x(), px.y()}, panel->frame);
        return setCursor(isOver ? Qt::PointingHandCursor : Qt::OpenHandCursor);
    }
    const auto* item = m_workspace.item();
    const bool isOne = item && !item->isLocked && m_workspace.selectedItems().size() == 1;
    const Grip over = isOne ? gripOf(*item, mm, kReachPx / pxPerMm()) : Grip{};
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
    if (was == Drag::Label) m_labelling.release();
    if (was == Drag::Corner) m_corners.release();
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
    if (m_drawing.isOn()) {
        m_drawing.finish();
        return update();
    }
    const doc::SheetItem* item = hit(toPage(event->position()));
    if (item && item->as<doc::MapPanel>()) {
        m_workspace.selectItem(item->id);
        if (!m_workspace.movesContent()) m_workspace.setTool(Tool::Move);
        return m_workspace.setMovesContent(true);
    }
    if (item && m_corners.begin(*item)) {
        m_workspace.selectItem(item->id);
        return update();
    }
    // A text is written where it is asked for: in the bench.
    if (item)
        if (QWidget* text = window()->findChild<QWidget*>("itemText"); text && text->isVisible())
            text->setFocus(Qt::MouseFocusReason);
}

void SheetCanvas::contextMenuEvent(QContextMenuEvent* event) {
    const doc::Sheet* sheet = m_workspace.sheet();
    if (!sheet) return;
    if (const ShownPanel* panel = labelledPanel()) {
        const QPointF px = panel->toPage.inverted().map(toPage(event->pos()));
        const bool isMouse = event->reason() == QContextMenuEvent::Mouse;
        if (isMouse && !m_labelling.chooseAt({px.x(), px.y()}, panel->frame)) return;
        if (m_labelling.chosen()) LabelMenu(m_labelling, this).exec(event->globalPos());
        return;
    }
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
        if (m_drawing.isOn() && m_drawing.key(*key)) {
            update();
            return true;
        }
        if (m_corners.isOn() && m_corners.key(*key)) {
            update();
            return true;
        }
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
    if (const ShownPanel* panel = labelledPanel()) {
        if (event->key() == Qt::Key_Escape && m_labelling.chosen())
            return m_labelling.letGo(), true;
        if (m_labelling.key(*event, panel->frame)) return true;
    }
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
    case Qt::Key_Return:
        if (m_workspace.tool() == Tool::Label)
            m_workspace.setTool(Tool::Move);
        else
            m_workspace.setMovesContent(false);
        return true;
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
        if (m_corners.begin(*item)) return update(), true;
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
    // Inside of a panel, where labels are taken away by it, it takes no panel away.
    if (m_workspace.movesContent() && event->key() == Qt::Key_Delete) return;
    if (m_workspace.item() && itemKey(event)) return;
    if (event->key() == Qt::Key_Escape) return m_workspace.selectItem(0);
    if (event->key() == Qt::Key_Plus || event->key() == Qt::Key_Minus) {
        m_zoom = std::clamp(m_zoom * (event->key() == Qt::Key_Plus ? 1.25 : 0.8), 0.5, 12.0);
        return redraw();
    }
    QWidget::keyPressEvent(event);
}

}  // namespace ledge::app
