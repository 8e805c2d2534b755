#include <QTemporaryDir>
#include <QTest>

#include "core/raster/coloured_raster.h"
#include "document/edits/light_edits.h"
#include "session/class_book.h"
#include "session/fact_book.h"
#include "session/new_layers.h"
#include "session/profiles.h"
#include "session/raster_numbers.h"
#include "session/terrain_layers.h"
#include "support/patience.h"

using namespace ledge;
using namespace ledge::session;

/// What a file looks like the moment it is added.
class LayersMadeTest : public QObject {
    Q_OBJECT

private:
    static FeatureList tableOf(GeometryType type) {
        FeatureList t;
        t.info.geometry = type;
        t.info.fields = {
            {"id", FieldType::Integer}, {"Name", FieldType::Text}, {"rank", FieldType::Integer}};
        return t;
    }

private slots:
    void countsCellsExactlyOrSaysItSampled() {
        RasterInfo info;
        info.bands = {{CellType::Float32, -1.0, "metre"}};
        Grid<float> cells(1500, 2000);
        for (std::size_t r = 0; r < 1500; ++r)
            for (std::size_t c = 0; c < 2000; ++c) cells(r, c) = static_cast<float>(c) / 2;
        cells(10, 10) = std::numeric_limits<float>::quiet_NaN();
        cells(700, 3) = 2500;  // one spike, which means smooth away
        const auto raster = std::make_shared<MemoryRaster>(info, std::move(cells));
        const Pyramid pyramid(raster, 0);
        const auto rough = sampledNumbers(pyramid, 16, {});
        QVERIFY(rough && rough->isSampled);
        QVERIFY(rough->statistics.max < 2500);
        QVERIFY(std::abs(rough->statistics.mean - 500) < 1);
        QVERIFY(numbersText(*rough, "m").find("sampled") != std::string::npos);
        const auto exact = exactNumbers(*raster, 0, 16, {});
        QVERIFY(exact && !exact->isSampled);
        QCOMPARE(exact->statistics.max, 2500.0);
        QCOMPARE(exact->statistics.missing, std::int64_t{1});
        std::int64_t sum = 0;
        for (const auto n : exact->histogram.counts) sum += n;
        QCOMPARE(sum, std::int64_t{1500 * 2000 - 1});
        QVERIFY(numbersText(*exact, "m").find("sampled") == std::string::npos);
        Grid<float> none(3, 3, std::numeric_limits<float>::quiet_NaN());
        const MemoryRaster empty(info, std::move(none));
        QCOMPARE(numbersText(*exactNumbers(empty, 0, 16, {}), ""),
                 std::string("No cell holds data."));
    }

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
        QVERIFY(points.labels[0].isOn);
        QCOMPARE(points.labels[0].text, std::string("Name"));
        QCOMPARE(points.labels[0].rank, std::string("rank"));
        QVERIFY(!defaultVectorLayer(tableOf(GeometryType::Polygon), "x", 0).labels[0].isOn);
        FeatureList bare;
        bare.info.geometry = GeometryType::Point;
        QVERIFY(!defaultVectorLayer(bare, "x", 0).labels[0].isOn);
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

