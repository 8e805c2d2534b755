#pragma once
#include "document/edits/edit_table.h"

namespace ledge::doc {

inline const EditArgument kLayer{"layer", EditArgument::Kind::Layer};

}  // namespace ledge::doc
