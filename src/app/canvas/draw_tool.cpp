#include "app/canvas/draw_tool.h"

#include "app/benches/bench_page.h"
#include "app/theme.h"
#include "session/typed_position.h"

namespace ledge::app {
namespace {
Geometry pathAs(const std::vector<Point>& points, DrawMode mode) {
    if (points.empty()) return {};
    if (mode == DrawMode::Point) return Geometry::point(points.front());
    if (mode == DrawMode::Line || mode == DrawMode::Cut) return Geometry::line(points);
    return Geometry::polygon({points});
}
}  // namespace

DrawTool::DrawTool(Workspace& workspace, MeasureOverlay& path, QObject* parent)
    : QObject(parent), m_workspace(workspace), m_path(path) {
    connect(&workspace, &Workspace::layerSelected, this, &DrawTool::follow);
    connect(&workspace, &Workspace::featuresPicked, this, &DrawTool::follow);
    connect(&workspace, &Workspace::toolChanged, this, &DrawTool::follow);
    connect(&workspace.session(), &session::Session::changed, this, &DrawTool::follow);
}

const doc::SourceRef* DrawTool::target(QString* why) const {
    const auto* layer = m_workspace.layer();
    const auto* source = m_workspace.source();
    const auto refuse = [why](const QString& text) -> const doc::SourceRef* {
        if (why) *why = text;
        return nullptr;
    };
    if (!layer || !source || !layer->as<doc::VectorLayer>())
        return refuse(tr("Select a layer of features, or draw into a new one."));
    if (!source->isFile())
        return refuse(tr("%1 follows what it is made from: write it to a file first.")
                          .arg(qtext(layer->name)));
    return source;
}

GeometryType DrawTool::targetType() const {
    const auto* layer = m_workspace.layer();
    const auto* vector = layer ? layer->as<doc::VectorLayer>() : nullptr;
    return vector ? vector->geometry : GeometryType::None;
}

void DrawTool::setMode(DrawMode mode) {
    if (m_mode == mode) return;
    m_mode = mode;
    m_path.clear();
    m_path.setArea(mode == DrawMode::Area || mode == DrawMode::Hole ||
                   (mode == DrawMode::Part && targetType() == GeometryType::Polygon));
    m_vertex.reset();
    m_grabbed.reset();
    follow();
    Q_EMIT changed();
}

std::optional<session::InHand> DrawTool::inHand() const {
    const auto keys = pickedKeys();
    const auto* source = target();
    if (drawsPath() || keys.size() != 1 || !source) return {};
    return session::InHand{source->id, keys.front()};
}

std::vector<FeatureKey> DrawTool::pickedKeys() const {
    const auto* source = target();
    return source ? m_workspace.picked(source->id) : std::vector<FeatureKey>();
}

// The shape in hand is that of the one feature that is picked.
void DrawTool::follow() {
    if (m_workspace.tool() != Tool::Draw) {
        m_shape = {};
        return;
    }
    if (m_mode == DrawMode::Part) m_path.setArea(targetType() == GeometryType::Polygon);
    const auto* source = target();
    const auto keys = pickedKeys();
    if (keys.size() != 1) {
        m_shapeWorker.cancel();
        m_shape = {};
        m_vertex.reset();
        Q_EMIT changed();
        return;
    }
    m_shapeWorker.start([this, from = *source, key = keys.front(),
                         crs = m_workspace.session().mapCrs(),
                         sources = m_workspace.session().sources()](const std::stop_token& stop) {
        auto shape = session::shapeInHand(from, *sources, key, crs, {stop, {}});
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, shape = std::move(shape)] {
            const bool isSame = shape && shape->key == m_shape.key;
            m_shape = shape ? *shape : session::ShapeInHand{};
            if (!isSame || (m_vertex && *m_vertex >= m_shape.own.points.size())) m_vertex.reset();
            Q_EMIT changed();
        });
    });
}

