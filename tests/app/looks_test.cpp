#include <QComboBox>
#include <QContextMenuEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMessageBox>
#include <QPushButton>
#include <QSignalSpy>
#include <QStyle>
#include <QTimer>
#include <QTreeWidget>

#include "app/benches/derive_panel.h"
#include "app/benches/labels_bench.h"
#include "app/stack/stack_panel.h"
#include "app/widgets/break_view.h"
#include "app/widgets/font_choice.h"
#include "document/edits/layer_edits.h"
#include "session/aside.h"
#include "session/derive/lineage.h"
#include "support/coarse_demo.h"
#include "support/test_window.h"

using namespace ledge;
using namespace ledge::app;

/// Classes, sizes, dots, rules and labels, by mouse and keyboard in the real window.
class LooksTest : public QObject, test::TestWindow {
    Q_OBJECT

private:
    MapPane* map() const { return m_window->map(); }
    const doc::VectorLayer& vector(const char* name) const {
        return *document().layer(layer(name))->as<doc::VectorLayer>();
    }
    const doc::VectorStyle& style() const { return vector("Crofts").style; }
    void waitIdle() const { QVERIFY(waitUntilIdle(*m_window)); }
    static void choose(QComboBox* box, int index) {
        QVERIFY(box);
        box->setCurrentIndex(index);
        Q_EMIT box->activated(index);
    }
    static void choose(QComboBox* box, const QString& text) {
        QVERIFY(box);
        box->setCurrentText(text);
        Q_EMIT box->textActivated(text);
        Q_EMIT box->activated(box->currentIndex());
    }
    void styleCrofts(doc::Classing classing) const {
        workspace().selectLayer(layer("Crofts"));
        workspace().setBench(Bench::Style);
        waitIdle();
        QTRY_VERIFY(shown<QComboBox>("classing"));
        choose(shown<QComboBox>("classing"), static_cast<int>(classing));
        QTRY_COMPARE(style().classing, classing);
        waitIdle();
    }
    void labelPlaces() const {
        workspace().selectLayer(layer("Places"));
        workspace().setBench(Bench::Labels);
        waitIdle();
        QTRY_VERIFY(shown<QComboBox>("labelText"));
    }
    const carto::MapLabel* labelOn(const char* layerName, std::size_t n = 0) const {
        for (const carto::MapLabel& label : map()->report().labels)
            if (label.of.layer == layer(layerName) && n-- == 0) return &label;
        return nullptr;
    }
    QPoint onPane(Point px) const {
        const Point off = map()->frame().toPixels()(map()->imageFrame().toMap()({0, 0}));
        const double ratio = m_window->devicePixelRatioF();
        return {qRound((px.x + off.x) / ratio), qRound((px.y + off.y) / ratio)};
    }

private slots:
    void initTestCase() { openWindow(test::coarseDemo(30)); }
    void cleanup() {
        workspace().setTool(Tool::Move);
        undoAll();
        waitIdle();
    }
    void cleanupTestCase() { closeWindow(); }

