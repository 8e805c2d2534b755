#include "io/geopackage/wkb.h"

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
        int extra = 0;
        if ((type & 0x80000000u) != 0) ++extra;
        if ((type & 0x40000000u) != 0) ++extra;
        if ((type & 0x20000000u) != 0) m_in.skip(4);
        type &= 0x0FFFFFFFu;
        extra += type / 1000 == 3 ? 2 : (type / 1000 > 0 ? 1 : 0);
        type %= 1000;
        if (!m_in.isGood() || type < 1 || type > 6 || (depth > 0 && type > 3)) return false;
        m_order = order;
        m_extra = extra;
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
    bool single(GeometryType kind, Geometry& out) {
        if (kind == GeometryType::Point) {
            const Point p = position();
            if (std::isnan(p.x) && std::isnan(p.y)) return m_in.isGood();  // empty point
            out.beginPart();
            out.points.push_back(p);
            return m_in.isGood();
        }
        if (kind == GeometryType::Line) return line(out, false);
        const auto rings = m_in.read<std::uint32_t>(m_order);
        for (std::uint32_t i = 0; i < rings && m_in.isGood(); ++i)
            if (!line(out, i == 0)) return false;
        return m_in.isGood();
    }
    bool line(Geometry& out, bool isOuter) {
        const auto count = m_in.read<std::uint32_t>(m_order);
        const std::size_t size = 16 + 8 * static_cast<std::size_t>(m_extra);
        if (!m_in.isGood() || count > m_in.left() / size) return false;
        if (count == 0) return true;
        out.beginPart(isOuter);
        for (std::uint32_t i = 0; i < count; ++i) out.points.push_back(position());
        return m_in.isGood();
    }
    Point position() {
        const auto x = m_in.read<double>(m_order);
        const auto y = m_in.read<double>(m_order);
        m_in.skip(8 * static_cast<std::size_t>(m_extra));
        return {x, y};
    }

    ByteReader m_in;
    std::endian m_order = std::endian::little;
    int m_extra = 0;
};

void putHeader(std::string& out, std::uint32_t type) {
    out += '\x01';
    putNumber(out, type, std::endian::little);
}
void putLine(std::string& out, std::span<const Point> points) {
    putNumber(out, static_cast<std::uint32_t>(points.size()), std::endian::little);
    if constexpr (std::endian::native == std::endian::little) {
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
}  // namespace

bool readWkb(std::span<const std::byte> bytes, Geometry& out) { return WkbReader(bytes).run(out); }

void putWkb(std::string& out, const GeometryView& g) {
    const auto base = static_cast<std::uint32_t>(g.type);
    if (g.type != GeometryType::Polygon) {
        if (g.isMulti) {
            putHeader(out, base + 3);
            putCount(out, g.partCount());
        }
        for (std::size_t i = 0; i < g.partCount(); ++i) {
            putHeader(out, base);
            if (g.type == GeometryType::Line) {
                putLine(out, g.part(i));
            } else {
                putNumber(out, g.part(i)[0].x, std::endian::little);
                putNumber(out, g.part(i)[0].y, std::endian::little);
            }
        }
        return;
    }
    if (g.isMulti) {
        putHeader(out, 6);
        putCount(out, g.polygons.size());
    }
    for (std::size_t p = 0; p < g.polygons.size(); ++p) {
        const std::size_t begin = g.polygons[p];
        const std::size_t end = p + 1 < g.polygons.size() ? g.polygons[p + 1] : g.partCount();
        putHeader(out, 3);
        putCount(out, end - begin);
        for (std::size_t i = begin; i < end; ++i) putLine(out, g.part(i));
    }
}

}  // namespace ledge::io
