#include "app/pick_panel.h"

#include <QToolButton>

#include "app/benches/bench_page.h"
#include "app/theme.h"
#include "app/widgets/form.h"

namespace ledge::app {

PickPanel::PickPanel(Workspace& workspace, PickTool& picking, QWidget* parent)
    : QFrame(parent), m_workspace(workspace), m_picking(picking),
      m_form(makeChoice(tr("How features are picked"),
                        {tr("By click or frame"), tr("In an area drawn"), tr("Along a line")})),
      m_count(makeLabel("")), m_none(makeButton(tr("None"), tr("Nothing is picked any more"))),
      m_table(makeButton(tr("Table"), tr("The layer's table (Alt+T)"))),
      m_zoom(makeButton(tr("Show"), tr("Move the map to what is picked"))) {
    setObjectName("pickPanel");
    setAccessibleName(tr("Pick"));
    setStyleSheet(
        QString("QFrame#pickPanel { background: %1; border: 1px solid %2; border-radius: 8px; }")
            .arg(theme().surface.name(), theme().line.name()));
    m_form->setObjectName("pickForm");
    m_count->setObjectName("pickCount");
    m_none->setObjectName("pickNone");
    m_table->setObjectName("pickTable");
    m_zoom->setObjectName("pickZoom");
    auto* close = new QToolButton;
    close->setIcon(lineIcon("x", theme().muted));
    close->setAccessibleName(tr("End picking"));
    close->setToolTip(tr("Back to moving the map (Alt+G)"));
    connect(close, &QToolButton::clicked, this, [this] { m_workspace.setTool(Tool::Move); });
    auto* head = new QHBoxLayout;
    head->addWidget(makeLabel(tr("Pick"), "heading"), 1);
    head->addWidget(close);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 6, 8, 10);
    layout->setSpacing(6);
    layout->addLayout(head);
    layout->addWidget(m_form);
    layout->addWidget(m_count);
    layout->addWidget(sideBySide({m_none, m_table, m_zoom}));
    connect(m_form, &QComboBox::activated, this,
            [this](int index) { m_picking.setForm(static_cast<PickForm>(index)); });
    connect(m_none, &QPushButton::clicked, this, [this] {
        if (const auto* source = m_workspace.source()) m_workspace.pick(source->id, {});
    });
    connect(m_table, &QPushButton::clicked, this,
            [this] { Q_EMIT m_workspace.tableAsked(m_workspace.selectedLayer()); });
    connect(m_zoom, &QPushButton::clicked, this, [this] {
        if (const auto* source = m_workspace.source()) Q_EMIT zoomAsked(source->id);
    });
    connect(&workspace, &Workspace::layerSelected, this, &PickPanel::refresh);
    connect(&workspace, &Workspace::featuresPicked, this, &PickPanel::refresh);
    connect(&picking, &PickTool::changed, this, &PickPanel::refresh);
    refresh();
    hide();
}

void PickPanel::refresh() {
    const auto* layer = m_workspace.layer();
    const auto* source = m_workspace.source();
    const bool isVector = layer && source && layer->as<doc::VectorLayer>();
    const std::size_t count = isVector ? m_workspace.picked(source->id).size() : 0;
    showChoice(m_form, static_cast<int>(m_picking.form()));
    m_count->setText(
        !isVector    ? tr("Select a layer of features.")
        : count == 0 ? tr("%1: nothing picked").arg(qtext(layer->name))
                     : tr("%1: %n picked", "", static_cast<int>(count)).arg(qtext(layer->name)));
    m_none->setEnabled(count > 0);
    m_zoom->setEnabled(count > 0);
    m_table->setEnabled(isVector);
}

}  // namespace ledge::app
