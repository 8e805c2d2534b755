#pragma once
#include <filesystem>

#include "document/edits/layer_edits.h"

namespace ledge::demo {

/// Puts a project together, layer upon layer.
class ProjectBuilder {
public:
    ProjectBuilder(const std::filesystem::path& folder, std::string credit)
        : m_folder(std::filesystem::absolute(folder)), m_credit(std::move(credit)) {}

    doc::Id source(const std::string& name, const std::string& file,
                   const std::string& layer = "") {
        doc::SourceRef ref;
        ref.name = name;
        ref.path = m_folder / file;
        ref.layer = layer;
        ref.credit = m_credit;
        auto [next, id] = doc::addSource(std::move(document), ref);
        document = std::move(next);
        return id;
    }
    // Above everything so far.
    doc::Id put(const std::string& name, doc::Id source, doc::LayerContent content,
                double opacity = 1, doc::Blend blend = doc::Blend::Normal, doc::Id group = 0) {
        doc::Layer layer;
        layer.name = name;
        layer.source = source;
        layer.content = std::move(content);
        layer.opacity = opacity;
        layer.blend = blend;
        auto [next, id] = doc::addLayer(std::move(document), std::move(layer), {group, 0});
        document = std::move(next);
        return id;
    }
    void dark(doc::Id id) {
        document =
            doc::withLayer(std::move(document), id, [](doc::Layer& l) { l.isVisible = false; });
    }

    doc::Document document;

private:
    std::filesystem::path m_folder;
    std::string m_credit;
};

}  // namespace ledge::demo
