#include "core/terrain/cast_shadows.h"

#include <QTest>

#include "core/geometry/point.h"

using namespace ledge;
using namespace ledge::terrain;

namespace {
constexpr double kRadians = 3.14159265358979323846 / 180;

Grid<float> shadowsOf(const Grid<float>& heights, const Light& light, CellSize cell = {10, 10}) {
    Grid<float> out(heights.rows(), heights.cols());
    const std::vector<CellSize> cells(heights.rows(), cell);
    if (!castShadows(heights.view(), 0, 0, cells, 1, light, out.view())) out = {};
    return out;
}
}  // namespace

class CastShadowsTest : public QObject {
    Q_OBJECT

private slots:
    void areAsLongAsTheWallIsHigh_data() {
        QTest::addColumn<double>("azimuth");
        QTest::addColumn<double>("altitude");
        for (const double azimuth : {0.0, 90.0, 180.0, 270.0, 315.0, 45.0, 300.0, 200.0})
            for (const double altitude : {20.0, 45.0, 70.0})
                QTest::addRow("%g/%g", azimuth, altitude) << azimuth << altitude;
    }
    void areAsLongAsTheWallIsHigh() {
        QFETCH(double, azimuth);
        QFETCH(double, altitude);
        // A tall post in the middle of a plain: its shadow runs away from the light.
        constexpr std::size_t kSide = 201, kMiddle = 100;
        Grid<float> z(kSide, kSide);
        z(kMiddle, kMiddle) = 150;
        const auto lit = shadowsOf(z, {azimuth, altitude});
        const double length = 150 / std::tan(altitude * kRadians);
        const Point away{-std::sin(azimuth * kRadians), -std::cos(azimuth * kRadians)};
        for (std::size_t r = 0; r < kSide; ++r)
            for (std::size_t c = 0; c < kSide; ++c) {
                if (r == kMiddle && c == kMiddle) continue;
                const Point p{10 * (double(c) - kMiddle), -10 * (double(r) - kMiddle)};
                const double along = p.x * away.x + p.y * away.y;
                const double aside = std::abs(p.x * away.y - p.y * away.x);
                // Between centres the post falls off linearly, so the shadow is two cells wide and
                // narrows to its tip.
                if (aside > 15 || along < -15 || along > length + 10) QCOMPARE(lit(r, c), 1.0F);
                // Off the middle by a tenth of a cell the post is a tenth lower.
                if (aside < 1 && along > 10 && along < 0.85 * length - 12)
                    QCOMPARE(lit(r, c), 0.0F);
            }
    }

    void leaveSlopesLitThatFaceTheLight() {
        Grid<float> z(60, 60);
        for (std::size_t r = 0; r < 60; ++r)
            for (std::size_t c = 0; c < 60; ++c) z(r, c) = float(5 * double(c));
        // Rising east at 26.6 degrees: a light from the west reaches it, one from the east lower
        // than the slope does not.
        const auto open = shadowsOf(z, {270, 20});
        for (const float v : open.cells()) QCOMPARE(v, 1.0F);
        const auto dark = shadowsOf(z, {90, 20});
        const auto bright = shadowsOf(z, {90, 35});
        QCOMPARE(dark(30, 10), 0.0F);
        QCOMPARE(bright(30, 10), 1.0F);
    }

    void turnWithTheTerrain() {
        Grid<float> z(41, 41), turned(41, 41);
        for (std::size_t r = 0; r < 41; ++r)
            for (std::size_t c = 0; c < 41; ++c)
                z(r, c) = float(80 * std::sin(double(r) / 5) * std::cos(double(c) / 4) + double(c));
        for (std::size_t r = 0; r < 41; ++r)
            for (std::size_t c = 0; c < 41; ++c) turned(c, 40 - r) = z(r, c);  // clockwise
        const auto one = shadowsOf(z, {300, 25}), other = shadowsOf(turned, {30, 25});
        for (std::size_t r = 0; r < 41; ++r)
            for (std::size_t c = 0; c < 41; ++c) QCOMPARE(other(c, 40 - r), one(r, c));
    }

    void ignoreWhatIsMissing() {
        Grid<float> z(20, 20);
        z(10, 10) = std::numeric_limits<float>::quiet_NaN();
        const auto open = shadowsOf(z, {315, 30});
        for (const float v : open.cells()) QCOMPARE(v, 1.0F);
        QVERIFY(shadowsOf(z, {315, 95}).isEmpty());
        QVERIFY(shadowsOf(z, {315, 45}, {0, 10}).isEmpty());
    }
};

QTEST_APPLESS_MAIN(CastShadowsTest)
#include "cast_shadows_test.moc"
