#include <QProcess>
#include <QSignalSpy>
#include <QTest>

#include "core/globe/reproject.h"
#include "core/raster/ground.h"
#include "document/edits/layer_edits.h"
#include "document/edits/sheet_edits.h"
#include "io/files/atomic_file.h"
#include "session/derive/lineage.h"
#include "session/export_sheet.h"
#include "session/jump.h"
#include "session/new_layers.h"
#include "session/probe.h"
#include "session/session.h"
#include "session/terrain_files.h"
#include "session/terrain_layers.h"
#include "session/typed_position.h"
#include "support/coarse_demo.h"
#include "support/patience.h"

using namespace ledge;
using namespace ledge::session;
namespace fs = std::filesystem;

class SessionTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;
    fs::path path(const char* name) const { return fs::path(m_dir.path().toStdString()) / name; }

private slots:
    void undoesAllTheWayAndRedoes() {
        Session session(path("recovery"));
        std::vector<doc::DocumentPtr> states{session.snapshot()};
        for (int i = 0; i < 300; ++i) {
            doc::Document next = session.document();
            next.name = "step " + std::to_string(i);
            session.apply(next, "step");
            states.push_back(session.snapshot());
        }
        for (std::size_t i = states.size() - 1; i-- > 0;) {
            session.undo();
            QVERIFY(session.snapshot() == states[i]);
        }
        QVERIFY(!session.history().canUndo());
        for (std::size_t i = 1; i < states.size(); ++i) session.redo();
        QVERIFY(session.snapshot() == states.back());
        session.undo();
        doc::Document branch = session.document();
        branch.name = "other";
        session.apply(branch, "branch");
        QVERIFY(!session.history().canRedo());
    }

    void foldsADragIntoOneStep() {
        Session session(path("recovery"));
        const auto rename = [&](const char* name, const char* key) {
            doc::Document next = session.document();
            next.name = name;
            session.apply(next, "drag", key);
        };
        rename("a", "k"), rename("b", "k"), rename("c", "k");
        session.seal();
        rename("d", "k");
        session.undo();
        QCOMPARE(session.document().name, std::string("c"));
        session.undo();
        QCOMPARE(session.document().name, std::string("Untitled"));
        rename("same", ""), rename("same", "");
        session.undo();
        QVERIFY(!session.history().canUndo());
    }

    void keepsTheOldProjectWhenSavingFails() {
        Session session(path("recovery"));
        QVERIFY(session.open(test::coarseDemo()).has_value());
        const fs::path file = path("project.ledge");
        QVERIFY(session.save(file).has_value());
        QVERIFY(!session.isModified());
        const std::string before = *io::readText(file);
        doc::Document next = session.document();
        next.name = "changed";
        session.apply(next, "change");
        QVERIFY(session.isModified());
        QVERIFY(!session.save("/no/such/folder/project.ledge"));
        QVERIFY(session.isModified());
        QCOMPARE(*io::readText(file), before);
        session.undo();
        QVERIFY(!session.isModified());
    }

    void recoversWhatAProgramLeftBehind() {
        const fs::path folder = path("recovered");
        auto left = std::make_unique<RecoveryStore>(folder);
        const RecoveryStore store(folder);
        doc::Document lost;
        lost.name = "lost work";
        doc::SourceRef source;
        source.path = "/data/x.tif";
        doc::Layer layer;
        auto [withSource, id] = doc::addSource(lost, source);
        layer.source = id;
        layer.content = doc::Hillshade{};
        lost = doc::addLayer(withSource, layer).first;
        QVERIFY(left->keep(lost, "/data/lost.ledge", "as it was").has_value());
        QVERIFY(store.orphans().empty());  // its window is there
        left.reset();
        const auto found = store.orphans();
        QCOMPARE(found.size(), std::size_t{1});
        QCOMPARE(found[0].project.string(), std::string("/data/lost.ledge"));
        QCOMPARE(found[0].base, std::string("as it was"));
        QVERIFY(!found[0].isOutdated);
        Session session(folder);
        QVERIFY(session.recover(found[0]).has_value());
        QVERIFY(session.document() == lost);
        QVERIFY(session.isModified());
        QTRY_VERIFY(store.orphans().empty());
    }

    // Copies of before a save are not offered first, and never saved over it without a word.
    void keepsOutdatedCopiesAside() {
        const fs::path folder = path("outdated"), file = path("outdated.ledge");
        {
            Session one(folder);
            QVERIFY(one.open(test::coarseDemo()).has_value());
            QVERIFY(one.save(file).has_value());
        }
        const ProjectStamp before = projectStamp(file);
        QVERIFY(!before.empty());
        doc::Document old = *loadProject(file);
        old.name = "old work";
        doc::Document newer = old;
        newer.name = "newer work";
        {
            RecoveryStore first(folder), second(folder);
            QVERIFY(first.keep(old, file, before).has_value());
            QVERIFY(second.keep(newer, path("other.ledge"), "").has_value());
        }
        for (const auto& copy : fs::directory_iterator(folder))
            fs::last_write_time(copy.path(),
                                fs::file_time_type::clock::now() - std::chrono::hours(2));
        doc::Document saved = *loadProject(file);
        saved.name = "saved since";
        QVERIFY(saveProject(saved, file).has_value());
        const auto found = RecoveryStore(folder).orphans();
        QCOMPARE(found.size(), std::size_t{2});
        QVERIFY(!found[0].isOutdated && found[1].isOutdated);
        QCOMPARE(found[1].project, file);
        Session session(folder);
        QVERIFY(session.recover(found[1]).has_value());
        const auto done = session.save(file);
        QVERIFY(!done && done.error().code == ErrorCode::Conflict);
        QCOMPARE(loadProject(file)->name, std::string("saved since"));
        QVERIFY(session.save(file, Session::Theirs::WrittenOver).has_value());
        QCOMPARE(loadProject(file)->name, std::string("old work"));
        QVERIFY(session.save(file).has_value());  // it is ours now
    }

    void noticesThatOthersSaved() {
        const fs::path file = path("shared.ledge");
        Session one(path("one")), two(path("two"));
        QVERIFY(one.open(test::coarseDemo()).has_value());
        QVERIFY(one.save(file).has_value());
        QVERIFY(one.otherWindow().empty());
        QVERIFY(two.open(file).has_value());
        QVERIFY2(two.otherWindow().find("process") != std::string::npos, two.otherWindow().c_str());
        const auto rename = [](Session& session, const char* name) {
            doc::Document next = session.document();
            next.name = name;
            session.apply(next, "rename");
        };
        rename(one, "one's");
        rename(two, "two's");
        QVERIFY(one.save(file).has_value());
        const auto refused = two.save(file);
        QVERIFY(!refused && refused.error().code == ErrorCode::Conflict);
        QVERIFY(two.isModified());
        // Theirs is a step like any other.
        QVERIFY(two.takeTheirs().has_value());
        QVERIFY(!two.isModified());
        QCOMPARE(two.document().name, std::string("one's"));
        two.undo();
        QCOMPARE(two.document().name, std::string("two's"));
        QVERIFY(two.isModified());
        QVERIFY(two.save(file).has_value());
        QVERIFY(!one.save(file));
        // Another name is nobody else's business.
        QVERIFY(one.save(path("kept both.ledge")).has_value());
        QVERIFY(one.otherWindow().empty());
    }

    void autosavesAfterAChange() {
        Session session(path("autosave"));
        doc::Document next;
        next.name = "unsaved";
        session.apply(next, "change");
        QTRY_VERIFY_WITH_TIMEOUT(fs::exists(path("autosave")) && !fs::is_empty(path("autosave")),
                                 2500);
    }

    void runsJobsAndStopsThem() {
        JobRunner jobs;
        QSignalSpy finished(&jobs, &JobRunner::finished);
        bool wasDone = false;
        jobs.start(
            "quick",
            [](const Progress& p) -> Result<void> {
                p.at(1);
                return {};
            },
            [&](const Result<void>& r) { wasDone = r.has_value(); });
        jobs.wait();
        QVERIFY(wasDone);
        std::optional<Error> outcome;
        const int job = jobs.start(
            "endless",
            [](const Progress& p) -> Result<void> {
                while (!p.stopped()) std::this_thread::yield();
                return cancelled("endless");
            },
            [&](const Result<void>& r) { outcome = r.error(); });
        jobs.stop(job);
        jobs.wait();
        QCOMPARE(outcome->code, ErrorCode::Cancelled);
        jobs.start(
            "throws", [](const Progress&) -> Result<void> { throw std::bad_alloc(); },
            [&](const Result<void>& r) { outcome = r.error(); });
        jobs.wait();
        QCOMPARE(outcome->code, ErrorCode::LimitExceeded);
        QCOMPARE(finished.size(), 3);
    }

    void writesDerivativesThatAgreeWithThePlane() {
        RasterInfo info;
        info.crs = *crs::crsFromCode(32629);
        info.toWorld = {10, 0, 500000, 0, -10, 6800000};
        Grid<float> z(600, 40);
        for (std::size_t r = 0; r < 600; ++r)
            for (std::size_t c = 0; c < 40; ++c) z(r, c) = static_cast<float>(10 * c);
        const auto held = std::make_shared<MemoryRaster>(info, z);
        const RasterSource& dem = *held;
        const auto slopes = terrain::slopeRaster({held}, terrain::SlopeUnit::Degrees);
        QVERIFY(writeComputed(*slopes, {path("slope.tif")}, {}).has_value());
        const auto slope = std::get<RasterPtr>(*io::openSource(path("slope.tif")));
        Grid<float> cells(600, 40);
        QVERIFY(slope->read(0, slope->info().whole(), cells.view()).has_value());
        for (const float v : cells.cells())
            // Edges and seams of blocks too; the zone draws its meridian 0.9996 as large.
            QVERIFY(std::abs(double(v) - std::atan(0.9996) * 180 / M_PI) < 1e-3);
        QVERIFY(writeComputed(*terrain::hillshadeRaster({held, 0.3048}, {{270, 45}}),
                              {path("shade.tif")}, {})
                    .has_value());
        const auto shade = std::get<RasterPtr>(*io::openSource(path("shade.tif")));
        QVERIFY(shade->read(0, shade->info().whole(), cells.view()).has_value());
        const double lit =
            (std::sin(M_PI / 4) + 0.3048 * std::cos(M_PI / 4)) / std::sqrt(1 + 0.3048 * 0.3048);
        for (const float v : cells.cells()) QCOMPARE(double(v), std::round(1 + 254 * lit));
        const auto lines = contourTable(dem, {}, {"height", 5}, {100, 50, {}}, 0, {});
        QCOMPARE(lines->size(), std::size_t{4});
        for (const FeatureView f : *lines)
            for (const Point p : f.geometry.points)
                QVERIFY(std::abs(p.x - 500005 - f.number(0)) < 1e-3);
        // Index lines are those at 50, 550, ...: the first of the four.
        for (const FeatureView f : *lines) QCOMPARE(std::get<bool>(f.value(1)), f.number(0) == 50);
        const auto smooth = contourTable(dem, {}, {"height", 0}, {100, 50, {}}, 3, {});
        QCOMPARE(smooth->size(), std::size_t{4});
        for (const FeatureView f : *smooth)  // a plane stays a plane, but for its rim
            for (const Point p : f.geometry.points)
                QVERIFY(std::abs(p.x - 500005 - f.number(0)) < 1);
        // Three areas between the levels and two open ends.
        const auto areas = filledContourTable(dem, {}, {100, 50, {}}, 0, {});
        QCOMPARE(areas->size(), std::size_t{5});
        for (const FeatureView f : *areas)
            for (const Point p : f.geometry.points) {
                const double height = p.x - 500005;
                QVERIFY(f.isMissing(0) || height > f.number(0) - 1e-3);
                QVERIFY(f.isMissing(1) || height < f.number(1) + 1e-3);
            }
        QVERIFY(!writeComputed(*slopes, {path("slope.jpg")}, {}));
    }

    void knowsMetresOnGeographicGrids() {
        RasterInfo info;
        info.width = 10, info.height = 10;
        info.crs = *crs::crsFromCode(4326);
        info.toWorld = {0.001, 0, -10, 0, -0.001, 60.005};
        const Ground ground(info);
        QVERIFY(std::abs(ground.at(5, 4.5).xMetres - 55.80) < 0.02);
        QVERIFY(std::abs(ground.at(5, 4.5).yMetres - 111.41) < 0.02);
        QVERIFY(ground.at(5, 0.5).xMetres < ground.at(5, 9.5).xMetres);
        QVERIFY(heightScaleText(info, {}).find("row by row") != std::string::npos);
        // Web Mercator at 60 N draws the ground twice as large; the bench says so.
        info.crs = *crs::crsFromCode(3857);
        info.toWorld = {100, 0, -1113194, 0, -100, 8399737};
        QVERIFY2(heightScaleText(info, {}).find("0.50") != std::string::npos,
                 heightScaleText(info, {}).c_str());
        info.crs = *crs::crsFromCode(32629);
        info.toWorld = {10, 0, 500000, 0, -10, 6800000};
        QVERIFY(heightScaleText(info, {}).find("both in metres") != std::string::npos);
    }

    void opensTheDemoWithNoProblem() {
        const auto document = loadProject(test::coarseDemo());
        QVERIFY(document.has_value());
        const SourceCache cache;
        for (const auto& source : document->sources) {
            const auto problem = cache.problem(source);
            QVERIFY2(!problem, problem ? problem->text().c_str() : "");
            QVERIFY(!cache.extent(source, cache.crsOf(source)).isEmpty());
        }
        QVERIFY(document->sources.size() >= 10);
        QVERIFY(document->views.size() >= 2 && document->sheets.size() >= 2);
    }

    void findsTheOldSurveyWhenItsCrsIsDeclared() {
        const auto document = loadProject(test::coarseDemo());
        const SourceCache cache;
        const auto mapCrs = *crs::parseCrs(document->mapCrs);
        const auto old = *std::find_if(document->sources.begin(), document->sources.end(),
                                       [](const auto& s) { return s.name == "Old survey grid"; });
        const auto island = *std::find_if(document->sources.begin(), document->sources.end(),
                                          [](const auto& s) { return s.name == "Island DEM"; });
        const Box there = cache.extent(island, mapCrs);
        QVERIFY(!cache.extent(old, mapCrs).intersects(there));
        auto declared = old;
        declared.declaredCrs = "EPSG:32628";
        QVERIFY(there.grown(500).contains(cache.extent(declared, mapCrs).centre()));
        // Feet and metres then agree on the ground.
        const auto a = cache.raster(declared), b = cache.raster(island);
        const auto way = crs::Transformation::between((*a)->source().info().crs, mapCrs);
        int compared = 0;
        for (double u = 0.1; u < 0.95; u += 0.05) {
            const Box box = (*a)->source().info().extent();
            const Point p{box.xMin + u * box.width(), box.yMin + 0.5 * box.height()};
            const double feet = valueAt((*a)->source(), 0, p),
                         metres = valueAt((*b)->source(), 0, way->forward(p));
            if (!std::isfinite(feet) || metres < 20) continue;
            QVERIFY2(std::abs(feet * 0.3048 - metres) < 45,
                     qPrintable(QString("%1 %2").arg(feet * 0.3048).arg(metres)));
            ++compared;
        }
        QVERIFY(compared > 2);
    }

    void agreesWithItselfAboutTheTerrain() {
        const auto document = loadProject(test::coarseDemo());
        const SourceCache cache;
        const auto mapCrs = *crs::parseCrs(document->mapCrs);
        const auto find = [&](const char* name) {
            return *std::find_if(document->sources.begin(), document->sources.end(),
                                 [&](const auto& s) { return s.name == name; });
        };
        const auto dem = *cache.raster(find("Island DEM"));
        const auto height = [&](Point p) { return valueAt(dem->source(), 0, p); };
        const auto streams = *cache.features(find("Streams"), mapCrs);
        QVERIFY(streams->table->size() > 20);
        int downhill = 0;
        for (const FeatureView f : *streams->table)
            downhill +=
                height(f.geometry.points.front()) >= height(f.geometry.points.back()) - 1 ? 1 : 0;
        QVERIFY(downhill > int(streams->table->size()) * 9 / 10);
        const auto coast = *cache.features(find("Coast"), mapCrs);
        const double cell = dem->source().info().toWorld.columnLength();
        int checked = 0;
        for (const FeatureView f : *coast->table)
            for (std::size_t i = 0; i < f.geometry.points.size(); i += 7) {
                // The shore runs between a cell of sea and one of land.
                const Point p = f.geometry.points[i];
                bool hasSea = false, hasLand = false;
                for (const double dx : {-cell, 0.0, cell})
                    for (const double dy : {-cell, 0.0, cell})
                        (height(p + Point{dx, dy}) > 0 ? hasLand : hasSea) = true;
                QVERIFY2(hasSea && hasLand, qPrintable(QString("%1 %2").arg(p.x).arg(p.y)));
                ++checked;
            }
        QVERIFY(checked > 50);
        const auto districts = *cache.table(find("Districts"));
        const int sheep = districts->fieldIndex("sheep");
        int missing = 0;
        for (const FeatureView f : *districts) missing += f.isMissing(std::size_t(sheep)) ? 1 : 0;
        QVERIFY(missing >= 1);
        std::set<int> codes;
        for (const auto& source : document->sources)
            if (const auto crs = cache.crsOf(source)) codes.insert(crs->code);
        QVERIFY(codes.size() >= 3);
    }

    void probesEverythingAtASpot() {
        const auto document = loadProject(test::coarseDemo());
        const SourceCache cache;
        const auto mapCrs = *crs::parseCrs(document->mapCrs);
        const auto places = std::find_if(document->sources.begin(), document->sources.end(),
                                         [](const auto& s) { return s.name == "Places"; });
        const auto features = *cache.features(*places, mapCrs);
        const Point at = features->table->geometry(0).points[0];
        const auto hits = probe(*document, cache, mapCrs, at, 30);
        QVERIFY(hits.size() >= 3);
        QCOMPARE(hits[0].layerName, std::string("Places"));
        QVERIFY(std::any_of(hits.begin(), hits.end(), [](const auto& h) {
            return h.layerName == "Island DEM" && h.outline.isEmpty();
        }));
        QCOMPARE(rasterValues(*document, cache, mapCrs, at).size(), std::size_t{1});
        QVERIFY(probe(*document, cache, mapCrs, {0, 0}, 30).empty());
    }

    // Of what was derived here the unit is known, and said.
    void probesDerivedNumbers_data() {
        QTest::addColumn<QString>("operation");
        QTest::addColumn<QString>("unit");
        QTest::addColumn<QString>("said");
        QTest::newRow("degrees") << "slope"
                                 << "degrees"
                                 << "°";
        QTest::newRow("percent") << "slope"
                                 << "percent"
                                 << " %";
        QTest::newRow("directions") << "aspect"
                                    << ""
                                    << "°";
    }
    void probesDerivedNumbers() {
        QFETCH(QString, operation);
        QFETCH(QString, unit);
        QFETCH(QString, said);
        doc::Document document = *loadProject(test::coarseDemo());
        const auto dem = std::find_if(document.sources.begin(), document.sources.end(),
                                      [](const auto& s) { return s.name == "Island DEM"; });
        QVERIFY(dem != document.sources.end());
        doc::SourceRef derived;
        derived.id = 9001, derived.name = "Derived";
        derived.lineage = doc::Lineage{operation.toStdString(), {inputFrom(*dem)}, {}};
        if (!unit.isEmpty()) derived.lineage->parameters["unit"] = unit.toStdString();
        document.sources.push_back(derived);
        doc::Layer layer;
        layer.id = 9002, layer.source = derived.id;
        layer.content = doc::RasterLayer{};
        document.layers.insert(document.layers.begin(), std::make_shared<doc::Layer>(layer));
        const SourceCache cache;
        const auto mapCrs = *crs::parseCrs(document.mapCrs);
        const Box land = cache.extent(*dem, mapCrs);
        int met = 0;
        for (int i = 1; i < 9; ++i) {
            const Point at{land.xMin + land.width() * i / 9, land.centre().y};
            for (const ProbeHit& hit : probe(document, cache, mapCrs, at, 30))
                if (hit.layerName == "Derived") {
                    const QString text = QString::fromStdString(hit.title);
                    QVERIFY2(text.endsWith(said), qPrintable(text));
                    ++met;
                }
        }
        QVERIFY(met > 0);
    }

    void jumpsToWhatIsTyped() {
        const auto document = loadProject(test::coarseDemo());
        const SourceCache cache;
        const auto mapCrs = *crs::parseCrs(document->mapCrs);
        using Kind = JumpTarget::Kind;
        const auto first = [&](const char* typed) {
            const auto found = jumpTargets(*document, cache, mapCrs, typed);
            return found.empty() ? JumpTarget{} : found.front();
        };
        QCOMPARE(first("brimv").text, std::string("Brimvoe"));
        QCOMPARE(first("whole").kind, Kind::View);
        QCOMPARE(first("overview").kind, Kind::Sheet);
        QCOMPARE(first("contours").kind, Kind::Layer);
        QCOMPARE(first("epsg:3857").kind, Kind::Crs);
        QVERIFY(jumpTargets(*document, cache, mapCrs, "zzzz").empty());
        const Point at = first("61.6 N 10.7 W").at;
        QVERIFY(distance(crs::toLonLat(mapCrs, at), {-10.7, 61.6}) < 1e-9);
        QCOMPARE(*typedPosition("E 412360 N 6829114", mapCrs), (Point{412360, 6829114}));
        QVERIFY(!typedPosition("12", mapCrs));
        QCOMPARE(*parseScale("1:50 000"), 50000.0);
        QCOMPARE(*parseScale("25k"), 25000.0);
        for (const char* bad : {"", "x", "-5", "0", "1:"}) QVERIFY(!parseScale(bad));
    }

    /// Classes are a few colours; a PDF may not blur them into thousands.
    void givesUpTablesThatNobodyUses() {
        std::vector<doc::SourceRef> sources;
        for (int i = 0; i < 4; ++i) {
            FeatureList list;
            list.info.name = "points";
            list.info.crs = *crs::crsFromCode(32629);
            for (int k = 0; k < 2000; ++k)
                list.features.push_back({k, Geometry::point({double(k), double(i)}), {}});
            const auto name = "many" + std::to_string(i) + ".gpkg";
            QVERIFY(io::writeTable(list, path(name.c_str()), {}).has_value());
            doc::SourceRef source;
            source.path = path(name.c_str());
            sources.push_back(source);
        }
        SourceCache cache;
        cache.setLimit(1);
        const auto kept = cache.table(sources[0]);
        const std::weak_ptr<const FeatureTable> second = *cache.table(sources[1]);
        QVERIFY(cache.table(sources[2]).has_value());
        QVERIFY(cache.table(sources[3]).has_value());
        QVERIFY(second.expired());         // nobody had it
        QVERIFY((*kept)->size() == 2000);  // somebody has it, so it is the same still
        QCOMPARE(*cache.table(sources[0]), *kept);
        QVERIFY(cache.held() <= 3);
        // Within the limit everything stays.
        SourceCache roomy;
        for (const auto& source : sources) QVERIFY(roomy.table(source).has_value());
        QCOMPARE(roomy.held(), std::size_t{4});
    }

    void readsAgainWhatWasStopped() {
        QFile file(QString::fromStdString(path("stopped.geojson").string()));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write("{\"type\":\"FeatureCollection\",\"features\":[{\"type\":\"Feature\","
                   "\"properties\":{},\"geometry\":{\"type\":\"Point\","
                   "\"coordinates\":[-7,62]}}]}");
        file.close();
        doc::SourceRef source;
        source.name = "Stopped";
        source.path = path("stopped.geojson");
        const SourceCache cache;
        std::stop_source stop;
        stop.request_stop();
        const auto stopped = cache.table(source, {stop.get_token(), {}});
        QVERIFY(!stopped.has_value());
        QCOMPARE(stopped.error().code, ErrorCode::Cancelled);
        QCOMPARE((*cache.table(source))->size(), std::size_t{1});
    }

    void keepsTheColoursOfClassesInPdfs() {
        RasterInfo info;
        info.crs = *crs::crsFromCode(32629);
        info.toWorld = {10, 0, 500000, 0, -10, 6800000};
        info.bands = {{CellType::UInt8, {}, ""}};
        Grid<float> cells(200, 300);
        for (std::size_t r = 0; r < 200; ++r)
            for (std::size_t c = 0; c < 300; ++c) cells(r, c) = float(1 + (r / 7 * 3 + c / 5) % 7);
        QVERIFY(
            io::writeRaster(MemoryRaster(info, cells), path("classes.tif"), {}, {}).has_value());
        const auto cache = std::make_shared<SourceCache>();
        auto made = newLayersFor(path("classes.tif"), *cache, 0, {});
        QVERIFY(made.has_value());
        doc::Document document = withNewLayers({}, *std::move(made)).first;
        doc::MapPanel panel;
        panel.centre = {501500, 6799000}, panel.scale = 20000, panel.crs = document.mapCrs;
        panel.hasTicks = false;
        doc::SheetItem item;
        item.id = 1000;
        item.rect = {10, 10, 150, 100};
        item.content = panel;
        doc::Sheet sheet;
        sheet.name = "classes", sheet.items = {item}, sheet.widthMm = 170, sheet.heightMm = 120;
        const auto colours = [&](bool mayLose) {
            const auto done =
                exportSheet(document, sheet, cache, path("classes.pdf"), {150, mayLose}, {});
            if (!done) qWarning("%s", done.error().text().c_str());
            QProcess images;
            images.start("pdfimages", {"-png", QString::fromStdString(path("classes.pdf").string()),
                                       QString::fromStdString(path("part").string())});
            images.waitForFinished();
            std::set<QRgb> found;
            for (int i = 0; i < 9; ++i) {
                const QImage part(QString::fromStdString(path("part").string()) +
                                  QString("-%1.png").arg(i, 3, 10, QChar('0')));
                for (int y = 0; y < part.height(); ++y)
                    for (int x = 0; x < part.width(); ++x) found.insert(part.pixel(x, y));
            }
            return found.size();
        };
        const std::size_t kept = colours(false);
        QVERIFY2(kept >= 7 && kept <= 8, qPrintable(QString::number(kept)));  // and the paper
        QVERIFY(colours(true) > 100);
    }

    void exportsSheetsWhosePixelsAndPaperAgree() {
        const auto document = loadProject(test::coarseDemo());
        const auto cache = std::make_shared<SourceCache>();
        const doc::Sheet& sheet = document->sheets[0];
        constexpr double kDpi = 150;  // hairlines print a pixel wide, so not too coarse
        const auto png = exportSheet(*document, sheet, cache, path("sheet.png"), {kDpi}, {});
        QVERIFY2(png.has_value(), png ? "" : png.error().text().c_str());
        QVERIFY(png->problems.empty());
        const QImage image(QString::fromStdString(path("sheet.png").string()));
        QCOMPARE(image.size(),
                 QSize(qRound(sheet.widthMm / 25.4 * kDpi), qRound(sheet.heightMm / 25.4 * kDpi)));
        const auto pdf = exportSheet(*document, sheet, cache, path("sheet.pdf"), {kDpi}, {});
        QVERIFY2(pdf.has_value(), pdf ? "" : pdf.error().text().c_str());

        QProcess fonts;
        fonts.start("pdffonts", {QString::fromStdString(path("sheet.pdf").string())});
        QVERIFY(fonts.waitForFinished());
        const QString listed = fonts.readAllStandardOutput();
        QVERIFY2(listed.contains("Inter"), qPrintable(listed));
        for (const QString& line : listed.split('\n', Qt::SkipEmptyParts).mid(2))
            QVERIFY2(line.contains(" yes "), qPrintable(line));
        QProcess text;
        text.start("pdftotext", {QString::fromStdString(path("sheet.pdf").string()), "-"});
        QVERIFY(text.waitForFinished());
        QVERIFY(QString(text.readAllStandardOutput()).contains("Hill paths to be re-routed"));

        QProcess render;
        render.start("pdftoppm", {"-r", QString::number(kDpi), "-png", "-singlefile",
                                  QString::fromStdString(path("sheet.pdf").string()),
                                  QString::fromStdString(path("fromPdf").string())});
        QVERIFY(render.waitForFinished());
        const QImage printed(QString::fromStdString(path("fromPdf.png").string()));
        QVERIFY(std::abs(printed.width() - image.width()) <= 1 &&
                std::abs(printed.height() - image.height()) <= 1);
        // Seen from a little distance the two are the same: means over 8 x 8 pixels.
        const QSize coarse(image.width() / 8, image.height() / 8);
        const QImage a = image.scaled(coarse, Qt::IgnoreAspectRatio, Qt::SmoothTransformation)
                             .convertToFormat(QImage::Format_RGB32);
        const QImage b = printed.scaled(coarse, Qt::IgnoreAspectRatio, Qt::SmoothTransformation)
                             .convertToFormat(QImage::Format_RGB32);
        int far = 0;
        double sum = 0;
        for (int y = 0; y < coarse.height(); ++y)
            for (int x = 0; x < coarse.width(); ++x) {
                const QColor p = a.pixelColor(x, y), q = b.pixelColor(x, y);
                const int off =
                    std::max({std::abs(p.red() - q.red()), std::abs(p.green() - q.green()),
                              std::abs(p.blue() - q.blue())});
                sum += off;
                far += off > 48 ? 1 : 0;
            }
        const int count = coarse.width() * coarse.height();
        QVERIFY2(sum / count < 3, qPrintable(QString::number(sum / count)));
        QVERIFY2(far < count / 50, qPrintable(QString::number(far)));
    }

    void refusesExportsItCannotMake() {
        const auto document = loadProject(test::coarseDemo());
        const auto cache = std::make_shared<SourceCache>();
        QCOMPARE(exportSheet(*document, document->sheets[0], cache, path("x.bmp"), {100}, {})
                     .error()
                     .code,
                 ErrorCode::Unsupported);
        QCOMPARE(exportSheet(*document, document->sheets[0], cache, path("x.png"), {20000}, {})
                     .error()
                     .code,
                 ErrorCode::LimitExceeded);
        QVERIFY(
            !exportSheet(*document, document->sheets[0], cache, "/no/such/folder/x.png", {50}, {}));
        QVERIFY(
            !exportSheet(*document, document->sheets[0], cache, "/no/such/folder/x.pdf", {50}, {}));
        std::stop_source stop;
        stop.request_stop();
        QCOMPARE(exportSheet(*document, document->sheets[0], cache, path("stopped.pdf"), {50},
                             {stop.get_token(), {}})
                     .error()
                     .code,
                 ErrorCode::Cancelled);
        QVERIFY(!fs::exists(path("stopped.pdf")));
        QVERIFY(!fs::exists(path("x.png")));
    }

    void buildsReliefAndContoursForAnyDem() {
        SourceCache cache;
        auto made = newLayersFor(test::coarseDemo().parent_path() / "island_dem.tif", cache, 0, {});
        QVERIFY(made.has_value());
        auto [document, ids] = withNewLayers({}, *std::move(made));
        QCOMPARE(document.mapCrs, std::string("EPSG:32629"));
        const doc::SourceRef& source = document.sources[0];
        const auto relief = reliefLayers(source, cache);
        QVERIFY(relief && relief->size() == 3);
        const auto contours = contourLayer(source, cache, 50000);
        QVERIFY(contours.has_value());
        const double interval = contours->as<doc::Contours>()->style.levels.interval;
        QVERIFY(interval >= 5 && interval <= 50);
        QVERIFY(!newLayersFor("/no/such.tif", cache, 0, {}));
        made = newLayersFor(test::coarseDemo().parent_path() / "hill_paths.geojson", cache, 0, {});
        QCOMPARE(withNewLayers({}, *std::move(made)).first.mapCrs, std::string("EPSG:32629"));
    }

    void worksWithoutAnyCrs() {
        FeatureList table;
        table.info.name = "plan";
        table.features = {{1, Geometry::line({{0, 0}, {100, 50}}), {}}};
        QVERIFY(io::writeTable(table, path("plan.gpkg"), {}).has_value());
        SourceCache cache;
        auto made = newLayersFor(path("plan.gpkg"), cache, 0, {});
        auto [document, ids] = withNewLayers({}, *std::move(made));
        QVERIFY(document.mapCrs.empty());
        QCOMPARE(cache.extent(document.sources[0], nullptr).width(), 100.0);
        const auto done = exportView(document, {{50, 25}, 1000, 0}, std::make_shared<SourceCache>(),
                                     {300, 200}, 96, path("plan.png"), {});
        QVERIFY(done.has_value() && done->problems.empty());
        const QImage image(QString::fromStdString(path("plan.png").string()));
        bool hasInk = false;
        for (int y = 0; y < 200 && !hasInk; ++y)
            for (int x = 0; x < 300 && !hasInk; ++x)
                hasInk = image.pixelColor(x, y) != QColor(Qt::white);
        QVERIFY(hasInk);
    }
};

QTEST_MAIN(SessionTest)
#include "session_test.moc"
