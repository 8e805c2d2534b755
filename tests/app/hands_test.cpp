#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPainter>
#include <QPushButton>
#include <QSplitter>

#include "app/benches/ramp_stops.h"
#include "app/probe_panel.h"
#include "app/profile_drawer.h"
#include "app/stack/stack_panel.h"
#include "app/widgets/code_view.h"
#include "core/crs/catalogue.h"
#include "core/crs/transformation.h"
#include "session/aside.h"
#include "session/derive/lineage.h"
#include "support/coarse_demo.h"
#include "support/test_window.h"

using namespace ledge;
using namespace ledge::app;

/// What hands do on the map and the benches, and what must not slip away beneath them.
class HandsTest : public QObject, test::TestWindow {
    Q_OBJECT

private:
    QLineEdit* jump() const { return m_window->findChild<QLineEdit*>("jumpField"); }
    QListWidget* found() const { return m_window->findChild<QListWidget*>("jumpList"); }
    void type(const QString& words) const {
        jump()->setFocus();
        jump()->clear();
        QTest::keyClicks(jump(), words);
        QTRY_VERIFY(found()->isVisible() && found()->count() > 0);
        QTest::qWait(60);  // the last letter's
    }
    void clickMap(const QPoint& at, Qt::KeyboardModifiers keys = {}) const {
        QTest::mouseMove(m_window->map(), at);
        QTest::mouseClick(m_window->map(), Qt::LeftButton, keys, at);
    }
    // Where a place of the map's plane is on the pane.
    QPoint onPane(Point at) const {
        const Point px = m_window->map()->frame().toPixels()(at);
        const double ratio = m_window->devicePixelRatioF();
        return QPoint(qRound(px.x / ratio), qRound(px.y / ratio));
    }
    Point middleOfFirst(const char* layerName) const {
        const auto* one = document().layer(layer(layerName));
        // Read beside, as the window itself would.
        return session::aside([&, source = *document().source(one->source)] {
            const auto features = m_session->sources()->features(source, m_session->mapCrs());
            if (!features) return kNowhere;
            const auto part = (*(*features)->table)[0].geometry.part(0);
            return part[part.size() / 2];
        });
    }

private slots:
    void initTestCase() { openWindow(test::coarseDemo()); }
    void cleanup() {
        workspace().showMap();
        workspace().setTool(Tool::Move);
        workspace().setBench(Bench::Data);
        undoAll();
        QVERIFY(waitUntilIdle(*m_window));
    }
    void cleanupTestCase() { closeWindow(); }

    void showsEveryToolWhole_data() {
        QTest::addColumn<QSize>("size");
        for (const QSize size : {QSize(1024, 700), QSize(1280, 800), QSize(1900, 1000)})
            QTest::newRow(qPrintable(QString::number(size.width()))) << size;
    }
    void showsEveryToolWhole() {
        QFETCH(QSize, size);
        m_window->resize(size);
        QTRY_COMPARE(m_window->size(), size);
        QVERIFY(waitUntilIdle(*m_window));
        const QRect map(QPoint(0, 0), m_window->map()->size());
        for (const char* name :
             {"Move", "Probe", "Measure", "Profile", "Curtain", "Whole", "Back", "Forward"}) {
            auto* tool = m_window->findChild<QToolButton*>(QString("tool") + name);
            QVERIFY2(tool && tool->isVisible(), name);
            QVERIFY2(map.contains(QRect(tool->mapTo(m_window->map(), QPoint(0, 0)), tool->size())),
                     name);
        }
        m_window->resize(windowSize());
        QVERIFY(waitUntilIdle(*m_window));
    }

    void widensTheBench() {
        auto* bench = m_window->findChild<QWidget*>("benchFrame");
        const int before = bench->width();
        QTest::keyClick(m_window.get(), Qt::Key_Left, Qt::AltModifier | Qt::ShiftModifier);
        QCOMPARE(bench->width(), before + 40);
        QTest::keyClick(m_window.get(), Qt::Key_Right, Qt::AltModifier | Qt::ShiftModifier);
        QTest::keyClick(m_window.get(), Qt::Key_Right, Qt::AltModifier | Qt::ShiftModifier);
        QCOMPARE(bench->width(), before);  // no narrower than its pages are
    }

    void keepsAMeasuredLineInAnotherCrs() {
        workspace().setTool(Tool::Measure);
        auto& measuring = m_window->map()->measuring();
        measuring.setSnaps(false);
        measuring.clear();
        for (const QPoint at : {QPoint(220, 240), QPoint(420, 330)}) clickMap(at);
        QCOMPARE(measuring.points().size(), std::size_t{2});
        const auto before = measuring.points();
        const auto from = m_session->mapCrs();
        QVERIFY(workspace().perform("map-crs", {{"crs", "EPSG:3034"}}));
        QVERIFY(waitUntilIdle(*m_window));
        QCOMPARE(measuring.points().size(), std::size_t{2});
        const auto way = crs::Transformation::between(from, m_session->mapCrs());
        for (std::size_t i = 0; i < 2; ++i)
            QVERIFY(distance(measuring.points()[i], way->forward(before[i])) < 1e-6);
        measuring.clear();
    }

