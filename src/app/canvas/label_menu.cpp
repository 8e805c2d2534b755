#include "app/canvas/label_menu.h"

#include <QColorDialog>

namespace ledge::app {

LabelMenu::LabelMenu(LabelTool& tool, QWidget* parent) : QMenu(parent) {
    const carto::MapLabel* label = tool.chosen();
    if (!label) return;
    const carto::LabelOf of = label->of;
    for (LabelTool::Act& one : tool.acts()) {
        QAction* action = addAction(one.name, this, std::move(one.act));
        // Shown only: the canvas has the key.
        action->setShortcut(QKeySequence(one.key));
        action->setShortcutContext(Qt::WidgetShortcut);
        action->setShortcutVisibleInContextMenu(true);
    }
    addAction(tr("Colour…"), this, [&tool, parent] {
        const QColor chosen = QColorDialog::getColor({}, parent, tr("Colour of this label"),
                                                     QColorDialog::ShowAlphaChannel |
                                                         QColorDialog::DontUseNativeDialog);
        if (chosen.isValid())
            tool.setColour(Colour{std::uint8_t(chosen.red()), std::uint8_t(chosen.green()),
                                  std::uint8_t(chosen.blue()), std::uint8_t(chosen.alpha())});
    });
    addAction(tr("The colour of its set"), this, [&tool] { tool.setColour({}); });
    addSeparator();
    addAction(tr("Hold all that are shown"), this, [&tool, of] { tool.pinAll(of.layer, of.set); });
    addAction(tr("Let all go"), this, [&tool, of] { tool.unpinAll(of.layer, of.set); });
}

}  // namespace ledge::app
