#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QRegularExpression>
#include <QToolButton>

#include "app/table/table_drawer.h"
#include "core/crs/geodesic.h"
#include "core/crs/transformation.h"
#include "core/geometry/measure.h"
#include "session/aside.h"
#include "session/shaping.h"
#include "support/coarse_demo.h"
#include "support/test_window.h"

using namespace ledge;
using namespace ledge::app;

/// Drawing and picking on the map, changing shapes, reading files as told, replacing in cells: by
/// mouse and keyboard in the real window.
class DrawTest : public QObject, test::TestWindow {
    Q_OBJECT

private:
    MapPane* map() const { return m_window->map(); }
    const doc::SourceRef& source(const char* name = "Crofts") const {
        return *document().source(document().layer(layer(name))->source);
    }
    TablePtr table(const char* name = "Crofts") const {
        return session::aside([&] {
            const auto read = m_session->sources()->table(source(name));
            return read ? *read : TablePtr();
        });
    }
    void startDrawing(const char* name, DrawMode mode) const {
        workspace().selectLayer(layer(name));
        QTest::keyClick(m_window.get(), Qt::Key_D, Qt::AltModifier);
        QTRY_VERIFY(workspace().tool() == Tool::Draw);
        auto* modes = shown<QComboBox>("drawMode");
        QVERIFY(modes);
        modes->setCurrentIndex(static_cast<int>(mode));
        Q_EMIT modes->activated(modes->currentIndex());
        map()->measuring().setSnaps(false);
        map()->measuring().clear();
    }
    void click(const QPoint& at, Qt::KeyboardModifiers keys = {}) const {
        QTest::mouseMove(map(), at);
        QTest::mouseClick(map(), Qt::LeftButton, keys, at);
    }
    void doubleClick(const QPoint& at) const {
        QTest::mouseMove(map(), at);
        QTest::mouseClick(map(), Qt::LeftButton, {}, at);
        QTest::mouseDClick(map(), Qt::LeftButton, {}, at);
        QTest::mouseRelease(map(), Qt::LeftButton, {}, at);
    }
    QPoint onPane(Point at) const {
        const Point px = map()->frame().toPixels()(at);
        const double ratio = m_window->devicePixelRatioF();
        return {qRound(px.x / ratio), qRound(px.y / ratio)};
    }
    void waitForEdit(std::size_t before) const {
        QTRY_VERIFY(source().edits->edits.size() > before);
        QVERIFY(waitUntilIdle(*m_window));
        QTRY_VERIFY(!map()->drawing().isWorking());
    }
    // An empty shape has the key of a first row.
    void waitForShape(FeatureKey key) const {
        QTRY_VERIFY(!map()->drawing().shape().isEmpty());
        QTRY_COMPARE(map()->drawing().shape().key, key);
        QVERIFY(waitUntilIdle(*m_window));
    }
    // One croft in the middle of the map, picked and in hand.
    void takeACroft() const {
        workspace().selectLayer(layer("Crofts"));
        const auto crofts = table();
        workspace().pick(source().id, {crofts->key(0)});
        map()->zoomToPicked(source().id);
        QVERIFY(waitUntilIdle(*m_window));
        startDrawing("Crofts", DrawMode::Vertices);
        waitForShape(crofts->key(0));
    }

private slots:
    void initTestCase() { openWindow(test::coarseDemo(30)); }
    void cleanup() {
        QApplication::setActiveWindow(m_window.get());
        map()->picking().setForm(PickForm::Frame);
        map()->drawing().setMode(DrawMode::Area);
        workspace().setTool(Tool::Move);
        workspace().pick(source().id, {});
        workspace().setBench(Bench::Data);
        undoAll();
        QVERIFY(waitUntilIdle(*m_window));
        Q_EMIT workspace().fitAsked(0);
        QVERIFY(waitUntilIdle(*m_window));
    }
    void cleanupTestCase() { closeWindow(); }

