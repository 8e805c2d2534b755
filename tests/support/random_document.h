#pragma once
#include "document/document.h"

namespace ledge::test {

/// A project in which every described member has a random value, the same for the same seed: it
/// holds layers, items and edits of any kind, and makes no sense.
doc::Document randomDocument(unsigned seed);

}  // namespace ledge::test
