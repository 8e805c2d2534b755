#include "core/raster/calculated_raster.h"

#include "core/raster/reprojected_raster.h"
#include "core/raster/typed_raster.h"

namespace ledge {
namespace {
class CalculatedRaster final : public TypedRaster<CalculatedRaster> {
public:
    CalculatedRaster(RasterInfo info, Expression expression, std::vector<NamedBand> bands)
        : m_info(std::move(info)), m_expression(std::move(expression)), m_bands(std::move(bands)) {}

    const RasterInfo& info() const override { return m_info; }
    std::vector<std::string> damage() const override {
        std::vector<std::string> out;
        for (const NamedBand& b : m_bands)
            for (std::string& part : b.raster->damage()) out.push_back(std::move(part));
        return out;
    }

private:
    friend class TypedRaster<CalculatedRaster>;
    template <typename T>
    Result<void> readAs(int, CellWindow w, BlockView<T> out) const {
        std::vector<Grid<double>> cells(m_bands.size());
        for (std::size_t i = 0; i < m_bands.size(); ++i) {
            if (!m_expression.used()[i]) continue;
            cells[i] = Grid<double>(out.rows(), out.cols());
            const auto done = m_bands[i].raster->read(m_bands[i].band, w, cells[i].view());
            if (!done) return done;
        }
        std::vector<std::span<const double>> rows(m_bands.size());
        std::vector<double> values(out.cols());
        for (std::size_t r = 0; r < out.rows(); ++r) {
            for (std::size_t i = 0; i < rows.size(); ++i)
                if (!cells[i].isEmpty()) rows[i] = std::as_const(cells[i]).row(r);
            m_expression.evaluate(rows, values);
            for (std::size_t c = 0; c < values.size(); ++c) out(r, c) = static_cast<T>(values[c]);
        }
        return {};
    }

    RasterInfo m_info;
    Expression m_expression;
    std::vector<NamedBand> m_bands;
};

bool isSameGrid(const RasterInfo& a, const RasterInfo& b) {
    if (a.width != b.width || a.height != b.height) return false;
    // Within a thousandth of a cell at all corners.
    const auto toCell = a.toWorld.inverse();
    if (!toCell) return false;
    for (const double x : {0.0, static_cast<double>(a.width)})
        for (const double y : {0.0, static_cast<double>(a.height)})
            if (!(distance((*toCell)(b.toWorld({x, y})), {x, y}) < 1e-3)) return false;
    return true;
}

Result<RasterPtr> broughtTo(const RasterInfo& grid, const NamedBand& band) {
    const RasterInfo& own = band.raster->info();
    if (!own.crs != !grid.crs)
        return Error{ErrorCode::InvalidArgument, "band \"" + band.name + "\"",
                     "one raster has a CRS and another has none", "declare the one that lacks it"};
    const bool isSameCrs = !grid.crs || crs::isSame(own.crs, grid.crs);
    if (isSameCrs && isSameGrid(grid, own)) return band.raster;
    const auto way = crs::Transformation::between(own.crs, grid.crs);
    if (!way) return way.error();
    const TargetGrid target{static_cast<std::size_t>(grid.height),
                            static_cast<std::size_t>(grid.width), grid.toWorld};
    return RasterPtr(std::make_shared<ReprojectedRaster>(band.raster, *way, grid.crs, target,
                                                         Resampling::Bilinear));
}
}  // namespace

Result<RasterPtr> calculatedRaster(const std::string& expression, std::vector<NamedBand> bands) {
    if (bands.empty())
        return Error{ErrorCode::InvalidArgument, "expression", "no band was named",
                     "name at least one, it gives the grid"};
    std::vector<std::string> names;
    for (const NamedBand& band : bands) {
        names.push_back(band.name);
        const auto count = static_cast<int>(band.raster->info().bands.size());
        if (band.band < 0 || band.band >= count)
            return Error{ErrorCode::InvalidArgument, "band \"" + band.name + "\"",
                         "the raster has " + std::to_string(count) + " bands, not " +
                             std::to_string(band.band + 1),
                         "count from 1"};
    }
    auto parsed = Expression::parse(expression, std::move(names));
    if (!parsed) return parsed.error();
    RasterInfo info = bands.front().raster->info();
    for (NamedBand& band : bands) {
        auto moved = broughtTo(info, band);
        if (!moved) return moved.error();
        band.raster = *std::move(moved);
    }
    info.format = "calculated";
    info.bands = {{CellType::Float32, -9999.0, "", expression}};
    info.overviews = 0;
    return RasterPtr(
        std::make_shared<CalculatedRaster>(std::move(info), *std::move(parsed), std::move(bands)));
}

}  // namespace ledge
