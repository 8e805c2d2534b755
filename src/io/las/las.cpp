#include "io/las/las.h"

#include <cmath>
#include <fstream>

#include "core/base/numbers.h"
#include "core/crs/wkt.h"
#include "io/files/atomic_file.h"
#include "io/files/byte_reader.h"
#include "io/geotiff/geo_keys.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;
constexpr auto kLittle = std::endian::little;
constexpr std::int64_t kBlock = 16384;  // points read at once
constexpr std::uint32_t kMostRecords = 10000;
const std::vector<Field> kFields{{"class", FieldType::Integer},
                                 {"intensity", FieldType::Integer},
                                 {"return", FieldType::Integer}};

struct Layout {
    std::uint64_t offset = 0;
    std::size_t recordBytes = 0;
    int format = 0;
    std::int64_t count = 0;
    double scale[3] = {1, 1, 1}, shift[3] = {0, 0, 0};
};

class PointCloud final : public FeatureSource {
public:
    PointCloud(fs::path path, Layout layout, LayerInfo info)
        : m_path(std::move(path)), m_layout(layout) {
        info.count = layout.count;
        m_layers = {info};
        m_steps = {1};
        if (layout.count <= kMostPointsShown) return;
        const std::int64_t step = (layout.count + kMostPointsShown - 1) / kMostPointsShown;
        m_layers[0].name += ", 1 point of " + std::to_string(step);
        m_layers[0].count = (layout.count + step - 1) / step;
        m_layers[0].notes.push_back("of " + formatNumber(static_cast<double>(layout.count)) +
                                    " points 1 of " + std::to_string(step) +
                                    " is shown; a grid is made of all");
        m_steps[0] = step;
        info.name += ", all points";
        m_layers.push_back(info);
        m_steps.push_back(1);
    }
    std::string format() const override { return "LAS"; }
    const std::vector<LayerInfo>& layers() const override { return m_layers; }
    std::size_t whole(std::size_t) const override { return m_layers.size() - 1; }

    Result<void> scan(std::size_t layer, const Query& query,
                      const std::function<bool(const Feature&)>& visit,
                      const Progress& progress) const override {
        const auto fields = fieldsOf(m_layers[layer], query);
        if (!fields) return fields.error();
        std::ifstream in(m_path, std::ios::binary);
        in.seekg(static_cast<std::streamoff>(m_layout.offset));
        const std::int64_t step = m_steps[layer];
        std::string block;
        Feature feature;
        feature.geometry = Geometry::point({0, 0});
        feature.geometry.z = {0};
        std::int64_t given = 0;
        for (std::int64_t from = 0; from < m_layout.count; from += kBlock) {
            if (progress.stopped()) return cancelled(m_layers[layer].name);
            progress.at(static_cast<double>(from) / static_cast<double>(m_layout.count));
            const std::int64_t count = std::min(kBlock, m_layout.count - from);
            block.resize(static_cast<std::size_t>(count) * m_layout.recordBytes);
            in.read(block.data(), static_cast<std::streamsize>(block.size()));
            if (static_cast<std::size_t>(in.gcount()) != block.size())
                return badFormat(m_path, "it could not be read to its end");
            // The first of the block that is one of those asked for.
            for (std::int64_t i = (step - from % step) % step; i < count; i += step) {
                if (!take({block.data() + static_cast<std::size_t>(i) * m_layout.recordBytes,
                           m_layout.recordBytes},
                          *fields, feature))
                    continue;
                feature.id = from + i;
                if (!query.extent.isEmpty() && !query.extent.contains(feature.geometry.points[0]))
                    continue;
                if (query.filter && !query.filter(feature)) continue;
                if (!visit(feature)) return {};
                if (query.limit > 0 && ++given >= query.limit) return {};
            }
        }
        return {};
    }

private:
    // Record layouts of the standard: formats 0 to 5 and 6 to 10. False for withheld points.
    bool take(std::span<const char> record, const std::vector<std::size_t>& fields,
              Feature& out) const {
        ByteReader in(std::as_bytes(record));
        double at[3];
        for (int k = 0; k < 3; ++k)
            at[k] = in.read<std::int32_t>(kLittle) * m_layout.scale[k] + m_layout.shift[k];
        const auto intensity = in.read<std::uint16_t>(kLittle);
        const auto returns = in.read<std::uint8_t>(kLittle);
        const auto flags = in.read<std::uint8_t>(kLittle);
        const bool isNew = m_layout.format >= 6;
        const int kind = isNew ? in.read<std::uint8_t>(kLittle) : flags & 0x1F;
        if ((flags & (isNew ? 0x04 : 0x80)) != 0) return false;
        out.geometry.points[0] = {at[0], at[1]};
        out.geometry.z[0] = at[2];
        out.values.clear();
        for (const std::size_t field : fields)
            out.values.emplace_back(std::int64_t{field == 0   ? kind
                                                 : field == 1 ? intensity
                                                              : returns & (isNew ? 0x0F : 0x07)});
        return true;
    }

    fs::path m_path;
    Layout m_layout;
    std::vector<LayerInfo> m_layers;
    std::vector<std::int64_t> m_steps;
};

