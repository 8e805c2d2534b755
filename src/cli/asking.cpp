#include "cli/asking.h"

#include <iostream>

#include "core/base/csv_line.h"
#include "core/base/numbers.h"
#include "core/geometry/relate.h"
#include "core/query/tree.h"
#include "io/query/query_json.h"
#include "session/source_cache.h"

namespace ledge::cli {

void addReading(CLI::App& command, Reading& reading) {
    command.add_option("--encoding", reading.encoding,
                       "How letters of a text file are encoded, such as windows-1252; left out: as "
                       "the file says");
    command.add_option_function<std::string>(
        "--delimiter",
        [&reading](const std::string& text) { reading.delimiter = text == "tab" ? "\t" : text; },
        "What stands between cells of a table of text: one sign, or tab");
    command.add_option("--decimals", reading.decimalSign, "Its decimal sign")
        ->check(CLI::IsMember(std::vector<std::string>{".", ","}));
    command
        .add_option_function<std::string>(
            "--header", [&reading](const std::string& text) { reading.hasHeader = text == "yes"; },
            "Whether its first row names the columns")
        ->check(CLI::IsMember(std::vector<std::string>{"yes", "no"}));
}

void addAsking(CLI::App& command, AskOptions& given) {
    command.add_option("--layer", given.layer, "Layer of a file with several");
    command.add_option("--declare-crs", given.declareCrs, "Say which CRS the coordinates are in");
    addReading(command, given.reading);
    command.add_option("--keep", given.keep,
                       "Only features for which this holds, in CQL2 as text (\"sheep > 20 AND name "
                       "LIKE 'N%'\") or JSON");
    auto* near =
        command.add_option("--near", given.near, "Only features near to those of this file");
    command.add_option("--near-layer", given.nearLayer, "Layer of that file")->needs(near);
    command.add_option("--near-keep", given.nearKeep, "Only those of them, in CQL2")->needs(near);
    command
        .add_option("--within-metres", given.withinMetres,
                    "How near, on the ellipsoid (0: they meet)")
        ->needs(near)
        ->check(CLI::NonNegativeNumber);
    std::string relations;
    for (const auto name : kRelationNames)
        relations += (relations.empty() ? "" : ", ") + std::string(name);
    command
        .add_option("--relation", given.relation,
                    "How shapes stand to those of that file, in place of a distance: " + relations)
        ->needs(near);
}

Result<FeatureTable> tableOf(const std::string& path, const std::string& layer,
                             const std::string& declareCrs, const Context& context,
                             const Progress& progress, const Reading& reading,
                             const std::string& keep) {
    auto source = io::openSource(path, progress.part(0, 0.5), reading);
    if (!source) return source.error();
    const auto* features = std::get_if<FeatureSourcePtr>(&*source);
    if (!features)
        return Error{ErrorCode::Unsupported, path, "is a raster", "give a file of features"};
    const auto index = session::layerIndex(**features, layer);
    if (!index) return index.error();
    Query query;
    query.keep = keep;
    // What is thinned for being looked at is meant whole, unless it is named.
    const auto table = readAll(**features, layer.empty() ? (*features)->whole(*index) : *index,
                               progress.part(0.5, 1), query);
    if (!table) return table.error();
    FeatureTable out = **table;
    if (declareCrs.empty()) return out;
    const auto declared = crsArgument(declareCrs, context);
    if (!declared) return declared.error();
    out.info.crs = *declared;
    return out;
}

std::string keepFor(const AskOptions& asked, const std::vector<std::string>& formulas) {
    for (const std::string& formula : formulas) {
        const auto tree = query::parse(formula);
        if (!tree || (*tree)->op != query::Tree::Op::Name) return {};
    }
    const auto keep = io::questionText(asked.keep);
    return keep ? *keep : std::string();
}

Result<std::vector<std::size_t>> rowsOf(const FeatureTable& table, const AskOptions& asked,
                                        const Context& context, const Progress& progress) {
    auto keep = io::questionText(asked.keep), nearKeep = io::questionText(asked.nearKeep);
    for (const auto* text : {&keep, &nearKeep})
        if (!*text) return text->error();
    session::Asked question{*std::move(keep)};
    if (!asked.near.empty()) {
        auto near = tableOf(asked.near, asked.nearLayer, "", context, progress.part(0, 0.2));
        if (!near) return near.error();
        question.near = std::make_shared<const FeatureTable>(*std::move(near));
        question.nearKeep = *std::move(nearKeep);
        question.withinMetres = asked.withinMetres;
        question.relation = asked.relation;
    }
    auto rows = session::askedRows(table, question, progress.part(0.2, 1));
    if (!rows) return rows.error();
    if (!rows->trouble.empty() && !context.isQuiet) std::cerr << "ledge: " << rows->trouble << '\n';
    return std::move(rows->rows);
}

std::vector<std::string> namesIn(const std::string& list) {
    std::vector<std::string> out;
    for (const std::string& name : csvCells(list, CsvQuotes::Drop)) out.push_back(trimmed(name));
    return out;
}

Result<std::vector<session::Computing>> computingOf(const std::vector<std::string>& texts) {
    std::vector<session::Computing> out;
    for (const std::string& text : texts) {
        const auto equals = text.find('=');
        if (equals == std::string::npos || equals == 0)
            return Error{ErrorCode::InvalidArgument, "--compute",
                         "\"" + text + "\" names no column", "give NAME=FORMULA"};
        out.push_back({trimmed(text.substr(0, equals)), text.substr(equals + 1)});
    }
    return out;
}

}  // namespace ledge::cli
