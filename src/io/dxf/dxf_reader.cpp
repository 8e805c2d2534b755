#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include "core/base/numbers.h"
#include "core/geometry/arcs.h"
#include "io/dxf/dxf.h"
#include "io/files/atomic_file.h"
#include "io/files/encoding.h"
#include "io/files/sidecars.h"
#include "io/memory_features.h"
#include "io/xml/xml_layers.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;
constexpr double kRadians = std::numbers::pi / 180;

// Pairs of lines: what a value is, and the value.
class Pairs {
public:
    explicit Pairs(std::string_view text) : m_text(text) {}
    int code = 0;
    std::string_view value;
    std::size_t at() const { return m_at; }
    bool next() {
        std::string_view first;
        if (!line(first)) return false;
        const auto number = parseNumber(std::string(trim(first)));
        if (!number || !(std::abs(*number) <= 9999) || !line(value)) {
            isDamaged = true;
            return false;
        }
        code = static_cast<int>(*number);
        return true;
    }
    bool isDamaged = false;

private:
    static std::string_view trim(std::string_view text) {
        const auto from = text.find_first_not_of(" \t");
        return from == std::string_view::npos ? std::string_view() : text.substr(from);
    }
    bool line(std::string_view& out) {
        if (m_at >= m_text.size()) return false;
        auto end = m_text.find('\n', m_at);
        if (end == std::string_view::npos) end = m_text.size();
        out = m_text.substr(m_at, end - m_at);
        if (out.ends_with('\r')) out.remove_suffix(1);
        m_at = end + 1;
        return true;
    }
    std::string_view m_text;
    std::size_t m_at = 0;
};

// One entity: its groups in order.
struct Entity {
    std::string kind;
    std::vector<std::pair<int, std::string_view>> groups;

    std::string text(int code) const {
        for (const auto& [c, value] : groups)
            if (c == code) return std::string(value);
        return {};
    }
    double number(int code, double usual = 0) const {
        const auto out = parseNumber(trimmed(text(code)));
        return out && std::isfinite(*out) ? *out : usual;
    }
    int whole(int code) const {
        const double n = number(code);
        return std::abs(n) < 1e9 ? static_cast<int>(n) : 0;
    }
    Point point(int code) const { return {number(code), number(code + 10)}; }
    // Entities may be drawn seen from below.
    bool isMirrored() const { return number(230, 1) < 0; }
};

struct Vertex {
    Point at;
    double z = 0, bulge = 0;
};

// "\U+00E6" and the like as what they stand for.
std::string plainText(const std::string& text) {
    std::string out;
    for (std::size_t i = 0; i < text.size(); ++i) {
        if (text[i] == '\\' && i + 6 < text.size() && text[i + 1] == 'U' && text[i + 2] == '+') {
            std::uint32_t c = 0;
            bool isHex = true;
            for (std::size_t k = i + 3; k < i + 7; ++k) {
                const char d = text[k];
                const int digit = d >= '0' && d <= '9'   ? d - '0'
                                  : d >= 'A' && d <= 'F' ? d - 'A' + 10
                                  : d >= 'a' && d <= 'f' ? d - 'a' + 10
                                                         : -1;
                isHex = isHex && digit >= 0;
                c = c * 16 + static_cast<std::uint32_t>(std::max(digit, 0));
            }
            if (isHex) {
                const auto put = [&](std::uint32_t byte) { out += static_cast<char>(byte); };
                if (c < 0x80)
                    put(c);
                else if (c < 0x800)
                    put(0xC0 | c >> 6U), put(0x80 | (c & 0x3F));
                else
                    put(0xE0 | c >> 12U), put(0x80 | (c >> 6U & 0x3F)), put(0x80 | (c & 0x3F));
                i += 6;
                continue;
            }
        }
        if (text[i] == '\\' && i + 1 < text.size() && text[i + 1] == 'P') {
            out += '\n';
            ++i;
            continue;
        }
        if (text[i] == '%' && i + 2 < text.size() && text[i + 1] == '%') {
            const char sign = text[i + 2];
            if (sign == 'd' || sign == 'D') out += "°";
            if (sign == 'p' || sign == 'P') out += "±";
            if (sign == 'c' || sign == 'C') out += "⌀";
            i += 2;
            continue;
        }
        out += text[i];
    }
    return out;
}

