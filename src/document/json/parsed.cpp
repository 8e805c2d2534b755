#include "document/json/parsed.h"

#include <algorithm>

#include "document/json/archive.h"

namespace ledge::doc {
namespace {
// Of brackets outside of strings; right for any text that is JSON, and never too low.
int deepest(const std::string& text) {
    int depth = 0, most = 0;
    bool isString = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (isString) {
            if (c == '\\') ++i;
            isString = c != '"';
        } else if (c == '"') {
            isString = true;
        } else if (c == '[' || c == '{') {
            most = std::max(most, ++depth);
        } else if (c == ']' || c == '}') {
            --depth;
        }
    }
    return most;
}
}  // namespace

Json parsedJson(const std::string& text) {
    if (deepest(text) > kDeepestJson)
        throw Misfit("its text", "objects and lists lie more than " + std::to_string(kDeepestJson) +
                                     " deep in each other");
    return Json::parse(text);
}

Json jsonOrNone(const std::string& text) {
    if (deepest(text) > kDeepestJson) return Json(Json::value_t::discarded);
    return Json::parse(text, nullptr, false);
}

}  // namespace ledge::doc
