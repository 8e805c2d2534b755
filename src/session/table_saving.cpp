#include "session/table_saving.h"

#include <algorithm>
#include <array>

namespace ledge::session {

Result<void> saveEdits(const doc::SourceRef& source, const SourceCache& cache,
                       const Progress& progress) {
    if (source.edits->isEmpty()) return {};
    if (!io::writesVector(source.path))
        return Error{ErrorCode::Unsupported, source.text(), "its format is not written here",
                     "write it to " + io::suffixWords(io::Writes::Tables) + " instead"};
    // Only databases take one layer and keep the others.
    const auto open = cache.file(source, progress.part(0, 0.1));
    if (!open) return open.error();
    const auto* features = std::get_if<FeatureSourcePtr>(&(*open)->source);
    if (features && (*features)->layers().size() > 1 && (*features)->format() != "GeoPackage")
        return Error{ErrorCode::Unsupported, source.text(),
                     "its file holds " + std::to_string((*features)->layers().size()) +
                         " layers, and is written with one only",
                     "write it to a file of its own instead"};
    // Drawings and their like hold more than the features that are read of them: blocks, overlays,
    // routes. Written anew, they would hold those features alone.
    constexpr std::array<std::string_view, 3> kHoldMore{"DXF", "KML", "GPX"};
    if (features &&
        std::find(kHoldMore.begin(), kHoldMore.end(), (*features)->format()) != kHoldMore.end())
        return Error{ErrorCode::Unsupported, source.text(),
                     "its file may hold more than the features that are read of it",
                     "write the layer to a file of its own instead"};
    const auto table = cache.table(source, progress.part(0.1, 0.4));
    if (!table) return table.error();
    FeatureTable out = **table;
    // What the file says of its CRS stays, whatever is declared here.
    doc::SourceRef plain = source;
    plain.edits = {};
    plain.declaredCrs.reset();
    plain.shiftGrid.reset();
    if (const auto read = cache.table(plain, progress.part(0.4, 0.5)))
        out.info.crs = (*read)->info.crs, out.info.name = (*read)->info.name;
    return io::writeTable(out, source.path, progress.part(0.5, 1));
}

}  // namespace ledge::session