    void classesNumbers() {
        styleCrofts(doc::Classing::Classes);
        QTRY_COMPARE(style().classes.classes.size(), std::size_t{5});
        auto* view = shown<BreakView>("breakView");
        QTRY_VERIFY(view && view->breaks().size() == 4);
        QTRY_VERIFY(shown<QLabel>("fitOfClasses")->text().contains("explain"));
        choose(shown<QComboBox>("styleField"), "sheep");
        QTRY_COMPARE(style().field, std::string("sheep"));
        waitIdle();
        // Another number of classes, another way to find them.
        auto* count = shown<QDoubleSpinBox>("classCount");
        count->setValue(3);
        QTRY_COMPARE(style().classes.classes.size(), std::size_t{3});
        choose(shown<QComboBox>("classMethod"), static_cast<int>(classify::Method::Quantile));
        QTRY_COMPARE(style().classes.method, classify::Method::Quantile);
        // A rate.
        const auto before = style().classes.breaks;
        choose(shown<QComboBox>("stylePer"), "area_ha");
        QTRY_COMPARE(style().per, std::string("area_ha"));
        QTRY_VERIFY(style().classes.breaks != before);
        waitIdle();
        const auto light = style().classes.classes.front().look.fill;
        QTest::mouseClick(shown<QPushButton>("classFlip"), Qt::LeftButton);
        QVERIFY(style().classes.classes.back().look.fill == light);
        shown<QCheckBox>("classOutlines")->click();
        QVERIFY(!style().hasOutlines);
        QVERIFY(style().classes.classes.size() >= 2);
        QTRY_VERIFY(shown<QLineEdit>("className1"));
        auto* name = shown<QLineEdit>("className1");
        name->setFocus();
        name->selectAll();
        QTest::keyClicks(name, "some sheep");
        QTest::keyClick(name, Qt::Key_Tab);
        QCOMPARE(style().classes.classes[1].label, std::string("some sheep"));
        // The list was not made anew under the hands of who types.
        QCOMPARE(shown<QLineEdit>("className1"), name);
    }

    void dragsBreaks() {
        styleCrofts(doc::Classing::Classes);
        auto* view = shown<BreakView>("breakView");
        QTRY_VERIFY(view && view->breaks().size() == 4);
        waitIdle();
        const auto breaks = style().classes.breaks;
        const auto undo = m_session->history().undoCount();
        const QPoint at(qRound(view->xOf(breaks[1])), 20);
        QTest::mousePress(view, Qt::LeftButton, {}, at);
        for (int i = 1; i <= 4; ++i) QTest::mouseMove(view, at + QPoint(2 * i, 0));
        QTest::mouseRelease(view, Qt::LeftButton, {}, at + QPoint(8, 0));
        QVERIFY(style().classes.breaks[1] > breaks[1]);
        QCOMPARE(style().classes.method, classify::Method::Own);
        QCOMPARE(style().classes.breaks[0], breaks[0]);
        // However often it moved, one step brings it back.
        QVERIFY(m_session->history().undoCount() <= undo + 1);
        view->setFocus();
        QTest::keyClick(view, Qt::Key_PageDown);
        const auto chosen = view->chosen();
        QVERIFY(chosen);
        const double now = style().classes.breaks[*chosen];
        QTest::keyClick(view, Qt::Key_Left);
        QVERIFY(style().classes.breaks[*chosen] < now);
        QTest::keyClick(view, Qt::Key_Delete);
        QCOMPARE(style().classes.breaks.size(), std::size_t{3});
        QCOMPARE(style().classes.classes.size(), std::size_t{4});
        QTest::mouseDClick(view, Qt::LeftButton, {}, QPoint(view->width() - 20, 40));
        QCOMPARE(style().classes.breaks.size(), std::size_t{4});
    }

