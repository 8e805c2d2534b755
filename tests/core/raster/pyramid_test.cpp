#include "core/raster/pyramid.h"

#include <QTest>
#include <cmath>
#include <random>

#include "core/raster/level_raster.h"
#include "core/raster/warp.h"

using namespace ledge;

/// Reduced copies for pictures: means of data, classes as they are, from wherever they come.
class PyramidTest : public QObject {
    Q_OBJECT

private:
    static RasterPtr random(std::size_t rows, std::size_t cols, bool hasPalette = false) {
        RasterInfo info;
        info.bands = {{hasPalette ? CellType::UInt8 : CellType::Float32, -1.0, ""}};
        if (hasPalette) info.bands[0].palette.resize(8, Colour{1, 2, 3});
        info.toWorld = {10, 0, 0, 0, -10, 0};
        std::mt19937 engine(7);
        std::uniform_int_distribution<int> value(0, 7);
        Grid<float> cells(rows, cols);
        for (float& v : cells.cells()) {
            const int drawn = value(engine);
            v = drawn == 0 ? std::numeric_limits<float>::quiet_NaN() : static_cast<float>(drawn);
        }
        return std::make_shared<MemoryRaster>(info, std::move(cells));
    }

    // The mean of the data cells beneath, or the upper left cell.
    static float truth(const RasterSource& raster, int level, std::int64_t row, std::int64_t col,
                       bool isNearest) {
        const std::int64_t step = std::int64_t{1} << level;
        const auto& info = raster.info();
        double sum = 0;
        int count = 0;
        for (auto r = row * step; r < std::min(info.height, (row + 1) * step); ++r)
            for (auto c = col * step; c < std::min(info.width, (col + 1) * step); ++c) {
                Grid<float> cell(1, 1);
                if (!raster.read(0, {c, r, 1, 1}, cell.view())) return -99;
                if (isNearest) return cell(0, 0);
                if (!std::isnan(cell(0, 0))) sum += double(cell(0, 0)), ++count;
            }
        return count ? static_cast<float>(sum / count) : std::numeric_limits<float>::quiet_NaN();
    }
    static bool agree(float a, float b) {
        return (std::isnan(a) && std::isnan(b)) || std::abs(a - b) < 1e-5F;
    }

private slots:
    void averagesOrThins_data() {
        QTest::addColumn<bool>("hasPalette");
        QTest::addColumn<int>("keptCells");
        for (const bool hasPalette : {false, true})
            for (const int kept : {0, 200, 1'000'000})
                QTest::addRow("%s, %d kept", hasPalette ? "classes" : "heights", kept)
                    << hasPalette << kept;
    }
    void averagesOrThins() {
        QFETCH(bool, hasPalette);
        QFETCH(int, keptCells);
        const auto raster = random(45, 83, hasPalette);
        const Pyramid pyramid(raster, 0, keptCells);
        QCOMPARE(pyramid.usualReduction() == Reduction::Cell, hasPalette);
        QVERIFY(!pyramid.hasOverviews());
        for (int level = 0; level < 3; ++level) {
            const CellWindow window{-1, 2, pyramid.cols(level) + 1, pyramid.rows(level) - 2};
            const auto cells = pyramid.read(level, window);
            QVERIFY(cells.has_value());
            for (std::size_t r = 0; r < cells->rows(); ++r) {
                QVERIFY(std::isnan((*cells)(r, 0)));  // outside
                for (std::size_t c = 1; c < cells->cols(); ++c) {
                    // Means of means weigh cells of thin blocks more; levels one and two of whole
                    // blocks without gaps are exact, classes always.
                    const float wanted =
                        truth(*raster, level, std::int64_t(r) + 2, std::int64_t(c) - 1, hasPalette);
                    if (level < 2 || hasPalette || keptCells == 0)
                        QVERIFY2(agree((*cells)(r, c), wanted),
                                 qPrintable(QString("%1: %2 %3").arg(level).arg(r).arg(c)));
                    else
                        QCOMPARE(std::isnan((*cells)(r, c)), std::isnan(wanted));
                }
            }
        }
    }

    void givesCellsAsTheyAreWhenAsked() {
        const auto raster = random(61, 90);
        for (const int kept : {0, 1'000'000}) {
            const Pyramid pyramid(withOverviews(raster, {levelRaster(raster, 1)}), 0, kept);
            for (const int level : {1, 2, 3}) {
                const CellWindow whole{0, 0, pyramid.cols(level), pyramid.rows(level)};
                const auto cells = pyramid.read(level, whole, Reduction::Cell, {});
                QVERIFY(cells.has_value());
                for (std::size_t r = 0; r < cells->rows(); ++r)
                    for (std::size_t c = 0; c < cells->cols(); ++c)
                        QVERIFY(agree((*cells)(r, c), truth(*raster, level, std::int64_t(r),
                                                            std::int64_t(c), true)));
                // Means are still to be had beside them.
                const auto means = pyramid.read(level, whole);
                QVERIFY(!std::equal(means->cells().begin(), means->cells().end(),
                                    cells->cells().begin(), agree));
            }
        }
    }

    void readsLevelsMadeElsewhere() {
        const auto raster = random(300, 500);
        const auto level = levelRaster(raster, 2);
        QCOMPARE(level->info().width, std::int64_t{125});
        QCOMPARE(level->info().toWorld.a, 40.0);
        // The same cells for any window.
        Grid<float> whole(75, 125);
        QVERIFY(level->read(0, level->info().whole(), whole.view()));
        std::mt19937 engine(3);
        for (int i = 0; i < 30; ++i) {
            const auto pick = [&](std::int64_t below) {
                return std::int64_t(engine() % std::uint64_t(below));
            };
            const std::int64_t col = pick(120), row = pick(70);
            const CellWindow window{col, row, 1 + pick(125 - col), 1 + pick(75 - row)};
            Grid<float> part(std::size_t(window.rows), std::size_t(window.cols));
            QVERIFY(level->read(0, window, part.view()));
            for (std::size_t r = 0; r < part.rows(); ++r)
                for (std::size_t c = 0; c < part.cols(); ++c)
                    QVERIFY(agree(part(r, c), whole(r + std::size_t(row), c + std::size_t(col))));
        }
        const Pyramid with(withOverviews(raster, {level}), 0, 0);
        QVERIFY(with.hasOverviews());
        const auto read = with.read(2, {0, 0, 125, 75});
        QVERIFY(std::equal(read->cells().begin(), read->cells().end(), whole.cells().begin(),
                           [](float a, float b) { return agree(a, b); }));
    }

    void showsClassesThatThereAreAtAnyScale_data() {
        QTest::addColumn<bool>("hasPalette");
        QTest::newRow("palette") << true;
        QTest::newRow("plain") << false;
    }
    void showsClassesThatThereAreAtAnyScale() {
        QFETCH(bool, hasPalette);
        const auto raster = random(400, 400, hasPalette);
        const Pyramid pyramid(raster, 0);
        const auto same = crs::Transformation::between(nullptr, nullptr);
        QVERIFY(same.has_value());
        const TargetGrid small{10, 10, {400, 0, 0, 0, -400, 0}};
        const auto cells = warped(pyramid, *same, small, Resampling::Nearest);
        QVERIFY(cells.has_value());
        for (const float v : cells->cells())
            QVERIFY(std::isnan(v) || (v == std::round(v) && v >= 1 && v <= 7));
    }
};

QTEST_GUILESS_MAIN(PyramidTest)
#include "pyramid_test.moc"
