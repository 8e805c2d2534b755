#include "carto/map_renderer.h"

#include <QElapsedTimer>
#include <QObject>
#include <QPaintEngine>
#include <algorithm>

#include "carto/blending.h"
#include "carto/drawn_source.h"
#include "carto/grid_painter.h"
#include "document/kinds.h"

namespace ledge::carto {
namespace {
using doc::Blend;

QPainter::CompositionMode modeOf(Blend blend) {
    switch (blend) {
    case Blend::Normal: return QPainter::CompositionMode_SourceOver;
    case Blend::Multiply: return QPainter::CompositionMode_Multiply;
    case Blend::Screen: return QPainter::CompositionMode_Screen;
    case Blend::Overlay: return QPainter::CompositionMode_Overlay;
    case Blend::SoftLight: return QPainter::CompositionMode_SoftLight;
    }
    return QPainter::CompositionMode_SourceOver;
}

// Whether what is drawn at a place does not depend on where the frame ends.
struct IsTiled {
    bool operator()(const doc::VectorLayer&) const { return true; }
    bool operator()(const doc::HeightTint&) const { return true; }
    bool operator()(const doc::Steepness&) const { return true; }
    bool operator()(const doc::Hillshade&) const { return true; }
    bool operator()(const doc::RasterLayer& raster) const {
        return !raster.style.image || !raster.style.image->isOfView;  // limits of what is in view
    }
    bool operator()(const doc::Contours&) const { return false; }   // heights stand along lines
    bool operator()(const doc::GridLines&) const { return false; }  // numbers stand at the edge
    bool operator()(const doc::Group&) const { return false; }
    bool operator()(const doc::UnknownLayer&) const { return false; }
};

void paintSeas(QPainter& painter, std::span<const doc::DrawnLayer> layers, const MapFrame& frame) {
    for (const doc::DrawnLayer& one : layers)
        if (const auto* grid = one.layer->as<doc::GridLines>())
            for (const MapFrame& turn : turnsOf(frame))
                paintSea(painter, turn, grid->style, one.opacity);
}

// Pictures of whole frames kept for the next one.
constexpr std::size_t kMostKept = 64;
}  // namespace

bool isVectorKind(const doc::Layer& layer) { return doc::kindInfo(layer).isVector; }

Result<QImage> MapRenderer::picture(const doc::Document& document,
                                    const std::vector<doc::LayerPtr>& layers, const MapFrame& frame,
                                    const Progress& progress, MapReport& report,
                                    const Partial& partial) {
    auto image = ground(document, layers, frame, progress, report, partial);
    if (!image) return image;
    const auto drawn = doc::drawnLayers(layers, frame.groundScale());
    QPainter painter(&*image);
    paintNames({painter, painter}, document, drawn, frame, report);
    if (const auto done = tellTroubles(document, drawn, frame, progress, report); !done)
        return done.error();
    return image;
}

Result<LabelPictures> MapRenderer::labels(const doc::Document& document,
                                          const std::vector<doc::LayerPtr>& layers,
                                          const MapFrame& frame, const Progress& progress,
                                          MapReport& report) {
    const auto drawn = doc::drawnLayers(layers, frame.groundScale());
    LabelPictures out{emptyPicture(frame), emptyPicture(frame)};
    QPainter standing(&out.standing), coming(&out.coming);
    paintNames({standing, coming}, document, drawn, frame, report);
    if (const auto done = tellTroubles(document, drawn, frame, progress, report); !done)
        return done.error();
    return out;
}

// Pictures of layers that are no longer there are let go.
void MapRenderer::beginPicture(const doc::Document& document,
                               const std::vector<doc::LayerPtr>& layers) {
    std::set<doc::Id> ids;
    m_keptOff.clear();
    for (const doc::LayerPtr& layer : doc::allLayers(layers)) {
        ids.insert(layer->id);
        const auto* vector = layer->as<doc::VectorLayer>();
        if (!vector || vector->style.classing != doc::Classing::Dots) continue;
        const doc::Layer* other = document.layer(vector->style.dots.outside);
        const doc::SourceRef* source = other ? document.source(other->source) : nullptr;
        if (source) m_keptOff.emplace(layer->id, doc::readBy(*other, *source));
    }
    m_tiles.beginPicture(ids);
    const auto isGone = [&ids](const auto& kept) { return !ids.contains(kept.first); };
    std::erase_if(m_kept, isGone);
    std::erase_if(m_contours, isGone);
    std::erase_if(m_troubles, isGone);
    std::erase_if(m_symbolTroubles, isGone);
}

Result<QImage> MapRenderer::ground(const doc::Document& document,
                                   const std::vector<doc::LayerPtr>& layers, const MapFrame& frame,
                                   const Progress& progress, MapReport& report,
                                   const Partial& partial) {
    QImage image = emptyPicture(frame);
    const auto drawn = doc::drawnLayers(layers, frame.groundScale());
    beginPicture(document, layers);
    QPainter painter(&image);
    paintSeas(painter, drawn, frame);
    const auto sofar = [&](const QImage&) { partial(image.copy()); };
    if (const auto done = compose(painter, document, drawn, frame, progress, report,
                                  partial ? Partial(sofar) : Partial());
        !done)
        return done.error();
    return image;
}

Result<void> MapRenderer::paint(QPainter& painter, const doc::Document& document,
                                const std::vector<doc::LayerPtr>& layers, const MapFrame& frame,
                                const Progress& progress, MapReport& report,
                                const PaintHooks& hooks) {
    const auto begins = [&hooks](const MapPart& part) {
        if (hooks.partBegins) hooks.partBegins(part);
    };
    beginPicture(document, layers);
    const auto drawn = doc::drawnLayers(layers, frame.groundScale());
    std::size_t flat = 0;
    for (std::size_t i = 0; i < drawn.size(); ++i)
        if (!isVectorKind(*drawn[i].layer) ||
            (drawn[i].layer->blend != Blend::Normal && !hooks.canBlend))
            flat = i + 1;
    if (flat > 0) {
        begins({QObject::tr("Relief and pictures")});
        const auto done =
            paintFlat(painter, document, drawn, frame, progress.part(0, 0.7), report, flat, hooks);
        if (!done) return done;
    }
    if (flat == 0) {
        begins({QObject::tr("Sea")});
        paintSeas(painter, drawn, frame);
    }
    const bool isPicture =
        painter.paintEngine() && painter.paintEngine()->type() == QPaintEngine::Raster;
    const SourcesById sources(document);
    for (const doc::DrawnLayer& one : std::span(drawn).subspan(flat)) {
        if (progress.stopped()) return cancelled("drawing");
        const doc::SourceRef* source = sources.of(*one.layer);
        begins({QString::fromStdString(one.layer->name), one.opacity, one.layer->blend});
        painter.save();
        if (!hooks.partBegins) painter.setOpacity(painter.opacity() * one.opacity);
        Result<void> done;
        if (!source) done = noSource(*one.layer);
        // What is see-through as a layer is so where its features lie over each other, too.
        const bool isWhole = isPicture && one.opacity < 1;
        if (done && isWhole) {
            const auto pictures = layerPictures(*one.layer, *source, frame, progress);
            if (pictures)
                painter.drawImage(QPointF(0, 0), pictures->base);
            else
                done = pictures.error();
            m_kept.erase(one.layer->id);
        }
        for (const MapFrame& turn : turnsOf(frame))
            if (done && !isWhole) done = paintVectors(painter, *one.layer, *source, turn, progress);
        painter.restore();
        if (done) continue;
        if (done.error().code == ErrorCode::Cancelled) return done;
        report.problems.push_back({one.layer->id, done.error().text()});
    }
    begins({QObject::tr("Labels")});
    paintNames({painter, painter}, document, drawn, frame, report);
    return tellTroubles(document, drawn, frame, progress, report);
}

namespace {
// A part of a frame: rows from `top` on.
MapFrame stripOf(const MapFrame& frame, int top, int height) {
    MapFrame out = frame;
    out.heightPx = height;
    out.view.centre = frame.toMap()({frame.widthPx / 2.0, top + height / 2.0});
    return out;
}
}  // namespace

Result<void> MapRenderer::paintFlat(QPainter& painter, const doc::Document& document,
                                    std::span<const doc::DrawnLayer> layers, const MapFrame& frame,
                                    const Progress& progress, MapReport& report, std::size_t flat,
                                    const PaintHooks& hooks) {
    constexpr int kStripPixels = 4'000'000, kFewestRows = 128;
    const auto part = layers.first(flat);
    // Heights along contours are placed for the whole frame.
    const bool isWhole = std::any_of(part.begin(), part.end(), [](const doc::DrawnLayer& one) {
        return one.layer->template as<doc::Contours>();
    });
    const int rows = isWhole ? frame.heightPx : std::max(kFewestRows, kStripPixels / frame.widthPx);
    for (int top = 0; top < frame.heightPx; top += rows) {
        const int height = std::min(rows, frame.heightPx - top);
        const MapFrame strip = stripOf(frame, top, height);
        QImage image = emptyPicture(strip);
        image.fill(Qt::white);  // PDF viewers differ on soft masks; paper is opaque
        QPainter picture(&image);
        paintSeas(picture, layers, strip);
        MapReport own;
        const auto done = compose(picture, document, part, strip,
                                  progress.part(static_cast<double>(top) / frame.heightPx,
                                                static_cast<double>(top + height) / frame.heightPx),
                                  own);
        if (!done) return done;
        picture.end();
        if (hooks.picture) {
            const QRectF at(0, top, frame.widthPx, height);
            if (const auto put = hooks.picture(painter, at, image); !put) return put;
        } else {
            painter.drawImage(QPointF(0, top), image.convertToFormat(QImage::Format_RGB32));
        }
        // The same trouble in each strip is told once.
        for (auto& problem : own.problems)
            if (std::none_of(report.problems.begin(), report.problems.end(),
                             [&](const auto& known) {
                                 return known.layer == problem.layer && known.text == problem.text;
                             }))
                report.problems.push_back(std::move(problem));
    }
    // Pictures of a strip are of no use to anybody else.
    m_kept.clear();
    return {};
}

Result<void> MapRenderer::compose(QPainter& painter, const doc::Document& document,
                                  std::span<const doc::DrawnLayer> layers, const MapFrame& frame,
                                  const Progress& progress, MapReport& report,
                                  const Partial& partial) {
    constexpr qint64 kShowEvery = 250;  // ms
    QElapsedTimer sinceShown;
    sinceShown.start();
    double done = 0;
    const auto count = static_cast<double>(layers.size());
    const SourcesById sources(document);
    for (const doc::DrawnLayer& one : layers) {
        if (progress.stopped()) return cancelled("drawing");
        const doc::SourceRef* source = sources.of(*one.layer);
        ++done;
        if (source && isLight(one, *source, frame)) {
            painter.setOpacity(1);
            painter.setCompositionMode(QPainter::CompositionMode_SourceOver);
            for (const MapFrame& turn : turnsOf(frame))
                if (const auto fine = paintVectors(painter, *one.layer, *source, turn, progress);
                    !fine)
                    return fine;
            // They come so fast that they are shown together, a few times a second.
            if (partial && (&one == &layers.back() || sinceShown.elapsed() > kShowEvery)) {
                partial({});
                sinceShown.restart();
            }
            continue;
        }
        const auto pictures = source
                                  ? layerPictures(*one.layer, *source, frame,
                                                  progress.part((done - 1) / count, done / count))
                                  : Result<Pictures>(noSource(*one.layer));
        for (std::string& part : m_newDamage)
            report.problems.push_back({one.layer->id, std::move(part)});
        m_newDamage.clear();
        if (!pictures) {
            if (pictures.error().code == ErrorCode::Cancelled) return pictures.error();
            report.problems.push_back({one.layer->id, pictures.error().text()});
            continue;
        }
        blend(painter, pictures->base, modeOf(one.layer->blend), one.opacity);
        if (!pictures->screen.isNull())
            blend(painter, pictures->screen, QPainter::CompositionMode_Screen, one.opacity);
        if (partial) partial({});
        sinceShown.restart();
    }
    painter.setOpacity(1);
    painter.setCompositionMode(QPainter::CompositionMode_SourceOver);
    return {};
}

// A picture of its own costs more than painting a few shapes anew: projects may have a hundred
// thousand such layers.
bool MapRenderer::isLight(const doc::DrawnLayer& one, const doc::SourceRef& source,
                          const MapFrame& frame) const {
    constexpr std::size_t kFew = 500;
    if (!one.layer->as<doc::VectorLayer>() || one.opacity != 1 ||
        one.layer->blend != doc::Blend::Normal)
        return false;
    if (m_tiles.isFull()) return true;  // it would not be kept
    const auto features = m_data->features(source, frame.crs, frame.tolerance());
    if (!features || (*features)->table->size() > kFew) return false;
    std::size_t points = 0;
    for (const FeatureView f : *(*features)->table) points += f.geometry.points.size();
    return points <= kFew;
}

Result<MapRenderer::Pictures> MapRenderer::layerPictures(const doc::Layer& layer,
                                                         const doc::SourceRef& source,
                                                         const MapFrame& frame,
                                                         const Progress& progress) {
    const bool isTiled = m_keeping == Keeping::Tiles && std::visit(IsTiled{}, layer.content);
    if (isTiled && m_tiles.isFull()) return drawLayer(layer, source, frame, progress);
    if (isTiled) return tiledPictures(layer, source, frame, progress);
    const doc::Layer wanted = appearance(layer);
    const std::uint64_t data = versionOf(layer, source);
    if (const auto it = m_kept.find(layer.id); it != m_kept.end() && it->second.layer == wanted &&
                                               it->second.source == source &&
                                               it->second.data == data && it->second.frame == frame)
        return it->second.pictures;
    auto pictures = drawLayer(layer, source, frame, progress);
    if (pictures && (m_kept.size() < kMostKept || m_kept.contains(layer.id)))
        m_kept[layer.id] = {wanted, source, data, frame, *pictures};
    return pictures;
}

std::uint64_t MapRenderer::versionOf(const doc::Layer& layer, const doc::SourceRef& source) const {
    if (!doc::kindInfo(layer).needsSource) return 0;
    const std::uint64_t own = m_data->version(source);
    const auto other = m_keptOff.find(layer.id);
    return other == m_keptOff.end() ? own : own * 1'000'003 + m_data->version(other->second) + 1;
}

// What is missing is drawn in as few pieces as there can be, each kept as soon as it is there.
Result<MapRenderer::Pictures> MapRenderer::tiledPictures(const doc::Layer& layer,
                                                         const doc::SourceRef& source,
                                                         const MapFrame& frame,
                                                         const Progress& progress) {
    const Lattice lattice(frame);
    const TileStore::Version version{appearance(layer), source, versionOf(layer, source), lattice};
    const PixelRect wanted = lattice.pixelsOf(frame);
    const auto pieces = m_tiles.missing(version, wanted);
    for (std::size_t i = 0; i < pieces.size(); ++i) {
        const auto count = static_cast<double>(pieces.size());
        const auto drawn = drawLayer(
            layer, source, lattice.frameOf(pieces[i]),
            progress.part(static_cast<double>(i) / count, static_cast<double>(i + 1) / count));
        if (!drawn) return drawn.error();
        m_tiles.put(version, pieces[i], *drawn);
    }
    return m_tiles.assembled(version, wanted);
}

}  // namespace ledge::carto
