#pragma once
#include "cli/settings.h"

namespace ledge::cli {

/// What every command that makes a raster or table of an operation is told beside its settings.
struct Deriving {
    std::string dest, compression = "deflate";
    session::Settings settings;
    bool mayReplace = false, withOverviews = false;
};
/// Adds the operation's settings, and how the result is written.
void addDeriving(CLI::App& command, const session::Operation& operation, Deriving& given);

/// A file as an input; a name for formulas, and a layer or band of it.
doc::LineageInput inputAt(const std::string& path, std::string name = {});

/// Does the operation on the inputs and writes DEST; parts of the first that could not be read are
/// told. Errors: those of checkOutput and writeDerived.
Result<void> derive(const session::Operation& operation, std::vector<doc::LineageInput> inputs,
                    const Deriving& given, const Context& context);

}  // namespace ledge::cli
