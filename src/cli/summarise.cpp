#include <iostream>
#include <nlohmann/json.hpp>

#include "cli/asking.h"
#include "core/base/numbers.h"
#include "core/raster/counts.h"
#include "io/files/csv.h"
#include "session/new_layers.h"

namespace ledge::cli {
namespace {
struct SummariseOptions : AskOptions {
    std::string source, column, by;
    int band = 1;
    bool byClass = false;
};
constexpr std::size_t kMostClasses = 65536;

// "" for none, so that a cell stays empty.
std::string cell(double v) { return std::isfinite(v) ? exactNumber(v) : std::string(); }

Result<void> summariseColumn(const SummariseOptions& o, const Context& context) {
    const auto table =
        tableOf(o.source, o.layer, o.declareCrs, context, context.progress.part(0, 0.5), o.reading,
                keepFor(o, o.by.empty() ? std::vector{o.column} : std::vector{o.column, o.by}));
    if (!table) return table.error();
    const auto of = query::Question::from(o.column, table->info);
    if (!of) return of.error();
    std::optional<query::Question> by;
    if (!o.by.empty()) {
        auto group = query::Question::from(o.by, table->info);
        if (!group) return group.error();
        by = *std::move(group);
    }
    const auto rows = rowsOf(*table, o, context, context.progress.part(0.5, 0.7));
    if (!rows) return rows.error();
    const auto groups =
        query::summaries(*of, by ? &*by : nullptr, *table, &*rows, context.progress.part(0.7, 1));
    if (!groups) return groups.error();
    nlohmann::ordered_json out = nlohmann::json::array();
    const std::string figures = "count,missing,distinct,sum,mean,median,min,max,stddev\n";
    if (!context.asJson) std::cout << (by ? io::csvCell(o.by) + "," : "") << figures;
    for (const query::Summary& s : *groups) {
        if (context.asJson) {
            const auto number = [](double v) {
                return std::isfinite(v) ? nlohmann::ordered_json(v) : nlohmann::ordered_json();
            };
            nlohmann::ordered_json row;
            if (by) row["group"] = s.group;
            row.update({{"count", s.count},
                        {"missing", s.missing},
                        {"distinct", s.distinct},
                        {"sum", number(s.sum)},
                        {"mean", number(s.mean)},
                        {"median", number(s.median)},
                        {"min", number(s.min)},
                        {"max", number(s.max)},
                        {"stddev", number(s.deviation)}});
            out.push_back(row);
            continue;
        }
        if (by) std::cout << io::csvCell(s.group) << ',';
        std::cout << s.count << ',' << s.missing << ',' << s.distinct;
        for (const double v : {s.sum, s.mean, s.median, s.min, s.max, s.deviation})
            std::cout << ',' << cell(v);
        std::cout << '\n';
    }
    if (context.asJson) std::cout << (by || out.empty() ? out : out[0]).dump(1) << '\n';
    return {};
}

Result<void> summarise(const SummariseOptions& o, const Context& context) {
    if (!o.column.empty()) return summariseColumn(o, context);
    if (!o.byClass)
        return Error{ErrorCode::InvalidArgument, "summarise", "it is not said what to sum up",
                     "give --column for features, or --classes for a raster; for numbers of a "
                     "band use: ledge describe --numbers"};
    auto raster = openRaster(o.source);
    if (!raster) return raster.error();
    if (!o.declareCrs.empty()) {
        const auto declared = crsArgument(o.declareCrs, context);
        if (!declared) return declared.error();
        raster = io::declared(*raster, *declared);
    }
    const auto bands = static_cast<int>((*raster)->info().bands.size());
    if (o.band > bands)
        return Error{ErrorCode::NotFound, o.source, "has " + std::to_string(bands) + " bands",
                     "give --band 1 to " + std::to_string(bands)};
    const auto sums = valueSums(**raster, o.band - 1, kMostClasses, context.progress);
    if (!sums) return sums.error();
    sayDamage(**raster);
    const bool hasGround = (*raster)->info().crs != nullptr;
    double total = 0;
    for (const auto& [value, sum] : *sums)
        total += hasGround ? sum.squareMetres : static_cast<double>(sum.cells);
    nlohmann::ordered_json rows = nlohmann::json::array();
    if (!context.asJson) std::cout << "value,cells,area_m2,share_percent\n";
    for (const auto& [value, sum] : *sums) {
        const double share =
            100 * (hasGround ? sum.squareMetres : static_cast<double>(sum.cells)) / total;
        if (context.asJson) {
            rows.push_back({{"value", value},
                            {"cells", sum.cells},
                            {"area_m2", hasGround ? nlohmann::ordered_json(sum.squareMetres)
                                                  : nlohmann::ordered_json()},
                            {"share_percent", share}});
            continue;
        }
        std::cout << exactNumber(value) << ',' << sum.cells << ','
                  << (hasGround ? exactNumber(sum.squareMetres) : std::string()) << ','
                  << roundedNumber(share, 10) << '\n';
    }
    if (context.asJson) std::cout << rows.dump(1) << '\n';
    return {};
}
}  // namespace

void addSummarise(CLI::App& app, const AddCommand& add) {
    auto* c = app.add_subcommand("summarise",
                                 "What a column of features, or the classes of a raster, come to");
    auto o = std::make_shared<SummariseOptions>();
    c->add_option("SOURCE", o->source)->required();
    c->add_option("--column", o->column,
                  "Of features: a field or formula; count, sum, mean and their like");
    c->add_option("--by", o->by, "For each value of this field or formula")->needs("--column");
    c->add_flag("--classes", o->byClass,
                "Of a raster: a row for each value, with cells, area on the ellipsoid and share");
    c->add_option("--band", o->band, "From 1")->check(CLI::PositiveNumber);
    addAsking(*c, *o);
    add(c, [o](const Context& context) { return summarise(*o, context); });
}

}  // namespace ledge::cli
