#include <QPainter>
#include <QTest>
#include <random>

#include "carto/legend.h"
#include "carto/live_formula.h"
#include "carto/map_renderer.h"
#include "carto/scale_bar.h"
#include "carto/sheet/north_arrow.h"
#include "carto/sheet_painter.h"
#include "core/base/numbers.h"
#include "document/edits/sheet_edits.h"
#include "document/kinds.h"
#include "document/map_crs.h"
#include "support/drawn_world.h"

using namespace ledge;
using namespace ledge::carto;
using ledge::test::DrawnWorld;

namespace {
constexpr double kPxPerMm = 4;

QImage sheetPicture(const doc::Document& d, doc::Id id) {
    const doc::Sheet& sheet = *d.sheet(id);
    QImage out(pagePixels(sheet, kPxPerMm * 25.4), QImage::Format_RGB32);
    out.fill(Qt::white);
    const auto data = std::make_shared<DrawnWorld>();
    QPainter painter(&out);
    MapReport report;
    const auto done = paintSheet(
        painter, d, sheet, kPxPerMm, *data,
        [&](QPainter& p, const doc::SheetItem& item, const MapFrame& frame) -> Result<void> {
            MapRenderer renderer(data);
            const auto picture = renderer.picture(d, doc::panelLayers(d, *item.as<doc::MapPanel>()),
                                                  frame, {}, report);
            if (!picture) return picture.error();
            p.drawImage(0, 0, *picture);
            return {};
        });
    painter.end();
    return done ? out : QImage();
}

// The box of what is not paper.
QRect inkOf(const QImage& image) {
    QRect out;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x)
            if (qGray(image.pixel(x, y)) < 250) out |= QRect(x, y, 1, 1);
    return out;
}

std::pair<doc::Document, doc::Id> sheetWith(const doc::SheetContent& content, doc::PageRect rect) {
    doc::Document d = DrawnWorld::documentOf("categories");
    d.name = "Isle";
    auto [next, id] = doc::addSheet(d, "Page", 120, 90, {{500000, 6800000}, 200000, 0});
    next = doc::withSheet(next, id, [&](doc::Sheet& sheet) {
        doc::SheetItem panel = *sheet.panel(0), item;
        panel.rect = {500, 500, 60, 40};  // there to be spoken of, off the page
        item.id = 777;
        item.rect = rect;
        item.content = content;
        if (auto* map = item.as<doc::MapPanel>()) *map = *panel.as<doc::MapPanel>();
        sheet.items = {item, panel};
    });
    return {std::move(next), id};
}
}  // namespace

/// Items of a sheet: where they put their ink, and that what they say is so.
class SheetItemsTest : public QObject {
    Q_OBJECT

private slots:
    void keepsEachItemInItsPlace_data() {
        QTest::addColumn<QString>("kind");
        doc::forEachKind<doc::SheetContent>([]<typename T>(const T&) {
            if constexpr (!std::is_same_v<T, doc::UnknownItem>) {
                const std::string kind(doc::kItemKind<T>.name);
                QTest::newRow(kind.c_str()) << QString::fromStdString(kind);
            }
        });
    }
    void keepsEachItemInItsPlace() {
        QFETCH(QString, kind);
        doc::SheetContent content;
        doc::forItemKind(kind.toStdString(), [&](auto made) { content = std::move(made); });
        if (auto* text = std::get_if<doc::TextItem>(&content)) text->text = "Isle";
        if (auto* credits = std::get_if<doc::CreditsItem>(&content)) credits->added = "by hand";
        if (auto* panel = std::get_if<doc::MapPanel>(&content)) panel->hasTicks = false;
        const doc::PageRect rect{40, 30, 60, 40};
        const auto [d, id] = sheetWith(content, rect);
        const QImage shown = sheetPicture(d, id);
        QVERIFY(!shown.isNull());
        const QRect ink = inkOf(shown);
        QVERIFY2(!ink.isEmpty(), qPrintable(kind));
        // Panels may have figures outside their line; all else stays in its box.
        const int spare = kind == "map panel" ? 30 : 3;
        const QRect box(QPoint(int(rect.left * kPxPerMm), int(rect.top * kPxPerMm)),
                        QSize(int(rect.width * kPxPerMm), int(rect.height * kPxPerMm)));
        QVERIFY2(box.adjusted(-spare, -spare, spare, spare).contains(ink),
                 qPrintable(QString("%1 %2 %3 %4")
                                .arg(ink.left())
                                .arg(ink.top())
                                .arg(ink.right())
                                .arg(ink.bottom())));
        // Moved, its ink moves with it; hidden, there is none.
        const auto moved = doc::withItem(
            d, id, 777, [](doc::SheetItem& i) { i.rect.left -= 20, i.rect.top -= 10; });
        const QRect there = inkOf(sheetPicture(moved, id));
        QVERIFY(std::abs(there.left() - (ink.left() - 80)) <= 2);
        QVERIFY(std::abs(there.top() - (ink.top() - 40)) <= 2);
        const auto hidden = doc::withItem(d, id, 777, [](doc::SheetItem& i) { i.isHidden = true; });
        QVERIFY(inkOf(sheetPicture(hidden, id)).isEmpty());
    }

