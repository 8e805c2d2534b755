#include "app/picture_tour.h"

#include <QAbstractButton>
#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QThread>
#include <algorithm>

#include "app/benches/ask_bench.h"
#include "app/benches/sheet_bench.h"
#include "app/canvas/map_pane.h"
#include "app/canvas/sheet_canvas.h"
#include "app/main_window.h"
#include "app/profile_drawer.h"
#include "app/settling.h"
#include "app/sheet_wall.h"
#include "app/table/table_drawer.h"
#include "document/edits/layer_edits.h"

namespace ledge::app {
namespace {
doc::Id layerNamed(const doc::Document& document, const char* name) {
    for (const auto& layer : doc::allLayers(document.layers))
        if (layer->name == name) return layer->id;
    return 0;
}
// Names, two of them moved by hand, and the list of what found no room.
void takeLabels(MainWindow& window, const std::function<void(const QString&)>& take) {
    Workspace& workspace = window.workspace();
    const auto before = workspace.session().snapshot();
    workspace.selectLayer(layerNamed(workspace.document(), "Places"));
    workspace.setBench(Bench::Labels);
    waitUntilIdle(window);
    int moved = 0;
    const auto labels = window.map()->report().labels;
    for (const carto::MapLabel& label : labels)
        if (label.of.layer == workspace.selectedLayer() && label.of.set == 0 && moved < 2) {
            auto words = labelWords(label.of);
            words["right-mm"] = moved == 0 ? "20" : "-14";
            words["down-mm"] = moved == 0 ? "-6" : "16";
            words["turn"] = moved == 0 ? "0" : "-12";
            workspace.perform("label-pin", words);
            ++moved;
        }
    workspace.setMember("labels.0.size_pt", "20");
    workspace.setTool(Tool::Label);
    waitUntilIdle(window);
    window.map()->labelling().choose(labels.front().of);
    if (auto* list = window.findChild<QWidget*>("labelsLeftOut"))
        for (QWidget* above = list->parentWidget(); above; above = above->parentWidget())
            if (auto* scroll = qobject_cast<QScrollArea*>(above)) {
                scroll->ensureWidgetVisible(list, 0, 60);
                break;
            }
    take("labels");
    workspace.setTool(Tool::Move);
    while (workspace.session().snapshot() != before) workspace.session().undo();
}
// One that is used by its key does what it does when it comes up again, a tenth of a second later.
bool isButtonDown(const MainWindow& window) {
    const auto buttons = window.findChildren<QAbstractButton*>();
    return std::ranges::any_of(buttons, [](const QAbstractButton* one) { return one->isDown(); });
}
}  // namespace

bool waitUntilIdle(MainWindow& window, int limitMs) {
    QElapsedTimer clock;
    clock.start();
    int quiet = 0;  // rounds in which nothing is under way: the display, too, has answered
    while (clock.elapsed() < limitMs) {
        QApplication::processEvents(QEventLoop::AllEvents, 20);
        Settling::hurryAll();
        quiet = window.isBusy() || isButtonDown(window) ? 0 : quiet + 1;
        if (quiet > 8) return true;
        QThread::msleep(4);
    }
    return false;
}

bool takePictures(MainWindow& window, const QString& folder) {
    QDir().mkpath(folder);
    bool allWritten = true;
    const auto take = [&](const QString& name) {
        waitUntilIdle(window);
        allWritten = window.grab().save(folder + "/" + name + ".png") && allWritten;
    };
    Workspace& workspace = window.workspace();
    const auto& document = workspace.document();
    workspace.selectLayer(layerNamed(document, "Hill paths"));
    workspace.setBench(Bench::Data);
    take("map");
    workspace.selectLayer(layerNamed(document, "Light 315/40"));
    workspace.setBench(Bench::Terrain);
    if (document.views.size() > 1) workspace.showView(document.views[1].id);
    take("terrain");
    workspace.selectLayer(layerNamed(document, "Contours 25 m"));
    take("contours");
    workspace.selectLayer(layerNamed(document, "Height tint"));
    workspace.setBench(Bench::Data);
    waitUntilIdle(window);
    if (auto* part = window.findChild<QWidget*>("deriveFile"))
        for (QWidget* above = part->parentWidget(); above; above = above->parentWidget())
            if (auto* scroll = qobject_cast<QScrollArea*>(above)) {
                scroll->ensureWidgetVisible(part, 0, 24);
                break;
            }
    take("derive");
    workspace.selectLayer(layerNamed(document, "Hill paths"));
    workspace.setBench(Bench::Style);
    take("style");
    if (!document.profiles.empty()) {
        workspace.setTool(Tool::Move);
        window.map()->setFocus();
        workspace.setBench(Bench::Terrain);
        workspace.selectLayer(layerNamed(document, "Light 315/40"));
        window.profileDrawer()->showKept(document.profiles.front().id);
        take("profile");
        window.profileDrawer()->hide();
        window.map()->setProfileLine({});
    }
    const auto alone = [&](const char* name) {
        // Labels keep their places from picture to picture: each is drawn, none by chance.
        waitUntilIdle(window);
        for (const char* other :
             {"Relief of Island DEM", "Contours 25 m", "Crofts", "Land cover", "Aerial picture"})
            if (const auto id = layerNamed(workspace.document(), other)) {
                workspace.perform("layer-visible",
                                  {{"layer", Workspace::target(id)}, {"visible", "no"}});
                waitUntilIdle(window);
            }
        const auto id = layerNamed(workspace.document(), name);
        workspace.perform("layer-visible", {{"layer", Workspace::target(id)}, {"visible", "yes"}});
        workspace.selectLayer(id);
        workspace.setBench(Bench::Style);
    };
    const auto before = workspace.session().snapshot();
    alone("Land cover");
    waitUntilIdle(window);
    if (auto* pick = window.findChild<QLineEdit*>("pickClasses")) pick->setText("share < 10");
    take("classes");
    workspace.showView(document.views.front().id);
    alone("Sheep for each household");
    take("rates");
    while (workspace.session().snapshot() != before) workspace.session().undo();
    workspace.showView(document.views.front().id);
    workspace.selectLayer(layerNamed(document, "Crofts"));
    if (!document.questions.empty()) {
        workspace.setBench(Bench::Ask);
        waitUntilIdle(window);
        window.askBench()->show(document.questions.front());
        if (auto* sum = window.askBench()->findChild<QComboBox*>("askSumOf")) {
            sum->setCurrentText("sheep");
            Q_EMIT sum->activated(sum->currentIndex());
        }
        take("ask");
        if (auto* pick = window.askBench()->findChild<QPushButton*>("askPick")) pick->click();
    }
    workspace.setBench(Bench::Style);
    window.tableDrawer()->open(workspace.selectedLayer());
    waitUntilIdle(window);
    if (auto* compute = window.tableDrawer()->findChild<QPushButton*>("tableCompute")) {
        compute->click();
        auto* panel = window.tableDrawer()->findChild<FormulaPanel*>("formulaPanel");
        panel->findChild<QComboBox*>("formulaName")->setEditText("share");
        panel->formula()->setPlainText("100 * sheep / sum(sheep, township)");
    }
    if (auto* first = window.tableDrawer()->findChild<QToolButton*>("tablePickedFirst"))
        first->setChecked(true);
    take("table");
    window.tableDrawer()->hide();
    const doc::Id crofts = document.layer(workspace.selectedLayer())->source;
    if (const auto some = workspace.picked(crofts); !some.empty()) {
        const doc::MapView wider = workspace.view();
        workspace.pick(crofts, {some.front()});
        window.map()->zoomToPicked(crofts);
        waitUntilIdle(window);
        workspace.setTool(Tool::Draw);
        window.map()->drawing().setMode(DrawMode::Vertices);
        waitUntilIdle(window);
        window.map()->drawing().chooseVertex(1);
        take("draw");
        workspace.setTool(Tool::Move);
        workspace.setView(wider);
    }
    workspace.pick(crofts, {});
    takeLabels(window, take);
    const auto* places = document.layer(layerNamed(document, "Places"));
    workspace.setBench(Bench::Labels);
    workspace.selectLayer(places ? places->id : 0);
    workspace.setTool(Tool::Probe);
    waitUntilIdle(window);
    window.map()->probeAt(window.map()->rect().center() + QPoint(-10, -36));
    take("probe");
    workspace.setTool(Tool::Measure);
    const auto from = window.map()->frame();
    for (const Point share : {Point{0.2, 0.75}, Point{0.35, 0.35}, Point{0.55, 0.7}}) {
        window.map()->measuring().hover(
            from.toMap()({share.x * from.widthPx, share.y * from.heightPx}));
        window.map()->measuring().add();
    }
    window.map()->measuring().finish();
    take("measure");
    workspace.selectLayer(layerNamed(document, "Relief of Island DEM"));
    workspace.setBench(Bench::Style);
    workspace.setTool(Tool::Curtain);
    take("curtain");
    workspace.setTool(Tool::Move);
    workspace.selectLayer(layerNamed(document, "Old survey grid"));
    workspace.setBench(Bench::Data);
    // The picker is a window of its own: it is laid over the picture where it stands.
    if (auto* chip = window.findChild<QPushButton*>("crsChip")) {
        chip->click();
        waitUntilIdle(window);
        if (auto* picker = window.findChild<QWidget*>("crsPicker")) {
            if (auto* search = picker->findChild<QLineEdit*>("crsSearch"))
                search->setText("lcc europe");
            waitUntilIdle(window);
            QPixmap picture = window.grab();
            QPainter(&picture).drawPixmap(window.mapFromGlobal(picker->pos()), picker->grab());
            allWritten = picture.save(folder + "/crs.png") && allWritten;
            picker->close();
        }
    }
    if (!document.sheets.empty()) {
        const doc::Sheet& sheet = document.sheets.back();
        workspace.showSheet(sheet.id);
        workspace.setBench(Bench::Sheet);
        if (const auto* panel = sheet.panel(0)) workspace.selectItem(panel->id);
        take("sheet");
        const QImage wall = sheetWall(workspace.session(), 1700);
        allWritten = !wall.isNull() && wall.save(folder + "/sheets.png") && allWritten;
    }
    return allWritten;
}

}  // namespace ledge::app
