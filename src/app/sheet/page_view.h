#pragma once
#include <QPointF>
#include <QRectF>
#include <QSize>
#include <QTransform>

#include "document/sheet.h"

namespace ledge::app {

/// Turned about another place, degrees clockwise.
inline QPointF turned(QPointF p, QPointF about, double degrees) {
    if (degrees == 0) return p;
    return QTransform().rotate(degrees).map(p - about) + about;
}

/// How a page lies on its canvas: millimetres to the canvas's pixels.
struct PageView {
    QPointF origin;  ///< of the page's upper left corner
    double pxPerMm = 1;
    QSize canvas;

    QPointF toWidget(QPointF mm) const { return origin + mm * pxPerMm; }
    QPointF toPage(QPointF widget) const { return (widget - origin) / pxPerMm; }
    QRectF boxOf(const doc::PageRect& r) const {
        return {toWidget({r.left, r.top}), QSizeF(r.width, r.height) * pxPerMm};
    }
};

}  // namespace ledge::app
