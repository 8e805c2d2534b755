#include "core/terrain/derived_raster.h"

#include <QTest>

#include "core/base/random.h"
#include "core/crs/transformation.h"

using namespace ledge;
using namespace ledge::terrain;

namespace {
RasterPtr roughDem(int code, double cell) {
    Random random(3);
    RasterInfo info;
    info.crs = *crs::crsFromCode(code);
    info.toWorld = {cell, 0,     code == 4326 ? -10.0 : 500000.0,
                    0,    -cell, code == 4326 ? 61.0 : 6800000.0};
    Grid<float> z(130, 170);
    for (std::size_t r = 0; r < z.rows(); ++r)
        for (std::size_t c = 0; c < z.cols(); ++c)
            z(r, c) = random.below(300) == 0
                          ? std::numeric_limits<float>::quiet_NaN()
                          : float(60 * std::sin(double(r) / 9) * std::cos(double(c) / 13) +
                                  random.between(0, 4));
    return std::make_shared<MemoryRaster>(info, std::move(z));
}
}  // namespace

class DerivedRasterTest : public QObject {
    Q_OBJECT

private slots:
    void isTheSameForAnyWindow_data() {
        QTest::addColumn<int>("kind");
        QTest::addColumn<int>("code");
        for (int kind = 0; kind < 4; ++kind)
            for (const int code : {32629, 4326})
                QTest::addRow("%d in %d", kind, code) << kind << code;
    }
    void isTheSameForAnyWindow() {
        QFETCH(int, kind);
        QFETCH(int, code);
        const Surface surface{roughDem(code, code == 4326 ? 0.0002 : 10), 1, GradientMethod::Horn};
        const RasterPtr made = kind == 0   ? slopeRaster(surface, SlopeUnit::Percent)
                               : kind == 1 ? aspectRaster(surface)
                               : kind == 2 ? hillshadeRaster(surface, {{315, 45}, {20, 30}})
                                           : hillshadeRaster(surface, {{300, 12}}, 140);
        Grid<float> whole(130, 170);
        QVERIFY(made->read(0, made->info().whole(), whole.view()).has_value());
        int dark = 0;
        for (const float v : whole.cells()) dark += v == 1.0F ? 1 : 0;
        if (kind == 3) QVERIFY(dark > 500);
        Random random(7);
        for (int pass = 0; pass < 40; ++pass) {
            CellWindow w{random.below(170), random.below(130), 0, 0};
            w.cols = 1 + random.below(int(170 - w.col)),
            w.rows = 1 + random.below(int(130 - w.row));
            Grid<float> part(std::size_t(w.rows), std::size_t(w.cols));
            QVERIFY(made->read(0, w, part.view()).has_value());
            for (std::size_t r = 0; r < part.rows(); ++r)
                for (std::size_t c = 0; c < part.cols(); ++c) {
                    const float a = part(r, c);
                    const float b = whole(std::size_t(w.row) + r, std::size_t(w.col) + c);
                    QVERIFY(std::isnan(a) ? std::isnan(b) : a == b);
                }
        }
    }