void DrawTool::perform(doc::Id source, const QString& what, const std::string& edits) {
    if (edits.empty()) return;
    m_workspace.perform(
        "table-edits",
        {{"source", Workspace::target(source)}, {"what", what.toStdString()}, {"edits", edits}});
}

// Edits that need the table are made beside.
void DrawTool::makeEdits(
    const QString& what,
    std::function<Result<std::string>(const doc::SourceRef&, const session::SourceCache&,
                                      const crs::CrsPtr&, const Progress&)>
        make) {
    QString why;
    const auto* source = target(&why);
    if (!source) return m_workspace.say(why, true);
    m_worker.start([this, what, make = std::move(make), from = *source,
                    crs = m_workspace.session().mapCrs(),
                    sources = m_workspace.session().sources()](const std::stop_token& stop) {
        auto edits = make(from, *sources, crs, {stop, {}});
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, what, id = from.id, edits = std::move(edits)] {
            if (!edits) return m_workspace.say(qtext(edits.error().text()), true);
            perform(id, what, *edits);
            m_path.clear();
        });
    });
}

// A point is whole with its first place.
bool DrawTool::makesPoints() const {
    return m_mode == DrawMode::Point ||
           (m_mode == DrawMode::Part && m_shape.own.type == GeometryType::Point);
}

void DrawTool::pathGrew() {
    if (makesPoints() && !m_path.points().empty()) finish();
}

void DrawTool::finish() {
    const std::vector<Point> points = m_path.points();
    const std::size_t least = makesPoints()                                         ? 1
                              : m_mode == DrawMode::Line || m_mode == DrawMode::Cut ? 2
                              : m_path.isArea()                                     ? 3
                                                                                    : 2;
    if (points.size() < least)
        return m_workspace.say(tr("It needs %n points at least", "", static_cast<int>(least)),
                               true);
    m_path.finish();
    const auto keys = pickedKeys();
    switch (m_mode) {
    case DrawMode::Point:
    case DrawMode::Line:
    case DrawMode::Area: {
        const QString what = m_mode == DrawMode::Point  ? tr("Draw point")
                             : m_mode == DrawMode::Line ? tr("Draw line")
                                                        : tr("Draw area");
        return makeEdits(what, [shape = pathAs(points, m_mode)](const auto& from, const auto& cache,
                                                                const auto& crs, const auto& p) {
            return session::addingEdits(from, cache, shape, crs, p);
        });
    }
    case DrawMode::Cut:
        return makeEdits(tr("Cut along a line"),
                         [keys, cut = pathAs(points, m_mode)](const auto& from, const auto& cache,
                                                              const auto& crs, const auto& p) {
                             return session::splittingEdits(from, cache, keys, cut, crs, p);
                         });
    case DrawMode::Hole:
    case DrawMode::Part: {
        if (m_shape.isEmpty()) return m_workspace.say(tr("Pick one feature first (Alt+K)"), true);
        const bool isHole = m_mode == DrawMode::Hole;
        const GeometryType type = isHole ? GeometryType::Polygon : m_shape.own.type;
        Geometry drawn = type == GeometryType::Polygon ? Geometry::polygon({points})
                         : type == GeometryType::Line  ? Geometry::line(points)
                                                       : Geometry::point(points.front());
        return makeEdits(isHole ? tr("Hole") : tr("Further part"),
                         [isHole, drawn, shape = m_shape](const auto& from, const auto& cache,
                                                          const auto& crs,
                                                          const auto& p) -> Result<std::string> {
                             const auto table = cache.table(from, p);
                             if (!table) return table.error();
                             const auto own = session::inSource(drawn, crs, (*table)->info.crs);
                             if (!own) return own.error();
                             const auto next = isHole ? withHole(shape.own, *own)
                                                      : std::optional(withParts(shape.own, *own));
                             if (!next)
                                 return Error{ErrorCode::InvalidArgument, "hole",
                                              "lies in no area of the picked feature",
                                              "draw it inside of the area"};
                             return session::shapeEdit(shape.key, next);
                         });
    }
    case DrawMode::Vertices: return;
    }
}

