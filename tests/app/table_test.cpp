#include <QAbstractItemView>
#include <QClipboard>
#include <QComboBox>
#include <QCompleter>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QProcess>
#include <QPushButton>
#include <QScrollBar>
#include <QTimer>

#include "app/benches/ask_bench.h"
#include "app/probe_panel.h"
#include "app/widgets/code_view.h"
#include "session/aside.h"
#include "support/places.h"
#include "support/table_window.h"

using namespace ledge;
using namespace ledge::app;

/// The attribute table, the formula panel, picking and the Ask bench, by mouse and keyboard.
class TableTest : public QObject, test::TableWindow {
    Q_OBJECT

private:
    void clickHead(const char* name, Qt::KeyboardModifiers keys = {}) const {
        auto* head = view()->head();
        const int at = column(name);
        view()->scrollTo(model().index(0, at));
        const QPoint spot(head->sectionViewportPosition(at) + 20, 10);
        QTest::mouseClick(head->viewport(), Qt::LeftButton, keys, spot);
        QTRY_VERIFY(!drawer()->isBusy());
    }
    void clickRow(int row, Qt::KeyboardModifiers keys = {}) const {
        auto* head = view()->verticalHeader();
        // Its handler asks for the keys that are held, which a test can only send.
        const QPoint spot(8, head->sectionViewportPosition(row) + 8);
        QTest::keyPress(view(), Qt::Key_Shift, {});
        QTest::keyRelease(view(), Qt::Key_Shift, {});
        QTest::mouseClick(head->viewport(), Qt::LeftButton, keys, spot);
    }
    // In a small window what has no room stands in the menu.
    void pressInMenu(const char* name) const {
        auto* button = m_window->findChild<QAbstractButton*>(name);
        auto* more = shown<QToolButton>("tableMore");
        QVERIFY2(button && more, name);
        bool isDone = false;
        QTimer::singleShot(0, [&isDone, words = button->text()] {
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            for (QAction* action : menu ? menu->actions() : QList<QAction*>())
                if (action->text() == words && action->isEnabled())
                    action->trigger(), isDone = true;
            while (QWidget* open = QApplication::activePopupWidget()) open->close();
        });
        QTest::mouseClick(more, Qt::LeftButton);
        QVERIFY2(isDone, name);
    }
    void press(const char* name) const {
        auto* button = shown<QAbstractButton>(name);
        if (!button) return pressInMenu(name);
        QVERIFY2(button->isEnabled(), name);
        QTest::mouseClick(button, Qt::LeftButton);
    }

private slots:
    void initTestCase() { openWindow(test::coarseDemo(30)); }
    void cleanup() {
        QApplication::setActiveWindow(m_window.get());
        drawer()->hide();
        workspace().pick(crofts(), {});
        workspace().setTool(Tool::Move);
        workspace().setBench(Bench::Data);
        undoAll();
        QVERIFY(waitUntilIdle(*m_window));
    }
    void cleanupTestCase() { closeWindow(); }

