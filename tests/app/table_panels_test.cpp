#include <QClipboard>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QScreen>
#include <QTimer>

#include "support/table_window.h"

using namespace ledge;
using namespace ledge::app;

/// The panels of the attribute table: a column's settings, find and replace, the More menu; by keys
/// and mouse, each result looked up in the table itself.
class TablePanelsTest : public QObject, test::TableWindow {
    Q_OBJECT

private:
    ColumnPanel* columnPanel() const { return drawer()->findChild<ColumnPanel*>("columnPanel"); }
    ReplacePanel* replacePanel() const {
        return drawer()->findChild<ReplacePanel*>("replacePanel");
    }
    template <typename T>
    static T* in(const QWidget* panel, const char* name) {
        T* found = panel->findChild<T*>(name);
        if (!found) qFatal("no %s", name);
        return found;
    }
    qsizetype counted(const char* name, const QString& said) const {
        return cells(name).count(said);
    }
    const doc::VectorLayer& croftsLayer() const {
        return *document().layer(layer("Crofts"))->as<doc::VectorLayer>();
    }
    std::optional<doc::ColumnLook> lookOf(const char* field) const {
        for (const doc::ColumnLook& look : croftsLayer().columns)
            if (look.field == field) return look;
        return {};
    }
    QString lastEdit() const {
        return m_session->history().canUndo()
                   ? QString::fromStdString(m_session->history().undoLabel())
                   : QString();
    }
    void undo() const {
        m_session->undo();
        settle();
    }
    // By keys, from a cell of the column.
    ColumnPanel* openColumn(const char* name) const {
        view()->setFocus();
        view()->setCurrentIndex(model().index(0, column(name)));
        QTest::keyClick(view(), Qt::Key_F10, Qt::ShiftModifier);
        if (!QTest::qWaitFor([&] { return columnPanel()->isVisible(); }))
            qFatal("the panel of %s does not open", name);
        return columnPanel();
    }
    void rename(const char* column, const QString& to) const {
        auto* name = in<QLineEdit>(openColumn(column), "columnName");
        QVERIFY(name->hasFocus());
        name->selectAll();
        QTest::keyClicks(name, to);
        QTest::keyClick(name, Qt::Key_Return);
        settle();
    }
    // Chooses from the More menu; false where it is not there or cannot be chosen.
    bool choose(const QString& begin, const QString& inMenu = {}) const {
        auto* more = shown<QToolButton>("tableMore");
        bool isDone = false;
        QTimer::singleShot(0, [&] {
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            for (QAction* action : menu ? menu->actions() : QList<QAction*>()) {
                if (!action->text().startsWith(begin) || !action->isEnabled()) continue;
                if (inMenu.isEmpty()) {
                    menu->close();
                    action->trigger();
                    isDone = true;
                    return;
                }
                for (QAction* inner : action->menu()->actions())
                    if (inner->text() == inMenu) inner->trigger(), isDone = true;
            }
            while (QWidget* open = QApplication::activePopupWidget()) open->close();
        });
        QTest::mouseClick(more, Qt::LeftButton);
        settle();
        return isDone;
    }

private Q_SLOTS:
    void initTestCase() { openWindow(test::coarseDemo(30)); }
    void init() {
        QApplication::setActiveWindow(m_window.get());
        openTable();
    }
    void cleanup() {
        columnPanel()->hide();
        replacePanel()->hide();
        drawer()->hide();
        workspace().pick(crofts(), {});
        undoAll();
        QVERIFY(waitUntilIdle(*m_window));
    }
    void cleanupTestCase() { closeWindow(); }

    void opensAColumnByKeys_data() {
        QTest::addColumn<int>("key");
        QTest::addColumn<int>("held");
        QTest::newRow("the menu key") << int(Qt::Key_Menu) << int(Qt::NoModifier);
        QTest::newRow("Shift+F10") << int(Qt::Key_F10) << int(Qt::ShiftModifier);
    }
    void opensAColumnByKeys() {
        QFETCH(int, key);
        QFETCH(int, held);
        view()->setFocus();
        view()->setCurrentIndex(model().index(3, column("sheep")));
        QTest::keyClick(view(), Qt::Key(key), Qt::KeyboardModifiers(held));
        QTRY_VERIFY(columnPanel()->isVisible());
        QCOMPARE(in<QLineEdit>(columnPanel(), "columnName")->text(), QString("sheep"));
        // It hangs beneath the head, within the screen.
        const QRect there(columnPanel()->mapToGlobal(QPoint(0, 0)), columnPanel()->size());
        const int left =
            view()
                ->head()
                ->mapToGlobal(QPoint(view()->head()->sectionViewportPosition(column("sheep")), 0))
                .x();
        QVERIFY(std::abs(there.left() - left) < 300);
        QVERIFY(columnPanel()->screen()->geometry().contains(there));
        QTest::keyClick(columnPanel(), Qt::Key_Escape);
        QVERIFY(!columnPanel()->isVisible());
        QVERIFY(!m_session->history().canUndo());
    }

