#include "app/sheet/legend_editor.h"

#include <algorithm>
#include <set>

#include "app/benches/bench_page.h"
#include "app/widgets/rows.h"
#include "carto/legend.h"
#include "carto/sheet_painter.h"
#include "document/json/members.h"

namespace ledge::app {

LegendEditor::LegendEditor(Workspace& workspace, QWidget* parent)
    : QWidget(parent), m_workspace(workspace), m_said(makeLabel("", "muted")) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(4);
    all->addWidget(m_said);
    auto* rows = new QWidget;
    m_rows = new QVBoxLayout(rows);
    m_rows->setContentsMargins(0, 0, 0, 0);
    m_rows->setSpacing(2);
    all->addWidget(rows);
}

void LegendEditor::addRow(QCheckBox* listed, QLineEdit* name, QPushButton* everywhere,
                          QPushButton* up) {
    auto* row = new QWidget;
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(listed);
    layout->addWidget(name, 1);
    for (QPushButton* more : {everywhere, up})
        if (more) layout->addWidget(more);
    m_rows->addWidget(row);
}

void LegendEditor::show(const doc::SheetItem& item) {
    // Rows that show what there is already keep the focus.
    std::string now = std::to_string(item.id);
    for (const char* member : {"names", "left_out", "order", "panel", "wording", "groups"})
        now += "|" + doc::memberText(item, member);
    for (const auto& layer : doc::allLayers(m_workspace.document().layers))
        now += (m_workspace.isLit(*layer) ? "|+" : "|-") + layer->name;
    if (now == m_shown) return;
    m_shown = now;
    clearRows(m_rows);
    if (const auto* legend = item.as<doc::LegendItem>()) showLegend(*legend);
    if (const auto* credits = item.as<doc::CreditsItem>()) showCredits(*credits);
}

void LegendEditor::showLegend(const doc::LegendItem& legend) {
    m_said->setText(tr("Entries (rename here without touching the layer)"));
    const doc::SheetItem* panel = m_workspace.sheet()->panel(legend.panel);
    if (!panel) return;
    doc::LegendItem all = legend;
    all.left_out.clear();
    std::vector<doc::Id> order;
    std::set<doc::Id> firsts;  // of a group: they go no further up
    bool isFirst = true;
    for (const auto& entry : carto::legendEntries(
             doc::panelLayers(m_workspace.document(), *panel->as<doc::MapPanel>()), all)) {
        if (std::find(order.begin(), order.end(), entry.layer) != order.end()) continue;
        if (isFirst) firsts.insert(entry.layer);
        order.push_back(entry.layer);
        isFirst = entry.isGroup;
    }
    for (std::size_t i = 0; i < order.size(); ++i) {
        const doc::Id id = order[i];
        const doc::Layer* layer = m_workspace.document().layer(id);
        if (!layer) continue;
        const QString called = qtext(layer->name);
        auto* listed = new QCheckBox;
        listed->setChecked(std::find(legend.left_out.begin(), legend.left_out.end(), id) ==
                           legend.left_out.end());
        listed->setAccessibleName(tr("List %1").arg(called));
        listed->setToolTip(tr("List %1").arg(called));
        listed->setObjectName(QString("legendListed%1").arg(i));
        auto* name = makeText(tr("Name in the legend of %1").arg(called), called);
        name->setObjectName(QString("legendName%1").arg(i));
        const auto it = legend.names.find(id);
        if (it != legend.names.end()) name->setText(qtext(it->second));
        auto* up = makeLink(QStringLiteral("↑"), tr("%1 one place up").arg(called));
        up->setAccessibleName(tr("%1 one place up").arg(called));
        up->setObjectName(QString("legendUp%1").arg(i));
        up->setEnabled(!firsts.contains(id));
        connect(listed, &QCheckBox::clicked, this, [this, id](bool on) {
            m_workspace.performOnItem(
                "legend-listed", {{"layer", Workspace::target(id)}, {"listed", doc::word(on)}});
        });
        connect(name, &QLineEdit::editingFinished, this, [this, id, name, before = name->text()] {
            if (name->text() == before) return;
            m_workspace.performOnItem(
                "legend-name",
                {{"layer", Workspace::target(id)}, {"name", name->text().trimmed().toStdString()}});
        });
        connect(up, &QPushButton::clicked, this, [this, id, order] {
            m_workspace.performOnItem("legend-order", {{"layer", Workspace::target(id)},
                                                       {"to", "up"},
                                                       {"among", Workspace::targets(order)}});
        });
        auto* everywhere = makeLink(tr("everywhere"), tr("Give %1 this name in the stack and in "
                                                         "all legends")
                                                          .arg(called));
        everywhere->setAccessibleName(tr("Rename %1 everywhere").arg(called));
        everywhere->setObjectName(QString("legendEverywhere%1").arg(i));
        everywhere->setVisible(it != legend.names.end());
        connect(everywhere, &QPushButton::clicked, this, [this, id, name] {
            m_workspace.perform("legend-rename", {{"layer", Workspace::target(id)},
                                                  {"name", name->text().trimmed().toStdString()}});
        });
        addRow(listed, name, everywhere, up);
    }
}

void LegendEditor::showCredits(const doc::CreditsItem& credits) {
    const QStringList gathered =
        carto::gatheredCredits(m_workspace.document(), *m_workspace.sheet());
    m_said->setText(
        gathered.isEmpty()
            ? tr("The sources on this sheet ask for no credit.")
            : tr("Credits of the sources (reword here; what is left out is told before export)"));
    for (const QString& credit : gathered) {
        const std::string key = credit.toStdString();
        const auto it = credits.wording.find(key);
        const bool isShown = it == credits.wording.end() || !it->second.empty();
        auto* listed = new QCheckBox;
        listed->setChecked(isShown);
        listed->setAccessibleName(tr("Say %1").arg(credit));
        auto* name = makeText(tr("Wording of %1").arg(credit), credit);
        if (it != credits.wording.end() && isShown) name->setText(qtext(it->second));
        const auto word = [this, key](const std::string& said) {
            m_workspace.performOnItem("credit-wording", {{"credit", key}, {"wording", said}});
        };
        connect(listed, &QCheckBox::clicked, this, [word, key](bool on) { word(on ? key : ""); });
        connect(name, &QLineEdit::editingFinished, this, [word, name, key, before = name->text()] {
            const std::string said = name->text().trimmed().toStdString();
            if (name->text() != before) word(said.empty() ? key : said);
        });
        addRow(listed, name, nullptr, nullptr);
    }
}

}  // namespace ledge::app