    void opensAndFollowsTheSelectedLayer() {
        openTable();
        QCOMPARE(model().rowCount(), 48);
        QVERIFY(column("sheep") >= 0);
        QVERIFY(drawer()->findChild<QLabel*>("tableTitle")->text().contains("48 rows"));
        QVERIFY(view()->hasFocus());
        workspace().selectLayer(layer("Roads"));
        QTRY_VERIFY(column("class") >= 0);
        // A layer without a table leaves what was there.
        workspace().selectLayer(layer("Hillshade"));
        QVERIFY(column("class") >= 0);
        QTest::keyClick(view(), Qt::Key_Escape);
        QVERIFY(!drawer()->isVisible());
    }
    void ordersByHeads() {
        openTable();
        clickHead("sheep");
        QStringList sheep = cells("sheep");
        QCOMPARE(sheep.last(), QString("\u2013"));  // missing ones stay last
        QVERIFY(sheep[0].toInt() <= sheep[10].toInt());
        clickHead("sheep");
        QVERIFY(cells("sheep")[0].toInt() >= cells("sheep")[10].toInt());
        QCOMPARE(cells("sheep").last(), QString("\u2013"));
        clickHead("sheep");  // as it stands in the data
        clickHead("use");
        const QStringList uses = cells("use");
        QVERIFY(std::is_sorted(uses.begin(), uses.end() - 1));
        clickHead("use");
        clickHead("use");
        QVERIFY(!m_session->history().canUndo());  // the order is no edit
    }
    void tellsWhatColumnsComeTo() {
        openTable();
        const auto at = model().columns()[std::size_t(column("sheep"))].field;
        QTRY_VERIFY(view()->head()->facts(at));
        const auto& facts = *view()->head()->facts(at);
        QCOMPARE(facts.summary.count + facts.summary.missing, std::int64_t(48));
        QVERIFY(facts.summary.missing > 0);
        QCOMPARE(std::accumulate(facts.bins.begin(), facts.bins.end(), std::int64_t{0}),
                 facts.summary.count);
    }
    void findsAsOneTypes() {
        openTable();
        drawer()->find()->setFocus();
        QTest::keyClicks(drawer()->find(), "hay");
        QTRY_VERIFY(!drawer()->isBusy() && model().rowCount() < 48);
        QVERIFY(model().rowCount() > 0);
        for (const QString& use : cells("use")) QCOMPARE(use, QString("hay"));
        QVERIFY(drawer()->find()->hasFocus());
        drawer()->find()->clear();
        QTRY_COMPARE(model().rowCount(), 48);
    }

    void picksRowsAndFeatures() {
        openTable();
        clickRow(2);
        QCOMPARE(workspace().picked(crofts()), std::vector<FeatureKey>{model().keyOf(2)});
        QVERIFY(model().isPicked(2));
        // Space takes the row of the current cell in and out again.
        view()->setCurrentIndex(model().index(5, 0));
        QTest::keyClick(view(), Qt::Key_Space);
        QCOMPARE(workspace().picked(crofts()).size(), std::size_t(2));
        QTest::keyClick(view(), Qt::Key_Space);
        QCOMPARE(workspace().picked(crofts()).size(), std::size_t(1));
        view()->setCurrentIndex(model().index(8, 0));
        QTest::keyClick(view(), Qt::Key_Space, Qt::ShiftModifier);
        QVERIFY(workspace().picked(crofts()).size() >= 4);
        const auto before = workspace().picked(crofts()).size();
        QTRY_VERIFY(!m_window->map()->picked().picture().isNull());
        press("tablePickedFirst");
        QTRY_VERIFY(!drawer()->isBusy() && model().isPicked(int(before) - 1));
        QVERIFY(!model().isPicked(int(before)));
        drawer()->findChild<QToolButton*>("tablePickedOnly")->setChecked(true);
        QTRY_COMPARE(model().rowCount(), int(before));
        drawer()->findChild<QToolButton*>("tablePickedOnly")->setChecked(false);
        drawer()->findChild<QToolButton*>("tablePickedFirst")->setChecked(false);
        QTRY_COMPARE(model().rowCount(), 48);
        const auto was = workspace().view();
        emit drawer()->zoomAsked(crofts());
        QTRY_VERIFY(!(workspace().view() == was));
    }
    void picksOnTheMap() {
        workspace().selectLayer(layer("Crofts"));
        Q_EMIT workspace().fitAsked(layer("Crofts"));
        QVERIFY(waitUntilIdle(*m_window));
        m_window->map()->setFocus();
        QTest::keyClick(m_window->map(), Qt::Key_K, Qt::AltModifier);
        QTRY_COMPARE(workspace().tool(), Tool::Pick);
        auto* map = m_window->map();
        QTest::mousePress(map, Qt::LeftButton, {}, QPoint(4, 60));
        QTest::mouseMove(map, QPoint(map->width() / 2, map->height() / 2));
        QTest::mouseRelease(map, Qt::LeftButton, {}, QPoint(map->width() - 4, map->height() - 4));
        QTRY_VERIFY(workspace().picked(crofts()).size() > 40);
        const auto all = workspace().picked(crofts()).size();
        // Ctrl adds, Alt takes away, a click on nothing picks nothing.
        QTest::mousePress(map, Qt::LeftButton, Qt::AltModifier, QPoint(4, 60));
        QTest::mouseRelease(map, Qt::LeftButton, Qt::AltModifier,
                            QPoint(map->width() - 4, map->height() / 2));
        QTRY_VERIFY(workspace().picked(crofts()).size() < all);
        QTest::mouseClick(map, Qt::LeftButton, {}, QPoint(3, map->height() - 3));
        QTRY_VERIFY(workspace().picked(crofts()).empty());
    }