    void drawsSizesDotsAndRules() {
        styleCrofts(doc::Classing::Sized);
        shown<QDoubleSpinBox>("sizeLargest")->setValue(5);
        QCOMPARE(style().sizes.largestMm, 5.0);
        QVERIFY(style().sizes.high > 0);
        // A size for each class: the classes are found, and their breaks can be dragged.
        shown<QCheckBox>("sizeClassed")->click();
        QVERIFY(style().sizes.isClassed);
        QTRY_COMPARE(style().classes.classes.size(), std::size_t{5});
        waitIdle();
        QTRY_VERIFY(shown<BreakView>("breakView"));
        QVERIFY(!shown<QComboBox>("classFamily"));
        shown<QDoubleSpinBox>("classCount")->setValue(3);
        QTRY_COMPARE(style().classes.classes.size(), std::size_t{3});
        waitIdle();
        shown<QCheckBox>("sizeClassed")->click();
        QVERIFY(!style().sizes.isClassed);
        choose(shown<QComboBox>("classing"), static_cast<int>(doc::Classing::Dots));
        QTRY_COMPARE(style().classing, doc::Classing::Dots);
        waitIdle();
        const double each = style().dots.each;
        shown<QDoubleSpinBox>("dotEach")->setValue(each * 2);
        QCOMPARE(style().dots.each, each * 2);
        QTest::mouseClick(shown<QPushButton>("strewAnew"), Qt::LeftButton);
        QCOMPARE(style().dots.seed, 2);
        choose(shown<QComboBox>("addDots"), 1);
        QCOMPARE(style().dots.fields.size(), std::size_t{2});
        choose(shown<QComboBox>("classing"), static_cast<int>(doc::Classing::Rules));
        QTRY_COMPARE(style().classing, doc::Classing::Rules);
        QTest::mouseClick(shown<QPushButton>("addRule"), Qt::LeftButton);
        QCOMPARE(style().rules.size(), std::size_t{1});
        QTRY_VERIFY(shown<QLineEdit>("ruleKeep0"));
        auto* keep = shown<QLineEdit>("ruleKeep0");
        keep->setFocus();
        QTest::keyClicks(keep, "sheep > 20");
        QTest::keyClick(keep, Qt::Key_Return);
        QCOMPARE(style().rules[0].keep, std::string("sheep > 20"));
        waitIdle();
        QVERIFY(map()->report().problems.empty());
        // What a file says and cannot be understood is told, and the rest is drawn.
        QVERIFY(workspace().setMember("style.rules.0.keep", "goats > 20"));
        waitIdle();
        QTRY_VERIFY(!map()->report().problems.empty());
        QVERIFY(map()->report().problems[0].text.find("goats") != std::string::npos);
    }

    // Rows that a formula gives no value are counted; the others draw, and the strip says so.
    void countsRowsWithoutAValue() {
        styleCrofts(doc::Classing::Single);
        auto* text =
            m_window->findChild<StackPanel*>()->strip(layer("Crofts"))->findChild<QLabel*>("facts");
        const QString usual = text->text();
        m_session->apply(doc::withLayer(document(), layer("Crofts"),
                                        [](doc::Layer& l) {
                                            auto& labels = l.as<doc::VectorLayer>()->labels[0];
                                            labels.isOn = true;
                                            labels.text = "sheep / (sheep - sheep)";
                                        }),
                         "Labels");
        waitIdle();
        const auto& problems = map()->report().problems;
        QCOMPARE(problems.size(), std::size_t{1});
        const QString said = QString::fromStdString(problems[0].text);
        QVERIFY2(said.contains("rows have no value") && said.contains("its labels"),
                 qPrintable(said));
        QTRY_VERIFY(text->text().contains("partly"));
        QVERIFY(shown<QLabel>("where")->text().contains("Crofts: its labels"));
        Q_EMIT text->linkActivated("act");
        auto* notes = shown<QLabel>("notes");
        QVERIFY(notes && notes->text() == said);
        m_session->undo();
        waitIdle();
        QTRY_COMPARE(text->text(), usual);
        QTRY_VERIFY(!shown<QLabel>("notes") || !shown<QLabel>("notes")->text().contains("value"));
    }

    // Those that come appear, those that leave fade; those that stay are there all the time.
    void labelsFade() {
        styleCrofts(doc::Classing::Single);
        waitIdle();
        const auto* pane = map();
        if (pane->style()->styleHint(QStyle::SH_Widget_Animation_Duration) <= 0)
            QSKIP("no animation is wanted here");
        const QImage before = map()->grab().toImage();
        QSignalSpy drawn(m_window->map(), &MapPane::drawn);
        m_session->apply(
            doc::withLayer(document(), layer("Places"),
                           [](doc::Layer& l) { l.as<doc::VectorLayer>()->labels[0].isOn = false; }),
            "Labels off");
        QTRY_VERIFY(!drawn.isEmpty());
        QVERIFY(map()->isDrawing());  // they fade
        const QImage fading = map()->grab().toImage();
        waitIdle();
        const QImage gone = map()->grab().toImage();
        QVERIFY(gone != before);
        QVERIFY(fading != gone);
        m_session->undo();
        waitIdle();
        QCOMPARE(map()->grab().toImage(), before);
    }

