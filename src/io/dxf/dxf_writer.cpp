#include <array>
#include <cmath>
#include <set>

#include "core/base/letters.h"
#include "core/base/numbers.h"
#include "io/dxf/dxf.h"
#include "io/files/atomic_file.h"
#include "io/files/sidecars.h"

namespace ledge::io {
namespace {
constexpr std::size_t kMostLetters = 250;  // of a text of extended data

// Characters beyond ASCII as the format escapes them; no line breaks.
std::string escaped(std::string_view text) {
    std::string out;
    for (std::size_t i = 0; i < text.size();) {
        const auto byte = static_cast<unsigned char>(text[i]);
        if (byte < 0x80) {
            out += byte < 0x20 ? ' ' : text[i];
            ++i;
            continue;
        }
        const std::size_t length = byte >= 0xF0 ? 4 : byte >= 0xE0 ? 3 : byte >= 0xC0 ? 2 : 1;
        std::uint32_t c = byte & (0xFFU >> (length + 1));
        for (std::size_t k = 1; k < length && i + k < text.size(); ++k)
            c = c << 6U | (static_cast<unsigned char>(text[i + k]) & 0x3FU);
        i += length;
        std::array<char, 16> code{};
        std::snprintf(code.data(), code.size(), "\\U+%04X", c > 0xFFFF ? 0xFFFDU : c);
        out += code.data();
    }
    return out;
}

// What a layer may be called in every version.
std::string layerName(const std::string& text) {
    std::string out;
    for (const char c : escaped(text))
        out += std::string_view("<>/\\\":;?*|=',").find(c) != std::string_view::npos ? '_' : c;
    return out.empty() ? "0" : out.substr(0, 255);
}

class Drawing {
public:
    explicit Drawing(const FeatureTable& table) : m_table(table) {
        const auto called = [&](std::initializer_list<const char*> names) {
            for (const char* name : names)
                for (std::size_t k = 0; k < table.info.fields.size(); ++k)
                    if (lowerCased(table.info.fields[k].name) == name) return static_cast<int>(k);
            return -1;
        };
        m_layer = called({"layer"});
        m_text = called({"text"});
        m_height = called({"height", "elevation", "elev", "level"});
    }

    void add(std::size_t row) {
        const GeometryView g = m_table.geometry(row);
        const std::string layer = layerOf(row);
        m_layers.insert(layer);
        const double flat =
            m_height < 0 ? kNaN : m_table.number(row, static_cast<std::size_t>(m_height));
        const double size = std::max(m_table.info.extent.width(), 1.0) / 200;
        for (std::size_t part = 0; part < g.partCount(); ++part) {
            const auto points = g.part(part);
            const auto z = g.ofPart(g.z, part);
            if (points.empty()) continue;
            if (g.type == GeometryType::Point) {
                const bool isText =
                    m_text >= 0 && !m_table.isMissing(row, static_cast<std::size_t>(m_text));
                begin(isText ? "TEXT" : "POINT", layer);
                place(points[0], z.empty() ? 0 : z[0]);
                if (isText) {
                    put(40, exactNumber(size));
                    put(1,
                        escaped(exactText(m_table.value(row, static_cast<std::size_t>(m_text)))));
                }
                values(row, 0);
                continue;
            }
            const bool isClosed = g.type == GeometryType::Polygon;
            const bool isHole = isClosed && std::find(g.polygons.begin(), g.polygons.end(), part) ==
                                                g.polygons.end();
            begin("POLYLINE", layer);
            put(66, "1");
            // The height of all of it, which flat polylines have here.
            place({0, 0}, z.empty() && std::isfinite(flat) ? flat : 0);
            put(70, std::to_string((isClosed ? 1 : 0) + (z.empty() ? 0 : 8)));
            values(row, isHole ? 1 : 0);
            const std::size_t count = points.size() - (isClosed ? 1 : 0);
            for (std::size_t i = 0; i < count; ++i) {
                begin("VERTEX", layer);
                place(points[i], !z.empty()            ? (std::isfinite(z[i]) ? z[i] : 0)
                                 : std::isfinite(flat) ? flat
                                                       : 0);
                if (!z.empty()) put(70, "32");
            }
            begin("SEQEND", layer);
        }
    }

