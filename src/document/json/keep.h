#pragma once
#include "document/json/archive.h"

namespace ledge::doc {

/// What is written over a file that was read: `now` where it was edited since, and everything else
/// as it stood in `original`, known or not. `read` is what this version writes for `original`
/// unedited: what it holds was understood, what it lacks was not.
///
/// A member of `original` that `read` lacks stays. A value that `now` has as `read` has it stays as
/// the file spelled it. A member that `read` has and `now` lacks was taken away. Objects with an
/// "id" are found again wherever they were moved to; other members of lists by their place, as long
/// as the list keeps its length.
Json kept(const Json& original, const Json& read, const Json& now);

}  // namespace ledge::doc
