#include "app/stack/stack_panel.h"

#include <QApplication>
#include <QKeyEvent>
#include <QScrollBar>
#include <QVBoxLayout>
#include <algorithm>
#include <set>

#include "app/stack/strip_menu.h"
#include "app/theme.h"
#include "app/widgets/form.h"
#include "app/widgets/tab_order.h"

namespace ledge::app {
namespace {
constexpr int kIndent = 12, kMostIndents = 8, kLeft = 8, kRight = 8;
constexpr std::size_t kMostSpare = 64;
}  // namespace

StackPanel::StackPanel(Workspace& workspace, session::FactBook& facts, QWidget* parent)
    : QWidget(parent), m_workspace(workspace), m_facts(facts),
      m_photos(workspace.session().sources()), m_scroll(new QScrollArea(this)), m_list(new QWidget),
      m_dropLine(new QFrame(m_list)) {
    setObjectName("stackPanel");
    setFixedWidth(250);
    auto* title = makeLabel(tr("Stack"), "heading");
    auto* add = makeLink(tr("+ Add"), tr("Add data to the map (Ctrl+Shift+A)"));
    add->setStyleSheet("font-weight: 600; color: " + theme().indigo.name());
    connect(add, &QPushButton::clicked, this, &StackPanel::addAsked);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(16, 10, 12, 4);
    head->addWidget(title, 1);
    head->addWidget(add);
    m_scroll->setWidget(m_list);
    m_scroll->setWidgetResizable(true);
    m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_scroll->setFocusPolicy(Qt::ClickFocus);
    m_scroll->setAccessibleName(tr("Stack"));
    m_scroll->viewport()->installEventFilter(this);
    m_headings[0] = makeLabel(tr("On this sheet"), "muted");
    m_headings[1] = makeLabel(tr("Layers"), "muted");
    for (QLabel* heading : m_headings) {
        heading->setParent(m_list);
        heading->hide();
    }
    m_dropLine->setStyleSheet("background: " + theme().lichen.name());
    m_dropLine->hide();
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    all->addLayout(head);
    all->addWidget(m_scroll, 1);
    // A row is as high as its parts ask for, whatever the font.
    m_heights.layer = stripFor(0)->sizeHint().height();
    retire(m_strips.at(0));
    m_strips.clear();
    m_heights.heading = m_headings[0]->sizeHint().height() + 4;

    connect(&workspace.session(), &session::Session::changed, this, &StackPanel::refresh);
    connect(&workspace, &Workspace::canvasChanged, this, &StackPanel::refresh);
    connect(&workspace, &Workspace::itemSelected, this, [this] {
        fill();
        refreshRows();  // lamps are those of the selected panel
        showRow(currentRow());
    });
    connect(&workspace, &Workspace::layerSelected, this, [this] {
        if (m_workspace.selectedLayers().size() == 1) m_anchor = m_workspace.selectedLayer();
        fill();
        showRow(currentRow());
    });
    connect(m_scroll->verticalScrollBar(), &QScrollBar::valueChanged, this, &StackPanel::fill);
    connect(&facts, &session::FactBook::ready, this, &StackPanel::refreshRows);
    connect(&m_photos, &session::PhotoBook::ready, this, &StackPanel::refreshRows);
    connect(&workspace.session().stale(), &session::StaleBook::ready, this,
            &StackPanel::refreshRows);
    connect(&workspace, &Workspace::troublesChanged, this, &StackPanel::refreshRows);
    refresh();
}

bool StackPanel::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::Resize) fill();
    return QWidget::eventFilter(watched, event);
}

Strip* StackPanel::strip(doc::Id layer) const {
    const auto it = m_strips.find(layer);
    return it == m_strips.end() ? nullptr : it->second;
}

ItemRow* StackPanel::itemRow(doc::Id item) const {
    const auto it = m_items.find(item);
    return it == m_items.end() ? nullptr : it->second;
}

RowFrame* StackPanel::frameOf(const StackRow& row) const {
    switch (row.kind) {
    case StackRow::Kind::Layer: return strip(row.id);
    case StackRow::Kind::Item: return itemRow(row.id);
    case StackRow::Kind::Heading: break;
    }
    return nullptr;
}

