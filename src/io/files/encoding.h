#pragma once
#include <span>
#include <string>
#include <string_view>

struct UConverter;

namespace ledge::io {

bool isUtf8(std::string_view text);
/// The text itself when it is valid UTF-8, else read as ISO 8859-1.
std::string toUtf8(std::string_view text);

/// Encodings that one would choose among, by their IANA names.
std::span<const std::string_view> usualEncodings();

/// Reads text of one encoding, by any of its names; without one as toUtf8() does. What is no text
/// in that encoding becomes the replacement character. Used by one thread at a time.
class TextDecoder {
public:
    explicit TextDecoder(const std::string& encoding);
    ~TextDecoder();
    TextDecoder(const TextDecoder&) = delete;
    TextDecoder& operator=(const TextDecoder&) = delete;

    /// False for names that are no encoding's; text is then read as without one.
    bool isKnown() const { return m_isKnown; }
    /// The IANA name; empty without an encoding.
    const std::string& name() const { return m_name; }
    std::string decoded(std::string_view text) const;

private:
    UConverter* m_converter = nullptr;
    std::string m_name;
    bool m_isKnown = true;
};

}  // namespace ledge::io
