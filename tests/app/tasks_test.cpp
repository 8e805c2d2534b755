#include <QApplication>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QTemporaryDir>
#include <QTimer>
#include <QToolButton>
#include <cmath>

#include "app/canvas/map_pane.h"
#include "app/main_window.h"
#include "app/picture_tour.h"
#include "app/probe_panel.h"
#include "app/profile_drawer.h"
#include "app/stack/stack_panel.h"
#include "app/theme.h"
#include "app/widgets/light_shelf.h"
#include "core/crs/catalogue.h"
#include "core/crs/geodesic.h"
#include "session/aside.h"
#include "support/coarse_demo.h"
#include "support/patience.h"

using namespace ledge;
using namespace ledge::app;

/// Whole tasks as somebody does them who has only read the README: from an empty window, by keys
/// and clicks on what can be seen, in windows from small to large.
class TasksTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;
    std::unique_ptr<session::Session> m_session;
    std::unique_ptr<MainWindow> m_window;

    const doc::Document& document() const { return m_session->document(); }
    Workspace& workspace() const { return m_window->workspace(); }
    MapPane* map() const { return m_window->map(); }
    QString demoFile(const char* name) const {
        return QString::fromStdString((test::coarseDemo().parent_path() / name).string());
    }
    void settle() const { QVERIFY(waitUntilIdle(*m_window)); }
    // What is used must be seen whole: scrolled to as by Tab, and nothing of it cut off.
    template <typename T>
    T* seen(const char* name) const {
        for (T* one : m_window->findChildren<T*>(name)) {
            if (!one->isVisible()) continue;
            for (QWidget* above = one->parentWidget(); above; above = above->parentWidget())
                if (auto* scroll = qobject_cast<QScrollArea*>(above))
                    scroll->ensureWidgetVisible(one, 0, 8);
            const QRect inWindow(one->mapTo(m_window.get(), QPoint(0, 0)), one->size());
            if (m_window->rect().contains(inWindow) &&
                one->visibleRegion().boundingRect().size() == one->size())
                return one;
            qWarning() << name << "is cut off:" << inWindow << one->visibleRegion().boundingRect();
        }
        return nullptr;
    }
    void press(const char* name) const {
        auto* button = seen<QAbstractButton>(name);
        QVERIFY2(button && button->isEnabled(), name);
        QTest::mouseClick(button, Qt::LeftButton);
        settle();
    }
    void key(Qt::Key which, Qt::KeyboardModifiers with = {}) const {
        QTest::keyClick(m_window.get(), which, with);
        settle();
    }
    // Through the file dialog, by its field.
    void addFile(const QString& path) const {
        QTimer::singleShot(0, m_window.get(), [path] {
            auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
            if (!dialog) return;
            auto* name = dialog->findChild<QLineEdit*>("fileNameEdit");
            name->setText(path);
            QTest::keyClick(name, Qt::Key_Return);
            if (dialog->isVisible()) dialog->reject();
        });
        QTest::keyClick(m_window.get(), Qt::Key_A, Qt::ControlModifier | Qt::ShiftModifier);
        settle();
    }
    const doc::Layer* newest() const { return workspace().layer(); }
    // Clicks the map where a place in degrees lies.
    void clickAt(double north, double east) const {
        const auto way = crs::Transformation::between(*crs::crsFromCode(4326), m_session->mapCrs());
        QVERIFY(bool(way));
        const Point px = map()->frame().toPixels()(way->forward(Point{east, north}));
        const double ratio = m_window->devicePixelRatioF();
        const QPoint at(qRound(px.x / ratio), qRound(px.y / ratio));
        QVERIFY(map()->rect().contains(at));
        QTest::mouseMove(map(), at);
        QTest::mouseClick(map(), Qt::LeftButton, {}, at);
        settle();
    }
    QStringList probed() const {
        QStringList out;
        auto* panel = m_window->findChild<ProbePanel*>();
        for (const auto* label : panel->findChildren<QLabel*>())
            if (label->isVisible()) out << label->text();
        return out;
    }
    // Heights in feet over degrees: a slope that rises to the north alone.
    QString feetGrid() const {
        const QString path = m_dir.filePath("feet.asc");
        QFile file(path);
        if (!file.open(QIODevice::WriteOnly)) return {};
        constexpr int kSide = 60;
        QByteArray text = "ncols 60\nnrows 60\nxllcorner -10.7\nyllcorner 61.5\n"
                          "cellsize 0.001\nnodata_value -9999\n";
        for (int r = 0; r < kSide; ++r)
            for (int c = 0; c < kSide; ++c)
                text += QByteArray::number((kSide - r) * 100) + (c + 1 < kSide ? " " : "\n");
        return file.write(text) == text.size() ? path : QString();
    }

