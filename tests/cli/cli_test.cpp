#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <fstream>

#include "support/program.h"
#include "support/reference_table.h"

using namespace ledge;

/// The `ledge` program as scripts see it.
class CliTest : public QObject, test::Program {
    Q_OBJECT

private:
    QJsonObject json(const QStringList& arguments) {
        const Ran ran = run(arguments + QStringList{"--json"});
        if (ran.code != 0) qWarning("%s", qPrintable(ran.err));
        return QJsonDocument::fromJson(ran.out.toUtf8()).object();
    }

private slots:
    void initTestCase() {
        const Ran ran = run({"demo", "world", "--cell", "60"});
        QVERIFY2(ran.code == 0, qPrintable(ran.err));
        QVERIFY(ran.err.isEmpty());  // quiet when piped
    }

    void countsAHistogram() {
        const QJsonObject band =
            json({"describe", "world/land_cover.tif", "--histogram", "7", "--cache", "16"})["bands"]
                .toArray()[0]
                .toObject();
        const QJsonObject counted = band["histogram"].toObject();
        QCOMPARE(counted["counts"].toArray().size(), 7);
        double sum = 0;
        for (const QJsonValue& v : counted["counts"].toArray()) sum += v.toDouble();
        QCOMPARE(sum, band["count"].toDouble());
        QCOMPARE(counted["low"].toDouble(), band["min"].toDouble());
    }

    void calculatesClipsAndTints() {
        QCOMPARE(run({"calculate", "if(h > 0, h * 2, 0)", "double.tif", "--band",
                      "h=world/island_dem.tif"})
                     .code,
                 0);
        const auto numbers = [&](const QString& file) {
            return json({"describe", file, "--numbers"})["bands"].toArray()[0].toObject();
        };
        const double highest = numbers("world/island_dem.tif")["max"].toDouble();
        QVERIFY(std::abs(numbers("double.tif")["max"].toDouble() - 2 * highest) < 1e-3);
        QCOMPARE(numbers("double.tif")["min"].toDouble(), 0.0);
        QCOMPARE(run({"calculate", "normalised_difference(n, r)", "greenness.tif", "--band",
                      "n=world/aerial_summer.tif:4", "--band", "r=world/aerial_summer.tif:1"})
                     .code,
                 0);
        const auto green = numbers("greenness.tif");
        QVERIFY(green["min"].toDouble() >= -1 && green["max"].toDouble() <= 1);
        const Ran wrong = run({"calculate", "h +", "x.tif", "--band", "h=world/island_dem.tif"});
        QCOMPARE(wrong.code, 1);
        QVERIFY(wrong.err.contains("character 4"));
        QVERIFY(!QFile::exists(path("x.tif")));

        QCOMPARE(run({"clip", "world/island_dem.tif", "box.tif", "--extent",
                      "400000,6825000,406000,6831000"})
                     .code,
                 0);
        QCOMPARE(json({"describe", "box.tif"})["width"].toInt(), 101);
        QCOMPARE(run({"clip", "world/island_dem.tif", "islands.tif", "--by", "world/base.gpkg",
                      "--layer", "coast"})
                     .code,
                 0);
        QVERIFY(numbers("islands.tif")["missing"].toInt() > 1000);
        QCOMPARE(run({"clip", "world/island_dem.tif", "none.tif"}).code, 1);

        QCOMPARE(run({"terrain", "tint", "world/island_dem.tif", "tint.png"}).code, 1);
        QCOMPARE(run({"terrain", "tint", "world/island_dem.tif", "tint.tif"}).code, 0);
        QCOMPARE(json({"describe", "tint.tif"})["bands"].toArray().size(), 4);
        QCOMPARE(run({"convert", "tint.tif", "tint.png"}).code, 0);
        QVERIFY(QFile::exists(path("tint.pgw")) && QFile::exists(path("tint.prj")));
        QCOMPARE(run({"terrain", "steepness", "world/island_dem.tif", "steep.tif"}).code, 0);
        QCOMPARE(run({"terrain", "hillshade", "world/island_dem.tif", "shadows.tif", "--altitude",
                      "10", "--shadows", "--overviews", "--compression", "deflate"})
                     .code,
                 0);
        QCOMPARE(numbers("shadows.tif")["min"].toDouble(), 1.0);
        QVERIFY(json({"describe", "shadows.tif"})["overviews"].toInt() > 0);
        QCOMPARE(run({"terrain", "contours", "world/island_dem.tif", "smooth.gpkg", "--interval",
                      "50", "--smooth", "3", "--index-every", "5"})
                     .code,
                 0);
        const auto fields =
            json({"describe", "smooth.gpkg"})["layers"].toArray()[0].toObject()["fields"].toArray();
        QCOMPARE(fields.size(), 2);
        QCOMPARE(fields[1].toObject()["name"].toString(), QString("index"));
    }

