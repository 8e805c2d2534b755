#include <QLineEdit>
#include <QPlainTextEdit>
#include <QProcess>
#include <QRegularExpression>

#include "app/benches/sheet_bench.h"
#include "carto/sheet/series_pages.h"
#include "carto/sheet/table_painter.h"
#include "core/base/numbers.h"
#include "document/edits/shape_corners.h"
#include "support/coarse_demo.h"
#include "support/sheet_window.h"

using namespace ledge;
using namespace ledge::app;

/// What hands do to single things of a page: turn them, move their corners, place the labels of a
/// panel, order a legend.
class SheetHandsTest : public QObject, test::SheetWindow {
    Q_OBJECT

private:
    void addShape(const char* form, const std::string& points) {
        QVERIFY(workspace().performOnSheet(
            "item-add",
            {{"kind", "shape"},
             {"name", "Mark"},
             {"rect", "60,60,40,30"},
             {"with", std::string("{\"form\": \"") + form + "\", \"points\": " + points + "}"}}));
        QVERIFY(waitUntilIdle(*m_window));
        workspace().selectItem(item("Mark").id);
    }
    QPoint corner(std::size_t i) const {
        const Point p = doc::cornersOf(item("Mark"))[i];
        return at(p.x, p.y);
    }
    // What a pixel of the canvas is on the page.
    double pixelMm() const { return 100.0 / (at(100, 0) - at(0, 0)).x(); }
    double offCorner(std::size_t i, double x, double y) const {
        return distance(doc::cornersOf(item("Mark"))[i], {x, y});
    }

private slots:
    void initTestCase() { openWindow(test::coarseDemo()); }
    void cleanup() {
        workspace().showMap();
        undoAll();
    }
    void cleanupTestCase() { closeWindow(); }

    void turnsAnItemByItsGrip() {
        show("Overview");
        click("Title");
        const doc::PageRect rect = item("Title").rect;
        const QPoint grip = canvas()->turnGrip(item("Title")).toPoint();
        const QPoint middle = middleOf("Title");
        // A quarter to the right, and a little more: in steps of five degrees.
        const int reach = std::max(60, middle.y() - grip.y());
        drag(grip, middle + QPoint(reach, reach / 30), Qt::NoModifier);
        QCOMPARE(item("Title").turn, 90.0);
        QVERIFY(item("Title").rect == rect);
        // The grip went along, and is taken again; with Alt it goes freely.
        const QPoint turned = canvas()->turnGrip(item("Title")).toPoint();
        QVERIFY(turned.x() > middle.x());
        drag(turned, middle + QPoint(reach, reach), Qt::AltModifier);
        QVERIFY2(std::abs(item("Title").turn - 135) < 2,
                 qPrintable(QString::number(item("Title").turn)));
        m_session->undo();
        QCOMPARE(item("Title").turn, 90.0);
        m_session->undo();
        QCOMPARE(item("Title").turn, 0.0);
    }

