#include "io/picture/paper_png.h"

#include <zlib.h>

#include <cstdio>
#include <memory>
#include <string>

#include "io/files/atomic_file.h"
#include "io/files/byte_reader.h"
#include "io/picture/deflated_rows.h"

namespace ledge::io {
namespace {
class PaperPng {
public:
    PaperPng(const Picture& shape, const PictureRows& rows) : m_shape(shape), m_rows(rows) {}

    Result<void> write(const std::filesystem::path& path) {
        m_file.reset(std::fopen(path.c_str(), "wb"));
        if (!m_file)
            return ioFailure(path, "could not be created",
                             "check that the folder exists and can be written");
        put("\x89PNG\r\n\x1a\n");
        head();
        const auto done =
            deflateRows(m_shape, m_rows, [this](std::string_view data) { chunk("IDAT", data); });
        if (!done) return done;
        chunk("IEND", {});
        if (std::fflush(m_file.get()) != 0 || std::ferror(m_file.get()) != 0)
            return writeFailure(path, "");
        return {};
    }

private:
    void put(std::string_view bytes) {
        // Nothing has no place it could be read from. Failures are told by ferror at the end.
        if (!bytes.empty()) std::fwrite(bytes.data(), 1, bytes.size(), m_file.get());
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
    const Picture& m_shape;
    const PictureRows& m_rows;
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
