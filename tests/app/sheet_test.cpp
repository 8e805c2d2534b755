#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QLineEdit>
#include <QMenu>
#include <QPlainTextEdit>
#include <QProcess>
#include <QPushButton>
#include <QTimer>
#include <QToolButton>

#include "app/benches/sheet_bench.h"
#include "app/canvas/sheet_canvas.h"
#include "app/sheet/item_menu.h"
#include "app/stack/stack_panel.h"
#include "core/base/numbers.h"
#include "document/json/members.h"
#include "document/map_crs.h"
#include "document/panels.h"
#include "session/aside.h"
#include "session/export_sheet.h"
#include "session/project_store.h"
#include "support/coarse_demo.h"
#include "support/places.h"
#include "support/sheet_window.h"

using namespace ledge;
using namespace ledge::app;

/// Sheets composed by mouse and keyboard in the real window.
class SheetTest : public QObject, test::SheetWindow {
    Q_OBJECT

private slots:
    void initTestCase() { openWindow(test::coarseDemo()); }
    void cleanup() {
        workspace().showMap();
        undoAll();
    }
    void cleanupTestCase() { closeWindow(); }

    // A sheet from nothing: page, panel, title, legend, bar, arrow, shape; then by commands alone,
    // and both have equal pixels.
    void composesASheetByHandAndByCommand() {
        workspace().setView({document().lastView.centre, 150000, 0});
        workspace().setBench(Bench::Sheet);
        QTRY_VERIFY(shown<QComboBox>("sheetTemplate"));
        auto* from = shown<QComboBox>("sheetTemplate");
        from->setCurrentIndex(from->findData("empty"));
        QTest::mouseClick(shown<QPushButton>("newSheet"), Qt::LeftButton);
        QVERIFY(workspace().sheet() && sheet().items.empty());
        type<QLineEdit>("sheetName", "By hand");
        type<QLineEdit>("pageWidth", "6 in");
        QVERIFY(std::abs(sheet().widthMm - 152.4) < 1e-9);
        type<QLineEdit>("pageHeight", "15 cm");
        QCOMPARE(sheet().heightMm, 150.0);
        QVERIFY(waitUntilIdle(*m_window));
        addByMenu({"Map panel"});
        QCOMPARE(sheet().items.size(), std::size_t{1});
        QVERIFY(waitUntilIdle(*m_window));
        type<QDoubleSpinBox>("itemLeft", "10");
        type<QDoubleSpinBox>("itemTop", "20");
        type<QDoubleSpinBox>("itemWidth", "132.4");
        type<QDoubleSpinBox>("itemHeight", "100");
        type<QDoubleSpinBox>("panelScale", "200000");
        choose("panelLamps", 1);
        QVERIFY(panel("Map panel").lit.has_value());
        addByMenu({"Title"});
        QVERIFY(waitUntilIdle(*m_window));
        auto* text = shown<QPlainTextEdit>("itemText");
        QVERIFY(text);
        text->setFocus();
        text->selectAll();
        QTest::keyClicks(text, "Skerravoe in {Map panel: scale}");
        type<QDoubleSpinBox>("itemLeft", "10");
        type<QDoubleSpinBox>("itemTop", "7");
        addByMenu({"Scale bar"});
        type<QDoubleSpinBox>("itemLeft", "8");
        type<QDoubleSpinBox>("itemTop", "130");
        choose("barForm", 1);
        addByMenu({"North arrow"});
        type<QDoubleSpinBox>("itemLeft", "130");
        type<QDoubleSpinBox>("itemTop", "125");
        addByMenu({"Shape", "Ellipse"});
        QCOMPARE(item("Ellipse").as<doc::ShapeItem>()->form, doc::ShapeForm::Ellipse);
        type<QDoubleSpinBox>("itemLeft", "60");
        addByMenu({"Credits"});
        type<QDoubleSpinBox>("itemLeft", "60");
        type<QDoubleSpinBox>("itemTop", "142");
        QVERIFY(waitUntilIdle(*m_window));
        QCOMPARE(sheet().items.size(), std::size_t{6});
        // By commands, in a project of its own.
        const QString project = m_dir.filePath("commands.ledge");
        QVERIFY(session::saveProject(*m_opened, project.toStdString()).has_value());
        const doc::MapPanel byHand = panel("Map panel");
        const auto ledge = [&](const QStringList& words) {
            QProcess process;
            process.start(test::kProgram, words);
            QVERIFY(process.waitForFinished(60000));
            QVERIFY2(process.exitCode() == 0, process.readAllStandardError());
        };
        const auto edit = [&](const QStringList& words) {
            ledge(QStringList{"edit", project} + words);
        };
        const QString centre = QString("centre=%1,%2")
                                   .arg(QString::fromStdString(exactNumber(byHand.centre.x)),
                                        QString::fromStdString(exactNumber(byHand.centre.y)));
        edit({"sheet-add", "name=By hand", "template=empty", "width=6 in", "height=15cm"});
        edit({"item-add", "sheet=By hand", "kind=map panel", "name=Map panel",
              "rect=10,20,132.4,100", centre, "scale=200000"});
        edit({"panel-lamps", "sheet=By hand", "item=Map panel", "from=map"});
        edit({"item-add", "sheet=By hand", "kind=text", "name=Title", "rect=10,7,120,10",
              "text=Skerravoe in {Map panel: scale}", R"(with={"size_pt": 18, "bold": true})"});
        edit({"item-add", "sheet=By hand", "kind=scale bar", "name=Scale bar", "rect=8,130,80,9",
              R"(with={"form": "blocks"})"});
        edit({"item-add", "sheet=By hand", "kind=north arrow", "name=North arrow",
              "rect=130,125,9,13"});
        edit({"item-add", "sheet=By hand", "kind=shape", "name=Ellipse", "rect=60,20,40,25",
              R"(with={"form": "ellipse"})"});
        edit({"item-add", "sheet=By hand", "kind=credits", "name=Credits", "rect=60,142,80,6"});
        const auto made = session::loadProject(project.toStdString());
        QVERIFY(made.has_value());
        const auto pixels = [&](const doc::Document& d) {
            for (const doc::Sheet& one : d.sheets)
                if (one.name == "By hand") {
                    const QString path = m_dir.filePath("pixels.png");
                    const auto done =
                        session::exportSheet(d, one, std::make_shared<session::SourceCache>(),
                                             path.toStdString(), {100}, {});
                    return done ? QImage(path) : QImage();
                }
            return QImage();
        };
        const auto one = session::aside([&] { return pixels(document()); }),
                   other = session::aside([&] { return pixels(*made); });
        QVERIFY(!one.isNull());
        QCOMPARE(one.size(), QSize(600, 591));
        QVERIFY2(one == other, "the pixels differ");
    }

