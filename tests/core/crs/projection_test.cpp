#include <QTest>

#include "core/crs/transformation.h"
#include "core/crs/wkt.h"
#include "support/reference_table.h"

using namespace ledge;
using namespace ledge::crs;
using ledge::test::number;
using ledge::test::Row;

namespace {

std::optional<Method> methodNamed(const QString& name) {
    if (name == "Transverse Mercator") return Method::TransverseMercator;
    if (name == "Mercator (variant A)") return Method::MercatorA;
    if (name == "Mercator (variant B)") return Method::MercatorB;
    if (name == "Popular Visualisation Pseudo Mercator") return Method::WebMercator;
    if (name == "Lambert Conic Conformal (1SP)") return Method::LambertConformalConic1SP;
    if (name == "Lambert Conic Conformal (2SP)") return Method::LambertConformalConic2SP;
    return {};
}

// A CRS built from a row of the parameter table.
CrsPtr crsOf(const Row& row) {
    const auto method = methodNamed(row.at("method"));
    if (!method) return {};
    Crs crs;
    crs.name = row.at("name").toStdString();
    crs.ellipsoid = {row.at("ellipsoid").toStdString(), number(row, "a_m"),
                     number(row, "inverse_flattening")};
    crs.primeMeridian = number(row, "prime_meridian_deg");
    crs.unit = {row.at("unit").toStdString(), number(row, "unit_to_m")};
    crs.method = *method;
    const std::map<QString, double ProjectionParameters::*> fields{
        {"latitude_of_origin", &ProjectionParameters::latitudeOfOrigin},
        {"central_meridian", &ProjectionParameters::centralMeridian},
        {"scale_factor", &ProjectionParameters::scaleFactor},
        {"standard_parallel_1", &ProjectionParameters::standardParallel1},
        {"standard_parallel_2", &ProjectionParameters::standardParallel2},
        {"false_easting", &ProjectionParameters::falseEasting},
        {"false_northing", &ProjectionParameters::falseNorthing}};
    for (const QString& pair : row.at("parameters").split(';')) {
        const auto it = fields.find(pair.section('=', 0, 0));
        if (it != fields.end()) crs.parameters.*(it->second) = pair.section('=', 1).toDouble();
    }
    crs.parameters.centralMeridian += crs.primeMeridian;
    crs.parameters.falseEasting *= crs.unit.size;
    crs.parameters.falseNorthing *= crs.unit.size;
    return std::make_shared<Crs>(crs);
}

Crs geographicOf(const Crs& crs) {
    Crs base = crs;
    base.method = Method::None;
    base.primeMeridian = 0;
    base.code = 0;
    base.unit = {};
    return base;
}

}  // namespace

class ProjectionTest : public QObject {
    Q_OBJECT

private:
    std::map<QString, CrsPtr> m_crs;

private slots:
    void initTestCase() {
        for (const Row& row : test::readTable("crs/crs-parameters.csv"))
            if (const CrsPtr crs = crsOf(row)) m_crs[row.at("epsg")] = crs;
        QVERIFY(m_crs.size() >= 15);
    }

