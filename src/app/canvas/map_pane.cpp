#include "app/canvas/map_pane.h"

#include <QPainter>
#include <QPainterPath>
#include <QStyle>

#include "app/canvas/map_marks.h"
#include "app/theme.h"
#include "carto/vector_painter.h"
#include "core/globe/around.h"
#include "core/globe/raster_extent.h"
#include "document/edits/layer_edits.h"
#include "io/registry.h"
#include "session/picking.h"

namespace ledge::app {
namespace {
constexpr double kScreenPxPerMm = 96 / 25.4;
// The picture of the country around spans so many maps each way, at as many times coarser pixels.
constexpr double kCountrySpan = 5;

QColor emptyGround() { return theme().isDark ? QColor("#2A2D45") : QColor("#EDEEF4"); }
}  // namespace

MapPane::MapPane(Workspace& workspace, QWidget* parent)
    : QWidget(parent), m_workspace(workspace),
      m_renderer(std::make_shared<carto::MapRenderer>(workspace.session().sources(),
                                                      carto::MapRenderer::Keeping::Tiles)),
      m_picked(workspace), m_drawing(workspace, m_measuring), m_picking(workspace),
      m_labelling(workspace),
      m_behindRenderer(std::make_shared<carto::MapRenderer>(workspace.session().sources(),
                                                            carto::MapRenderer::Keeping::Tiles)),

