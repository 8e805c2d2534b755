#pragma once
#include <QMenu>

#include "app/workspace.h"

namespace ledge::app {

/// What can be done with the strips selected together; `rename` starts renaming the current one.
void fillStripMenu(QMenu& menu, Workspace& workspace, const std::function<void()>& rename);

/// Puts the selected strips into a group of their own; they stay selected.
void groupSelected(Workspace& workspace);
/// Takes the selected strips away; what stands in their place afterwards is selected.
void removeSelected(Workspace& workspace);
/// Curtain and blink between the two strips that are selected.
void compareSelected(Workspace& workspace);

}  // namespace ledge::app
