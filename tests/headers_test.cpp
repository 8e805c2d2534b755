#include <QDirIterator>
#include <QRegularExpression>
#include <QTest>
#include <map>
#include <set>

#include "support/places.h"

/// What a header of src brings in is read again by every file that includes it. So none brings in
/// much, and libraries that are slow to compile stay in the folders that are about them.
class HeadersTest : public QObject {
    Q_OBJECT

private:
    struct File {
        qsizetype lines = 0;
        QStringList own, system;
    };
    struct Reached {
        qsizetype lines = 0;
        std::set<QString> system;
    };
    std::map<QString, File> m_files;  ///< by path below src

    Reached reachedFrom(const QString& path) const {
        Reached out;
        std::set<QString> seen;
        QStringList next{path};
        while (!next.empty()) {
            const QString one = next.takeLast();
            const auto found = m_files.find(one);
            if (found == m_files.end() || !seen.insert(one).second) continue;
            out.lines += found->second.lines;
            out.system.insert(found->second.system.begin(), found->second.system.end());
            next += found->second.own;
        }
        return out;
    }

private slots:
    void initTestCase() {
        static const QRegularExpression include("^.include ([<\"])([^>\"]+)[>\"]",
                                                QRegularExpression::MultilineOption);
        const QString folder = ledge::test::kSourceFolder + QStringLiteral("/src/");
        QDirIterator it(folder, {"*.h", "*.cpp"}, QDir::Files, QDirIterator::Subdirectories);
        while (it.hasNext()) {
            QFile file(it.next());
            QVERIFY(file.open(QIODevice::ReadOnly));
            const QString text = QString::fromUtf8(file.readAll());
            File& one = m_files[file.fileName().mid(folder.size())];
            one.lines = text.count('\n');
            for (auto m = include.globalMatch(text); m.hasNext();) {
                const auto found = m.next();
                (found.captured(1) == "<" ? one.system : one.own) << found.captured(2);
            }
        }
        QVERIFY(m_files.size() > 500);
        for (const auto& [path, file] : m_files)
            for (const QString& own : file.own)
                QVERIFY2(m_files.contains(own),
                         qPrintable(path + " includes " + own + ", which is not there"));
    }

    void keepsLibrariesApart_data() {
        QTest::addColumn<QString>("library");
        QTest::addColumn<QStringList>("homes");
        QTest::newRow("JSON") << "nlohmann/" << QStringList{"document/json/"};
        QTest::newRow("JSON, fast") << "simdjson" << QStringList{"io/geojson/"};
        QTest::newRow("XML") << "pugixml" << QStringList{"io/xml/", "io/gml/", "session/sld_"};
        QTest::newRow("SQLite") << "sqlite3" << QStringList{"io/geopackage/"};
        QTest::newRow("TIFF") << "tiff" << QStringList{"io/geotiff/"};
        QTest::newRow("arguments") << "CLI/" << QStringList{"cli/"};
        QTest::newRow("geometry") << "boost/" << QStringList{"core/derive/detail/"};
        for (const char* nowhere : {"unicode/", "qpdf/", "zip.h", "png.h", "jpeglib.h", "zlib.h",
                                    "zstd.h", "regex", "iostream"})
            QTest::newRow(nowhere) << nowhere << QStringList{};
    }
    void keepsLibrariesApart() {
        QFETCH(QString, library);
        QFETCH(QStringList, homes);
        int users = 0;
        for (const auto& [path, file] : m_files) {
            const auto isOf = [&](const QString& name) { return name.startsWith(library); };
            users += std::ranges::any_of(file.system, isOf);
            const bool isAtHome = std::ranges::any_of(
                homes, [&](const QString& home) { return path.startsWith(home); });
            // A file of code may use it for itself, a header may not hand it on.
            if (isAtHome || path.endsWith(".cpp")) continue;
            const Reached reached = reachedFrom(path);
            QVERIFY2(std::ranges::none_of(reached.system, isOf),
                     qPrintable(path + " brings in <" + library + "…>"));
        }
        QVERIFY2(users > 0, "nothing uses it any more");
    }

    void bringsInLittle_data() {
        QTest::addColumn<QString>("layer");
        QTest::addColumn<int>("most");
        QTest::newRow("core") << "core" << 1800;
        QTest::newRow("io") << "io" << 1800;
        QTest::newRow("document") << "document" << 4500;
        QTest::newRow("carto") << "carto" << 4700;
        QTest::newRow("session") << "session" << 5200;
        QTest::newRow("demo") << "demo" << 3300;
        QTest::newRow("cli") << "cli" << 4200;
        QTest::newRow("app") << "app" << 6600;
    }
    void bringsInLittle() {
        QFETCH(QString, layer);
        QFETCH(int, most);
        int headers = 0;
        for (const auto& [path, file] : m_files) {
            if (!path.startsWith(layer + "/") || !path.endsWith(".h")) continue;
            ++headers;
            const Reached reached = reachedFrom(path);
            QVERIFY2(reached.lines <= most,
                     qPrintable(QString("%1 brings in %2 lines of ours: more than %3. Declare "
                                        "classes instead of including them.")
                                    .arg(path)
                                    .arg(reached.lines)
                                    .arg(most)));
        }
        QVERIFY(headers > 1);
    }
};

QTEST_APPLESS_MAIN(HeadersTest)
#include "headers_test.moc"
