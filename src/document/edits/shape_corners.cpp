#include "document/edits/shape_corners.h"

#include <algorithm>
#include <cmath>

#include "core/base/constants.h"
#include "core/geometry/point.h"

namespace ledge::doc {
namespace {
constexpr double kLeastMm = 0.1;  // of a line that is upright or level

Point turned(Point p, double degrees) {
    const double angle = degrees * kRadiansPerDegree;
    const double c = std::cos(angle), s = std::sin(angle);
    return {p.x * c - p.y * s, p.x * s + p.y * c};
}
Point middleOf(const PageRect& rect) {
    return {rect.left + rect.width / 2, rect.top + rect.height / 2};
}
bool hasCorners(const ShapeItem* shape) {
    return shape && (shape->form == ShapeForm::Polygon || shape->form == ShapeForm::Line);
}
}  // namespace

double shapeInset(const SheetItem& item) {
    const double off = item.paddingMm + item.frameMm / 2;
    return std::min({off, item.rect.width / 2, item.rect.height / 2});
}

std::vector<Point> cornersOf(const SheetItem& item) {
    const auto* shape = item.as<ShapeItem>();
    if (!hasCorners(shape)) return {};
    std::vector<Point> shares = shape->points;
    if (shares.size() < 2) shares = {{0, 0}, {1, 1}};  // as it is drawn
    const double inset = shapeInset(item);
    const Point middle = middleOf(item.rect);
    std::vector<Point> out;
    for (const Point share : shares) {
        const Point p{item.rect.left + inset + share.x * (item.rect.width - 2 * inset),
                      item.rect.top + inset + share.y * (item.rect.height - 2 * inset)};
        out.push_back(middle + turned(p - middle, item.turn));
    }
    return out;
}

void setCorners(SheetItem& item, std::span<const Point> page) {
    auto* shape = item.as<ShapeItem>();
    if (!hasCorners(shape) || page.size() < 2) return;
    // Turned back about the page's corner they have an upright box, about whose middle the item's
    // turn brings them to where they are.
    Box box;
    std::vector<Point> upright;
    for (const Point p : page) {
        upright.push_back(turned(p, -item.turn));
        box.add(upright.back());
    }
    const double inset = item.paddingMm + item.frameMm / 2;
    const double width = std::max(kLeastMm, box.width()), height = std::max(kLeastMm, box.height());
    const Point middle = turned(box.centre(), item.turn);
    item.rect = {middle.x - width / 2 - inset, middle.y - height / 2 - inset, width + 2 * inset,
                 height + 2 * inset};
    shape->points.clear();
    for (const Point p : upright)
        shape->points.push_back(
            {0.5 + (p.x - box.centre().x) / width, 0.5 + (p.y - box.centre().y) / height});
}

}  // namespace ledge::doc
