#pragma once
#include <cstddef>
#include <filesystem>
#include <functional>
#include <span>
#include <vector>

#include "core/base/colour.h"
#include "core/base/result.h"

namespace ledge::io {

/// A decoded PNG or JPEG: `bands` values a pixel, interleaved, 1 byte or 2 (native order) each.
/// Two bands are grey and alpha, three red, green, blue, four those and alpha.
struct Picture {
    std::size_t width = 0, height = 0, bands = 1, bytesPerValue = 1;
    std::vector<Colour> palette;  ///< of a single band, when its values are places in one
    std::vector<std::byte> values;
    /// Of a picture for paper, of plain colours of a byte, written only; 0: not said. Such are
    /// written for speed: maps have large even areas, which the cheapest filter shrinks about as
    /// well as the best.
    double dotsPerInch = 0;
};

bool looksLikePng(std::string_view head);
bool looksLikeJpeg(std::string_view head);

/// Decodes a PNG or JPEG; with `headerOnly` all but the values. Errors: BadFormat; Unsupported for
/// four-ink pictures; LimitExceeded over 1 GB of values.
Result<Picture> decodePicture(std::span<const std::byte> file, const std::filesystem::path& name,
                              bool headerOnly = false);

/// Fills the values of one row, from the top down.
using PictureRows = std::function<Result<void>(std::size_t row, std::span<std::byte> values)>;
/// Encodes a picture row by row into a file. `shape` has all but the values. Errors: those of
/// `rows`; IoFailure.
Result<void> encodePng(const Picture& shape, const std::filesystem::path& path,
                       const PictureRows& rows);
/// The same as JPEG, of one or three bands of a byte; `quality` 1 to 100.
Result<void> encodeJpeg(const Picture& shape, const std::filesystem::path& path, int quality,
                        const PictureRows& rows);

}  // namespace ledge::io