    std::string text() const {
        std::string out = pair(0, "SECTION") + pair(2, "HEADER") + pair(9, "$ACADVER") +
                          pair(1, "AC1009") + pair(0, "ENDSEC") + pair(0, "SECTION") +
                          pair(2, "TABLES") + pair(0, "TABLE") + pair(2, "LAYER") +
                          pair(70, std::to_string(m_layers.size()));
        for (const std::string& layer : m_layers)
            out += pair(0, "LAYER") + pair(2, layer) + pair(70, "0") + pair(62, "7") +
                   pair(6, "CONTINUOUS");
        out += pair(0, "ENDTAB") + pair(0, "TABLE") + pair(2, "APPID") + pair(70, "1") +
               pair(0, "APPID") + pair(2, kDxfOwner) + pair(70, "0") + pair(0, "ENDTAB") +
               pair(0, "ENDSEC") + pair(0, "SECTION") + pair(2, "ENTITIES");
        return out + m_entities + pair(0, "ENDSEC") + pair(0, "EOF");
    }

private:
    static std::string pair(int code, const std::string& value) {
        std::string number = std::to_string(code);
        number.insert(0, number.size() < 3 ? 3 - number.size() : 0, ' ');
        return number + "\n" + value + "\n";
    }
    void put(int code, const std::string& value) { m_entities += pair(code, value); }
    void begin(const char* entity, const std::string& layer) {
        put(0, entity);
        put(8, layer);
    }
    void place(Point p, double z) {
        put(10, exactNumber(p.x));
        put(20, exactNumber(p.y));
        put(30, exactNumber(std::isfinite(z) ? z : 0));
    }
    std::string layerOf(std::size_t row) const {
        if (m_layer < 0 || m_table.isMissing(row, static_cast<std::size_t>(m_layer)))
            return layerName(m_table.info.name);
        return layerName(exactText(m_table.value(row, static_cast<std::size_t>(m_layer))));
    }
    // Whose part this is and whether it is a hole, so that it can be put together again.
    void values(std::size_t row, int role) {
        put(1001, kDxfOwner);
        put(1071, std::to_string(row + 1));
        put(1070, std::to_string(role));
        for (std::size_t k = 0; k < m_table.info.fields.size(); ++k) {
            if (static_cast<int>(k) == m_layer || m_table.isMissing(row, k)) continue;
            const std::string text =
                escaped(m_table.info.fields[k].name + "=" + exactText(m_table.value(row, k)));
            put(1000, text.substr(0, kMostLetters));
        }
    }

    const FeatureTable& m_table;
    int m_layer = -1, m_text = -1, m_height = -1;
    std::set<std::string> m_layers;
    std::string m_entities;
};
}  // namespace

std::vector<std::string> limitsOfDxf(const FeatureTable& table) {
    std::vector<std::string> out;
    bool isLong = false, hasMeasures = table.info.hasM;
    for (std::size_t k = 0; k < table.info.fields.size() && !isLong; ++k)
        for (std::size_t i = 0; i < table.size() && !isLong; ++i)
            isLong =
                escaped(table.info.fields[k].name + "=" + exactText(table.value(i, k))).size() >
                kMostLetters;
    if (isLong) out.push_back("values are cut to 250 characters with their names");
    if (hasMeasures) out.push_back("measures (M) are left out");
    return out;
}

Result<void> writeDxf(const FeatureTable& table, FileSet& set, const Progress& progress) {
    if (const auto done = putCrs(set, table.info.crs); !done) return done;
    Drawing drawing(table);
    for (std::size_t i = 0; i < table.size(); ++i) {
        if (i % 1024 == 0) {
            if (progress.stopped()) return cancelled(nameOf(set.target()));
            progress.at(static_cast<double>(i) / static_cast<double>(table.size()));
        }
        drawing.add(i);
    }
    return fillFile(set.main(), drawing.text(), set.target());
}

}  // namespace ledge::io
