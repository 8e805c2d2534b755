#pragma once
#include <QWidget>

#include "app/canvas/latest_worker.h"
#include "app/sheet/page_guides.h"
#include "app/workspace.h"
#include "carto/sheet/series_pages.h"
#include "carto/sheet_painter.h"

namespace ledge::app {

/// A page as it will be printed, between rulers. Items are chosen, moved and resized by mouse and
/// keys, several at once; inside a map panel the map itself is moved, zoomed and turned.
class SheetCanvas : public QWidget {
    Q_OBJECT

public:
    explicit SheetCanvas(Workspace& workspace, QWidget* parent = nullptr);
    bool isDrawing() const { return m_isStale; }
    /// A position on the page, in widget pixels.
    QPointF toWidget(QPointF mm) const;
    /// Where the ruler along the top or the left side is, for dragging a guide out of it.
    static constexpr int kRulerPx = 18;

Q_SIGNALS:
    void drawn();
    /// The place beneath the pointer, in words.
    void hovered(const QString& said);

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void showEvent(QShowEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

private:
    enum class Drag : std::uint8_t {
        Nothing,
        Items,
        Content,
        Page,
        Rubber,
        GuideAcross,
        GuideDown
    };

    void redraw();
    double pxPerMm() const;
    QPointF pageOrigin() const;
    QPointF toPage(QPointF widget) const;
    const doc::SheetItem* hit(QPointF mm) const;
    bool isSelected(doc::Id id) const;
    void pressItem(const doc::SheetItem* item, bool extends);
    void startMoving(QPointF mm, const Grip& grip);
    void moveItems(QPointF mm, bool isFree);
    void look(const doc::MapPanel& panel, const QString& mergeKey);
    void moveContent(QPointF mm);
    void zoomContent(double factor, QPointF mm);
    void turnContent(double degrees);
    void chooseWithin(const QRectF& mm);
    bool pressGuide(QPointF widget);
    void dropGuide(QPointF widget);
    void nudge(double rightMm, double downMm);
    bool itemKey(QKeyEvent* event);
    bool contentKey(QKeyEvent* event);
    void stepItem(int by);
    void paintRulers(QPainter& painter, const doc::Sheet& sheet) const;
    void paintGuides(QPainter& painter, const doc::Sheet& sheet, const QRectF& page) const;
    void paintSelection(QPainter& painter, const doc::Sheet& sheet) const;
    QRectF boxOf(const doc::PageRect& rect) const;
    /// The item as it is shown: on another page of a series panels look elsewhere.
    void noteHover(QPointF mm);

    Workspace& m_workspace;
    std::shared_ptr<std::map<doc::Id, carto::MapRenderer>> m_renderers;
    QImage m_page;
    doc::Id m_pageOf = 0;
    double m_zoom = 1;
    QPointF m_shift;
    int m_generation = 0;
    bool m_isStale = false;
    Drag m_drag = Drag::Nothing;
    Grip m_grip;
    QPointF m_pressedAt, m_lastAt;
    std::vector<std::pair<doc::Id, doc::PageRect>> m_moved;  ///< rectangles when pressed
    Snap m_snap;
    QRectF m_rubber;
    std::size_t m_guide = SIZE_MAX;  ///< that is dragged; none: a new one
    double m_guideAt = 0;
    LatestWorker m_worker;
};

}  // namespace ledge::app
