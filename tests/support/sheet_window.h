#pragma once
#include <QCheckBox>
#include <QComboBox>
#include <QContextMenuEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPushButton>
#include <QTimer>

#include "app/canvas/sheet_canvas.h"
#include "support/test_window.h"

namespace ledge::test {

/// The window with a sheet on the canvas, as hands work on it.
class SheetWindow : public TestWindow {
protected:
    app::SheetCanvas* canvas() const { return m_window->sheetCanvas(); }
    const doc::Sheet& sheet() const { return *workspace().sheet(); }
    const doc::SheetItem& item(const char* name) const {
        for (const doc::SheetItem& one : sheet().items)
            if (one.name == name) return one;
        qWarning("no item %s", name);
        static const doc::SheetItem none;
        return none;
    }
    const doc::MapPanel& panel(const char* name) const { return *item(name).as<doc::MapPanel>(); }
    QPoint at(double x, double y) const { return canvas()->toWidget({x, y}).toPoint(); }
    QPoint middleOf(const char* name) const {
        const doc::PageRect& r = item(name).rect;
        return at(r.left + r.width / 2, r.top + r.height / 2);
    }
    void show(const char* name) {
        for (const doc::Sheet& one : document().sheets)
            if (one.name == name) workspace().showSheet(one.id);
        workspace().setBench(app::Bench::Sheet);
        QVERIFY(app::waitUntilIdle(*m_window));
    }
    void drag(QPoint from, QPoint to, Qt::KeyboardModifiers keys = Qt::AltModifier) {
        QTest::mousePress(canvas(), Qt::LeftButton, Qt::NoModifier, from);
        for (const QPoint p : {(from + to) / 2, to}) {
            QMouseEvent move(QEvent::MouseMove, p, canvas()->mapToGlobal(p), Qt::NoButton,
                             Qt::LeftButton, keys);
            QApplication::sendEvent(canvas(), &move);
        }
        QTest::mouseRelease(canvas(), Qt::LeftButton, keys, to);
    }
    void click(const char* name, Qt::KeyboardModifiers keys = Qt::NoModifier) {
        QTest::mouseClick(canvas(), Qt::LeftButton, keys, middleOf(name));
    }
    void press(Qt::Key key, Qt::KeyboardModifiers keys = Qt::NoModifier) {
        QTest::keyClick(canvas(), key, keys);
    }
    template <typename Field>
    void type(const char* name, const QString& text) {
        QTRY_VERIFY2(shown<Field>(name), name);
        auto* field = shown<Field>(name);
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, text);
        QTest::keyClick(field, Qt::Key_Return);
    }
    // By the keyboard: a box is wider than its words.
    void toggle(const char* name) {
        QTRY_VERIFY2(shown<QCheckBox>(name), name);
        QTest::keyClick(shown<QCheckBox>(name), Qt::Key_Space);
    }
    void choose(const char* name, int index) {
        QTRY_VERIFY2(shown<QComboBox>(name), name);
        auto* box = shown<QComboBox>(name);
        box->setCurrentIndex(index);
        Q_EMIT box->activated(index);
    }
    // Chooses an action of the menu that opens, by its words, through its submenus.
    void pick(const QStringList& words) {
        QTimer::singleShot(0, [words] {
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            if (!menu) return qWarning("no menu");
            QAction* found = nullptr;
            QMenu* in = menu;
            for (const QString& word : words) {
                found = nullptr;
                for (QAction* action : in->actions())
                    if (action->text().startsWith(word)) found = action;
                if (!found) {
                    qWarning("no %s", qPrintable(word));
                    break;
                }
                if (found->menu()) in = found->menu();
            }
            if (found && found->isEnabled()) found->trigger();
            menu->close();
        });
    }
    void addByMenu(const QStringList& words) {
        auto* button = shown<QPushButton>("addItem");
        QVERIFY(button);
        pick(words);
        QTest::mouseClick(button, Qt::LeftButton);
    }
    void menuOn(const char* name, const QStringList& words) {
        pick(words);
        QContextMenuEvent event(QContextMenuEvent::Mouse, middleOf(name),
                                canvas()->mapToGlobal(middleOf(name)));
        QApplication::sendEvent(canvas(), &event);
    }
};

}  // namespace ledge::test
