#include "core/symbol/colour_vision.h"

#include <QTest>

#include "core/base/random.h"
#include "core/symbol/ramp.h"

using namespace ledge;

/// How colours are seen by those who see fewer.
class ColourVisionTest : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void leavesGreysAlone_data() {
        QTest::addColumn<int>("vision");
        for (const Vision v : kVisions) QTest::addRow("%d", int(v)) << int(v);
    }
    void leavesGreysAlone() {
        QFETCH(int, vision);
        for (int g = 0; g < 256; g += 5) {
            const auto v = static_cast<std::uint8_t>(g);
            const Colour seen = seenBy(static_cast<Vision>(vision), {v, v, v, 77});
            QVERIFY(std::abs(seen.r - g) <= 2 && std::abs(seen.g - g) <= 2 &&
                    std::abs(seen.b - g) <= 2);
            QCOMPARE(int(seen.a), 77);
        }
    }
    void makesRedsAndGreensAlike() {
        const Colour red{190, 60, 50}, green{80, 120, 60};
        const auto apart = [&](Vision v) {
            return colourDistance(seenBy(v, red), seenBy(v, green));
        };
        QVERIFY(apart(Vision::NoGreen) < 0.6 * apart(Vision::Usual));
        QVERIFY(apart(Vision::NoRed) < 0.8 * apart(Vision::Usual));
        QVERIFY(apart(Vision::NoBlue) > 0.6 * apart(Vision::Usual));
        const Colour grey = seenBy(Vision::Grey, red);
        QVERIFY(grey.r == grey.g && grey.g == grey.b);
    }
    void seesManyAsOne() {
        Random random(3);
        std::vector<std::uint32_t> pixels;
        for (int i = 0; i < 4000; ++i)
            pixels.push_back(static_cast<std::uint32_t>(random.next()) | 0xFF000000U);
        pixels.insert(pixels.end(), 50, 0xFF336699U);
        for (const Vision v : kVisions) {
            auto seen = pixels;
            seeBy(v, seen);
            for (std::size_t i = 0; i < pixels.size(); ++i) {
                const Colour c{static_cast<std::uint8_t>(pixels[i] >> 16),
                               static_cast<std::uint8_t>(pixels[i] >> 8),
                               static_cast<std::uint8_t>(pixels[i])};
                const Colour wanted = seenBy(v, c);
                QCOMPARE(seen[i], 0xFF000000U | std::uint32_t{wanted.r} << 16 |
                                      std::uint32_t{wanted.g} << 8 | wanted.b);
            }
        }
    }
    void findsNeighboursAlike() {
        const Colour near[] = {{200, 200, 200}, {204, 204, 204}, {40, 40, 40}};
        const auto found = neighboursAlike(near);
        QCOMPARE(found.size(), std::size_t{1});
        QCOMPARE(found[0].first, std::size_t{0});
        QVERIFY(neighboursAlike(std::vector<Colour>{}).empty());
        QVERIFY(neighboursAlike(std::vector<Colour>{{1, 2, 3}}).empty());
        // Only those without green cones, or the like of them, confuse these.
        const Colour pair[] = {{176, 128, 70}, {142, 142, 66}};
        bool isConfused = false;
        for (const Alike& one : neighboursAlike(pair))
            isConfused = isConfused || one.vision != Vision::Usual;
        QVERIFY(isConfused);
    }
    // What we ship can be told apart, five classes of any family, by everybody.
    void shipsFamiliesForAll_data() {
        QTest::addColumn<int>("family");
        for (std::size_t i = 0; i < rampFamilies().size(); ++i)
            QTest::newRow(rampFamilies()[i].id.c_str()) << int(i);
    }
    void shipsFamiliesForAll() {
        QFETCH(int, family);
        const Ramp ramp = rampOf(rampFamilies()[std::size_t(family)].id, 0, 1);
        std::vector<Colour> classes;
        for (int i = 0; i < 5; ++i) classes.push_back(ramp.at(0.06 + 0.84 * i / 4));
        for (const Alike& one : neighboursAlike(classes))
            QVERIFY2(one.vision == Vision::Grey && ramp.stops.size() == 5,
                     qPrintable(QString("%1: %2 for %3")
                                    .arg(one.first)
                                    .arg(one.distance)
                                    .arg(int(one.vision))));
    }
};

QTEST_APPLESS_MAIN(ColourVisionTest)
#include "colour_vision_test.moc"