    void editsCellsAndUndoes() {
        openTable();
        const QString old = cell(0, "use");
        const auto at = model().index(0, column("use"));
        view()->setCurrentIndex(at);
        QTest::keyClick(view(), Qt::Key_F2);
        auto* editor = view()->findChild<QLineEdit*>();
        QVERIFY(editor);
        editor->selectAll();
        QTest::keyClicks(editor, "orchard");
        QTest::keyClick(editor, Qt::Key_Return);
        QTRY_COMPARE(cell(0, "use"), QString("orchard"));
        QTRY_VERIFY(!drawer()->isBusy());
        QVERIFY(drawer()->findChild<QLabel*>("tableTitle")->text().contains("edited"));
        QTest::keyClick(view(), Qt::Key_Z, Qt::ControlModifier);
        QTRY_COMPARE(cell(0, "use"), old);
        // What does not fit says so, and nothing changes.
        QTRY_VERIFY(!drawer()->isBusy());
        model().setData(model().index(0, column("sheep")), "many", Qt::EditRole);
        QVERIFY(m_window->findChild<QLabel*>("where")->text().contains("whole number"));
        QVERIFY(!m_session->history().canUndo());
    }
    void copiesAndPastesBlocks() {
        openTable();
        view()->selectionModel()->select(
            QItemSelection(model().index(0, column("use")), model().index(2, column("sheep"))),
            QItemSelectionModel::ClearAndSelect);
        QTest::keyClick(view(), Qt::Key_C, Qt::ControlModifier);
        const QStringList lines = QApplication::clipboard()->text().split('\n', Qt::SkipEmptyParts);
        QCOMPARE(lines.size(), 4);
        QCOMPARE(lines[0], QString("use\tsheep"));
        QApplication::clipboard()->setText("use\tsheep\nhay\t5\narable\t6\n");
        view()->setCurrentIndex(model().index(10, column("use")));
        QTest::keyClick(view(), Qt::Key_V, Qt::ControlModifier);
        QTRY_COMPARE(cell(11, "sheep"), QString("6"));
        QCOMPARE(cell(10, "use"), QString("hay"));
        QCOMPARE(QString::fromStdString(m_session->history().undoLabel()),
                 QString("Cells in Crofts"));
        QTRY_VERIFY(!drawer()->isBusy());
        // All or nothing.
        QApplication::clipboard()->setText("hay\t7\nhay\tmany");
        QTest::keyClick(view(), Qt::Key_V, Qt::ControlModifier);
        QCOMPARE(cell(10, "sheep"), QString("5"));
        view()->selectionModel()->select(model().index(11, column("sheep")),
                                         QItemSelectionModel::ClearAndSelect);
        QTest::keyClick(view(), Qt::Key_Delete);
        QTRY_COMPARE(cell(11, "sheep"), QString("\u2013"));
    }
    void computesColumns() {
        openTable();
        // Two rows that have what the formula reads.
        std::vector<int> there;
        for (int i = 0; i < model().rowCount() && there.size() < 2; ++i)
            if (cell(i, "sheep") != "\u2013") there.push_back(i);
        const int one = there[0], other = there[1];
        press("tableCompute");
        auto* panel = drawer()->findChild<FormulaPanel*>("formulaPanel");
        QTRY_VERIFY(panel->isVisible());
        panel->findChild<QComboBox*>("formulaName")->setEditText("dense");
        panel->formula()->setFocus();
        QTest::keyClicks(panel->formula(), "shep / area_ha");
        panel->formula()->completer()->popup()->hide();
        QApplication::setActiveWindow(m_window.get());  // as a window manager would
        auto* result = panel->findChild<QLabel*>("formulaResult");
        QTRY_VERIFY2(result->text().contains("did you mean sheep?"), qPrintable(result->text()));
        QVERIFY(!panel->findChild<QPushButton*>("fillAll")->isEnabled());
        panel->formula()->setPlainText("sheep / area_ha");
        QTRY_VERIFY(result->text().startsWith("First rows"));
        // What will be filled stands on the button.
        QCOMPARE(panel->findChild<QPushButton*>("fillAll")->text(), QString("Fill all 48 rows"));
        QVERIFY(!panel->findChild<QPushButton*>("fillPicked")->isVisible());
        workspace().pick(crofts(), {model().keyOf(one), model().keyOf(20)});
        QCOMPARE(panel->findChild<QPushButton*>("fillPicked")->text(),
                 QString("Fill 2 picked rows"));
        press("fillPicked");
        QTRY_VERIFY(column("dense") >= 0);
        QTRY_VERIFY(!drawer()->isBusy());
        QVERIFY(cell(one, "dense") != QString("\u2013"));
        QCOMPARE(cell(other, "dense"), QString("\u2013"));
        press("fillAll");
        QTRY_VERIFY(cell(other, "dense") != QString("\u2013"));
        QApplication::setActiveWindow(m_window.get());
        QTRY_VERIFY(m_window->isActiveWindow());
        view()->setFocus();
        QTest::keyClick(view(), Qt::Key_Z, Qt::ControlModifier);
        QTRY_COMPARE(cell(other, "dense"), QString("\u2013"));
        panel->findChild<QCheckBox*>("formulaLive")->setChecked(true);
        QTest::keyClick(panel->formula(), Qt::Key_Return, Qt::ControlModifier);
        QTRY_VERIFY(cell(other, "dense") != QString("\u2013"));
        QTRY_VERIFY(!drawer()->isBusy());
        // It follows its fields.
        const QString before = cell(other, "dense");
        model().setData(model().index(other, column("sheep")), "999", Qt::EditRole);
        QTRY_VERIFY(cell(other, "dense") != before);
        panel->findChild<QCheckBox*>("formulaLive")->setChecked(false);
        panel->hide();
    }
    void looksOfColumnsAreTheLayers() {
        openTable();
        const auto set = [&](const char* what, const char* value) {
            workspace().perform("column-look", {{"layer", Workspace::target(layer("Crofts"))},
                                                {"field", "area_ha"},
                                                {what, value}});
        };
        const int place = column("area_ha");
        set("decimals", "3");
        QCOMPARE(column("area_ha"), place);  // how it looks is not where it stands
        set("unit", "ha");
        QTRY_VERIFY(cell(0, "area_ha").endsWith(" ha"));
        QCOMPARE(cell(0, "area_ha").section('.', 1).size(), 6);
        set("frozen", "yes");
        QTRY_COMPARE(column("area_ha"), 0);
        // It stays where it is while the others are scrolled.
        QTRY_VERIFY(view()->frozenView()->isVisible());
        QCOMPARE(view()->frozen(), 1);
        // The heads have found their width.
        QTRY_VERIFY(!drawer()->isBusy());
        QTest::qWait(100);
        view()->setColumnWidth(3, 900);
        view()->setCurrentIndex(model().index(5, 3));
        QTRY_VERIFY(view()->horizontalScrollBar()->maximum() > 100);
        view()->horizontalScrollBar()->setValue(view()->horizontalScrollBar()->maximum());
        QVERIFY(view()->columnViewportPosition(0) < 0);
        QCOMPARE(view()->frozenView()->columnViewportPosition(0), 0);
        view()->verticalScrollBar()->setValue(7);
        QCOMPARE(view()->frozenView()->verticalScrollBar()->value(), 7);
        view()->setCurrentIndex(model().index(5, 1));
        QVERIFY(view()->columnViewportPosition(1) >= view()->frozenView()->width() - 1);
        set("hidden", "yes");
        QTRY_COMPARE(column("area_ha"), -1);
        QTest::keyClick(view(), Qt::Key_Z, Qt::ControlModifier);
        QTRY_COMPARE(column("area_ha"), 0);
        // The panel at the head says the same and changes it.
        QTest::mouseClick(view()->head()->viewport(), Qt::RightButton, {}, QPoint(30, 10));
        Q_EMIT view()->head()->customContextMenuRequested(QPoint(30, 10));
        auto* panel = drawer()->findChild<ColumnPanel*>("columnPanel");
        QTRY_VERIFY(panel->isVisible());
        QCOMPARE(panel->findChild<QLineEdit*>("columnUnit")->text(), QString("ha"));
        panel->findChild<QDoubleSpinBox*>("columnDecimals")->setValue(1);
        QTRY_VERIFY(cell(0, "area_ha").section('.', 1).size() == 4);
        panel->hide();
    }

