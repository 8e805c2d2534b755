#include "app/picture_tour.h"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QThread>

#include "app/main_window.h"

namespace ledge::app {
namespace {
doc::Id layerNamed(const doc::Document& document, const char* name) {
    for (const auto& layer : doc::allLayers(document.layers))
        if (layer->name == name) return layer->id;
    return 0;
}
}  // namespace

bool waitUntilIdle(MainWindow& window, int limitMs) {
    QElapsedTimer clock;
    clock.start();
    int quiet = 0;
    while (clock.elapsed() < limitMs) {
        QApplication::processEvents(QEventLoop::AllEvents, 20);
        quiet = window.isBusy() ? 0 : quiet + 1;
        if (quiet > 30) return true;
        QThread::msleep(10);
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
    workspace.selectLayer(layerNamed(document, "Hill paths"));
    workspace.setBench(Bench::Style);
    take("style");
    const auto* places = document.layer(layerNamed(document, "Places"));
    workspace.setBench(Bench::Labels);
    workspace.selectLayer(places ? places->id : 0);
    workspace.setTool(Tool::Probe);
    waitUntilIdle(window);
    window.map()->probeAt(window.map()->rect().center() + QPoint(-10, -36));
    take("probe");
    workspace.setTool(Tool::Move);
    if (!document.sheets.empty()) {
        const auto& sheet = document.sheets.front();
        workspace.showSheet(sheet.id);
        workspace.setBench(Bench::Sheet);
        if (const auto* panel = sheet.panel(0)) workspace.selectItem(panel->id);
        take("sheet");
    }
    return allWritten;
}

}  // namespace ledge::app
