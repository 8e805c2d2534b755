#include <QApplication>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QDropEvent>
#include <QFile>
#include <QInputDialog>
#include <QMimeData>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QTableWidget>
#include <QTemporaryDir>
#include <QTest>
#include <QTimer>

#include "app/benches/derive_panel.h"
#include "app/benches/sheet_bench.h"
#include "app/canvas/map_pane.h"
#include "app/canvas/sheet_canvas.h"
#include "app/crs/crs_picker.h"
#include "app/main_window.h"
#include "app/measure_panel.h"
#include "app/picture_tour.h"
#include "app/probe_panel.h"
#include "app/profile_drawer.h"
#include "app/stack/stack_panel.h"
#include "app/table/table_drawer.h"
#include "app/theme.h"
#include "app/widgets/histogram_view.h"
#include "app/widgets/light_shelf.h"
#include "app/widgets/sun_dial.h"
#include "core/crs/transformation.h"
#include "document/edits/layer_edits.h"
#include "document/edits/project_edits.h"
#include "document/edits/sheet_edits.h"
#include "document/json/members.h"
#include "document/json/project_json.h"
#include "document/kinds.h"
#include "document/map_crs.h"
#include "session/aside.h"
#include "session/class_table.h"
#include "support/coarse_demo.h"
#include "support/reference_table.h"
#include "support/test_window.h"

using namespace ledge;
using namespace ledge::app;

/// The real window on the demo project, driven by mouse and keyboard. Tests run in order and go on
/// from each other, as a person's work does.
class WindowTest : public QObject, test::TestWindow {
    Q_OBJECT

private:
    Strip* strip(const char* name) const {
        return m_window->findChild<StackPanel*>()->strip(layer(name));
    }
    QImage mapPicture() const {
        waitUntilIdle(*m_window);
        return m_window->map()->grab().toImage();
    }
    template <typename T>
    T* find(const char* name) const {
        T* found = m_window->findChild<T*>(name);
        if (!found) qWarning("no %s", name);
        return found;
    }
    void press(QWidget* widget) const { QTest::mouseClick(widget, Qt::LeftButton); }

    // Types into the dialog that the next step opens.
    void answerDialog(const QString& text) const {
        QTimer::singleShot(0, [text] {
            auto* dialog = qobject_cast<QInputDialog*>(QApplication::activeModalWidget());
            if (!dialog) return;
            dialog->setTextValue(text);
            dialog->accept();
        });
    }

    void computesAColumnOfClasses(QTableWidget* table) {
        const auto style = [this]() -> const doc::RasterStyle& {
            return m_window->workspace().layer()->as<doc::RasterLayer>()->style;
        };
        press(strip("Land cover")->findChild<QToolButton*>("lamp"));
        QVERIFY(waitUntilIdle(*m_window));
        m_session->apply(doc::withLayer(document(), layer("Relief of Island DEM"),
                                        [](doc::Layer& l) { l.isVisible = false; }),
                         "Lamp off");
        const int columns = table->columnCount();
        answerDialog("weight");
        press(find<QPushButton>("addColumn"));
        QCOMPARE(table->columnCount(), columns + 1);
        find<QLineEdit>("columnFormula")->setText("cell * 2");
        press(find<QPushButton>("computeColumn"));
        const auto* wrong = find<QLabel>("columnFormulaWrong");
        QVERIFY(wrong->isVisible() && wrong->text().contains("cell"));
        for (const auto& one : style().classes) QVERIFY(one.numbers.empty() || !one.numbers[0]);
        find<QLineEdit>("columnFormula")->setText("cells * 2");
        // A condition picks rows; the map lights their pixels; computing says it is for them only.
        const QImage plain = mapPicture();
        find<QLineEdit>("pickClasses")->setText("share > 20");
        const auto lit = m_window->workspace().litClasses();
        QVERIFY(!lit.empty() && lit.size() < style().classes.size());
        QVERIFY(mapPicture() != plain);
        QVERIFY(find<QPushButton>("computeColumn")->text().contains("picked"));
        press(find<QPushButton>("computeColumn"));
        for (const auto& one : style().classes) {
            QCOMPARE(one.numbers[0].has_value(), lit.contains(one.value));
            if (one.numbers[0]) QCOMPARE(*one.numbers[0], 2.0 * double(one.count));
        }
        QVERIFY(!wrong->isVisible());
        press(find<QPushButton>("invertPicks"));
        QCOMPARE(m_window->workspace().litClasses().size(), style().classes.size() - lit.size());
        find<QLineEdit>("pickClasses")->clear();
        QVERIFY(m_window->workspace().litClasses().empty());
        // A pixel finds its row.
        m_window->workspace().setTool(Tool::Probe);
        for (const double share : {0.5, 0.4, 0.6, 0.3, 0.7}) {
            auto* map = m_window->map();
            map->probeAt(QPoint(int(map->width() * share), map->height() / 2));
            QTest::qWait(300);
            if (!table->selectionModel()->selectedRows().isEmpty()) break;
        }
        QTRY_COMPARE(table->selectionModel()->selectedRows().size(), 1);
        QCOMPARE(m_window->workspace().litClasses().size(), std::size_t{1});
        QTest::keyClick(m_window->map(), Qt::Key_Escape);
        m_window->workspace().setTool(Tool::Move);
        table->clearSelection();
        press(find<QPushButton>("writeClassTable"));
        QVERIFY(QFile::exists(QString::fromStdString(
            session::classSidecar(m_window->workspace().source()->path).string())));
    }

private slots:
    void initTestCase() { openWindow(); }
    void cleanupTestCase() {
        // Nothing of the window stands on its own.
        for (const QWidget* widget : QApplication::topLevelWidgets())
            QVERIFY2(widget == m_window.get() || !widget->isVisible(),
                     qPrintable(widget->objectName()));
        m_session->clear();
        closeWindow();
    }

    void opensTheDemo() {
        m_window->openPath(QString::fromStdString(test::coarseDemo().string()));
        QVERIFY(waitUntilIdle(*m_window));
        m_opened = m_session->snapshot();
        QVERIFY(document().layers.size() > 5);
        const QImage picture = mapPicture();
        std::set<QRgb> colours;
        for (int y = 100; y < picture.height() - 100; y += 5)
            for (int x = 100; x < picture.width() - 100; x += 5)
                colours.insert(picture.pixel(x, y));
        QVERIFY(colours.size() > 200);
        QVERIFY(m_window->map()->report().problems.empty());
        QVERIFY(m_window->map()->report().labels.size() > 2);
        QVERIFY(!m_session->isModified());
    }

    void turnsLampsOffAndOn() {
        const QImage before = mapPicture();
        press(strip("Relief of Island DEM")->findChild<QToolButton*>("lamp"));
        QVERIFY(!document().layer(layer("Relief of Island DEM"))->isVisible);
        const QImage dark = mapPicture();
        QVERIFY(dark != before);
        press(strip("Relief of Island DEM")->findChild<QToolButton*>("lamp"));
        QVERIFY(mapPicture() == before);
        strip("Roads")->setFocus();
        QTest::keyClick(strip("Roads"), Qt::Key_Space);
        QVERIFY(!document().layer(layer("Roads"))->isVisible);
        m_session->undo();
    }

    void dragsAnOpacity() {
        auto* slider = strip("Crofts")->findChild<ThinSlider*>("opacity");
        const double before = document().layer(layer("Crofts"))->opacity;
        QTest::mousePress(slider, Qt::LeftButton, {}, QPoint(slider->width() - 6, 7));
        for (int x = slider->width() - 6; x > slider->width() / 3; x -= 8)
            QTest::mouseMove(slider, QPoint(x, 7));
        QTest::mouseRelease(slider, Qt::LeftButton, {}, QPoint(slider->width() / 3, 7));
        const double after = document().layer(layer("Crofts"))->opacity;
        QVERIFY2(after > 0.2 && after < 0.5, qPrintable(QString::number(after)));
        m_session->undo();  // the whole drag is one step
        QCOMPARE(document().layer(layer("Crofts"))->opacity, before);
        m_session->redo();
        QCOMPARE(document().layer(layer("Crofts"))->opacity, after);
    }

