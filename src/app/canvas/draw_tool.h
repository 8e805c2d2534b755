#pragma once
#include <QObject>
#include <QPainter>

#include "app/canvas/latest_worker.h"
#include "app/canvas/measure_overlay.h"
#include "app/workspace.h"
#include "core/geometry/shaping.h"
#include "session/shaping.h"

namespace ledge::app {

/// What is done by hand on the map: features drawn, or the shape of the picked one changed.
enum class DrawMode : std::uint8_t { Point, Line, Area, Vertices, Cut, Hole, Part };
inline constexpr int kDrawModes = 7;

/// Features of the selected layer made and changed by hand. Paths are drawn as they are measured;
/// each change is one undoable edit of the layer's table, which stays unsaved until it is written.
class DrawTool : public QObject {
    Q_OBJECT

public:
    DrawTool(Workspace& workspace, MeasureOverlay& path, QObject* parent = nullptr);

    DrawMode mode() const { return m_mode; }
    void setMode(DrawMode mode);
    /// Whether clicks make a path; else they are for vertices.
    bool drawsPath() const { return m_mode != DrawMode::Vertices; }
    /// The selected layer's source where its features can be changed, and why not.
    const doc::SourceRef* target(QString* why = nullptr) const;
    GeometryType targetType() const;

    /// A click added a point to the path: a point that is drawn is whole at once.
    void pathGrew();
    /// The path is whole: what the mode makes of it is done.
    void finish();
    /// A length and bearing from the last point, or a position, as it was typed; why not.
    std::optional<QString> addTyped(const QString& typed);

    /// The feature whose vertices are shown; empty when none or several are picked.
    const session::ShapeInHand& shape() const { return m_shape; }
    std::optional<std::size_t> vertex() const { return m_vertex; }
    /// That feature while its vertices are moved: they do not snap to its own sides.
    std::optional<session::InHand> inHand() const;
    /// Places on the map. Whether the press is for the shape in hand.
    bool press(Point at, double reach);
    void drag(Point at);
    void release();
    /// By the keyboard: another vertex, a step of it, one more behind it, it away.
    void chooseVertex(int by);
    void moveVertexTo(Point onMap);
    void addVertexBehind();
    void removeVertex();
    void removePart();
    void merge();
    void partAway();

    void paint(QPainter& painter, const carto::MapFrame& frame) const;
    bool isWorking() const { return m_worker.isBusy() || m_shapeWorker.isBusy(); }

Q_SIGNALS:
    void changed();

private:
    void follow();
    bool makesPoints() const;
    void
    makeEdits(const QString& what,
              std::function<Result<std::string>(const doc::SourceRef&, const session::SourceCache&,
                                                const crs::CrsPtr&, const Progress&)>
                  make);
    void setShape(const QString& what, const std::optional<Geometry>& own);
    void perform(doc::Id source, const QString& what, const std::string& edits);
    std::vector<FeatureKey> pickedKeys() const;

    Workspace& m_workspace;
    MeasureOverlay& m_path;
    DrawMode m_mode = DrawMode::Area;
    session::ShapeInHand m_shape;
    std::optional<std::size_t> m_vertex;  ///< chosen
    std::optional<Touched> m_grabbed;
    std::optional<Point> m_dragged;  ///< where the grabbed one is now
    LatestWorker m_shapeWorker;
    LatestWorker m_worker;
};

}  // namespace ledge::app
