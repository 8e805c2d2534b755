#include <iostream>

#include "cli/asking.h"
#include "core/globe/reproject.h"
#include "core/query/function_table.h"
#include "io/files/csv.h"
#include "io/geojson/geojson.h"
#include "io/query/query_json.h"

namespace ledge::cli {
namespace {
struct AskCommandOptions : AskOptions {
    std::string source, columns, as = "csv";
    std::vector<std::string> computing;
    bool isCountOnly = false;
};

void printCsv(const FeatureTable& table) {
    std::string line;
    for (const Field& field : table.info.fields)
        line += (line.empty() ? "" : ",") + io::csvCell(field.name);
    std::cout << line << '\n';
    for (std::size_t i = 0; i < table.size() && std::cout; ++i) {
        line.clear();
        for (std::size_t k = 0; k < table.info.fields.size(); ++k)
            line += (k > 0 ? "," : "") + io::csvCell(exactText(table.value(i, k)));
        std::cout << line << '\n';
    }
}

Result<void> printGeoJson(FeatureTable table, const Context& context) {
    if (table.info.crs) {
        auto moved = globe::reprojected(table, *crs::crsFromCode(4326), {}, context.progress);
        if (!moved) return moved.error();
        const std::string remark = moved->remark(table.size());
        if (!remark.empty() && !context.isQuiet) std::cerr << "ledge: " << remark << '\n';
        table = std::move(moved->table);
    }
    std::cout << io::geoJsonText(table, context.progress) << '\n';
    return {};
}

// The question itself in the other form.
Result<void> printQuestion(const AskCommandOptions& o) {
    const auto text = io::questionText(o.keep);
    if (!text) return text.error();
    const auto tree = query::parse(*text);
    if (!tree) return tree.error();
    std::cout << (o.as == "cql2-json" ? io::questionJson(**tree) : query::toText(**tree)) << '\n';
    return {};
}

Result<void> ask(const AskCommandOptions& o, const Context& context) {
    const auto computing = computingOf(o.computing);
    if (!computing) return computing.error();
    if (o.as.starts_with("cql2")) return printQuestion(o);
    const auto table = tableOf(o.source, o.layer, o.declareCrs, context,
                               context.progress.part(0, 0.5), o.reading, keepFor(o, o.computing));
    if (!table) return table.error();
    const auto rows = rowsOf(*table, o, context, context.progress.part(0.5, 0.8));
    if (!rows) return rows.error();
    if (o.isCountOnly) {
        std::cout << rows->size() << '\n';
        return {};
    }
    std::optional<std::vector<std::string>> columns;
    if (!o.columns.empty()) columns = namesIn(o.columns);
    std::vector<std::string> remarks;
    auto out = session::selectedTable(*table, &*rows, columns, *computing, remarks,
                                      context.progress.part(0.8, 1));
    if (!out) return out.error();
    if (!context.isQuiet)
        for (const std::string& remark : remarks) std::cerr << "ledge: " << remark << '\n';
    if (o.as == "geojson") return printGeoJson(*std::move(out), context);
    printCsv(*out);
    return {};
}
}  // namespace

void addAsk(CLI::App& app, const AddCommand& add) {
    auto* c = app.add_subcommand("ask", "Features that answer a question, as CSV or GeoJSON");
    auto o = std::make_shared<AskCommandOptions>();
    c->add_option("SOURCE", o->source)->required();
    addAsking(*c, *o);
    c->add_option("--columns", o->columns, "Only these, separated by commas");
    c->add_option("--compute", o->computing, "One more column: NAME=FORMULA");
    c->add_option("--as", o->as)
        ->check(CLI::IsMember({"csv", "geojson", "cql2-json", "cql2-text"}));
    c->add_flag("--count", o->isCountOnly, "Only how many there are");
    std::string footer = "Functions:";
    std::size_t width = footer.size();
    for (const query::Function& f : query::functions()) {
        if (width + f.name.size() > 76) footer += "\n          ", width = 10;
        footer += " " + std::string(f.name);
        width += f.name.size() + 1;
    }
    c->footer(footer);
    add(c, [o](const Context& context) { return ask(*o, context); });
}

}  // namespace ledge::cli
