#include "core/feature/feature.h"

#include "core/base/numbers.h"

namespace ledge {

std::string fieldTypeName(FieldType type) {
    switch (type) {
    case FieldType::Text: return "text";
    case FieldType::Integer: return "integer";
    case FieldType::Real: return "real";
    case FieldType::Boolean: return "boolean";
    }
    return "";
}

bool isMissing(const Value& value) {
    if (const auto* real = std::get_if<double>(&value)) return std::isnan(*real);
    return std::holds_alternative<std::monostate>(value);
}

double numberOf(const Value& value) {
    if (const auto* real = std::get_if<double>(&value)) return *real;
    if (const auto* whole = std::get_if<std::int64_t>(&value)) return static_cast<double>(*whole);
    if (const auto* flag = std::get_if<bool>(&value)) return *flag ? 1 : 0;
    return kNaN;
}

std::string displayText(const Value& value) {
    if (isMissing(value)) return "\u2013";
    if (const auto* text = std::get_if<std::string>(&value)) return *text;
    if (const auto* flag = std::get_if<bool>(&value)) return *flag ? "yes" : "no";
    return formatNumber(numberOf(value));
}

std::string exactText(const Value& value) {
    if (isMissing(value)) return "";
    if (const auto* text = std::get_if<std::string>(&value)) return *text;
    if (const auto* flag = std::get_if<bool>(&value)) return *flag ? "true" : "false";
    if (const auto* whole = std::get_if<std::int64_t>(&value)) return std::to_string(*whole);
    return exactNumber(numberOf(value));
}

int FeatureTable::fieldIndex(const std::string& name) const {
    for (std::size_t i = 0; i < info.fields.size(); ++i)
        if (info.fields[i].name == name) return static_cast<int>(i);
    return -1;
}

void FeatureTable::refreshInfo() {
    info.count = static_cast<std::int64_t>(features.size());
    info.extent = {};
    for (const Feature& f : features) {
        info.extent.add(f.geometry.box());
        if (f.geometry.isEmpty()) continue;
        if (info.geometry == GeometryType::None) info.geometry = f.geometry.type;
        info.isMulti = info.isMulti || f.geometry.isMulti;
    }
}

Result<FeatureTable> readAll(const FeatureSource& source, std::size_t layer,
                             const Progress& progress) {
    FeatureTable table;
    table.info = source.layers()[layer];
    table.features.reserve(
        static_cast<std::size_t>(std::clamp<std::int64_t>(table.info.count, 0, 1'000'000)));
    std::int64_t bad = 0;
    const auto done = source.scan(
        layer, {},
        [&](Feature&& feature) {
            if (!feature.geometry.isFinite()) {
                ++bad;
                feature.geometry = {};
            }
            feature.values.resize(table.info.fields.size());
            table.features.push_back(std::move(feature));
            return true;
        },
        progress);
    if (!done) return done.error();
    if (bad > 0)
        table.info.notes.push_back(std::to_string(bad) +
                                   " features have coordinates that are no finite numbers; they "
                                   "keep their attributes and are not drawn");
    table.refreshInfo();
    return table;
}

}  // namespace ledge
