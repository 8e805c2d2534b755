#include "app/benches/class_editor.h"

#include <QColorDialog>
#include <QHeaderView>
#include <set>

#include "app/benches/bench_page.h"
#include "app/widgets/form.h"
#include "core/base/numbers.h"

namespace ledge::app {
namespace {
enum Column { kLamp, kName, kCount, kArea, kShare, kColumns };
constexpr double kUnits[] = {1e4, 1e6, 1, 4046.8564224};

// Sorts by what it stands for, not by its text.
class NumberItem : public QTableWidgetItem {
public:
    NumberItem(double value, const QString& text) : QTableWidgetItem(text), m_value(value) {
        setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        setFlags(flags() & ~Qt::ItemIsEditable);
    }
    bool operator<(const QTableWidgetItem& other) const override {
        const auto* number = dynamic_cast<const NumberItem*>(&other);
        return number ? m_value < number->m_value : QTableWidgetItem::operator<(other);
    }

private:
    double m_value;
};

QColor qcolour(Colour c) { return {c.r, c.g, c.b, c.a}; }
}  // namespace

ClassEditor::ClassEditor(QWidget* parent)
    : QWidget(parent),
      m_unit(makeChoice(tr("Unit of areas"), {tr("hectares"), tr("square kilometres"),
                                              tr("square metres"), tr("acres")})),
      m_filter(makeText(tr("Pick classes whose name holds"), tr("Pick by name…"))),
      m_table(new QTableWidget(0, kColumns)), m_summary(makeLabel("", "muted")) {
    setObjectName("classEditor");
    m_table->setObjectName("classTable");
    m_table->setAccessibleName(tr("Classes"));
    m_table->setHorizontalHeaderLabels(
        {QString(), tr("Name"), tr("Cells"), tr("Area"), tr("Share")});
    m_table->verticalHeader()->hide();
    m_table->verticalHeader()->setDefaultSectionSize(24);
    m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table->setShowGrid(false);
    m_table->setSortingEnabled(true);
    m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    m_table->horizontalHeader()->setSectionResizeMode(kName, QHeaderView::Stretch);
    m_table->setMinimumHeight(220);
    m_table->setToolTip(tr("Double-click a colour or a name to change it"));
    auto* only = makeButton(tr("Show only picked"), tr("Put out the lamps of all other classes"));
    auto* invert = makeButton(tr("Invert"), tr("Light what is dark and put out what is lit"));
    auto* all = makeButton(tr("Show all"), tr("Light all classes"));
    only->setObjectName("showOnlyPicked");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    layout->addWidget(sideBySide({m_filter, m_unit}));
    layout->addWidget(m_table);
    layout->addWidget(m_summary);
    layout->addWidget(sideBySide({only, invert}));
    layout->addWidget(all);
    connect(m_unit, &QComboBox::activated, this, [this] { fill(); });
    connect(m_filter, &QLineEdit::textChanged, this, [this](const QString& text) {
        m_table->clearSelection();
        if (text.isEmpty()) return;
        m_table->setSelectionMode(QAbstractItemView::MultiSelection);
        for (int r = 0; r < m_table->rowCount(); ++r)
            if (m_table->item(r, kName)->text().contains(text, Qt::CaseInsensitive))
                m_table->selectRow(r);
        m_table->setSelectionMode(QAbstractItemView::ExtendedSelection);
    });
    connect(m_table, &QTableWidget::itemSelectionChanged, this, &ClassEditor::refreshSummary);
    connect(m_table, &QTableWidget::itemChanged, this, [this](QTableWidgetItem* item) {
        const double value = item->data(Qt::UserRole).toDouble();
        auto next = m_classes;
        for (doc::RasterClass& one : next) {
            if (one.value != value) continue;
            if (item->column() == kName) one.name = item->text().toStdString();
            if (item->column() == kLamp) one.isShown = item->checkState() == Qt::Checked;
        }
        if (next != m_classes)
            Q_EMIT edited(item->column() == kName ? tr("Name of class") : tr("Lamp of class"),
                          next);
    });
    connect(m_table, &QTableWidget::cellDoubleClicked, this, [this](int row, int column) {
        if (column != kLamp) return;
        const double value = m_table->item(row, kLamp)->data(Qt::UserRole).toDouble();
        auto next = m_classes;
        for (doc::RasterClass& one : next) {
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
    });
    connect(only, &QPushButton::clicked, this, [this] {
        setShown([](const doc::RasterClass&, bool isPicked) { return isPicked; },
                 tr("Show only picked classes"));
    });
    connect(invert, &QPushButton::clicked, this, [this] {
        setShown([](const doc::RasterClass& one, bool) { return !one.isShown; },
                 tr("Invert classes"));
    });
    connect(all, &QPushButton::clicked, this, [this] {
        setShown([](const doc::RasterClass&, bool) { return true; }, tr("Show all classes"));
    });
}

std::vector<double> ClassEditor::pickedValues() const {
    std::vector<double> out;
    for (const QModelIndex& row : m_table->selectionModel()->selectedRows())
        out.push_back(m_table->item(row.row(), kLamp)->data(Qt::UserRole).toDouble());
    return out;
}

void ClassEditor::setShown(const std::function<bool(const doc::RasterClass&, bool)>& rule,
                           const QString& label) {
    const auto picked = pickedValues();
    auto next = m_classes;
    for (doc::RasterClass& one : next)
        one.isShown = rule(one, std::find(picked.begin(), picked.end(), one.value) != picked.end());
    if (next != m_classes) Q_EMIT edited(label, next);
}

void ClassEditor::pick(double value) {
    for (int r = 0; r < m_table->rowCount(); ++r)
        if (m_table->item(r, kLamp)->data(Qt::UserRole).toDouble() == value) {
            m_table->selectRow(r);
            m_table->scrollToItem(m_table->item(r, kName));
        }
}

void ClassEditor::show(const std::vector<doc::RasterClass>& classes, double cellSquareMetres) {
    if (classes == m_classes && cellSquareMetres == m_cellSquareMetres) return;
    m_classes = classes;
    m_cellSquareMetres = cellSquareMetres;
    fill();
}

void ClassEditor::fill() {
    const QSignalBlocker quiet(m_table);
    const auto picked = pickedValues();
    const std::set<double> keep(picked.begin(), picked.end());
    std::int64_t total = 0;
    for (const doc::RasterClass& one : m_classes) total += one.count;
    const double unit = kUnits[std::clamp(m_unit->currentIndex(), 0, 3)];
    m_table->setSortingEnabled(false);
    m_table->setRowCount(static_cast<int>(m_classes.size()));
    const auto number = [](double v, int decimals) {
        return QString::fromStdString(formatNumber(v, {decimals, true}));
    };
    for (int r = 0; r < m_table->rowCount(); ++r) {
        const doc::RasterClass& one = m_classes[static_cast<std::size_t>(r)];
        const auto count = static_cast<double>(one.count);
        const double area = count * m_cellSquareMetres / unit;
        auto* lamp = new QTableWidgetItem;
        QPixmap patch(18, 14);
        patch.fill(qcolour(one.colour));
        lamp->setIcon(QIcon(patch));
        lamp->setCheckState(one.isShown ? Qt::Checked : Qt::Unchecked);
        lamp->setToolTip(tr("Value %1").arg(one.value));
        auto* name = new QTableWidgetItem(qtext(one.name));
        for (QTableWidgetItem* item : {lamp, name}) item->setData(Qt::UserRole, one.value);
        m_table->setItem(r, kLamp, lamp);
        m_table->setItem(r, kName, name);
        m_table->setItem(r, kCount, new NumberItem(count, number(count, 0)));
        m_table->setItem(r, kArea,
                         new NumberItem(area, m_cellSquareMetres > 0
                                                  ? number(area, area < 100 ? 1 : 0)
                                                  : QString("–")));
        const double share = total > 0 ? 100 * count / static_cast<double>(total) : 0;
        m_table->setItem(r, kShare, new NumberItem(share, number(share, 1) + " %"));
        if (keep.contains(one.value)) m_table->selectRow(r);
    }
    m_table->setSortingEnabled(true);
    refreshSummary();
}

void ClassEditor::refreshSummary() {
    const auto picked = pickedValues();
    std::int64_t cells = 0, all = 0;
    for (const doc::RasterClass& one : m_classes) {
        all += one.count;
        if (picked.empty() || std::find(picked.begin(), picked.end(), one.value) != picked.end())
            cells += one.count;
    }
    const double unit = kUnits[std::clamp(m_unit->currentIndex(), 0, 3)];
    const QString area = QString::fromStdString(formatNumber(
                             static_cast<double>(cells) * m_cellSquareMetres / unit, {1, true})) +
                         " " + m_unit->currentText();
    const double share = all > 0 ? 100 * static_cast<double>(cells) / static_cast<double>(all) : 0;
    m_summary->setText(
        (picked.empty() ? tr("%n classes", "", static_cast<int>(m_classes.size()))
                        : tr("%n picked", "", static_cast<int>(picked.size()))) +
        (m_cellSquareMetres > 0 ? ": " + area : QString()) +
        QString(", %1 %").arg(QString::fromStdString(formatNumber(share, {1, true}))));
}

}  // namespace ledge::app
