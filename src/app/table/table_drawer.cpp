#include "app/table/table_drawer.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QScrollBar>
#include <algorithm>
#include <numeric>

#include "app/theme.h"
#include "carto/qtext.h"
#include "core/base/numbers.h"

namespace ledge::app {
TableDrawer::TableDrawer(Workspace& workspace, QWidget* parent)
    : QFrame(parent), m_workspace(workspace), m_view(new TableView(m_model)),
      m_title(makeLabel("")), m_trouble(makeLabel("", "muted")),
      m_find(makeText(tr("Find in rows"), tr("Find in rows"))), m_pickedFirst(new QToolButton),
      m_pickedOnly(new QToolButton), m_more(new QToolButton),
      m_formula(new FormulaPanel(workspace)), m_replace(new ReplacePanel(workspace)),
      m_column(new ColumnPanel(workspace, this)) {
    setObjectName("tableDrawer");
    setMinimumHeight(150);
    setStyleSheet(QString("QFrame#tableDrawer { background: %1; border-top: 1px solid %2; }")
                      .arg(theme().surface.name(), theme().line.name()));
    m_title->setObjectName("tableTitle");
    m_trouble->setObjectName("tableTrouble");
    m_trouble->setWordWrap(true);
    m_trouble->hide();
    m_find->setObjectName("tableFind");
    m_find->setClearButtonEnabled(true);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 6, 12, 0);
    layout->setSpacing(6);
    makeTop();
    layout->addWidget(m_formula);
    layout->addWidget(m_replace);
    layout->addWidget(m_trouble);
    layout->addWidget(m_view, 1);
    connect(&m_later, &QTimer::timeout, this, &TableDrawer::read);
    connect(m_find, &QLineEdit::textChanged, &m_later, qOverload<>(&QTimer::start));
    connect(&workspace, &Workspace::layerSelected, this, &TableDrawer::follow);
    connect(&workspace.session(), &session::Session::changed, this,
            [this](const doc::Change& change) {
                if (!isVisible()) return;
                if (!shownLayer()) return hide();
                if (change.layers.contains(m_layer)) refreshColumns();
                if (const auto* s = source(); s && !(doc::readBy(*shownLayer(), *s) == m_shown))
                    read();
            });
    connect(&workspace.session(), &session::Session::replaced, this, [this] {
        hide();
        m_layer = 0;
    });
    connect(&workspace, &Workspace::featuresPicked, this, [this](doc::Id id) {
        const auto* layer = shownLayer();
        if (!isVisible() || !layer || layer->source != id) return;
        m_model.setPicked(m_workspace.picked(id));
        if (m_pickedFirst->isChecked() || m_pickedOnly->isChecked()) m_later.start();
        refreshTitle();
    });
    connect(m_view, &TableView::picked, this, &TableDrawer::pick);
    connect(m_view, &TableView::copyAsked, this, &TableDrawer::copy);
    connect(m_view, &TableView::pasteAsked, this, &TableDrawer::paste);
    connect(m_view, &TableView::clearAsked, this, &TableDrawer::clearCells);
    connect(m_view, &TableView::findAsked, this, [this] { m_find->setFocus(); });
    connect(m_view, &TableView::zoomAsked, this, [this] {
        if (const auto* layer = shownLayer()) Q_EMIT zoomAsked(layer->source);
    });
    connect(m_view->selectionModel(), &QItemSelectionModel::currentRowChanged, this,
            [this](const QModelIndex& now) {
                if (now.isValid()) Q_EMIT currentChanged(m_layer, m_model.keyOf(now.row()));
            });
    connect(m_view->head(), &QHeaderView::sectionClicked, this, [this](int column) {
        orderBy(column, (QApplication::keyboardModifiers() & Qt::ShiftModifier) != 0);
    });
    m_view->head()->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(m_view->head(), &QWidget::customContextMenuRequested, this,
            [this](const QPoint& at) { openColumn(m_view->head()->logicalIndexAt(at), at.x()); });
    connect(m_view, &TableView::columnAsked, this, [this](int column) {
        openColumn(column, m_view->head()->sectionViewportPosition(column));
    });
    // Once the head is done with moving: the columns are then shown anew.
    connect(m_view->head(), &QHeaderView::sectionMoved, this, &TableDrawer::keepOrder,
            Qt::QueuedConnection);
    connect(m_column, &ColumnPanel::computeAsked, this, &TableDrawer::openFormula);
    connect(m_column, &ColumnPanel::orderAsked, this, [this](const QString& name, bool isDown) {
        for (int i = 0; i < m_model.columnCount(); ++i)
            if (qtext(m_model.field(i).name) == name)
                m_order = {{m_model.columns()[static_cast<std::size_t>(i)].field, isDown}};
        m_view->head()->setOrder(m_order);
        read();
    });
    connect(&m_model, &TableModel::typed, this,
            [this](FeatureKey key, const QString& field, const QString& text) {
                const auto* layer = shownLayer();
                if (!layer) return;
                doc::EditWords words{{"source", Workspace::target(layer->source)},
                                     {"row", std::to_string(key)},
                                     {"field", field.toStdString()}};
                const int at = m_table->fieldIndex(field.toStdString());
                if (!text.isEmpty()) {
                    const auto value =
                        valueOf(text.toStdString(),
                                m_table->info.fields[static_cast<std::size_t>(at)].type);
                    if (!value)
                        return m_workspace.say(field + ": " + qtext(value.error().why), true);
                    words["value"] = text.toStdString();
                }
                m_workspace.perform("cell-set", words);
            });
    hide();
}

