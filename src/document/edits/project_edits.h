#pragma once
#include "document/document.h"

namespace ledge::doc {

/// Another CRS for the map. Saved views keep the place they look at and their scale on the ground;
/// panels of sheets own their CRS and stay.
Document withMapCrs(Document document, const std::string& crs);

/// What was chosen between two datums (codes of geographic CRSs), in place of an earlier choice; an
/// empty `operation` goes back to the best by place and accuracy.
Document withDatumChoice(Document document, const crs::DatumChoice& choice);

/// A CRS of the user's own, in place of one of the same name.
Document withCustomCrs(Document document, const CustomCrs& crs);

}  // namespace ledge::doc
