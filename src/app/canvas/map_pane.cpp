#include "app/canvas/map_pane.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QStyle>

#include "app/theme.h"
#include "carto/scale_bar.h"
#include "carto/text.h"
#include "carto/vector_painter.h"
#include "core/globe/around.h"
#include "core/globe/raster_extent.h"
#include "document/edits/layer_edits.h"
#include "io/registry.h"
#include "session/picking.h"

namespace ledge::app {
namespace {
constexpr double kWheelFactor = 1.2;
constexpr int kProbeReachPx = 5;
constexpr int kSnapReachPx = 10;
constexpr double kScreenPxPerMm = 96 / 25.4;
constexpr int kCountryDelayMs = 150;
// The picture of the country around spans so many maps each way, at as many times coarser pixels.
constexpr double kCountrySpan = 5;
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
    m_wheelEnd.setSingleShot(true);
    m_wheelEnd.setInterval(120);
    connect(&m_wheelEnd, &QTimer::timeout, this, [this] {
        m_isWheeling = false;
        redraw();
    });
    m_countryLater.setSingleShot(true);
    m_countryLater.setInterval(kCountryDelayMs);
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
    painter.fillRect(rect(), theme().isDark ? QColor("#2A2D45") : QColor("#EDEEF4"));
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
    paintComparison(painter, now.pxPerMm, now.widthPx);
    paintProfileMarks(painter, now);
    if (m_workspace.document().layers.empty()) {
        painter.scale(ratio, ratio);
        painter.setPen(theme().muted);
        painter.drawText(rect(), Qt::AlignCenter,
                         tr("Drop data here, or press Ctrl+Shift+A to add some.\n%1 can be read.")
                             .arg(QString::fromStdString(io::formatWords())));
        return;
    }
    const double mm = now.pxPerMm;
    const carto::ScaleBar bar = carto::scaleBarFor(now, std::min(now.widthPx / 3.5, 45 * mm),
                                                   m_workspace.document().display.lengths);
    const double left = 4 * mm, bottom = now.heightPx - 4 * mm;
    const QRectF plate(left, bottom - 8.5 * mm, bar.lengthPx + 13 * mm, 8.5 * mm);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    QColor back = theme().surface;
    back.setAlpha(225);
    painter.setBrush(back);
    painter.drawRoundedRect(plate, 1.6 * mm, 1.6 * mm);
    const QColor t = theme().text;
    carto::paintScaleBar(painter, {left + 4 * mm, bottom - 2 * mm}, bar, 7.5, mm,
                         {std::uint8_t(t.red()), std::uint8_t(t.green()), std::uint8_t(t.blue())});
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

void MapPane::paintCurtain(QPainter& painter) {
    const carto::MapFrame now = frame();
    const double x = m_curtain * now.widthPx, mm = now.pxPerMm;
    if (!m_behind.isNull()) {
        painter.save();
        painter.setClipRect(QRectF(x, 0, now.widthPx - x, now.heightPx));
        painter.fillRect(QRectF(x, 0, now.widthPx - x, now.heightPx),
                         theme().isDark ? QColor("#2A2D45") : QColor("#EDEEF4"));
        paintPicture(painter, m_behind, m_behindFrame);
        painter.restore();
    }
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(QColor(255, 255, 255, 230), 1.1 * mm));
    painter.drawLine(QPointF(x, 0), QPointF(x, now.heightPx));
    painter.setPen(QPen(theme().lichen, 0.5 * mm));
    painter.drawLine(QPointF(x, 0), QPointF(x, now.heightPx));
    painter.setBrush(theme().lichen);
    painter.setPen(QPen(Qt::white, 0.5 * mm));
    painter.drawEllipse(QPointF(x, now.heightPx / 2.0), 2 * mm, 2 * mm);
    const auto* layer = m_workspace.layer();
    const QString name = layer ? QString::fromStdString(layer->name) : tr("no layer selected");
    const carto::TextStyle style{9, true, false, {0x23, 0x26, 0x5A}, true, 0};
    const auto* other = m_workspace.document().layer(m_workspace.comparedLayer());
    const bool isPair = layer && other && canCompare(m_workspace.document(), layer->id, other->id);
    const QString with = isPair ? name : tr("with %1").arg(name);
    const QString without = isPair ? QString::fromStdString(other->name) : tr("without it");
    // Beside the handle, where no scale bar and no tools lie; each on its side or not at all.
    const double baseline = now.heightPx / 2.0 - 4 * mm;
    const double left = x - carto::measure(with, style, mm).width - 3 * mm;
    if (left > 0) carto::drawText(painter, {left, baseline}, 0, with, style, mm);
    if (x + 3 * mm + carto::measure(without, style, mm).width < now.widthPx)
        carto::drawText(painter, {x + 3 * mm, baseline}, 0, without, style, mm);
    painter.restore();
}

// While two are compared the map does not show what the lamps say; it says so itself.
void MapPane::paintComparison(QPainter& painter, double mm, double widthPx) {
    const auto* one = m_workspace.layer();
    const auto* other = m_workspace.document().layer(m_workspace.comparedLayer());
    if (hasCurtain() || !one || !other || !canCompare(m_workspace.document(), one->id, other->id))
        return;
    const auto& shown = m_isBlinking ? *other : *one;
    const QString said = m_isBlinking ? QString::fromStdString(shown.name)
                                      : tr("%1 · hold B for %2")
                                            .arg(QString::fromStdString(shown.name),
                                                 QString::fromStdString(other->name));
    const carto::TextStyle style{9, true, false, {0x23, 0x26, 0x5A}, false, 0};
    const auto size = carto::measure(said, style, mm);
    const QRectF plate(widthPx / 2 - size.width / 2 - 4 * mm, 14 * mm, size.width + 8 * mm, 7 * mm);
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme().lichen, 0.4 * mm));
    painter.setBrush(QColor(246, 246, 251, 235));
    painter.drawRoundedRect(plate, 3.5 * mm, 3.5 * mm);
    carto::drawText(painter, {plate.left() + 4 * mm, plate.bottom() - 2.3 * mm}, 0, said, style,
                    mm);
    painter.restore();
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

