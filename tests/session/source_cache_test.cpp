#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>
#include <fstream>
#include <thread>

#include "document/edits/edit_table.h"
#include "document/edits/layer_edits.h"
#include "io/registry.h"
#include "session/derive/lineage.h"
#include "session/new_layers.h"
#include "session/session.h"
#include "session/table_saving.h"

using namespace ledge;
using namespace ledge::session;

namespace {
void writeCells(const std::filesystem::path& path, float value) {
    RasterInfo info;
    info.crs = *crs::crsFromCode(32629);
    info.toWorld = {10, 0, 500000, 0, -10, 6800000};
    const auto done = io::writeRaster(MemoryRaster(info, Grid<float>(20, 30, value)), path, {}, {});
    if (!done) qFatal("%s", done.error().text().c_str());
}

void writeFields(const std::filesystem::path& path, int count) {
    FeatureList list;
    list.info.name = "fields";
    list.info.crs = *crs::crsFromCode(4326);
    list.info.geometry = GeometryType::Polygon;
    list.info.fields = {{"n", FieldType::Integer}};
    for (int i = 0; i < count; ++i) {
        const double x = -7 + 0.001 * (i % 100), y = 61 + 0.001 * (i / 100);
        list.features.push_back(
            {i + 1,
             Geometry::polygon({{{x, y}, {x + 5e-4, y}, {x + 5e-4, y + 5e-4}, {x, y}}}),
             {std::int64_t{i}}});
    }
    const auto done = io::writeTable(FeatureTable(std::move(list)), path, {});
    if (!done) qFatal("%s", done.error().text().c_str());
}

void age(const std::filesystem::path& path, int seconds) {
    std::filesystem::last_write_time(path, std::filesystem::last_write_time(path) +
                                               std::chrono::seconds(seconds));
}

doc::SourceRef sourceAt(const std::filesystem::path& path, doc::Id id = 1) {
    doc::SourceRef out;
    out.id = id;
    out.name = path.stem().string();
    out.path = path;
    return out;
}
}  // namespace

/// Opened sources: opened once, kept while in use, opened anew when the file is another.
class SourceCacheTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;
    std::filesystem::path at(const std::string& name) const {
        return m_dir.path().toStdString() + "/" + name;
    }

