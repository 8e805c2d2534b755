#include "document/json/project_json.h"

#include <algorithm>

#include "document/json/former_keys.h"
#include "document/json/keep.h"
#include "document/json/parsed.h"
#include "document/json/values.h"

namespace ledge::doc {
namespace {
namespace fs = std::filesystem;
constexpr int kVersion = 1;

Id largestId(const Document& d) {
    Id most = 0;
    for (const LayerPtr& layer : allLayers(d.layers)) most = std::max(most, layer->id);
    for (const SourceRef& s : d.sources) most = std::max(most, s.id);
    for (const SavedView& v : d.views) most = std::max(most, v.id);
    for (const SavedProfile& p : d.profiles) most = std::max(most, p.id);
    for (const SavedQuestion& q : d.questions) most = std::max(most, q.id);
    for (const Sheet& s : d.sheets) {
        most = std::max(most, s.id);
        for (const SheetItem& item : s.items) most = std::max(most, item.id);
    }
    return most;
}

Document documentFrom(const Json& json, const fs::path& folder) {
    Document d;
    json::into(json, d, {folder});
    d.nextId = largestId(d) + 1;
    return d;
}

Json projectJson(const Document& d, const fs::path& folder) {
    Json out{{"ledge_project", kVersion}};
    out.update(json::from(d, {folder}));
    return out;
}
}  // namespace

std::string projectText(const Document& d, const fs::path& folder) {
    Json out = projectJson(d, folder);
    if (d.opened) {
        const Json original = withTodaysKeys(jsonOrNone(d.opened->text));
        if (original.is_object())
            out =
                kept(original,
                     projectJson(documentFrom(original, d.opened->folder), d.opened->folder), out);
    }
    return out.dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
}

Result<Document> projectFromText(const std::string& text, const fs::path& folder) {
    const auto bad = [](std::string why) {
        if (const auto at = why.find("] "); at != std::string::npos) why = why.substr(at + 2);
        return Error{ErrorCode::BadFormat, "project", why.substr(0, 200),
                     "the file is damaged; an autosaved copy may be whole"};
    };
    try {
        const Json json = withTodaysKeys(parsedJson(text));
        if (!json.is_object() || !json.contains("ledge_project"))
            return Error{ErrorCode::BadFormat, "project", "this is no Indigo Ledge project",
                         "open it as data, or choose a .ledge file"};
        if (JsonReader::whole<int>(json["ledge_project"]) > kVersion)
            return Error{ErrorCode::Unsupported, "project", "made by a newer version",
                         "update Indigo Ledge"};
        Document out = documentFrom(json, folder);
        out.opened = std::make_shared<const Document::Opened>(Document::Opened{text, folder});
        return out;
    } catch (const Misfit& misfit) {
        return bad(misfit.path + ": " + misfit.why);
    } catch (const nlohmann::json::exception& problem) {
        return bad(problem.what());
    }
}

}  // namespace ledge::doc