    void drawsAnAreaByClicks() {
        const std::size_t count = table()->size();
        startDrawing("Crofts", DrawMode::Area);
        QVERIFY(shown<QLabel>("drawInto")->text().contains("Crofts"));
        click({300, 300});
        click({360, 300});
        doubleClick({360, 360});
        waitForEdit(0);
        const auto after = table();
        QCOMPARE(after->size(), count + 1);
        const GeometryView drawn = after->geometry(count);
        QVERIFY(drawn.type == GeometryType::Polygon && drawn.points.size() == 4);
        const auto frame = map()->frame();
        const double side = 60 * m_window->devicePixelRatioF() * frame.unitsPerPx();
        QVERIFY2(std::abs(planarArea(drawn) / (side * side / 2) - 1) < 0.05,
                 qPrintable(QString("%1 of %2").arg(planarArea(drawn)).arg(side * side / 2)));
        QCOMPARE(m_session->history().undoLabel(), std::string("Draw area in Crofts"));
        QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(table()->size(), count);
    }
    void drawsByTypedLengthsAndBearings() {
        const std::size_t count = table("Hill paths")->size();
        startDrawing("Hill paths", DrawMode::Line);
        auto* typed = shown<QLineEdit>("drawTyped");
        typed->setFocus();
        const auto enter = [&](const char* text) {
            typed->clear();
            QTest::keyClicks(typed, text);
            QTest::keyClick(typed, Qt::Key_Return);
        };
        enter("120 m 45");  // from nowhere
        QVERIFY(shown<QLabel>("drawWrong") && shown<QLabel>("drawWrong")->text().contains("place"));
        QVERIFY(map()->measuring().points().empty());
        const auto crs = m_session->mapCrs();
        const auto degrees = *crs::Transformation::between(crs, *crs::crsFromCode(4326));
        const Point middle = degrees.forward(workspace().view().centre);
        enter(qPrintable(QString("%1 %2").arg(middle.y, 0, 'f', 6).arg(middle.x, 0, 'f', 6)));
        enter("150 m 45");
        enter("what is this");
        QVERIFY(shown<QLabel>("drawWrong"));
        enter("0.1 km N 90 E");
        QVERIFY(!shown<QLabel>("drawWrong"));
        QCOMPARE(map()->measuring().points().size(), std::size_t{3});
        const auto measured = session::measure(crs, map()->measuring().points(), false);
        QVERIFY(std::abs(measured.lastEllipsoidal - 100) < 1e-6);
        QVERIFY(std::abs(measured.bearing - 90) < 1e-6);
        enter("");  // Enter without a text ends it
        QTRY_VERIFY(!source("Hill paths").edits->isEmpty());
        QCOMPARE(table("Hill paths")->size(), count + 1);
        QCOMPARE(table("Hill paths")->geometry(count).points.size(), std::size_t{3});
    }
    void saysWhatALayerHolds() {
        startDrawing("Hill paths", DrawMode::Area);
        QVERIFY(shown<QLabel>("drawInto")->text().contains("choose a new layer"));
        click({300, 300});
        click({360, 300});
        doubleClick({360, 360});
        QTRY_VERIFY(m_window->findChild<QLabel*>("where")->text().contains("holds"));
        QVERIFY(source("Hill paths").edits->isEmpty());
        // A layer that is selected anew is drawn into as what it holds.
        workspace().selectLayer(layer("Crofts"));
        QCOMPARE(shown<QComboBox>("drawMode")->currentIndex(), int(DrawMode::Area));
        workspace().selectLayer(layer("Hill paths"));
        QCOMPARE(shown<QComboBox>("drawMode")->currentIndex(), int(DrawMode::Line));
    }
    void movesVerticesByMouse() {
        takeACroft();
        const auto& shape = map()->drawing().shape();
        const Point before = shape.onMap.points[1];
        const QPoint at = onPane(before), to = at + QPoint(25, -15);
        QTest::mousePress(map(), Qt::LeftButton, {}, at);
        QTest::mouseMove(map(), at + QPoint(10, -6));
        QTest::mouseMove(map(), to);
        QTest::mouseRelease(map(), Qt::LeftButton, {}, to);
        waitForEdit(0);
        const auto croft = table()->geometry(0).toGeometry();
        QTRY_COMPARE(map()->drawing().shape().own, croft);
        QVERIFY((onPane(map()->drawing().shape().onMap.points[1]) - to).manhattanLength() <= 2);
        const Geometry original = session::aside([&] {
            doc::SourceRef plain = source();
            plain.edits = {};
            return (*m_session->sources()->table(plain))->geometry(0).toGeometry();
        });
        for (std::size_t i = 0; i < original.points.size(); ++i)
            QCOMPARE(croft.points[i] == original.points[i], i != 1);
        QTRY_COMPARE(map()->drawing().shape().own, croft);
    }
    void addsVerticesOnSides() {
        takeACroft();
        const auto points = map()->drawing().shape().onMap.points;
        const std::size_t count = points.size();
        click(onPane((points[0] + points[1]) * 0.5));
        waitForEdit(0);
        QTRY_COMPARE(map()->drawing().shape().own.points.size(), count + 1);
        QCOMPARE(map()->drawing().vertex(), std::optional<std::size_t>(1));
    }
    void changesVerticesByKeyboard() {
        takeACroft();
        map()->setFocus();
        const auto before = map()->drawing().shape().own;
        QTest::keyClick(map(), Qt::Key_PageDown);
        QCOMPARE(map()->drawing().vertex(), std::optional<std::size_t>(0));
        QTest::keyClick(map(), Qt::Key_PageDown);
        QTest::keyClick(map(), Qt::Key_Right, Qt::ShiftModifier);
        waitForEdit(0);
        QTRY_VERIFY(map()->drawing().shape().own.points[1].x > before.points[1].x);
        QTest::keyClick(map(), Qt::Key_Insert);
        QTRY_COMPARE(map()->drawing().shape().own.points.size(), before.points.size() + 1);
        QTest::keyClick(map(), Qt::Key_Delete);
        QTRY_COMPARE(map()->drawing().shape().own.points.size(), before.points.size());
        // A step back leads to each of them.
        for (int i = 0; i < 3; ++i) QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier);
        QTRY_COMPARE(map()->drawing().shape().own, before);
    }
    void cutsAndMerges() {
        takeACroft();
        const std::size_t count = table()->size();
        const double area = planarArea(table()->geometry(0));
        const Box box = map()->drawing().shape().onMap.box();
        const Point middle = anchorOf(map()->drawing().shape().onMap);
        startDrawing("Crofts", DrawMode::Cut);
        QTRY_VERIFY(!workspace().picked(source().id).empty());
        click(onPane({box.xMin - box.width() * 0.05, middle.y}));
        doubleClick(onPane({box.xMax + box.width() * 0.05, middle.y}));
        waitForEdit(0);
        QVERIFY(table()->size() > count);
        double sum = 0;
        std::vector<FeatureKey> keys{table()->key(0)};
        for (std::size_t i = count; i < table()->size(); ++i) keys.push_back(table()->key(i));
        sum = planarArea(table()->geometry(0));
        for (std::size_t i = count; i < table()->size(); ++i)
            sum += planarArea(table()->geometry(i));
        QVERIFY(std::abs(sum / area - 1) < 1e-9);
        workspace().pick(source().id, keys);
        auto* merge = shown<QPushButton>("drawMerge");
        QTRY_VERIFY(merge->isEnabled());
        const std::size_t edits = source().edits->edits.size();
        QTest::mouseClick(merge, Qt::LeftButton);
        waitForEdit(edits);
        QCOMPARE(table()->size(), count);
        QVERIFY(std::abs(planarArea(table()->geometry(0)) / area - 1) < 1e-9);
    }
    void drawsHoles() {
        takeACroft();
        const Point middle = anchorOf(map()->drawing().shape().onMap);
        const std::size_t parts = map()->drawing().shape().own.partCount();
        startDrawing("Crofts", DrawMode::Hole);
        QTRY_VERIFY(!map()->drawing().shape().isEmpty());
        const QPoint at = onPane(middle);
        click(at + QPoint(-6, -6));
        click(at + QPoint(6, -6));
        doubleClick(at + QPoint(0, 6));
        waitForEdit(0);
        QCOMPARE(table()->geometry(0).partCount(), parts + 1);
        QVERIFY(!isInside(table()->geometry(0), middle));
    }

    // A point is whole with its first click, also as a further part.
    void drawsPointsAtOnce() {
        const std::size_t count = table("Places")->size();
        startDrawing("Places", DrawMode::Point);
        click({420, 420});
        QTRY_COMPARE(source("Places").edits->edits.size(), std::size_t{1});
        QCOMPARE(table("Places")->size(), count + 1);
        workspace().pick(source("Places").id, {table("Places")->key(0)});
        waitForShape(table("Places")->key(0));
        startDrawing("Places", DrawMode::Part);
        QTRY_VERIFY(!map()->drawing().shape().isEmpty());
        click({440, 440});
        QTRY_COMPARE(source("Places").edits->edits.size(), std::size_t{2});
        QCOMPARE(table("Places")->geometry(0).partCount(), std::size_t{2});
    }

    void picksInAnAreaAndAlongALine() {
        workspace().selectLayer(layer("Crofts"));
        QTest::keyClick(m_window.get(), Qt::Key_K, Qt::AltModifier);
        QTRY_VERIFY(workspace().tool() == Tool::Pick);
        auto* form = shown<QComboBox>("pickForm");
        QVERIFY(form);
        const QRect pane(QPoint(0, 0), map()->size());
        const auto choose = [&](PickForm how) {
            form->setCurrentIndex(static_cast<int>(how));
            Q_EMIT form->activated(form->currentIndex());
        };
        choose(PickForm::Area);
        // A triangle beneath the tools.
        click({5, pane.height() - 40});
        click({5, 190});
        doubleClick({pane.width() - 5, pane.height() - 40});
        QTRY_VERIFY(!workspace().picked(source().id).empty());
        QTRY_VERIFY(!map()->picking().isSearching());
        const auto within = workspace().picked(source().id);
        QVERIFY(within.size() < table()->size());
        QVERIFY(map()->measuring().points().empty());
        choose(PickForm::Line);
        click({5, pane.height() / 2});
        doubleClick({pane.width() - 5, pane.height() / 2});
        QTRY_VERIFY(!map()->picking().isSearching());
        QTRY_VERIFY(workspace().picked(source().id) != within);
        QVERIFY(shown<QLabel>("pickCount")->text().contains("picked"));
        QTest::mouseClick(shown<QPushButton>("pickNone"), Qt::LeftButton);
        QVERIFY(workspace().picked(source().id).empty());
    }

    void replacesInCells() {
        workspace().selectLayer(layer("Crofts"));
        QTest::keyClick(m_window.get(), Qt::Key_T, Qt::AltModifier);
        auto* drawer = m_window->tableDrawer();
        QTRY_VERIFY(drawer->isVisible() && !drawer->isBusy());
        auto* more = drawer->findChild<QToolButton*>("tableMore");
        Q_EMIT more->menu()->aboutToShow();
        for (QAction* action : more->menu()->actions())
            if (action->text().contains("replace")) action->trigger();
        auto* find = shown<QLineEdit>("replaceFind");
        QVERIFY(find);
        QTest::keyClicks(find, "a");
        QTest::keyClicks(shown<QLineEdit>("replaceWith"), "<a>");
        auto* button = shown<QPushButton>("replaceAll");
        QTRY_VERIFY(button->isEnabled() && button->text().contains("cells"));
        QTRY_VERIFY(!drawer->isBusy());
        const int said = button->text().remove(QRegularExpression("[^0-9]")).toInt();
        QVERIFY(said > 1);
        QTest::mouseClick(button, Qt::LeftButton);
        QCOMPARE(source().edits->edits.size(), static_cast<std::size_t>(said));
        QTRY_VERIFY(!drawer->isBusy());
        // One step undoes them all.
        QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(source().edits->isEmpty());
        drawer->hide();
    }

    void readsATableAsTold() {
        const QString path = m_dir.filePath("prices.csv");
        QFile file(path);
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write("x;y;n\xE6vn\n500000;6800000;4,5\n500010;6800000;7,5\n");
        file.close();
        m_window->addFiles({path});
        QVERIFY(waitUntilIdle(*m_window));
        QTRY_VERIFY(layer("Prices") != 0);
        workspace().selectLayer(layer("Prices"));
        workspace().setBench(Bench::Data);
        QTRY_VERIFY(shown<QComboBox>("readDecimals"));
        QCOMPARE(shown<QComboBox>("readDelimiter")->currentText(), QString("semicolon"));
        QCOMPARE(shown<QComboBox>("readDecimals")->currentText(), QString("comma"));
        QCOMPARE(shown<QComboBox>("readEncoding")->currentText(), QString("ISO-8859-1"));
        auto* encoding = shown<QComboBox>("readEncoding");
        encoding->setCurrentText("ISO-8859-5");
        Q_EMIT encoding->activated(encoding->currentIndex());
        QCOMPARE(source("Prices").reading.encoding, std::string("ISO-8859-5"));
        QVERIFY(waitUntilIdle(*m_window));
        QCOMPARE(QString::fromStdString(table("Prices")->info.fields[2].name),
                 QString::fromUtf8("nцvn"));
        QVERIFY(source("Prices").reading.delimiter.empty());  // only what was touched changed
    }
};

QTEST_MAIN(DrawTest)
#include "draw_test.moc"
