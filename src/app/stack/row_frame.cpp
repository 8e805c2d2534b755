#include "app/stack/row_frame.h"

#include <QKeyEvent>
#include <QPainter>

#include "app/theme.h"

namespace ledge::app {

RowFrame::RowFrame(QWidget* parent) : QFrame(parent) { setFocusPolicy(Qt::ClickFocus); }

void RowFrame::setReachable(bool isReachable) {
    const auto policy = isReachable ? Qt::StrongFocus : Qt::ClickFocus;
    if (focusPolicy() == policy) return;
    setFocusPolicy(policy);
    for (QWidget* inner : findChildren<QWidget*>())
        if (inner->focusPolicy() != Qt::NoFocus) inner->setFocusPolicy(policy);
}

void RowFrame::setSelected(bool isSelected, bool isCurrent) {
    if (m_isSelected == isSelected && m_isCurrent == isCurrent) return;
    m_isSelected = isSelected;
    m_isCurrent = isCurrent;
    update();
}

void RowFrame::keyPressEvent(QKeyEvent* event) {
    event->ignore();
    Q_EMIT keyPressed(event);
    if (!event->isAccepted()) QFrame::keyPressEvent(event);
}

void RowFrame::focusInEvent(QFocusEvent* event) {
    QFrame::focusInEvent(event);
    update();
}
void RowFrame::focusOutEvent(QFocusEvent* event) {
    QFrame::focusOutEvent(event);
    update();
}

void RowFrame::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF card = QRectF(rect()).adjusted(1, 1, -1, -1);
    painter.setBrush(m_isSelected ? theme().stone : theme().surface);
    painter.setPen(QPen(m_isCurrent ? theme().lichen : theme().line, m_isCurrent ? 1.6 : 1));
    painter.drawRoundedRect(card, 7, 7);
    if (!hasFocus()) return;
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme().indigo, 1.2));
    painter.drawRoundedRect(card.adjusted(2, 2, -2, -2), 5.5, 5.5);
}

QIcon lampIcon(bool isLit, bool isInTheDark) {
    QIcon icon;
    for (const double ratio : {1.0, 2.0}) {
        QPixmap pixmap(QSize(16, 16) * ratio);
        pixmap.fill(Qt::transparent);
        QPainter painter(&pixmap);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.scale(ratio, ratio);
        if (isLit && isInTheDark) {
            painter.setPen(Qt::NoPen);
            painter.setBrush(theme().muted);
            painter.drawEllipse(QPointF(8, 8), 3.6, 3.6);
        } else if (isLit) {
            QRadialGradient glow(QPointF(8, 8), 8);
            QColor light = theme().lichen;
            light.setAlpha(150);
            glow.setColorAt(0.35, light);
            light.setAlpha(0);
            glow.setColorAt(1, light);
            painter.setPen(Qt::NoPen);
            painter.setBrush(glow);
            painter.drawEllipse(QPointF(8, 8), 8, 8);
            painter.setBrush(theme().lichen);
            painter.drawEllipse(QPointF(8, 8), 3.8, 3.8);
        } else {
            painter.setPen(QPen(theme().muted, 1.3));
            painter.drawEllipse(QPointF(8, 8), 3.6, 3.6);
        }
        painter.end();
        pixmap.setDevicePixelRatio(ratio);
        icon.addPixmap(pixmap);
    }
    return icon;
}

QToolButton* makeLamp(QWidget* parent) {
    auto* lamp = new QToolButton(parent);
    lamp->setObjectName("lamp");
    lamp->setCheckable(true);
    lamp->setFixedSize(20, 20);
    lamp->setStyleSheet("padding: 2px;");
    return lamp;
}

}  // namespace ledge::app
