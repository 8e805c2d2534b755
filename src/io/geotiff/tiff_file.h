#pragma once
#include <tiffio.h>

#include <filesystem>
#include <memory>
#include <string>

#include "core/base/result.h"

namespace ledge::io {

/// Tags of GeoTIFF and of the nodata convention, beside the ones libtiff knows.
inline constexpr std::uint32_t kTagPixelScale = 33550, kTagTiePoints = 33922, kTagTransform = 34264,
                               kTagKeyDirectory = 34735, kTagKeyDoubles = 34736,
                               kTagKeyAscii = 34737, kTagNodata = 42113,
                               kTagBandItems = 42112;  ///< XML with scale, offset, unit, name

/// A libtiff handle whose messages go into a string of its own instead of the terminal.
class TiffFile {
public:
    /// `mode` as for TIFFOpen. Errors: NotFound, BadFormat, IoFailure.
    static Result<std::unique_ptr<TiffFile>> open(const std::filesystem::path& path,
                                                  const char* mode);
    ~TiffFile();
    TiffFile(const TiffFile&) = delete;
    TiffFile& operator=(const TiffFile&) = delete;

    TIFF* handle() const { return m_handle; }
    /// The last message of libtiff, then forgotten.
    std::string takeMessage();
    void close();

private:
    TiffFile() = default;
    static int remember(TIFF*, void* self, const char* module, const char* format, va_list args);

    TIFF* m_handle = nullptr;
    std::string m_message;
};

}  // namespace ledge::io
