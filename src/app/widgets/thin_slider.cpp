#include "app/widgets/thin_slider.h"

#include <QMouseEvent>
#include <QPainter>

#include "app/theme.h"

namespace ledge::app {
namespace {
constexpr double kKnob = 4;
}

ThinSlider::ThinSlider(QWidget* parent) : QAbstractSlider(parent) {
    setOrientation(Qt::Horizontal);
    setRange(0, 100);
    setSingleStep(5);
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(14);
    connect(this, &QAbstractSlider::valueChanged, this, qOverload<>(&QWidget::update));
}

int ThinSlider::valueAt(double x) const {
    const double share = qBound(0.0, (x - kKnob) / (width() - 2 * kKnob), 1.0);
    return minimum() + qRound((maximum() - minimum()) * share);
}

void ThinSlider::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const double y = height() / 2.0, span = std::max(1, maximum() - minimum());
    const double x = kKnob + (width() - 2 * kKnob) * (value() - minimum()) / span;
    const QColor on = isEnabled() ? theme().indigo : theme().muted;
    painter.setPen(QPen(theme().line, 3, Qt::SolidLine, Qt::RoundCap));
    painter.drawLine(QPointF(kKnob, y), QPointF(width() - kKnob, y));
    painter.setPen(QPen(on, 3, Qt::SolidLine, Qt::RoundCap));
    painter.drawLine(QPointF(kKnob, y), QPointF(x, y));
    painter.setPen(QPen(hasFocus() ? theme().lichen : on, 1.5));
    painter.setBrush(theme().surface);
    painter.drawEllipse(QPointF(x, y), kKnob, kKnob);
    if (!hasFocus()) return;
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme().indigo, 1.2));
    painter.drawRoundedRect(QRectF(rect()).adjusted(0.6, 0.6, -0.6, -0.6), 4, 4);
}

void ThinSlider::mousePressEvent(QMouseEvent* event) {
    setSliderDown(true);
    setValue(valueAt(event->position().x()));
}
void ThinSlider::mouseMoveEvent(QMouseEvent* event) {
    if (isSliderDown()) setValue(valueAt(event->position().x()));
}
void ThinSlider::mouseReleaseEvent(QMouseEvent*) { setSliderDown(false); }

}  // namespace ledge::app
