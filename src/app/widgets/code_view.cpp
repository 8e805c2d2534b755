#include "app/widgets/code_view.h"

#include <QTextBlock>
#include <QTextLayout>
#include <cmath>

namespace ledge::app {

CodeView::CodeView(const QString& accessibleName, QWidget* parent) : QPlainTextEdit(parent) {
    setAccessibleName(accessibleName);
    setReadOnly(true);
    setProperty("role", "code");
    setTabChangesFocus(true);
    setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    setWordWrapMode(QTextOption::WrapAtWordBoundaryOrAnywhere);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    document()->setDocumentMargin(2);
}

void CodeView::setText(const QString& text) {
    if (toPlainText() == text) return;
    setPlainText(text);
    fit();
}

QSize CodeView::sizeHint() const {
    double height = 0;
    for (QTextBlock block = document()->begin(); block.isValid(); block = block.next())
        height += blockBoundingRect(block).height();
    // What the style puts around the text: padding and frame.
    const int around = std::max(0, this->height() - viewport()->height());
    return {120, static_cast<int>(std::ceil(height + 2 * document()->documentMargin())) + around};
}

void CodeView::resizeEvent(QResizeEvent* event) {
    QPlainTextEdit::resizeEvent(event);
    fit();
}

void CodeView::fit() {
    const int height = sizeHint().height();
    if (height != minimumHeight()) setFixedHeight(height);
}

}  // namespace ledge::app
