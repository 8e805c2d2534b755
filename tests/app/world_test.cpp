#include <QCheckBox>
#include <QLabel>
#include <QMouseEvent>
#include <QPushButton>

#include "app/benches/derive_panel.h"
#include "carto/globe_outline.h"
#include "core/globe/around.h"
#include "core/globe/raster_extent.h"
#include "demo/world.h"
#include "document/map_crs.h"
#include "session/derive/lineage.h"
#include "session/measurement.h"
#include "support/test_window.h"

using namespace ledge;
using namespace ledge::app;

/// The whole earth in the window: its edge, its sea, going around it and turning it.
class WorldTest : public QObject, test::TestWindow {
    Q_OBJECT

private:
    QImage picture() const {
        waitUntilIdle(*m_window);
        return m_window->map()->grab().toImage();
    }
    carto::MapFrame frame() const { return m_window->map()->frame(); }
    QPoint pixelOf(Point lonLat) const {
        const auto way = crs::Transformation::between(*crs::crsFromCode(4326), m_session->mapCrs());
        const Point at = frame().toPixels()(way->forward(lonLat));
        return (QPointF(at.x, at.y) / m_window->devicePixelRatioF()).toPoint();
    }
    static bool isSea(QRgb c) {
        return std::abs(qRed(c) - 0xDC) < 10 && std::abs(qGreen(c) - 0xE9) < 10 &&
               std::abs(qBlue(c) - 0xEE) < 10;
    }
    void useCrs(const char* crs) {
        QVERIFY(workspace().perform("map-crs", {{"crs", crs}}));
        QVERIFY(waitUntilIdle(*m_window));
        Q_EMIT workspace().fitAsked(0);
        QTest::qWait(300);  // extents are read beside
        QVERIFY(waitUntilIdle(*m_window));
    }

private slots:
    void initTestCase() {
        const std::filesystem::path folder = m_dir.path().toStdString();
        QVERIFY(demo::writeWorld(folder, {}).has_value());
        openWindow(folder / "world.ledge");
    }
    void cleanup() { undoAll(); }
    void cleanupTestCase() { closeWindow(); }

    void fitsTheGlobe_data() {
        QTest::addColumn<QString>("crs");
        for (const char* crs : {"world:equal-earth", "world:robinson@150", "world:mercator",
                                "world:homolosine", "world:azimuthal-equal-area@0,90", "EPSG:4326"})
            QTest::newRow(crs) << crs;
    }
    void fitsTheGlobe() {
        QFETCH(QString, crs);
        useCrs(crs.toUtf8().constData());
        QVERIFY(m_window->map()->report().problems.empty());
        const Box globe = globe::wholeMap(m_session->mapCrs());
        const Box seen = frame().extent();
        QVERIFY(seen.contains({globe.xMin, globe.yMin}) && seen.contains({globe.xMax, globe.yMax}));
        QVERIFY2(globe.width() > 0.8 * seen.width() || globe.height() > 0.8 * seen.height(),
                 qPrintable(QString("%1 of %2, %3 of %4")
                                .arg(globe.width())
                                .arg(seen.width())
                                .arg(globe.height())
                                .arg(seen.height())));
        // Inside is sea or land, outside nothing of the map.
        const QImage image = picture();
        const carto::GlobeOutline outline(frame());
        QVERIFY(!outline.isBeyond());
        const QPainterPath area = outline.area();
        int sea = 0, outside = 0, drawn = 0;
        const QRgb back = image.pixel(3, 3);
        for (int y = 70; y < image.height() - 120; y += 9)  // below the tools
            for (int x = 4; x < image.width() - 4; x += 9) {
                if (area.contains(QRectF(x - 6, y - 6, 12, 12))) sea += isSea(image.pixel(x, y));
                if (area.intersects(QRectF(x - 12, y - 12, 24, 24))) continue;
                ++outside;
                drawn += image.pixel(x, y) != back;  // numbers along the edge
            }
        QVERIFY2(sea > 200, qPrintable(QString::number(sea)));
        QVERIFY2(outside > 50 || crs == "EPSG:4326", qPrintable(QString::number(outside)));
        QVERIFY2(drawn <= outside / 6, qPrintable(QString("%1 of %2").arg(drawn).arg(outside)));
    }

