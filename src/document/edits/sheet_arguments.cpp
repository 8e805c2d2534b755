#include "document/edits/sheet_arguments.h"

#include "document/map_crs.h"

namespace ledge::doc {

Result<PageRect> rectOf(const EditValues& v, const char* edit) {
    const auto& r = v.numbers("rect");
    if (r.size() == 4 && r[2] > 0 && r[3] > 0) return PageRect{r[0], r[1], r[2], r[3]};
    return Error{ErrorCode::InvalidArgument, std::string(edit) + " rect", "is no rectangle",
                 "give left,top,width,height in mm"};
}

Result<MapView> viewFrom(const Document& d, const EditValues& v, const char* edit) {
    MapView view = d.lastView;
    if (v.has("centre")) {
        const auto& at = v.numbers("centre");
        if (at.size() != 2)
            return Error{ErrorCode::InvalidArgument, std::string(edit) + " centre",
                         "is not one place", "give two numbers: x,y in the map's CRS"};
        view.centre = {at[0], at[1]};
    }
    if (v.has("rotation")) view.rotation = v.number("rotation");
    return v.has("scale") ? atGroundScale(view, mapCrs(d), v.number("scale")) : view;
}

}  // namespace ledge::doc
