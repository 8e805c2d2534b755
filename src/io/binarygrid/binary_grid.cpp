#include "io/binarygrid/binary_grid.h"

#include <cmath>
#include <fstream>
#include <map>
#include <mutex>
#include <sstream>

#include "core/base/numbers.h"
#include "io/files/atomic_file.h"
#include "io/files/byte_reader.h"
#include "io/files/sidecars.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;

// Rows of cells of one type and byte order behind the source interface.
class BinaryGrid final : public RasterSource {
public:
    BinaryGrid(const fs::path& path, RasterInfo info, std::endian order)
        : m_path(path), m_info(std::move(info)), m_order(order), m_file(path, std::ios::binary) {}

    const RasterInfo& info() const override { return m_info; }
    Result<void> read(int, CellWindow w, BlockView<double> out) const override {
        return readAs(w, out);
    }
    Result<void> read(int, CellWindow w, BlockView<float> out) const override {
        return readAs(w, out);
    }

private:
    template <typename T>
    Result<void> readAs(CellWindow w, BlockView<T> out) const {
        const std::size_t size = cellBytes(m_info.bands[0].type);
        std::string bytes(static_cast<std::size_t>(w.cols) * size, '\0');
        for (std::int64_t r = 0; r < w.rows; ++r) {
            {
                const std::lock_guard lock(m_mutex);
                m_file.clear();
                m_file.seekg(((w.row + r) * m_info.width + w.col) *
                             static_cast<std::int64_t>(size));
                m_file.read(bytes.data(), static_cast<std::streamsize>(bytes.size()));
                if (!m_file)
                    return ioFailure(m_path, "row " + std::to_string(w.row + r) + " cannot be read",
                                     "the file was cut short; get a fresh copy");
            }
            ByteReader in(bytesOf(bytes));
            const double nodata = m_info.bands[0].nodata.value_or(kNaN);
            for (T& cell : out.row(static_cast<std::size_t>(r))) {
                const double v = size == 2 ? static_cast<double>(in.read<std::int16_t>(m_order))
                                           : static_cast<double>(in.read<float>(m_order));
                cell = v == nodata ? std::numeric_limits<T>::quiet_NaN() : static_cast<T>(v);
            }
        }
        return {};
    }

    fs::path m_path;
    RasterInfo m_info;
    std::endian m_order;
    mutable std::mutex m_mutex;  // one reader at a time on the stream
    mutable std::ifstream m_file;
};

// South-west corner of a tile's name: N61W011.
std::optional<Point> cornerOf(const fs::path& path) {
    const std::string name = lowered(path.stem().string());
    if (name.size() < 7 || (name[0] != 'n' && name[0] != 's') || (name[3] != 'e' && name[3] != 'w'))
        return {};
    const auto lat = parseNumber(name.substr(1, 2)), lon = parseNumber(name.substr(4, 3));
    if (!lat || !lon || *lat > 90 || *lon > 180) return {};
    return Point{name[3] == 'w' ? -*lon : *lon, name[0] == 's' ? -*lat : *lat};
}

std::int64_t sideOf(const fs::path& path) {
    std::error_code code;
    const auto size = fs::file_size(path, code);
    if (code) return 0;
    const auto side =
        static_cast<std::int64_t>(std::llround(std::sqrt(static_cast<double>(size) / 2)));
    return side > 1 && static_cast<std::uintmax_t>(side * side * 2) == size ? side : 0;
}
}  // namespace

bool looksLikeElevationTile(const fs::path& path) {
    return lowered(path.extension().string()) == ".hgt" && cornerOf(path) && sideOf(path) > 0;
}

Result<RasterPtr> openElevationTile(const fs::path& path) {
    const auto corner = cornerOf(path);
    if (!corner)
        return badFormat(path, "its name does not tell the south-west corner",
                         "name it after its corner, as N61W011.hgt");
    const std::int64_t side = sideOf(path);
    if (side == 0) return badFormat(path, "its size is not that of a square of 16-bit heights");
    RasterInfo info;
    info.format = "elevation tile";
    info.width = info.height = side;
    info.crs = crs::crsFromCode(4326).value_or(nullptr);
    info.bands = {{CellType::Int16, -32768.0, "metre"}};
    const double cell = 1.0 / static_cast<double>(side - 1);
    info.toWorld = {cell, 0, corner->x - cell / 2, 0, -cell, corner->y + 1 + cell / 2};
    return RasterPtr(std::make_shared<BinaryGrid>(path, std::move(info), std::endian::big));
}

Result<RasterPtr> openFloatGrid(const fs::path& path) {
    const auto header = sidecar(path, ".hdr");
    if (!header)
        return Error{ErrorCode::NotFound, nameOf(path), "its header (.hdr) is not beside it",
                     "put the .hdr of the same name into the folder"};
    const auto text = readText(*header, 1 << 20);
    if (!text) return text.error();
    std::map<std::string, std::string> entries;
    std::istringstream lines(*text);
    for (std::string key, value; lines >> key >> value;) entries[lowered(key)] = value;
    const auto number = [&entries](const char* key) -> std::optional<double> {
        const auto it = entries.find(key);
        return it == entries.end() ? std::nullopt : parseNumber(it->second);
    };
    const auto cols = number("ncols"), rows = number("nrows"), cell = number("cellsize");
    const auto isSize = [](const std::optional<double>& v) {
        return v && *v >= 1 && *v < 1e9 && *v == std::floor(*v);
    };
    if (!isSize(cols) || !isSize(rows) || !cell || !(*cell > 0) || !std::isfinite(*cell))
        return badFormat(*header, "it lacks usable ncols, nrows and cellsize");
    std::error_code code;
    const auto size = fs::file_size(path, code);
    if (code || static_cast<double>(size) != *cols * *rows * 4)
        return badFormat(path, "it holds " + std::to_string(code ? 0 : size) +
                                   " bytes, its header asks for " +
                                   formatNumber(*cols * *rows * 4, {0, false}));
    RasterInfo info;
    info.format = "binary float grid";
    info.width = static_cast<std::int64_t>(*cols), info.height = static_cast<std::int64_t>(*rows);
    double x = number("xllcorner").value_or(0), y = number("yllcorner").value_or(0);
    if (const auto centre = number("xllcenter")) x = *centre - *cell / 2;
    if (const auto centre = number("yllcenter")) y = *centre - *cell / 2;
    if (!std::isfinite(x) || !std::isfinite(y))
        return badFormat(*header, "its corner is not a number");
    info.toWorld = {*cell, 0, x, 0, -*cell, y + *rows * *cell};
    info.bands = {{CellType::Float32, number("nodata_value").value_or(-9999), ""}};
    info.crs = crsBeside(path, info.notes);
    const std::string order = lowered(entries["byteorder"]);
    const bool isBig = order == "msbfirst" || order == "m" || order == "big_endian";
    return RasterPtr(std::make_shared<BinaryGrid>(path, std::move(info),
                                                  isBig ? std::endian::big : std::endian::little));
}

}  // namespace ledge::io
