#include <QClipboard>
#include <QComboBox>
#include <QContextMenuEvent>
#include <QFileDialog>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QTimer>

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
        QCOMPARE(workspace().selectedLayer(), doc::Id{0});
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

    // A stack of many strips is rebuilt without getting slower with the square of their number.
    void bearsManyStrips() {
        doc::Document many = document();
        for (int i = 0; i < 150; ++i) {
            doc::Layer one;
            one.name = "Lines " + std::to_string(i);
            one.isVisible = false;
            one.content = doc::GridLines{};
            many = doc::addLayer(std::move(many), std::move(one)).first;
        }
        m_session->apply(std::move(many), "Many");
        QCOMPARE(m_window->findChildren<Strip*>().size() >= 150, true);
        const auto id = layer("Lines 75");
        workspace().selectLayer(id);
        QCoreApplication::processEvents();
        QVERIFY(strip(id));
        QTRY_VERIFY(!strip(id)->visibleRegion().isEmpty());  // scrolled to
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
        QStringList said;
        connect(&workspace(), &Workspace::said, this,
                [&said](const QString& message, bool) { said << message; });
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
            QTest::keyClick(edit, Qt::Key_Escape);
        }
        QCOMPARE(said.size(), qsizetype{2});
        disconnect(&workspace(), &Workspace::said, this, nullptr);
    }
};

QTEST_MAIN(StackTest)
#include "stack_test.moc"