    void tellsNoBearingOfALegWithoutLength() {
        const auto crs = *crs::crsFromCode(32629);
        const std::vector<Point> same{{500000, 6800000}, {500000, 6800000}};
        const auto none = session::measure(crs, same, false);
        QVERIFY(std::isnan(none.bearing) && std::isnan(none.gridBearing));
        const std::vector<Point> east{{500000, 6800000}, {500100, 6800000}};
        QVERIFY(std::abs(session::measure(crs, east, false).gridBearing - 90) < 1e-9);
    }

    void pagesThroughWhatWasProbed() {
        auto* panel = m_window->findChild<ProbePanel*>();
        workspace().setTool(Tool::Probe);
        clickMap(onPane(middleOfFirst("Roads")));
        QTRY_VERIFY(panel->isVisible());
        QVERIFY(waitUntilIdle(*m_window));
        auto* next = panel->findChild<QToolButton*>("probeNext");
        auto* back = panel->findChild<QToolButton*>("probeBack");
        auto* count = panel->findChild<QLabel*>("probeCount");
        QVERIFY(next->isVisible() && !back->isEnabled());
        QVERIFY2(count->text().startsWith("1 "), qPrintable(count->text()));
        const QImage first = m_window->map()->grab().toImage();
        QTest::mouseClick(next, Qt::LeftButton);
        QCOMPARE(panel->current(), 1);
        QVERIFY(m_window->map()->grab().toImage() != first);  // another one is flashed
        panel->setFocus();
        QTest::keyClick(panel, Qt::Key_Up);
        QCOMPARE(panel->current(), 0);
        const auto cards = panel->findChildren<ProbeCard*>();
        QTest::mouseClick(cards.last(), Qt::LeftButton, {}, QPoint(4, 4));
        QCOMPARE(panel->current(), static_cast<int>(cards.size()) - 1);
        QVERIFY(!next->isEnabled());
        QTest::keyClick(panel, Qt::Key_Escape);
        QVERIFY(!panel->isVisible());
    }

    void doesWhatAWordSays_data() {
        QTest::addColumn<QString>("word");
        QTest::addColumn<Bench>("bench");
        QTest::newRow("a light") << "hillshade" << Bench::Terrain;
        QTest::newRow("a formula") << "formula" << Bench::Data;
        QTest::newRow("a bench") << "labels bench" << Bench::Labels;
    }
    void doesWhatAWordSays() {
        QFETCH(QString, word);
        QFETCH(Bench, bench);
        workspace().selectLayer(layer("Crofts"));
        workspace().setBench(Bench::Style);
        type(word);
        QTRY_VERIFY(found()->count() > 0 &&
                    found()->item(0)->text().contains(word, Qt::CaseInsensitive));
        QTest::keyClick(jump(), Qt::Key_Return);
        QTRY_COMPARE(workspace().bench(), bench);
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(
            m_window->findChild<QWidget*>("benchFrame")->isAncestorOf(QApplication::focusWidget()));
        if (bench == Bench::Terrain) QVERIFY(workspace().layer()->readsHeights());
    }

    void saysWhenNothingIsCalledSo() {
        type("qqqzzz");
        QTRY_VERIFY(found()->count() == 1 && found()->item(0)->text().startsWith("Nothing"));
        QVERIFY(!(found()->item(0)->flags() & Qt::ItemIsEnabled));
        const auto before = workspace().view();
        QTest::keyClick(jump(), Qt::Key_Return);
        QVERIFY(workspace().view() == before);
        QTest::keyClick(jump(), Qt::Key_Escape);
    }

    void jumpsToTypedPlaces_data() {
        QTest::addColumn<QString>("typed");
        for (const char* typed : {"61.6N 10.7W", "61°36'N 10°42'W", "61 36 00 N, 10 42 00 W"})
            QTest::newRow(typed) << QString::fromUtf8(typed);
    }
    void jumpsToTypedPlaces() {
        QFETCH(QString, typed);
        jump()->setFocus();
        jump()->setText(typed);
        Q_EMIT jump()->textEdited(typed);
        QTRY_VERIFY(found()->isVisible() && found()->count() > 0 &&
                    found()->item(0)->text().startsWith(typed.left(4)));
        QTest::keyClick(jump(), Qt::Key_Return);
        const auto way = crs::Transformation::between(m_session->mapCrs(), *crs::crsFromCode(4326));
        const Point at = way->forward(workspace().view().centre);
        QVERIFY(std::abs(at.y - 61.6) < 1e-6 && std::abs(at.x + 10.7) < 1e-6);
    }

