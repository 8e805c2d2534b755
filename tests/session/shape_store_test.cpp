#include <QTemporaryDir>
#include <QTest>
#include <cmath>
#include <fstream>
#include <numbers>

#include "core/crs/catalogue.h"
#include "io/registry.h"
#include "session/source_cache.h"

using namespace ledge;
using namespace ledge::session;
namespace fs = std::filesystem;

/// Large layers that are opened again: what was kept of them is what would be worked out anew, and
/// nothing is taken from what is damaged or of another state.
class ShapeStoreTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;
    doc::SourceRef m_source;
    crs::CrsPtr m_map = *crs::crsFromCode(3035);

    fs::path folder() const { return fs::path(m_dir.path().toStdString()) / "kept"; }
    std::vector<fs::path> files() const {
        std::vector<fs::path> out;
        if (fs::exists(folder()))
            for (const auto& entry : fs::directory_iterator(folder())) out.push_back(entry.path());
        return out;
    }
    using Features = std::shared_ptr<const doc::MapFeatures>;
    // Opened and closed: what it keeps is on the disk afterwards.
    Features looked(bool keeps, double tolerance = 1) const {
        SourceCache cache;
        if (keeps) cache.keepShapesIn(ShapeStore(folder()));
        const auto features = cache.features(m_source, m_map, tolerance);
        return features ? *features : nullptr;
    }
    static bool areAlike(const FeatureTable& a, const FeatureTable& b) {
        if (a.size() != b.size() || !crs::isSame(a.info.crs, b.info.crs)) return false;
        for (std::size_t i = 0; i < a.size(); ++i)
            if (a.key(i) != b.key(i) || !(a.geometry(i).toGeometry() == b.geometry(i).toGeometry()))
                return false;
        return a.info.extent.xMin == b.info.extent.xMin && a.info.extent.yMax == b.info.extent.yMax;
    }
    static bool areAlike(const doc::MapFeatures& a, const doc::MapFeatures& b) {
        if (!areAlike(*a.table, *b.table) || a.seams != b.seams || a.strayed != b.strayed ||
            a.coarser.size() != b.coarser.size())
            return false;
        for (std::size_t i = 0; i < a.coarser.size(); ++i)
            if (a.coarser[i].within != b.coarser[i].within ||
                !areAlike(*a.coarser[i].table, *b.coarser[i].table))
                return false;
        Box part = a.table->info.extent;
        part.xMax = part.centre().x;
        return a.index.meeting(part) == b.index.meeting(part) && !a.index.meeting(part).empty();
    }

