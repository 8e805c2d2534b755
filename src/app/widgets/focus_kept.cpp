#include "app/widgets/focus_kept.h"

#include <QApplication>

namespace ledge::app {

FocusKept::FocusKept(QWidget* around) : m_around(around) {
    const QWidget* had = QApplication::focusWidget();
    if (!had || !around->isAncestorOf(had)) return;
    m_kind = had->metaObject();
    m_name = had->objectName();
    m_said = had->accessibleName();
}

FocusKept::~FocusKept() {
    if (!m_kind || !m_around) return;
    const QWidget* now = QApplication::focusWidget();
    // What has gone lies hidden until it is deleted.
    if (now && now->isVisible() && m_around->isAncestorOf(now) && now->metaObject() == m_kind &&
        now->objectName() == m_name && now->accessibleName() == m_said)
        return;
    for (QWidget* one : m_around->findChildren<QWidget*>()) {
        if (one->metaObject() != m_kind || one->isHidden() || !one->isEnabled()) continue;
        // What people call it says more: rows may have moved.
        const bool isIt = m_said.isEmpty() ? !m_name.isEmpty() && one->objectName() == m_name
                                           : one->accessibleName() == m_said;
        if (!isIt) continue;
        one->setFocus();
        break;
    }
}

}  // namespace ledge::app
