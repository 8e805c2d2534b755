#pragma once
#include <QPixmap>

#include "core/geometry/geometry.h"
#include "document/style.h"

namespace ledge::app {

/// A look in small, for rows of the bench: 34 x 22 at a pixel ratio, on nothing.
QPixmap lookSample(const doc::Look& look, GeometryType geometry, double ratio);

}  // namespace ledge::app
