#pragma once
#include <QString>

#include "carto/sheet_painter.h"
#include "document/edits/edit_table.h"

namespace ledge::session {

/// Something about a sheet that its reader would stumble over, and what mends it where an edit can.
struct SheetRemark {
    doc::Id item = 0;  ///< 0: the sheet as a whole
    QString said;
    QString mend;      ///< what the edit does, in words; empty: nothing by itself
    std::string edit;  ///< of the table of edits
    doc::EditWords words = {};
};

/// What to look at before a sheet is exported at a resolution, in the order of the items: type that
/// is too small or pale, what is cut off, lies over other things or off the page, legends that say
/// too much or too little, credits, pictures too coarse, panels that are empty, nearly empty or at
/// odd scales, files and fonts that are missing. It reads data: not for the interface's thread.
std::vector<SheetRemark> sheetRemarks(const doc::Document& document, const doc::Sheet& sheet,
                                      const doc::DrawingData& data, double dpi,
                                      const Progress& progress);

/// Of two colours, as WCAG 2.1 reckons it: 1 to 21.
double contrastRatio(Colour one, Colour other);

}  // namespace ledge::session