void TableDrawer::openColumn(int column, int x) {
    const auto* layer = shownLayer();
    if (column < 0 || !layer) return;
    QStringList others;
    for (const Field& field : m_table->info.fields)
        if (field.name != m_model.field(column).name) others << qtext(field.name);
    m_column->open(*layer, m_model.field(column), others,
                   m_model.columns()[static_cast<std::size_t>(column)].look,
                   m_view->head()->mapToGlobal(QPoint(x, m_view->head()->height())));
}

void TableDrawer::keepOrder() {
    const auto* layer = shownLayer();
    if (!layer) return;
    std::string fields;
    for (int i = 0; i < m_view->head()->count(); ++i) {
        const std::string name = m_model.field(m_view->head()->logicalIndex(i)).name;
        fields +=
            (i > 0 ? "," : "") + (name.find(',') == std::string::npos ? name : "\"" + name + "\"");
    }
    m_workspace.perform("columns-order",
                        {{"layer", Workspace::target(layer->id)}, {"fields", fields}});
}

void TableDrawer::makeTop() {
    auto* top = new QHBoxLayout;
    top->setSpacing(6);
    QFont bold = m_title->font();
    bold.setWeight(QFont::DemiBold);
    m_title->setFont(bold);
    top->addWidget(m_title);
    m_find->setMinimumWidth(110);
    m_find->setMaximumWidth(220);
    top->addWidget(m_find, 1);
    const auto toggle = [&](QToolButton* button, const QString& text, const QString& tip,
                            const char* name) {
        button->setText(text);
        button->setToolTip(tip);
        button->setAccessibleName(tip);
        button->setObjectName(name);
        button->setCheckable(true);
        button->setStyleSheet(
            QString("QToolButton { border: 1px solid %1; border-radius: 6px; padding: 4px 8px; } "
                    "QToolButton:checked { background: %2; color: %3; } "
                    "QToolButton:focus { border: 1px solid %4; }")
                .arg(theme().line.name(), theme().indigo.name(), theme().surface.name(),
                     theme().lichen.name()));
        connect(button, &QToolButton::toggled, this, &TableDrawer::read);
        top->addWidget(button);
        m_buttons.push_back(button);
    };
    const auto button = [&](const QString& text, const QString& tip, const char* name, auto act) {
        auto* b = makeButton(text, tip);
        b->setObjectName(name);
        connect(b, &QPushButton::clicked, this, act);
        top->addWidget(b);
        m_buttons.push_back(b);
    };
    button(tr("Compute\u2026"), tr("Fill a column by a formula"), "tableCompute",
           [this] { openFormula({}); });
    toggle(m_pickedFirst, tr("Picked first"), tr("Show picked rows before all others"),
           "tablePickedFirst");
    toggle(m_pickedOnly, tr("Only picked"), tr("Show picked rows only"), "tablePickedOnly");
    button(tr("Zoom to"), tr("Show the picked features on the map"), "tableZoom", [this] {
        if (const auto* layer = shownLayer()) Q_EMIT zoomAsked(layer->source);
    });
    m_more->setText(tr("More"));
    m_more->setObjectName("tableMore");
    m_more->setAccessibleName(tr("More that can be done with the table"));
    m_more->setToolTip(m_more->accessibleName());
    m_more->setPopupMode(QToolButton::InstantPopup);
    m_more->setMenu(new QMenu(m_more));
    connect(m_more->menu(), &QMenu::aboutToShow, this, &TableDrawer::makeMore);
    top->addWidget(m_more);
    auto* close = makeLink(tr("Close"), tr("Close the table (Esc)"));
    close->setObjectName("tableClose");
    connect(close, &QPushButton::clicked, this, &QWidget::hide);
    top->addWidget(close);
    static_cast<QVBoxLayout*>(layout())->addLayout(top);
}

