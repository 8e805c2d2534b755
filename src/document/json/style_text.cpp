#include "document/json/style_text.h"

#include <array>

#include "document/json/members.h"
#include "document/json/parsed.h"
#include "document/kinds.h"

namespace ledge::doc {
namespace {
constexpr const char* kMark = "ledge_style";
constexpr std::array<const char*, 5> kMembers{"style", "labels", "keeps_labels_off", "opacity",
                                              "blend"};

nlohmann::ordered_json valueOf(const std::string& text) {
    auto json = jsonOrNone(text);
    return json.is_discarded() ? nlohmann::ordered_json(text) : json;
}
}  // namespace

std::string styleFileText(const Layer& layer) {
    nlohmann::ordered_json out{{kMark, 1}, {"kind", kindInfo(layer).name}};
    for (const char* member : kMembers)
        if (const std::string text = memberText(layer, member); !text.empty())
            out[member] = valueOf(text);
    if (out.contains("labels"))
        for (auto& labels : out["labels"])
            if (labels.is_object()) labels.erase("pins");
    return out.dump(1) + "\n";
}

Result<Layer> withStyleText(const Layer& layer, const std::string& text) {
    const auto json = jsonOrNone(text);
    if (json.is_discarded() || !json.is_object() || !json.contains(kMark) ||
        !json.contains("kind") || !json["kind"].is_string())
        return Error{ErrorCode::BadFormat, "style", "it is no style of Indigo Ledge",
                     "copy one from a strip, or choose a .ledgestyle file"};
    const auto kind = json["kind"].get<std::string>();
    if (kind != kindInfo(layer).name)
        return Error{ErrorCode::InvalidArgument, layer.name,
                     "the style is of a " + kind + " layer, this is a " +
                         std::string(kindInfo(layer).name) + " layer",
                     "choose a layer of that kind"};
    Layer out = layer;
    for (const char* member : kMembers) {
        if (!json.contains(member)) continue;
        const auto& value = json[member];
        const auto next =
            withMember(out, member, value.is_string() ? value.get<std::string>() : value.dump());
        if (!next) return next.error();
        out = *next;
    }
    return out;
}

}  // namespace ledge::doc
