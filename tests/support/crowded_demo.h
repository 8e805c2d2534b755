#pragma once
#include "carto/map_renderer.h"
#include "document/map_crs.h"
#include "session/project_store.h"
#include "session/source_cache.h"

namespace ledge::test {

/// The demo with all its label sets lit at any scale, which is more than there is room for.
class CrowdedDemo {
public:
    explicit CrowdedDemo(const std::filesystem::path& project)
        : m_document(*session::loadProject(project)) {
        m_document.layers = lit(m_document.layers);
    }
    /// All labels on a map of 1000 x 700 pixels, of the places and of what found no room.
    carto::MapReport labels(double scale, label::Effort effort) const {
        carto::MapFrame frame;
        frame.crs = doc::mapCrs(m_document);
        frame.view = m_document.views.front().view;
        frame.view.scale = scale;
        frame.widthPx = 1000, frame.heightPx = 700;
        carto::MapRenderer renderer(m_cache);
        renderer.setLabelEffort(effort);
        carto::MapReport report;
        (void)renderer.labels(m_document, m_document.layers, frame, {}, report);
        return report;
    }

private:
    static std::vector<doc::LayerPtr> lit(const std::vector<doc::LayerPtr>& layers) {
        std::vector<doc::LayerPtr> out;
        for (const doc::LayerPtr& layer : layers) {
            doc::Layer copy = *layer;
            copy.isVisible = true;
            if (auto* group = copy.as<doc::Group>()) group->children = lit(group->children);
            if (auto* vector = copy.as<doc::VectorLayer>())
                for (doc::LabelStyle& labels : vector->labels) {
                    if (labels.text.empty()) labels.text = "name";
                    labels.isOn = true;
                    labels.widestScale = labels.closestScale = 0;
                }
            out.push_back(std::make_shared<const doc::Layer>(std::move(copy)));
        }
        return out;
    }

    doc::Document m_document;
    std::shared_ptr<session::SourceCache> m_cache = std::make_shared<session::SourceCache>();
};

}  // namespace ledge::test
