#pragma once
#include "carto/map_frame.h"
#include "document/sheet.h"

namespace ledge::carto {

/// A panel's frame at a resolution, where it or what it follows looks.
MapFrame panelFrame(const doc::Document& document, const doc::SheetItem& item, double pxPerMm);

}  // namespace ledge::carto
