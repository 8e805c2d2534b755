#include "app/widgets/elided_label.h"

namespace ledge::app {

void ElidedLabel::setPlain(const QString& text) {
    m_plain = text;
    setTextFormat(Qt::PlainText);
    fit();
}

void ElidedLabel::setLinked(const QString& html) {
    m_plain.clear();
    setTextFormat(Qt::RichText);
    setText(html);
}

void ElidedLabel::resizeEvent(QResizeEvent* event) {
    QLabel::resizeEvent(event);
    if (!m_plain.isEmpty()) fit();
}

void ElidedLabel::fit() {
    const QString shown =
        width() > 0 ? fontMetrics().elidedText(m_plain, Qt::ElideRight, width()) : m_plain;
    if (shown != text()) setText(shown);
}

}  // namespace ledge::app
