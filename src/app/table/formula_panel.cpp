#include "app/table/formula_panel.h"

#include <QHBoxLayout>
#include <numeric>

#include "app/theme.h"
#include "carto/qtext.h"
#include "core/base/numbers.h"
#include "core/query/question.h"
#include "document/json/members.h"

namespace ledge::app {
namespace {
constexpr std::size_t kPreviewed = 4;
}  // namespace

FormulaPanel::FormulaPanel(Workspace& workspace, QWidget* parent)
    : QFrame(parent), m_workspace(workspace), m_name(makeChoice(tr("Column to fill"), {})),
      m_formula(new FormulaEdit(tr("Formula"), tr("for example  100 * sheep / sum(sheep)"), 1)),
      m_result(makeLabel("", "muted")), m_live(new QCheckBox(tr("Keep computing it"))),
      m_fillPicked(makeButton("", tr("Fill the picked rows only"))),
      m_fillAll(makeButton("", tr("Fill every row of the layer (Ctrl+Return)"), true)) {
    setObjectName("formulaPanel");
    m_formula->setObjectName("formula");
    m_result->setObjectName("formulaResult");
    m_name->setObjectName("formulaName");
    m_fillPicked->setObjectName("fillPicked");
    m_fillAll->setObjectName("fillAll");
    m_live->setObjectName("formulaLive");
    setStyleSheet(
        QString("QFrame#formulaPanel { border-top: 1px solid %1; }").arg(theme().line.name()));
    m_name->setEditable(true);
    m_name->setInsertPolicy(QComboBox::NoInsert);
    m_name->lineEdit()->setPlaceholderText(tr("name of a column, new or there"));
    m_live->setToolTip(
        tr("The column follows the fields that its formula reads, whatever is edited later"));
    m_result->setWordWrap(true);
    auto* close = makeLink(tr("Close"), tr("Close the formula (Esc)"));
    connect(close, &QPushButton::clicked, this, [this] {
        hide();
        Q_EMIT closed();
    });
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 8, 0, 4);
    layout->setSpacing(6);
    auto* first = new QHBoxLayout;
    m_name->setMinimumWidth(120);
    m_name->setMaximumWidth(200);
    first->addWidget(m_name, 1, Qt::AlignTop);
    first->addWidget(makeLabel("="));
    first->addWidget(m_formula, 3);
    first->addWidget(close);
    auto* last = new QHBoxLayout;
    last->addWidget(m_result, 1);
    last->addWidget(m_live);
    last->addWidget(m_fillPicked);
    last->addWidget(m_fillAll);
    layout->addLayout(first);
    layout->addLayout(last);
    connect(m_formula, &QPlainTextEdit::textChanged, this, &FormulaPanel::preview);
    connect(m_formula, &FormulaEdit::entered, this, [this] { fill(false); });
    connect(m_name, &QComboBox::currentTextChanged, this, &FormulaPanel::refreshButtons);
    connect(m_live, &QCheckBox::toggled, this, &FormulaPanel::refreshButtons);
    connect(m_fillPicked, &QPushButton::clicked, this, [this] { fill(true); });
    connect(m_fillAll, &QPushButton::clicked, this, [this] { fill(false); });
    connect(&workspace, &Workspace::featuresPicked, this, &FormulaPanel::refreshButtons);
    hide();
}

void FormulaPanel::open(doc::Id source, TablePtr table, const QString& column) {
    m_source = source;
    setTable(std::move(table));
    m_name->setCurrentText(column);
    setVisible(true);
    preview();
    if (column.isEmpty())
        m_name->setFocus();
    else
        m_formula->setFocus();
}

void FormulaPanel::setTable(TablePtr table) {
    m_table = std::move(table);
    const QString typed = m_name->currentText();
    const QSignalBlocker quiet(m_name);
    m_name->clear();
    for (const Field& field : m_table->info.fields) m_name->addItem(qtext(field.name));
    m_name->setCurrentText(typed);
    m_formula->setFields(m_table->info.fields);
    refreshButtons();
}

void FormulaPanel::preview() {
    if (!m_table) return;
    const std::string text = trimmed(m_formula->text().toStdString());
    m_isRight = false;
    refreshButtons();
    if (text.empty()) {
        m_worker.cancel();
        m_formula->markWrong({});
        m_result->setText(tr("Fields and functions are offered while you type (Ctrl+Space)."));
        return;
    }
    m_worker.start([this, text = m_formula->text().toStdString(),
                    table = m_table](const std::stop_token& stop) {
        query::Place place;
        const auto formula = query::Question::from(text, table->info, &place);
        std::vector<std::size_t> rows(std::min(kPreviewed, table->size()));
        std::iota(rows.begin(), rows.end(), std::size_t{0});
        auto values = formula ? query::valuesAt(*formula, *table, rows, {stop, {}})
                              : Result<std::vector<Value>>(formula.error());
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(
            this, [this, values = std::move(values), place] { show(values, place); });
    });
}

void FormulaPanel::show(const Result<std::vector<Value>>& values, query::Place place) {
    m_isRight = values.has_value();
    m_formula->markWrong(m_isRight ? query::Place{} : place);
    if (!values) {
        const Error& e = values.error();
        m_result->setStyleSheet("color: " + theme().rust.name());
        // The text itself stands above; only the reason is told.
        const std::string why = e.why.substr(0, e.why.find(" at character"));
        m_result->setText(qtext(why) + (e.mend.empty() ? QString() : " \u00b7 " + qtext(e.mend)));
    } else {
        QStringList shown;
        for (const Value& value : *values) shown << qtext(displayText(value));
        m_result->setStyleSheet("color: " + theme().muted.name());
        m_result->setText(tr("First rows: %1").arg(shown.join("   ")));
    }
    refreshButtons();
}

void FormulaPanel::refreshButtons() {
    if (!m_table) return;
    const std::size_t picked = m_workspace.picked(m_source).size();
    m_fillPicked->setText(tr("Fill %1 picked rows").arg(counted(picked)));
    m_fillPicked->setVisible(picked > 0 && !m_live->isChecked());
    m_fillAll->setText(tr("Fill all %1 rows").arg(counted(m_table->size())));
    const bool canFill = m_isRight && !m_name->currentText().trimmed().isEmpty();
    m_fillPicked->setEnabled(canFill);
    m_fillAll->setEnabled(canFill);
}

void FormulaPanel::fill(bool isOfPicked) {
    if (!m_fillAll->isEnabled()) return;
    doc::EditWords words{{"source", Workspace::target(m_source)},
                         {"name", m_name->currentText().trimmed().toStdString()},
                         {"formula", m_formula->text().toStdString()},
                         {"live", doc::word(m_live->isChecked())}};
    if (isOfPicked) {
        std::string keys;
        for (const FeatureKey key : m_workspace.picked(m_source))
            keys += (keys.empty() ? "" : ",") + std::to_string(key);
        words["rows"] = keys;
    }
    m_workspace.perform("column-compute", words);
}

}  // namespace ledge::app