    void saysWhatIsNoSize() {
        show("Overview");
        type<QLineEdit>("pageWidth", "wide");
        bool isSaid = false;
        for (QLabel* label : m_window->findChildren<QLabel*>())
            isSaid = isSaid || (label->isVisible() && label->text().contains("is no length"));
        QVERIFY(isSaid);
        QCOMPARE(sheet().widthMm, 297.0);
        type<QLineEdit>("pageWidth", "30 cm");
        QCOMPARE(sheet().widthMm, 300.0);
        QTRY_VERIFY([&] {
            for (QLabel* label : m_window->findChildren<QLabel*>())
                if (label->isVisible() && label->text().contains("is no length")) return false;
            return true;
        }());
    }
    void turnsAndNamesPages() {
        show("Overview");
        QTest::mouseClick(shown<QPushButton>("turnPage"), Qt::LeftButton);
        QVERIFY(sheet().heightMm > sheet().widthMm);
        auto* names = shown<QComboBox>("pageName");
        choose("pageName", names->findText("A3"));
        QCOMPARE(sheet().widthMm, 297.0);
        QCOMPARE(sheet().heightMm, 420.0);
        for (const doc::SheetItem& one : sheet().items)
            QVERIFY(one.rect.left + one.rect.width <= 297 + 1e-6 &&
                    one.rect.top + one.rect.height <= 420 + 1e-6);
    }

