#include "session/asking.h"

#include <algorithm>
#include <numeric>

#include "core/derive/related.h"
#include "core/feature/feature.h"
#include "core/globe/nearness.h"
#include "core/globe/reproject.h"

namespace ledge::session {

Result<query::Rows> askedRows(const FeatureTable& table, const Asked& asked,
                              const Progress& progress, query::Place* place) {
    query::Rows out;
    if (asked.keep.empty()) {
        out.rows.resize(table.size());
        std::iota(out.rows.begin(), out.rows.end(), std::size_t{0});
    } else {
        const auto condition = query::Question::condition(asked.keep, table.info, place);
        if (!condition) return condition.error();
        auto found = query::rowsWhere(*condition, table, progress.part(0, 0.3));
        if (!found) return found.error();
        out = *std::move(found);
    }
    if (!asked.near) return out;
    FeatureTable others = *asked.near;
    if (!asked.nearKeep.empty()) {
        const auto which = query::Question::condition(asked.nearKeep, others.info);
        if (!which) return which.error();
        const auto rows = query::rowsWhere(*which, others, progress.part(0.3, 0.35));
        if (!rows) return rows.error();
        others = others.atRows(rows->rows);
    }
    std::vector<std::size_t> rows;
    if (!asked.relation.empty() && asked.relation != "near") {
        const auto relation =
            std::find(kRelationNames.begin(), kRelationNames.end(), asked.relation);
        if (relation == kRelationNames.end())
            return Error{ErrorCode::InvalidArgument, "relation",
                         "\"" + asked.relation + "\" is none", "use within, touches or their like"};
        if (table.info.crs && others.info.crs && !crs::isSame(table.info.crs, others.info.crs)) {
            auto moved = globe::reprojected(others, table.info.crs, {}, progress.part(0.35, 0.4));
            if (!moved) return moved.error();
            others = std::move(moved->table);
        }
        const auto related = derive::rowsRelated(
            table.atRows(out.rows), others,
            static_cast<Relation>(relation - kRelationNames.begin()), progress.part(0.4, 1));
        if (!related) return related.error();
        for (const std::size_t at : *related) rows.push_back(out.rows[at]);
        out.rows = std::move(rows);
        return out;
    }
    const auto nearness = globe::Nearness::to(others, table.info.crs, progress.part(0.35, 0.4));
    if (!nearness) return nearness.error();
    // Only those that the condition kept are looked at.
    const auto within = globe::rowsWithin(table.atRows(out.rows), *nearness, asked.withinMetres,
                                          progress.part(0.4, 1));
    if (!within) return within.error();
    for (const std::size_t at : *within) rows.push_back(out.rows[at]);
    out.rows = std::move(rows);
    return out;
}

Result<FeatureTable> selectedTable(const FeatureTable& table, const std::vector<std::size_t>* rows,
                                   const std::optional<std::vector<std::string>>& columns,
                                   const std::vector<Computing>& computing,
                                   std::vector<std::string>& remarks, const Progress& progress) {
    const auto kept = fieldsOf(table.info, {{}, columns, 0, {}, {}});
    if (!kept) return kept.error();
    FeatureTable out = table;
    std::vector<std::size_t> order = *kept;
    if (columns) {
        order.clear();  // as asked for
        for (const std::string& name : *columns)
            order.push_back(static_cast<std::size_t>(table.fieldIndex(name)));
    }
    for (std::size_t i = 0; i < computing.size(); ++i) {
        const auto formula = query::Question::from(computing[i].formula, table.info);
        if (!formula) return formula.error();
        const double share = 1.0 / static_cast<double>(computing.size());
        auto column = query::computed(
            *formula, table,
            progress.part(share * static_cast<double>(i), share * static_cast<double>(i + 1)));
        if (!column) return column.error();
        if (!column->trouble.empty()) remarks.push_back(computing[i].name + ": " + column->trouble);
        order.push_back(out.info.fields.size());
        out = out.withColumn({computing[i].name, column->type}, std::move(column->runs));
    }
    out = out.withFields(order);
    return rows ? out.atRows(*rows) : out;
}

}  // namespace ledge::session
