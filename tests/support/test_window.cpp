#include "support/test_window.h"

#include "app/theme.h"

namespace ledge::test {

TestWindow::TestWindow() = default;
TestWindow::~TestWindow() = default;

void TestWindow::openWindow(const std::filesystem::path& project) {
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

QSize TestWindow::windowSize() {
    const QStringList said = qEnvironmentVariable("LEDGE_WINDOW", "1280x800").split('x');
    return {said.value(0).toInt(), said.value(1).toInt()};
}

void TestWindow::closeWindow() {
    if (!m_session) return;
    QCOMPARE(m_session->sources()->waitsOfInterface(), 0);
    m_window.reset();
    m_session.reset();
}

void TestWindow::undoAll() {
    if (!m_session || !m_opened) return;
    while (m_session->history().canUndo()) m_session->undo();
    QVERIFY(document() == *m_opened);
}

}  // namespace ledge::test
