#pragma once
#include <QString>

namespace ledge::app {

class MainWindow;

/// Shows the main views of the open demo project one after the other and writes a PNG of each.
/// False when one could not be written.
bool takePictures(MainWindow& window, const QString& folder);

/// Runs the event loop until nothing is read, drawn or run any more; false after `limitMs`.
bool waitUntilIdle(MainWindow& window, int limitMs = 60000);

}  // namespace ledge::app