// What the records before (and, in 1.4, behind) the points say of the CRS.
class CrsRecords {
public:
    void add(std::uint16_t id, std::string_view data) {
        ByteReader in(std::as_bytes(std::span(data.data(), data.size())));
        if (id == 2112) m_wkt = std::string(data.substr(0, data.find('\0')));
        if (id == 34735)
            while (in.left() >= 2) m_keys.directory.push_back(in.read<std::uint16_t>(kLittle));
        if (id == 34736)
            while (in.left() >= 8) m_keys.doubles.push_back(in.read<double>(kLittle));
        if (id == 34737) m_keys.ascii = std::string(data);
    }
    crs::CrsPtr crs(std::vector<std::string>& notes) const {
        if (!m_wkt.empty()) {
            const auto found = crs::crsFromWkt(m_wkt);
            if (found) return *found;
            notes.push_back("its CRS: " + found.error().text());
        }
        if (!m_keys.directory.empty()) {
            GeoKeys keys = readGeoKeys(m_keys);
            notes.insert(notes.end(), keys.notes.begin(), keys.notes.end());
            return keys.crs;
        }
        if (m_wkt.empty()) notes.push_back("it states no CRS: its CRS is undeclared");
        return {};
    }

private:
    std::string m_wkt;
    GeoKeyTags m_keys;
};
}  // namespace

Result<FeatureSourcePtr> openLas(const fs::path& path) {
    std::ifstream in(path, std::ios::binary);
    std::string head(375, '\0');
    in.read(head.data(), 375);
    head.resize(static_cast<std::size_t>(in.gcount()));
    in.clear();
    if (head.size() < 227 || !head.starts_with("LASF"))
        return badFormat(path, "cut short in its header");
    ByteReader reader(bytesOf(head));
    const auto at = [&](std::size_t place) -> ByteReader& {
        reader.seek(place);
        return reader;
    };
    const int minor = static_cast<unsigned char>(head[25]);
    Layout layout;
    const auto headerBytes = at(94).read<std::uint16_t>(kLittle);
    layout.offset = at(96).read<std::uint32_t>(kLittle);
    const auto records = at(100).read<std::uint32_t>(kLittle);
    const auto format = at(104).read<std::uint8_t>(kLittle);
    layout.recordBytes = at(105).read<std::uint16_t>(kLittle);
    layout.count = at(107).read<std::uint32_t>(kLittle);
    for (std::size_t k = 0; k < 3; ++k) {
        layout.scale[k] = at(131 + 8 * k).read<double>(kLittle);
        layout.shift[k] = at(155 + 8 * k).read<double>(kLittle);
    }
    LayerInfo info;
    const double xMax = at(179).read<double>(kLittle), xMin = reader.read<double>(kLittle),
                 yMax = reader.read<double>(kLittle), yMin = reader.read<double>(kLittle);
    if (minor >= 4 && head.size() >= 255) {
        const auto count = at(247).read<std::uint64_t>(kLittle);
        if (count > 0 && count < (std::uint64_t{1} << 62))
            layout.count = static_cast<std::int64_t>(count);
    }
    if ((format & 0xC0) != 0)
        return Error{ErrorCode::Unsupported, nameOf(path), "its points are compressed",
                     "write it uncompressed first"};
    layout.format = format & 0x3F;
    static constexpr std::size_t kLeast[] = {20, 28, 26, 34, 57, 63, 30, 36, 38, 59, 67};
    if (layout.format > 10 || layout.recordBytes < kLeast[layout.format] ||
        layout.offset < headerBytes)
        return badFormat(path, "its points are of an unknown layout (format " +
                                   std::to_string(layout.format) + ")");
    for (int k = 0; k < 3; ++k)
        if (!std::isfinite(layout.scale[k]) || !std::isfinite(layout.shift[k]) ||
            layout.scale[k] == 0)
            return badFormat(path, "its coordinates have no scale");
    std::error_code code;
    const auto size = fs::file_size(path, code);
    if (code || size < layout.offset) return badFormat(path, "cut short before its points");
    const auto there = static_cast<std::int64_t>((size - layout.offset) / layout.recordBytes);
    info.name = path.stem().string();
    if (there < layout.count) {
        info.notes.push_back("cut short: " + formatNumber(static_cast<double>(there)) + " of " +
                             formatNumber(static_cast<double>(layout.count)) + " points are there");
        layout.count = there;
    }
    if (layout.count == 0) return badFormat(path, "holds no points", "choose another file");
    CrsRecords crsRecords;
    in.seekg(headerBytes);
    for (std::uint32_t i = 0; i < std::min(records, kMostRecords); ++i) {
        std::string own(54, '\0');
        if (!in.read(own.data(), 54)) break;
        ByteReader record(bytesOf(own));
        record.skip(18);
        const auto id = record.read<std::uint16_t>(kLittle);
        std::string data(record.read<std::uint16_t>(kLittle), '\0');
        if (!in.read(data.data(), static_cast<std::streamsize>(data.size()))) break;
        if (own.substr(2).starts_with("LASF_Projection")) crsRecords.add(id, data);
    }
    info.geometry = GeometryType::Point;
    info.hasZ = true;
    info.fields = kFields;
    info.crs = crsRecords.crs(info.notes);
    info.extent = {xMin, yMin, xMax, yMax};
    return FeatureSourcePtr(std::make_shared<PointCloud>(path, layout, std::move(info)));
}

}  // namespace ledge::io
