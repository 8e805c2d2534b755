#include "io/picture/picture_file.h"

#include <algorithm>
#include <cstring>

#include "core/base/numbers.h"
#include "core/crs/wkt.h"
#include "core/raster/block_cache.h"
#include "core/raster/typed_raster.h"
#include "io/files/atomic_file.h"
#include "io/files/sidecars.h"
#include "io/files/world_file.h"
#include "io/picture/picture_codec.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;
constexpr std::uintmax_t kLargestFile = std::uintmax_t{2} << 30;
constexpr int kQuality = 90;

// Decoded when first read; the cells are kept by the shared cache.
class PictureRaster final : public TypedRaster<PictureRaster> {
public:
    PictureRaster(fs::path path, RasterInfo info, std::size_t bands, std::size_t bytesPerValue)
        : m_path(std::move(path)), m_info(std::move(info)), m_bands(bands), m_bytes(bytesPerValue),
          m_owner(BlockCache::shared().newOwner()) {}
    ~PictureRaster() override { BlockCache::shared().forget(m_owner); }

    const RasterInfo& info() const override { return m_info; }

private:
    friend class TypedRaster<PictureRaster>;
    template <typename T>
    Result<void> readAs(int band, CellWindow w, BlockView<T> out) const {
        std::optional<Error> error;
        const auto values = BlockCache::shared().get(m_owner, 0, [&]() -> BlockCache::Block {
            auto bytes = std::make_shared<BlockCache::Bytes>();
            const auto file = readText(m_path, kLargestFile);
            if (!file) {
                error = file.error();
                return bytes;
            }
            auto picture = decodePicture(std::as_bytes(std::span(*file)), m_path);
            if (picture)
                *bytes = std::move(picture->values);
            else
                error = picture.error();
            return bytes;
        });
        if (error) {
            BlockCache::shared().forget(m_owner);
            return *error;
        }
        const auto width = static_cast<std::size_t>(m_info.width);
        if (values->size() != width * static_cast<std::size_t>(m_info.height) * m_bands * m_bytes)
            return badFormat(m_path, "it changed while it was read", "add it again");
        for (std::size_t r = 0; r < out.rows(); ++r)
            for (std::size_t c = 0; c < out.cols(); ++c) {
                const std::size_t at = ((static_cast<std::size_t>(w.row) + r) * width +
                                        static_cast<std::size_t>(w.col) + c) *
                                           m_bands +
                                       static_cast<std::size_t>(band);
                if (m_bytes == 1) {
                    out(r, c) = static_cast<T>(std::to_integer<int>((*values)[at]));
                } else {
                    std::uint16_t value = 0;
                    std::memcpy(&value, values->data() + 2 * at, 2);
                    out(r, c) = static_cast<T>(value);
                }
            }
        return {};
    }

    fs::path m_path;
    RasterInfo m_info;
    std::size_t m_bands, m_bytes;
    std::uint64_t m_owner;
};

Error notForPictures(const fs::path& path, const std::string& what) {
    return {ErrorCode::Unsupported, nameOf(path), what,
            "write a .tif, or turn the values into colours first"};
}

// What a picture file holds of a raster.
Result<Picture> shapeOf(const RasterInfo& info, const fs::path& path, bool isJpeg) {
    const std::size_t bands = info.bands.size();
    const BandInfo& band = info.bands.front();
    const bool isByte = band.type == CellType::UInt8, isWord = band.type == CellType::UInt16;
    if (isJpeg && (!isByte || (bands != 1 && bands != 3)))
        return notForPictures(path, "a JPEG holds one or three bands of whole numbers 0 to 255");
    if ((!isByte && !isWord) || bands == 2 || bands > 4)
        return notForPictures(
            path, "a PNG holds one, three or four bands of whole numbers 0 to 255 or 0 to 65535");
    Picture out;
    out.width = static_cast<std::size_t>(info.width);
    out.height = static_cast<std::size_t>(info.height);
    out.bands = bands;
    out.bytesPerValue = isByte ? 1 : 2;
    if (bands == 1 && isByte && !isJpeg) out.palette = band.palette;
    if (!out.palette.empty() && band.nodata && *band.nodata >= 0 &&
        *band.nodata < static_cast<double>(out.palette.size()))
        out.palette[static_cast<std::size_t>(*band.nodata)].a = 0;
    // Room for transparency where cells may be missing.
    if (!isJpeg && out.palette.empty() && bands != 4 && band.nodata) ++out.bands;
    return out;
}
}  // namespace

