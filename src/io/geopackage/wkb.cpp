#include "io/geopackage/wkb.h"

#include "core/geometry/arcs.h"
#include "io/files/byte_reader.h"

namespace ledge::io {
namespace {

class WkbReader {
public:
    explicit WkbReader(std::span<const std::byte> bytes) : m_in(bytes) {}

    bool run(Geometry& out) { return geometry(out, 0); }

private:
    // Reads one geometry and adds its parts. Depth 1 is a member of a multi geometry.
    bool geometry(Geometry& out, int depth) {
        const auto order = m_in.read<std::uint8_t>(std::endian::little) == 1 ? std::endian::little
                                                                             : std::endian::big;
        std::uint32_t type = m_in.read<std::uint32_t>(order);
        bool hasZ = (type & 0x80000000u) != 0, hasM = (type & 0x40000000u) != 0;
        if ((type & 0x20000000u) != 0) m_in.skip(4);
        type &= 0x0FFFFFFFu;
        const std::uint32_t form = type / 1000;
        hasZ = hasZ || form == 1 || form == 3;
        hasM = hasM || form == 2 || form == 3;
        type %= 1000;
        m_order = order;
        m_hasZ = hasZ;
        m_hasM = hasM;
        if (m_in.isGood() && form <= 3 && type >= 8 && type <= 12) return curved(type, out, depth);
        if (!m_in.isGood() || form > 3 || type < 1 || type > 6 || (depth > 0 && type > 3))
            return false;
        const auto kind = static_cast<GeometryType>((type - 1) % 3 + 1);
        if (out.type != GeometryType::None && out.type != kind) return false;
        out.type = kind;
        if (type <= 3) return single(kind, out);
        out.isMulti = true;
        const auto count = m_in.read<std::uint32_t>(order);
        for (std::uint32_t i = 0; i < count && m_in.isGood(); ++i)
            if (!geometry(out, depth + 1)) return false;
        return m_in.isGood();
    }
    // Circular strings, compound curves, curve polygons, multi curves and surfaces (ISO 13249-3) as
    // chords; heights and measures of points between are those of the chord's start.
    bool curved(std::uint32_t type, Geometry& out, int depth) {
        constexpr int kDeepest = 4;
        if (depth > kDeepest) return false;
        const bool isArea = type == 10 || type == 12;
        const GeometryType kind = isArea ? GeometryType::Polygon : GeometryType::Line;
        if (out.type != GeometryType::None && out.type != kind) return false;
        out.type = kind;
        if (type == 8 || type == 9) {
            out.beginPart();
            return type == 8 ? arcs(out) : members(out, depth);
        }
        if (type != 10) out.isMulti = true;
        const auto count = m_in.read<std::uint32_t>(m_order);
        const std::endian order = m_order;
        for (std::uint32_t i = 0; i < count && m_in.isGood(); ++i) {
            if (type == 10) {
                out.beginPart(i == 0);
                if (!member(out, depth + 1)) return false;
            } else if (!geometry(out, depth + 1)) {
                return false;
            }
            m_order = order;
        }
        return m_in.isGood();
    }
    // Curves one after another as one part.
    bool members(Geometry& out, int depth) {
        const auto count = m_in.read<std::uint32_t>(m_order);
        const std::endian order = m_order;
        for (std::uint32_t i = 0; i < count && m_in.isGood(); ++i) {
            if (!member(out, depth + 1)) return false;
            m_order = order;
        }
        return m_in.isGood();
    }
    // A line or curve with its own head, added to the part that was begun.
    bool member(Geometry& out, int depth) {
        if (depth > 6) return false;
        m_order = m_in.read<std::uint8_t>(std::endian::little) == 1 ? std::endian::little
                                                                    : std::endian::big;
        const std::uint32_t type = (m_in.read<std::uint32_t>(m_order) & 0x0FFFFFFFu) % 1000;
        if (!m_in.isGood()) return false;
        if (type == 9) return members(out, depth);
        if (type != 2 && type != 8) return false;
        return type == 8 ? arcs(out) : chords(out);
    }
    bool chords(Geometry& out) {
        const auto count = m_in.read<std::uint32_t>(m_order);
        for (std::uint32_t i = 0; i < count && m_in.isGood(); ++i) {
            position(out);
            dropDoubled(out);
        }
        return m_in.isGood();
    }
    // Where a member goes on from the end of the one before.
    static void dropDoubled(Geometry& out) {
        const std::size_t from = out.parts.back(), size = out.points.size();
        if (size < from + 2 || out.points[size - 1] != out.points[size - 2]) return;
        out.points.pop_back();
        if (!out.z.empty()) out.z.pop_back();
        if (!out.m.empty()) out.m.pop_back();
    }
    bool arcs(Geometry& out) {
        const auto count = m_in.read<std::uint32_t>(m_order);
        Geometry own;
        own.beginPart();
        for (std::uint32_t i = 0; i < count && m_in.isGood(); ++i) position(own);
        if (!m_in.isGood()) return false;
        const auto put = [&](Point p, std::size_t of) {
            out.points.push_back(p);
            if (!own.z.empty() || !out.z.empty()) {
                out.z.resize(out.points.size(), std::nan(""));
                if (!own.z.empty()) out.z.back() = own.z[of];
            }
            if (!own.m.empty() || !out.m.empty()) {
                out.m.resize(out.points.size(), std::nan(""));
                if (!own.m.empty()) out.m.back() = own.m[of];
            }
        };
        if (own.points.empty()) return true;
        put(own.points[0], 0);
        dropDoubled(out);
        for (std::size_t i = 0; i + 2 < own.points.size(); i += 2) {
            std::vector<Point> along;
            addArcThrough(along, own.points[i], own.points[i + 1], own.points[i + 2]);
            for (std::size_t k = 0; k < along.size(); ++k)
                put(along[k], k + 1 == along.size() ? i + 2 : i);
        }
        return true;
    }
    bool single(GeometryType kind, Geometry& out) {
        if (kind == GeometryType::Point) {
            out.beginPart();
            position(out);
            const Point p = out.points.back();
            if (std::isnan(p.x) && std::isnan(p.y)) {  // empty point
                out.points.pop_back();
                out.parts.pop_back();
                if (!out.z.empty()) out.z.resize(out.points.size());
                if (!out.m.empty()) out.m.resize(out.points.size());
            }
            return m_in.isGood();
        }
        if (kind == GeometryType::Line) return line(out, false);
        const auto rings = m_in.read<std::uint32_t>(m_order);
        // The first that has points: an empty one is no outer ring.
        const std::size_t before = out.parts.size();
        for (std::uint32_t i = 0; i < rings && m_in.isGood(); ++i)
            if (!line(out, out.parts.size() == before)) return false;
        return m_in.isGood();
    }
    bool line(Geometry& out, bool isOuter) {
        const auto count = m_in.read<std::uint32_t>(m_order);
        const std::size_t size = 16u + (m_hasZ ? 8u : 0u) + (m_hasM ? 8u : 0u);
        if (!m_in.isGood() || count > m_in.left() / size) return false;
        if (count == 0) return true;
        out.beginPart(isOuter);
        if (m_hasZ || m_hasM || !out.z.empty() || !out.m.empty()) {
            for (std::uint32_t i = 0; i < count; ++i) position(out);
        } else {
            for (std::uint32_t i = 0; i < count; ++i) {
                const auto x = m_in.read<double>(m_order);
                out.points.push_back({x, m_in.read<double>(m_order)});
            }
        }
        return m_in.isGood();
    }
    void position(Geometry& out) {
        const auto x = m_in.read<double>(m_order);
        const auto y = m_in.read<double>(m_order);
        out.points.push_back({x, y});
        value(m_hasZ, out.z, out.points.size());
        value(m_hasM, out.m, out.points.size());
    }
    // Members of a multi geometry may differ in whether they have any.
    void value(bool isThere, std::vector<double>& all, std::size_t points) {
        if (!isThere && all.empty()) return;
        all.resize(points - 1, std::nan(""));
        all.push_back(isThere ? m_in.read<double>(m_order) : std::nan(""));
    }