    void reordersByDraggingAStrip() {
        const auto order = [&] {
            return document().layers[0]->name + "," + document().layers[1]->name;
        };
        Strip* moved = strip(document().layers[1]->name.c_str());
        Strip* top = strip(document().layers[0]->name.c_str());
        const std::string before = order();
        const QPoint from = moved->rect().center() + QPoint(40, -12);
        const QPoint to = moved->mapFromGlobal(top->mapToGlobal(QPoint(60, 4)));
        QTest::mousePress(moved, Qt::LeftButton, {}, from);
        QTest::mouseMove(moved, from + QPoint(0, -10));
        QTest::mouseMove(moved, to);
        QTest::mouseRelease(moved, Qt::LeftButton, {}, to);
        QVERIFY(order() != before);
        m_session->undo();
        QCOMPARE(order(), before);
    }

    void turnsTheSunDial() {
        press(strip("Light 315/40"));
        press(find<QToolButton>("bench1"));
        QVERIFY(waitUntilIdle(*m_window));
        auto* dial = find<SunDial>("sunDial");
        QVERIFY(dial && dial->isVisible());
        const QImage before = mapPicture();
        const QPoint start = dial->sunAt(dial->light()).toPoint(),
                     goal = dial->sunAt({135, 30}).toPoint();
        QTest::mousePress(dial, Qt::LeftButton, {}, start);
        for (int i = 1; i <= 6; ++i) QTest::mouseMove(dial, start + (goal - start) * i / 6);
        QTest::mouseRelease(dial, Qt::LeftButton, {}, goal);
        const auto& shade =
            *document().layer(m_window->workspace().selectedLayer())->as<doc::Hillshade>();
        QVERIFY(std::abs(shade.style.lights[0].azimuth - 135) < 3 &&
                std::abs(shade.style.lights[0].altitude - 30) < 3);
        // The name was made from the light and follows it.
        QCOMPARE(m_window->workspace().layer()->name,
                 std::string("Light ") + std::to_string(int(shade.style.lights[0].azimuth)) + "/" +
                     std::to_string(int(shade.style.lights[0].altitude)));
        QVERIFY(mapPicture() != before);
        QCOMPARE(find<QDoubleSpinBox>("azimuth")->value(), shade.style.lights[0].azimuth);
        m_session->undo();
        QVERIFY(layer("Light 315/40") != 0);
        QVERIFY(mapPicture() == before);
        dial->setFocus();
        QTest::keyClick(dial, Qt::Key_Right);
        QVERIFY(layer("Light 320/40") != 0);
        m_session->undo();
    }

    void changesTheGradientOfALight() {
        press(strip("Light 315/40"));
        press(find<QToolButton>("bench1"));
        QVERIFY(waitUntilIdle(*m_window));
        const QImage before = mapPicture();
        auto* gradient = find<QComboBox>("gradient");
        QVERIFY(gradient && gradient->isVisible());
        gradient->setFocus();
        QTest::keyClick(gradient, Qt::Key_Down);
        QVERIFY(waitUntilIdle(*m_window));
        const auto method = [this] {
            return m_window->workspace().layer()->as<doc::Hillshade>()->style.gradient;
        };
        QVERIFY(method() == terrain::GradientMethod::ZevenbergenThorne);
        QVERIFY(mapPicture() != before);
        m_session->undo();
        QVERIFY(method() == terrain::GradientMethod::Horn);
        QCOMPARE(gradient->currentIndex(), 0);
        QVERIFY(mapPicture() == before);
    }

    void comparesLightsOnTheShelfAndCastsShadows() {
        press(strip("Light 315/40"));
        press(find<QToolButton>("bench1"));
        QVERIFY(waitUntilIdle(*m_window));
        const auto style = [this] {
            return m_window->workspace().layer()->as<doc::Hillshade>()->style;
        };
        const std::size_t kept = style().kept.size();
        auto* azimuth = find<QDoubleSpinBox>("azimuth");
        azimuth->setValue(20);
        press(find<QPushButton>("keepLight"));
        QCOMPARE(style().kept.size(), kept + 1);
        QCOMPARE(style().kept.back().azimuth, 20.0);
        press(find<QPushButton>("keepLight"));  // the same again changes nothing
        QCOMPARE(style().kept.size(), kept + 1);
        QVERIFY(waitUntilIdle(*m_window));
        auto* shelf = m_window->findChild<LightShelf*>();
        QVERIFY(shelf && shelf->isVisible());
        const auto buttons = shelf->findChildren<QToolButton*>(Qt::FindDirectChildrenOnly);
        QToolButton* first = nullptr;
        for (QToolButton* button : buttons)
            if (button->isVisible() && button->text().startsWith("270")) first = button;
        QVERIFY(first);
        press(first);
        QCOMPARE(style().lights.front().azimuth, 270.0);
        const QImage before = mapPicture();
        auto* shadows = find<QCheckBox>("castShadows");
        shadows->setFocus();
        QTest::keyClick(shadows, Qt::Key_Space);
        QVERIFY(style().hasShadows);
        QVERIFY(mapPicture() != before);
        while (m_session->history().canUndo()) m_session->undo();
        QVERIFY(!style().hasShadows);
        QCOMPARE(style().kept.size(), kept);
    }

    void drawsAProfileAndKeepsIt() {
        press(find<QToolButton>("toolProfile"));
        auto* drawer = m_window->profileDrawer();
        QVERIFY(drawer->isVisible());
        QVERIFY(waitUntilIdle(*m_window));
        auto* map = m_window->map();
        map->measuring().setSnaps(false);
        QTest::mouseClick(map, Qt::LeftButton, {}, QPoint(150, 120));
        QTest::mouseClick(map, Qt::LeftButton, {}, QPoint(430, 260));
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(!drawer->runs().empty());
        QVERIFY(drawer->runs()[0].points.size() > 50);
        QVERIFY(drawer->runs()[0].summary.length > 1000);
        // Pointing at the chart marks the map, and says the height there.
        auto* chart = m_window->findChild<ProfileView*>();
        QSignalSpy marked(drawer, &ProfileDrawer::marked);
        QTest::mouseMove(chart, chart->rect().center());
        QTest::mouseMove(chart, chart->rect().center() + QPoint(20, 0));
        QTRY_VERIFY(!marked.isEmpty());  // the display tells of it in its own time
        QVERIFY(find<QLabel>("profileFacts")->text().contains("m</td>"));
        // The reverse: the map's pointer moves the chart's mark.
        drawer->markNear(map->measuring().points().back());
        QVERIFY(std::abs(chart->chart().marked - drawer->runs()[0].summary.length) < 50);
        const std::size_t before = document().profiles.size();
        press(find<QPushButton>("keepProfile"));
        QCOMPARE(document().profiles.size(), before + 1);
        const doc::Id kept = document().profiles.back().id;
        QVERIFY(waitUntilIdle(*m_window));
        press(find<QToolButton>("toolMove"));
        drawer->hide();
        press(m_window->findChild<QToolButton*>(QString("card%1").arg(kept)));
        QVERIFY(drawer->isVisible());
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(!drawer->runs().empty());
        drawer->hide();
        m_session->undo();
        QCOMPARE(document().profiles.size(), before);
    }

    void stylesAPictureAndClasses() {
        press(strip("Aerial picture"));
        press(find<QToolButton>("bench2"));
        QVERIFY(waitUntilIdle(*m_window));
        auto* combination = find<QComboBox>("bandCombination");
        QVERIFY(combination->isVisible());
        combination->setCurrentIndex(1);
        Q_EMIT combination->activated(1);
        QVERIFY(waitUntilIdle(*m_window));
        const auto raster = [this]() -> const doc::RasterStyle& {
            return m_window->workspace().layer()->as<doc::RasterLayer>()->style;
        };
        QCOMPARE(raster().image->bands, (std::array<int, 3>{3, 0, 1}));
        QVERIFY(raster().image->limits[0].high > raster().image->limits[0].low + 5);
        find<QDoubleSpinBox>("gamma")->setValue(1.6);
        QCOMPARE(raster().image->gamma, 1.6);

        press(strip("Land cover"));
        QVERIFY(waitUntilIdle(*m_window));
        auto* table = find<QTableWidget>("classTable");
        QVERIFY(table->isVisible());
        QCOMPARE(table->rowCount(), int(raster().classes.size()));
        table->setFocus();
        table->selectRow(1);
        press(find<QPushButton>("showOnlyPicked"));
        int lit = 0;
        for (const auto& one : raster().classes) lit += one.isShown ? 1 : 0;
        QCOMPARE(lit, 1);
        computesAColumnOfClasses(table);
        table->item(0, 1)->setText("Strand");
        QCOMPARE(raster().classes[0].name, std::string("Strand"));
        while (m_session->history().canUndo()) m_session->undo();
        QCOMPARE(m_session->snapshot(), m_opened);
    }