    void fillsTheGlobeWhereAsked() {
        useCrs("world:robinson");
        workspace().selectLayer(workspace().layerNamed("Globe"));
        workspace().setBench(Bench::Style);
        const QPoint open = pixelOf({-137, -8});
        QVERIFY(isSea(picture().pixel(open)));
        auto* sea = shown<QCheckBox>("gridSea");
        QVERIFY(sea && sea->isChecked());
        sea->setFocus();
        QTest::keyClick(sea, Qt::Key_Space);
        QVERIFY(!isSea(picture().pixel(open)));
        auto* outline = shown<QCheckBox>("gridOutline");
        QVERIFY(outline && outline->isChecked());
        const QImage with = picture();
        QTest::keyClick(outline, Qt::Key_Space);
        QVERIFY(picture() != with);
        m_session->undo();
        m_session->undo();
        QVERIFY(isSea(picture().pixel(open)));
    }

    // A relief of the whole earth ends in a smooth edge, not in steps.
    void drawsASmoothEdge() {
        useCrs("world:robinson");
        QVERIFY(workspace().perform("layer-visible", {{"layer", "Relief"}, {"visible", "yes"}}));
        for (const char* name : {"Globe", "Lands"})
            QVERIFY(workspace().perform("layer-visible", {{"layer", name}, {"visible", "no"}}));
        const QImage image = picture();
        // Along a row the last pixels go over from the relief to nothing by a share of both.
        const QRgb back = image.pixel(3, 3);
        int between = 0, rows = 0;
        for (int y = image.height() / 3; y < image.height() * 2 / 3; y += 3) {
            int x = 0;
            while (x < image.width() && image.pixel(x, y) == back) ++x;
            if (x == 0 || x >= image.width() - 2) continue;
            ++rows;
            const QRgb edge = image.pixel(x, y), inside = image.pixel(x + 2, y);
            between +=
                std::abs(qRed(edge) - qRed(inside)) + std::abs(qBlue(edge) - qBlue(inside)) > 4;
        }
        QVERIFY(rows > 50);
        QVERIFY2(between > rows / 2, qPrintable(QString("%1 of %2").arg(between).arg(rows)));
    }

    void turnsTheGlobeFromTheChip() {
        useCrs("world:robinson");
        const auto way = crs::Transformation::between(*crs::crsFromCode(4326), m_session->mapCrs());
        doc::MapView view = workspace().view();
        view.centre = way->forward(Point{100, 0});
        workspace().setView(view);
        QVERIFY(waitUntilIdle(*m_window));
        auto* chip = shown<QPushButton>("crsChip");
        QVERIFY(chip);
        QTest::mouseClick(chip, Qt::LeftButton);
        QTRY_VERIFY(shown<QPushButton>("centreHere"));
        auto* here = shown<QPushButton>("centreHere");
        here->setFocus();
        QTest::keyClick(here, Qt::Key_Space);
        QTRY_COMPARE(document().mapCrs, std::string("world:robinson@100"));
        // It goes on looking at the same place, which is the middle now.
        QVERIFY(std::abs(workspace().view().centre.x) < 20000);
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY(m_window->map()->report().problems.empty());
    }

