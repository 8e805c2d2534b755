#pragma once
#include <QMenu>

#include "app/workspace.h"

namespace ledge::app {

/// What can be done with the selected items of the sheet: one list for the page's context menu and
/// the bench.
class ItemMenu : public QMenu {
    Q_OBJECT

public:
    explicit ItemMenu(Workspace& workspace, QWidget* parent = nullptr);
};

/// Items that can be added, one of each kind.
class AddMenu : public QMenu {
    Q_OBJECT

public:
    explicit AddMenu(Workspace& workspace, QWidget* parent = nullptr);

private:
    void offer(const QString& name, const char* kind, const char* rect, doc::EditWords more = {});
    Workspace& m_workspace;
};

/// The selected items on the clipboard, and those there on the sheet, a little aside where they
/// lie already.
void copyItems(Workspace& workspace);
void cutItems(Workspace& workspace);
void pasteItems(Workspace& workspace);
void doubleItems(Workspace& workspace);
/// The selected items to "front" or "back", or one step "forward" or "backward".
void orderSelected(Workspace& workspace, const std::string& to);
/// An item of a kind, on top, with a name that is free, selected.
bool addItem(Workspace& workspace, const QString& name, const char* kind, const std::string& rect,
             doc::EditWords more = {});

}  // namespace ledge::app
