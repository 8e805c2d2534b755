#include <QApplication>
#include <QMainWindow>
#include <QTimer>

/// The least that a window of the toolkit costs: what the application's start is measured against.
int main(int argc, char** argv) {
    QApplication application(argc, argv);
    QMainWindow window;
    window.resize(1280, 800);
    window.show();
    QTimer::singleShot(0, &application, &QApplication::quit);
    return QApplication::exec();
}