    void agreesWithThePublishedTable_data() {
        QTest::addColumn<QString>("epsg");
        QTest::addColumn<double>("lon");
        QTest::addColumn<double>("lat");
        QTest::addColumn<double>("easting");
        QTest::addColumn<double>("northing");
        int count = 0;
        for (const Row& row : test::readTable("crs/projections.csv")) {
            if (!methodNamed(row.at("method"))) continue;
            QTest::addRow("%s #%d", qPrintable(row.at("epsg")), ++count)
                << row.at("epsg") << number(row, "lon_deg") << number(row, "lat_deg")
                << number(row, "easting") << number(row, "northing");
        }
        QVERIFY(count > 150);
    }
    void agreesWithThePublishedTable() {
        QFETCH(QString, epsg);
        QFETCH(double, lon);
        QFETCH(double, lat);
        QFETCH(double, easting);
        QFETCH(double, northing);
        const CrsPtr crs = m_crs.at(epsg);
        const auto way = Transformation::between(std::make_shared<Crs>(geographicOf(*crs)), crs);
        QVERIFY(way.has_value());
        const Point p = way->forward(Point{lon, lat});
        // 1e-6 m, and what a double can hold of coordinates of this size.
        const double tolerance =
            1e-6 / crs->unit.size + 4e-15 * std::max(std::abs(easting), std::abs(northing));
        QVERIFY2(std::abs(p.x - easting) <= tolerance && std::abs(p.y - northing) <= tolerance,
                 qPrintable(QString("off by %1, %2").arg(p.x - easting).arg(p.y - northing)));
        if (std::abs(lat) < 89.9) {
            const Point back = way->inverse(Point{easting, northing});
            QVERIFY2(
                std::abs(std::remainder(back.x - lon, 360)) * std::cos(lat * kRadiansPerDegree) <
                        1.5e-11 &&
                    std::abs(back.y - lat) < 1.5e-11,
                qPrintable(QString("inverse off by %1, %2").arg(back.x - lon).arg(back.y - lat)));
        }
    }

    void tellsScaleAndConvergenceOfTheTable() {
        int checked = 0;
        for (const Row& row : test::readTable("crs/projections.csv")) {
            if (row.at("method") != "Transverse Mercator" ||
                row.at("grid_convergence_deg").isEmpty())
                continue;
            if (std::abs(number(row, "lat_deg")) > 80) continue;
            const CrsPtr crs = m_crs.at(row.at("epsg"));
            const Point at{number(row, "easting"), number(row, "northing")};
            const double convergence = gridConvergence(crs, at);
            QVERIFY2(std::abs(convergence - number(row, "grid_convergence_deg")) < 1e-6,
                     qPrintable(row.at("epsg")));
            const Point ground = groundUnits(crs, at);
            QVERIFY(std::abs(crs->unit.size / ground.y - number(row, "scale_h_meridian")) < 1e-6);
            ++checked;
        }
        QVERIFY(checked > 20);
    }

    void comesBackFromEverywhereInTheDomain_data() {
        QTest::addColumn<int>("code");
        for (const int code : {32629, 32733, 3857, 3395, 3994, 3034, 25829})
            QTest::newRow(qPrintable(QString::number(code))) << code;
    }
    void comesBackFromEverywhereInTheDomain() {
        QFETCH(int, code);
        const CrsPtr crs = *crsFromCode(code);
        const auto way = Transformation::between(std::make_shared<Crs>(geographicOf(*crs)), crs);
        for (int lat = -78; lat <= 78; lat += 6)
            for (int dLon = -36; dLon <= 36; dLon += 6) {
                const Point p{std::remainder(crs->parameters.centralMeridian + dLon, 360.0),
                              double(lat)};
                const Point back = way->inverse(way->forward(p));
                QVERIFY2(distance(p, back) < 1e-11, qPrintable(QString("%1 %2").arg(p.x).arg(p.y)));
            }
    }

    void givesNoPositionOutsideTheDomain() {
        const auto way = Transformation::between(*crsFromCode(4326), *crsFromCode(32629));
        std::array<Point, 3> points{Point{100, 0}, Point{-9, 60}, Point{-9, 95}};
        way->forward(points);
        QVERIFY(!points[0].isFinite());
        QVERIFY(points[1].isFinite());
        QVERIFY(!points[2].isFinite());
        const auto cone = Transformation::between(*crsFromCode(4326), *crsFromCode(3034));
        QVERIFY(!cone->forward(Point{10, -90}).isFinite());
        QVERIFY(!cone->inverse(Point{kNaN, 0}).isFinite());
    }

