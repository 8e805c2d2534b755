#include "io/ntv2/ntv2.h"

#include <cmath>

#include "core/base/numbers.h"
#include "io/files/atomic_file.h"
#include "io/files/byte_reader.h"

// NTv2 binary, records of 16 bytes: a name of 8 characters and a value of 8 bytes (int32 padded,
// double or text).
//
//   file header      11 records: NUM_OREC, NUM_SREC, NUM_FILE (int32), GS_TYPE, VERSION, SYSTEM_F,
//                    SYSTEM_T (text), MAJOR_F, MINOR_F, MAJOR_T, MINOR_T (double)
//   each sub-grid    11 records: SUB_NAME, PARENT, CREATED, UPDATED (text), S_LAT, N_LAT, E_LONG,
//                    W_LONG, LAT_INC, LONG_INC (double, longitudes positive west), GS_COUNT (int32)
//   its nodes        GS_COUNT x 4 float32: shift of latitude, of longitude (positive west), their
//                    accuracies; from the south-east corner westwards, then northwards

namespace ledge::io {
namespace {
namespace fs = std::filesystem;
constexpr std::size_t kRecord = 16;
constexpr std::size_t kMostNodes = 40'000'000;

struct GridReader {
    const fs::path& path;
    ByteReader bytes;
    std::endian order = std::endian::little;

    std::string textRecord() {
        bytes.skip(8);
        return trimmed(bytes.text(8));
    }
    double doubleRecord() {
        bytes.skip(8);
        return bytes.read<double>(order);
    }
    std::int32_t intRecord() {
        bytes.skip(8);
        const auto value = bytes.read<std::int32_t>(order);
        bytes.skip(4);
        return value;
    }
};

Result<crs::ShiftGrid::SubGrid> readSubGrid(GridReader& in, double degreesPerUnit) {
    crs::ShiftGrid::SubGrid grid;
    grid.name = in.textRecord();
    for (int i = 0; i < 3; ++i) in.textRecord();
    const double south = in.doubleRecord() * degreesPerUnit,
                 north = in.doubleRecord() * degreesPerUnit;
    const double east = -in.doubleRecord() * degreesPerUnit,
                 west = -in.doubleRecord() * degreesPerUnit;
    grid.stepLat = in.doubleRecord() * degreesPerUnit;
    grid.stepLon = in.doubleRecord() * degreesPerUnit;
    const std::int32_t count = in.intRecord();
    grid.box = {west, south, east, north};
    const std::string where = "sub-grid \"" + grid.name + "\"";
    if (!in.bytes.isGood()) return badFormat(in.path, where + " is cut short");
    const bool isUsable = grid.stepLat > 0 && grid.stepLon > 0 && std::isfinite(south + north) &&
                          std::isfinite(east + west) && north > south && east > west &&
                          std::abs(south) <= 90 && std::abs(north) <= 90;
    if (!isUsable) return badFormat(in.path, where + " has impossible limits");
    const double rows = std::round((north - south) / grid.stepLat) + 1;
    const double cols = std::round((east - west) / grid.stepLon) + 1;
    if (!(rows * cols == static_cast<double>(count)) || rows < 2 || cols < 2)
        return badFormat(in.path, where + " announces " + std::to_string(count) +
                                      " nodes; its limits hold " +
                                      formatNumber(rows * cols, {0, false}));
    if (static_cast<std::size_t>(count) > kMostNodes ||
        static_cast<std::size_t>(count) * kRecord > in.bytes.left())
        return badFormat(in.path, where + " is cut short");
    grid.rows = static_cast<std::size_t>(rows), grid.cols = static_cast<std::size_t>(cols);
    grid.shifts.resize(grid.rows * grid.cols);
    for (std::size_t r = 0; r < grid.rows; ++r)
        for (std::size_t c = grid.cols; c-- > 0;) {  // westwards
            const double lat = static_cast<double>(in.bytes.read<float>(in.order));
            const double lon = static_cast<double>(in.bytes.read<float>(in.order));
            in.bytes.skip(8);
            grid.shifts[r * grid.cols + c] = {-lon * degreesPerUnit, lat * degreesPerUnit};
        }
    return grid;
}
}  // namespace

Result<crs::ShiftGrid> readShiftGrid(const fs::path& path) {
    const auto text = readText(path);
    if (!text) return text.error();
    GridReader in{path, ByteReader(bytesOf(*text))};
    if (!text->starts_with("NUM_OREC"))
        return badFormat(path, "not a grid of shifts (NTv2)", "choose a .gsb file");
    std::int32_t records = in.intRecord();
    if (records != 11) {
        in.order = std::endian::big;
        in.bytes.seek(0);
        records = in.intRecord();
    }
    if (records != 11) return badFormat(path, "its header has another length than NTv2's");
    in.intRecord();
    const std::int32_t grids = in.intRecord();
    const std::string unit = lowered(in.textRecord());
    for (int i = 0; i < 3; ++i) in.textRecord();
    for (int i = 0; i < 4; ++i) in.doubleRecord();
    const double degreesPerUnit = unit.starts_with("min")   ? 1.0 / 60
                                  : unit.starts_with("deg") ? 1.0
                                                            : 1.0 / 3600;
    if (!in.bytes.isGood() || grids < 1 || grids > 10000)
        return badFormat(path, "its header is cut short or damaged");
    std::vector<crs::ShiftGrid::SubGrid> out;
    for (std::int32_t i = 0; i < grids; ++i) {
        auto grid = readSubGrid(in, degreesPerUnit);
        if (!grid) return grid.error();
        out.push_back(*std::move(grid));
    }
    return crs::ShiftGrid::make(nameOf(path), std::move(out));
}

Result<crs::DatumOperation> gridOperation(const fs::path& path, int source, int target) {
    auto grid = readShiftGrid(path);
    if (!grid) return grid.error();
    crs::DatumOperation o;
    o.name = "grid " + nameOf(path);
    o.source = source;
    o.target = target;
    o.kind = crs::DatumOperation::Kind::Grid;
    o.accuracyMetres = kNaN;
    o.area = {nameOf(path), grid->box()};
    o.grid = std::make_shared<crs::ShiftGrid>(*std::move(grid));
    return o;
}

}  // namespace ledge::io
