#include "io/picture/deflated_rows.h"

#include <zlib.h>

#include <algorithm>
#include <memory>
#include <string>

#include "core/base/parallel.h"
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

}  // namespace

Result<void> deflateRows(const Picture& shape, const PictureRows& rows,
                         const std::function<void(std::string_view)>& put) {
    const std::size_t rowBytes = shape.width * shape.bands;
    const std::size_t rowsEach = std::max<std::size_t>(1, kStretchBytes / (rowBytes + 1));
    std::vector<Stretch> stretches(kStretchesAThread * std::max(1u, threadCount()));
    std::vector<unsigned char> before;
    std::vector<std::byte> row(rowBytes);
    uLong sum = adler32(0, nullptr, 0);
    bool isFirst = true;
    for (std::size_t next = 0; next < shape.height;) {
        std::size_t count = 0;
        for (; count < stretches.size() && next < shape.height; ++count) {
            Stretch& one = stretches[count];
            one.filtered.clear();
            one.filtered.reserve(rowsEach * (rowBytes + 1));
            for (const std::size_t end = std::min(next + rowsEach, shape.height); next < end;
                 ++next) {
                if (const auto done = rows(next, row); !done) return done;
                filter(row, shape.bands, one.filtered);
            }
        }
        parallelRanges(count, 1, [&](std::size_t begin, std::size_t end) {
            for (std::size_t i = begin; i < end; ++i) {
                std::span<const unsigned char> known = i == 0 ? before : stretches[i - 1].filtered;
                known = known.last(std::min(known.size(), kWindow));
                const bool isLast = next == shape.height && i + 1 == count;
                stretches[i].isDone = deflateStretch(stretches[i], known, isLast);
            }
        });
        for (std::size_t i = 0; i < count; ++i) {
            Stretch& one = stretches[i];
            if (!one.isDone)
                return Error{ErrorCode::IoFailure, "the picture", "could not be deflated",
                             "choose a lower resolution"};
            sum = adler32_combine(sum, one.sum, static_cast<z_off_t>(one.filtered.size()));
            if (std::exchange(isFirst, false)) one.deflated.insert(0, "\x78\x5E", 2);
            if (next == shape.height && i + 1 == count)
                putNumber(one.deflated, static_cast<std::uint32_t>(sum), std::endian::big);
            put(one.deflated);
        }
        before = std::move(stretches[count - 1].filtered);
    }
    return {};
}

}  // namespace ledge::io
