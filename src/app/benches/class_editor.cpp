#include "app/benches/class_editor.h"

#include <QColorDialog>
#include <QHeaderView>
#include <QInputDialog>
#include <QMenu>

#include "app/benches/bench_page.h"
#include "app/widgets/form.h"
#include "core/base/numbers.h"
#include "session/class_table.h"

namespace ledge::app {
namespace {
constexpr int kLamp = 0, kName = 1, kNumbers = 2;

// Sorts by what it stands for, not by its text.
class NumberItem : public QTableWidgetItem {
public:
    NumberItem(double value, const QString& text) : QTableWidgetItem(text), m_value(value) {
        setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    }
    bool operator<(const QTableWidgetItem& other) const override {
        const auto* number = dynamic_cast<const NumberItem*>(&other);
        if (!number) return QTableWidgetItem::operator<(other);
        if (std::isnan(m_value)) return !std::isnan(number->m_value);
        return m_value < number->m_value;
    }

private:
    double m_value;
};

QColor qcolour(Colour c) { return {c.r, c.g, c.b, c.a}; }

QString numberText(const std::string& column, double v) {
    if (column == "share") return qtext(formatNumber(v, {1, true}));
    const int decimals = column == "cells" ? 0 : std::abs(v) < 100 ? 1 : 0;
    const bool isWhole = column != "area" && v == std::round(v);
    return qtext(formatNumber(v, {isWhole ? 0 : decimals, true}));
}
}  // namespace

ClassEditor::ClassEditor(QWidget* parent)
    : QWidget(parent), m_table(new QTableWidget(0, kNumbers)), m_summary(makeLabel("", "muted")) {
    setObjectName("classEditor");
    m_table->setObjectName("classTable");
    m_table->setAccessibleName(tr("Classes"));
    m_table->verticalHeader()->hide();
    m_table->verticalHeader()->setDefaultSectionSize(24);
    m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table->setShowGrid(false);
    m_table->setSortingEnabled(true);
    m_table->sortByColumn(-1, Qt::AscendingOrder);
    m_table->setMinimumHeight(236);
    m_table->setToolTip(tr("Double-click a colour, a name or a number of your own to change it; "
                           "picked rows light up on the map"));
    m_table->horizontalHeader()->setContextMenuPolicy(Qt::CustomContextMenu);
    m_summary->setObjectName("classSummary");
    auto* only = makeButton(tr("Show only picked"), tr("Hide all other classes"));
    auto* turn = makeButton(tr("Invert picks"), tr("Pick all rows that are not picked"));
    auto* invert =
        makeButton(tr("Swap shown and hidden"), tr("Show what is hidden and hide what is shown"));
    turn->setObjectName("invertPicks");
    auto* all = makeButton(tr("Show all classes"), tr("Show every class"));
    auto* sidecar = makeButton(tr("Write table…"),
                               tr("Write this table as CSV beside the raster, where it is found "
                                  "when the raster is added again"));
    only->setObjectName("showOnlyPicked");
    invert->setObjectName("invertClasses");
    sidecar->setObjectName("writeClassTable");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    layout->addWidget(makePickPart());
    layout->addWidget(m_table);
    layout->addWidget(m_summary);
    layout->addWidget(sideBySide({only, all}));
    layout->addWidget(sideBySide({turn, invert}));
    layout->addWidget(makeColumnPart());
    layout->addWidget(sidecar);
    connect(turn, &QPushButton::clicked, this, [this] {
        const auto chosen = picked();
        std::set<double> others;
        for (const doc::RasterClass& one : m_style.classes)
            if (!chosen.contains(one.value)) others.insert(one.value);
        selectRows(others);
    });
    connect(m_table, &QTableWidget::itemSelectionChanged, this, [this] {
        refreshSummary();
        refreshComputing();
        Q_EMIT pickedChanged();
    });
    connect(m_table, &QTableWidget::itemChanged, this, &ClassEditor::onItemChanged);
    connect(m_table, &QTableWidget::cellDoubleClicked, this, [this](int row, int column) {
        if (column == kLamp) chooseColour(row);
    });
    connect(m_table->horizontalHeader(), &QWidget::customContextMenuRequested, this,
            &ClassEditor::openColumnMenu);
    connect(only, &QPushButton::clicked, this, [this] {
        setShown([](const doc::RasterClass&, bool isPicked) { return isPicked; },
                 tr("Show only picked classes"));
    });
    connect(invert, &QPushButton::clicked, this, [this] {
        setShown([](const doc::RasterClass& one, bool) { return !one.isShown; },
                 tr("Swap shown and hidden classes"));
    });
    connect(all, &QPushButton::clicked, this, [this] {
        setShown([](const doc::RasterClass&, bool) { return true; }, tr("Show all classes"));
    });
    connect(sidecar, &QPushButton::clicked, this, &ClassEditor::sidecarAsked);
}

QWidget* ClassEditor::makePickPart() {
    QStringList units;
    for (const auto& unit : session::areaUnits()) units << tr(unit.name);
    m_unit = makeChoice(tr("Unit of areas"), units);
    m_unit->setObjectName("areaUnit");
    m_filter = makeText(tr("Pick classes by name, or by a condition such as area > 100"),
                        tr("Name, or area > 100…"));
    m_filter->setObjectName("pickClasses");
    connect(m_unit, &QComboBox::activated, this, [this](int index) {
        auto next = m_style;
        next.classTable.areaUnit = index;
        Q_EMIT edited(tr("Unit of areas"), next);
    });
    connect(m_filter, &QLineEdit::textChanged, this, [this](const QString& text) {
        selectRows(session::classesWhere(m_style, text.toStdString(), m_areas));
    });
    return sideBySide({m_filter, m_unit});
}

QWidget* ClassEditor::makeColumnPart() {
    auto* part = new QWidget;
    auto* rows = new QVBoxLayout(part);
    rows->setContentsMargins(0, 4, 0, 4);
    rows->setSpacing(6);
    auto* add = makeButton(tr("Add column…"), tr("Another column of numbers for this table"));
    auto* columns = makeButton(tr("Columns…"), tr("Show, hide and remove columns"));
    add->setObjectName("addColumn");
    columns->setObjectName("chooseColumns");
    m_target = makeChoice(tr("Column to compute"), {});
    m_target->setObjectName("columnToCompute");
    m_formula = makeText(tr("Formula over value, cells, area, share and the columns added"),
                         tr("area * 1.2"));
    m_formula->setObjectName("columnFormula");
    m_formulaWrong = wrongBelow(m_formula);
    m_compute = makeButton(tr("Compute"), tr("Fill the column by the formula"));
    m_compute->setObjectName("computeColumn");
    rows->addWidget(sideBySide({add, columns}));
    rows->addWidget(sideBySide({m_target, m_formula}));
    rows->addWidget(m_formulaWrong);
    rows->addWidget(m_compute);
    connect(add, &QPushButton::clicked, this, &ClassEditor::addColumn);
    connect(columns, &QPushButton::clicked, this, [this, columns] {
        openColumnMenu(m_table->horizontalHeader()->mapFromGlobal(
            columns->mapToGlobal(QPoint(0, columns->height()))));
    });
    connect(m_compute, &QPushButton::clicked, this, &ClassEditor::compute);
    connect(m_formula, &QLineEdit::returnPressed, this, &ClassEditor::compute);
    connect(m_target, &QComboBox::activated, this, [this](int index) {
        const auto& added = m_style.classTable.columns;
        if (static_cast<std::size_t>(index) < added.size())
            showText(m_formula, qtext(added[static_cast<std::size_t>(index)].formula));
    });
    return part;
}

void ClassEditor::openColumnMenu(const QPoint& at) {
    QMenu menu(this);
    for (const std::string& name : session::classColumns(m_style.classTable)) {
        const auto& hidden = m_style.classTable.hidden;
        const bool isHidden = std::find(hidden.begin(), hidden.end(), name) != hidden.end();
        QAction* action = menu.addAction(qtext(name), this, [this, name, isHidden] {
            auto next = m_style;
            std::erase(next.classTable.hidden, name);
            if (!isHidden) next.classTable.hidden.push_back(name);
            Q_EMIT edited(tr("Show or hide column"), next);
        });
        action->setCheckable(true);
        action->setChecked(!isHidden);
    }
    menu.addSeparator();
    for (const doc::ClassColumn& column : m_style.classTable.columns)
        menu.addAction(tr("Remove %1").arg(qtext(column.name)), this, [this, name = column.name] {
            Q_EMIT edited(tr("Remove column"), session::withoutClassColumn(m_style, name));
        });
    menu.addAction(tr("Add column…"), this, &ClassEditor::addColumn);
    menu.exec(m_table->horizontalHeader()->mapToGlobal(at));
}

void ClassEditor::addColumn() {
    bool isChosen = false;
    const QString name = QInputDialog::getText(this, tr("Add column"),
                                               tr("Name of the column (letters, digits and _):"),
                                               QLineEdit::Normal, {}, &isChosen);
    if (!isChosen) return;
    const auto next = session::withClassColumn(m_style, name.trimmed().toStdString());
    if (!next) return Q_EMIT refused(qtext(next.error().text()));
    Q_EMIT edited(tr("Add column"), *next);
    m_target->setCurrentIndex(m_target->count() - 1);
}

void ClassEditor::compute() {
    const auto next =
        session::withClassFormula(m_style, m_target->currentText().toStdString(),
                                  m_formula->text().trimmed().toStdString(), picked(), m_areas);
    showWrong(m_formula, m_formulaWrong, next ? QString() : qtext(next.error().text()));
    if (!next) return;
    Q_EMIT edited(tr("Compute column"), *next);
}

double ClassEditor::valueOf(int row) const {
    return m_table->item(row, kLamp)->data(Qt::UserRole).toDouble();
}

std::set<double> ClassEditor::picked() const {
    std::set<double> out;
    for (const QModelIndex& row : m_table->selectionModel()->selectedRows())
        out.insert(valueOf(row.row()));
    return out;
}

void ClassEditor::setShown(const std::function<bool(const doc::RasterClass&, bool)>& rule,
                           const QString& label) {
    const auto chosen = picked();
    auto next = m_style;
    for (doc::RasterClass& one : next.classes) one.isShown = rule(one, chosen.contains(one.value));
    if (next != m_style) Q_EMIT edited(label, next);
}

void ClassEditor::selectRows(const std::set<double>& values) {
    const QSignalBlocker quiet(m_table);
    m_table->clearSelection();
    m_table->setSelectionMode(QAbstractItemView::MultiSelection);
    for (int r = 0; r < m_table->rowCount(); ++r)
        if (values.contains(valueOf(r))) m_table->selectRow(r);
    m_table->setSelectionMode(QAbstractItemView::ExtendedSelection);
    refreshSummary();
    refreshComputing();
    Q_EMIT pickedChanged();
}

void ClassEditor::pick(double value) {
    selectRows({value});
    for (int r = 0; r < m_table->rowCount(); ++r)
        if (valueOf(r) == value) m_table->scrollToItem(m_table->item(r, kName));
}

void ClassEditor::onItemChanged(QTableWidgetItem* item) {
    const double value = valueOf(item->row());
    auto next = m_style;
    QString label = tr("Name of class");
    for (doc::RasterClass& one : next.classes) {
        if (one.value != value) continue;
        if (item->column() == kName) one.name = item->text().toStdString();
        if (item->column() == kLamp) {
            one.isShown = item->checkState() == Qt::Checked;
            label = tr("Lamp of class");
        }
        if (item->column() < kNumbers) continue;
        label = tr("Number of class");
        const std::string& column = m_columns[static_cast<std::size_t>(item->column() - kNumbers)];
        const auto& columns = next.classTable.columns;
        for (std::size_t i = 0; i < columns.size(); ++i)
            if (columns[i].name == column) {
                one.numbers.resize(columns.size());
                one.numbers[i] = parseNumber(item->text().toStdString());
            }
    }
    if (next != m_style)
        Q_EMIT edited(label, next);
    else
        fill();
}

void ClassEditor::chooseColour(int row) {
    const double value = valueOf(row);
    auto next = m_style;
    for (doc::RasterClass& one : next.classes) {
        if (one.value != value) continue;
        const QColor chosen = QColorDialog::getColor(qcolour(one.colour), this,
                                                     tr("Colour of %1").arg(qtext(one.name)),
                                                     QColorDialog::DontUseNativeDialog);
        if (!chosen.isValid()) return;
        one.colour = {static_cast<std::uint8_t>(chosen.red()),
                      static_cast<std::uint8_t>(chosen.green()),
                      static_cast<std::uint8_t>(chosen.blue())};
    }
    Q_EMIT edited(tr("Colour of class"), next);
}

void ClassEditor::show(const doc::RasterStyle& style, const session::ClassAreas& areas) {
    if (style == m_style && areas == m_areas) return;
    // Picks belong to these classes, not to those of another raster.
    const bool areOthers = !std::equal(style.classes.begin(), style.classes.end(),
                                       m_style.classes.begin(), m_style.classes.end(),
                                       [](const doc::RasterClass& a, const doc::RasterClass& b) {
                                           return a.value == b.value && a.count == b.count;
                                       });
    m_style = style;
    m_areas = areas;
    if (areOthers) {
        const QSignalBlocker quiet(m_table);
        m_table->clearSelection();
    }
    fill();
}

void ClassEditor::fillRow(int row, const std::vector<std::string>& columns) {
    const auto index = static_cast<std::size_t>(row);
    const doc::RasterClass& one = m_style.classes[index];
    auto* lamp = new QTableWidgetItem;
    QPixmap patch(18, 14);
    patch.fill(qcolour(one.colour));
    QIcon colour(patch);
    colour.addPixmap(patch, QIcon::Selected);  // as it is, not tinted
    lamp->setIcon(colour);
    lamp->setCheckState(one.isShown ? Qt::Checked : Qt::Unchecked);
    lamp->setToolTip(tr("Value %1").arg(one.value));
    lamp->setData(Qt::UserRole, one.value);
    m_table->setItem(row, kLamp, lamp);
    m_table->setItem(row, kName, new QTableWidgetItem(qtext(one.name)));
    for (std::size_t i = 0; i < columns.size(); ++i) {
        const double value = session::classNumber(m_style, index, columns[i], m_areas);
        auto* item = new NumberItem(value, numberText(columns[i], value));
        const auto& added = m_style.classTable.columns;
        const bool isAdded =
            std::any_of(added.begin(), added.end(),
                        [&](const doc::ClassColumn& c) { return c.name == columns[i]; });
        if (!isAdded) item->setFlags(item->flags() & ~Qt::ItemIsEditable);
        m_table->setItem(row, kNumbers + static_cast<int>(i), item);
    }
}

void ClassEditor::fill() {
    const std::set<double> keep = picked();
    {
        const QSignalBlocker quiet(m_table);
        const auto& hidden = m_style.classTable.hidden;
        m_columns.clear();
        for (const std::string& name : session::classColumns(m_style.classTable))
            if (std::find(hidden.begin(), hidden.end(), name) == hidden.end())
                m_columns.push_back(name);
        QStringList headings{QString(), tr("Name")};
        for (const std::string& name : m_columns) headings << qtext(name);
        m_table->setSortingEnabled(false);
        m_table->setColumnCount(static_cast<int>(headings.size()));
        m_table->setHorizontalHeaderLabels(headings);
        auto* header = m_table->horizontalHeader();
        header->setSectionResizeMode(QHeaderView::ResizeToContents);
        header->setSectionResizeMode(kName, QHeaderView::Interactive);
        header->setSectionResizeMode(kLamp, QHeaderView::Fixed);
        m_table->setColumnWidth(kLamp, 42);
        m_table->setColumnWidth(kName, 68);
        m_table->setRowCount(static_cast<int>(m_style.classes.size()));
        for (int r = 0; r < m_table->rowCount(); ++r) fillRow(r, m_columns);
        m_table->setSortingEnabled(true);
        showChoice(m_unit, m_style.classTable.areaUnit);
        const int target = m_target->currentIndex();
        const QSignalBlocker still(m_target);
        m_target->clear();
        for (const doc::ClassColumn& column : m_style.classTable.columns)
            m_target->addItem(qtext(column.name));
        m_target->setCurrentIndex(std::min(std::max(0, target), m_target->count() - 1));
    }
    selectRows(keep);
}

void ClassEditor::refreshComputing() {
    const bool canCompute = m_target->count() > 0;
    m_target->setEnabled(canCompute);
    m_formula->setEnabled(canCompute);
    m_compute->setEnabled(canCompute);
    const int rows = static_cast<int>(picked().size());
    m_compute->setText(!canCompute ? tr("Compute (add a column first)")
                       : rows > 0
                           ? (rows == 1 ? tr("Compute for the picked row only")
                                        : tr("Compute for the %n picked rows only", "", rows))
                           : tr("Compute for all rows"));
}

void ClassEditor::refreshSummary() {
    const auto chosen = picked();
    QStringList lines{
        chosen.empty()
            ? tr("%1 classes").arg(m_style.classes.size())
            : tr("%1 of %2 classes picked").arg(chosen.size()).arg(m_style.classes.size())};
    for (const std::string& column : m_columns) {
        if (column == "value") continue;
        const auto s = session::classSummary(m_style, column, chosen, m_areas);
        if (s.count == 0) continue;
        const QString name = column == "share"  ? tr("share, percent")
                             : column == "area" ? tr("area, %1").arg(m_unit->currentText())
                                                : qtext(column);
        lines << tr("%1: total %2, mean %3, %4 to %5")
                     .arg(name, numberText(column, s.sum), numberText(column, s.mean),
                          numberText(column, s.low), numberText(column, s.high));
    }
    m_summary->setText(lines.join("\n"));
}

}  // namespace ledge::app
