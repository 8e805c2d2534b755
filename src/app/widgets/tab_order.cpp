#include "app/widgets/tab_order.h"

namespace ledge::app {
namespace {
// The part and what is in it, in the order of the focus chain.
QList<QWidget*> chainOf(QWidget* part) {
    QList<QWidget*> out{part};
    for (QWidget* one = part->nextInFocusChain(); one && one != part; one = one->nextInFocusChain())
        if (part->isAncestorOf(one)) out << one;
    return out;
}
}  // namespace

void tabAfter(QWidget* before, QWidget* part) {
    for (QWidget* one : chainOf(part)) {
        if (!(one->focusPolicy() & Qt::TabFocus)) continue;
        QWidget::setTabOrder(before, one);
        before = one;
    }
}

QWidget* firstReached(QWidget* part) {
    for (QWidget* one : chainOf(part))
        if (one->focusPolicy() & Qt::TabFocus && one->isEnabled() && one->isVisible()) return one;
    return nullptr;
}

}  // namespace ledge::app