    // The same ground stored turned or mirrored looks the same and faces the same way.
    void doesNotCareHowTheGridLies_data() {
        QTest::addColumn<QList<double>>(
            "toBase");  // from cells of the stored grid to the plain one
        QTest::addColumn<bool>("swapsSides");
        const double w = 170, h = 130;
        QTest::newRow("quarter turn") << QList<double>{0, 1, 0, -1, 0, h} << true;
        QTest::newRow("half turn") << QList<double>{-1, 0, w, 0, -1, h} << false;
        QTest::newRow("three quarters") << QList<double>{0, -1, w, 1, 0, 0} << true;
        QTest::newRow("rows run north") << QList<double>{1, 0, 0, 0, -1, h} << false;
        QTest::newRow("columns run west") << QList<double>{-1, 0, w, 0, 1, 0} << false;
        QTest::newRow("transposed") << QList<double>{0, 1, 0, 1, 0, 0} << true;
    }
    void doesNotCareHowTheGridLies() {
        QFETCH(QList<double>, toBase);
        QFETCH(bool, swapsSides);
        const RasterPtr plain = roughDem(32629, 10);
        const Affine way{toBase[0], toBase[1], toBase[2], toBase[3], toBase[4], toBase[5]};
        const auto baseCell = [&](std::size_t r, std::size_t c) {
            const Point p = way({double(c) + 0.5, double(r) + 0.5});
            return std::pair(std::size_t(p.y), std::size_t(p.x));
        };
        Grid<float> z(130, 170);
        QVERIFY(plain->read(0, plain->info().whole(), z.view()));
        Grid<float> stored(swapsSides ? 170 : 130, swapsSides ? 130 : 170);
        for (std::size_t r = 0; r < stored.rows(); ++r)
            for (std::size_t c = 0; c < stored.cols(); ++c) {
                const auto [row, col] = baseCell(r, c);
                stored(r, c) = z(row, col);
            }
        RasterInfo info;
        info.crs = plain->info().crs;
        info.toWorld = plain->info().toWorld.after(way);
        const RasterPtr turned = std::make_shared<MemoryRaster>(info, std::move(stored));
        const auto made = [](const RasterPtr& dem, int kind) {
            const Surface surface{dem, 1, GradientMethod::Horn};
            return kind == 0   ? slopeRaster(surface, SlopeUnit::Degrees)
                   : kind == 1 ? aspectRaster(surface)
                   : kind == 2 ? hillshadeRaster(surface, {{300, 40}, {20, 30}})
                               : hillshadeRaster(surface, {{300, 15}}, 140);
        };
        for (int kind = 0; kind < 4; ++kind) {
            Grid<float> one(130, 170),
                other(std::size_t(turned->info().height), std::size_t(turned->info().width));
            QVERIFY(made(plain, kind)->read(0, plain->info().whole(), one.view()));
            QVERIFY(made(turned, kind)->read(0, turned->info().whole(), other.view()));
            int apart = 0;
            for (std::size_t r = 0; r < other.rows(); ++r)
                for (std::size_t c = 0; c < other.cols(); ++c) {
                    const auto [row, col] = baseCell(r, c);
                    const double a = double(one(row, col)), b = double(other(r, c));
                    if (std::isnan(a) && std::isnan(b)) continue;
                    const double away =
                        kind == 1 ? std::abs(std::remainder(a - b, 360)) : std::abs(a - b);
                    // Shadow edges may fall on either side of a cell.
                    if (!(away <= (kind < 2 ? 0.02 : 1.01))) ++apart;
                }
            QVERIFY2(apart <= (kind == 3 ? 60 : 0),
                     qPrintable(QString("%1: %2").arg(kind).arg(apart)));
        }
    }

    void facesDownhillOnATurnedGrid() {
        const double turn = 37 * M_PI / 180;
        RasterInfo info;
        info.crs = *crs::crsFromCode(32629);
        info.toWorld = {10 * std::cos(turn), 10 * std::sin(turn),  500000,
                        10 * std::sin(turn), -10 * std::cos(turn), 6800000};
        Grid<float> z(20, 20);
        for (std::size_t r = 0; r < 20; ++r)
            for (std::size_t c = 0; c < 20; ++c) {
                const Point p = info.toWorld({double(c) + 0.5, double(r) + 0.5});
                z(r, c) = static_cast<float>(0.3 * (p.x - 500000) + 0.4 * (p.y - 6800000));
            }
        const Surface surface{std::make_shared<MemoryRaster>(info, std::move(z)), 1,
                              GradientMethod::Horn};
        Grid<float> facing(20, 20), steep(20, 20);
        QVERIFY(aspectRaster(surface)->read(0, {0, 0, 20, 20}, facing.view()));
        QVERIFY(slopeRaster(surface, SlopeUnit::Percent)->read(0, {0, 0, 20, 20}, steep.view()));
        const double downhill = 180 + std::atan2(0.3, 0.4) * 180 / M_PI;
        for (std::size_t i = 0; i < 400; ++i) {
            QVERIFY(std::abs(double(facing.cells()[i]) - downhill) < 0.01);
            // On its central meridian the zone draws the ground 0.9996 as large.
            QVERIFY(std::abs(double(steep.cells()[i]) - 50 * 0.9996) < 0.001);
        }
    }

