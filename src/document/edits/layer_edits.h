#pragma once
#include <functional>

#include "document/document.h"

/// Pure functions from one document to the next. An id that is not there leaves the document as it
/// is.
namespace ledge::doc {

Document withLayer(Document document, Id id, const std::function<void(Layer&)>& change);

/// Where a layer stands: in which group (0: the top level) and how many above it.
struct Place {
    Id group = 0;
    std::size_t index = 0;
    bool operator==(const Place&) const = default;
};
std::optional<Place> placeOf(const Document& document, Id id);

/// Adds a layer (its id is given here and returned) above everything in the place's group.
std::pair<Document, Id> addLayer(Document document, Layer layer, Place place = {});
Document removeLayer(Document document, Id id);

/// Of these layers those that stand in no other of them, in drawing order, top first.
std::vector<Id> outermost(const Document& document, const std::vector<Id>& ids);
Document withLayers(Document document, const std::vector<Id>& ids,
                    const std::function<void(Layer&)>& change);
Document removeLayers(Document document, const std::vector<Id>& ids);
/// Takes the layers out and puts them together, in their order, where `place.index` of those that
/// stay are above them; a group never moves into itself.
Document moveLayers(Document document, const std::vector<Id>& ids, Place place);

/// Takes the layer out and puts it where it has `place.index` layers above it; a group never moves
/// into itself.
Document moveLayer(Document document, Id id, Place place);
/// A new group in the place of the uppermost of these layers, holding them in their order.
std::pair<Document, Id> groupLayers(Document document, const std::vector<Id>& ids,
                                    const std::string& name);

/// The source for a file, adding it when the project does not know it yet.
std::pair<Document, Id> addSource(Document document, SourceRef source);
Document withSource(Document document, Id id, const std::function<void(SourceRef&)>& change);
/// Drops sources that no layer uses, frozen panels included.
Document withoutUnusedSources(Document document);

}  // namespace ledge::doc
