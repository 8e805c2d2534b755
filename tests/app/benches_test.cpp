#include <QAbstractSlider>
#include <QApplication>
#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QMenu>
#include <QPushButton>
#include <QSignalSpy>
#include <QTimer>
#include <set>

#include "app/benches/bench_page.h"
#include "app/widgets/colour_button.h"
#include "document/edits/layer_edits.h"
#include "document/kinds.h"
#include "support/coarse_demo.h"
#include "support/test_window.h"

using namespace ledge;
using namespace ledge::app;

namespace {
// Controls that set how the bench itself works, not the project.
const std::set<QString> kOwn{"Resolution of the export",
                             "Fit items to the new size",
                             "Ready formulas",
                             "deriveWhat",
                             "clipBy",
                             "extentOfView",
                             "vision",
                             "categoryOrder",
                             "rampCut",
                             "pageFits",
                             "pageFitsType",
                             "archival",
                             "jpegInPdf",
                             "seriesPage",
                             "seriesFiltered"};
const QStringList kUnfolding{"showsStops", "lookMore", "lookOf", "labelSets", "itemMore"};

QString keyOf(const QWidget& control) {
    if (!control.objectName().isEmpty()) return control.objectName();
    const auto* box = qobject_cast<const QCheckBox*>(&control);
    return box && control.accessibleName().isEmpty() ? box->text() : control.accessibleName();
}
}  // namespace

/// Every page of the bench on every kind of strip and item, each of its controls used by keyboard:
/// it changes the project by one step, undo takes it back, and no control is dead.
class BenchesTest : public QObject, test::TestWindow {
    Q_OBJECT

private:
    doc::Id layerNamed(const QString& name) const {
        return workspace().layerNamed(name.toStdString());
    }
    BenchPage* page() const {
        for (BenchPage* one : m_window->findChildren<BenchPage*>())
            if (one->isVisible()) return one;
        return nullptr;
    }
    // By type, since pages make their rows anew.
    QList<QWidget*> controls() const {
        QList<QWidget*> out;
        const BenchPage* shown = page();
        if (!shown) return out;
        for (QWidget* w : shown->findChildren<QWidget*>()) {
            if (!w->isVisibleTo(shown) || !w->isEnabled()) continue;
            // They unfold controls, which are used too, or choose what those are about.
            if (kUnfolding.contains(w->objectName())) continue;
            const bool isControl = qobject_cast<QCheckBox*>(w) || qobject_cast<QComboBox*>(w) ||
                                   qobject_cast<QDoubleSpinBox*>(w) ||
                                   qobject_cast<ColourButton*>(w);
            if (isControl) out << w;
        }
        return out;
    }
    static void answerColour() {
        QTimer::singleShot(0, [] {
            auto* dialog = qobject_cast<QColorDialog*>(QApplication::activeModalWidget());
            if (!dialog) return;
            const QColor old = dialog->currentColor();
            dialog->setCurrentColor(QColor(255 - old.red(), old.green() / 2, 77));
            dialog->accept();
        });
    }
    // What a hand would do to it; false where there is nothing to choose.
    static bool use(QWidget* control) {
        control->setFocus();
        if (auto* colour = qobject_cast<ColourButton*>(control)) {
            answerColour();
            QTest::keyClick(colour, Qt::Key_Space);
            return true;
        }
        if (qobject_cast<QCheckBox*>(control)) {
            QTest::keyClick(control, Qt::Key_Space);
            return true;
        }
        if (auto* box = qobject_cast<QDoubleSpinBox*>(control)) {
            if (box->isReadOnly()) return false;
            QTest::keyClick(box, box->value() < box->maximum() ? Qt::Key_Up : Qt::Key_Down);
            return true;
        }
        auto* choice = qobject_cast<QComboBox*>(control);
        if (!choice || choice->count() < 2) return false;
        QTest::keyClick(choice,
                        choice->currentIndex() + 1 < choice->count() ? Qt::Key_Down : Qt::Key_Up);
        return true;
    }

