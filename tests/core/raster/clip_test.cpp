#include <QTest>

#include "core/base/random.h"
#include "core/geometry/measure.h"
#include "core/raster/clipped_raster.h"

using namespace ledge;

namespace {
RasterPtr counted() {
    RasterInfo info;
    info.toWorld = {2, 0, 100, 0, -2, 200};
    info.bands = {{CellType::Int16, {}, ""}};
    Grid<float> cells(50, 60);
    for (std::size_t r = 0; r < 50; ++r)
        for (std::size_t c = 0; c < 60; ++c) cells(r, c) = float(100 * r + c);
    return std::make_shared<MemoryRaster>(info, std::move(cells));
}
Grid<float> cellsOf(const RasterSource& raster) {
    Grid<float> out(std::size_t(raster.info().height), std::size_t(raster.info().width));
    if (!raster.read(0, raster.info().whole(), out.view())) out = {};
    return out;
}
}  // namespace

class ClipTest : public QObject {
    Q_OBJECT

private slots:
    void keepsTheCellsABoxTouches() {
        const auto clipped = clippedTo(counted(), Box{110, 150, 120.5, 160});
        QVERIFY(clipped.has_value());
        const RasterInfo& info = (*clipped)->info();
        QCOMPARE(info.width, std::int64_t{6});
        QCOMPARE(info.height, std::int64_t{5});
        QCOMPARE(info.extent(), (Box{110, 150, 122, 160}));
        QCOMPARE(cellsOf(**clipped)(0, 0), 2005.0F);
        QVERIFY(!clippedTo(counted(), Box{500, 500, 600, 600}));
        // A box larger than the raster keeps all of it.
        QCOMPARE((*clippedTo(counted(), Box{-1e6, -1e6, 1e6, 1e6}))->info().width,
                 std::int64_t{60});
    }

    void keepsTheCellsWhoseCentresLieInside() {
        Random random(11);
        for (int pass = 0; pass < 20; ++pass) {
            std::vector<Point> ring;
            const Point middle{random.between(120, 200), random.between(120, 180)};
            for (int i = 0; i < 9; ++i) {
                const double angle = i * 2 * 3.14159265358979 / 9;
                const double radius = random.between(4, 30);
                ring.push_back(middle + Point{std::cos(angle), std::sin(angle)} * radius);
            }
            ring.push_back(ring.front());
            std::vector<Point> hole;
            for (std::size_t i = 0; i < ring.size(); ++i)
                hole.push_back(middle + (ring[i] - middle) * 0.3);
            const Geometry area = Geometry::polygon({ring, hole});
            const auto clipped = clippedTo(counted(), {area});
            QVERIFY(clipped.has_value());
            const RasterInfo& info = (*clipped)->info();
            QCOMPARE(*info.bands[0].nodata, -32768.0);
            const auto cells = cellsOf(**clipped);
            int kept = 0;
            for (std::size_t r = 0; r < cells.rows(); ++r)
                for (std::size_t c = 0; c < cells.cols(); ++c) {
                    const Point p = info.toWorld({double(c) + 0.5, double(r) + 0.5});
                    QCOMPARE(!std::isnan(cells(r, c)), isInside(area, p));
                    kept += std::isnan(cells(r, c)) ? 0 : 1;
                }
            QVERIFY(kept > 0);
        }
        QVERIFY(!clippedTo(counted(), std::vector<Geometry>{Geometry::point({120, 150})}));
    }
};

QTEST_APPLESS_MAIN(ClipTest)
#include "clip_test.moc"
