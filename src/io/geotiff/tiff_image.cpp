#include "io/geotiff/tiff_image.h"

#include <fcntl.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstring>

#include "core/base/parallel.h"
#include "io/files/atomic_file.h"

namespace ledge::io {
namespace {
constexpr std::int64_t kPiece = 4 << 20;    ///< bytes read at once from a plain block
constexpr std::size_t kMostDamage = 10000;  ///< blocks that are told

// IEEE 754 half precision to single.
float fromHalf(std::uint16_t half) {
    const std::uint32_t sign = (half & 0x8000u) << 16;
    const std::uint32_t exponent = (half >> 10) & 0x1Fu, part = half & 0x3FFu;
    if (exponent == 0)
        return (sign != 0 ? -1.0F : 1.0F) * std::ldexp(static_cast<float>(part), -24);
    if (exponent == 31) return std::bit_cast<float>(sign | 0x7F800000u | (part << 13));
    return std::bit_cast<float>(sign | ((exponent + 112) << 23) | (part << 13));
}

template <typename Stored>
Stored swapped(Stored value) {
    std::array<std::byte, sizeof(Stored)> bytes;
    std::memcpy(bytes.data(), &value, sizeof(Stored));
    std::reverse(bytes.begin(), bytes.end());
    std::memcpy(&value, bytes.data(), sizeof(Stored));
    return value;
}

// One row of cells, `step` apart, to where they are wanted.
template <typename Stored, typename T>
void convertRow(const Stored* from, std::int64_t step, bool isSwapped, const CellReading& how,
                T* to, std::int64_t count) {
    const bool hasNodata = how.nodata.has_value() && !std::isnan(*how.nodata);
    const auto missing = static_cast<Stored>(hasNodata ? *how.nodata : 0);
    const bool isScaled = how.scale != 1 || how.offset != 0;
    constexpr T kNone = std::numeric_limits<T>::quiet_NaN();
    if (!isSwapped && !isScaled && step == 1) {
        if (hasNodata)
            for (std::int64_t c = 0; c < count; ++c)
                to[c] = from[c] == missing ? kNone : static_cast<T>(from[c]);
        else
            for (std::int64_t c = 0; c < count; ++c) to[c] = static_cast<T>(from[c]);
        return;
    }
    for (std::int64_t c = 0; c < count; ++c) {
        Stored value = from[c * step];
        if (isSwapped) value = swapped(value);
        if (hasNodata && value == missing)
            to[c] = kNone;
        else
            to[c] = isScaled ? static_cast<T>(static_cast<double>(value) * how.scale + how.offset)
                             : static_cast<T>(value);
    }
}

template <typename T>
void convertRowOf(CellType type, const std::byte* from, std::int64_t step, bool isSwapped,
                  const CellReading& how, T* to, std::int64_t count) {
    const auto as = [&]<typename Stored>(Stored) {
        convertRow(reinterpret_cast<const Stored*>(from), step, isSwapped, how, to, count);
    };
    switch (type) {
    case CellType::UInt8: return as(std::uint8_t{});
    case CellType::Int8: return as(std::int8_t{});
    case CellType::UInt16: return as(std::uint16_t{});
    case CellType::Int16: return as(std::int16_t{});
    case CellType::UInt32: return as(std::uint32_t{});
    case CellType::Int32: return as(std::int32_t{});
    case CellType::Float32: return as(float{});
    case CellType::Float64: return as(double{});
    }
}

CellWindow common(CellWindow a, CellWindow b) {
    const std::int64_t col = std::max(a.col, b.col), row = std::max(a.row, b.row);
    return {col, row, std::min(a.col + a.cols, b.col + b.cols) - col,
            std::min(a.row + a.rows, b.row + b.rows) - row};
}

template <typename T>
BlockView<T> placeIn(BlockView<T> out, CellWindow whole, CellWindow part) {
    return out.part(static_cast<std::size_t>(part.row - whole.row),
                    static_cast<std::size_t>(part.col - whole.col),
                    static_cast<std::size_t>(part.rows), static_cast<std::size_t>(part.cols));
}

template <typename T>
void fillWith(BlockView<T> out, T value) {
    for (std::size_t r = 0; r < out.rows(); ++r)
        std::fill(out.row(r).begin(), out.row(r).end(), value);
}
}  // namespace

// Where plain blocks stand in the file; length 0 for ones never written.
struct TiffImage::Places {
    int file = -1;
    std::vector<std::uint64_t> offsets, lengths;
    std::optional<Error> error;
    ~Places() {
        if (file >= 0) ::close(file);
    }
};

// A libtiff handle for the time of one block.
struct TiffImage::Lease {
    const TiffImage& image;
    std::unique_ptr<TiffFile> file;
    std::string failure;

