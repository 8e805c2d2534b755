#pragma once
#include <QWidget>

namespace ledge::app {

/// Lets Tab go from `before` to a part of the window and on through what is in it, in the order it
/// has; parts that are made late would come last otherwise.
void tabAfter(QWidget* before, QWidget* part);
/// The first in a part that Tab reaches now; null without any.
QWidget* firstReached(QWidget* part);

}  // namespace ledge::app