    void changesALookInFull() {
        styleCrofts(doc::Classing::Single);
        shown<QCheckBox>("lookMore")->setChecked(true);
        choose(shown<QComboBox>("pattern"), static_cast<int>(doc::Pattern::CrossHatch));
        QCOMPARE(style().look.pattern, doc::Pattern::CrossHatch);
        shown<QDoubleSpinBox>("patternMm")->setValue(2.5);
        QCOMPARE(style().look.patternMm, 2.5);
        auto* dashes = shown<QLineEdit>("ownDashes");
        dashes->setFocus();
        QTest::keyClicks(dashes, "2, 0.6");
        QTest::keyClick(dashes, Qt::Key_Return);
        QCOMPARE(style().look.dashesMm, (std::vector<double>{2, 0.6}));
        dashes->selectAll();
        QTest::keyClicks(dashes, "two");
        QTest::keyClick(dashes, Qt::Key_Return);
        QCOMPARE(style().look.dashesMm.size(), std::size_t{2});
        choose(shown<QComboBox>("lineCap"), static_cast<int>(doc::Cap::Square));
        QCOMPARE(style().look.cap, doc::Cap::Square);
        choose(shown<QComboBox>("lineJoin"), static_cast<int>(doc::Join::Mitre));
        QCOMPARE(style().look.join, doc::Join::Mitre);
        shown<QCheckBox>("lookMore")->setChecked(false);
    }

    // The map as others see it is a look at it, nothing of the project.
    void showsTheMapAsOthersSeeIt() {
        styleCrofts(doc::Classing::Single);
        const auto before = m_session->snapshot();
        const auto coloured = [&] {
            const QImage image = map()->grab().toImage();
            int out = 0;
            for (int y = 100; y < image.height() - 100; y += 7)
                for (int x = 100; x < image.width() - 100; x += 7) {
                    const QColor c = image.pixelColor(x, y);
                    out += std::abs(c.red() - c.green()) > 3 || std::abs(c.green() - c.blue()) > 3;
                }
            return out;
        };
        QVERIFY(coloured() > 200);
        choose(shown<QComboBox>("vision"), 4);
        waitIdle();
        QTRY_VERIFY(coloured() < 30);
        QVERIFY(*m_session->snapshot() == *before);
        choose(shown<QComboBox>("vision"), 0);
        waitIdle();
        QTRY_VERIFY(coloured() > 200);
    }

    void labelsByFormula() {
        labelPlaces();
        auto* text = shown<QComboBox>("labelText");
        text->setFocus();
        text->setEditText("join(name, '!')");
        QTest::keyClick(text->lineEdit(), Qt::Key_Return);
        QCOMPARE(vector("Places").labels[0].text, std::string("join(name, '!')"));
        waitIdle();
        QTRY_VERIFY(labelOn("Places") && labelOn("Places")->text.endsWith("!"));
        auto* keep = shown<QLineEdit>("labelKeep");
        keep->setFocus();
        keep->selectAll();
        QTest::keyClicks(keep, "kind = 'summit' AND rank = 3");
        QTest::keyClick(keep, Qt::Key_Return);
        const auto all = map()->report().labels.size();
        QCOMPARE(vector("Places").labels[0].keep, std::string("kind = 'summit' AND rank = 3"));
        waitIdle();
        QTRY_VERIFY(map()->report().labels.size() < all);
        // Another set beside it, and away again.
        const auto sets = vector("Places").labels.size();
        QTest::mouseClick(shown<QPushButton>("addLabelSet"), Qt::LeftButton);
        QCOMPARE(vector("Places").labels.size(), sets + 1);
        QCOMPARE(shown<QComboBox>("labelSets")->currentIndex(), static_cast<int>(sets));
        shown<QDoubleSpinBox>("labelSize")->setValue(11);
        QCOMPARE(vector("Places").labels[sets].sizePt, 11.0);
        QVERIFY(vector("Places").labels[0].sizePt != 11.0);
        QTest::mouseClick(shown<QPushButton>("removeLabelSet"), Qt::LeftButton);
        QCOMPARE(vector("Places").labels.size(), sets);
        QVERIFY(vector("Places").labels[0].sizePt != 11.0);
    }

