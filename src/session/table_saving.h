#pragma once
#include "session/source_cache.h"

namespace ledge::session {

/// Writes the table of a source with its edits over its own file, as one change that is there whole
/// or not at all; other layers of the file stay. Nothing to do without edits. Who saves drops the
/// edits from the project (the edit "table-revert"); undo brings them back over what was saved.
/// Errors: Unsupported for formats that are not written; those of reading and writing.
Result<void> saveEdits(const doc::SourceRef& source, const SourceCache& cache,
                       const Progress& progress);

}  // namespace ledge::session
