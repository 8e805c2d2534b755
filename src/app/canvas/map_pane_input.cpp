#include <QContextMenuEvent>
#include <QMouseEvent>

#include "app/canvas/label_menu.h"
#include "app/canvas/map_pane.h"
#include "core/globe/around.h"
#include "session/picking.h"

/// Mouse, wheel and keyboard of the map, and what its tools read where they are used.
namespace ledge::app {
namespace {
constexpr double kWheelFactor = 1.2;
constexpr int kProbeReachPx = 5;
constexpr int kSnapReachPx = 10;
}  // namespace

Point MapPane::mapAt(QPointF position) const {
    const double ratio = devicePixelRatioF();
    return frame().toMap()({position.x() * ratio, position.y() * ratio});
}

Point MapPane::pixelOf(QPointF position) const {
    const double ratio = devicePixelRatioF();
    return {position.x() * ratio, position.y() * ratio};
}

double MapPane::mapReach(int px) const { return px * devicePixelRatioF() * frame().unitsPerPx(); }

void MapPane::wheelEvent(QWheelEvent* event) {
    const double steps = event->angleDelta().y() / 120.0;
    if (steps == 0) return;
    m_workspace.setView(carto::zoomedAt(frame(), event->position() * devicePixelRatioF(),
                                        std::pow(kWheelFactor, -steps)),
                        !m_isWheeling);
    m_isWheeling = true;
    m_wheelEnd.start();
}

bool MapPane::drawsPath() const {
    switch (m_workspace.tool()) {
    case Tool::Measure:
    case Tool::Profile: return true;
    case Tool::Draw: return m_drawing.drawsPath();
    case Tool::Pick: return m_picking.drawsPath();
    case Tool::Move:
    case Tool::Probe:
    case Tool::Label:
    case Tool::Curtain: break;
    }
    return false;
}

void MapPane::finishPath(Qt::KeyboardModifiers how) {
    if (m_workspace.tool() == Tool::Draw) return m_drawing.finish();
    if (m_workspace.tool() != Tool::Pick) return m_measuring.finish();
    const auto points = m_measuring.points();
    const bool isArea = m_picking.form() == PickForm::Area;
    if (points.size() < (isArea ? 3U : 2U)) return;
    m_picking.pick(isArea ? Geometry::polygon({points}) : Geometry::line(points), 0,
                   PickTool::joiningFor(how));
    m_measuring.clear();
}

void MapPane::mousePressEvent(QMouseEvent* event) {
    setFocus();
    m_pressedAt = event->pos();
    if (event->button() == Qt::LeftButton && m_workspace.tool() == Tool::Draw &&
        m_drawing.press(mapAt(event->position()), mapReach(kSnapReachPx)))
        return;
    if (event->button() == Qt::LeftButton && m_workspace.tool() == Tool::Label &&
        m_labelling.press(pixelOf(event->position()), frame())) {
        const auto* label = m_labelling.chosen();
        if (label) m_workspace.selectLayer(label->of.layer);
        return;
    }
    if (event->button() == Qt::LeftButton && hasCurtain())
        return setCurtain(event->position().x() / width());
    if (event->button() == Qt::MiddleButton ||
        (event->button() == Qt::LeftButton &&
         (m_workspace.tool() == Tool::Move || m_workspace.tool() == Tool::Label ||
          (m_workspace.tool() == Tool::Draw && !m_drawing.drawsPath())))) {
        m_isPanning = true;
        m_viewAtPress = m_workspace.view();
        setCursor(Qt::ClosedHandCursor);
    }
}

void MapPane::mouseMoveEvent(QMouseEvent* event) {
    const double ratio = devicePixelRatioF();
    if (m_isPanning) {
        auto start = frame();
        start.view = m_viewAtPress;
        m_workspace.setView(carto::panned(start, QPointF(event->pos() - m_pressedAt) * ratio),
                            false);
    }
    if (hasCurtain() && event->buttons() & Qt::LeftButton)
        setCurtain(event->position().x() / width());
    if (m_workspace.tool() == Tool::Label && !m_isPanning && event->buttons() & Qt::LeftButton)
        m_labelling.drag(pixelOf(event->position()));
    const bool isVertexHeld = m_workspace.tool() == Tool::Draw && !m_drawing.drawsPath() &&
                              !m_isPanning && (event->buttons() & Qt::LeftButton) != 0;
    if (isVertexHeld && (event->pos() - m_pressedAt).manhattanLength() > 3) {
        measureAt(event->pos(), false);
        const auto& vertex = m_measuring.offered();
        const Point at = mapAt(event->position());
        const bool isNear = vertex && distance(*vertex, at) <= mapReach(kSnapReachPx);
        m_drawing.drag(isNear && m_measuring.snaps() ? *vertex : at);
    }
    if (m_workspace.tool() == Tool::Pick && !m_picking.drawsPath() &&
        event->buttons() & Qt::LeftButton && !m_isPanning) {
        m_rubber = QRect(m_pressedAt, event->pos()).normalized();
        update();
    }
    if (drawsPath() && !m_isPanning) measureAt(event->pos(), false);
    const QPointF px = event->position() * ratio;
    const carto::MapFrame now = frame();
    Q_EMIT hovered(globe::intoTurn(now.crs, now.toMap()({px.x(), px.y()})));
}

void MapPane::mouseReleaseEvent(QMouseEvent* event) {
    // The second click of a double one ended a path; it is no point of the next.
    if (std::exchange(m_isDoubled, false)) return;
    const bool moved = (event->pos() - m_pressedAt).manhattanLength() > 3;
    if (m_workspace.tool() == Tool::Label && !m_isPanning) return m_labelling.release();
    if (m_isPanning) {
        m_isPanning = false;
        setCursor(toolCursor());
        if (moved) {
            // One step back leads to where the drag began.
            const doc::MapView now = m_workspace.view();
            m_workspace.setView(m_viewAtPress, false);
            m_workspace.setView(now);
            redraw();
            return;
        }
    }
    if (m_workspace.tool() == Tool::Draw && !m_drawing.drawsPath() &&
        event->button() == Qt::LeftButton) {
        // A click beside the shape picks another.
        if (!moved && !m_drawing.press(mapAt(event->position()), mapReach(kSnapReachPx)))
            return pickIn(QRect(event->pos(), QSize(1, 1)), event->modifiers());
        return m_drawing.release();
    }
    if (m_workspace.tool() == Tool::Pick && !m_picking.drawsPath() &&
        event->button() == Qt::LeftButton) {
        const QRect rubber = moved ? QRect(m_pressedAt, event->pos()).normalized()
                                   : QRect(event->pos(), QSize(1, 1));
        m_rubber = {};
        update();
        return pickIn(rubber, event->modifiers());
    }
    if (event->button() != Qt::LeftButton || moved || hasCurtain()) return;
    if (drawsPath()) measureAt(event->pos(), true);
    if (m_workspace.tool() == Tool::Draw) return m_drawing.pathGrew();
    if (m_workspace.tool() == Tool::Pick) return;
    if (m_workspace.tool() == Tool::Profile && m_measuring.points().size() == 1 &&
        !(event->modifiers() & Qt::ShiftModifier))
        takeLineAt(event->pos());
    else
        probeAt(event->pos());
}

void MapPane::mouseDoubleClickEvent(QMouseEvent* event) {
    m_isDoubled = true;
    if (drawsPath()) return finishPath(event->modifiers());
    QWidget::mouseDoubleClickEvent(event);
}

// What lies at a spot of the pane, read beside; then `use` is called with the place and the hits.
void MapPane::readAt(QPoint position,
                     std::function<void(Point, const std::vector<session::ProbeHit>&)> use) {
    const auto now = frame();
    const QPointF px = QPointF(position) * devicePixelRatioF();
    const Point at = globe::intoTurn(now.crs, now.toMap()({px.x(), px.y()}));
    const double reach = kProbeReachPx * devicePixelRatioF() * now.unitsPerPx();
    const bool isOnly = m_probesOnlySelected && m_workspace.tool() == Tool::Probe;
    m_probeWorker.start([this, at, reach, use = std::move(use), crs = now.crs,
                         only = isOnly ? m_workspace.selectedLayer() : doc::Id{0},
                         snapshot = m_workspace.session().snapshot(),
                         sources = m_workspace.session().sources()](const std::stop_token& stop) {
        auto hits = session::probe(*snapshot, *sources, crs, at, reach, only);
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [at, use, hits = std::move(hits)] { use(at, hits); });
    });
}

