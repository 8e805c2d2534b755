#pragma once
#include "core/base/result.h"
#include "document/document.h"

/// Single values of a layer, source or sheet item, by the path they have in a project: "opacity",
/// "style.levels.interval", "style.lights.0.azimuth". Whatever a project can say can be set so.
namespace ledge::doc {

/// Text as it is for texts, yes or no for truths, else JSON. Errors: NotFound for a member that is
/// not there; InvalidArgument for a value that it cannot have.
Result<Layer> withMember(const Layer& layer, const std::string& path, const std::string& value);
Result<SheetItem> withMember(const SheetItem& item, const std::string& path,
                             const std::string& value);

}  // namespace ledge::doc
