#pragma once
#include "document/edits/edit_table.h"

/// What edits of sheets, items and panels take alike.
namespace ledge::doc {

inline const EditArgument kSheet{"sheet", EditArgument::Kind::Sheet};
inline const EditArgument kItem{"item", EditArgument::Kind::Item};
inline const EditArgument kItems{"items", EditArgument::Kind::Items};
inline const EditArgument kRect{"rect", EditArgument::Kind::Lengths, "left,top,width,height in mm"};
// Where a map looks; as the map did when it was saved where nothing is said.
inline const EditArgument kCentre{"centre", EditArgument::Kind::Numbers, "x,y in the map's CRS",
                                  false};
inline const EditArgument kScale{
    "scale", EditArgument::Kind::Number, "1 : n on the ground", false, 1, 1e10};
inline const EditArgument kTurn{
    "rotation", EditArgument::Kind::Number, "degrees clockwise", false, -360, 360};

Result<PageRect> rectOf(const EditValues& values, const char* edit);
Result<MapView> viewFrom(const Document& document, const EditValues& values, const char* edit);

}  // namespace ledge::doc
