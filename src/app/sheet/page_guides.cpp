#include "app/sheet/page_guides.h"

#include <algorithm>
#include <cmath>

namespace ledge::app {

Grip gripAt(const doc::PageRect& r, QPointF p, double reach) {
    Grip out;
    const double right = r.left + r.width, bottom = r.top + r.height;
    if (p.x() < r.left - reach || p.x() > right + reach || p.y() < r.top - reach ||
        p.y() > bottom + reach)
        return out;
    // Of something small the middle half is left to be moved by.
    const double inAcross = std::min(reach, r.width / 4), inDown = std::min(reach, r.height / 4);
    if (p.x() <= r.left + inAcross)
        out.horizontal = -1;
    else if (p.x() >= right - inAcross)
        out.horizontal = 1;
    if (p.y() <= r.top + inDown)
        out.vertical = -1;
    else if (p.y() >= bottom - inDown)
        out.vertical = 1;
    out.isInside = true;
    return out;
}

doc::PageRect dragged(const doc::PageRect& r, const Grip& grip, QPointF by, double least) {
    doc::PageRect out = r;
    if (!grip.isHandle()) {
        out.left += by.x(), out.top += by.y();
        return out;
    }
    if (grip.horizontal < 0) {
        out.width = std::max(least, r.width - by.x());
        out.left = r.left + r.width - out.width;
    } else if (grip.horizontal > 0) {
        out.width = std::max(least, r.width + by.x());
    }
    if (grip.vertical < 0) {
        out.height = std::max(least, r.height - by.y());
        out.top = r.top + r.height - out.height;
    } else if (grip.vertical > 0) {
        out.height = std::max(least, r.height + by.y());
    }
    return out;
}

namespace {
// What one axis snaps to, and where it did.
struct Axis {
    std::vector<double> lines;
    double reach;

    struct Near {
        double shift = 0, line = 0;
        bool isNear = false;
    };
    Near nearest(double v) const {
        Near out;
        double best = reach;
        for (const double line : lines)
            if (std::abs(line - v) < best) best = std::abs(line - v), out = {line - v, line, true};
        return out;
    }
    std::optional<double> settle(double& start, double& length, const Grip& grip, int side) const {
        Near near;
        if (!grip.isHandle()) {
            for (const double at : {start, start + length, start + length / 2}) {
                const Near one = nearest(at);
                if (one.isNear && (!near.isNear || std::abs(one.shift) < std::abs(near.shift)))
                    near = one;
            }
            start += near.shift;
        } else if (side < 0) {
            near = nearest(start);
            start += near.shift, length -= near.shift;
        } else if (side > 0) {
            near = nearest(start + length);
            length += near.shift;
        }
        return near.isNear ? std::optional(near.line) : std::nullopt;
    }
};
}  // namespace

Snap snapped(doc::PageRect r, const Grip& grip, const doc::Sheet& sheet,
             const std::vector<doc::Id>& moved, double reach) {
    const double margin = sheet.marginMm, w = sheet.widthMm, h = sheet.heightMm;
    Axis across{{0, w / 2, w}, reach}, down{{0, h / 2, h}, reach};
    if (margin > 0 && 2 * margin < std::min(w, h)) {
        across.lines.insert(across.lines.end(), {margin, w - margin});
        down.lines.insert(down.lines.end(), {margin, h - margin});
    }
    across.lines.insert(across.lines.end(), sheet.guidesAcross.begin(), sheet.guidesAcross.end());
    down.lines.insert(down.lines.end(), sheet.guidesDown.begin(), sheet.guidesDown.end());
    for (const doc::SheetItem& other : sheet.items) {
        if (other.isHidden || std::find(moved.begin(), moved.end(), other.id) != moved.end())
            continue;
        const doc::PageRect& o = other.rect;
        across.lines.insert(across.lines.end(), {o.left, o.left + o.width / 2, o.left + o.width});
        down.lines.insert(down.lines.end(), {o.top, o.top + o.height / 2, o.top + o.height});
    }
    Snap out;
    out.across = across.settle(r.left, r.width, grip, grip.horizontal);
    out.down = down.settle(r.top, r.height, grip, grip.vertical);
    out.rect = r;
    return out;
}

}  // namespace ledge::app