std::optional<QString> DrawTool::addTyped(const QString& typed) {
    const auto crs = m_workspace.session().mapCrs();
    std::optional<Point> at;
    const auto leg = session::typedLeg(typed.toStdString());
    if (leg && !m_path.points().empty())
        at = session::endOfLeg(crs, m_path.points().back(), *leg);
    else if (!leg || !leg->hasUnit)
        at = session::typedPosition(typed.toStdString(), crs);
    if (!at || !at->isFinite())
        return m_path.points().empty()
                   ? tr("\"%1\" is no place. Type one such as 61.58 -10.7.").arg(typed)
                   : tr("\"%1\" is neither a length and a bearing, such as 120 m 45, nor a place.")
                         .arg(typed);
    m_path.addAt(*at);
    pathGrew();
    return {};
}

void DrawTool::setShape(const QString& what, const std::optional<Geometry>& own) {
    const auto* source = target();
    if (!source || m_shape.isEmpty()) return;
    perform(source->id, what, session::shapeEdit(m_shape.key, own));
    if (!own) m_workspace.pick(source->id, {});
}

bool DrawTool::press(Point at, double reach) {
    if (m_mode != DrawMode::Vertices || m_shape.isEmpty()) return false;
    m_grabbed = touchedAt(m_shape.onMap, at, reach);
    m_dragged.reset();
    if (!m_grabbed) return false;
    m_vertex = m_grabbed->isVertex ? std::optional(m_grabbed->point) : std::nullopt;
    Q_EMIT changed();
    return true;
}

void DrawTool::drag(Point at) {
    if (!m_grabbed) return;
    m_dragged = at;
    Q_EMIT changed();
}

void DrawTool::release() {
    if (!m_grabbed) return;
    const Touched grabbed = *std::exchange(m_grabbed, {});
    const auto to = std::exchange(m_dragged, {});
    if (grabbed.isVertex && !to) return Q_EMIT changed();
    if (!grabbed.isVertex) {
        // A side that is clicked or dragged gets a vertex there.
        const Point at = to.value_or(grabbed.at);
        const auto* source = target();
        if (!source) return;
        m_vertex = grabbed.point + 1;
        return makeEdits(
            tr("Add vertex"),
            [at, shape = m_shape, after = grabbed.point](const auto& from, const auto& cache,
                                                         const auto& crs,
                                                         const auto& p) -> Result<std::string> {
                const auto table = cache.table(from, p);
                if (!table) return table.error();
                const auto own = session::inSource(Geometry::point(at), crs, (*table)->info.crs);
                if (!own) return own.error();
                return session::shapeEdit(shape.key,
                                          withVertexAfter(shape.own, after, own->points[0]));
            });
    }
    moveVertexTo(*to);
}

void DrawTool::moveVertexTo(Point onMap) {
    if (!m_vertex || m_shape.isEmpty() || !onMap.isFinite()) return;
    makeEdits(
        tr("Move vertex"),
        [onMap, shape = m_shape, vertex = *m_vertex](const auto& from, const auto& cache,
                                                     const auto& crs,
                                                     const auto& p) -> Result<std::string> {
            const auto table = cache.table(from, p);
            if (!table) return table.error();
            const auto own = session::inSource(Geometry::point(onMap), crs, (*table)->info.crs);
            if (!own) return own.error();
            return session::shapeEdit(shape.key, withVertexAt(shape.own, vertex, own->points[0]));
        });
}

void DrawTool::chooseVertex(int by) {
    const auto count = static_cast<int>(m_shape.own.points.size());
    if (count == 0) return;
    const int now = m_vertex ? static_cast<int>(*m_vertex) : by > 0 ? -1 : 0;
    m_vertex = static_cast<std::size_t>((now + by + count) % count);
    Q_EMIT changed();
}

