#pragma once
#include <QApplication>
#include <QTemporaryDir>
#include <QTest>

#include "app/main_window.h"
#include "app/picture_tour.h"
#include "app/theme.h"
#include "support/patience.h"

namespace ledge::test {

/// The window with a project of its own, as tests drive it.
class TestWindow {
protected:
    /// Opens it; with a project, waits until that is drawn.
    void openWindow(const std::filesystem::path& project = {}) {
        qputenv("XDG_CONFIG_HOME", m_dir.path().toUtf8());
        app::applyTheme(*qobject_cast<QApplication*>(QCoreApplication::instance()), false);
        m_session = std::make_unique<session::Session>(m_dir.path().toStdString() + "/recovery");
        m_window = std::make_unique<app::MainWindow>(*m_session);
        m_window->resize(windowSize());
        m_window->show();
        QVERIFY(QTest::qWaitForWindowExposed(m_window.get()));
        QApplication::setActiveWindow(m_window.get());  // no window manager does it here
        if (project.empty()) return;
        m_window->openPath(QString::fromStdString(project.string()));
        QVERIFY(app::waitUntilIdle(*m_window));
        m_opened = m_session->snapshot();
    }
    /// 1280 x 800, or what LEDGE_WINDOW says, such as "1024x700".
    static QSize windowSize() {
        const QStringList said = qEnvironmentVariable("LEDGE_WINDOW", "1280x800").split('x');
        return {said.value(0).toInt(), said.value(1).toInt()};
    }
    /// Nothing that was done made the interface wait for a file.
    void closeWindow() {
        if (!m_session) return;
        QCOMPARE(m_session->sources()->waitsOfInterface(), 0);
        m_window.reset();
        m_session.reset();
    }
    void undoAll() {
        if (!m_session || !m_opened) return;
        while (m_session->history().canUndo()) m_session->undo();
        QVERIFY(document() == *m_opened);
    }

    const doc::Document& document() const { return m_session->document(); }
    app::Workspace& workspace() const { return m_window->workspace(); }
    doc::Id layer(const char* name) const { return workspace().layerNamed(name); }
    /// The one of a name that is shown; null without any.
    template <typename T>
    T* shown(const char* name) const {
        for (T* one : m_window->findChildren<T*>(name))
            if (one->isVisible()) return one;
        return nullptr;
    }

    QTemporaryDir m_dir;
    std::unique_ptr<session::Session> m_session;
    std::unique_ptr<app::MainWindow> m_window;
    doc::DocumentPtr m_opened;
};

}  // namespace ledge::test
