#include "app/ask/test_row.h"

#include <QEvent>
#include <QGridLayout>
#include <QLineEdit>
#include <QPointer>
#include <QToolButton>

#include "app/theme.h"
#include "app/widgets/form.h"
#include "carto/qtext.h"

namespace ledge::app {
TestRow::TestRow(const std::vector<Field>& fields, ValuesOf valuesOf, const query::PlainTest& test,
                 QWidget* parent)
    : QWidget(parent), m_valuesOf(std::move(valuesOf)), m_field(makeChoice(tr("Field"), {})),
      m_how(makeChoice(tr("Comparison"), {})), m_value(makeChoice(tr("Value"), {})) {
    setObjectName("testRow");
    m_field->setObjectName("testField");
    m_how->setObjectName("testHow");
    m_value->setObjectName("testValue");
    for (const Field& field : fields)
        if (field.type != FieldType::Bytes) m_field->addItem(qtext(field.name));
    // A field that is gone is still said.
    if (!test.field.empty() && m_field->findText(qtext(test.field)) < 0)
        m_field->addItem(qtext(test.field));
    m_field->setCurrentText(qtext(test.field));
    for (const std::string_view how : query::kHowWords) m_how->addItem(tr(how.data()));
    m_how->setCurrentIndex(static_cast<int>(test.how));
    m_value->setEditable(true);
    m_value->setInsertPolicy(QComboBox::NoInsert);
    m_value->setCurrentText(qtext(test.value));
    m_value->lineEdit()->setPlaceholderText(tr("value"));
    m_value->installEventFilter(this);
    auto* away = new QToolButton;
    away->setIcon(lineIcon("x", theme().muted));
    away->setToolTip(tr("Take this condition away"));
    away->setAccessibleName(away->toolTip());
    away->setObjectName("testRemove");
    auto* layout = new QGridLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(4);
    layout->addWidget(m_field, 0, 0);
    layout->addWidget(m_how, 0, 1);
    layout->addWidget(away, 0, 2);
    layout->addWidget(m_value, 1, 0, 1, 3);
    layout->setColumnStretch(0, 3);
    layout->setColumnStretch(1, 2);
    for (auto* box : {m_field, m_how}) {
        box->setMinimumContentsLength(6);
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    }
    m_value->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    connect(away, &QToolButton::clicked, this, &TestRow::removeAsked);
    connect(m_field, &QComboBox::activated, this, &TestRow::edited);
    connect(m_how, &QComboBox::activated, this, [this] {
        refresh();
        Q_EMIT edited();
    });
    connect(m_value, &QComboBox::editTextChanged, this, &TestRow::edited);
    // "grazing (33)" in the list is the value without its count.
    connect(m_value, &QComboBox::activated, this, [this](int i) {
        if (const QVariant value = m_value->itemData(i); value.isValid())
            m_value->setEditText(value.toString());
    });
    refresh();
}

query::PlainTest TestRow::test() const {
    return {m_field->currentText().toStdString(),
            static_cast<query::PlainTest::How>(m_how->currentIndex()),
            m_value->currentText().toStdString()};
}

void TestRow::refresh() {
    m_value->setVisible(
        query::takesValue(static_cast<query::PlainTest::How>(m_how->currentIndex())));
}

bool TestRow::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::FocusIn || event->type() == QEvent::Enter) offerValues();
    return QWidget::eventFilter(watched, event);
}

// Once for a field, as soon as somebody looks for them.
void TestRow::offerValues() {
    const QString field = m_field->currentText();
    if (field == m_offered || !m_valuesOf) return;
    m_offered = field;
    m_valuesOf(field.toStdString(), [row = QPointer<TestRow>(this), field](const QStringList& all) {
        if (!row || row->m_field->currentText() != field) return;
        const QString typed = row->m_value->currentText();
        const QSignalBlocker quiet(row->m_value);
        row->m_value->clear();
        for (const QString& one : all) {
            const auto tab = one.lastIndexOf('\t');
            row->m_value->addItem(one.left(tab) + " (" + one.mid(tab + 1) + ")", one.left(tab));
        }
        row->m_value->setEditText(typed);
    });
}

}  // namespace ledge::app
