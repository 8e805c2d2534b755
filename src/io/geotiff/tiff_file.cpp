#include "io/geotiff/tiff_file.h"

#include <array>
#include <cstdio>
#include <mutex>
#include <utility>

#include "io/files/atomic_file.h"

namespace ledge::io {
namespace {
TIFFExtendProc g_outerExtender = nullptr;

void addGeoTags(TIFF* tiff) {
    static char names[8][24] = {"ModelPixelScale", "ModelTiepoint",   "ModelTransformation",
                                "GeoKeyDirectory", "GeoDoubleParams", "GeoAsciiParams",
                                "NodataText",      "BandItems"};
    static const std::array<TIFFFieldInfo, 8> fields{{
        {kTagPixelScale, -1, -1, TIFF_DOUBLE, FIELD_CUSTOM, 1, 1, names[0]},
        {kTagTiePoints, -1, -1, TIFF_DOUBLE, FIELD_CUSTOM, 1, 1, names[1]},
        {kTagTransform, -1, -1, TIFF_DOUBLE, FIELD_CUSTOM, 1, 1, names[2]},
        {kTagKeyDirectory, -1, -1, TIFF_SHORT, FIELD_CUSTOM, 1, 1, names[3]},
        {kTagKeyDoubles, -1, -1, TIFF_DOUBLE, FIELD_CUSTOM, 1, 1, names[4]},
        {kTagKeyAscii, -1, -1, TIFF_ASCII, FIELD_CUSTOM, 1, 0, names[5]},
        {kTagNodata, -1, -1, TIFF_ASCII, FIELD_CUSTOM, 1, 0, names[6]},
        {kTagBandItems, -1, -1, TIFF_ASCII, FIELD_CUSTOM, 1, 0, names[7]},
    }};
    TIFFMergeFieldInfo(tiff, fields.data(), static_cast<std::uint32_t>(fields.size()));
    if (g_outerExtender) g_outerExtender(tiff);
}

void registerTags() {
    static std::once_flag once;
    std::call_once(once, [] { g_outerExtender = TIFFSetTagExtender(addGeoTags); });
}
}  // namespace

int TiffFile::remember(TIFF*, void* self, const char* module, const char* format, va_list args) {
    std::array<char, 512> text{};
    std::vsnprintf(text.data(), text.size(), format, args);
    auto& message = static_cast<TiffFile*>(self)->m_message;
    if (message.empty()) message = text.data();
    (void)module;
    return 1;
}

Result<std::unique_ptr<TiffFile>> TiffFile::open(const std::filesystem::path& path,
                                                 const char* mode) {
    registerTags();
    std::unique_ptr<TiffFile> file(new TiffFile);
    TIFFOpenOptions* options = TIFFOpenOptionsAlloc();
    TIFFOpenOptionsSetErrorHandlerExtR(options, &TiffFile::remember, file.get());
    TIFFOpenOptionsSetWarningHandlerExtR(
        options, [](TIFF*, void*, const char*, const char*, va_list) { return 1; }, nullptr);
    TIFFOpenOptionsSetMaxSingleMemAlloc(options, tmsize_t{1} << 31);
    file->m_handle = TIFFOpenExt(path.c_str(), mode, options);
    TIFFOpenOptionsFree(options);
    if (!file->m_handle) {
        const std::string why = file->takeMessage();
        if (mode[0] == 'w')
            return ioFailure(path, why.empty() ? "could not be created" : why,
                             "check that the folder exists and can be written");
        return badFormat(path, "not a usable TIFF file: " + why);
    }
    return file;
}

TiffFile::~TiffFile() { close(); }

void TiffFile::close() {
    if (m_handle) TIFFClose(std::exchange(m_handle, nullptr));
}

std::string TiffFile::takeMessage() { return std::exchange(m_message, {}); }

}  // namespace ledge::io
