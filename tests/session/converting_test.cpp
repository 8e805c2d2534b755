#include <QTemporaryDir>
#include <QTest>
#include <thread>

#include "core/base/pipe.h"
#include "core/base/random.h"
#include "core/crs/catalogue.h"
#include "session/converting.h"

using namespace ledge;
using namespace ledge::session;
namespace fs = std::filesystem;

/// Layers that go through a conversion part by part come out as those that are converted whole.
class ConvertingTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;
    fs::path path(const char* name) const { return fs::path(m_dir.path().toStdString()) / name; }

    // More rows than two parts hold; every seventh without geometry, keys with gaps.
    static FeatureTable scattered(std::size_t rows) {
        Random random(11);
        FeatureList list;
        list.info.name = "plots";
        list.info.geometry = GeometryType::Polygon;
        list.info.crs = *crs::crsFromCode(32629);
        list.info.fields = {
            {"name", FieldType::Text}, {"n", FieldType::Integer}, {"v", FieldType::Real}};
        for (std::size_t i = 0; i < rows; ++i) {
            const Point at{400000 + 90000 * random.unit(), 6800000 + 90000 * random.unit()};
            list.features.push_back(
                {static_cast<FeatureKey>(3 * i + 5),
                 i % 7 == 0 ? Geometry()
                            : Geometry::polygon({{at, at + Point{40, 0}, at + Point{40, 30}, at}}),
                 {i % 5 == 0 ? Value() : Value("plot " + std::to_string(i % 41)),
                  static_cast<std::int64_t>(i), random.unit()}});
        }
        return FeatureTable(std::move(list));
    }
    static Result<TablePtr> readBack(const fs::path& file) {
        const auto source = io::openSource({file});
        if (!source) return source.error();
        return readAll(*std::get<FeatureSourcePtr>(*source), 0);
    }
    static FeatureSourcePtr opened(const fs::path& file) {
        return std::get<FeatureSourcePtr>(*io::openSource({file}));
    }
    static bool areAlike(const FeatureTable& a, const FeatureTable& b) {
        if (a.size() != b.size() || a.info.fields.size() != b.info.fields.size()) return false;
        if (!crs::isSame(a.info.crs, b.info.crs) || a.info.geometry != b.info.geometry)
            return false;
        for (std::size_t i = 0; i < a.size(); ++i) {
            if (a.key(i) != b.key(i) || !(a.geometry(i).toGeometry() == b.geometry(i).toGeometry()))
                return false;
            for (std::size_t k = 0; k < a.info.fields.size(); ++k)
                if (!(a.value(i, k) == b.value(i, k))) return false;
        }
        return true;
    }

