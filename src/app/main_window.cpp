#include "app/main_window.h"

#include <QApplication>
#include <QCloseEvent>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QMenu>
#include <QSettings>
#include <QSplitter>

#include "app/benches/ask_bench.h"
#include "app/benches/data_bench.h"
#include "app/benches/labels_bench.h"
#include "app/benches/sheet_bench.h"
#include "app/benches/style_bench.h"
#include "app/canvas/map_pane.h"
#include "app/canvas/sheet_canvas.h"
#include "app/draw_panel.h"
#include "app/header_bar.h"
#include "app/ledge_bar.h"
#include "app/map_tools.h"
#include "app/measure_panel.h"
#include "app/pick_panel.h"
#include "app/probe_panel.h"
#include "app/profile_drawer.h"
#include "app/rail_bar.h"
#include "app/settling.h"
#include "app/stack/stack_panel.h"
#include "app/table/table_drawer.h"
#include "app/theme.h"
#include "app/widgets/tab_order.h"
#include "core/raster/block_cache.h"
#include "document/json/members.h"

namespace ledge::app {
MainWindow::MainWindow(session::Session& session)
    : m_session(session), m_workspace(session), m_facts(session.sources()) {
    session.sources()->begin();
    setObjectName("mainWindow");
    setAcceptDrops(true);
    setMinimumSize(1024, 700);
    arrange();
    makeActions();
    connect(&session, &session::Session::changed, this, &MainWindow::refreshTitle);
    // What went wrong before is over once something worked.
    connect(&session, &session::Session::changed, this, [this] {
        constexpr qint64 kSameAct = 300;  // ms: an edit may say something of itself
        if (m_isTroubleShown && m_sinceMessage.elapsed() > kSameAct) showMessage({}, false);
    });
    connect(&m_workspace, &Workspace::said, this, &MainWindow::showMessage);
    connect(&m_workspace, &Workspace::canvasChanged, this, [this] {
        const bool isSheet = m_workspace.sheetId() != 0;
        m_canvas->setCurrentWidget(isSheet ? static_cast<QWidget*>(m_sheet) : m_map);
        m_tools->setVisible(!isSheet);
        if (isSheet) m_probe->hide();
        if (const auto* sheet = m_workspace.sheet())
            m_where->setText(tr("Page %1 × %2 mm").arg(sheet->widthMm).arg(sheet->heightMm));
        m_values->clear();
    });
    connect(&m_workspace, &Workspace::benchChanged, this,
            [this] { openPage(m_workspace.bench()); });
    connect(m_map, &MapPane::hovered, this, &MainWindow::showHover);
    connect(m_sheet, &SheetCanvas::hovered, this, [this](const QString& said) {
        if (!m_isTroubleShown) m_where->setText(said);
    });
    connect(m_map, &MapPane::probed, this,
            [this](const Point& at, const std::vector<session::ProbeHit>& hits) {
                m_probe->show(at, hits);
                for (const auto& hit : hits)
                    if (m_styleBench && hit.layer == m_workspace.selectedLayer() &&
                        std::isfinite(hit.number))
                        m_styleBench->pickClass(hit.number);
                placeFloats();
            });
    connect(m_map, &MapPane::drawn, this, [this] {
        const auto& report = m_map->report();
        if (m_labelsBench) m_labelsBench->setReport(report);
        Workspace::Troubles troubles;
        for (const auto& problem : report.problems) troubles[problem.layer].push_back(problem.text);
        m_workspace.noteTroubles(std::move(troubles));
    });
    // Told once; the strips go on showing it.
    connect(&m_workspace, &Workspace::troublesChanged, this, [this] {
        for (const auto& problem : m_map->report().problems) {
            const auto* layer = m_workspace.document().layer(problem.layer);
            const QString text = qtext(problem.text), name = layer ? qtext(layer->name) : QString();
            return showMessage(text.contains(name) ? text : name + ": " + text, true);
        }
    });
    connect(&session, &session::Session::replaced, this, [this] { m_probe->hide(); });
    connect(&m_facts, &session::FactBook::ready, this, &MainWindow::buildOverviews);
    refreshTitle();
    m_map->setFocus();
}

void MainWindow::arrange() {
    auto* centre = new QWidget;
    setCentralWidget(centre);
    m_header = new HeaderBar(m_workspace, centre);
    m_rail = new RailBar(m_workspace);
    m_stack = new StackPanel(m_workspace, m_facts);
    m_map = new MapPane(m_workspace);
    m_sheet = new SheetCanvas(m_workspace);
    m_canvas = new QStackedWidget;
    m_canvas->addWidget(m_map);
    m_canvas->addWidget(m_sheet);
    m_ledge = new LedgeBar(m_workspace);

    m_stack->setAttribute(Qt::WA_StyledBackground);
    m_stack->setStyleSheet(
        QString("QWidget#stackPanel { background: %1; border-right: 1px solid %2; }")
            .arg(theme().surface.name(), theme().line.name()));

    m_split = new QSplitter(Qt::Horizontal);
    m_split->setObjectName("benchSplit");
    m_split->setChildrenCollapsible(false);
    m_split->setHandleWidth(3);
    m_split->addWidget(makeCanvas());
    m_split->addWidget(makeBenchFrame());
    m_split->setStretchFactor(0, 1);
    m_split->setStretchFactor(1, 0);
    connect(m_split, &QSplitter::splitterMoved, this, [this] {
        QSettings().setValue("bench_width", m_benchFrame->width());
        placeFloats();
    });
    auto* right = new QVBoxLayout;
    right->setSpacing(0);
    right->addWidget(m_split, 1);
    right->addWidget(m_ledge);
    right->addWidget(makeStatusLine());
    auto* body = new QHBoxLayout;
    body->setSpacing(0);
    body->addWidget(m_rail);
    body->addWidget(m_stack);
    body->addLayout(right, 1);
    auto* all = new QVBoxLayout(centre);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    all->addWidget(m_header);
    all->addLayout(body, 1);

    makeFloats();
    connectParts();
    connect(m_rail, &RailBar::focusAsked, this, &MainWindow::focusBench);
    // A control that goes away leaves the focus on its page, wherever Qt would move it.
    connect(qApp, &QApplication::focusChanged, this, [this](QWidget* old, QWidget* now) {
        if (old && now && m_benches->isVisible() && m_benches->isAncestorOf(old) &&
            !old->isVisible() && !m_benches->isAncestorOf(now))
            m_benches->setFocus(Qt::OtherFocusReason);
    });
    connect(m_stack, &StackPanel::addAsked, this, &MainWindow::addDialog);
    openPage(m_workspace.bench());
    const int width = QSettings().value("bench_width", kBenchWidth).toInt();
    m_split->setSizes({4096, std::clamp(width, kBenchWidth, kWidestBench)});
}

// Where the pointer is, what lies there, and the units of both.
void MainWindow::connectParts() {
    connect(m_profile, &ProfileDrawer::marked, m_map, &MapPane::setProfileMark);
    connect(m_profile, &ProfileDrawer::lineShown, m_map, &MapPane::setProfileLine);
    connect(m_map, &MapPane::hovered, m_profile, &ProfileDrawer::markNear);
    connect(m_ledge, &LedgeBar::profileAsked, m_profile, &ProfileDrawer::showKept);
    connect(m_probe, &ProbePanel::flashAsked, m_map, &MapPane::flash);
    connect(m_probe, &ProbePanel::onlySelectedAsked, m_map, &MapPane::setProbesOnlySelected);
    const auto showAlong = [this](const std::vector<Point>& line, const QString& name) {
        m_profile->showAlong(line, name);
        m_map->setProfileLine(line);
    };
    connect(m_probe, &ProbePanel::profileAsked, this, showAlong);
    connect(m_map, &MapPane::lineTaken, this, showAlong);
    connect(m_probe, &ProbePanel::profileAddAsked, this, [this](const std::vector<Point>& line) {
        m_map->setProfileLine(m_profile->showAlso(line));
    });
    connect(&m_session, &session::Session::replaced, m_profile, &QWidget::hide);
    connect(&m_workspace, &Workspace::tableAsked, m_table, &TableDrawer::open);
    connect(m_table, &TableDrawer::zoomAsked, m_map, &MapPane::zoomToPicked);
    connect(m_probe, &ProbePanel::rowAsked, this, [this](doc::Id layer, FeatureKey key) {
        m_workspace.selectLayer(layer);
        m_table->open(layer);
        m_table->showFeature(key);
    });
    connect(m_ledge, &LedgeBar::questionAsked, this, [this](doc::Id id) {
        const auto* question = m_session.document().question(id);
        if (!question) return;
        if (!m_session.document().layer(question->layer))
            return m_workspace.say(tr("The layer that it asks is gone"), true);
        m_workspace.showMap();
        m_workspace.selectLayer(question->layer);
        m_workspace.setBench(Bench::Ask);
        m_askBench->show(*question);
    });
}

void MainWindow::openPage(Bench bench) {
    auto* scroll = qobject_cast<QScrollArea*>(m_benches->widget(static_cast<int>(bench)));
    if (!scroll->widget()) {
        scroll->setWidget(makePage(bench));
        tabAfter(scroll, scroll->widget());
    }
    // A field of the page that goes away would hand its focus on to a strip, as if somebody had
    // tabbed there.
    const QWidget* focused = QApplication::focusWidget();
    if (focused && m_benches->isAncestorOf(focused)) m_benches->setFocus(Qt::OtherFocusReason);
    m_benches->setCurrentIndex(static_cast<int>(m_workspace.bench()));
}

void MainWindow::focusBench() {
    auto* scroll = qobject_cast<QScrollArea*>(m_benches->currentWidget());
    QWidget* first = scroll && scroll->widget() ? firstReached(scroll->widget()) : nullptr;
    (first ? first : m_benches)->setFocus(Qt::ShortcutFocusReason);
    if (first) scroll->ensureWidgetVisible(first);
}

MainWindow::~MainWindow() { m_session.sources()->end(); }

void MainWindow::makeActions() {
    m_menu = new QMenu(this);
    const auto add = [this](const QString& text, const QKeySequence& keys, auto act) {
        QAction* action = m_menu->addAction(text, keys, this, act);
        addAction(action);
        return action;
    };
    add(tr("New project"), QKeySequence("Ctrl+Shift+N"), [this] {
        if (m_guard.mayLeave()) m_session.clear();
    });
    add(tr("Open project…"), QKeySequence("Ctrl+O"), [this] { openDialog(); });
    add(tr("Add data…"), QKeySequence("Ctrl+Shift+A"), [this] { addDialog(); });
    m_menu->addSeparator();
    add(tr("Save"), QKeySequence("Ctrl+S"), [this] { m_guard.save(); });
    add(tr("Save under another name…"), QKeySequence("Ctrl+Shift+S"), [this] { m_guard.saveAs(); });
    auto* copies = m_menu->addMenu(tr("Autosaved copies"));
    copies->setObjectName("copies");
    connect(copies, &QMenu::aboutToShow, this, [this, copies] { m_guard.fillCopies(*copies); });
    m_menu->addSeparator();
    QAction* undo = add(tr("Undo"), QKeySequence("Ctrl+Z"), [this] { m_session.undo(); });
    QAction* redo = add(tr("Redo"), QKeySequence("Ctrl+Shift+Z"), [this] { m_session.redo(); });
    undo->setObjectName("undo");
    redo->setObjectName("redo");
    const auto refresh = [this, undo, redo] {
        const auto& history = m_session.history();
        undo->setEnabled(history.canUndo());
        redo->setEnabled(history.canRedo());
        undo->setText(history.canUndo() ? tr("Undo: %1").arg(qtext(history.undoLabel()))
                                        : tr("Undo"));
        redo->setText(history.canRedo() ? tr("Redo: %1").arg(qtext(history.redoLabel()))
                                        : tr("Redo"));
    };
    connect(&m_session, &session::Session::changed, this, refresh);
    refresh();
    m_menu->addSeparator();
    add(tr("Export sheet…"), QKeySequence("Ctrl+E"), [this] { exportSheet(); });
    add(tr("Print sheet…"), QKeySequence("Ctrl+P"), [this] {
        if (m_workspace.sheetId() == 0)
            return m_workspace.say(tr("Show a sheet first: it is on the ledge"), true);
        m_workspace.setBench(Bench::Sheet);
        sheetBench()->output().print();
    });
    add(tr("Keep view"), QKeySequence("Ctrl+Shift+V"), [this] { m_ledge->saveView(); });
    add(tr("Map on the canvas"), QKeySequence("Alt+M"), [this] { m_workspace.showMap(); });
    add(tr("Hide panels"), QKeySequence("F9"), [this] {
        const bool shows = !m_stack->isVisible();
        for (QWidget* part : {static_cast<QWidget*>(m_rail), static_cast<QWidget*>(m_stack),
                              m_benchFrame, static_cast<QWidget*>(m_ledge)})
            part->setVisible(shows);
    });
    add(tr("Wider bench"), QKeySequence("Alt+Shift+Left"), [this] { widenBench(40); });
    add(tr("Narrower bench"), QKeySequence("Alt+Shift+Right"), [this] { widenBench(-40); });
    add(tr("Stack"), QKeySequence("Alt+0"), [this] { m_stack->focusSelected(); });
    add(tr("Attribute table"), QKeySequence("Alt+T"), [this] {
        if (m_table->isVisible() && m_table->layer() == m_workspace.selectedLayer())
            m_table->hide();
        else
            m_table->open(m_workspace.selectedLayer());
        if (m_table->isVisible()) m_table->view()->setFocus();
    });
    add(tr("Jump field"), QKeySequence("Ctrl+J"), [this] { m_header->jumpField()->setFocus(); });
    add(tr("Memory for rasters…"), {}, [this] {
        auto& cache = BlockCache::shared();
        bool isChosen = false;
        const int megabytes = QInputDialog::getInt(
            this, tr("Memory for rasters"),
            tr("Megabytes that decoded blocks of rasters may take (now %1 in use):")
                .arg(cache.held() >> 20),
            static_cast<int>(cache.limit() >> 20), 16, 65536, 64, &isChosen);
        if (!isChosen) return;
        cache.setLimit(static_cast<std::size_t>(megabytes) << 20);
        QSettings().setValue("raster_cache_mb", megabytes);
    });
    m_menu->addSeparator();
    add(tr("Quit"), QKeySequence("Ctrl+Q"), [this] { close(); });
    m_header->setActions([this] { return jumpActions(); });
    connect(m_header, &HeaderBar::menuAsked, this, [this](const QPoint& at) { m_menu->exec(at); });
}

std::vector<JumpAction> MainWindow::jumpActions() {
    std::vector<JumpAction> out;
    for (const session::Operation& one : session::operations())
        out.push_back({qtext(one.title), qtext(one.help), tr("derive"),
                       [this, &one] { startDeriving(one); }});
    for (QAction* action : m_menu->actions())
        if (!action->isSeparator() && !action->menu() && action->isEnabled())
            out.push_back({action->text(), {}, tr("do it"), [action] { action->trigger(); }});
    for (QToolButton* tool : m_tools->buttons())
        out.push_back({tool->text(), tool->toolTip(), tr("on the map"), [this, tool] {
                           m_workspace.showMap();
                           tool->click();
                       }});
    for (const Bench bench : kBenches)
        out.push_back({m_rail->nameOf(bench), {}, tr("bench"), [this, bench] {
                           m_workspace.setBench(bench);
                           focusBench();
                       }});
    return out;
}

// Where the operation is done, on the selected heights or else the first there are.
void MainWindow::startDeriving(const session::Operation& operation) {
    const doc::Layer* selected = m_workspace.layer();
    const auto suits = [&operation](const doc::Layer& layer) {
        if (operation.isOfFeatures) return layer.as<doc::VectorLayer>() != nullptr;
        return operation.readsHeights ? layer.readsHeights()
                                      : layer.as<doc::RasterLayer>() || layer.readsHeights();
    };
    if (!selected || !suits(*selected)) {
        const auto all = doc::allLayers(m_session.document().layers);
        const auto found =
            std::find_if(all.begin(), all.end(), [&](const auto& one) { return suits(*one); });
        if (found == all.end())
            return m_workspace.say((operation.isOfFeatures
                                        ? tr("%1 needs a layer of features: add one first")
                                        : tr("%1 needs a raster: add one first"))
                                       .arg(qtext(operation.title)),
                                   true);
        m_workspace.selectLayer((*found)->id);
    }
    m_workspace.setBench(operation.readsHeights ? Bench::Terrain : Bench::Data);
    if (!operation.readsHeights && m_dataBench) m_dataBench->derivePanel().choose(operation.name);
    focusBench();
}

void MainWindow::exportSheet() {
    const auto& sheets = m_session.document().sheets;
    if (sheets.empty())
        return m_workspace.say(tr("There is no sheet to export: make one on the Sheet bench"),
                               true);
    if (m_workspace.sheetId() == 0) m_workspace.showSheet(sheets.front()->id);
    m_workspace.setBench(Bench::Sheet);
    sheetBench()->output().chooseExport();
}

void MainWindow::widenBench(int by) {
    const int all = m_split->width() - m_split->handleWidth();
    const int width = std::clamp(m_benchFrame->width() + by, kBenchWidth, kWidestBench);
    m_split->setSizes({all - width, width});
    QSettings().setValue("bench_width", m_benchFrame->width());
    placeFloats();
}

void MainWindow::placeFloats() {
    m_tools->arrange();
    m_map->setTopRoom(m_tools->geometry().bottom() + 8);
    // Beneath the tools where they reach so far.
    const auto topFor = [this](int width) {
        const bool isUnder = m_tools->geometry().right() > m_map->width() - width - 12;
        return isUnder ? m_tools->geometry().bottom() + 8 : 56;
    };
    const int top = topFor(250);
    m_probe->setGeometry(m_map->width() - 262, top, 250,
                         std::min(m_map->height() - top - 12, m_probe->neededHeight()));
    const auto place = [&](QWidget* panel, int wanted) {
        if (!panel->isVisibleTo(m_map)) return;
        const int width = std::min(wanted, m_map->width() - 24);
        const int height =
            panel->hasHeightForWidth() ? panel->heightForWidth(width) : panel->sizeHint().height();
        panel->setGeometry(m_map->width() - width - 12, topFor(width), width, height);
    };
    place(m_measure, 360);
    place(m_draw, 290);
    place(m_pick, 250);
}

void MainWindow::resizeEvent(QResizeEvent* event) {
    QMainWindow::resizeEvent(event);
    QMetaObject::invokeMethod(this, &MainWindow::placeFloats, Qt::QueuedConnection);
}

void MainWindow::refreshTitle() {
    setWindowTitle(QString("%1[*] — Indigo Ledge").arg(qtext(m_session.document().name)));
    setWindowModified(m_session.isModified());
}

void MainWindow::showMessage(const QString& text, bool isTrouble) {
    m_isTroubleShown = isTrouble;
    m_sinceMessage.restart();
    m_where->setText(text);
    m_where->setStyleSheet(isTrouble ? "color: " + theme().rust.name() : QString());
}

void MainWindow::showHover(const Point& at) {
    if (!at.isFinite()) return m_values->clear();
    const auto crs = m_session.mapCrs();
    const QString where = qtext(session::positionText(crs, at, m_session.document().display));
    m_where->setStyleSheet({});
    m_where->setText(where);
    m_hoverWorker.start([this, at, crs, snapshot = m_session.snapshot(),
                         sources = m_session.sources()](const std::stop_token& stop) {
        const auto values = session::rasterValues(*snapshot, *sources, crs, at);
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, values] {
            QStringList said;
            for (const auto& [name, value] : values) said << qtext(name) + " " + qtext(value);
            m_values->setText(said.join("   ·   "));
        });
    });
}

