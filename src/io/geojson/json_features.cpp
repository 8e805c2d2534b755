#include "io/geojson/json_features.h"

#include <algorithm>

namespace ledge::io {
namespace dom = simdjson::dom;

std::optional<double> number(const dom::element& json) {
    double out = 0;
    if (json.get(out) != simdjson::SUCCESS) return {};
    return out;
}

std::optional<dom::element> member(const dom::element& json, std::string_view key) {
    dom::element out;
    if (json[key].get(out) != simdjson::SUCCESS) return {};
    return out;
}

namespace {
Value valueOf(const dom::element& json) {
    switch (json.type()) {
    case dom::element_type::BOOL: return bool(json);
    case dom::element_type::INT64: return std::int64_t(json);
    case dom::element_type::UINT64: return double(json);  // beyond what whole numbers hold here
    case dom::element_type::DOUBLE: return double(json);
    case dom::element_type::STRING: return std::string(std::string_view(json));
    case dom::element_type::NULL_VALUE: return {};
    case dom::element_type::ARRAY:
    case dom::element_type::OBJECT: break;
    }
    return simdjson::to_string(json);
}

}  // namespace

void JsonFeatures::add(Geometry geometry, const std::optional<dom::element>& properties,
                       const std::optional<dom::element>& id) {
    Feature feature{static_cast<FeatureKey>(m_table.features.size()), std::move(geometry), {}};
    std::int64_t key = 0;
    if (id && id->get(key) == simdjson::SUCCESS) m_ids.push_back(key);
    dom::object members;
    if (properties && properties->get(members) == simdjson::SUCCESS)
        for (const dom::key_value_pair one : members) {
            Value value = valueOf(one.value);
            const std::size_t field = fieldFor(one.key, value);
            if (feature.values.size() <= field) feature.values.resize(field + 1);
            feature.values[field] = std::move(value);
        }
    m_table.features.push_back(std::move(feature));
}

void JsonFeatures::takeIds() {
    if (m_ids.size() != m_table.features.size()) return;
    auto sorted = m_ids;
    std::sort(sorted.begin(), sorted.end());
    if (std::adjacent_find(sorted.begin(), sorted.end()) != sorted.end()) return;
    for (std::size_t i = 0; i < m_ids.size(); ++i) m_table.features[i].id = m_ids[i];
}

std::size_t JsonFeatures::fieldFor(std::string_view name, const Value& value) {
    auto it = m_fields.find(name);
    if (it == m_fields.end()) {
        it = m_fields.emplace(name, m_table.info.fields.size()).first;
        m_table.info.fields.push_back({std::string(name), typeOf(value)});
        m_known.push_back(false);
    }
    FieldType& type = m_table.info.fields[it->second].type;
    if (isMissing(value)) return it->second;
    const FieldType now = typeOf(value);
    if (!m_known[it->second])
        type = now;
    else
        type = widerType(type, now);
    m_known[it->second] = true;
    return it->second;
}

}  // namespace ledge::io