private slots:
    void initTestCase() {
        QVERIFY(io::writeTable(scattered(70000), path("plots.gpkg"), {}).has_value());
    }

    void pipesKeepTheirOrder() {
        Pipe<int> pipe(3);
        std::jthread giver([&] {
            for (int i = 0; i < 1000; ++i) QVERIFY(pipe.put(i));
            pipe.end();
        });
        for (int i = 0; i < 1000; ++i) QCOMPARE(pipe.take(), std::optional(i));
        QVERIFY(!pipe.take());
        QVERIFY(!pipe.put(1));
        // Whoever waits to put is let go when nobody takes any more.
        Pipe<int> full(1);
        QVERIFY(full.put(1));
        std::jthread waits([&] { QVERIFY(!full.put(2)); });
        full.end();
    }

    void comesOutAsConvertedWhole_data() {
        QTest::addColumn<int>("code");
        QTest::newRow("as it is") << 0;
        QTest::newRow("another projection") << 3035;
        QTest::newRow("degrees") << 4326;
    }
    void comesOutAsConvertedWhole() {
        QFETCH(int, code);
        const crs::CrsPtr to = code == 0 ? nullptr : *crs::crsFromCode(code);
        const auto source = opened(path("plots.gpkg"));
        QVERIFY(convertsInParts(*source, 0, path("plots.gpkg"), path("out.gpkg")));
        Converting how;
        how.to = to;
        const auto told = convertInParts(*source, 0, how, path("out.gpkg"), {});
        QVERIFY2(told, told ? "" : told.error().text().c_str());
        QVERIFY(told->empty());
        const auto whole = readAll(*source, 0);
        FeatureTable wanted = **whole;
        if (to) wanted = globe::reprojected(**whole, to)->table;
        const auto got = readBack(path("out.gpkg"));
        QVERIFY(got.has_value());
        QVERIFY(areAlike(wanted, **got));
        QCOMPARE((*got)->info.extent.xMin, wanted.info.extent.xMin);
        QCOMPARE((*got)->info.extent.yMax, wanted.info.extent.yMax);
        fs::remove(path("out.gpkg"));
    }
    void keepsColumnsAndAnExtent() {
        const auto source = opened(path("plots.gpkg"));
        Converting how;
        how.columns = {{"v", "name"}};
        how.extent = {400000, 6800000, 445000, 6890000};
        QVERIFY(convertInParts(*source, 0, how, path("some.gpkg"), {}).has_value());
        const auto got = readBack(path("some.gpkg"));
        QVERIFY(got.has_value());
        QCOMPARE((*got)->info.fields.size(), std::size_t{2});
        const auto wanted = (*readAll(*source, 0))->filtered([&](const FeatureView& f) {
            return f.geometry.box().intersects(how.extent);
        });
        QVERIFY(wanted.size() > 20000 && wanted.size() < 40000);
        QCOMPARE((*got)->size(), wanted.size());
        QCOMPARE((*got)->key(9), wanted.key(9));
    }
    void tellsWhatLiesOutside() {
        const auto source = opened(path("plots.gpkg"));
        Converting how;
        how.from = *crs::crsFromCode(4326);  // wrongly: no degrees are so large
        how.to = *crs::crsFromCode(32629);
        const auto told = convertInParts(*source, 0, how, path("none.gpkg"), {});
        QVERIFY(!told);
        QVERIFY2(told.error().text().find("none of its features") != std::string::npos,
                 told.error().text().c_str());
        QVERIFY(!fs::exists(path("none.gpkg")));
        Converting strict = how;
        strict.how.isStrict = true;
        const auto refused = convertInParts(*source, 0, strict, path("none.gpkg"), {});
        // Of all features, not of a part.
        QVERIFY(!refused && refused.error().text().find("of 70000 features") != std::string::npos);
        QVERIFY(!fs::exists(path("none.gpkg")));
    }
    void leavesNothingWhenStopped() {
        const auto source = opened(path("plots.gpkg"));
        std::stop_source stop;
        Converting how;
        how.to = *crs::crsFromCode(3035);
        const Progress progress{stop.get_token(), [&](double share) {
                                    if (share > 0.6) stop.request_stop();
                                }};
        const auto told = convertInParts(*source, 0, how, path("stopped.gpkg"), progress);
        QVERIFY(!told && told.error().code == ErrorCode::Cancelled);
        for (const auto& entry : fs::directory_iterator(path("")))
            QVERIFY(entry.path().string().find("stopped") == std::string::npos);
    }
    // Whichever stage fails, all of them end.
    void endsWhenNothingCanBeWritten() {
        const auto source = opened(path("plots.gpkg"));
        Converting how;
        how.to = *crs::crsFromCode(3035);
        QVERIFY(!convertInParts(*source, 0, how, path("plots.gpkg") / "inside.gpkg", {}));
        how.columns = {{"nobody"}};
        QVERIFY(!convertInParts(*source, 0, how, path("x.gpkg"), {}));
        QVERIFY(!fs::exists(path("x.gpkg")));
    }
    void isNotForTheFileItself() {
        const auto source = opened(path("plots.gpkg"));
        QVERIFY(!convertsInParts(*source, 0, path("plots.gpkg"), path("plots.gpkg")));
        QVERIFY(!convertsInParts(*source, 0, path("plots.gpkg"), path("plots.shp")));
    }
};

QTEST_GUILESS_MAIN(ConvertingTest)
#include "converting_test.moc"
