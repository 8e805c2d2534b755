#include "io/geopackage/spatial_reference.h"

#include "core/base/numbers.h"
#include "core/crs/wkt.h"

namespace ledge::io {

crs::CrsPtr spatialReference(const Database& database, std::int64_t id,
                             std::vector<std::string>& notes) {
    const auto row = database.prepare("SELECT organization, organization_coordsys_id, definition "
                                      "FROM gpkg_spatial_ref_sys WHERE srs_id = ?1");
    if (!row || id <= 0) return {};
    row->bind(1, id);
    if (!row->step()) return {};
    if (lowered(row->text(0)) == "epsg")
        if (const auto known = crs::crsFromCode(static_cast<int>(row->whole(1)))) return *known;
    const auto found = crs::crsFromWkt(row->text(2));
    if (found) return *found;
    notes.push_back(found.error().text());
    return {};
}

}  // namespace ledge::io
