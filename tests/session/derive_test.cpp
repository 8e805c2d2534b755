#include "session/derive/operations.h"

#include <QDir>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>
#include <cmath>

#include "core/crs/transformation.h"
#include "document/json/project_json.h"
#include "io/files/atomic_file.h"
#include "session/derive/lineage.h"
#include "session/derive/ready_formulas.h"
#include "session/new_layers.h"
#include "session/terrain_files.h"
#include "support/places.h"

using namespace ledge;
using namespace ledge::session;
namespace fs = std::filesystem;

/// Whatever is derived can be told, done again, shown live, and said as a command.
class DeriveTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;

    fs::path at(const std::string& name) const {
        return fs::path(m_dir.path().toStdString()) / name;
    }

    // Hills of 60 x 80 cells; `lift` is added to each.
    void writeDem(const std::string& name, float lift = 0) const {
        RasterInfo info;
        info.width = 80, info.height = 60;
        info.crs = *crs::crsFromCode(32629);
        info.toWorld = {10, 0, 500000, 0, -10, 6830000};
        info.bands = {{CellType::Float32, -9999.0, "metre"}};
        Grid<float> cells(60, 80);
        for (std::size_t r = 0; r < 60; ++r)
            for (std::size_t c = 0; c < 80; ++c)
                cells(r, c) = lift + 40.0F * std::sin(float(r) / 9) * std::cos(float(c) / 11);
        cells(3, 4) = std::numeric_limits<float>::quiet_NaN();
        QVERIFY(io::writeRaster(MemoryRaster(info, cells), at(name), io::Compression::None, {}));
    }

    doc::SourceRef source(const std::string& name, doc::Id id = 1) const {
        doc::SourceRef out;
        out.id = id;
        out.name = name;
        out.path = at(name);
        return out;
    }

    doc::Lineage lineage(const std::string& operation, const Settings& settings = {}) const {
        doc::Lineage out;
        out.operation = operation;
        out.inputs = {inputFrom(source("dem.tif"))};
        out.parameters = settings;
        return out;
    }

    static Grid<float> cellsOf(const RasterSource& raster, int band = 0) {
        const auto& info = raster.info();
        Grid<float> out(std::size_t(info.height), std::size_t(info.width));
        if (!raster.read(band, info.whole(), out.view())) return {};
        return out;
    }
    static RasterPtr opened(const fs::path& path) {
        auto raster = io::openSource(path);
        return raster ? std::get<RasterPtr>(*raster) : nullptr;
    }
    static bool same(const Grid<float>& a, const Grid<float>& b) {
        if (a.rows() != b.rows() || a.cols() != b.cols()) return false;
        for (std::size_t i = 0; i < a.cells().size(); ++i) {
            const float x = a.cells()[i], y = b.cells()[i];
            if (!(x == y || (std::isnan(x) && std::isnan(y)))) return false;
        }
        return true;
    }

