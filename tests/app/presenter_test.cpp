#include <QTest>

#include "app/canvas/latest_worker.h"
#include "app/canvas/map_pane.h"
#include "app/canvas/sheet_canvas.h"
#include "app/canvas/shown_layers.h"
#include "app/header_bar.h"
#include "app/settling.h"
#include "app/stack/stack_panel.h"
#include "core/crs/transformation.h"
#include "document/edits/layer_edits.h"
#include "document/edits/project_edits.h"
#include "document/edits/sheet_edits.h"
#include "document/map_crs.h"
#include "support/patience.h"

using namespace ledge;
using namespace ledge::app;

namespace {
const doc::PageRect kRect{20, 30, 100, 50};
}

/// The rules behind gestures, without a window.
class PresenterTest : public QObject {
    Q_OBJECT

private slots:
    void findsHandlesAtEdgesAndCorners_data() {
        QTest::addColumn<QPointF>("at");
        QTest::addColumn<bool>("inside");
        QTest::addColumn<int>("horizontal");
        QTest::addColumn<int>("vertical");
        QTest::newRow("middle") << QPointF(70, 55) << true << 0 << 0;
        QTest::newRow("left edge") << QPointF(20.5, 55) << true << -1 << 0;
        QTest::newRow("right edge, just outside") << QPointF(121, 55) << true << 1 << 0;
        QTest::newRow("top left") << QPointF(19, 31) << true << -1 << -1;
        QTest::newRow("bottom right") << QPointF(120, 80) << true << 1 << 1;
        QTest::newRow("far") << QPointF(140, 55) << false << 0 << 0;
    }
    void findsHandlesAtEdgesAndCorners() {
        QFETCH(QPointF, at);
        QFETCH(bool, inside);
        QFETCH(int, horizontal);
        QFETCH(int, vertical);
        const Grip grip = gripAt(kRect, at, 2);
        QCOMPARE(grip.isInside, inside);
        QCOMPARE(grip.horizontal, horizontal);
        QCOMPARE(grip.vertical, vertical);
    }

    void dragsOneSideAndKeepsTheOther() {
        QVERIFY(dragged(kRect, {true, 0, 0}, {5, -5}) == (doc::PageRect{25, 25, 100, 50}));
        QVERIFY(dragged(kRect, {true, -1, 0}, {10, 99}) == (doc::PageRect{30, 30, 90, 50}));
        QVERIFY(dragged(kRect, {true, 1, 1}, {10, -10}) == (doc::PageRect{20, 30, 110, 40}));
        // Never turned inside out; the far side stays.
        const auto small = dragged(kRect, {true, -1, -1}, {500, 500});
        QCOMPARE(small.left + small.width, 120.0);
        QCOMPARE(small.top + small.height, 80.0);
        QVERIFY(small.width > 0 && small.height > 0);
    }

    void drawsEdgesToThoseOfOtherItems() {
        doc::Document d;
        auto [made, id] = doc::addSheet(d, "s", 297, 210, {});
        auto sheet = *made.sheet(id);
        sheet.items.resize(1);
        sheet.items[0].change([](doc::SheetItem& i) { i.rect = {50, 60, 40, 20}; });
        const auto moved = snapped({91.2, 100, 30, 10}, {true, 0, 0}, sheet, {999}, 2).rect;
        QCOMPARE(moved.left, 90.0);
        QCOMPARE(moved.width, 30.0);
        const auto wider = snapped({10, 100, 38.9, 10}, {true, 1, 0}, sheet, {999}, 2).rect;
        QCOMPARE(wider.left + wider.width, 50.0);
        const auto far = snapped({200, 150, 30, 10}, {true, 0, 0}, sheet, {999}, 2).rect;
        QVERIFY(far == (doc::PageRect{200, 150, 30, 10}));
        // An item is no guide for itself.
        const auto own =
            snapped({50.5, 60, 40, 20}, {true, 0, 0}, sheet, {sheet.items[0]->id}, 2).rect;
        QCOMPARE(own.left, 50.5);
    }

    void hidesStripsOfFoldedGroups() {
        doc::Document d;
        const auto add = [&](doc::LayerContent content, doc::Place place) {
            doc::Layer l;
            l.content = std::move(content);
            auto [next, id] = doc::addLayer(d, l, place);
            d = next;
            return id;
        };
        const auto group = add(doc::Group{}, {});
        const auto inner = add(doc::Hillshade{}, {group, 0});
        const auto top = add(doc::Contours{}, {});
        using Strips = std::vector<std::pair<doc::Id, int>>;
        QCOMPARE(visibleStrips(d.layers), (Strips{{top, 0}, {group, 0}, {inner, 1}}));
        const auto folded =
            doc::withLayer(d, group, [](doc::Layer& l) { l.as<doc::Group>()->isFolded = true; });
        QCOMPARE(visibleStrips(folded.layers), (Strips{{top, 0}, {group, 0}}));
    }

