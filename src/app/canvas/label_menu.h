#pragma once
#include <QMenu>

#include "app/canvas/label_tool.h"

namespace ledge::app {

/// What can be done with the chosen label, and with all of its set: the menu of the right button on
/// the map and inside panels of sheets.
class LabelMenu : public QMenu {
    Q_OBJECT

public:
    explicit LabelMenu(LabelTool& tool, QWidget* parent = nullptr);
};

}  // namespace ledge::app