// The first click of a profile takes the line that lies there, if one does.
void MapPane::takeLineAt(QPoint position) {
    readAt(position, [this](Point, const std::vector<session::ProbeHit>& hits) {
        if (m_measuring.points().size() > 1) return;  // somebody draws one already
        for (const auto& hit : hits) {
            if (hit.outline.type != GeometryType::Line) continue;
            const auto part = hit.outline.part(0);
            m_measuring.clear();
            Q_EMIT lineTaken({part.begin(), part.end()}, QString::fromStdString(hit.title));
            return;
        }
    });
}

void MapPane::measureAt(QPoint position, bool isClick) {
    const auto now = frame();
    const QPointF px = QPointF(position) * devicePixelRatioF();
    const Point at = globe::intoTurn(now.crs, now.toMap()({px.x(), px.y()}));
    const double reach = kSnapReachPx * devicePixelRatioF() * now.unitsPerPx();
    m_measuring.hover(at);
    if (isClick) m_measuring.add();
    if (!m_measuring.snaps()) return;
    // What is near is looked for beside; a click takes what was found last if it is near.
    m_snapWorker.start([this, at, reach, crs = now.crs, inHand = m_drawing.inHand(),
                        snapshot = m_workspace.session().snapshot(),
                        sources = m_workspace.session().sources()](const std::stop_token& stop) {
        const auto vertex = session::snappedTo(*snapshot, *sources, crs, at, reach, inHand);
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(
            this, [this, at, vertex, reach] { m_measuring.offerVertex(at, vertex, reach); });
    });
}

