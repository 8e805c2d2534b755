#include "io/picture/paper_png.h"

#include <zlib.h>

#include <algorithm>
#include <cstdio>
#include <memory>
#include <string>

#include "core/base/parallel.h"
#include "io/files/atomic_file.h"
#include "io/files/byte_reader.h"

namespace ledge::io {
namespace {
constexpr int kLevel = 3;
constexpr std::size_t kStretchBytes = std::size_t{1} << 20, kWindow = 32768;
constexpr std::size_t kStretchesAThread = 2;

// Rows that are deflated together.
struct Stretch {
    std::vector<unsigned char> filtered;
    std::string deflated;
    uLong sum = 0;  ///< Adler-32 of what was filtered
    bool isDone = false;
};

// Each value less the one of the pixel before (filter type 1).
void filter(std::span<const std::byte> row, std::size_t pixelBytes,
            std::vector<unsigned char>& out) {
    out.push_back(1);
    for (std::size_t i = 0; i < row.size(); ++i) {
        const auto value = std::to_integer<unsigned>(row[i]);
        const unsigned before = i < pixelBytes ? 0 : std::to_integer<unsigned>(row[i - pixelBytes]);
        out.push_back(static_cast<unsigned char>(value - before));
    }
}

bool deflateStretch(Stretch& stretch, std::span<const unsigned char> before, bool isLast) {
    z_stream stream{};
    if (deflateInit2(&stream, kLevel, Z_DEFLATED, -15, 8, Z_DEFAULT_STRATEGY) != Z_OK) return false;
    const std::unique_ptr<z_stream, int (*)(z_stream*)> end(&stream, deflateEnd);
    if (!before.empty())
        deflateSetDictionary(&stream, before.data(), static_cast<uInt>(before.size()));
    // Ends flushed to a byte are a few bytes longer than the bound of a stream that finishes.
    stretch.deflated.resize(deflateBound(&stream, static_cast<uLong>(stretch.filtered.size())) +
                            64);
    stream.next_in = stretch.filtered.data();
    stream.avail_in = static_cast<uInt>(stretch.filtered.size());
    stream.next_out = reinterpret_cast<Bytef*>(stretch.deflated.data());
    stream.avail_out = static_cast<uInt>(stretch.deflated.size());
    const int code = deflate(&stream, isLast ? Z_FINISH : Z_SYNC_FLUSH);
    if (code != (isLast ? Z_STREAM_END : Z_OK) || stream.avail_in != 0) return false;
    stretch.deflated.resize(stretch.deflated.size() - stream.avail_out);
    stretch.sum = adler32(adler32(0, nullptr, 0), stretch.filtered.data(),
                          static_cast<uInt>(stretch.filtered.size()));
    return true;
}

class PaperPng {
public:
    PaperPng(const Picture& shape, const PictureRows& rows)
        : m_shape(shape), m_rows(rows), m_rowBytes(shape.width * shape.bands) {}

