#include "app/sheet/legend_editor.h"

#include <algorithm>

#include "app/benches/bench_page.h"
#include "app/widgets/focus_kept.h"
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
    m_list = new QVBoxLayout(rows);
    m_list->setContentsMargins(0, 0, 0, 0);
    m_list->setSpacing(2);
    all->addWidget(rows);
}

std::vector<LegendEditor::Entry> LegendEditor::entriesOf(const doc::LegendItem& legend) const {
    const doc::SheetItem* panel = m_workspace.sheet()->panel(legend.panel);
    if (!panel) return {};
    doc::LegendItem all = legend;
    all.left_out.clear();
    std::vector<Entry> out;
    bool isFirst = true;
    for (const auto& entry : carto::legendEntries(
             doc::panelLayers(m_workspace.document(), *panel->as<doc::MapPanel>()), all)) {
        const doc::Layer* layer = m_workspace.document().layer(entry.layer);
        const bool isKnown = std::any_of(
            out.begin(), out.end(), [&](const Entry& one) { return one.layer == entry.layer; });
        if (!layer || isKnown) continue;
        const auto name = legend.names.find(entry.layer);
        const bool isListed = std::find(legend.left_out.begin(), legend.left_out.end(),
                                        entry.layer) == legend.left_out.end();
        out.push_back({entry.layer, qtext(layer->name),
                       name == legend.names.end() ? QString() : qtext(name->second), isListed,
                       isFirst});
        isFirst = entry.isGroup;
    }
    return out;
}

std::vector<LegendEditor::Entry> LegendEditor::entriesOf(const doc::CreditsItem& credits,
                                                         const QStringList& all) const {
    std::vector<Entry> out;
    for (const QString& credit : all) {
        const auto it = credits.wording.find(credit.toStdString());
        const QString said = it == credits.wording.end() ? credit : qtext(it->second);
        out.push_back({0, credit, said == credit ? QString() : said, !said.isEmpty(), true});
    }
    return out;
}

void LegendEditor::show(const doc::SheetItem& item) {
    if (const auto* legend = item.as<doc::LegendItem>()) {
        m_entries = entriesOf(*legend);
        m_said->setText(tr("Entries (rename here without touching the layer)"));
    }
    if (const auto* credits = item.as<doc::CreditsItem>()) {
        const QStringList gathered =
            carto::gatheredCredits(m_workspace.document(), *m_workspace.sheet());
        m_entries = entriesOf(*credits, gathered);
        m_said->setText(gathered.isEmpty()
                            ? tr("The sources on this sheet ask for no credit.")
                            : tr("Credits of the sources (reword here; what is left out is told "
                                 "before export)"));
    }
    // An entry that moved takes the focus along.
    const FocusKept kept(this);
    keepRows(m_rows, m_entries.size(), m_list, [this](std::size_t at) { return makeRow(at); });
    for (std::size_t i = 0; i < m_entries.size(); ++i) showRow(i);
}

LegendEditor::Row LegendEditor::makeRow(std::size_t at) {
    Row row{new QWidget, new QCheckBox, makeText({}), makeLink(tr("everywhere"), {}),
            makeLink(QStringLiteral("↑"), {})};
    row.listed->setObjectName(QString("legendListed%1").arg(at));
    row.name->setObjectName(QString("legendName%1").arg(at));
    row.everywhere->setObjectName(QString("legendEverywhere%1").arg(at));
    row.up->setObjectName(QString("legendUp%1").arg(at));
    auto* layout = new QHBoxLayout(row.widget);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(row.listed);
    layout->addWidget(row.name, 1);
    layout->addWidget(row.everywhere);
    layout->addWidget(row.up);
    connect(row.listed, &QCheckBox::clicked, this, [this, at](bool on) { list(at, on); });
    connect(row.name, &QLineEdit::editingFinished, this, [this, at] { rename(at); });
    connect(row.everywhere, &QPushButton::clicked, this, [this, at] {
        const Entry& entry = m_entries[at];
        m_workspace.perform("legend-rename", {{"layer", Workspace::target(entry.layer)},
                                              {"name", entry.name.toStdString()}});
    });
    connect(row.up, &QPushButton::clicked, this, [this, at] {
        std::vector<doc::Id> order;
        for (const Entry& one : m_entries) order.push_back(one.layer);
        m_workspace.performOnItem("legend-order",
                                  {{"layer", Workspace::target(m_entries[at].layer)},
                                   {"to", "up"},
                                   {"among", Workspace::targets(order)}});
    });
    return row;
}

void LegendEditor::list(std::size_t at, bool isListed) {
    const Entry& entry = m_entries[at];
    if (entry.layer != 0)
        m_workspace.performOnItem("legend-listed", {{"layer", Workspace::target(entry.layer)},
                                                    {"listed", doc::word(isListed)}});
    else
        m_workspace.performOnItem(
            "credit-wording", {{"credit", entry.called.toStdString()},
                               {"wording", isListed ? entry.called.toStdString() : std::string()}});
}

void LegendEditor::rename(std::size_t at) {
    const Entry& entry = m_entries[at];
    const QString name = m_rows[at].name->text().trimmed();
    if (name == entry.name) return;
    if (entry.layer != 0)
        m_workspace.performOnItem("legend-name", {{"layer", Workspace::target(entry.layer)},
                                                  {"name", name.toStdString()}});
    else  // without words of its own it says what the source says
        m_workspace.performOnItem(
            "credit-wording", {{"credit", entry.called.toStdString()},
                               {"wording", (name.isEmpty() ? entry.called : name).toStdString()}});
}

void LegendEditor::showRow(std::size_t at) {
    const Entry& entry = m_entries[at];
    const Row& row = m_rows[at];
    const bool isOfLegend = entry.layer != 0;
    const auto call = [](QWidget* widget, const QString& name) {
        widget->setAccessibleName(name);
        widget->setToolTip(name);
    };
    call(row.listed, (isOfLegend ? tr("List %1") : tr("Say %1")).arg(entry.called));
    call(row.name,
         (isOfLegend ? tr("Name in the legend of %1") : tr("Wording of %1")).arg(entry.called));
    call(row.up, tr("%1 one place up").arg(entry.called));
    row.everywhere->setAccessibleName(tr("Rename %1 everywhere").arg(entry.called));
    row.everywhere->setToolTip(
        tr("Give %1 this name in the stack and in all legends").arg(entry.called));
    row.name->setPlaceholderText(entry.called);
    showCheck(row.listed, entry.isListed);
    showText(row.name, entry.name);
    row.everywhere->setVisible(isOfLegend && !entry.name.isEmpty());
    row.up->setVisible(isOfLegend);
    row.up->setEnabled(!entry.isFirst);
}

}  // namespace ledge::app
