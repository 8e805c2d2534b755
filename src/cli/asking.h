#pragma once
#include "cli/arguments.h"
#include "session/asking.h"

namespace ledge::cli {

/// What commands are told that ask a layer.
struct AskOptions {
    std::string layer, declareCrs, keep, near, nearLayer, nearKeep;
    double withinMetres = 0;
    std::string relation;
    Reading reading;
};
/// Adds how a text file is read: --encoding, --delimiter, --decimals, --header.
void addReading(CLI::App& command, Reading& reading);
/// Adds --layer, --declare-crs, --keep, --near and what goes with it.
void addAsking(CLI::App& command, AskOptions& given);

/// A layer of a file as a table, its CRS declared when that was asked for; what a condition
/// (`keep`, CQL2-Text) excludes may be left out where the source can tell.
/// Errors: those of opening; Unsupported for rasters.
Result<FeatureTable> tableOf(const std::string& path, const std::string& layer,
                             const std::string& declareCrs, const Context& context,
                             const Progress& progress, const Reading& reading = {},
                             const std::string& keep = {});
/// The condition where what it excludes plays no part in these formulas; else nothing.
std::string keepFor(const AskOptions& asked, const std::vector<std::string>& formulas);
/// The rows that answer; what could not be judged is told on stderr.
Result<std::vector<std::size_t>> rowsOf(const FeatureTable& table, const AskOptions& asked,
                                        const Context& context, const Progress& progress);
/// "a,b, c" apart. Names with commas stand in double quotes.
std::vector<std::string> namesIn(const std::string& list);
/// NAME=FORMULA. Errors: InvalidArgument.
Result<std::vector<session::Computing>> computingOf(const std::vector<std::string>& texts);

}  // namespace ledge::cli