    void describesEachKindOfSource() {
        const QJsonObject dem = json({"describe", "world/island_dem.tif", "--numbers"});
        QCOMPARE(dem["kind"].toString(), QString("raster"));
        QCOMPARE(dem["width"].toInt(), 600);
        QCOMPARE(dem["crs"].toObject()["code"].toString(), QString("EPSG:32629"));
        QCOMPARE(dem["cell"].toArray()[0].toDouble(), 60.0);
        const QJsonObject band = dem["bands"].toArray()[0].toObject();
        QVERIFY(band["min"].toDouble() < -20 && band["max"].toDouble() > 150);
        const QJsonObject base = json({"describe", "world/base.gpkg"});
        QCOMPARE(base["kind"].toString(), QString("vector"));
        QCOMPARE(base["layers"].toArray().size(), 4);
        const QJsonObject project = json({"describe", "world/skerravoe.ledge"});
        QCOMPARE(project["kind"].toString(), QString("project"));
        QVERIFY(project["sheets"].toArray()[0].toObject()["width_mm"].toDouble() > 200);
        QVERIFY(run({"describe", "world/crofts.shp"}).out.contains("EPSG:3034"));
    }

    void transformsCoordinatesAndLeavesBadOnesEmpty() {
        const Ran ran = run({"transform", "--from", "EPSG:4326", "--to", "EPSG:32629"},
                            "id,x,y,note\n1,-9,0,\"a, b\"\n2,100,0,far\n3,oops,1,bad\n");
        QCOMPARE(ran.code, 0);
        const QStringList lines = ran.out.split('\n');
        QCOMPARE(lines[0], QString("id,x,y,note"));
        QCOMPARE(lines[1], QString("1,500000,0,\"a, b\""));
        QCOMPARE(lines[2], QString("2,,,far"));
        QCOMPARE(lines[3], QString("3,,,bad"));
        QVERIFY(ran.err.contains("1 points lie outside"));
        QCOMPARE(ran.err.count('\n'), 2);
    }

    void takesTheGradientAskedFor() {
        const auto mean = [this](const char* gradient) {
            [&] {
                QCOMPARE(run({"terrain", "slope", "world/island_dem.tif", "steep.tif", "--gradient",
                              gradient, "--replace"})
                             .code,
                         0);
            }();
            return json({"describe", "steep.tif", "--numbers"})["bands"]
                .toArray()[0]
                .toObject()["mean"]
                .toDouble();
        };
        // Weights across a gradient smooth it, so that ground looks less steep.
        const double smooth = mean("horn"), sharp = mean("zevenbergen-thorne");
        QVERIFY(smooth > 0 && smooth < sharp);
        QCOMPARE(
            run({"terrain", "hillshade", "world/island_dem.tif", "x.tif", "--gradient", "best"})
                .code,
            2);
        QVERIFY(!QFile::exists(path("x.tif")));
    }