    // Each control of the page shown, from the state it is shown in.
    void useEveryControl(int atLeast) {
        const auto before = m_session->snapshot();
        for (const char* name : {"showsStops", "lookMore", "itemMore"})
            if (auto* unfold = shown<QCheckBox>(name); unfold && !unfold->isChecked()) {
                unfold->click();
                QVERIFY(waitUntilIdle(*m_window));
            }
        const auto count = controls().size();
        int changed = 0;
        QStringList dead, lost;
        QSignalSpy said(&workspace(), &Workspace::said);
        for (qsizetype i = 0; i < count; ++i) {
            // Undone, the page is as it was; what it reads from files comes a little later.
            QTRY_COMPARE_WITH_TIMEOUT(controls().size(), count, 5000);
            const auto now = controls();
            QWidget* control = now[i];
            const QString key = keyOf(*control);
            QVERIFY2(!control->accessibleName().isEmpty() || qobject_cast<QCheckBox*>(control),
                     qPrintable(key));
            const auto steps = m_session->history().undoCount();
            const auto told = said.size();
            if (!use(control)) continue;
            m_session->jobs().wait();
            if (*m_session->snapshot() == *before) {
                const bool isOwn = kOwn.contains(control->accessibleName()) || kOwn.contains(key) ||
                                   kOwn.contains(control->toolTip());
                // What cannot be done is said.
                if (!isOwn && said.size() == told) dead << key + " / " + control->accessibleName();
                continue;
            }
            ++changed;
            // The hand goes on where it was.
            const QWidget* focus = QApplication::focusWidget();
            if (!focus || keyOf(*focus) != key) lost << key;
            QVERIFY2(m_session->history().undoCount() == steps + 1, qPrintable(key));
            QVERIFY2(!m_session->history().undoLabel().empty(), qPrintable(key));
            m_session->undo();
            QVERIFY2(*m_session->snapshot() == *before, qPrintable(key));
        }
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY2(lost.isEmpty(), qPrintable("lost the focus: " + lost.join("; ")));
        QVERIFY2(dead.isEmpty(), qPrintable("no effect: " + dead.join("; ")));
        QVERIFY2(changed >= atLeast, qPrintable(QString("%1 of %2").arg(changed).arg(count)));
    }

private slots:
    void initTestCase() {
        openWindow(test::coarseDemo());
        workspace().selectLayer(layerNamed("Light 315/40"));
    }
    void cleanupTestCase() { closeWindow(); }

    void usesEveryControlOfLayers_data() {
        QTest::addColumn<int>("bench");
        QTest::addColumn<QString>("layer");
        QTest::addColumn<int>("atLeast");
        const auto row = [](Bench bench, const char* layer, int atLeast) {
            QTest::newRow(qPrintable(QString("%1 on bench %2").arg(layer).arg(int(bench))))
                << int(bench) << layer << atLeast;
        };
        row(Bench::Style, "Height tint", 4);
        row(Bench::Style, "Light 315/40", 3);
        row(Bench::Style, "Steepness tint", 4);
        row(Bench::Style, "Contours 25 m", 7);
        row(Bench::Style, "Crofts", 9);
        row(Bench::Style, "Places", 5);
        row(Bench::Style, "Hill paths", 5);
        row(Bench::Style, "Rain gauges", 9);
        row(Bench::Style, "Aerial picture", 9);
        row(Bench::Style, "Land cover", 6);
        row(Bench::Style, "Plant vigour", 6);
        row(Bench::Style, "Graticule", 6);
        row(Bench::Style, "Relief of Island DEM", 3);
        row(Bench::Terrain, "Light 315/40", 5);
        row(Bench::Terrain, "Steepness tint", 2);
        row(Bench::Terrain, "Contours 25 m", 4);
        row(Bench::Labels, "Places", 8);
        row(Bench::Labels, "Lochs", 8);
        row(Bench::Labels, "Contours 25 m", 2);
        row(Bench::Data, "Height tint", 1);
        row(Bench::Data, "Plant vigour", 0);
    }
    void usesEveryControlOfLayers() {
        QFETCH(int, bench);
        QFETCH(QString, layer);
        QFETCH(int, atLeast);
        workspace().setBench(static_cast<Bench>(bench));
        const doc::Id id = layerNamed(layer);
        QVERIFY(id != 0);
        workspace().selectLayer(id);
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(page());
        useEveryControl(atLeast);
    }

