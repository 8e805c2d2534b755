#include "io/asciigrid/ascii_grid.h"

#include <charconv>
#include <cmath>
#include <fstream>
#include <mutex>

#include "core/base/numbers.h"
#include "core/crs/wkt.h"
#include "io/files/atomic_file.h"
#include "io/files/sidecars.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;

struct Header {
    double cols = 0, rows = 0, x = kNaN, y = kNaN, dx = kNaN, dy = kNaN;
    bool xIsCentre = false, yIsCentre = false;
    std::optional<double> nodata;
    std::size_t bytes = 0;  // where the cells begin
};

// Takes "name value" lines until a line starts with a number.
Result<Header> parseHeader(const fs::path& path, const std::string& text) {
    Header h;
    std::size_t at = 0;
    for (int line = 1; line <= 20 && at < text.size(); ++line) {
        const std::size_t end = std::min(text.find('\n', at), text.size());
        const std::string content = trimmed(std::string_view(text).substr(at, end - at));
        const std::size_t gap = content.find_first_of(" \t");
        const std::string name = lowered(content.substr(0, gap));
        if (content.empty() || parseNumber(name)) break;
        const auto value =
            gap == std::string::npos ? std::nullopt : parseNumber(content.substr(gap));
        if (!value)
            return badFormat(path, "line " + std::to_string(line) + " of the header, \"" +
                                       content.substr(0, 40) + "\", has no number");
        if (name == "ncols")
            h.cols = *value;
        else if (name == "nrows")
            h.rows = *value;
        else if (name == "xllcorner" || name == "xllcenter")
            h.x = *value, h.xIsCentre = name == "xllcenter";
        else if (name == "yllcorner" || name == "yllcenter")
            h.y = *value, h.yIsCentre = name == "yllcenter";
        else if (name == "cellsize")
            h.dx = h.dy = *value;
        else if (name == "dx")
            h.dx = *value;
        else if (name == "dy")
            h.dy = *value;
        else if (name == "nodata_value")
            h.nodata = *value;
        else
            return badFormat(path, "the header line \"" + content.substr(0, 40) + "\" is unknown");
        at = end + 1;
    }
    h.bytes = std::min(at, text.size());
    if (!(h.cols >= 1 && h.rows >= 1) || h.cols != std::floor(h.cols) ||
        h.rows != std::floor(h.rows))
        return badFormat(path, "the header gives no usable ncols and nrows");
    if (!(h.dx > 0 && h.dy > 0) || !std::isfinite(h.dx + h.dy + h.x + h.y))
        return badFormat(path, "the header gives no usable corner and cell size");
    return h;
}

class AsciiGrid final : public RasterSource {
public:
    AsciiGrid(fs::path path, Header header, RasterInfo info)
        : m_path(std::move(path)), m_header(header), m_info(std::move(info)) {}
    const RasterInfo& info() const override { return m_info; }
    Result<void> read(int, CellWindow w, BlockView<double> out) const override {
        return copy(w, out);
    }
    Result<void> read(int, CellWindow w, BlockView<float> out) const override {
        return copy(w, out);
    }

private:
    template <typename T>
    Result<void> copy(CellWindow w, BlockView<T> out) const {
        const std::lock_guard lock(m_mutex);
        if (m_cells.isEmpty())
            if (const auto done = parse(); !done) return done;
        for (std::size_t r = 0; r < out.rows(); ++r) {
            const auto from = m_cells.row(static_cast<std::size_t>(w.row) + r)
                                  .subspan(static_cast<std::size_t>(w.col), out.cols());
            std::transform(from.begin(), from.end(), out.row(r).begin(),
                           [](double v) { return static_cast<T>(v); });
        }
        return {};
    }

    Result<void> parse() const {
        const auto text = readText(m_path, std::uintmax_t{4} << 30);
        if (!text) return text.error();
        Grid<double> cells(static_cast<std::size_t>(m_info.height),
                           static_cast<std::size_t>(m_info.width));
        const char* at = text->data() + std::min(m_header.bytes, text->size());
        const char* const end = text->data() + text->size();
        std::size_t index = 0;
        for (double& cell : cells.cells()) {
            while (at < end && static_cast<unsigned char>(*at) <= ' ') ++at;
            const auto [next, code] = std::from_chars(at, end, cell);
            if (code != std::errc{})
                return badFormat(m_path, "cell " + std::to_string(index % cells.cols() + 1) +
                                             " of row " + std::to_string(index / cells.cols() + 1) +
                                             (at >= end ? " is missing: the file is cut short"
                                                        : " is no number"));
            at = next;
            if (m_header.nodata && cell == *m_header.nodata) cell = kNaN;
            ++index;
        }
        m_cells = std::move(cells);
        return {};
    }

