// How the Style bench draws rasters.
#include "app/benches/style_bench.h"
#include "document/json/members.h"
#include "session/new_layers.h"

namespace ledge::app {

void StyleBench::setLimits(const doc::ImageStyle& style) {
    const auto* source = workspace().source();
    if (!source) return;
    auto limits = std::make_shared<std::array<StretchLimits, 3>>();
    workspace().session().jobs().start(
        tr("Reading limits of %1").arg(qtext(source->name)),
        [style, source = *source, limits,
         sources = workspace().session().sources()](const Progress& progress) -> Result<void> {
            *limits = session::wholeLimits(style, source, *sources);
            return progress.stopped() ? Result<void>(cancelled(source.name)) : Result<void>();
        },
        [this, style, limits, id = workspace().selectedLayer()](const Result<void>& done) {
            if (!done || !workspace().document().layer(id)) return;
            doc::ImageStyle next = style;
            next.limits = *limits;
            workspace().perform("layer-set",
                                {{"layer", Workspace::target(id)},
                                 {"member", "style.image"},
                                 {"value", doc::styleText(next)}},
                                "image");
        });
}

void StyleBench::setRasterKind(int kind) {
    const auto* layer = workspace().layer();
    const auto* source = workspace().source();
    const auto* raster = layer ? layer->as<doc::RasterLayer>() : nullptr;
    if (!raster || !source) return;
    if (kind == 0) return setLimits(raster->style.image.value_or(doc::ImageStyle{}));
    // Every cell is looked at: beside the interface, and the style follows.
    struct Found {
        std::vector<doc::RasterClass> classes;
        std::pair<double, double> range;
    };
    auto found = std::make_shared<Found>();
    workspace().session().jobs().start(
        tr("Reading values of %1").arg(qtext(source->name)),
        [found, kind, source = *source, band = raster->style.band,
         sources = workspace().session().sources()](const Progress& progress) -> Result<void> {
            const auto pyramid = sources->raster(source, band);
            if (!pyramid) return pyramid.error();
            if (kind == 1)
                found->classes = session::classesOf((*pyramid)->source(), band, progress);
            else
                found->range = session::roughRange(**pyramid);
            if (progress.stopped()) return cancelled(source.name);
            if (kind == 1 && found->classes.empty())
                return Error{ErrorCode::InvalidArgument, source.name,
                             "holds too many different values to be classes",
                             "show the band in colours instead"};
            return {};
        },
        [this, found, kind, id = layer->id](const Result<void>& done) {
            const auto* shown = workspace().document().layer(id);
            const auto* now = shown ? shown->as<doc::RasterLayer>() : nullptr;
            if (!done || !now) return refresh();
            doc::RasterStyle style = now->style;
            style.image.reset();
            style.classes = found->classes;
            style.classTable = {};
            style.classTable.hidden = {"value"};
            if (kind != 1)
                style.ramp = rampOf(style.family, found->range.first, found->range.second);
            const QString said = kind == 1 ? tr("Classes") : tr("One band in colours");
            workspace().perform("layer-set", {{"layer", Workspace::target(id)},
                                              {"member", "style"},
                                              {"value", doc::styleText(style)},
                                              {"said", said.toStdString()}});
        });
}

void StyleBench::refreshRaster(const doc::RasterLayer& raster, const doc::SourceRef& source) {
    const auto* facts = m_facts.facts(source);
    const int kind = raster.style.image ? 0 : raster.style.classes.empty() ? 2 : 1;
    showChoice(m_rasterKind, kind);
    m_image->setVisible(kind == 0 && facts);
    m_classTable->setVisible(kind == 1);
    m_cells->setVisible(kind == 2);
    showCheck(m_cells, raster.style.showsCells);
    if (kind == 0 && facts) m_image->show(*raster.style.image, facts->bands);
    if (kind == 1) m_classTable->show(raster.style, m_classBook.areas(source, raster.style.band));
}

}  // namespace ledge::app
