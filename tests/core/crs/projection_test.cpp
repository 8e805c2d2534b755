#include <QTest>

#include "core/crs/catalogue.h"
#include "core/crs/method_table.h"
#include "core/crs/transformation.h"
#include "core/crs/wkt.h"
#include "support/reference_table.h"

using namespace ledge;
using namespace ledge::crs;
using ledge::test::number;
using ledge::test::Row;

namespace {

// A CRS built from a row of the parameter table.
CrsPtr crsOf(const Row& row) {
    Crs crs;
    crs.name = row.at("name").toStdString();
    crs.geographicCode = 0;
    crs.datumName = "of the table";
    crs.ellipsoid = {row.at("ellipsoid").toStdString(), number(row, "a_m"),
                     number(row, "inverse_flattening")};
    crs.primeMeridian = number(row, "prime_meridian_deg");
    crs.unit = {row.at("unit").toStdString(), number(row, "unit_to_m")};
    std::vector<std::string> names;
    std::vector<std::pair<double ProjectionParameters::*, double>> values;
    for (const QString& pair : row.at("parameters").split(';')) {
        names.push_back(normalisedName(pair.section('=', 0, 0).toStdString()));
        values.emplace_back(fieldFromName(names.back()), pair.section('=', 1).toDouble());
        if (!values.back().first) qFatal("no field for %s", qPrintable(pair));
    }
    const auto done = setProjection(crs, row.at("method").toStdString(), names, values);
    if (!done) qFatal("%s", done.error().text().c_str());
    crs.isWestward = row.at("axes").startsWith("west");
    crs.isSouthward = row.at("axes").endsWith("south");
    return std::make_shared<Crs>(crs);
}

Crs geographicOf(const Crs& crs) {
    Crs base = crs;
    base.method = Method::None;
    base.primeMeridian = 0;
    base.code = 0;
    base.unit = {};
    base.isWestward = base.isSouthward = false;
    return base;
}

Method exampleMethod(const QString& example) {
    const std::vector<std::pair<const char*, Method>> starts{
        {"Lambert Conic Conformal (2SP Michigan)", Method::LambertConformalConicMichigan},
        {"Lambert Conic Conformal (2SP Belgium)", Method::LambertConformalConicBelgium},
        {"Lambert Conic Conformal (2SP)", Method::LambertConformalConic2SP},
        {"Lambert Conic Conformal (1SP)", Method::LambertConformalConic1SP},
        {"Lambert Conic Conformal (West", Method::LambertConformalConicWest},
        {"Transverse Mercator (South", Method::TransverseMercatorSouth},
        {"Transverse Mercator", Method::TransverseMercator},
        {"Mercator (variant A)", Method::MercatorA},
        {"Mercator (variant B)", Method::MercatorB},
        {"Popular", Method::WebMercator},
        {"Cassini", Method::CassiniSoldner},
        {"Oblique Stereographic (single", Method::None},  // another method than ours
        {"Oblique Stereographic", Method::ObliqueStereographic},
        {"Polar Stereographic (variant A)", Method::PolarStereographicA},
        {"Polar Stereographic (variant B)", Method::PolarStereographicB},
        {"Polar Stereographic (variant C)", Method::PolarStereographicC},
        {"Hotine Oblique Mercator (variant A)", Method::HotineObliqueMercatorA},
        {"Hotine Oblique Mercator (variant B)", Method::HotineObliqueMercatorB},
        {"Lambert Azimuthal", Method::LambertAzimuthalEqualArea},
        {"Krovak", Method::Krovak},
        {"New Zealand", Method::NewZealandMapGrid},
        {"Polyconic", Method::AmericanPolyconic},
        {"Lambert Conformal Conic", Method::LambertConformalConic2SP},
        {"Equidistant Conic", Method::EquidistantConic},
        {"Equidistant Cylindrical", Method::EquidistantCylindrical},
        {"Miller", Method::Miller},
        {"Eckert IV", Method::Eckert4},
        {"Eckert VI", Method::Eckert6},
        {"Sinusoidal", Method::Sinusoidal},
        {"Azimuthal Equidistant", Method::AzimuthalEquidistant},
        {"Orthographic", Method::Orthographic},
        {"Albers", Method::AlbersEqualArea},
        {"Bonne", Method::Bonne}};
    for (const auto& [start, method] : starts)
        if (example.startsWith(start)) return method;
    return Method::None;
}

}  // namespace