private slots:
    void opensAFileOnceForAllThatIsWantedOfIt() {
        writeCells(at("once.tif"), 5);
        const SourceCache cache;
        const auto file = cache.file({at("once.tif"), "", "", {}});
        QVERIFY(file.has_value());
        QCOMPARE(cache.file({at("once.tif"), "", "", {}})->get(), file->get());
        // Its cells come through the same opened file.
        const auto pyramid = cache.raster(sourceAt(at("once.tif")));
        QVERIFY(pyramid.has_value());
        QCOMPARE((*pyramid)->raster().get(), std::get<RasterPtr>((*file)->source).get());
        const std::weak_ptr<SourceCache::OpenFile> held = *file;
        QVERIFY(!held.expired());
    }

    void addsLayersWithoutReadingTwice() {
        writeFields(at("fields.gpkg"), 40);
        SourceCache cache;
        const auto made = newLayersFor(at("fields.gpkg"), cache, 0, {});
        QVERIFY2(made.has_value(), made ? "" : made.error().text().c_str());
        QCOMPARE(made->size(), std::size_t{1});
        // What the map will ask for is there: the file may be gone meanwhile.
        const auto again = cache.table(made->front().source);
        QVERIFY(again.has_value());
        QCOMPARE(cache.table(made->front().source)->get(), again->get());
        QCOMPARE(made->front().mapCrs, std::string("EPSG:32629"));  // where degrees lie
    }

    void readsAFileAnewThatChanged() {
        const auto path = at("changing.tif");
        writeCells(path, 5);
        const SourceCache cache;
        const auto source = sourceAt(path);
        const auto read = [&] {
            const auto pyramid = cache.raster(source);
            return pyramid ? (*pyramid)->read(0, {0, 0, 1, 1})->cells()[0] : -1;
        };
        QCOMPARE(read(), 5.0F);
        const auto before = cache.version(source);
        QCOMPARE(cache.version(source), before);
        writeCells(path, 8);
        age(path, 4);
        QVERIFY(cache.version(source) != before);
        QCOMPARE(read(), 8.0F);
        const auto now = cache.version(source);
        cache.reopen(source);
        QVERIFY(cache.version(source) != now);
    }

    void givesUpWhatNobodyUses() {
        SourceCache cache;
        cache.setLimit(200'000);
        std::vector<doc::SourceRef> sources;
        for (int i = 0; i < 6; ++i) {
            sources.push_back(sourceAt(at("many" + std::to_string(i) + ".gpkg"), i + 1));
            writeFields(sources.back().path, 900);
        }
        const auto kept = cache.table(sources[0]);
        QVERIFY(kept.has_value());
        for (const auto& source : sources) QVERIFY(cache.table(source).has_value());
        QVERIFY(cache.held() < sources.size());
        // What is in use stays the same table.
        QCOMPARE(cache.table(sources[0])->get(), kept->get());
    }

    void closesRastersThatNobodyUses() {
        SourceCache cache;
        writeCells(at("first.tif"), 1);
        const auto used = cache.raster(sourceAt(at("first.tif")));
        QVERIFY(used.has_value());
        for (int i = 0; i < 60; ++i) {
            const auto path = at("raster" + std::to_string(i) + ".tif");
            writeCells(path, static_cast<float>(i));
            QVERIFY(cache.raster(sourceAt(path, i + 2)).has_value());
        }
        QVERIFY2(cache.held() < 40, qPrintable(QString::number(cache.held())));
        QCOMPARE(cache.raster(sourceAt(at("first.tif")))->get(), used->get());
    }

    void remembersFailuresAndNotStops() {
        writeFields(at("stopped.geojson"), 3000);
        const SourceCache cache;
        const auto source = sourceAt(at("stopped.geojson"));
        std::stop_source stop;
        stop.request_stop();
        const auto stopped = cache.table(source, {stop.get_token(), {}});
        QVERIFY(!stopped && stopped.error().code == ErrorCode::Cancelled);
        QVERIFY(cache.table(source).has_value());
        const auto gone = sourceAt(at("gone.tif"), 2);
        QVERIFY(cache.problem(gone).has_value());
        QVERIFY(!cache.raster(gone) && !cache.table(gone));
        QVERIFY(!cache.crsOf(gone) && cache.extent(gone, nullptr).isEmpty());
        // It came: it is looked for again.
        writeCells(gone.path, 3);
        QVERIFY(cache.raster(gone).has_value());
        QVERIFY(!cache.table(gone) && !cache.problem(gone));
    }

    void servesManyThreadsAtOnce() {
        writeFields(at("shared.gpkg"), 2000);
        writeCells(at("shared.tif"), 9);
        const SourceCache cache;
        const auto fields = sourceAt(at("shared.gpkg"));
        const auto cells = sourceAt(at("shared.tif"), 2);
        const auto utm = *crs::crsFromCode(32629), europe = *crs::crsFromCode(3035);
        std::atomic<int> good{0};
        std::vector<std::jthread> threads;
        for (int t = 0; t < 6; ++t)
            threads.emplace_back([&, t] {
                for (int i = 0; i < 20; ++i) {
                    const auto features = cache.features(fields, (t + i) % 2 ? utm : europe);
                    if (features && (*features)->table->size() == 2000) ++good;
                    const auto pyramid = cache.raster(cells);
                    if (pyramid && (*pyramid)->read(0, {1, 1, 2, 2})) ++good;
                }
            });
        threads.clear();
        QCOMPARE(good.load(), 6 * 20 * 2);
        QCOMPARE(cache.features(fields, utm)->get(), cache.features(fields, utm)->get());
    }

    // Edits of a table are part of the project; what reads it sees them, the file not yet.
    void laysEditsOverATable() {
        writeFields(at("edited.gpkg"), 50);
        const SourceCache cache;
        doc::Document d;
        d.sources = {sourceAt(at("edited.gpkg"))};
        const auto plain = cache.table(d.sources[0]);
        QVERIFY(plain.has_value());
        const auto step = [&d](const char* edit, doc::EditWords words) {
            words["source"] = "#1";
            auto next = doc::applied(d, edit, words);
            QVERIFY2(next.has_value(), next ? "" : next.error().text().c_str());
            d = std::move(next->document);
        };
        step("column-add", {{"name", "share"}, {"type", "real"}});
        step("cell-set", {{"row", "3"}, {"field", "share"}, {"value", "0.25"}});
        step("row-remove", {{"row", "5"}});
        const auto seen = cache.table(d.sources[0]);
        QVERIFY2(seen.has_value(), seen ? "" : seen.error().text().c_str());
        QCOMPARE((*seen)->size(), std::size_t{49});
        QCOMPARE((*seen)->number(2, 1), 0.25);
        QCOMPARE(cache.table(d.sources[0])->get(), seen->get());
        doc::SourceRef before = d.sources[0];
        before.edits = {};
        QCOMPARE(cache.table(before)->get(), plain->get());
        QVERIFY(cache.version(d.sources[0]) != cache.version(before));
        // Saved, the file holds them, and the project needs them no more.
        const auto done = saveEdits(d.sources[0], cache, {});
        QVERIFY2(done.has_value(), done ? "" : done.error().text().c_str());
        age(at("edited.gpkg"), 3);
        step("table-revert", {});
        const auto saved = cache.table(d.sources[0]);
        QVERIFY(saved.has_value());
        QCOMPARE((*saved)->size(), std::size_t{49});
        QCOMPARE((*saved)->number(2, 1), 0.25);
        QVERIFY(d.sources[0].edits->isEmpty());
        QVERIFY(saveEdits(d.sources[0], cache, {}).has_value());  // nothing to do
    }

    // A version tells what a source holds, not when it was opened: pictures outlive its being let
    // go.
    void keepsVersionsOfWhatWasLetGo() {
        writeCells(at("told.tif"), 5);
        const auto source = sourceAt(at("told.tif"));
        SourceCache cache;
        const std::uint64_t before = cache.version(source);
        QCOMPARE(SourceCache().version(source), before);
        for (int i = 0; i < 80; ++i) {
            writeCells(at("told" + std::to_string(i) + ".tif"), 5);
            (void)cache.raster(sourceAt(at("told" + std::to_string(i) + ".tif")));
        }
        QCOMPARE(cache.version(source), before);
        cache.reopen(source);
        QVERIFY(cache.version(source) != before);
        const std::uint64_t reopened = cache.version(source);
        age(at("told.tif"), 5);
        QVERIFY(cache.version(source) != reopened);
    }

    void countsWaitsOfTheInterface() {
        writeCells(at("waited.tif"), 5);
        SourceCache cache;
        const auto source = sourceAt(at("waited.tif"));
        (void)cache.raster(source);
        QCOMPARE(cache.waitsOfInterface(), 0);
        cache.setInterfaceThread(std::this_thread::get_id());
        std::jthread([&] { (void)cache.raster(source); }).join();
        QCOMPARE(cache.waitsOfInterface(), 0);
        (void)cache.crsOf(source);
        QCOMPARE(cache.waitsOfInterface(), 1);
    }

    void tellsWhatChanged() {
        Session session(m_dir.path().toStdString() + "/recovery");
        doc::Document d = session.document();
        doc::Layer layer;
        layer.name = "Lines";
        layer.content = doc::GridLines{};
        auto [added, id] = doc::addLayer(d, layer);
        std::vector<doc::Change> told;
        connect(&session, &Session::changed, this,
                [&](const doc::Change& change) { told.push_back(change); });
        session.apply(added, "Add");
        session.apply(doc::withLayer(added, id, [](doc::Layer& l) { l.opacity = 0.5; }), "Opacity");
        session.apply(session.document(), "Nothing");  // no step, nothing told
        session.undo();
        session.redo();
        doc::Document named = session.document();
        named.name = "Isle";
        session.apply(named, "Name");
        QCOMPARE(told.size(), std::size_t{5});
        for (int i = 0; i < 4; ++i) QVERIFY(told[static_cast<std::size_t>(i)].layers.contains(id));
        QVERIFY(told[0].isStackMoved && !told[1].isStackMoved);
        QVERIFY(told[4].isOther && !told[4].touchesMap());
        // Another project: compared with the one before.
        session.clear();
        QVERIFY(told.back().layers.contains(id));
    }

    void looksForWhatIsStaleBesideTheInterface() {
        writeCells(at("dem.tif"), 5);
        writeCells(at("made.tif"), 6);
        Session session(m_dir.path().toStdString() + "/recovery");
        doc::Document d;
        doc::SourceRef dem = sourceAt(at("dem.tif"), 1), made = sourceAt(at("made.tif"), 2);
        doc::Lineage lineage;
        lineage.operation = "slope";
        lineage.inputs = {inputFrom(dem)};
        QCOMPARE(lineage.inputs[0].stamp.bytes, std::int64_t{-1});  // not looked at yet
        made.lineage = stamped(lineage);
        QVERIFY(made.lineage->inputs[0].stamp.bytes > 0);
        d.sources = {dem, made};
        session.apply(d, "Sources");
        QSignalSpy ready(&session.stale(), &StaleBook::ready);
        const auto reasons = [&] {
            return session.stale().reasons(session.snapshot(), *session.document().source(2));
        };
        QVERIFY(reasons().empty());
        QVERIFY(session.stale().reasons(session.snapshot(), dem).empty());
        age(at("dem.tif"), 7);
        QVERIFY(ready.wait(6000));
        QCOMPARE(reasons().size(), std::size_t{1});
        age(at("dem.tif"), -7);
        QVERIFY(ready.wait(6000));
        QVERIFY(reasons().empty());
        // What is declared counts at once, without the file.
        doc::Document other = session.document();
        other.sources[0].declaredCrs = "EPSG:32628";
        session.apply(other, "Declare");
        (void)reasons();
        QVERIFY(ready.wait(6000));
        QVERIFY(!reasons().empty());
        session.stale().forget();
        QVERIFY(reasons().empty());
    }
};

QTEST_GUILESS_MAIN(SourceCacheTest)
#include "source_cache_test.moc"