// What a frame meets, or the one under a click.
void MapPane::pickIn(QRect rubber, Qt::KeyboardModifiers how) {
    const bool isClick = rubber.width() <= 1 && rubber.height() <= 1;
    // By its corners, as the map may be turned.
    const QRectF r(rubber);
    const Geometry shape =
        isClick
            ? Geometry::point(globe::intoTurn(frame().crs, mapAt(r.topLeft())))
            : Geometry::polygon({{mapAt(r.topLeft()), mapAt(r.topRight()), mapAt(r.bottomRight()),
                                  mapAt(r.bottomLeft()), mapAt(r.topLeft())}});
    m_picking.pick(shape, mapReach(kProbeReachPx), PickTool::joiningFor(how));
}

void MapPane::setProbesOnlySelected(bool isOnly) {
    m_probesOnlySelected = isOnly;
    if (m_probedAt) probeAt(*m_probedAt);
}

void MapPane::probeAt(QPoint position) {
    m_probedAt = position;
    readAt(position, [this](Point at, const std::vector<session::ProbeHit>& hits) {
        flash({});
        Q_EMIT probed(at, hits);
    });
}

void MapPane::flash(const session::ProbeHit& hit) {
    m_flashed = hit;
    update();
}

// Of the label there, or of the one chosen by keys.
void MapPane::contextMenuEvent(QContextMenuEvent* event) {
    if (m_workspace.tool() != Tool::Label) return QWidget::contextMenuEvent(event);
    const bool isMouse = event->reason() == QContextMenuEvent::Mouse;
    if (isMouse && !m_labelling.chooseAt(pixelOf(event->pos()), frame())) return;
    if (!m_labelling.chosen()) return;
    LabelMenu(m_labelling, this).exec(event->globalPos());
}