class ProjectionTest : public QObject {
    Q_OBJECT

private:
    std::map<QString, CrsPtr> m_crs;

private slots:
    void initTestCase() {
        for (const Row& row : test::readTable("crs/crs-parameters.csv"))
            m_crs[row.at("epsg")] = crsOf(row);
        QCOMPARE(m_crs.size(), std::size_t{66});
    }

    void agreesWithThePublishedTable_data() {
        QTest::addColumn<QString>("epsg");
        QTest::addColumn<double>("lon");
        QTest::addColumn<double>("lat");
        QTest::addColumn<double>("easting");
        QTest::addColumn<double>("northing");
        int count = 0;
        for (const Row& row : test::readTable("crs/projections.csv")) {
            QTest::addRow("%s #%d", qPrintable(row.at("epsg")), ++count)
                << row.at("epsg") << number(row, "lon_deg") << number(row, "lat_deg")
                << number(row, "easting") << number(row, "northing");
        }
        QVERIFY(count > 780);
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
        const bool isSeries = crs->method == Method::CassiniSoldner;  // see the table's notes
        const double tolerance = (isSeries ? 1e-4 : 1e-6) / crs->unit.size +
                                 4e-15 * std::max(std::abs(easting), std::abs(northing));
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

    /// The same rows by the door that users take: the code, and its own geographic CRS.
    void holdsTheTableByCode_data() {
        QTest::addColumn<int>("code");
        QTest::addColumn<double>("lon");
        QTest::addColumn<double>("lat");
        QTest::addColumn<double>("easting");
        QTest::addColumn<double>("northing");
        int count = 0;
        for (const Row& row : test::readTable("crs/projections.csv")) {
            const int code = row.at("epsg").toInt();
            if (code >= 32768) continue;
            QTest::addRow("EPSG:%d #%d", code, ++count)
                << code << number(row, "lon_deg") << number(row, "lat_deg")
                << number(row, "easting") << number(row, "northing");
        }
        QVERIFY(count > 500);
    }
    void holdsTheTableByCode() {
        QFETCH(int, code);
        QFETCH(double, lon);
        QFETCH(double, lat);
        QFETCH(double, easting);
        QFETCH(double, northing);
        const auto crs = parseCrs("EPSG:" + std::to_string(code));
        QVERIFY2(crs.has_value(), crs ? "" : crs.error().text().c_str());
        const auto base = crsFromCode((*crs)->geographicCode);
        QVERIFY(base.has_value());
        const auto way = Transformation::between(*base, *crs);
        QVERIFY(way->datumPath().isSameDatum);
        // Longitudes of the table count from Greenwich, those of the CRS from its own meridian.
        const Point p = way->forward(Point{lon - (*base)->primeMeridian, lat});
        const bool isSeries = (*crs)->method == Method::CassiniSoldner;
        const double tolerance = (isSeries ? 1e-4 : 1e-6) / (*crs)->unit.size +
                                 4e-15 * std::max(std::abs(easting), std::abs(northing));
        QVERIFY2(std::abs(p.x - easting) <= tolerance && std::abs(p.y - northing) <= tolerance,
                 qPrintable(QString("off by %1, %2").arg(p.x - easting).arg(p.y - northing)));
    }

    void tellsScaleAndConvergenceOfTheTable() {
        int checked = 0;
        for (const Row& row : test::readTable("crs/projections.csv")) {
            if (row.at("grid_convergence_deg").isEmpty() || row.at("scale_k_parallel").isEmpty())
                continue;
            // Differences reach over a pole or an edge of the map there.
            if (std::abs(number(row, "lat_deg")) > 89.5) continue;
            const CrsPtr crs = m_crs.at(row.at("epsg"));
            const double away = std::abs(
                longitudeDifference(number(row, "lon_deg"), crs->parameters.centralMeridian));
            if (away > 179.9) continue;
            const Distortion d =
                distortionAt(*crs, {number(row, "lon_deg"), number(row, "lat_deg")});
            const double k = number(row, "scale_k_parallel"), h = number(row, "scale_h_meridian");
            const QString where =
                row.at("epsg") + " " + row.at("lon_deg") + " " + row.at("lat_deg");
            if (!std::isfinite(d.alongParallel)) continue;  // at the edge of the domain
            QVERIFY2(std::abs(d.alongParallel - k) < 2e-7 * std::max(1.0, k * k),
                     qPrintable(where + QString(" k %1").arg(d.alongParallel - k)));
            QVERIFY2(std::abs(d.alongMeridian - h) < 2e-7 * std::max(1.0, h * h),
                     qPrintable(where + QString(" h %1").arg(d.alongMeridian - h)));
            const double off =
                std::remainder(d.convergence - number(row, "grid_convergence_deg"), 360.0);
            QVERIFY2(std::abs(off) < 1e-5, qPrintable(where + QString(" c %1").arg(off)));
            ++checked;
        }
        QVERIFY2(checked > 500, qPrintable(QString::number(checked)));
    }

    void reproducesTheWorkedExamples() {
        // Inputs and results are key=value lists; those with a projection's result are read here.
        int checked = 0;
        const std::map<QString, double ProjectionParameters::*> fields{
            {"lat0", &ProjectionParameters::latitudeOfOrigin},
            {"lon0", &ProjectionParameters::centralMeridian},
            {"sp1", &ProjectionParameters::standardParallel1},
            {"sp2", &ProjectionParameters::standardParallel2},
            {"k0", &ProjectionParameters::scaleFactor},
            {"azimuth", &ProjectionParameters::azimuth},
            {"rect", &ProjectionParameters::rectifiedGridAngle},
            {"psp", &ProjectionParameters::pseudoParallel},
            {"FE", &ProjectionParameters::falseEasting},
            {"FN", &ProjectionParameters::falseNorthing}};
        for (const Row& row : test::readTable("crs/worked-examples.csv")) {
            std::map<QString, double> in, out;
            for (const QString& pair : row.at("inputs").split(' '))
                in[pair.section('=', 0, 0)] = pair.section('=', 1).toDouble();
            for (const QString& pair : row.at("outputs_computed").split(' '))
                out[pair.section('=', 0, 0)] = pair.section('=', 1).toDouble();
            const Method method = exampleMethod(row.at("example"));
            if (method == Method::None || !in.contains("lon") || !in.contains("lat")) continue;
            ProjectionParameters p;
            const double unit = in.contains("unit_m") ? in.at("unit_m") : 1;
            for (const auto& [key, field] : fields)
                if (in.contains(key)) p.*field = in.at(key);
            p.falseEasting *= unit, p.falseNorthing *= unit;
            if (method == Method::MercatorB || method == Method::PolarStereographicB ||
                method == Method::PolarStereographicC || method == Method::Bonne)
                if (!in.contains("sp1")) p.standardParallel1 = p.latitudeOfOrigin;
            const auto projection = makeProjection(method, p, {"", in.at("a"), in.at("rf")});
            QVERIFY2(projection.has_value(), qPrintable(row.at("example")));
            Point at{in.at("lon"), in.at("lat")};
            (*projection)->forward(std::span(&at, 1));
            const char* east = out.contains("E") ? "E" : "x";
            const char* north = out.contains("N") ? "N" : "y";
            QVERIFY2(out.contains(east) && out.contains(north), qPrintable(row.at("example")));
            const double tolerance = method == Method::CassiniSoldner ? 1e-4 : 2e-6;
            QVERIFY2(std::abs(at.x / unit - out.at(east)) < tolerance / unit &&
                         std::abs(at.y / unit - out.at(north)) < tolerance / unit,
                     qPrintable(row.at("example") + QString(" %1 %2")
                                                        .arg(at.x / unit - out.at(east))
                                                        .arg(at.y / unit - out.at(north))));
            ++checked;
        }
        QVERIFY2(checked >= 28, qPrintable(QString::number(checked)));
    }

    void comesBackFromWorldMaps_data() {
        QTest::addColumn<int>("method");
        for (const MethodInfo& info : methods())
            if (info.method >= Method::Mollweide) QTest::newRow(info.name) << int(info.method);
    }
    void comesBackFromWorldMaps() {
        QFETCH(int, method);
        ProjectionParameters p;
        p.centralMeridian = 11;
        p.standardParallel1 = 50;
        const auto projection = makeProjection(static_cast<Method>(method), p, {});
        for (int lat = -85; lat <= 85; lat += 5)
            for (int lon = -165; lon <= 165; lon += 15) {
                const Point from{std::remainder(lon + 11.0, 360.0), double(lat)};
                Point at = from;
                (*projection)->forward(std::span(&at, 1));
                QVERIFY2(at.isFinite(), qPrintable(QString("%1 %2").arg(lon).arg(lat)));
                (*projection)->inverse(std::span(&at, 1));
                QVERIFY2(distance(at, from) < 1e-9,
                         qPrintable(QString("%1 %2: %3 %4").arg(lon).arg(lat).arg(at.x).arg(at.y)));
            }
        // The edge of the map and beyond: a position or nothing, never a wrong one.
        for (double x = -2.2e7; x < 2.2e7; x += 1.7e6)
            for (double y = -2.2e7; y < 2.2e7; y += 1.7e6) {
                Point at{x, y};
                (*projection)->inverse(std::span(&at, 1));
                if (!at.isFinite()) continue;
                (*projection)->forward(std::span(&at, 1));
                QVERIFY2(!at.isFinite() || distance(at, {x, y}) < 0.01,
                         qPrintable(QString("%1 %2: %3 %4").arg(x).arg(y).arg(at.x).arg(at.y)));
            }
    }

    void keepsAreasAndAngles_data() {
        QTest::addColumn<int>("method");
        for (const MethodInfo& info : methods())
            if (info.isConformal || info.isEqualArea) QTest::newRow(info.name) << int(info.method);
    }
    void keepsAreasAndAngles() {
        QFETCH(int, method);
        const MethodInfo* info = methodInfo(static_cast<Method>(method));
        // World maps of the sphere keep areas there; the others on the ellipsoid too.
        const bool isOfSphere =
            info->method >= Method::Mollweide && info->method != Method::EqualEarth;
        Crs crs;
        crs.method = info->method;
        if (isOfSphere) crs.ellipsoid = {"sphere", 6371000, 0};
        ProjectionParameters& p = crs.parameters;
        p.latitudeOfOrigin = info->method == Method::PolarStereographicA ? 90 : 47;
        if (info->method == Method::NewZealandMapGrid) {
            p.latitudeOfOrigin = -41;
            crs.ellipsoid = {"International 1924", 6378388, 297};
        }
        p.standardParallel1 = 44, p.standardParallel2 = 52;
        p.azimuth = p.rectifiedGridAngle = 35;
        p.pseudoParallel = 78.5;
        p.latitude1 = 44, p.longitude1 = -3, p.latitude2 = 50, p.longitude2 = 4;
        if (info->method == Method::Krovak) p.azimuth = 30;
        double areal = kNaN;
        for (const double lon : {-2.0, 1.0, 4.0})
            for (const double dLat : {-3.0, 0.0, 4.0}) {
                const double lat = (info->method == Method::NewZealandMapGrid ? -41 : 47) + dLat;
                const Distortion d = distortionAt(crs, {lon, lat});
                QVERIFY2(std::isfinite(d.areal), qPrintable(QString("%1 %2").arg(lon).arg(lat)));
                if (info->isConformal) QVERIFY(std::abs(d.largest / d.smallest - 1) < 2e-6);
                if (!info->isEqualArea) continue;
                if (std::isnan(areal)) areal = d.areal;
                QVERIFY2(std::abs(d.areal - areal) < 2e-7 &&
                             (isOfSphere || std::abs(d.areal - 1) < 2e-7),
                         qPrintable(QString::number(d.areal, 'g', 12)));
            }
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
