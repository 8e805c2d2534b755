#pragma once
#include "io/picture/picture_codec.h"

namespace ledge::io {

/// Whether encodePaperPng() writes such pictures: for paper, of bytes, in plain colours.
bool isPaperPng(const Picture& shape);

/// Encodes a large picture on all cores: stretches of rows are filtered and deflated apart, each
/// knowing the end of the one before (RFC 1950, 1951; ISO/IEC 15948). `rows` is called from one
/// thread, from the top down. Errors: those of `rows`; IoFailure.
Result<void> encodePaperPng(const Picture& shape, const std::filesystem::path& path,
                            const PictureRows& rows);

}  // namespace ledge::io