    void changesTheContourInterval() {
        press(strip("Contours 25 m"));
        auto* interval = find<QDoubleSpinBox>("interval");
        interval->setFocus();
        interval->selectAll();
        QTest::keyClicks(interval, "50");
        QTest::keyClick(interval, Qt::Key_Return);
        QVERIFY(layer("Contours 50 m") != 0);
        m_session->undo();
    }

    void dragsTheContourInterval() {
        press(strip("Contours 25 m"));
        press(find<QToolButton>("bench1"));
        auto* slider = find<ThinSlider>("intervalSlider");
        const auto levels = [this] {
            return m_window->workspace().layer()->as<doc::Contours>()->style.levels;
        };
        const auto before = m_session->snapshot();
        QTest::mousePress(slider, Qt::LeftButton, {}, QPoint(slider->width() / 2, 7));
        for (int x = slider->width() / 2; x < slider->width() - 6; x += 9)
            QTest::mouseMove(slider, QPoint(x, 7));
        QTest::mouseRelease(slider, Qt::LeftButton, {}, QPoint(slider->width() - 6, 7));
        QVERIFY(levels().interval > 100);
        m_session->undo();  // the whole drag is one step
        QCOMPARE(*m_session->snapshot(), *before);
        auto* listed = find<QLineEdit>("listedLevels");
        listed->setText("100, 10,250");
        Q_EMIT listed->editingFinished();
        QCOMPARE(levels().listed, (std::vector<double>{10, 100, 250}));
        QVERIFY(!find<QDoubleSpinBox>("interval")->isEnabled());
        listed->setText("100, ten");
        Q_EMIT listed->editingFinished();
        QCOMPARE(levels().listed.size(), std::size_t{3});  // refused
        m_session->undo();
        QVERIFY(levels().listed.empty());
        QCOMPARE(*m_session->snapshot(), *before);
    }

    void blendsLightsAndAddsAspect() {
        const auto before = m_session->snapshot();
        press(strip("Light 315/40"));
        press(find<QToolButton>("bench1"));
        const auto style = [this] {
            return m_window->workspace().layer()->as<doc::Hillshade>()->style;
        };
        const QImage single = mapPicture();
        find<QCheckBox>("blendLights")->click();
        QCOMPARE(style().lights.size(), std::size_t{3});
        QVERIFY(mapPicture() != single);
        find<QCheckBox>("blendLights")->click();
        QCOMPARE(style().lights.size(), std::size_t{1});
        press(find<QPushButton>("addAspect"));
        QVERIFY(waitUntilIdle(*m_window));
        const auto* source = m_window->workspace().source();
        QVERIFY(source->isLive());
        QCOMPARE(source->lineage->operation, std::string("aspect"));
        const auto look = m_window->workspace().layer()->content;
        QVERIFY(std::get<doc::RasterLayer>(look).style.showsCells);
        m_window->workspace().setBench(Bench::Style);
        auto* cells = find<QCheckBox>("showsCells");
        QVERIFY(cells && cells->isVisible() && cells->isChecked());
        const QImage plain = mapPicture();
        cells->click();
        QVERIFY(mapPicture() != plain);
        m_session->undo();
        QVERIFY(cells->isChecked());
        // Written, it keeps its look.
        const QString path = m_dir.path() + "/aspect.tif";
        m_window->findChild<DerivePanel*>()->write(*source->lineage, path);
        QVERIFY(waitUntilIdle(*m_window));
        QCOMPARE(m_window->workspace().source()->path, std::filesystem::path(path.toStdString()));
        QVERIFY(m_window->workspace().layer()->content == look);
        while (*m_session->snapshot() != *before) m_session->undo();
        QVERIFY(waitUntilIdle(*m_window));
    }

    void buildsReliefAndContoursAsJobs() {
        press(strip("Contours 25 m"));
        press(find<QToolButton>("bench1"));
        const std::size_t before = document().layers.size();
        press(find<QPushButton>("buildRelief"));
        QVERIFY(waitUntilIdle(*m_window));
        QCOMPARE(document().layers.size(), before + 1);
        QVERIFY(m_window->workspace().layer()->isGroup());
        QCOMPARE(m_window->workspace().layer()->as<doc::Group>()->children.size(), std::size_t{3});
        m_session->undo();
        QCOMPARE(document().layers.size(), before);
        press(strip("Light 315/40"));
        press(find<QPushButton>("addLight"));
        QVERIFY(layer("Light 315/45") != 0);
        QVERIFY(m_window->workspace().layer()->blend == doc::Blend::Multiply);
        QCOMPARE(m_window->workspace().layer()->opacity, 0.5);
        m_session->undo();
    }

    void showsAWholeLayer() {
        const doc::MapView start = m_window->workspace().view();
        Q_EMIT m_window->workspace().fitAsked(layer("Coast"));
        QVERIFY(waitUntilIdle(*m_window));
        const auto* coast = document().layer(layer("Coast"));
        const Box box = session::aside([&] {
            return m_session->sources()->extent(*document().source(coast->source),
                                                m_session->mapCrs());
        });
        QVERIFY(m_window->map()->frame().extent().contains({box.xMin, box.yMin}));
        QVERIFY(m_window->map()->frame().extent().contains({box.xMax, box.yMax}));
        m_window->workspace().goBack();
        QCOMPARE(m_window->workspace().view(), start);
    }