void TableDrawer::makeMore() {
    QMenu& menu = *m_more->menu();
    menu.clear();
    const auto add = [&](const QString& text, bool isOn, auto act) {
        menu.addAction(text, this, act)->setEnabled(isOn);
    };
    const auto* layer = shownLayer();
    // By id: the document may be another when something is chosen.
    const doc::Id id = layer ? layer->source : 0;
    // What has no room above.
    for (QAbstractButton* one : m_buttons) {
        if (one->isVisible()) continue;
        QAction* action = menu.addAction(one->text(), one, &QAbstractButton::click);
        action->setCheckable(one->isCheckable());
        action->setChecked(one->isChecked());
        action->setToolTip(one->toolTip());
    }
    if (!menu.isEmpty()) menu.addSeparator();
    const std::size_t picked = m_workspace.picked(id).size();
    add(tr("Pick all rows shown"), !m_model.rows().empty(),
        [this] { pick(0, m_model.rowCount() - 1, {}); });
    add(tr("Invert what is picked"), m_table != nullptr, [this] { invert(); });
    add(tr("Pick nothing"), picked > 0, [this, id] { m_workspace.pick(id, {}); });
    menu.addSeparator();
    add(tr("Copy cells for a spreadsheet (Ctrl+C)"), true, [this] { copy(); });
    add(tr("Paste cells (Ctrl+V)"), true, [this] { paste(); });
    menu.addSeparator();
    add(tr("Find and replace\u2026"), m_table != nullptr, [this] { openReplace(); });
    add(tr("Add a row without shape"), m_table != nullptr, [this] { addRow(); });
    add(tr("Delete %1 picked rows").arg(counted(picked)), picked > 0, [this] { removePicked(); });
    const auto* from = source();
    const bool hasEdits = from && !from->edits->isEmpty();
    add(tr("Save edits to the file"), hasEdits, [this] { saveEdits(); });
    add(tr("Drop all edits since it was saved"), hasEdits, [this, id] {
        m_workspace.perform("table-revert", {{"source", Workspace::target(id)}});
    });
    if (!vector()) return;
    QMenu* hidden = menu.addMenu(tr("Hidden columns"));
    for (const doc::ColumnLook& look : vector()->columns)
        if (look.isHidden)
            hidden->addAction(qtext(look.field), this, [this, field = look.field] {
                m_workspace.perform(
                    "column-look",
                    {{"layer", Workspace::target(m_layer)}, {"field", field}, {"hidden", "no"}});
            });
    hidden->setEnabled(!hidden->isEmpty());
}

