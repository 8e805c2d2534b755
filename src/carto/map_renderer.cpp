#include "carto/map_renderer.h"

#include <QElapsedTimer>
#include <QObject>
#include <QPaintEngine>
#include <algorithm>
#include <unordered_map>

#include "carto/blending.h"
#include "carto/globe_outline.h"
#include "carto/grid_painter.h"
#include "carto/name_labels.h"
#include "carto/raster_painter.h"
#include "carto/relief.h"
#include "carto/symbol_troubles.h"
#include "carto/vector_painter.h"
#include "document/contour_scale.h"
#include "document/kinds.h"
#include "document/look_finder.h"

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

// A layer without what is applied when its picture is laid down.
doc::Layer appearance(const doc::Layer& layer) {
    doc::Layer out = layer;
    out.isVisible = true;
    out.opacity = 1;
    out.name.clear();
    if (!out.as<doc::Hillshade>()) out.blend = Blend::Normal;
    if (auto* vector = out.as<doc::VectorLayer>())
        vector->labels.clear(), vector->keepsLabelsOff = 1;
    return out;
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

QImage emptyPicture(const MapFrame& frame) {
    QImage image(frame.widthPx, frame.heightPx, QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::transparent);
    return image;
}

// The sources of a document by what layers call them; some kinds come from no file.
class SourcesById {
public:
    explicit SourcesById(const doc::Document& document) {
        for (const doc::SourceRef& source : document.sources) m_byId.emplace(source.id, &source);
    }
    const doc::SourceRef* of(const doc::Layer& layer) const {
        static const doc::SourceRef none;
        if (!doc::kindInfo(layer).needsSource) return &none;
        const auto it = m_byId.find(layer.source);
        if (it == m_byId.end()) return nullptr;
        const auto* vector = layer.as<doc::VectorLayer>();
        if (!vector || vector->filter.empty()) return it->second;
        return &m_filtered.try_emplace(layer.id, doc::readBy(layer, *it->second)).first->second;
    }

private:
    std::unordered_map<doc::Id, const doc::SourceRef*> m_byId;
    mutable std::unordered_map<doc::Id, doc::SourceRef> m_filtered;  ///< by layer
};

Error noSource(const doc::Layer& layer) {
    return {ErrorCode::NotFound, layer.name, "its source is not in the project",
            "remove the layer"};
}
}  // namespace

namespace {
void addTo(QImage& picture, const QImage& more) {
    if (picture.isNull()) {
        picture = more;
        return;
    }
    if (more.isNull()) return;
    QPainter painter(&picture);
    painter.drawImage(0, 0, more);
}

void paintSeas(QPainter& painter, std::span<const doc::DrawnLayer> layers, const MapFrame& frame) {
    for (const doc::DrawnLayer& one : layers)
        if (const auto* grid = one.layer->as<doc::GridLines>())
            for (const MapFrame& turn : turnsOf(frame))
                paintSea(painter, turn, grid->style, one.opacity);
}
}  // namespace

namespace {
// Pictures of whole frames kept for the next one.
constexpr std::size_t kMostKept = 64;
}  // namespace

