#include <QTest>
#include <random>

#include "core/label/label_scene.h"

using namespace ledge;
using namespace ledge::label;

namespace {
Scene::Wish wishAt(std::int64_t thing, Point at, double rank = 1) {
    Scene::Wish out;
    out.key = {1, thing, 0};
    out.request.rank = rank;
    out.request.candidates = aroundPoint(at, 2, {30, 8, 2});
    return out;
}

bool meet(const Candidate& a, const Candidate& b) {
    for (const Box& x : a.boxes)
        for (const Box& y : b.boxes)
            if (x.xMin < y.xMax && y.xMin < x.xMax && x.yMin < y.yMax && y.yMin < x.yMax)
                return true;
    return false;
}
}  // namespace

/// All that is written on a frame, placed together.
class SceneTest : public QObject {
    Q_OBJECT

private slots:
    void putsPinsWhereTheyAre() {
        Scene scene({0, 0, 200, 100});
        scene.add(wishAt(1, {100, 50}, 9));
        Scene::Wish pinned = wishAt(2, {100, 50}, 0);
        pinned.pin = wishAt(1, {100, 50}).request.candidates[0];
        scene.add(pinned);
        const auto placed = scene.place();
        QCOMPARE(placed.size(), std::size_t{2});
        // The pin stands, however low its rank; the other goes elsewhere.
        QCOMPARE(placed[1].key.thing, std::int64_t{2});
        QCOMPARE(placed[1].at.origin, pinned.pin->origin);
        QVERIFY(!meet(placed[0].at, placed[1].at));
    }

    void leavesOutWhatFindsNoRoom() {
        Scene scene({0, 0, 60, 30});
        for (int i = 0; i < 12; ++i) scene.add(wishAt(i, {30, 15}, i));
        const auto placed = scene.place();
        QVERIFY(!placed.empty() && placed.size() < 12);
        // The highest rank is among them, under its own key and number.
        bool hasFirst = false;
        for (const auto& one : placed) {
            hasFirst = hasFirst || one.key.thing == 11;
            QCOMPARE(one.key.thing, static_cast<std::int64_t>(one.wish));
            QVERIFY(scene.wish(one.wish).key == one.key);
        }
        QVERIFY(hasFirst);
    }

    void keepsOffObstaclesAndEachOther() {
        std::mt19937 random(3);
        std::uniform_real_distribution<double> x(0, 400), y(0, 300);
        Scene scene({0, 0, 400, 300});
        const Box wall{150, 0, 250, 300};
        scene.avoid(wall);
        for (int i = 0; i < 150; ++i) scene.add(wishAt(i, {x(random), y(random)}, i % 3));
        const auto placed = scene.place();
        QVERIFY(placed.size() > 20);
        for (std::size_t i = 0; i < placed.size(); ++i) {
            QVERIFY(!meet(placed[i].at, {{}, 0, {wall}, 0}));
            for (std::size_t k = i + 1; k < placed.size(); ++k)
                QVERIFY(!meet(placed[i].at, placed[k].at));
        }
        // The same scene, the same result.
        const auto again = scene.place();
        QCOMPARE(again.size(), placed.size());
        for (std::size_t i = 0; i < placed.size(); ++i) {
            QVERIFY(again[i].key == placed[i].key);
            QCOMPARE(again[i].at.origin, placed[i].at.origin);
        }
    }

    void ordersKeys() {
        QVERIFY((Key{1, 2, 0} < Key{1, 2, 1}));
        QVERIFY((Key{1, 9, 9} < Key{2, 0, 0}));
        QVERIFY((Key{1, 2, 3} == Key{1, 2, 3}));
        QVERIFY(Scene({0, 0, 1, 1}).place().empty());
    }
};

QTEST_GUILESS_MAIN(SceneTest)
#include "scene_test.moc"
