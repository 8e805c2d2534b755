#pragma once
#include <QColor>
#include <QIcon>
#include <QString>

class QApplication;

namespace ledge::app {

/// The hues of the interface; two sets from the same family.
struct Theme {
    QColor ink, indigo, paper, stone, line, text, muted, lichen, fern, rust, surface, onInk;
    bool isDark = false;
};
const Theme& theme();
/// Chooses light or dark and styles the application.
void applyTheme(QApplication& application, bool isDark);

/// A line icon of the family in a colour, sharp at any pixel ratio.
QIcon lineIcon(const QString& name, const QColor& colour);
QPixmap linePixmap(const QString& name, const QColor& colour, int size, double ratio);

}  // namespace ledge::app