    void pansAndZooms() {
        MapPane* map = m_window->map();
        const doc::MapView start = m_window->workspace().view();
        const Point beneath = map->frame().toMap()({200, 300});
        QWheelEvent wheel(QPointF(200, 300), map->mapToGlobal(QPointF(200, 300)), {},
                          QPoint(0, 240), Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
        QApplication::sendEvent(map, &wheel);
        QVERIFY(m_window->workspace().view().scale < start.scale);
        QVERIFY(distance(map->frame().toMap()({200, 300}), beneath) < 1e-6);
        QTest::mousePress(map, Qt::LeftButton, {}, QPoint(300, 300));
        QTest::mouseMove(map, QPoint(350, 320));
        QTest::mouseMove(map, QPoint(400, 340));
        QTest::mouseRelease(map, Qt::LeftButton, {}, QPoint(400, 340));
        QVERIFY(distance(m_window->workspace().view().centre, start.centre) > 100);
        m_window->workspace().goBack();
        m_window->workspace().goBack();
        QVERIFY(distance(m_window->workspace().view().centre, start.centre) < 1e-6);
        QCOMPARE(m_window->workspace().view().scale, start.scale);
    }

    void typesAScaleIntoTheChip() {
        press(find<QPushButton>("scaleChip"));
        auto* editor = find<QLineEdit>("chipValue");
        QVERIFY(editor);
        editor->setText("1:30000");
        QTest::keyClick(editor, Qt::Key_Return);
        const auto& workspace = m_window->workspace();
        QVERIFY(std::abs(doc::groundScale(workspace.view(), m_session->mapCrs()) - 30000) < 1e-6);
        QCOMPARE(find<QPushButton>("scaleChip")->text(), QString::fromUtf8("1 : 30\u2009000"));
        m_window->workspace().goBack();
    }

    void keepsTheScaleOnTheGroundInAnyCrs() {
        const auto& workspace = m_window->workspace();
        const double before = doc::groundScale(workspace.view(), m_session->mapCrs());
        const double nominal = workspace.view().scale;
        m_session->apply(doc::withMapCrs(document(), "EPSG:3857"), "CRS of map");
        QVERIFY(waitUntilIdle(*m_window));
        const double now = doc::groundScale(workspace.view(), m_session->mapCrs());
        QVERIFY2(std::abs(now / before - 1) < 1e-9, qPrintable(QString::number(now / before)));
        // At 61.6 N web Mercator's own metres are about half as long.
        QVERIFY(workspace.view().scale > 1.9 * nominal);
        press(find<QPushButton>("scaleChip"));
        auto* editor = find<QLineEdit>("chipValue");
        editor->setText("1:100000");
        QTest::keyClick(editor, Qt::Key_Return);
        const auto* chip = find<QPushButton>("scaleChip");
        QVERIFY2(chip->text().startsWith(QString::fromUtf8("1 : 100\u2009000")),
                 qPrintable(chip->text()));
        m_session->undo();
        QVERIFY(waitUntilIdle(*m_window));
        m_window->workspace().goBack();
        QVERIFY(waitUntilIdle(*m_window));
    }

    void takesTheRightDatumByEnter() {
        press(find<QPushButton>("crsChip"));
        auto* picker = m_window->findChild<QWidget*>("crsPicker");
        auto* search = picker->findChild<QLineEdit*>("crsSearch");
        QTest::keyClicks(search, "LAEA Europe");
        QVERIFY(picker->findChild<QListWidget*>("crsList")->currentItem()->text().contains(
            QString::fromUtf8("±1 m")));
        QTest::keyClick(search, Qt::Key_Return);
        QVERIFY(waitUntilIdle(*m_window));
        QCOMPARE(document().mapCrs, std::string("EPSG:3035"));
        m_session->undo();
        QVERIFY(waitUntilIdle(*m_window));
    }

    void centresAWorldMapWhereOneLikes() {
        press(find<QPushButton>("crsChip"));
        auto* picker = m_window->findChild<QWidget*>("crsPicker");
        auto* search = picker->findChild<QLineEdit*>("crsSearch");
        auto* centre = picker->findChild<QLineEdit*>("crsCentre");
        QVERIFY(!centre->isVisible());
        QTest::keyClicks(search, "equal earth");
        auto* list = picker->findChild<QListWidget*>("crsList");
        while (list->currentItem() && !centre->isVisible()) {
            const int row = list->currentRow();
            QTest::keyClick(search, Qt::Key_Down);
            if (list->currentRow() == row) break;
        }
        QVERIFY(centre->isVisible());
        centre->setFocus();
        centre->selectAll();
        QTest::keyClicks(centre, "east");
        const auto said = [&] {
            for (const QLabel* label : picker->findChildren<QLabel*>())
                if (label->isVisible() && label->text().contains("Write a longitude")) return true;
            return false;
        };
        QVERIFY(said());
        centre->selectAll();
        QTest::keyClicks(centre, "-10");
        QVERIFY(!said());
        QVERIFY(picker->findChild<QLabel*>("crsName")->text().contains(QString::fromUtf8("10° W")));
        press(picker->findChild<QPushButton*>("crsUse"));
        QVERIFY(waitUntilIdle(*m_window));
        QCOMPARE(document().mapCrs, std::string("world:equal-earth@-10"));
        QCOMPARE(m_session->mapCrs()->parameters.centralMeridian, -10.0);
        m_session->undo();
        QVERIFY(waitUntilIdle(*m_window));
    }

    /// Each code of the reference table below 32768, typed into the picker, is the CRS of that
    /// code.
    void takesTheTablesCodesFromThePicker() {
        std::set<int> codes;
        for (const test::Row& row : test::readTable("crs/projections.csv"))
            if (const int code = row.at("epsg").toInt(); code < 32768) codes.insert(code);
        press(find<QPushButton>("crsChip"));
        auto* picker = m_window->findChild<CrsPicker*>("crsPicker");
        auto* search = picker->findChild<QLineEdit*>("crsSearch");
        std::map<int, crs::CrsPtr> taken;
        for (const int code : codes) {
            search->setText(QString::number(code));
            taken[code] = picker->candidate();
            QVERIFY2(taken[code] && taken[code]->code == code, qPrintable(QString::number(code)));
        }
        QTest::keyClick(search, Qt::Key_Escape);
        for (const test::Row& row : test::readTable("crs/projections.csv")) {
            const auto it = taken.find(row.at("epsg").toInt());
            if (it == taken.end()) continue;
            const auto base = *crs::crsFromCode(it->second->geographicCode);
            const auto way = crs::Transformation::between(base, it->second);
            const Point at = way->forward(Point{test::number(row, "lon_deg") - base->primeMeridian,
                                                test::number(row, "lat_deg")});
            const double east = test::number(row, "easting"), north = test::number(row, "northing");
            const bool isSeries = row.at("method").startsWith("Cassini");
            const double tolerance = (isSeries ? 1e-4 : 1e-6) / it->second->unit.size +
                                     4e-15 * std::max(std::abs(east), std::abs(north));
            QVERIFY2(std::abs(at.x - east) <= tolerance && std::abs(at.y - north) <= tolerance,
                     qPrintable(row.at("epsg")));
        }
    }

    void jumpsToAPlace() {
        auto* jump = find<QLineEdit>("jumpField");
        jump->setFocus();
        QTest::keyClicks(jump, "brimvoe");
        QTRY_VERIFY(find<QListWidget>("jumpList")->count() > 0 &&
                    find<QListWidget>("jumpList")->isVisible());
        QTest::keyClick(jump, Qt::Key_Return);
        // Of what was typed last, however fast.
        QTRY_VERIFY(m_window->workspace().view().scale <= 25000);
        m_window->workspace().goBack();
    }

    void probesAFeature() {
        MapPane* map = m_window->map();
        press(find<QToolButton>("toolProbe"));
        QVERIFY(waitUntilIdle(*m_window));
        const auto* places = document().layer(layer("Places"));
        const auto features = *session::aside([&] {
            return m_session->sources()->features(*document().source(places->source),
                                                  m_session->mapCrs());
        });
        const Point px = map->frame().toPixels()(features->table->geometry(0).points[0]);
        QTest::mouseClick(map, Qt::LeftButton, {}, QPoint(qRound(px.x), qRound(px.y)));
        auto* panel = m_window->findChild<ProbePanel*>();
        QTRY_VERIFY(panel->isVisible());
        bool saysName = false, saysHeight = false;
        for (const auto* label : panel->findChildren<QLabel*>()) {
            saysName |= label->text() == "Brimvoe";
            saysHeight |= label->text().endsWith(" m");
        }
        QVERIFY(saysName);
        QVERIFY(saysHeight);
        QTest::keyClick(map, Qt::Key_Escape);
        QTRY_VERIFY(!panel->isVisible());
        press(find<QToolButton>("toolMove"));
    }

    void keepsAViewOnTheLedge() {
        const std::size_t before = document().views.size();
        press(find<QToolButton>("saveView"));
        QCOMPARE(document().views.size(), before + 1);
        // It asks its name where it stands.
        QTRY_VERIFY(qobject_cast<QLineEdit*>(QApplication::focusWidget()));
        auto* asked = qobject_cast<QLineEdit*>(QApplication::focusWidget());
        QVERIFY(asked->isVisible());
        QTest::keyClicks(asked, "Over the sound");
        QTest::keyClick(asked, Qt::Key_Return);
        const auto view = document().views.back();
        QCOMPARE(view.name, std::string("Over the sound"));
        auto* card = find<QToolButton>(qPrintable(QString("card%1").arg(view.id)));
        card->setFocus();
        QTest::keyClick(card, Qt::Key_F2);
        QTest::keyClicks(QApplication::focusWidget(), "nothing of this");
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Escape);
        QCOMPARE(document().views.back().name, view.name);
        QTest::mouseDClick(card, Qt::LeftButton);
        QTest::keyClicks(QApplication::focusWidget(), "The sound");
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
        QCOMPARE(document().views.back().name, std::string("The sound"));
        QVERIFY(waitUntilIdle(*m_window));
        m_window->workspace().setView({{400000, 6830000}, 20000, 10});
        press(find<QToolButton>(qPrintable(QString("card%1").arg(view.id))));
        QCOMPARE(m_window->workspace().view().scale, view.view.scale);
        QCOMPARE(m_window->workspace().shownView(), view.id);
    }

