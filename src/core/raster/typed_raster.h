#pragma once
#include "core/raster/raster_source.h"

namespace ledge {

/// A raster that reads double and float cells alike, by its own
/// `template <typename T> Result<void> readAs(int band, CellWindow window, BlockView<T> out) const`.
template <typename Raster>
class TypedRaster : public RasterSource {
public:
    Result<void> read(int band, CellWindow window, BlockView<double> out) const final {
        return static_cast<const Raster&>(*this).readAs(band, window, out);
    }
    Result<void> read(int band, CellWindow window, BlockView<float> out) const final {
        return static_cast<const Raster&>(*this).readAs(band, window, out);
    }
};

}  // namespace ledge
