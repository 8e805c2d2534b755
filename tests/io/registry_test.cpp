#include <QTemporaryDir>
#include <QTest>
#include <fstream>
#include <set>

#include "io/registry.h"

using namespace ledge;
using namespace ledge::io;

namespace {
FeatureTable someFeatures() {
    FeatureList list;
    list.info.name = "fields";
    list.info.crs = *crs::crsFromCode(32629);
    list.info.geometry = GeometryType::Polygon;
    list.info.fields = {{"name", FieldType::Text}};
    list.features = {
        {1,
         Geometry::polygon(
             {{{500000, 6800000}, {500100, 6800000}, {500100, 6800100}, {500000, 6800000}}}),
         {std::string("one")}}};
    return FeatureTable(std::move(list));
}

FeatureTable somePoints() {
    FeatureList list;
    list.info.name = "marks";
    list.info.crs = *crs::crsFromCode(32629);
    list.info.geometry = GeometryType::Point;
    list.info.fields = {{"name", FieldType::Text}};
    list.features = {{1, Geometry::point({500000, 6800000}), {std::string("one")}}};
    return FeatureTable(std::move(list));
}

std::shared_ptr<MemoryRaster> someCells() {
    RasterInfo info;
    info.crs = *crs::crsFromCode(32629);
    info.toWorld = {10, 0, 500000, 0, -10, 6800000};
    Grid<float> z(20, 30, 7.0F);
    z(3, 4) = 12;
    return std::make_shared<MemoryRaster>(info, std::move(z));
}
}  // namespace

/// The table of formats: what each row says is so.
class RegistryTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;
    std::filesystem::path at(const std::string& name) const {
        return m_dir.path().toStdString() + "/" + name;
    }

private slots:
    void namesEachSuffixOnce() {
        std::set<std::string> seen;
        for (const Format& format : formats()) {
            QVERIFY(!format.name.empty() && !format.suffixes.empty());
            QVERIFY(format.isFormatOf && format.open);
            for (const auto suffix : format.suffixes) {
                QVERIFY(suffix.starts_with('.'));
                QVERIFY2(seen.insert(std::string(suffix)).second, std::string(suffix).c_str());
                QVERIFY(format.has(suffix));
            }
        }
        QCOMPARE(suffixes().size(), seen.size());
        for (const auto kind : {Writes::Tables, Writes::Rasters})
            for (const std::string& suffix : suffixes(kind)) QVERIFY(seen.contains(suffix));
        QVERIFY(suffixWords(Writes::Tables).find(" or ") != std::string::npos);
        QVERIFY(formatWords().find("GeoPackage") != std::string::npos);
    }

    // Whatever says that it writes is read again, by its content even under another name.
    void readsWhatItWrites_data() {
        QTest::addColumn<QString>("suffix");
        for (const Format& format : formats())
            if (format.writeTable || format.writeRaster)
                for (const auto suffix : format.suffixes)
                    QTest::newRow(std::string(suffix).c_str())
                        << QString::fromStdString(std::string(suffix));
    }
    void readsWhatItWrites() {
        QFETCH(QString, suffix);
        const auto path = at("made" + suffix.toStdString());
        const bool isTable = writesVector(path);
        const FeatureTable table = suffix == ".gpx" ? somePoints() : someFeatures();
        QVERIFY(isTable != writesRaster(path));
        const auto done =
            isTable ? writeTable(table, path, {}) : writeRaster(*someCells(), path, {}, {});
        // Pictures hold bytes, which these heights are not.
        if (!done && !isTable) {
            QVERIFY(suffix == ".png" || suffix.startsWith(".jp"));
            QVERIFY(!std::filesystem::exists(path));
            return;
        }
        QVERIFY2(done.has_value(), done ? "" : done.error().text().c_str());
        const auto opened = openSource(path);
        QVERIFY2(opened.has_value(), opened ? "" : opened.error().text().c_str());
        QCOMPARE(std::holds_alternative<FeatureSourcePtr>(*opened), isTable);
        if (isTable) {
            const auto back = readAll(*std::get<FeatureSourcePtr>(*opened), 0);
            QVERIFY(back && (*back)->size() == 1);
            const int name = (*back)->fieldIndex("name");
            QVERIFY(name >= 0);
            QCOMPARE(exactText((*back)->value(0, static_cast<std::size_t>(name))),
                     std::string("one"));
        } else {
            QCOMPARE(std::get<RasterPtr>(*opened)->info().width, std::int64_t{30});
        }
        const auto upper = at("MADE" + suffix.toUpper().toStdString());
        QCOMPARE(writesVector(upper), isTable);
    }

    void refusesOthersInWords_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QByteArray>("content");
        QTest::addColumn<QString>("said");
        const auto row = [](const char* name, const QByteArray& content, const char* said) {
            QTest::newRow(name) << name << content << said;
        };
        row("empty.tif", "", "empty");
        row("letter.txt", "Dear all,", "not a format");
        row("letter.gpkg", "Dear all,", "content is not what its suffix says");
        row("roads.dbf", "\x03xyz", "open the .shp");
        row("roads.prj", "PROJCS[]", ".asc, .dxf or .csv of the same name");
        row("roads.cpg", "UTF-8", "open the .shp");
        row("roads.shx", QByteArray("\0\0\x27\x0a", 4) + QByteArray(100, '\0'), "open the .shp");
        row("grid.hdr", "BYTEORDER I", "open the .flt");
        row("N61W007.hgt", "short", "");
        row("broken.geojson", "{\"type\":", "");
        row("broken.tif", QByteArray("II*\0\xff\xff\xff\x7f", 8), "");
    }
    void refusesOthersInWords() {
        QFETCH(QString, name);
        QFETCH(QByteArray, content);
        QFETCH(QString, said);
        const auto path = at(name.toStdString());
        std::ofstream(path, std::ios::binary).write(content.constData(), content.size());
        const auto opened = openSource(path);
        QVERIFY(!opened);
        const QString text = QString::fromStdString(opened.error().text());
        QVERIFY2(text.contains(said), qPrintable(text));
        QVERIFY(text.contains(name));
        QVERIFY(!opened.error().mend.empty());
    }
    void refusesToWriteWhatItCannot() {
        const auto table = writeTable(someFeatures(), at("x.tif"), {});
        QVERIFY(!table && table.error().mend.find(".gpkg") != std::string::npos);
        const auto raster = writeRaster(*someCells(), at("x.gpkg"), {}, {});
        QVERIFY(!raster && raster.error().mend.find(".tif") != std::string::npos);
        QVERIFY(!writeTable(someFeatures(), at("none"), {}));
        QVERIFY(!std::filesystem::exists(at("x.tif")) && !std::filesystem::exists(at("none")));
        QVERIFY(!openSource(at("nowhere.tif")) && !openSource(m_dir.path().toStdString()));
    }
};

QTEST_GUILESS_MAIN(RegistryTest)
#include "registry_test.moc"
