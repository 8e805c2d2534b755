#include "core/base/letters.h"

#include <unicode/locid.h>
#include <unicode/normalizer2.h>
#include <unicode/uchar.h>
#include <unicode/unistr.h>

#include <algorithm>
#include <vector>

namespace ledge {
namespace {
bool isPlain(std::string_view text) {
    return std::all_of(text.begin(), text.end(),
                       [](char c) { return static_cast<unsigned char>(c) < 0x80; });
}

icu::UnicodeString wide(std::string_view text) {
    return icu::UnicodeString::fromUTF8(
        icu::StringPiece(text.data(), static_cast<int32_t>(text.size())));
}
std::string narrow(const icu::UnicodeString& text) {
    std::string out;
    text.toUTF8String(out);
    return out;
}
bool beginsLetter(char c) { return (static_cast<unsigned char>(c) & 0xC0) != 0x80; }
}  // namespace

std::string caseFolded(std::string_view text) {
    if (isPlain(text)) return lowerCased(text);
    return narrow(wide(text).foldCase());
}

std::string withoutAccents(std::string_view text) {
    if (isPlain(text)) return std::string(text);
    UErrorCode code = U_ZERO_ERROR;
    const auto* apart = icu::Normalizer2::getNFDInstance(code);
    const auto* together = icu::Normalizer2::getNFCInstance(code);
    if (U_FAILURE(code)) return std::string(text);
    const icu::UnicodeString marked = apart->normalize(wide(text), code);
    icu::UnicodeString bare;
    for (int32_t i = 0; i < marked.length(); i = marked.moveIndex32(i, 1)) {
        const UChar32 c = marked.char32At(i);
        if (u_charType(c) != U_NON_SPACING_MARK) bare.append(c);
    }
    const icu::UnicodeString out = together->normalize(bare, code);
    return U_FAILURE(code) ? std::string(text) : narrow(out);
}

std::string upperCased(std::string_view text) {
    if (!isPlain(text)) return narrow(wide(text).toUpper(icu::Locale::getRoot()));
    std::string out(text);
    for (char& c : out)
        if (c >= 'a' && c <= 'z') c = static_cast<char>(c - 'a' + 'A');
    return out;
}

std::string lowerCased(std::string_view text) {
    if (!isPlain(text)) return narrow(wide(text).toLower(icu::Locale::getRoot()));
    std::string out(text);
    for (char& c : out)
        if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
    return out;
}

std::size_t letterCount(std::string_view text) {
    return static_cast<std::size_t>(std::count_if(text.begin(), text.end(), beginsLetter));
}

std::string_view letters(std::string_view text, std::size_t start, std::size_t count) {
    std::size_t at = 0;
    const auto skip = [&](std::size_t n) {
        for (; n > 0 && at < text.size(); --n) {
            ++at;
            while (at < text.size() && !beginsLetter(text[at])) ++at;
        }
    };
    skip(start);
    const std::size_t from = at;
    skip(count);
    return text.substr(from, at - from);
}

std::size_t editsBetween(std::string_view one, std::string_view other) {
    std::vector<std::size_t> before, last(other.size() + 1), now(other.size() + 1);
    for (std::size_t j = 0; j <= other.size(); ++j) last[j] = j;
    for (std::size_t i = 1; i <= one.size(); ++i) {
        now[0] = i;
        for (std::size_t j = 1; j <= other.size(); ++j) {
            now[j] = std::min({last[j] + 1, now[j - 1] + 1,
                               last[j - 1] + (one[i - 1] == other[j - 1] ? 0U : 1U)});
            if (i > 1 && j > 1 && one[i - 1] == other[j - 2] && one[i - 2] == other[j - 1])
                now[j] = std::min(now[j], before[j - 2] + 1);
        }
        before = last;
        last = now;
    }
    return last[other.size()];
}

}  // namespace ledge
