#pragma once
#include <functional>
#include <string_view>

#include "io/picture/picture_codec.h"

namespace ledge::io {

/// Rows of a picture of bytes as a stream of zlib, on all cores: each value less that of the pixel
/// before (filter type 1 of ISO/IEC 15948, which PDF knows as a predictor), stretches of rows
/// deflated apart, each knowing the end of the one before (RFC 1950, 1951). `rows` is called from
/// one thread, from the top down, and so is `put`. Errors: those of `rows`; IoFailure.
Result<void> deflateRows(const Picture& shape, const PictureRows& rows,
                         const std::function<void(std::string_view)>& put);

}  // namespace ledge::io