    void choosesSeveral() {
        show("Overview");
        click("Title");
        QCOMPARE(workspace().selectedItems().size(), std::size_t{1});
        click("Main map", Qt::ShiftModifier);
        QCOMPARE(workspace().selectedItems().size(), std::size_t{2});
        click("Title", Qt::ControlModifier);
        QCOMPARE(workspace().selectedItem(), item("Main map").id);
        // By a rubber band around the foot; from where nothing is.
        press(Qt::Key_Escape);
        drag(at(1, 158), at(290, 208), Qt::NoModifier);
        QVERIFY2(workspace().selectedItems().size() >= 4,
                 qPrintable(QString::number(workspace().selectedItems().size())));
        // What they have alike is changed for all of them in one step.
        const auto before = m_session->snapshot();
        press(Qt::Key_A, Qt::ControlModifier);
        QCOMPARE(workspace().selectedItems().size(), sheet().items.size());
        QTRY_VERIFY(shown<QCheckBox>("itemLocked"));
        toggle("itemLocked");
        for (const doc::SheetItem& one : sheet().items) QVERIFY(one.isLocked);
        m_session->undo();
        QVERIFY(m_session->snapshot() == before);
    }
    void movesSeveralTogether() {
        show("Overview");
        click("Title");
        click("Scale", Qt::ShiftModifier);
        const doc::PageRect title = item("Title").rect, scale = item("Scale").rect;
        const QPoint from = middleOf("Scale");
        drag(from, from + QPoint(12, -9));
        const double dx = item("Title").rect.left - title.left,
                     dy = item("Title").rect.top - title.top;
        QVERIFY(dx > 1 && dy < -1);
        QVERIFY(std::abs(item("Scale").rect.left - scale.left - dx) < 0.11 &&
                std::abs(item("Scale").rect.top - scale.top - dy) < 0.11);
        m_session->undo();
        QVERIFY(item("Title").rect == title && item("Scale").rect == scale);
        // By keys: a millimetre, or a tenth with Shift.
        canvas()->setFocus();
        press(Qt::Key_Right);
        press(Qt::Key_Down, Qt::ShiftModifier);
        QVERIFY(std::abs(item("Scale").rect.left - scale.left - 1) < 1e-9 &&
                std::abs(item("Title").rect.top - title.top - 0.1) < 1e-9);
        // A group moves whole, whichever of them is taken.
        press(Qt::Key_G, Qt::ControlModifier);
        QVERIFY(item("Title").group != 0);
        press(Qt::Key_Escape);
        const doc::PageRect before = item("Title").rect;
        click("Scale");
        drag(middleOf("Scale"), middleOf("Scale") + QPoint(0, -12));
        QVERIFY(item("Title").rect.top < before.top - 1);
        press(Qt::Key_G, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(item("Title").group, 0);
    }
    void snapsToMarginsAndGuides() {
        show("Overview");
        // Out of the ruler at the left comes a guide; beyond the page it goes.
        drag(QPoint(5, canvas()->height() / 2), at(77, 100), Qt::NoModifier);
        QCOMPARE(sheet().guidesAcross.size(), std::size_t{1});
        QVERIFY(std::abs(sheet().guidesAcross[0] - 77) < 0.5);
        workspace().performOnSheet("item-rect", {{"item", "Title"}, {"rect", "40,165,33.3,7.7"}});
        click("Title");
        const doc::PageRect r = item("Title").rect;
        drag(middleOf("Title"), middleOf("Title") + (at(77.6, 0) - at(r.left, 0)), Qt::NoModifier);
        QVERIFY2(std::abs(item("Title").rect.left - sheet().guidesAcross[0]) < 0.06,
                 qPrintable(QString::number(item("Title").rect.left)));
        const QPoint free = at(sheet().guidesAcross[0], 3);
        drag(free, QPoint(free.x(), free.y()) + (at(-20, 0) - at(77, 0)), Qt::NoModifier);
        QVERIFY(sheet().guidesAcross.empty());
    }
    void stepsThroughItemsByKeys() {
        show("Overview");
        canvas()->setFocus();
        QSet<doc::Id> seen;
        for (std::size_t i = 0; i < sheet().items.size(); ++i) {
            press(Qt::Key_Tab);
            seen.insert(workspace().selectedItem());
        }
        QCOMPARE(seen.size(), qsizetype(sheet().items.size()));
        QVERIFY(canvas()->hasFocus());
        press(Qt::Key_Backtab, Qt::ShiftModifier);
        QCOMPARE(workspace().selectedItem(), sheet().items[sheet().items.size() - 2]->id);
        // On from the last the focus leaves.
        press(Qt::Key_Tab);
        press(Qt::Key_Tab);
        QVERIFY(!canvas()->hasFocus());
    }
    void copiesWithinAndBetweenSheets() {
        show("Overview");
        click("Title");
        click("Scale", Qt::ShiftModifier);
        canvas()->setFocus();
        press(Qt::Key_C, Qt::ControlModifier);
        const auto before = sheet().items.size();
        press(Qt::Key_V, Qt::ControlModifier);
        QCOMPARE(sheet().items.size(), before + 2);
        QCOMPARE(workspace().selectedItems().size(), std::size_t{2});
        QVERIFY(std::abs(item("Title 2").rect.left - item("Title").rect.left - 5) < 1e-9);
        QCOMPARE(item("Scale 2").as<doc::ScaleBarItem>()->panel,
                 item("Scale").as<doc::ScaleBarItem>()->panel);
        show("Glen survey");
        canvas()->setFocus();
        press(Qt::Key_V, Qt::ControlModifier);
        QVERIFY(!item("Title 2").name.empty());
        // There is no such panel here: the first one stands in.
        QVERIFY(sheet().panel(item("Scale 2").as<doc::ScaleBarItem>()->panel));
        press(Qt::Key_D, Qt::ControlModifier);
        QVERIFY(!item("Title 3").name.empty());
        press(Qt::Key_Delete);
        for (const doc::SheetItem& one : sheet().items) QVERIFY(one.name != "Title 3");
        QApplication::clipboard()->setText("words of somebody");
        const auto now = m_session->snapshot();
        press(Qt::Key_V, Qt::ControlModifier);
        QVERIFY(m_session->snapshot() == now);
    }
    void arrangesByTheMenu() {
        show("Overview");
        click("Title");
        click("Subtitle", Qt::ShiftModifier);
        menuOn("Title", {"Align with each other", "Right sides"});
        const auto right = [&](const char* name) {
            return item(name).rect.left + item(name).rect.width;
        };
        QVERIFY(std::abs(right("Title") - right("Subtitle")) < 1e-9);
        click("North");
        menuOn("North", {"Pin to the page", "Right side"});
        QCOMPARE(item("North").pins.size(), std::size_t{1});
        const double off = sheet().widthMm - right("North");
        press(Qt::Key_Escape);
        type<QLineEdit>("pageWidth", "350");
        QVERIFY(std::abs(sheet().widthMm - right("North") - off) < 1e-6);
        click("North");
        menuOn("North", {"Order", "To the bottom"});
        QCOMPARE(sheet().items.back()->name, std::string("North"));
        menuOn("North", {"Remove"});
        for (const doc::SheetItem& one : sheet().items) QVERIFY(one.name != "North");
    }

    // The map inside its panel, without leaving the sheet: by mouse, wheel and keys; the panel
    // stays, and the map on the canvas too.
    void movesTheMapInside() {
        show("Overview");
        const doc::PageRect rect = item("Main map").rect;
        const doc::MapView mapView = workspace().view();
        QTest::mouseDClick(canvas(), Qt::LeftButton, Qt::NoModifier, middleOf("Main map"));
        QVERIFY(workspace().movesContent());
        const auto view = [&] { return doc::viewOf(doc::resolved(document(), panel("Main map"))); };
        const doc::MapView before = view();
        drag(middleOf("Main map"), middleOf("Main map") + QPoint(30, 0), Qt::NoModifier);
        QVERIFY(view().centre.x < before.centre.x - 100);
        QVERIFY(item("Main map").rect == rect && workspace().view() == mapView);
        m_session->undo();
        QVERIFY(view() == before);  // one step
        const QPoint middle = middleOf("Main map");
        QWheelEvent wheel(middle, canvas()->mapToGlobal(middle), {}, {0, 120}, Qt::NoButton,
                          Qt::NoModifier, Qt::NoScrollPhase, false);
        QApplication::sendEvent(canvas(), &wheel);
        QVERIFY(view().scale < before.scale * 0.9);
        canvas()->setFocus();
        press(Qt::Key_BracketRight);
        QCOMPARE(view().rotation, 5.0);
        press(Qt::Key_Left);
        press(Qt::Key_Minus);
        QTest::mouseClick(shown<QPushButton>("panelRound"), Qt::LeftButton);
        const double scale =
            doc::groundScale(panel("Main map"), doc::crsIn(document(), panel("Main map").crs));
        QVERIFY(std::abs(scale / std::round(scale / 1000) - 1000) < 1e-3);
        canvas()->setFocus();
        press(Qt::Key_Escape);
        QVERIFY(!workspace().movesContent());
        QVERIFY(item("Main map").rect == rect && workspace().view() == mapView);
    }
    // The map as it is on the sheet: the same place, scale and turn.
    void showsAPanelOnTheMap() {
        show("Glen survey");
        click("Main map");
        workspace().performOnItem("panel-rotation", {{"degrees", "12"}});
        const doc::MapPanel shownPanel = panel("Main map");
        QTRY_VERIFY(shown<QPushButton>("panelOnMap"));
        QTest::mouseClick(shown<QPushButton>("panelOnMap"), Qt::LeftButton);
        QCOMPARE(workspace().sheetId(), doc::Id{0});
        QVERIFY(std::abs(workspace().view().scale / shownPanel.scale - 1) < 1e-9);
        QCOMPARE(workspace().view().rotation, 12.0);
        QVERIFY(std::hypot(workspace().view().centre.x - shownPanel.centre.x,
                           workspace().view().centre.y - shownPanel.centre.y) < 1e-6);
    }
    void looksAtAllOfIt() {
        show("Overview");
        click("Main map");
        workspace().performOnItem("panel-scale", {{"scale", "5000"}});
        QTRY_VERIFY(shown<QPushButton>("panelFit"));
        QTest::mouseClick(shown<QPushButton>("panelFit"), Qt::LeftButton);
        QTRY_VERIFY(doc::resolved(document(), panel("Main map")).scale > 50000);
    }
    // With the sheet on the canvas the stack's lamps are the panel's.
    void showsThePanelsLamps() {
        show("Overview");
        click("Main map");
        auto* stack = m_window->findChild<StackPanel*>();
        const auto lamp = [&](const char* name) {
            return stack->strip(layer(name))->findChild<QToolButton*>("lamp");
        };
        QTRY_VERIFY(stack->strip(layer("Roads")));
        QVERIFY(lamp("Roads")->isChecked());
        QTest::mouseClick(lamp("Roads"), Qt::LeftButton);
        QVERIFY(!lamp("Roads")->isChecked());
        QVERIFY(document().layer(layer("Roads"))->isVisible);  // the map's is as it was
        const auto lit = *panel("Main map").lit;
        QVERIFY(std::find(lit.begin(), lit.end(), layer("Roads")) == lit.end());
        show("Glen survey");
        QVERIFY(lamp("Roads")->isChecked());
        workspace().showMap();
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(lamp("Roads")->isChecked());
    }
    void drawsGridsOverPanels() {
        show("Overview");
        click("Main map");
        QVERIFY(waitUntilIdle(*m_window));
        const QImage before = canvas()->grab().toImage();
        QTest::mouseClick(shown<QPushButton>("addPanelGrid"), Qt::LeftButton);
        QCOMPARE(panel("Main map").grids.size(), std::size_t{1});
        QTRY_VERIFY(shown<QComboBox>("gridForm0"));
        choose("gridForm0", 1);
        QCOMPARE(panel("Main map").grids[0].form, doc::GridForm::Crosses);
        type<QLineEdit>("gridCrs0", "EPSG:99999");
        QVERIFY(panel("Main map").grids[0].style.crs.empty());
        type<QLineEdit>("gridCrs0", "EPSG:4326");
        QCOMPARE(panel("Main map").grids[0].style.crs, std::string("EPSG:4326"));
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(canvas()->grab().toImage() != before);
    }
    void editsLegends() {
        show("Overview");
        click("Key");
        QTRY_VERIFY(shown<QCheckBox>("legendListed0"));
        toggle("legendListed0");
        const auto& legend = [&]() -> const doc::LegendItem& {
            return *item("Key").as<doc::LegendItem>();
        };
        QCOMPARE(legend().left_out.size(), std::size_t{2});  // the coast is left out already
        QTRY_VERIFY(shown<QPushButton>("legendUp1"));
        QTest::mouseClick(shown<QPushButton>("legendUp1"), Qt::LeftButton);
        QVERIFY(!legend().order.empty());
        QTRY_VERIFY(shown<QLineEdit>("legendName0"));
        type<QLineEdit>("legendName0", "What one sees");
        QVERIFY(std::any_of(legend().names.begin(), legend().names.end(),
                            [](const auto& one) { return one.second == "What one sees"; }));
        toggle("legendOfView");
        QVERIFY(!legend().isOfView);  // it was
    }
    void pagesThroughASeries() {
        show("Districts");
        press(Qt::Key_Escape);
        QTRY_VERIFY(shown<QDoubleSpinBox>("seriesPage"));
        const QImage first = canvas()->grab().toImage();
        type<QDoubleSpinBox>("seriesPage", "3");
        QCOMPARE(workspace().shownPage(), 3);
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(canvas()->grab().toImage() != first);
        // Another sheet becomes one over fields.
        show("Overview");
        press(Qt::Key_Escape);
        QTRY_VERIFY(shown<QComboBox>("seriesOver"));
        choose("seriesOver", 3);
        QCOMPARE(sheet().series.over, doc::SeriesOver::Layers);
        QTRY_VERIFY(shown<QCheckBox>("seriesThing.Roads"));
        toggle("seriesThing.Roads");
        QCOMPARE(sheet().series.things, std::vector<doc::Id>{layer("Roads")});
    }
    void listsWhatToMend() {
        show("Overview");
        press(Qt::Key_Escape);
        auto& remarks = m_window->sheetBench()->remarks();
        QTRY_VERIFY(!remarks.isLooking());
        QVERIFY2(remarks.remarks().empty(),
                 remarks.remarks().empty() ? "" : qPrintable(remarks.remarks().front().said));
        workspace().performOnSheet("item-set",
                                   {{"item", "Subtitle"}, {"member", "size_pt"}, {"value", "3"}});
        QTRY_COMPARE(remarks.remarks().size(), std::size_t{1});
        QTRY_VERIFY(shown<QPushButton>("mend0"));
        QTest::mouseClick(shown<QPushButton>("mend0"), Qt::LeftButton);
        QCOMPARE(item("Subtitle").as<doc::TextItem>()->sizePt, 5.0);
        QTRY_VERIFY(remarks.remarks().empty());
    }
    void copiesSheetsAndPictures() {
        show("Overview");
        press(Qt::Key_Escape);
        QTRY_VERIFY(shown<QPushButton>("copyOfSheet"));
        const auto count = document().sheets.size();
        QTest::mouseClick(shown<QPushButton>("copyOfSheet"), Qt::LeftButton);
        QCOMPARE(document().sheets.size(), count + 1);
        QCOMPARE(sheet().name, std::string("Overview, copy"));
        QTRY_VERIFY(shown<QPushButton>("copySheet"));
        QTest::mouseClick(shown<QPushButton>("copySheet"), Qt::LeftButton);
        QTRY_VERIFY_WITH_TIMEOUT(!QApplication::clipboard()->image().isNull(), 60000);
        QVERIFY(waitUntilIdle(*m_window));
    }
};

QTEST_MAIN(SheetTest)
#include "sheet_test.moc"