class DrawingReader {
public:
    DrawingReader(const fs::path& path, const TextDecoder& decoder)
        : m_path(path), m_decoder(decoder) {}

    void entity(const Entity& e, const std::vector<Entity>& vertices) {
        Geometry g;
        if (e.kind == "POINT") {
            g = withHeights({{e.point(10), e.number(30), 0}}, GeometryType::Point);
        } else if (e.kind == "TEXT" || e.kind == "MTEXT") {
            g = withHeights({{seen(e, e.point(10)), e.number(30), 0}}, GeometryType::Point);
        } else if (e.kind == "LINE") {
            g = withHeights({{e.point(10), e.number(30), 0}, {e.point(11), e.number(31), 0}},
                            GeometryType::Line);
        } else if (e.kind == "LWPOLYLINE") {
            g = polyline(lightVertices(e), (e.whole(70) & 1) != 0, e.number(38), false,
                         e.isMirrored());
        } else if (e.kind == "POLYLINE") {
            // Meshes are no lines.
            if ((e.whole(70) & (16 | 64)) != 0) return leaveOut("meshes");
            std::vector<Vertex> points;
            for (const Entity& v : vertices) {
                if ((v.whole(70) & 16) != 0) continue;  // frame of a spline
                points.push_back({v.point(10), v.number(30), v.number(42)});
            }
            const bool isSpatial = (e.whole(70) & 8) != 0;
            g = polyline(std::move(points), (e.whole(70) & 1) != 0, e.number(30), isSpatial,
                         !isSpatial && e.isMirrored());
        } else if (e.kind == "ARC" || e.kind == "CIRCLE" || e.kind == "ELLIPSE") {
            g = round(e);
        } else {
            return leaveOut(e.kind == "INSERT" ? "inserted blocks" : lowered(e.kind));
        }
        if (g.isEmpty() || !g.isFinite()) return leaveOut("entities without a place");
        put(std::move(g), e);
    }

    void leaveOut(const std::string& what) { ++m_leftOut[what]; }

    Result<FeatureSourcePtr> finish(bool isDamaged) {
        flush();
        if (m_layers.isEmpty())
            return badFormat(m_path, "holds no points, lines or texts", "choose another file");
        auto tables = m_layers.finish();
        std::vector<std::string> notes;
        const crs::CrsPtr crs = crsBeside(m_path, notes);
        if (isDamaged) notes.push_back("it ends in the middle of an entity: it may be cut short");
        if (m_curved > 0)
            notes.push_back(formatNumber(static_cast<double>(m_curved)) +
                            " curves are drawn by chords that stray by a thousandth of the radius");
        for (const auto& [what, count] : m_leftOut)
            notes.push_back(formatNumber(static_cast<double>(count)) + " " + what +
                            " are left out");
        for (FeatureTable& table : tables) {
            table.info.crs = crs;
            table.info.reading.encoding = m_decoder.name().empty() ? "UTF-8" : m_decoder.name();
        }
        auto& first = tables.front().info.notes;
        first.insert(first.end(), notes.begin(), notes.end());
        return FeatureSourcePtr(std::make_shared<MemoryFeatures>("DXF", std::move(tables)));
    }

private:
    static Point seen(const Entity& e, Point p) { return e.isMirrored() ? Point{-p.x, p.y} : p; }

    // Heights only where there is any.
    static Geometry withHeights(const std::vector<Vertex>& vertices, GeometryType type) {
        Geometry out;
        out.type = type;
        if (vertices.empty()) return out;
        out.beginPart(type == GeometryType::Polygon);
        const bool hasHeights =
            std::any_of(vertices.begin(), vertices.end(), [](const Vertex& v) { return v.z != 0; });
        for (const Vertex& v : vertices) {
            out.points.push_back(v.at);
            if (hasHeights) out.z.push_back(v.z);
        }
        return out;
    }