    fs::path m_path;
    Header m_header;
    RasterInfo m_info;
    mutable std::mutex m_mutex;  // guards m_cells, filled at the first read
    mutable Grid<double> m_cells;
};
}  // namespace

bool looksLikeAsciiGrid(const std::string& head) {
    const std::string start = lowered(trimmed(head.substr(0, 64)));
    return start.starts_with("ncols") || start.starts_with("nrows") || start.starts_with("xllc") ||
           start.starts_with("yllc");
}

Result<RasterPtr> openAsciiGrid(const fs::path& path) {
    std::ifstream in(path, std::ios::binary);
    std::string head(4096, '\0');
    in.read(head.data(), static_cast<std::streamsize>(head.size()));
    head.resize(static_cast<std::size_t>(std::max<std::streamsize>(0, in.gcount())));
    const auto header = parseHeader(path, head);
    if (!header) return header.error();
    std::error_code code;
    const auto size = static_cast<double>(fs::file_size(path, code));
    if (header->cols * header->rows * 2 > size + 2)
        return badFormat(path,
                         "the header promises " + formatNumber(header->cols) + " × " +
                             formatNumber(header->rows) + " cells but the file has only " +
                             formatNumber(size) + " bytes",
                         "the file is cut short or its header is wrong; get a fresh copy");
    RasterInfo info;
    info.format = "ASCII grid";
    info.width = static_cast<std::int64_t>(header->cols);
    info.height = static_cast<std::int64_t>(header->rows);
    info.bands = {{CellType::Float64, header->nodata ? *header->nodata : kNaN, ""}};
    const double left = header->x - (header->xIsCentre ? header->dx / 2 : 0);
    const double bottom = header->y - (header->yIsCentre ? header->dy / 2 : 0);
    info.toWorld = {header->dx, 0, left, 0, -header->dy, bottom + header->rows * header->dy};
    info.crs = crsBeside(path, info.notes);
    return RasterPtr(std::make_shared<AsciiGrid>(path, *header, std::move(info)));
}

Result<void> writeAsciiGrid(const RasterSource& source, FileSet& set, const Progress& progress) {
    const fs::path& path = set.target();
    const RasterInfo& info = source.info();
    if (!info.toWorld.isNorthUp() ||
        std::abs(info.toWorld.a + info.toWorld.e) > 1e-9 * info.toWorld.a)
        return Error{ErrorCode::Unsupported, nameOf(path),
                     "an ASCII grid holds only north-up rasters with square cells",
                     "reproject with --cell, or write a GeoTIFF"};
    constexpr double kNodata = -9999;
    const Box box = info.extent();
    if (const auto done = putCrs(set, info.crs); !done) return done;
    std::ofstream out(set.main(), std::ios::binary);
    out << "ncols " << info.width << "\nnrows " << info.height << "\nxllcorner "
        << exactNumber(box.xMin) << "\nyllcorner " << exactNumber(box.yMin) << "\ncellsize "
        << exactNumber(info.toWorld.a) << "\nnodata_value " << kNodata << '\n';
    const bool isFloat = info.bands.front().type == CellType::Float32;
    Grid<double> row(1, static_cast<std::size_t>(info.width));
    std::string line;
    for (std::int64_t r = 0; r < info.height; ++r) {
        if (progress.stopped()) return cancelled(nameOf(path));
        if (const auto done = source.read(0, {0, r, info.width, 1}, row.view()); !done)
            return done.error();
        line.clear();
        for (const double v : row.cells()) {
            if (!line.empty()) line += ' ';
            std::array<char, 40> buffer{};
            const double cell = std::isnan(v) ? kNodata : v;
            const auto end =
                isFloat
                    ? std::to_chars(buffer.data(), buffer.data() + 40, static_cast<float>(cell)).ptr
                    : std::to_chars(buffer.data(), buffer.data() + 40, cell).ptr;
            line.append(buffer.data(), end);
        }
        out << line << '\n';
        if (!out) return writeFailure(path, {});
        progress.at(static_cast<double>(r) / static_cast<double>(info.height));
    }
    out.close();
    if (!out) return writeFailure(path, {});
    return {};
}

}  // namespace ledge::io
