#include <QApplication>
#include <QCommandLineParser>
#include <QScreen>
#include <QSettings>
#include <QTimer>
#include <csignal>

#include "app/canvas/map_pane.h"
#include "app/main_window.h"
#include "app/picture_tour.h"
#include "app/theme.h"
#include "core/raster/block_cache.h"

int main(int argc, char** argv) {
    std::signal(SIGXFSZ, SIG_IGN);  // a file that may not grow is an error of writing
    QApplication application(argc, argv);
    QApplication::setApplicationName("indigo-ledge");
    QApplication::setOrganizationName("indigo-ledge");
    QApplication::setApplicationDisplayName("Indigo Ledge");
    QApplication::setApplicationVersion(LEDGE_VERSION);
    QCommandLineParser parser;
    parser.setApplicationDescription(QObject::tr("Maps from elevation models and vector data"));
    parser.addHelpOption();
    parser.addVersionOption();
    const QCommandLineOption dark("dark", QObject::tr("Dark theme"));
    const QCommandLineOption pictures(
        "pictures", QObject::tr("Write pictures of the main views into a folder and quit"),
        "folder");
    const QCommandLineOption quitWhen(
        "quit-when",
        QObject::tr("Quit as soon as the window is usable, or its map drawn; for timing"),
        "usable|drawn");
    parser.addOptions({dark, pictures, quitWhen});
    parser.addPositionalArgument("files", QObject::tr("A project, or data to add"), "[files…]");
    parser.process(application);
    ledge::app::applyTheme(application, parser.isSet(dark));

    const int megabytes = QSettings().value("raster_cache_mb", 0).toInt();
    if (megabytes > 0)
        ledge::BlockCache::shared().setLimit(static_cast<std::size_t>(megabytes) << 20);
    ledge::session::Session session;
    ledge::app::MainWindow window(session);
    // With room for the frame that the desktop puts around it.
    const QSize screen = window.screen()->availableGeometry().size() - QSize(8, 40);
    window.resize(QSize(1280, 800).boundedTo(screen).expandedTo(window.minimumSize()));
    window.show();
    for (const QString& path : parser.positionalArguments()) window.openPath(path);
    if (parser.isSet(pictures))
        return ledge::app::takePictures(window, parser.value(pictures)) ? 0 : 1;
    if (parser.value(quitWhen) == "usable")
        QTimer::singleShot(0, &application, &QApplication::quit);
    if (parser.value(quitWhen) == "drawn")
        QObject::connect(window.map(), &ledge::app::MapPane::drawn, &application,
                         &QApplication::quit);
    if (!parser.isSet(quitWhen)) window.guard().offerRecovery();
    return QApplication::exec();
}
