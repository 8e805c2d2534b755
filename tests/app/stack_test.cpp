#include <QClipboard>
#include <QComboBox>
#include <QContextMenuEvent>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QScrollBar>
#include <QTimer>
#include <QtTest/qtestspontaneevent.h>

#include "app/stack/stack_panel.h"
#include "document/edits/layer_edits.h"
#include "document/map_crs.h"
#include "support/coarse_demo.h"
#include "support/test_window.h"

using namespace ledge;
using namespace ledge::app;

/// Strips and the panels around the map, by mouse, keyboard and menu.
class StackTest : public QObject, test::TestWindow {
    Q_OBJECT

private:
    Strip* strip(doc::Id id) const { return m_window->findChild<StackPanel*>()->strip(id); }
    Strip* strip(const char* name) const { return strip(layer(name)); }
    QScrollArea* scroll() const {
        return m_window->findChild<StackPanel*>()->findChild<QScrollArea*>();
    }
    std::vector<doc::Id> shownIds() const {
        std::vector<doc::Id> out;
        for (const auto& [id, depth] : visibleStrips(document().layers)) out.push_back(id);
        return out;
    }
    void wheel(QWidget* over, int turn) const {
        const QPoint at = over->rect().center();
        QWheelEvent event(at, over->mapToGlobal(at), {}, QPoint(0, turn), Qt::NoButton, {},
                          Qt::NoScrollPhase, false);
        QSpontaneKeyEvent::setSpontaneous(&event);  // as one from the mouse, which is passed on
        qApp->notify(over, &event);
    }
    QStringList names() const {
        QStringList out;
        for (const auto& one : doc::allLayers(document().layers))
            out << QString::fromStdString(one->name);
        return out;
    }

    // Chooses an entry of the menu that the next step opens, by the path of its words.
    void chooseFromMenu(const QStringList& path) const {
        QTimer::singleShot(0, [path] {
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            for (qsizetype i = 0; menu && i < path.size(); ++i) {
                QAction* found = nullptr;
                for (QAction* action : menu->actions())
                    if (action->text().section('\t', 0, 0) == path[i]) found = action;
                if (!found || !found->isEnabled()) break;
                if (found->menu()) {
                    menu = found->menu();
                    continue;
                }
                found->trigger();
            }
            while (QWidget* open = QApplication::activePopupWidget()) open->close();
        });
    }
    void openMenu(Strip* on, const QStringList& path) const {
        chooseFromMenu(path);
        QContextMenuEvent event(QContextMenuEvent::Mouse, QPoint(20, 20),
                                on->mapToGlobal(QPoint(20, 20)));
        QApplication::sendEvent(on, &event);
    }

private slots:
    void initTestCase() { openWindow(test::coarseDemo()); }
    void cleanup() { undoAll(); }
    void cleanupTestCase() { closeWindow(); }

    void movesStripsByKeyboard() {
        const QStringList before = names();
        const auto id = layer("Roads");
        workspace().selectLayer(id);
        strip(id)->setFocus();
        QTest::keyClick(strip(id), Qt::Key_Down, Qt::AltModifier);
        QVERIFY(names() != before);
        QCOMPARE(names().indexOf("Roads"), before.indexOf("Roads") + 1);
        QCOMPARE(workspace().selectedLayer(), id);
        QTest::keyClick(strip(id), Qt::Key_Up, Qt::AltModifier);
        QCOMPARE(names(), before);
        // At the top it goes no further.
        const auto first = document().layers.front()->id;
        workspace().selectLayer(first);
        QTest::keyClick(strip(first), Qt::Key_Up, Qt::AltModifier);
        QCOMPARE(names(), before);
    }

