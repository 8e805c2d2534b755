#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include "app/benches/bench_page.h"
#include "app/widgets/formula_choice.h"
#include "document/document.h"
#include "support/coarse_demo.h"
#include "support/test_window.h"

using namespace ledge;
using namespace ledge::app;

/// What is typed into the benches: what cannot be used says so beneath its field and changes
/// nothing, and what is changed while something is worked out stays.
class TypingTest : public QObject, test::TestWindow {
    Q_OBJECT

private:
    const doc::VectorLayer& vector(const char* name) const {
        return *document().layer(layer(name))->as<doc::VectorLayer>();
    }
    // A line, or that of a choice.
    QLineEdit* line(const char* name) const {
        if (auto* edit = shown<QLineEdit>(name)) return edit;
        auto* choice = shown<FormulaChoice>(name);
        return choice ? choice->lineEdit() : nullptr;
    }
    static void type(QLineEdit* edit, const QString& text) {
        edit->setFocus();
        edit->selectAll();
        QTest::keyClick(edit, Qt::Key_Delete);
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
    }
    static void choose(QComboBox* box, int index) {
        QVERIFY(box);
        box->setCurrentIndex(index);
        Q_EMIT box->activated(index);
    }
    void set(const char* name, const char* member, const char* value) const {
        QVERIFY(workspace().perform(
            "layer-set",
            {{"layer", Workspace::target(layer(name))}, {"member", member}, {"value", value}}));
    }
    void open(Bench bench, const char* name) const {
        workspace().showMap();
        workspace().selectLayer(layer(name));
        workspace().setBench(bench);
        QVERIFY(waitUntilIdle(*m_window));
        if (auto* more = shown<QCheckBox>("lookMore"); more && !more->isChecked()) more->click();
    }
    // Beneath the field, whole, and within the bench.
    void verifyTold(const QLabel* told, const QLineEdit* field, const QString& part) const {
        QVERIFY(told->isVisible());
        QVERIFY2(told->text().contains(part), qPrintable(told->text()));
        const QPoint under = told->mapTo(m_window.get(), QPoint(0, 0));
        const QPoint above = field->mapTo(m_window.get(), QPoint(0, field->height()));
        QVERIFY2(under.y() >= above.y() - 1 && under.y() < above.y() + 40,
                 qPrintable(QString("%1 to %2").arg(above.y()).arg(under.y())));
        QVERIFY(told->height() >= told->heightForWidth(told->width()));
    }
    // What is wrong changes nothing and is told; what is right is one step.
    void verifyField(const QString& name, const QString& wrong, const QString& part,
                     const QString& right) const {
        const std::string field = name.toStdString();
        QTRY_VERIFY2(line(field.c_str()), field.c_str());
        const auto before = m_session->snapshot();
        const auto steps = m_session->history().undoCount();
        type(line(field.c_str()), wrong);
        auto* told = m_window->findChild<QLabel*>(name + "Wrong");
        QVERIFY2(told, field.c_str());
        QCOMPARE(m_session->history().undoCount(), steps);
        QCoreApplication::processEvents();
        verifyTold(told, line(field.c_str()), part);
        QCOMPARE(line(field.c_str())->text(), wrong);
        // It is told as long as nothing else is typed.
        QTest::keyClick(line(field.c_str()), Qt::Key_Tab);
        QVERIFY(told->isVisible());
        type(line(field.c_str()), right);
        QVERIFY(!told->isVisible());
        QTRY_COMPARE(m_session->history().undoCount(), steps + 1);
        QVERIFY(waitUntilIdle(*m_window));
        m_session->undo();
        QVERIFY(*m_session->snapshot() == *before);
    }

private Q_SLOTS:
    void initTestCase() { openWindow(test::coarseDemo()); }
    void cleanup() {
        workspace().showMap();
        undoAll();
        QVERIFY(waitUntilIdle(*m_window));
    }
    void cleanupTestCase() { closeWindow(); }