    void usesEveryControlOfItems_data() {
        QTest::addColumn<QString>("kind");
        QTest::addColumn<int>("atLeast");
        QTest::newRow("the page") << "" << 2;
        QTest::newRow("map panel") << "map panel" << 9;
        QTest::newRow("text") << "text" << 8;
        QTest::newRow("legend") << "legend" << 8;
        QTest::newRow("scale bar") << "scale bar" << 5;
        QTest::newRow("north arrow") << "north arrow" << 5;
        QTest::newRow("credits") << "credits" << 7;
        QTest::newRow("profile") << "profile" << 6;
    }
    void usesEveryControlOfItems() {
        QFETCH(QString, kind);
        QFETCH(int, atLeast);
        const doc::Sheet& sheet = document().sheets[1];  // with a profile on it
        workspace().showSheet(sheet.id);
        workspace().setBench(Bench::Sheet);
        doc::Id item = 0;
        for (const doc::SheetItem& one : sheet.items)
            if (doc::itemKind(one) == kind.toStdString()) item = one.id;
        QCOMPARE(item == 0, kind.isEmpty());
        workspace().selectItem(item);
        QVERIFY(waitUntilIdle(*m_window));
        useEveryControl(atLeast);
        workspace().showMap();
    }

    void usesEveryControlOfSeries_data() {
        QTest::addColumn<QString>("over");
        QTest::addColumn<int>("atLeast");
        QTest::newRow("features") << "features" << 9;
        QTest::newRow("fields") << "fields" << 7;
        QTest::newRow("layers") << "layers" << 12;
        QTest::newRow("views") << "views" << 6;
    }
    void usesEveryControlOfSeries() {
        QFETCH(QString, over);
        QFETCH(int, atLeast);
        const auto before = m_session->snapshot();
        for (const auto& sheet : document().sheets)
            if (sheet->name == "Districts") workspace().showSheet(sheet->id);
        workspace().setBench(Bench::Sheet);
        workspace().selectItem(0);
        if (over != "features")
            QVERIFY(workspace().performOnSheet(
                "sheet-set", {{"member", "series.over"}, {"value", over.toStdString()}}));
        QVERIFY(waitUntilIdle(*m_window));
        useEveryControl(atLeast);
        if (over != "features") m_session->undo();
        QVERIFY(*m_session->snapshot() == *before);
        workspace().showMap();
    }

    void usesEveryControlOfGridsOverPanels() {
        const auto before = m_session->snapshot();
        workspace().showSheet(document().sheets.front()->id);
        workspace().setBench(Bench::Sheet);
        for (const doc::SheetItem& one : workspace().sheet()->items)
            if (one.as<doc::MapPanel>()) workspace().selectItem(one.id);
        QVERIFY(waitUntilIdle(*m_window));
        for (int i = 0; i < 2; ++i)
            QTest::mouseClick(shown<QPushButton>("addPanelGrid"), Qt::LeftButton);
        QVERIFY(waitUntilIdle(*m_window));
        useEveryControl(17);
        m_session->undo();
        m_session->undo();
        QVERIFY(*m_session->snapshot() == *before);
        workspace().showMap();
    }

    void addsEachItemOfTheMenu() {
        workspace().showSheet(document().sheets.front()->id);
        workspace().setBench(Bench::Sheet);
        workspace().selectItem(0);
        QVERIFY(waitUntilIdle(*m_window));
        auto* add = m_window->findChild<QPushButton*>("addItem");
        QVERIFY(add);
        const auto before = m_session->snapshot();
        std::set<std::string> kinds;
        const QString picture = m_dir.filePath("crest.png");
        QVERIFY(QImage(8, 8, QImage::Format_RGB32).save(picture));
        for (int i = 0;; ++i) {
            bool wasThere = false;
            QTimer::singleShot(0, [i, &wasThere, picture] {
                auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
                if (!menu) return;
                const auto actions = menu->actions();
                wasThere = i < actions.size();
                if (!wasThere) {
                    QTest::keyClick(menu, Qt::Key_Escape);
                    return;
                }
                // Of a menu of its own the first; a picture asks for its file.
                QAction* action =
                    actions[i]->menu() ? actions[i]->menu()->actions().front() : actions[i];
                auto* answer = new QTimer(menu);  // ends with it
                answer->setInterval(50);
                connect(answer, &QTimer::timeout, answer, [picture] {
                    auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
                    if (!dialog) return;
                    dialog->findChild<QLineEdit*>("fileNameEdit")->setText(picture);
                    QMetaObject::invokeMethod(dialog, "accept");
                });
                answer->start();
                action->trigger();
                menu->close();
            });
            QTest::mouseClick(add, Qt::LeftButton);
            if (!wasThere) break;
            const auto* item = workspace().item();
            QVERIFY(item);
            kinds.insert(doc::itemKind(*item));
            QVERIFY(waitUntilIdle(*m_window));
            m_session->undo();
            QVERIFY(*m_session->snapshot() == *before);
        }
        forEachKindThatCanBeAdded(
            [&](const std::string& kind) { QVERIFY2(kinds.contains(kind), kind.c_str()); });
        // Twice the same is two items of two names.
        for (int i = 0; i < 2; ++i)
            QVERIFY(workspace().perform("item-add",
                                        {{"sheet", Workspace::target(workspace().sheetId())},
                                         {"kind", "text"},
                                         {"name", "Note " + std::to_string(i)},
                                         {"rect", "1,1,20,5"}}));
        m_session->undo();
        m_session->undo();
        workspace().showMap();
    }