    // Corner by corner, by clicks, then by keys; one edit each, and given up without a trace.
    void drawsShapesFromNothing() {
        show("Overview");
        workspace().setBench(Bench::Sheet);
        const auto items = [&] { return workspace().sheet()->items.size(); };
        const auto before = items();
        const auto undo = m_session->history().undoCount();
        addByMenu({"Shape", "Draw a polygon"});
        for (const QPoint corner : {at(60, 60), at(100, 60), at(100, 90)}) {
            QTest::mouseMove(canvas(), corner);
            QTest::mouseClick(canvas(), Qt::LeftButton, {}, corner);
        }
        QCOMPARE(items(), before);
        QTest::mouseMove(canvas(), at(70, 95));
        QTest::mouseClick(canvas(), Qt::LeftButton, {}, at(70, 95));
        QTest::keyClick(canvas(), Qt::Key_Backspace);
        QTest::mouseMove(canvas(), at(70, 85));
        QTest::mouseClick(canvas(), Qt::LeftButton, {}, at(70, 85));
        QTest::mouseDClick(canvas(), Qt::LeftButton, {}, at(70, 85));
        QCOMPARE(items(), before + 1);
        QCOMPARE(m_session->history().undoCount(), undo + 1);
        const doc::SheetItem drawn = *workspace().item();
        const auto corners = doc::cornersOf(drawn);
        QCOMPARE(corners.size(), std::size_t{4});
        const double near = pixelMm() + 0.3;
        QVERIFY(distance(corners[0], {60, 60}) < near && distance(corners[3], {70, 85}) < near);
        // A line by keys alone, from the middle of the page.
        addByMenu({"Shape", "Draw a line"});
        const doc::Sheet& page = *workspace().sheet();
        QTest::keyClick(canvas(), Qt::Key_Return, Qt::ControlModifier);
        QCOMPARE(items(), before + 1);  // of no points there is no line
        QTest::keyClick(canvas(), Qt::Key_Return);
        for (int i = 0; i < 3; ++i) QTest::keyClick(canvas(), Qt::Key_Right);
        QTest::keyClick(canvas(), Qt::Key_Return);
        QTest::keyClick(canvas(), Qt::Key_Down, Qt::ShiftModifier);
        QTest::keyClick(canvas(), Qt::Key_Return);
        const Point middle{page.widthMm / 2, page.heightMm / 2};
        QTest::keyClick(canvas(), Qt::Key_Return, Qt::ControlModifier);
        QCOMPARE(items(), before + 2);
        const auto line = doc::cornersOf(*workspace().item());
        QCOMPARE(line.size(), std::size_t{3});
        QVERIFY(distance(line[0], middle) < 0.06);
        QVERIFY(distance(line[2], middle + Point{3, 0.1}) < 0.06);
        addByMenu({"Shape", "Draw a polygon"});
        QTest::mouseClick(canvas(), Qt::LeftButton, {}, at(50, 50));
        QTest::keyClick(canvas(), Qt::Key_Escape);
        QTest::mouseClick(canvas(), Qt::LeftButton, {}, middleOf("Title"));
        QCOMPARE(workspace().item()->name, std::string("Title"));
        QCOMPARE(items(), before + 2);
    }

    // The side across from the handle stays where it is, whatever the turn.
    void resizesWhatIsTurned() {
        show("Overview");
        addShape("rectangle", "[]");
        QVERIFY(workspace().setItemMember("turn", "90"));
        const doc::PageRect before = item("Mark").rect;  // 60 to 100, 60 to 90, about (80, 75)
        // Turned, its right side is the lower one: at (80, 95) on the page.
        drag(at(80, 95), at(80, 105));
        const doc::PageRect& now = item("Mark").rect;
        QVERIFY2(std::abs(now.width - before.width - 10) < 0.5 + pixelMm(),
                 qPrintable(QString::number(now.width)));
        QVERIFY(std::abs(now.height - before.height) < 0.1);
        // Its upper side on the page was at 55.
        QVERIFY(std::abs(now.top + now.height / 2 - now.width / 2 - 55) < 0.2);
        QVERIFY(std::abs(now.left + now.width / 2 - 80) < 0.2);
    }

    void movesCornersByMouse() {
        show("Overview");
        addShape("polygon", "[[0,0],[1,0],[1,1],[0,1]]");
        QTest::mouseDClick(canvas(), Qt::LeftButton, {}, middleOf("Mark"));
        drag(corner(0), at(50, 45), Qt::NoModifier);
        QVERIFY(offCorner(0, 50, 45) < 0.3 + pixelMm());
        QVERIFY(offCorner(2, 100, 90) < 0.1);
        QVERIFY(item("Mark").rect.left < 51.5 && item("Mark").rect.top < 46.5);
        // Out of the middle of a side comes a new one.
        drag((corner(1) + corner(2)) / 2, at(120, 75), Qt::NoModifier);
        QCOMPARE(doc::cornersOf(item("Mark")).size(), std::size_t{5});
        QVERIFY(offCorner(2, 120, 75) < 0.3 + pixelMm());
        m_session->undo();  // the drag, and that there is one
        m_session->undo();
        QCOMPARE(doc::cornersOf(item("Mark")).size(), std::size_t{4});
        m_session->undo();
        QVERIFY(offCorner(0, 60, 60) < 0.1);
        // Clicked elsewhere it is an item again.
        QTest::mouseClick(canvas(), Qt::LeftButton, {}, at(80, 75));
        drag(at(80, 75), at(85, 75));
        QVERIFY(std::abs(item("Mark").rect.left - 65) < 0.3 + pixelMm());
    }

