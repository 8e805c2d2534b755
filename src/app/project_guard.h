#pragma once
#include <QObject>

#include "session/session.h"

class QMenu;

namespace ledge::app {
class Workspace;

/// Sees to it that no project is lost: saving, leaving, what others saved meanwhile, and what an
/// earlier run left unsaved.
class ProjectGuard : public QObject {
    Q_OBJECT

public:
    ProjectGuard(Workspace& workspace, QWidget* window);

    /// Whether it is saved now.
    bool save();
    bool saveAs();
    /// Whether the project may be left: nothing is unsaved, or it was said what is to become of it.
    bool mayLeave();
    /// Offers what an earlier run left unsaved. Does nothing when there is none.
    void offerRecovery();
    /// Fills a menu with every autosaved copy, those of before a save too.
    void fillCopies(QMenu& menu);

private:
    session::Session& session() const;
    bool tellSaved(const Result<void>& done);
    bool settleConflict();
    void offerCopy(const session::RecoveryStore::Found& found);

    Workspace& m_workspace;
    QWidget* m_window;
};

}  // namespace ledge::app