void MapPane::leaveEvent(QEvent*) { Q_EMIT hovered(kNowhere); }

void MapPane::keyPressEvent(QKeyEvent* event) {
    const double step = 60 * devicePixelRatioF();
    const auto pan = [&](double x, double y) {
        m_workspace.setView(carto::panned(frame(), {x, y}));
    };
    if (hasCurtain() && event->modifiers() & Qt::ShiftModifier) {
        if (event->key() == Qt::Key_Left) return setCurtain(m_curtain - 0.05);
        if (event->key() == Qt::Key_Right) return setCurtain(m_curtain + 0.05);
    }
    if (handleVertexKey(*event)) return;
    if (m_workspace.tool() == Tool::Label && m_labelling.key(*event, frame())) return;
    switch (event->key()) {
    case Qt::Key_Left: return pan(step, 0);
    case Qt::Key_Right: return pan(-step, 0);
    case Qt::Key_Up: return pan(0, step);
    case Qt::Key_Down: return pan(0, -step);
    case Qt::Key_Plus:
    case Qt::Key_Equal: return zoomBy(1 / 1.5);
    case Qt::Key_Minus: return zoomBy(1.5);
    case Qt::Key_Return:
        if (drawsPath() && event->modifiers() & Qt::ControlModifier) return finishPath();
        if (drawsPath()) measureAt(rect().center(), true);
        if (m_workspace.tool() == Tool::Draw) return m_drawing.pathGrew();
        if (drawsPath()) return;
        if (m_workspace.tool() == Tool::Pick)
            return pickIn(QRect(rect().center(), QSize(1, 1)), event->modifiers());
        return probeAt(rect().center());
    case Qt::Key_Backspace:
        if (drawsPath()) return m_measuring.removeLast();
        return QWidget::keyPressEvent(event);
    case Qt::Key_B:
        if (!event->isAutoRepeat()) setBlinking(true);
        return;
    case Qt::Key_Escape:
        if (m_workspace.comparedLayer() != 0) return m_workspace.compareWith(0);
        if (drawsPath()) return m_measuring.clear();
        m_flashed = {};
        Q_EMIT probed(kNowhere, {});
        return update();
    default: QWidget::keyPressEvent(event);
    }
}

// Vertices of the shape in hand by the keyboard: the next and the one before, steps of a pixel, ten
// with Shift, one more, and away.
bool MapPane::handleVertexKey(const QKeyEvent& event) {
    if (m_workspace.tool() != Tool::Draw || m_drawing.drawsPath() || m_drawing.shape().isEmpty())
        return false;
    const auto step = [&](double x, double y) {
        const auto vertex = m_drawing.vertex();
        if (!vertex) return false;
        const double by = (event.modifiers() & Qt::ShiftModifier ? 10 : 1) * devicePixelRatioF();
        const Affine toPixels = frame().toPixels(), toMap = frame().toMap();
        const Point px = toPixels(m_drawing.shape().onMap.points[*vertex]);
        m_drawing.moveVertexTo(toMap({px.x + by * x, px.y + by * y}));
        return true;
    };
    switch (event.key()) {
    case Qt::Key_PageDown: return m_drawing.chooseVertex(1), true;
    case Qt::Key_PageUp: return m_drawing.chooseVertex(-1), true;
    case Qt::Key_Insert: return m_drawing.addVertexBehind(), true;
    case Qt::Key_Delete:
    case Qt::Key_Backspace: return m_drawing.removeVertex(), true;
    case Qt::Key_Left: return step(-1, 0);
    case Qt::Key_Right: return step(1, 0);
    case Qt::Key_Up: return step(0, -1);
    case Qt::Key_Down: return step(0, 1);
    default: return false;
    }
}

void MapPane::keyReleaseEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_B && !event->isAutoRepeat()) return setBlinking(false);
    QWidget::keyReleaseEvent(event);
}

}  // namespace ledge::app
