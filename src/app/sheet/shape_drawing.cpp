#include "app/sheet/shape_drawing.h"

#include <cmath>

#include "app/sheet/item_menu.h"
#include "app/sheet/on_paper.h"
#include "app/theme.h"
#include "core/base/numbers.h"
#include "document/edits/item_layout.h"

namespace ledge::app {
void ShapeDrawing::begin(doc::ShapeForm form, QPointF mm) {
    m_form = form;
    m_corners.clear();
    m_next = {tenth(mm.x()), tenth(mm.y())};
    m_workspace.selectItem(0);
    m_workspace.say(QObject::tr("Click the corners, or move by arrows and press Return; a double "
                                "click or Ctrl+Return ends, Backspace takes one back, Escape gives "
                                "up"));
}

void ShapeDrawing::end() {
    m_form.reset();
    m_corners.clear();
}

void ShapeDrawing::hover(QPointF mm, bool isFree) {
    m_next = isFree ? Point{mm.x(), mm.y()}
                    : Point{std::round(mm.x() * 2) / 2, std::round(mm.y() * 2) / 2};
}

void ShapeDrawing::addCorner() {
    if (m_corners.empty() || !(m_corners.back() == m_next)) m_corners.push_back(m_next);
}

void ShapeDrawing::finish() {
    const bool isPolygon = m_form == doc::ShapeForm::Polygon;
    if (m_corners.size() < (isPolygon ? 3u : 2u))
        return m_workspace.say(isPolygon ? QObject::tr("A polygon has three corners at least")
                                         : QObject::tr("A line has two points at least"),
                               true);
    std::string points;
    Box box;
    for (const Point p : m_corners) {
        points += (points.empty() ? "" : ",") + exactNumber(p.x) + "," + exactNumber(p.y);
        box.add(p);
    }
    const std::string rect = doc::rectWords(
        {box.xMin, box.yMin, std::max(1.0, box.width()), std::max(1.0, box.height())});
    end();
    addItem(m_workspace, isPolygon ? QObject::tr("Polygon") : QObject::tr("Line"), "shape", rect,
            {{"with", isPolygon ? R"({"form": "polygon"})" : R"({"form": "line"})"},
             {"points", points}});
}

bool ShapeDrawing::key(const QKeyEvent& event) {
    const double step = event.modifiers() & Qt::ShiftModifier ? 0.1 : 1;
    const auto move = [&](double x, double y) {
        m_next = {tenth(m_next.x + x), tenth(m_next.y + y)};
        return true;
    };
    switch (event.key()) {
    case Qt::Key_Left: return move(-step, 0);
    case Qt::Key_Right: return move(step, 0);
    case Qt::Key_Up: return move(0, -step);
    case Qt::Key_Down: return move(0, step);
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (event.modifiers() & Qt::ControlModifier)
            finish();
        else
            addCorner();
        return true;
    case Qt::Key_Backspace:
    case Qt::Key_Delete:
        if (!m_corners.empty()) m_corners.pop_back();
        return true;
    case Qt::Key_Escape: return end(), true;
    default: return false;
    }
}

void ShapeDrawing::paint(QPainter& painter, const PageView& view) const {
    if (!isOn()) return;
    QPolygonF drawn;
    for (const Point p : m_corners) drawn << view.toWidget(qt(p));
    const QPointF next = view.toWidget(qt(m_next));
    painter.setPen(QPen(theme().lichen, 1.6));
    painter.setBrush(Qt::NoBrush);
    painter.drawPolyline(drawn);
    if (!drawn.isEmpty()) {
        painter.setPen(QPen(theme().lichen, 1.2, Qt::DashLine));
        painter.drawLine(drawn.back(), next);
        if (m_form == doc::ShapeForm::Polygon) painter.drawLine(next, drawn.front());
    }
    painter.setPen(QPen(theme().lichen, 1.2));
    painter.setBrush(Qt::white);
    for (const QPointF& corner : drawn) painter.drawEllipse(corner, 4, 4);
    painter.drawLine(next - QPointF(7, 0), next + QPointF(7, 0));
    painter.drawLine(next - QPointF(0, 7), next + QPointF(0, 7));
}

}  // namespace ledge::app