    void derivesAspectBandsAndProfiles() {
        QCOMPARE(run({"terrain", "aspect", "world/island_dem.tif", "aspect.tif"}).code, 0);
        const auto band =
            json({"describe", "aspect.tif", "--numbers"})["bands"].toArray()[0].toObject();
        QVERIFY(band["min"].toDouble() >= 0 && band["max"].toDouble() < 360);
        QCOMPARE(run({"terrain", "contours", "world/island_dem.tif", "bands.gpkg", "--levels",
                      "0,100,200", "--filled"})
                     .code,
                 0);
        const auto bands = json({"describe", "bands.gpkg"})["layers"].toArray()[0].toObject();
        QCOMPARE(bands["count"].toInt(), 4);
        QCOMPARE(run({"terrain", "profile", "world/island_dem.tif", "--from", "402000,6828000",
                      "--to", "412000,6829000", "--step", "100", "--out", "profile.csv"})
                     .code,
                 0);
        QFile csv(path("profile.csv"));
        QVERIFY(csv.open(QIODevice::ReadOnly));
        const QStringList lines = QString::fromUtf8(csv.readAll()).trimmed().split('\n');
        QCOMPARE(lines[0], QString("distance,x,y,height"));
        QVERIFY(lines.size() > 100 && lines.size() < 104);
        QCOMPARE(lines[1].section(',', 0, 2), QString("0,402000,6828000"));
        const double length = lines.last().section(',', 0, 0).toDouble();
        QVERIFY(std::abs(length - 10053) < 5 && length > 10049.876);  // longer than in the grid
        QVERIFY(run({"terrain", "profile", "world/island_dem.tif", "--along",
                     "world/hill_paths.geojson", "--out", "-"})
                    .out.startsWith("line,distance,x,y,height"));
        QCOMPARE(run({"terrain", "profile", "world/island_dem.tif", "--out", "p2.csv"}).code, 1);
        QVERIFY(!QFile::exists(path("p2.csv")));
    }

    void findsAndShowsCrs() {
        const Ran found = run({"crs", "find", "lambert-93"});
        QCOMPARE(found.code, 0);
        QVERIFY(found.out.contains("EPSG:2154"));
        const auto here = QJsonDocument::fromJson(
                              run({"crs", "find", "--at", "-10.7,61.6", "--json"}).out.toUtf8())
                              .array();
        bool hasZone = false;
        for (const auto& one : here) hasZone |= one.toObject()["code"].toString() == "EPSG:32629";
        QVERIFY(hasZone);
        const QJsonObject shown = json({"crs", "show", "EPSG:2056"});
        QCOMPARE(shown["unit"].toString(), QString("metre"));
        QCOMPARE(shown["geographic"].toObject()["code"].toString(), QString("EPSG:4150"));
        QVERIFY(shown["area"].toObject()["name"].toString().contains("Switzerland"));
        QVERIFY(
            run({"crs", "show", "EPSG:2056"}).out.contains("Hotine Oblique Mercator (variant B)"));
        // What it writes it reads.
        const QString wkt = run({"crs", "show", "EPSG:28992", "--wkt2"}).out;
        std::ofstream(path("rd.wkt").toStdString()) << wkt.toStdString();
        QCOMPARE(json({"crs", "show", "@rd.wkt"})["code"].toString(), QString("EPSG:28992"));
        QCOMPARE(run({"crs", "find", "no such place"}).code, 1);
        QCOMPARE(run({"crs", "show", "EPSG:99999"}).code, 1);
    }

    void listsOperationsBetweenDatums() {
        const Ran ran =
            run({"crs", "operations", "--from", "EPSG:4230", "--to", "EPSG:4326", "--at", "2,48"});
        QCOMPARE(ran.code, 0);
        QVERIFY(ran.out.section('\n', 0, 0).contains("±"));
        QVERIFY(ran.out.contains("taken as they are"));
        QCOMPARE(
            run({"crs", "operations", "--from", "EPSG:4326", "--to", "EPSG:32629"}).out.trimmed(),
            QString("same datum"));
    }

