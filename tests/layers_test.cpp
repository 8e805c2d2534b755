#include <QDirIterator>
#include <QRegularExpression>
#include <QTest>

#include "support/places.h"

/// The folders of src include only what their layer may use; core, document and io know no Qt.
class LayersTest : public QObject {
    Q_OBJECT

private slots:
    void includesOnlyWhatItsLayerMayUse_data() {
        QTest::addColumn<QString>("layer");
        QTest::addColumn<QStringList>("allowed");
        QTest::addColumn<QString>("qt");
        QTest::newRow("core") << "core" << QStringList{"core"} << "";
        QTest::newRow("document") << "document" << QStringList{"core", "document"} << "";
        QTest::newRow("io") << "io" << QStringList{"core", "io"} << "";
        QTest::newRow("carto") << "carto" << QStringList{"core", "document", "carto"}
                               << "no widgets";
        QTest::newRow("session") << "session"
                                 << QStringList{"core", "document", "io", "carto", "session"}
                                 << "no widgets";
        QTest::newRow("demo") << "demo" << QStringList{"core", "document", "io", "session", "demo"}
                              << "";
        QTest::newRow("cli") << "cli" << QStringList{"core",    "document", "io", "carto",
                                                     "session", "demo",     "cli"}
                             << "no widgets";
        QTest::newRow("app") << "app"
                             << QStringList{"core", "document", "io", "carto", "session", "app"}
                             << "any";
    }
    void includesOnlyWhatItsLayerMayUse() {
        QFETCH(QString, layer);
        QFETCH(QStringList, allowed);
        QFETCH(QString, qt);
        static const QRegularExpression own("^.include \"([a-z]+)/",
                                            QRegularExpression::MultilineOption);
        static const QRegularExpression system("^.include <(Q[A-Za-z/]+)>",
                                               QRegularExpression::MultilineOption);
        static const QRegularExpression widgets(
            "^(QWidget|QApplication|QMainWindow|Q[A-Za-z]*(Button|Box|Label|Layout|Dialog|Edit|"
            "Menu|Slider|Area|Widget))$");
        int files = 0;
        QDirIterator it(ledge::test::kSourceFolder + QStringLiteral("/src/") + layer, {"*.h", "*.cpp"},
                        QDir::Files, QDirIterator::Subdirectories);
        while (it.hasNext()) {
            QFile file(it.next());
            QVERIFY(file.open(QIODevice::ReadOnly));
            const QString text = QString::fromUtf8(file.readAll());
            ++files;
            for (auto m = own.globalMatch(text); m.hasNext();) {
                const QString used = m.next().captured(1);
                QVERIFY2(allowed.contains(used), qPrintable(file.fileName() + " includes " + used));
            }
            for (auto m = system.globalMatch(text); m.hasNext();) {
                const QString header = m.next().captured(1);
                const bool isFine =
                    qt == "any" || (qt == "no widgets" && !widgets.match(header).hasMatch());
                QVERIFY2(isFine, qPrintable(file.fileName() + " includes " + header));
            }
        }
        QVERIFY(files > 1);
    }
};

QTEST_APPLESS_MAIN(LayersTest)
#include "layers_test.moc"