    // Over the edge of a cylinder one goes on around: nothing is missing on either side.
    void goesAroundACylinder_data() {
        QTest::addColumn<QString>("crs");
        for (const char* crs : {"EPSG:3857", "world:plate-carree", "EPSG:4326"})
            QTest::newRow(crs) << crs;
    }
    void goesAroundACylinder() {
        QFETCH(QString, crs);
        useCrs(crs.toUtf8().constData());
        const double turn = globe::turnWidth(m_session->mapCrs());
        QVERIFY(turn > 0);
        doc::MapView view = workspace().view();
        view.scale /= 4;
        view.centre = {turn / 2 - frame().unitsPerPx() * 20, 0};
        workspace().setView(view);
        const QImage image = picture();
        // The land on the far side of the meridian is there, as is the sea beside it.
        int sea = 0, land = 0;
        for (int x = image.width() / 2 + 40; x < image.width() - 10; x += 4)
            for (int y = 20; y < image.height() - 80; y += 8) {
                const QRgb c = image.pixel(x, y);
                sea += isSea(c);
                land += qGreen(c) > qBlue(c) + 12;
            }
        QVERIFY2(sea > 500 && land > 200, qPrintable(QString("%1 %2").arg(sea).arg(land)));
        // Nor does a line of the sea show through the land where two turns meet.
        const int tear = image.width() / 2 + 20;
        std::vector<int> rows;
        int hairs = 0;
        for (int y = 20; y < image.height() - 80; ++y) {
            const QRgb west = image.pixel(tear - 3, y), east = image.pixel(tear + 3, y);
            if (west != east || isSea(west) || qGreen(west) <= qBlue(west) + 12) continue;
            rows.push_back(y);
            for (int x = tear - 2; x <= tear + 2; ++x) hairs += image.pixel(x, y) != west;
        }
        QVERIFY2(rows.size() > 50, qPrintable(QString::number(rows.size())));
        QVERIFY2(hairs < 20, qPrintable(QString("%1 in %2 rows").arg(hairs).arg(rows.size())));
        // The outline of a land that was clicked goes on around, and not along the meeting.
        workspace().setTool(Tool::Probe);
        m_window->map()->probeAt(QPoint(tear - 10, rows[rows.size() / 2]));
        QTest::qWait(400);
        const QImage lit = picture();
        int west = 0, along = 0, east = 0;
        for (int y = 20; y < lit.height() - 80; ++y)
            for (int x = 0; x < lit.width() - 4; ++x) {
                const QRgb c = lit.pixel(x, y);
                if (std::abs(qRed(c) - 0xD9) > 6 || std::abs(qBlue(c) - 0x2B) > 6) continue;
                (x < tear - 4 ? west : x > tear + 4 ? east : along) += 1;
            }
        QVERIFY2(west > 100 && east > 100 && along < 40,
                 qPrintable(QString("%1 %2 %3").arg(west).arg(along).arg(east)));
        // Dragged on, the map looks from the other side of itself.
        workspace().setTool(Tool::Move);
        auto* map = m_window->map();
        const QPoint from(map->width() / 2 + 150, map->height() / 2), by(-200, 0);
        QTest::mousePress(map, Qt::LeftButton, Qt::NoModifier, from);
        for (int i = 1; i <= 8; ++i) {
            QMouseEvent move(QEvent::MouseMove, from + by * i / 8,
                             map->mapToGlobal(from + by * i / 8), Qt::NoButton, Qt::LeftButton,
                             Qt::NoModifier);
            QApplication::sendEvent(map, &move);
        }
        QTest::mouseRelease(map, Qt::LeftButton, Qt::NoModifier, from + by);
        QVERIFY(workspace().view().centre.x < 0);
        QVERIFY(waitUntilIdle(*m_window));
        // What is probed there is told in its own turn.
        Point told = kNowhere;
        connect(map, &MapPane::probed, map, [&told](Point at) { told = at; });
        workspace().setTool(Tool::Probe);
        map->probeAt(QPoint(5, map->height() / 2));
        QTRY_VERIFY(told.isFinite());
        QVERIFY(std::abs(told.x) <= turn / 2 && told.x > 0);
        workspace().setTool(Tool::Move);
    }

    // Who reprojects the world to a zone is told what had no room there, for as long as the file is
    // in the project.
    void tellsWhatAReprojectionLeftOut() {
        workspace().selectLayer(workspace().layerNamed("Lands"));
        workspace().setBench(Bench::Data);
        QVERIFY(waitUntilIdle(*m_window));
        auto* panel = m_window->findChild<DerivePanel*>("derivePanel");
        QVERIFY(panel);
        const doc::Lineage asked{
            "reproject", {session::inputFrom(*workspace().source())}, {{"to-crs", "EPSG:32629"}}};
        QString said;
        connect(&workspace(), &Workspace::said, panel,
                [&said](const QString& text, bool) { said += text; });
        panel->write(asked, m_dir.path() + "/zone.gpkg");
        m_session->jobs().wait();
        QVERIFY(waitUntilIdle(*m_window));
        QVERIFY2(said.contains("features lie outside"), qPrintable(said));
        auto* remarks = shown<QLabel>("lineageRemarks");
        QVERIFY(remarks);
        QVERIFY2(remarks->text().contains("are left out"), qPrintable(remarks->text()));
    }

    void measuresAcrossTheAntimeridian() {
        useCrs("EPSG:3857");
        const auto way = crs::Transformation::between(*crs::crsFromCode(4326), m_session->mapCrs());
        const std::vector<Point> line{way->forward(Point{170, 10}), way->forward(Point{-170, 10})};
        const auto m = session::measure(m_session->mapCrs(), line, false);
        QVERIFY(std::abs(m.ellipsoidalLength - 2.19e6) < 2e4);
        QCOMPARE(session::trueCourse(m_session->mapCrs(), line, false).lines.size(),
                 std::size_t{2});
    }
};

QTEST_MAIN(WorldTest)
#include "world_test.moc"