namespace {
bool isLabelled(const doc::DrawnLayer& one) {
    const auto* vector = one.layer->as<doc::VectorLayer>();
    return vector && std::any_of(vector->labels.begin(), vector->labels.end(),
                                 [](const doc::LabelStyle& labels) {
                                     return labels.isOn && !labels.text.empty();
                                 });
}
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

// What a style or a label asks for and its table cannot give: the rest is drawn.
Result<void> MapRenderer::tellTroubles(const doc::Document& document,
                                       std::span<const doc::DrawnLayer> layers,
                                       const MapFrame& frame, const Progress& progress,
                                       MapReport& report) {
    const SourcesById sources(document);
    for (const doc::DrawnLayer& one : layers) {
        const auto* vector = one.layer->as<doc::VectorLayer>();
        const doc::SourceRef* source = vector ? sources.of(*one.layer) : nullptr;
        if (!source) continue;
        for (std::string& why : fontsAndDrawings(*one.layer))
            report.problems.push_back({one.layer->id, std::move(why)});
        if (doc::formulasOf(*vector).empty()) continue;
        const auto features = m_data->features(*source, frame.crs, frame.tolerance());
        if (!features) continue;
        auto said = troublesOf(*one.layer, *source, *(*features)->table, progress);
        if (!said) return said.error();
        for (std::string& why : *said) report.problems.push_back({one.layer->id, std::move(why)});
    }
    return {};
}

// Found once for a layer as it is.
std::vector<std::string> MapRenderer::fontsAndDrawings(const doc::Layer& layer) {
    const auto& vector = *layer.as<doc::VectorLayer>();
    KeptSymbols& kept = m_symbolTroubles[layer.id];
    if (!(kept.style == vector.style && kept.labels == vector.labels))
        kept = {vector.style, vector.labels, symbolTroubles(vector)};
    return kept.said;
}

// Found once for what is asked and the data it is asked of.
Result<std::vector<std::string>> MapRenderer::troublesOf(const doc::Layer& layer,
                                                         const doc::SourceRef& source,
                                                         const FeatureTable& table,
                                                         const Progress& progress) {
    const auto& vector = *layer.as<doc::VectorLayer>();
    auto formulas = doc::formulasOf(vector);
    const std::uint64_t data = m_data->version(source);
    if (const auto it = m_troubles.find(layer.id);
        it != m_troubles.end() && it->second.formulas == formulas && it->second.source == source &&
        it->second.data == data)
        return it->second.said;
    auto said = doc::rowTroubles(vector, table, {progress.stop, {}});
    if (!said) return said;
    if (std::string why = doc::troubleOf(vector, table.info); !why.empty())
        said->insert(said->begin(), std::move(why));
    m_troubles[layer.id] = {std::move(formulas), source, data, *said};
    return said;
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

Result<std::shared_ptr<const Grid<float>>>
MapRenderer::cells(const doc::SourceRef& source, int band, Resampling resampling,
                   const MapFrame& frame, const Progress& progress, bool isForRelief) {
    // A few, so that layers of one source share what each of the pieces of a pan was read for.
    constexpr std::size_t kMost = 8;
    const std::tuple key{source.id, band, resampling, isForRelief};
    const std::uint64_t data = m_data->version(source);
    const auto it = std::find_if(m_heights.begin(), m_heights.end(), [&](const KeptHeights& kept) {
        return kept.key == key && kept.data == data && kept.source == source && kept.frame == frame;
    });
    if (it != m_heights.end()) return it->heights;
    const auto pyramid = m_data->raster(source, band);
    if (!pyramid) return pyramid.error();
    auto read = frameHeights(**pyramid, frame, resampling, progress,
                             isForRelief ? reliefSmoothing(**pyramid, frame) : 0);
    if (!read) return read.error();
    const auto damage = (*pyramid)->source().damage();
    std::size_t& told = m_damageTold[source.id];
    // The first few are told, then that there are more.
    constexpr std::size_t kTold = 3;
    for (; told < std::min(damage.size(), kTold); ++told) m_newDamage.push_back(damage[told]);
    if (told == kTold && damage.size() > kTold) {
        m_newDamage.push_back(source.name + ": more of its blocks cannot be read");
        ++told;
    }
    auto kept = std::make_shared<const Grid<float>>(*std::move(read));
    if (m_keeping == Keeping::Frame)  // at print size one frame is much
        std::erase_if(m_heights, [&](const KeptHeights& k) { return !(k.frame == frame); });
    m_heights.push_front({key, source, data, frame, kept});
    if (m_heights.size() > kMost) m_heights.pop_back();
    return kept;
}

// The boxes of the labels that stood on the frame before, in the pixels of this one.
std::vector<Box> MapRenderer::standing(const MapFrame& frame) const {
    std::vector<Box> out;
    const Point shift = frame.toPixels()(m_labelled.toMap()({0, 0}));
    for (const auto& [of, place] : m_labelPlaces)
        for (const Box& box : place.boxes)
            out.push_back(
                {box.xMin + shift.x, box.yMin + shift.y, box.xMax + shift.x, box.yMax + shift.y});
    return out;
}

Result<std::shared_ptr<const ContourDrawing>> MapRenderer::contours(const doc::Layer& layer,
                                                                    const doc::SourceRef& source,
                                                                    const MapFrame& frame,
                                                                    const Progress& progress) {
    const doc::Layer wanted = appearance(layer);
    const std::uint64_t data = m_data->version(source);
    if (const auto it = m_contours.find(layer.id);
        it != m_contours.end() && it->second.layer == wanted && it->second.source == source &&
        it->second.data == data && it->second.frame == frame)
        return it->second.drawing;
    const auto pyramid = m_data->raster(source);
    if (!pyramid) return pyramid.error();
    const doc::ContourStyle style =
        doc::contoursAt(layer.as<doc::Contours>()->style, frame.groundScale());
    KeptField& field = m_fields[source.id];
    if (!field.field || !(field.source == source) || field.data != data ||
        !(field.frame == frame) || field.smoothing != style.smoothing) {
        auto made = contourField(**pyramid, frame, style.smoothing, doc::metresPerHeight(source),
                                 progress.part(0, 0.5));
        if (!made) return made.error();
        field = {source, data, frame, style.smoothing,
                 std::make_shared<const ContourField>(*std::move(made))};
    }
    // Of a map that is panned labels stay where they stood.
    const auto last = m_contours.find(layer.id);
    const bool isPanned = m_keeping == Keeping::Tiles && last != m_contours.end() &&
                          last->second.layer == wanted && last->second.source == source &&
                          last->second.data == data &&
                          crs::isSame(last->second.frame.crs, frame.crs) &&
                          last->second.frame.view.scale == frame.view.scale &&
                          last->second.frame.view.rotation == frame.view.rotation;
    auto drawing =
        isPanned ? traceContours(*field.field, frame, style, progress.part(0.5, 1),
                                 last->second.drawing.get(), last->second.frame, standing(frame))
                 : traceContours(*field.field, frame, style, progress.part(0.5, 1));
    if (!drawing) return drawing.error();
    auto kept = std::make_shared<const ContourDrawing>(*std::move(drawing));
    m_contours[layer.id] = {wanted, source, data, frame, kept};
    return kept;
}

// How each kind is drawn: one function a kind, and none for those that are missing here.
struct MapRenderer::Drawing {
    MapRenderer& renderer;
    const doc::Layer& layer;
    const doc::SourceRef& source;
    const MapFrame& frame;
    const Progress& progress;

    using Drawn = Result<Pictures>;

    Drawn operator()(const doc::VectorLayer&) const { return ofVectors(); }
    Drawn operator()(const doc::GridLines&) const { return ofVectors(); }
    Drawn operator()(const doc::Contours& lines) const {
        const auto drawing = renderer.contours(layer, source, frame, progress);
        if (!drawing) return drawing.error();
        Pictures out{emptyPicture(frame), {}};
        paintContours(out.base, frame, **drawing, lines.style);
        return out;
    }
    Drawn operator()(const doc::RasterLayer& raster) const {
        return renderer.drawRaster(raster.style, source, frame, progress);
    }
    Drawn operator()(const doc::HeightTint& tint) const {
        const auto heights = read();
        if (!heights) return heights.error();
        return Pictures{tinted(**heights, tint.style.ramp, doc::metresPerHeight(source)), {}};
    }
    Drawn operator()(const doc::Steepness& steep) const {
        const auto heights = read(true);
        if (!heights) return heights.error();
        auto image = steepnessPicture(**heights, frame, steep.style, doc::metresPerHeight(source),
                                      progress.stop);
        if (!image) return image.error();
        return Pictures{*std::move(image), {}};
    }
    Drawn operator()(const doc::Hillshade& shade) const {
        const auto heights = read(true);
        if (!heights) return heights.error();
        const double metres = doc::metresPerHeight(source);
        Grid<float> reached;
        if (shade.style.hasShadows) {
            const auto pyramid = renderer.m_data->raster(source);
            if (!pyramid) return pyramid.error();
            auto share = lightShares(**pyramid, frame, **heights, shade.style, metres, progress);
            if (!share) return share.error();
            reached = *std::move(share);
        }
        if (layer.blend == Blend::Multiply) {
            auto images =
                shadePictures(**heights, frame, shade.style, metres, reached, progress.stop);
            if (!images) return images.error();
            return Pictures{std::move(images->shade), std::move(images->light)};
        }
        auto image = plainShade(**heights, frame, shade.style, metres, reached, progress.stop);
        if (!image) return image.error();
        return Pictures{*std::move(image), {}};
    }
    Drawn operator()(const doc::Group&) const {
        return Error{ErrorCode::InvalidArgument, layer.name, "a group draws by its layers", ""};
    }
    Drawn operator()(const doc::UnknownLayer& unknown) const {
        return Error{ErrorCode::Unsupported, layer.name,
                     "is of a kind (" + unknown.kind + ") that this version does not know",
                     "open the project with a newer version; here it is kept as it is"};
    }

private:
    Drawn ofVectors() const {
        Pictures out{emptyPicture(frame), {}};
        QPainter painter(&out.base);
        if (const auto done = renderer.paintVectors(painter, layer, source, frame, progress); !done)
            return done.error();
        return out;
    }
    Result<std::shared_ptr<const Grid<float>>> read(bool isForRelief = false) const {
        return renderer.cells(source, 0, Resampling::Cubic, frame, progress, isForRelief);
    }
};

Result<void> MapRenderer::paintVectors(QPainter& painter, const doc::Layer& layer,
                                       const doc::SourceRef& source, const MapFrame& frame,
                                       const Progress& progress) {
    if (const auto* grid = layer.as<doc::GridLines>())
        return paintGridLines(painter, frame, grid->style, progress);
    if (const auto* lines = layer.as<doc::Contours>()) {
        const auto drawing = contours(layer, source, frame, progress);
        if (!drawing) return drawing.error();
        paintContours(painter, frame, **drawing, lines->style);
        return {};
    }
    const auto* vector = layer.as<doc::VectorLayer>();
    if (!vector) return {};
    const auto features = m_data->features(source, frame.crs, frame.tolerance());
    if (!features) return features.error();
    std::shared_ptr<const doc::MapFeatures> keptOff;
    if (const auto other = m_keptOff.find(layer.id); other != m_keptOff.end())
        if (auto read = m_data->features(other->second, frame.crs)) keptOff = *read;
    return paintFeatures(painter, frame, **features, vector->style, progress, keptOff.get());
}

Result<MapRenderer::Pictures> MapRenderer::drawLayer(const doc::Layer& layer,
                                                     const doc::SourceRef& source,
                                                     const MapFrame& frame,
                                                     const Progress& progress) {
    Pictures out;
    for (const MapFrame& turn : turnsOf(frame)) {
        auto drawn = std::visit(Drawing{*this, layer, source, turn, progress}, layer.content);
        if (!drawn) return drawn;
        if (!isVectorKind(layer)) {
            const GlobeOutline globe(turn);
            globe.smoothen(drawn->base);
            globe.smoothen(drawn->screen);
        }
        addTo(out.base, drawn->base);
        addTo(out.screen, drawn->screen);
    }
    return out;
}

Result<MapRenderer::Pictures> MapRenderer::drawRaster(const doc::RasterStyle& style,
                                                      const doc::SourceRef& source,
                                                      const MapFrame& frame,
                                                      const Progress& progress) {
    Pictures out;
    if (!style.image) {
        const bool isClassed = !style.classes.empty();
        const auto way = isClassed || style.showsCells ? Resampling::Nearest : Resampling::Cubic;
        const auto read = cells(source, style.band, way, frame, progress);
        if (!read) return read.error();
        out.base = isClassed ? classPicture(**read, style.classes) : tinted(**read, style.ramp, 1);
        return out;
    }
    std::array<Grid<float>, 3> channels;
    for (std::size_t i = 0; i < 3; ++i) {
        const double from = static_cast<double>(i) / 3;
        const auto read = cells(source, style.image->bands[i], Resampling::Bilinear, frame,
                                progress.part(from, from + 1.0 / 3));
        if (!read) return read.error();
        channels[i] = **read;
    }
    const auto pyramid = m_data->raster(source);
    if (!pyramid) return pyramid.error();
    const auto& bands = (*pyramid)->source().info().bands;
    Grid<float> alpha;
    for (std::size_t i = 0; i < bands.size(); ++i) {
        if (bands[i].role != BandRole::Alpha) continue;
        const auto read = cells(source, static_cast<int>(i), Resampling::Bilinear, frame, progress);
        if (!read) return read.error();
        alpha = **read;
    }
    out.base = imagePicture(channels, alpha, *style.image);
    return out;
}

void MapRenderer::paintNames(const LabelPainters& painters, const doc::Document& document,
                             std::span<const doc::DrawnLayer> layers, const MapFrame& frame,
                             MapReport& report) {
    const bool isMoved = m_keeping == Keeping::Tiles && m_labelled.view.scale == frame.view.scale &&
                         m_labelled.view.rotation == frame.view.rotation &&
                         m_labelled.pxPerMm == frame.pxPerMm &&
                         crs::isSame(m_labelled.crs, frame.crs);
    if (!isMoved) m_labelPlaces.clear();
    const LabelPlaces before = std::exchange(m_labelPlaces, {});
    m_labelled = frame;
    for (const MapFrame& turn : turnsOf(frame))
        paintNamesOf(painters, document, layers, turn, before, report);
    // What left or found no room comes back where it stood.
    constexpr std::size_t kMostRemembered = 50'000;
    if (before.size() < kMostRemembered)
        for (const auto& [of, place] : before)
            m_labelPlaces.emplace(of, LabelPlace{place.origin, place.angleRadians, {}});
}

void MapRenderer::paintNamesOf(const LabelPainters& painters, const doc::Document& document,
                               std::span<const doc::DrawnLayer> layers, const MapFrame& frame,
                               const LabelPlaces& before, MapReport& report) {
    // Marks and lines only stand in the way of labels.
    if (std::none_of(layers.begin(), layers.end(), isLabelled)) return;
    NameLabels names(frame, &before, m_effort);
    const SourcesById sources(document);
    for (auto it = layers.rbegin(); it != layers.rend(); ++it) {
        const doc::Layer& layer = *it->layer;
        if (const auto kept = m_contours.find(layer.id);
            layer.as<doc::Contours>() && kept != m_contours.end() && kept->second.frame == frame)
            for (std::size_t i = 0; i < kept->second.drawing->labels.size(); ++i)
                names.pin({layer.id, static_cast<std::int64_t>(i), 0},
                          kept->second.drawing->labels[i].boxes);
        const auto* vector = layer.as<doc::VectorLayer>();
        const doc::SourceRef* source = sources.of(layer);
        if (!vector || !source) continue;
        if (!isLabelled(*it) && !(vector->keepsLabelsOff > 0)) continue;
        const auto features = m_data->features(*source, frame.crs, frame.tolerance());
        if (features) names.add(**features, *vector, layer.id);
    }
    auto outcome = names.paint(painters);
    const Affine toMap = frame.toMap();
    for (MapLabel& label : outcome.placed) {
        m_labelPlaces[label.of] = {toMap(label.origin), label.angleRadians, label.boxes};
        report.labels.push_back(std::move(label));
    }
    for (LabelLeftOut& one : outcome.leftOut) report.leftOut.push_back(std::move(one));
}

}  // namespace ledge::carto
