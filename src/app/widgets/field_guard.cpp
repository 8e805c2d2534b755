#include "app/widgets/field_guard.h"

#include <QAbstractSlider>
#include <QAbstractSpinBox>
#include <QApplication>
#include <QComboBox>
#include <QKeyEvent>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QScrollBar>

namespace ledge::app {
namespace {
// A field that the wheel would change.
QWidget* fieldOf(QObject* watched) {
    auto* widget = qobject_cast<QWidget*>(watched);
    if (!widget || qobject_cast<QScrollBar*>(widget)) return nullptr;
    for (QWidget* one : {widget, widget->parentWidget()})
        if (one &&
            (qobject_cast<QAbstractSpinBox*>(one) || qobject_cast<QComboBox*>(one) ||
             qobject_cast<QAbstractSlider*>(one)) &&
            !qobject_cast<QScrollBar*>(one))
            return one;
    return nullptr;
}

QLineEdit* lineOf(QObject* watched) {
    if (auto* edit = qobject_cast<QLineEdit*>(watched)) return edit;
    if (auto* box = qobject_cast<QAbstractSpinBox*>(watched)) return box->findChild<QLineEdit*>();
    return nullptr;
}

// What was typed has been used or left: no longer the field's to undo.
void forgetTyping(QObject* watched) {
    if (auto* text = qobject_cast<QPlainTextEdit*>(watched)) {
        if (!text->hasFocus()) text->document()->clearUndoRedoStacks();  // Return is a line there
        return;
    }
    QLineEdit* edit = lineOf(watched);
    if (!edit || !(edit->isUndoAvailable() || edit->isRedoAvailable())) return;
    const QSignalBlocker quiet(edit);
    const int at = edit->cursorPosition();
    edit->setText(edit->text());
    edit->setCursorPosition(at);
}

// Once the field itself has taken the event.
void forgetLater(QObject* watched) {
    if (!lineOf(watched) && !qobject_cast<QPlainTextEdit*>(watched)) return;
    QMetaObject::invokeMethod(
        watched, [watched] { forgetTyping(watched); }, Qt::QueuedConnection);
}

bool hasOwn(QObject* watched, bool isUndo) {
    if (auto* text = qobject_cast<QPlainTextEdit*>(watched))
        return isUndo ? text->document()->isUndoAvailable() : text->document()->isRedoAvailable();
    const QLineEdit* edit = lineOf(watched);
    return edit && (isUndo ? edit->isUndoAvailable() : edit->isRedoAvailable());
}
}  // namespace

FieldGuard::FieldGuard(QObject* parent) : QObject(parent) {
    QCoreApplication::instance()->installEventFilter(this);
}

bool FieldGuard::eventFilter(QObject* watched, QEvent* event) {
    switch (event->type()) {
    case QEvent::MouseButtonPress:
        if (watched->isWidgetType()) m_clicked = fieldOf(watched);
        break;
    case QEvent::FocusOut:
        if (watched == m_clicked) m_clicked.clear();
        forgetLater(watched);
        break;
    case QEvent::Wheel:
        if (const QWidget* field = fieldOf(watched); field && field != m_clicked) {
            event->ignore();  // whatever is around it scrolls
            return true;
        }
        break;
    case QEvent::KeyPress: {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Return || key == Qt::Key_Enter) forgetLater(watched);
        break;
    }
    case QEvent::ShortcutOverride: {
        auto* key = static_cast<QKeyEvent*>(event);
        const bool isUndo = key->matches(QKeySequence::Undo);
        if (!isUndo && !key->matches(QKeySequence::Redo)) break;
        if (!lineOf(watched) && !qobject_cast<QPlainTextEdit*>(watched)) break;
        if (hasOwn(watched, isUndo)) break;
        event->ignore();  // left to the window's own undo
        return true;
    }
    default: break;
    }
    return QObject::eventFilter(watched, event);
}

}  // namespace ledge::app