    /// Every row of the table by the command: codes below 32768 from their own geographic CRS.
    void holdsTheProjectionTable() {
        std::map<int, std::vector<test::Row>> rows;
        for (const test::Row& row : test::readTable("crs/projections.csv"))
            if (const int code = row.at("epsg").toInt(); code < 32768) rows[code].push_back(row);
        QVERIFY(rows.size() > 30);
        std::map<int, test::Row> parameters;
        for (const test::Row& row : test::readTable("crs/crs-parameters.csv"))
            parameters[row.at("epsg").toInt()] = row;
        for (const auto& [code, points] : rows) {
            const QString name = "EPSG:" + QString::number(code);
            const QString base =
                json({"crs", "show", name})["geographic"].toObject()["code"].toString();
            const double prime = test::number(parameters.at(code), "prime_meridian_deg");
            const double unit = test::number(parameters.at(code), "unit_to_m");
            QByteArray input = "x,y\n";
            for (const test::Row& row : points)
                input += QByteArray::number(test::number(row, "lon_deg") - prime, 'g', 17) + "," +
                         row.at("lat_deg").toUtf8() + "\n";
            const Ran ran = run({"transform", "--from", base, "--to", name}, input);
            QVERIFY2(ran.code == 0 && ran.err.isEmpty(), qPrintable(name + ran.err));
            const QStringList lines = ran.out.split('\n', Qt::SkipEmptyParts).mid(1);
            QCOMPARE(lines.size(), qsizetype(points.size()));
            for (std::size_t i = 0; i < points.size(); ++i) {
                const QString& line = lines[qsizetype(i)];
                const double east = test::number(points[i], "easting");
                const double north = test::number(points[i], "northing");
                const bool isSeries = points[i].at("method").startsWith("Cassini");
                const double tolerance = (isSeries ? 1e-4 : 1e-6) / unit +
                                         4e-15 * std::max(std::abs(east), std::abs(north));
                QVERIFY2(std::abs(line.section(',', 0, 0).toDouble() - east) <= tolerance &&
                             std::abs(line.section(',', 1, 1).toDouble() - north) <= tolerance,
                         qPrintable(name + " " + line));
            }
        }
    }

    void doesTheOperationAskedFor() {
        const QByteArray at = "x,y\n2,48\n";
        const auto moved = [&](const QStringList& more) {
            return run(QStringList{"transform", "--from", "EPSG:4230", "--to", "EPSG:4326"} + more,
                       at);
        };
        const Ran best = moved({}), chosen = moved({"--operation", "1133"});
        QCOMPARE(chosen.code, 0);
        QVERIFY(chosen.err.contains("ED50 to WGS 84 (1)") && chosen.err.contains("chosen"));
        QVERIFY(chosen.out != best.out);
        QCOMPARE(moved({"--operation", "none"}).out, QString("x,y\n2,48\n"));
        const Ran wrong = moved({"--operation", "1195"});
        QCOMPARE(wrong.code, 1);
        QVERIFY(wrong.err.contains("1133"));
        // The same for files, by the same words.
        std::ofstream(path("spot.geojson").toStdString())
            << R"({"type":"FeatureCollection","features":[{"type":"Feature","properties":{},)"
            << R"("geometry":{"type":"Point","coordinates":[2,48]}}]})";
        QCOMPARE(run({"convert", "spot.geojson", "spot.gpkg", "--declare-crs", "EPSG:4230",
                      "--to-crs", "EPSG:4326", "--operation", "1133"})
                     .code,
                 0);
        const auto extent = json({"describe", "spot.gpkg"})["layers"].toArray()[0].toObject();
        QVERIFY2(std::abs(extent["extent"].toArray()[0].toDouble() -
                          chosen.out.section('\n', 1, 1).section(',', 0, 0).toDouble()) < 1e-9,
                 qPrintable(QJsonDocument(extent).toJson()));
    }

    void saysWhatReplacedACode() {
        const Ran ran =
            run({"transform", "--from", "EPSG:4326", "--to", "EPSG:900913"}, "x,y\n0,0\n");
        QCOMPARE(ran.code, 0);
        QVERIFY(ran.err.contains("EPSG:3857 replaced it"));
        QVERIFY(run({"crs", "show", "urn:ogc:def:crs:OGC:1.3:CRS84"}).out.contains("WGS 84"));
        QVERIFY(run({"crs", "find", "robinson"}).out.contains("world:robinson"));
        QCOMPARE(
            run({"transform", "--from", "EPSG:4326", "--to", "world:robinson@150"}, "x,y\n150,0\n")
                .out,
            QString("x,y\n0,0\n"));
    }

