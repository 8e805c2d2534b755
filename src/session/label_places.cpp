#include "session/label_places.h"

#include <algorithm>
#include <array>
#include <map>

#include "core/base/numbers.h"
#include "io/files/csv.h"

namespace ledge::session {
namespace {
constexpr std::array<const char*, 7> kColumns{"key",   "right_mm", "down_mm", "turn",
                                              "scale", "hidden",   "text"};

Error wrong(std::size_t line, const std::string& why) {
    return {ErrorCode::BadFormat, "label places", "line " + std::to_string(line) + ": " + why,
            "the columns are key, right_mm, down_mm, turn, scale, hidden and text"};
}
}  // namespace

std::string pinsCsv(const doc::LabelStyle& labels) {
    std::string out;
    for (const char* column : kColumns) out += (out.empty() ? "" : ",") + std::string(column);
    out += "\n";
    for (const doc::LabelPin& pin : labels.pins) {
        const auto number = [&](double v) { return pin.isPlaced ? exactNumber(v) : std::string(); };
        out += std::to_string(pin.key) + "," + number(pin.rightMm) + "," + number(pin.downMm) +
               "," + number(pin.turn) + "," + number(pin.scale) + "," +
               (pin.isHidden ? "yes" : "no") + "," + io::csvCell(pin.text) + "\n";
    }
    return out;
}

Result<doc::LabelStyle> withPins(const doc::LabelStyle& labels, const std::string& csv) {
    const auto rows = io::csvRows(csv);
    if (rows.empty()) return wrong(1, "the file is empty");
    std::map<std::string, std::size_t> columns;
    for (std::size_t i = 0; i < rows[0].size(); ++i) columns[lowered(trimmed(rows[0][i]))] = i;
    if (!columns.contains("key")) return wrong(1, "there is no column \"key\"");
    std::map<std::pair<std::int64_t, double>, doc::LabelPin> pins;  // by key and scale
    for (std::size_t r = 1; r < rows.size(); ++r) {
        const auto cell = [&](const char* name) {
            const auto it = columns.find(name);
            return it == columns.end() || it->second >= rows[r].size() ? std::string()
                                                                       : rows[r][it->second];
        };
        const auto key = parseNumber(cell("key"));
        if (!key || *key != std::round(*key) || std::abs(*key) > 9e15)
            return wrong(r + 1, "\"" + cell("key") + "\" is no key of a feature");
        doc::LabelPin pin;
        pin.key = static_cast<std::int64_t>(*key);
        for (const auto& [name, member] : {std::pair{"right_mm", &doc::LabelPin::rightMm},
                                           {"down_mm", &doc::LabelPin::downMm},
                                           {"turn", &doc::LabelPin::turn},
                                           {"scale", &doc::LabelPin::scale}}) {
            const std::string said = trimmed(cell(name));
            if (said.empty()) continue;
            const auto number = parseNumber(said);
            if (!number) return wrong(r + 1, "\"" + said + "\" is no number");
            pin.*member = std::clamp(*number, -1e9, 1e9);
            pin.isPlaced = pin.isPlaced || member == &doc::LabelPin::rightMm ||
                           member == &doc::LabelPin::downMm;
        }
        const std::string hidden = lowered(trimmed(cell("hidden")));
        pin.isHidden = hidden == "yes" || hidden == "true" || hidden == "1";
        pin.text = cell("text");
        pins[{pin.key, pin.scale}] = pin;
    }
    doc::LabelStyle out = labels;
    out.pins.clear();
    for (auto& [at, pin] : pins) out.pins.push_back(std::move(pin));
    return out;
}

}  // namespace ledge::session