    void stylesByCategoriesAndFlipsARamp() {
        press(strip("Height tint"));
        press(find<QToolButton>("bench2"));
        const Ramp before =
            document().layer(layer("Height tint"))->as<doc::HeightTint>()->style.ramp;
        press(find<QPushButton>("flipRamp"));
        QVERIFY(document().layer(layer("Height tint"))->as<doc::HeightTint>()->style.ramp ==
                before.flipped());
        m_session->undo();
        press(strip("Crofts"));
        auto* classing = find<QComboBox>("classing");
        classing->setFocus();
        QTest::keyClick(classing, Qt::Key_Down);
        const auto style = [this] {
            return document().layer(layer("Crofts"))->as<doc::VectorLayer>()->style;
        };
        QTRY_COMPARE(style().classing, doc::Classing::Categories);
        QVERIFY(style().categories.size() > 1);
        QVERIFY(classing->hasFocus());
        QTest::keyClick(classing, Qt::Key_Up);
        QCOMPARE(style().classing, doc::Classing::Single);
        m_session->undo();
        m_session->undo();
        QCOMPARE(style().classing, doc::Classing::Single);
        QVERIFY(style().categories.empty());
    }

    void seesWhyASourceIsMisplacedAndMendsItInTwoClicks() {
        const auto id = layer("Old survey grid");
        m_window->workspace().setBench(Bench::Style);
        waitUntilIdle(*m_window);
        auto* facts = strip("Old survey grid")->findChild<QLabel*>("facts");
        QVERIFY(facts->text().contains("no CRS"));
        // A field of the page that is left had the focus: no strip may take the selection with it.
        find<QComboBox>("classing")->setFocus();
        Q_EMIT facts->linkActivated("act");  // the first click
        QCOMPARE(m_window->workspace().selectedLayer(), id);
        QCOMPARE(m_window->workspace().bench(), Bench::Data);
        QTRY_VERIFY(m_window->findChild<QPushButton*>("guess0"));
        auto* concern = find<QLabel>("crsConcern");
        QVERIFY2(concern->text().contains("lie") && concern->text().contains("of the other data"),
                 qPrintable(concern->text()));
        auto* guess = find<QPushButton>("guess0");
        QVERIFY2(guess->text().contains("UTM zone 28N"), qPrintable(guess->text()));
        press(guess);  // the second
        QVERIFY(waitUntilIdle(*m_window));
        QCOMPARE(*document().source(document().layer(id)->source)->declaredCrs,
                 std::string("EPSG:32628"));
        QTRY_VERIFY(!facts->text().contains("no CRS"));
        m_session->undo();
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(!document().source(document().layer(id)->source)->declaredCrs);
    }

    void picksACrsForTheMapAndKeepsThePlace() {
        const doc::MapView before = m_window->workspace().view();
        const Point place = crs::toLonLat(m_session->mapCrs(), before.centre);
        press(find<QPushButton>("crsChip"));
        auto* picker = m_window->findChild<QWidget*>("crsPicker");
        QVERIFY(picker);
        auto* search = picker->findChild<QLineEdit*>("crsSearch");
        QTest::keyClicks(search, "laea europe");
        auto* list = picker->findChild<QListWidget*>("crsList");
        QVERIFY(list->currentItem());
        while (list->currentItem() && !list->currentItem()->text().contains("EPSG:3035")) {
            const int row = list->currentRow();
            QTest::keyClick(search, Qt::Key_Down);
            if (list->currentRow() == row) break;
        }
        QVERIFY(list->currentItem()->text().contains("EPSG:3035"));
        auto* preview = picker->findChild<QLabel*>("crsPreview");
        QTRY_VERIFY(!preview->pixmap(Qt::ReturnByValue).isNull());
        const QString change = picker->findChild<QLabel*>("crsChange")->text();
        QVERIFY2(change.contains("Areas there") && change.contains("Grid north"),
                 qPrintable(change));
        press(picker->findChild<QPushButton*>("crsStar"));
        press(picker->findChild<QPushButton*>("crsUse"));
        QVERIFY(waitUntilIdle(*m_window));
        QCOMPARE(document().mapCrs, std::string("EPSG:3035"));
        const Point now = crs::toLonLat(m_session->mapCrs(), m_window->workspace().view().centre);
        QVERIFY(distance(now, place) < 1e-6);
        QVERIFY(m_window->workspace().crsShelf().isFavourite("EPSG:3035"));
        m_session->undo();
        QCOMPARE(document().mapCrs, std::string("EPSG:32629"));
        // Undone, it looks at the same place again.
        QVERIFY(distance(m_window->workspace().view().centre, before.centre) < 0.01);
        QVERIFY(std::abs(m_window->workspace().view().scale / before.scale - 1) < 1e-9);
        QVERIFY(waitUntilIdle(*m_window));
    }

    void makesACrsOfItsOwn() {
        press(find<QPushButton>("crsChip"));
        auto* picker = m_window->findChild<QWidget*>("crsPicker");
        press(picker->findChild<QPushButton*>("crsMake"));
        auto* maker = picker->findChild<QWidget*>("crsMaker");
        auto* method = maker->findChild<QComboBox*>("ownMethod");
        method->setCurrentIndex(method->findText("Lambert Azimuthal Equal Area"));
        maker->findChild<QLineEdit*>("own_latitude_of_center")->setText("95");
        maker->findChild<QLineEdit*>("own_longitude_of_center")->setText("-10.7");
        maker->findChild<QLineEdit*>("ownName")->setText("Skerravoe equal area");
        press(maker->findChild<QPushButton*>("ownMake"));
        QVERIFY(document().customCrs.empty());  // 95 degrees: refused in words
        maker->findChild<QLineEdit*>("own_latitude_of_center")->setText("61.6");
        press(maker->findChild<QPushButton*>("ownMake"));
        QCOMPARE(document().customCrs.size(), std::size_t{1});
        const auto own = crs::parseCrs(document().customCrs[0].wkt);
        QVERIFY(own.has_value());
        QCOMPARE((*own)->name, std::string("Skerravoe equal area"));
        QCOMPARE((*own)->parameters.latitudeOfOrigin, 61.6);
        press(picker->findChild<QPushButton*>("crsUse"));
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(m_session->mapCrs()->method == crs::Method::LambertAzimuthalEqualArea);
        m_session->undo();
        m_session->undo();
        QVERIFY(document().customCrs.empty());
        Q_EMIT m_window->workspace().fitAsked(0);
        QVERIFY(waitUntilIdle(*m_window));
    }

    void measuresWithTheMouse() {
        press(find<QToolButton>("toolMeasure"));
        auto* map = m_window->map();
        map->measuring().setSnaps(false);
        map->measuring().clear();
        const QPoint from(200, 300), to(420, 180), third(480, 360);
        QTest::mouseClick(map, Qt::LeftButton, {}, from);
        QTest::mouseClick(map, Qt::LeftButton, {}, to);
        QCOMPARE(map->measuring().points().size(), std::size_t{2});
        const auto m = map->measuring().measured();
        QVERIFY(m.planarLength > 100 && std::isfinite(m.ellipsoidalLength));
        QVERIFY(std::abs(m.planarLength / m.ellipsoidalLength - 1) < 0.01);
        auto* panel = m_window->findChild<MeasurePanel*>();
        QVERIFY(panel->isVisible());
        press(panel->findChild<QPushButton*>("measureCopy"));
        QVERIFY(QGuiApplication::clipboard()->text().contains("km"));
        auto* unit = panel->findChild<QComboBox*>("measureUnit");
        unit->setCurrentIndex(3);
        Q_EMIT unit->activated(3);
        QVERIFY(panel->asText().contains("nmi"));
        m_session->undo();
        auto* kind = panel->findChild<QComboBox*>("measureKind");
        kind->setCurrentIndex(1);
        Q_EMIT kind->activated(1);
        QTest::mouseClick(map, Qt::LeftButton, {}, third);
        QVERIFY(map->measuring().measured().ellipsoidalArea > 1000);
        QTest::keyClick(map, Qt::Key_Backspace);
        QCOMPARE(map->measuring().points().size(), std::size_t{2});
        QTest::keyClick(map, Qt::Key_Escape);
        QVERIFY(map->measuring().points().empty());
        press(find<QToolButton>("toolMove"));
        QVERIFY(!panel->isVisible());
    }