    /// A plane over the ground, rising to the east by 0.4, drawn in several CRSs: slopes are the
    /// ground's and aspects count from true north, whatever the projection does.
    void knowsTheGroundInEveryCrs_data() {
        QTest::addColumn<QString>("crs");
        QTest::addColumn<double>("lon");
        QTest::addColumn<double>("lat");
        QTest::newRow("web Mercator at 60") << "EPSG:3857" << 10.0 << 60.0;
        QTest::newRow("degrees") << "EPSG:4326" << 10.0 << 60.0;
        QTest::newRow("UTM off its meridian") << "EPSG:32629" << -4.0 << 60.0;
        QTest::newRow("converging by 70 degrees") << "EPSG:3413" << 25.0 << 75.0;
        QTest::newRow("upside down") << "EPSG:3031" << 175.0 << -70.0;
        QTest::newRow("equal-area") << "EPSG:3035" << 45.0 << 60.0;
        QTest::newRow("sheared") << "world:sinusoidal" << 60.0 << 50.0;
        QTest::newRow("Robinson") << "world:robinson" << -90.0 << 50.0;
        QTest::newRow("US survey feet") << "EPSG:2263" << -73.9 << 40.7;
        QTest::newRow("westings and southings") << "EPSG:2053" << 29.5 << -28.0;
    }
    void knowsTheGroundInEveryCrs() {
        QFETCH(QString, crs);
        QFETCH(double, lon);
        QFETCH(double, lat);
        constexpr std::size_t kCells = 60;
        const auto c = *crs::parseCrs(crs.toStdString());
        auto greenwich = crs::geographicBase(*c);
        greenwich.primeMeridian = 0, greenwich.code = 0;
        const auto base = std::make_shared<crs::Crs>(greenwich);
        const auto way = crs::Transformation::between(base, c);
        const Point middle = way->forward(Point{lon, lat});
        // 30 m a cell, or as many degrees.
        const double cell = c->isGeographic() ? 30 / 111000.0 : 30 / c->unit.size;
        RasterInfo info;
        info.crs = c;
        info.toWorld = {cell, 0,     middle.x - cell * kCells / 2,
                        0,    -cell, middle.y + cell * kCells / 2};
        const Point degree = crs::metresPerDegree(c->ellipsoid, lat);
        for (const double towards : {0.0, 90.0, 215.0}) {
            const double rise = 0.4, east = std::sin(towards * M_PI / 180),
                         north = std::cos(towards * M_PI / 180);
            Grid<float> z(kCells, kCells);
            for (std::size_t r = 0; r < kCells; ++r)
                for (std::size_t k = 0; k < kCells; ++k) {
                    const Point at = way->inverse(info.toWorld({double(k) + 0.5, double(r) + 0.5}));
                    z(r, k) = static_cast<float>(
                        rise * (east * (at.x - lon) * degree.x + north * (at.y - lat) * degree.y));
                }
            const Surface surface{std::make_shared<MemoryRaster>(info, std::move(z)), 1,
                                  GradientMethod::Horn};
            Grid<float> steep(kCells, kCells), facing(kCells, kCells);
            const CellWindow all{0, 0, kCells, kCells};
            QVERIFY(slopeRaster(surface, SlopeUnit::Degrees)->read(0, all, steep.view()));
            QVERIFY(aspectRaster(surface)->read(0, all, facing.view()));
            // In the middle, where the plane over degrees is one over metres.
            for (const std::size_t i : {29u, 30u}) {
                const double slope = std::atan(rise) * 180 / M_PI;  // 21.8 degrees
                QVERIFY2(std::abs(double(steep(i, i)) - slope) < 0.01,
                         qPrintable(QString::number(steep(i, i))));
                const double downhill = std::remainder(towards + 180, 360);
                QVERIFY2(std::abs(std::remainder(double(facing(i, i)) - downhill, 360)) < 0.05,
                         qPrintable(QString("%1: %2").arg(towards).arg(facing(i, i))));
            }
        }
    }

    /// A derivative of a derivative: the inner one may not write over what the outer one reads.
    void derivesFromADerivative() {
        const RasterPtr rough = roughDem(32629, 10);
        const RasterPtr inner = slopeRaster({rough}, SlopeUnit::Percent);
        Grid<float> held(130, 170);
        QVERIFY(inner->read(0, inner->info().whole(), held.view()));
        const RasterPtr stored = std::make_shared<MemoryRaster>(rough->info(), std::move(held));
        Grid<float> live(130, 170), written(130, 170);
        QVERIFY(
            slopeRaster({inner}, SlopeUnit::Degrees)->read(0, inner->info().whole(), live.view()));
        QVERIFY(slopeRaster({stored}, SlopeUnit::Degrees)
                    ->read(0, inner->info().whole(), written.view()));
        for (std::size_t i = 0; i < live.cells().size(); ++i) {
            const float a = live.cells()[i], b = written.cells()[i];
            QVERIFY(std::isnan(a) ? std::isnan(b) : a == b);
        }
    }

    void shadowsOnlyDarken() {
        const Surface surface{roughDem(32629, 10)};
        const auto plain = hillshadeRaster(surface, {{315, 20}});
        const auto shadowed = hillshadeRaster(surface, {{315, 20}}, 140);
        Grid<float> a(130, 170), b(130, 170);
        QVERIFY(plain->read(0, plain->info().whole(), a.view()).has_value());
        QVERIFY(shadowed->read(0, shadowed->info().whole(), b.view()).has_value());
        int darker = 0;
        for (std::size_t i = 0; i < a.cells().size(); ++i) {
            if (std::isnan(a.cells()[i])) continue;
            QVERIFY(b.cells()[i] <= a.cells()[i]);
            darker += b.cells()[i] < a.cells()[i] ? 1 : 0;
        }
        QVERIFY(darker > 300);
    }
};

QTEST_APPLESS_MAIN(DerivedRasterTest)
#include "derived_raster_test.moc"