    void changesTheStopsOfARamp() {
        workspace().selectLayer(layer("Height tint"));
        workspace().setBench(Bench::Style);
        QVERIFY(waitUntilIdle(*m_window));
        const auto ramp = [this] {
            return document().layer(layer("Height tint"))->as<doc::HeightTint>()->style.ramp;
        };
        const Ramp before = ramp();
        auto* shows = shown<QCheckBox>("showsStops");
        QVERIFY(shows);
        QTest::keyClick(shows, Qt::Key_Space);
        // Laid out before it is clicked.
        QTRY_VERIFY(shown<QPushButton>("addStop1") && shown<QPushButton>("addStop1")->width() > 4);
        QVERIFY(waitUntilIdle(*m_window));
        QTest::mouseClick(shown<QPushButton>("addStop1"), Qt::LeftButton);
        QCOMPARE(ramp().stops.size(), before.stops.size() + 1);
        QCOMPARE(ramp().at(before.stops[1].value), before.at(before.stops[1].value));
        QTRY_VERIFY(shown<QPushButton>("removeStop2"));
        QVERIFY(waitUntilIdle(*m_window));
        QTest::mouseClick(shown<QPushButton>("removeStop2"), Qt::LeftButton);
        QVERIFY(ramp() == before);
        QTRY_VERIFY(shown<QDoubleSpinBox>("stop1"));
        auto* box = shown<QDoubleSpinBox>("stop1");
        const double asked = (before.stops[0].value + before.stops[1].value) / 2;
        box->setFocus();
        box->selectAll();
        QTest::keyClicks(box, QString::number(asked));
        QTest::keyClick(box, Qt::Key_Return);
        QVERIFY(std::abs(ramp().stops[1].value - asked) < 0.01);
        QVERIFY(box->hasFocus());
        // Past its neighbour it cannot go; the field shows what holds.
        box->selectAll();
        QTest::keyClicks(box, QString::number(before.stops[2].value + 1));
        QTest::keyClick(box, Qt::Key_Return);
        QVERIFY(std::abs(ramp().stops[1].value - asked) < 0.01);
        QVERIFY(std::abs(box->value() - asked) < 0.01);
        QTest::mouseClick(shown<QPushButton>("plainGrey"), Qt::LeftButton);
        for (const RampStop& stop : ramp().stops)
            QVERIFY(stop.colour.r == stop.colour.g && stop.colour.g == stop.colour.b);
        QTest::keyClick(shows, Qt::Key_Space);
    }

    // A photograph opens as it is stored, and its swatch is that photograph.
    void showsAPhotographInItsSwatch() {
        const QString path = m_dir.filePath("halves.png");
        QImage halves(96, 72, QImage::Format_RGB32);
        halves.fill(QColor(200, 30, 20));
        QPainter(&halves).fillRect(QRect(48, 0, 48, 72), QColor(20, 40, 180));
        QVERIFY(halves.save(path));
        QFile world(m_dir.filePath("halves.pgw"));
        QVERIFY(world.open(QIODevice::WriteOnly));
        world.write("10\n0\n0\n-10\n404000\n6836000\n");
        world.close();
        m_window->addFiles({path});
        QVERIFY(waitUntilIdle(*m_window));
        const auto photo = workspace().selectedLayer();
        const auto* raster = document().layer(photo)->as<doc::RasterLayer>();
        QVERIFY(raster && raster->style.image && raster->style.image->stretch == Stretch::Stored);
        const auto colours = [&] {
            const QImage swatch = m_window->findChild<StackPanel*>()->strip(photo)->swatch();
            const int y = swatch.height() / 2;
            return std::pair(swatch.pixelColor(swatch.width() / 4, y),
                             swatch.pixelColor(swatch.width() * 3 / 4, y));
        };
        const auto isNear = [](const QColor& one, const QColor& other) {
            return std::abs(one.red() - other.red()) < 6 &&
                   std::abs(one.green() - other.green()) < 6 &&
                   std::abs(one.blue() - other.blue()) < 6;
        };
        QVERIFY2(isNear(colours().first, QColor(200, 30, 20)), qPrintable(colours().first.name()));
        QVERIFY2(isNear(colours().second, QColor(20, 40, 180)),
                 qPrintable(colours().second.name()));
        // It follows the style, and undoing.
        workspace().setMember("style.image.gamma", "2");
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(!isNear(colours().first, QColor(200, 30, 20)));
        QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(isNear(colours().first, QColor(200, 30, 20)));
    }

