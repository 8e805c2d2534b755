#include <QTemporaryDir>
#include <QTest>

#include "session/fact_book.h"
#include "session/new_layers.h"

using namespace ledge;
using namespace ledge::session;

/// What a file looks like the moment it is added.
class LayersMadeTest : public QObject {
    Q_OBJECT

private:
    static FeatureTable tableOf(GeometryType type) {
        FeatureTable t;
        t.info.geometry = type;
        t.info.fields = {
            {"id", FieldType::Integer}, {"Name", FieldType::Text}, {"rank", FieldType::Integer}};
        return t;
    }

private slots:
    void readsMuchFromAName_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<int>("dash");
        QTest::addColumn<bool>("isBlue");
        QTest::newRow("water") << "Mountain streams" << int(doc::Dash::Solid) << true;
        QTest::newRow("path") << "hill_paths_2031" << int(doc::Dash::Dashes) << false;
        QTest::newRow("boundary") << "District boundaries" << int(doc::Dash::DashDot) << false;
        QTest::newRow("road") << "ROADS" << int(doc::Dash::Solid) << false;
        QTest::newRow("nothing") << "xyz" << int(doc::Dash::Solid) << false;
    }
    void readsMuchFromAName() {
        QFETCH(QString, name);
        QFETCH(int, dash);
        QFETCH(bool, isBlue);
        const auto layer = defaultVectorLayer(tableOf(GeometryType::Line), name.toStdString(), 2);
        QCOMPARE(int(layer.style.look.dash), dash);
        const Colour c = layer.style.look.stroke;
        QCOMPARE(c.b > c.r + 40, isBlue);
    }

    void givesUnknownLayersHuesInSuccession() {
        const auto colourOf = [](std::size_t hue) {
            return defaultVectorLayer(tableOf(GeometryType::Polygon), "x", hue).style.look.fill;
        };
        for (std::size_t i = 1; i < 8; ++i)
            QVERIFY(colourDistance(colourOf(i), colourOf(i - 1)) > 4);
        QCOMPARE(colourOf(3), colourOf(3));
    }

    void labelsPointsThatHaveNames() {
        const auto points = defaultVectorLayer(tableOf(GeometryType::Point), "x", 0);
        QVERIFY(points.labels.isOn);
        QCOMPARE(points.labels.field, std::string("Name"));
        QCOMPARE(points.labels.rankField, std::string("rank"));
        QVERIFY(!defaultVectorLayer(tableOf(GeometryType::Polygon), "x", 0).labels.isOn);
        FeatureTable bare;
        bare.info.geometry = GeometryType::Point;
        QVERIFY(!defaultVectorLayer(bare, "x", 0).labels.isOn);
    }

    void takesFloatsForHeightsAndBytesForPictures() {
        RasterInfo info;
        info.bands = {{CellType::Float32, {}, ""}};
        QVERIFY(looksLikeHeights(info));
        info.bands = {{CellType::UInt8, {}, ""}};
        QVERIFY(!looksLikeHeights(info));
        info.bands = {{CellType::Int16, {}, ""}, {CellType::Int16, {}, ""}};
        QVERIFY(!looksLikeHeights(info));
    }

    void tellsFactsOfGoodAndBadSources() {
        QTemporaryDir dir;
        FeatureTable t;
        t.info.name = "ways";
        t.info.crs = *crs::crsFromCode(32629);
        t.features = {{1, Geometry::line({{0, 0}, {1, 1}}), {}}};
        t.refreshInfo();
        doc::SourceRef good, bad;
        good.id = 1, bad.id = 2;
        good.path = dir.path().toStdString() + "/ways.gpkg";
        bad.path = dir.path().toStdString() + "/nothing.tif";
        QVERIFY(io::writeTable(t, good.path, {}).has_value());
        FactBook book(std::make_shared<SourceCache>());
        QVERIFY(book.facts(good) == nullptr);  // still reading
        QTRY_VERIFY(book.facts(good) != nullptr);
        QCOMPARE(book.facts(good)->kind, std::string("1 line"));
        QCOMPARE(book.facts(good)->crs, std::string("UTM 29N · m"));
        QTRY_VERIFY(book.facts(bad) != nullptr);
        QVERIFY(book.facts(bad)->problem.find("no such file") != std::string::npos);
        good.declaredCrs = "EPSG:3857";
        QTRY_VERIFY(book.facts(good) != nullptr);
        QCOMPARE(book.facts(good)->definition->code, 3857);
    }

    void readsAFileAnewWhenItChanged() {
        QTemporaryDir dir;
        const std::filesystem::path path = dir.path().toStdString() + "/a.geojson";
        FeatureTable t;
        t.features = {{1, Geometry::point({1, 1}), {}}};
        QVERIFY(io::writeTable(t, path, {}).has_value());
        const SourceCache cache;
        doc::SourceRef source;
        source.path = path;
        QCOMPARE((*cache.table(source))->features.size(), std::size_t{1});
        t.features.push_back({2, Geometry::point({2, 2}), {}});
        QVERIFY(io::writeTable(t, path, {}).has_value());
        std::filesystem::last_write_time(path, std::filesystem::last_write_time(path) +
                                                   std::chrono::seconds(2));
        QCOMPARE((*cache.table(source))->features.size(), std::size_t{2});
        source.layer = "wrong";
        QVERIFY(!cache.table(source));
        QVERIFY(!cache.raster(source));
    }
};

QTEST_GUILESS_MAIN(LayersMadeTest)
#include "layers_made_test.moc"
