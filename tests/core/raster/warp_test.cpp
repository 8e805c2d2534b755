#include "core/raster/warp.h"

#include <QTest>

#include "core/base/parallel.h"
#include "core/base/random.h"

using namespace ledge;

namespace {
// z = 3 x + 5 y over a UTM grid of 10 m cells.
RasterPtr plane(std::size_t rows, std::size_t cols, crs::CrsPtr crs) {
    RasterInfo info;
    info.crs = std::move(crs);
    info.toWorld = {10, 0, 400000, 0, -10, 6830000};
    Grid<float> z(rows, cols);
    for (std::size_t r = 0; r < rows; ++r)
        for (std::size_t c = 0; c < cols; ++c) {
            const Point p = info.toWorld({double(c) + 0.5, double(r) + 0.5});
            z(r, c) = static_cast<float>(0.003 * (p.x - 400000) + 0.005 * (p.y - 6820000));
        }
    return std::make_shared<MemoryRaster>(info, std::move(z));
}
double planeAt(Point p) { return 0.003 * (p.x - 400000) + 0.005 * (p.y - 6820000); }
}  // namespace

class WarpTest : public QObject {
    Q_OBJECT

private slots:
    void keepsAPlaneInAnotherCrs_data() {
        QTest::addColumn<int>("code");
        QTest::addColumn<int>("resampling");
        for (const int code : {32629, 3857, 4326, 3034})
            for (const auto r : {Resampling::Bilinear, Resampling::Cubic})
                QTest::addRow("%d %d", code, int(r)) << code << int(r);
    }
    void keepsAPlaneInAnotherCrs() {
        QFETCH(int, code);
        QFETCH(int, resampling);
        const auto source = plane(200, 300, *crs::crsFromCode(32629));
        const auto way = crs::Transformation::between(source->info().crs, *crs::crsFromCode(code));
        const auto grid = suggestedGrid(source->info(), *way);
        QVERIFY(grid.has_value());
        const auto out =
            warped(Pyramid(source, 0), *way, *grid, static_cast<Resampling>(resampling));
        QVERIFY(out.has_value());
        int checked = 0;
        for (std::size_t r = 0; r < grid->rows; r += 3)
            for (std::size_t c = 0; c < grid->cols; c += 3) {
                const float v = (*out)(r, c);
                if (std::isnan(v)) continue;
                const Point p = way->inverse(grid->toWorld({double(c) + 0.5, double(r) + 0.5}));
                if (p.x < 400020 || p.x > 402980 || p.y > 6829980 || p.y < 6828020) continue;
                // The lattice may be off by 0.05 of a cell of 10 m on a slope of 0.0058.
                QVERIFY2(std::abs(double(v) - planeAt(p)) < 0.05 * 10 * 0.006 + 1e-4,
                         qPrintable(QString::number(double(v) - planeAt(p))));
                ++checked;
            }
        QVERIFY(checked > 2000);
    }

    void keepsNodataFromBleeding() {
        RasterInfo info;
        Grid<float> z(40, 40, 5);
        for (std::size_t r = 10; r < 20; ++r)
            for (std::size_t c = 10; c < 20; ++c) z(r, c) = std::numeric_limits<float>::quiet_NaN();
        const auto source = std::make_shared<MemoryRaster>(info, z);
        for (const auto resampling :
             {Resampling::Nearest, Resampling::Bilinear, Resampling::Cubic, Resampling::Average}) {
            const auto out =
                warped(Pyramid(source, 0), {}, {80, 80, {0.5, 0, 0, 0, 0.5, 0}}, resampling);
            for (const float v : out->cells()) QVERIFY(std::isnan(v) || std::abs(v - 5) < 1e-5F);
            QVERIFY(std::isnan((*out)(30, 30)));
            QCOMPARE((*out)(30, 60), 5.0F);
        }
    }

