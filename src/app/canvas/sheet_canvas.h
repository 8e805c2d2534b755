#pragma once
#include <QWidget>

#include "app/canvas/latest_worker.h"
#include "app/workspace.h"
#include "carto/sheet_painter.h"

namespace ledge::app {

/// Which part of an item a position touches: inside, or a handle given by the sides it moves.
struct Grip {
    bool isInside = false;
    int horizontal = 0, vertical = 0;  ///< -1 left or top, 1 right or bottom
    bool isHandle() const { return horizontal != 0 || vertical != 0; }
};
Grip gripAt(const doc::PageRect& rect, QPointF mm, double reachMm);

/// A rectangle after dragging a grip, its edges drawn to guides that are near.
doc::PageRect dragged(const doc::PageRect& rect, const Grip& grip, QPointF byMm,
                      double leastMm = 4);
doc::PageRect snapped(doc::PageRect rect, const Grip& grip, const doc::Sheet& sheet, doc::Id item,
                      double reachMm);

/// A page as it will be printed; items are moved and resized by mouse and arrow keys.
class SheetCanvas : public QWidget {
    Q_OBJECT

public:
    explicit SheetCanvas(Workspace& workspace, QWidget* parent = nullptr);
    bool isDrawing() const { return m_isStale; }
    /// A position on the page, in widget pixels.
    QPointF toWidget(QPointF mm) const;

Q_SIGNALS:
    void drawn();

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void showEvent(QShowEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

private:
    void place(const doc::PageRect& rect);
    void redraw();
    double pxPerMm() const;
    QPointF pageOrigin() const;
    QPointF toPage(QPointF widget) const;

    Workspace& m_workspace;
    std::shared_ptr<std::map<doc::Id, carto::MapRenderer>> m_renderers;
    QImage m_page;
    doc::Id m_pageOf = 0;
    double m_zoom = 1;
    QPointF m_shift;
    int m_generation = 0;
    bool m_isStale = false;
    Grip m_grip;
    QPointF m_pressedAt;
    doc::PageRect m_rectAtPress;
    LatestWorker m_worker;
};

}  // namespace ledge::app