void StackPanel::refresh() {
    auto rows = stackRows(m_workspace.document(), m_workspace.sheet(), m_heights);
    if (rows != m_rows) {
        m_rows = std::move(rows);
        const int height = m_rows.empty() ? 0 : m_rows.back().bottom() + 2 * m_heights.gap;
        m_list->setMinimumHeight(std::min(height, QWIDGETSIZE_MAX));
    }
    fill();
    refreshRows();
}

void StackPanel::refreshRows() {
    const doc::SheetItem* panel = m_workspace.lampPanel();
    m_headings[1]->setText(
        !panel ? tr("Layers · no map panel here")
        : panel->as<doc::MapPanel>()->lit
            ? tr("Lamps of %1").arg(QString::fromStdString(panel->name))
            : tr("Lamps of %1 · follow the map").arg(QString::fromStdString(panel->name)));
    for (const auto& [id, strip] : m_strips) strip->refresh();
    for (const auto& [id, item] : m_items) item->refresh();
    markSelection();
}

Strip* StackPanel::stripFor(doc::Id layer) {
    if (Strip* shown = strip(layer)) return shown;
    Strip* strip = nullptr;
    if (!m_spare.empty()) {
        strip = m_spare.back();
        m_spare.pop_back();
    } else {
        strip = new Strip(m_workspace, m_facts, m_photos, m_list);
        connect(strip, &Strip::pressed, this,
                [this, strip](Qt::KeyboardModifiers keys) { onPress(strip->layer(), keys); });
        connect(strip, &Strip::released, this, [this, strip](Qt::KeyboardModifiers keys) {
            if (!(keys & (Qt::ShiftModifier | Qt::ControlModifier)))
                m_workspace.selectLayer(strip->layer());
        });
        connect(strip, &Strip::dragged, this,
                [this, strip](int y, bool isEnd) { onDrag(strip->layer(), y, isEnd); });
        connect(strip, &Strip::menuAsked, this,
                [this, strip](const QPoint& at) { openMenu(strip, at); });
        connect(strip, &RowFrame::keyPressed, this,
                [this, strip](QKeyEvent* event) { onKey(strip, event); });
    }
    strip->setLayer(layer);
    m_strips[layer] = strip;
    return strip;
}

// It may be the sender of the signal that led here, so it lives on.
void StackPanel::retire(Strip* strip) {
    strip->hide();
    if (m_spare.size() < kMostSpare)
        m_spare.push_back(strip);
    else
        strip->deleteLater();
}

void StackPanel::place(RowFrame* frame, const StackRow& row) {
    const int left = kLeft + kIndent * std::min(row.depth, kMostIndents);
    frame->setGeometry(left, row.top, m_scroll->viewport()->width() - left - kRight, row.height);
    if (frame->isHidden()) frame->show();
}