    // Another font and halo; one that is not on this computer is named, and another stands in.
    void setsTheTypeOfLabels() {
        labelPlaces();
        waitIdle();
        const QImage before = map()->grab().toImage();
        auto* font = shown<FontChoice>("labelFont");
        QVERIFY(font);
        QCOMPARE(font->currentText(), QString("Inter"));
        int other = 0;
        while (font->itemText(other) == "Inter") ++other;
        choose(font, other);
        QCOMPARE(QString::fromStdString(vector("Places").labels[0].font), font->itemText(other));
        shown<QDoubleSpinBox>("labelHaloMm")->setValue(1);
        QCOMPARE(vector("Places").labels[0].haloMm, 1.0);
        waitIdle();
        QTRY_VERIFY(map()->grab().toImage() != before);
        QVERIFY(map()->report().problems.empty());
        workspace().setMember("labels.0.font", "Unheard Of Grotesque");
        waitIdle();
        QTRY_COMPARE(map()->report().problems.size(), std::size_t{1});
        QVERIFY(map()->report().problems[0].text.find("Unheard Of Grotesque") != std::string::npos);
        QCOMPARE(font->currentText(), QString("Unheard Of Grotesque"));
        QVERIFY(labelOn("Places"));
        QTRY_VERIFY(m_window->findChild<StackPanel*>()
                        ->strip(layer("Places"))
                        ->findChild<QLabel*>("facts")
                        ->text()
                        .contains("partly"));
    }