    void drawsACurtainOverTheMap() {
        m_window->workspace().selectLayer(layer("Relief of Island DEM"));
        press(find<QToolButton>("toolCurtain"));
        QVERIFY(waitUntilIdle(*m_window));
        auto* map = m_window->map();
        const QPoint right(map->width() * 3 / 4, map->height() * 2 / 3);
        QTest::mouseClick(map, Qt::LeftButton, {}, QPoint(map->width() - 2, map->height() / 2));
        QVERIFY(map->curtain() > 0.95);
        const QImage whole = mapPicture();
        QTest::mousePress(map, Qt::LeftButton, {}, QPoint(map->width() / 2, map->height() / 2));
        QTest::mouseMove(map, QPoint(map->width() / 3, map->height() / 2));
        QTest::mouseRelease(map, Qt::LeftButton, {}, QPoint(map->width() / 3, map->height() / 2));
        QVERIFY(map->curtain() < 0.6);
        const QImage split = mapPicture();
        const QPoint left(map->width() / 8, map->height() * 2 / 3);
        QCOMPARE(split.pixel(left), whole.pixel(left));
        QVERIFY(split.pixel(right) != whole.pixel(right));
        const double before = map->curtain();
        QTest::keyClick(map, Qt::Key_Right, Qt::ShiftModifier);
        QVERIFY(map->curtain() > before);
        press(find<QToolButton>("toolMove"));
        QVERIFY(waitUntilIdle(*m_window));
    }

    void comparesTwoStrips() {
        auto& workspace = m_window->workspace();
        auto* map = m_window->map();
        const QImage plain = mapPicture();
        workspace.selectLayer(layer("Relief of Island DEM"));
        workspace.compareWith(layer("Aerial picture"));
        const QImage front = mapPicture();
        QTest::keyPress(map, Qt::Key_B);
        const QImage behind = mapPicture();
        QTest::keyRelease(map, Qt::Key_B);
        QVERIFY(behind != front);
        QVERIFY(mapPicture() == front);
        QTest::keyClick(map, Qt::Key_Escape);
        QCOMPARE(workspace.comparedLayer(), doc::Id{0});
        QVERIFY(mapPicture() == plain);
    }

    void derivesLiveAndRunsAgain() {
        auto& workspace = m_window->workspace();
        const auto before = m_session->snapshot();
        workspace.selectLayer(layer("Height tint"));
        press(find<QToolButton>("bench0"));
        QVERIFY(waitUntilIdle(*m_window));
        auto* panel = m_window->findChild<DerivePanel*>();
        QVERIFY(panel->newPart()->isVisible());
        auto* what = find<QComboBox>("deriveWhat");
        what->setCurrentIndex(what->findData("calculate"));
        Q_EMIT what->activated(what->currentIndex());
        panel->newPart()->findChild<QLineEdit*>("setting_expression")->setText("b1 * ");
        press(find<QPushButton>("deriveLive"));
        QCOMPARE(m_session->snapshot(), before);  // the formula is refused
        panel->newPart()->findChild<QLineEdit*>("setting_expression")->setText("b1 * 2");
        press(find<QPushButton>("deriveLive"));
        QVERIFY(waitUntilIdle(*m_window));
        const auto* live = workspace.source();
        QVERIFY(live && live->isLive());
        // Its formula is edited in place, as one step that can be undone.
        auto* formula = panel->findChild<QLineEdit*>("setting_expression");
        QVERIFY(formula->isVisible());
        QCOMPARE(formula->text(), QString("b1 * 2"));
        formula->setText("b1 * 3");
        Q_EMIT formula->editingFinished();
        QCOMPARE(workspace.source()->lineage->parameters.at("expression"), std::string("b1 * 3"));
        m_session->undo();
        QCOMPARE(workspace.source()->lineage->parameters.at("expression"), std::string("b1 * 2"));

        // Stored: the file is made, shown, goes stale, is run again, and is there only once.
        const QString path = m_dir.path() + "/doubled.tif";
        panel->write(*workspace.source()->lineage, path);
        QVERIFY(waitUntilIdle(*m_window));
        QCOMPARE(workspace.source()->path, std::filesystem::path(path.toStdString()));
        const std::size_t sources = document().sources.size();
        const doc::Id stored = workspace.source()->id, shown = workspace.selectedLayer();
        QVERIFY(!find<QLabel>("staleReasons")->isVisible());
        QVERIFY(waitUntilIdle(*m_window));
        const auto dem = workspace.source()->lineage->inputs[0].path;
        const auto changed = std::filesystem::last_write_time(dem);
        std::filesystem::last_write_time(dem, changed + std::chrono::seconds(9));
        workspace.selectLayer(layer("Roads"));
        workspace.selectLayer(shown);
        // Files are looked at beside the interface, from time to time.
        QTRY_VERIFY_WITH_TIMEOUT(find<QLabel>("staleReasons")->isVisible(), 5000);
        press(find<QPushButton>("runAgain"));
        QVERIFY(waitUntilIdle(*m_window));
        QTRY_VERIFY_WITH_TIMEOUT(!find<QLabel>("staleReasons")->isVisible(), 5000);
        QCOMPARE(document().sources.size(), sources);
        QCOMPARE(workspace.source()->id, stored);
        std::filesystem::last_write_time(dem, changed);
        while (*m_session->snapshot() != *before) m_session->undo();
        QVERIFY(waitUntilIdle(*m_window));
    }

    void countsEveryCell() {
        m_window->workspace().selectLayer(layer("Height tint"));
        press(find<QToolButton>("bench0"));
        auto* said = find<QLabel>("rasterNumbers");
        QTRY_VERIFY(said->text().contains("cells"));
        if (find<QPushButton>("countCells")->isVisible()) {
            QVERIFY(said->text().contains("sampled"));
            press(find<QPushButton>("countCells"));
            QVERIFY(waitUntilIdle(*m_window));
        }
        QVERIFY(said->text().contains("counted"));
        auto* view = m_window->findChild<HistogramView*>();
        QVERIFY(view->barText(view->width() / 2.0).contains("cells"));
        QVERIFY(view->barText(-5).isEmpty());
    }

    void goesOnAlongOtherFeatures() {
        auto* drawer = m_window->profileDrawer();
        const Point middle = m_window->map()->frame().view.centre;
        drawer->showAlong({middle, middle + Point{1000, 0}});
        QVERIFY(waitUntilIdle(*m_window));
        // Its nearer end comes first.
        const auto whole = drawer->showAlso({middle + Point{3000, 500}, middle + Point{1200, 0}});
        QCOMPARE(whole.size(), std::size_t{4});
        QVERIFY(distance(whole[2], middle + Point{1200, 0}) < 1e-3);
        QVERIFY(waitUntilIdle(*m_window));
        drawer->hide();
        m_window->map()->setProfileLine({});
    }

    void putsAProfileOnASheet() {
        const auto before = m_session->snapshot();
        const doc::Sheet& sheet = document().sheets[1];
        m_window->workspace().showSheet(sheet.id);
        press(find<QToolButton>("bench5"));
        QVERIFY(waitUntilIdle(*m_window));
        const auto chart =
            std::find_if(sheet.items.begin(), sheet.items.end(),
                         [](const doc::SheetItem& i) { return i.as<doc::ProfileItem>(); });
        QVERIFY(chart != sheet.items.end());
        const QImage with = m_window->findChild<SheetCanvas*>()->grab().toImage();
        const doc::Id kept = (*chart)->as<doc::ProfileItem>()->profile;
        QVERIFY(document().profile(kept));
        m_window->workspace().selectItem((*chart)->id);
        QTRY_VERIFY(find<QComboBox>("profileShown")->isVisible());
        m_window->workspace().performOnItem("item-set", {{"member", "profile"}, {"value", "0"}});
        m_window->workspace().selectItem(0);
        QVERIFY(waitUntilIdle(*m_window));
        // Without its profile the item says so; the rest of the sheet stays.
        QVERIFY(m_window->findChild<SheetCanvas*>()->grab().toImage() != with);
        m_session->undo();
        QCOMPARE(m_session->snapshot(), before);
        m_window->workspace().showMap();
        QVERIFY(waitUntilIdle(*m_window));
    }

