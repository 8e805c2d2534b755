#pragma once
#include <QStringList>

#include "document/drawing_data.h"

namespace ledge::carto {

/// What a page of a series says of itself; of a sheet by itself, page 1 of 1.
struct LivePage {
    int number = 1, count = 1;
    QString name;
    QStringList neighbours;  ///< names of the features beside the page's
    TablePtr table;          ///< of the page's feature; null without
    std::size_t row = 0;
};

/// A text with its braces filled in: {project}, {author}, {sheet}, {crs}, {scale}, {date},
/// {credits}, {page}, {pages}, {page name}, {neighbours}; {PANEL: scale}, {PANEL: crs} and {PANEL:
/// rotation} of a map panel by its name; {feature: formula} of the page's feature. Those without a
/// panel's name are of the sheet's first one. Unknown ones stay.
QString liveText(const std::string& text, const doc::Document& document, const doc::Sheet& sheet,
                 const LivePage& page = {});

/// The names that stand alone in braces, for those who write texts.
const std::vector<std::pair<const char*, const char*>>& liveNames();

}  // namespace ledge::carto
