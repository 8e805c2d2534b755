#include <QTemporaryDir>
#include <QTest>
#include <fstream>

#include "core/base/random.h"
#include "core/crs/catalogue.h"
#include "core/crs/wkt.h"
#include "core/geometry/arcs.h"
#include "core/geometry/measure.h"
#include "core/geometry/wkt_shape.h"
#include "io/dxf/dxf.h"
#include "io/files/encoding.h"
#include "io/geopackage/wkb.h"
#include "io/las/las.h"
#include "io/registry.h"
#include "io/zip/zip.h"
#include "support/las_file.h"

using namespace ledge;

/// Formats by which others hand data over: drawings, GML, topologies, point clouds, archives; and
/// what text files say of themselves.
class ExchangeFormatsTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;
    std::filesystem::path at(const std::string& name) const {
        return m_dir.path().toStdString() + "/" + name;
    }
    std::filesystem::path write(const char* name, const std::string& text) const {
        std::ofstream(at(name), std::ios::binary) << text;
        return at(name);
    }
    static FeatureSourcePtr sourceIn(const std::filesystem::path& path,
                                     const Reading& reading = {}) {
        auto source = io::openSource(path, {}, reading);
        if (!source) {
            qWarning("%s", source.error().text().c_str());
            return nullptr;
        }
        return std::get<FeatureSourcePtr>(*source);
    }
    static FeatureTable tableIn(const std::filesystem::path& path, std::size_t layer = 0,
                                const Reading& reading = {}) {
        const auto source = sourceIn(path, reading);
        const auto table = source ? readAll(*source, layer) : Result<TablePtr>(TablePtr());
        return table && *table ? **table : FeatureTable();
    }
    static QString rowOf(const FeatureTable& table, std::size_t row) {
        QStringList out;
        for (std::size_t k = 0; k < table.info.fields.size(); ++k)
            out << QString::fromStdString(table.info.fields[k].name + "=" +
                                          exactText(table.value(row, k)));
        return out.join(' ');
    }
    static FeatureTable mixed(GeometryType type) {
        FeatureList list;
        list.info.name = "fields";
        list.info.crs = *crs::crsFromCode(32629);
        list.info.geometry = type;
        list.info.fields = {{"name", FieldType::Text}, {"ha", FieldType::Real}};
        const auto add = [&](const char* wkt, Value name, Value ha) {
            list.features.push_back({static_cast<FeatureKey>(list.features.size() + 1),
                                     *shapeFromWkt(wkt),
                                     {std::move(name), std::move(ha)}});
        };
        if (type == GeometryType::Polygon) {
            add("MULTIPOLYGON (((500000 6800000, 500090 6800000, 500090 6800090, 500000 6800000), "
                "(500050 6800010, 500070 6800010, 500070 6800030, 500050 6800010)), ((500200 "
                "6800000, 500210 6800000, 500200 6800010, 500200 6800000)))",
                std::string("Næs"), 4.5);
            add("POLYGON ((500300 6800000, 500310 6800000, 500300 6800010, 500300 6800000))",
                Value(), 7.0);
        } else if (type == GeometryType::Line) {
            add("MULTILINESTRING Z ((500000 6800000 1, 500090 6800000 2), (500000 6800050 3, "
                "500090 "
                "6800050 4.5))",
                std::string("Væg <2> & \"old\""), 4.5);
            add("LINESTRING Z (500300 6800000 9, 500310 6800000 9)", std::string("b"), Value());
        } else {
            add("POINT (500000 6800000)", std::string("\xE2\x82\xAC 5"), 4.5);
            add("POINT (500010.125 6800000.5)", std::string("b"), Value());
        }
        return FeatureTable(std::move(list));
    }