      m_countryRenderer(std::make_shared<carto::MapRenderer>(workspace.session().sources())) {
    setObjectName("mapPane");
    setAccessibleName(tr("Map"));
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(240, 160);
    connect(&m_wheelEnd, &QTimer::timeout, this, [this] {
        m_isWheeling = false;
        redraw();
    });
    connect(&m_countryLater, &QTimer::timeout, this, &MapPane::drawCountry);
    connect(&workspace.session(), &session::Session::changed, this,
            [this](const doc::Change& change) {
                if (change.touchesMap()) return redraw();
                update();  // units of the scale bar
            });
    connect(&workspace.session(), &session::Session::replaced, this, [this] {
        m_image = m_country = {};
        m_labels.clear();
        m_shownGeneration = ++m_generation;  // what is still being drawn is of before
        m_countryLayers.clear();
        m_flashed = {};
    });
    connect(&workspace, &Workspace::viewChanged, this, [this] {
        update();
        if (m_isPanning)
            redraw(Pace::Following);
        else
            m_wheelEnd.start();
    });
    connect(&workspace, &Workspace::fitAsked, this, &MapPane::zoomTo);
    connect(&workspace, &Workspace::toolChanged, this, [this] {
        setCursor(toolCursor());
        m_flashed = {};
        redrawBehindCurtain();
        update();
    });
    connect(&workspace, &Workspace::layerSelected, this, [this] {
        if (m_workspace.comparedLayer() != 0)
            redraw();
        else
            redrawBehindCurtain();
    });
    connect(&workspace, &Workspace::comparisonChanged, this, [this] { redraw(); });
    connect(&workspace, &Workspace::litClassesChanged, this, [this] { redraw(); });
    connect(&m_labels, &FadingLabels::changed, this, qOverload<>(&QWidget::update));
    connect(&m_measuring, &MeasureOverlay::changed, this, qOverload<>(&QWidget::update));
    connect(&m_drawing, &DrawTool::changed, this, qOverload<>(&QWidget::update));
    connect(&m_labelling, &LabelTool::changed, this, qOverload<>(&QWidget::update));
    connect(&m_picking, &PickTool::changed, this, [this] { m_measuring.clear(); });
    connect(&m_picked, &PickedOverlay::changed, this, qOverload<>(&QWidget::update));
    // What was picked and measured is in the map's CRS: what was picked means nothing in another.
    connect(&workspace.session(), &session::Session::changed, this, [this] {
        if (!crs::isSame(m_measuring.crs(), m_workspace.session().mapCrs())) flash({});
        m_measuring.setCrs(m_workspace.session().mapCrs(), m_workspace.document().display.lengths);
    });
    connect(&workspace.session(), &session::Session::replaced, this,
            [this] { m_measuring.clear(); });
    m_measuring.setCrs(workspace.session().mapCrs(), workspace.document().display.lengths);
    setCursor(toolCursor());
}

MapPane::~MapPane() = default;

namespace {
// On paper, so that what shines through is seen as it is there.
void see(QImage& image, Vision vision) {
    if (vision == Vision::Usual) return;
    QImage paper(image.size(), QImage::Format_RGB32);
    paper.fill(QColor(0xED, 0xEE, 0xF4));
    QPainter(&paper).drawImage(0, 0, image);
    for (int y = 0; y < paper.height(); ++y)
        seeBy(vision, {reinterpret_cast<std::uint32_t*>(paper.scanLine(y)),
                       static_cast<std::size_t>(paper.width())});
    image = paper;
}
}  // namespace

QCursor MapPane::toolCursor() const {
    switch (m_workspace.tool()) {
    case Tool::Move: return Qt::OpenHandCursor;
    case Tool::Curtain: return Qt::SplitHCursor;
    default: return Qt::CrossCursor;
    }
}

carto::MapFrame MapPane::frame() const {
    carto::MapFrame frame;
    frame.crs = m_workspace.session().mapCrs();
    frame.view = m_workspace.view();
    frame.widthPx = qRound(width() * devicePixelRatioF());
    frame.heightPx = qRound(height() * devicePixelRatioF());
    frame.pxPerMm = kScreenPxPerMm * devicePixelRatioF();
    return frame;
}

std::vector<doc::LayerPtr> MapPane::shownLayers(const doc::Document& document, Side side) const {
    const doc::Id selected = m_workspace.selectedLayer();
    return withLitClasses(comparedLayers(document, selected, m_workspace.comparedLayer(), side),
                          selected, m_workspace.litClasses());
}

void MapPane::redraw(Pace pace) {
    if (!isVisible() || width() < 2 || height() < 2) return;
    m_workspace.noteViewExtent(frame().extent());
    m_isStale = true;
    m_countryLater.stop();
    if (pace == Pace::AtOnce) {
        m_countryWorker.cancel();
        redrawBehindCurtain();
    }
    const int generation = ++m_generation;
    const auto snapshot = m_workspace.session().snapshot();
    const auto wanted = carto::Lattice::aligned(frame());
    // Where there is nothing to see yet, layers show as they come.
    const bool isFirst = m_image.isNull();
    auto task = [this, generation, snapshot, wanted, isFirst, vision = m_vision,
                 renderer = m_renderer,
                 layers = shownLayers(*snapshot, m_isBlinking ? Side::Behind : Side::Front)](
                    const std::stop_token& stop) {
        carto::MapReport report;
        const auto show = [&](const QImage& image) {
            QMetaObject::invokeMethod(this, [this, image, wanted, generation] {
                if (generation < m_shownGeneration) return;
                m_shownGeneration = generation;
                m_image = image;
                m_imageFrame = wanted;
                update();
            });
        };
        auto ground = renderer->ground(*snapshot, layers, wanted, {stop, {}}, report,
                                       isFirst ? carto::MapRenderer::Partial(show) : nullptr);
        if (!ground || stop.stop_requested()) return;
        const bool isSeenSo = vision == Vision::Usual;
        if (isSeenSo) show(*ground);
        auto labels = renderer->labels(*snapshot, layers, wanted, {stop, {}}, report);
        if (!labels || stop.stop_requested()) return;
        if (!isSeenSo) {
            // As one picture, since what others see is worked out on paper.
            QPainter painter(&*ground);
            for (const QImage* image : {&labels->standing, &labels->coming})
                painter.drawImage(0, 0, *image);
            painter.end();
            *labels = {};
            see(*ground, vision);
            show(*ground);
        }
        QMetaObject::invokeMethod(this,
                                  [this, labels = *std::move(labels), wanted, report, generation] {
                                      showLabels(labels, wanted, report, generation);
                                  });
    };
    if (pace == Pace::AtOnce)
        m_worker.start(std::move(task));
    else
        m_worker.follow(std::move(task));
}

void MapPane::setVision(Vision vision) {
    if (m_vision == vision) return;
    m_vision = vision;
    m_country = {};
    redraw();
}

void MapPane::showLabels(carto::LabelPictures pictures, const carto::MapFrame& labelFrame,
                         const carto::MapReport& report, int generation) {
    if (generation < m_shownGeneration) return;
    constexpr int kLongestFadeMs = 160;
    const int wished = style()->styleHint(QStyle::SH_Widget_Animation_Duration, nullptr, this);
    m_labels.show(std::move(pictures), labelFrame, std::min(wished, kLongestFadeMs));
    m_report = report;
    m_labelling.follow(report, labelFrame);
    if (generation == m_generation) {
        m_isStale = false;
        m_countryLater.start();
    }
    Q_EMIT drawn();
}

// The country around, while nothing else is to be done: it is drawn again when the map comes near
// its edge, is seen much closer or wider, or shows other things.
void MapPane::drawCountry() {
    const auto snapshot = m_workspace.session().snapshot();
    auto layers = shownLayers(*snapshot, Side::Front);
    carto::MapFrame wanted = frame();
    wanted.pxPerMm /= kCountrySpan;
    const double share = m_countryFrame.view.scale / wanted.view.scale;
    const bool isInside = carto::Lattice(wanted) == carto::Lattice(m_countryFrame)
                              ? m_countryFrame.extent()
                                    .grown(-0.3 * m_countryFrame.extent().width())
                                    .contains(frame().extent().centre())
                              : share > 0.7 && share < 1.4 &&
                                    m_countryFrame.extent().contains(wanted.extent().centre());
    if (!m_country.isNull() && isInside && layers == m_countryLayers &&
        crs::isSame(wanted.crs, m_countryFrame.crs))
        return;
    m_countryWorker.start([this, snapshot, wanted, layers, vision = m_vision,
                           renderer = m_countryRenderer](const std::stop_token& stop) {
        carto::MapReport unasked;
        auto picture = renderer->ground(*snapshot, layers, wanted, {stop, {}}, unasked);
        if (picture) see(*picture, vision);
        if (!picture || stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, image = *std::move(picture), wanted, layers] {
            m_country = image;
            m_countryFrame = wanted;
            m_countryLayers = layers;
            update();
        });
    });
}

