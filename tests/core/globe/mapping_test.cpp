#include "core/globe/mapping.h"

#include <QTest>

#include "core/crs/geodesic.h"
#include "core/geometry/measure.h"
#include "support/continents.h"

using namespace ledge;
using namespace ledge::globe;
using namespace ledge::test;

namespace {
void addMethods() {
    QTest::addColumn<int>("method");
    QTest::addColumn<double>("lon");
    QTest::addColumn<double>("lat");
    for (const auto& info : crs::methods())
        for (const auto& [lon, lat] : {std::pair{0.0, 40.0}, {-100.0, 35.0}, {170.0, -40.0}}) {
            QTest::newRow(qPrintable(QString("%1 %2").arg(info.name).arg(lon)))
                << int(info.method) << lon << lat;
        }
}

// Away from the edge, which is drawn within the tolerance only.
bool isWellInside(const Domain& domain, Point p) {
    for (int azimuth = 0; azimuth < 360; azimuth += 45)
        if (!domain.contains(arcFrom(p, azimuth, 0.7))) return false;
    return domain.contains(p);
}

// With a vertex at least each half degree, along the antimeridian and the poles too.
FeatureTable stepped(const FeatureTable& table) {
    const auto out = table.withGeometries([](std::size_t, const GeometryView& g, Geometry& image) {
        image.type = g.type;
        image.isMulti = g.isMulti;
        image.polygons.assign(g.polygons.begin(), g.polygons.end());
        for (std::size_t k = 0; k < g.partCount(); ++k) {
            image.beginPart();
            const auto part = g.part(k);
            for (std::size_t i = 0; i < part.size(); ++i) {
                image.points.push_back(part[i]);
                if (i + 1 == part.size()) break;
                const Point along = part[i + 1] - part[i];
                const int steps =
                    int(std::ceil(2 * std::max(std::abs(along.x), std::abs(along.y))));
                for (int n = 1; n < steps; ++n)
                    image.points.push_back(part[i] + along * (double(n) / steps));
            }
        }
    });
    return *out;
}

const crs::MethodInfo& infoOf(int method) {
    return *crs::methodInfo(static_cast<crs::Method>(method));
}
}  // namespace

/// Features on maps of every method: cut where the map is torn or ends, and nowhere else.
class MappingTest : public QObject {
    Q_OBJECT

private slots:
    // A random place lies in the same lands on the globe and on the map.
    void keepsPlacesInTheirLands_data() { addMethods(); }
    void keepsPlacesInTheirLands() {
        QFETCH(int, method);
        QFETCH(double, lon);
        QFETCH(double, lat);
        const auto to = crsOf(infoOf(method), {lon, lat});
        const Domain domain = domainOf(to);
        const auto way = crs::Transformation::between(*crs::crsFromCode(4326), to);
        QVERIFY2(way.has_value(), way ? "" : way.error().text().c_str());
        // As data come: jumping at 180 degrees, from 0 to 360, and cut there already.
        const auto degrees = *crs::crsFromCode(4326);
        const FeatureTable cut = mapped(worldOf(720), degrees, 1e-3, true)->table;
        for (const FeatureTable& world : {worldOf(720), worldOf(720, true), cut, stepped(cut)}) {
            const auto made = mapped(world, to, 500);
            QVERIFY2(made.has_value(), made ? "" : made.error().text().c_str());
            std::mt19937 random(5);
            int looked = 0;
            for (int n = 0; n < 4000 && looked < 100; ++n) {
                const Point p = randomPlace(random);
                if (!isWellInside(domain, p)) continue;
                const Point at = way->forward(p);
                QVERIFY2(at.isFinite(),
                         qPrintable(QString("%1 %2 has no image").arg(p.x).arg(p.y)));
                ++looked;
                for (std::size_t i = 0; i < lands().size(); ++i) {
                    if (lands()[i].clearance(p) < 0.6) continue;
                    const bool isOn = isInside(made->table.geometry(i), at);
                    QVERIFY2(isOn == lands()[i].holds(p),
                             qPrintable(QString("%1 %2: %3 %4")
                                            .arg(p.x)
                                            .arg(p.y)
                                            .arg(isOn ? "on" : "not on")
                                            .arg(lands()[i].name)));
                }
            }
            QVERIFY(looked > 20);
        }
    }