    void saysWhatCannotBeUsed_data() {
        QTest::addColumn<int>("bench");
        QTest::addColumn<QString>("of");
        QTest::addColumn<QString>("prepared");  // members and values, in lines
        QTest::addColumn<QString>("field");
        QTest::addColumn<QString>("wrong");
        QTest::addColumn<QString>("part");
        QTest::addColumn<QString>("right");
        const auto row = [](const char* name, Bench bench, const char* of, const char* prepared,
                            const char* field, const char* wrong, const char* part,
                            const char* right) {
            QTest::newRow(name) << int(bench) << of << prepared << field << wrong << part << right;
        };
        row("labels of an unknown field", Bench::Labels, "Places", "", "labelKeep", "kund = 'x'",
            "kind", "kind = 'summit'");
        row("labels of half a condition", Bench::Labels, "Places", "", "labelKeep", "kind =", "",
            "kind <> 'summit'");
        row("labels of no condition", Bench::Labels, "Crofts", "", "labelKeep", "sheep + 1", "",
            "sheep > 1");
        row("a label's text", Bench::Labels, "Places", "", "labelText", "upper(nam)", "nam",
            "upper(name)");
        row("a label's importance", Bench::Labels, "Places", "", "labelRank", "2 * (1 + ", "",
            "2 * (1 + 1)");
        const char* rules = "style.rules=[{\"keep\":\"sheep > 20\"}]\nstyle.classing=rules";
        row("a rule", Bench::Style, "Crofts", rules, "ruleKeep0", "sheeps > 3", "sheep",
            "sheep > 30");
        const char* dots = "style.dots={\"fields\":[{\"field\":\"sheep\"}]}\nstyle.classing=dots";
        row("dots", Bench::Style, "Crofts", dots, "dotField0", "sheep *", "", "sheep * 2");
        row("classes", Bench::Style, "Crofts", "style.field=sheep\nstyle.classing=classes",
            "styleField", "sheep / areas_ha", "area_ha", "sheep / area_ha");
        row("dashes", Bench::Style, "Roads", "", "ownDashes", "2, 0.6, 1", "pairs", "2, 0.6");
        row("lines of coordinates", Bench::Style, "Graticule", "", "gridCrs", "EPSG:99999", "99999",
            "EPSG:32629");
    }
    void saysWhatCannotBeUsed() {
        QFETCH(int, bench);
        QFETCH(QString, of);
        QFETCH(QString, prepared);
        QFETCH(QString, field);
        QFETCH(QString, wrong);
        QFETCH(QString, part);
        QFETCH(QString, right);
        for (const QString& one : prepared.split('\n', Qt::SkipEmptyParts))
            set(of.toUtf8(), one.section('=', 0, 0).toUtf8(), one.section('=', 1).toUtf8());
        open(static_cast<Bench>(bench), of.toUtf8());
        verifyField(field, wrong, part, right);
    }

    void saysWhatASheetCannotUse_data() {
        QTest::addColumn<QString>("item");
        QTest::addColumn<QString>("field");
        QTest::addColumn<QString>("wrong");
        QTest::addColumn<QString>("part");
        QTest::addColumn<QString>("right");
        QTest::newRow("pages of a condition") << ""
                                              << "seriesKeep"
                                              << "nam = 'x'"
                                              << "nam"
                                              << "name <> 'x'";
        QTest::newRow("names of pages") << ""
                                        << "seriesNaming"
                                        << "lower(name"
                                        << ""
                                        << "lower(name)";
        QTest::newRow("lines over a panel") << "Main map"
                                            << "gridCrs0"
                                            << "EPSG:99999"
                                            << "99999"
                                            << "EPSG:4326";
    }
    void saysWhatASheetCannotUse() {
        QFETCH(QString, item);
        QFETCH(QString, field);
        QFETCH(QString, wrong);
        QFETCH(QString, part);
        QFETCH(QString, right);
        showOn("Districts", item);
        if (auto* add = shown<QPushButton>("addPanelGrid")) QTest::mouseClick(add, Qt::LeftButton);
        QVERIFY(waitUntilIdle(*m_window));
        verifyField(field, wrong, part, right);
    }

    // What is chosen from the list in its place is right again, were it what was said before.
    void forgetsWhatIsWrongWhenAFieldIsChosen() {
        open(Bench::Labels, "Places");
        QTRY_VERIFY(shown<FormulaChoice>("labelText"));
        auto* text = shown<FormulaChoice>("labelText");
        const QString before = text->currentText();
        type(text->lineEdit(), "upper(nam");
        QVERIFY(shown<QLabel>("labelTextWrong"));
        text->setCurrentIndex(text->findText(before));
        Q_EMIT text->textActivated(before);
        QVERIFY(!shown<QLabel>("labelTextWrong"));
        QVERIFY(!m_session->history().canUndo());
    }

    // Of a file that says it, or of a column that has gone: told as soon as it is shown.
    void saysWhatIsWrongAlready() {
        set("Places", "labels.0.keep", "gone > 3");
        set("Places", "labels.0.rank", "gone_too");
        open(Bench::Labels, "Places");
        auto* keep = shown<QLabel>("labelKeepWrong");
        QVERIFY(keep && keep->text().contains("gone"));
        auto* rank = shown<QLabel>("labelRankWrong");
        QVERIFY(rank && rank->text().contains("gone_too"));
        m_session->undo();
        QTRY_VERIFY(!rank->isVisible());
        QVERIFY(keep->isVisible());
        // Another layer's fields are other fields.
        workspace().selectLayer(layer("Lochs"));
        QTRY_VERIFY(!keep->isVisible());
    }

