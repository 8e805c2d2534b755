#pragma once
#include <string>
#include <vector>

#include "document/document.h"

namespace ledge::session {

/// What going from one state of a project to another would change, in a few lines for people:
/// "layers: Relief added, Crofts changed". Empty where nothing would.
std::vector<std::string> differences(const doc::Document& from, const doc::Document& to);

}  // namespace ledge::session
