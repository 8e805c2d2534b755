#include "io/geopackage/feature_rows.h"

#include "io/files/byte_reader.h"
#include "io/files/encoding.h"
#include "io/geopackage/wkb.h"

namespace ledge::io {
namespace {
// Header of a geometry blob: 'G' 'P' version flags srs_id(4) envelope; flags bits 1-3 give the
// envelope's size, bit 4 emptiness.
bool readBlob(std::span<const std::byte> bytes, Geometry& out) {
    ByteReader in(bytes);
    out.clear();
    if (in.text(2) != "GP") return false;
    in.skip(1);
    const auto flags = in.read<std::uint8_t>(std::endian::little);
    constexpr std::size_t kEnvelopes[] = {0, 32, 48, 48, 64};
    const unsigned kind = (flags >> 1) & 7u;
    if (kind > 4) return false;
    in.skip(4 + kEnvelopes[kind]);
    if (!in.isGood()) return false;
    if ((flags & 0x10) != 0) return true;
    return readWkb(bytes.subspan(in.position()), out);
}

Value valueOf(const Statement& row, int column, FieldType type) {
    switch (sqlite3_column_type(row.handle(), column)) {
    case SQLITE_INTEGER:
        if (type == FieldType::Boolean) return row.whole(column) != 0;
        if (type == FieldType::Real) return row.number(column);
        return row.whole(column);
    case SQLITE_FLOAT: return row.number(column);
    case SQLITE_TEXT: {
        std::string text = toUtf8(row.text(column));
        // What is no day or instant stays as it is written.
        if (type == FieldType::Date)
            if (const auto day = parseDate(text)) return *day;
        if (type == FieldType::TimeStamp)
            if (const auto time = parseTimeStamp(text)) return *time;
        return text;
    }
    case SQLITE_BLOB: {
        const auto* data = static_cast<const char*>(sqlite3_column_blob(row.handle(), column));
        const auto size = static_cast<std::size_t>(sqlite3_column_bytes(row.handle(), column));
        return Bytes{data ? std::string(data, size) : std::string()};
    }
    default: return {};
    }
}
}  // namespace

std::string featureRows(const LayerInfo& layer, const LayerColumns& columns,
                        std::span<const std::size_t> fields) {
    std::string sql = "SELECT " + sqlName(columns.key) + "," + sqlName(columns.geometry);
    for (const std::size_t i : fields) sql += "," + sqlName(layer.fields[i].name);
    return sql + " FROM " + sqlName(layer.name);
}

std::vector<FieldType> typesOf(const LayerInfo& layer, std::span<const std::size_t> fields) {
    std::vector<FieldType> out;
    for (const std::size_t i : fields) out.push_back(layer.fields[i].type);
    return out;
}

void readRow(const Statement& row, std::span<const FieldType> types, Feature& out) {
    out.id = row.whole(0);
    const auto* blob = static_cast<const std::byte*>(sqlite3_column_blob(row.handle(), 1));
    const auto bytes = static_cast<std::size_t>(sqlite3_column_bytes(row.handle(), 1));
    if (!blob || !readBlob({blob, bytes}, out.geometry)) out.geometry.clear();
    out.values.resize(types.size());
    for (std::size_t i = 0; i < types.size(); ++i)
        out.values[i] = valueOf(row, static_cast<int>(i) + 2, types[i]);
}

std::uint64_t bytesOf(const Feature& feature) {
    std::uint64_t out = feature.geometry.points.size() * sizeof(Point) + feature.values.size() * 8;
    for (const Value& value : feature.values) {
        if (const auto* text = std::get_if<std::string>(&value)) out += text->size();
        if (const auto* bytes = std::get_if<Bytes>(&value)) out += bytes->data.size();
    }
    return out;
}

}  // namespace ledge::io