    // Where strips land that are let go over the upper, middle and lower part of each strip.
    void findsThePlaceOfADrop_data() {
        QTest::addColumn<int>("row");
        QTest::addColumn<double>("within");
        QTest::addColumn<QString>("moved");
        QTest::addColumn<QString>("after");
        const auto drop = [](int row, double within, const char* moved, const char* after) {
            QTest::newRow(qPrintable(QString("%1 over %2 at %3").arg(moved).arg(row).arg(within)))
                << row << within << moved << after;
        };
        // Rows: a, g(b, c), d
        drop(0, 0.2, "d", "d a g(b c)");
        drop(0, 0.8, "d", "a d g(b c)");
        drop(1, 0.1, "d", "a d g(b c)");
        drop(1, 0.5, "d", "a g(d b c)");
        drop(1, 0.9, "d", "a g(d b c)");
        drop(2, 0.8, "a", "g(b a c) d");
        drop(3, 0.8, "a", "g(b c a) d");
        drop(4, 0.2, "b", "a g(c) b d");
        drop(4, 0.8, "b", "a g(c) d b");
        drop(9, 0.5, "a", "g(b c) d a");
        drop(0, 0.2, "cd", "c d a g(b)");
        drop(4, 0.8, "ab", "g(c) d a b");
        drop(2, 0.2, "g", "a g(b c) d");  // not into itself
        drop(-1, 0.5, "d", "d a g(b c)");
    }
    void findsThePlaceOfADrop() {
        QFETCH(int, row);
        QFETCH(double, within);
        QFETCH(QString, moved);
        QFETCH(QString, after);
        doc::Document d;
        const auto add = [&](const char* name, doc::LayerContent content, doc::Place place) {
            doc::Layer l;
            l.name = name;
            l.content = std::move(content);
            auto [next, id] = doc::addLayer(d, l, place);
            d = next;
            return id;
        };
        add("d", doc::Contours{}, {});
        const auto group = add("g", doc::Group{}, {});
        add("c", doc::Contours{}, {group, 0});
        add("b", doc::Contours{}, {group, 0});
        add("a", doc::Contours{}, {});
        std::vector<doc::Id> ids;
        for (const auto& layer : doc::allLayers(d.layers))
            if (moved.contains(QString::fromStdString(layer->name))) ids.push_back(layer->id);
        const RowHeights heights;
        const auto rows = stackRows(d, nullptr, heights);
        QCOMPARE(rows.size(), std::size_t{5});
        const int y = row < 0 ? -50
                      : row > 4
                          ? 9999
                          : rows[static_cast<std::size_t>(row)].top + int(heights.layer * within);
        const auto drop = dropAt(rows, d, y, ids);
        const auto next = doc::moveLayers(d, ids, drop.place);
        const std::function<QString(const std::vector<doc::LayerPtr>&)> told =
            [&](const std::vector<doc::LayerPtr>& layers) {
                QStringList out;
                for (const auto& layer : layers) {
                    QString one = QString::fromStdString(layer->name);
                    if (const auto* inner = layer->as<doc::Group>())
                        one += "(" + told(inner->children) + ")";
                    out << one;
                }
                return out.join(' ');
            };
        QCOMPARE(told(next.layers), after);
    }

    void leavesOutTheBlinkedLayerOnly() {
        doc::Document d;
        doc::Layer one, two;
        one.content = doc::Hillshade{};
        two.content = doc::Contours{};
        auto [a, first] = doc::addLayer(d, one);
        auto [b, second] = doc::addLayer(a, two);
        QCOMPARE(doc::drawnLayers(withoutLayer(b, first)).size(), std::size_t{1});
        QCOMPARE(doc::drawnLayers(withoutLayer(b, 0)).size(), std::size_t{2});
    }