    void editsProjectsByName() {
        QVERIFY(QFile::copy(path("world/skerravoe.ledge"), path("world/mine.ledge")));
        const auto read = [&] {
            QFile file(path("world/mine.ledge"));
            return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
        };
        const Ran listed = run({"edits"});
        QVERIFY(listed.out.contains("layer-opacity") && listed.out.contains("percent="));
        const QByteArray before = read();
        const QStringList fade{"edit", "world/mine.ledge", "layer-opacity", "layer=Crofts",
                               "percent=40"};
        const Ran once = run(fade);
        QVERIFY2(once.code == 0, qPrintable(once.err));
        QCOMPARE(once.out, QString("Opacity of Crofts\n"));
        const QByteArray after = read();
        QVERIFY(after != before);
        QCOMPARE(run(fade).code, 0);
        QCOMPARE(read(), after);  // twice is as once
        // Nothing else moved: what differs is one line.
        int differing = 0;
        const auto a = before.split('\n'), b = after.split('\n');
        QCOMPARE(a.size(), b.size());
        for (qsizetype i = 0; i < a.size(); ++i) differing += a[i] != b[i] ? 1 : 0;
        QCOMPARE(differing, 1);
        const Ran wrong =
            run({"edit", "world/mine.ledge", "layer-opacity", "layer=Moon", "percent=4"});
        QCOMPARE(wrong.code, 1);
        QVERIFY(wrong.err.contains("Crofts"));
        QCOMPARE(run({"edit", "world/mine.ledge", "layer-opacity", "nonsense"}).code, 1);
        QCOMPARE(read(), after);
        QFile::remove(path("world/mine.ledge"));
    }

    void sumsUpClasses() {
        const Ran ran = run({"summarise", "world/land_cover.tif", "--classes"});
        QVERIFY2(ran.code == 0, qPrintable(ran.err));
        const QStringList lines = ran.out.split('\n', Qt::SkipEmptyParts);
        QCOMPARE(lines.first(), QString("value,cells,area_m2,share_percent"));
        double cells = 0, area = 0, share = 0;
        for (const QString& line : lines.mid(1)) {
            cells += line.section(',', 1, 1).toDouble();
            area += line.section(',', 2, 2).toDouble();
            share += line.section(',', 3, 3).toDouble();
        }
        QVERIFY(std::abs(share - 100) < 1e-6);
        // In the same CRS a cell covers what its size says, but for the scale of the projection.
        const auto cell = json({"describe", "world/land_cover.tif"})["cell"].toArray();
        const double square = std::abs(cell[0].toDouble() * cell[1].toDouble());
        QVERIFY2(std::abs(area / cells / square - 1) < 1e-3, qPrintable(QString::number(square)));
        // Drawn in web Mercator the same ground has cells of a quarter of their nominal area.
        QCOMPARE(run({"convert", "world/land_cover.tif", "mercator.tif", "--to-crs", "3857",
                      "--resampling", "nearest", "--cell", "60"})
                     .code,
                 0);
        const Ran other = run({"summarise", "mercator.tif", "--classes"});
        double moved = 0;
        for (const QString& line : other.out.split('\n', Qt::SkipEmptyParts).mid(1))
            moved += line.section(',', 2, 2).toDouble();
        QVERIFY2(std::abs(moved / area - 1) < 0.01, qPrintable(QString::number(moved / area)));
        QCOMPARE(run({"summarise", "world/land_cover.tif"}).code, 1);
        QCOMPARE(run({"summarise", "world/land_cover.tif", "--classes", "--band", "9"}).code, 1);
        QCOMPARE(run({"summarise", "world/coast.gpkg", "--classes"}).code, 1);
    }