    void refusesImpossibleParameters_data() {
        QTest::addColumn<int>("method");
        QTest::addColumn<double>("lat0");
        QTest::addColumn<double>("sp1");
        QTest::addColumn<double>("sp2");
        QTest::addColumn<double>("scale");
        QTest::newRow("opposite parallels")
            << int(Method::LambertConformalConic2SP) << 0.0 << 40.0 << -40.0 << 1.0;
        QTest::newRow("parallel at the pole")
            << int(Method::LambertConformalConic2SP) << 0.0 << 90.0 << 40.0 << 1.0;
        QTest::newRow("cone at the equator")
            << int(Method::LambertConformalConic1SP) << 0.0 << 0.0 << 0.0 << 1.0;
        QTest::newRow("no scale") << int(Method::TransverseMercator) << 0.0 << 0.0 << 0.0 << 0.0;
        QTest::newRow("not a number") << int(Method::MercatorA) << 0.0 << 0.0 << 0.0 << kNaN;
        QTest::newRow("latitude beyond the pole")
            << int(Method::TransverseMercator) << 91.0 << 0.0 << 0.0 << 1.0;
    }
    void refusesImpossibleParameters() {
        QFETCH(int, method);
        QFETCH(double, lat0);
        QFETCH(double, sp1);
        QFETCH(double, sp2);
        QFETCH(double, scale);
        const auto made =
            makeProjection(static_cast<Method>(method), {lat0, 0, scale, sp1, sp2, 0, 0}, {});
        QVERIFY(!made);
        QCOMPARE(made.error().code, ErrorCode::InvalidArgument);
        QVERIFY(!made.error().why.empty());
    }

    void convertsGeocentricCoordinates() {
        for (const Row& row : test::readTable("crs/geocentric.csv")) {
            const Ellipsoid e{"", number(row, "a_m"), number(row, "inverse_flattening")};
            const double lon = number(row, "lon_deg"), lat = number(row, "lat_deg"),
                         h = number(row, "h_m");
            const Geocentric g = toGeocentric(e, lon, lat, h);
            const double size = 1e-8 + 1e-15 * std::abs(h);
            QVERIFY(std::abs(g.x - number(row, "X_m")) < size &&
                    std::abs(g.y - number(row, "Y_m")) < size &&
                    std::abs(g.z - number(row, "Z_m")) < size);
            if (h < -1e5 || h > 1e7) continue;
            const GeodeticPosition back =
                fromGeocentric(e, {number(row, "X_m"), number(row, "Y_m"), number(row, "Z_m")});
            QVERIFY2(std::abs(back.lat - lat) < 1e-11 && std::abs(back.height - h) < 1e-7,
                     qPrintable(row.at("lat_deg")));
        }
    }

    void shiftsDatumsAsTheTableSays() {
        int checked = 0;
        for (const Row& row : test::readTable("crs/helmert.csv")) {
            const QString method = row.at("method");
            if (method != "geocentric translation" && method != "position vector" &&
                method != "coordinate frame")
                continue;
            const double sign = method == "coordinate frame" ? -1 : 1;
            const Helmert h{number(row, "dx"),        number(row, "dy"),
                            number(row, "dz"),        sign * number(row, "rx"),
                            sign * number(row, "ry"), sign * number(row, "rz"),
                            number(row, "ds_ppm")};
            const Geocentric from{number(row, "X1_m"), number(row, "Y1_m"), number(row, "Z1_m")};
            const Geocentric to = h.forward(from);
            QVERIFY(std::abs(to.x - number(row, "X2_m")) < 2e-8 &&
                    std::abs(to.y - number(row, "Y2_m")) < 2e-8 &&
                    std::abs(to.z - number(row, "Z2_m")) < 2e-8);
            const Geocentric back = h.inverse(to);
            QVERIFY(std::abs(back.x - from.x) + std::abs(back.y - from.y) +
                        std::abs(back.z - from.z) <
                    1e-8);
            ++checked;
        }
        QVERIFY(checked > 10);
    }

    void knowsTheMeridianArc() {
        for (const Row& row : test::readTable("crs/ellipsoid-constants.csv")) {
            const MeridianArc arc({"", number(row, "a_m"), number(row, "inverse_flattening")});
            QVERIFY(std::abs(arc.radius - number(row, "rectifying_radius_m")) < 1e-8);
        }
    }
};

QTEST_APPLESS_MAIN(ProjectionTest)
#include "projection_test.moc"