    // Sets are known by their names: one for each, and the one that is shown goes.
    void keepsNamesOfSetsApart() {
        open(Bench::Labels, "Lochs");
        const auto count = vector("Lochs").labels.size();
        QTest::mouseClick(shown<QPushButton>("addLabelSet"), Qt::LeftButton);
        QCOMPARE(vector("Lochs").labels.size(), count + 1);
        QTest::mouseClick(shown<QPushButton>("addLabelSet"), Qt::LeftButton);
        QCOMPARE(vector("Lochs").labels.size(), count + 2);
        const std::string first = vector("Lochs").labels[count].name;
        type(line("labelSetName"), QString::fromStdString(first));
        QVERIFY(vector("Lochs").labels[count + 1].name != first);
        verifyTold(shown<QLabel>("labelSetNameWrong"), line("labelSetName"),
                   QString::fromStdString(first));
        type(line("labelSetName"), "Depths");
        QCOMPARE(vector("Lochs").labels[count + 1].name, std::string("Depths"));
        QVERIFY(!shown<QLabel>("labelSetNameWrong"));
        // A file may hold two of one name.
        set("Lochs", ("labels." + std::to_string(count + 1) + ".name").c_str(), first.c_str());
        QTest::mouseClick(shown<QPushButton>("removeLabelSet"), Qt::LeftButton);
        QCOMPARE(vector("Lochs").labels.size(), count + 1);
        QCOMPARE(vector("Lochs").labels[count].name, first);
        // Where the number that comes next is taken, the button goes on to one that is free.
        set("Lochs", ("labels." + std::to_string(count) + ".name").c_str(),
            ("Labels " + std::to_string(count + 2)).c_str());
        QTest::mouseClick(shown<QPushButton>("addLabelSet"), Qt::LeftButton);
        QCOMPARE(vector("Lochs").labels.size(), count + 2);
    }

    // Values are read beside: what was chosen in between is not taken back.
    void keepsWhatWasChosenMeanwhile() {
        open(Bench::Style, "Plant vigour");
        QTRY_VERIFY(shown<QComboBox>("rampSpread"));
        const auto style = [this]() -> const doc::RasterStyle& {
            return document().layer(layer("Plant vigour"))->as<doc::RasterLayer>()->style;
        };
        choose(shown<QComboBox>("rampSpread"), 2);
        m_session->jobs().wait();
        QTRY_COMPARE(style().spread, doc::Spread::Steps);
        QTRY_VERIFY(shown<QComboBox>("stepMethod"));
        choose(shown<QComboBox>("stepMethod"), 2);
        shown<QDoubleSpinBox>("stepCount")->setValue(9);
        QVERIFY(workspace().setMember("style.shows_cells", "true"));
        QTRY_COMPARE(style().stepCount, 9);
        QTRY_COMPARE(style().method, classify::Method::Equal);
        QVERIFY(style().showsCells);
        QVERIFY(waitUntilIdle(*m_window));
        QCOMPARE(style().stepCount, 9);
    }

    // Rows are kept while they are used: a click on the next one, from a name half typed, counts.
    void takesTheClickThatEndsTyping() {
        showOn("Overview", "Key");
        QTRY_VERIFY(shown<QLineEdit>("legendName1"));
        const auto legend = [this]() -> const doc::LegendItem& {
            for (const doc::SheetItem& one : workspace().sheet()->items)
                if (const auto* found = one.as<doc::LegendItem>()) return *found;
            qFatal("no legend");
        };
        auto* name = shown<QLineEdit>("legendName0");
        name->setFocus();
        QTest::keyClicks(name, "Another name");
        auto* next = shown<QCheckBox>("legendListed1");
        const bool wasOn = next->isChecked();
        const QPoint spot(next->height() / 2, next->height() / 2);
        QTest::mouseClick(next, Qt::LeftButton, {}, spot);
        const auto& names = legend().names;
        QVERIFY(std::any_of(names.begin(), names.end(),
                            [](const auto& one) { return one.second == "Another name"; }));
        QTRY_COMPARE(shown<QCheckBox>("legendListed1")->isChecked(), !wasOn);
        QCOMPARE(m_session->history().undoCount(), std::size_t{2});
        QVERIFY(shown<QPushButton>("legendEverywhere0"));
        // An entry that moves up takes the focus along.
        auto* up = shown<QPushButton>("legendUp2");
        const QString called = up->accessibleName();
        up->setFocus();
        QTest::keyClick(up, Qt::Key_Space);
        QCOMPARE(m_session->history().undoCount(), std::size_t{3});
        QVERIFY(QApplication::focusWidget());
        QCOMPARE(QApplication::focusWidget()->accessibleName(), called);
        QCOMPARE(QApplication::focusWidget()->objectName(), QString("legendUp1"));
    }

private:
    // A sheet, and an item of it or none.
    void showOn(const char* name, const QString& item) const {
        for (const auto& sheet : document().sheets)
            if (sheet->name == name) workspace().showSheet(sheet->id);
        QVERIFY(workspace().sheet());
        workspace().setBench(Bench::Sheet);
        doc::Id id = 0;
        for (const doc::SheetItem& one : workspace().sheet()->items)
            if (one.name == item.toStdString()) id = one.id;
        QCOMPARE(id == 0, item.isEmpty());
        workspace().selectItem(id);
        QVERIFY(waitUntilIdle(*m_window));
    }
};

QTEST_MAIN(TypingTest)
#include "typing_test.moc"
