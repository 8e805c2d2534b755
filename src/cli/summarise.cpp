#include <iostream>
#include <nlohmann/json.hpp>

#include "cli/arguments.h"
#include "core/base/numbers.h"
#include "core/raster/counts.h"
#include "io/files/csv.h"
#include "session/new_layers.h"

namespace ledge::cli {
namespace {
struct Options {
    std::string source, declareCrs;
    int band = 1;
    bool byClass = false;
};
constexpr std::size_t kMostClasses = 65536;

Result<void> summarise(const Options& o, const Context& context) {
    if (!o.byClass)
        return Error{ErrorCode::InvalidArgument, "summarise", "it is not said what to sum up",
                     "add --classes; for numbers of a band use: ledge describe --numbers"};
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
    auto* c = app.add_subcommand(
        "summarise", "What the classes of a raster come to: cells, area on the ellipsoid, share");
    auto o = std::make_shared<Options>();
    c->add_option("RASTER", o->source)->required();
    c->add_flag("--classes", o->byClass, "A row for each value");
    c->add_option("--band", o->band, "From 1")->check(CLI::PositiveNumber);
    c->add_option("--declare-crs", o->declareCrs, "Say which CRS the raster is in");
    add(c, [o](const Context& context) { return summarise(*o, context); });
}

}  // namespace ledge::cli