    // What is cut and drawn with as many points as it needs keeps its area.
    void keepsAreas_data() {
        QTest::addColumn<int>("method");
        QTest::addColumn<double>("lon");
        QTest::addColumn<double>("lat");
        for (const auto& info : crs::methods())
            if (info.isEqualArea)
                for (const double lon : {0.0, 170.0})
                    QTest::newRow(qPrintable(QString("%1 %2").arg(info.name).arg(lon)))
                        << int(info.method) << lon << 40.0;
    }
    void keepsAreas() {
        QFETCH(int, method);
        QFETCH(double, lon);
        QFETCH(double, lat);
        const auto& info = infoOf(method);
        auto to = std::make_shared<crs::Crs>(*crsOf(info, {lon, lat}));
        // Methods of the sphere keep areas of the sphere.
        to->ellipsoid = {"sphere", 6371007, 0};
        to->geographicCode = 0;
        auto sphere = std::make_shared<crs::Crs>(crs::geographicBase(*to));
        FeatureTable world = worldOf(720);
        world.info.crs = sphere;
        const auto made = mapped(world, crs::CrsPtr(to), 0.03);
        QVERIFY2(made.has_value(), made ? "" : made.error().text().c_str());
        for (std::size_t i = 0; i < world.size(); ++i) {
            // Of rings straight in longitude and latitude, exactly: the integral of sin(lat)
            // d(lon).
            const GeometryView g = world.geometry(i);
            double truth = 0;
            for (std::size_t k = 0; k < g.partCount(); ++k) {
                const auto ring = g.part(k);
                double sum = 0, turns = 0, middle = 0;
                for (std::size_t j = 1; j < ring.size(); ++j) {
                    const double d = std::remainder(ring[j].x - ring[j - 1].x, 360.0) * kPi / 180;
                    const double a = ring[j - 1].y * kPi / 180, b = ring[j].y * kPi / 180;
                    const double mean = std::abs(b - a) < 1e-9
                                            ? std::sin((a + b) / 2)
                                            : (std::cos(a) - std::cos(b)) / (b - a);
                    sum += mean * d, turns += d, middle += b;
                }
                // Around a pole the cap is what is left of the half globe.
                const double cap =
                    std::abs(turns) > 1
                        ? 2 * kPi - std::abs(sum) * (middle * sum * turns > 0 ? 1 : -1)
                        : std::abs(sum);
                truth += (k == 0 ? 1 : -1) * cap;
            }
            truth *= 6371007.0 * 6371007.0;
            const double area = planarArea(made->table.geometry(i));
            QVERIFY2(std::abs(area - truth) < 1e-6 * truth,
                     qPrintable(QString("%1: %2 km2, truly %3")
                                    .arg(lands()[i].name)
                                    .arg(area / 1e6)
                                    .arg(truth / 1e6)));
        }
    }

    // Sides stray from their true course by no more than they may.
    void followsTheTrueCourse_data() { addMethods(); }
    void followsTheTrueCourse() {
        QFETCH(int, method);
        QFETCH(double, lon);
        QFETCH(double, lat);
        const auto to = crsOf(infoOf(method), {lon, lat});
        const auto degrees = *crs::crsFromCode(4326);
        const Domain domain = domainOf(to);
        const auto way = crs::Transformation::between(degrees, to);
        std::mt19937 random(11);
        std::uniform_real_distribution<double> size(-1, 1);
        for (const double tolerance : {5000.0, 50.0}) {
            const auto mapper = Mapper::between(degrees, to, tolerance);
            QVERIFY(mapper.has_value());
            int looked = 0;
            for (int n = 0; n < 3000 && looked < 30; ++n) {
                const Point a = randomPlace(random);
                const double length = std::pow(10, 1.5 * size(random));
                const Point b{a.x + length * size(random),
                              std::clamp(a.y + length * size(random), -89.0, 89.0)};
                const Geometry line = Geometry::line({a, b});
                if (!domain.contains(a) || !domain.contains(b)) continue;
                Geometry image;
                std::vector<std::uint8_t> seam;
                Mapper::Scratch scratch;
                const auto outcome = mapper->map(line, image, seam, scratch);
                if (outcome.isCut) continue;
                ++looked;
                QVERIFY(outcome.strayed <= tolerance * 1.0001);
                for (int k = 1; k < 100; ++k) {
                    const Point p = way->forward(a + (b - a) * (k / 100.0));
                    QVERIFY(p.isFinite());
                    const double off = distanceTo(image, p);
                    QVERIFY2(off <= 1.5 * tolerance,
                             qPrintable(QString("%1,%2 to %3,%4 strays by %5 of %6")
                                            .arg(a.x)
                                            .arg(a.y)
                                            .arg(b.x)
                                            .arg(b.y)
                                            .arg(off)
                                            .arg(tolerance)));
                }
            }
            QVERIFY(looked > 5);
        }
    }

