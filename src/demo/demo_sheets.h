#pragma once
#include "document/document.h"

namespace ledge::demo {

/// The council's sheets: an overview, the survey of a glen, a figure of six inches in three
/// measures, a page for each district, and a wall map. Made by edits alone, as a script makes them.
doc::Document withSheets(doc::Document document, const doc::MapView& whole,
                         const doc::MapView& glen);

}  // namespace ledge::demo
