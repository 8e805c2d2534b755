#include <iostream>
#include <nlohmann/json.hpp>

#include "cli/asking.h"
#include "core/base/numbers.h"
#include "document/json/members.h"
#include "session/field_classes.h"

namespace ledge::cli {
namespace {
struct ClassifyOptions : AskOptions {
    std::string source, column, per, method = "natural";
    int classes = session::kUsualClasses;
};

std::vector<std::string> methodNames() {
    std::vector<std::string> out;
    for (int m = 0; m < static_cast<int>(classify::Method::Own); ++m)
        out.push_back(doc::methodName(static_cast<classify::Method>(m)));
    return out;
}

Result<void> classify(const ClassifyOptions& o, const Context& context) {
    const auto formulas = o.per.empty() ? std::vector{o.column} : std::vector{o.column, o.per};
    const auto table = tableOf(o.source, o.layer, o.declareCrs, context,
                               context.progress.part(0, 0.5), o.reading, keepFor(o, formulas));
    if (!table) return table.error();
    const auto rows = rowsOf(*table, o, context, context.progress.part(0.5, 0.6));
    if (!rows) return rows.error();
    const auto sample =
        session::numbersOf(table->atRows(*rows), o.column, o.per, context.progress.part(0.6, 0.7));
    if (!sample) return sample.error();
    const auto names = methodNames();
    const auto method = std::find(names.begin(), names.end(), o.method) - names.begin();
    const auto breaks = classify::breaksOf(*sample, static_cast<classify::Method>(method),
                                           o.classes, context.progress.part(0.7, 1));
    if (!breaks) return breaks.error();
    std::vector<double> limits{sample->low()};
    limits.insert(limits.end(), breaks->begin(), breaks->end());
    limits.push_back(sample->high());
    const auto counts = classify::countsOf(*sample, *breaks);
    const double fit = classify::goodnessOf(*sample, *breaks);
    if (context.asJson) {
        std::cout << nlohmann::ordered_json{{"breaks", limits},
                                            {"counts", counts},
                                            {"missing", sample->missing()},
                                            {"explained", fit}}
                         .dump(1)
                  << '\n';
        return {};
    }
    std::cout << "from,to,count\n";
    for (std::size_t i = 0; i < counts.size(); ++i)
        std::cout << exactNumber(limits[i]) << ',' << exactNumber(limits[i + 1]) << ',' << counts[i]
                  << '\n';
    if (!context.isQuiet && sample->missing() > 0)
        std::cerr << "ledge: " << sample->missing() << " without a number\n";
    return {};
}
}  // namespace

void addClassify(CLI::App& app, const AddCommand& add) {
    auto* c = app.add_subcommand("classify", "Classes of a column's numbers: limits and counts");
    auto o = std::make_shared<ClassifyOptions>();
    c->add_option("SOURCE", o->source)->required();
    c->add_option("--column", o->column, "A field of numbers, or a formula")->required();
    c->add_option("--per", o->per, "What it is divided by: a field or formula");
    c->add_option("--method", o->method,
                  "How classes are found; natural ones are the best there are")
        ->check(CLI::IsMember(methodNames()));
    c->add_option("--classes", o->classes, "How many")->check(CLI::Range(1, 100));
    addAsking(*c, *o);
    add(c, [o](const Context& context) { return classify(*o, context); });
}

}  // namespace ledge::cli
