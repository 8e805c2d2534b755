#include "app/sheet/corner_tool.h"

#include <cmath>

#include "app/sheet/on_paper.h"
#include "app/theme.h"
#include "core/base/numbers.h"
#include "document/edits/shape_corners.h"

namespace ledge::app {
const doc::SheetItem* CornerTool::item() const {
    const doc::Sheet* sheet = m_workspace.sheet();
    const auto* found = sheet && m_item != 0 ? sheet->item(m_item) : nullptr;
    return found && m_workspace.selectedItem() == m_item ? found : nullptr;
}

std::vector<Point> CornerTool::corners() const {
    const auto* found = item();
    return found ? doc::cornersOf(*found) : std::vector<Point>();
}

bool CornerTool::isOn() const { return !corners().empty(); }

bool CornerTool::isClosed() const {
    return item()->as<doc::ShapeItem>()->form == doc::ShapeForm::Polygon;
}

bool CornerTool::begin(const doc::SheetItem& item) {
    if (item.isLocked || doc::cornersOf(item).empty()) return false;
    m_item = item.id;
    m_corner = 0;
    return true;
}

void CornerTool::end() { m_item = 0, m_isHeld = false; }

std::vector<Point> CornerTool::middles() const {
    const auto all = corners();
    std::vector<Point> out;
    for (std::size_t i = 0; i + (isClosed() ? 0 : 1) < all.size(); ++i)
        out.push_back((all[i] + all[(i + 1) % all.size()]) * 0.5);
    return out;
}

bool CornerTool::press(QPointF mm, double reach) {
    const Point at{mm.x(), mm.y()};
    const auto all = corners();
    for (std::size_t i = 0; i < all.size(); ++i)
        if (distance(all[i], at) < reach) return m_corner = i, m_isHeld = true;
    const auto between = middles();
    for (std::size_t i = 0; i < between.size(); ++i)
        if (distance(between[i], at) < reach) return insertAfter(i), m_isHeld = true;
    return false;
}

void CornerTool::insertAfter(std::size_t corner) {
    auto all = corners();
    const auto between = middles();
    if (corner >= between.size()) return;
    all.insert(all.begin() + static_cast<std::ptrdiff_t>(corner) + 1, between[corner]);
    m_corner = corner + 1;
    set(all, nullptr);
}

void CornerTool::drag(QPointF mm, bool isFree) {
    auto all = corners();
    if (!m_isHeld || m_corner >= all.size()) return;
    all[m_corner] = isFree ? Point{mm.x(), mm.y()}
                           : Point{std::round(mm.x() * 2) / 2, std::round(mm.y() * 2) / 2};
    set(all, "corner");
}

void CornerTool::set(const std::vector<Point>& corners, const char* mergeKey) {
    std::string said;
    for (const Point p : corners)
        said += (said.empty() ? "" : ",") + exactNumber(std::round(p.x * 1e4) / 1e4) + "," +
                exactNumber(std::round(p.y * 1e4) / 1e4);
    m_workspace.performOnItem("shape-corners", {{"points", said}},
                              mergeKey ? mergeKey + QString::number(m_corner) : QString());
}

bool CornerTool::key(const QKeyEvent& event) {
    auto all = corners();
    if (all.empty()) return false;
    m_corner = std::min(m_corner, all.size() - 1);
    const double step = event.modifiers() & Qt::ShiftModifier ? 0.1 : 1;
    const auto move = [&](double x, double y) {
        all[m_corner] = {tenth(all[m_corner].x + x), tenth(all[m_corner].y + y)};
        return set(all, "cornerStep"), true;
    };
    switch (event.key()) {
    case Qt::Key_Tab: m_corner = (m_corner + 1) % all.size(); return true;
    case Qt::Key_Backtab: m_corner = (m_corner + all.size() - 1) % all.size(); return true;
    case Qt::Key_Left: return move(-step, 0);
    case Qt::Key_Right: return move(step, 0);
    case Qt::Key_Up: return move(0, -step);
    case Qt::Key_Down: return move(0, step);
    case Qt::Key_Insert: return insertAfter(m_corner), true;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        if (all.size() <= (isClosed() ? 3u : 2u)) {
            m_workspace.say(isClosed() ? QObject::tr("A polygon has three corners at least")
                                       : QObject::tr("A line has two points at least"),
                            true);
            return true;
        }
        all.erase(all.begin() + static_cast<std::ptrdiff_t>(m_corner));
        m_corner = std::min(m_corner, all.size() - 1);
        return set(all, nullptr), true;
    case Qt::Key_Escape:
    case Qt::Key_Return: return end(), true;
    default: return false;
    }
}

void CornerTool::paint(QPainter& painter, const PageView& view) const {
    const auto all = corners();
    if (all.empty()) return;
    painter.setPen(QPen(theme().lichen, 1.2));
    QColor faint = theme().lichen;
    faint.setAlpha(90);
    painter.setBrush(faint);
    for (const Point p : middles()) painter.drawEllipse(view.toWidget(qt(p)), 3, 3);
    for (std::size_t i = 0; i < all.size(); ++i) {
        painter.setBrush(i == m_corner ? theme().lichen : QColor(Qt::white));
        painter.drawEllipse(view.toWidget(qt(all[i])), 4.5, 4.5);
    }
}

}  // namespace ledge::app