const doc::Layer* TableDrawer::shownLayer() const { return m_workspace.document().layer(m_layer); }
const doc::VectorLayer* TableDrawer::vector() const {
    const auto* layer = shownLayer();
    return layer ? layer->as<doc::VectorLayer>() : nullptr;
}
const doc::SourceRef* TableDrawer::source() const {
    const auto* layer = shownLayer();
    return layer ? m_workspace.document().source(layer->source) : nullptr;
}

void TableDrawer::open(doc::Id id) {
    const auto* layer = m_workspace.document().layer(id);
    if (!layer || !layer->as<doc::VectorLayer>())
        return m_workspace.say(tr("A table belongs to a layer of features: select one"), true);
    setVisible(true);
    if (m_layer != id) {
        m_layer = id;
        m_order.clear();
        m_table = {};
        m_find->clear();
        m_formula->hide();
        m_replace->hide();
    }
    read();
}

void TableDrawer::follow() {
    if (!isVisible()) return;
    const auto* layer = m_workspace.layer();
    if (layer && layer->as<doc::VectorLayer>() && layer->id != m_layer) open(layer->id);
}

void TableDrawer::showFeature(FeatureKey key) {
    m_wanted = key;
    if (!m_table || m_isReading) return;
    const int row = m_model.rowOf(key);
    if (row < 0) return;
    m_wanted.reset();
    const auto at = m_model.index(row, std::max(0, m_view->currentIndex().column()));
    m_view->setCurrentIndex(at);
    m_view->scrollTo(at, QAbstractItemView::PositionAtCenter);
}

// Reads the table when it is another, then its rows as they are to be shown.
void TableDrawer::read() {
    const auto* layer = shownLayer();
    const auto* from = source();
    if (!layer || !from || !isVisible()) return;
    const doc::SourceRef asked = doc::readBy(*layer, *from);
    const bool isOther = !m_table || !(asked == m_shown);
    m_shown = asked;
    m_isReading = true;
    std::vector<std::size_t> fields;
    for (const auto& column : m_model.columns()) fields.push_back(column.field);
    m_reader.start([this, asked, isOther, known = m_table, order = m_order,
                    text = m_find->text().trimmed().toStdString(),
                    isFirst = m_pickedFirst->isChecked(), isOnly = m_pickedOnly->isChecked(),
                    picked = m_workspace.picked(from->id),
                    sources = m_workspace.session().sources()](const std::stop_token& stop) {
        const Progress progress{stop, {}};
        TablePtr table = known;
        if (isOther) {
            const auto read = sources->table(asked, progress);
            if (stop.stop_requested()) return;
            if (!read) {
                QMetaObject::invokeMethod(this, [this, error = read.error()] { show(error); });
                return;
            }
            table = *read;
        }
        std::vector<std::uint32_t> rows(table->size());
        std::iota(rows.begin(), rows.end(), 0U);
        if (!text.empty()) {
            std::vector<std::size_t> all(table->info.fields.size());
            std::iota(all.begin(), all.end(), std::size_t{0});
            auto found = rowsWithText(*table, all, text, progress);
            if (!found) return;
            rows = *std::move(found);
        }
        const auto isPicked = [&](std::uint32_t row) {
            return std::binary_search(picked.begin(), picked.end(), table->key(row));
        };
        if (isOnly) std::erase_if(rows, [&](std::uint32_t row) { return !isPicked(row); });
        auto by = order;
        std::erase_if(by,
                      [&](const OrderBy& one) { return one.field >= table->info.fields.size(); });
        auto sorted = ordered(*table, by, std::move(rows), progress);
        if (!sorted || stop.stop_requested()) return;
        if (isFirst) std::stable_partition(sorted->begin(), sorted->end(), isPicked);
        QMetaObject::invokeMethod(this,
                                  [this, table, isOther, rows = *std::move(sorted)]() mutable {
                                      arrange(table, std::move(rows), isOther);
                                  });
    });
}

