#include "document/json/members.h"

#include <algorithm>
#include <sstream>

#include "document/json/parsed.h"
#include "document/json/values.h"

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
    Json value = jsonOrNone(word);
    const bool isAlike = old.is_number() ? value.is_number() : value.type() == old.type();
    if (value.is_discarded() || (!isAlike && !old.is_null() && !value.is_null()))
        return cannot(path, word, "it is now " + old.dump().substr(0, 80));
    return value;
}

// Members that are as usual are there too, so that each can be set.
const JsonContext kAll{{}, true};

// Whether all that was asked for came to be, whatever else there is.
bool holds(const Json& now, const Json& asked) {
    if (asked.is_array() && now.is_array() && asked.size() == now.size())
        return std::equal(asked.begin(), asked.end(), now.begin(),
                          [](const Json& one, const Json& is) { return holds(is, one); });
    if (!asked.is_object() || !now.is_object()) return now == asked;
    for (const auto& [key, value] : asked.items())
        if (value.is_null() ? now.contains(key) && !now[key].is_null()
                            : !now.contains(key) || !holds(now[key], value))
            return false;
    return true;
}

// Sets a member in what the description writes, reads it back, and sees that it came through. Of an
// object the members given are set.
template <typename T>
Result<T> changed(const T& old, const std::string& path, const std::string& word) {
    if (path == "id" || path == "kind")
        return cannot(path, word, "what a thing is does not change; add another");
    try {
        Json whole = json::from(old, kAll);
        Json* member = memberAt(whole, path);
        if (!member)
            return Error{ErrorCode::NotFound, path, "there is no such member",
                         "there are: " + membersOf(whole)};
        auto value = valueFor(*member, path, word);
        if (!value) return value.error();
        if (member->is_object() && value->is_object())
            member->merge_patch(*value);
        else
            *member = *value;
        T next;
        json::into(whole, next, kAll);
        Json back = json::from(next, kAll);
        const Json* now = memberAt(back, path);
        if (!now || !holds(*now, *value))
            return cannot(path, word,
                          now ? "it would become " + now->dump().substr(0, 80)
                              : std::string("it is not used here"));
        return next;
    } catch (const Misfit& misfit) {
        return cannot(path, word, misfit.path + " " + misfit.why);
    } catch (const Json::exception& problem) {
        return cannot(path, word, "it is of another type");
    }
}

template <typename T>
std::string textOf(const T& whole, const std::string& path) {
    Json all = json::from(whole, kAll);
    const Json* member = memberAt(all, path);
    if (!member) return {};
    if (member->is_boolean()) return member->get<bool>() ? "yes" : "no";
    return member->is_string() ? member->get<std::string>() : member->dump();
}
}  // namespace

Result<Layer> withMember(const Layer& layer, const std::string& path, const std::string& value) {
    return changed(layer, path, value);
}
Result<SheetItem> withMember(const SheetItem& item, const std::string& path,
                             const std::string& value) {
    return changed(item, path, value);
}

Result<SheetItem> withMembers(const SheetItem& item, const std::string& object) {
    const Json json = jsonOrNone(object);
    if (json.is_discarded() || !json.is_object())
        return cannot("members", object, "give a JSON object, such as {\"size_pt\": 9}");
    SheetItem out = item;
    for (const auto& [path, value] : json.items()) {
        const std::string said = value.is_string()    ? value.get<std::string>()
                                 : value.is_boolean() ? word(value.get<bool>())
                                                      : value.dump();
        auto next = changed(out, path, said);
        if (!next) return next.error();
        out = *std::move(next);
    }
    return out;
}

Result<Sheet> withMember(const Sheet& sheet, const std::string& path, const std::string& value) {
    if (path == "items" || path.starts_with("items."))
        return cannot(path, value, "items have edits of their own, such as item-set");
    return changed(sheet, path, value);
}

Result<SourceRef> withMember(const SourceRef& source, const std::string& path,
                             const std::string& value) {
    return changed(source, path, value);
}

std::string memberText(const Layer& layer, const std::string& path) { return textOf(layer, path); }
std::string memberText(const SheetItem& item, const std::string& path) {
    return textOf(item, path);
}

std::string memberText(const Sheet& sheet, const std::string& path) { return textOf(sheet, path); }
bool hasMember(const SheetItem& item, const std::string& path) {
    Json all = json::from(item, kAll);
    return memberAt(all, path) != nullptr;
}

std::string lineagePatch(const Lineage& from, const Lineage& to) {
    Json out = json::from(to, kAll);
    for (const auto& [name, value] : from.parameters)
        if (!to.parameters.contains(name)) out["parameters"][name] = nullptr;
    return out.dump();
}
std::string quoted(const std::string& text) { return Json(text).dump(); }
std::string unitName(LengthUnit unit) { return kNames<LengthUnit>[static_cast<std::size_t>(unit)]; }
std::string dateFormName(DateForm form) { return kNames<DateForm>[static_cast<std::size_t>(form)]; }
std::string unitName(CoordinateForm form) {
    return kNames<CoordinateForm>[static_cast<std::size_t>(form)];
}
std::string styleText(const Look& look) { return json::from(look, kAll).dump(); }
std::string styleText(const std::vector<Category>& c) { return json::from(c, kAll).dump(); }
std::string styleText(const Ramp& ramp) { return json::from(ramp, kAll).dump(); }
std::string styleText(const VectorStyle& style) { return json::from(style, kAll).dump(); }
std::string styleText(const ClassRule& rule) { return json::from(rule, kAll).dump(); }
std::string styleText(const SizeRule& rule) { return json::from(rule, kAll).dump(); }
std::string styleText(const DotRule& rule) { return json::from(rule, kAll).dump(); }
std::string styleText(const std::vector<StyleRule>& rules) {
    return json::from(rules, kAll).dump();
}
std::string styleText(const std::vector<LabelStyle>& labels) {
    return json::from(labels, kAll).dump();
}
std::string styleText(const LabelStyle& labels) { return json::from(labels, kAll).dump(); }
std::string methodName(classify::Method method) {
    return kNames<classify::Method>[static_cast<std::size_t>(method)];
}
std::string styleText(const RasterStyle& style) { return json::from(style, kAll).dump(); }
std::string styleText(const ImageStyle& style) { return json::from(style, kAll).dump(); }
std::string styleText(const std::vector<PanelGrid>& grids) {
    return json::from(grids, kAll).dump();
}
std::string styleText(const std::vector<ItemPin>& pins) { return json::from(pins, kAll).dump(); }
std::string styleText(const std::vector<Id>& ids) { return json::from(ids, kAll).dump(); }
std::string styleText(const std::vector<std::string>& texts) {
    return json::from(texts, kAll).dump();
}
std::string styleText(const std::vector<Point>& points) { return json::from(points, kAll).dump(); }
std::string styleText(const std::map<std::string, std::string>& texts) {
    return json::from(texts, kAll).dump();
}
std::string styleText(const GridStyle& style) { return json::from(style, kAll).dump(); }

}  // namespace ledge::doc