    void measuresOnTheEllipsoid() {
        const Ran inverse = run({"geodesic", "inverse", "--crs", "EPSG:4326"},
                                "lon1,lat1,lon2,lat2\n0,0,1,0\n0,95,0,0\n");
        QCOMPARE(inverse.code, 0);
        const QStringList lines = inverse.out.split('\n');
        QCOMPARE(lines[0], QString("distance_m,bearing_start_deg,bearing_end_deg"));
        QVERIFY(std::abs(lines[1].section(',', 0, 0).toDouble() - 111319.49079327358) < 1e-8);
        QCOMPARE(lines[2], QString(",,"));
        QVERIFY(inverse.err.contains("1 rows hold no positions"));
        const Ran direct = run({"geodesic", "direct", "--ellipsoid", "6371000,0", "--digits", "9"},
                               "lon1,lat1,bearing_start_deg,distance_m\n10,0,0,111194.926645\n");
        QCOMPARE(direct.out.split('\n')[1].section(',', 1, 1).toDouble(), 1.0);
        const Ran area = run({"geodesic", "area"},
                             "ring,lon,lat\na,0,0\na,1,0\na,1,1\na,0,1\nb,0,0\nb,0,1\nb,1,1\n");
        const QStringList rings = area.out.split('\n');
        QVERIFY(std::abs(rings[1].section(',', 1, 1).toDouble() - 12308778361.5) < 1);
        QVERIFY(rings[2].section(',', 1, 1).toDouble() < 0);  // clockwise
        QCOMPARE(
            run({"geodesic", "inverse", "--ellipsoid", "6378137"}, "lon1,lat1,lon2,lat2\n").code,
            1);
        QCOMPARE(run({"geodesic", "inverse"}, "a,b\n").code, 1);
    }

    void tellsScaleAndConvergenceAtAPlace() {
        const QJsonObject there = json({"crs", "show", "EPSG:32629", "--at", "-9,61.6"});
        QVERIFY(std::abs(there["scale_largest"].toDouble() - 0.9996) < 1e-7);
        QVERIFY(std::abs(there["convergence_deg"].toDouble()) < 1e-6);
        QCOMPARE(run({"crs", "show", "EPSG:32629", "--at", "100,0"}).code, 1);
    }

    void saysWhichOperationItUses() {
        const Ran ran =
            run({"transform", "--from", "EPSG:4230", "--to", "EPSG:4326"}, "x,y\n2,48\n");
        QCOMPARE(ran.code, 0);
        QVERIFY(ran.err.contains("datum operation: ED50 to WGS 84"));
        QVERIFY(
            run({"transform", "--from", "EPSG:4230", "--to", "EPSG:4326", "--quiet"}, "x,y\n2,48\n")
                .err.isEmpty());
    }

    // A world of lands to CRSs that hold little of it: the rest is left out and counted.
    void keepsWhatLiesInsideOfACrs() {
        const Ran ran =
            run({"convert", "world/lands.geojson", "zone.gpkg", "--to-crs", "EPSG:32601"});
        QVERIFY2(ran.code == 0, qPrintable(ran.err));
        QVERIFY2(ran.err.contains(" features lie outside WGS 84 / UTM zone 1N and are left out"),
                 qPrintable(ran.err));
        const auto all =
            json({"describe", "world/lands.geojson"})["layers"].toArray()[0].toObject();
        const auto kept = json({"describe", "zone.gpkg"})["layers"].toArray()[0].toObject();
        QVERIFY(kept["count"].toInt() > 0 && kept["count"].toInt() < all["count"].toInt());
        QVERIFY(
            run({"convert", "world/lands.geojson", "q.gpkg", "--to-crs", "EPSG:32601", "--quiet"})
                .err.isEmpty());
        const Ran strict = run({"convert", "world/lands.geojson", "strict.gpkg", "--to-crs",
                                "EPSG:32601", "--strict"});
        QCOMPARE(strict.code, 1);
        QVERIFY(strict.err.contains("--strict"));
        QVERIFY(!QFile::exists(path("strict.gpkg")));
    }

    // A global grid: kept to what the CRS is meant for, wherever its corners and middle lie.
    void keepsAGlobalGridToTheAreaOfUse_data() {
        QTest::addColumn<QString>("crs");
        QTest::addColumn<double>("widestKm");
        QTest::newRow("first zone") << "EPSG:32601" << 700.0;
        QTest::newRow("last zone") << "EPSG:32660" << 700.0;
        QTest::newRow("New Zealand") << "EPSG:2193" << 1300.0;
        QTest::newRow("Arctic") << "EPSG:3995" << 6700.0;
        QTest::newRow("Antarctic") << "EPSG:3031" << 6700.0;
    }
    void keepsAGlobalGridToTheAreaOfUse() {
        QFETCH(QString, crs);
        QFETCH(double, widestKm);
        const Ran ran =
            run({"convert", "world/world_relief.tif", "kept.tif", "--to-crs", crs, "--replace"});
        QVERIFY2(ran.code == 0, qPrintable(ran.err));
        QVERIFY2(ran.err.contains("kept to the area of use of"), qPrintable(ran.err));
        const QJsonObject told = json({"describe", "kept.tif"});
        const QJsonArray cells = told["cell"].toArray();
        QCOMPARE(cells.size(), 2);
        const double cell = cells[0].toDouble();
        const double cols = told["width"].toDouble();
        QVERIFY2(cell > 10000 && cell < 70000, qPrintable(QString::number(cell)));
        QVERIFY(cols * cell < widestKm * 1000 && cols * cell > widestKm * 800);
    }