    void renamesInPlace() {
        const auto id = layer("Lochs");
        workspace().selectLayer(id);
        QTRY_VERIFY(strip(id)->isVisible());
        strip(id)->setFocus();
        QTest::keyClick(strip(id), Qt::Key_F2);
        auto* edit = strip(id)->findChild<QLineEdit*>();
        QVERIFY(edit && edit->isVisible());
        QCOMPARE(edit->selectedText(), QString("Lochs"));
        QTest::keyClicks(edit, "Waters");
        QTest::keyClick(edit, Qt::Key_Return);
        QCOMPARE(document().layer(id)->name, std::string("Waters"));
        QVERIFY(!edit->isVisible());
        // Nothing typed changes nothing.
        strip(id)->startRenaming();
        edit->clear();
        QTest::keyClick(edit, Qt::Key_Return);
        QCOMPARE(document().layer(id)->name, std::string("Waters"));
        QTest::mouseDClick(strip(id), Qt::LeftButton, {}, QPoint(120, 12));
        QVERIFY(edit->isVisible());
        QTest::keyClick(edit, Qt::Key_Return);
        QCOMPARE(m_session->history().undoCount(), std::size_t{1});
    }

    void switchesLampsAndRemovesByKeyboard() {
        const auto id = layer("Coast");
        workspace().selectLayer(id);
        QTest::keyClick(strip(id), Qt::Key_Space);
        QVERIFY(!document().layer(id)->isVisible);
        QTest::keyClick(strip(id), Qt::Key_Space);
        QVERIFY(document().layer(id)->isVisible);
        QTest::keyClick(strip(id), Qt::Key_Delete);
        QVERIFY(!document().layer(id));
        // Work goes on with the strip that took its place.
        QVERIFY(workspace().selectedLayer() != 0 && workspace().selectedLayer() != id);
        QVERIFY(strip(workspace().selectedLayer())->hasFocus());
        m_session->undo();
        QVERIFY(document().layer(id));
        QVERIFY(strip(id));
    }

    void actsFromTheMenu_data() {
        QTest::addColumn<QStringList>("path");
        QTest::addColumn<QString>("done");
        QTest::newRow("blend") << QStringList{"Blend mode", "Multiply"} << "Blend mode of Crofts";
        QTest::newRow("group") << QStringList{"Put into a new group"} << "Group layers";
        QTest::newRow("remove") << QStringList{"Remove"} << "Remove Crofts";
    }
    void actsFromTheMenu() {
        QFETCH(QStringList, path);
        QFETCH(QString, done);
        openMenu(strip("Crofts"), path);
        QCOMPARE(m_session->history().undoCount(), std::size_t{1});
        QCOMPARE(QString::fromStdString(m_session->history().undoLabel()), done);
    }

    void comparesAndFitsFromTheMenu() {
        const auto id = layer("Crofts");
        openMenu(strip(id), {"Compare with", "Lochs"});
        QCOMPARE(workspace().comparedLayer(), layer("Lochs"));
        QVERIFY(waitUntilIdle(*m_window));
        openMenu(strip(id), {"End comparing"});
        QCOMPARE(workspace().comparedLayer(), doc::Id{0});
        const doc::MapView before = workspace().view();
        openMenu(strip(id), {"Show all of it"});
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(!(workspace().view() == before));
        workspace().goBack();
        QCOMPARE(m_session->history().undoCount(), std::size_t{0});
    }

    // Each set of labels is switched by itself: the only one at once, several from a menu.
    void switchesSetsOfLabels() {
        const auto id = layer("Places");
        const auto sets = [&] { return document().layer(id)->as<doc::VectorLayer>()->labels; };
        QCOMPARE(sets().size(), std::size_t{2});
        workspace().selectLayer(id);
        QTRY_VERIFY(strip("Places"));
        auto* labels = strip("Places")->findChild<QToolButton*>("labelSets");
        QVERIFY(labels && labels->isVisible());
        QVERIFY(labels->toolTip().contains("Summits"));
        labels->setFocus(Qt::TabFocusReason);
        QTest::keyClick(labels, Qt::Key_Space);
        auto* menu = m_window->findChild<QMenu*>("labelSetMenu");
        QVERIFY(menu && menu->isVisible());
        QTest::keyClick(menu, Qt::Key_Down);
        QTest::keyClick(menu, Qt::Key_Down);
        QTest::keyClick(menu, Qt::Key_Return);
        QTRY_VERIFY(!sets()[1].isOn);
        QVERIFY(sets()[0].isOn);
        QVERIFY(labels->toolTip().contains("off"));
        QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(sets()[1].isOn);
        // Layers without labels have no lamp for them.
        QTRY_VERIFY(strip("Crofts"));
        QVERIFY(!strip("Crofts")->findChild<QToolButton*>("labelSets")->isVisible());
        // The only set of a layer is switched at once.
        QVERIFY(
            workspace().perform("label-set-remove", {{"layer", "Places"}, {"name", "Summits"}}));
        QVERIFY(sets()[0].isOn);
        QTest::mouseClick(labels, Qt::LeftButton);
        QVERIFY(!sets()[0].isOn);
        QTest::mouseClick(labels, Qt::LeftButton);
        QVERIFY(sets()[0].isOn);
    }
    void foldsGroups() {
        const auto group = layer("Relief of Island DEM"), inner = layer("Height tint");
        QVERIFY(strip(inner));
        QVERIFY(workspace().perform("layer-fold",
                                    {{"group", Workspace::target(group)}, {"folded", "yes"}}));
        QVERIFY(!strip(inner));
        QVERIFY(strip(group));
        QVERIFY(workspace().perform("layer-fold",
                                    {{"group", Workspace::target(group)}, {"folded", "no"}}));
        QVERIFY(strip(inner));
    }