    void comparesAnyTwoStripsOrGroups() {
        doc::Document d;
        const auto add = [&d](doc::LayerContent content, bool isLit, doc::Place place = {}) {
            doc::Layer layer;
            layer.content = std::move(content);
            layer.isVisible = isLit;
            auto [next, id] = doc::addLayer(d, std::move(layer), place);
            d = std::move(next);
            return id;
        };
        const auto group = add(doc::Group{}, false);
        const auto inner = add(doc::Hillshade{}, true, {group, 0});
        const auto light = add(doc::Hillshade{}, true);
        const auto lines = add(doc::Contours{}, true);
        using Ids = std::vector<doc::Id>;
        const auto shown = [&](doc::Id one, doc::Id other, Side side) {
            Ids out;
            for (const auto& drawn : doc::drawnLayers(comparedLayers(d, one, other, side)))
                out.push_back(drawn.layer->id);
            return out;
        };
        // With a partner each side lights its own and puts the other out, lamps regardless.
        QCOMPARE(shown(light, group, Side::Front), (Ids{light, lines}));
        QCOMPARE(shown(light, group, Side::Behind), (Ids{inner, lines}));
        // The lower of two stands in the upper one's place: what lay between does not hide it.
        QCOMPARE(shown(group, lines, Side::Front), (Ids{light, inner}));
        QCOMPARE(shown(lines, group, Side::Behind), (Ids{light, inner}));
        QCOMPARE(shown(inner, light, Side::Front), (Ids{inner, lines}));
        // Without one: all, then all but it.
        QCOMPARE(shown(light, 0, Side::Front), (Ids{light, lines}));
        QCOMPARE(shown(light, 0, Side::Behind), (Ids{lines}));
        QVERIFY(canCompare(d, group, light));
        QVERIFY(!canCompare(d, group, inner));
        QVERIFY(!canCompare(d, inner, group));
        QVERIFY(!canCompare(d, light, light));
        QVERIFY(!canCompare(d, light, 999));
    }

    void makesOtherClassesFaint() {
        doc::Document d;
        doc::Layer layer;
        doc::RasterLayer raster;
        raster.style.classes = {{1, "a", {10, 20, 30}}, {2, "b", {40, 50, 60}}};
        layer.content = raster;
        auto [next, id] = doc::addLayer(d, layer);
        const auto lit = withLitClasses(next.layers, id, {2});
        const auto& classes = lit.front()->as<doc::RasterLayer>()->style.classes;
        QVERIFY(classes[0].colour.a > 0 && classes[0].colour.a < 80);
        QCOMPARE(classes[1].colour, (Colour{40, 50, 60}));
        QCOMPARE(*withLitClasses(next.layers, id, {}).front(), *next.layers.front());
    }

    void keepsThePlaceWhenTheMapsCrsChanges() {
        doc::Document d;
        d.mapCrs = "EPSG:32629";
        d = doc::saveView(d, "here", {{410000, 6830000}, 50000, 12}).first;
        const doc::Document moved = doc::withMapCrs(d, "EPSG:3857");
        QCOMPARE(moved.mapCrs, std::string("EPSG:3857"));
        const Point before = crs::toLonLat(*crs::crsFromCode(32629), d.views[0].view.centre);
        const Point after = crs::toLonLat(*crs::crsFromCode(3857), moved.views[0].view.centre);
        QVERIFY(distance(before, after) < 1e-9);
        // The scale on the ground stays, so that as much is seen.
        const double ground = doc::groundScale(d.views[0].view, *crs::crsFromCode(32629));
        const double kept = doc::groundScale(moved.views[0].view, *crs::crsFromCode(3857));
        QVERIFY(std::abs(kept / ground - 1) < 1e-9);
        // Without a CRS on one side there is nothing to go by.
        QCOMPARE(doc::viewInCrs(d.views[0].view, nullptr, *crs::crsFromCode(3857)).centre,
                 d.views[0].view.centre);
    }

