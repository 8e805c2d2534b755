#include "carto/map_renderer.h"

#include "carto/grid_painter.h"
#include "carto/name_labels.h"
#include "carto/raster_painter.h"
#include "carto/relief.h"
#include "carto/vector_painter.h"
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

// A layer without what is applied when its picture is laid down.
doc::Layer appearance(const doc::Layer& layer) {
    doc::Layer out = layer;
    out.isVisible = true;
    out.opacity = 1;
    out.name.clear();
    if (!out.as<doc::Hillshade>()) out.blend = Blend::Normal;
    if (auto* vector = out.as<doc::VectorLayer>()) vector->labels = {};
    return out;
}

QImage emptyPicture(const MapFrame& frame) {
    QImage image(frame.widthPx, frame.heightPx, QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::transparent);
    return image;
}

// Some kinds come from no file.
const doc::SourceRef* sourceOf(const doc::Document& document, const doc::Layer& layer) {
    static const doc::SourceRef none;
    return doc::kindInfo(layer).needsSource ? document.source(layer.source) : &none;
}

Error noSource(const doc::Layer& layer) {
    return {ErrorCode::NotFound, layer.name, "its source is not in the project",
            "remove the layer"};
}
}  // namespace

bool isVectorKind(const doc::Layer& layer) { return doc::kindInfo(layer).isVector; }

Result<QImage> MapRenderer::picture(const doc::Document& document,
                                    const std::vector<doc::LayerPtr>& layers, const MapFrame& frame,
                                    const Progress& progress, MapReport& report) {
    QImage image = emptyPicture(frame);
    const auto drawn = doc::drawnLayers(layers, frame.groundScale());
    QPainter painter(&image);
    if (const auto done = compose(painter, document, drawn, frame, progress, report); !done)
        return done.error();
    paintNames(painter, document, drawn, frame, report);
    return image;
}

Result<void> MapRenderer::paint(QPainter& painter, const doc::Document& document,
                                const std::vector<doc::LayerPtr>& layers, const MapFrame& frame,
                                const Progress& progress, MapReport& report) {
    const auto drawn = doc::drawnLayers(layers, frame.groundScale());
    std::size_t flat = 0;
    for (std::size_t i = 0; i < drawn.size(); ++i)
        if (!isVectorKind(*drawn[i].layer) || drawn[i].layer->blend != Blend::Normal) flat = i + 1;
    if (flat > 0) {
        QImage image = emptyPicture(frame);
        image.fill(Qt::white);  // PDF viewers differ on soft masks; paper is opaque
        QPainter picture(&image);
        const auto done = compose(picture, document, std::span(drawn).first(flat), frame,
                                  progress.part(0, 0.7), report);
        if (!done) return done;
        picture.end();
        painter.drawImage(QPointF(0, 0), image.convertToFormat(QImage::Format_RGB32));
    }
    for (const doc::DrawnLayer& one : std::span(drawn).subspan(flat)) {
        if (progress.stopped()) return cancelled("drawing");
        const doc::SourceRef* source = sourceOf(document, *one.layer);
        painter.save();
        painter.setOpacity(one.opacity);
        const auto done = source ? paintVectors(painter, *one.layer, *source, frame, progress)
                                 : Result<void>(noSource(*one.layer));
        painter.restore();
        if (done) continue;
        if (done.error().code == ErrorCode::Cancelled) return done;
        report.problems.push_back({one.layer->id, done.error().text()});
    }
    paintNames(painter, document, drawn, frame, report);
    return {};
}

Result<void> MapRenderer::compose(QPainter& painter, const doc::Document& document,
                                  std::span<const doc::DrawnLayer> layers, const MapFrame& frame,
                                  const Progress& progress, MapReport& report) {
    double done = 0;
    const auto count = static_cast<double>(layers.size());
    for (const doc::DrawnLayer& one : layers) {
        if (progress.stopped()) return cancelled("drawing");
        const auto pictures = layerPictures(document, *one.layer, frame,
                                            progress.part(done / count, (done + 1) / count));
        ++done;
        for (std::string& part : m_newDamage)
            report.problems.push_back({one.layer->id, std::move(part)});
        m_newDamage.clear();
        if (!pictures) {
            if (pictures.error().code == ErrorCode::Cancelled) return pictures.error();
            report.problems.push_back({one.layer->id, pictures.error().text()});
            continue;
        }
        painter.setOpacity(one.opacity);
        painter.setCompositionMode(modeOf(one.layer->blend));
        painter.drawImage(0, 0, pictures->base);
        if (!pictures->screen.isNull()) {
            painter.setCompositionMode(QPainter::CompositionMode_Screen);
            painter.drawImage(0, 0, pictures->screen);
        }
    }
    painter.setOpacity(1);
    painter.setCompositionMode(QPainter::CompositionMode_SourceOver);
    return {};
}