void TableDrawer::show(const Error& error) {
    m_isReading = false;
    m_table = {};
    m_model.show({}, {}, {});
    m_trouble->setText(qtext(error.text()));
    m_trouble->show();
    refreshTitle();
}

void TableDrawer::arrange(TablePtr table, std::vector<std::uint32_t> rows, bool isOther) {
    m_isReading = false;
    if (!vector()) return;
    // What was looked at stays where it was as far as it can.
    const QModelIndex current = m_view->currentIndex();
    const bool wasOnRow =
        current.isValid() && current.row() < m_model.rowCount() && m_model.table();
    const FeatureKey key = wasOnRow ? m_model.keyOf(current.row()) : 0;
    const int column = std::max(0, current.column());
    m_table = std::move(table);
    const bool areSameColumns =
        m_model.table() && m_model.table()->info.fields == m_table->info.fields;
    const int from = m_view->verticalScrollBar()->value();
    m_model.show(m_table, std::move(rows), session::shownColumns(m_table->info, *vector()));
    m_model.setPicked(m_workspace.picked(m_shown.id));
    m_model.setEditable(m_shown.isFile());
    m_view->head()->setOrder(m_order);
    m_trouble->setVisible(!m_table->info.notes.empty());
    m_trouble->setText(m_table->info.notes.empty() ? QString() : qtext(m_table->info.notes.back()));
    if (!areSameColumns) {
        m_view->head()->clearFacts();
        m_view->resizeColumnsToContents();
    }
    freezeColumns();
    if (wasOnRow && !m_wanted) {
        const int row = m_model.rowOf(key);
        const QSignalBlocker quiet(m_view->selectionModel());
        if (row >= 0)
            m_view->setCurrentIndex(
                m_model.index(row, std::min(column, m_model.columnCount() - 1)));
        if (!isOther) m_view->verticalScrollBar()->setValue(from);
    }
    if (isOther) {
        readFacts();
        if (m_formula->isVisible()) m_formula->setTable(m_table);
        if (m_replace->isVisible()) m_replace->setTable(m_table, m_model.rows());
    }
    refreshTitle();
    if (m_wanted) showFeature(*m_wanted);
}

void TableDrawer::readFacts() {
    m_facts.start([this, table = m_table](const std::stop_token& stop) {
        for (std::size_t field = 0; field < table->info.fields.size(); ++field) {
            auto facts = session::columnFacts(*table, field, {stop, {}});
            if (!facts || stop.stop_requested()) return;
            const bool isLast = field + 1 == table->info.fields.size();
            QMetaObject::invokeMethod(
                this, [this, table, field, isLast, facts = *std::move(facts)]() mutable {
                    if (table != m_table) return;
                    const bool isFirst = m_view->head()->facts(field) == nullptr;
                    m_view->head()->setFacts(field, std::move(facts));
                    if (!isFirst) return;
                    for (int i = 0; i < m_model.columnCount(); ++i)
                        if (m_model.columns()[static_cast<std::size_t>(i)].field == field)
                            m_view->resizeColumnToContents(i);
                    (void)isLast;
                });
        }
    });
}

void TableDrawer::refreshTitle() {
    const auto* layer = shownLayer();
    if (!layer || !m_table) return m_title->setText(layer ? qtext(layer->name) : QString());
    const std::size_t shown = m_model.rows().size(), all = m_table->size();
    QString text = qtext(layer->name) + " \u00b7 ";
    text += shown == all ? tr("%1 rows").arg(counted(all))
                         : tr("%1 of %2 rows").arg(counted(shown), counted(all));
    if (const auto picked = m_workspace.picked(layer->source).size(); picked > 0)
        text += tr(", %1 picked").arg(counted(picked));
    const auto* from = source();
    if (from && !from->edits->isEmpty()) text += tr(", edited");
    m_title->setText(text);
    fitButtons();
}

