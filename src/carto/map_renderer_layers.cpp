// How MapRenderer draws one layer, and what it keeps for the next time.
#include <algorithm>
#include <array>

#include "carto/drawn_source.h"
#include "carto/globe_outline.h"
#include "carto/grid_painter.h"
#include "carto/map_renderer.h"
#include "carto/raster_painter.h"
#include "carto/relief.h"
#include "carto/vector_painter.h"
#include "document/contour_scale.h"

namespace ledge::carto {

doc::Layer appearance(const doc::Layer& layer) {
    doc::Layer out = layer;
    out.isVisible = true;
    out.opacity = 1;
    out.name.clear();
    if (!out.as<doc::Hillshade>()) out.blend = doc::Blend::Normal;
    if (auto* vector = out.as<doc::VectorLayer>())
        vector->labels.clear(), vector->keepsLabelsOff = 1;
    return out;
}

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
}  // namespace

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
        if (layer.blend == doc::Blend::Multiply) {
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

}  // namespace ledge::carto