    // However many layers there are, only those in sight have widgets; all of them are reached.
    void bearsManyStrips() {
        doc::Document many = document();
        for (int i = 0; i < 3000; ++i) {
            auto one = std::make_shared<doc::Layer>();
            one->id = many.nextId++;
            one->name = "Lines " + std::to_string(i);
            one->isVisible = false;
            one->content = doc::GridLines{};
            many.layers.push_back(std::move(one));
        }
        m_session->apply(std::move(many), "Many");
        QVERIFY(m_window->findChildren<Strip*>().size() < 150);
        for (const char* name : {"Lines 1500", "Lines 2999", "Lines 0"}) {
            const auto id = layer(name);
            workspace().selectLayer(id);
            QCoreApplication::processEvents();
            QVERIFY(strip(id));
            QTRY_VERIFY(!strip(id)->visibleRegion().isEmpty());  // scrolled to
        }
        strip(layer("Lines 0"))->setFocus();
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_End);
        QCOMPARE(workspace().selectedLayer(), layer("Lines 2999"));
        QCOMPARE(QApplication::focusWidget(), strip(layer("Lines 2999")));
        // Dragging past the edge scrolls, and the strip in hand is not taken away meanwhile.
        auto* bar = scroll()->verticalScrollBar();
        Strip* held = strip(layer("Lines 2999"));
        QTest::mousePress(held, Qt::LeftButton, {}, QPoint(60, 8));
        QTest::mouseMove(held, QPoint(60, -20));
        bar->setValue(0);
        QCoreApplication::processEvents();
        QCOMPARE(strip(layer("Lines 2999")), held);
        const QPoint top = held->mapFromGlobal(scroll()->viewport()->mapToGlobal(QPoint(60, 6)));
        QTest::mouseMove(held, top);
        QTest::mouseRelease(held, Qt::LeftButton, {}, top);
        QCOMPARE(document().layers.front()->name, std::string("Lines 2999"));
        QCOMPARE(workspace().selectedLayer(), layer("Lines 2999"));
        QVERIFY(m_window->findChildren<Strip*>().size() < 250);
    }

    void selectsSeveralTogether() {
        const auto ids = shownIds();
        const auto click = [&](std::size_t i, Qt::KeyboardModifiers keys = {}) {
            QTest::mouseClick(strip(ids[i]), Qt::LeftButton, keys, QPoint(90, 12));
        };
        using Ids = std::vector<doc::Id>;
        click(1);
        QCOMPARE(workspace().selectedLayers(), (Ids{ids[1]}));
        click(3, Qt::ShiftModifier);
        QCOMPARE(workspace().selectedLayers(), (Ids{ids[1], ids[2], ids[3]}));
        QCOMPARE(workspace().selectedLayer(), ids[3]);
        click(2, Qt::ControlModifier);
        QCOMPARE(workspace().selectedLayers(), (Ids{ids[1], ids[3]}));
        click(0, Qt::ControlModifier);
        QCOMPARE(workspace().selectedLayers(), (Ids{ids[1], ids[3], ids[0]}));
        QCOMPARE(workspace().selectedLayer(), ids[0]);
        // One step for all of them, by keyboard: as the current one goes.
        const bool wasLit = document().layer(ids[0])->isVisible;
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Space);
        for (const std::size_t i : {0u, 1u, 3u})
            QCOMPARE(document().layer(ids[i])->isVisible, !wasLit);
        QCOMPARE(m_session->history().undoCount(), std::size_t{1});
        m_session->undo();
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_G, Qt::ControlModifier);
        const auto place = doc::placeOf(document(), ids[0]);
        QVERIFY(place && place->group != 0);
        for (const std::size_t i : {1u, 3u})
            QCOMPARE(doc::placeOf(document(), ids[i])->group, place->group);
        QCOMPARE(workspace().selectedLayers().size(), std::size_t{3});  // still together
        QCOMPARE(workspace().selectedLayer(), ids[0]);
        m_session->undo();
        QTest::keyClick(strip(ids[0]), Qt::Key_Delete);
        for (const std::size_t i : {0u, 1u, 3u}) QVERIFY(!document().layer(ids[i]));
        QCOMPARE(workspace().selectedLayers(), (Ids{ids[2]}));
        m_session->undo();
        click(1);
        QTest::keyClick(strip(ids[1]), Qt::Key_Down, Qt::ShiftModifier);
        QCOMPARE(workspace().selectedLayers(), (Ids{ids[1], ids[2]}));
        click(2);  // a plain click ends it
        QCOMPARE(workspace().selectedLayers(), (Ids{ids[2]}));
    }

    void comparesTheTwoThatAreSelected() {
        const auto one = layer("Crofts"), other = layer("Lochs");
        workspace().selectLayers({one, other}, other);
        openMenu(strip(other), {"Compare"});
        QCOMPARE(workspace().comparedLayer(), one);
        QCOMPARE(workspace().tool(), Tool::Curtain);
        QVERIFY(waitUntilIdle(*m_window));
        workspace().compareWith(0);
        workspace().setTool(Tool::Move);
        workspace().selectLayer(one);
    }

    void dragsSeveralAndKeepsThemSelected() {
        const auto ids = shownIds();
        workspace().selectLayers({ids[2], ids[3]}, ids[3]);
        Strip* held = strip(ids[3]);
        const QPoint goal = held->mapFromGlobal(strip(ids[0])->mapToGlobal(QPoint(90, 3)));
        QTest::mousePress(held, Qt::LeftButton, {}, QPoint(90, 12));
        QTest::mouseMove(held, QPoint(90, 0));
        QTest::mouseMove(held, goal);
        QTest::mouseRelease(held, Qt::LeftButton, {}, goal);
        QCOMPARE(shownIds()[0], ids[2]);
        QCOMPARE(shownIds()[1], ids[3]);
        QCOMPARE(workspace().selectedLayers(), (std::vector<doc::Id>{ids[2], ids[3]}));
        QCOMPARE(workspace().selectedLayer(), ids[3]);
        QCOMPARE(m_session->history().undoCount(), std::size_t{1});
    }

    void dragsIntoAGroup() {
        const auto group = layer("Relief of Island DEM"), roads = layer("Roads");
        workspace().selectLayer(group);
        QCoreApplication::processEvents();
        workspace().selectLayer(roads);
        Strip *held = strip(roads), *into = strip(group);
        QVERIFY(held && into);
        const QPoint goal = held->mapFromGlobal(into->mapToGlobal(into->rect().center()));
        QTest::mousePress(held, Qt::LeftButton, {}, QPoint(90, 12));
        QTest::mouseMove(held, QPoint(90, 30));
        QTest::mouseMove(held, goal);
        QTest::mouseRelease(held, Qt::LeftButton, {}, goal);
        QCOMPARE(doc::placeOf(document(), roads), (doc::Place{group, 0}));
        QCOMPARE(workspace().selectedLayer(), roads);
    }

    // Tab comes to the current strip, goes through its controls and then on to the map; arrows go
    // from strip to strip. The bench shows each of them.
    void goesThroughStripsByKeyboard() {
        workspace().setBench(Bench::Style);
        const auto ids = shownIds();
        workspace().selectLayer(ids[0]);
        QTest::keyClick(m_window.get(), Qt::Key_0, Qt::AltModifier);
        QCOMPARE(QApplication::focusWidget(), strip(ids[0]));
        for (std::size_t i = 1; i < std::min<std::size_t>(ids.size(), 6); ++i) {
            QTest::keyClick(QApplication::focusWidget(), Qt::Key_Down);
            QCOMPARE(workspace().selectedLayer(), ids[i]);
            QCOMPARE(QApplication::focusWidget(), strip(ids[i]));
        }
        Strip* current = strip(workspace().selectedLayer());
        int inside = 0;
        for (; inside < 6; ++inside) {
            QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab);
            if (!current->isAncestorOf(QApplication::focusWidget())) break;
        }
        QVERIFY(inside >= 2);  // lamp, opacity
        QVERIFY(!qobject_cast<Strip*>(QApplication::focusWidget()));
        QCOMPARE(workspace().selectedLayer(), current->layer());
        // The bench's keys take the focus there, and back.
        QTest::keyClick(m_window.get(), Qt::Key_3, Qt::AltModifier);
        QVERIFY(
            m_window->findChild<QWidget*>("benchFrame")->isAncestorOf(QApplication::focusWidget()));
        QTest::keyClick(m_window.get(), Qt::Key_0, Qt::AltModifier);
        QCOMPARE(QApplication::focusWidget(), current);
        const auto group = layer("Relief of Island DEM");
        workspace().selectLayer(group);
        QTest::keyClick(m_window.get(), Qt::Key_0, Qt::AltModifier);
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Left);
        QVERIFY(document().layer(group)->as<doc::Group>()->isFolded);
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Right);
        QVERIFY(!document().layer(group)->as<doc::Group>()->isFolded);
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Down);
        QVERIFY(workspace().selectedLayer() != group);
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Left);
        QCOMPARE(workspace().selectedLayer(), group);
        workspace().setBench(Bench::Data);
    }

    void choosesItemsOfASheet() {
        const doc::Sheet& sheet = *document().sheets[0];
        workspace().showSheet(sheet.id);
        QVERIFY(waitUntilIdle(*m_window));
        const auto before = workspace().selectedLayer();
        auto* panel = m_window->findChild<StackPanel*>();
        for (const std::size_t i : {1u, 0u}) {
            const auto id = sheet.items[i]->id;
            QTest::mouseClick(panel->itemRow(id), Qt::LeftButton, {}, QPoint(60, 12));
            QCOMPARE(workspace().selectedItem(), id);
            QCOMPARE(workspace().selectedLayer(), before);
            QCOMPARE(workspace().bench(), Bench::Sheet);
        }
        QTest::keyClick(QApplication::focusWidget(), Qt::Key_Down);
        QCOMPARE(workspace().selectedItem(), sheet.items[1]->id);
        QCOMPARE(QApplication::focusWidget(), panel->itemRow(sheet.items[1]->id));
        const bool wasHidden = sheet.items[1]->isHidden;
        QTest::mouseClick(panel->itemRow(sheet.items[1]->id)->findChild<QToolButton*>("lamp"),
                          Qt::LeftButton);
        QVERIFY(document().sheets[0]->items[1]->isHidden != wasHidden);
        QCOMPARE(workspace().selectedItem(), document().sheets[0]->items[1]->id);
        workspace().showMap();
        workspace().setBench(Bench::Data);
        QVERIFY(waitUntilIdle(*m_window));
    }

    // The wheel scrolls over whatever it turns; a control it changes only once that was clicked.
    void scrollsByWheel() {
        const auto id = shownIds()[0];
        workspace().selectLayer(id);
        scroll()->verticalScrollBar()->setValue(0);
        QCoreApplication::processEvents();
        auto* opacity = strip(id)->findChild<ThinSlider*>("opacity");
        const double before = document().layer(id)->opacity;
        wheel(opacity, -120);
        QCOMPARE(document().layer(id)->opacity, before);
        QVERIFY(scroll()->verticalScrollBar()->value() > 0);
        scroll()->verticalScrollBar()->setValue(0);
        QCoreApplication::processEvents();
        QTest::mouseClick(opacity, Qt::LeftButton, {}, QPoint(opacity->width() / 2, 7));
        const double clicked = document().layer(id)->opacity;
        wheel(opacity, -120);
        QVERIFY(document().layer(id)->opacity < clicked);
        // Fields of benches alike.
        workspace().setBench(Bench::Labels);
        workspace().selectLayer(layer("Crofts"));
        for (auto* box :
             m_window->findChild<QWidget*>("benchFrame")->findChildren<QDoubleSpinBox*>()) {
            if (!box->isVisible() || !box->isEnabled()) continue;
            const double value = box->value();
            wheel(box, 120);
            wheel(box->findChild<QLineEdit*>(), 120);
            QCOMPARE(box->value(), value);
        }
        workspace().setBench(Bench::Data);
    }

    // Undo is the document's from any focus; what is being typed has its own until it is used.
    void undoesFromAnyFocus() {
        const auto id = layer("Roads");
        QVERIFY(workspace().perform("layer-opacity",
                                    {{"layer", Workspace::target(id)}, {"percent", "37"}}));
        QVERIFY(workspace().perform("layer-opacity",
                                    {{"layer", Workspace::target(id)}, {"percent", "57"}}));
        auto* field = m_window->findChild<QLineEdit*>("jumpField");
        field->setFocus();
        QTest::keyClick(field, Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(document().layer(id)->opacity, 0.37);
        QTest::keyClicks(field, "xyz");
        QTest::keyClick(field, Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(field->text(), QString());
        QCOMPARE(document().layer(id)->opacity, 0.37);
        QTest::keyClick(field, Qt::Key_Z, Qt::ControlModifier);  // nothing of its own is left
        QVERIFY(document().layer(id)->opacity != 0.37);
        QTest::keyClick(field, Qt::Key_Escape);
        // A value that was typed and used is the document's to undo, with the field still focused.
        workspace().setBench(Bench::Style);
        workspace().selectLayer(id);
        QVERIFY(waitUntilIdle(*m_window));
        QDoubleSpinBox* box = nullptr;
        for (auto* one :
             m_window->findChild<QWidget*>("benchFrame")->findChildren<QDoubleSpinBox*>())
            if (!box && one->isVisible() && one->isEnabled()) box = one;
        QVERIFY(box);
        const auto snapshot = m_session->snapshot();
        box->setFocus();
        box->selectAll();
        QTest::keyClicks(box, "0.9");
        QTest::keyClick(box, Qt::Key_Return);
        QCoreApplication::processEvents();
        QVERIFY(!(document() == *snapshot));
        QVERIFY(box->hasFocus());
        QTest::keyClick(box, Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(document() == *snapshot);
        workspace().setBench(Bench::Data);
    }

    void jumpsByWhatIsTyped_data() {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<QString>("what");
        QTest::newRow("a strip") << "Crofts"
                                 << "layer";
        QTest::newRow("a view") << "High glen"
                                << "view";
        QTest::newRow("a sheet") << "Glen survey"
                                 << "sheet";
        QTest::newRow("a coordinate") << "61.58, -10.7"
                                      << "place";
    }
    void jumpsByWhatIsTyped() {
        QFETCH(QString, typed);
        QFETCH(QString, what);
        workspace().showMap();
        auto* field = m_window->findChild<QLineEdit*>("jumpField");
        QVERIFY(field);
        const doc::MapView before = workspace().view();
        field->setFocus();
        QTest::keyClicks(field, typed);
        auto* found = m_window->findChild<QListWidget*>("jumpList");
        QTRY_VERIFY(found->isVisible() && found->count() > 0);
        QTRY_VERIFY(found->item(0)->text().startsWith(typed.left(4)));
        QTest::keyClick(field, Qt::Key_Down);
        QTest::keyClick(field, Qt::Key_Up);
        QTest::keyClick(field, Qt::Key_Return);
        QVERIFY(waitUntilIdle(*m_window));
        if (what == "sheet")
            QVERIFY(workspace().sheetId() != 0);
        else
            QVERIFY(!(workspace().view() == before) || what == "layer");
        if (what == "layer") QCOMPARE(workspace().selectedLayer(), layer("Crofts"));
        QVERIFY(field->text().isEmpty());
        workspace().showMap();
    }

    void measuresInOtherUnitsAndCopies() {
        workspace().showMap();
        workspace().setTool(Tool::Measure);
        auto& measuring = m_window->map()->measuring();
        measuring.clear();
        measuring.setSnaps(false);
        const auto frame = m_window->map()->frame();
        for (const QPoint at : {QPoint(200, 200), QPoint(400, 260), QPoint(300, 400)}) {
            QTest::mouseMove(m_window->map(), at);
            QTest::mouseClick(m_window->map(), Qt::LeftButton, {}, at);
        }
        QCOMPARE(measuring.points().size(), std::size_t{3});
        auto* copy = m_window->findChild<QPushButton*>("measureCopy");
        QVERIFY(copy && copy->isEnabled());
        QTest::mouseClick(copy, Qt::LeftButton);
        const QString metric = QGuiApplication::clipboard()->text();
        QVERIFY(metric.contains("km") || metric.contains(" m"));
        auto* unit = m_window->findChild<QComboBox*>("measureUnit");
        unit->setFocus();
        QTest::keyClick(unit, Qt::Key_Down);
        QCOMPARE(document().display.lengths, LengthUnit::Feet);
        QTest::mouseClick(copy, Qt::LeftButton);
        const QString feet = QGuiApplication::clipboard()->text();
        QVERIFY(feet != metric && (feet.contains("ft") || feet.contains("mi")));
        auto* kind = m_window->findChild<QComboBox*>("measureKind");
        kind->setFocus();
        QTest::keyClick(kind, Qt::Key_Down);
        QVERIFY(measuring.isArea());
        QTest::mouseClick(copy, Qt::LeftButton);
        QVERIFY(QGuiApplication::clipboard()->text().count('\n') > feet.count('\n'));
        // A place on the map is where the pointer was.
        const Point first = frame.toMap()(
            {200 * m_window->devicePixelRatioF(), 200 * m_window->devicePixelRatioF()});
        QVERIFY(distance(measuring.points()[0], first) < 3 * frame.unitsPerPx());
        workspace().setTool(Tool::Move);
        measuring.clear();
        measuring.setArea(false);
    }

    void keepsAMeasurementAsALayer() {
        workspace().setTool(Tool::Measure);
        auto& measuring = m_window->map()->measuring();
        measuring.setSnaps(false);
        for (const QPoint at : {QPoint(220, 220), QPoint(420, 280)}) {
            QTest::mouseMove(m_window->map(), at);
            QTest::mouseClick(m_window->map(), Qt::LeftButton, {}, at);
        }
        const QString path = m_dir.path() + "/walked.gpkg";
        QTimer::singleShot(200, [path] {
            auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
            if (!dialog) return;
            auto* name = dialog->findChild<QLineEdit*>("fileNameEdit");
            if (name) name->setText(path);
            QMetaObject::invokeMethod(dialog, "accept");
        });
        auto* keep = m_window->findChild<QPushButton*>("measureKeep");
        QVERIFY(keep && keep->isEnabled());
        QTest::mouseClick(keep, Qt::LeftButton);
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(QFile::exists(path));
        QVERIFY(names().contains("Walked"));
        workspace().setTool(Tool::Move);
        measuring.clear();
    }

    void refusesWhatChipsCannotUse() {
        const doc::MapView before = workspace().view();
        for (const char* chip : {"scaleChip", "rotationChip"}) {
            auto* button = m_window->findChild<QPushButton*>(chip);
            QVERIFY2(button, chip);
            QTest::mouseClick(button, Qt::LeftButton);
            auto* edit = qobject_cast<QLineEdit*>(QApplication::focusWidget());
            QVERIFY(edit);
            edit->selectAll();
            QTest::keyClicks(edit, "a bit closer");
            QTest::keyClick(edit, Qt::Key_Return);
            QVERIFY(workspace().view() == before);
            // It stays open and says why, until it is typed on.
            auto* wrong = edit->parentWidget()->findChild<QLabel*>("chipValueWrong");
            QVERIFY(wrong && wrong->isVisible() && wrong->text().contains("a bit closer"));
            QTest::keyClicks(edit, "4");
            QVERIFY(!wrong->isVisible());
            QTest::keyClick(edit, Qt::Key_Escape);
        }
    }
};

QTEST_MAIN(StackTest)
#include "stack_test.moc"
