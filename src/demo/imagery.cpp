#include "demo/imagery.h"

#include <array>
#include <cmath>

#include "core/raster/typed_raster.h"
#include "demo/noise.h"

namespace ledge::demo {
namespace {
enum Cover : std::uint8_t { kSea, kShore, kPasture, kHeath, kPeat, kScree, kRock, kLoch };

struct CoverLook {
    const char* name;
    Colour map;                       ///< in the palette
    std::array<float, 4> brightness;  ///< red, green, blue, near infrared in the picture
};
constexpr std::array<CoverLook, 8> kLooks{{
    {"Sea", {0xBF, 0xD9, 0xE6}, {22, 44, 62, 8}},
    {"Shore", {0xE8, 0xDD, 0xB5}, {172, 160, 132, 120}},
    {"Pasture", {0xB9, 0xD2, 0x8B}, {98, 124, 62, 196}},
    {"Heath", {0xB8, 0x9E, 0xB4}, {106, 92, 66, 142}},
    {"Peat bog", {0x9C, 0x86, 0x63}, {82, 76, 52, 96}},
    {"Scree", {0xC9, 0xC3, 0xB8}, {142, 136, 126, 104}},
    {"Bare rock", {0x8E, 0x8C, 0x8A}, {124, 120, 116, 84}},
    {"Lochs", {0x7F, 0xB2, 0xCC}, {24, 38, 46, 10}},
}};

RasterInfo halfGrid(const Terrain& terrain) {
    RasterInfo info;
    info.toWorld = terrain.toWorld.after({2, 0, 0, 0, 2, 0});
    info.crs = *crs::crsFromCode(32629);
    info.width = static_cast<std::int64_t>(terrain.heights.cols() / 2);
    info.height = static_cast<std::int64_t>(terrain.heights.rows() / 2);
    return info;
}

// Height and rise at a cell of the half grid.
struct Ground {
    float height, east, north;
    float slope() const { return std::sqrt(east * east + north * north); }
};
Ground groundAt(const Terrain& t, std::size_t row, std::size_t col) {
    const std::size_t r = std::clamp<std::size_t>(2 * row, 1, t.heights.rows() - 2);
    const std::size_t c = std::clamp<std::size_t>(2 * col, 1, t.heights.cols() - 2);
    const auto span = static_cast<float>(2 * t.cell);
    return {t.heights(r, c), (t.heights(r, c + 1) - t.heights(r, c - 1)) / span,
            (t.heights(r - 1, c) - t.heights(r + 1, c)) / span};
}

// Several bands of bytes held in memory.
class Bands final : public TypedRaster<Bands> {
public:
    Bands(RasterInfo info, std::vector<Grid<std::uint8_t>> bands)
        : m_info(std::move(info)), m_bands(std::move(bands)) {}
    const RasterInfo& info() const override { return m_info; }

private:
    friend class TypedRaster<Bands>;
    template <typename T>
    Result<void> readAs(int band, CellWindow w, BlockView<T> out) const {
        const auto& cells = m_bands[static_cast<std::size_t>(band)];
        const auto nodata = m_info.bands[static_cast<std::size_t>(band)].nodata;
        for (std::size_t r = 0; r < out.rows(); ++r)
            for (std::size_t c = 0; c < out.cols(); ++c) {
                const std::uint8_t v =
                    cells(static_cast<std::size_t>(w.row) + r, static_cast<std::size_t>(w.col) + c);
                out(r, c) = nodata && *nodata == v ? std::numeric_limits<T>::quiet_NaN()
                                                   : static_cast<T>(v);
            }
        return {};
    }
    RasterInfo m_info;
    std::vector<Grid<std::uint8_t>> m_bands;
};
}  // namespace

const std::vector<std::string>& landCoverNames() {
    static const std::vector<std::string> names = [] {
        std::vector<std::string> out;
        for (std::size_t i = 1; i < kLooks.size(); ++i) out.emplace_back(kLooks[i].name);
        return out;
    }();
    return names;
}

RasterPtr landCover(const Terrain& t) {
    RasterInfo info = halfGrid(t);
    BandInfo band{CellType::UInt8, 0.0, "", "land cover"};
    for (const CoverLook& look : kLooks) band.palette.push_back(look.map);
    info.bands = {band};
    Grid<std::uint8_t> cells(static_cast<std::size_t>(info.height),
                             static_cast<std::size_t>(info.width));
    for (std::size_t r = 0; r < cells.rows(); ++r)
        for (std::size_t c = 0; c < cells.cols(); ++c) {
            const Ground g = groundAt(t, r, c);
            const double wet = fractalNoise(double(c) / 60, double(r) / 60, 71, 4);
            const double patchy = fractalNoise(double(c) / 14, double(r) / 14, 72, 3);
            Cover cover = kHeath;
            if (g.height <= 0)
                cover = kSea;
            else if (t.lochDepth(std::min(2 * r, t.lochDepth.rows() - 1),
                                 std::min(2 * c, t.lochDepth.cols() - 1)) > 0.3F)
                cover = kLoch;
            else if (g.slope() > 0.95F)
                cover = kRock;
            else if (g.slope() > 0.62F && g.height > 60)
                cover = kScree;
            else if (g.height < 5 && g.slope() < 0.3F)
                cover = kShore;
            else if (double(g.height) < 75 + 35 * patchy && g.slope() < 0.3F && wet < 0.25)
                cover = kPasture;
            else if (g.slope() < 0.14F && wet + 0.3 * patchy > 0.02)
                cover = kPeat;
            else if (double(g.height) > 420 + 60 * patchy)
                cover = kRock;
            cells(r, c) = cover;
        }
    return std::make_shared<Bands>(std::move(info), std::vector{std::move(cells)});
}

RasterPtr aerialPicture(const Terrain& t, const RasterSource& cover) {
    RasterInfo info = halfGrid(t);
    const std::array<BandRole, 4> roles{BandRole::Red, BandRole::Green, BandRole::Blue,
                                        BandRole::Data};
    const std::array<const char*, 4> names{"red", "green", "blue", "near infrared"};
    for (std::size_t b = 0; b < 4; ++b)
        info.bands.push_back({CellType::UInt8, {}, "", names[b], roles[b]});
    const auto rows = static_cast<std::size_t>(info.height);
    const auto cols = static_cast<std::size_t>(info.width);
    std::vector<Grid<std::uint8_t>> bands(4, Grid<std::uint8_t>(rows, cols));
    Grid<float> classes(rows, cols);
    if (!cover.read(0, info.whole(), classes.view())) return nullptr;
    for (std::size_t r = 0; r < rows; ++r)
        for (std::size_t c = 0; c < cols; ++c) {
            const Ground g = groundAt(t, r, c);
            const float value = classes(r, c);
            const auto at = std::isnan(value) ? std::size_t{kSea} : static_cast<std::size_t>(value);
            const float lit =
                (0.82F - 0.42F * g.east - 0.38F * g.north) / std::sqrt(1 + g.slope() * g.slope());
            const auto grain =
                static_cast<float>(0.10 * fractalNoise(double(c) / 5, double(r) / 5, 91, 3) +
                                   0.16 * fractalNoise(double(c) / 45, double(r) / 45, 92, 3));
            // Shallow water shows its floor.
            const float depth = at == kSea ? std::clamp(1 + g.height / 9, 0.0F, 1.0F) : 0.0F;
            for (std::size_t b = 0; b < 4; ++b) {
                const float shallow = b == 3 ? 14.0F : b == 0 ? 62.0F : 104.0F;
                const float base = kLooks[at].brightness[b] * (1 - depth) + shallow * depth;
                const float bright = at == kSea || at == kLoch
                                         ? 1 + 0.4F * grain
                                         : std::clamp(lit, 0.35F, 1.25F) * 1.15F + grain;
                bands[b](r, c) = static_cast<std::uint8_t>(std::clamp(base * bright, 1.0F, 255.0F));
            }
        }
    return std::make_shared<Bands>(std::move(info), std::move(bands));
}

}  // namespace ledge::demo
