#include "core/terrain/derived_raster.h"

#include <QTest>

#include "core/base/random.h"

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