    void convertsAndReprojects() {
        QCOMPARE(run({"convert", "world/hill_paths.geojson", "paths.gpkg", "--to-crs", "EPSG:3857"})
                     .code,
                 0);
        const QJsonObject layer =
            json({"describe", "paths.gpkg"})["layers"].toArray()[0].toObject();
        QCOMPARE(layer["crs"].toObject()["code"].toString(), QString("EPSG:3857"));
        QCOMPARE(run({"convert", "world/island_dem.tif", "small.tif", "--to-crs", "EPSG:3857",
                      "--cell", "400", "--resampling", "average"})
                     .code,
                 0);
        QCOMPARE(json({"describe", "small.tif"})["cell"].toArray()[0].toDouble(), 400.0);
        QCOMPARE(run({"convert", "world/old_survey.asc", "old.tif", "--declare-crs", "EPSG:32628",
                      "--to-crs", "EPSG:32629"})
                     .code,
                 0);
        QCOMPARE(json({"describe", "old.tif"})["crs"].toObject()["code"].toString(),
                 QString("EPSG:32629"));
        QCOMPARE(
            run({"convert", "world/places.geojson", "names.geojson", "--columns", "name"}).code, 0);
        QCOMPARE(json({"describe", "names.geojson"})["layers"]
                     .toArray()[0]
                     .toObject()["fields"]
                     .toArray()
                     .size(),
                 1);
    }

    void derivesTerrain() {
        QCOMPARE(run({"terrain", "hillshade", "world/island_dem.tif", "shade.tif", "--lights",
                      "315/45,45/30"})
                     .code,
                 0);
        QCOMPARE(
            json({"describe", "shade.tif"})["bands"].toArray()[0].toObject()["type"].toString(),
            QString("uint8"));
        QCOMPARE(run({"terrain", "slope", "world/island_dem.tif", "slope.tif", "--unit", "percent"})
                     .code,
                 0);
        QCOMPARE(run({"terrain", "contours", "world/island_dem.tif", "lines.geojson", "--interval",
                      "50", "--column", "height"})
                     .code,
                 0);
        const QJsonObject lines =
            json({"describe", "lines.geojson"})["layers"].toArray()[0].toObject();
        QCOMPARE(lines["geometry"].toString(), QString("LineString"));
        QCOMPARE(lines["fields"].toArray()[0].toObject()["name"].toString(), QString("height"));
    }

    void rendersViewsAndSheets() {
        QCOMPARE(run({"render", "world/skerravoe.ledge", "--view", "Whole island", "--size",
                      "320x200", "--out", "view.png"})
                     .code,
                 0);
        QCOMPARE(QImage(path("view.png")).size(), QSize(320, 200));
        QCOMPARE(run({"render", "world/skerravoe.ledge", "--sheet", "Overview", "--dpi", "50",
                      "--out", "sheet.png"})
                     .code,
                 0);
        QCOMPARE(QImage(path("sheet.png")).size(),
                 QSize(qRound(297 / 25.4 * 50), qRound(210 / 25.4 * 50)));
        QVERIFY(run({"render", "world/skerravoe.ledge", "--sheet", "Nowhere", "--out", "x.png"})
                    .err.contains("it has: Overview"));
    }

    void givesTheSameResultTwiceAndForAnyThreads() {
        const auto bytes = [&](const QStringList& more) {
            run(QStringList{"terrain", "hillshade", "world/island_dem.tif", "again.tif",
                            "--replace"} +
                more);
            QFile file(path("again.tif"));
            return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
        };
        const QByteArray one = bytes({"--threads", "1"});
        QVERIFY(one.size() > 1000);
        QVERIFY(bytes({"--threads", "4"}) == one);
    }

