#pragma once
#include <simdjson.h>

#include <map>
#include <optional>
#include <string_view>

#include "core/feature/feature_table.h"

namespace ledge::io {

/// A number, or a member of an object; nothing where it is none.
std::optional<double> number(const simdjson::dom::element& json);
std::optional<simdjson::dom::element> member(const simdjson::dom::element& json,
                                             std::string_view key);

/// Features gathered from members of JSON: fields as they come; mixed whole and real numbers become
/// real, other mixtures text, lists and objects their JSON text.
class JsonFeatures {
public:
    explicit JsonFeatures(FeatureList& table) : m_table(table) {}

    void add(Geometry geometry, const std::optional<simdjson::dom::element>& properties,
             const std::optional<simdjson::dom::element>& id);
    /// Whole numbers that name each feature by itself are its keys; else its place is.
    void takeIds();

private:
    std::size_t fieldFor(std::string_view name, const Value& value);

    FeatureList& m_table;
    std::map<std::string, std::size_t, std::less<>> m_fields;
    std::vector<bool> m_known;
    std::vector<FeatureKey> m_ids;
};

}  // namespace ledge::io
