#include "app/widgets/sun_dial.h"

#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "app/theme.h"
#include "core/base/constants.h"

namespace ledge::app {
namespace {
constexpr double kDegrees = kDegreesPerRadian;
}

SunDial::SunDial(QWidget* parent) : QWidget(parent) {
    setObjectName("sunDial");
    setAccessibleName(tr("Sun dial: azimuth and altitude of the light"));
    setToolTip(tr("Drag the sun. Arrow keys: left and right turn it by 5°, up and down raise it; "
                  "Shift for 1°."));
    setFocusPolicy(Qt::StrongFocus);
    setFixedSize(184, 184);
}

double SunDial::radius() const { return width() / 2.0 - 16; }

QPointF SunDial::sunAt(terrain::Light light) const {
    const double r = radius() * (90 - light.altitude) / 90, a = light.azimuth / kDegrees;
    return {width() / 2.0 + r * std::sin(a), height() / 2.0 - r * std::cos(a)};
}

void SunDial::setLight(terrain::Light light) {
    if (light == m_light) return;
    m_light = light;
    update();
}

void SunDial::choose(terrain::Light light) {
    light.azimuth = std::fmod(std::fmod(light.azimuth, 360) + 360, 360);
    light.altitude = std::clamp(light.altitude, 0.0, 90.0);
    if (light == m_light) return;
    m_light = light;
    update();
    Q_EMIT lightChanged(light);
}

void SunDial::moveTo(QPointF p, bool snaps) {
    const double dx = p.x() - width() / 2.0, dy = height() / 2.0 - p.y();
    const double far = std::min(1.0, std::hypot(dx, dy) / radius());
    terrain::Light light{std::round(std::atan2(dx, dy) * kDegrees), std::round(90 - 90 * far)};
    if (snaps) light = {std::round(light.azimuth / 15) * 15, std::round(light.altitude / 5) * 5};
    if (far < 0.01) light.azimuth = m_light.azimuth;
    choose(light);
}

void SunDial::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QPointF middle(width() / 2.0, height() / 2.0);
    const double r = radius();
    QRadialGradient ground(middle, r);
    ground.setColorAt(0, theme().surface);
    ground.setColorAt(1, theme().stone);
    painter.setBrush(ground);
    painter.setPen(QPen(hasFocus() ? theme().indigo : theme().line, hasFocus() ? 2 : 1.5));
    painter.drawEllipse(middle, r, r);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme().line, 1));
    painter.drawEllipse(middle, r * 2 / 3, r * 2 / 3);
    painter.drawEllipse(middle, r / 3, r / 3);
    for (int azimuth = 0; azimuth < 360; azimuth += 15) {
        const double a = azimuth / kDegrees, in = azimuth % 45 == 0 ? 7 : 4;
        const QPointF way(std::sin(a), -std::cos(a));
        painter.drawLine(middle + way * (r - in), middle + way * r);
    }
    painter.setPen(theme().muted);
    QFont font = this->font();
    font.setPixelSize(10);
    painter.setFont(font);
    const double out = r + 9;
    for (const auto& [text, x, y] : {std::tuple{tr("N"), 0.0, -1.0},
                                     {tr("E"), 1.0, 0.0},
                                     {tr("S"), 0.0, 1.0},
                                     {tr("W"), -1.0, 0.0}})
        painter.drawText(QRectF(middle.x() + x * out - 8, middle.y() + y * out - 8, 16, 16),
                         Qt::AlignCenter, text);
    const QPointF sun = sunAt(m_light);
    painter.setPen(QPen(theme().lichen, 1.5));
    painter.drawLine(middle, sun);
    painter.setPen(QPen(theme().surface, 2));
    painter.setBrush(theme().lichen);
    painter.drawEllipse(sun, 8, 8);
}

void SunDial::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton)
        moveTo(event->position(), event->modifiers() & Qt::ShiftModifier);
}
void SunDial::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() & Qt::LeftButton)
        moveTo(event->position(), event->modifiers() & Qt::ShiftModifier);
}
void SunDial::mouseReleaseEvent(QMouseEvent*) { Q_EMIT dragEnded(); }

void SunDial::keyPressEvent(QKeyEvent* event) {
    const double step = event->modifiers() & Qt::ShiftModifier ? 1 : 5;
    terrain::Light light = m_light;
    switch (event->key()) {
    case Qt::Key_Left: light.azimuth -= step; break;
    case Qt::Key_Right: light.azimuth += step; break;
    case Qt::Key_Up: light.altitude += step; break;
    case Qt::Key_Down: light.altitude -= step; break;
    default: return QWidget::keyPressEvent(event);
    }
    choose(light);
}

}  // namespace ledge::app
