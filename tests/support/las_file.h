#pragma once
#include <fstream>
#include <string>
#include <vector>

#include "core/crs/wkt.h"
#include "io/files/byte_reader.h"

namespace ledge::test {

struct LasPoint {
    double x = 0, y = 0, z = 0;
    int kind = 1;
    bool isWithheld = false;
};
/// A point cloud as bytes: version 1.`minor`, its CRS as WKT where one is given.
inline std::string lasBytes(const std::vector<LasPoint>& points, int minor, int format,
                            const crs::CrsPtr& crs = {}) {
    constexpr auto kLittle = std::endian::little;
    const std::string wkt = crs ? crs::toWkt(*crs) + '\0' : std::string();
    const std::size_t header = minor >= 4 ? 375 : 227;
    const std::size_t record = format >= 6 ? 30 : 20;
    const std::size_t offset = header + (wkt.empty() ? 0 : 54 + wkt.size());
    std::string out = "LASF";
    out.append(20, '\0');
    out += '\x01';
    out += static_cast<char>(minor);
    out.append(68, '\0');  // to 94
    io::putNumber(out, static_cast<std::uint16_t>(header), kLittle);
    io::putNumber(out, static_cast<std::uint32_t>(offset), kLittle);
    io::putNumber(out, std::uint32_t{wkt.empty() ? 0U : 1U}, kLittle);
    out += static_cast<char>(format);
    io::putNumber(out, static_cast<std::uint16_t>(record), kLittle);
    io::putNumber(out, static_cast<std::uint32_t>(minor >= 4 ? 0 : points.size()), kLittle);
    out.append(20, '\0');  // to 131
    for (const double v : {0.01, 0.01, 0.01, 500000.0, 6800000.0, 0.0})
        io::putNumber(out, v, kLittle);
    double low[3] = {1e300, 1e300, 1e300}, high[3] = {-1e300, -1e300, -1e300};
    for (const LasPoint& p : points) {
        const double at[3] = {p.x, p.y, p.z};
        for (int k = 0; k < 3; ++k)
            low[k] = std::min(low[k], at[k]), high[k] = std::max(high[k], at[k]);
    }
    for (int k = 0; k < 3; ++k)
        io::putNumber(out, high[k], kLittle), io::putNumber(out, low[k], kLittle);
    if (minor >= 4) {
        out.append(20, '\0');  // to 247
        io::putNumber(out, static_cast<std::uint64_t>(points.size()), kLittle);
        out.append(header - out.size(), '\0');
    }
    if (!wkt.empty()) {
        std::string own(54, '\0');
        own.replace(2, 15, "LASF_Projection");
        const std::uint16_t id = 2112, size = static_cast<std::uint16_t>(wkt.size());
        std::memcpy(own.data() + 18, &id, 2);
        std::memcpy(own.data() + 20, &size, 2);
        out += own + wkt;
    }
    for (const LasPoint& p : points) {
        const std::size_t from = out.size();
        io::putNumber(out, static_cast<std::int32_t>(std::lround((p.x - 500000) * 100)), kLittle);
        io::putNumber(out, static_cast<std::int32_t>(std::lround((p.y - 6800000) * 100)), kLittle);
        io::putNumber(out, static_cast<std::int32_t>(std::lround(p.z * 100)), kLittle);
        io::putNumber(out, std::uint16_t{77}, kLittle);
        out += '\x11';  // first return of one (or two, in the short form)
        if (format >= 6) {
            out += p.isWithheld ? '\x04' : '\0';
            out += static_cast<char>(p.kind);
        } else {
            out += static_cast<char>(p.kind | (p.isWithheld ? 0x80 : 0));
        }
        out.append(record - (out.size() - from), '\0');
    }
    return out;
}

}  // namespace ledge::test
