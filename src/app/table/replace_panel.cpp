#include "app/table/replace_panel.h"

#include <QHBoxLayout>
#include <algorithm>

#include "app/benches/bench_page.h"
#include "core/base/numbers.h"

namespace ledge::app {
ReplacePanel::ReplacePanel(Workspace& workspace, QWidget* parent)
    : QFrame(parent), m_workspace(workspace), m_find(makeText(tr("Find"))),
      m_with(makeText(tr("Replace by"))), m_field(makeChoice(tr("In column"), {})),
      m_whole(new QCheckBox(tr("Whole cell"))), m_case(new QCheckBox(tr("Capitals count"))),
      m_picked(new QCheckBox(tr("Only picked"))),
      m_replace(makeButton(tr("Replace"), tr("Change these cells; one step to undo"), true)),
      m_refused(makeLabel("", "trouble")) {
    setObjectName("replacePanel");
    m_find->setObjectName("replaceFind");
    m_with->setObjectName("replaceWith");
    m_field->setObjectName("replaceField");
    m_whole->setObjectName("replaceWhole");
    m_case->setObjectName("replaceCase");
    m_picked->setObjectName("replacePicked");
    m_replace->setObjectName("replaceAll");
    m_refused->setObjectName("replaceRefused");
    auto* close = makeLink(tr("Close"), tr("Back to the table"));
    connect(close, &QPushButton::clicked, this, &QWidget::hide);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    row->addWidget(captioned(tr("Find"), m_find), 2);
    row->addWidget(captioned(tr("Replace by"), m_with), 2);
    row->addWidget(captioned(tr("In column"), m_field), 1);
    row->addWidget(m_whole, 0, Qt::AlignBottom);
    row->addWidget(m_case, 0, Qt::AlignBottom);
    row->addWidget(m_picked, 0, Qt::AlignBottom);
    row->addWidget(m_replace, 0, Qt::AlignBottom);
    row->addWidget(close, 0, Qt::AlignBottom);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 4);
    layout->setSpacing(4);
    layout->addLayout(row);
    layout->addWidget(m_refused);
    m_refused->hide();
    connect(&m_later, &QTimer::timeout, this, &ReplacePanel::count);
    const auto later = [this] {
        m_isAsked = false;
        countLater();
    };
    connect(m_find, &QLineEdit::textChanged, this, later);
    connect(m_with, &QLineEdit::textChanged, this, later);
    connect(m_field, &QComboBox::activated, this, later);
    for (QCheckBox* box : {m_whole, m_case, m_picked})
        connect(box, &QCheckBox::toggled, this, later);
    connect(&workspace, &Workspace::featuresPicked, this, [this, later] {
        if (isVisible() && m_picked->isChecked()) later();
    });
    connect(m_replace, &QPushButton::clicked, this, &ReplacePanel::replace);
    connect(m_with, &QLineEdit::returnPressed, this, &ReplacePanel::replace);
    hide();
}

void ReplacePanel::open(doc::Id source, TablePtr table, std::vector<std::uint32_t> rows,
                        const QString& find) {
    m_source = source;
    if (!find.isEmpty()) m_find->setText(find);
    setTable(std::move(table), std::move(rows));
    show();
    m_find->setFocus();
    m_find->selectAll();
}

void ReplacePanel::setTable(TablePtr table, std::vector<std::uint32_t> rows) {
    m_table = std::move(table);
    m_rows = std::move(rows);
    const QString chosen = m_field->currentText();
    const QSignalBlocker quiet(m_field);
    m_field->clear();
    m_field->addItem(tr("all columns"));
    if (m_table)
        for (const Field& field : m_table->info.fields) m_field->addItem(qtext(field.name));
    m_field->setCurrentIndex(std::max(0, m_field->findText(chosen)));
    countLater();
}

void ReplacePanel::countLater() {
    ++m_turn;
    m_later.start();
}

void ReplacePanel::count() {
    if (!m_table) return;
    session::Replacing what{m_find->text().toStdString(), m_with->text().toStdString(),
                            m_whole->isChecked(), m_case->isChecked()};
    std::vector<std::size_t> fields;
    for (std::size_t k = 0; k < m_table->info.fields.size(); ++k)
        if (m_field->currentIndex() <= 0 || m_field->currentIndex() == static_cast<int>(k) + 1)
            fields.push_back(k);
    const auto keys =
        m_picked->isChecked() ? std::optional(m_workspace.picked(m_source)) : std::nullopt;
    m_worker.start([this, what, fields, keys, table = m_table, turn = m_turn,
                    rows = m_rows](const std::stop_token& stop) mutable {
        if (keys)
            std::erase_if(rows, [&](std::uint32_t row) {
                return !std::binary_search(keys->begin(), keys->end(), table->key(row));
            });
        auto result = session::replaced(*table, rows, fields, what, {stop, {}});
        if (!result || stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, turn, result = *std::move(result)] {
            if (turn != m_turn) return;
            m_result = result;
            m_replace->setText(result.count == 1
                                   ? tr("Replace 1 cell")
                                   : tr("Replace %1 cells").arg(counted(result.count)));
            m_replace->setEnabled(result.count > 0);
            m_refused->setText(result.refused == 1
                                   ? tr("1 cell would hold no number or date any more and stays.")
                                   : tr("%n cells would hold no number or date any more and stay.",
                                        "", static_cast<int>(result.refused)));
            m_refused->setVisible(result.refused > 0);
            if (std::exchange(m_isAsked, false)) replaceCounted();
        });
    });
}

// What was counted is what is done: who is quicker than counting waits for it.
void ReplacePanel::replace() {
    m_isAsked = isBusy();
    if (!m_isAsked) replaceCounted();
}

void ReplacePanel::replaceCounted() {
    if (m_result.count == 0) return;
    m_workspace.perform("cells-set",
                        {{"source", Workspace::target(m_source)}, {"cells", m_result.cells}});
}

}  // namespace ledge::app