void TableDrawer::refreshColumns() {
    if (!m_table || !vector()) return;
    auto columns = session::shownColumns(m_table->info, *vector());
    const QModelIndex current = m_view->currentIndex();
    m_model.setColumns(std::move(columns));
    m_view->resizeColumnsToContents();
    freezeColumns();
    const QSignalBlocker quiet(m_view->selectionModel());
    if (current.isValid() && m_model.columnCount() > 0)
        m_view->setCurrentIndex(
            m_model.index(current.row(), std::min(current.column(), m_model.columnCount() - 1)));
}

void TableDrawer::freezeColumns() {
    // The model has the order now: what was dragged stands as the model has it.
    {
        QHeaderView& head = *m_view->head();
        const QSignalBlocker quiet(head);
        for (int i = 0; i < head.count(); ++i) head.moveSection(head.visualIndex(i), i);
    }
    const auto& columns = m_model.columns();
    m_view->setFrozen(static_cast<int>(
        std::count_if(columns.begin(), columns.end(),
                      [](const session::ShownColumn& column) { return column.look.isFrozen; })));
}

void TableDrawer::orderBy(int column, bool isAlso) {
    if (column < 0 || column >= m_model.columnCount()) return;
    const std::size_t field = m_model.columns()[static_cast<std::size_t>(column)].field;
    const auto it = std::find_if(m_order.begin(), m_order.end(),
                                 [&](const OrderBy& one) { return one.field == field; });
    // Up, down, not at all.
    std::optional<OrderBy> next = OrderBy{field, false};
    if (it != m_order.end())
        next = it->isDescending ? std::nullopt : std::optional(OrderBy{field, true});
    if (!isAlso) {
        m_order.clear();
        if (next) m_order.push_back(*next);
    } else if (it == m_order.end()) {
        m_order.push_back(*next);
    } else if (next) {
        *it = *next;
    } else {
        m_order.erase(it);
    }
    m_view->head()->setOrder(m_order);
    read();
}

void TableDrawer::pick(int from, int to, Qt::KeyboardModifiers how) {
    const auto* layer = shownLayer();
    if (!layer || !m_table) return;
    std::vector<FeatureKey> keys;
    bool areAllPicked = true;
    for (int row = from; row <= to && row < m_model.rowCount(); ++row) {
        keys.push_back(m_model.keyOf(row));
        areAllPicked = areAllPicked && m_model.isPicked(row);
    }
    const bool isAlso = (how & Qt::ControlModifier) != 0;
    m_workspace.pick(layer->source, std::move(keys),
                     !isAlso        ? Workspace::Joining::Instead
                     : areAllPicked ? Workspace::Joining::Without
                                    : Workspace::Joining::Also);
}

void TableDrawer::invert() {
    const auto* layer = shownLayer();
    if (!layer || !m_table) return;
    const auto& picked = m_workspace.picked(layer->source);
    std::vector<FeatureKey> keys;
    for (std::size_t i = 0; i < m_table->size(); ++i)
        if (!std::binary_search(picked.begin(), picked.end(), m_table->key(i)))
            keys.push_back(m_table->key(i));
    m_workspace.pick(layer->source, std::move(keys));
}

void TableDrawer::keyPressEvent(QKeyEvent* event) {
    if (event->key() != Qt::Key_Escape) return QFrame::keyPressEvent(event);
    if (m_formula->isVisible())
        m_formula->hide();
    else
        hide();
}

void TableDrawer::resizeEvent(QResizeEvent* event) {
    QFrame::resizeEvent(event);
    fitButtons();
}

// What has no room is in the menu.
void TableDrawer::fitButtons() {
    int left = width() - 24 - m_title->sizeHint().width() - m_find->minimumWidth() -
               m_more->sizeHint().width() - 80;
    for (QAbstractButton* button : m_buttons) {
        left -= button->sizeHint().width() + 6;
        button->setVisible(left > 0);
    }
}

}  // namespace ledge::app
