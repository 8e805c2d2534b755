#include <QPainter>
#include <QTemporaryDir>
#include <QTest>
#include <random>

#include "carto/own_marks.h"
#include "carto/scale_bar.h"
#include "carto/sheet/chart_painter.h"
#include "carto/sheet/north_arrow.h"
#include "carto/sheet/panel_grid.h"
#include "carto/sheet/panel_insets.h"
#include "carto/sheet/picture_painter.h"
#include "carto/sheet/series_pages.h"
#include "carto/sheet/shape_painter.h"
#include "carto/sheet/table_painter.h"
#include "carto/sheet_painter.h"
#include "core/crs/transformation.h"
#include "document/edits/edit_table.h"
#include "document/edits/sheet_edits.h"
#include "document/map_crs.h"
#include "document/panels.h"
#include "support/drawn_world.h"

using namespace ledge;
using namespace ledge::carto;
using ledge::test::DrawnWorld;

namespace {
doc::Document documentWithSheet() {
    doc::Document d = DrawnWorld::documentOf("categories");
    d.name = "Isle", d.author = "A. Surveyor";
    d.mapCrs = "EPSG:32629";
    return doc::addSheet(d, "Page", 200, 150, {{500000, 6800000}, 50000, 0}).first;
}
doc::Id layerOf(const doc::Document& d) {
    for (const auto& one : doc::allLayers(d.layers))
        if (one->as<doc::VectorLayer>()) return one->id;
    return 0;
}
doc::Document after(const doc::Document& d, const char* name, const doc::EditWords& words) {
    auto next = doc::applied(d, name, words);
    if (!next) qWarning("%s", next.error().text().c_str());
    return next ? next->document : d;
}
QImage painted(QSize size, const std::function<void(QPainter&)>& act) {
    QImage out(size, QImage::Format_RGB32);
    out.fill(Qt::white);
    QPainter painter(&out);
    act(painter);
    return out;
}
QRect inkOf(const QImage& image) {
    QRect out;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            if (qGray(image.pixel(x, y)) < 250) out |= QRect(x, y, 1, 1);
    return out;
}
MapFrame frameOf(double scale = 50000, double rotation = 0) {
    MapFrame frame;
    frame.crs = *crs::crsFromCode(32629);
    frame.view = {{500000, 6800000}, scale, rotation};
    frame.widthPx = 800, frame.heightPx = 600, frame.pxPerMm = 4;
    return frame;
}
std::vector<LegendEntry> entries(int count, const QString& said = "entry") {
    std::vector<LegendEntry> out;
    for (int i = 0; i < count; ++i) {
        LegendEntry one;
        one.text = QString("%1 %2").arg(said).arg(i);
        one.geometry = GeometryType::Polygon;
        out.push_back(one);
    }
    return out;
}
const char* kSvg =
    "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"20\" height=\"10\" viewBox=\"0 0 20 10\">"
    "<rect width=\"20\" height=\"10\" fill=\"currentColor\"/></svg>";
}  // namespace

/// What stands on sheets besides maps, and what pages of a series are.
class SheetPartsTest : public QObject {
    Q_OBJECT

private slots:
    // Whatever a panel is turned and zoomed by, the place beneath the pointer stays, and what is
    // dragged follows the hand.
    void movesContentUnderTheHand() {
        std::mt19937 random(3);
        const auto number = [&](double low, double high) {
            return std::uniform_real_distribution(low, high)(random);
        };
        for (int i = 0; i < 60; ++i) {
            doc::Document d = documentWithSheet();
            const doc::Id sheet = d.sheets[0]->id, panel = d.sheets[0]->panel(0)->id;
            d = doc::withItem(d, sheet, panel, [&](doc::SheetItem& item) {
                item.as<doc::MapPanel>()->rotation = number(-180, 180);
            });
            const auto frameIn = [&](const doc::Document& of) {
                return panelFrame(of, *of.sheet(sheet)->item(panel), 4);
            };
            const MapFrame before = frameIn(d);
            const Point mm{number(-40, 40), number(-30, 30)};
            const Point pixel{before.widthPx / 2.0 + mm.x * 4, before.heightPx / 2.0 + mm.y * 4};
            const Point place = before.toMap()(pixel);
            const auto framed = [&](const doc::MapPanel& content) {
                return frameIn(doc::withItem(
                    d, sheet, panel, [&](doc::SheetItem& item) { item.content = content; }));
            };
            const auto& content = *d.sheet(sheet)->item(panel)->as<doc::MapPanel>();
            const Point zoomed =
                framed(doc::zoomed(d, content, number(0.3, 3), mm)).toPixels()(place);
            QVERIFY(std::hypot(zoomed.x - pixel.x, zoomed.y - pixel.y) < 0.01);
            const Point by{number(-20, 20), number(-20, 20)};
            const Point moved = framed(doc::moved(d, content, by)).toPixels()(place);
            QVERIFY(std::hypot(moved.x - pixel.x - by.x * 4, moved.y - pixel.y - by.y * 4) < 0.01);
        }
    }