    void movesCornersByKeys() {
        show("Overview");
        addShape("line", "[[0,0],[1,1]]");
        canvas()->setFocus();
        press(Qt::Key_Return);
        press(Qt::Key_Tab);
        press(Qt::Key_Right);
        press(Qt::Key_Down, Qt::ShiftModifier);
        QVERIFY2(offCorner(1, 101, 90.1) < 1e-3,
                 qPrintable(QString::number(offCorner(1, 101, 90.1))));
        press(Qt::Key_Backtab);
        press(Qt::Key_Insert);
        QCOMPARE(doc::cornersOf(item("Mark")).size(), std::size_t{3});
        press(Qt::Key_Up);
        QVERIFY(offCorner(1, 80.5, 74.1) < 0.1);
        press(Qt::Key_Delete);
        QCOMPARE(doc::cornersOf(item("Mark")).size(), std::size_t{2});
        // Two are the least, and that is said.
        press(Qt::Key_Delete);
        QCOMPARE(doc::cornersOf(item("Mark")).size(), std::size_t{2});
        QVERIFY(shown<QLabel>("where")->text().contains("two points"));
        press(Qt::Key_Escape);
        const double left = item("Mark").rect.left;
        press(Qt::Key_Right);  // the item again
        QCOMPARE(item("Mark").rect.left, left + 1);
    }

    // Labels of a panel are placed in it; on the map, at another scale, they stand as before.
    void placesLabelsInAPanel() {
        workspace().showMap();
        QVERIFY(waitUntilIdle(*m_window));
        show("Overview");
        click("Main map");
        press(Qt::Key_Return);
        QVERIFY(workspace().movesContent());
        QTest::mouseClick(shown<QPushButton>("placesLabels"), Qt::LeftButton);
        QVERIFY(waitUntilIdle(*m_window));
        canvas()->setFocus();
        LabelTool& tool = canvas()->labelling();
        press(Qt::Key_PageDown);
        QVERIFY(tool.chosen());
        const carto::MapLabel label = *tool.chosen();
        const doc::Id panelId = item("Main map").id;
        const auto pins = [&] {
            return document()
                .layer(label.of.layer)
                ->as<doc::VectorLayer>()
                ->labels[static_cast<std::size_t>(label.of.set)]
                .pins;
        };
        const std::size_t before = pins().size();
        const doc::MapPanel looked = panel("Main map");
        const QPoint from = canvas()->fromPanel(panelId, label.middle).toPoint();
        drag(from, from + QPoint(24, 16), Qt::NoModifier);
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(panel("Main map") == looked);  // the map inside did not move
        QCOMPARE(pins().size(), before + 1);
        const double scale = pins().back().scale;
        QVERIFY(tool.chosen() && tool.chosen()->isPinned);
        const QPoint now = canvas()->fromPanel(panelId, tool.chosen()->middle).toPoint();
        QVERIFY2((now - from - QPoint(24, 16)).manhattanLength() < 5,
                 qPrintable(QString("%1 %2").arg(now.x() - from.x()).arg(now.y() - from.y())));
        // By keys, too.
        press(Qt::Key_Right);
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(canvas()->fromPanel(panelId, tool.chosen()->middle).x() > now.x());
        // At a scale far from it the feature has a place of its own.
        auto words = labelWords(label.of);
        words.insert({{"right-mm", "3"}, {"down-mm", "3"}, {"scale", exactNumber(scale * 5)}});
        QVERIFY(workspace().perform("label-pin", words));
        QCOMPARE(pins().size(), before + 2);
        QVERIFY(waitUntilIdle(*m_window));
        press(Qt::Key_Backspace);  // finds its own place here, and keeps the one there
        QCOMPARE(pins().size(), before + 1);
        QCOMPARE(pins().back().scale, scale * 5);
        QVERIFY(waitUntilIdle(*m_window));
        // Escape lets the label go first, then the map.
        press(Qt::Key_Escape);
        QVERIFY(!tool.chosen() && workspace().movesContent());
        press(Qt::Key_Escape);
        QVERIFY(workspace().tool() == Tool::Move && workspace().movesContent());
        press(Qt::Key_Escape);
        QVERIFY(!workspace().movesContent());
    }

