#include "io/geotiff/geotiff_reader.h"

#include <pugixml.hpp>

#include "core/base/numbers.h"
#include "core/raster/typed_raster.h"
#include "io/files/atomic_file.h"
#include "io/files/sidecars.h"
#include "io/files/world_file.h"
#include "io/geotiff/geo_keys.h"
#include "io/geotiff/tiff_image.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;
using ImagePtr = std::shared_ptr<const TiffImage>;
constexpr int kMostDirectories = 256;

std::vector<double> doublesOf(TIFF* tiff, std::uint32_t tag) {
    std::uint16_t count = 0;
    double* values = nullptr;
    if (TIFFGetField(tiff, tag, &count, &values) != 1 || !values) return {};
    return {values, values + count};
}

std::string textOf(TIFF* tiff, std::uint32_t tag) {
    char* text = nullptr;
    return TIFFGetField(tiff, tag, &text) == 1 && text ? text : "";
}

// Where the cells lie; nothing when the file does not say.
std::optional<Affine> placement(TIFF* tiff, bool pixelIsPoint, std::vector<std::string>& notes) {
    Affine out;
    const auto scale = doublesOf(tiff, kTagPixelScale);
    const auto ties = doublesOf(tiff, kTagTiePoints);
    const auto matrix = doublesOf(tiff, kTagTransform);
    if (matrix.size() >= 16) {
        out = {matrix[0], matrix[1], matrix[3], matrix[4], matrix[5], matrix[7]};
    } else if (scale.size() >= 2 && ties.size() >= 6) {
        out = {scale[0], 0,         ties[3] - ties[0] * scale[0],
               0,        -scale[1], ties[4] + ties[1] * scale[1]};
    } else {
        return {};
    }
    if (pixelIsPoint) out = out.after({1, 0, -0.5, 0, 1, -0.5});
    if (out.isUsable()) return out;
    notes.push_back("its georeferencing is not usable");
    return {};
}

// One resolution of a GeoTIFF: cells, and the mask over them when there is one.
class GeoTiff final : public TypedRaster<GeoTiff> {
public:
    GeoTiff(RasterInfo info, std::vector<CellReading> readings, ImagePtr cells, ImagePtr mask)
        : m_info(std::move(info)), m_readings(std::move(readings)), m_cells(std::move(cells)),
          m_mask(std::move(mask)) {}

    void setOverviews(std::vector<RasterPtr> overviews) { m_overviews = std::move(overviews); }
    const RasterInfo& info() const override { return m_info; }
    std::vector<RasterPtr> overviews() const override { return m_overviews; }
    std::vector<std::string> damage() const override {
        auto out = m_cells->damage();
        const auto add = [&out](const std::vector<std::string>& more) {
            out.insert(out.end(), more.begin(), more.end());
        };
        if (m_mask) add(m_mask->damage());
        for (const RasterPtr& overview : m_overviews) add(overview->damage());
        return out;
    }

private:
    friend class TypedRaster<GeoTiff>;
    template <typename T>
    Result<void> readAs(int band, CellWindow w, BlockView<T> out) const {
        if (band < 0 || static_cast<std::size_t>(band) >= m_readings.size())
            return Error{ErrorCode::InvalidArgument, m_info.format, "there is no such band", ""};
        const auto done = m_cells->read(band, w, m_readings[static_cast<std::size_t>(band)], out);
        if (!done || !m_mask) return done;
        Grid<float> mask(out.rows(), out.cols());
        if (const auto read = m_mask->read(0, w, {}, mask.view()); !read) return read;
        for (std::size_t r = 0; r < out.rows(); ++r)
            for (std::size_t c = 0; c < out.cols(); ++c)
                if (!(mask(r, c) > 0)) out(r, c) = std::numeric_limits<T>::quiet_NaN();
        return {};
    }

    RasterInfo m_info;
    std::vector<CellReading> m_readings;
    ImagePtr m_cells, m_mask;
    std::vector<RasterPtr> m_overviews;
};

GeoKeyTags keyTags(TIFF* tiff) {
    GeoKeyTags tags;
    std::uint16_t count = 0;
    std::uint16_t* codes = nullptr;
    if (TIFFGetField(tiff, kTagKeyDirectory, &count, &codes) == 1 && codes)
        tags.directory.assign(codes, codes + count);
    tags.doubles = doublesOf(tiff, kTagKeyDoubles);
    tags.ascii = textOf(tiff, kTagKeyAscii);
    return tags;
}

// All images of a file by what they are.
struct Images {
    std::vector<ImagePtr> reduced, masks;
    int others = 0;  ///< full images beyond the first
};

// Sorts the handle's current directory in. Ones that cannot be used are left out.
void sortIn(const fs::path& path, TIFF* tiff, bool isOverviewFile, Images& images) {
    const auto layout = readLayout(path, tiff);
    if (!layout) return;
    auto image = std::make_shared<const TiffImage>(path, TIFFCurrentDirOffset(tiff), *layout);
    if (layout->isMask())
        images.masks.push_back(std::move(image));
    else if (layout->isReduced() || isOverviewFile)
        images.reduced.push_back(std::move(image));
    else
        ++images.others;
}