    // What the window waits for is known by all who wait for it, and need not be waited for.
    void knowsWhatSettles() {
        int fired = 0;
        Settling late{60'000}, idle{60'000};
        connect(&late, &QTimer::timeout, this, [&] { ++fired; });
        connect(&idle, &QTimer::timeout, this, [&] { fired += 100; });
        QVERIFY(!Settling::isAny());
        late.start();
        QVERIFY(Settling::isAny());
        Settling::hurryAll();
        QTRY_COMPARE(fired, 1);
        QVERIFY(!Settling::isAny());
        // Only this once.
        QCOMPARE(late.interval(), 60'000);
        {
            Settling gone{60'000};
            gone.start();
            QVERIFY(Settling::isAny());
        }
        QVERIFY(!Settling::isAny());
    }
    void knowsOfEveryWorker() {
        QVERIFY(!LatestWorker::isAnyBusy());
        LatestWorker first, second;
        second.start([](const std::stop_token&) {});
        QVERIFY(LatestWorker::isAnyBusy());
        QTRY_VERIFY(!LatestWorker::isAnyBusy());
    }
    void goesOnAfterATaskThatThrows() {
        LatestWorker worker;
        QVERIFY(worker.problem().empty());
        worker.start([](const std::stop_token&) { throw std::runtime_error("no paper"); });
        QTRY_VERIFY(!worker.isBusy());
        QCOMPARE(worker.problem(), std::string("no paper"));
        std::atomic<bool> isDone{false};
        worker.start([&](const std::stop_token&) { isDone = true; });
        QTRY_VERIFY(isDone);
        worker.start([](const std::stop_token&) { throw 3; });
        QTRY_VERIFY(!worker.isBusy());
    }

    /// Who waits for a worker sees what it found: it is busy until its answer has been shown.
    void isBusyUntilItsAnswerIsShown() {
        QObject window;
        for (int i = 0; i < 200; ++i) {
            LatestWorker worker;
            std::atomic<bool> isFound{false};
            bool isShown = false;
            worker.start([&](const std::stop_token&) {
                QMetaObject::invokeMethod(&window, [&] { isShown = true; });
                isFound = true;
            });
            while (!isFound) std::this_thread::yield();
            if (i % 2 == 0) std::this_thread::sleep_for(std::chrono::microseconds(i * 10));
            QVERIFY(worker.isBusy() && !isShown);
            QTRY_VERIFY(!worker.isBusy());
            QVERIFY(isShown);
        }
    }

    /// What comes faster than it can be done is followed: something is finished again and again,
    /// and the last in the end.
    void followsWhatComesFast() {
        LatestWorker worker;
        std::atomic<int> stopped{0}, finished{0}, last{0};
        for (int i = 1; i <= 60; ++i) {
            worker.follow([&, i](const std::stop_token& stop) {
                for (int k = 0; k < 5 && !stop.stop_requested(); ++k)
                    std::this_thread::sleep_for(std::chrono::milliseconds(1));
                stop.stop_requested() ? ++stopped : ++finished;
                last = i;
            });
            std::this_thread::sleep_for(std::chrono::milliseconds(1));
        }
        QTRY_VERIFY_WITH_TIMEOUT(!worker.isBusy(), 5000);
        QCOMPARE(stopped.load(), 0);
        QCOMPARE(last.load(), 60);
        QVERIFY2(finished >= 3 && finished < 60, qPrintable(QString::number(finished)));
        // A start() stops it all the same.
        std::atomic<bool> wasStopped{false}, isRunning{false};
        worker.follow([&](const std::stop_token& stop) {
            isRunning = true;
            while (!stop.stop_requested()) std::this_thread::yield();
            wasStopped = true;
        });
        QTRY_VERIFY(isRunning);
        worker.start([](const std::stop_token&) {});
        QTRY_VERIFY(wasStopped && !worker.isBusy());
    }

    /// Closing while busy, idle, or just about to fall asleep: never a hang.
    void closesAtAnyMoment() {
        for (int i = 0; i < 2000; ++i) {
            LatestWorker worker;
            if (i % 3 == 0)
                worker.start([](const std::stop_token& stop) {
                    while (!stop.stop_requested()) std::this_thread::yield();
                });
            if (i % 3 == 1) worker.start([](const std::stop_token&) {});
            for (int k = 0; k < i % 17; ++k) std::this_thread::yield();
        }
    }

    void worksOnTheNewestTaskOnly() {
        LatestWorker worker;
        std::atomic<int> stopped{0}, finished{0}, last{0};
        for (int i = 1; i <= 50; ++i)
            worker.start([&, i](const std::stop_token& stop) {
                for (int k = 0; k < 200 && !stop.stop_requested(); ++k)
                    std::this_thread::sleep_for(std::chrono::milliseconds(1));
                stop.stop_requested() ? ++stopped : ++finished;
                last = i;
            });
        QTRY_VERIFY_WITH_TIMEOUT(!worker.isBusy(), 5000);
        QCOMPARE(finished.load(), 1);
        QCOMPARE(last.load(), 50);
        worker.start([](const std::stop_token& stop) {
            while (!stop.stop_requested()) std::this_thread::yield();
        });
    }  // the worker ends with its task
};

QTEST_MAIN(PresenterTest)
#include "presenter_test.moc"
