#include <iostream>

#include "cli/arguments.h"
#include "cli/csv.h"
#include "core/base/numbers.h"
#include "core/crs/datum_choices.h"
#include "core/crs/transformation.h"
#include "io/ntv2/ntv2.h"

namespace ledge::cli {
namespace {
struct TransformOptions {
    std::string from, to, file = "-", grid, operation;
    int digits = 0;
};

constexpr std::size_t kBatch = 4096;

Result<void> transform(const TransformOptions& o, const Context& context) {
    auto from = crsArgument(o.from, context);
    const auto to = crsArgument(o.to, context);
    if (!from) return from.error();
    if (!to) return to.error();
    if (!o.operation.empty()) {
        from = crs::withOperation(*from, *to, o.operation);
        if (!from) return from.error();
    }
    std::vector<crs::DatumOperation> grids;
    if (!o.grid.empty()) {
        if (!*from || !*to)
            return Error{ErrorCode::InvalidArgument, o.grid, "a grid leads from one CRS to another",
                         "give both --from and --to"};
        auto grid = io::gridOperation(o.grid, (*from)->geographicCode, (*to)->geographicCode);
        if (!grid) return grid.error();
        grids.push_back(*std::move(grid));
    }
    const auto way = crs::Transformation::between(
        *from, *to, grids.empty() ? Box{} : grids.front().area.box, grids);
    if (!way) return way.error();
    if (!context.isQuiet && !way->datumPath().isSameDatum)
        std::cerr << "ledge: datum operation: " << way->datumOperation() << '\n';
    auto in = CsvInput::open(o.file);
    if (!in) return in.error();
    const auto columns = in->columns({"x", "y"});
    if (!columns) return columns.error();
    const std::size_t x = (*columns)[0], y = (*columns)[1];
    const auto join = [](const std::vector<std::string>& row) {
        std::string joined;
        for (std::size_t i = 0; i < row.size(); ++i) joined += (i > 0 ? "," : "") + row[i];
        return joined;
    };
    std::cout << trimmed(join(in->header())) << '\n';
    const auto text = [&o](double v) {
        return o.digits > 0 ? roundedNumber(v, o.digits) : exactNumber(v);
    };
    long outside = 0, unreadable = 0;
    std::vector<std::vector<std::string>> rows;
    std::vector<Point> points;
    std::vector<std::string> row;
    for (bool isMore = true; isMore;) {
        isMore = in->next(row);
        if (isMore) {
            const auto px = parseNumber(row[x]), py = parseNumber(row[y]);
            if (!px || !py) ++unreadable;
            points.push_back(px && py ? Point{*px, *py} : kNowhere);
            rows.push_back(std::move(row));
        }
        if (rows.size() < kBatch && isMore) continue;
        const std::vector<Point> given = points;
        way->forward(points);
        for (std::size_t i = 0; i < rows.size(); ++i) {
            const bool isThere = points[i].isFinite();
            if (!isThere && given[i].isFinite()) ++outside;
            rows[i][x] = isThere ? text(points[i].x) : "";
            rows[i][y] = isThere ? text(points[i].y) : "";
            std::cout << join(rows[i]) << '\n';
        }
        rows.clear();
        points.clear();
        if (context.progress.stopped()) return cancelled("transform");
    }
    if (outside > 0)
        std::cerr << "ledge: transform: " << outside
                  << " points lie outside the domain of a projection or the cover of a grid; their "
                     "cells are empty\n";
    if (unreadable > 0)
        std::cerr << "ledge: transform: " << unreadable << " rows have no numbers in x and y\n";
    return {};
}
}  // namespace

void addTransform(CLI::App& app, const AddCommand& add) {
    auto* c = app.add_subcommand("transform", "Coordinates from one CRS to another, as CSV");
    auto o = std::make_shared<TransformOptions>();
    c->add_option("--from", o->from, "EPSG:n, WKT or @file")->required();
    c->add_option("--to", o->to, "EPSG:n, WKT or @file")->required();
    c->add_option("FILE", o->file, "CSV with columns x,y[,z]; - or nothing: standard input");
    c->add_option("--grid", o->grid, "A grid of shifts (NTv2 .gsb) between the two datums");
    addOperation(*c, o->operation);
    c->add_option("--digits", o->digits, "Significant digits instead of exact numbers");
    add(c, [o](const Context& context) { return transform(*o, context); });
}

}  // namespace ledge::cli