    ByteReader m_in;
    std::endian m_order = std::endian::little;
    bool m_hasZ = false, m_hasM = false;
};

void putHeader(std::string& out, std::uint32_t type) {
    out += '\x01';
    putNumber(out, type, std::endian::little);
}
void putPositions(std::string& out, const GeometryView& g, std::size_t part) {
    const auto points = g.part(part);
    if (!g.z.empty() || !g.m.empty()) {
        const auto z = g.ofPart(g.z, part), m = g.ofPart(g.m, part);
        for (std::size_t i = 0; i < points.size(); ++i) {
            putNumber(out, points[i].x, std::endian::little);
            putNumber(out, points[i].y, std::endian::little);
            if (!z.empty()) putNumber(out, z[i], std::endian::little);
            if (!m.empty()) putNumber(out, m[i], std::endian::little);
        }
    } else if constexpr (std::endian::native == std::endian::little) {
        static_assert(sizeof(Point) == 16);
        out.append(reinterpret_cast<const char*>(points.data()), points.size() * sizeof(Point));
    } else {
        for (const Point p : points) {
            putNumber(out, p.x, std::endian::little);
            putNumber(out, p.y, std::endian::little);
        }
    }
}
void putCount(std::string& out, std::size_t count) {
    putNumber(out, static_cast<std::uint32_t>(count), std::endian::little);
}
void putLine(std::string& out, const GeometryView& g, std::size_t part) {
    putCount(out, g.part(part).size());
    putPositions(out, g, part);
}
}  // namespace

bool readWkb(std::span<const std::byte> bytes, Geometry& out) { return WkbReader(bytes).run(out); }

void putWkb(std::string& out, const GeometryView& g) {
    const std::uint32_t form = (g.z.empty() ? 0u : 1000u) + (g.m.empty() ? 0u : 2000u);
    const auto base = static_cast<std::uint32_t>(g.type) + form;
    if (!g.isMulti && g.partCount() == 0) {  // an empty one is written as such
        putHeader(out, base);
        if (g.type != GeometryType::Point) return putCount(out, 0);
        for (int i = 0; i < 2; ++i) putNumber(out, std::nan(""), std::endian::little);
        return;
    }
    if (g.type != GeometryType::Polygon) {
        if (g.isMulti) {
            putHeader(out, base + 3);
            putCount(out, g.partCount());
        }
        for (std::size_t i = 0; i < g.partCount(); ++i) {
            putHeader(out, base);
            if (g.type == GeometryType::Line)
                putLine(out, g, i);
            else
                putPositions(out, g, i);
        }
        return;
    }
    if (g.isMulti) {
        putHeader(out, form + 6);
        putCount(out, g.polygons.size());
    }
    for (std::size_t p = 0; p < g.polygons.size(); ++p) {
        const std::size_t begin = g.polygons[p];
        const std::size_t end = p + 1 < g.polygons.size() ? g.polygons[p + 1] : g.partCount();
        putHeader(out, form + 3);
        putCount(out, end - begin);
        for (std::size_t i = begin; i < end; ++i) putLine(out, g, i);
    }
}

}  // namespace ledge::io
