#include <QTemporaryDir>
#include <QTest>
#include <fstream>

#include "core/base/random.h"
#include "core/geometry/wkt_shape.h"
#include "io/csv/csv_table.h"
#include "io/registry.h"

using namespace ledge;

// Tables as text: CSV, GeoJSON lines, KML and GPX.
class TextFormatsTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;
    std::filesystem::path write(const char* name, const std::string& text) const {
        const std::filesystem::path path = m_dir.path().toStdString() + "/" + name;
        std::ofstream(path, std::ios::binary) << text;
        return path;
    }
    static FeatureTable tableIn(const std::filesystem::path& path, std::size_t layer = 0) {
        auto source = io::openSource(path);
        if (!source) {
            qWarning("%s", source.error().text().c_str());
            return {};
        }
        const auto table = readAll(*std::get<FeatureSourcePtr>(*source), layer);
        return table ? **table : FeatureTable();
    }
    static QString typesOf(const FeatureTable& table) {
        QStringList out;
        for (const Field& f : table.info.fields)
            out << QString::fromStdString(f.name + ":" + fieldTypeName(f.type));
        return out.join(' ');
    }

private Q_SLOTS:
    void csvTellsItsLayout_data() {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QString>("types");
        QTest::addColumn<QString>("first");  // values of the first row
        const auto row = [](const char* name, const QByteArray& text, const char* types,
                            const char* first) { QTest::newRow(name) << text << types << first; };
        row("plain", "name,sheep\nNess,4\nVoe,\n", "name:text sheep:integer", "Ness|4");
        row("semicolons and commas", "name;ha\nNess;4,5\nVoe;10,25\n", "name:text ha:real",
            "Ness|4.5");
        row("tabs", "a\tb\n1\t2.5\n", "a:integer b:real", "1|2.5");
        row("bars", "a|b\nx|2\n", "a:text b:integer", "x|2");
        row("quotes", "a,b\n\"Ness, \"\"old\"\"\nand new\",2\n", "a:text b:integer",
            "Ness, \"old\"\nand new|2");
        row("no names", "1,Ness\n2,Voe\n", "column1:integer column2:text", "1|Ness");
        row("codes stay texts", "code,n\n007,1\n012,2\n", "code:text n:integer", "007|1");
        row("days", "day,at,on\n2026-11-27,2026-11-27T08:00:00Z,yes\n2026-11-28,,no\n",
            "day:date at:time stamp on:boolean", "2026-11-27|2026-11-27T08:00:00.000Z|true");
        row("no day there is", "day\n2026-02-30\n", "day:text", "2026-02-30");
        row("mark of the encoding", "\xEF\xBB\xBFname,n\nNess,1\n", "name:text n:integer",
            "Ness|1");
        row("one byte a letter",
            "name,n\nStra\xDF"
            "e,1\n",
            "name:text n:integer", "Stra\u00dfe|1");
        row("UTF-16",
            QByteArray("\xFF\xFEn\0,\0m\0\n\0\xE9\0,\0"
                       "1\0\n\0",
                       18),
            "n:text m:integer", "\u00e9|1");
        row("names twice", "a,a,\nx,y,z\n", "a:text a2:text column3:text", "x|y|z");
        row("Windows line ends", "a,b\r\n1,2\r\n", "a:integer b:integer", "1|2");
        row("one column", "name\nNess\n", "name:text", "Ness");
        row("large whole numbers", "n\n12345678901234567890\n", "n:real", "12345678901234567168");
        row("short and long rows", "a,b\n1\n2,3,4\n", "a:integer b:integer", "1|");
    }
    void csvTellsItsLayout() {
        QFETCH(QByteArray, text);
        QFETCH(QString, types);
        QFETCH(QString, first);
        const auto table = tableIn(write("layout.csv", text.toStdString()));
        QCOMPARE(typesOf(table), types);
        QStringList values;
        for (std::size_t k = 0; k < table.info.fields.size(); ++k)
            values << QString::fromStdString(exactText(table.value(0, k)));
        QCOMPARE(values.join('|'), first);
    }
    void tabsDivideTsv() {
        FeatureList list;
        list.info.fields = {{"a, b", FieldType::Text}, {"c", FieldType::Integer}};
        list.features.push_back({1, {}, {std::string("x\ty, z"), std::int64_t(4)}});
        const auto path = std::filesystem::path(m_dir.path().toStdString()) / "tabs.tsv";
        QVERIFY(io::writeTable(list, path, {}));
        std::ifstream in(path);
        std::string text((std::istreambuf_iterator<char>(in)), {});
        QCOMPARE(QString::fromStdString(text), QString("a, b\tc\n\"x\ty, z\"\t4\n"));
    }
    void csvFindsShapes() {
        auto points = tableIn(write("p.csv", "name,Lon,LAT\nNess,-10.7,61.6\nVoe,,61\n"));
        QCOMPARE(points.info.geometry, GeometryType::Point);
        QVERIFY(points.info.crs && points.info.crs->code == 4326);
        QVERIFY(!points.info.notes.empty());
        QCOMPARE(points.geometry(0).points[0].y, 61.6);
        QVERIFY(points.geometry(1).isEmpty());
        const auto plane = tableIn(write("q.csv", "easting,northing\n400000,6830000\n"));
        QCOMPARE(plane.info.geometry, GeometryType::Point);
        QVERIFY(!plane.info.crs);
        const auto areas = tableIn(write(
            "w.csv", "wkt,n\n\"POLYGON((0 0, 4 0, 4 4, 0 0))\",1\nnonsense,2\n\"POINT(1 2)\",3\n"));
        QCOMPARE(typesOf(areas), QString("n:integer"));
        QCOMPARE(areas.geometry(0).type, GeometryType::Polygon);
        QVERIFY(areas.geometry(1).isEmpty());
        QVERIFY(areas.info.notes.back().find("first in row 2") != std::string::npos);
        QVERIFY(!io::openSource(write("empty.csv", "\n\n")));
    }

    // What is written is read back: shapes, numbers, texts with every sign.
    void goesRound_data() {
        QTest::addColumn<QString>("suffix");
        QTest::addColumn<int>("kind");
        for (const char* suffix : {"csv", "tsv", "geojsonl", "kml"})
            for (const int kind : {1, 2, 3})
                QTest::newRow(qPrintable(QString("%1 %2").arg(suffix).arg(kind))) << suffix << kind;
    }
    void goesRound() {
        QFETCH(QString, suffix);
        QFETCH(int, kind);
        Random random(static_cast<std::uint64_t>(kind));
        FeatureList list;
        list.info.name = "round";
        list.info.crs = *crs::crsFromCode(4326);
        list.info.fields = {{"name", FieldType::Text},
                            {"n", FieldType::Integer},
                            {"v", FieldType::Real},
                            {"day", FieldType::Date}};
        const char* texts[] = {"Ness", "a, b",       "\"quoted\"",
                               "<&>'", "two\nlines", "\u00c6r\u00f8 \u4e2d"};
        for (int i = 0; i < 200; ++i) {
            const auto at = [&] { return Point{random.between(-20, 20), random.between(-40, 40)}; };
            Geometry g;
            if (kind == 1) g = Geometry::point(at());
            if (kind == 2) g = Geometry::line({at(), at(), at()});
            if (kind == 3) {
                const Point p = at();
                g = Geometry::polygon({{p, p + Point{2, 0}, p + Point{2, 2}, p},
                                       {p + Point{1.5, 0.5}, p + Point{1.8, 0.6},
                                        p + Point{1.8, 0.5}, p + Point{1.5, 0.5}}});
            }
            if (i % 20 == 7) g = {};
            std::vector<Value> values{std::string(texts[random.below(6)]),
                                      std::int64_t(random.below(1000) - 500),
                                      random.between(-1e6, 1e6), Date{random.below(20000)}};
            // Where all is missing there is nothing to tell a type by.
            if (i % 9 == 3) values[std::size_t(random.below(3)) + 1] = {};
            list.features.push_back({i + 1, g, values});
        }
        const FeatureTable table(list);
        const auto path = std::filesystem::path(m_dir.path().toStdString()) /
                          ("round" + std::to_string(kind) + "." + suffix.toStdString());
        const auto done = io::writeTable(table, path, {});
        QVERIFY2(done, done ? "" : done.error().text().c_str());
        FeatureTable again = tableIn(path);
        std::size_t found = again.size();
        // KML keeps features without a shape in a layer of their own.
        if (suffix == "kml") found += tableIn(path, 1).size();
        QCOMPARE(found, table.size());
        std::map<std::pair<std::int64_t, std::string>, std::size_t> rows;
        std::size_t row = 0;
        for (std::size_t i = 0; i < table.size(); ++i) {
            if (suffix == "kml" && table.geometry(i).isEmpty()) continue;
            for (const char* name : {"name", "n", "v", "day"}) {
                const auto from = std::size_t(table.fieldIndex(name));
                const int to = again.fieldIndex(name);
                QVERIFY2(to >= 0, name);
                std::string wanted = exactText(table.value(i, from));
                QCOMPARE(exactText(again.value(row, std::size_t(to))), wanted);
            }
            const GeometryView a = table.geometry(i), b = again.geometry(row);
            QCOMPARE(b.points.size(), a.points.size());
            QCOMPARE(b.parts.size(), a.parts.size());
            // Rings may be wound the other way.
            QVERIFY(kind == 3 || std::equal(a.points.begin(), a.points.end(), b.points.begin()));
            ++row;
        }
    }

    void readsLinesOneByOne() {
        const auto table = tableIn(write(
            "l.ndjson",
            "\x1E{\"type\":\"Feature\",\"properties\":{\"n\":1},\"geometry\":{\"type\":\"Point\","
            "\"coordinates\":[1,2]}}\n{broken\n\n{\"type\":\"Feature\",\"properties\":{\"n\":2},"
            "\"geometry\":null}\n"));
        QCOMPARE(table.size(), std::size_t(2));
        QVERIFY(table.info.notes.back().find("first is line 2") != std::string::npos);
        QVERIFY(!io::openSource(write("none.ndjson", "x\ny\n")));
    }
    void readsFolders() {
        const auto path = write(
            "f.kml",
            "<kml><Document><name>Doc</name><Folder><name>Mires</name><Placemark><name>A</name>"
            "<ExtendedData><Data name=\"ha\"><value>4.5</value></Data></ExtendedData><Polygon>"
            "<outerBoundaryIs><LinearRing><coordinates>0,0 4,0,7 4,4 0,0</coordinates></LinearRing>"
            "</outerBoundaryIs></Polygon></Placemark></Folder><Folder><name>Marks</name><Placemark>"
            "<name>B</name><MultiGeometry><Point><coordinates>1,2</coordinates></Point>"
            "<LineString><coordinates>0,0 "
            "1,1</coordinates></LineString></MultiGeometry></Placemark>"
            "</Folder></Document></kml>");
        auto source = io::openSource(path);
        QVERIFY(source);
        const auto& layers = std::get<FeatureSourcePtr>(*source)->layers();
        QCOMPARE(layers.size(), std::size_t(3));
        QCOMPARE(layers[0].name, std::string("Mires"));
        QCOMPARE(layers[1].name, std::string("Marks points"));
        QVERIFY(layers[0].notes.front().find("parted") != std::string::npos);
        const auto mires = tableIn(path);
        QCOMPARE(typesOf(mires), QString("name:text ha:real"));
        QCOMPARE(mires.geometry(0).z[1], 7.0);
        QVERIFY(!io::openSource(write("no.kml", "<kml></kml>")));
        QVERIFY(!io::openSource(write("cut.kml", "<kml><Placemark><Poi")));
        std::string deep = "<kml>";
        for (int i = 0; i < 3000; ++i) deep += "<Folder>";
        QVERIFY(!io::openSource(write("deep.kml", deep)));
    }
    void keepsSimpleStyles() {
        const auto path = write(
            "s.kml",
            "<kml><Document><Style id=\"wet\"><LineStyle><color>ff0080ff</color><width>2</width>"
            "</LineStyle><PolyStyle><color>800000ff</color></PolyStyle></Style><StyleMap "
            "id=\"both\">"
            "<Pair><key>normal</key><styleUrl>#wet</styleUrl></Pair></StyleMap><Placemark>"
            "<styleUrl>#wet</styleUrl><Point><coordinates>1,2</coordinates></Point></Placemark>"
            "<Placemark><styleUrl>#both</styleUrl><Point><coordinates>1,3</coordinates></Point>"
            "</Placemark><Placemark><Style><PolyStyle><color>ff00ff00</color><fill>0</fill>"
            "</PolyStyle></Style><Point><coordinates>1,4</coordinates></Point></Placemark>"
            "</Document></kml>");
        const auto look = [](const FeatureTable& table, std::size_t row) {
            QStringList out;
            for (const char* field : {"stroke", "stroke_width", "fill"}) {
                const int at = table.fieldIndex(field);
                out << (at < 0 ? QString()
                               : QString::fromStdString(
                                     exactText(table.value(row, static_cast<std::size_t>(at)))));
            }
            return out.join(' ');
        };
        const auto read = tableIn(path);
        QCOMPARE(look(read, 0), QString("#FF8000 2 #FF000080"));
        QCOMPARE(look(read, 1), look(read, 0));
        QCOMPARE(look(read, 2), QString("  "));
        const std::filesystem::path again = m_dir.path().toStdString() + "/again.kml";
        QVERIFY(io::writeTable(read, again, {}));
        for (std::size_t i = 0; i < 3; ++i) QCOMPARE(look(tableIn(again), i), look(read, i));
    }
    void readsTracks() {
        const auto path = write(
            "t.gpx",
            "<?xml version=\"1.0\"?><gpx version=\"1.1\" "
            "xmlns=\"http://www.topografix.com/GPX/1/1\">"
            "<wpt lat=\"61.6\" lon=\"-10.7\"><ele>30</ele><name>Ness</name></wpt><trk><name>Walk"
            "</name><trkseg><trkpt lat=\"61\" lon=\"-10\"/><trkpt lat=\"61.1\" lon=\"-10.1\"/>"
            "</trkseg><trkseg><trkpt lat=\"62\" lon=\"-11\"/><trkpt lat=\"62.1\" lon=\"-11.1\"/>"
            "</trkseg></trk></gpx>");
        const auto points = tableIn(path), tracks = tableIn(path, 1);
        QCOMPARE(points.info.name, std::string("waypoints"));
        QCOMPARE(points.geometry(0).z[0], 30.0);
        QCOMPARE(tracks.geometry(0).partCount(), std::size_t(2));
        QCOMPARE(exactText(tracks.value(0, 0)), std::string("Walk"));
        QVERIFY(!io::openSource(write("x.gpx", "<html/>")));
    }
};

QTEST_APPLESS_MAIN(TextFormatsTest)
#include "text_formats_test.moc"
