#include <QFile>
#include <QGuiApplication>
#include <QPainter>
#include <QRegularExpression>
#include <QTest>

#include "carto/grid_painter.h"
#include "carto/legend.h"
#include "carto/map_renderer.h"
#include "carto/scale_bar.h"
#include "carto/sheet/north_arrow.h"
#include "carto/sheet_painter.h"
#include "carto/swatch.h"
#include "carto/vector_painter.h"
#include "core/globe/mapping.h"
#include "core/globe/raster_extent.h"
#include "document/edits/sheet_edits.h"
#include "document/json/described_names.h"
#include "support/continents.h"
#include "support/drawn_world.h"
#include "support/places.h"

using namespace ledge;
using namespace ledge::carto;
using ledge::test::DrawnWorld;
using ledge::test::worldOf;

namespace {
constexpr int kWidth = 180, kHeight = 120;
// Of the pixels so many may be off by so much: type differs a little between machines.
constexpr int kOff = 24;
constexpr double kShare = 0.012;

MapFrame frame() {
    MapFrame out;
    out.crs = *crs::crsFromCode(32629);
    out.view = {{500000, 6800000}, 100000, 0};
    out.widthPx = kWidth, out.heightPx = kHeight;
    return out;
}

QImage blank(int width = kWidth, int height = kHeight) {
    QImage out(width, height, QImage::Format_RGB32);
    out.fill(Qt::white);
    return out;
}

QImage mapOf(const std::string& kind) {
    QImage out = blank();
    const doc::Document d = DrawnWorld::documentOf(kind);
    MapRenderer renderer(std::make_shared<DrawnWorld>());
    MapReport report;
    const auto picture = renderer.picture(d, d.layers, frame(), {}, report);
    if (!picture || !report.problems.empty()) return {};
    QPainter(&out).drawImage(0, 0, *picture);
    return out;
}

// As on paper: vectors stay vectors.
QImage paperOf(const std::string& kind) {
    QImage out = blank();
    QPainter painter(&out);
    const doc::Document d = DrawnWorld::documentOf(kind);
    MapRenderer renderer(std::make_shared<DrawnWorld>());
    MapReport report;
    if (!renderer.paint(painter, d, d.layers, frame(), {}, report)) return {};
    painter.end();
    return out;
}

QImage sheetOf(const doc::SheetContent& content) {
    doc::Document d = DrawnWorld::documentOf("categories");
    d.sources[0].credit = "Survey of the isle";
    auto [next, id] = doc::addSheet(d, "Sheet", 60, 40, {{500000, 6800000}, 200000, 0});
    next = doc::withSheet(next, id, [&](doc::Sheet& sheet) {
        doc::SheetItem panel = *sheet.panel(0), item;
        panel.rect = {500, 500, 60, 40};  // off the page, there to be spoken of
        item.id = 99;
        item.rect = {4, 4, 52, 32};
        item.content = content;
        if (auto* map = item.as<doc::MapPanel>()) *map = *panel.as<doc::MapPanel>();
        if (item.as<doc::MapPanel>()) item.frameMm = panel.frameMm;
        sheet.items = {item, panel};
    });
    const auto data = std::make_shared<DrawnWorld>();
    QImage out = blank(240, 160);
    QPainter painter(&out);
    MapReport report;
    const auto done = paintSheet(
        painter, next, *next.sheet(id), 4, *data,
        [&](QPainter& p, const doc::SheetItem& item, const MapFrame& panel) -> Result<void> {
            if (item.id != 99) return {};
            MapRenderer renderer(data);
            const auto picture = renderer.picture(next, next.layers, panel, {}, report);
            if (!picture) return picture.error();
            p.drawImage(0, 0, *picture);
            return {};
        });
    painter.end();
    return done ? out : QImage();
}

// Lands over both poles and the antimeridian, cut, on a filled globe with its net of lines.
QImage globeOf(const std::string& crs) {
    MapFrame globe;
    globe.crs = *crs::parseCrs("world:" + crs);
    globe.widthPx = 260, globe.heightPx = 180;
    globe.pxPerMm = 4;
    globe.view = viewOf(globe::wholeMap(globe.crs).grown(2.2e6), globe.crs, 260, 180, 4);
    QImage out = blank(260, 180);
    QPainter painter(&out);
    doc::GridStyle net;
    net.interval = 30;
    net.hasOutline = net.hasSea = true;
    net.labelPt = 4;
    paintSea(painter, globe, net, 1);
    auto mapped = globe::mapped(worldOf(240), globe.crs, globe.tolerance());
    if (!mapped) return {};
    doc::MapFeatures lands(std::make_shared<const FeatureTable>(std::move(mapped->table)));
    lands.seams = std::move(mapped->seams);
    doc::VectorStyle style;
    style.look.fill = {0xE6, 0xD8, 0xB0};
    style.look.strokeMm = 0.12;
    if (!paintFeatures(painter, globe, lands, style, {})) return {};
    if (!paintGridLines(painter, globe, net, {})) return {};
    painter.end();
    return out;
}

// What a legend says of one layer.
QImage legendOf(const std::string& kind) {
    QImage out = blank();
    QPainter painter(&out);
    const doc::Document d = DrawnWorld::documentOf(kind);
    const doc::LegendItem item;
    paintLegend(painter, QRectF(6, 6, kWidth - 12, kHeight - 12), legendEntries(d.layers, item),
                item, 4);
    painter.end();
    return out;
}

QImage swatchesOf() {
    QImage out = blank(240, 90);
    QPainter painter(&out);
    int at = 0;
    for (const char* kind : {"tint", "light", "steepness", "contours", "grid", "band", "areas",
                             "dashed lines", "marks", "categories", "ramp", "number classes",
                             "sizes", "dots", "rules", "hatched areas"}) {
        const doc::Document d = DrawnWorld::documentOf(kind);
        const QImage one = swatch(*d.layers[0], QSize(36, 26), 1);
        painter.drawImage(2 + at % 6 * 40, 2 + at / 6 * 30, one);
        ++at;
    }
    return out;
}

// Every built-in mark, a turned one, characters in place of one, and a drawing.
QImage marksOf() {
    QImage out = blank(200, 130);
    QPainter painter(&out);
    painter.setRenderHint(QPainter::Antialiasing);
    std::vector<doc::Look> looks;
    for (std::size_t i = 0; i < doc::kNames<doc::Mark>.size(); ++i)
        looks.emplace_back().mark = static_cast<doc::Mark>(i);
    looks.emplace_back().mark = doc::Mark::Needle;
    looks.back().markTurn = 60;
    looks.emplace_back().markText = "H";
    looks.emplace_back().markPicture =
        "<svg xmlns='http://www.w3.org/2000/svg' width='10' height='10'>"
        "<circle cx='5' cy='5' r='4' fill='none' stroke='currentColor' stroke-width='2'/></svg>";
    for (std::size_t i = 0; i < looks.size(); ++i) {
        looks[i].markMm = 6;
        const QPointF at(8 + double(i % 5) * 38, 6 + double(i / 5) * 40);
        drawSample(painter, QRectF(at, QSizeF(32, 32)), GeometryType::Point, looks[i], 4);
    }
    return out;
}
}  // namespace

