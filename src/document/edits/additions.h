#pragma once
#include "document/edits/edit_table.h"

/// What files, jobs and scripts bring into a document: sources with the layers that show them.
namespace ledge::doc {

/// The document with sources and layers, given as JSON lists as a project has them. A source or
/// layer whose id is there takes that one's place; without an id (0) a source is known by its
/// locator and a top layer by its name. What is new comes together, in the order given, with
/// `index` top layers above. Layers name their sources by the ids in the list; sources that no
/// layer shows any more go. Errors: InvalidArgument for texts that are no such lists, NotFound for
/// a source that is nowhere.
Result<Document> withAdditions(const Document& document, const std::string& sources,
                               const std::string& layers, std::size_t index = 0);

/// What one document has more than another: new and changed sources, new layers (which stand
/// together there), top layers and groups that are not what they were, and the map's CRS where it
/// is another; as the edit "layers-add" takes it.
EditWords additionsBetween(const Document& before, const Document& after);

}  // namespace ledge::doc