void MainWindow::openUnits() {
    QMenu menu(this);
    const auto& shown = m_session.document().display;
    const auto add = [&](const QString& name, bool isOn, const char* what,
                         const std::string& unit) {
        QAction* action = menu.addAction(name, this, [this, what, unit] {
            m_workspace.perform("units", {{what, unit}});
        });
        action->setCheckable(true);
        action->setChecked(isOn);
    };
    menu.addSection(tr("Coordinates"));
    const QStringList forms{tr("In units of the map and in degrees"),
                            tr("Degrees, minutes, seconds"), tr("Decimal degrees")};
    for (int i = 0; i < forms.size(); ++i)
        add(forms[i], static_cast<int>(shown.coordinates) == i, "coordinates",
            doc::unitName(static_cast<CoordinateForm>(i)));
    menu.addSection(tr("Lengths, areas and scale bars"));
    for (int i = 0; i <= static_cast<int>(LengthUnit::NauticalMiles); ++i)
        add(qtext(lengthUnitName(static_cast<LengthUnit>(i))), static_cast<int>(shown.lengths) == i,
            "lengths", doc::unitName(static_cast<LengthUnit>(i)));
    menu.exec(m_units->mapToGlobal(QPoint(0, -menu.sizeHint().height())));
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (!m_guard.mayLeave()) return event->ignore();
    m_session.forgetAutosaved();
    event->accept();
}

bool MainWindow::isBusy() const {
    return Settling::isAny() || LatestWorker::isAnyBusy() || m_session.jobs().isRunning() ||
           (m_canvas->currentWidget() == m_sheet ? m_sheet->isDrawing() : m_map->isDrawing());
}

}  // namespace ledge::app