    static std::vector<Vertex> lightVertices(const Entity& e) {
        std::vector<Vertex> out;
        for (const auto& [code, value] : e.groups) {
            const auto number = parseNumber(trimmed(value));
            if (!number || !std::isfinite(*number)) continue;
            if (code == 10) out.push_back({{*number, 0}, 0, 0});
            if (out.empty()) continue;
            if (code == 20) out.back().at.y = *number;
            if (code == 42) out.back().bulge = *number;
        }
        return out;
    }

    // `flat`: the height of all points where they are not spatial.
    Geometry polyline(std::vector<Vertex> vertices, bool isClosed, double flat, bool isSpatial,
                      bool isMirrored) {
        if (vertices.size() < 2) return {};
        isClosed = isClosed && vertices.size() > 2;
        if (isClosed) vertices.push_back(Vertex(vertices.front()));
        std::vector<Vertex> out;
        for (std::size_t i = 0; i < vertices.size(); ++i) {
            const double z = isSpatial ? vertices[i].z : flat != 0 ? flat : vertices[i].z;
            out.push_back({vertices[i].at, z, 0});
            const double bulge = vertices[i].bulge;
            if (bulge == 0 || i + 1 == vertices.size() || std::abs(bulge) > 1e6) continue;
            // The tangent of a quarter of the angle; the arc's middle stands off the chord by it.
            ++m_curved;
            const Point a = vertices[i].at, b = vertices[i + 1].at, along = b - a;
            const Point via{(a.x + b.x) / 2 + bulge * along.y / 2,
                            (a.y + b.y) / 2 - bulge * along.x / 2};
            std::vector<Point> arc;
            addArcThrough(arc, a, via, b);
            for (std::size_t k = 0; k + 1 < arc.size(); ++k) out.push_back({arc[k], z, 0});
        }
        if (isMirrored)
            for (Vertex& v : out) v.at.x = -v.at.x;
        return withHeights(out, isClosed ? GeometryType::Polygon : GeometryType::Line);
    }

    Geometry round(const Entity& e) {
        ++m_curved;
        std::vector<Point> points;
        const Point centre = e.point(10);
        bool isWhole = e.kind == "CIRCLE";
        if (e.kind == "ELLIPSE") {
            const Point major = e.point(11);
            const double share = e.number(40, 1), from = e.number(41),
                         to = e.number(42, 2 * std::numbers::pi);
            std::vector<Point> circle{{std::cos(from), std::sin(from)}};
            double sweep = to - from;
            if (sweep <= 0) sweep += 2 * std::numbers::pi;
            isWhole = std::abs(sweep - 2 * std::numbers::pi) < 1e-9;
            addArc(circle, {0, 0}, 1, from, sweep);
            for (const Point p : circle)
                points.push_back({centre.x + p.x * major.x - p.y * share * major.y,
                                  centre.y + p.x * major.y + p.y * share * major.x});
        } else {
            const double radius = e.number(40);
            const double from = isWhole ? 0 : e.number(50) * kRadians;
            double sweep = isWhole ? 2 * std::numbers::pi : e.number(51) * kRadians - from;
            if (sweep <= 0) sweep += 2 * std::numbers::pi;
            points.push_back(
                {centre.x + radius * std::cos(from), centre.y + radius * std::sin(from)});
            addArc(points, centre, radius, from, sweep);
        }
        if (points.size() < 2) return {};
        if (isWhole) points.back() = points.front();
        std::vector<Vertex> out;
        for (const Point p : points) out.push_back({seen(e, p), e.number(30), 0});
        return withHeights(out, isWhole ? GeometryType::Polygon : GeometryType::Line);
    }