void MapPane::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), emptyGround());
    const carto::MapFrame now = frame();
    // Who goes on around the earth finds what was drawn there.
    if (const double turn = globe::turnWidth(now.crs); turn > 0) {
        std::vector<carto::MapFrame*> all = m_labels.frames();
        all.insert(all.end(), {&m_imageFrame, &m_countryFrame});
        for (carto::MapFrame* drawn : all)
            drawn->view.centre.x +=
                turn * std::round((now.view.centre.x - drawn->view.centre.x) / turn);
    }
    const double ratio = devicePixelRatioF();
    painter.scale(1 / ratio, 1 / ratio);
    const bool isWhole =
        carto::Lattice(now) == carto::Lattice(m_imageFrame) &&
        carto::Lattice(now).pixelsOf(now) == carto::Lattice(now).pixelsOf(m_imageFrame);
    if (!m_country.isNull() && !isWhole && crs::isSame(m_countryFrame.crs, now.crs))
        paintCountry(painter);
    if (!m_image.isNull()) paintPicture(painter, m_image, m_imageFrame);
    m_labels.paint(painter, [&](const QImage& image, const carto::MapFrame& drawn) {
        if (crs::isSame(drawn.crs, now.crs)) paintPicture(painter, image, drawn);
    });
    if (hasCurtain()) paintCurtain(painter);
    m_picked.follow(now);
    if (!m_picked.picture().isNull() && crs::isSame(m_picked.frame().crs, now.crs))
        paintPicture(painter, m_picked.picture(), m_picked.frame());
    if (!m_flashed.outline.isEmpty())
        carto::paintOutline(painter, now, m_flashed.outline, m_flashed.seams);
    if (drawsPath()) m_measuring.paint(painter, now);
    if (m_workspace.tool() == Tool::Draw) m_drawing.paint(painter, now);
    if (m_workspace.tool() == Tool::Label) m_labelling.paint(painter, now);
    if (!m_rubber.isEmpty()) {
        QColor veil = theme().lichen;
        painter.setPen(QPen(veil, 1.5 * ratio));
        veil.setAlpha(40);
        painter.setBrush(veil);
        painter.drawRect(
            QRectF(QPointF(m_rubber.topLeft()) * ratio, QSizeF(m_rubber.size()) * ratio));
        painter.setBrush(Qt::NoBrush);
    }
    paintNotices(painter, now);
    const bool isDrawn = drawsPath() && !m_measuring.points().empty();  // another line
    paintProfileMarks(painter, now, isDrawn ? std::vector<Point>() : m_profileLine, m_profileMark);
    if (m_workspace.document().layers.empty()) {
        painter.scale(ratio, ratio);
        painter.setPen(theme().muted);
        painter.drawText(rect(), Qt::AlignCenter,
                         tr("Drop data here, or press Ctrl+Shift+A to add some.\n%1 can be read.")
                             .arg(QString::fromStdString(io::formatWords())));
        return;
    }
    paintScalePlate(painter, now, m_workspace.document().display.lengths);
}

