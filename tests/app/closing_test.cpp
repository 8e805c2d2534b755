#include <QApplication>
#include <QComboBox>
#include <QTemporaryDir>
#include <QTest>
#include <thread>

#include "app/main_window.h"
#include "app/picture_tour.h"
#include "app/theme.h"
#include "support/coarse_demo.h"

using namespace ledge;
using namespace ledge::app;

/// The window is closed while it reads, draws, classifies and writes: it goes at once, and nothing
/// that still runs touches what is gone.
class ClosingTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;

    static doc::Id layerNamed(const session::Session& session, const char* name) {
        for (const auto& layer : doc::allLayers(session.document().layers))
            if (layer->name == name) return layer->id;
        return 0;
    }

private slots:
    void initTestCase() {
        qputenv("XDG_CONFIG_HOME", m_dir.path().toUtf8());
        applyTheme(*qobject_cast<QApplication*>(QCoreApplication::instance()), false);
        test::coarseDemo();
    }

    void closesWhileBusy_data() {
        QTest::addColumn<QString>("work");
        QTest::addColumn<int>("milliseconds");
        for (const char* work : {"open", "draw", "classify", "sheet", "job", "drop"})
            for (const int milliseconds : {0, 3, 40})
                QTest::newRow(qPrintable(QString("%1 after %2 ms").arg(work).arg(milliseconds)))
                    << QString(work) << milliseconds;
    }
    void closesWhileBusy() {
        QFETCH(QString, work);
        QFETCH(int, milliseconds);
        const QString demo = QString::fromStdString(test::coarseDemo().string());
        bool isStopped = false;
        {
            session::Session session(m_dir.path().toStdString() + "/recovery");
            MainWindow window(session);
            window.resize(900, 600);
            window.show();
            QVERIFY(QTest::qWaitForWindowExposed(&window));
            window.openPath(demo);
            if (work != "open") QVERIFY(waitUntilIdle(window));
            auto& workspace = window.workspace();
            if (work == "draw") workspace.setView({{402000, 6829000}, 30000, 20});
            if (work == "classify") {
                workspace.selectLayer(layerNamed(session, "Crofts"));
                workspace.setBench(Bench::Style);
                auto* classing = window.findChild<QComboBox*>("classing");
                QVERIFY(classing);
                classing->setFocus();
                QTest::keyClick(classing, Qt::Key_Down);
            }
            if (work == "sheet") workspace.showSheet(session.document().sheets.front()->id);
            if (work == "job")
                session.jobs().start(
                    "endless",
                    [&isStopped](const Progress& progress) -> Result<void> {
                        while (!progress.stopped()) {
                            progress.at(0.5);
                            std::this_thread::sleep_for(std::chrono::milliseconds(1));
                        }
                        isStopped = true;
                        return cancelled("endless");
                    },
                    [&window](const Result<void>&) { window.setWindowTitle("done"); });
            if (work == "drop") {
                const auto folder = test::coarseDemo().parent_path().string();
                window.addFiles({QString::fromStdString(folder + "/island_dem.tif"),
                                 QString::fromStdString(folder + "/hill_paths.geojson")});
            }
            if (milliseconds > 0) QTest::qWait(milliseconds);
        }
        if (work == "job") QVERIFY(isStopped);
        // What was on its way when it closed finds nobody, and does no harm.
        QCoreApplication::processEvents();
        QVERIFY(QApplication::topLevelWidgets().isEmpty() ||
                !QApplication::topLevelWidgets().front()->isVisible());
    }
};

QTEST_MAIN(ClosingTest)
#include "closing_test.moc"