    // Features written in several parts are put together again.
    void put(Geometry g, const Entity& e) {
        std::vector<std::pair<std::string, std::string>> values{
            {"layer", plainText(m_decoder.decoded(trimmed(e.text(8))))}};
        if (e.kind == "TEXT" || e.kind == "MTEXT") {
            std::string text;
            for (const auto& [code, value] : e.groups)
                if (code == 3 || code == 1) text += value;
            values.emplace_back("text", plainText(m_decoder.decoded(text)));
        }
        std::string key, role;
        bool isOurs = false;
        for (const auto& [code, value] : e.groups) {
            if (code == 1001) isOurs = value == kDxfOwner;
            if (!isOurs) continue;
            if (code == 1071) key = value;
            if (code == 1070) role = trimmed(value);
            const auto equals = code == 1000 ? value.find('=') : std::string_view::npos;
            if (equals == std::string_view::npos) continue;
            const std::string name = plainText(m_decoder.decoded(value.substr(0, equals)));
            const bool isKnown = std::any_of(values.begin(), values.end(),
                                             [&](const auto& v) { return v.first == name; });
            if (!isKnown)
                values.emplace_back(name, plainText(m_decoder.decoded(value.substr(equals + 1))));
        }
        if (!key.empty() && key == m_key && g.type == m_shape.type) {
            m_shape.addPart(g, 0, g.type == GeometryType::Polygon && role != "1");
            return;
        }
        flush();
        m_key = key;
        m_shape = std::move(g);
        m_values = std::move(values);
    }
    void flush() {
        if (m_shape.isEmpty()) return;
        m_shape.isMulti = (m_shape.type == GeometryType::Polygon ? m_shape.polygons.size()
                                                                 : m_shape.partCount()) > 1;
        m_layers.add(m_path.stem().string(), std::move(m_shape), m_values);
        m_shape = {};
        m_key.clear();
    }

    const fs::path& m_path;
    const TextDecoder& m_decoder;
    XmlLayers m_layers;
    std::string m_key;
    Geometry m_shape;
    std::vector<std::pair<std::string, std::string>> m_values;
    std::map<std::string, std::size_t> m_leftOut;
    std::size_t m_curved = 0;
};

// The code page that the header names, for text that is no UTF-8.
std::string encodingOfDrawing(const std::string& text) {
    if (isUtf8(text)) return "UTF-8";
    const auto at = text.find("$DWGCODEPAGE");
    const auto ansi = at == std::string::npos ? at : text.find("ANSI_", at);
    if (ansi == std::string::npos || ansi > at + 60) return "windows-1252";
    const auto end = text.find_first_not_of("0123456789", ansi + 5);
    return "windows-" + text.substr(ansi + 5, end == std::string::npos ? end : end - ansi - 5);
}
}  // namespace

Result<FeatureSourcePtr> openDxf(const fs::path& path, const Progress& progress,
                                 const Reading& reading) {
    const auto text = readText(path);
    if (!text) return text.error();
    const TextDecoder decoder(reading.encoding.empty() ? encodingOfDrawing(*text) : reading.encoding);
    DrawingReader reader(path, decoder);
    Pairs pairs(*text);
    bool isInEntities = false, isSection = false, isEnded = false;
    Entity now;
    Entity polyline;  // that waits for its vertices
    std::vector<Entity> vertices;
    const auto finishEntity = [&] {
        if (now.kind.empty()) return;
        if (now.kind == "POLYLINE") {
            polyline = std::move(now);
            vertices.clear();
        } else if (now.kind == "VERTEX") {
            vertices.push_back(std::move(now));
        } else if (now.kind == "SEQEND") {
            if (!polyline.kind.empty()) reader.entity(polyline, vertices);
            polyline = {};
        } else {
            reader.entity(now, {});
        }
        now = {};
    };
    for (std::size_t count = 0; pairs.next(); ++count) {
        if (count % 65536 == 0) {
            if (progress.stopped()) return cancelled(nameOf(path));
            progress.at(static_cast<double>(pairs.at()) / static_cast<double>(text->size()));
        }
        if (pairs.code == 0) {
            finishEntity();
            const std::string kind = trimmed(pairs.value);
            isSection = kind == "SECTION";
            if (kind == "ENDSEC") isInEntities = false;
            if (kind == "EOF") isEnded = true;
            if (isInEntities) now.kind = kind;
        } else if (isSection && pairs.code == 2) {
            isInEntities = trimmed(pairs.value) == "ENTITIES";
            isSection = false;
        } else if (!now.kind.empty()) {
            now.groups.emplace_back(pairs.code, pairs.value);
        }
    }
    finishEntity();
    return reader.finish(pairs.isDamaged || !isEnded);
}

}  // namespace ledge::io