    void saysWhereTheUnitOfHeightsIsFrom() {
        workspace().selectLayer(layer("Old survey grid"));
        QVERIFY(waitUntilIdle(*m_window));
        auto* hint = shown<QLabel>("heightHint");
        QVERIFY(hint);
        QVERIFY2(hint->text().contains("not stated"), qPrintable(hint->text()));
        // Strips tell heights in the unit of the file.
        const auto tint = layer("Height tint");
        workspace().selectLayer(tint);
        auto* facts = m_window->findChild<StackPanel*>()->strip(tint)->findChild<QLabel*>("facts");
        QVERIFY2(facts->text().endsWith(" m"), qPrintable(facts->text()));
        auto* unit = shown<QComboBox>("heightUnit");
        QVERIFY(unit);
        unit->setFocus();
        QTest::keyClick(unit, Qt::Key_Down);
        QVERIFY(waitUntilIdle(*m_window));
        QTRY_VERIFY2(facts->text().endsWith(" ft"), qPrintable(facts->text()));
    }

    void saysWhatASlopeRasterIs() {
        workspace().selectLayer(layer("Height tint"));
        workspace().setBench(Bench::Terrain);
        QVERIFY(waitUntilIdle(*m_window));
        QTest::mouseClick(shown<QPushButton>("addSlope"), Qt::LeftButton);
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(workspace().source() && workspace().source()->lineage);
        auto* way = shown<QPushButton>("toLineage");
        QVERIFY(way);
        bool isTold = false;
        for (auto* code : m_window->findChildren<CodeView*>())
            isTold = isTold || (code->isVisible() && code->text().contains("terrain slope"));
        QVERIFY(isTold);
        QTest::mouseClick(way, Qt::LeftButton);
        QCOMPARE(workspace().bench(), Bench::Data);
    }

    // However long a command is, no page becomes wider than its place.
    void wrapsLongCommands() {
        CodeView code("command");
        code.resize(200, 20);
        code.show();
        code.setText("ledge calculate " + QString(400, 'x'));
        QVERIFY(QTest::qWaitForWindowExposed(&code));
        QTRY_VERIFY(code.height() > 100);
        QVERIFY(code.minimumSizeHint().width() <= 200);
        QCOMPARE(code.text().count('\n'), qsizetype{0});
        const int tall = code.height();
        code.setText("short");
        QVERIFY(code.height() < tall);
    }

    void takesALineForAProfile() {
        workspace().setTool(Tool::Profile);
        auto* drawer = m_window->profileDrawer();
        clickMap(onPane(middleOfFirst("Roads")));
        QTRY_VERIFY(!drawer->runs().empty());
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(m_window->map()->measuring().points().empty());
        // Highest and lowest are links to their places.
        auto* facts = m_window->findChild<QLabel*>("profileFacts");
        QVERIFY(facts->text().contains("<a href"));
        Q_EMIT facts->linkActivated(QString::number(drawer->runs()[0].summary.highestAt));
        QVERIFY(facts->text().contains("N ") || facts->text().contains("°"));
        // With Shift a point is taken where a line lies, too.
        m_window->map()->measuring().clear();
        clickMap(onPane(middleOfFirst("Roads")), Qt::ShiftModifier);
        QVERIFY(waitUntilIdle(*m_window));
        QCOMPARE(m_window->map()->measuring().points().size(), std::size_t{1});
        m_window->map()->measuring().clear();
        drawer->hide();
    }

    // A failure is not told any longer once something worked.
    void forgetsTroubleAfterSuccess() {
        QVERIFY(!workspace().perform("layer-opacity", {{"layer", "nobody"}, {"percent", "500"}}));
        auto* where = m_window->findChild<QLabel*>("where");
        QVERIFY2(where->text().contains("nobody") && where->text().contains("500"),
                 qPrintable(where->text()));  // both of what was wrong
        QTest::qWait(400);
        QVERIFY(workspace().perform("layer-opacity", {{"layer", "Roads"}, {"percent", "50"}}));
        QVERIFY(where->text().isEmpty());
    }

    void placesWhatIsAdded() {
        const auto place = [this](const char* name) {
            return doc::placeOf(document(), layer(name)).value_or(doc::Place{0, 999}).index;
        };
        const std::string dem =
            document().source(document().layer(layer("Height tint"))->source)->path.string();
        const std::size_t above = place("Coast");
        m_window->addFiles({QString::fromStdString(dem)});
        QVERIFY(waitUntilIdle(*m_window));
        const auto added = workspace().selectedLayer();
        QVERIFY(document().layer(added)->as<doc::HeightTint>());
        QVERIFY(doc::placeOf(document(), added)->index > above);
    }
};

QTEST_MAIN(HandsTest)
#include "hands_test.moc"