void MapPane::paintPicture(QPainter& painter, const QImage& image,
                           const carto::MapFrame& imageFrame) {
    // Where the picture's pixels lie now; of the same lattice pixel on pixel.
    const carto::MapFrame now = frame();
    const carto::Lattice lattice(now);
    if (lattice == carto::Lattice(imageFrame)) {
        const auto to = lattice.pixelsOf(now), from = lattice.pixelsOf(imageFrame);
        painter.drawImage(QPointF(static_cast<double>(from.left - to.left),
                                  static_cast<double>(from.top - to.top)),
                          image);
        return;
    }
    const Affine way = now.toPixels().after(imageFrame.toMap());
    painter.save();
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.setTransform(QTransform(way.a, way.d, way.b, way.e, way.c, way.f) *
                         painter.transform());
    painter.drawImage(0, 0, image);
    painter.restore();
}

// Around the sharp picture only: beneath it, what is clear there would show doubled.
void MapPane::paintCountry(QPainter& painter) {
    painter.save();
    if (!m_image.isNull()) {
        const Affine way = frame().toPixels().after(m_imageFrame.toMap());
        QPolygonF sharp;
        for (const Point corner : {Point{0, 0}, Point{double(m_image.width()), 0},
                                   Point{double(m_image.width()), double(m_image.height())},
                                   Point{0, double(m_image.height())}})
            sharp << carto::qt(way(corner));
        QPainterPath around, inner;
        around.addRect(QRectF(0, 0, frame().widthPx, frame().heightPx));
        inner.addPolygon(sharp);
        painter.setClipPath(around.subtracted(inner));
    }
    paintPicture(painter, m_country, m_countryFrame);
    painter.restore();
}

void MapPane::setCurtain(double share) {
    m_curtain = std::clamp(share, 0.0, 1.0);
    update();
}

void MapPane::redrawBehindCurtain() {
    if (!hasCurtain() || !isVisible() || width() < 2 || height() < 2) return;
    const auto snapshot = m_workspace.session().snapshot();
    m_behindWorker.start(
        [this, snapshot, wanted = carto::Lattice::aligned(frame()), renderer = m_behindRenderer,
         layers = shownLayers(*snapshot, Side::Behind)](const std::stop_token& stop) {
            carto::MapReport report;
            auto picture = renderer->picture(*snapshot, layers, wanted, {stop, {}}, report);
            if (!picture || stop.stop_requested()) return;
            QMetaObject::invokeMethod(this, [this, image = *std::move(picture), wanted] {
                m_behind = image;
                m_behindFrame = wanted;
                update();
            });
        });
}

// What is selected, and what it is compared with.
struct MapPane::Compared {
    const doc::Layer* layer = nullptr;
    const doc::Layer* other = nullptr;
    bool isPair = false;
};

MapPane::Compared MapPane::compared() const {
    const doc::Document& document = m_workspace.document();
    Compared out{m_workspace.layer(), document.layer(m_workspace.comparedLayer())};
    out.isPair = out.layer && out.other && canCompare(document, out.layer->id, out.other->id);
    return out;
}

void MapPane::paintCurtain(QPainter& painter) {
    const carto::MapFrame now = frame();
    const double x = m_curtain * now.widthPx;
    if (!m_behind.isNull()) {
        const QRectF behind(x, 0, now.widthPx - x, now.heightPx);
        painter.save();
        painter.setClipRect(behind);
        painter.fillRect(behind, emptyGround());
        paintPicture(painter, m_behind, m_behindFrame);
        painter.restore();
    }
    const auto [layer, other, isPair] = compared();
    const QString name = layer ? QString::fromStdString(layer->name) : tr("no layer selected");
    paintCurtainEdge(painter, now, x, isPair ? name : tr("with %1").arg(name),
                     isPair ? QString::fromStdString(other->name) : tr("without it"));
}

