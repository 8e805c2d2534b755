#pragma once
#include <QKeyEvent>
#include <QPainter>
#include <optional>

#include "app/sheet/page_view.h"
#include "app/workspace.h"

namespace ledge::app {

/// A polygon or a line drawn on a page corner by corner, by mouse or keyboard. It becomes an item,
/// one edit, when it is whole.
class ShapeDrawing {
public:
    explicit ShapeDrawing(Workspace& workspace) : m_workspace(workspace) {}

    bool isOn() const { return m_form.has_value(); }
    /// The next corner stands at a place first, for those who draw by keys.
    void begin(doc::ShapeForm form, QPointF mm);
    void end();
    /// To half a millimetre, unless freely.
    void hover(QPointF mm, bool isFree);
    void addCorner();
    /// Makes the item; says what is missing where corners are.
    void finish();
    /// Arrows move the next corner (Shift: a tenth of a millimetre), Return sets it, Backspace
    /// takes one back, Ctrl+Return ends, Escape gives up.
    bool key(const QKeyEvent& event);
    void paint(QPainter& painter, const PageView& view) const;

private:
    Workspace& m_workspace;
    std::optional<doc::ShapeForm> m_form;
    std::vector<Point> m_corners;
    Point m_next;
};

}  // namespace ledge::app
