#pragma once
#include "core/base/result.h"
#include "document/document.h"

namespace ledge::doc {

/// How a layer looks, on its own: what is copied from layer to layer and shared as a file (suffix
/// .ledgestyle). Style, label sets, opacity and blend mode; not where labels were placed by hand,
/// which belongs to the features.
std::string styleFileText(const Layer& layer);

/// The layer with such a look. Errors: BadFormat for what is no style; InvalidArgument for one of
/// another kind of layer, and for values that cannot be.
Result<Layer> withStyleText(const Layer& layer, const std::string& text);

}  // namespace ledge::doc
