#pragma once
#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include "app/canvas/latest_worker.h"
#include "app/canvas/measure_overlay.h"
#include "app/workspace.h"
#include "carto/profile_chart.h"
#include "session/profiles.h"

namespace ledge::app {

/// The chart itself: hovering marks a place, dragging nothing.
class ProfileView : public QWidget {
    Q_OBJECT

public:
    explicit ProfileView(QWidget* parent = nullptr);
    void setChart(carto::ProfileChart chart);
    void setMarked(double distance);
    const carto::ProfileChart& chart() const { return m_chart; }

Q_SIGNALS:
    /// NaN when the pointer left.
    void hovered(double distance);

protected:
    void paintEvent(QPaintEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void leaveEvent(QEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

private:
    carto::ProfileChart m_chart;
};

/// The drawer between canvas and ledge: a profile along the drawn path or a kept one, with what it
/// amounts to, kept as a card and written to files.
class ProfileDrawer : public QFrame {
    Q_OBJECT

public:
    ProfileDrawer(Workspace& workspace, MeasureOverlay& path, QWidget* parent = nullptr);

    /// Opens a kept profile.
    void showKept(doc::Id id);
    /// Runs along a line given in the map's CRS.
    void showAlong(const std::vector<Point>& line, const QString& name = {});
    /// The profile shown goes on along another line, turned so that its nearer end comes first;
    /// a new profile when none is shown. Returns the whole line.
    std::vector<Point> showAlso(std::vector<Point> line);
    /// The place on the map under the pointer, in the map's CRS.
    void markNear(Point at);
    const std::vector<session::ProfileRun>& runs() const { return m_runs; }

Q_SIGNALS:
    /// The place that the chart's marker stands for, in the map's CRS; not finite for none.
    void marked(const Point& at);
    /// The line shown, in the map's CRS.
    void lineShown(const std::vector<Point>& line);

private:
    void run(doc::SavedProfile profile);
    void show(std::vector<session::ProfileRun> runs);
    void keep();
    void write();
    void refreshFacts(double distance);
    /// Marks a place of the line, in the chart and on the map, which goes there.
    void markAt(double distance);
    Point toMap(Point at) const;

    Workspace& m_workspace;
    MeasureOverlay& m_path;
    ProfileView* m_chart;
    QLineEdit* m_name;
    QLabel* m_facts;
    QLabel* m_hint;
    QPushButton* m_keep;
    QPushButton* m_write;
    doc::SavedProfile m_profile;
    std::vector<session::ProfileRun> m_runs;
    LatestWorker m_worker;
};

}  // namespace ledge::app