// Directories after the current one, and those hung under the first.
void collectImages(const fs::path& path, TIFF* tiff, bool isOverviewFile, Images& images) {
    std::uint16_t count = 0;
    std::uint64_t* offsets = nullptr;
    std::vector<std::uint64_t> below;
    if (TIFFGetField(tiff, TIFFTAG_SUBIFD, &count, &offsets) == 1 && offsets)
        below.assign(offsets, offsets + count);
    for (int n = 0; n < kMostDirectories && TIFFReadDirectory(tiff) == 1; ++n)
        sortIn(path, tiff, isOverviewFile, images);
    for (const std::uint64_t offset : below)
        if (TIFFSetSubDirectory(tiff, offset) == 1) sortIn(path, tiff, true, images);
    TIFFSetDirectory(tiff, 0);
}

// A TIFF beside this one whose name adds a suffix to it.
void collectBeside(const fs::path& path, const char* suffix, bool isMask, Images& images) {
    const fs::path beside = path.string() + suffix;
    std::error_code code;
    if (!fs::is_regular_file(beside, code)) return;
    const auto file = TiffFile::open(beside, "r");
    if (!file) return;
    Images found;
    sortIn(beside, (*file)->handle(), !isMask, found);
    collectImages(beside, (*file)->handle(), !isMask, found);
    if (isMask && found.masks.empty() && found.others > 0) {
        TIFFSetDirectory((*file)->handle(), 0);
        if (const auto layout = readLayout(beside, (*file)->handle()))
            found.masks.push_back(std::make_shared<const TiffImage>(
                beside, TIFFCurrentDirOffset((*file)->handle()), *layout));
    }
    images.reduced.insert(images.reduced.end(), found.reduced.begin(), found.reduced.end());
    images.masks.insert(images.masks.end(), found.masks.begin(), found.masks.end());
}

std::vector<Colour> paletteOf(TIFF* tiff, const TiffLayout& layout) {
    std::uint16_t *r = nullptr, *g = nullptr, *b = nullptr;
    if (layout.photometric != PHOTOMETRIC_PALETTE || layout.bits > 16 ||
        TIFFGetField(tiff, TIFFTAG_COLORMAP, &r, &g, &b) != 1 || !r || !g || !b)
        return {};
    const std::size_t count = std::size_t{1} << layout.bits;
    // Some writers put 8 bits where the standard wants 16.
    bool isWide = false;
    for (std::size_t i = 0; i < count; ++i) isWide |= r[i] > 255 || g[i] > 255 || b[i] > 255;
    const auto part = [isWide](std::uint16_t v) {
        return static_cast<std::uint8_t>(isWide ? v / 257 : v);
    };
    std::vector<Colour> out;
    for (std::size_t i = 0; i < count; ++i) out.push_back({part(r[i]), part(g[i]), part(b[i])});
    return out;
}

std::string lengthUnitName(const std::string& text) {
    const std::string t = lowered(text);
    if (t == "m" || t == "metre" || t == "meter" || t == "metres" || t == "meters") return "metre";
    if (t == "ft" || t == "foot" || t == "feet") return "foot";
    return text;
}

// Scale, offset, unit and name of bands, as an XML list of items.
void readBandItems(TIFF* tiff, std::vector<BandInfo>& bands) {
    const std::string text = textOf(tiff, kTagBandItems);
    pugi::xml_document document;
    if (text.empty() || !document.load_string(text.c_str())) return;
    for (const pugi::xml_node& item : document.document_element().children("Item")) {
        const auto at = item.attribute("sample").as_uint(std::numeric_limits<unsigned>::max());
        if (at >= bands.size()) continue;
        BandInfo& band = bands[at];
        const std::string role = item.attribute("role").as_string();
        const std::string value = trimmed(item.child_value());
        const auto number = parseNumber(value);
        if (role == "scale" && number && std::isfinite(*number) && *number != 0)
            band.scale = *number;
        if (role == "offset" && number && std::isfinite(*number)) band.offset = *number;
        if (role == "unittype") band.unit = lengthUnitName(value);
        if (role == "description") band.name = value;
    }
}

void assignRoles(TIFF* tiff, const TiffLayout& layout, std::vector<BandInfo>& bands) {
    if ((layout.photometric == PHOTOMETRIC_RGB || layout.photometric == PHOTOMETRIC_YCBCR) &&
        bands.size() >= 3)
        for (std::size_t i = 0; i < 3; ++i)
            bands[i].role = static_cast<BandRole>(static_cast<int>(BandRole::Red) + int(i));
    std::uint16_t count = 0;
    std::uint16_t* kinds = nullptr;
    if (TIFFGetField(tiff, TIFFTAG_EXTRASAMPLES, &count, &kinds) != 1 || !kinds) return;
    for (std::size_t i = 0; i < count && i < bands.size(); ++i)
        if (kinds[i] == EXTRASAMPLE_ASSOCALPHA || kinds[i] == EXTRASAMPLE_UNASSALPHA)
            bands[bands.size() - count + i].role = BandRole::Alpha;
}