private slots:
    void init() {
        writeDem("dem.tif");
        writeDem("old dem.tif", 3);
        FeatureList table;
        table.info.name = "bog";
        table.info.geometry = GeometryType::Polygon;
        table.info.crs = *crs::crsFromCode(32629);
        table.features.push_back(
            {1,
             Geometry::polygon(
                 {{{500100, 6829900}, {500500, 6829900}, {500300, 6829500}, {500100, 6829900}}}),
             {}});
        QVERIFY(io::writeTable(table, at("bog.gpkg"), {}));
    }

    void everyOperationIsDoneLiveStoredAndByCommand_data() {
        QTest::addColumn<QString>("operation");
        QTest::addColumn<QStringList>("settings");
        QTest::addColumn<QString>("target");
        QTest::newRow("hillshade") << "hillshade" << QStringList{"lights=300/35,20/50"} << "a.tif";
        QTest::newRow("shadows") << "hillshade"
                                 << QStringList{"shadows=yes", "gradient=zevenbergen-thorne",
                                                "height-scale=2.5"}
                                 << "b.tif";
        QTest::newRow("slope") << "slope" << QStringList{"unit=percent"} << "c.tif";
        QTest::newRow("aspect") << "aspect" << QStringList{} << "d.tif";
        QTest::newRow("tint") << "tint" << QStringList{"stops=-50:#204060,0:#E8F1D4,50:#C9B27A"}
                              << "e.tif";
        QTest::newRow("tint of a family")
            << "tint" << QStringList{"family=arid", "limits=-20,400"} << "m.tif";
        QTest::newRow("tint over the DEM") << "tint" << QStringList{"height-scale=0.5"} << "n.tif";
        QTest::newRow("steepness") << "steepness" << QStringList{} << "o.tif";
        QTest::newRow("named column")
            << "contours" << QStringList{"interval=20", "column=height"} << "p.geojson";
        QTest::newRow("contours") << "contours" << QStringList{"interval=7.5", "index-every=4"}
                                  << "f.geojson";
        QTest::newRow("areas") << "contours" << QStringList{"interval=20", "filled=yes", "smooth=2"}
                               << "g.geojson";
        QTest::newRow("reproject")
            << "reproject" << QStringList{"to-crs=EPSG:3034", "resampling=cubic"} << "h.tif";
        QTest::newRow("resample") << "resample" << QStringList{"cell=25"} << "i.tif";
        QTest::newRow("clip") << "clip" << QStringList{"extent=500105,6829600,500395,6829900"}
                              << "j.tif";
        QTest::newRow("by areas") << "clip" << QStringList{"by=bog.gpkg"} << "k.tif";
        QTest::newRow("formula") << "calculate"
                                 << QStringList{"expression=if(b1 > 0, b1 - old_dem, 0)"}
                                 << "l.tif";
    }
    void everyOperationIsDoneLiveStoredAndByCommand() {
        QFETCH(QString, operation);
        QFETCH(QStringList, settings);
        QFETCH(QString, target);
        auto made = lineage(operation.toStdString());
        for (const QString& one : settings) {
            const auto key = one.section('=', 0, 0), value = one.section('=', 1);
            if (key == "by")
                made.inputs.push_back(inputFrom(source(value.toStdString())));
            else
                made.parameters[key.toStdString()] = value.toStdString();
        }
        if (operation == "calculate") {
            auto first = inputFrom(source("dem.tif"), "b1");
            auto second = inputFrom(source("old dem.tif"), "old_dem");
            made.inputs = {first, second};
        }
        const SourceCache cache;
        const auto path = at(target.toStdString());
        const auto done = writeDerived(made, cache, path, {});
        QVERIFY2(done.has_value(), done ? "" : done.error().text().c_str());
        const auto byLineage = io::readText(path);
        // The command gives the same file.
        const auto command =
            QString::fromStdString(commandOf(made, "by_command_" + target.toStdString()));
        QProcess process;
        process.setWorkingDirectory(m_dir.path());
        const QString folder = QString(test::kProgram).section('/', 0, -2);
        process.start("sh", {"-c", "PATH=\"" + folder + ":$PATH\"\n" +
                                       QString(command).replace("\n", " \\\n")});
        QVERIFY(process.waitForFinished());
        QVERIFY2(process.exitCode() == 0,
                 qPrintable(command + "\n" + process.readAllStandardError()));
        const auto commanded = at("by_command_" + target.toStdString());
        if (target.endsWith(".geojson")) {
            QCOMPARE(*io::readText(commanded), *byLineage);
            return;
        }
        const auto stored = opened(path), again = opened(commanded);
        QVERIFY(stored && again);
        const auto live = derivedRaster(made, cache);
        QVERIFY(live.has_value());
        for (int band = 0; band < int(stored->info().bands.size()); ++band) {
            QVERIFY(same(cellsOf(*stored, band), cellsOf(*again, band)));
            QVERIFY(same(cellsOf(*stored, band), cellsOf(**live, band)));
        }
        QCOMPARE(stored->info().width, (*live)->info().width);
    }

    // What a format would lose is known before anything is written.
    void tellsLossesFirst() {
        FeatureList list;
        list.info.name = "posts";
        list.info.crs = *crs::crsFromCode(32629);
        list.info.geometry = GeometryType::Point;
        list.info.fields = {{"a name longer than ten letters", FieldType::Text}};
        list.features.push_back({1, Geometry::point({500000, 6800000}), {std::string("post")}});
        QVERIFY(io::writeTable(FeatureTable(std::move(list)), at("long.gpkg"), {}).has_value());
        doc::Lineage made;
        made.operation = "reproject";
        made.inputs = {inputFrom(source("long.gpkg"))};
        made.parameters = {{"to-crs", "EPSG:4326"}};
        const SourceCache cache;
        const auto losses = lossesOf(made, cache, at("long.shp"));
        QVERIFY(losses && !losses->empty());
        QVERIFY(!fs::exists(at("long.shp")));
        QCOMPARE(*lossesOf(made, cache, at("again.gpkg")), Remarks{});
        QCOMPARE(*writeDerived(made, cache, at("long.shp"), {}), *losses);
    }

    // What a result leaves out is said to whoever asked for it.
    void saysWhatItLeavesOut() {
        FeatureList list;
        list.info.name = "posts";
        list.info.crs = *crs::crsFromCode(4326);
        list.info.geometry = GeometryType::Point;
        for (const Point p : {Point{-9, 60}, Point{-8.5, 61}, Point{150, -20}})
            list.features.push_back({0, Geometry::point(p), {}});
        QVERIFY(io::writeTable(FeatureTable(std::move(list)), at("posts.geojson"), {}).has_value());
        doc::Lineage made;
        made.operation = "reproject";
        made.inputs = {inputFrom(source("posts.geojson"))};
        made.parameters = {{"to-crs", "EPSG:32629"}};
        const SourceCache cache;
        const auto done = writeDerived(made, cache, at("posts.gpkg"), {});
        QVERIFY(done);
        QCOMPARE(*done,
                 Remarks{"1 of 3 features lies outside WGS 84 / UTM zone 29N and is left out"});
        made.parameters["to-crs"] = "EPSG:4258";
        QCOMPARE(*writeDerived(made, cache, at("all.gpkg"), {}), Remarks{});
        // A raster of more than a CRS is meant for is kept to that.
        RasterInfo info;
        info.width = 72, info.height = 36;
        info.crs = *crs::crsFromCode(4326);
        info.toWorld = {5, 0, -180, 0, -5, 90};
        info.bands = {{CellType::Float32, {}, ""}};
        QVERIFY(io::writeRaster(MemoryRaster(info, Grid<float>(36, 72)), at("earth.tif"),
                                io::Compression::None, {}));
        made.inputs = {inputFrom(source("earth.tif"))};
        made.parameters = {{"to-crs", "EPSG:32629"}};
        const auto kept = writeDerived(made, cache, at("zone.tif"), {});
        QVERIFY(kept);
        QCOMPARE(kept->size(), std::size_t{1});
        QVERIFY2(kept->front().find("area of use") != std::string::npos, kept->front().c_str());
    }

    void saysWhatIsWrongWithASetting_data() {
        QTest::addColumn<QString>("operation");
        QTest::addColumn<QString>("key");
        QTest::addColumn<QString>("value");
        QTest::newRow("no light") << "hillshade"
                                  << "lights"
                                  << "";
        QTest::newRow("half a light") << "hillshade"
                                      << "lights"
                                      << "315";
        QTest::newRow("light below ground") << "hillshade"
                                            << "lights"
                                            << "315/-4";
        QTest::newRow("scale") << "slope"
                               << "height-scale"
                               << "-1";
        QTest::newRow("interval") << "contours"
                                  << "interval"
                                  << "0";
        QTest::newRow("levels") << "contours"
                                << "levels"
                                << "1,b";
        QTest::newRow("crs") << "reproject"
                             << "to-crs"
                             << "EPSG:0";
        QTest::newRow("no crs") << "reproject"
                                << "to-crs"
                                << "";
        QTest::newRow("extent") << "clip"
                                << "extent"
                                << "1,2,3";
        QTest::newRow("turned extent") << "clip"
                                       << "extent"
                                       << "500300,1,500200,2";
        QTest::newRow("extent elsewhere") << "clip"
                                          << "extent"
                                          << "1,1,2,2";
        QTest::newRow("formula") << "calculate"
                                 << "expression"
                                 << "b1 +";
        QTest::newRow("choice") << "slope"
                                << "unit"
                                << "feet";
        QTest::newRow("truth") << "hillshade"
                               << "shadows"
                               << "maybe";
        QTest::newRow("half a step") << "contours"
                                     << "smooth"
                                     << "1.5";
        QTest::newRow("too smooth") << "contours"
                                    << "smooth"
                                    << "9";
        QTest::newRow("below its limit") << "resample"
                                         << "cell"
                                         << "-2";
        QTest::newRow("turned limits") << "tint"
                                       << "limits"
                                       << "400,20";
        QTest::newRow("stops") << "tint"
                               << "stops"
                               << "0:#FFFFFF";
        QTest::newRow("unknown") << "erode"
                                 << "years"
                                 << "100";
    }
    void saysWhatIsWrongWithASetting() {
        QFETCH(QString, operation);
        QFETCH(QString, key);
        QFETCH(QString, value);
        auto made = lineage(operation.toStdString(), {{key.toStdString(), value.toStdString()}});
        made.inputs[0].name = "b1";
        const SourceCache cache;
        const auto target = at(operation == "contours" ? "no.gpkg" : "no.tif");
        const auto done = writeDerived(made, cache, target, {});
        QVERIFY(!done);
        QVERIFY2(!done.error().why.empty() && !done.error().mend.empty(),
                 done.error().text().c_str());
        QVERIFY(!fs::exists(target));
    }

    // What the form and lineage refuse the command refuses too, with the same words, and the other
    // way round.
    void commandChecksAsTheTableDoes_data() {
        QTest::addColumn<QString>("operation");
        QTest::addColumn<QString>("key");
        QTest::addColumn<QString>("value");
        for (const Operation& operation : operations()) {
            if (!operation.readsHeights) continue;
            for (const Setting& setting : operation.settings) {
                const auto row = [&](const std::string& value) {
                    QTest::newRow((operation.name + " " + setting.key + " " + value).c_str())
                        << QString::fromStdString(operation.name)
                        << QString::fromStdString(setting.key) << QString::fromStdString(value);
                };
                if (setting.kind == Setting::Kind::Choice) row("neither");
                if (setting.kind != Setting::Kind::Number) continue;
                row(std::to_string(setting.low - 1));
                row(std::to_string(setting.high + 1));
                row("some");
                if (setting.decimals == 0) row("1.5");
            }
        }
    }
    void commandChecksAsTheTableDoes() {
        QFETCH(QString, operation);
        QFETCH(QString, key);
        QFETCH(QString, value);
        const auto* setting = operationNamed(operation.toStdString())->setting(key.toStdString());
        const auto fine = checkSetting(*setting, value.toStdString());
        QVERIFY(!fine);
        QProcess process;
        process.setWorkingDirectory(m_dir.path());
        process.start(test::kProgram,
                      {"terrain", operation, "dem.tif", "refused.tif", "--" + key + "=" + value});
        QVERIFY(process.waitForFinished());
        QCOMPARE(process.exitCode(), 2);
        const QString said = process.readAllStandardError();
        QVERIFY2(said.contains(QString::fromStdString(fine.error().why)), qPrintable(said));
        QVERIFY2(said.contains(QString::fromStdString(fine.error().mend)), qPrintable(said));
        QVERIFY(!fs::exists(at("refused.tif")));
    }

    void neverWritesOverItsInput() {
        const SourceCache cache;
        const auto before = io::readText(at("dem.tif"));
        QVERIFY(!writeDerived(lineage("slope"), cache, at("dem.tif"), {}));
        QCOMPARE(*io::readText(at("dem.tif")), *before);
    }

    void leavesNothingBehindWhenStopped() {
        const SourceCache cache;
        std::stop_source stop;
        stop.request_stop();
        const auto count = [&] {
            return std::distance(fs::directory_iterator(at("")), fs::directory_iterator());
        };
        const auto before = count();
        for (const char* name : {"slope", "hillshade", "resample"})
            QVERIFY(!writeDerived(lineage(name, {{"cell", "3"}}), cache, at("stopped.tif"),
                                  {stop.get_token(), {}}));
        QCOMPARE(count(), before);
    }

    // A limit on the size of files stands for a full disk: writing fails at the same place.
    void saysThatTheDiskIsFull_data() {
        QTest::addColumn<QString>("command");
        QTest::newRow("GeoTIFF") << "terrain slope dem.tif full.tif";
        QTest::newRow("with overviews") << "terrain slope dem.tif full.tif --overviews";
        QTest::newRow("converted") << "convert dem.tif full.tif --cell 2";
        QTest::newRow("ASCII grid") << "convert dem.tif full.asc --cell 4";
        QTest::newRow("contours") << "terrain contours dem.tif full.geojson --interval 0.2";
    }
    void saysThatTheDiskIsFull() {
        QFETCH(QString, command);
        const auto files = [&] {
            QStringList out = QDir(m_dir.path()).entryList(QDir::AllEntries | QDir::Hidden);
            return out;
        };
        const QStringList before = files();
        QProcess process;
        process.setWorkingDirectory(m_dir.path());
        process.start(
            "sh",
            {"-c", QString("trap '' XFSZ; ulimit -f 8; exec '%1' %2").arg(test::kProgram, command)});
        QVERIFY(process.waitForFinished());
        const QString said = process.readAllStandardError();
        QCOMPARE(process.exitStatus(), QProcess::NormalExit);
        QVERIFY2(process.exitCode() != 0, qPrintable(said));
        QVERIFY2(said.contains("larger than is allowed"), qPrintable(said));
        QVERIFY(said.contains("write elsewhere"));
        QCOMPARE(files(), before);
    }

    void knowsWhenItIsStale() {
        doc::Document d;
        d.sources = {source("dem.tif", 1), source("slope.tif", 2), source("steep.tif", 3)};
        const SourceCache cache;
        auto made = lineage("slope", {{"height-scale", "auto"}});
        QVERIFY(writeDerived(made, cache, at("slope.tif"), {}));
        d.sources[1].lineage = stamped(made);
        auto second = lineage("calculate", {{"expression", "s > 20"}});
        second.inputs = {inputFrom(d.sources[1], "s")};
        d.sources[2].lineage = stamped(second);
        const auto reasons = [&](std::size_t i) { return staleReasons(d, d.sources[i]); };
        QVERIFY(reasons(0).empty() && reasons(1).empty() && reasons(2).empty());

        writeDem("dem.tif", 100);
        fs::last_write_time(at("dem.tif"),
                            fs::file_time_type::clock::now() + std::chrono::seconds(5));
        QCOMPARE(reasons(1).size(), std::size_t{1});
        // What was made from something stale is stale too.
        QCOMPARE(reasons(2).size(), std::size_t{1});
        QVERIFY(writeDerived(stamped(brought(made, d)), cache, at("slope.tif"), {}));
        fs::last_write_time(at("slope.tif"),
                            fs::file_time_type::clock::now() + std::chrono::seconds(5));
        auto [next, id] = withDerived(d, at("slope.tif"), stamped(brought(made, d)));
        QCOMPARE(id, doc::Id{2});
        d = next;
        QVERIFY(reasons(1).empty());
        QVERIFY(!reasons(2).empty());  // its own input has changed since

        d.sources[0].heightUnit = doc::HeightUnit::Foot;
        QVERIFY(reasons(1).front().find("height unit") != std::string::npos);
        QCOMPARE(brought(*d.sources[1].lineage, d).inputs[0].heightUnit, doc::HeightUnit::Foot);
        d.sources[0].heightUnit = doc::HeightUnit::Metre;
        d.sources[0].declaredCrs = "EPSG:3034";
        QVERIFY(reasons(1).front().find("CRS") != std::string::npos);
        d.sources[0].declaredCrs.reset();
        fs::remove(at("dem.tif"));
        QVERIFY(reasons(1).front().find("no longer there") != std::string::npos);
    }

    void isKeptWithTheProject() {
        doc::Document d;
        auto stored = source("slope.tif", 1);
        stored.lineage = lineage("slope", {{"unit", "percent"}});
        stored.lineage->inputs[0].declaredCrs = "EPSG:32629";
        stored.lineage->inputs[0].heightUnit = doc::HeightUnit::Foot;
        doc::SourceRef live;
        live.id = 2;
        live.name = "ratio";
        live.lineage = lineage("calculate", {{"expression", "a / 2"}});
        live.lineage->inputs[0].name = "a";
        live.lineage->inputs[0].band = 3;
        d.sources = {stored, live};
        d.nextId = 3;
        const auto back = doc::projectFromText(doc::projectText(d, at("")), at(""));
        QVERIFY(back.has_value());
        QCOMPARE(back->sources, d.sources);
        QVERIFY(back->sources[1].isLive());
        // Moved with its folder, it finds its inputs there.
        const auto moved = doc::projectFromText(doc::projectText(d, at("")), "/elsewhere");
        QCOMPARE(moved->sources[0].lineage->inputs[0].path, fs::path("/elsewhere/dem.tif"));
    }

    void showsLiveSourcesThatFollowTheirFiles() {
        SourceCache cache;
        doc::Document d;
        d.sources = {source("dem.tif", 1), source("old dem.tif", 2)};
        const auto bands = namedBands(d, 1, [](const doc::SourceRef&) { return std::size_t{1}; });
        QCOMPARE(bands.size(), std::size_t{2});
        QCOMPARE(bands[0].name, std::string("band1"));
        QCOMPARE(bands[1].name, std::string("old_dem_tif"));
        const auto made = calculation("old_dem_tif - b1", bands);
        QVERIFY(made.has_value());
        const auto layer = newLiveLayer(*made, "Difference", cache, {});
        QVERIFY2(layer.has_value(), layer ? "" : layer.error().text().c_str());
        QVERIFY(layer->layers.front().as<doc::RasterLayer>());
        const Point place{500305, 6829705};
        const auto value = [&] {
            const auto raster = cache.raster(layer->source);
            return raster ? valueAt((*raster)->source(), 0, place) : kNaN;
        };
        QVERIFY(std::abs(value() - 3) < 1e-4);
        writeDem("old dem.tif", 8);
        fs::last_write_time(at("old dem.tif"),
                            fs::file_time_type::clock::now() + std::chrono::seconds(5));
        QVERIFY(std::abs(value() - 8) < 1e-4);
        QVERIFY(!calculation("1 + 1", bands));
        QVERIFY(!calculation("b9", bands));
    }

    // Degrees on the ground and feet in height, nothing set by hand: the slope is still right.
    void takesFeetOverDegreesAsTheyAre() {
        RasterInfo info;
        info.width = 60, info.height = 40;
        info.crs = *crs::crsFromCode(4326);
        info.toWorld = {0.001, 0, -10, 0, -0.001, 60};
        info.bands = {{CellType::Float32, -9999.0, "foot"}};
        const double metres = crs::groundUnits(info.crs, {-9.97, 59.98}).x * 0.001;
        Grid<float> z(40, 60);
        for (std::size_t r = 0; r < 40; ++r)
            for (std::size_t c = 0; c < 60; ++c)
                z(r, c) = static_cast<float>(0.2 * double(c) * metres / 0.3048);
        QVERIFY(io::writeRaster(MemoryRaster(info, z), at("feet.tif"), io::Compression::None, {}));
        SourceCache cache;
        const auto made = newLayersFor(at("feet.tif"), cache, 0, {});
        QVERIFY(made.has_value());
        QCOMPARE(made->front().source.heightUnit, doc::HeightUnit::Foot);
        doc::Layer steep;
        steep.content = doc::Steepness{};
        const auto slopes = derivedRaster(*lineageOf(steep, made->front().source), cache);
        QVERIFY(slopes.has_value());
        const double wanted = std::atan(0.2) * 180 / M_PI;
        const Grid<float> steepness = cellsOf(**slopes);
        for (const float v : steepness.cells())
            QVERIFY2(std::abs(double(v) - wanted) < 0.03, qPrintable(QString::number(v)));
    }

    // A file takes the look of the live strip it was written from, not of one like it.
    void takesTheLookOfItsOwnLiveStrip() {
        SourceCache cache;
        doc::Document d;
        for (const char* file : {"old dem.tif", "dem.tif"}) {
            doc::SourceRef live;
            live.lineage = lineage("calculate", {{"expression", "b1 * 2"}});
            live.lineage->inputs = {inputFrom(source(file), "b1")};
            live.id = d.nextId++;
            doc::RasterLayer look;
            look.style.ramp.stops = {{double(live.id), {1, 2, 3}}, {100, {4, 5, 6}}};
            auto layer = std::make_shared<doc::Layer>();
            layer->id = d.nextId++;
            layer->source = live.id;
            layer->content = look;
            d.layers.push_back(layer);
            d.sources.push_back(live);
        }
        const auto made = *d.sources[1].lineage;
        QVERIFY(writeDerived(made, cache, at("twice.tif"), {}));
        auto added = newLayersFor(at("twice.tif"), cache, 0, {});
        QVERIFY(added.has_value());
        dressDerived(added->front(), made, d, cache);
        QCOMPARE(added->front().source.lineage, std::optional(made));
        // The strip that showed it goes on with the file, its look and place its own.
        const auto [with, ids] = withNewLayers(d, *added);
        QCOMPARE(with.layers.size(), d.layers.size());
        QCOMPARE(ids, std::vector<doc::Id>{d.layers[1]->id});
        QVERIFY(with.layers[1]->content == d.layers[1]->content);
        QCOMPARE(with.source(with.layers[1]->source)->path, at("twice.tif"));
        QVERIFY(!with.source(d.sources[1].id));
        QVERIFY(*with.layers[0] == *d.layers[0]);
        // None like it: a look that fits, which is not one for heights.
        auto again = newLayersFor(at("twice.tif"), cache, 0, {});
        dressDerived(again->front(), made, {}, cache);
        QVERIFY(again->front().layers.front().as<doc::RasterLayer>());
    }

    void offersFormulasThatCanBeUsed_data() {
        QTest::addColumn<QStringList>("bands");
        QTest::addColumn<bool>("hasOther");
        QTest::addColumn<QString>("first");
        QTest::newRow("one band") << QStringList{"height"} << false
                                  << "if(band1 > 0, band1, nodata)";
        QTest::newRow("two rasters") << QStringList{"height"} << true << "band1 - other_tif";
        QTest::newRow("infrared last") << QStringList{"red", "green", "blue", "near infrared"}
                                       << false << "normalised_difference(band4, band1)";
        QTest::newRow("infrared first") << QStringList{"near infrared", "red", "green"} << true
                                        << "normalised_difference(band1, band2)";
        QTest::newRow("no names") << QStringList{"", ""} << false
                                  << "normalised_difference(band2, band1)";
        QTest::newRow("only red") << QStringList{"", "red"} << false
                                  << "normalised_difference(band1, band2)";
    }
    void offersFormulasThatCanBeUsed() {
        QFETCH(QStringList, bands);
        QFETCH(bool, hasOther);
        QFETCH(QString, first);
        std::vector<BandInfo> own;
        for (const QString& name : bands)
            own.push_back({CellType::UInt8, {}, "", name.toStdString()});
        doc::Document d;
        d.sources = {source("dem.tif", 1)};
        if (hasOther) d.sources.push_back(source("other.tif", 2));
        const auto named = namedBands(d, 1, [&](const doc::SourceRef& one) {
            return one.id == 1 ? own.size() : std::size_t{1};
        });
        const auto offered = readyFormulas(own, named);
        QCOMPARE(QString::fromStdString(offered.front().formula), first);
        for (const auto& ready : offered)
            QVERIFY2(calculation(ready.formula, named).has_value(), ready.formula.c_str());
    }

    void turnsStripsThatReadHeightsIntoOperations() {
        const auto dem = source("dem.tif");
        doc::Layer layer;
        doc::Hillshade shade;
        shade.style.lights = {{300, 35}, {20.5, 50}};
        shade.style.hasShadows = true;
        layer.content = shade;
        auto made = lineageOf(layer, dem);
        QCOMPARE(made->parameters.at("lights"), std::string("300/35,20.5/50"));
        QCOMPARE(commandOf(*made, "OUT.tif"),
                 std::string("ledge terrain hillshade dem.tif OUT.tif\n  --lights "
                             "300/35,20.5/50\n  --shadows"));
        doc::Contours contours;
        contours.style.levels.interval = 25;
        layer.content = contours;
        made = lineageOf(layer, dem, true);
        QCOMPARE(made->parameters.at("filled"), std::string("yes"));
        layer.content = doc::HeightTint{};
        QCOMPARE(lineageOf(layer, dem)->operation, std::string("tint"));
        layer.content = doc::Steepness{};
        QCOMPARE(lineageOf(layer, dem)->operation, std::string("slope"));
        layer.content = doc::VectorLayer{};
        QVERIFY(!lineageOf(layer, dem));
    }
};

QTEST_GUILESS_MAIN(DeriveTest)
#include "derive_test.moc"