    // A panel that keeps its layers keeps their labels; nothing of the map is changed there.
    void leavesLabelsOfKeptLayers() {
        show("Overview");
        click("Main map");
        const doc::Id id = item("Main map").id;
        QVERIFY(workspace().performOnItem("panel-keep", {{"keep", "yes"}}));
        QVERIFY(waitUntilIdle(*m_window));
        press(Qt::Key_Return);
        workspace().setTool(Tool::Label);
        const auto before = m_session->snapshot();
        QTest::mouseClick(canvas(), Qt::LeftButton, {}, middleOf("Main map"));
        QVERIFY(shown<QLabel>("where")->text().contains("keeps its layers"));
        press(Qt::Key_PageDown);
        QVERIFY(!canvas()->labelling().chosen());
        press(Qt::Key_Delete);
        QVERIFY(*m_session->snapshot() == *before);
        QVERIFY(sheet().item(id));
    }

    // Each page of a series on paper of its size; of a range only those.
    void prints() {
        show("Districts");
        SheetBench& bench = *m_window->sheetBench();
        const auto printed = [&](const char* name, int from, int to) {
            QPrinter printer(QPrinter::HighResolution);
            printer.setOutputFormat(QPrinter::PdfFormat);
            printer.setResolution(150);
            const QString file = m_dir.filePath(name);
            printer.setOutputFileName(file);
            OutputPanel::setPaper(printer, sheet());
            if (from > 0) {
                printer.setPrintRange(QPrinter::PageRange);
                printer.setFromTo(from, to);
            }
            bench.output().printOn(printer);
            QProcess process;
            process.start("pdfinfo", {file});
            process.waitForFinished();
            return QString::fromUtf8(process.readAllStandardOutput());
        };
        const QString all = printed("all.pdf", 0, 0);
        const auto pages = carto::SeriesPages::of(document(), sheet(), session::SourceCache());
        QVERIFY2(all.contains(QRegularExpression(QString("Pages:\\s+%1\n").arg(pages->size()))),
                 qPrintable(all));
        const auto size = QRegularExpression("Page size:\\s+([\\d.]+) x ([\\d.]+) pts").match(all);
        QVERIFY(std::abs(size.captured(1).toDouble() * 25.4 / 72 - sheet().widthMm) < 0.5);
        QVERIFY(std::abs(size.captured(2).toDouble() * 25.4 / 72 - sheet().heightMm) < 0.5);
        const QString two = printed("two.pdf", 2, 3);
        QVERIFY2(two.contains(QRegularExpression("Pages:\\s+2\n")), qPrintable(two));
    }

    // A panel alone, as a picture that knows where it lies.
    void exportsAPanelAlone() {
        show("Overview");
        QVERIFY(shown<QPushButton>("exportSheet"));
        QVERIFY(!shown<QPushButton>("exportAlone"));
        click("Main map");
        QVERIFY(shown<QPushButton>("exportAlone"));
        const doc::PageRect rect = item("Main map").rect;
        const QString file = m_dir.filePath("alone.png");
        m_window->sheetBench()->output().exportTo(file, 60, item("Main map").id);
        m_session->jobs().wait();
        const QImage image(file);
        QVERIFY(std::abs(image.width() - rect.width / 25.4 * 60) <= 1);
        QVERIFY(QFile::exists(m_dir.filePath("alone.pgw")) &&
                QFile::exists(m_dir.filePath("alone.prj")));
    }