/// Every painter against a small picture that was looked at. LEDGE_GOLDEN=write makes them anew.
class GoldenTest : public QObject {
    Q_OBJECT

private slots:
    void looksAsItDid_data() {
        QTest::addColumn<QString>("name");
        for (const char* name : {"map-tint",
                                 "map-light",
                                 "map-plain light",
                                 "map-steepness",
                                 "map-contours",
                                 "map-grid",
                                 "map-graticule",
                                 "map-band",
                                 "map-classes",
                                 "map-areas",
                                 "map-dashed lines",
                                 "map-marks",
                                 "map-names",
                                 "map-categories",
                                 "map-ramp",
                                 "paper-contours",
                                 "paper-areas",
                                 "paper-grid",
                                 "paper-light",
                                 "sheet-panel",
                                 "sheet-text",
                                 "sheet-legend",
                                 "sheet-scale bar",
                                 "sheet-north arrow",
                                 "sheet-credits",
                                 "sheet-profile",
                                 "swatches",
                                 "globe-robinson@150",
                                 "globe-homolosine",
                                 "globe-azimuthal-equal-area@0,90",
                                 "globe-mercator@-100",
                                 "map-hatched areas",
                                 "map-dotted areas",
                                 "map-crossed areas",
                                 "map-cased lines",
                                 "map-arrows",
                                 "map-number classes",
                                 "map-sizes",
                                 "map-dots",
                                 "map-rules",
                                 "map-bent name",
                                 "map-area names",
                                 "map-classed sizes",
                                 "map-square ends",
                                 "map-flat ends",
                                 "map-ticks",
                                 "map-marks along",
                                 "map-own drawings",
                                 "map-name on the line",
                                 "map-name below the line",
                                 "map-names along areas",
                                 "map-set type",
                                 "marks",
                                 "legend-classed sizes",
                                 "paper-hatched areas",
                                 "paper-dots",
                                 "legend-number classes",
                                 "legend-sizes",
                                 "legend-dots",
                                 "legend-rules"})
            QTest::newRow(name) << name;
    }
    void looksAsItDid() {
        QFETCH(QString, name);
        const QString rest = name.section('-', 1);
        QImage now;
        if (name.startsWith("map-")) now = mapOf(rest.toStdString());
        if (name.startsWith("paper-")) now = paperOf(rest.toStdString());
        if (name.startsWith("legend-")) now = legendOf(rest.toStdString());
        if (name == "swatches") now = swatchesOf();
        if (name == "marks") now = marksOf();
        if (name.startsWith("globe-")) now = globeOf(rest.toStdString());
        if (rest == "panel") now = sheetOf(doc::MapPanel{});
        if (rest == "text")
            now = sheetOf(doc::TextItem{"Isle of {project}\nin two lines",
                                        11,
                                        true,
                                        true,
                                        {0x5C, 0x2A, 0x2A},
                                        doc::Align::Centre});
        if (rest == "legend") now = sheetOf(doc::LegendItem{0, 2, 7.5, "What is where", {}, {}});
        if (rest == "scale bar") now = sheetOf(doc::ScaleBarItem{0, 7});
        if (rest == "north arrow") now = sheetOf(doc::NorthArrowItem{0});
        if (rest == "credits")
            now = sheetOf(doc::CreditsItem{"drawn by hand", 7, doc::Align::Right});
        if (rest == "profile") now = sheetOf(doc::ProfileItem{0});
        QVERIFY(!now.isNull());
        const QString path = (test::kTestData + QString("/golden/%1.png"))
                                 .arg(QString(name).replace(QRegularExpression("[ @,]"), "-"));
        if (qEnvironmentVariable("LEDGE_GOLDEN") == "write") QVERIFY(now.save(path));
        const QImage golden = QImage(path).convertToFormat(QImage::Format_RGB32);
        QCOMPARE(now.size(), golden.size());
        int off = 0, inked = 0;
        for (int y = 0; y < now.height(); ++y)
            for (int x = 0; x < now.width(); ++x) {
                const QRgb a = now.pixel(x, y), b = golden.pixel(x, y);
                const int difference =
                    std::max({std::abs(qRed(a) - qRed(b)), std::abs(qGreen(a) - qGreen(b)),
                              std::abs(qBlue(a) - qBlue(b))});
                off += difference > kOff ? 1 : 0;
                inked += qRed(b) < 250 || qBlue(b) < 250 ? 1 : 0;
            }
        const double share = double(off) / (now.width() * now.height());
        if (share > kShare) now.save(QString("golden-%1-now.png").arg(name));
        QVERIFY2(share <= kShare, qPrintable(QString("%1 % differ").arg(100 * share)));
        QVERIFY(inked > 60);
    }
};

QTEST_MAIN(GoldenTest)
#include "golden_test.moc"
