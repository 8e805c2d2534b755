#pragma once
#include <QPainter>

#include "app/sheet/page_view.h"

namespace ledge::app {

/// Width of the rulers along the top and the left side of the canvas.
inline constexpr int kRulerPx = 18;

/// Millimetres along two edges of the canvas; where `shaded` lies is marked, if it is not null.
void paintRulers(QPainter& painter, const PageView& view, const doc::Sheet& sheet,
                 const doc::SheetItem* shaded);

}  // namespace ledge::app