    void makesASheetOfTheViewAndTakesItBack() {
        workspace().showMap();
        workspace().setBench(Bench::Sheet);
        QVERIFY(waitUntilIdle(*m_window));
        const auto before = m_session->snapshot();
        auto* fresh = m_window->findChild<QPushButton*>("newSheet");
        QVERIFY(fresh);
        QTest::mouseClick(fresh, Qt::LeftButton);
        QVERIFY(waitUntilIdle(*m_window));
        QCOMPARE(document().sheets.size(), before->sheets.size() + 1);
        const doc::Sheet& made = document().sheets.back();
        QCOMPARE(workspace().sheetId(), made.id);
        const auto* panel = made.panel(0);
        QVERIFY(panel);
        const auto& map = *panel->as<doc::MapPanel>();
        QVERIFY(distance(map.centre, workspace().view().centre) < 1e-6);
        m_session->undo();
        QVERIFY(*m_session->snapshot() == *before);
        QCOMPARE(workspace().sheetId(), doc::Id{0});
    }

    // While the hand moves the map, something true is shown everywhere.
    void showsTheMapWhileItMoves() {
        workspace().showMap();
        MapPane* map = m_window->map();
        QVERIFY(waitUntilIdle(*m_window));
        QTRY_VERIFY_WITH_TIMEOUT(map->hasCountry(), 10000);
        const doc::MapView start = workspace().view();
        const QColor ground("#EDEEF4");
        const auto blanks = [&](const QImage& shown, const QImage& settled) {
            int blank = 0;
            for (int y = 0; y < shown.height(); y += 2)
                for (int x = 0; x < shown.width(); x += 2)
                    blank += shown.pixelColor(x, y) == ground && settled.pixelColor(x, y) != ground
                                 ? 1
                                 : 0;
            return 4.0 * blank / (shown.width() * shown.height());
        };
        const QPoint from(map->width() / 2, map->height() / 2);
        QTest::mousePress(map, Qt::LeftButton, {}, from);
        QMouseEvent move(QEvent::MouseMove, QPointF(from + QPoint(260, 170)),
                         map->mapToGlobal(QPointF(from + QPoint(260, 170))), Qt::NoButton,
                         Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(map, &move);
        const QImage moving = map->grab().toImage();  // before anything could be drawn
        QTest::qWait(600);
        const QImage held = map->grab().toImage();  // drawn while the button is down
        QTest::mouseRelease(map, Qt::LeftButton, {}, from + QPoint(260, 170));
        QVERIFY(waitUntilIdle(*m_window));
        const QImage settled = map->grab().toImage();
        QVERIFY2(blanks(moving, settled) < 0.02,
                 qPrintable(QString::number(blanks(moving, settled))));
        QVERIFY(blanks(held, settled) < 0.001);
        workspace().setView(start);
        QVERIFY(waitUntilIdle(*m_window));
        QTRY_VERIFY_WITH_TIMEOUT(map->hasCountry(), 10000);
        QTest::qWait(400);
        for (int i = 0; i < 5; ++i) {
            QWheelEvent wheel(QPointF(from), map->mapToGlobal(QPointF(from)), {}, QPoint(0, -120),
                              Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
            QApplication::sendEvent(map, &wheel);
        }
        const QImage zoomed = map->grab().toImage();
        QVERIFY(waitUntilIdle(*m_window));
        const QImage sharp = map->grab().toImage();
        QVERIFY2(blanks(zoomed, sharp) < 0.03, qPrintable(QString::number(blanks(zoomed, sharp))));
        workspace().setView(start);
        QVERIFY(waitUntilIdle(*m_window));
    }

private:
    template <typename Act>
    static void forEachKindThatCanBeAdded(const Act& act) {
        doc::forEachKind<doc::SheetContent>([&act]<typename T>(const T&) {
            if constexpr (!std::is_same_v<T, doc::UnknownItem>)
                act(std::string(doc::kItemKind<T>.name));
        });
    }
};

QTEST_MAIN(BenchesTest)
#include "benches_test.moc"