    void fillsInLiveText_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("said");
        QTest::newRow("author") << "{author}"
                                << "A. Surveyor";
        QTest::newRow("page") << "{page} of {pages}"
                              << "2 of 5";
        QTest::newRow("name") << "{page name}"
                              << "North";
        QTest::newRow("neighbours") << "beside {neighbours}"
                                    << "beside East, West";
        QTest::newRow("panel by name") << "{Main map: rotation}"
                                       << "0°";
        QTest::newRow("no panel of that name") << "{Other: scale}"
                                               << "{Other: scale}";
        QTest::newRow("feature") << "{feature: value * 2}"
                                 << "2";
        QTest::newRow("feature's text") << "{feature: name}"
                                        << "ring";
        QTest::newRow("nothing") << "{}"
                                 << "{}";
    }
    void fillsInLiveText() {
        QFETCH(QString, text);
        QFETCH(QString, said);
        const doc::Document d = documentWithSheet();
        LivePage page{2, 5, "North", {"East", "West"}, nullptr, 0};
        const DrawnWorld world;
        page.table = (*world.features({}, nullptr, 0))->table;
        QCOMPARE(liveText(text.toStdString(), d, d.sheets[0], page), said);
    }
    void knowsEveryNameItOffers() {
        const doc::Document d = documentWithSheet();
        for (const auto& [name, said] : liveNames())
            QVERIFY2(!liveText(std::string("{") + name + "}", d, d.sheets[0]).contains('{'), name);
    }

    void fitsLegends_data() {
        QTest::addColumn<int>("count");
        QTest::addColumn<bool>("fits");
        QTest::addColumn<bool>("allIn");
        QTest::newRow("few") << 4 << true << true;
        QTest::newRow("many, giving way") << 30 << true << true;
        QTest::newRow("many, as they are") << 30 << false << false;
        QTest::newRow("far too many") << 500 << true << false;
    }
    void fitsLegends() {
        QFETCH(int, count);
        QFETCH(bool, fits);
        QFETCH(bool, allIn);
        doc::LegendItem item;
        item.fits = fits;
        const QRectF rect(0, 0, 90 * 4, 50 * 4);
        const auto all = entries(count);
        const LegendLayout layout = legendLayout(rect, all, item, 4);
        QCOMPARE(layout.leftOut == 0, allIn);
        QCOMPARE(layout.places.size() + layout.leftOut, all.size());
        QVERIFY(layout.sizePt >= 5 - 1e-9 && layout.sizePt <= item.sizePt);
        if (!fits) QCOMPARE(layout.sizePt, item.sizePt);
        for (const auto& place : layout.places)
            QVERIFY(place.x >= 0 && place.y >= 0 && place.x < rect.width() &&
                    place.y < rect.height());
        const QRect ink = inkOf(painted({400, 240}, [&](QPainter& p) {
            paintLegend(p, rect.translated(20, 20), all, item, 4);
        }));
        QVERIFY(rect.translated(20, 20).adjusted(-2, -2, 2, 4).contains(QRectF(ink)));
    }
    void breaksLongNames() {
        doc::LegendItem item;
        item.fits = false;
        const QRectF rect(0, 0, 50 * 4, 60 * 4);
        const auto all = entries(3, "a name that is far longer than its column is wide");
        const QRect ink =
            inkOf(painted({300, 260}, [&](QPainter& p) { paintLegend(p, rect, all, item, 4); }));
        QVERIFY2(ink.right() <= rect.right() + 2, qPrintable(QString::number(ink.right())));
        QVERIFY(legendLayout(rect, all, item, 4).height >
                legendLayout(rect, entries(3), item, 4).height * 1.2);
    }
    void listsOnlyWhatThePanelShows() {
        doc::Document d = documentWithSheet();
        const DrawnWorld world;
        doc::LegendItem item;
        const auto all = legendOf(d, d.sheets[0], item, world);
        item.isOfView = true;
        QCOMPARE(legendOf(d, d.sheets[0], item, world).size(), all.size());
        // Looking elsewhere, there is nothing to list.
        d = after(d, "item-set",
                  {{"sheet", "Page"},
                   {"item", "Main map"},
                   {"member", "centre"},
                   {"value", "[700000, 6900000]"}});
        QVERIFY(legendOf(d, d.sheets[0], item, world).empty());
        // Close to one of them, that one.
        d = after(d, "item-set",
                  {{"sheet", "Page"},
                   {"item", "Main map"},
                   {"member", "centre"},
                   {"value", "[501500, 6800500]"}});
        d = after(d, "panel-scale", {{"sheet", "Page"}, {"item", "Main map"}, {"scale", "1000"}});
        const auto near = legendOf(d, d.sheets[0], item, world);
        QVERIFY2(near.size() >= 1 && near.size() < all.size(),
                 qPrintable(QString("%1 of %2").arg(near.size()).arg(all.size())));
    }
    void ordersEntries() {
        doc::Document d = documentWithSheet();
        doc::Layer second = *d.layers.front();
        second.id = 900, second.name = "second";
        d.layers.push_back(std::make_shared<const doc::Layer>(second));
        doc::LegendItem item;
        QVERIFY(legendEntries(d.layers, item).front().layer == d.layers.front()->id);
        item.order = {900};
        QVERIFY(legendEntries(d.layers, item).front().layer == 900);
    }

    // A group stands where its first layer would, its layers beneath its name.
    void keepsGroupsTogether() {
        const auto layerOf = [](doc::Id id, const char* name, GeometryType geometry) {
            doc::Layer out;
            out.id = id, out.name = name;
            doc::VectorLayer vector;
            vector.geometry = geometry;
            out.content = vector;
            return std::make_shared<const doc::Layer>(out);
        };
        const auto groupOf = [](doc::Id id, const char* name, std::vector<doc::LayerPtr> inner) {
            doc::Layer out;
            out.id = id, out.name = name;
            doc::Group group;
            group.children = std::move(inner);
            out.content = group;
            return std::make_shared<const doc::Layer>(out);
        };
        doc::Layer shade;
        shade.id = 8, shade.name = "light", shade.content = doc::Hillshade{};
        const std::vector<doc::LayerPtr> layers{
            groupOf(1, "Ground",
                    {layerOf(2, "woods", GeometryType::Polygon),
                     groupOf(3, "Water", {layerOf(4, "burns", GeometryType::Line)})}),
            layerOf(5, "summits", GeometryType::Point),
            groupOf(6, "Ways", {layerOf(7, "paths", GeometryType::Line)}),
            groupOf(9, "Relief", {std::make_shared<const doc::Layer>(shade)})};
        const auto said = [&](const doc::LegendItem& item) {
            QStringList out;
            for (const LegendEntry& one : legendEntries(layers, item))
                out << (one.isGroup ? one.text.toUpper() : one.text);
            return out.join(' ');
        };
        doc::LegendItem item;
        QCOMPARE(said(item), QString("summits burns paths woods"));
        item.hasGroups = true;
        // One of which nothing is listed has no heading.
        QCOMPARE(said(item), QString("summits GROUND burns woods WAYS paths"));
        item.order = {6};
        QCOMPARE(said(item), QString("WAYS paths summits GROUND burns woods"));
        item.order = {2, 4};
        QCOMPARE(said(item), QString("GROUND woods burns summits WAYS paths"));
        item.left_out = {1};
        item.names = {{6, "How to walk"}};
        QCOMPARE(said(item), QString("summits HOW TO WALK paths"));
        // Headings stay with what they head: where that finds no room they begin the next column.
        item = {};
        item.hasGroups = true, item.fits = false, item.columns = 2;
        const auto entries = legendEntries(layers, item);
        for (double height = 8; height < 60; height += 0.5) {
            const auto layout = legendLayout({0, 0, 400, height * 4}, entries, item, 4);
            for (std::size_t i = 0; i + 1 < layout.places.size(); ++i)
                if (entries[i].isHeading) QCOMPARE(layout.places[i].x, layout.places[i + 1].x);
        }
    }

    void drawsScaleBarsAsTyped_data() {
        QTest::addColumn<QString>("unit");
        QTest::addColumn<double>("length");
        QTest::addColumn<int>("divisions");
        for (const NamedLength& unit : scaleBarUnits())
            QTest::newRow(unit.name.c_str()) << QString::fromStdString(unit.name) << 0.0 << 0;
        QTest::newRow("typed") << "km" << 3.0 << 3;
        QTest::newRow("another unit") << "furlong" << 0.0 << 0;
    }
    void drawsScaleBarsAsTyped() {
        QFETCH(QString, unit);
        QFETCH(double, length);
        QFETCH(int, divisions);
        doc::ScaleBarItem item;
        item.unit = unit.toStdString(), item.length = length, item.divisions = divisions;
        const MapFrame frame = frameOf();
        const ScaleBar bar = scaleBarFor(frame, 260, LengthUnit::Metric, item);
        QVERIFY(bar.metres > 0);
        QVERIFY(
            std::abs(bar.lengthPx * frame.unitsPerPx() * frame.groundMetresPerUnit() / bar.metres -
                     1) < 1e-9);
        if (unit != "furlong") QCOMPARE(QString::fromStdString(bar.unit.name), unit);
        if (length > 0) QVERIFY(std::abs(bar.metres / bar.unit.metres - length) < 1e-9);
        if (divisions > 0) QCOMPARE(bar.divisions, divisions);
    }
    void drawsEveryFormOfBar_data() {
        QTest::addColumn<int>("form");
        QTest::addColumn<int>("left");
        QTest::addColumn<QString>("second");
        for (int form = 0; form < 4; ++form)
            for (const int left : {0, 4})
                for (const char* second : {"", "mi"})
                    QTest::newRow(
                        qPrintable(QString("form %1, left %2, %3").arg(form).arg(left).arg(second)))
                        << form << left << QString(second);
    }
    void drawsEveryFormOfBar() {
        QFETCH(int, form);
        QFETCH(int, left);
        QFETCH(QString, second);
        doc::ScaleBarItem item;
        item.form = static_cast<doc::BarForm>(form), item.leftDivisions = left,
        item.secondUnit = second.toStdString();
        const QRectF rect(20, 20, 340, 60);
        const QRect ink = inkOf(painted({400, 120}, [&](QPainter& p) {
            paintScaleBar(p, rect, frameOf(), LengthUnit::Metric, item, 4);
        }));
        QVERIFY(ink.width() > 60 && ink.left() >= rect.left() - 4 &&
                ink.right() <= rect.right() + 4);
        QVERIFY(second.isEmpty() || ink.height() > 30);
    }
    void pointsWhereItIsTold_data() {
        QTest::addColumn<int>("north");
        QTest::addColumn<double>("degrees");
        QTest::addColumn<double>("off");
        // 250 km west of the central meridian at 61.3 N: about 4.1 degrees of convergence.
        QTest::newRow("true") << 1 << 0.0 << 4.1;
        QTest::newRow("grid") << 2 << 0.0 << 0.0;
        QTest::newRow("typed") << 3 << -7.5 << -7.5;
    }
    void pointsWhereItIsTold() {
        QFETCH(int, north);
        QFETCH(double, degrees);
        QFETCH(double, off);
        MapFrame frame = frameOf(50000, 20);
        frame.view.centre.x = 250000;
        doc::NorthArrowItem item;
        item.north = static_cast<doc::North>(north), item.degrees = degrees;
        QVERIFY2(std::abs(northAngle(frame, item) - 20 - off) < 0.3,
                 qPrintable(QString::number(northAngle(frame, item))));
        for (int design = 0; design < 4; ++design) {
            item.design = static_cast<doc::ArrowDesign>(design);
            const QRectF rect(30, 20, 60, 80);
            const QRect ink = inkOf(painted(
                {120, 120}, [&](QPainter& p) { paintNorthArrow(p, rect, frameOf(), item, 4); }));
            QVERIFY(!ink.isEmpty() && rect.adjusted(-2, -2, 2, 2).contains(QRectF(ink)));
        }
    }

    void drawsShapes_data() {
        QTest::addColumn<int>("form");
        for (int form = 0; form < 4; ++form)
            QTest::newRow(qPrintable(QString::number(form))) << form;
    }
    void drawsShapes() {
        QFETCH(int, form);
        doc::ShapeItem shape;
        shape.form = static_cast<doc::ShapeForm>(form);
        shape.points = {{0, 1}, {0.5, 0}, {1, 1}};
        shape.hasHead = shape.hasTail = true, shape.hasFill = true, shape.strokeMm = 0.5;
        const QRectF rect(30, 30, 100, 60);
        const QRect ink =
            inkOf(painted({160, 120}, [&](QPainter& p) { paintShape(p, rect, shape, 4); }));
        QVERIFY(rect.adjusted(-6, -6, 6, 6).contains(QRectF(ink)) && ink.width() > 90 &&
                ink.height() > 50);
    }
    // The tip of an arrow is at its end, not behind it.
    void endsArrowsAtTheirTips() {
        doc::ShapeItem shape;
        shape.form = doc::ShapeForm::Line, shape.points = {{0, 0.5}, {1, 0.5}}, shape.strokeMm = 1;
        const auto right = [&] {
            return inkOf(painted({200, 60},
                                 [&](QPainter& p) {
                                     paintShape(p, {20, 10, 140, 40}, shape, 4);
                                 }))
                .right();
        };
        const int plain = right();
        shape.hasHead = true;
        QVERIFY2(std::abs(right() - plain) <= 1,
                 qPrintable(QString("%1 %2").arg(right()).arg(plain)));
    }

    void drawsPictures() {
        QTemporaryDir dir;
        const auto file = [&](const char* name) {
            return std::filesystem::path(dir.filePath(name).toStdString());
        };
        QImage red(40, 20, QImage::Format_RGB32);
        red.fill(Qt::red);
        QVERIFY(red.save(dir.filePath("red.png")));
        QFile svg(dir.filePath("mark.svg"));
        QVERIFY(svg.open(QIODevice::WriteOnly) && svg.write(kSvg) > 0);
        svg.close();
        QFile broken(dir.filePath("broken.png"));
        QVERIFY(broken.open(QIODevice::WriteOnly) && broken.write("no picture") > 0);
        broken.close();
        const QRectF rect(10, 10, 100, 100);
        for (const char* name : {"red.png", "mark.svg"}) {
            doc::PictureItem item;
            item.file = file(name);
            const QRect kept = inkOf(painted({120, 120}, [&](QPainter& p) {
                QVERIFY(paintPicture(p, rect, item).has_value());
            }));
            QVERIFY2(std::abs(kept.width() - 100) <= 2 && std::abs(kept.height() - 50) <= 2, name);
            item.keepsShape = false;
            const QRect pulled = inkOf(painted({120, 120}, [&](QPainter& p) {
                QVERIFY(paintPicture(p, rect, item).has_value());
            }));
            QVERIFY(std::abs(pulled.height() - 100) <= 2);
        }
        for (const char* name : {"broken.png", "gone.png", ""}) {
            doc::PictureItem item;
            item.file = *name ? file(name) : std::filesystem::path();
            QVERIFY(!pictureFacts(item.file));
            const QImage none =
                painted({20, 20}, [&](QPainter& p) { QVERIFY(!paintPicture(p, rect, item)); });
            QVERIFY(inkOf(none).isEmpty());
        }
    }
    void drawsOwnMarks() {
        QVERIFY(drawingTrouble(kSvg).isEmpty());
        QVERIFY(!drawingTrouble("no drawing").isEmpty());
        const QImage image = painted({60, 60}, [](QPainter& p) {
            p.translate(30, 30);
            QVERIFY(paintDrawing(p, kSvg, 40, {10, 120, 40}));
        });
        const QRect ink = inkOf(image);
        QVERIFY(std::abs(ink.width() - 40) <= 2 && std::abs(ink.height() - 20) <= 2);
        QCOMPARE(image.pixelColor(30, 30), QColor(10, 120, 40));
        QVERIFY(inkOf(painted({60, 60}, [](QPainter& p) {
                    QVERIFY(!paintDrawing(p, "none", 40, {}));
                })).isEmpty());
        const QRectF letter = charactersPath("H", "", 30).boundingRect();
        QVERIFY(std::abs(letter.height() - 30) < 1 && std::abs(letter.center().x()) < 2);
        QVERIFY(hasFont("") && !hasFont("A font nobody has"));
    }

    void readsTables() {
        const doc::Document d = documentWithSheet();
        const DrawnWorld world;
        doc::TableItem item;
        item.layer = layerOf(d);
        auto table = tableText(d, item, world);
        QVERIFY(table.has_value());
        QCOMPARE(table->heads, (std::vector<QString>{"name", "value"}));
        QCOMPARE(table->areNumbers, (std::vector<bool>{false, true}));
        QCOMPARE(table->rows.size(), std::size_t{4});
        item.keep = "value > 1", item.sortBy = "value", item.isDescending = true,
        item.fields = {"name"};
        table = tableText(d, item, world);
        QCOMPARE(table->rows, (std::vector<std::vector<QString>>{{"tooth"}, {"disc"}}));
        item.keep.clear(), item.mostRows = 1;
        table = tableText(d, item, world);
        QCOMPARE(table->left, std::size_t{3});
        // What is missing comes last, whichever way.
        item.mostRows = 10;
        QCOMPARE(tableText(d, item, world)->rows.back().front(), QString("cell"));
        item.isDescending = false;
        QCOMPARE(tableText(d, item, world)->rows.back().front(), QString("cell"));
        // Columns of other names, and of formulas.
        item.fields = {"What: name", "Twice, m: value * 2"};
        table = tableText(d, item, world);
        QVERIFY2(table.has_value(), table ? "" : table.error().text().c_str());
        QCOMPARE(table->heads, (std::vector<QString>{"What", "Twice, m"}));
        QCOMPARE(table->areNumbers, (std::vector<bool>{false, true}));
        item.keep = "name = 'disc'", item.sortBy.clear();
        const QString plain = [&] {
            doc::TableItem alone = item;
            alone.fields = {"value"};
            return tableText(d, alone, world)->rows[0][0];
        }();
        QCOMPARE(tableText(d, item, world)->rows[0][1].toDouble(), 2 * plain.toDouble());
        item.keep.clear();
        item.fields = {"weather"};
        QVERIFY(tableText(d, item, world).error().text().find("weather") != std::string::npos);
        item.layer = 12345;
        QVERIFY(!tableText(d, item, world));
        item.layer = layerOf(d), item.fields.clear(), item.keep = "value >";
        QVERIFY(!tableText(d, item, world));
    }
    void countsRowsThatDoNotFit() {
        TableText text{{"a", "b"}, {false, true}, {}, 0};
        for (int i = 0; i < 30; ++i)
            text.rows.push_back(
                {QString("row %1 with a rather long text").arg(i), QString::number(i)});
        doc::TableItem item;
        std::size_t left = 0;
        const QRectF rect(10, 10, 200, 120);
        const QRect ink = inkOf(
            painted({240, 160}, [&](QPainter& p) { left = paintTable(p, rect, text, item, 4); }));
        QVERIFY(left > 20 && left < 30);
        QVERIFY(rect.adjusted(-2, -2, 2, 2).contains(QRectF(ink)));
    }

    void countsForCharts() {
        doc::Document d = documentWithSheet();
        const DrawnWorld world;
        doc::ChartItem item;
        item.layer = layerOf(d), item.field = "value", item.bins = 4;
        auto bars = chartBars(d, item, world);
        QVERIFY(bars.has_value());
        double sum = 0;
        for (const auto& bar : bars->bars) sum += bar.value;
        QCOMPARE(sum, 3.0);
        QCOMPARE(bars->missing, std::size_t{1});
        for (std::size_t i = 1; i < bars->bars.size(); ++i)
            QCOMPARE(bars->bars[i].from, bars->bars[i - 1].to);
        item.form = doc::ChartForm::Bars, item.names = "name";
        bars = chartBars(d, item, world);
        QCOMPARE(bars->bars.front().name, QString("tooth"));
        QCOMPARE(bars->bars.front().value, 9.0);
        item.mostBars = 1;
        QCOMPARE(chartBars(d, item, world)->left, std::size_t{2});
        // Without a field: how many rows each category has, in its colour.
        item.field.clear(), item.mostBars = 20;
        bars = chartBars(d, item, world);
        QVERIFY(bars.has_value() && !bars->bars.empty());
        item.form = doc::ChartForm::Histogram;
        QVERIFY(!chartBars(d, item, world));
        item.field = "goats";
        QVERIFY(!chartBars(d, item, world));
        item.field = "value";
        for (const doc::ChartForm form : {doc::ChartForm::Histogram, doc::ChartForm::Bars}) {
            item.form = form, item.title = "Values";
            const auto made = chartBars(d, item, world);
            const QRectF rect(10, 10, 240, 140);
            const QRect ink = inkOf(
                painted({260, 160}, [&](QPainter& p) { paintChart(p, rect, *made, item, 4); }));
            QVERIFY(ink.width() > 150 && rect.adjusted(-3, -3, 3, 3).contains(QRectF(ink)));
        }
    }

    // Grid lines at round coordinates: a tick stands where its value says.
    void putsGridsWhereTheySay_data() {
        QTest::addColumn<int>("form");
        QTest::addColumn<int>("sides");
        for (int form = 0; form < 3; ++form)
            for (int sides = 0; sides < 2; ++sides)
                QTest::newRow(qPrintable(QString("%1 %2").arg(form).arg(sides))) << form << sides;
    }
    void putsGridsWhereTheySay() {
        QFETCH(int, form);
        QFETCH(int, sides);
        doc::PanelGrid grid;
        grid.form = static_cast<doc::GridForm>(form);
        grid.style.isGraticule = false, grid.style.interval = 1000, grid.style.colour = {0, 0, 0},
        grid.style.lineMm = 0.25;
        const MapFrame frame = frameOf();
        const QRectF rect(60, 60, 800, 600);
        const QImage image = painted({920, 720}, [&](QPainter& p) {
            QVERIFY(paintPanelGrid(p, rect, frame, grid, static_cast<GridSides>(sides), {})
                        .has_value());
        });
        // 500000 E is in the middle, 80 pixels are a kilometre.
        const auto isDark = [&](double x, double y) {
            return qGray(image.pixel(int(x), int(y))) < 128;
        };
        QVERIFY(isDark(460, 57) && isDark(460, 663) && isDark(380, 57));
        QVERIFY(!isDark(420, 57));
        if (form == 0) QVERIFY(isDark(460, 300) && isDark(300, 360));
        if (form == 1) QVERIFY(isDark(460, 360) && isDark(463, 360) && !isDark(460, 320));
        if (form == 2) QVERIFY(!isDark(460, 300));
        // Values outside, at the sides asked for.
        const QRect ink = inkOf(image);
        if (sides == 0) QVERIFY(ink.top() < 52 && ink.left() < 52 && ink.bottom() < 672);
        if (sides == 1) QVERIFY(ink.bottom() > 668 && ink.right() > 868 && ink.top() > 50);
    }
    void outlinesInsets() {
        const MapFrame host = frameOf(200000), inset = frameOf(50000, 30);
        const QPolygonF outline = outlineOn(host, inset);
        // A quarter of the size, about the same middle, turned.
        const QRectF box = outline.boundingRect();
        QVERIFY(std::abs(box.center().x() - 400) < 1 && std::abs(box.center().y() - 300) < 1);
        double area = 0;
        for (qsizetype i = 0; i < outline.size(); ++i) {
            const QPointF a = outline[i], b = outline[(i + 1) % outline.size()];
            area += (a.x() * b.y() - b.x() * a.y()) / 2;
        }
        QVERIFY2(std::abs(std::abs(area) - 200.0 * 150) < 300, qPrintable(QString::number(area)));
        MapFrame other = host;
        other.crs = *crs::crsFromCode(4326), other.view = {{-9, 61.3}, 200000, 0};
        QVERIFY(outlineOn(other, inset).size() > 20);
    }
    void cutsPanelsByAreas() {
        doc::Document d = documentWithSheet();
        const DrawnWorld world;
        doc::MapPanel panel;
        QVERIFY(!panelShape(d, panel, frameOf(), world));
        panel.shapedBy = layerOf(d);
        const auto shape = panelShape(d, panel, frameOf(), world);
        QVERIFY(shape.has_value());
        const auto at = [&](double x, double y) {
            return QPointF(400 + (x - 500000) * 0.08, 300 - (y - 6800000) * 0.08);
        };
        QVERIFY(shape->contains(at(501500, 6800500)));   // in the disc
        QVERIFY(!shape->contains(at(500000, 6800000)));  // in the hole of the ring
        panel.shapedBy = 99999;
        QVERIFY(!panelShape(d, panel, frameOf(), world));
    }

    void pagesThroughFeatures() {
        doc::Document d = documentWithSheet();
        const DrawnWorld world;
        const auto set = [&](const char* member, const std::string& value) {
            d = after(d, "sheet-set", {{"sheet", "Page"}, {"member", member}, {"value", value}});
        };
        QCOMPARE(SeriesPages::of(d, d.sheets[0], world)->size(), std::size_t{1});
        set("series.over", "features");
        QVERIFY(!SeriesPages::of(d, d.sheets[0], world));
        set("series.layer", std::to_string(layerOf(d)));
        set("series.naming", "name");
        set("series.sort_by", "name");
        auto pages = SeriesPages::of(d, d.sheets[0], world);
        QVERIFY2(pages.has_value(), pages ? "" : pages.error().text().c_str());
        QCOMPARE(pages->size(), std::size_t{4});
        QCOMPARE(pages->name(0), QString("cell"));
        QCOMPARE(pages->fileName(1), QString("2_disc"));
        const doc::PageRect rect = d.sheets[0]->panel(0)->rect;
        for (std::size_t i = 0; i < 4; ++i) {
            const SheetPage page = pages->page(i);
            QCOMPARE(liveText("{page name} {page}/{pages}", page.document, page.sheet, page.live),
                     QString("%1 %2/4").arg(pages->name(i)).arg(i + 1));
            // The feature lies in its panel with the margin, at a round scale.
            const MapFrame frame = panelFrame(page.document, *page.sheet.panel(0), 4);
            const Box extent = frame.extent();
            const Box box = page.live.table->box(page.live.row);
            QVERIFY(extent.xMin < box.xMin && extent.xMax > box.xMax && extent.yMin < box.yMin &&
                    extent.yMax > box.yMax);
            const double scale = frame.groundScale();
            QVERIFY(std::abs(doc::roundScale(scale) / scale - 1) < 1e-6);
            QVERIFY(page.sheet.panel(0)->rect == rect);
        }
        set("series.scale", "25000");
        pages = SeriesPages::of(d, d.sheets[0], world);
        for (std::size_t i = 0; i < 4; ++i) {
            const SheetPage page = pages->page(i);
            QVERIFY(std::abs(panelFrame(page.document, *page.sheet.panel(0), 4).groundScale() -
                             25000) < 1);
        }
        set("series.keep", "value > 4");
        QCOMPARE(SeriesPages::of(d, d.sheets[0], world)->size(), std::size_t{2});
        set("series.alone", "yes");
        const auto alone = SeriesPages::of(d, d.sheets[0], world)->page(0);
        const auto* layer = alone.document.layer(layerOf(d));
        QVERIFY(layer->as<doc::VectorLayer>()->filter.find("disc") != std::string::npos);
        // Other layers show what belongs to the page: text is quoted, numbers are not.
        set("series.alone", "no");
        const auto filter = [&](const char* condition) {
            d = after(d, "series-filter",
                      {{"sheet", "Page"},
                       {"layer", "#" + std::to_string(layerOf(d))},
                       {"condition", condition}});
            return SeriesPages::of(d, d.sheets[0], world);
        };
        auto filtered = filter("name = {feature: name} OR value < {feature:value * 2}");
        QVERIFY2(filtered.has_value(), filtered ? "" : filtered.error().text().c_str());
        const auto first = filtered->page(0);
        const auto field = static_cast<std::size_t>(first.live.table->fieldIndex("value"));
        QCOMPARE(first.document.layer(layerOf(d))->as<doc::VectorLayer>()->filter,
                 "name = '" + filtered->name(0).toStdString() + "' OR value < " +
                     exactNumber(first.live.table->number(first.live.row, field) * 2));
        filtered = filter("name = {feature: nothing}");
        QVERIFY(!filtered && filtered.error().text().find("nothing") != std::string::npos);
        filtered = filter("goats = {feature: name}");
        QVERIFY(!filtered && filtered.error().text().find("goats") != std::string::npos);
        filtered = filter("");
        QVERIFY(filtered.has_value());
        set("series.keep", "value > 400");
        QVERIFY(!SeriesPages::of(d, d.sheets[0], world));
        set("series.keep", "value >");
        QVERIFY(!SeriesPages::of(d, d.sheets[0], world));
    }
    // Pages of fields, layers and views have one place and scale.
    void pagesThroughOtherThings() {
        doc::Document d = documentWithSheet();
        const DrawnWorld world;
        const auto set = [&](const char* member, const std::string& value) {
            d = after(d, "sheet-set", {{"sheet", "Page"}, {"member", member}, {"value", value}});
        };
        const doc::MapView view = doc::viewOf(*d.sheets[0]->panel(0)->as<doc::MapPanel>());
        const auto hold = [&] {
            const auto pages = SeriesPages::of(d, d.sheets[0], world);
            QVERIFY(pages.has_value());
            for (std::size_t i = 0; i < pages->size(); ++i)
                QVERIFY(doc::viewOf(doc::resolved(
                            pages->page(i).document,
                            *pages->page(i).sheet.panel(0)->as<doc::MapPanel>())) == view);
        };
        set("series.over", "fields");
        QVERIFY(!SeriesPages::of(d, d.sheets[0], world));
        set("series.layer", std::to_string(layerOf(d)));
        set("series.fields", R"(["value", "Twice: value * 2"])");
        auto pages = SeriesPages::of(d, d.sheets[0], world);
        QCOMPARE(pages->size(), std::size_t{2});
        QCOMPARE(pages->name(1), QString("Twice"));
        QCOMPARE(pages->page(1).document.layer(layerOf(d))->as<doc::VectorLayer>()->style.field,
                 std::string("value * 2"));
        hold();
        d = doc::saveView(std::move(d), "Dark", {{1, 2}, 3, 0}).first;
        set("series.over", "views");
        set("series.things", "[" + std::to_string(d.views[0].id) + "]");
        QCOMPARE(SeriesPages::of(d, d.sheets[0], world)->name(0), QString("Dark"));
        hold();
        set("series.over", "layers");
        set("series.things", "[" + std::to_string(layerOf(d)) + ", 4711]");
        QCOMPARE(SeriesPages::of(d, d.sheets[0], world)->size(), std::size_t{2});
        hold();
    }

    void wordsCredits() {
        doc::Document d = documentWithSheet();
        for (doc::SourceRef& source : d.sources) source.credit = "Survey of 2026";
        const doc::Sheet& sheet = d.sheets[0];
        QVERIFY(gatheredCredits(d, sheet).contains("Survey of 2026"));
        QVERIFY(missingCredits(d, sheet).isEmpty());
        doc::Document worded = after(d, "credit-wording",
                                     {{"sheet", "Page"},
                                      {"item", "Sources"},
                                      {"credit", "Survey of 2026"},
                                      {"wording", "after the survey"}});
        const auto creditsOf = [](const doc::Document& of) {
            for (const doc::SheetItem& item : of.sheets[0]->items)
                if (item.as<doc::CreditsItem>()) return *item.as<doc::CreditsItem>();
            return doc::CreditsItem();
        };
        QCOMPARE(creditsText(worded, worded.sheets[0], creditsOf(worded)),
                 QString("after the survey"));
        worded = after(d, "credit-wording",
                       {{"sheet", "Page"},
                        {"item", "Sources"},
                        {"credit", "Survey of 2026"},
                        {"wording", ""}});
        QCOMPARE(missingCredits(worded, worded.sheets[0]), QStringList("Survey of 2026"));
        // A text that says {credits} is enough.
        worded = after(
            worded, "item-set",
            {{"sheet", "Page"}, {"item", "Subtitle"}, {"member", "text"}, {"value", "{credits}"}});
        QVERIFY(missingCredits(worded, worded.sheets[0]).isEmpty());
    }
    // Frame, background, padding, opacity and turn are there for every kind.
    void framesItems() {
        doc::Document d =
            after(DrawnWorld::documentOf("categories"), "sheet-add",
                  {{"name", "Bare"}, {"template", "empty"}, {"width", "100"}, {"height", "100"}});
        d = after(d, "item-add",
                  {{"sheet", "Bare"},
                   {"kind", "text"},
                   {"name", "Word"},
                   {"rect", "30,40,40,20"},
                   {"text", "H"},
                   {"with", "{\"has_background\": true, \"background\": \"#80C080\", \"frame_mm\": "
                            "1, \"frame\": \"#C00000\", \"padding_mm\": 5}"}});
        const DrawnWorld world;
        const auto drawn = [&](const doc::Document& of) {
            return painted({400, 400}, [&](QPainter& p) {
                QVERIFY(paintSheet(p, of, of.sheets[0], 4, world, {}).has_value());
            });
        };
        QImage image = drawn(d);
        QCOMPARE(image.pixelColor(140, 220), QColor(0x80, 0xC0, 0x80));
        QCOMPARE(image.pixelColor(200, 160), QColor(0xC0, 0, 0));
        bool isThere = false;  // the word, 5 mm in
        for (int y = 178; y < 200; ++y)
            for (int x = 140; x < 152; ++x) isThere = isThere || qGray(image.pixel(x, y)) < 90;
        QVERIFY(isThere);
        image = drawn(
            after(d, "item-set",
                  {{"sheet", "Bare"}, {"item", "Word"}, {"member", "turn"}, {"value", "90"}}));
        QCOMPARE(image.pixelColor(200, 130), QColor(0x80, 0xC0, 0x80));
        QCOMPARE(image.pixelColor(130, 200), QColor(Qt::white));
        image = drawn(
            after(d, "item-set",
                  {{"sheet", "Bare"}, {"item", "Word"}, {"member", "opacity"}, {"value", "0"}}));
        QVERIFY(inkOf(image).isEmpty());
        image = drawn(
            after(d, "item-set",
                  {{"sheet", "Bare"}, {"item", "Word"}, {"member", "corner_mm"}, {"value", "8"}}));
        QCOMPARE(image.pixelColor(121, 161), QColor(Qt::white));
    }
};

QTEST_MAIN(SheetPartsTest)
#include "sheet_parts_test.moc"