private slots:
    void initTestCase() {
        qputenv("XDG_CONFIG_HOME", m_dir.path().toUtf8());
        applyTheme(*qobject_cast<QApplication*>(QCoreApplication::instance()), false);
        test::coarseDemo();
    }
    void cleanup() {
        m_window.reset();
        m_session.reset();
    }

    void does_data() {
        QTest::addColumn<QString>("task");
        QTest::addColumn<QSize>("size");
        for (const char* task : {"relief from nothing", "feet over degrees", "three lights",
                                 "contours over a picture", "profile along a path"})
            for (const QSize size : {QSize(1024, 700), QSize(1280, 800), QSize(1900, 1000)})
                QTest::newRow(qPrintable(QString("%1, %2").arg(task).arg(size.width())))
                    << QString(task) << size;
    }
    void does() {
        QFETCH(QString, task);
        QFETCH(QSize, size);
        m_session = std::make_unique<session::Session>(m_dir.path().toStdString() + "/recovery");
        m_window = std::make_unique<MainWindow>(*m_session);
        m_window->resize(size);
        m_window->show();
        QVERIFY(QTest::qWaitForWindowExposed(m_window.get()));
        QApplication::setActiveWindow(m_window.get());
        QCOMPARE(m_window->size(), size);
        if (task == "relief from nothing") reliefFromNothing();
        if (task == "feet over degrees") feetOverDegrees();
        if (task == "three lights") threeLights();
        if (task == "contours over a picture") contoursOverAPicture();
        if (task == "profile along a path") profileAlongAPath();
        QCOMPARE(m_session->sources()->waitsOfInterface(), 0);
        if (const QByteArray folder = qgetenv("LEDGE_TASK_PICTURES"); !folder.isEmpty())
            m_window->grab().save(
                QString("%1/%2 %3.png").arg(QString::fromUtf8(folder), task).arg(size.width()));
    }

