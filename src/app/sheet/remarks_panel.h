#pragma once
#include "app/canvas/latest_worker.h"
#include "app/widgets/form.h"
#include "app/workspace.h"
#include "session/sheet_checks.h"

namespace ledge::app {

/// What a reader of the sheet would stumble over, calmly listed, each with what mends it.
class RemarksPanel : public QWidget {
    Q_OBJECT

public:
    explicit RemarksPanel(Workspace& workspace, QWidget* parent = nullptr);
    /// Looks again, off the interface's thread, where anything changed.
    void look(double dpi);
    const std::vector<session::SheetRemark>& remarks() const { return m_remarks; }
    bool isLooking() const { return m_isLooking; }

Q_SIGNALS:
    void looked();

private:
    void list();

    Workspace& m_workspace;
    QLabel* m_said;
    QVBoxLayout* m_rows;
    std::vector<session::SheetRemark> m_remarks;
    doc::DocumentPtr m_of;
    doc::Id m_sheet = 0;
    double m_dpi = 0;
    bool m_isLooking = false;
    LatestWorker m_worker;
};

}  // namespace ledge::app
