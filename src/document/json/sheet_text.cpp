#include "document/json/sheet_text.h"

#include <algorithm>

#include "document/json/parsed.h"
#include "document/json/values.h"

namespace ledge::doc {
namespace {
constexpr const char* kItems = "ledge_items";
constexpr const char* kSheet = "ledge_sheet";

Error noSuch(const char* what, const char* mend) {
    return {ErrorCode::BadFormat, what, std::string("the text holds none of Indigo Ledge's"), mend};
}

template <typename T>
Result<T> readFrom(const Json& json, const char* what, const JsonContext& context) {
    try {
        T out;
        json::into(json, out, context);
        return out;
    } catch (const Misfit& misfit) {
        return Error{ErrorCode::BadFormat, what, misfit.path + " " + misfit.why,
                     "use the text as it was copied or saved"};
    } catch (const Json::exception& problem) {
        return Error{ErrorCode::BadFormat, what, "a member is of another type",
                     "use the text as it was copied or saved"};
    }
}
}  // namespace

std::string itemsText(const Sheet& sheet, const std::vector<Id>& items) {
    Json list = Json::array();
    for (const SheetItem& item : sheet.items)
        if (std::find(items.begin(), items.end(), item.id) != items.end())
            list.push_back(json::from(item, JsonContext{}));
    return Json{{kItems, list}}.dump(1) + "\n";
}

Result<std::vector<SheetItem>> itemsFromText(const std::string& text) {
    const Json json = jsonOrNone(text);
    if (json.is_discarded() || !json.is_object() || !json.contains(kItems))
        return noSuch("items", "copy items of a sheet first");
    return readFrom<std::vector<SheetItem>>(json[kItems], "items", {});
}

std::string sheetText(const Sheet& sheet, const std::filesystem::path& folder) {
    return Json{{kSheet, json::from(sheet, JsonContext{folder, false})}}.dump(1) + "\n";
}

Result<Sheet> sheetFromText(const std::string& text, const std::filesystem::path& folder) {
    const Json json = jsonOrNone(text);
    if (json.is_discarded() || !json.is_object() || !json.contains(kSheet))
        return noSuch("sheet", "choose a .ledgesheet file");
    return readFrom<Sheet>(json[kSheet], "sheet", JsonContext{folder, false});
}

}  // namespace ledge::doc
