#pragma once
#include <string>

#include "core/query/tree.h"

namespace ledge::io {

/// A question in CQL2-JSON (OGC 21-065r2). Errors: BadFormat for what is no JSON; InvalidArgument
/// for what the language has not, naming it.
Result<query::TreePtr> questionFromJson(const std::string& text);
/// The same, written. Negated predicates stand within "not".
std::string questionJson(const query::Tree& tree);
/// A question in either form, as text: JSON begins with a brace.
Result<std::string> questionText(const std::string& text);

}  // namespace ledge::io
