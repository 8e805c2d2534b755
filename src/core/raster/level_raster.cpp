#include "core/raster/level_raster.h"
#include "core/raster/typed_raster.h"

#include <cmath>

namespace ledge {
namespace {
class LevelRaster final : public TypedRaster<LevelRaster> {
public:
    LevelRaster(const RasterPtr& source, int level) : m_level(level), m_info(source->info()) {
        for (std::size_t band = 0; band < m_info.bands.size(); ++band) {
            m_bands.push_back(std::make_unique<Pyramid>(source, static_cast<int>(band), 0));
            BandInfo& info = m_info.bands[band];
            if (!info.palette.empty()) continue;
            info.type = CellType::Float32;
            info.nodata = -std::numeric_limits<float>::max();
            info.scale = 1, info.offset = 0;
        }
        const double step = std::ldexp(1.0, level);
        m_info.width = m_bands.front()->cols(level);
        m_info.height = m_bands.front()->rows(level);
        m_info.toWorld = m_info.toWorld.after({step, 0, 0, 0, step, 0});
    }
    const RasterInfo& info() const override { return m_info; }

private:
    friend class TypedRaster<LevelRaster>;
    template <typename T>
    Result<void> readAs(int band, CellWindow window, BlockView<T> out) const {
        const auto cells = m_bands[static_cast<std::size_t>(band)]->read(m_level, window);
        if (!cells) return cells.error();
        for (std::size_t r = 0; r < out.rows(); ++r)
            std::copy(cells->row(r).begin(), cells->row(r).end(), out.row(r).begin());
        return {};
    }

    int m_level;
    RasterInfo m_info;
    std::vector<std::unique_ptr<Pyramid>> m_bands;
};

class Overviewed final : public ForwardedRaster {
public:
    Overviewed(RasterPtr source, RasterInfo info, std::vector<RasterPtr> overviews)
        : ForwardedRaster(std::move(source), std::move(info)), m_overviews(std::move(overviews)) {}
    std::vector<RasterPtr> overviews() const override { return m_overviews; }

private:
    std::vector<RasterPtr> m_overviews;
};
}  // namespace

RasterPtr levelRaster(RasterPtr source, int level) {
    return std::make_shared<LevelRaster>(source, level);
}

RasterPtr withOverviews(RasterPtr source, std::vector<RasterPtr> overviews) {
    RasterInfo info = source->info();
    return std::make_shared<Overviewed>(std::move(source), std::move(info), std::move(overviews));
}

}  // namespace ledge