    // What a person may allow a PDF to lose makes it smaller.
    void makesSmallerPdfs() {
        show("Overview");
        const auto bytes = [&](const char* name) {
            const QString file = m_dir.filePath(name);
            m_window->sheetBench()->output().exportTo(file, 150);
            m_session->jobs().wait();
            return QFileInfo(file).size();
        };
        const qint64 whole = bytes("whole.pdf");
        toggle("jpegInPdf");
        const qint64 small = bytes("small.pdf");
        toggle("jpegInPdf");
        QVERIFY2(small > 0 && small * 20 < whole * 19,
                 qPrintable(QString("%1 of %2").arg(small).arg(whole)));
    }

    // Columns of a table, one a line, with names of their own.
    void choosesColumns() {
        show("Wall map");
        workspace().selectItem(item("Rain table").id);
        QTRY_VERIFY(shown<QPlainTextEdit>("tableFields"));
        auto* columns = shown<QPlainTextEdit>("tableFields");
        QCOMPARE(columns->toPlainText(),
                 QString("Gauge: gauge\nHeight, m: height_m\nRain, mm: year_mm"));
        columns->setFocus();
        columns->selectAll();
        QTest::keyClicks(columns, "gauge");
        QTest::keyClick(columns, Qt::Key_Return);
        QTest::keyClicks(columns, "In inches: year_mm / 25.4");
        QCOMPARE(item("Rain table").as<doc::TableItem>()->fields,
                 (std::vector<std::string>{"gauge", "In inches: year_mm / 25.4"}));
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(columns->hasFocus());
        const auto table = carto::tableText(document(), *item("Rain table").as<doc::TableItem>(),
                                            session::SourceCache());
        QVERIFY(table.has_value());
        QCOMPARE(table->heads, (std::vector<QString>{"gauge", "In inches"}));
    }

    void namesTheAuthor() {
        show("Overview");
        workspace().selectItem(0);
        type<QLineEdit>("projectAuthor", "R. Hamar");
        QCOMPARE(document().author, std::string("R. Hamar"));
        m_session->undo();
        QVERIFY(document().author.empty());
    }

    void keepsGroupsTogetherInALegend() {
        show("Overview");
        const doc::Id key = item("Key").id;
        workspace().selectItem(key);
        const auto rows = [&] {
            QStringList out;
            for (int i = 0; shown<QLineEdit>(qPrintable(QString("legendName%1").arg(i))); ++i)
                out << shown<QLineEdit>(qPrintable(QString("legendName%1").arg(i)))
                           ->placeholderText();
            return out;
        };
        QTRY_VERIFY(!rows().isEmpty());
        const QStringList plain = rows();
        toggle("legendGroups");
        QVERIFY(item("Key").as<doc::LegendItem>()->hasGroups);
        QTRY_VERIFY(rows().size() > plain.size());
        bool hasGroup = false;
        for (const doc::LayerPtr& layer : document().layers)
            hasGroup = hasGroup ||
                       (layer->isGroup() && rows().contains(QString::fromStdString(layer->name)));
        QVERIFY(hasGroup);
        // Called otherwise here, then everywhere.
        auto* name = shown<QLineEdit>("legendName0");
        const QString was = name->placeholderText();
        name->setFocus();
        QTest::keyClicks(name, "Landmarks");
        QTest::keyClick(name, Qt::Key_Return);
        QVERIFY(layer(qPrintable(was)) != 0);
        QTRY_VERIFY(shown<QPushButton>("legendEverywhere0"));
        QTest::mouseClick(shown<QPushButton>("legendEverywhere0"), Qt::LeftButton);
        QVERIFY(layer("Landmarks") != 0 && layer(qPrintable(was)) == 0);
        QVERIFY(!item("Key").as<doc::LegendItem>()->names.contains(layer("Landmarks")));
        QTRY_COMPARE(rows().value(0), QString("Landmarks"));
    }
};

QTEST_MAIN(SheetHandsTest)
#include "sheet_hands_test.moc"