    void columnsAreMoved() {
        openTable();
        const int last = model().columnCount() - 1;
        const std::string moved = model().field(last).name;
        view()->head()->moveSection(last, 0);
        QTRY_COMPARE(model().field(0).name, moved);
        QCOMPARE(view()->head()->visualIndex(0), 0);
        QTest::keyClick(view(), Qt::Key_Z, Qt::ControlModifier);
        QTRY_COMPARE(model().field(last).name, moved);
    }
    void asksInControlsAndText() {
        workspace().selectLayer(layer("Crofts"));
        workspace().setBench(Bench::Ask);
        auto* bench = m_window->askBench();
        QTRY_VERIFY(!bench->isBusy());
        QTRY_VERIFY(shown<QPushButton>("addCondition"));
        auto* count = shown<QLabel>("askCount");
        QTRY_COMPARE(count->text(), QString("48 of 48 features"));
        press("addCondition");
        QTRY_VERIFY(shown<QComboBox>("testField"));
        auto* field = shown<QComboBox>("testField");
        field->setCurrentText("use");
        Q_EMIT field->activated(field->currentIndex());
        auto* value = shown<QComboBox>("testValue");
        QApplication::setActiveWindow(m_window.get());
        QTRY_VERIFY(m_window->isActiveWindow());
        value->setFocus();
        QTRY_VERIFY(value->count() > 2);  // those that occur, with their counts
        QVERIFY(value->itemText(0).contains('('));
        value->setEditText("hay");
        QTRY_COMPARE(bench->text()->text(), QString("use = 'hay'"));
        QTRY_VERIFY(!bench->isBusy() && count->text() != "48 of 48 features");
        const QString hay = count->text();
        // The same as text shows in the controls.
        bench->text()->setPlainText("use = 'hay' AND sheep > 3");
        QTRY_VERIFY(m_window->findChildren<QComboBox*>("testField").size() >= 2);
        QTRY_VERIFY(!bench->isBusy() && count->text() != hay);
        bench->text()->setPlainText("use = 'hay' AND shep > 3");
        QTRY_VERIFY(shown<QLabel>("askTrouble") &&
                    shown<QLabel>("askTrouble")->text().contains("did you mean sheep?"));
        QVERIFY(!shown<QPushButton>("askPick")->isEnabled());
        bench->text()->setPlainText("sheep > mean(sheep)");
        QTRY_VERIFY(!bench->isBusy() && shown<QPushButton>("askPick")->isEnabled());
        QVERIFY(!shown<QComboBox>("testField"));  // more than the controls can say
        QTest::keyClick(bench->text(), Qt::Key_Return, Qt::ControlModifier);
        const auto picked = workspace().picked(crofts()).size();
        QVERIFY(picked > 5);
        QCOMPARE(count->text(), QString("%1 of 48 features").arg(picked));
        bench->text()->setPlainText("use = 'hay'");
        QTRY_COMPARE(count->text(), hay);
        press("askWithin");
        QVERIFY(workspace().picked(crofts()).size() < picked);
        press("askAlso");
        QCOMPARE(count->text(),
                 QString("%1 of 48 features").arg(workspace().picked(crofts()).size()));
        press("askWithout");
        QVERIFY(workspace().picked(crofts()).empty());
    }
    // Which crofts lie within 500 m of a path to be re-routed, and how many sheep?
    void answersTheCouncilsQuestion() {
        workspace().selectLayer(layer("Crofts"));
        workspace().setBench(Bench::Ask);
        auto* bench = m_window->askBench();
        bench->text()->setPlainText("");
        QTRY_VERIFY(!bench->isBusy());
        auto* near = shown<QCheckBox>("askHasNear");
        near->setChecked(true);
        auto* other = shown<QComboBox>("askNear");
        other->setCurrentText("Hill paths");
        Q_EMIT other->activated(other->currentIndex());
        shown<QDoubleSpinBox>("askMetres")->setValue(500);
        shown<FormulaEdit>("askNearKeep")->setPlainText("condition = 'to be re-routed'");
        auto* sum = shown<QComboBox>("askSumOf");
        sum->setCurrentText("sheep");
        Q_EMIT sum->activated(sum->currentIndex());
        QTRY_VERIFY(!bench->isBusy());
        auto* figures = shown<QLabel>("askSum");
        QTRY_VERIFY(figures && figures->text().startsWith("sum "));
        const int count = shown<QLabel>("askCount")->text().section(' ', 0, 0).toInt();
        QVERIFY(count > 0 && count < 48);
        // The command that the bench shows gives the same sum and the same number.
        QString command = shown<CodeView>("askCommand")->toPlainText();
        QVERIFY(command.startsWith("ledge summarise "));
        QProcess program;
        program.setWorkingDirectory(
            QString::fromStdString(test::coarseDemo(30).parent_path().string()));
        program.start("sh", {"-c", command.replace(0, 5, QString("'%1'").arg(test::kProgram))});
        QVERIFY(program.waitForFinished());
        const QString said = program.readAllStandardOutput();
        QVERIFY2(program.exitCode() == 0, program.readAllStandardError().constData());
        const QString total =
            figures->text().section(' ', 1).section(QString::fromUtf8(" \u00b7"), 0, 0);
        QVERIFY2(said.contains(total) && said.contains(QString::number(count)),
                 qPrintable(said + " | " + figures->text()));
        shown<QLineEdit>("askName")->setText("Near paths");
        press("askKeep");
        QCOMPARE(document().questions.back().name, std::string("Near paths"));
        near->setChecked(false);
        QTRY_COMPARE(shown<QLabel>("askCount")->text(), QString("48 of 48 features"));
        auto* card = m_window->findChild<QToolButton*>(
            QString("card%1").arg(document().questions.back().id));
        QVERIFY(card);
        QTest::mouseClick(card, Qt::LeftButton);
        QTRY_COMPARE(shown<QLabel>("askCount")->text(), QString("%1 of 48 features").arg(count));
        near->setChecked(false);
    }
    void filtersALayerOnly() {
        workspace().selectLayer(layer("Crofts"));
        workspace().setBench(Bench::Ask);
        auto* bench = m_window->askBench();
        bench->text()->setPlainText("use = 'hay'");
        QTRY_VERIFY(!bench->isBusy() && shown<QPushButton>("askFilter")->isEnabled());
        const QString hay = shown<QLabel>("askCount")->text();
        press("askFilter");
        QCOMPARE(document().layer(layer("Crofts"))->as<doc::VectorLayer>()->filter,
                 std::string("use = 'hay'"));
        openTable();
        QCOMPARE(model().rowCount(), hay.section(' ', 0, 0).toInt());
        // The question is asked of all features still.
        QTRY_COMPARE(shown<QLabel>("askCount")->text(), hay);
        press("askAll");
        QTRY_COMPARE(model().rowCount(), 48);
    }
    void derivesLiveLayers() {
        const auto wholes = doc::allLayers(document().layers).size();
        workspace().selectLayer(layer("Hill paths"));
        QTRY_VERIFY(shown<QComboBox>("deriveWhat"));
        auto* what = shown<QComboBox>("deriveWhat");
        what->setCurrentText("Buffer");
        Q_EMIT what->activated(what->currentIndex());
        QTRY_VERIFY(shown<QDoubleSpinBox>("setting_metres"));
        shown<QDoubleSpinBox>("setting_metres")->setValue(250);
        QVERIFY(!shown<QComboBox>("clipBy"));  // nothing stands beside it
        press("deriveLive");
        QTRY_COMPARE(doc::allLayers(document().layers).size(), wholes + 1);
        QTRY_VERIFY(!m_window->isBusy());
        const auto* made = workspace().layer();
        QVERIFY(made && made->as<doc::VectorLayer>());
        QCOMPARE(made->as<doc::VectorLayer>()->geometry, GeometryType::Polygon);
        const auto* source = document().source(made->source);
        QVERIFY(source->isLive());
        QCOMPARE(source->lineage->parameters.at("metres"), std::string("250"));
        QTest::keyClick(m_window.get(), Qt::Key_T, Qt::AltModifier);
        QTRY_VERIFY(drawer()->isVisible() && !drawer()->isBusy());
        QVERIFY(model().rowCount() > 10);
        // Its cells are computed: nothing there is typed into.
        QVERIFY(!(model().flags(model().index(0, 0)) & Qt::ItemIsEditable));
    }
    void derivingAsksForSavedEdits() {
        openTable();
        model().setData(model().index(0, column("use")), "orchard", Qt::EditRole);
        QTRY_VERIFY(m_session->history().canUndo());
        const auto wholes = doc::allLayers(document().layers).size();
        QTRY_VERIFY(shown<QComboBox>("deriveWhat"));
        auto* what = shown<QComboBox>("deriveWhat");
        what->setCurrentText("Buffer");
        Q_EMIT what->activated(what->currentIndex());
        press("deriveLive");
        QVERIFY(m_window->findChild<QLabel*>("where")->text().contains("save them"));
        QCOMPARE(doc::allLayers(document().layers).size(), wholes);
    }
    void joinsNeedAnotherLayer() {
        workspace().selectLayer(layer("Crofts"));
        QTRY_VERIFY(shown<QComboBox>("deriveWhat"));
        auto* what = shown<QComboBox>("deriveWhat");
        what->setCurrentText("Nearest of another layer");
        Q_EMIT what->activated(what->currentIndex());
        QTRY_VERIFY(shown<QComboBox>("clipBy"));
        auto* other = shown<QComboBox>("clipBy");
        other->setCurrentText("Other layer: Roads");
        QVERIFY(other->currentText().endsWith("Roads"));
        press("deriveLive");
        QTRY_VERIFY(workspace().layer() && workspace().layer()->id != layer("Crofts"));
        openTable(workspace().layer()->name.c_str());
        QVERIFY(column("distance_m") >= 0 && column("class") >= 0);
        QCOMPARE(model().rowCount(), 48);
    }
    void anAnswerIsALayerOfItsOwn() {
        workspace().selectLayer(layer("Crofts"));
        workspace().setBench(Bench::Ask);
        auto* bench = m_window->askBench();
        bench->text()->setPlainText("use = 'hay'");
        QTRY_VERIFY(!bench->isBusy() && shown<QPushButton>("askLive")->isEnabled());
        const int hay = shown<QLabel>("askCount")->text().section(' ', 0, 0).toInt();
        press("askLive");
        QTRY_VERIFY(workspace().layer() && workspace().layer()->id != layer("Crofts"));
        QTRY_VERIFY(!m_window->isBusy());
        QTRY_COMPARE(shown<QLabel>("askCount")->text(), QString("%1 of %1 features").arg(hay));
    }
    void probeLeadsToTheRow() {
        openTable("Roads");
        const FeatureKey key = model().keyOf(4);
        workspace().selectLayer(layer("Crofts"));
        Q_EMIT m_window->findChild<ProbePanel*>("probePanel")->rowAsked(layer("Roads"), key);
        QTRY_VERIFY(view()->currentIndex().isValid() &&
                    model().keyOf(view()->currentIndex().row()) == key);
    }
};

QTEST_MAIN(TableTest)
#include "table_test.moc"