private slots:
    void initTestCase() {
        FeatureList list;
        list.info.name = "shores";
        list.info.geometry = GeometryType::Polygon;
        list.info.crs = *crs::crsFromCode(4326);
        list.info.fields = {{"name", FieldType::Text}};
        for (int k = 0; k < 40; ++k) {
            std::vector<Point> ring;
            constexpr int kCorners = 55000;
            for (int i = 0; i <= kCorners; ++i) {
                const double a = 2 * std::numbers::pi * (i % kCorners) / kCorners;
                const double r = 0.4 + 0.05 * std::sin(a * 40) + 0.002 * std::sin(a * 9000);
                ring.push_back({-30 + 1.5 * k + r * std::cos(a), 50 + k % 9 + r * std::sin(a)});
            }
            list.features.push_back(
                {k + 1, Geometry::polygon({ring}), {Value("shore " + std::to_string(k))}});
        }
        m_source.path = fs::path(m_dir.path().toStdString()) / "shores.gpkg";
        m_source.name = "Shores";
        QVERIFY(io::writeTable(FeatureTable(std::move(list)), m_source.path, {}).has_value());
    }
    void cleanup() { fs::remove_all(folder()); }

    void keepsOnlyWhenTold() {
        QVERIFY(looked(false));
        QVERIFY(files().empty());
    }
    void isWhatWouldBeWorkedOut() {
        const Features fresh = looked(true);
        QVERIFY(fresh && !fresh->coarser.empty());
        QCOMPARE(files().size(), std::size_t{1});
        const auto written = fs::last_write_time(files()[0]);
        const Features again = looked(true);
        QVERIFY(again && areAlike(*fresh, *again));
        QCOMPARE((*again->table)[7].value(0), Value(std::string("shore 7")));
        // It was read, not written anew: what is read is marked as used, and no less.
        QVERIFY(fs::last_write_time(files()[0]) >= written);
        SourceCache cache;
        cache.keepShapesIn(ShapeStore(folder()));
        const auto table = cache.table(m_source);
        QVERIFY(ShapeStore(folder()).read(m_source, *table, m_map).has_value());
        QVERIFY(!ShapeStore(folder()).read(m_source, *table, *crs::crsFromCode(3857)));
    }
    void isWorkedOutFinerWhereThatIsAsked() {
        const Features coarse = looked(true, 1000);
        const Features fine = looked(true, 0.05);
        QVERIFY(coarse && fine);
        QVERIFY(fine->strayed <= 0.05);
        QVERIFY(looked(true, 0.05)->strayed <= 0.05);
        QCOMPARE(files().size(), std::size_t{1});
    }
    void trustsNothingDamaged_data() {
        QTest::addColumn<double>("at");
        QTest::addColumn<bool>("cuts");
        QTest::newRow("first bytes") << 0.0 << false;
        QTest::newRow("counts") << 0.00002 << false;
        QTest::newRow("coordinates") << 0.5 << false;
        QTest::newRow("last bytes") << 0.999999 << false;
        QTest::newRow("cut short") << 0.7 << true;
        QTest::newRow("empty") << 0.0 << true;
    }
    void trustsNothingDamaged() {
        QFETCH(double, at);
        QFETCH(bool, cuts);
        const Features fresh = looked(true);
        QVERIFY(fresh);
        const fs::path file = files().at(0);
        const auto place = static_cast<std::uintmax_t>(at * double(fs::file_size(file)));
        if (cuts) {
            fs::resize_file(file, place);
        } else {
            std::fstream bytes(file, std::ios::binary | std::ios::in | std::ios::out);
            bytes.seekg(static_cast<std::streamoff>(place));
            const char was = static_cast<char>(bytes.get());
            bytes.seekp(static_cast<std::streamoff>(place));
            bytes.put(static_cast<char>(was ^ 0x55));
        }
        {
            SourceCache cache;
            const auto table = cache.table(m_source);
            QVERIFY(!ShapeStore(folder()).read(m_source, *table, m_map));
        }
        const Features again = looked(true);
        QVERIFY(again && areAlike(*fresh, *again));
    }
    void isOfOneStateOfTheFile() {
        const ShapeStore store(folder());
        const crs::CrsPtr from = *crs::crsFromCode(4326);
        const fs::path before = store.fileFor(m_source, from, m_map);
        QVERIFY(store.fileFor(m_source, from, *crs::crsFromCode(3857)) != before);
        QVERIFY(store.fileFor(m_source, *crs::crsFromCode(4258), m_map) != before);
        fs::last_write_time(m_source.path,
                            fs::last_write_time(m_source.path) + std::chrono::seconds(5));
        QVERIFY(store.fileFor(m_source, from, m_map) != before);
    }
    void leavesOutWhatChanges() {
        SourceCache cache;
        const auto table = cache.table(m_source);
        QVERIFY(ShapeStore::wants(m_source, **table));
        doc::SourceRef filtered = m_source;
        filtered.filter = "name = 'shore 3'";
        QVERIFY(!ShapeStore::wants(filtered, **table));
        const std::size_t first = 0;
        QVERIFY(!ShapeStore::wants(m_source, (*table)->atRows({&first, 1})));
    }
    void makesRoom() {
        fs::create_directories(folder());
        const auto put = [this](const char* name, int hours) {
            std::ofstream(folder() / name) << std::string(1000, 'x');
            fs::last_write_time(folder() / name,
                                fs::file_time_type::clock::now() - std::chrono::hours(hours));
        };
        put("old.shapes", 9);
        put("older.shapes", 19);
        put("new.shapes", 1);
        put("other.txt", 99);
        SourceCache cache;
        cache.keepShapesIn(ShapeStore(folder(), 2100));
        QVERIFY(cache.features(m_source, m_map, 1).has_value());
        // The cache ends its writing when it goes.
        QTRY_VERIFY(!fs::exists(folder() / "older.shapes"));
        QVERIFY(fs::exists(folder() / "old.shapes") && fs::exists(folder() / "new.shapes"));
        QVERIFY(fs::exists(folder() / "other.txt"));
    }
};

QTEST_GUILESS_MAIN(ShapeStoreTest)
#include "shape_store_test.moc"
