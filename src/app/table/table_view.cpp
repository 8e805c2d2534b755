#include "app/table/table_view.h"

#include <QApplication>
#include <QKeyEvent>

#include "app/theme.h"

namespace ledge::app {
namespace {
constexpr int kRowHeight = 24;
}

TableView::TableView(TableModel& model, QWidget* parent)
    : QTableView(parent), m_head(new TableHead(model)) {
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
    connect(verticalHeader(), &QHeaderView::sectionPressed, this, [this](int row) {
        const auto how = QApplication::keyboardModifiers();
        if ((how & Qt::ShiftModifier) == 0) m_anchor = row;
        Q_EMIT picked(std::min(m_anchor, row), std::max(m_anchor, row), how);
    });
    connect(verticalHeader(), &QHeaderView::sectionDoubleClicked, this,
            [this] { Q_EMIT zoomAsked(); });
}

void TableView::keyPressEvent(QKeyEvent* event) {
    const int row = currentIndex().row();
    if (event->matches(QKeySequence::Copy)) return copyAsked();
    if (event->matches(QKeySequence::Paste)) return pasteAsked();
    if (event->matches(QKeySequence::Find)) return findAsked();
    if (event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace) return clearAsked();
    if (event->key() == Qt::Key_Space && row >= 0) {
        if ((event->modifiers() & Qt::ShiftModifier) == 0) m_anchor = row;
        const auto how = event->modifiers() | Qt::ControlModifier;
        Q_EMIT picked(std::min(m_anchor, row), std::max(m_anchor, row), how);
        return;
    }
    QTableView::keyPressEvent(event);
}

}  // namespace ledge::app