// Gives widgets to the rows in sight and a screen above and below, and to those in use.
void StackPanel::fill() {
    if (m_isFilling) return;  // the focus that is handed on here may scroll
    m_isFilling = true;
    const int screen = m_scroll->viewport()->height(), top = m_scroll->verticalScrollBar()->value();
    const std::size_t first = rowAt(m_rows, top - screen);
    const std::size_t last = rowAt(m_rows, top + 2 * screen);
    std::set<std::size_t> wanted;
    for (std::size_t i = first; i <= last && i < m_rows.size(); ++i) wanted.insert(i);
    if (const auto current = currentRow(); current < m_rows.size()) wanted.insert(current);
    const QWidget* focused = QApplication::focusWidget();
    const bool hadFocus = focused && m_list->isAncestorOf(focused);
    for (const auto& [id, strip] : m_strips)
        if (strip->isInUse() || (focused && (strip == focused || strip->isAncestorOf(focused))))
            if (const auto row = rowOf(m_rows, StackRow::Kind::Layer, id); row < m_rows.size())
                wanted.insert(row);

    auto strips = std::exchange(m_strips, {});
    auto items = std::exchange(m_items, {});
    bool hasHeading[2] = {};
    for (const std::size_t i : wanted) {
        const StackRow& row = m_rows[i];
        if (const auto it = strips.find(row.id);
            row.kind == StackRow::Kind::Layer && it != strips.end())
            m_strips.insert(strips.extract(it));
        if (const auto it = items.find(row.id);
            row.kind == StackRow::Kind::Item && it != items.end())
            m_items.insert(items.extract(it));
        if (row.kind == StackRow::Kind::Heading) hasHeading[row.id] = true;
    }
    // Whoever goes hands the focus to the list, not to a neighbour by chance.
    const bool losesFocus =
        hadFocus &&
        std::none_of(m_strips.begin(), m_strips.end(),
                     [&](const auto& one) {
                         return one.second == focused || one.second->isAncestorOf(focused);
                     }) &&
        std::none_of(m_items.begin(), m_items.end(), [&](const auto& one) {
            return one.second == focused || one.second->isAncestorOf(focused);
        });
    if (losesFocus) m_scroll->setFocus(Qt::OtherFocusReason);
    for (const auto& [id, strip] : strips) retire(strip);
    for (const auto& [id, item] : items) {
        item->hide();
        item->deleteLater();
    }
    for (const std::size_t i : wanted) {
        const StackRow& row = m_rows[i];
        switch (row.kind) {
        case StackRow::Kind::Heading:
            m_headings[row.id]->setGeometry(kLeft + 4, row.top,
                                            m_list->width() - kLeft - kRight - 4, row.height);
            m_headings[row.id]->show();
            break;
        case StackRow::Kind::Item: {
            ItemRow*& item = m_items[row.id];
            if (!item) {
                item = new ItemRow(m_workspace, row.id, m_list);
                connect(item, &RowFrame::keyPressed, this,
                        [this, frame = item](QKeyEvent* event) { onKey(frame, event); });
            }
            place(item, row);
            break;
        }
        case StackRow::Kind::Layer: {
            const bool isNew = !strip(row.id);
            Strip* one = stripFor(row.id);
            if (isNew) one->refresh();
            place(one, row);
            break;
        }
        }
    }
    for (std::size_t i = 0; i < 2; ++i)
        if (!hasHeading[i]) m_headings[i]->hide();
    markSelection();
    if (losesFocus)
        if (const auto current = currentRow(); current < m_rows.size())
            if (RowFrame* frame = frameOf(m_rows[current])) frame->setFocus(Qt::OtherFocusReason);
    m_isFilling = false;
}

std::size_t StackPanel::currentRow() const {
    return m_workspace.selectedItem() != 0
               ? rowOf(m_rows, StackRow::Kind::Item, m_workspace.selectedItem())
               : rowOf(m_rows, StackRow::Kind::Layer, m_workspace.selectedLayer());
}

// Tab reaches the current row, or the first in sight without one.
void StackPanel::markSelection() {
    const bool isItem = m_workspace.selectedItem() != 0;
    const auto& selected = m_workspace.selectedLayers();
    for (const auto& [id, strip] : m_strips)
        strip->setSelected(!isItem &&
                               std::find(selected.begin(), selected.end(), id) != selected.end(),
                           !isItem && id == m_workspace.selectedLayer());
    for (const auto& [id, item] : m_items) {
        const auto& items = m_workspace.selectedItems();
        item->setSelected(std::find(items.begin(), items.end(), id) != items.end(),
                          id == m_workspace.selectedItem());
    }
    std::size_t reached = currentRow();
    if (reached == m_rows.size())
        for (std::size_t i = m_rows.size(); i-- > 0;)
            if (frameOf(m_rows[i])) reached = i;
    RowFrame* frame = reached < m_rows.size() ? frameOf(m_rows[reached]) : nullptr;
    for (const auto& [id, strip] : m_strips) strip->setReachable(strip == frame);
    for (const auto& [id, item] : m_items) item->setReachable(item == frame);
    if (!frame || m_reached == frame) return;
    m_reached = frame;
    tabAfter(m_scroll, frame);
}

void StackPanel::showRow(std::size_t row) {
    if (row >= m_rows.size()) return;
    const StackRow& one = m_rows[row];
    QScrollBar* bar = m_scroll->verticalScrollBar();
    const int screen = m_scroll->viewport()->height();
    // The list may not have its new height yet.
    if (m_list->height() < m_list->minimumHeight()) {
        m_list->resize(m_list->width(), m_list->minimumHeight());
        bar->setRange(0, std::max(0, m_list->minimumHeight() - screen));
    }
    const int margin = std::min(30, screen / 4);
    if (one.top - margin < bar->value()) bar->setValue(std::max(0, one.top - margin));
    if (one.bottom() + margin > bar->value() + screen)
        bar->setValue(one.bottom() + margin - screen);
}

