#pragma once
#include <QApplication>
#include <QTemporaryDir>
#include <QTest>

#include "app/canvas/map_pane.h"
#include "app/main_window.h"
#include "app/picture_tour.h"
#include "support/patience.h"

namespace ledge::test {

/// The window with a project of its own, as tests drive it.
class TestWindow {
protected:
    TestWindow();
    ~TestWindow();
    /// Opens it; with a project, waits until that is drawn.
    void openWindow(const std::filesystem::path& project = {});
    /// 1280 x 800, or what LEDGE_WINDOW says, such as "1024x700".
    static QSize windowSize();
    /// Nothing that was done made the interface wait for a file.
    void closeWindow();
    void undoAll();

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
