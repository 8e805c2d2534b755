#include "app/stack/strip_menu.h"

#include <QApplication>
#include <QClipboard>
#include <QCoreApplication>
#include <QFileDialog>
#include <QMimeData>
#include <algorithm>
#include <set>

#include "app/canvas/shown_layers.h"
#include "app/stack/stack_rows.h"
#include "carto/qtext.h"
#include "document/json/members.h"
#include "document/json/style_text.h"
#include "session/aside.h"
#include "session/style_files.h"

namespace ledge::app {
namespace {
// More names than this are searched, not read; they are compared by selecting two.
constexpr std::size_t kMostCompared = 40;

struct MenuWords {
    Q_DECLARE_TR_FUNCTIONS(StripMenu)
};

void compare(Workspace& workspace, doc::Id with) {
    workspace.compareWith(with);
    workspace.say(MenuWords::tr("Hold B on the map to blink, Alt+C for the curtain, Esc to end"));
}

void addBlend(QMenu& menu, Workspace& workspace, const doc::Layer& layer) {
    QMenu* blend = menu.addMenu(MenuWords::tr("Blend mode"));
    const QStringList names{MenuWords::tr("Normal"), MenuWords::tr("Multiply"), MenuWords::tr("Screen"),
                            MenuWords::tr("Overlay"), MenuWords::tr("Soft light")};
    for (int i = 0; i < names.size(); ++i) {
        QAction* action = blend->addAction(names[i], &workspace, [&workspace, i] {
            workspace.performOnLayer(
                "layer-blend",
                {{"mode", std::string(doc::blendNames()[static_cast<std::size_t>(i)])}});
        });
        action->setCheckable(true);
        action->setChecked(static_cast<int>(layer.blend) == i);
    }
    blend->setEnabled(!layer.isGroup());
}

// Each label set is switched by itself.
void addLabels(QMenu& menu, Workspace& workspace, const doc::Layer& layer) {
    const auto* vector = layer.as<doc::VectorLayer>();
    if (!vector) return;
    QMenu* sets = menu.addMenu(MenuWords::tr("Labels"));
    for (std::size_t i = 0; i < vector->labels.size(); ++i) {
        const doc::LabelStyle& labels = vector->labels[i];
        QAction* action = sets->addAction(
            labels.name.empty() ? MenuWords::tr("Labels") : qtext(labels.name), &workspace,
            [&workspace, i, isOn = labels.isOn] {
                workspace.setMember("labels." + std::to_string(i) + ".on", doc::word(!isOn));
            });
        action->setCheckable(true);
        action->setChecked(labels.isOn);
        action->setEnabled(!labels.text.empty());
    }
}

constexpr const char* kStyleType = "application/x-indigo-ledge-style";

void sayLosses(Workspace& workspace, const QString& done, const std::vector<std::string>& losses) {
    QStringList said{done};
    for (const std::string& loss : losses) said << qtext(loss);
    workspace.say(said.size() > 1 ? said.join(MenuWords::tr("; not held: ")) : done);
}

void pasteStyle(Workspace& workspace) {
    const QMimeData* held = QGuiApplication::clipboard()->mimeData();
    if (!held || !held->hasFormat(kStyleType))
        return workspace.say(MenuWords::tr("There is no style to paste; copy one from a strip"), true);
    workspace.performOnLayer("layer-style", {{"style", held->data(kStyleType).toStdString()}});
}

void saveStyle(Workspace& workspace, const doc::Layer& layer) {
    const QString path = QFileDialog::getSaveFileName(
        QApplication::activeWindow(), MenuWords::tr("Save style"), qtext(layer.name) + ".ledgestyle",
        layer.as<doc::VectorLayer>() ? MenuWords::tr("Styles (*.ledgestyle);;OGC SLD (*.sld)")
                                     : MenuWords::tr("Styles (*.ledgestyle)"),
        nullptr, QFileDialog::DontUseNativeDialog);
    if (path.isEmpty()) return;
    const auto losses =
        session::aside([&] { return session::writeStyle(layer, path.toStdString()); });
    if (!losses) return workspace.say(qtext(losses.error().text()), true);
    sayLosses(workspace, MenuWords::tr("Wrote %1").arg(path), *losses);
}

void loadStyle(Workspace& workspace, const doc::Layer& layer) {
    const QString path =
        QFileDialog::getOpenFileName(QApplication::activeWindow(), MenuWords::tr("Load style"), {},
                                     MenuWords::tr("Styles (*.ledgestyle *.sld);;All files (*)"),
                                     nullptr, QFileDialog::DontUseNativeDialog);
    if (path.isEmpty()) return;
    const auto read = session::aside([&] { return session::readStyle(path.toStdString(), layer); });
    if (!read) return workspace.say(qtext(read.error().text()), true);
    if (workspace.performOnLayer("layer-style", {{"style", read->text}}))
        sayLosses(workspace, MenuWords::tr("Style of %1").arg(path), read->losses);
}

void addStyles(QMenu& menu, Workspace& workspace, const doc::Layer& layer) {
    if (layer.isGroup()) return;
    QMenu* styles = menu.addMenu(MenuWords::tr("Style"));
    styles->addAction(MenuWords::tr("Copy style"), &workspace, [&workspace] {
        const doc::Layer* now = workspace.layer();
        if (!now) return;
        auto* data = new QMimeData;
        data->setData(kStyleType, QByteArray::fromStdString(doc::styleFileText(*now)));
        QGuiApplication::clipboard()->setMimeData(data);
        workspace.say(MenuWords::tr("Copied the style of %1").arg(qtext(now->name)));
    });
    styles->addAction(MenuWords::tr("Paste style"), &workspace,
                      [&workspace] { pasteStyle(workspace); });
    styles->addAction(MenuWords::tr("Save style…"), &workspace, [&workspace] {
        if (const doc::Layer* now = workspace.layer()) saveStyle(workspace, doc::Layer(*now));
    });
    styles->addAction(MenuWords::tr("Load style…"), &workspace, [&workspace] {
        if (const doc::Layer* now = workspace.layer()) loadStyle(workspace, doc::Layer(*now));
    });
}

// Any two strips or groups can be compared by curtain and blink.
void addComparison(QMenu& menu, Workspace& workspace) {
    if (workspace.selectedLayers().size() == 2) {
        const auto& both = workspace.selectedLayers();
        menu.addAction(MenuWords::tr("Compare"), &workspace,
                       [&workspace] { compareSelected(workspace); })
            ->setEnabled(canCompare(workspace.document(), both[0], both[1]));
    } else {
        QMenu* with = menu.addMenu(MenuWords::tr("Compare with"));
        const auto all = doc::allLayers(workspace.document().layers);
        const doc::Id own = workspace.selectedLayer();
        for (std::size_t i = 0; i < all.size() && all.size() <= kMostCompared; ++i) {
            const doc::Id other = all[i]->id;
            if (!canCompare(workspace.document(), own, other)) continue;
            QAction* action = with->addAction(qtext(all[i]->name), &workspace,
                                              [&workspace, other] { compare(workspace, other); });
            action->setCheckable(true);
            action->setChecked(other == workspace.comparedLayer());
        }
        with->setEnabled(!with->isEmpty());
    }
    if (workspace.comparedLayer() != 0)
        menu.addAction(MenuWords::tr("End comparing"), &workspace,
                       [&workspace] { workspace.compareWith(0); });
}
}  // namespace

void compareSelected(Workspace& workspace) {
    const auto both = workspace.selectedLayers();
    if (both.size() != 2 || !canCompare(workspace.document(), both[0], both[1])) return;
    compare(workspace, both[0] == workspace.selectedLayer() ? both[1] : both[0]);
    workspace.setTool(Tool::Curtain);
}

void groupSelected(Workspace& workspace) {
    workspace.performOnSelected("layer-group", {{"name", MenuWords::tr("Group").toStdString()}});
}

void removeSelected(Workspace& workspace) {
    const auto strips = visibleStrips(workspace.document().layers);
    const std::set<doc::Id> gone(workspace.selectedLayers().begin(),
                                 workspace.selectedLayers().end());
    // The next one below that stays; without any, the last above.
    std::vector<doc::Id> candidates;
    const auto current = std::find_if(strips.begin(), strips.end(), [&](const auto& one) {
        return one.first == workspace.selectedLayer();
    });
    for (auto it = current; it != strips.end(); ++it) candidates.push_back(it->first);
    for (auto it = current; it != strips.begin();) candidates.push_back((--it)->first);
    if (!workspace.performOnSelected("layers-remove", {})) return;
    for (const doc::Id one : candidates)
        if (!gone.contains(one) && workspace.document().layer(one))
            return workspace.selectLayer(one);
}

void fillStripMenu(QMenu& menu, Workspace& workspace, const std::function<void()>& rename) {
    const doc::Layer* layer = workspace.layer();
    if (!layer) return;
    const bool isOne = workspace.selectedLayers().size() == 1;
    menu.addAction(MenuWords::tr("Show all of it"), &workspace,
                   [&workspace] { Q_EMIT workspace.fitAsked(workspace.selectedLayer()); });
    if (isOne && layer->as<doc::VectorLayer>())
        menu.addAction(MenuWords::tr("Attribute table\tAlt+T"), &workspace,
                       [&workspace] { Q_EMIT workspace.tableAsked(workspace.selectedLayer()); });
    if (isOne) {
        menu.addAction(MenuWords::tr("Rename…\tF2"), &workspace, rename);
        addBlend(menu, workspace, *layer);
    } else {
        for (const bool isLit : {true, false})
            menu.addAction(isLit ? MenuWords::tr("Light") : MenuWords::tr("Put out"), &workspace,
                           [&workspace, isLit] {
                               workspace.performOnSelected("layers-visible",
                                                           {{"visible", isLit ? "yes" : "no"}});
                           });
    }
    if (isOne) addLabels(menu, workspace, *layer);
    if (isOne) addStyles(menu, workspace, *layer);
    menu.addAction(MenuWords::tr("Put into a new group\tCtrl+G"), &workspace,
                   [&workspace] { groupSelected(workspace); });
    addComparison(menu, workspace);
    menu.addSeparator();
    menu.addAction(MenuWords::tr("Remove\tDelete"), &workspace,
                   [&workspace] { removeSelected(workspace); });
}

}  // namespace ledge::app
