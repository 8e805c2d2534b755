#include "core/symbol/ramp.h"

#include "core/symbol/ramp_text.h"

#include <QTest>

using namespace ledge;

class RampTest : public QObject {
    Q_OBJECT

private slots:
    void isWrittenAndReadAsText() {
        const Ramp ramp = heightTint("humid", -80, 600);
        const auto back = rampFromText(rampText(ramp));
        QVERIFY(back.has_value());
        QCOMPARE(*back, ramp);
        for (const char* bad : {"", "5:#FFFFFF", "x:#FFFFFF,2:#000000", "1:#FFFFFF,2:blau",
                                "5:#FFFFFF,2:#000000", "1,2"}) {
            const auto none = rampFromText(bad);
            QVERIFY2(!none, bad);
            QVERIFY(!none.error().mend.empty());
        }
    }

    void holdsItsEndColoursBeyondTheEnds() {
        const Ramp ramp{{{0, {0, 0, 0}}, {10, {255, 255, 255}}}};
        QCOMPARE(ramp.at(-5), (Colour{0, 0, 0}));
        QCOMPARE(ramp.at(99), (Colour{255, 255, 255}));
        QCOMPARE(ramp.at(std::nan("")).a, std::uint8_t{0});
        QCOMPARE(Ramp{}.at(3).a, std::uint8_t{0});
    }

    void goesRoundForAspect() {
        const Ramp ramp = aspectRamp();
        QCOMPARE(ramp.at(0), ramp.at(360));
        for (double a = 0; a < 360; a += 15)
            QVERIFY(colourDistance(ramp.at(a), ramp.at(std::fmod(a + 180, 360))) > 6);
    }

    void breaksHardAtTheShore() {
        const Ramp ramp = heightTint("humid", -80, 600);
        QVERIFY(colourDistance(ramp.at(-0.01), ramp.at(0.01)) > 4);
        QVERIFY(colourDistance(ramp.at(0.01), ramp.at(1)) < 1);
        const RampTable table(ramp);
        for (double v = -90; v < 650; v += 0.37) {
            const float f = static_cast<float>(v);
            QVERIFY2(colourDistance(table.at(f), ramp.at(double(f))) < 1,
                     qPrintable(QString::number(v)));
        }
        QCOMPARE(table.at(0.0F), ramp.at(0.0));
    }

    void keepsTintsLightEnoughForTextOnThem() {
        for (const TintFamily& family : tintFamilies()) {
            if (family.id == kGreyRamp) continue;  // asked for as what it is
            const Ramp ramp = heightTint(family.id, -120, 900);
            for (double v = -120; v <= 900; v += 5) {
                const double lightness = toOkLab(ramp.at(v)).lightness;
                QVERIFY2(lightness > 0.72 && lightness < 0.98,
                         qPrintable(QString("%1 %2").arg(v).arg(lightness)));
            }
        }
    }

    void flipsBackToItself() {
        const Ramp ramp = rampOf("moss", -3, 17);
        const Ramp twice = ramp.flipped().flipped();
        for (double v = -3; v <= 17; v += 0.5)
            QVERIFY(colourDistance(twice.at(v), ramp.at(v)) < 0.5);
        QCOMPARE(ramp.flipped().at(-3), ramp.at(17));
        QCOMPARE(ramp.flipped().low(), -3.0);
        QCOMPARE(ramp.stretched(0, 100).at(100), ramp.at(17));
    }

    void darkensSequentialFamilies() {
        for (const RampFamily& family : rampFamilies()) {
            // Two-sided and round ones say so in their names; greys rise.
            if (family.name.find("(") != std::string::npos) continue;
            double last = 2;
            for (const Colour c : family.colours) {
                QVERIFY(toOkLab(c).lightness < last);
                last = toOkLab(c).lightness;
            }
        }
    }

    void tellsCategoriesApart() {
        for (std::size_t i = 0; i < 24; ++i)
            for (std::size_t k = 0; k < i; ++k)
                QVERIFY(colourDistance(categoryColour(i), categoryColour(k)) > 5);
        for (std::size_t i = 1; i < 8; ++i)
            QVERIFY(colourDistance(categoryColour(i), categoryColour(i - 1)) >= 8);
    }

    void leavesGentleGroundClear() {
        const Ramp ramp = steepnessTint();
        QCOMPARE(ramp.at(4.9).a, std::uint8_t{0});
        QVERIFY(std::abs(ramp.at(50).a - 0.35 * 255) < 1);
        QVERIFY(ramp.at(20).a < ramp.at(40).a);
    }

    // A factor of ten has the same share of the colours wherever it lies.
    void spreadsByRatios() {
        const Ramp even = rampOf("slate", 0, 3), log = logarithmicRamp("slate", 1, 1000);
        for (const double power : {0.0, 0.5, 1.0, 1.7, 2.0, 2.6, 3.0})
            QVERIFY2(colourDistance(log.at(std::pow(10, power)), even.at(power)) < 1.5,
                     qPrintable(QString::number(power)));
        QCOMPARE(log.low(), 1.0);
        QCOMPARE(log.high(), 1000.0);
        // Where there is no ratio it is the even one.
        QVERIFY(logarithmicRamp("slate", 0, 10) == rampOf("slate", 0, 10));
        QVERIFY(logarithmicRamp("slate", -5, 10) == rampOf("slate", -5, 10));
    }
    void changesInSteps() {
        const Ramp steps = steppedRamp("moss", 0, 100, {20, 50, 50, 130, -4});
        QCOMPARE(stepsOf(steps), (std::vector<double>{20, 50}));
        QVERIFY(steps.at(0) == steps.at(19.9));
        QVERIFY(steps.at(20) == steps.at(49.9));
        QVERIFY(!(steps.at(19.9) == steps.at(20)) && !(steps.at(49.9) == steps.at(50)));
        QVERIFY(steps.at(50) == steps.at(100));
        // Fast to look up, it says the same.
        const RampTable table(steps);
        for (float v = 0; v <= 100; v += 0.37f) QVERIFY(table.at(v) == steps.at(double(v)));
        QVERIFY(stepsOf(rampOf("moss", 0, 100)).empty());
        QVERIFY(stepsOf(steppedRamp("moss", 0, 1, {})).empty());
    }
};

QTEST_APPLESS_MAIN(RampTest)
#include "ramp_test.moc"
