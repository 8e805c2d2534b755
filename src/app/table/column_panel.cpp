#include "app/table/column_panel.h"

#include <QScreen>
#include <algorithm>

#include "app/theme.h"
#include "carto/qtext.h"
#include "core/base/numbers.h"
#include "document/json/members.h"

namespace ledge::app {
namespace {
}  // namespace

ColumnPanel::ColumnPanel(Workspace& workspace, QWidget* parent)
    : QFrame(parent, Qt::Popup), m_workspace(workspace), m_name(makeText(tr("Name of the column"))),
      m_refused(makeLabel("", "trouble")), m_decimals(makeNumber(tr("Decimals"), -1, 15, 0)),
      m_percent(new QCheckBox(tr("Percent"))), m_thousands(new QCheckBox(tr("Group thousands"))),
      m_frozen(new QCheckBox(tr("Stay at the left"))), m_unit(makeText(tr("Unit"))),
      m_numberPart(new QWidget),
      m_dates(makeChoice(tr("Form of dates"),
                         {"2026-11-27", "27.11.2026", tr("27 Nov 2026"), tr("Nov 2026"), "2026"})),
      m_datePart(captioned(tr("Form of dates"), m_dates)) {
    setObjectName("columnPanel");
    setStyleSheet(QString("QFrame#columnPanel { background: %1; border: 1px solid %2; }")
                      .arg(theme().surface.name(), theme().line.name()));
    m_name->setObjectName("columnName");
    m_decimals->setObjectName("columnDecimals");
    m_decimals->setSpecialValueText(tr("as needed"));
    m_percent->setObjectName("columnPercent");
    m_percent->setToolTip(tr("Shares of one shown as percent: 0.25 as 25 %"));
    m_unit->setPlaceholderText(tr("none"));
    m_unit->setObjectName("columnUnit");
    m_frozen->setObjectName("columnFrozen");
    setFixedWidth(260);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 10, 12, 10);
    layout->setSpacing(8);
    layout->addWidget(captioned(tr("Name"), m_name));
    m_refused->setObjectName("columnRefused");
    m_refused->setWordWrap(true);
    layout->addWidget(m_refused);
    auto* numbers = new QVBoxLayout(m_numberPart);
    numbers->setContentsMargins(0, 0, 0, 0);
    numbers->setSpacing(8);
    numbers->addWidget(
        sideBySide({captioned(tr("Decimals"), m_decimals), captioned(tr("Unit"), m_unit)}));
    numbers->addWidget(sideBySide({m_percent, m_thousands}));
    layout->addWidget(m_numberPart);
    m_dates->setObjectName("columnDates");
    layout->addWidget(m_datePart);
    connect(m_dates, &QComboBox::activated, this, [this](int index) {
        setLook("dates", doc::dateFormName(static_cast<doc::DateForm>(index)));
    });
    layout->addWidget(m_frozen);
    const auto link = [&](const QString& text, const QString& tip, const char* name, auto act_) {
        auto* button = makeLink(text, tip);
        button->setObjectName(name);
        connect(button, &QPushButton::clicked, this, [this, act_] {
            hide();
            act_();
        });
        layout->addWidget(button, 0, Qt::AlignLeft);
    };
    link(tr("Order by it, smallest first"), tr("The same as a click on its head"), "columnUp",
         [this] { Q_EMIT orderAsked(m_field, false); });
    link(tr("Order by it, largest first"), tr("The same as a second click on its head"),
         "columnDown", [this] { Q_EMIT orderAsked(m_field, true); });
    link(tr("Compute\u2026"), tr("Fill it by a formula"), "columnCompute",
         [this] { Q_EMIT computeAsked(m_field); });
    link(tr("Hide"), tr("It stays in the data; More brings it back"), "columnHide",
         [this] { setLook("hidden", "yes"); });
    link(tr("Delete from the data"),
         tr("The column goes when the edits are saved; undo brings it "
            "back"),
         "columnDelete", [this] {
             act("column-remove",
                 {{"source", Workspace::target(m_source)}, {"name", m_field.toStdString()}});
         });
    connect(m_name, &QLineEdit::editingFinished, this, &ColumnPanel::rename);
    connect(m_name, &QLineEdit::textEdited, m_refused, &QWidget::hide);
    connect(m_decimals, &QDoubleSpinBox::valueChanged, this,
            [this](double n) { setLook("decimals", exactNumber(n)); });
    connect(m_percent, &QCheckBox::clicked, this,
            [this](bool on) { setLook("percent", doc::word(on)); });
    connect(m_thousands, &QCheckBox::clicked, this,
            [this](bool on) { setLook("thousands", doc::word(on)); });
    connect(m_frozen, &QCheckBox::clicked, this,
            [this](bool on) { setLook("frozen", doc::word(on)); });
    connect(m_unit, &QLineEdit::editingFinished, this,
            [this] { setLook("unit", m_unit->text().toStdString()); });
}

// Formats know columns by their names whatever their capitals, so that two of one are none.
void ColumnPanel::rename() {
    const QString name = m_name->text().trimmed();
    if (name == m_field) return;
    m_refused->setVisible(name.isEmpty() || m_others.contains(name, Qt::CaseInsensitive));
    m_refused->setText(name.isEmpty() ? tr("A column needs a name")
                                      : tr("There is a column %1 already").arg(name));
    adjustSize();
    if (!m_refused->isHidden()) return;
    if (act("column-name", {{"source", Workspace::target(m_source)},
                            {"from", m_field.toStdString()},
                            {"to", name.toStdString()}}))
        m_field = name;
}

void ColumnPanel::open(const doc::Layer& layer, const Field& field, const QStringList& others,
                       const doc::ColumnLook& look, const QPoint& at) {
    m_layer = layer.id;
    m_source = layer.source;
    m_field = qtext(field.name);
    m_others = others;
    m_refused->hide();
    showText(m_name, m_field);
    showNumber(m_decimals, look.numbers.decimals);
    showCheck(m_percent, look.isPercent);
    showCheck(m_thousands, look.numbers.groupsThousands);
    showCheck(m_frozen, look.isFrozen);
    showText(m_unit, qtext(look.unit));
    m_numberPart->setVisible(field.type == FieldType::Integer || field.type == FieldType::Real);
    m_datePart->setVisible(field.type == FieldType::Date || field.type == FieldType::TimeStamp);
    showChoice(m_dates, static_cast<int>(look.dates));
    adjustSize();
    // All of it is on the screen, also where the table is at its edge.
    const QRect room = screen()->availableGeometry();
    move(std::max(room.left(), std::min(at.x(), room.right() - width())),
         std::max(room.top(), std::min(at.y(), room.bottom() - height())));
    show();
    m_name->setFocus();
}

void ColumnPanel::setLook(const char* what, const std::string& value) {
    // What did not change is no step of undo.
    const auto* layer = m_workspace.document().layer(m_layer);
    const auto* vector = layer ? layer->as<doc::VectorLayer>() : nullptr;
    if (!vector) return;
    if (std::string_view(what) == "unit") {
        std::string now;
        for (const doc::ColumnLook& look : vector->columns)
            if (look.field == m_field.toStdString()) now = look.unit;
        if (now == value) return;
    }
    m_workspace.perform(
        "column-look",
        {{"layer", Workspace::target(m_layer)}, {"field", m_field.toStdString()}, {what, value}},
        QString("column-look ") + what);
}

bool ColumnPanel::act(const char* edit, doc::EditWords words) {
    return m_workspace.perform(edit, words);
}

}  // namespace ledge::app
