#include "io/files/encoding.h"

#include <unicode/ucnv.h>
#include <unicode/unistr.h>

#include <array>

namespace ledge::io {
bool isUtf8(std::string_view text) {
    for (std::size_t i = 0; i < text.size();) {
        const auto byte = static_cast<unsigned char>(text[i]);
        const std::size_t length = byte < 0x80                   ? 1
                                   : byte >= 0xC2 && byte < 0xE0 ? 2
                                   : byte >= 0xE0 && byte < 0xF0 ? 3
                                   : byte >= 0xF0 && byte < 0xF5 ? 4
                                                                 : 0;
        if (length == 0 || i + length > text.size()) return false;
        for (std::size_t k = 1; k < length; ++k)
            if ((static_cast<unsigned char>(text[i + k]) & 0xC0) != 0x80) return false;
        i += length;
    }
    return true;
}

std::string toUtf8(std::string_view text) {
    if (isUtf8(text)) return std::string(text);
    std::string out;
    for (const char c : text) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte < 0x80) {
            out += c;
        } else {
            out += static_cast<char>(0xC0 | (byte >> 6));
            out += static_cast<char>(0x80 | (byte & 0x3F));
        }
    }
    return out;
}

std::span<const std::string_view> usualEncodings() {
    static constexpr std::array<std::string_view, 25> all{
        "UTF-8",        "windows-1252", "ISO-8859-1",   "ISO-8859-15",  "windows-1250",
        "ISO-8859-2",   "windows-1251", "KOI8-R",       "windows-1253", "windows-1254",
        "windows-1255", "windows-1256", "windows-1257", "IBM437",       "IBM850",
        "IBM852",       "IBM866",       "macintosh",    "UTF-16LE",     "UTF-16BE",
        "Shift_JIS",    "EUC-JP",       "GB18030",      "Big5",         "EUC-KR"};
    return all;
}

TextDecoder::TextDecoder(const std::string& encoding) {
    if (encoding.empty()) return;
    UErrorCode code = U_ZERO_ERROR;
    m_converter = ucnv_open(encoding.c_str(), &code);
    if (U_FAILURE(code) || !m_converter) {
        m_converter = nullptr;
        m_isKnown = false;
        return;
    }
    UErrorCode none = U_ZERO_ERROR;
    const char* name = ucnv_getStandardName(encoding.c_str(), "MIME", &none);
    none = U_ZERO_ERROR;
    if (!name) name = ucnv_getStandardName(encoding.c_str(), "IANA", &none);
    // Each call refuses to begin with a former one's error.
    none = U_ZERO_ERROR;
    if (!name) name = ucnv_getName(m_converter, &none);
    m_name = name ? name : encoding.c_str();
}

TextDecoder::~TextDecoder() {
    if (m_converter) ucnv_close(m_converter);
}

std::string TextDecoder::decoded(std::string_view text) const {
    if (!m_converter) return toUtf8(text);
    UErrorCode code = U_ZERO_ERROR;
    const icu::UnicodeString wide(text.data(), static_cast<int32_t>(text.size()), m_converter,
                                  code);
    std::string out;
    if (U_SUCCESS(code)) wide.toUTF8String(out);
    return out;
}

}  // namespace ledge::io
