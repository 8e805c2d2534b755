#include "document/edits/project_edits.h"

#include "document/map_crs.h"

namespace ledge::doc {

Document withMapCrs(Document document, const std::string& crs) {
    const auto from = mapCrs(document), to = crsIn(document, crs);
    document.mapCrs = crs;
    for (SavedView& saved : document.views) saved.view = viewInCrs(saved.view, from, to);
    document.lastView = viewInCrs(document.lastView, from, to);
    return document;
}

Document withDatumChoice(Document document, const crs::DatumChoice& choice) {
    std::erase_if(document.datumChoices, [&](const crs::DatumChoice& old) {
        return old.isBetween(choice.one, choice.other);
    });
    if (!choice.operation.empty()) document.datumChoices.push_back(choice);
    return document;
}

Document withCustomCrs(Document document, const CustomCrs& crs) {
    std::erase_if(document.customCrs, [&](const CustomCrs& old) { return old.name == crs.name; });
    document.customCrs.push_back(crs);
    return document;
}

}  // namespace ledge::doc
