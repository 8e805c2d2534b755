#include "io/geotiff/geotiff_writer.h"

#include <cmath>

#include "core/crs/wkt.h"
#include "io/files/sidecars.h"
#include "io/geotiff/geo_keys.h"
#include "io/geotiff/tile_writer.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;

// One resolution on its way to the file: rows come in, pairs of them go on to the next level.
class Level {
public:
    Level(const fs::path& target, fs::path file, const RasterInfo& info, Compression compression)
        : m_file(std::move(file)), m_info(info), m_writer(target, info, compression),
          m_isNearest(!info.bands.front().palette.empty()) {}

    Result<void> open(bool isOverview) { return m_writer.open(m_file, isOverview); }
    TileWriter& writer() { return m_writer; }
    const fs::path& file() const { return m_file; }
    const RasterInfo& info() const { return m_info; }
    void setNext(Level* next) { m_next = next; }

    template <typename T>
    Result<void> append(BlockView<const T> rows) {
        if (const auto done = m_writer.append(rows); !done || !m_next) return done;
        Grid<double> halves(rows.rows() / 2 + 2, static_cast<std::size_t>(m_next->info().width));
        std::size_t made = 0;
        for (std::size_t r = 0; r < rows.rows(); ++r) {
            const auto row = rows.row(r);
            ++m_done;
            if (m_upper.empty()) {
                m_upper.assign(row.begin(), row.end());
                if (m_done < m_info.height) continue;
            }
            const bool isAlone = m_done % 2 == 1;
            for (std::size_t c = 0; c < halves.cols(); ++c)
                halves(made, c) = reduced(row, 2 * c, isAlone);
            ++made;
            m_upper.clear();
            if (m_done == m_info.height) m_done = 0;
        }
        return m_next->append(
            BlockView<const double>(halves.view().part(0, 0, made, halves.cols())));
    }

private:
    // What becomes of the cells at `col` and to its right, above and below.
    template <typename T>
    double reduced(std::span<const T> lower, std::size_t col, bool isAlone) const {
        if (m_isNearest) return m_upper[col];
        double sum = 0;
        int count = 0;
        const auto add = [&](double v) {
            if (!std::isnan(v)) sum += v, ++count;
        };
        for (std::size_t c = col; c < std::min(col + 2, m_upper.size()); ++c) {
            add(m_upper[c]);
            if (!isAlone) add(static_cast<double>(lower[c]));
        }
        return count > 0 ? sum / count : kNaN;
    }

    fs::path m_file;
    RasterInfo m_info;
    TileWriter m_writer;
    bool m_isNearest;
    Level* m_next = nullptr;
    std::vector<double> m_upper;  ///< an upper row that waits for its lower
    std::int64_t m_done = 0;
};

// Puts the finished levels into one file: all directories first, then the tiles of the smallest
// level, up to the largest.
Result<void> assemble(std::span<const std::unique_ptr<Level>> levels, const fs::path& target,
                      const fs::path& path, Compression compression) {
    const auto failed = [&](TiffFile& file) { return writeFailure(target, file.takeMessage()); };
    double bytes = 0;
    std::error_code code;
    for (const auto& level : levels)
        bytes += static_cast<double>(fs::file_size(level->file(), code));
    auto opened = TiffFile::open(path, bytes > 3.9e9 ? "w8" : "w");
    if (!opened) return opened.error();
    TiffFile& out = **opened;
    for (std::size_t k = 0; k < levels.size(); ++k) {
        setImageTags(out.handle(), levels[k]->info(), compression, k > 0);
        TIFFDeferStrileArrayWriting(out.handle());
        if (TIFFWriteCheck(out.handle(), 1, "overviews") != 1 ||
            TIFFWriteDirectory(out.handle()) != 1)
            return failed(out);
    }
    for (std::size_t k = 0; k < levels.size(); ++k)
        if (TIFFSetDirectory(out.handle(), static_cast<tdir_t>(k)) != 1 ||
            TIFFForceStrileArrayWriting(out.handle()) != 1)
            return failed(out);
    std::vector<std::byte> tile;
    for (std::size_t k = levels.size(); k-- > 0;) {
        auto in = TiffFile::open(levels[k]->file(), "rm");
        if (!in) return in.error();
        if (TIFFSetDirectory(out.handle(), static_cast<tdir_t>(k)) != 1) return failed(out);
        const std::uint32_t count = TIFFNumberOfTiles((*in)->handle());
        for (std::uint32_t i = 0; i < count; ++i) {
            const std::uint64_t size = TIFFGetStrileByteCount((*in)->handle(), i);
            if (tile.size() < size) tile.resize(size);
            if (TIFFReadRawTile((*in)->handle(), i, tile.data(), static_cast<tmsize_t>(size)) < 0)
                return failed(**in);
            if (TIFFWriteRawTile(out.handle(), i, tile.data(), static_cast<tmsize_t>(size)) < 0)
                return failed(out);
        }
        if (TIFFFlush(out.handle()) != 1) return failed(out);
    }
    out.close();
    return {};
}