    void dragsALabel() {
        labelPlaces();
        QTest::mouseClick(shown<QPushButton>("labelHand"), Qt::LeftButton);
        QTRY_VERIFY(workspace().tool() == Tool::Label);
        waitIdle();
        const carto::MapLabel label = *labelOn("Places");
        const QPoint at = onPane(label.middle);
        QTest::mouseMove(map(), at);
        QTest::mousePress(map(), Qt::LeftButton, {}, at);
        QTest::mouseMove(map(), at + QPoint(15, 10));
        QTest::mouseMove(map(), at + QPoint(40, 30));
        QTest::mouseRelease(map(), Qt::LeftButton, {}, at + QPoint(40, 30));
        QCOMPARE(vector("Places").labels[0].pins.size(), std::size_t{1});
        const doc::LabelPin pin = vector("Places").labels[0].pins[0];
        QCOMPARE(pin.key, label.of.key);
        QVERIFY(pin.isPlaced && pin.scale > 0);
        waitIdle();
        const auto placed = [&]() -> const carto::MapLabel* {
            for (const carto::MapLabel& one : map()->report().labels)
                if (one.of == label.of) return &one;
            return nullptr;
        };
        QTRY_VERIFY(placed() && placed()->isPinned);
        QVERIFY(distance(placed()->middle, label.middle + Point{40, 30}) < 1.5);
        // All others keep off it.
        for (const carto::MapLabel& one : map()->report().labels)
            if (!(one.of == label.of))
                for (const Box& a : one.boxes)
                    for (const Box& b : placed()->boxes)
                        QVERIFY(a.xMin >= b.xMax || b.xMin >= a.xMax || a.yMin >= b.yMax ||
                                b.yMin >= a.yMax);
        // By the keyboard: a step, a turn, away, and back.
        map()->setFocus();
        QTest::keyClick(map(), Qt::Key_Right);
        QVERIFY(vector("Places").labels[0].pins[0].rightMm > pin.rightMm);
        waitIdle();
        QTest::keyClick(map(), Qt::Key_BracketRight);
        QVERIFY(std::abs(vector("Places").labels[0].pins[0].turn - pin.turn - 5) < 0.1);
        waitIdle();
        QTest::keyClick(map(), Qt::Key_Delete);
        QVERIFY(vector("Places").labels[0].pins[0].isHidden);
        waitIdle();
        QTRY_VERIFY(!placed());
        QTest::keyClick(m_window.get(), Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(!vector("Places").labels[0].pins[0].isHidden);
        waitIdle();
        QTRY_VERIFY(placed());
        QTest::keyClick(map(), Qt::Key_Backspace);
        QVERIFY(vector("Places").labels[0].pins.empty());
    }

    // All of it by the right button, too, for one label and for all.
    void changesLabelsFromTheirMenu() {
        labelPlaces();
        workspace().setTool(Tool::Label);
        waitIdle();
        const carto::LabelOf of = labelOn("Places")->of;
        const auto find = [&]() -> const carto::MapLabel* {
            for (const carto::MapLabel& one : map()->report().labels)
                if (one.of == of) return &one;
            return nullptr;
        };
        const auto choose = [&](const QString& name) {
            QTRY_VERIFY(find());
            QTimer::singleShot(0, [name] {
                auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
                for (QAction* action : menu ? menu->actions() : QList<QAction*>())
                    if (action->text() == name) action->trigger();
                while (QWidget* open = QApplication::activePopupWidget()) open->close();
            });
            const QPoint at = onPane(find()->middle);
            QContextMenuEvent event(QContextMenuEvent::Mouse, at, map()->mapToGlobal(at));
            QApplication::sendEvent(map(), &event);
            waitIdle();
        };
        choose("Larger");
        QCOMPARE(vector("Places").labels[0].pins.size(), std::size_t{1});
        QCOMPARE(vector("Places").labels[0].pins[0].key, of.key);
        QVERIFY(vector("Places").labels[0].pins[0].sizePt > vector("Places").labels[0].sizePt);
        choose("Turn to the right");
        const doc::LabelPin* pin = vector("Places").labels[0].pin(of.key, 0);
        QVERIFY(pin && std::abs(pin->turn - 5) < 0.1);
        choose("Hold all that are shown");
        QVERIFY(vector("Places").labels[0].pins.size() > 3);
        choose("Let all go");
        QVERIFY(vector("Places").labels[0].pins.empty());
        map()->labelling().choose(of);
        map()->labelling().setColour(Colour{200, 30, 30});
        QVERIFY(vector("Places").labels[0].pins[0].colour == (Colour{200, 30, 30}));
        waitIdle();
        choose("The colour of its set");
        QVERIFY(!vector("Places").labels[0].pins[0].colour);
        choose("Hide it");
        QTRY_VERIFY(!find());
    }

    void holdsAndReleasesAll() {
        labelPlaces();
        waitIdle();
        QTest::mouseClick(shown<QPushButton>("labelHold"), Qt::LeftButton);
        const auto count = vector("Places").labels[0].pins.size();
        QVERIFY(count > 3);
        waitIdle();
        for (const carto::MapLabel& label : map()->report().labels)
            if (label.of.layer == layer("Places") && label.of.set == 0) QVERIFY(label.isPinned);
        QTest::mouseClick(shown<QPushButton>("labelReset"), Qt::LeftButton);
        QVERIFY(vector("Places").labels[0].pins.empty());
    }

    void listsWhatFoundNoRoom() {
        labelPlaces();
        shown<QDoubleSpinBox>("labelSize")->setValue(40);
        waitIdle();
        auto* list = shown<QTreeWidget>("labelsLeftOut");
        QVERIFY(list);
        QTRY_VERIFY(list->topLevelItemCount() > 0);
        // Counted on the map, too, while labels are in hand.
        const QImage uncounted = map()->grab().toImage();
        workspace().setTool(Tool::Label);
        waitIdle();
        QVERIFY(map()->grab().toImage() != uncounted);
        // Its reason is seen whole.
        const QString why = list->topLevelItem(0)->text(1);
        const QRect row = list->visualItemRect(list->topLevelItem(0));
        const int needed =
            list->fontMetrics()
                .boundingRect(QRect(0, 0, list->columnWidth(1) - 8, 9999), Qt::TextWordWrap, why)
                .height();
        QVERIFY2(!why.isEmpty() && row.height() >= needed, qPrintable(why));
        const QString name = list->topLevelItem(0)->text(0);
        list->setCurrentItem(list->topLevelItem(0));
        QTest::mouseClick(shown<QPushButton>("labelPlace"), Qt::LeftButton);
        QCOMPARE(vector("Places").labels[0].pins.size(), std::size_t{1});
        waitIdle();
        const auto isThere = [&] {
            for (const carto::MapLabel& label : map()->report().labels)
                if (label.text == name && label.isPinned) return true;
            return false;
        };
        QTRY_VERIFY(isThere());
    }

    // Labels that are on the map stay where they are while it is moved.
    void staysWhilePanned() {
        labelPlaces();
        workspace().setTool(Tool::Move);
        waitIdle();
        std::map<carto::LabelOf, Point> before;
        const Affine toMap = map()->imageFrame().toMap();
        for (const carto::MapLabel& label : map()->report().labels)
            before[label.of] = toMap(label.origin);
        QVERIFY(before.size() > 5);
        for (int i = 0; i < 3; ++i) {
            QTest::mousePress(map(), Qt::LeftButton, {}, {300, 300});
            QTest::mouseMove(map(), {310, 305});
            QTest::mouseMove(map(), {337, 319});
            QTest::mouseRelease(map(), Qt::LeftButton, {}, {337, 319});
            waitIdle();
        }
        const Affine now = map()->imageFrame().toMap();
        const double pixel = map()->frame().unitsPerPx();
        std::size_t same = 0, there = 0;
        for (const carto::MapLabel& label : map()->report().labels) {
            const auto it = before.find(label.of);
            if (it == before.end()) continue;
            ++there;
            same += distance(now(label.origin), it->second) < 2 * pixel ? 1U : 0U;
        }
        QVERIFY(there > 3);
        QCOMPARE(same, there);
    }

    void tellsWhatAFileCannotHold() {
        FeatureList list;
        list.info.name = "posts";
        list.info.crs = *crs::crsFromCode(32629);
        list.info.geometry = GeometryType::Point;
        list.info.fields = {{"a name longer than ten letters", FieldType::Text}};
        list.features.push_back({1, Geometry::point({500000, 6800000}), {std::string("post")}});
        const std::filesystem::path source = m_dir.filePath("long.gpkg").toStdString();
        QVERIFY(io::writeTable(FeatureTable(std::move(list)), source, {}));
        doc::Lineage made;
        made.operation = "reproject";
        doc::LineageInput input;
        input.path = source;
        made.inputs = {input};
        made.parameters = {{"to-crs", "EPSG:3035"}};
        workspace().selectLayer(layer("Crofts"));
        workspace().setBench(Bench::Data);
        auto* panel = m_window->findChild<DerivePanel*>();
        QVERIFY(panel);
        QStringList said;
        const auto answer = [&](const char* button) {
            auto* timer = new QTimer(this);
            connect(timer, &QTimer::timeout, this, [&said, timer, button] {
                auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
                if (!box || box->objectName() != "lossBox") return;
                said << box->informativeText();
                for (QAbstractButton* one : box->buttons())
                    if (one->text() == button) one->click();
                timer->deleteLater();
            });
            timer->start(20);
        };
        const QString path = m_dir.filePath("posts.shp");
        answer("Do not write");
        panel->write(made, path);
        QTRY_COMPARE(said.size(), 1);
        waitIdle();
        QVERIFY(!QFile::exists(path));
        QVERIFY(!said[0].isEmpty());
        answer("Write it so");
        panel->write(made, path);
        QTRY_COMPARE(said.size(), 2);
        QTRY_VERIFY(QFile::exists(path));
        waitIdle();
    }
};

QTEST_MAIN(LooksTest)
#include "looks_test.moc"
