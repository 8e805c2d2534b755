#include "carto/sheet/panel_frame.h"

#include "document/map_crs.h"
#include "document/panels.h"

namespace ledge::carto {

MapFrame panelFrame(const doc::Document& document, const doc::SheetItem& item, double pxPerMm) {
    const doc::MapPanel panel = doc::resolved(document, *item.as<doc::MapPanel>());
    MapFrame frame;
    frame.crs = doc::crsIn(document, panel.crs);
    frame.view = doc::viewOf(panel);
    frame.widthPx = std::max(1, static_cast<int>(std::ceil(item.rect.width * pxPerMm)));
    frame.heightPx = std::max(1, static_cast<int>(std::ceil(item.rect.height * pxPerMm)));
    frame.pxPerMm = pxPerMm;
    return frame;
}

}  // namespace ledge::carto