    void makesPicturesOfColourBandsAndClassesOfBytes() {
        QTemporaryDir dir;
        const std::string folder = dir.path().toStdString();
        RasterInfo info;
        info.crs = *crs::crsFromCode(32629);
        info.toWorld = {10, 0, 500000, 0, -10, 6800000};
        info.bands = {{CellType::UInt8, {}, ""}};
        Grid<float> cells(40, 50);
        for (std::size_t i = 0; i < cells.cells().size(); ++i) cells.cells()[i] = float(i % 3 + 4);
        const MemoryRaster classes(info, cells);
        QVERIFY(io::writeRaster(classes, folder + "/classes.tif", {}, {}).has_value());
        SourceCache cache;
        const auto made = newLayersFor(folder + "/classes.tif", cache, 0, {});
        QVERIFY(made.has_value());
        const auto& style = made->front().layers.front().as<doc::RasterLayer>()->style;
        QCOMPARE(style.classes.size(), std::size_t{3});
        QCOMPARE(style.classes[0].value, 4.0);
        QCOMPARE(style.classes[0].count + style.classes[1].count + style.classes[2].count,
                 std::int64_t{2000});
        const auto colours =
            colouredRaster(std::make_shared<MemoryRaster>(classes), 0, rampOf("stone", 4, 6));
        QVERIFY(io::writeRaster(*colours, folder + "/colours.tif", {}, {}).has_value());
        const auto picture = newLayersFor(folder + "/colours.tif", cache, 0, {});
        QVERIFY(picture->front().layers.front().as<doc::RasterLayer>()->style.image.has_value());
        // Areas are counted cell by cell, on the ellipsoid: at this meridian k = 0.9996.
        const auto areas = readClassAreas(cache, made->front().source, 0, {});
        QVERIFY(areas.has_value());
        QCOMPARE(areas->size(), std::size_t{3});
        const double wanted = 100 / 0.9996 / 0.9996 * double(style.classes[0].count);
        QVERIFY2(std::abs(areas->at(4) / wanted - 1) < 1e-6,
                 qPrintable(QString::number(areas->at(4) / wanted - 1)));
    }

    void leadsASourceToAnotherFileOfItsKind() {
        QTemporaryDir dir;
        const std::string folder = dir.path().toStdString();
        RasterInfo info;
        info.toWorld = {10, 0, 500000, 0, -10, 6800000};
        const MemoryRaster raster(info, Grid<float>(5, 5, 1.0F));
        for (const char* name : {"/old.tif", "/new.tif"})
            QVERIFY(io::writeRaster(raster, folder + name, {}, {}).has_value());
        FeatureList ways;
        ways.info.name = "ways";
        ways.features = {{1, Geometry::line({{0, 0}, {1, 1}}), {}}};
        QVERIFY(io::writeTable(ways, folder + "/ways.gpkg", {}).has_value());
        const SourceCache cache;
        doc::SourceRef source;
        source.id = 7;
        source.name = "DEM";
        source.heightUnit = doc::HeightUnit::Foot;
        source.path = folder + "/old.tif";
        const auto led = ledTo(source, folder + "/new.tif", cache, {});
        QVERIFY(led.has_value());
        QCOMPARE(led->id, doc::Id{7});
        QCOMPARE(led->path, std::filesystem::path(folder + "/new.tif"));
        QVERIFY(led->heightUnit == doc::HeightUnit::Foot);
        const auto wrong = ledTo(source, folder + "/ways.gpkg", cache, {});
        QVERIFY(!wrong && !wrong.error().mend.empty());
        QVERIFY(!ledTo(source, folder + "/nowhere.tif", cache, {}));
        source.path = folder + "/ways.gpkg";
        QVERIFY(!ledTo(source, folder + "/new.tif", cache, {}));
    }

    void turnsLightsAcrossLines() {
        const std::vector<Point> east{{0, 0}, {10, 0}}, northEast{{0, 0}, {5, 5}};
        QCOMPARE(lightAcross(east, {90, 30}), (terrain::Light{0, 30}));
        QCOMPARE(lightAcross(northEast, {90, 30}), (terrain::Light{315, 30}));
        QCOMPARE(lightAcross(std::vector<Point>{{1, 1}}, {90, 30}), (terrain::Light{90, 30}));
        QCOMPARE(doc::lightName({315, 40}), std::string("Light 315/40"));
        QCOMPARE(doc::lightName({315, 40}, "Sun"), std::string("Sun 315/40"));
    }