    explicit Lease(const TiffImage& owner) : image(owner) {
        {
            const std::lock_guard lock(image.m_mutex);
            if (!image.m_handles.empty()) {
                file = std::move(image.m_handles.back());
                image.m_handles.pop_back();
                return;
            }
        }
        auto opened = TiffFile::open(image.m_path, "r");
        if (!opened) {
            failure = opened.error().why;
            return;
        }
        file = *std::move(opened);
        if (TIFFSetSubDirectory(file->handle(), image.m_directory) != 1) {
            failure = "its directory cannot be read again: " + file->takeMessage();
            file.reset();
            return;
        }
        if (image.m_layout.photometric == PHOTOMETRIC_YCBCR)
            TIFFSetField(file->handle(), TIFFTAG_JPEGCOLORMODE, JPEGCOLORMODE_RGB);
    }
    ~Lease() {
        if (!file) return;
        const std::lock_guard lock(image.m_mutex);
        image.m_handles.push_back(std::move(file));
    }
    Lease(const Lease&) = delete;
    Lease& operator=(const Lease&) = delete;
};

TiffImage::TiffImage(std::filesystem::path path, std::uint64_t directory, TiffLayout layout)
    : m_path(std::move(path)), m_directory(directory), m_layout(layout),
      m_owner(BlockCache::shared().newOwner()) {}

TiffImage::~TiffImage() { BlockCache::shared().forget(m_owner); }

Result<void> TiffImage::read(int band, CellWindow w, const CellReading& how,
                             BlockView<double> out) const {
    return readAs(band, w, how, out);
}
Result<void> TiffImage::read(int band, CellWindow w, const CellReading& how,
                             BlockView<float> out) const {
    return readAs(band, w, how, out);
}

std::vector<std::string> TiffImage::damage() const {
    const std::lock_guard lock(m_mutex);
    return m_damage;
}

void TiffImage::noteDamage(std::int64_t index, const std::string& why) const {
    const std::lock_guard lock(m_mutex);
    if (m_damage.size() == kMostDamage || !m_lost.insert(index).second) return;
    const TiffLayout& l = m_layout;
    const std::int64_t in = index % (l.blocksAcross * l.blocksDown);
    const std::int64_t col = in % l.blocksAcross * l.blockCols,
                       row = in / l.blocksAcross * l.blockRows;
    m_damage.push_back(nameOf(m_path) + ": " + (l.isTiled ? "tile " : "strip ") +
                       std::to_string(index) + " (from column " + std::to_string(col) + ", row " +
                       std::to_string(row) + ") cannot be read and counts as nodata: " + why);
}

template <typename T>
Result<void> TiffImage::readAs(int band, CellWindow w, const CellReading& how,
                               BlockView<T> out) const {
    const TiffLayout& l = m_layout;
    if (band < 0 || band >= l.bands || w.col < 0 || w.row < 0 || w.col + w.cols > l.width ||
        w.row + w.rows > l.height)
        return Error{ErrorCode::InvalidArgument, nameOf(m_path), "window outside the raster", ""};
    if (w.isEmpty()) return {};
    if (l.isPlain)
        if (const auto found = findPlaces(); !found) return found;
    const std::int64_t col0 = w.col / l.blockCols, row0 = w.row / l.blockRows;
    const std::int64_t across = (w.col + w.cols - 1) / l.blockCols - col0 + 1;
    const std::int64_t down = (w.row + w.rows - 1) / l.blockRows - row0 + 1;
    const auto one = [&](std::size_t k) {
        const std::int64_t bc = col0 + static_cast<std::int64_t>(k) % across;
        const std::int64_t br = row0 + static_cast<std::int64_t>(k) / across;
        std::int64_t index = br * l.blocksAcross + bc;
        if (l.isPlanar) index += band * l.blocksAcross * l.blocksDown;
        const CellWindow block{bc * l.blockCols, br * l.blockRows, l.blockCols, l.blockRows};
        if (l.isPlain) return readPlain(index, band, block, w, how, out);
        const Block bytes =
            BlockCache::shared().get(m_owner, index, [&] { return decoded(index); });
        const CellWindow part = common(block, w);
        const BlockView<T> place = placeIn(out, w, part);
        if (bytes->empty()) return fillWith(place, std::numeric_limits<T>::quiet_NaN());
        const std::int64_t step = l.isPlanar ? 1 : l.bands, shift = l.isPlanar ? 0 : band;
        for (std::size_t r = 0; r < place.rows(); ++r) {
            const std::int64_t at =
                ((part.row - block.row + static_cast<std::int64_t>(r)) * l.blockCols +
                 (part.col - block.col)) *
                    step +
                shift;
            convertRowOf(l.type, bytes->data() + at * static_cast<std::int64_t>(l.cell()), step,
                         false, how, place.row(r).data(), part.cols);
        }
    };
    const auto count = static_cast<std::size_t>(across * down);
    // Plain cells come from the page cache; their callers split the work when they want to.
    if (l.isPlain || count < 3) {
        for (std::size_t k = 0; k < count; ++k) one(k);
    } else {
        parallelRanges(count, 1, [&](std::size_t k, std::size_t) { one(k); });
    }
    return {};
}

Result<void> TiffImage::findPlaces() const {
    std::call_once(m_placesOnce, [this] {
        m_places = std::make_unique<Places>();
        const Lease lease(*this);
        if (!lease.file) {
            m_places->error = badFormat(m_path, lease.failure);
            return;
        }
        m_places->file = ::open(m_path.c_str(), O_RDONLY | O_CLOEXEC);
        if (m_places->file < 0) {
            m_places->error = ioFailure(m_path, "cannot be opened", "check permissions");
            return;
        }
        const auto count = static_cast<std::size_t>(m_layout.blockCount());
        m_places->offsets.resize(count);
        m_places->lengths.resize(count);
        for (std::size_t i = 0; i < count; ++i) {
            const auto block = static_cast<std::uint32_t>(i);
            m_places->offsets[i] = TIFFGetStrileOffset(lease.file->handle(), block);
            m_places->lengths[i] = TIFFGetStrileByteCount(lease.file->handle(), block);
        }
    });
    if (m_places->error) return *m_places->error;
    return {};
}

template <typename T>
void TiffImage::readPlain(std::int64_t index, int band, CellWindow block, CellWindow w,
                          const CellReading& how, BlockView<T> out) const {
    const TiffLayout& l = m_layout;
    const CellWindow part = common(block, w);
    const BlockView<T> place = placeIn(out, w, part);
    const auto at = static_cast<std::size_t>(index);
    const std::uint64_t offset = m_places->offsets[at];
    if (offset == 0 || m_places->lengths[at] == 0)  // never written
        return fillWith(place, std::numeric_limits<T>::quiet_NaN());
    const auto cell = static_cast<std::int64_t>(l.cell());
    const std::int64_t step = l.isPlanar ? 1 : l.bands, shift = l.isPlanar ? 0 : band;
    const std::int64_t rowBytes = l.blockCols * step * cell;
    const std::int64_t wanted = part.cols * step * cell;
    // Whole stretches of rows at once, unless most of what lies between is not wanted.
    const std::int64_t batch = wanted * 4 < rowBytes && rowBytes > 4096
                                   ? 1
                                   : std::clamp<std::int64_t>(kPiece / rowBytes, 1, part.rows);
    static thread_local std::vector<std::byte> bytes;
    for (std::int64_t r = 0; r < part.rows; r += batch) {
        const std::int64_t rows = std::min(batch, part.rows - r);
        const auto size = static_cast<std::size_t>((rows - 1) * rowBytes + wanted);
        if (bytes.size() < size) bytes.resize(size);
        const std::int64_t from = static_cast<std::int64_t>(offset) +
                                  (part.row - block.row + r) * rowBytes +
                                  (part.col - block.col) * step * cell;
        std::size_t got = 0;
        while (got < size) {
            const ssize_t n = ::pread(m_places->file, bytes.data() + got, size - got,
                                      from + static_cast<std::int64_t>(got));
            if (n < 0 && errno == EINTR) continue;
            if (n <= 0) break;
            got += static_cast<std::size_t>(n);
        }
        if (got < size) noteDamage(index, "the file ends before it");
        for (std::int64_t k = 0; k < rows; ++k) {
            T* const to = place.row(static_cast<std::size_t>(r + k)).data();
            if (static_cast<std::size_t>(k * rowBytes + wanted) > got) {
                std::fill(to, to + part.cols, std::numeric_limits<T>::quiet_NaN());
                continue;
            }
            convertRowOf(l.type, bytes.data() + k * rowBytes + shift * cell, step, l.isSwapped, how,
                         to, part.cols);
        }
    }
}

TiffImage::Block TiffImage::decoded(std::int64_t index) const {
    static const Block lost = std::make_shared<BlockCache::Bytes>();
    const Lease lease(*this);
    if (!lease.file) {
        noteDamage(index, lease.failure);
        return lost;
    }
    TIFF* tiff = lease.file->handle();
    const auto number = static_cast<std::uint32_t>(index);
    const tmsize_t size = m_layout.isTiled ? TIFFTileSize(tiff) : TIFFStripSize(tiff);
    const std::int64_t packed = m_layout.bits == 8 * static_cast<int>(m_layout.cell())
                                    ? m_layout.blockBytes
                                    : (m_layout.blockCols * m_layout.bits + 7) / 8 *
                                          m_layout.blockRows *
                                          (m_layout.isPlanar ? 1 : m_layout.bands);
    if (size <= 0 || size > packed) {
        noteDamage(index, "its size is not what the header says");
        return lost;
    }
    // Short last strips leave the rest at zero.
    auto bytes = std::make_shared<BlockCache::Bytes>(static_cast<std::size_t>(packed));
    if (TIFFGetStrileByteCount(tiff, number) == 0) return lost;  // never written
    const tmsize_t got = m_layout.isTiled ? TIFFReadEncodedTile(tiff, number, bytes->data(), size)
                                          : TIFFReadEncodedStrip(tiff, number, bytes->data(), size);
    if (got < 0) {
        noteDamage(index, lease.file->takeMessage());
        return lost;
    }
    if (m_layout.bits == 8 * static_cast<int>(m_layout.cell())) return bytes;
    return unpacked(*bytes);
}

// Cells of 1, 2, 4 bits and half floats as the types they are read in.
TiffImage::Block TiffImage::unpacked(const std::vector<std::byte>& raw) const {
    const TiffLayout& l = m_layout;
    auto out = std::make_shared<BlockCache::Bytes>(static_cast<std::size_t>(l.blockBytes));
    if (l.isHalfFloat) {
        for (std::size_t i = 0; i + 1 < raw.size(); i += 2) {
            std::uint16_t half = 0;
            std::memcpy(&half, raw.data() + i, 2);
            const float value = fromHalf(half);
            std::memcpy(out->data() + 2 * i, &value, 4);
        }
        return out;
    }
    const auto rowBytes = static_cast<std::size_t>((l.blockCols * l.bits + 7) / 8);
    const auto perByte = static_cast<std::size_t>(8 / l.bits);
    const unsigned keep = (1u << l.bits) - 1;
    for (std::size_t r = 0; r < static_cast<std::size_t>(l.blockRows); ++r)
        for (std::size_t c = 0; c < static_cast<std::size_t>(l.blockCols); ++c) {
            const auto byte = std::to_integer<unsigned>(raw[r * rowBytes + c / perByte]);
            const auto shift =
                8 - static_cast<unsigned>(l.bits) * static_cast<unsigned>(c % perByte + 1);
            (*out)[r * static_cast<std::size_t>(l.blockCols) + c] =
                static_cast<std::byte>((byte >> shift) & keep);
        }
    return out;
}

}  // namespace ledge::io
