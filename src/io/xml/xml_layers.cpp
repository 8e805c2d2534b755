#include "io/xml/xml_layers.h"

#include <algorithm>

#include "core/base/numbers.h"
#include "core/feature/edit_log.h"

namespace ledge::io {
namespace {
constexpr GeometryType kKinds[] = {GeometryType::Point, GeometryType::Line, GeometryType::Polygon,
                                   GeometryType::None};
const char* suffixOf(GeometryType type) {
    switch (type) {
    case GeometryType::Point: return " points";
    case GeometryType::Line: return " lines";
    case GeometryType::Polygon: return " areas";
    case GeometryType::None: break;
    }
    return " without shape";
}

// The narrowest type that all values of a column have.
FieldType typeOfAll(const std::vector<std::vector<std::string>>& rows, std::size_t field) {
    for (const FieldType type : {FieldType::Integer, FieldType::Real, FieldType::Boolean,
                                 FieldType::Date, FieldType::TimeStamp}) {
        bool isAny = false, fits = true;
        for (const auto& row : rows) {
            if (field >= row.size() || row[field].empty()) continue;
            isAny = true;
            const bool isCode = row[field].size() > 1 && row[field][0] == '0' &&
                                row[field][1] >= '0' && row[field][1] <= '9';
            fits = fits && !isCode && valueOf(row[field], type).has_value();
            if (!fits) break;
        }
        if (isAny && fits) return type;
    }
    return FieldType::Text;
}
}  // namespace

void XmlLayers::add(const std::string& name, Geometry geometry,
                    const std::vector<std::pair<std::string, std::string>>& values) {
    auto it = std::find_if(m_layers.begin(), m_layers.end(),
                           [&](const Layer& one) { return one.name == name; });
    if (it == m_layers.end()) {
        m_layers.emplace_back().name = name;
        it = m_layers.end() - 1;
    }
    std::vector<std::string> row(it->fields.size());
    for (const auto& [field, value] : values) {
        const auto [place, isNew] = it->places.emplace(field, it->fields.size());
        if (isNew) it->fields.push_back(field);
        row.resize(it->fields.size());
        row[place->second] = value;
    }
    it->rows.push_back(std::move(row));
    it->shapes.push_back(std::move(geometry));
}

std::vector<FeatureTable> XmlLayers::finish() {
    std::vector<FeatureTable> out;
    for (Layer& layer : m_layers) {
        const auto has = [&](GeometryType type) {
            return std::any_of(layer.shapes.begin(), layer.shapes.end(),
                               [&](const Geometry& g) { return g.type == type; });
        };
        const auto kinds = std::count_if(std::begin(kKinds), std::end(kKinds), has);
        for (const GeometryType kind : kKinds) {
            if (!has(kind)) continue;
            LayerInfo info;
            info.name = layer.name + (kinds > 1 ? suffixOf(kind) : "");
            info.geometry = kind;
            info.crs = *crs::crsFromCode(4326);
            for (std::size_t k = 0; k < layer.fields.size(); ++k)
                info.fields.push_back({layer.fields[k], typeOfAll(layer.rows, k)});
            FeatureTableBuilder builder(info);
            std::vector<Value> values(info.fields.size());
            for (std::size_t i = 0; i < layer.rows.size(); ++i) {
                if (layer.shapes[i].type != kind) continue;
                for (std::size_t k = 0; k < values.size(); ++k) {
                    values[k] = Value();
                    if (k >= layer.rows[i].size() || layer.rows[i][k].empty()) continue;
                    if (auto value = valueOf(layer.rows[i][k], info.fields[k].type))
                        values[k] = *std::move(value);
                }
                builder.add(static_cast<FeatureKey>(i + 1), layer.shapes[i], values);
            }
            out.push_back(builder.finish());
            out.back().refreshInfo();
        }
    }
    return out;
}

}  // namespace ledge::io
