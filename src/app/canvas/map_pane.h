#pragma once
#include <QElapsedTimer>
#include <QWidget>

#include "app/canvas/draw_tool.h"
#include "app/canvas/fading_labels.h"
#include "app/canvas/label_tool.h"
#include "app/canvas/latest_worker.h"
#include "app/canvas/measure_overlay.h"
#include "app/canvas/pick_tool.h"
#include "app/canvas/picked_overlay.h"
#include "app/canvas/shown_layers.h"
#include "app/settling.h"
#include "app/workspace.h"
#include "carto/map_renderer.h"
#include "core/symbol/colour_vision.h"
#include "session/probe.h"

namespace ledge::app {

/// The map: drawn by a worker in tiles, shown at once wherever it is panned or zoomed to, redrawn
/// sharp when the worker is done; its labels come after it. Beneath lies a coarse picture of the
/// country around, so that something true is shown wherever the map is moved.
class MapPane : public QWidget {
    Q_OBJECT

public:
    explicit MapPane(Workspace& workspace, QWidget* parent = nullptr);
    ~MapPane() override;

    /// The frame in device pixels.
    carto::MapFrame frame() const;
    const carto::MapReport& report() const { return m_report; }
    /// The coarse picture around the map, for tests.
    const carto::MapFrame& countryFrame() const { return m_countryFrame; }
    bool hasCountry() const { return !m_country.isNull(); }
    /// True while what is shown is older than the document or the view, or labels fade.
    bool isDrawing() const {
        return m_isStale || m_labels.isFading() || m_fitWorker.isBusy() || m_behindWorker.isBusy();
    }
    void zoomTo(doc::Id layer);
    /// Shows what is picked of a source.
    void zoomToPicked(doc::Id source);
    PickedOverlay& picked() { return m_picked; }
    void zoomBy(double factor);
    void probeAt(QPoint position);
    /// Whether only the selected layer is probed; the last spot is read again.
    void setProbesOnlySelected(bool isOnly);
    /// Shows the outline of what was probed; of a raster, which has none, only what it says.
    void flash(const session::ProbeHit& hit);
    MeasureOverlay& measuring() { return m_measuring; }
    DrawTool& drawing() { return m_drawing; }
    PickTool& picking() { return m_picking; }
    LabelTool& labelling() { return m_labelling; }
    /// The frame of the picture that is shown.
    const carto::MapFrame& imageFrame() const { return m_imageFrame; }
    /// The map as somebody else sees it, or as grey print shows it; nothing of the project.
    void setVision(Vision vision);
    Vision vision() const { return m_vision; }
    /// Brings a place to the middle, given in pixels of the picture shown.
    void lookAtSpot(const Point& anchor);
    /// Whether clicks make a path of points, which is drawn as it is measured.
    bool drawsPath() const;
    /// The path is whole: what the tool makes of it is done.
    void finishPath(Qt::KeyboardModifiers how = {});
    /// The divider of the curtain as a share of the width; left of it the map with the selected
    /// layer, right of it without, or with the layer it is compared with instead.
    double curtain() const { return m_curtain; }
    void setCurtain(double share);
    /// The line of the profile shown and the place marked on it, in the map's CRS.
    void setProfileLine(std::vector<Point> line);
    void setProfileMark(Point at);
    /// While on, the map shows what is behind the selected layer: the hold-to-blink key.
    void setBlinking(bool isOn);
    /// What stands over the map at its top ends there.
    void setTopRoom(int px);

Q_SIGNALS:
    /// The map position under the pointer; not finite when it left.
    void hovered(const Point& at);
    void probed(const Point& at, const std::vector<session::ProbeHit>& hits);
    void drawn();
    /// A line feature was clicked for a profile along it: its first part and what it is called.
    void lineTaken(const std::vector<Point>& line, const QString& name);

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void leaveEvent(QEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void keyReleaseEvent(QKeyEvent*) override;

private:
    enum class Pace : std::uint8_t { AtOnce, Following };
    void redraw() { redraw(Pace::AtOnce); }
    void redraw(Pace pace);
    void drawCountry();
    void showLabels(carto::LabelPictures pictures, const carto::MapFrame& frame,
                    const carto::MapReport& report, int generation);
    QCursor toolCursor() const;
    void measureAt(QPoint position, bool isClick);
    void readAt(QPoint position,
                std::function<void(Point, const std::vector<session::ProbeHit>&)> use);
    void takeLineAt(QPoint position);
    void pickIn(QRect rubber, Qt::KeyboardModifiers how);
    Point mapAt(QPointF position) const;
    Point pixelOf(QPointF position) const;
    double mapReach(int px) const;
    bool handleVertexKey(const QKeyEvent& event);
    void lookAt(const Box& box);
    bool hasCurtain() const { return m_workspace.tool() == Tool::Curtain; }
    void redrawBehindCurtain();
    void paintPicture(QPainter& painter, const QImage& image, const carto::MapFrame& imageFrame);
    void paintCountry(QPainter& painter);
    void paintCurtain(QPainter& painter);
    void paintNotices(QPainter& painter, const carto::MapFrame& now);
    struct Compared;
    Compared compared() const;
    std::vector<doc::LayerPtr> shownLayers(const doc::Document& document, Side side) const;

    Workspace& m_workspace;
    std::shared_ptr<carto::MapRenderer> m_renderer;
    QImage m_image;
    carto::MapFrame m_imageFrame;
    FadingLabels m_labels;
    carto::MapReport m_report;
    QImage m_country;  ///< what lies around, coarse
    carto::MapFrame m_countryFrame;
    std::vector<doc::LayerPtr> m_countryLayers;
    Settling m_countryLater{150};  ///< ms
    int m_generation = 0;
    int m_shownGeneration = 0;
    bool m_isStale = false;
    QPoint m_pressedAt;
    QRect m_rubber;  ///< being dragged to pick what lies in it; empty: none
    PickedOverlay m_picked;
    bool m_isPanning = false;
    bool m_isDoubled = false;   ///< the button is down for the second time
    bool m_isWheeling = false;  ///< turns of the wheel that follow each other are one step back
    doc::MapView m_viewAtPress;
    session::ProbeHit m_flashed;  ///< the one whose outline is shown; without one: none
    Settling m_wheelEnd{120};     ///< ms after the last step of the wheel
    bool m_isBlinking = false;
    Vision m_vision = Vision::Usual;
    bool m_probesOnlySelected = false;
    std::optional<QPoint> m_probedAt;
    MeasureOverlay m_measuring;
    DrawTool m_drawing;
    PickTool m_picking;
    LabelTool m_labelling;
    std::vector<Point> m_profileLine;
    Point m_profileMark = kNowhere;
    double m_curtain = 0.5;
    int m_topRoom = 56;
    std::shared_ptr<carto::MapRenderer> m_behindRenderer;
    QImage m_behind;  ///< the map without the selected layer
    carto::MapFrame m_behindFrame;
    std::shared_ptr<carto::MapRenderer> m_countryRenderer;
    LatestWorker m_countryWorker;
    LatestWorker m_behindWorker;
    LatestWorker m_snapWorker;
    LatestWorker m_probeWorker;
    LatestWorker m_fitWorker;
    LatestWorker m_worker;  // last: ends before what it draws with
};

}  // namespace ledge::app