void StackPanel::focusSelected() {
    const auto row = currentRow();
    if (row >= m_rows.size()) return m_scroll->setFocus(Qt::OtherFocusReason);
    showRow(row);
    if (RowFrame* frame = frameOf(m_rows[row])) frame->setFocus(Qt::ShortcutFocusReason);
}

void StackPanel::choose(const StackRow& row, bool extends) {
    if (row.kind == StackRow::Kind::Item) {
        m_workspace.selectItem(row.id);
        m_workspace.setBench(Bench::Sheet);
    } else if (extends) {
        selectThrough(row.id);
    } else {
        m_workspace.selectLayer(row.id);
    }
}

void StackPanel::selectThrough(doc::Id layer) {
    const auto from = rowOf(m_rows, StackRow::Kind::Layer, m_anchor);
    const auto to = rowOf(m_rows, StackRow::Kind::Layer, layer);
    if (from >= m_rows.size() || to >= m_rows.size()) return m_workspace.selectLayer(layer);
    std::vector<doc::Id> range;
    for (std::size_t i = std::min(from, to); i <= std::max(from, to); ++i)
        range.push_back(m_rows[i].id);
    m_workspace.selectLayers(range, layer);
}

void StackPanel::onPress(doc::Id layer, Qt::KeyboardModifiers keys) {
    const auto& selected = m_workspace.selectedLayers();
    const bool isSelected = std::find(selected.begin(), selected.end(), layer) != selected.end() &&
                            m_workspace.selectedItem() == 0;
    if (keys & Qt::ShiftModifier) return selectThrough(layer);
    if (!(keys & Qt::ControlModifier)) {
        // Pressed on one of some, they stay together, to be dragged.
        if (!isSelected || selected.size() == 1) return m_workspace.selectLayer(layer);
        return m_workspace.selectLayers(selected, layer);
    }
    auto next = selected;
    m_anchor = layer;
    if (!isSelected) {
        next.push_back(layer);
        return m_workspace.selectLayers(std::move(next), layer);
    }
    if (next.size() == 1) return;
    std::erase(next, layer);
    const doc::Id current = next.back();
    m_workspace.selectLayers(std::move(next), current);
}

void StackPanel::onKey(RowFrame* frame, QKeyEvent* event) {
    auto* strip = qobject_cast<Strip*>(frame);
    const bool extends = event->modifiers() & Qt::ShiftModifier;
    const int screen = std::max(1, m_scroll->viewport()->height() / m_heights.layer - 1);
    const int many = static_cast<int>(std::min<std::size_t>(m_rows.size(), 1u << 30));
    event->accept();
    // What a key does it does to the strip that has the focus, and those selected with it.
    const auto& selected = m_workspace.selectedLayers();
    if (strip && event->key() != Qt::Key_Tab &&
        std::find(selected.begin(), selected.end(), strip->layer()) == selected.end())
        m_workspace.selectLayer(strip->layer());
    if (strip && event->modifiers() & Qt::AltModifier) {
        if (event->key() == Qt::Key_Up) return moveSelected(-1);
        if (event->key() == Qt::Key_Down) return moveSelected(1);
        return event->ignore();
    }
    if (strip && event->modifiers() & Qt::ControlModifier) {
        if (event->key() == Qt::Key_G) return groupSelected(m_workspace);
        if (event->key() != Qt::Key_A) return event->ignore();
        std::vector<doc::Id> all;
        for (const StackRow& row : m_rows)
            if (row.kind == StackRow::Kind::Layer) all.push_back(row.id);
        return m_workspace.selectLayers(std::move(all), m_workspace.selectedLayer());
    }
    switch (event->key()) {
    case Qt::Key_Up: return step(frame, -1, extends);
    case Qt::Key_Down: return step(frame, 1, extends);
    case Qt::Key_PageUp: return step(frame, -screen, extends);
    case Qt::Key_PageDown: return step(frame, screen, extends);
    case Qt::Key_Home: return step(frame, -many, extends);
    case Qt::Key_End: return step(frame, many, extends);
    default: break;
    }
    if (!strip) return event->ignore();
    switch (event->key()) {
    case Qt::Key_Left: return foldOrLeave(strip->layer(), true);
    case Qt::Key_Right: return foldOrLeave(strip->layer(), false);
    case Qt::Key_Space:
        if (const doc::Layer* layer = m_workspace.document().layer(strip->layer()))
            m_workspace.performOnSelected("layers-visible",
                                          {{"visible", layer->isVisible ? "no" : "yes"}});
        return;
    case Qt::Key_F2: return strip->startRenaming();
    case Qt::Key_Delete: return removeSelected(m_workspace);
    default: event->ignore();
    }
}