    // Cutting what was cut changes nothing but the order of rings.
    void cutsOnce_data() {
        QTest::addColumn<QString>("crs");
        for (const char* crs : {"EPSG:4326", "EPSG:3857", "world:robinson@150", "EPSG:3035"})
            QTest::newRow(crs) << crs;
    }
    void cutsOnce() {
        QFETCH(QString, crs);
        const auto to = *crs::parseCrs(crs.toStdString());
        const auto once = mapped(worldOf(360), to, 1000, true);
        QVERIFY(once.has_value());
        const auto back = mapped(once->table, *crs::crsFromCode(4326), 1e-3, true);
        QVERIFY(back.has_value());
        const auto twice = mapped(back->table, to, 1000, true);
        QVERIFY(twice.has_value());
        for (std::size_t i = 0; i < once->table.size(); ++i) {
            const double a = planarArea(once->table.geometry(i));
            const double b = planarArea(twice->table.geometry(i));
            QVERIFY2(std::abs(a - b) <= 1e-4 * a,
                     qPrintable(QString("%1: %2 and %3").arg(lands()[i].name).arg(a).arg(b)));
        }
    }

    void bearsAnything_data() {
        QTest::addColumn<QString>("crs");
        for (const char* crs :
             {"EPSG:4326", "EPSG:3857", "EPSG:32601", "EPSG:3035", "EPSG:3995", "EPSG:3034",
              "world:homolosine", "world:robinson@150", "EPSG:27200"})
            QTest::newRow(crs) << crs;
    }
    // Rings that cross themselves, turn by many turns, lie beyond the poles, or hold all the earth.
    void bearsAnything() {
        QFETCH(QString, crs);
        const auto to = *crs::parseCrs(crs.toStdString());
        const auto mapper = Mapper::between(*crs::crsFromCode(4326), to, 5000);
        QVERIFY2(mapper.has_value(), mapper ? "" : mapper.error().text().c_str());
        std::mt19937 random(3);
        std::uniform_real_distribution<double> unit(-1, 1);
        Mapper::Scratch scratch;
        for (int n = 0; n < 400; ++n) {
            std::vector<Point> ring;
            const double wide = n % 4 == 0 ? 900 : 190;
            for (int k = 0; k < 3 + n % 9; ++k)
                ring.push_back({std::round(wide * unit(random)) * (n % 3 ? 1 : 10),
                                std::round(99 * unit(random))});
            Geometry image;
            std::vector<std::uint8_t> seam;
            mapper->map(Geometry::polygon({ring}), image, seam, scratch);
            QVERIFY(seam.empty() || seam.size() == image.points.size());
            image = {};
            mapper->map(Geometry::line(ring), image, seam, scratch);
            for (std::size_t k = 0; k < image.partCount(); ++k) QVERIFY(image.part(k).size() > 1);
        }
        // All the earth: what a place inside shows.
        Geometry image;
        std::vector<std::uint8_t> seam;
        mapper->map(Geometry::polygon({{{-180, -90}, {180, -90}, {180, 90}, {-180, 90}}}), image,
                    seam, scratch);
        const auto way = crs::Transformation::between(*crs::crsFromCode(4326), to);
        int looked = 0;
        for (int n = 0; n < 3000 && looked < 40; ++n) {
            const Point p = randomPlace(random);
            if (!mapper->domain().contains(p)) continue;
            ++looked;
            QVERIFY2(isInside(image, way->forward(p)),
                     qPrintable(QString("%1 %2").arg(p.x).arg(p.y)));
        }
    }
};

QTEST_APPLESS_MAIN(MappingTest)
#include "mapping_test.moc"
