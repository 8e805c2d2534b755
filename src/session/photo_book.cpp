#include "session/photo_book.h"

#include "carto/map_renderer.h"

namespace ledge::session {
namespace {
// A swatch is thought to be so wide on paper: the picture is read at its coarsest.
constexpr double kWidthMm = 10;
}  // namespace

Result<QImage> drawPhoto(const std::shared_ptr<const SourceCache>& sources, const doc::Layer& layer,
                         const doc::SourceRef& source, QSize px, const Progress& progress) {
    const auto raster = sources->raster(source);
    if (!raster) return raster.error();
    const RasterInfo& info = (*raster)->source().info();
    // Its middle, so that the swatch is filled to its edges whatever the picture's shape.
    const Box all = info.extent();
    const double side = std::min(all.width() / px.width(), all.height() / px.height());
    const Point middle = all.centre();
    const Point half{side * px.width() / 2, side * px.height() / 2};
    carto::MapFrame frame;
    frame.crs = info.crs;
    frame.widthPx = px.width(), frame.heightPx = px.height();
    frame.pxPerMm = px.width() / kWidthMm;
    Box shown;
    shown.add(middle - half);
    shown.add(middle + half);
    frame.view = carto::viewOf(shown, frame.crs, px.width(), px.height(), frame.pxPerMm);
    frame.view.centre = middle;
    frame.view.scale *= side / frame.unitsPerPx();

    doc::Document alone;
    alone.sources = {source};
    auto plain = layer;
    plain.isVisible = true;
    plain.opacity = 1;
    plain.blend = doc::Blend::Normal;
    plain.widestScale = plain.closestScale = 0;
    alone.layers = {std::make_shared<doc::Layer>(std::move(plain))};
    carto::MapReport report;
    carto::MapRenderer renderer(sources);
    auto picture = renderer.picture(alone, alone.layers, frame, progress, report);
    if (picture && !report.problems.empty())
        return Error{ErrorCode::InvalidArgument, layer.name, report.problems.front().text, ""};
    return picture;
}

PhotoBook::PhotoBook(std::shared_ptr<SourceCache> sources, QObject* parent)
    : QObject(parent), m_sources(std::move(sources)) {}

QImage PhotoBook::photo(const doc::Layer& layer, const doc::SourceRef& source, QSize px) {
    const auto* raster = layer.as<doc::RasterLayer>();
    if (!raster || px.isEmpty()) return {};
    const auto it = m_known.find(layer.id);
    const QImage before = it == m_known.end() ? QImage() : it->second.picture;
    if (it != m_known.end() && it->second.source == source && it->second.style == raster->style &&
        it->second.px == px)
        return before;
    // While a style is dragged, what it is when the last is drawn comes next.
    if (m_drawers.isRunning()) return before;
    m_known.insert_or_assign(layer.id, Known{source, raster->style, px, before});
    auto drawn = std::make_shared<QImage>();
    m_drawers.start(
        tr("Picture of %1").arg(QString::fromStdString(layer.name)),
        [drawn, layer, source, px, sources = m_sources](const Progress& progress) -> Result<void> {
            auto picture = drawPhoto(sources, layer, source, px, progress);
            if (!picture) return picture.error();
            *drawn = *std::move(picture);
            return {};
        },
        [this, drawn, id = layer.id](const Result<void>&) {
            m_known[id].picture = *drawn;
            Q_EMIT ready();
        });
    return before;
}

}  // namespace ledge::session