// While two are compared the map does not show what the lamps say; it says so itself, as it counts
// the labels that found no room while labels are in hand.
void MapPane::paintNotices(QPainter& painter, const carto::MapFrame& now) {
    const double top = m_topRoom * devicePixelRatioF();
    const auto [layer, other, isPair] = compared();
    if (isPair && !hasCurtain()) {
        const QString one = QString::fromStdString(layer->name),
                      two = QString::fromStdString(other->name);
        return paintNotice(painter, now, top,
                           m_isBlinking ? two : tr("%1 · hold B for %2").arg(one, two));
    }
    const auto leftOut = static_cast<int>(m_report.leftOut.size());
    if (m_workspace.tool() == Tool::Label && leftOut > 0)
        paintNotice(painter, now, top,
                    leftOut == 1
                        ? tr("1 label found no room; click it to place it")
                        : tr("%n labels found no room; click one to place it", "", leftOut));
}

void MapPane::setTopRoom(int px) {
    if (std::exchange(m_topRoom, px) != px) update();
}

void MapPane::resizeEvent(QResizeEvent*) { m_wheelEnd.start(); }

void MapPane::zoomTo(doc::Id id) {
    m_workspace.showMap();
    // Extents may need files to be read.
    m_fitWorker.start([this, id, snapshot = m_workspace.session().snapshot(),
                       sources = m_workspace.session().sources(),
                       crs = m_workspace.session().mapCrs()](const std::stop_token& stop) {
        Box box;
        const auto add = [&](const doc::Layer& layer) {
            if (stop.stop_requested()) return;
            if (const auto* source = snapshot->source(layer.source))
                box.add(sources->extent(*source, crs));
            if (const auto* grid = layer.as<doc::GridLines>(); grid && grid->style.hasOutline)
                box.add(globe::wholeMap(crs));
        };
        if (const doc::Layer* layer = snapshot->layer(id)) {
            if (const auto* group = layer->as<doc::Group>())
                for (const auto& inner : doc::allLayers(group->children)) add(*inner);
            else
                add(*layer);
        } else {
            for (const auto& one : doc::drawnLayers(snapshot->layers)) add(*one.layer);
        }
        if (box.isEmpty() || stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, box] {
            const auto now = frame();
            m_workspace.setView(
                carto::viewOf(box, now.crs, now.widthPx, now.heightPx, now.pxPerMm));
        });
    });
}

void MapPane::zoomBy(double factor) {
    const auto now = frame();
    m_workspace.setView(
        carto::zoomedAt(now, QPointF(now.widthPx / 2.0, now.heightPx / 2.0), factor));
}

void MapPane::setBlinking(bool isOn) {
    if (m_isBlinking == isOn) return;
    m_isBlinking = isOn;
    redraw();
}

void MapPane::setProfileLine(std::vector<Point> line) {
    m_profileLine = std::move(line);
    update();
}

void MapPane::setProfileMark(Point at) {
    m_profileMark = at;
    update();
}

void MapPane::lookAtSpot(const Point& anchor) {
    doc::MapView view = m_workspace.view();
    view.centre = m_imageFrame.toMap()(anchor);
    m_workspace.setView(view);
}

void MapPane::zoomToPicked(doc::Id id) {
    const doc::SourceRef* source = m_workspace.document().source(id);
    if (!source || m_workspace.picked(id).empty())
        return m_workspace.say(tr("Nothing is picked"), true);
    m_workspace.showMap();
    m_fitWorker.start([this, from = *source, keys = m_workspace.picked(id),
                       sources = m_workspace.session().sources(),
                       crs = m_workspace.session().mapCrs()](const std::stop_token& stop) {
        const Box box = session::extentOf(from, *sources, crs, keys);
        if (box.isEmpty() || stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, box] { lookAt(box); });
    });
}

// All of a box; a single point keeps the scale.
void MapPane::lookAt(const Box& box) {
    const auto now = frame();
    doc::MapView view = m_workspace.view();
    if (box.width() > 0 || box.height() > 0) {
        const double room = std::max(box.width(), box.height()) * 0.15;
        view = carto::viewOf(box.grown(room), now.crs, now.widthPx, now.heightPx, now.pxPerMm);
    }
    view.centre = box.centre();
    m_workspace.setView(view);
}

}  // namespace ledge::app