    Result<void> write(const std::filesystem::path& path) {
        m_file.reset(std::fopen(path.c_str(), "wb"));
        if (!m_file)
            return ioFailure(path, "could not be created",
                             "check that the folder exists and can be written");
        put("\x89PNG\r\n\x1a\n");
        head();
        if (const auto done = pixels(); !done) return done;
        chunk("IEND", {});
        if (std::fflush(m_file.get()) != 0 || std::ferror(m_file.get()) != 0)
            return writeFailure(path, "");
        return {};
    }

private:
    void put(std::string_view bytes) {
        std::fwrite(bytes.data(), 1, bytes.size(), m_file.get());  // told by ferror at the end
    }
    void chunk(std::string_view type, std::string_view data) {
        std::string edge;
        putNumber(edge, static_cast<std::uint32_t>(data.size()), std::endian::big);
        edge += type;
        put(edge);
        put(data);
        uLong sum =
            crc32(0, reinterpret_cast<const Bytef*>(type.data()), static_cast<uInt>(type.size()));
        if (!data.empty())  // of nothing zlib would begin anew
            sum = crc32(sum, reinterpret_cast<const Bytef*>(data.data()),
                        static_cast<uInt>(data.size()));
        edge.clear();
        putNumber(edge, static_cast<std::uint32_t>(sum), std::endian::big);
        put(edge);
    }
    void head() {
        std::string data;
        putNumber(data, static_cast<std::uint32_t>(m_shape.width), std::endian::big);
        putNumber(data, static_cast<std::uint32_t>(m_shape.height), std::endian::big);
        data += '\x08';
        data += m_shape.bands == 1 ? '\0' : m_shape.bands == 3 ? '\2' : '\6';
        data += std::string(3, '\0');
        chunk("IHDR", data);
        const auto perMetre = static_cast<std::uint32_t>(m_shape.dotsPerInch / 0.0254 + 0.5);
        data.clear();
        putNumber(data, perMetre, std::endian::big);
        putNumber(data, perMetre, std::endian::big);
        data += '\1';
        chunk("pHYs", data);
    }
    Result<void> pixels() {
        const std::size_t rowsEach = std::max<std::size_t>(1, kStretchBytes / (m_rowBytes + 1));
        std::vector<Stretch> stretches(kStretchesAThread * std::max(1u, threadCount()));
        std::vector<unsigned char> before;
        std::vector<std::byte> row(m_rowBytes);
        uLong sum = adler32(0, nullptr, 0);
        bool isFirst = true;
        for (std::size_t next = 0; next < m_shape.height;) {
            std::size_t count = 0;
            for (; count < stretches.size() && next < m_shape.height; ++count) {
                Stretch& one = stretches[count];
                one.filtered.clear();
                one.filtered.reserve(rowsEach * (m_rowBytes + 1));
                for (const std::size_t end = std::min(next + rowsEach, m_shape.height); next < end;
                     ++next) {
                    if (const auto done = m_rows(next, row); !done) return done;
                    filter(row, m_shape.bands, one.filtered);
                }
            }
            parallelRanges(count, 1, [&](std::size_t begin, std::size_t end) {
                for (std::size_t i = begin; i < end; ++i) {
                    std::span<const unsigned char> known =
                        i == 0 ? before : stretches[i - 1].filtered;
                    known = known.last(std::min(known.size(), kWindow));
                    const bool isLast = next == m_shape.height && i + 1 == count;
                    stretches[i].isDone = deflateStretch(stretches[i], known, isLast);
                }
            });
            for (std::size_t i = 0; i < count; ++i) {
                Stretch& one = stretches[i];
                if (!one.isDone)
                    return Error{ErrorCode::IoFailure, "PNG", "could not be deflated",
                                 "choose a lower resolution"};
                sum = adler32_combine(sum, one.sum, static_cast<z_off_t>(one.filtered.size()));
                if (std::exchange(isFirst, false)) one.deflated.insert(0, "\x78\x5E", 2);
                if (next == m_shape.height && i + 1 == count)
                    putNumber(one.deflated, static_cast<std::uint32_t>(sum), std::endian::big);
                chunk("IDAT", one.deflated);
            }
            before = std::move(stretches[count - 1].filtered);
        }
        return {};
    }

    const Picture& m_shape;
    const PictureRows& m_rows;
    std::size_t m_rowBytes;
    std::unique_ptr<std::FILE, int (*)(std::FILE*)> m_file{nullptr, std::fclose};
};
}  // namespace

bool isPaperPng(const Picture& shape) {
    return shape.dotsPerInch > 0 && shape.palette.empty() && shape.bytesPerValue == 1 &&
           shape.bands != 2 && shape.width > 0 && shape.height > 0;
}

Result<void> encodePaperPng(const Picture& shape, const std::filesystem::path& path,
                            const PictureRows& rows) {
    return PaperPng(shape, rows).write(path);
}

}  // namespace ledge::io
