#pragma once
#include "document/document.h"

namespace ledge::doc {

/// The document after a field of a source got another name: columns, styles, labels and filters of
/// its layers follow, and so do saved questions, tables, charts, live texts and series of them.
Document withFieldRenamed(Document document, Id source, const std::string& from,
                          const std::string& to);

}  // namespace ledge::doc
