#include "core/crs/shift_grid.h"

#include <algorithm>

namespace ledge::crs {

Result<ShiftGrid> ShiftGrid::make(std::string name, std::vector<SubGrid> grids) {
    for (const SubGrid& grid : grids)
        if (grid.rows < 2 || grid.cols < 2 || grid.shifts.size() != grid.rows * grid.cols ||
            grid.box.isEmpty() || !(grid.stepLon > 0) || !(grid.stepLat > 0))
            return Error{ErrorCode::InvalidArgument, name + ", sub-grid " + grid.name,
                         "its number of nodes does not fit its limits",
                         "get the grid file anew from its publisher"};
    if (grids.empty()) return Error{ErrorCode::InvalidArgument, name, "it holds no sub-grid", ""};
    std::stable_sort(grids.begin(), grids.end(), [](const SubGrid& a, const SubGrid& b) {
        return a.stepLon * a.stepLat < b.stepLon * b.stepLat;
    });
    ShiftGrid out;
    out.m_name = std::move(name);
    out.m_grids = std::move(grids);
    return out;
}

Point ShiftGrid::shiftAt(Point p) const {
    for (const SubGrid& grid : m_grids) {
        if (!grid.box.contains(p)) continue;
        const double x = (p.x - grid.box.xMin) / grid.stepLon;
        const double y = (p.y - grid.box.yMin) / grid.stepLat;
        const auto col = std::min(static_cast<std::size_t>(x), grid.cols - 2);
        const auto row = std::min(static_cast<std::size_t>(y), grid.rows - 2);
        const double u = x - static_cast<double>(col), v = y - static_cast<double>(row);
        const Point* at = &grid.shifts[row * grid.cols + col];
        return (at[0] * (1 - u) + at[1] * u) * (1 - v) +
               (at[grid.cols] * (1 - u) + at[grid.cols + 1] * u) * v;
    }
    return kNowhere;
}

Point ShiftGrid::forward(Point p) const { return p + shiftAt(p); }

Point ShiftGrid::inverse(Point p) const {
    Point at = p;
    for (int i = 0; i < 20; ++i) {
        Point shift = shiftAt(at);
        if (!shift.isFinite()) return kNowhere;
        const Point next = p - shift;
        const double moved = distance(next, at);
        at = next;
        if (moved < 1e-13) break;
    }
    return at;
}

Box ShiftGrid::box() const {
    Box box;
    for (const SubGrid& grid : m_grids) box.add(grid.box);
    return box;
}

}  // namespace ledge::crs