    void drawsTheFirstOfTheListOnTop() {
        auto [d, id] =
            sheetWith(doc::TextItem{"HHHH", 40, true, false, {200, 0, 0}}, {10, 10, 90, 30});
        const auto both =
            doc::addItem(d, id,
                         [] {
                             doc::SheetItem item;
                             item.rect = {10, 10, 90, 30};
                             item.content = doc::TextItem{"HHHH", 40, true, false, {0, 0, 200}};
                             return item;
                         }())
                .first;
        const QImage shown = sheetPicture(both, id);
        int red = 0, blue = 0;
        for (int y = 0; y < shown.height(); ++y)
            for (int x = 0; x < shown.width(); ++x) {
                const QColor c = shown.pixelColor(x, y);
                red += c.red() > 150 && c.blue() < 60 ? 1 : 0;
                blue += c.blue() > 150 && c.red() < 60 ? 1 : 0;
            }
        QVERIFY(blue > 200 && red < blue / 20);
    }

    void fillsInWhatBracesStandFor_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("said");
        QTest::newRow("project") << "{project}"
                                 << "Isle";
        QTest::newRow("sheet") << "on {sheet}."
                               << "on Page.";
        QTest::newRow("twice") << "{sheet} {sheet}"
                               << "Page Page";
        QTest::newRow("unknown") << "{weather}"
                                 << "{weather}";
        QTest::newRow("none") << "plain } text {"
                              << "plain } text {";
    }
    void fillsInWhatBracesStandFor() {
        QFETCH(QString, text);
        QFETCH(QString, said);
        const auto [d, id] = sheetWith(doc::TextItem{}, {1, 1, 10, 10});
        QCOMPARE(liveText(text.toStdString(), d, *d.sheet(id)), said);
        QVERIFY(liveText("{scale}", d, *d.sheet(id)).contains(":"));
        QVERIFY(liveText("{crs}", d, *d.sheet(id)).contains("29N"));
        QVERIFY(!liveText("{date}", d, *d.sheet(id)).contains('{'));
    }

    void worksOutFormulas_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("said");
        QTest::newRow("sum") << "{categories: sum(value)} in all"
                             << "15 in all";
        QTest::newRow("text") << "{categories: join('an ', 'isle')}"
                              << "an isle";
        QTest::newRow("two") << "{categories: count(value)}/{categories: max(value)}"
                             << "3/9";
        QTest::newRow("no such layer") << "{Weather: sum(value)}"
                                       << "{Weather: sum(value)}";
        QTest::newRow("plain") << "no braces: none"
                               << "no braces: none";
    }
    void worksOutFormulas() {
        QFETCH(QString, text);
        QFETCH(QString, said);
        const auto [d, id] = sheetWith(doc::TextItem{}, {1, 1, 10, 10});
        QCOMPARE(withFormulas(text, d, DrawnWorld()), said);
    }
    void saysWhichFormulasAreNotOne() {
        const auto [d, id] = sheetWith(doc::TextItem{}, {1, 1, 10, 10});
        QVERIFY(withFormulas("{categories: value}", d, DrawnWorld()).contains("row to row"));
        QVERIFY(withFormulas("{categories: sum(goats)}", d, DrawnWorld()).contains("goats"));
    }

    // At any scale, latitude and unit a bar is of a round length that is what it says.
    void saysTrueLengths_data() {
        QTest::addColumn<int>("unit");
        QTest::addColumn<int>("code");
        for (int unit = 0; unit <= int(LengthUnit::NauticalMiles); ++unit)
            for (const int code : {32629, 3857, 3035, 4326})
                QTest::newRow(qPrintable(QString("unit %1 in %2").arg(unit).arg(code)))
                    << unit << code;
    }
    void saysTrueLengths() {
        QFETCH(int, unit);
        QFETCH(int, code);
        const auto crs = *crs::crsFromCode(code);
        std::mt19937 random(static_cast<unsigned>(code + unit));
        for (int i = 0; i < 40; ++i) {
            MapFrame frame;
            frame.crs = crs;
            frame.widthPx = 900, frame.heightPx = 600;
            const double scale = std::pow(10, std::uniform_real_distribution(2.7, 6.5)(random));
            const Point lonLat{std::uniform_real_distribution(-14.0, 20.0)(random),
                               std::uniform_real_distribution(45.0, 66.0)(random)};
            const auto way = crs::Transformation::between(*crs::crsFromCode(4326), crs);
            QVERIFY(way.has_value());
            frame.view = doc::atGroundScale({way->forward(lonLat), 1, 0}, crs, scale);
            const double room = 300;
            const ScaleBar bar = scaleBarFor(frame, room, static_cast<LengthUnit>(unit));
            QVERIFY2(bar.lengthPx > room / 8 && bar.lengthPx <= room * 1.001,
                     qPrintable(QString::number(bar.lengthPx)));
            // Its pixels are its metres on the ground.
            const double metres = bar.lengthPx * frame.unitsPerPx() * frame.groundMetresPerUnit();
            QVERIFY2(std::abs(metres / bar.metres - 1) < 1e-6,
                     qPrintable(QString("%1 %2").arg(metres).arg(bar.metres)));
            // And round in its unit: two figures at most.
            const double number = bar.metres / bar.unit.metres;
            const double power = std::pow(10, std::floor(std::log10(number) + 1e-9) - 1);
            QVERIFY2(std::abs(number / power - std::round(number / power)) < 1e-6,
                     qPrintable(QString::number(number)));
            // The parts are round too: no thirds of anything.
            const double part = number / bar.divisions;
            const double tenth = std::pow(10, std::floor(std::log10(part) + 1e-9) - 1);
            QVERIFY(bar.divisions >= 1 && bar.divisions <= 5);
            QVERIFY(std::abs(part / tenth - std::round(part / tenth)) < 1e-6);
        }
    }

    void pointsNorth() {
        MapFrame frame;
        frame.crs = *crs::crsFromCode(32629);
        frame.view = {{500000, 6800000}, 50000, 0};
        frame.widthPx = 200, frame.heightPx = 200;
        // On the central meridian grid north is true north.
        QVERIFY(std::abs(northAngle(frame)) < 0.01);
        frame.view.rotation = 30;
        QVERIFY(std::abs(std::abs(northAngle(frame)) - 30) < 0.01);
        frame.view.rotation = 0;
        frame.view.centre = {250000, 6800000};  // far to the west of it
        QVERIFY(std::abs(northAngle(frame)) > 1);
    }
};

QTEST_MAIN(SheetItemsTest)
#include "sheet_items_test.moc"
