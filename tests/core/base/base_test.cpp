#include <QTest>
#include <atomic>
#include <numeric>

#include "core/base/colour.h"
#include "core/base/numbers.h"
#include "core/base/parallel.h"
#include "core/base/random.h"

using namespace ledge;

class BaseTest : public QObject {
    Q_OBJECT

private slots:
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
