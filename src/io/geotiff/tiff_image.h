#pragma once
#include <mutex>
#include <set>

#include "core/raster/block_cache.h"
#include "io/geotiff/tiff_layout.h"

namespace ledge::io {

/// What turns stored cells into the ones read.
struct CellReading {
    std::optional<double> nodata;  ///< in stored cells; becomes NaN
    double scale = 1, offset = 0;
};

/// One image of a TIFF file (the full one, an overview or a mask), read by windows from several
/// threads at once: compressed blocks through the shared cache, each thread with a libtiff handle
/// of its own; plain cells straight from the file.
/// A block that cannot be decoded reads as NaN and is told once by damage().
class TiffImage {
public:
    /// `directory` is the offset of its directory in the file.
    TiffImage(std::filesystem::path path, std::uint64_t directory, TiffLayout layout);
    ~TiffImage();
    TiffImage(const TiffImage&) = delete;
    TiffImage& operator=(const TiffImage&) = delete;

    const TiffLayout& layout() const { return m_layout; }
    Result<void> read(int band, CellWindow window, const CellReading& how,
                      BlockView<double> out) const;
    Result<void> read(int band, CellWindow window, const CellReading& how,
                      BlockView<float> out) const;
    std::vector<std::string> damage() const;

private:
    using Block = BlockCache::Block;
    struct Places;
    struct Lease;

    template <typename T>
    Result<void> readAs(int band, CellWindow w, const CellReading& how, BlockView<T> out) const;
    template <typename T>
    void readPlain(std::int64_t index, int band, CellWindow block, CellWindow w,
                   const CellReading& how, BlockView<T> out) const;
    Block decoded(std::int64_t index) const;
    Block unpacked(const std::vector<std::byte>& raw) const;
    Result<void> findPlaces() const;
    void noteDamage(std::int64_t index, const std::string& why) const;

    std::filesystem::path m_path;
    std::uint64_t m_directory;
    TiffLayout m_layout;
    std::uint64_t m_owner;
    mutable std::mutex m_mutex;  // guards the handles and the damage
    mutable std::vector<std::unique_ptr<TiffFile>> m_handles;
    mutable std::set<std::int64_t> m_lost;
    mutable std::vector<std::string> m_damage;
    mutable std::once_flag m_placesOnce;
    mutable std::unique_ptr<Places> m_places;  ///< of plain blocks
};

}  // namespace ledge::io
