#include "app/widgets/colour_button.h"

#include <QColorDialog>
#include <QPainter>

#include "app/theme.h"

namespace ledge::app {

ColourButton::ColourButton(const QString& what, QWidget* parent) : QToolButton(parent) {
    setAccessibleName(what);
    setToolTip(what);
    setFixedSize(34, 26);
    connect(this, &QToolButton::clicked, this, [this, what] {
        const QColor now(m_colour.r, m_colour.g, m_colour.b, m_colour.a);
        const QColor picked = QColorDialog::getColor(
            now, this, what, QColorDialog::ShowAlphaChannel | QColorDialog::DontUseNativeDialog);
        if (!picked.isValid()) return;
        setColour({std::uint8_t(picked.red()), std::uint8_t(picked.green()),
                   std::uint8_t(picked.blue()), std::uint8_t(picked.alpha())});
        Q_EMIT chosen(m_colour);
    });
}

void ColourButton::setColour(Colour colour) {
    m_colour = colour;
    update();
}

void ColourButton::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(hasFocus() ? theme().indigo : theme().line, hasFocus() ? 2 : 1));
    painter.setBrush(QColor(m_colour.r, m_colour.g, m_colour.b, isEnabled() ? m_colour.a : 40));
    painter.drawRoundedRect(QRectF(rect()).adjusted(1.5, 1.5, -1.5, -1.5), 6, 6);
}

}  // namespace ledge::app