    void snapsToVertices() {
        press(find<QToolButton>("toolMeasure"));
        auto* map = m_window->map();
        map->measuring().setSnaps(true);
        // Right on a place, some pixels aside.
        const auto* source = document().source(document().layer(layer("Places"))->source);
        const auto features = session::aside(
            [&] { return m_session->sources()->features(*source, m_session->mapCrs()); });
        const auto frame = map->frame();
        const QRectF inside(
            QRectF(map->rect()).adjusted(60, 80, -std::min(380, map->width() / 6), -60));
        Point vertex = kNowhere;
        for (const FeatureView f : *(*features)->table) {
            const Point px = frame.toPixels()(f.geometry.points.front());
            if (inside.contains(px.x, px.y)) vertex = f.geometry.points.front();
        }
        QVERIFY(vertex.isFinite());
        const Point px = frame.toPixels()(vertex);
        const QPoint aside = QPointF(px.x + 2, px.y - 1).toPoint();
        map->measuring().clear();
        QTest::mouseMove(map, aside);
        QTest::qWait(200);
        QTest::mouseMove(map, aside + QPoint(1, 0));
        QTest::qWait(200);
        QTest::mouseClick(map, Qt::LeftButton, {}, aside);
        QCOMPARE(map->measuring().points().size(), std::size_t{1});
        QVERIFY(distance(map->measuring().points()[0], vertex) < 10 * frame.unitsPerPx());
        QTest::keyClick(map, Qt::Key_Escape);
        press(find<QToolButton>("toolMove"));
    }

    void drawsAGraticule() {
        const QImage before = mapPicture();
        const auto whole = m_session->snapshot();
        m_window->workspace().setBench(Bench::Data);
        press(find<QPushButton>("addGraticule"));
        QVERIFY(waitUntilIdle(*m_window));
        QCOMPARE(m_window->workspace().bench(), Bench::Style);
        QVERIFY(mapPicture() != before);
        QVERIFY(m_window->map()->report().problems.empty());
        auto* crs = find<QLineEdit>("gridCrs");
        crs->setFocus();
        QTest::keyClicks(crs, "EPSG:1");
        QTest::keyClick(crs, Qt::Key_Return);
        QCOMPARE(m_window->workspace().layer()->as<doc::GridLines>()->style.crs, std::string());
        auto* interval = find<QDoubleSpinBox>("gridInterval");
        interval->setValue(0.05);
        QCOMPARE(m_window->workspace().layer()->as<doc::GridLines>()->style.interval, 0.05);
        crs->clear();
        while (m_session->history().canUndo() && *m_session->snapshot() != *whole)
            m_session->undo();
        QVERIFY(*m_session->snapshot() == *whole);
        QVERIFY(waitUntilIdle(*m_window));
    }

    void declaresACrs() {
        const auto id = layer("Old survey grid");
        m_window->workspace().selectLayer(id);
        press(find<QToolButton>("bench0"));
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(strip("Old survey grid")->findChild<QLabel*>("facts")->text().contains("no CRS"));
        auto* edit = find<QLineEdit>("declareCrs");
        edit->setFocus();
        edit->clear();
        QTest::keyClicks(edit, "EPSG:1");
        QTest::keyClick(edit, Qt::Key_Return);
        QVERIFY(!document()
                     .source(document().layer(id)->source)
                     ->declaredCrs);  // unknown: refused in words, beneath the field
        QVERIFY(find<QLabel>("declareCrsWrong")->isVisible());
        edit->clear();
        QTest::keyClicks(edit, "EPSG:32628");
        QTest::keyClick(edit, Qt::Key_Return);
        QVERIFY(waitUntilIdle(*m_window));
        QCOMPARE(*document().source(document().layer(id)->source)->declaredCrs,
                 std::string("EPSG:32628"));
        QVERIFY(!strip("Old survey grid")->findChild<QLabel*>("facts")->text().contains("no CRS"));
    }

    void choosesWhatIsDoneBetweenDatums() {
        const auto id = layer("Old survey grid");
        m_window->workspace().selectLayer(id);
        auto* edit = find<QLineEdit>("declareCrs");
        edit->setFocus();
        edit->clear();
        QTest::keyClicks(edit, "EPSG:23029");
        QTest::keyClick(edit, Qt::Key_Return);
        QVERIFY(waitUntilIdle(*m_window));
        auto* choice = find<QComboBox>("datumOperations");
        QVERIFY(choice->isVisible());
        QVERIFY(choice->count() > 3);
        QVERIFY(choice->itemText(0).contains("ED50") && choice->itemText(0).contains("±"));
        QVERIFY(choice->itemText(choice->count() - 1).contains("taken as they are"));
        QCOMPARE(choice->currentIndex(), 0);
        const QImage before = mapPicture();
        choice->setFocus();
        QTest::keyClick(choice, Qt::Key_End);
        QVERIFY(waitUntilIdle(*m_window));
        QCOMPARE(document().datumChoices.size(), std::size_t{1});
        QVERIFY(document().datumChoices[0].isBetween(4230, 4326));
        QCOMPARE(document().datumChoices[0].operation, std::string("none"));
        QVERIFY(find<QLabel>("datumOperation")->text().contains("as chosen"));
        QVERIFY(m_session->mapCrs()->choices != nullptr);
        // Kept with the project.
        const auto text = doc::projectText(document(), {});
        QCOMPARE(doc::projectFromText(text, {})->datumChoices, document().datumChoices);
        m_session->undo();
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(document().datumChoices.empty());
        QCOMPARE(choice->currentIndex(), 0);
        m_session->undo();
        QVERIFY(waitUntilIdle(*m_window));
    }

    void editsASheet() {
        const doc::Sheet& sheet = document().sheets[0];
        press(find<QToolButton>(qPrintable(QString("card%1").arg(sheet.id))));
        QCOMPARE(m_window->workspace().sheetId(), sheet.id);
        QVERIFY(waitUntilIdle(*m_window));
        SheetCanvas* canvas = m_window->sheetCanvas();
        const auto* panel = sheet.panel(0);
        const doc::Id panelId = panel->id;
        const doc::PageRect before = panel->rect;
        const QPoint middle =
            canvas->toWidget({before.left + before.width / 2, before.top + before.height / 2})
                .toPoint();
        QTest::mouseClick(canvas, Qt::LeftButton, {}, middle);
        QCOMPARE(m_window->workspace().selectedItem(), panelId);
        // Move by mouse, then the left edge by its handle.
        QTest::mousePress(canvas, Qt::LeftButton, Qt::NoModifier, middle);
        QTest::mouseMove(canvas, middle + QPoint(15, 0));
        const QPoint moved = middle + QPoint(25, 0);
        QMouseEvent drag(QEvent::MouseMove, moved, canvas->mapToGlobal(moved), Qt::NoButton,
                         Qt::LeftButton, Qt::AltModifier);
        QApplication::sendEvent(canvas, &drag);
        QTest::mouseRelease(canvas, Qt::LeftButton, Qt::AltModifier, moved);
        QVERIFY(document().sheet(sheet.id)->item(panelId)->rect.left > before.left + 3);
        m_session->undo();
        QVERIFY(document().sheet(sheet.id)->item(panelId)->rect == before);
        const QPoint edge =
            canvas->toWidget({before.left + before.width, before.top + before.height / 2})
                .toPoint();
        QTest::mousePress(canvas, Qt::LeftButton, {}, edge);
        QMouseEvent shrink(QEvent::MouseMove, edge - QPoint(40, 0),
                           canvas->mapToGlobal(edge - QPoint(40, 0)), Qt::NoButton, Qt::LeftButton,
                           Qt::ShiftModifier);
        QApplication::sendEvent(canvas, &shrink);
        QTest::mouseRelease(canvas, Qt::LeftButton, {}, edge - QPoint(40, 0));
        const auto& resized = document().sheet(sheet.id)->item(panelId)->rect;
        QVERIFY(resized.width < before.width - 5);
        QCOMPARE(resized.left, before.left);
        // By millimetres.
        auto* width = find<QDoubleSpinBox>("itemWidth");
        width->setFocus();
        width->selectAll();
        QTest::keyClicks(width, "250");
        QTest::keyClick(width, Qt::Key_Return);
        QCOMPARE(document().sheet(sheet.id)->item(panelId)->rect.width, 250.0);
        // Panning the map leaves the panel where it is.
        const auto panelBefore = *document().sheet(sheet.id)->item(panelId)->as<doc::MapPanel>();
        m_window->workspace().setView({{1, 2}, 999, 0});
        QVERIFY(*document().sheet(sheet.id)->item(panelId)->as<doc::MapPanel>() == panelBefore);
        m_window->workspace().goBack();
    }

