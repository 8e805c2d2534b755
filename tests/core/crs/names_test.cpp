#include <QTest>

#include "core/crs/catalogue.h"
#include "core/crs/datum_names.h"
#include "core/crs/method_table.h"
#include "core/crs/transformation.h"
#include "core/crs/wkt.h"
#include "core/crs/world_crs.h"
#include "support/places.h"
#include "support/reference_table.h"

using namespace ledge;
using namespace ledge::crs;

/// The names by which files, services and people ask for a CRS.
class NamesTest : public QObject {
    Q_OBJECT

private slots:
    void understandsNames_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<int>("code");
        QTest::addColumn<QString>("remark");  ///< a part of it; empty: none
        QTest::newRow("bare code") << "3857" << 3857 << "";
        QTest::newRow("blanks") << "  EPSG:3857 " << 3857 << "";
        QTest::newRow("OGC name") << "OGC:CRS84" << 4326 << "";
        QTest::newRow("old service name") << "CRS:84" << 4326 << "";
        QTest::newRow("of NAD83") << "OGC:CRS83" << 4269 << "";
        QTest::newRow("of NAD27") << "urn:ogc:def:crs:OGC::CRS27" << 4267 << "";
        QTest::newRow("URN") << "urn:ogc:def:crs:EPSG::4326" << 4326 << "";
        QTest::newRow("URN with version") << "urn:ogc:def:crs:EPSG:9.9.1:32629" << 32629 << "";
        QTest::newRow("older URN") << "urn:x-ogc:def:crs:EPSG:25832" << 25832 << "";
        QTest::newRow("URN of OGC") << "urn:ogc:def:crs:OGC:1.3:CRS84" << 4326 << "";
        QTest::newRow("URL") << "http://www.opengis.net/def/crs/EPSG/0/3857" << 3857 << "";
        QTest::newRow("secure URL")
            << "https://www.opengis.net/def/crs/OGC/1.3/CRS84" << 4326 << "";
        QTest::newRow("GML URL") << "http://www.opengis.net/gml/srs/epsg.xml#4258" << 4258 << "";
        QTest::newRow("compound code") << "EPSG:7415" << 28992 << "NAP height";
        QTest::newRow("two codes") << "EPSG:25832+7837" << 25832 << "EPSG:7837";
        QTest::newRow("URN of two")
            << "urn:ogc:def:crs,crs:EPSG::4326,crs:EPSG::5773" << 4326 << "EPSG:5773";
        QTest::newRow("three-dimensional") << "EPSG:4979" << 4326 << "heights";
        QTest::newRow("with heights") << "CRS84h" << 4326 << "heights";
        QTest::newRow("never in the dataset") << "EPSG:900913" << 3857 << "EPSG:3857 replaced it";
        QTest::newRow("withdrawn sphere Mercator") << "3785" << 3857 << "EPSG:3785 was withdrawn";
        QTest::newRow("withdrawn atlas") << "EPSG:2163" << 9311 << "EPSG:9311 replaced it";
        QTest::newRow("withdrawn sphere") << "EPSG:4035" << 4047 << "EPSG:4047 replaced it";
        QTest::newRow("withdrawn plate carree") << "EPSG:32662" << 4087 << "EPSG:4087 replaced it";
    }
    void understandsNames() {
        QFETCH(QString, name);
        QFETCH(int, code);
        QFETCH(QString, remark);
        const auto crs = parseCrs(name.toStdString());
        QVERIFY2(crs.has_value(),
                 crs ? "" : qPrintable(QString::fromStdString(crs.error().text())));
        QCOMPARE((*crs)->code, code);
        const QString said = QString::fromStdString((*crs)->remark.text);
        QVERIFY2(remark.isEmpty() ? said.isEmpty() : said.contains(remark), qPrintable(said));
        // What it was called makes no other CRS of it.
        QVERIFY(isSame(*crs, *crsFromCode(code)));
    }

    void explainsNamesItCannotRead_data() {
        QTest::addColumn<QString>("name");
        for (const char* name :
             {"EPSG:12x", "urn:ogc:def:crs:EPSG::", "OGC:CRS99", "EPSG:4326+", "EPSG:1+2+3",
              "urn:ogc:def:crs,crs:EPSG::4326", "http://www.opengis.net/def/crs/EPSG/0/", "-5",
              "99999999999999", "world:flat", "world:robinson@x", "world:robinson@10,20", "crs:"})
            QTest::newRow(name) << name;
    }
    void explainsNamesItCannotRead() {
        QFETCH(QString, name);
        const auto crs = parseCrs(name.toStdString());
        QVERIFY(!crs);
        QVERIFY(!crs.error().mend.empty());
    }

    void replacesOnlyByWhatIsThere() {
        // Every replacement stands for a definition, and no code that has its own is replaced.
        for (const int code : {2036, 2140, 2148, 2400, 26591, 29177, 31463, 32663, 3752, 4140}) {
            const auto crs = crsFromCode(code);
            QVERIFY2(crs.has_value(), qPrintable(QString::number(code)));
            QVERIFY((*crs)->code != code && !(*crs)->remark.text.empty());
        }
        QCOMPARE(Catalogue::shipped().usedFor(4326), 4326);
        QCOMPARE(Catalogue::shipped().usedFor(4979), 4326);
    }

    void readsCompoundAndThreeDimensionalTexts() {
        const std::string rd = toWkt(**crsFromCode(28992));
        const auto one = crsFromWkt("COMPD_CS[\"RD with heights\"," + rd +
                                    ",VERT_CS[\"NAP height\",VERT_DATUM[\"NAP\",2005],"
                                    "UNIT[\"metre\",1]]]");
        QVERIFY(one.has_value());
        QCOMPARE((*one)->code, 28992);
        QVERIFY((*one)->remark.text.find("NAP height") != std::string::npos);
        const auto two =
            crsFromWkt("COMPOUNDCRS[\"two\"," + toWkt2(**crsFromCode(25832)) +
                       ",VERTCRS[\"DHHN2016 height\",VDATUM[\"DHHN2016\"],CS[vertical,1],"
                       "AXIS[\"height\",up],LENGTHUNIT[\"metre\",1]]]");
        QVERIFY2(two.has_value(), two ? "" : two.error().text().c_str());
        QCOMPARE((*two)->code, 25832);
        const auto solid = crsFromWkt(
            "GEOGCRS[\"WGS 84\",DATUM[\"World Geodetic System 1984\",ELLIPSOID[\"WGS 84\",6378137,"
            "298.257223563]],CS[ellipsoidal,3],AXIS[\"latitude\",north],AXIS[\"longitude\",east],"
            "AXIS[\"height\",up],ANGLEUNIT[\"degree\",0.0174532925199433],ID[\"EPSG\",4979]]");
        QVERIFY(solid.has_value());
        QCOMPARE((*solid)->code, 4326);
        QVERIFY((*solid)->remark.text.find("heights") != std::string::npos);
        QVERIFY(!crsFromWkt("COMPD_CS[\"nothing\"]"));
        std::string deep = rd;
        for (int i = 0; i < 30; ++i) deep = "COMPD_CS[\"x\"," + deep + "]";
        QVERIFY(!crsFromWkt(deep));
    }

    void findsByMethodAndNickname_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("first");
        QTest::newRow("web mercator") << "web mercator"
                                      << "EPSG:3857";
        QTest::newRow("eckert") << "eckert"
                                << "world:eckert-iv";
        QTest::newRow("robinson") << "robinson"
                                  << "world:robinson";
        QTest::newRow("mollweide") << "mollweide"
                                   << "world:mollweide";
        QTest::newRow("winkel") << "winkel"
                                << "world:winkel-tripel";
        QTest::newRow("natural earth") << "natural earth"
                                       << "world:natural-earth";
        QTest::newRow("sinusoidal") << "Sinusoidal"
                                    << "world:sinusoidal";
        QTest::newRow("property") << "compromise"
                                  << "world:robinson";
        QTest::newRow("its own name wins") << "27700"
                                           << "EPSG:27700";
    }
    void findsByMethodAndNickname() {
        QFETCH(QString, text);
        QFETCH(QString, first);
        QStringList found;
        for (const auto* entry : Catalogue::shipped().find(text.toStdString(), 10))
            found << QString::fromStdString(entry->text);
        QVERIFY2(!found.isEmpty(), qPrintable(text));
        const bool isRanked = text != "compromise" && text != "eckert";
        QVERIFY2(isRanked ? found.first() == first : found.contains(first),
                 qPrintable(found.join(", ")));
    }

    void findsDefinitionsByTheirMethod() {
        bool hasKrovak = false;
        for (const auto* entry : Catalogue::shipped().find("krovak", 20))
            hasKrovak |= entry->code == 5514;
        QVERIFY(hasKrovak);
    }

    void makesWorldMapsCentredAnywhere_data() {
        QTest::addColumn<QString>("key");
        for (const WorldCrs& world : worldCrss())
            QTest::newRow(std::string(world.key).c_str())
                << QString::fromStdString(std::string(world.key));
    }
    void makesWorldMapsCentredAnywhere() {
        QFETCH(QString, key);
        const WorldCrs* world = worldCrs(key.toStdString());
        QVERIFY(world);
        for (const Point centre : {Point{0, 0}, Point{150, 0}, Point{-10.5, 61.25}}) {
            const Point used{centre.x, world->takesLatitude ? centre.y : 0};
            const std::string text = worldCrsText(*world, used);
            const auto crs = parseCrs(text);
            QVERIFY2(crs.has_value(), text.c_str());
            QCOMPARE(worldCentre(text), std::optional(used));
            // Its middle is the origin.
            const auto way = Transformation::between(*crsFromCode(4326), *crs);
            const Point at = way->forward(used);
            QVERIFY2(distance(at, {0, 0}) < 1e-6, text.c_str());
            // It goes through its texts and comes back.
            const auto back = crsFromWkt(toWkt(**crs));
            QVERIFY(back.has_value() && hasSameShape(**back, **crs));
        }
        // It keeps what it says it keeps, away from its centre.
        const auto crs = parseCrs("world:" + key.toStdString());
        const Distortion a = distortionAt(**crs, {5, 20}), b = distortionAt(**crs, {20, 50});
        const bool isOfSphere = methodInfo(world->method)->method >= Method::Mollweide &&
                                world->method != Method::EqualEarth;
        if (world->keeps == WorldCrs::Keeps::Areas)
            QVERIFY(std::abs(a.areal / b.areal - 1) < (isOfSphere ? 0.01 : 1e-6));
        if (world->keeps == WorldCrs::Keeps::Shapes)
            QVERIFY(std::abs(b.largest / b.smallest - 1) < 1e-6);
        if (world->keeps == WorldCrs::Keeps::Balance)
            QVERIFY(b.largest / b.smallest > 1.001 && std::abs(a.areal / b.areal - 1) > 0.01);
    }

    /// Savric and others 2011, table of the projection by its polynomials at the corners: width and
    /// height of the world over the radius.
    void drawsNaturalEarthAsPublished() {
        const auto crs = *parseCrs("world:natural-earth");
        const auto way = *Transformation::between(*crsFromCode(4326), crs);
        const double r = 6378137;
        const Point edge = way.forward(Point{180, 0}), pole = way.forward(Point{0, 90});
        QVERIFY(std::abs(edge.x / r - 0.8707 * M_PI) < 1e-9);
        QVERIFY(std::abs(pole.y / r -
                         0.5 * M_PI *
                             (1.007226 + 0.015085 * std::pow(M_PI / 2, 2) -
                              0.044475 * std::pow(M_PI / 2, 6) + 0.028874 * std::pow(M_PI / 2, 8) -
                              0.005916 * std::pow(M_PI / 2, 10))) < 1e-9);
        // The pole line is shorter than the equator, and the world 0.52 as high as wide.
        const Point corner = way.forward(Point{180, 90});
        QVERIFY(corner.x < 0.65 * edge.x);
        QVERIFY(std::abs(pole.y / edge.x - 0.52) < 0.005);
    }

    void takesDatumsByTheirNames_data() {
        QTest::addColumn<QString>("spelling");
        QTest::addColumn<int>("geographic");
        QTest::newRow("prj dialect") << "D_Belge_1972" << 4313;
        QTest::newRow("dataset") << "Reseau_National_Belge_1972" << 4313;
        QTest::newRow("adjusted") << "D_Pulkovo_1942_Adj_1958" << 4179;
        QTest::newRow("brackets") << "Pulkovo 1942(58)" << 4179;
        QTest::newRow("ensemble") << "World Geodetic System 1984 ensemble" << 4326;
        QTest::newRow("plus") << "CH1903+" << 4150;
        QTest::newRow("no plus") << "D_CH1903" << 4149;
        QTest::newRow("NAD27") << "D_North_American_1927" << 4267;
    }
    void takesDatumsByTheirNames() {
        QFETCH(QString, spelling);
        QFETCH(int, geographic);
        QCOMPARE(normalisedDatum(spelling.toStdString()),
                 normalisedDatum((*crsFromCode(geographic))->datumName));
    }

    void neverShiftsADatumAgainstItself_data() {
        QTest::addColumn<int>("code");
        QTest::addColumn<QString>("datum");
        QTest::addColumn<QString>("shift");
        QTest::newRow("BD72") << 31370 << "Reseau_National_Belge_1972"
                              << "-106.8686,52.2978,-103.7239,-0.3366,0.457,-1.8422,-1.2747";
        QTest::newRow("BD72, prj") << 31370 << "D_Belge_1972"
                                   << "-99.1,53.3,-112.5,0.419,-0.83,1.885,-1";
        QTest::newRow("Amersfoort") << 28992 << "Amersfoort"
                                    << "565.4171,50.3319,465.5524,1.9342,-1.6677,9.1019,4.0725";
        QTest::newRow("Pulkovo 1942(58)") << 3333 << "Pulkovo_1942_58"
                                          << "33.4,-146.6,-76.3,-0.359,-0.053,0.844,-0.84";
        QTest::newRow("MGI") << 31287 << "Militar_Geographische_Institut"
                             << "577.326,90.129,463.919,5.137,1.474,5.297,2.4232";
    }
    void neverShiftsADatumAgainstItself() {
        QFETCH(int, code);
        QFETCH(QString, datum);
        QFETCH(QString, shift);
        const CrsPtr known = *crsFromCode(code);
        // Without any code, and with a false northing of its own so that only the datum matches.
        Crs own = *known;
        own.code = own.geographicCode = 0;
        own.parameters.falseNorthing += 1000;
        std::string wkt = toWkt(own);
        const auto from = wkt.find("DATUM[\"") + 7;
        wkt.replace(from, wkt.find('"', from) - from, datum.toStdString());
        const auto spheroidEnd = wkt.find(']', wkt.find("SPHEROID["));
        wkt.insert(spheroidEnd + 1, ",TOWGS84[" + shift.toStdString() + "]");
        const auto read = crsFromWkt(wkt);
        QVERIFY2(read.has_value(), read ? "" : read.error().text().c_str());
        const auto way = Transformation::between(*read, known);
        QVERIFY2(way->datumPath().isSameDatum, way->datumOperation().c_str());
        const Point at = (*Transformation::between(*crsFromCode(known->geographicCode), known))
                             .forward(known->area->box.centre());
        QVERIFY(distance(way->forward(at + Point{0, 1000}), at) < 1e-6);
        // And to WGS 84 by the reviewed operation, not by the text's own numbers.
        const auto one = Transformation::between(*read, *crsFromCode(4326));
        const auto other = Transformation::between(known, *crsFromCode(4326));
        QVERIFY(distance(one->forward(at + Point{0, 1000}), other->forward(at)) < 1e-11);
    }

    void usesATextsShiftWhereItsDatumIsUnknown() {
        const auto text = [](const char* dx) {
            return std::string(
                       "GEOGCS[\"Skerra\",DATUM[\"Skerravoe 1911\",SPHEROID[\"own\",6378388,"
                       "297],TOWGS84[") +
                   dx +
                   ",50,60,0,0,0,0]],PRIMEM[\"Greenwich\",0],UNIT[\"degree\","
                   "0.0174532925199433]]";
        };
        const auto one = crsFromWkt(text("100")), other = crsFromWkt(text("140"));
        QVERIFY(!hasSameDatum(**one, **other));
        QVERIFY(hasSameDatum(**one, **crsFromWkt(text("100"))));
        const auto way = Transformation::between(*one, *crsFromCode(4326));
        QVERIFY(way->datumPath().isFromDefinition);
    }

    void knowsPrimeMeridiansExactly_data() {
        QTest::addColumn<int>("code");
        QTest::addColumn<double>("degrees");
        QTest::newRow("Paris") << 4807 << 2 + (20 + 14.025 / 60) / 60;
        QTest::newRow("Ferro") << 4805 << -(17 + 40.0 / 60);
        QTest::newRow("Rome") << 4806 << 12 + (27 + 8.4 / 60) / 60;
        QTest::newRow("Oslo") << 4817 << 10 + (43 + 22.5 / 60) / 60;
        QTest::newRow("Stockholm") << 4814 << 18 + (3 + 29.8 / 60) / 60;
        QTest::newRow("Lisbon") << 4803 << -(9 + (7 + 54.862 / 60) / 60);
        QTest::newRow("Jakarta") << 4813 << 106 + (48 + 27.79 / 60) / 60;
        QTest::newRow("Madrid") << 4903 << -(3 + (41 + 14.55 / 60) / 60);
    }
    void knowsPrimeMeridiansExactly() {
        QFETCH(int, code);
        QFETCH(double, degrees);
        const auto crs = crsFromCode(code);
        QVERIFY(crs.has_value());
        QVERIFY(std::abs((*crs)->primeMeridian - degrees) < 1e-13);
    }

    /// The data give each projected definition twice; the table must have the method of both.
    void hasTheMethodsOfBothTexts() {
        QFile file(test::kTestData + QStringLiteral("/crs/second-methods.txt"));
        QVERIFY(file.open(QIODevice::ReadOnly));
        int checked = 0;
        QStringList wrong;
        for (const QString& line : QString::fromUtf8(file.readAll()).split('\n')) {
            if (line.isEmpty() || line.startsWith('#')) continue;
            const std::string name = line.section('\t', 0, 0).toStdString();
            for (const QString& range : line.section('\t', 1).split(' ')) {
                const int first = range.section('-', 0, 0).toInt();
                const int last = range.section('-', -1).toInt();
                for (int code = first; code <= last; ++code, ++checked) {
                    const auto crs = crsFromCode(code);
                    if (!crs && crs.error().code == ErrorCode::Unsupported) continue;
                    const auto* info = crs ? methodInfo((*crs)->method) : nullptr;
                    const auto other = methodFromName(name, {});
                    // One name of texts may stand for two methods that differ by their axes.
                    const bool isAlike =
                        info && (info->method == other || info->wkt1 == name ||
                                 (name == "Polar_Stereographic" &&
                                  std::string(info->wkt1).starts_with("Polar_Stereographic")));
                    if (!isAlike) wrong << QString("EPSG:%1 is no %2").arg(code).arg(name.c_str());
                }
            }
        }
        QVERIFY2(wrong.isEmpty(), qPrintable(wrong.mid(0, 10).join("\n")));
        QVERIFY2(checked > 5000, qPrintable(QString::number(checked)));
        QCOMPARE((*crsFromCode(3857))->method, Method::WebMercator);
    }
};

QTEST_APPLESS_MAIN(NamesTest)
#include "names_test.moc"
