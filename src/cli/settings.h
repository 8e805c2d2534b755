#pragma once
#include "cli/arguments.h"
#include "session/derive/operations.h"

namespace ledge::cli {

/// Adds an option for each setting of an operation; help, choices and limits are the table's. What
/// is given is put into `given`, which has to outlive the command.
void addSettings(CLI::App& command, const session::Operation& operation, session::Settings& given);

}  // namespace ledge::cli
