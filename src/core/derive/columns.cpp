#include "core/derive/columns.h"

#include <algorithm>
#include <cmath>

#include "core/derive/joins.h"

namespace ledge::derive {

Result<Incoming> incoming(const FeatureTable& table, const FeatureTable& other,
                          const std::vector<std::string>& columns,
                          std::optional<std::size_t> without) {
    Incoming out;
    if (columns.empty()) {
        for (std::size_t i = 0; i < other.info.fields.size(); ++i)
            if (i != without) out.places.push_back(i);
    } else {
        for (const std::string& name : columns) {
            const auto place = fieldPlace(other.info, name);
            if (!place) return place.error();
            out.places.push_back(*place);
        }
    }
    const auto isTaken = [&](const std::string& name) {
        return table.fieldIndex(name) >= 0 ||
               std::any_of(out.fields.begin(), out.fields.end(),
                           [&](const Field& f) { return f.name == name; });
    };
    for (const std::size_t place : out.places) {
        Field field = other.info.fields[place];
        if (isTaken(field.name)) field.name = other.info.name + "_" + field.name;
        for (int n = 2; isTaken(field.name); ++n)
            field.name = other.info.name + "_" + other.info.fields[place].name + std::to_string(n);
        out.fields.push_back(std::move(field));
    }
    return out;
}

// The table with columns of the rows of another that its own were matched with.
FeatureTable withColumnsOf(const FeatureTable& table, const FeatureTable& other, const Incoming& in,
                           const std::vector<std::uint32_t>& matches) {
    FeatureTable out = table;
    for (std::size_t k = 0; k < in.places.size(); ++k) {
        std::vector<std::shared_ptr<const Column>> runs;
        for (std::size_t begin = 0; begin < table.size(); begin += FeatureTable::kRun) {
            Column column(in.fields[k].type);
            const std::size_t end = std::min(begin + FeatureTable::kRun, table.size());
            for (std::size_t i = begin; i < end; ++i)
                column.append(matches[i] == kNoMatch ? Value()
                                                     : other.value(matches[i], in.places[k]));
            column.close();
            runs.push_back(std::make_shared<const Column>(std::move(column)));
        }
        out = out.withColumn(in.fields[k], std::move(runs));
    }
    return out;
}

FeatureTable withNumbers(const FeatureTable& table, Field field,
                         const std::vector<double>& values) {
    const std::string wanted = field.name;
    for (int n = 2; table.fieldIndex(field.name) >= 0; ++n) field.name = wanted + std::to_string(n);
    std::vector<std::shared_ptr<const Column>> runs;
    for (std::size_t begin = 0; begin < table.size(); begin += FeatureTable::kRun) {
        Column column(field.type);
        const std::size_t end = std::min(begin + FeatureTable::kRun, table.size());
        for (std::size_t i = begin; i < end; ++i) {
            if (std::isnan(values[i]))
                column.append({});
            else if (field.type == FieldType::Integer)
                column.append(static_cast<std::int64_t>(values[i]));
            else
                column.append(values[i]);
        }
        column.close();
        runs.push_back(std::make_shared<const Column>(std::move(column)));
    }
    return table.withColumn(field, std::move(runs));
}

}  // namespace ledge::derive