Result<MapRenderer::Pictures> MapRenderer::layerPictures(const doc::Document& document,
                                                         const doc::Layer& layer,
                                                         const MapFrame& frame,
                                                         const Progress& progress) {
    const doc::SourceRef* source = sourceOf(document, layer);
    if (!source) return noSource(layer);
    const doc::Layer wanted = appearance(layer);
    if (const auto it = m_kept.find(layer.id); it != m_kept.end() && it->second.layer == wanted &&
                                               it->second.source == *source &&
                                               it->second.frame == frame)
        return it->second.pictures;
    auto pictures = drawLayer(layer, *source, frame, progress);
    if (pictures) m_kept[layer.id] = {wanted, *source, frame, *pictures};
    return pictures;
}

Result<std::shared_ptr<const Grid<float>>> MapRenderer::cells(const doc::SourceRef& source,
                                                              int band, Resampling resampling,
                                                              const MapFrame& frame,
                                                              const Progress& progress) {
    const std::tuple key{source.id, band, resampling};
    if (const auto it = m_heights.find(key);
        it != m_heights.end() && it->second.source == source && it->second.frame == frame)
        return it->second.heights;
    const auto pyramid = m_data->raster(source, band);
    if (!pyramid) return pyramid.error();
    auto read = frameHeights(**pyramid, frame, resampling, progress);
    if (!read) return read.error();
    const auto damage = (*pyramid)->source().damage();
    std::size_t& told = m_damageTold[source.id];
    for (; told < damage.size(); ++told) m_newDamage.push_back(damage[told]);
    auto kept = std::make_shared<const Grid<float>>(*std::move(read));
    m_heights[key] = {source, frame, kept};
    return kept;
}

Result<std::shared_ptr<const ContourDrawing>> MapRenderer::contours(const doc::Layer& layer,
                                                                    const doc::SourceRef& source,
                                                                    const MapFrame& frame,
                                                                    const Progress& progress) {
    const doc::Layer wanted = appearance(layer);
    if (const auto it = m_contours.find(layer.id);
        it != m_contours.end() && it->second.layer == wanted && it->second.source == source &&
        it->second.frame == frame)
        return it->second.drawing;
    const auto pyramid = m_data->raster(source);
    if (!pyramid) return pyramid.error();
    const doc::ContourStyle& style = layer.as<doc::Contours>()->style;
    KeptField& field = m_fields[source.id];
    if (!field.field || !(field.source == source) || !(field.frame == frame) ||
        field.smoothing != style.smoothing) {
        auto made = contourField(**pyramid, frame, style.smoothing, metresPerHeight(source),
                                 progress.part(0, 0.5));
        if (!made) return made.error();
        field = {source, frame, style.smoothing,
                 std::make_shared<const ContourField>(*std::move(made))};
    }
    auto drawing = traceContours(*field.field, frame, style, progress.part(0.5, 1));
    if (!drawing) return drawing.error();
    auto kept = std::make_shared<const ContourDrawing>(*std::move(drawing));
    m_contours[layer.id] = {wanted, source, frame, kept};
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
        return Pictures{tinted(**heights, tint.style.ramp, metresPerHeight(source)), {}};
    }
    Drawn operator()(const doc::Steepness& steep) const {
        const auto heights = read();
        if (!heights) return heights.error();
        auto image =
            steepnessPicture(**heights, frame, steep.style, metresPerHeight(source), progress.stop);
        if (!image) return image.error();
        return Pictures{*std::move(image), {}};
    }
    Drawn operator()(const doc::Hillshade& shade) const {
        const auto heights = read();
        if (!heights) return heights.error();
        const double metres = metresPerHeight(source);
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
    Result<std::shared_ptr<const Grid<float>>> read() const {
        return renderer.cells(source, 0, Resampling::Cubic, frame, progress);
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
    const auto features = m_data->features(source, frame.crs);
    if (!features) return features.error();
    return paintFeatures(painter, frame, **features, vector->style, progress);
}

Result<MapRenderer::Pictures> MapRenderer::drawLayer(const doc::Layer& layer,
                                                     const doc::SourceRef& source,
                                                     const MapFrame& frame,
                                                     const Progress& progress) {
    return std::visit(Drawing{*this, layer, source, frame, progress}, layer.content);
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

void MapRenderer::paintNames(QPainter& painter, const doc::Document& document,
                             std::span<const doc::DrawnLayer> layers, const MapFrame& frame,
                             MapReport& report) {
    NameLabels names(frame);
    for (auto it = layers.rbegin(); it != layers.rend(); ++it) {
        const doc::Layer& layer = *it->layer;
        if (const auto kept = m_contours.find(layer.id);
            layer.as<doc::Contours>() && kept != m_contours.end() && kept->second.frame == frame)
            for (const auto& label : kept->second.drawing->labels) names.avoid(label.boxes);
        const auto* vector = layer.as<doc::VectorLayer>();
        const doc::SourceRef* source = document.source(layer.source);
        if (!vector || !source) continue;
        const bool isLabelled = vector->labels.isOn && !vector->labels.field.empty();
        if (!isLabelled && vector->geometry != GeometryType::Point) continue;
        const auto features = m_data->features(*source, frame.crs);
        if (features) names.add(**features, *vector);
    }
    const NameLabels::Count count = names.paint(painter);
    report.labelsPlaced = count.placed;
    report.labelsWithoutRoom = count.withoutRoom;
}

}  // namespace ledge::carto
