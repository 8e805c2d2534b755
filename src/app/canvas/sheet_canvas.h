#pragma once
#include <QWidget>

#include "app/canvas/label_tool.h"
#include "app/canvas/latest_worker.h"
#include "app/sheet/corner_tool.h"
#include "app/sheet/page_guides.h"
#include "app/sheet/page_rulers.h"
#include "app/sheet/shape_drawing.h"
#include "app/workspace.h"
#include "carto/sheet/series_pages.h"
#include "carto/sheet_painter.h"

namespace ledge::app {

/// A page as it will be printed, between rulers. Items are chosen, moved, resized and turned by
/// mouse and keys, several at once; inside a map panel the map itself is moved, zoomed and turned,
/// and its labels are placed.
class SheetCanvas : public QWidget {
    Q_OBJECT

public:
    explicit SheetCanvas(Workspace& workspace, QWidget* parent = nullptr);
    bool isDrawing() const { return m_isStale; }
    /// A position on the page, in widget pixels.
    QPointF toWidget(QPointF mm) const { return pageView().toWidget(mm); }
    /// The grip that turns the selected item, in widget pixels.
    QPointF turnGrip(const doc::SheetItem& item) const;
    /// Labels of the panel whose content is moved.
    LabelTool& labelling() { return m_labelling; }
    /// A place of the frame that the panel's labels stand on, in widget pixels.
    QPointF fromPanel(doc::Id panel, Point framePx) const;

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
        Turn,
        Corner,
        Label,
        Content,
        Page,
        Rubber,
        GuideAcross,
        GuideDown
    };

    /// What a panel of the page on the canvas shows: its labels, and where its frame lies.
    struct ShownPanel {
        carto::MapReport report;
        carto::MapFrame frame;
        QTransform toPage;  ///< pixels of the frame to millimetres
    };

    void redraw();
    PageView pageView() const;
    double pxPerMm() const { return pageView().pxPerMm; }
    QPointF toPage(QPointF widget) const { return pageView().toPage(widget); }
    const doc::SheetItem* hit(QPointF mm) const;
    bool isSelected(doc::Id id) const;
    void pressItem(const doc::SheetItem* item, bool extends);
    void startMoving(QPointF mm, const Grip& grip);
    void moveItems(QPointF mm, bool isFree);
    void turnItem(QPointF mm, bool isFree);
    const ShownPanel* labelledPanel() const;
    void followPanel();
    bool pressLabel(QPointF mm);
    void paintLabels(QPainter& painter) const;
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
    void paintGuides(QPainter& painter, const doc::Sheet& sheet, const QRectF& page) const;
    void paintSelection(QPainter& painter, const doc::Sheet& sheet) const;
    QRectF boxOf(const doc::PageRect& rect) const { return pageView().boxOf(rect); }
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
    CornerTool m_corners;
    ShapeDrawing m_drawing;
    LabelTool m_labelling;
    std::map<doc::Id, ShownPanel> m_panels;
    LatestWorker m_worker;
};

}  // namespace ledge::app
