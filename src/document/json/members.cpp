#include "document/json/members.h"

#include <sstream>

#include "document/json/sheet_json.h"

namespace ledge::doc {
namespace {
// The member at a path; null when there is none.
Json* memberAt(Json& root, const std::string& path) {
    Json* at = &root;
    std::stringstream in(path);
    for (std::string key; std::getline(in, key, '.');) {
        if (at->is_array()) {
            const std::size_t i = std::strtoull(key.c_str(), nullptr, 10);
            if (key.empty() || key.find_first_not_of("0123456789") != std::string::npos ||
                i >= at->size())
                return nullptr;
            at = &(*at)[i];
        } else if (at->is_object() && at->contains(key)) {
            at = &(*at)[key];
        } else {
            return nullptr;
        }
    }
    return at == &root ? nullptr : at;
}

std::string membersOf(const Json& json) {
    std::string out;
    for (const auto& [key, value] : json.items())
        out += (out.empty() ? "" : ", ") + key + (value.is_structured() ? ".…" : "");
    return out;
}

Error cannot(const std::string& path, const std::string& value, const std::string& mend) {
    return {ErrorCode::InvalidArgument, path, "cannot be \"" + value.substr(0, 60) + "\"", mend};
}

// A word as a value of the kind that stands there.
Result<Json> valueFor(const Json& old, const std::string& path, const std::string& word) {
    if (old.is_string()) return Json(word);
    if (old.is_boolean()) {
        if (word == "yes" || word == "true") return Json(true);
        if (word == "no" || word == "false") return Json(false);
        return cannot(path, word, "give yes or no");
    }
    Json value = Json::parse(word, nullptr, false);
    const bool isAlike = old.is_number() ? value.is_number() : value.type() == old.type();
    if (value.is_discarded() || (!isAlike && !old.is_null()))
        return cannot(path, word, "it is now " + old.dump().substr(0, 80));
    return value;
}

// Sets a member in what `write` writes, reads it back, and sees that it came through unchanged.
template <typename T>
Result<T> changed(const T& old, const std::string& path, const std::string& word, auto write,
                  auto read) {
    if (path == "id" || path == "kind")
        return cannot(path, word, "what a thing is does not change; add another");
    try {
        Json json = write(old);
        Json* member = memberAt(json, path);
        if (!member)
            return Error{ErrorCode::NotFound, path, "there is no such member",
                         "there are: " + membersOf(json)};
        auto value = valueFor(*member, path, word);
        if (!value) return value.error();
        *member = *value;
        T next = read(json);
        Json back = write(next);
        const Json* now = memberAt(back, path);
        if (!now || *now != *value)
            return cannot(path, word,
                          now ? "it would become " + now->dump().substr(0, 80)
                              : std::string("it is not used here"));
        return next;
    } catch (const Json::exception& problem) {
        return cannot(path, word, "it is of another type");
    }
}
}  // namespace

Result<Layer> withMember(const Layer& layer, const std::string& path, const std::string& value) {
    return changed(
        layer, path, value,
        [](const Layer& l) { return layersJson({std::make_shared<Layer>(l)}).front(); },
        [](const Json& json) { return Layer(*layersFrom(Json::array({json})).front()); });
}

Result<SheetItem> withMember(const SheetItem& item, const std::string& path,
                             const std::string& value) {
    return changed(
        item, path, value,
        [](const SheetItem& i) {
            Sheet sheet;
            sheet.items = {i};
            return sheetJson(sheet)["items"].front();
        },
        [](const Json& json) {
            Json sheet = sheetJson(Sheet{});
            sheet["items"] = Json::array({json});
            return sheetFrom(sheet).items.front();
        });
}

}  // namespace ledge::doc
