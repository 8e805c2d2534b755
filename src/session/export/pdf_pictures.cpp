#include "session/export/pdf_pictures.h"

#include <QImage>
#define POINTERHOLDER_TRANSITION 4
#include <array>
#include <optional>
#include <qpdf/QPDF.hh>

#include "io/files/atomic_file.h"
#include "io/files/byte_reader.h"
#include "io/picture/deflated_rows.h"

namespace ledge::session {
namespace {
// Pixels of a mark: two that say what it is, two that say which.
constexpr int kMarkPixels = 4;
constexpr std::array<QRgb, 2> kSigns{qRgb(0x4C, 0x1D, 0xD6), qRgb(0xE1, 0x93, 0x0B)};

QImage markOf(std::size_t index) {
    QImage out(kMarkPixels, 1, QImage::Format_RGB32);
    out.setPixel(0, 0, kSigns[0]);
    out.setPixel(1, 0, kSigns[1]);
    const auto low = static_cast<unsigned>(index & 0xFFFFFF),
               high = static_cast<unsigned>(index >> 24 & 0xFFFFFF);
    for (const auto& [x, part] : {std::pair(2, low), std::pair(3, high)})
        out.setPixel(x, 0, qRgb(int(part >> 16), int(part >> 8 & 0xFF), int(part & 0xFF)));
    return out;
}

std::optional<std::size_t> indexOf(QPDFObjectHandle image) {
    const auto is = [&](const char* key, long long value) {
        QPDFObjectHandle found = image.getDict().getKey(key);
        return found.isInteger() && found.getIntValue() == value;
    };
    QPDFObjectHandle kind = image.getDict().getKey("/Subtype");
    if (!kind.isName() || kind.getName() != "/Image" || !is("/Width", kMarkPixels) ||
        !is("/Height", 1) || !is("/BitsPerComponent", 8))
        return {};
    const auto data = image.getStreamData(qpdf_dl_all);
    if (!data || data->getSize() < 3 * kMarkPixels) return {};
    const auto pixel = [&](std::size_t x) {
        const unsigned char* at = data->getBuffer() + 3 * x;
        return qRgb(at[0], at[1], at[2]);
    };
    if (pixel(0) != kSigns[0] || pixel(1) != kSigns[1]) return {};
    return std::size_t{pixel(2) & 0xFFFFFF} | std::size_t{pixel(3) & 0xFFFFFF} << 24;
}

// A stretch of a file.
class Stretch final : public QPDFObjectHandle::StreamDataProvider {
public:
    Stretch(std::filesystem::path path, std::uintmax_t from, std::uintmax_t bytes)
        : m_path(std::move(path)), m_from(from), m_bytes(bytes) {}
    void provideStreamData(int, int, Pipeline* into) override {
        std::ifstream file(m_path, std::ios::binary);
        file.seekg(static_cast<std::streamoff>(m_from));
        std::vector<char> block(std::size_t{1} << 18);
        for (std::uintmax_t left = m_bytes; left > 0;) {
            const auto now = static_cast<std::streamsize>(
                std::min<std::uintmax_t>(left, static_cast<std::uintmax_t>(block.size())));
            if (!file.read(block.data(), now))
                throw std::runtime_error("a picture could not be read back");
            into->write(reinterpret_cast<unsigned char*>(block.data()),
                        static_cast<std::size_t>(now));
            left -= static_cast<std::uintmax_t>(now);
        }
        into->finish();
    }

private:
    std::filesystem::path m_path;
    std::uintmax_t m_from, m_bytes;
};
}  // namespace

PdfPictures::PdfPictures(const std::filesystem::path& file, std::filesystem::path named)
    : m_path(file), m_named(std::move(named)), m_file(file, std::ios::binary) {}

Result<void> PdfPictures::failure() const { return io::writeFailure(m_named, ""); }

Result<void> PdfPictures::paint(QPainter& painter, const QRectF& at, const QImage& image) {
    const QImage rgb = image.convertToFormat(QImage::Format_RGB888);
    io::Picture shape;
    shape.width = static_cast<std::size_t>(rgb.width());
    shape.height = static_cast<std::size_t>(rgb.height());
    shape.bands = 3;
    Kept kept{rgb.width(), rgb.height(), static_cast<std::uintmax_t>(m_file.tellp()), 0};
    const auto done = io::deflateRows(
        shape,
        [&](std::size_t row, std::span<std::byte> out) -> Result<void> {
            std::memcpy(out.data(), rgb.constScanLine(static_cast<int>(row)), out.size());
            return {};
        },
        [&](std::string_view data) {
            m_file.write(data.data(), static_cast<std::streamsize>(data.size()));
            kept.bytes += data.size();
        });
    if (!done) return done;
    if (!m_file) return failure();
    // Of four pixels JPEG would not leave what they say.
    painter.save();
    painter.setRenderHint(QPainter::LosslessImageRendering);
    painter.drawImage(at, markOf(m_kept.size()));
    painter.restore();
    m_kept.push_back(kept);
    return {};
}

Result<void> PdfPictures::putInto(QPDF& pdf) {
    m_file.close();
    if (!m_file) return failure();
    if (m_kept.empty()) return {};
    std::size_t put = 0;
    for (QPDFObjectHandle object : pdf.getAllObjects()) {
        if (!object.isStream()) continue;
        const auto index = indexOf(object);
        if (!index || *index >= m_kept.size()) continue;
        const Kept& kept = m_kept[*index];
        QPDFObjectHandle dict = object.getDict();
        dict.replaceKey("/Width", QPDFObjectHandle::newInteger(kept.width));
        dict.replaceKey("/Height", QPDFObjectHandle::newInteger(kept.height));
        QPDFObjectHandle how = QPDFObjectHandle::parse("<< /Predictor 15 /Colors 3 >>");
        how.replaceKey("/Columns", QPDFObjectHandle::newInteger(kept.width));
        object.replaceStreamData(std::make_shared<Stretch>(m_path, kept.from, kept.bytes),
                                 QPDFObjectHandle::newName("/FlateDecode"), how);
        ++put;
    }
    if (put == m_kept.size()) return {};
    return Error{ErrorCode::IoFailure, m_named.string(), "lacks a picture of a map",
                 "export it as a picture"};
}

}  // namespace ledge::session