void DrawTool::addVertexBehind() {
    if (!m_vertex || *m_vertex + 1 >= m_shape.own.points.size()) return;
    const auto& points = m_shape.own.points;
    const Point middle = (points[*m_vertex] + points[*m_vertex + 1]) * 0.5;
    const Geometry next = withVertexAfter(m_shape.own, *m_vertex, middle);
    if (next == m_shape.own) return;  // the last of its part
    ++*m_vertex;
    setShape(tr("Add vertex"), next);
}

void DrawTool::removeVertex() {
    if (!m_vertex) return;
    const auto next = withoutVertex(m_shape.own, *m_vertex);
    m_vertex.reset();
    setShape(tr("Remove vertex"), next);
}

void DrawTool::removePart() {
    if (!m_vertex) return m_workspace.say(tr("Choose a vertex of the part first"), true);
    const auto next = withoutPartOf(m_shape.own, *m_vertex);
    m_vertex.reset();
    setShape(tr("Remove part"), next);
}

void DrawTool::merge() {
    makeEdits(tr("Merge"), [keys = pickedKeys()](const auto& from, const auto& cache, const auto&,
                                                 const auto& p) {
        return session::mergingEdits(from, cache, keys, p);
    });
}

void DrawTool::partAway() {
    makeEdits(tr("Parts on their own"), [keys = pickedKeys()](const auto& from, const auto& cache,
                                                              const auto&, const auto& p) {
        return session::partingEdits(from, cache, keys, p);
    });
}

void DrawTool::paint(QPainter& painter, const carto::MapFrame& frame) const {
    if (m_mode != DrawMode::Vertices || m_shape.isEmpty()) return;
    const Affine toPixels = frame.toPixels();
    Geometry shown = m_shape.onMap;
    std::optional<std::size_t> chosen = m_vertex;
    if (m_grabbed && m_dragged) {
        shown = m_grabbed->isVertex ? withVertexAt(shown, m_grabbed->point, *m_dragged)
                                    : withVertexAfter(shown, m_grabbed->point, *m_dragged);
        chosen = m_grabbed->point + (m_grabbed->isVertex ? 0 : 1);
    }
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setBrush(Qt::NoBrush);
    const GeometryView view = shown;
    for (std::size_t part = 0; part < view.partCount(); ++part) {
        QPolygonF line;
        for (const Point p : view.part(part)) line << carto::qt(toPixels(p));
        painter.setPen(QPen(QColor(255, 255, 255, 220), frame.mm(0.9)));
        painter.drawPolyline(line);
        painter.setPen(QPen(theme().lichen, frame.mm(0.45)));
        painter.drawPolyline(line);
    }
    // So many that they would hide the shape show only where the map is near enough.
    constexpr std::size_t kMostShown = 4000;
    const QRectF seen(0, 0, frame.widthPx, frame.heightPx);
    std::size_t count = 0;
    for (const Point p : shown.points) count += seen.contains(carto::qt(toPixels(p))) ? 1U : 0U;
    const double r = frame.mm(0.75);
    painter.setPen(QPen(theme().ink, frame.mm(0.3)));
    const auto mark = [&](std::size_t i, double side, const QColor& colour) {
        const QPointF at = carto::qt(toPixels(shown.points[i]));
        if (!seen.contains(at)) return;
        painter.setBrush(colour);
        painter.drawRect(QRectF(at - QPointF(side, side), QSizeF(2 * side, 2 * side)));
    };
    for (std::size_t i = 0; i < shown.points.size() && count <= kMostShown; ++i)
        mark(i, r, Qt::white);
    // Above the others: both ends of a ring stand at one place.
    if (chosen && *chosen < shown.points.size()) mark(*chosen, 1.5 * r, theme().lichen);
    painter.restore();
}

}  // namespace ledge::app
