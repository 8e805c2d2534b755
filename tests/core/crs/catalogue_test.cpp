#include "core/crs/catalogue.h"

#include <QTest>

#include "core/crs/method_table.h"
#include "core/crs/transformation.h"
#include "core/crs/wkt.h"

using namespace ledge;
using namespace ledge::crs;

namespace {
std::vector<int> codesOf(const std::vector<const Catalogue::Entry*>& entries) {
    std::vector<int> out;
    for (const auto* entry : entries) out.push_back(entry->code);
    return out;
}
bool contains(const std::vector<int>& codes, int code) {
    return std::find(codes.begin(), codes.end(), code) != codes.end();
}

// Largest round trip error in metres over a lattice of the area of use; NaN when nothing of the
// area can be projected.
double worstRoundTrip(const Crs& crs) {
    const auto projection = makeProjection(crs.method, crs.parameters, crs.ellipsoid);
    const Box& box = crs.area->box;
    double worst = kNaN;
    for (int i = 0; i <= 6; ++i)
        for (int j = 0; j <= 6; ++j) {
            const Point from{std::remainder(box.xMin + box.width() * i / 6, 360.0),
                             box.yMin + box.height() * j / 6};
            Point at = from;
            (*projection)->forward(std::span(&at, 1));
            if (!at.isFinite()) continue;
            (*projection)->inverse(std::span(&at, 1));
            if (!at.isFinite()) return std::numeric_limits<double>::infinity();
            const Point degree = metresPerDegree(crs.ellipsoid, from.y);
            const double miss = std::hypot(std::remainder(at.x - from.x, 360.0) * degree.x,
                                           (at.y - from.y) * degree.y);
            worst = std::isnan(worst) ? miss : std::max(worst, miss);
        }
    return worst;
}
}  // namespace

class CatalogueTest : public QObject {
    Q_OBJECT

private slots:
    /// The walk over all shipped definitions: how many work, and which do not and why.
    void holdsDefinitionsThatWork() {
        const Catalogue& catalogue = Catalogue::shipped();
        int geographic = 0, projected = 0;
        std::map<std::string, std::vector<int>> unsupported;
        QStringList wrong;
        for (const auto& entry : catalogue.entries()) {
            const auto crs = catalogue.byCode(entry.code);
            if (!crs) {
                unsupported[crs.error().why].push_back(entry.code);
                continue;
            }
            QCOMPARE((*crs)->code, entry.code);
            if (entry.isGeographic) {
                ++geographic;
                continue;
            }
            ++projected;
            const double worst = worstRoundTrip(**crs);
            if (!(worst < 1e-6))
                wrong << QString("EPSG:%1 %2: %3 m")
                             .arg(entry.code)
                             .arg(QString::fromStdString((*crs)->name))
                             .arg(worst);
        }
        qInfo("%d geographic and %d projected CRSs work", geographic, projected);
        for (const auto& [why, codes] : unsupported)
            for (const int code : codes) qInfo("EPSG:%d left out: %s", code, why.c_str());
        qInfo("%zu codes have no definition in the table", catalogue.missing().size());
        QVERIFY2(wrong.isEmpty(), qPrintable(wrong.join("\n")));
        QVERIFY(geographic > 500);
        QVERIFY(projected > 5050);
        QVERIFY(catalogue.missing().size() < 100);
    }

    void readsBackBothTextsOfEveryDefinition() {
        QStringList wrong;
        for (const auto& entry : Catalogue::shipped().entries()) {
            const auto crs = crsFromCode(entry.code);
            if (!crs) continue;
            for (const std::string& text : {toWkt(**crs), toWkt2(**crs)}) {
                const auto back = crsFromWkt(text);
                if (!back || (*back)->code != entry.code || !hasSameShape(**back, **crs))
                    wrong << QString("EPSG:%1: %2")
                                 .arg(entry.code)
                                 .arg(QString::fromStdString(back ? text : back.error().text()));
            }
            if (wrong.size() > 5) break;
        }
        QVERIFY2(wrong.isEmpty(), qPrintable(wrong.join("\n")));
    }