    void runsProfilesOverSeveralSurfaces() {
        QTemporaryDir dir;
        const std::string folder = dir.path().toStdString();
        RasterInfo info;
        info.crs = *crs::crsFromCode(32629);
        info.toWorld = {10, 0, 500000, 0, -10, 6800000};
        Grid<float> rising(100, 100), flat(100, 100, 328.0839895F);
        for (std::size_t r = 0; r < 100; ++r)
            for (std::size_t c = 0; c < 100; ++c) rising(r, c) = float(c);
        QVERIFY(io::writeRaster(MemoryRaster(info, rising), folder + "/a.tif", {}, {}).has_value());
        QVERIFY(io::writeRaster(MemoryRaster(info, flat), folder + "/b.tif", {}, {}).has_value());
        doc::Document d;
        for (const char* name : {"a", "b"}) {
            doc::SourceRef source;
            source.id = d.nextId++;
            source.name = name;
            source.path = folder + "/" + name + ".tif";
            if (source.name == "b") source.heightUnit = doc::HeightUnit::Foot;
            d.sources.push_back(source);
        }
        doc::SavedProfile profile;
        profile.crs = "EPSG:32629";
        profile.line = {{500105, 6799500}, {500805, 6799500}};
        profile.sources = {1, 2, 99};
        const SourceCache cache;
        const auto runs = carto::runProfile(d, cache, profile, {});
        QVERIFY(runs.has_value());
        QCOMPARE(runs->size(), std::size_t{2});
        QVERIFY(std::abs((*runs)[0].summary.ascent - 70) < 0.01);
        QVERIFY(std::abs((*runs)[1].summary.highest - 100) < 0.001);  // feet became metres
        QCOMPARE((*runs)[0].points.size(), (*runs)[1].points.size());
        const std::string csv = profileCsv(*runs, *crs::crsFromCode(32629));
        QVERIFY2(csv.starts_with("distance_m,x (EPSG:32629),y (EPSG:32629),a_m,b_m\n0,500105,"),
                 csv.c_str());
        // No more decimals than are meant.
        QRegularExpression long3("\\.\\d{3}");
        QVERIFY(!QString::fromStdString(csv).contains(long3));
        const auto& sum = (*runs)[0].summary;
        const auto heightAt = [&](double along) {
            for (const auto& p : (*runs)[0].points)
                if (p.distance >= along) return p.height;
            return kNaN;
        };
        QCOMPARE(heightAt(sum.highestAt), sum.highest);
        QCOMPARE(heightAt(sum.lowestAt), sum.lowest);
        QCOMPARE(std::count(csv.begin(), csv.end(), '\n'),
                 std::ptrdiff_t((*runs)[0].points.size()) + 1);
        const Point middle = positionAt((*runs)[0], (*runs)[0].summary.length / 2);
        QVERIFY(std::abs(middle.x - 500455) < 15);
        QVERIFY(std::abs(distanceNear((*runs)[0], middle) - (*runs)[0].summary.length / 2) < 15);
        profile.sources = {99};
        QVERIFY(!carto::runProfile(d, cache, profile, {}));
    }

    void tellsFactsOfGoodAndBadSources() {
        QTemporaryDir dir;
        FeatureList t;
        t.info.name = "ways";
        t.info.crs = *crs::crsFromCode(32629);
        t.features = {{1, Geometry::line({{0, 0}, {1, 1}}), {}}};
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
        FeatureList t;
        t.features = {{1, Geometry::point({1, 1}), {}}};
        QVERIFY(io::writeTable(t, path, {}).has_value());
        const SourceCache cache;
        doc::SourceRef source;
        source.path = path;
        QCOMPARE((*cache.table(source))->size(), std::size_t{1});
        t.features.push_back({2, Geometry::point({2, 2}), {}});
        QVERIFY(io::writeTable(t, path, {}).has_value());
        std::filesystem::last_write_time(path, std::filesystem::last_write_time(path) +
                                                   std::chrono::seconds(2));
        QCOMPARE((*cache.table(source))->size(), std::size_t{2});
        source.layer = "wrong";
        QVERIFY(!cache.table(source));
        QVERIFY(!cache.raster(source));
    }
};

QTEST_GUILESS_MAIN(LayersMadeTest)
#include "layers_made_test.moc"