    void averagesWhenReduced() {
        Random random(3);
        Grid<float> z(512, 512);
        double sum = 0;
        for (float& v : z.cells()) sum += double(v = static_cast<float>(random.between(0, 100)));
        const auto source = std::make_shared<MemoryRaster>(RasterInfo{}, z);
        const auto out =
            warped(Pyramid(source, 0), {}, {8, 8, {64, 0, 0, 0, 64, 0}}, Resampling::Average);
        double reduced = 0;
        for (const float v : out->cells()) reduced += double(v);
        QVERIFY(std::abs(reduced / 64 - sum / (512 * 512)) < 0.5);
        for (const float v : out->cells()) QVERIFY(v > 40 && v < 60);
    }

    void givesTheSameBytesForAnyThreadCount() {
        const auto source = plane(150, 150, *crs::crsFromCode(32629));
        const auto way = crs::Transformation::between(source->info().crs, *crs::crsFromCode(4326));
        const auto grid = suggestedGrid(source->info(), *way);
        setThreadCount(1);
        const auto one = warped(Pyramid(source, 0), *way, *grid, Resampling::Cubic);
        setThreadCount(5);
        const auto five = warped(Pyramid(source, 0), *way, *grid, Resampling::Cubic);
        setThreadCount(0);
        QCOMPARE(std::memcmp(one->cells().data(), five->cells().data(), one->cells().size_bytes()),
                 0);
    }

    void isEmptyWhereNothingLies() {
        const auto source = plane(20, 20, *crs::crsFromCode(32629));
        const auto out =
            warped(Pyramid(source, 0), {}, {10, 10, {10, 0, 0, 0, -10, 0}}, Resampling::Bilinear);
        QVERIFY(out.has_value());
        for (const float v : out->cells()) QVERIFY(std::isnan(v));
    }

    void stopsWhenAsked() {
        std::stop_source stop;
        stop.request_stop();
        const auto source = plane(20, 20, nullptr);
        const auto out = warped(Pyramid(source, 0), {}, {10, 10, source->info().toWorld},
                                Resampling::Bilinear, {stop.get_token(), {}});
        QVERIFY(!out);
        QCOMPARE(out.error().code, ErrorCode::Cancelled);
    }

    void refusesHugeGrids() {
        const auto source = plane(20, 20, *crs::crsFromCode(32629));
        QCOMPARE(suggestedGrid(source->info(), {}, 1e-9).error().code, ErrorCode::LimitExceeded);
        QVERIFY(!suggestedGrid(source->info(), {}, -1.0));
    }

    void readsTheSameFromKeptAndStreamedLevels() {
        const auto source = plane(512, 256, nullptr);
        const Pyramid kept(source, 0), streamed(source, 0, 1);
        for (int level = 0; level < kept.levelCount(); ++level) {
            const CellWindow window{-3, -2, kept.cols(level) + 5, kept.rows(level) + 4};
            const auto a = kept.read(level, window), b = streamed.read(level, window);
            for (std::size_t i = 0; i < a->cells().size(); ++i) {
                QCOMPARE(bool(std::isnan(a->cells()[i])), bool(std::isnan(b->cells()[i])));
                if (!std::isnan(a->cells()[i]))
                    QVERIFY(std::abs(a->cells()[i] - b->cells()[i]) < 1e-3F);
            }
        }
    }

    void tellsStatisticsExactly() {
        RasterInfo info;
        Grid<float> z(3, 4);
        for (std::size_t i = 0; i < 12; ++i) z.cells()[i] = static_cast<float>(i);
        z.cells()[5] = std::numeric_limits<float>::quiet_NaN();
        const auto s = statistics(MemoryRaster(info, z), 0);
        QCOMPARE(s->count, std::int64_t{11});
        QCOMPARE(s->missing, std::int64_t{1});
        QCOMPARE(s->min, 0.0);
        QCOMPARE(s->max, 11.0);
        QVERIFY(std::abs(s->mean - 61.0 / 11) < 1e-12);
        QCOMPARE(valueAt(MemoryRaster(info, z), 0, {3.5, 2.5}), 11.0);
        QVERIFY(std::isnan(valueAt(MemoryRaster(info, z), 0, {4.0, 2.5})));
        QVERIFY(std::isnan(valueAt(MemoryRaster(info, z), 0, kNowhere)));
    }
};

QTEST_APPLESS_MAIN(WarpTest)
#include "warp_test.moc"
