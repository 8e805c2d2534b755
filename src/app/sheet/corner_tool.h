#pragma once
#include <QKeyEvent>
#include <QPainter>

#include "app/sheet/page_view.h"
#include "app/workspace.h"

namespace ledge::app {

/// The corners of a polygon, or the points of a line, moved one by one: dragged or by keys, new
/// ones out of the middle of a side. Every change is an edit.
class CornerTool {
public:
    explicit CornerTool(Workspace& workspace) : m_workspace(workspace) {}

    /// Whether the selected item's corners are in hand.
    bool isOn() const;
    /// Whether the item has corners.
    bool begin(const doc::SheetItem& item);
    void end();
    /// Takes a corner, or makes one where a side's middle is pressed. Whether there was one.
    bool press(QPointF mm, double reachMm);
    void drag(QPointF mm, bool isFree);
    void release() { m_isHeld = false; }
    /// Tab and Shift+Tab choose, arrows move (Shift: a tenth of a millimetre), Insert makes one in
    /// the middle of the next side, Delete takes one away, Escape ends.
    bool key(const QKeyEvent& event);
    void paint(QPainter& painter, const PageView& view) const;

private:
    const doc::SheetItem* item() const;
    std::vector<Point> corners() const;
    bool isClosed() const;
    std::vector<Point> middles() const;
    void insertAfter(std::size_t corner);
    void set(const std::vector<Point>& corners, const char* mergeKey);

    Workspace& m_workspace;
    doc::Id m_item = 0;
    std::size_t m_corner = 0;
    bool m_isHeld = false;
};

}  // namespace ledge::app
