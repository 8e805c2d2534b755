#include <QTest>
#include <atomic>
#include <chrono>
#include <numeric>
#include <stdexcept>
#include <thread>

#include "core/base/colour.h"
#include "core/base/numbers.h"
#include "core/base/parallel.h"
#include "core/base/random.h"
#include "core/raster/block_cache.h"

using namespace ledge;

class BaseTest : public QObject {
    Q_OBJECT

private slots:
    void goesOnAfterAPieceThatThrows_data() {
        QTest::addColumn<int>("threads");
        QTest::newRow("one thread") << 1;
        QTest::newRow("four threads") << 4;
    }
    void goesOnAfterAPieceThatThrows() {
        QFETCH(int, threads);
        setThreadCount(static_cast<unsigned>(threads));
        std::atomic<int> done{0};
        bool caught = false;
        try {
            parallelRanges(1000, 1, [&](std::size_t begin, std::size_t) {
                if (begin == 7) throw std::runtime_error("piece seven");
                ++done;
            });
        } catch (const std::runtime_error& problem) {
            caught = std::string(problem.what()) == "piece seven";
        }
        QVERIFY(caught);
        QVERIFY(done < 1000);
        // The next work is done whole.
        done = 0;
        parallelRanges(1000, 3, [&](std::size_t begin, std::size_t end) {
            done += static_cast<int>(end - begin);
        });
        QCOMPARE(done.load(), 1000);
        setThreadCount(0);
    }

    /// Several threads want one block whose making fails: each is told, none waits for ever.
    void tellsEveryoneThatABlockCannotBeMade() {
        BlockCache cache(1 << 20);
        const std::uint64_t owner = cache.newOwner();
        std::atomic<int> failures{0}, tries{0};
        {
            std::vector<std::jthread> threads;
            for (int i = 0; i < 8; ++i)
                threads.emplace_back([&] {
                    try {
                        cache.get(owner, 3, [&]() -> BlockCache::Block {
                            ++tries;
                            std::this_thread::sleep_for(std::chrono::milliseconds(2));
                            throw std::bad_alloc();
                        });
                    } catch (const std::bad_alloc&) {
                        ++failures;
                    }
                });
        }
        QCOMPARE(failures.load(), 8);
        QCOMPARE(tries.load(), 8);
        QCOMPARE(cache.held(), std::size_t{0});
        const auto block = cache.get(
            owner, 3, [] { return std::make_shared<BlockCache::Bytes>(std::size_t{10}); });
        QCOMPARE(block->size(), std::size_t{10});
        QCOMPARE(cache.held(), std::size_t{10});
    }

    void writesNumbersForPeople_data() {
        QTest::addColumn<double>("value");
        QTest::addColumn<int>("decimals");
        QTest::addColumn<QString>("text");
        QTest::newRow("plain") << 12.5 << -1 << "12.5";
        QTest::newRow("four figures stay together") << 1234.0 << 0 << "1234";
        QTest::newRow("groups") << 1234567.0 << 0 << QString::fromUtf8("1\u2009234\u2009567");
        QTest::newRow("minus") << -3.0 << 1 << QString::fromUtf8("\u22123.0");
        QTest::newRow("no minus zero") << -0.01 << 1 << "0.0";
        QTest::newRow("none") << std::nan("") << 1 << QString::fromUtf8("\u2013");
    }
    void writesNumbersForPeople() {
        QFETCH(double, value);
        QFETCH(int, decimals);
        QFETCH(QString, text);
        QCOMPARE(QString::fromStdString(formatNumber(value, {decimals, true})), text);
    }

    void readsBackExactNumbers() {
        Random random(7);
        for (int i = 0; i < 2000; ++i) {
            const double v = random.between(-1, 1) * std::pow(10, random.below(40) - 20);
            QCOMPARE(*parseNumber(exactNumber(v)), v);
        }
        for (const char* bad : {"", "x", "1x", "1 2", "--1", "1,5"}) QVERIFY(!parseNumber(bad));
        QCOMPARE(*parseNumber(" +2.5 "), 2.5);
    }

    void roundsToSeries() {
        QCOMPARE(roundDownTo125(9.99), 5.0);
        QCOMPARE(roundDownTo125(10), 10.0);
        QCOMPARE(roundDownTo125(0.3), 0.2);
        QCOMPARE(roundUpToInterval(2.1), 2.5);
        QCOMPARE(roundUpToInterval(26), 50.0);
        QCOMPARE(roundUpToInterval(51), 100.0);
    }

    void writesDegrees() {
        QCOMPARE(QString::fromStdString(formatDegrees(61.5, true)),
                 QString::fromUtf8("61° 30′ 00.0″ N"));
        QCOMPARE(QString::fromStdString(formatDegrees(-10.99999999, false)),
                 QString::fromUtf8("11° 00′ 00.0″ W"));
    }

    void convertsColoursThroughOkLab() {
        for (int i = 0; i < 256; i += 15)
            for (int k = 0; k < 256; k += 15) {
                const Colour c{std::uint8_t(i), std::uint8_t(k), std::uint8_t((i + k) / 2), 200};
                QCOMPARE(fromOkLab(toOkLab(c), 200), c);
                QCOMPARE(*parseColour(colourText(c)), c);
            }
        QVERIFY(std::abs(toOkLab({255, 255, 255}).lightness - 1) < 1e-4);
        for (const char* bad : {"", "#12345", "red", "#GGGGGG", "#1234567"})
            QVERIFY(!parseColour(bad));
    }

    void coversEveryPieceOnceForAnyThreadCount() {
        for (const unsigned threads : {1u, 2u, 7u}) {
            setThreadCount(threads);
            for (const std::size_t count : {0u, 1u, 99u, 1000u}) {
                std::vector<std::atomic<int>> seen(count);
                parallelRanges(count, 7, [&](std::size_t b, std::size_t e) {
                    for (std::size_t i = b; i < e; ++i) ++seen[i];
                });
                for (auto& n : seen) QCOMPARE(n.load(), 1);
            }
        }
        setThreadCount(0);
    }
};

QTEST_APPLESS_MAIN(BaseTest)
#include "base_test.moc"