private Q_SLOTS:
    // Through the registry, shapes and values alike.
    void keepsShapesAndValues_data() {
        QTest::addColumn<QString>("suffix");
        QTest::addColumn<int>("type");
        for (const char* suffix : {".dxf", ".kmz", ".kml"})
            for (const auto type : {GeometryType::Point, GeometryType::Line, GeometryType::Polygon})
                QTest::newRow(qPrintable(QString("%1 %2").arg(suffix).arg(int(type))))
                    << suffix << static_cast<int>(type);
        QTest::newRow("gpx points") << ".gpx" << static_cast<int>(GeometryType::Point);
        QTest::newRow("gpx lines") << ".gpx" << static_cast<int>(GeometryType::Line);
    }
    void keepsShapesAndValues() {
        QFETCH(QString, suffix);
        QFETCH(int, type);
        const FeatureTable table = mixed(static_cast<GeometryType>(type));
        const auto path = at("kept" + suffix.toStdString());
        const auto done = io::writeTable(table, path, {});
        QVERIFY2(done, done ? "" : done.error().text().c_str());
        const FeatureTable back = tableIn(path);
        QCOMPARE(back.size(), table.size());
        const bool isPlane = suffix == ".dxf";
        QCOMPARE(back.info.crs->code, isPlane ? 32629 : 4326);
        for (std::size_t i = 0; i < table.size(); ++i) {
            const GeometryView a = table.geometry(i), b = back.geometry(i);
            QCOMPARE(b.partCount(), a.partCount());
            QCOMPARE(b.polygons.size(), a.polygons.size());
            QCOMPARE(b.z.size(), a.z.size());
            for (std::size_t k = 0; k < a.z.size(); ++k) QCOMPARE(b.z[k], a.z[k]);
            if (isPlane)
                for (std::size_t k = 0; k < a.points.size(); ++k)
                    QVERIFY(distance(a.points[k], b.points[k]) < 1e-9);
            for (const char* field : {"name", "ha"}) {
                const auto from = static_cast<std::size_t>(table.fieldIndex(field));
                const int to = back.fieldIndex(field);
                QVERIFY2(to >= 0, field);
                QCOMPARE(exactText(back.value(i, static_cast<std::size_t>(to))),
                         exactText(table.value(i, from)));
            }
        }
    }
    void refusesAreasAsTracks() {
        const auto done = io::writeTable(mixed(GeometryType::Polygon), at("no.gpx"), {});
        QVERIFY(!done && done.error().why.find("no areas") != std::string::npos);
        QVERIFY(!std::filesystem::exists(at("no.gpx")));
    }

    void writesContoursAtTheirHeight() {
        FeatureList list;
        list.info.name = "contours";
        list.info.geometry = GeometryType::Line;
        list.info.fields = {{"height", FieldType::Real}, {"Layer", FieldType::Text}};
        list.features = {{1, Geometry::line({{0, 0}, {1, 1}}), {125.5, std::string("Index/1")}}};
        QVERIFY(io::writeTable(FeatureTable(std::move(list)), at("contours.dxf"), {}));
        const FeatureTable back = tableIn(at("contours.dxf"));
        QCOMPARE(back.geometry(0).z[1], 125.5);
        QCOMPARE(rowOf(back, 0), QString("layer=Index_1 height=125.5"));
    }
    void readsDrawings() {
        const auto pair = [](int code, const std::string& value) {
            return std::to_string(code) + "\r\n" + value + "\r\n";
        };
        const auto place = [&](double x, double y) {
            return pair(10, std::to_string(x)) + pair(20, std::to_string(y));
        };
        std::string text = pair(0, "SECTION") + pair(2, "HEADER") + pair(9, "$DWGCODEPAGE") +
                           pair(3, "ANSI_1252") + pair(0, "ENDSEC") + pair(0, "SECTION") +
                           pair(2, "ENTITIES");
        // A closed square whose last side is half a circle.
        text += pair(0, "LWPOLYLINE") +
                pair(8, "M\xF8"
                        "r") +
                pair(90, "4") + pair(70, "1") + pair(38, "30") + place(0, 0) + place(10, 0) +
                place(10, 10) + place(0, 10) + pair(42, "1");
        text += pair(0, "CIRCLE") + pair(8, "0") + place(100, 100) + pair(40, "5");
        text += pair(0, "ARC") + pair(8, "0") + place(0, 0) + pair(40, "2") + pair(50, "270") +
                pair(51, "90");
        text += pair(0, "ELLIPSE") + pair(8, "0") + place(0, 0) + pair(11, "4") + pair(21, "0") +
                pair(40, "0.5") + pair(41, "0") + pair(42, "6.283185307179586");
        text += pair(0, "TEXT") + pair(8, "names") + place(3, 4) + pair(1, "H\\U+00E6%%d");
        text += pair(0, "INSERT") + pair(2, "block") + place(3, 4);
        text += pair(0, "ENDSEC") + pair(0, "EOF");
        const auto path = write("drawing.dxf", text);
        const auto source = sourceIn(path);
        QVERIFY(source);
        QCOMPARE(source->layers().size(), std::size_t{3});
        const FeatureTable points = tableIn(path, 0), lines = tableIn(path, 1),
                           areas = tableIn(path, 2);
        QCOMPARE(rowOf(points, 0), QString("layer=names text=Hæ°"));
        QVERIFY(std::abs(planarLength(lines.geometry(0)) / (2 * M_PI) - 1) < kArcTolerance);
        QVERIFY(lines.geometry(0).points.front().y < -1.99);  // from 270 degrees, by way of 0
        QVERIFY(lines.geometry(0).box().xMax > 1.99 && lines.geometry(0).box().xMin > -0.01);
        QCOMPARE(rowOf(areas, 0), QString("layer=Mør text="));
        QVERIFY(std::abs(planarArea(areas.geometry(0)) - (100 + M_PI * 12.5)) < 0.2);
        QVERIFY(areas.geometry(0).box().xMin < -4.99);  // the arc stands outside
        QCOMPARE(areas.geometry(0).z[0], 30.0);
        QVERIFY(std::abs(planarArea(areas.geometry(1)) / (M_PI * 25) - 1) < 3e-3);
        QVERIFY(std::abs(planarArea(areas.geometry(2)) / (M_PI * 8) - 1) < 3e-3);
        const auto& notes = points.info.notes;
        const auto said = [&](const char* what) {
            return std::any_of(notes.begin(), notes.end(), [&](const std::string& note) {
                return note.find(what) != std::string::npos;
            });
        };
        QVERIFY(said("1 inserted blocks are left out") && said("curves") && said("undeclared"));
        QVERIFY(!io::openSource(write("empty.dxf", pair(0, "SECTION") + pair(0, "EOF"))));
        const FeatureTable cut = tableIn(write("cut.dxf", text.substr(0, text.size() - 90)));
        QVERIFY(cut.size() > 0);
    }

    void readsGml_data() {
        QTest::addColumn<QString>("shape");
        QTest::addColumn<QString>("wkt");
        const auto row = [](const char* name, const char* shape, const char* wkt) {
            QTest::newRow(name) << shape << wkt;
        };
        row("point, authority's axes",
            "<gml:Point srsName=\"urn:ogc:def:crs:EPSG::4326\"><gml:pos>61.5 "
            "-10.7</gml:pos></gml:Point>",
            "POINT (-10.7 61.5)");
        row("point, short code",
            "<gml:Point srsName=\"EPSG:4326\"><gml:pos>-10.7 61.5</gml:pos></gml:Point>",
            "POINT (-10.7 61.5)");
        row("heights",
            "<gml:LineString srsName=\"EPSG:4326\" srsDimension=\"3\"><gml:posList>1 2 3 4 5 "
            "6</gml:posList></gml:LineString>",
            "LINESTRING Z (1 2 3, 4 5 6)");
        row("area with a hole",
            "<gml:Polygon srsName=\"EPSG:4326\"><gml:exterior><gml:LinearRing><gml:posList>0 0 9 0 "
            "9 "
            "9 0 0</gml:posList></gml:LinearRing></gml:exterior><gml:interior><gml:LinearRing>"
            "<gml:posList>5 1 6 1 6 2 5 "
            "1</gml:posList></gml:LinearRing></gml:interior></gml:Polygon>",
            "POLYGON ((0 0, 9 0, 9 9, 0 0), (5 1, 6 1, 6 2, 5 1))");
        row("surface of patches",
            "<gml:MultiSurface srsName=\"EPSG:4326\"><gml:surfaceMember><gml:Surface><gml:patches>"
            "<gml:PolygonPatch><gml:exterior><gml:LinearRing><gml:posList>0 0 1 0 0 1 0 "
            "0</gml:posList></gml:LinearRing></gml:exterior></gml:PolygonPatch></gml:patches>"
            "</gml:Surface></gml:surfaceMember><gml:surfaceMember><gml:Polygon><gml:exterior>"
            "<gml:LinearRing><gml:posList>5 0 6 0 5 1</gml:posList></gml:LinearRing></gml:exterior>"
            "</gml:Polygon></gml:surfaceMember></gml:MultiSurface>",
            "MULTIPOLYGON (((0 0, 1 0, 0 1, 0 0)), ((5 0, 6 0, 5 1, 5 0)))");
        row("curve of segments, turned",
            "<gml:OrientableCurve orientation=\"-\" "
            "srsName=\"EPSG:4326\"><gml:baseCurve><gml:Curve>"
            "<gml:segments><gml:LineStringSegment><gml:posList>0 0 1 "
            "1</gml:posList></gml:LineStringSegment><gml:LineStringSegment><gml:posList>1 1 2 "
            "0</gml:posList></gml:LineStringSegment></gml:segments></gml:Curve></gml:baseCurve>"
            "</gml:OrientableCurve>",
            "LINESTRING (2 0, 1 1, 0 0)");
        row("of version 2",
            "<gml:LineString srsName=\"EPSG:4326\"><gml:coordinates>0,0 1,1 "
            "2,0</gml:coordinates></gml:LineString>",
            "LINESTRING (0 0, 1 1, 2 0)");
        row("points",
            "<gml:MultiPoint srsName=\"EPSG:4326\"><gml:pointMember><gml:Point><gml:pos>1 "
            "2</gml:pos></gml:Point></gml:pointMember><gml:pointMember><gml:Point><gml:pos>3 "
            "4</gml:pos></gml:Point></gml:pointMember></gml:MultiPoint>",
            "MULTIPOINT ((1 2), (3 4))");
        row("grid, northing first",
            "<gml:Point srsName=\"urn:ogc:def:crs:EPSG::32629\"><gml:pos>6800000 "
            "500000</gml:pos></gml:Point>",
            "POINT (500000 6800000)");
    }
    static std::string gml(const QString& shape) {
        return "<?xml version=\"1.0\"?><wfs:FeatureCollection xmlns:gml=\"http://www.opengis.net/"
               "gml/3.2\" xmlns:c=\"urn:c\" xmlns:wfs=\"urn:w\"><wfs:member><c:Croft "
               "gml:id=\"c.1\"><c:sheep>12</c:sheep><c:keeper><c:Person><c:name>Ann"
               "</c:name></c:Person></c:keeper><c:place>" +
               shape.toStdString() + "</c:place></c:Croft></wfs:member></wfs:FeatureCollection>";
    }
    void readsGml() {
        QFETCH(QString, shape);
        QFETCH(QString, wkt);
        const FeatureTable table = tableIn(write("f.gml", gml(shape)));
        QCOMPARE(table.size(), std::size_t{1});
        QCOMPARE(table.info.name, std::string("Croft"));
        QCOMPARE(rowOf(table, 0), QString("gml_id=c.1 sheep=12 keeper.Person.name=Ann"));
        QCOMPARE(wktOf(table.geometry(0)), wktOf(*shapeFromWkt(wkt.toStdString())));
        QVERIFY(table.info.crs != nullptr);
    }
    void readsArcsOfGml() {
        const FeatureTable table = tableIn(write(
            "arc.gml", gml("<gml:Curve srsName=\"EPSG:32629\"><gml:segments><gml:Arc><gml:posList>"
                           "500001 6800000 500000 6800001 499999 6800000</gml:posList></gml:Arc>"
                           "</gml:segments></gml:Curve>")));
        QCOMPARE(table.size(), std::size_t{1});
        QVERIFY(std::abs(planarLength(table.geometry(0)) / M_PI - 1) < kArcTolerance);
        QVERIFY(table.info.notes.front().find("chords") != std::string::npos);
        QVERIFY(!io::openSource(write("none.gml", gml(""))) ||
                tableIn(at("none.gml")).geometry(0).isEmpty());
        QVERIFY(!io::openSource(write("cut.gml", "<gml:FeatureCollection xmlns:gml=\"http://www."
                                                 "opengis.net/gml/3.2\"><gml:featureMember>")));
    }

    // The example of the format's text: a point, a line and an area that share an arc.
    void readsTopologies() {
        const auto path =
            write("t.topojson",
                  R"({"type":"Topology","transform":{"scale":[0.5,0.5],"translate":[100,0]},
            "objects":{"things":{"type":"GeometryCollection","geometries":[
            {"type":"Point","id":7,"properties":{"name":"well"},"coordinates":[4,6]},
            {"type":"LineString","id":8,"properties":{"name":"path","n":2},"arcs":[0]},
            {"type":"Polygon","id":9,"properties":{},"arcs":[[-1,1]]},
            {"type":"Polygon","arcs":[[99]]}]},
            "one":{"type":"MultiLineString","arcs":[[0],[1]]}},
            "arcs":[[[0,0],[2,0],[0,2]],[[0,0],[0,2],[2,0]]]})");
        const auto source = sourceIn(path);
        QVERIFY(source);
        QCOMPARE(source->layers().size(), std::size_t{2});
        const FeatureTable things = tableIn(path), one = tableIn(path, 1);
        const QStringList expected{"POINT(102 3)", "LINESTRING(100 0, 101 0, 101 1)",
                                   "POLYGON((101 1, 101 0, 100 0, 100 1, 101 1))",
                                   "GEOMETRYCOLLECTION EMPTY"};
        for (std::size_t i = 0; i < things.size(); ++i)
            QCOMPARE(QString::fromStdString(wktOf(things.geometry(i))),
                     expected[static_cast<qsizetype>(i)]);
        QCOMPARE(rowOf(things, 1), QString("name=path n=2"));
        QVERIFY(things.info.notes.front().find("1 shapes name arcs") != std::string::npos);
        QCOMPARE(one.info.name, std::string("one"));
        QCOMPARE(one.geometry(0).partCount(), std::size_t{2});
        // The same under the suffix of plain JSON.
        std::filesystem::copy_file(path, at("t.json"));
        QCOMPARE(tableIn(at("t.json")).size(), std::size_t{4});
        QVERIFY(!io::openSource(write("none.topojson", R"({"type":"Topology"})")));
    }

    void readsPointClouds_data() {
        QTest::addColumn<int>("minor");
        QTest::addColumn<int>("format");
        QTest::newRow("1.2") << 2 << 0;
        QTest::newRow("1.3") << 3 << 1;
        QTest::newRow("1.4") << 4 << 6;
    }
    void readsPointClouds() {
        QFETCH(int, minor);
        QFETCH(int, format);
        std::vector<test::LasPoint> points{{500000.25, 6800001.5, 12.34, 2},
                                           {500010, 6800002, -3, 9, true},
                                           {500020, 6800003, 40, 5}};
        auto bytes =
            test::lasBytes(points, minor, format == 1 ? 0 : format, *crs::crsFromCode(32629));
        const auto path = write("cloud.las", bytes);
        const FeatureTable table = tableIn(path);
        QCOMPARE(table.size(), std::size_t{2});  // the withheld one is left out
        QCOMPARE(table.info.crs->code, 32629);
        QCOMPARE(table.geometry(0).points[0], (Point{500000.25, 6800001.5}));
        QCOMPARE(table.geometry(0).z[0], 12.34);
        QCOMPARE(rowOf(table, 0), QString("class=2 intensity=77 return=1"));
        QCOMPARE(table.key(1), FeatureKey{2});
        const auto cut = write("cut.las", bytes.substr(0, bytes.size() - 10));
        QVERIFY(tableIn(cut).info.notes.front().find("cut short") != std::string::npos);
        bytes[104] = static_cast<char>(bytes[104] | 0x80);
        const auto packed = io::openSource(write("packed.las", bytes));
        QVERIFY(!packed && packed.error().code == ErrorCode::Unsupported);
        QVERIFY(!io::openSource(write("head.las", bytes.substr(0, 100))));
    }
    void thinsLargeClouds() {
        std::vector<test::LasPoint> points;
        const auto count = static_cast<std::size_t>(2.5 * io::kMostPointsShown);
        for (std::size_t i = 0; i < count; ++i)
            points.push_back({500000 + static_cast<double>(i % 1000), 6800000, 1});
        const auto path = write("large.las", test::lasBytes(points, 4, 6));
        const auto source = sourceIn(path);
        QVERIFY(source);
        QCOMPARE(source->layers().size(), std::size_t{2});
        QCOMPARE(source->whole(0), std::size_t{1});
        for (std::size_t layer = 0; layer < 2; ++layer) {
            std::int64_t seen = 0;
            QVERIFY(source->scan(layer, {}, [&](const Feature&) { return ++seen > 0; }, {}));
            QCOMPARE(seen, source->layers()[layer].count);
        }
        QCOMPARE(source->layers()[0].count, std::int64_t{833334});
        QVERIFY(source->layers()[0].notes.back().find("1 of 3") != std::string::npos);
    }

    void readsArchives() {
        const FeatureTable table = mixed(GeometryType::Polygon);
        QVERIFY(io::writeTable(table, at("crofts.shp"), {}));
        std::vector<std::pair<std::string, std::string>> texts;
        for (const char* suffix : {".shp", ".dbf", ".prj", ".cpg", ".shx"}) {
            std::ifstream in(at(std::string("crofts") + suffix), std::ios::binary);
            const std::string text((std::istreambuf_iterator<char>(in)), {});
            QVERIFY(!text.empty());
            texts.emplace_back(std::string("data/Crofts") + (suffix[1] == 'd' ? ".DBF" : suffix),
                               text);
        }
        QVERIFY(io::writeZip(at("crofts.zip"), texts, at("crofts.zip")));
        const FeatureTable back = tableIn(at("crofts.zip"));
        QCOMPARE(back.size(), table.size());
        QCOMPARE(back.info.name, std::string("Crofts"));
        QCOMPARE(back.info.crs->code, 32629);
        QCOMPARE(rowOf(back, 0), QString("name=Næs ha=4.5"));
        QVERIFY(io::writeZip(at("other.zip"), {{"../letter.txt", "Dear all"}}, at("other.zip")));
        const auto other = io::openSource(at("other.zip"));
        QVERIFY(!other && other.error().why.find("without a shapefile") != std::string::npos);
        QVERIFY(!io::openSource(write("cut.zip", "PK\x03\x04 nothing more")));
        QVERIFY(!io::openSource(write("cut.kmz", "PK\x03\x04 nothing more")));
    }

    // A .prj in the plain dialect is read back as the CRS that it was, whichever it is.
    void plainTextsOfEachCrsAreReadBack() {
        int count = 0;
        for (const auto& entry : crs::Catalogue::shipped().entries()) {
            if (entry.code == 0) continue;  // ready world CRSs have no text of this kind
            const auto crs = crs::crsFromCode(entry.code);
            if (!crs) continue;
            const std::string text = crs::toPlainWkt(**crs);
            QVERIFY2(text.find("TOWGS84") == std::string::npos &&
                         text.find("AUTHORITY") == std::string::npos,
                     text.c_str());
            // No blank within a name.
            for (std::size_t i = 0, quotes = 0; i < text.size(); ++i) {
                quotes += text[i] == '"' ? 1U : 0U;
                QVERIFY2(quotes % 2 == 0 || text[i] != ' ', text.c_str());
            }
            const auto back = crs::crsFromWkt(text);
            QVERIFY2(back, (text + ": " + (back ? "" : back.error().text())).c_str());
            QVERIFY2(crs::isSame(*back, *crs) || (*back)->code == (*crs)->code,
                     ("EPSG:" + std::to_string(entry.code) + " came back as " +
                      std::to_string((*back)->code) + " from " + text)
                         .c_str());
            ++count;
        }
        QVERIFY2(count > 300, qPrintable(QString::number(count)));
    }

    void readsLettersAsTold_data() {
        QTest::addColumn<QByteArray>("cpg");  // empty: none
        QTest::addColumn<int>("mark");
        QTest::addColumn<QByteArray>("bytes");
        QTest::addColumn<QString>("encoding");  // chosen; empty: as the file says
        QTest::addColumn<QString>("said");
        QTest::addColumn<QString>("name");
        const auto row = [](const char* name, const char* cpg, int mark, const char* bytes,
                            const char* encoding, const char* said, const char* read) {
            QTest::newRow(name) << QByteArray(cpg) << mark << QByteArray(bytes) << encoding << said
                                << QString::fromUtf8(read);
        };
        row("UTF-8 by itself", "", 0, "N\xC3\xA6s", "", "UTF-8", "Næs");
        row("one byte a letter, by itself", "", 0, "N\xE6s", "", "UTF-8", "Næs");
        row("by its mark", "", 0x65, "\x8D\xA0", "", "IBM866", "Н\xD0\xB0");
        row("by the file beside it", "1251", 0x03, "\xCD\xE0", "", "windows-1251", "На");
        row("by a name beside it", "ISO-8859-2", 0, "\xB1", "", "ISO-8859-2", "ą");
        row("chosen against both", "1251", 0x03, "N\xE6s", "windows-1252", "windows-1252", "Næs");
        row("chosen, unknown", "", 0, "Nes", "no-such-code", "UTF-8", "Nes");
    }
    void readsLettersAsTold() {
        QFETCH(QByteArray, cpg);
        QFETCH(int, mark);
        QFETCH(QByteArray, bytes);
        QFETCH(QString, encoding);
        QFETCH(QString, said);
        QFETCH(QString, name);
        FeatureList list;
        list.info.name = "places";
        list.info.geometry = GeometryType::Point;
        list.info.fields = {{"name", FieldType::Text}};
        list.features = {{1, Geometry::point({1, 2}), {std::string(8, '#')}}};
        const auto path = at("letters.shp");
        QVERIFY(io::writeTable(FeatureTable(std::move(list)), path, {}));
        std::filesystem::remove(at("letters.cpg"));
        if (!cpg.isEmpty()) write("letters.cpg", cpg.toStdString());
        std::fstream dbf(at("letters.dbf"), std::ios::binary | std::ios::in | std::ios::out);
        std::string text((std::istreambuf_iterator<char>(dbf)), {});
        dbf.close();
        text[29] = static_cast<char>(mark);
        const auto place = text.find("########");
        QVERIFY(place != std::string::npos);
        text.replace(place, 8, bytes.leftJustified(8, ' ').toStdString());
        write("letters.dbf", text);
        Reading reading;
        reading.encoding = encoding.toStdString();
        const FeatureTable table = tableIn(path, 0, reading);
        QCOMPARE(QString::fromStdString(exactText(table.value(0, 0))), name);
        QCOMPARE(QString::fromStdString(table.info.reading.encoding), said);
        std::filesystem::remove(at("letters.cpg"));
    }
    void knowsEachEncodingThatItOffers() {
        for (const auto name : io::usualEncodings()) {
            const io::TextDecoder decoder{std::string(name)};
            QVERIFY2(decoder.isKnown(), std::string(name).c_str());
            QCOMPARE(decoder.decoded(name.starts_with("UTF-16LE")   ? std::string("a\0", 2)
                                     : name.starts_with("UTF-16BE") ? std::string("\0a", 2)
                                                                    : std::string("a")),
                     std::string("a"));
        }
    }
    void readsTablesAsTold() {
        const auto path = write("t.csv", "1;2,5;x\n3;4,5;\xE6\n");
        const FeatureTable guessed = tableIn(path);
        QCOMPARE(guessed.info.reading.delimiter, std::string(";"));
        QCOMPARE(guessed.info.reading.decimalSign, std::string(","));
        QCOMPARE(guessed.info.reading.hasHeader, std::optional(false));
        QCOMPARE(guessed.number(1, 1), 4.5);
        Reading other;
        other.delimiter = ",";
        other.decimalSign = ".";
        other.hasHeader = true;
        other.encoding = "ISO-8859-5";
        const FeatureTable told = tableIn(path, 0, other);
        QCOMPARE(told.size(), std::size_t{1});
        QCOMPARE(rowOf(told, 0), QString::fromUtf8("1;2=3;4 5;x=5;ц"));
    }

    void tellsWhatAFormatLoses() {
        FeatureList list;
        list.info.geometry = GeometryType::Point;
        list.info.crs = *crs::crsFromCode(32629);
        list.info.fields = {{"name", FieldType::Text},
                            {"households_2026", FieldType::Integer},
                            {"at", FieldType::TimeStamp},
                            {"long", FieldType::Text}};
        list.features = {{1,
                          Geometry::point({1, 2}),
                          {std::string("a"), std::int64_t{4}, Value(), std::string(300, 'x')}}};
        const FeatureTable table(std::move(list));
        const auto said = [&](const char* name) {
            std::string all;
            for (const std::string& one : io::limitsOf(table, name)) all += one + "; ";
            return QString::fromStdString(all);
        };
        QCOMPARE(said("x.shp"),
                 QString("names are cut to 10 bytes: households_2026; texts are cut to 254 bytes: "
                         "long; instants become texts: at; "));
        QVERIFY(said("x.dxf").contains("250 characters"));
        QCOMPARE(said("x.gpkg"), QString());
    }

    // Curves of a GeoPackage's shapes (ISO 13249-3) as chords.
    void readsCurvesOfWkb() {
        const auto number = [](std::string& out, auto v) {
            io::putNumber(out, v, std::endian::little);
        };
        const auto head = [&](std::string& out, std::uint32_t type) {
            out += '\x01';
            number(out, type);
        };
        const auto points = [&](std::string& out, const std::vector<Point>& all) {
            number(out, static_cast<std::uint32_t>(all.size()));
            for (const Point p : all) number(out, p.x), number(out, p.y);
        };
        std::string circular;
        head(circular, 8);
        points(circular, {{1, 0}, {0, 1}, {-1, 0}});
        std::string line;
        head(line, 2);
        points(line, {{-1, 0}, {1, 0}});
        std::string compound;
        head(compound, 9);
        number(compound, std::uint32_t{2});
        compound += circular + line;
        std::string area;
        head(area, 10);
        number(area, std::uint32_t{1});
        area += compound;
        std::string areas;
        head(areas, 12);
        number(areas, std::uint32_t{1});
        areas += area;
        const auto read = [](const std::string& bytes) {
            Geometry out;
            return io::readWkb(io::bytesOf(bytes), out) ? out : Geometry();
        };
        QVERIFY(std::abs(planarLength(read(circular)) / M_PI - 1) < kArcTolerance);
        QVERIFY(std::abs(planarLength(read(compound)) / (M_PI + 2) - 1) < kArcTolerance);
        QVERIFY(std::abs(planarArea(read(area)) / (M_PI / 2) - 1) < 3e-3);
        QCOMPARE(planarArea(read(areas)), planarArea(read(area)));
        QVERIFY(read(areas).isMulti);
        for (std::size_t cut = 0; cut + 1 < areas.size(); ++cut)
            QVERIFY(read(areas.substr(0, cut)).points.size() <= read(areas).points.size());
    }
};

QTEST_APPLESS_MAIN(ExchangeFormatsTest)
#include "exchange_formats_test.moc"