private:
    void addDem() {
        addFile(demoFile("island_dem.tif"));
        QVERIFY(newest() && newest()->as<doc::HeightTint>());
    }
    void reliefFromNothing() {
        addDem();
        key(Qt::Key_2, Qt::AltModifier);
        press("buildRelief");
        const auto* group = newest()->as<doc::Group>();
        QVERIFY(group && group->children.size() == 3);
        // What was pressed has gone from the page; the keyboard stays on it.
        auto* focus = QApplication::focusWidget();
        QVERIFY(focus && m_window->findChild<QWidget*>("benchFrame")->isAncestorOf(focus));
        // One step takes it back, one step brings it again.
        const auto built = m_session->snapshot();
        key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(document().layers.size(), std::size_t{1});
        key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(document() == *built);
    }
    void feetOverDegrees() {
        const QString path = feetGrid();
        QVERIFY(!path.isEmpty());
        addFile(path);
        key(Qt::Key_1, Qt::AltModifier);
        auto* crs = seen<QLineEdit>("declareCrs");
        QVERIFY(crs);
        QTest::mouseClick(crs, Qt::LeftButton);
        QTest::keyClicks(crs, "EPSG:4326");
        QTest::keyClick(crs, Qt::Key_Return);
        settle();
        // The map leaves its local plane with the first data that lie on the earth.
        QCOMPARE(document().mapCrs, std::string("EPSG:32629"));
        auto* unit = seen<QComboBox>("heightUnit");
        QVERIFY(unit);
        unit->setFocus(Qt::TabFocusReason);
        QTest::keyClick(unit, Qt::Key_Down);
        settle();
        QCOMPARE(document().source(newest()->source)->heightUnit, doc::HeightUnit::Foot);
        auto* facts = m_window->findChild<QLabel*>("facts");
        QVERIFY2(facts->text().contains("ft"), qPrintable(facts->text()));
        key(Qt::Key_2, Qt::AltModifier);
        press("addSlope");
        key(Qt::Key_R, Qt::AltModifier);
        clickAt(61.53, -10.67);
        // 100 ft a cell of 0.001 degrees, on the ellipsoid.
        const auto ellipsoid = (*crs::crsFromCode(4326))->ellipsoid;
        const double run =
            crs::Geodesic(ellipsoid).inverse(Point{-10.67, 61.53}, Point{-10.67, 61.531}).distance;
        const double slope = std::atan(100 * 0.3048 / run) * 180 / M_PI;
        bool isSaid = false;
        for (const QString& line : probed()) {
            const double said =
                QString(line).replace(QChar(0x2212), '-').section(QChar(0xB0), 0, 0).toDouble();
            isSaid = isSaid || (line.endsWith(QChar(0xB0)) && std::abs(said - slope) < 0.06);
        }
        QVERIFY2(isSaid, qPrintable(QString::number(slope) + " not in: " + probed().join("; ")));
    }
    void threeLights() {
        addDem();
        key(Qt::Key_2, Qt::AltModifier);
        press("addLight");
        const auto style = [this] { return newest()->as<doc::Hillshade>()->style; };
        QVERIFY(newest()->as<doc::Hillshade>());
        press("keepLight");
        for (const char* azimuth : {"45", "270"}) {
            auto* box = seen<QDoubleSpinBox>("azimuth");
            QVERIFY(box);
            QTest::mouseClick(box, Qt::LeftButton);
            box->selectAll();
            QTest::keyClicks(box, azimuth);
            QTest::keyClick(box, Qt::Key_Return);
            settle();
            press("keepLight");
        }
        QCOMPARE(style().kept.size(), std::size_t{3});
        auto* shelf = seen<LightShelf>("lightShelf");
        QVERIFY(shelf);
        QCOMPARE(style().lights.front().azimuth, 270.0);
        for (auto* one : shelf->findChildren<QToolButton*>(Qt::FindDirectChildrenOnly)) {
            if (!one->isVisible() || !one->text().startsWith("315")) continue;
            QVERIFY(!one->icon().isNull());
            QTest::mouseClick(one, Qt::LeftButton);
        }
        settle();
        QCOMPARE(style().lights.front().azimuth, 315.0);
    }
    void contoursOverAPicture() {
        addDem();
        addFile(demoFile("aerial_summer.tif"));
        const doc::Id picture = workspace().selectedLayer();
        QVERIFY(newest()->as<doc::RasterLayer>() && newest()->as<doc::RasterLayer>()->style.image);
        const doc::Id dem = document().layers[0]->id == picture ? document().layers[1]->id
                                                                : document().layers[0]->id;
        workspace().selectLayer(dem);
        key(Qt::Key_2, Qt::AltModifier);
        press("addContours");
        QVERIFY(newest()->as<doc::Contours>());
        // Above the picture, and light on it.
        QVERIFY(doc::placeOf(document(), workspace().selectedLayer())->index <
                doc::placeOf(document(), picture)->index);
        const auto contours = workspace().selectedLayer();
        const QImage with = map()->grab().toImage();
        m_window->findChild<StackPanel*>()->strip(contours)->findChild<QToolButton*>()->click();
        settle();
        QVERIFY(!document().layer(contours)->isVisible);
        const QImage without = map()->grab().toImage();
        int changed = 0, lighter = 0;
        for (int y = 0; y < with.height(); ++y)
            for (int x = 0; x < with.width(); ++x) {
                const int by = qGray(with.pixel(x, y)) - qGray(without.pixel(x, y));
                changed += std::abs(by) > 20 ? 1 : 0;
                lighter += by > 20 ? 1 : 0;
            }
        QVERIFY2(changed > 300 && lighter > changed * 9 / 10,
                 qPrintable(QString("%1 of %2 are lighter").arg(lighter).arg(changed)));
        key(Qt::Key_Z, Qt::ControlModifier);
    }
    void profileAlongAPath() {
        addDem();
        addFile(demoFile("hill_paths.geojson"));
        key(Qt::Key_H, Qt::AltModifier);
        const auto at = session::aside([this] {
            const auto table = *m_session->sources()->table(*document().source(newest()->source));
            const auto part = table->geometry(0).part(0);
            return part[part.size() / 2];
        });
        clickAt(at.y, at.x);
        auto* drawer = m_window->profileDrawer();
        QTRY_VERIFY(!drawer->runs().empty());
        settle();
        auto* facts = seen<QLabel>("profileFacts");
        QVERIFY(facts && facts->text().contains("<a href"));
        press("keepProfile");
        QCOMPARE(document().profiles.size(), std::size_t{1});
        // It is called as the path is.
        const auto name = session::aside([this] {
            const auto table = *m_session->sources()->table(*document().source(newest()->source));
            return exactText(table->value(0, std::size_t(table->fieldIndex("name"))));
        });
        QVERIFY2(document().profiles[0].name.find(name) != std::string::npos,
                 document().profiles[0].name.c_str());
    }
};

QTEST_MAIN(TasksTest)
#include "tasks_test.moc"