Point MapPane::mapAt(QPointF position) const {
    const double ratio = devicePixelRatioF();
    return frame().toMap()({position.x() * ratio, position.y() * ratio});
}

void MapPane::lookAtSpot(const Point& anchor) {
    doc::MapView view = m_workspace.view();
    view.centre = m_imageFrame.toMap()(anchor);
    m_workspace.setView(view);
}

Point MapPane::pixelOf(QPointF position) const {
    const double ratio = devicePixelRatioF();
    return {position.x() * ratio, position.y() * ratio};
}

double MapPane::mapReach(int px) const { return px * devicePixelRatioF() * frame().unitsPerPx(); }

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

void MapPane::setProfileLine(std::vector<Point> line) {
    m_profileLine = std::move(line);
    update();
}

void MapPane::setProfileMark(Point at) {
    m_profileMark = at;
    update();
}

// The line of the profile in the drawer and the place its chart points at.
void MapPane::paintProfileMarks(QPainter& painter, const carto::MapFrame& now) const {
    const Affine toPx = now.toPixels();
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    if (m_profileLine.size() > 1 && (!drawsPath() || m_measuring.points().empty())) {
        QPolygonF line;
        for (const Point p : m_profileLine) line << carto::qt(toPx(p));
        painter.setPen(QPen(Qt::white, 4 * now.pxPerMm / 4));
        painter.drawPolyline(line);
        painter.setPen(QPen(theme().indigo, 2 * now.pxPerMm / 4));
        painter.drawPolyline(line);
    }
    if (m_profileMark.isFinite()) {
        const double radius = 1.3 * now.pxPerMm;
        painter.setPen(QPen(Qt::white, 0.5 * now.pxPerMm));
        painter.setBrush(theme().lichen);
        painter.drawEllipse(carto::qt(toPx(m_profileMark)), radius, radius);
    }
    painter.restore();
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
