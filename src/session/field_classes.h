#pragma once
#include "core/base/progress.h"
#include "core/feature/feature.h"
#include "document/style.h"

/// Classes of a layer of features, found in the values of a field.
namespace ledge::session {

/// Most categories that a field is split into; the values after these get the look of the others.
inline constexpr std::size_t kMostCategories = 60;

struct FieldClasses {
    doc::VectorStyle style;
    bool isCut = false;  ///< there are more values than categories
};

/// `style` classed by a field: a category for each value, in order, its colours our series on the
/// base look; or a ramp from the smallest to the greatest number. A style that is classed so by
/// this field already keeps its classes; one look keeps what the other kinds held. Every feature is
/// read: call it from a job. Errors: NotFound for no such field; InvalidArgument for a ramp over no
/// numbers; Cancelled.
Result<FieldClasses> fieldClasses(const FeatureTable& table, doc::VectorStyle style,
                                  doc::Classing classing, const std::string& field,
                                  const Progress& progress = {});

}  // namespace ledge::session