class GeoTiffSink final : public RasterSink {
public:
    GeoTiffSink(FileSet set, const RasterInfo& info, const RasterWriting& writing)
        : m_set(std::move(set)), m_writing(writing) {
        constexpr auto kSide = static_cast<std::int64_t>(kTileSide);
        RasterInfo level = info;
        const bool isLaidOut = writing.withOverviews && std::max(level.width, level.height) > kSide;
        add(level, isLaidOut ? besides() : m_set.main());
        while (writing.withOverviews && std::max(level.width, level.height) > kSide) {
            level.width = (level.width + 1) / 2, level.height = (level.height + 1) / 2;
            add(level, besides());
            m_levels[m_levels.size() - 2]->setNext(m_levels.back().get());
        }
    }

    Result<void> open() {
        const auto& crs = m_levels[0]->info().crs;
        // Where the tags tell the CRS, whatever a .prj beside it says is not asked.
        if (!crs || !hasGeoKeys(*crs))
            if (const auto done = putCrs(m_set, crs); !done) return done;
        for (const std::string_view part : {".ovr", ".msk"})  // would be taken for its own
            if (const auto done = m_set.put(part, {}); !done) return done;
        m_levels.front()->writer().setDotsPerInch(m_writing.dotsPerInch);
        for (std::size_t k = 0; k < m_levels.size(); ++k)
            if (const auto done = m_levels[k]->open(k > 0); !done) return m_set.named(done.error());
        return {};
    }
    Result<void> append(BlockView<const float> rows) override { return m_levels[0]->append(rows); }
    Result<void> append(BlockView<const double> rows) override { return m_levels[0]->append(rows); }

    Result<void> finish() override {
        for (const auto& level : m_levels) {
            if (!level->writer().isComplete())
                return Error{ErrorCode::InvalidArgument, nameOf(m_set.target()),
                             "not all rows were written", ""};
            if (const auto done = level->writer().close(); !done) return done;
        }
        if (m_levels.size() > 1)
            if (const auto done =
                    assemble(m_levels, m_set.target(), m_set.main(), m_writing.compression);
                !done)
                return done;
        return m_set.commit();
    }

private:
    // A file that is never renamed: levels wait in it for their place in the whole.
    const fs::path& besides() {
        m_waiting.push_back(std::make_unique<AtomicFile>(m_set.target()));
        return m_waiting.back()->temporary();
    }
    void add(const RasterInfo& level, const fs::path& file) {
        m_levels.push_back(
            std::make_unique<Level>(m_set.target(), file, level, m_writing.compression));
    }

    // Both outlive the writers' handles, so that partial files are removed last.
    FileSet m_set;
    std::vector<std::unique_ptr<AtomicFile>> m_waiting;
    RasterWriting m_writing;
    std::vector<std::unique_ptr<Level>> m_levels;  ///< largest first
};
}  // namespace

Result<std::unique_ptr<RasterSink>> createGeoTiff(FileSet set, const RasterInfo& info,
                                                  const RasterWriting& writing) {
    if (info.width <= 0 || info.height <= 0 || info.bands.empty())
        return Error{ErrorCode::InvalidArgument, nameOf(set.target()), "a raster of no size", ""};
    auto sink = std::make_unique<GeoTiffSink>(std::move(set), info, writing);
    if (const auto done = sink->open(); !done) return done.error();
    return std::unique_ptr<RasterSink>(std::move(sink));
}

Result<void> copyToGeoTiff(const RasterSource& source, FileSet& set, const RasterWriting& writing,
                           const Progress& progress) {
    const fs::path path = set.target();
    const RasterInfo& info = source.info();
    auto sink = createGeoTiff(std::move(set), info, writing);
    if (!sink) return sink.error();
    constexpr std::int64_t kRows = kTileSide;
    Grid<double> rows(kRows, static_cast<std::size_t>(info.width));
    const auto bands = static_cast<int>(info.bands.size());
    for (int band = 0; band < bands; ++band) {
        for (std::int64_t row = 0; row < info.height; row += kRows) {
            if (progress.stopped()) return cancelled(nameOf(path));
            const std::int64_t count = std::min(kRows, info.height - row);
            const auto part = rows.view().part(0, 0, static_cast<std::size_t>(count), rows.cols());
            if (const auto done = source.read(band, {0, row, info.width, count}, part); !done)
                return done.error();
            if (const auto done = (*sink)->append(BlockView<const double>(part)); !done)
                return done.error();
            progress.at((band + static_cast<double>(row) / static_cast<double>(info.height)) /
                        bands);
        }
    }
    return (*sink)->finish();
}

}  // namespace ledge::io