Result<RasterPtr> openPicture(const fs::path& path) {
    const auto file = readText(path, kLargestFile);
    if (!file) return file.error();
    const auto picture = decodePicture(std::as_bytes(std::span(*file)), path, true);
    if (!picture) return picture.error();
    RasterInfo info;
    info.format = looksLikePng(*file) ? "PNG" : "JPEG";
    info.width = static_cast<std::int64_t>(picture->width);
    info.height = static_cast<std::int64_t>(picture->height);
    const auto place = worldFileBeside(path, info.notes);
    if (!place) info.notes.push_back("no world file beside it; cells are placed at 1 unit each");
    info.toWorld = place.value_or(Affine{1, 0, 0, 0, -1, static_cast<double>(info.height)});
    info.crs = crsBeside(path, info.notes);
    info.bands.assign(picture->bands,
                      {picture->bytesPerValue == 2 ? CellType::UInt16 : CellType::UInt8, {}, ""});
    info.bands[0].palette = picture->palette;
    if (picture->bands >= 3)
        for (std::size_t i = 0; i < 3; ++i)
            info.bands[i].role = static_cast<BandRole>(static_cast<int>(BandRole::Red) + int(i));
    if (picture->bands % 2 == 0) info.bands.back().role = BandRole::Alpha;
    return RasterPtr(std::make_shared<PictureRaster>(path, std::move(info), picture->bands,
                                                     picture->bytesPerValue));
}

Result<void> writePicture(const RasterSource& source, FileSet& set, const Progress& progress) {
    const fs::path& path = set.target();
    const RasterInfo& info = source.info();
    const std::string suffix = lowered(path.extension().string());
    const bool isJpeg = suffix == ".jpg" || suffix == ".jpeg";
    const auto shape = shapeOf(info, path, isJpeg);
    if (!shape) return shape.error();
    constexpr std::size_t kRows = 64;
    std::vector<Grid<float>> held(info.bands.size());
    const auto fetch = [&](std::size_t row) -> Result<void> {
        const std::size_t count = std::min(kRows, shape->height - row);
        for (std::size_t b = 0; b < held.size(); ++b) {
            held[b] = Grid<float>(count, shape->width);
            const CellWindow window{0, static_cast<std::int64_t>(row), info.width,
                                    static_cast<std::int64_t>(count)};
            const auto done = source.read(static_cast<int>(b), window, held[b].view());
            if (!done) return done;
        }
        return {};
    };
    const bool isPalette = !shape->palette.empty();
    const float missing = isPalette ? static_cast<float>(info.bands[0].nodata.value_or(0)) : 0.0F;
    const auto put = [&](std::span<std::byte> values, std::size_t at, float value) {
        if (shape->bytesPerValue == 1) {
            values[at] = static_cast<std::byte>(std::clamp(value, 0.0F, 255.0F));
        } else {
            const auto word = static_cast<std::uint16_t>(std::clamp(value, 0.0F, 65535.0F));
            std::memcpy(values.data() + 2 * at, &word, 2);
        }
    };
    const PictureRows rows = [&](std::size_t row, std::span<std::byte> values) -> Result<void> {
        if (row % kRows == 0) {
            if (progress.stopped()) return cancelled(nameOf(path));
            if (const auto done = fetch(row); !done) return done;
            progress.at(static_cast<double>(row) / static_cast<double>(shape->height));
        }
        const float opaque = shape->bytesPerValue == 1 ? 255.0F : 65535.0F;
        for (std::size_t c = 0; c < shape->width; ++c) {
            bool isMissing = false;
            for (std::size_t b = 0; b < held.size(); ++b) {
                const float value = held[b](row % kRows, c);
                isMissing |= std::isnan(value);
                put(values, c * shape->bands + b, std::isnan(value) ? missing : value);
            }
            if (shape->bands > held.size())
                put(values, c * shape->bands + held.size(), isMissing ? 0.0F : opaque);
        }
        return {};
    };
    const std::string world = worldFilePath(path).extension().string();
    if (const auto done = set.put(world, worldFileText(info.toWorld)); !done) return done;
    if (const auto done = putCrs(set, info.crs); !done) return done;
    return isJpeg ? encodeJpeg(*shape, set.main(), kQuality, rows)
                  : encodePng(*shape, set.main(), rows);
}

}  // namespace ledge::io
