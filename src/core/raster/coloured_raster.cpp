#include "core/raster/coloured_raster.h"
#include "core/raster/typed_raster.h"

namespace ledge {
namespace {
class ColouredRaster final : public TypedRaster<ColouredRaster> {
public:
    ColouredRaster(RasterPtr source, int band, const Ramp& ramp, double factor)
        : m_source(std::move(source)), m_band(band), m_table(ramp),
          m_factor(static_cast<float>(factor)), m_info(m_source->info()) {
        m_info.format = "coloured";
        m_info.overviews = 0;
        m_info.bands.assign(4, {CellType::UInt8, {}, ""});
        for (std::size_t i = 0; i < 4; ++i)
            m_info.bands[i].role =
                static_cast<BandRole>(static_cast<int>(BandRole::Red) + static_cast<int>(i));
    }
    const RasterInfo& info() const override { return m_info; }
    std::vector<std::string> damage() const override { return m_source->damage(); }

private:
    friend class TypedRaster<ColouredRaster>;
    template <typename T>
    Result<void> readAs(int band, CellWindow w, BlockView<T> out) const {
        Grid<float> values(out.rows(), out.cols());
        const auto done = m_source->read(m_band, w, values.view());
        if (!done) return done;
        for (std::size_t r = 0; r < out.rows(); ++r)
            for (std::size_t c = 0; c < out.cols(); ++c) {
                const float value = values(r, c);
                const Colour colour =
                    std::isnan(value) ? Colour{0, 0, 0, 0} : m_table.at(value * m_factor);
                const std::uint8_t parts[] = {colour.r, colour.g, colour.b, colour.a};
                out(r, c) = static_cast<T>(parts[band]);
            }
        return {};
    }

    RasterPtr m_source;
    int m_band;
    RampTable m_table;
    float m_factor;
    RasterInfo m_info;
};
}  // namespace

RasterPtr colouredRaster(RasterPtr source, int band, const Ramp& ramp, double factor) {
    return std::make_shared<ColouredRaster>(std::move(source), band, ramp, factor);
}

}  // namespace ledge
