#include "document/edits/additions.h"

#include <algorithm>
#include <optional>

#include "document/edits/layer_edits.h"
#include "document/json/parsed.h"
#include "document/json/values.h"

namespace ledge::doc {
namespace {
using Layers = std::vector<LayerPtr>;
const JsonContext kWhole{{}, true};

template <typename T>
Result<std::vector<T>> listOf(const std::string& text, const char* what) {
    const auto wrong = [&](const std::string& why) {
        return Error{ErrorCode::InvalidArgument, std::string("layers-add ") + what, why,
                     "give a JSON list as a project has it"};
    };
    if (text.empty()) return std::vector<T>{};
    const Json json = jsonOrNone(text);
    if (!json.is_array()) return wrong("is no JSON list");
    try {
        std::vector<T> out;
        json::into(json, out, kWhole);
        return out;
    } catch (const Misfit& misfit) {
        return wrong(misfit.path + " " + misfit.why);
    } catch (const Json::exception&) {
        return wrong("has a member of another type");
    }
}

// The ids of given sources as the document has them now.
using Taken = std::map<Id, Id>;

Taken takeSources(Document& document, std::vector<SourceRef> sources) {
    Taken taken;
    for (SourceRef& source : sources) {
        const Id given = source.id;
        const auto known = std::find_if(document.sources.begin(), document.sources.end(),
                                        [&](const SourceRef& s) { return s.id == given; });
        if (given != 0 && known != document.sources.end()) {
            *known = std::move(source);
            taken[given] = given;
        } else if (given != 0) {
            document.nextId = std::max(document.nextId, given + 1);
            document.sources.push_back(std::move(source));
            taken[given] = given;
        } else {
            auto [next, id] = addSource(std::move(document), std::move(source));
            document = std::move(next);
            taken[0] = id;
        }
    }
    return taken;
}

Id idNamed(const Layers& layers, const std::string& name) {
    for (const LayerPtr& layer : layers)
        if (layer->name == name) return layer->id;
    return 0;
}

// Ids of a layer and of all within it: given ones stay, others are those of the same names in what
// was there before, else new.
Result<void> settle(Document& document, Layer& layer, const Layer* before, const Taken& taken) {
    if (layer.id == 0)
        layer.id = document.nextId++;
    else
        document.nextId = std::max(document.nextId, layer.id + 1);
    if (const auto it = taken.find(layer.source); it != taken.end())
        layer.source = it->second;
    else if (layer.source != 0 && !document.source(layer.source))
        return Error{ErrorCode::NotFound, "source #" + std::to_string(layer.source),
                     "layer \"" + layer.name + "\" names it, but there is none",
                     "give it in sources"};
    if (auto* group = layer.as<Group>())
        for (LayerPtr& child : group->children) {
            Layer inner = *child;
            const auto* old = before ? before->as<Group>() : nullptr;
            if (inner.id == 0 && old) inner.id = idNamed(old->children, inner.name);
            const Layer* known = inner.id != 0 ? document.layer(inner.id) : nullptr;
            if (const auto done = settle(document, inner, known, taken); !done) return done;
            child = std::make_shared<const Layer>(std::move(inner));
        }
    return {};
}

Id knownId(const Document& document, const Layer& layer) {
    if (layer.id != 0) return document.layer(layer.id) ? layer.id : 0;
    return idNamed(document.layers, layer.name);
}
}  // namespace

Result<Document> withAdditions(const Document& document, const std::string& sources,
                               const std::string& layers, std::size_t index) {
    auto newSources = listOf<SourceRef>(sources, "sources");
    if (!newSources) return newSources.error();
    auto newLayers = listOf<LayerPtr>(layers, "layers");
    if (!newLayers) return newLayers.error();
    Document next = document;
    const Taken taken = takeSources(next, *std::move(newSources));
    std::size_t above = std::min(index, next.layers.size());
    bool isChanged = false;
    for (const LayerPtr& given : *newLayers) {
        Layer layer = *given;
        const Id known = knownId(next, layer);
        if (known != 0) layer.id = known;
        const LayerPtr before =
            known != 0 ? std::make_shared<const Layer>(*next.layer(known)) : LayerPtr();
        if (const auto done = settle(next, layer, before.get(), taken); !done) return done.error();
        if (known != 0) {
            next = withLayer(std::move(next), known, [&](Layer& old) { old = layer; });
            isChanged = true;
        } else {
            next.layers.insert(next.layers.begin() + static_cast<std::ptrdiff_t>(above++),
                               std::make_shared<const Layer>(std::move(layer)));
        }
    }
    return isChanged ? withoutUnusedSources(std::move(next)) : next;
}

EditWords additionsBetween(const Document& before, const Document& after) {
    std::vector<SourceRef> sources;
    for (const SourceRef& source : after.sources)
        if (const SourceRef* old = before.source(source.id); !old || !(*old == source))
            sources.push_back(source);
    std::vector<LayerPtr> layers;
    std::optional<std::size_t> index;
    for (std::size_t i = 0; i < after.layers.size(); ++i) {
        const Layer& layer = *after.layers[i];
        const Layer* old = before.layer(layer.id);
        if (!old && !index) index = i;
        if (!old || !(*old == layer)) layers.push_back(after.layers[i]);
    }
    EditWords words{{"sources", json::from(sources, kWhole).dump()},
                    {"layers", json::from(layers, kWhole).dump()}};
    if (index.value_or(0) > 0) words["index"] = std::to_string(*index);
    if (before.mapCrs != after.mapCrs) words["map-crs"] = after.mapCrs;
    return words;
}

}  // namespace ledge::doc