std::vector<BandInfo> bandsOf(TIFF* tiff, const TiffLayout& layout) {
    BandInfo first{layout.type, parseNumber(textOf(tiff, kTagNodata)), ""};
    const auto [least, most] = cellRange(layout.type);
    if (first.nodata && !isFloating(layout.type) &&
        !(*first.nodata >= least && *first.nodata <= most &&
          *first.nodata == std::floor(*first.nodata)))
        first.nodata.reset();  // cannot occur in these cells
    if (isFloating(layout.type) && !first.nodata) first.nodata = kNaN;
    std::vector<BandInfo> bands(static_cast<std::size_t>(layout.bands), first);
    if (bands.size() == 1) bands[0].palette = paletteOf(tiff, layout);
    readBandItems(tiff, bands);
    assignRoles(tiff, layout, bands);
    return bands;
}

// How stored cells become the ones read; bands are left as they are then read.
std::vector<CellReading> readingsOf(std::vector<BandInfo>& bands) {
    std::vector<CellReading> out;
    for (BandInfo& band : bands) {
        out.push_back({band.nodata, band.scale, band.offset});
        if (band.scale == 1 && band.offset == 0) continue;
        if (!isFloating(band.type))
            band.type = cellBytes(band.type) > 2 ? CellType::Float64 : CellType::Float32;
        band.nodata = kNaN;
    }
    return out;
}

bool isSameSize(const TiffLayout& a, const TiffLayout& b) {
    return a.width == b.width && a.height == b.height;
}

ImagePtr maskFor(const Images& images, const TiffLayout& layout) {
    for (const ImagePtr& mask : images.masks)
        if (isSameSize(mask->layout(), layout)) return mask;
    return {};
}
}  // namespace

Result<RasterPtr> openGeoTiff(const fs::path& path) {
    auto file = TiffFile::open(path, "r");
    if (!file) return file.error();
    TIFF* tiff = (*file)->handle();
    const auto layout = readLayout(path, tiff);
    if (!layout) return layout.error();

    RasterInfo info;
    info.format = "GeoTIFF";
    info.width = layout->width, info.height = layout->height;
    GeoKeys keys = readGeoKeys(keyTags(tiff));
    info.crs = keys.crs;
    info.notes = std::move(keys.notes);
    if (!info.crs && sidecar(path, ".prj")) info.crs = crsBeside(path, info.notes);
    auto place = placement(tiff, keys.pixelIsPoint, info.notes);
    if (!place) place = worldFileBeside(path, info.notes);
    if (!place)
        info.notes.push_back(
            "the file does not say where it lies; cells are placed at 1 unit each");
    info.toWorld = place.value_or(Affine{1, 0, 0, 0, -1, static_cast<double>(layout->height)});
    info.bands = bandsOf(tiff, *layout);
    for (BandInfo& band : info.bands)
        if (band.unit.empty()) band.unit = keys.heightUnit;
    const auto readings = readingsOf(info.bands);
    auto cells = std::make_shared<const TiffImage>(path, TIFFCurrentDirOffset(tiff), *layout);

    Images images;
    collectImages(path, tiff, false, images);
    collectBeside(path, ".ovr", false, images);
    collectBeside(path, ".msk", true, images);
    if (images.others > 0)
        info.notes.push_back("the file holds " + std::to_string(images.others + 1) +
                             " pictures; the first is read");
    std::stable_sort(
        images.reduced.begin(), images.reduced.end(),
        [](const ImagePtr& a, const ImagePtr& b) { return a->layout().width > b->layout().width; });
    std::vector<RasterPtr> overviews;
    for (const ImagePtr& image : images.reduced) {
        const TiffLayout& l = image->layout();
        if (l.bands != layout->bands || l.type != layout->type || l.width >= layout->width)
            continue;
        RasterInfo reduced = info;
        reduced.width = l.width, reduced.height = l.height;
        reduced.toWorld = info.toWorld.after(
            {static_cast<double>(info.width) / static_cast<double>(l.width), 0, 0, 0,
             static_cast<double>(info.height) / static_cast<double>(l.height), 0});
        overviews.push_back(
            std::make_shared<GeoTiff>(std::move(reduced), readings, image, maskFor(images, l)));
    }
    info.overviews = static_cast<int>(overviews.size());
    auto out = std::make_shared<GeoTiff>(std::move(info), readings, std::move(cells),
                                         maskFor(images, *layout));
    out->setOverviews(std::move(overviews));
    return RasterPtr(std::move(out));
}

}  // namespace ledge::io
