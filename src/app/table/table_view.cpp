#include "app/table/table_view.h"

#include <QApplication>
#include <QKeyEvent>
#include <QScrollBar>
#include <algorithm>

#include "app/theme.h"

namespace ledge::app {
namespace {
constexpr int kRowHeight = 24;
}

TableView::TableView(TableModel& model, QWidget* parent)
    : QTableView(parent), m_head(new TableHead(model)), m_frozen(new QTableView(this)),
      m_frozenHead(new TableHead(model)) {
    setObjectName("attributeTable");
    setAccessibleName(tr("Attribute table"));
    setModel(&model);
    setHorizontalHeader(m_head);
    setSelectionMode(ContiguousSelection);
    setSelectionBehavior(SelectItems);
    setEditTriggers(DoubleClicked | EditKeyPressed | AnyKeyPressed);
    setWordWrap(false);
    setShowGrid(false);
    setAlternatingRowColors(false);
    setFrameShape(NoFrame);
    setHorizontalScrollMode(ScrollPerPixel);
    setCornerButtonEnabled(false);
    // Tab leaves the table, as it leaves every other part of the window; arrows go from cell to
    // cell.
    setTabKeyNavigation(false);
    verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
    verticalHeader()->setDefaultSectionSize(kRowHeight);
    verticalHeader()->setMinimumSectionSize(kRowHeight);
    verticalHeader()->setSectionsClickable(true);
    verticalHeader()->setHighlightSections(false);
    verticalHeader()->setAccessibleName(tr("Row numbers: click to pick"));
    setStyleSheet(
        QString("QTableView { background: %1; gridline-color: %2; selection-background-color: %3; "
                "selection-color: %4; } QTableView::item { padding: 0 7px; } QTableView:focus { "
                "border: 1px solid %5; }"
                "QHeaderView::section { background: %6; color: %7; border: 0; padding: 0 6px; "
                "font-size: 11px; }")
            .arg(theme().surface.name(), theme().line.name(), theme().stone.name(),
                 theme().text.name(), theme().lichen.name(), theme().paper.name(),
                 theme().muted.name()));
    m_frozen->setObjectName("frozenColumns");
    m_frozen->setModel(&model);
    m_frozen->setSelectionModel(selectionModel());
    m_frozen->setHorizontalHeader(m_frozenHead);
    m_frozenHead->setSectionsMovable(false);
    m_head->tellAlso(m_frozenHead);
    m_frozen->verticalHeader()->hide();
    m_frozen->verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
    m_frozen->verticalHeader()->setDefaultSectionSize(kRowHeight);
    m_frozen->verticalHeader()->setMinimumSectionSize(kRowHeight);
    m_frozen->setSelectionMode(selectionMode());
    m_frozen->setEditTriggers(editTriggers());
    m_frozen->setShowGrid(false);
    m_frozen->setFrameShape(NoFrame);
    m_frozen->setFocusProxy(this);
    m_frozen->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_frozen->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_frozen->setVerticalScrollMode(verticalScrollMode());
    m_frozen->setStyleSheet(QString("QTableView { border: none; border-right: 1px solid %1; }")
                                .arg(theme().indigo.name()));
    m_frozen->hide();
    connect(verticalScrollBar(), &QScrollBar::valueChanged, m_frozen->verticalScrollBar(),
            &QScrollBar::setValue);
    connect(m_frozen->verticalScrollBar(), &QScrollBar::valueChanged, verticalScrollBar(),
            &QScrollBar::setValue);
    connect(m_head, &QHeaderView::sectionResized, this, [this](int column, int, int width) {
        m_frozen->setColumnWidth(column, width);
        placeFrozen();
    });
    connect(m_frozenHead, &QHeaderView::sectionResized, this, [this](int column, int, int width) {
        if (column < m_frozenCount) setColumnWidth(column, width);
    });
    connect(m_frozenHead, &QHeaderView::sectionClicked, m_head, &QHeaderView::sectionClicked);
    m_frozenHead->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(m_frozenHead, &QWidget::customContextMenuRequested, this, [this](const QPoint& at) {
        const int column = m_frozenHead->logicalIndexAt(at);
        // As if the other head, beneath, had been asked.
        Q_EMIT m_head->customContextMenuRequested(
            QPoint(m_head->sectionViewportPosition(column) + 4, at.y()));
    });
    connect(verticalHeader(), &QHeaderView::sectionPressed, this, [this](int row) {
        const auto how = QApplication::keyboardModifiers();
        if ((how & Qt::ShiftModifier) == 0) m_anchor = row;
        Q_EMIT picked(std::min(m_anchor, row), std::max(m_anchor, row), how);
    });
    connect(verticalHeader(), &QHeaderView::sectionDoubleClicked, this,
            [this] { Q_EMIT zoomAsked(); });
}

void TableView::setFrozen(int columns) {
    m_frozenCount = columns;
    for (int i = 0; i < model()->columnCount(); ++i) {
        m_frozen->setColumnHidden(i, i >= columns);
        m_frozen->setColumnWidth(i, columnWidth(i));
    }
    m_frozen->setVisible(columns > 0);
    placeFrozen();
}

void TableView::placeFrozen() {
    if (m_frozenCount == 0) return;
    int width = 1;
    for (int i = 0; i < m_frozenCount; ++i) width += columnWidth(i);
    // Some of the other columns is seen however narrow it is.
    width = std::min(width, viewport()->width() * 2 / 3);
    m_frozen->setGeometry(verticalHeader()->width() + frameWidth(), frameWidth(), width,
                          viewport()->height() + horizontalHeader()->height());
    m_frozen->verticalScrollBar()->setValue(verticalScrollBar()->value());
    m_frozen->raise();
}

void TableView::updateGeometries() {
    QTableView::updateGeometries();
    placeFrozen();
}

// What stays is in sight; what is beneath it is brought out.
void TableView::scrollTo(const QModelIndex& at, ScrollHint hint) {
    if (at.isValid() && at.column() < m_frozenCount) {
        const int sideways = horizontalScrollBar()->value();
        QTableView::scrollTo(at, hint);
        horizontalScrollBar()->setValue(sideways);
        return;
    }
    QTableView::scrollTo(at, hint);
    if (m_frozenCount == 0 || !at.isValid()) return;
    const int hidden = m_frozen->width() - columnViewportPosition(at.column());
    if (hidden > 0) horizontalScrollBar()->setValue(horizontalScrollBar()->value() - hidden);
}

void TableView::keyPressEvent(QKeyEvent* event) {
    const int row = currentIndex().row();
    if (event->matches(QKeySequence::Copy)) return copyAsked();
    if (event->matches(QKeySequence::Paste)) return pasteAsked();
    if (event->matches(QKeySequence::Find)) return findAsked();
    if (event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace) return clearAsked();
    const bool isMenu = event->key() == Qt::Key_Menu ||
                        (event->key() == Qt::Key_F10 && event->modifiers() == Qt::ShiftModifier);
    if (isMenu && currentIndex().isValid()) return columnAsked(currentIndex().column());
    if (event->key() == Qt::Key_Space && row >= 0) {
        if ((event->modifiers() & Qt::ShiftModifier) == 0) m_anchor = row;
        const auto how = event->modifiers() | Qt::ControlModifier;
        Q_EMIT picked(std::min(m_anchor, row), std::max(m_anchor, row), how);
        return;
    }
    QTableView::keyPressEvent(event);
}

}  // namespace ledge::app
