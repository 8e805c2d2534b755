#include "session/derive/operations.h"

namespace ledge::session {
namespace {
std::string quoted(const std::string& text) {
    const bool isPlain =
        !text.empty() && text.find_first_not_of("abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWX"
                                                "YZ0123456789_./-:,+=@%") == std::string::npos;
    if (isPlain) return text;
    std::string out = "'";
    for (const char c : text) out += c == '\'' ? std::string("'\\''") : std::string(1, c);
    return out + "'";
}

std::string fileName(const doc::LineageInput& input) {
    return quoted(input.path.filename().string());
}
}  // namespace

std::string commandOf(const doc::Lineage& lineage, const std::string& target) {
    const Operation* operation = operationNamed(lineage.operation);
    if (!operation || lineage.inputs.empty()) return {};
    const auto& first = lineage.inputs.front();
    std::string out = "ledge " + operation->command;
    const auto given = [&](const std::string& key) {
        const auto it = lineage.parameters.find(key);
        return it == lineage.parameters.end() ? std::string() : it->second;
    };
    if (operation->name == "calculate") {
        out += " " + quoted(given("expression")) + " " + quoted(target);
        for (const doc::LineageInput& input : lineage.inputs)
            out += "\n  --band " + input.name + "=" + fileName(input) +
                   (input.band > 0 ? ":" + std::to_string(input.band + 1) : "");
        return out;
    }
    out += " " + fileName(first) + " " + quoted(target);
    if (!first.layer.empty()) out += " --layer " + quoted(first.layer);
    if (lineage.inputs.size() > 1) {
        const auto& second = lineage.inputs[1];
        out += (operation->isOfFeatures ? " --with " : " --by ") + fileName(second);
        if (!second.layer.empty())
            out +=
                (operation->isOfFeatures ? " --with-layer " : " --layer ") + quoted(second.layer);
        if (operation->isOfFeatures && second.band > 0)
            out += " --with-band " + std::to_string(second.band + 1);
    }
    for (const Setting& setting : operation->settings) {
        const std::string value = given(setting.key);
        if (value.empty() || (value == setting.usual && setting.key != "interval")) continue;
        if (setting.kind == Setting::Kind::Yes) {
            if (value == "yes") out += "\n  --" + setting.key;
            continue;
        }
        out += "\n  --" + setting.key + " " + quoted(value);
    }
    if (first.declaredCrs && operation->command == "convert")
        out += "\n  --declare-crs " + quoted(*first.declaredCrs);
    if (first.shiftGrid && operation->command == "convert")
        out += "\n  --grid " + quoted(first.shiftGrid->path.filename().string());
    if (operation->readsHeights && first.heightUnit == doc::HeightUnit::Foot)
        out += "\n  --height-unit foot";
    return out;
}

}  // namespace ledge::session
