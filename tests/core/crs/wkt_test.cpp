#include "core/crs/wkt.h"

#include <QTest>

#include "core/base/random.h"

using namespace ledge;
using namespace ledge::crs;

class WktTest : public QObject {
    Q_OBJECT

private slots:
    void readsBackWhatItWrites_data() {
        QTest::addColumn<int>("code");
        for (const int code : {4326, 4258, 3857, 3395, 3994, 3034, 32601, 32629, 32760, 25829, 2053,
                               5513, 5514, 27572, 2056, 3031})
            QTest::newRow(qPrintable(QString::number(code))) << code;
    }
    void readsBackWhatItWrites() {
        QFETCH(int, code);
        const CrsPtr crs = *crsFromCode(code);
        const auto back = crsFromWkt(toWkt(*crs));
        QVERIFY2(back.has_value(),
                 back ? "" : qPrintable(QString::fromStdString(back.error().text())));
        QCOMPARE((*back)->code, code);
        QVERIFY(isSame(crs, *back));
        QCOMPARE((*back)->parameters, crs->parameters);
    }

    void knowsTheDialectOfPrjFiles() {
        const auto crs = crsFromWkt("PROJCS[\"WGS_1984_UTM_Zone_29N\",GEOGCS[\"GCS_WGS_1984\","
                                    "DATUM[\"D_WGS_1984\",SPHEROID[\"WGS_1984\","
                                    "6378137.0,298.257223563]],PRIMEM[\"Greenwich\",0.0],UNIT["
                                    "\"Degree\",0.0174532925199433]],"
                                    "PROJECTION[\"Transverse_Mercator\"],PARAMETER[\"False_"
                                    "Easting\",500000.0],PARAMETER[\"False_Northing\",0.0],"
                                    "PARAMETER[\"Central_Meridian\",-9.0],PARAMETER[\"Scale_"
                                    "Factor\",0.9996],PARAMETER[\"Latitude_Of_Origin\",0.0],"
                                    "UNIT[\"Meter\",1.0]]");
        QVERIFY(crs.has_value());
        QCOMPARE((*crs)->code, 32629);
    }

    void scalesOffsetsByTheUnit() {
        const auto crs = crsFromWkt(
            "PROJCS[\"feet\",GEOGCS[\"g\",DATUM[\"d\",SPHEROID[\"s\",6378206.4,294.9786982]],"
            "PRIMEM[\"Greenwich\",0],"
            "UNIT[\"degree\",0.0174532925199433]],PROJECTION[\"Lambert_Conformal_Conic_2SP\"],"
            "PARAMETER[\"latitude_of_origin\",27.8333333333333],PARAMETER[\"central_meridian\",-99]"
            ","
            "PARAMETER[\"standard_parallel_1\",28.3833333333333],PARAMETER[\"standard_parallel_2\","
            "30.2833333333333],"
            "PARAMETER[\"false_easting\",2000000],PARAMETER[\"false_northing\",0],UNIT[\"US survey "
            "foot\",0.304800609601219]]");
        QVERIFY(crs.has_value());
        QVERIFY(std::abs((*crs)->parameters.falseEasting - 609601.219202438) < 1e-6);
        QCOMPARE((*crs)->code, 0);
        QVERIFY(!(*crs)->toWgs84.has_value());
    }

    void explainsWhatIsWrong_data() {
        QTest::addColumn<QString>("wkt");
        QTest::addColumn<int>("code");
        QTest::newRow("empty brackets") << "PROJCS[]" << int(ErrorCode::BadFormat);
        QTest::newRow("open bracket") << "GEOGCS[\"a\",DATUM[\"b\"" << int(ErrorCode::BadFormat);
        QTest::newRow("open quote") << "GEOGCS[\"a" << int(ErrorCode::BadFormat);
        QTest::newRow("no datum") << "GEOGCS[\"a\",UNIT[\"degree\",0.01745]]"
                                  << int(ErrorCode::BadFormat);
        QTest::newRow("wrong axis")
            << "GEOGCS[\"a\",DATUM[\"b\",SPHEROID[\"c\",-1,298]]]" << int(ErrorCode::BadFormat);
        QTest::newRow("infinite axis")
            << "GEOGCS[\"a\",DATUM[\"b\",SPHEROID[\"c\",inf,298]]]" << int(ErrorCode::BadFormat);
        QTest::newRow("unknown method") << "PROJCS[\"a\",GEOGCS[\"a\",DATUM[\"b\",SPHEROID[\"c\","
                                           "6378137,298]]],PROJECTION[\"Cheese\"]]"
                                        << int(ErrorCode::Unsupported);
        QTest::newRow("vertical") << "VERT_CS[\"a\",UNIT[\"m\",1]]" << int(ErrorCode::Unsupported);
        QTest::newRow("trailing text") << "GEOGCS[\"a\",DATUM[\"b\",SPHEROID[\"c\",6378137,298]]] x"
                                       << int(ErrorCode::BadFormat);
    }
    void explainsWhatIsWrong() {
        QFETCH(QString, wkt);
        QFETCH(int, code);
        const auto crs = crsFromWkt(wkt.toStdString());
        QVERIFY(!crs);
        QCOMPARE(int(crs.error().code), code);
        QVERIFY(!crs.error().mend.empty());
    }

    void survivesDamage() {
        const std::string whole = toWkt(**crsFromCode(3034));
        Random random(5);
        for (std::size_t cut = 0; cut < whole.size(); ++cut)
            (void)crsFromWkt(whole.substr(0, cut)).has_value();
        for (int i = 0; i < 2000; ++i) {
            std::string text = whole;
            for (int k = 0; k < 3; ++k)
                text[static_cast<std::size_t>(random.below(int(text.size())))] =
                    "[],\"0x(-"[random.below(8)];
            (void)crsFromWkt(text).has_value();
        }
        (void)crsFromWkt(std::string(100000, '[')).has_value();
        std::string deep;
        for (int i = 0; i < 10000; ++i) deep += "A[";
        QVERIFY(!crsFromWkt(deep));
    }

    void parsesCodes() {
        QCOMPARE((*parseCrs("EPSG:32629"))->code, 32629);
        QCOMPARE((*parseCrs(" epsg:3857 "))->code, 3857);
        QVERIFY(parseCrs("").has_value() && !*parseCrs(""));
        QCOMPARE(parseCrs("EPSG:99999").error().code, ErrorCode::NotFound);
        QCOMPARE(parseCrs("EPSG:12x").error().code, ErrorCode::BadFormat);
        QCOMPARE(parseCrs("somewhere").error().code, ErrorCode::BadFormat);
    }
};

QTEST_APPLESS_MAIN(WktTest)
#include "wkt_test.moc"