    // What is drawn, labelled and shown by a column goes on under its new name.
    void renamesAColumn() {
        const QString first = cell(0, "area_ha");
        QVERIFY(first.endsWith("ha"));
        std::vector<double> sizes;
        for (const QString& size : cells("area_ha"))
            sizes.push_back(size.section(' ', 0, 0).toDouble());
        std::nth_element(sizes.begin(), sizes.begin() + 24, sizes.end());
        const std::string more = " > " + std::to_string(sizes[24]) + " AND use <> 'area_ha'";
        workspace().perform("layer-set", {{"layer", Workspace::target(layer("Crofts"))},
                                          {"member", "filter"},
                                          {"value", "area_ha" + more}});
        settle();
        const int rows = model().rowCount();
        QVERIFY(rows > 3 && rows < 48);
        rename("area_ha", "hectares");
        QTRY_VERIFY(column("hectares") >= 0);
        QCOMPARE(column("area_ha"), -1);
        QCOMPARE(lastEdit(), QString("Rename column area_ha of Crofts"));
        QCOMPARE(croftsLayer().filter, "hectares" + more);
        QCOMPARE(model().rowCount(), rows);
        QVERIFY(cell(0, "hectares").endsWith("ha"));
        QCOMPARE(cell(0, "hectares").section(' ', 0, 0).section('.', 1).size(),
                 first.section(' ', 0, 0).section('.', 1).size());
        // The panel is about the column under its new name.
        in<QCheckBox>(columnPanel(), "columnFrozen")->click();
        QTRY_COMPARE(column("hectares"), 0);
        QVERIFY(lookOf("hectares")->isFrozen && !lookOf("area_ha"));
        m_session->undo();
        undo();
        QVERIFY(column("area_ha") >= 0);
        QCOMPARE(croftsLayer().filter, "area_ha" + more);
    }
    void refusesNames_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("why");
        QTest::newRow("another's") << "sheep"
                                   << "There is a column sheep already";
        QTest::newRow("another's in capitals") << "SHEEP"
                                               << "There is a column SHEEP already";
        QTest::newRow("none") << "  "
                              << "A column needs a name";
    }
    void refusesNames() {
        QFETCH(QString, name);
        QFETCH(QString, why);
        rename("area_ha", name);
        auto* refused = in<QLabel>(columnPanel(), "columnRefused");
        QTRY_VERIFY(refused->isVisible());
        QCOMPARE(refused->text(), why);
        QVERIFY(columnPanel()->rect().contains(
            QRect(refused->mapTo(columnPanel(), QPoint(0, 0)), refused->size())));
        QVERIFY(!m_session->history().canUndo());
        QCOMPARE(in<QLineEdit>(columnPanel(), "columnName")->text(), name);  // as it was typed
        // Other settings are the column's all the same.
        auto* decimals = in<QDoubleSpinBox>(columnPanel(), "columnDecimals");
        decimals->setFocus();
        decimals->setValue(4);
        QTRY_COMPARE(lookOf("area_ha")->numbers.decimals, 4);
        QVERIFY(!lookOf(name.toUtf8().constData()));
        // Typing on takes the trouble away.
        auto* field = in<QLineEdit>(columnPanel(), "columnName");
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, "size");
        QVERIFY(!refused->isVisible());
        QTest::keyClick(field, Qt::Key_Return);
        settle();
        QVERIFY(column("size") >= 0);
    }

    void showsNumbersAsAsked() {
        openColumn("sheep");
        in<QCheckBox>(columnPanel(), "columnPercent")->setFocus();
        QTest::keyClick(in<QCheckBox>(columnPanel(), "columnPercent"), Qt::Key_Space);
        QTRY_VERIFY(lookOf("sheep") && lookOf("sheep")->isPercent);
        QTRY_VERIFY(cells("sheep").filter("%").size() > 20);
        QStringList shown = cells("sheep").filter("%");
        for (const QString& one : shown) QVERIFY2(one.endsWith(" %"), qPrintable(one));
        QTest::keyClick(in<QCheckBox>(columnPanel(), "columnPercent"), Qt::Key_Space);
        QTRY_VERIFY(!lookOf("sheep")->isPercent);
        auto* unit = in<QLineEdit>(columnPanel(), "columnUnit");
        unit->setFocus();
        QTest::keyClicks(unit, "head");
        QTest::keyClick(unit, Qt::Key_Return);
        QTRY_COMPARE(lookOf("sheep")->unit, std::string("head"));
        QTRY_VERIFY(cells("sheep").filter(" head").size() > 20);
        // The same again is no step of undo.
        const auto steps = m_session->history().undoLabel();
        QTest::keyClick(unit, Qt::Key_Return);
        QCOMPARE(m_session->history().undoLabel(), steps);
        // Missing ones stay a dash, without a unit.
        QVERIFY(counted("sheep", QString::fromUtf8("\xE2\x80\x93")) > 0);
        columnPanel()->hide();
        model().setData(model().index(0, column("sheep")), "12345", Qt::EditRole);
        settle();
        QVERIFY2(cell(0, "sheep").startsWith("12"), qPrintable(cell(0, "sheep")));
        const QString grouped = cell(0, "sheep");
        openColumn("sheep");
        for (auto* box : columnPanel()->findChildren<QCheckBox*>())
            if (box->text().contains("thousands")) box->click();
        QTRY_VERIFY(cell(0, "sheep") != grouped);
    }
    void ordersHidesAndDeletes() {
        in<QPushButton>(openColumn("sheep"), "columnDown")->click();
        settle();
        QVERIFY(!columnPanel()->isVisible());
        QVERIFY(cells("sheep")[0].toInt() >= cells("sheep")[9].toInt());
        in<QPushButton>(openColumn("sheep"), "columnUp")->click();
        settle();
        QVERIFY(cells("sheep")[0].toInt() <= cells("sheep")[9].toInt());
        QVERIFY(!m_session->history().canUndo());
        in<QPushButton>(openColumn("use"), "columnHide")->click();
        settle();
        QCOMPARE(column("use"), -1);
        QVERIFY(choose("Hidden columns", "use"));
        QVERIFY(column("use") >= 0);
        QVERIFY(!choose("Hidden columns", "use"));
        in<QPushButton>(openColumn("use"), "columnDelete")->click();
        settle();
        QCOMPARE(column("use"), -1);
        QVERIFY(!choose("Hidden columns", "use"));
        QCOMPARE(lastEdit(), QString("Remove column use of Crofts"));
        undo();
        QVERIFY(column("use") >= 0);
        in<QPushButton>(openColumn("sheep"), "columnCompute")->click();
        auto* formula = drawer()->findChild<FormulaPanel*>("formulaPanel");
        QTRY_VERIFY(formula->isVisible());
        QCOMPARE(in<QComboBox>(formula, "formulaName")->currentText(), QString("sheep"));
        formula->hide();
    }

    void replaces_data() {
        QTest::addColumn<QString>("find");
        QTest::addColumn<QString>("in");
        QTest::addColumn<bool>("isWhole");
        QTest::addColumn<bool>("isCase");
        QTest::addColumn<bool>("isPicked");
        const auto row = [](const char* name, const char* find, const char* in, bool isWhole,
                            bool isCase, bool isPicked) {
            QTest::newRow(name) << find << in << isWhole << isCase << isPicked;
        };
        row("in every column", "ha", "", false, false, false);
        row("in one column", "a", "use", false, false, false);
        row("whole cells", "hay", "", true, false, false);
        row("part of a cell, whole asked", "ha", "use", true, false, false);
        row("capitals that count", "HAY", "use", false, true, false);
        row("capitals that do not", "HAY", "use", false, false, false);
        row("of picked rows", "a", "use", false, false, true);
        row("nothing that is there", "zebra", "", false, false, false);
    }
    // As many cells as the button says, and no others.
    void replaces() {
        QFETCH(QString, find);
        QFETCH(QString, in);
        QFETCH(bool, isWhole);
        QFETCH(bool, isCase);
        QFETCH(bool, isPicked);
        std::vector<FeatureKey> picked;
        for (int i = 0; i < 9; ++i) picked.push_back(model().keyOf(i * 3));
        if (isPicked) workspace().pick(crofts(), picked);
        settle();
        const std::vector<const char*> texts{"croft", "township", "use"};
        int expected = 0;
        std::vector<QStringList> before;
        for (const char* name : texts) {
            before.push_back(cells(name));
            for (int i = 0; i < model().rowCount(); ++i) {
                const auto how = isCase ? Qt::CaseSensitive : Qt::CaseInsensitive;
                const QString now = cell(i, name);
                if (!in.isEmpty() && in != name) continue;
                if (isPicked && !model().isPicked(i)) continue;
                if (isWhole ? now.compare(find, how) == 0 : now.contains(find, how)) ++expected;
            }
        }
        QVERIFY(choose("Find and replace"));
        QTRY_VERIFY(replacePanel()->isVisible());
        auto* field = TablePanelsTest::in<QLineEdit>(replacePanel(), "replaceFind");
        QVERIFY(field->hasFocus());
        field->selectAll();
        QTest::keyClicks(field, find);
        auto* with = TablePanelsTest::in<QLineEdit>(replacePanel(), "replaceWith");
        with->setText("Q");
        const auto set = [&](const char* name, bool isOn) {
            TablePanelsTest::in<QCheckBox>(replacePanel(), name)->setChecked(isOn);
        };
        set("replaceWhole", isWhole);
        set("replaceCase", isCase);
        set("replacePicked", isPicked);
        auto* where = TablePanelsTest::in<QComboBox>(replacePanel(), "replaceField");
        where->setCurrentIndex(in.isEmpty() ? 0 : where->findText(in));
        Q_EMIT where->activated(where->currentIndex());
        auto* button = TablePanelsTest::in<QPushButton>(replacePanel(), "replaceAll");
        const QString said =
            expected == 1 ? QString("Replace 1 cell") : QString("Replace %1 cells").arg(expected);
        QTRY_COMPARE(button->text(), said);
        QTRY_COMPARE(button->isEnabled(), expected > 0);
        with->setFocus();
        QTest::keyClick(with, Qt::Key_Return);
        settle();
        int changed = 0;
        for (std::size_t k = 0; k < texts.size(); ++k) {
            const QStringList now = cells(texts[k]);
            for (int i = 0; i < now.size(); ++i) {
                if (now[i] == before[k][i]) continue;
                ++changed;
                const auto how = isCase ? Qt::CaseSensitive : Qt::CaseInsensitive;
                QString should = before[k][i];
                QCOMPARE(now[i], should.replace(find, "Q", how));
            }
        }
        QCOMPARE(changed, expected);
        QCOMPARE(m_session->history().canUndo(), expected > 0);
        if (expected == 0) return;
        undo();
        for (std::size_t k = 0; k < texts.size(); ++k) QCOMPARE(cells(texts[k]), before[k]);
    }
    void replacesWhatWasTypedLast_data() {
        QTest::addColumn<int>("pause");
        for (const int pause : {0, 100, 140, 150, 151, 152, 160})
            QTest::addRow("Enter after %d ms", pause) << pause;
    }
    // Whenever Enter comes, before, while or after it is counted: never what was typed before.
    void replacesWhatWasTypedLast() {
        QFETCH(int, pause);
        QVERIFY(choose("Find and replace"));
        QTRY_VERIFY(replacePanel()->isVisible());
        for (const char* name : {"replaceWhole", "replaceCase", "replacePicked"})
            in<QCheckBox>(replacePanel(), name)->setChecked(false);
        auto* where = in<QComboBox>(replacePanel(), "replaceField");
        where->setCurrentIndex(where->findText("use"));
        Q_EMIT where->activated(where->currentIndex());
        auto* find = in<QLineEdit>(replacePanel(), "replaceFind");
        auto* with = in<QLineEdit>(replacePanel(), "replaceWith");
        const QStringList before = cells("use");
        find->setText("a");
        with->setText("Q");
        settle();
        find->setText("hay");
        QTest::qWait(pause);
        QTest::keyClick(with, Qt::Key_Return);
        settle();
        QStringList should = before;
        should.replaceInStrings("hay", "Q", Qt::CaseInsensitive);
        QVERIFY(should != before);
        QCOMPARE(cells("use"), should);
        undo();
        QVERIFY(!m_session->history().canUndo());
    }
    // Numbers that would be none stay, and that is told.
    void keepsNumbersNumbers() {
        QVERIFY(choose("Find and replace"));
        QTRY_VERIFY(replacePanel()->isVisible());
        in<QCheckBox>(replacePanel(), "replaceWhole")->setChecked(false);
        in<QCheckBox>(replacePanel(), "replacePicked")->setChecked(false);
        auto* where = in<QComboBox>(replacePanel(), "replaceField");
        where->setCurrentIndex(where->findText("sheep"));
        Q_EMIT where->activated(where->currentIndex());
        in<QLineEdit>(replacePanel(), "replaceFind")->setText("1");
        in<QLineEdit>(replacePanel(), "replaceWith")->setText("one");
        auto* button = in<QPushButton>(replacePanel(), "replaceAll");
        QTRY_COMPARE(button->text(), QString("Replace 0 cells"));
        QVERIFY(!button->isEnabled());
        const auto* told = in<QLabel>(replacePanel(), "replaceRefused");
        QTRY_VERIFY(told->isVisible());
        QVERIFY2(told->text().contains("stay"), qPrintable(told->text()));
        in<QLineEdit>(replacePanel(), "replaceWith")->setText("2");
        QTRY_VERIFY(button->isEnabled());
        QTRY_VERIFY(!told->isVisible());
    }

    void picksFromTheMenu() {
        QVERIFY(!choose("Pick nothing"));
        QVERIFY(choose("Pick all rows shown"));
        QCOMPARE(workspace().picked(crofts()).size(), std::size_t(48));
        QVERIFY(choose("Invert what is picked"));
        QVERIFY(workspace().picked(crofts()).empty());
        workspace().pick(crofts(), {model().keyOf(1), model().keyOf(4)});
        QVERIFY(choose("Invert what is picked"));
        QCOMPARE(workspace().picked(crofts()).size(), std::size_t(46));
        QVERIFY(choose("Pick nothing"));
        QVERIFY(workspace().picked(crofts()).empty());
        QVERIFY(!m_session->history().canUndo());
        // Of a table that is filtered, what is shown.
        QTest::keyClicks(drawer()->find(), "hay");
        QTRY_VERIFY(!drawer()->isBusy() && model().rowCount() < 48);
        const int shownRows = model().rowCount();
        QVERIFY(choose("Pick all rows shown"));
        QCOMPARE(workspace().picked(crofts()).size(), std::size_t(shownRows));
        drawer()->find()->clear();
        QTRY_COMPARE(model().rowCount(), 48);
    }
    void addsAndDeletesRows() {
        QVERIFY(choose("Add a row without shape"));
        QTRY_COMPARE(model().rowCount(), 49);
        // The new row is the current one, to be filled.
        QTRY_COMPARE(view()->currentIndex().row(), 48);
        QCOMPARE(cell(48, "use"), QString::fromUtf8("\xE2\x80\x93"));
        QVERIFY(!choose("Delete 0 picked rows"));
        workspace().pick(crofts(), {model().keyOf(2), model().keyOf(48)});
        const QString third = cell(3, "croft");
        QVERIFY(choose("Delete 2 picked rows"));
        QTRY_COMPARE(model().rowCount(), 47);
        QCOMPARE(cell(2, "croft"), third);
        QVERIFY(workspace().picked(crofts()).empty());
        undo();
        QCOMPARE(model().rowCount(), 49);
        QVERIFY(choose("Drop all edits since it was saved"));
        QTRY_COMPARE(model().rowCount(), 48);
        undo();
        QCOMPARE(model().rowCount(), 49);
    }
    // One value fills what is selected; too many cells and values that do not fit change nothing.
    void pastesOneValue() {
        QApplication::clipboard()->setText("arable\n");
        view()->setCurrentIndex(model().index(4, column("use")));
        view()->selectionModel()->select(
            QItemSelection(model().index(4, column("use")), model().index(9, column("use"))),
            QItemSelectionModel::ClearAndSelect);
        QTest::keyClick(view(), Qt::Key_V, Qt::ControlModifier);
        settle();
        for (int row = 4; row <= 9; ++row) QCOMPARE(cell(row, "use"), QString("arable"));
        QCOMPARE(lastEdit(), QString("Cells in Crofts"));
        undo();
        QVERIFY(!m_session->history().canUndo());
        QApplication::clipboard()->setText("two\twords\n3\tfour");
        view()->setCurrentIndex(model().index(0, column("use")));
        QTest::keyClick(view(), Qt::Key_V, Qt::ControlModifier);
        settle();
        QVERIFY(!m_session->history().canUndo());
        const QString told = m_window->findChild<QLabel*>("where")->text();
        QVERIFY2(told.startsWith("Row 1, sheep"), qPrintable(told));
    }
};

QTEST_MAIN(TablePanelsTest)
#include "table_panels_test.moc"