void StackPanel::step(RowFrame* from, int by, bool extends) {
    std::size_t at = m_rows.size();
    for (std::size_t i = 0; i < m_rows.size() && at == m_rows.size(); ++i)
        if (frameOf(m_rows[i]) == from) at = i;
    if (at == m_rows.size()) return;
    // Headings are passed over; at the ends it stays.
    auto to = static_cast<std::ptrdiff_t>(at);
    const std::ptrdiff_t towards = by < 0 ? -1 : 1;
    std::ptrdiff_t goal = std::clamp<std::ptrdiff_t>(to + by, 0, std::ssize(m_rows) - 1);
    while (goal >= 0 && goal < std::ssize(m_rows) &&
           m_rows[static_cast<std::size_t>(goal)].kind == StackRow::Kind::Heading)
        goal += towards;
    if (goal < 0 || goal >= std::ssize(m_rows)) return;
    to = goal;
    const StackRow row = m_rows[static_cast<std::size_t>(to)];
    choose(row, extends && row.kind == StackRow::Kind::Layer);
    showRow(static_cast<std::size_t>(to));
    if (RowFrame* frame = frameOf(row)) frame->setFocus(Qt::OtherFocusReason);
}

// Left folds a group or goes to the one around; Right unfolds it.
void StackPanel::foldOrLeave(doc::Id layer, bool folds) {
    const doc::Layer* own = m_workspace.document().layer(layer);
    const auto* group = own ? own->as<doc::Group>() : nullptr;
    if (group && group->isFolded != folds) {
        m_workspace.perform(
            "layer-fold", {{"group", Workspace::target(layer)}, {"folded", folds ? "yes" : "no"}});
        return;
    }
    const auto place = doc::placeOf(m_workspace.document(), layer);
    if (!folds || !place || place->group == 0) return;
    m_workspace.selectLayer(place->group);
    focusSelected();
}

void StackPanel::moveSelected(int by) {
    const auto& document = m_workspace.document();
    const auto moved = doc::outermost(document, m_workspace.selectedLayers());
    if (moved.empty()) return;
    auto to = doc::placeOf(document, moved.front());
    if (!to || (by < 0 && to->index == 0)) return;
    to->index = by < 0 ? to->index - 1 : to->index + 1;
    m_workspace.performOnSelected("layers-move",
                                  {{"group", to->group == 0 ? "" : Workspace::target(to->group)},
                                   {"index", std::to_string(to->index)}});
    showRow(currentRow());
}

void StackPanel::onDrag(doc::Id layer, int globalY, bool isEnd) {
    const int y = m_list->mapFromGlobal(QPoint(0, globalY)).y();
    const auto drop = dropAt(m_rows, m_workspace.document(), y, m_workspace.selectedLayers());
    if (!isEnd) {
        const int left = drop.into != 0 ? 2 * kLeft + kIndent : kLeft;
        m_dropLine->setGeometry(left, drop.lineY, m_list->width() - left - kRight, 3);
        m_dropLine->raise();
        m_dropLine->show();
        m_scroll->ensureVisible(0, y, 0, 40);
        return;
    }
    m_dropLine->hide();
    if (!m_workspace.document().layer(layer)) return;
    m_workspace.performOnSelected(
        "layers-move", {{"group", drop.place.group == 0 ? "" : Workspace::target(drop.place.group)},
                        {"index", std::to_string(drop.place.index)}});
}

void StackPanel::openMenu(Strip* strip, const QPoint& at) {
    const auto& selected = m_workspace.selectedLayers();
    if (std::find(selected.begin(), selected.end(), strip->layer()) == selected.end() ||
        m_workspace.selectedItem() != 0)
        m_workspace.selectLayer(strip->layer());
    QMenu menu(this);
    fillStripMenu(menu, m_workspace, [strip] { strip->startRenaming(); });
    menu.exec(at);
}

}  // namespace ledge::app