    void findsByCodeNameAndPlace_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<int>("code");
        QTest::newRow("code") << "32629" << 32629;
        QTest::newRow("code with authority") << "EPSG:27700" << 27700;
        QTest::newRow("name") << "RD New" << 28992;
        QTest::newRow("words in any order") << "29N UTM WGS 84" << 32629;
        QTest::newRow("country") << "switzerland" << 2056;
        QTest::newRow("part of a name") << "lambert-93" << 2154;
        QTest::newRow("place") << "faroe" << 5316;
    }
    void findsByCodeNameAndPlace() {
        QFETCH(QString, text);
        QFETCH(int, code);
        const auto codes = codesOf(Catalogue::shipped().find(text.toStdString(), 20));
        QVERIFY2(contains(codes, code), qPrintable(text));
    }

    void findsNothingForNonsense() {
        QVERIFY(Catalogue::shipped().find("no such place at all").empty());
        QVERIFY(Catalogue::shipped().find("  ").empty());
    }

    void suggestsWhatSuitsAPlace() {
        const Catalogue& catalogue = Catalogue::shipped();
        QVERIFY(contains(codesOf(catalogue.suitable({-10.7, 61.6})), 32629));
        QVERIFY(contains(codesOf(catalogue.suitable({8.2, 46.9})), 2056));
        QVERIFY(contains(codesOf(catalogue.suitable({5.2, 52.1})), 28992));
        QVERIFY(contains(codesOf(catalogue.suitable({179.5, -17})), 32760));  // Fiji
        for (const auto* entry : catalogue.suitable({-10.7, 61.6})) QVERIFY(!entry->isGeographic);
    }

    void namesWhatIsMissing() {
        QCOMPARE(crsFromCode(99999).error().code, ErrorCode::NotFound);
        const auto missing = crsFromCode(3295);
        QCOMPARE(missing.error().code, ErrorCode::Unsupported);
        QVERIFY(missing.error().what.find("Yap") != std::string::npos);
        QCOMPARE(crsFromCode(8441).error().code, ErrorCode::Unsupported);  // a method we lack
    }

    void readsGradsAndPrimeMeridians() {
        const auto crs = crsFromCode(27572);
        QVERIFY(crs.has_value());
        QVERIFY(std::abs((*crs)->parameters.latitudeOfOrigin - 46.8) < 1e-9);
        const double paris = 2 + (20 + 14.025 / 60) / 60;
        QVERIFY(std::abs((*crs)->parameters.centralMeridian - paris) < 1e-13);
        const auto way = Transformation::between(*crsFromCode(4275), *crs);
        QVERIFY(distance(way->forward(Point{paris, 46.8}), {600000, 2200000}) < 1e-6);
    }

    void matchesDefinitionsWithoutACode() {
        // As a .prj of another dialect says it: other names, rounded parameters, no code.
        const auto crs = crsFromWkt(
            "PROJCS[\"British_National_Grid\",GEOGCS[\"GCS_OSGB_1936\",DATUM[\"D_OSGB_1936\","
            "SPHEROID[\"Airy_1830\",6377563.396,299.3249646]],PRIMEM[\"Greenwich\",0.0],"
            "UNIT[\"Degree\",0.0174532925199433]],PROJECTION[\"Transverse_Mercator\"],"
            "PARAMETER[\"False_Easting\",400000.0],PARAMETER[\"False_Northing\",-100000.0],"
            "PARAMETER[\"Central_Meridian\",-2.0],PARAMETER[\"Scale_Factor\",0.9996012717],"
            "PARAMETER[\"Latitude_Of_Origin\",49.0],UNIT[\"Meter\",1.0]]");
        QVERIFY(crs.has_value());
        QCOMPARE((*crs)->code, 27700);
        // A changed parameter is another CRS, whatever code the text claims.
        std::string lying = toWkt(**crsFromCode(32629));
        lying.replace(lying.find("500000"), 6, "400000");
        const auto other = crsFromWkt(lying);
        QVERIFY(other.has_value());
        QCOMPARE((*other)->parameters.falseEasting, 400000.0);
    }

    void countsWestingsAndSouthings() {
        const auto way = Transformation::between(*crsFromCode(4148), *crsFromCode(2053));
        const Point at = way->forward(Point{28.5, -25.8});
        QVERIFY(at.x > 0 && at.y > 2.8e6);
        QVERIFY(distance(way->inverse(at), {28.5, -25.8}) < 1e-11);
    }
};

QTEST_APPLESS_MAIN(CatalogueTest)
#include "catalogue_test.moc"