    void failsInOneLineAndLeavesNothing_data() {
        QTest::addColumn<QStringList>("arguments");
        QTest::addColumn<int>("code");
        QTest::newRow("no command") << QStringList{} << 2;
        QTest::newRow("unknown command") << QStringList{"fly"} << 2;
        QTest::newRow("missing argument") << QStringList{"convert", "a"} << 2;
        QTest::newRow("wrong choice")
            << QStringList{"terrain", "slope", "a", "b", "--unit", "feet"} << 2;
        QTest::newRow("no such file") << QStringList{"describe", "nowhere.tif"} << 1;
        QTest::newRow("unknown CRS")
            << QStringList{"transform", "--from", "EPSG:1", "--to", "EPSG:4326"} << 1;
        QTest::newRow("features as DEM")
            << QStringList{"terrain", "slope", "world/base.gpkg", "out.tif"} << 1;
        QTest::newRow("unknown format")
            << QStringList{"convert", "world/base.gpkg", "out.xyz"} << 1;
        QTest::newRow("raster as features")
            << QStringList{"convert", "world/island_dem.tif", "out.gpkg"} << 1;
        QTest::newRow("no CRS to leave")
            << QStringList{"convert", "world/old_survey.asc", "out.tif", "--to-crs", "EPSG:4326"}
            << 1;
        QTest::newRow("no levels")
            << QStringList{"terrain", "contours", "world/island_dem.tif", "out.gpkg"} << 1;
        QTest::newRow("no such layer")
            << QStringList{"convert", "world/base.gpkg", "out.gpkg", "--layer", "cheese"} << 1;
        QTest::newRow("no such column")
            << QStringList{"convert", "world/places.geojson", "out.gpkg", "--columns", "cheese"}
            << 1;
        QTest::newRow("outside the domain")
            << QStringList{"convert",       "world/places.geojson", "out.gpkg",
                           "--declare-crs", "EPSG:32629",           "--to-crs",
                           "EPSG:32601"}
            << 1;
    }
    void failsInOneLineAndLeavesNothing() {
        QFETCH(QStringList, arguments);
        QFETCH(int, code);
        const QStringList before = QDir(m_dir.path()).entryList(QDir::AllEntries | QDir::Hidden);
        const Ran ran = run(arguments);
        QCOMPARE(ran.code, code);
        QVERIFY(!ran.err.isEmpty());
        if (code == 1) {
            QCOMPARE(ran.err.count('\n'), 1);
            QVERIFY2(ran.err.startsWith("ledge: "), qPrintable(ran.err));
        }
        QCOMPARE(QDir(m_dir.path()).entryList(QDir::AllEntries | QDir::Hidden), before);
    }

    void replacesOnlyWhenTold() {
        const QStringList write{"convert", "world/places.geojson", "kept.geojson"};
        QCOMPARE(run(write).code, 0);
        const Ran again = run(write);
        QCOMPARE(again.code, 1);
        QVERIFY(again.err.contains("--replace"));
        QCOMPARE(run(write + QStringList{"--replace"}).code, 0);
    }

    void stopsOnInterruptAndLeavesNothing() {
        QProcess process;
        process.setWorkingDirectory(m_dir.path());
        process.start(test::kProgram, {"demo", "stopped", "--cell", "10"});
        QVERIFY(process.waitForStarted());
        QTest::qWait(700);
        process.terminate();
        QVERIFY(process.waitForFinished(20000));
        QCOMPARE(process.exitStatus(), QProcess::NormalExit);
        QCOMPARE(process.exitCode(), 1);
        QVERIFY(
            QDir(path("stopped")).isEmpty(QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot));
    }

    void tellsVersionAndHelp() {
        QVERIFY(run({"--version"}).out.startsWith("ledge "));
        QCOMPARE(run({"--help"}).code, 0);
        QVERIFY(run({"terrain", "contours", "--help"}).out.contains("--interval"));
    }
};

QTEST_GUILESS_MAIN(CliTest)
#include "cli_test.moc"