    // Each item through its own fields, every change undone again by one step.
    void editsEachKindOfItem_data() {
        QTest::addColumn<QString>("kind");
        QTest::addColumn<QString>("field");
        QTest::addColumn<QString>("typed");
        QTest::addColumn<QString>("member");
        QTest::addColumn<QString>("value");
        QTest::newRow("panel: scale") << "map panel"
                                      << "panelScale"
                                      << "44000"
                                      << ""
                                      << "";
        QTest::newRow("text: size") << "text"
                                    << "itemSize"
                                    << "17.5"
                                    << "size_pt"
                                    << "17.5";
        QTest::newRow("text: bold") << "text"
                                    << "itemBold"
                                    << " "
                                    << "bold"
                                    << "no";
        QTest::newRow("text: alignment") << "text"
                                         << "itemAlign"
                                         << "R"
                                         << "align"
                                         << "right";
        QTest::newRow("legend: columns") << "legend"
                                         << "legendColumns"
                                         << "5"
                                         << "columns"
                                         << "5";
        QTest::newRow("legend: heading") << "legend"
                                         << "legendTitle"
                                         << "Signs"
                                         << "title"
                                         << "Signs";
        QTest::newRow("credits: size") << "credits"
                                       << "itemSize"
                                       << "4.5"
                                       << "size_pt"
                                       << "4.5";
        QTest::newRow("scale bar: width") << "scale bar"
                                          << "itemWidth"
                                          << "55"
                                          << ""
                                          << "";
        QTest::newRow("arrow: left") << "north arrow"
                                     << "itemLeft"
                                     << "33"
                                     << ""
                                     << "";
    }
    void editsEachKindOfItem() {
        QFETCH(QString, kind);
        QFETCH(QString, field);
        QFETCH(QString, typed);
        QFETCH(QString, member);
        QFETCH(QString, value);
        const doc::Id sheet = document().sheets[0]->id;
        auto& workspace = m_window->workspace();
        workspace.showSheet(sheet);
        workspace.setBench(Bench::Sheet);
        const auto& items = document().sheet(sheet)->items;
        const auto found = std::find_if(items.begin(), items.end(), [&](const doc::SheetItem& i) {
            return doc::itemKind(i) == kind.toStdString();
        });
        QVERIFY(found != items.end());
        const doc::Id item = (*found)->id;
        const doc::SheetItem before = *found;
        workspace.selectItem(item);
        QVERIFY(waitUntilIdle(*m_window));
        auto* widget = find<QWidget>(qPrintable(field));
        QVERIFY(widget && widget->isVisible());
        widget->setFocus();
        if (auto* box = qobject_cast<QDoubleSpinBox*>(widget)) box->selectAll();
        if (auto* line = qobject_cast<QLineEdit*>(widget)) line->selectAll();
        QTest::keyClicks(widget, typed);
        if (!qobject_cast<QComboBox*>(widget) && typed != " ")
            QTest::keyClick(widget, Qt::Key_Return);
        const doc::SheetItem& now = *document().sheet(sheet)->item(item);
        QVERIFY(now != before);
        if (!member.isEmpty()) {
            const auto asTyped = doc::withMember(before, member.toStdString(), value.toStdString());
            QVERIFY2(asTyped.has_value(), asTyped ? "" : asTyped.error().text().c_str());
            QVERIFY(*asTyped == now);
        }
        QCOMPARE(workspace.selectedItem(), item);
        QVERIFY(widget->hasFocus());
        m_session->undo();
        QVERIFY(*document().sheet(sheet)->item(item) == before);
        workspace.showMap();
    }

    void exportsTheSheet() {
        m_window->workspace().showSheet(document().sheets[0]->id);
        const QString png = m_dir.path() + "/sheet.png", pdf = m_dir.path() + "/sheet.pdf";
        m_window->sheetBench()->output().exportTo(png, 60);
        m_window->sheetBench()->output().exportTo(pdf, 60);
        m_session->jobs().wait();
        const auto& sheet = *m_window->workspace().sheet();
        QCOMPARE(QImage(png).size(),
                 QSize(qRound(sheet.widthMm / 25.4 * 60), qRound(sheet.heightMm / 25.4 * 60)));
        QFile file(pdf);
        QVERIFY(file.open(QIODevice::ReadOnly));
        QVERIFY(file.read(5) == "%PDF-");
        m_window->workspace().showMap();
    }

    void stopsAJobFromItsCard() {
        m_session->jobs().start("endless",
                                [](const Progress& p) -> Result<void> {
                                    while (!p.stopped())
                                        std::this_thread::sleep_for(std::chrono::milliseconds(2));
                                    return cancelled("endless");
                                },
                                {});
        auto* stop = find<QPushButton>("stopJob");
        QVERIFY(stop);
        QTest::mouseClick(stop, Qt::LeftButton);
        QTRY_VERIFY(!m_session->jobs().isRunning());
    }

    void addsDroppedFilesAndExplainsBadOnes() {
        QFile bad(m_dir.path() + "/bad.tif");
        QVERIFY(bad.open(QIODevice::WriteOnly));
        bad.write("this is no picture");
        bad.close();
        const std::size_t before = document().layers.size();
        QStringList said;
        const auto listening = connect(&m_window->workspace(), &Workspace::said, this,
                                       [&](const QString& text) { said << text; });
        QMimeData mime;
        mime.setUrls({QUrl::fromLocalFile(bad.fileName()),
                      QUrl::fromLocalFile(QString::fromStdString(
                          (test::coarseDemo().parent_path() / "places.geojson").string()))});
        QDragEnterEvent enter(QPoint(500, 300), Qt::CopyAction, &mime, Qt::LeftButton,
                              Qt::NoModifier);
        QApplication::sendEvent(m_window.get(), &enter);
        QVERIFY(enter.isAccepted());
        QDropEvent drop(QPointF(500, 300), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(m_window.get(), &drop);
        QVERIFY(waitUntilIdle(*m_window));
        QCOMPARE(document().layers.size(), before + 1);
        QCOMPARE(m_session->document().sources.size(),
                 m_opened->sources.size());  // the same file is the same source
        disconnect(listening);
        QVERIFY(std::any_of(said.begin(), said.end(), [](const QString& s) {
            return s.contains("bad.tif") && s.contains("(");
        }));
    }

    void undoesAllTheWayAndRedoes() {
        const doc::DocumentPtr last = m_session->snapshot();
        QVERIFY(m_session->isModified());
        int steps = 0;
        while (m_session->history().canUndo()) {
            find<QAction>("undo")->trigger();
            ++steps;
        }
        QVERIFY(steps > 4);
        QVERIFY(m_session->snapshot() == m_opened);
        QVERIFY(!m_session->isModified());
        QVERIFY(waitUntilIdle(*m_window));
        while (m_session->history().canRedo()) find<QAction>("redo")->trigger();
        QVERIFY(m_session->snapshot() == last);
        QVERIFY(waitUntilIdle(*m_window));
    }

    void savesAndOpensAgain() {
        const std::filesystem::path file = m_dir.path().toStdString() + "/saved.ledge";
        QVERIFY(m_session->save(file).has_value());
        const doc::Document saved = document();
        m_session->clear();
        QVERIFY(document().layers.empty());
        m_window->openPath(QString::fromStdString(file.string()));
        QVERIFY(document() == saved);
        QVERIFY(waitUntilIdle(*m_window));
    }

    void namesEveryControlForAccessibility() {
        for (const auto* widget : m_window->findChildren<QWidget*>()) {
            if (widget->focusPolicy() == Qt::NoFocus || !widget->isVisible()) continue;
            const auto* button = qobject_cast<const QAbstractButton*>(widget);
            const bool isNamed =
                !widget->accessibleName().isEmpty() || (button && !button->text().isEmpty()) ||
                widget->inherits("QAbstractScrollArea") || widget->inherits("QAbstractItemView") ||
                widget->parentWidget()->inherits("QAbstractSpinBox") ||
                widget->parentWidget()->inherits("QComboBox");
            QVERIFY2(isNamed, widget->metaObject()->className());
        }
    }

    void hidesEverythingButTheMap() {
        QTest::keyClick(m_window.get(), Qt::Key_F9);
        QVERIFY(!m_window->findChild<StackPanel*>()->isVisible());
        QTRY_VERIFY(m_window->map()->width() > windowSize().width() - 80);
        QTest::keyClick(m_window.get(), Qt::Key_F9);
        QVERIFY(m_window->findChild<StackPanel*>()->isVisible());
    }
};

QTEST_MAIN(WindowTest)
#include "window_test.moc"
