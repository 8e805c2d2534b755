// The parts that the window is put together from.
#include <QHBoxLayout>
#include <QSplitter>

#include "app/benches/ask_bench.h"
#include "app/benches/data_bench.h"
#include "app/benches/labels_bench.h"
#include "app/benches/sheet_bench.h"
#include "app/benches/style_bench.h"
#include "app/benches/terrain_bench.h"
#include "app/canvas/map_pane.h"
#include "app/draw_panel.h"
#include "app/main_window.h"
#include "app/map_tools.h"
#include "app/measure_panel.h"
#include "app/pick_panel.h"
#include "app/probe_panel.h"
#include "app/profile_drawer.h"
#include "app/table/table_drawer.h"
#include "app/theme.h"

namespace ledge::app {

QWidget* MainWindow::makeStatusLine() {
    auto* status = new QWidget;
    status->setFixedHeight(24);
    m_where = makeLabel("");
    m_values = makeLabel("", "muted");
    m_where->setObjectName("where");
    m_values->setObjectName("values");
    m_where->setWordWrap(false);
    m_values->setWordWrap(false);
    auto* statusRow = new QHBoxLayout(status);
    statusRow->setContentsMargins(12, 0, 12, 0);
    statusRow->addWidget(m_where);
    statusRow->addStretch(1);
    statusRow->addWidget(m_values);
    m_units = new QToolButton;
    m_units->setObjectName("units");
    m_units->setText(tr("Units"));
    m_units->setToolTip(tr("Units that coordinates and lengths are shown in"));
    m_units->setAccessibleName(tr("Units of coordinates and lengths"));
    m_units->setStyleSheet("padding: 0 8px; font-weight: 600; color: " + theme().indigo.name());
    connect(m_units, &QToolButton::clicked, this, &MainWindow::openUnits);
    statusRow->addWidget(m_units);
    return status;
}

QWidget* MainWindow::makeBenchFrame() {
    m_benches = new QStackedWidget;
    m_benches->setFocusPolicy(Qt::ClickFocus);  // holds the focus while pages change
    m_benches->setAccessibleName(tr("Bench"));
    for (std::size_t i = 0; i < kBenches.size(); ++i) {
        auto* scroll = new QScrollArea;
        scroll->setWidgetResizable(true);
        scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        m_benches->addWidget(scroll);
    }
    m_benchFrame = new QWidget;
    m_benchFrame->setObjectName("benchFrame");
    m_benchFrame->setMinimumWidth(kBenchWidth);
    m_benchFrame->setMaximumWidth(kWidestBench);
    m_benchFrame->setStyleSheet(
        QString("QWidget#benchFrame { background: %1; border-left: 1px solid %2; }")
            .arg(theme().surface.name(), theme().line.name()));
    auto* benchLayout = new QVBoxLayout(m_benchFrame);
    benchLayout->setContentsMargins(1, 0, 0, 0);
    benchLayout->addWidget(m_benches);
    return m_benchFrame;
}

// The map or a sheet, with the drawers beneath it.
QWidget* MainWindow::makeCanvas() {
    m_profile = new ProfileDrawer(m_workspace, m_map->measuring());
    auto* canvas = new QWidget;
    auto* canvasColumn = new QVBoxLayout(canvas);
    canvasColumn->setContentsMargins(0, 0, 0, 0);
    canvasColumn->setSpacing(0);
    m_table = new TableDrawer(m_workspace);
    m_drawerSplit = new QSplitter(Qt::Vertical);
    m_drawerSplit->setObjectName("drawerSplit");
    m_drawerSplit->setChildrenCollapsible(false);
    m_drawerSplit->setHandleWidth(3);
    m_drawerSplit->addWidget(m_canvas);
    m_drawerSplit->addWidget(m_table);
    m_drawerSplit->setStretchFactor(0, 1);
    m_drawerSplit->setStretchFactor(1, 0);
    m_drawerSplit->setSizes({340, 300});
    connect(m_drawerSplit, &QSplitter::splitterMoved, this, [this] { placeFloats(); });
    canvasColumn->addWidget(m_drawerSplit, 1);
    canvasColumn->addWidget(m_profile);
    return canvas;
}

// What stands over the map: its tools, and the panel of the one that is used.
void MainWindow::makeFloats() {
    m_tools = new MapTools(m_workspace, m_map);
    m_probe = new ProbePanel(m_workspace, m_map);
    m_measure = new MeasurePanel(m_workspace, m_map->measuring(), m_map);
    connect(m_measure, &MeasurePanel::kept, this,
            [this](const QString& path) { addFiles({path}); });
    m_draw = new DrawPanel(m_workspace, m_map->drawing(), m_map->measuring(), m_map);
    connect(m_draw, &DrawPanel::layerMade, this, [this](const QString& path) { addFiles({path}); });
    m_pick = new PickPanel(m_workspace, m_map->picking(), m_map);
    connect(m_pick, &PickPanel::zoomAsked, m_map, &MapPane::zoomToPicked);
    connect(&m_map->drawing(), &DrawTool::changed, this, &MainWindow::placeFloats);
    connect(&m_workspace, &Workspace::toolChanged, this, [this] {
        // What was measured stays for the next look; what was drawn or picked by is of no more use.
        const auto drawsOwn = [](Tool tool) { return tool == Tool::Draw || tool == Tool::Pick; };
        const Tool before = std::exchange(m_toolBefore, m_workspace.tool());
        if (before != m_toolBefore && (drawsOwn(before) || drawsOwn(m_toolBefore)))
            m_map->measuring().clear();
        m_measure->setVisible(m_workspace.tool() == Tool::Measure);
        m_draw->setVisible(m_workspace.tool() == Tool::Draw);
        m_pick->setVisible(m_workspace.tool() == Tool::Pick);
        if (m_map->drawsPath()) m_probe->hide();
        placeFloats();
    });
    connect(&m_map->measuring(), &MeasureOverlay::changed, this, &MainWindow::placeFloats);
    connect(&m_map->labelling(), &LabelTool::textAsked, this,
            [this](const carto::LabelOf& of, const QString& text) {
                askLabelText(m_workspace, of, text, this);
            });
    placeFloats();
}

// What one part of the window shows of another.

QWidget* MainWindow::makePage(Bench bench) {
    switch (bench) {
    case Bench::Data:
        m_dataBench = new DataBench(m_workspace, m_facts);
        connect(m_dataBench, &DataBench::addAsked, this, &MainWindow::addDialog);
        connect(m_dataBench, &DataBench::fileAsked, this,
                [this](const QString& path) { addFiles({path}); });
        connect(&m_dataBench->derivePanel(), &DerivePanel::derived, this, &MainWindow::showDerived);
        return m_dataBench;
    case Bench::Terrain: {
        // What is derived there is written by the Data bench, with its lineage.
        openPage(Bench::Data);
        auto* terrain = new TerrainBench(m_workspace, m_facts);
        auto& derive = m_dataBench->derivePanel();
        connect(terrain, &TerrainBench::writeAsked, &derive, &DerivePanel::write);
        connect(terrain, &TerrainBench::liveAsked, &derive, &DerivePanel::showLive);
        return terrain;
    }
    case Bench::Style:
        m_styleBench = new StyleBench(m_workspace, m_facts);
        connect(m_styleBench, &StyleBench::visionAsked, m_map, &MapPane::setVision);
        return m_styleBench;
    case Bench::Labels:
        m_labelsBench = new LabelsBench(m_workspace, m_facts);
        m_labelsBench->setReport(m_map->report());
        connect(m_labelsBench, &LabelsBench::handAsked, this, [this] {
            m_workspace.setTool(Tool::Label);
            m_map->setFocus();
        });
        connect(m_labelsBench, &LabelsBench::placeAsked, this, [this](const carto::LabelOf& of) {
            m_workspace.setTool(Tool::Label);
            m_map->labelling().place(of);
        });
        connect(m_labelsBench, &LabelsBench::pinAllAsked, &m_map->labelling(), &LabelTool::pinAll);
        connect(m_labelsBench, &LabelsBench::spotAsked, m_map, &MapPane::lookAtSpot);
        return m_labelsBench;
    case Bench::Ask:
        m_askBench = new AskBench(m_workspace, m_facts);
        connect(m_askBench, &AskBench::answered, &m_map->picked(), &PickedOverlay::setAnswer);
        // What is made of the answer is written by the Data bench, with its lineage.
        openPage(Bench::Data);
        connect(m_askBench, &AskBench::liveAsked, &m_dataBench->derivePanel(),
                &DerivePanel::showLive);
        connect(m_askBench, &AskBench::writeAsked, &m_dataBench->derivePanel(),
                &DerivePanel::write);
        return m_askBench;
    case Bench::Sheet: return m_sheetBench = new SheetBench(m_workspace, m_facts);
    }
    return new QWidget;
}

// A large file that is being read for the map is not waited for.

}  // namespace ledge::app
