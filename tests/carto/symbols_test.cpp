#include <QPainter>
#include <QTest>

#include "carto/map_renderer.h"
#include "carto/symbol_painter.h"
#include "carto/vector_painter.h"
#include "support/drawn_world.h"

using namespace ledge;
using namespace ledge::carto;

namespace {
MapFrame frame(int width = 200, int height = 120) {
    MapFrame out;
    out.view = {{0, 0}, 1000 * 96 / 25.4, 0};  // a pixel a metre
    out.widthPx = width, out.heightPx = height;
    return out;
}

QImage painted(const Geometry& geometry, const doc::Symbol& symbol, const MapFrame& on = frame()) {
    QImage out(on.widthPx, on.heightPx, QImage::Format_ARGB32_Premultiplied);
    out.fill(Qt::white);
    QPainter painter(&out);
    painter.setRenderHint(QPainter::Antialiasing);
    paintGeometry(painter, on, geometry, symbol);
    return out;
}

int inked(const QImage& image, const QColor& colour) {
    int out = 0;
    for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x) out += image.pixelColor(x, y) == colour ? 1 : 0;
    return out;
}

const QColor kRed(200, 0, 0), kBlue(0, 0, 200);
const Colour kRedInk{200, 0, 0}, kBlueInk{0, 0, 200};

Geometry square(double half) {
    return Geometry::polygon(
        {{{-half, -half}, {half, -half}, {half, half}, {-half, half}, {-half, -half}}});
}
}  // namespace

/// Symbols as lists of parts: what each part puts on paper, measured in pixels.
class SymbolsTest : public QObject {
    Q_OBJECT

private slots:
    // Neighbouring areas and frames continue each other's lines.
    void hatchesThePaperNotTheArea_data() {
        QTest::addColumn<int>("pattern");
        for (int i = 1; i < 5; ++i) QTest::addRow("%d", i) << i;
    }
    void hatchesThePaperNotTheArea() {
        QFETCH(int, pattern);
        const doc::Symbol symbol{
            {doc::PatternPart{static_cast<doc::Pattern>(pattern), kRedInk, 3, 0.5, 30}}};
        const QImage whole = painted(square(50), symbol);
        QVERIFY(inked(whole, kRed) > 60);
        // Both halves of it together, and another frame of the same map.
        const auto half = [](double from, double to) {
            return Geometry::polygon({{{from, -50}, {to, -50}, {to, 50}, {from, 50}}});
        };
        QImage halves(200, 120, QImage::Format_ARGB32_Premultiplied);
        halves.fill(Qt::white);
        QPainter painter(&halves);
        painter.setRenderHint(QPainter::Antialiasing);
        paintGeometry(painter, frame(), half(-50, 7), symbol);
        paintGeometry(painter, frame(), half(7, 50), symbol);
        painter.end();
        MapFrame moved = frame();
        moved.view.centre = {17, -9};
        const QImage other = painted(square(50), symbol, moved);
        int off = 0, shifted = 0;
        for (int y = 12; y < 108; ++y)
            for (int x = 53; x < 147; ++x) {
                off += std::abs(qGray(halves.pixel(x, y)) - qGray(whole.pixel(x, y))) > 60 ? 1 : 0;
                if (x - 17 > 0 && y - 9 > 0)
                    shifted +=
                        std::abs(qGray(other.pixel(x - 17, y - 9)) - qGray(whole.pixel(x, y))) > 40
                            ? 1
                            : 0;
            }
        QVERIFY2(off < 120, qPrintable(QString::number(off)));
        QVERIFY2(shifted < 120, qPrintable(QString::number(shifted)));
    }
    void paintsCasingBeneathAll() {
        doc::Look look;
        look.strokeMm = 1, look.casingMm = 1;
        look.stroke = kRedInk, look.casing = kBlueInk;
        const doc::Symbol symbol = doc::symbolOf(look, GeometryType::Line);
        QCOMPARE(symbol.parts.size(), std::size_t{2});
        QVERIFY(symbol.hasBeneath());
        QVERIFY(!doc::symbolOf(look, GeometryType::Polygon).hasBeneath());
        const Geometry line = Geometry::line({{-80, 0}, {80, 0}});
        const QImage image = painted(line, symbol);
        QCOMPARE(image.pixelColor(100, 60), kRed);
        QCOMPARE(image.pixelColor(100, 63), kBlue);
    }
    void dashesAsTyped() {
        doc::LinePart line;
        line.colour = kRedInk;
        line.widthMm = 2;
        line.dashesMm = {5, 5};
        const QImage image = painted(Geometry::line({{-90, 0}, {90, 0}}), {{line}});
        int changes = 0;
        for (int x = 12; x < 188; ++x)
            changes += (image.pixelColor(x, 60) == kRed) != (image.pixelColor(x - 1, 60) == kRed);
        // A change every five millimetres of 3.78 pixels.
        QVERIFY2(std::abs(changes - 176 / (5 * 96 / 25.4)) <= 1.5,
                 qPrintable(QString::number(changes)));
    }
    void offsetsToTheRight() {
        doc::LinePart line;
        line.colour = kRedInk;
        line.offsetMm = 5;
        const QImage image = painted(Geometry::line({{-80, 0}, {80, 0}}), {{line}});
        // Eastwards the right is south.
        QCOMPARE(inked(image.copy(0, 0, 200, 62), kRed), 0);
        QVERIFY(qGray(image.pixel(100, 60 + 19)) < 200);
    }
    void putsMarksAlong_data() {
        QTest::addColumn<int>("along");
        for (int i = 1; i < 4; ++i) QTest::addRow("%d", i) << i;
    }
    void putsMarksAlong() {
        QFETCH(int, along);
        doc::AlongPart part;
        part.along = static_cast<doc::Along>(along);
        part.colour = kRedInk;
        part.sizeMm = 3, part.everyMm = 10;
        const Geometry line = Geometry::line({{-90, 0}, {90, 0}});
        const QImage image = painted(line, {{part}});
        // Four or five of them, none where they are told not to be.
        int marks = 0;
        bool wasInk = false;
        for (int x = 0; x < 200; ++x) {
            bool isInk = false;
            for (int y = 45; y < 76; ++y) isInk = isInk || qGray(image.pixel(x, y)) < 200;
            marks += isInk && !wasInk ? 1 : 0;
            wasInk = isInk;
        }
        QVERIFY2(marks == 4 || marks == 5, qPrintable(QString::number(marks)));
    }
    void drawsEveryMark_data() {
        QTest::addColumn<int>("mark");
        for (int i = 0; i <= static_cast<int>(doc::Mark::Needle); ++i) QTest::addRow("%d", i) << i;
    }
    void drawsEveryMark() {
        QFETCH(int, mark);
        const QRectF box = markPath(static_cast<doc::Mark>(mark), 20).boundingRect();
        QVERIFY(box.contains(QPointF(0, 0)));
        QVERIFY2(box.width() > 10 && box.width() < 28 && box.height() > 14 && box.height() < 29,
                 qPrintable(QString("%1 x %2").arg(box.width()).arg(box.height())));
        doc::MarkPart part;
        part.mark = static_cast<doc::Mark>(mark);
        part.sizeMm = 8;
        part.fill = kRedInk;
        QVERIFY(inked(painted(Geometry::point({0, 0}), {{part}}), kRed) > 90);
    }

    void fillsTheInside() {
        const QImage image = painted(square(25), {{doc::FillPart{kRedInk}}});
        QVERIFY(std::abs(inked(image, kRed) - 50 * 50) < 60);
        QCOMPARE(image.pixelColor(100, 60), kRed);
        QCOMPARE(image.pixelColor(10, 10), QColor(Qt::white));
        // A hole stays clear.
        const Geometry ring = Geometry::polygon({{{-25, -25}, {25, -25}, {25, 25}, {-25, 25}},
                                                 {{-10, -10}, {10, -10}, {10, 10}, {-10, 10}}});
        const QImage holed = painted(ring, {{doc::FillPart{kRedInk}}});
        QVERIFY(std::abs(inked(holed, kRed) - (50 * 50 - 20 * 20)) < 90);
        QCOMPARE(holed.pixelColor(100, 60), QColor(Qt::white));
    }

    void paintsPartsBottomFirst() {
        const doc::LinePart wide{kBlueInk, 10 * 25.4 / 96, doc::Dash::Solid};
        const doc::Symbol above{{doc::FillPart{kRedInk}, wide}},
            below{{wide, doc::FillPart{kRedInk}}};
        const QImage one = painted(square(25), above), other = painted(square(25), below);
        // The line lies half inside: covered by the fill when the fill comes last.
        QCOMPARE(one.pixelColor(100 - 25 + 2, 60), kBlue);
        QCOMPARE(other.pixelColor(100 - 25 + 2, 60), kRed);
        QCOMPARE(other.pixelColor(100 - 25 - 3, 60), kBlue);
        QVERIFY(inked(one, kBlue) > inked(other, kBlue));
    }

    void keepsWidthsInMillimetres() {
        const Geometry line = Geometry::line({{-200, 0}, {200, 0}});
        for (const double mm : {0.5, 1.0, 3.0}) {
            const QImage image = painted(line, {{doc::LinePart{kRedInk, mm, doc::Dash::Solid}}});
            double ink = 0;
            for (int y = 0; y < image.height(); ++y)
                ink += 1 - image.pixelColor(100, y).green() / 255.0;
            QVERIFY2(std::abs(ink - mm * 96 / 25.4) < 0.15, qPrintable(QString::number(ink)));
        }
    }

    // Dashes begin where the line does: seen through any frame they lie at the same places.
    void dashesFromTheLinesBeginning_data() {
        QTest::addColumn<int>("dash");
        QTest::newRow("dashes") << int(doc::Dash::Dashes);
        QTest::newRow("dots") << int(doc::Dash::Dots);
        QTest::newRow("dash-dot") << int(doc::Dash::DashDot);
    }
    void dashesFromTheLinesBeginning() {
        QFETCH(int, dash);
        const Geometry line = Geometry::line({{-5000, 0}, {-37, 0}, {5000, 0}});
        const doc::Symbol symbol{{doc::LinePart{kRedInk, 1, static_cast<doc::Dash>(dash)}}};
        const QImage whole = painted(line, symbol);
        MapFrame part = frame(80, 40);
        part.view.centre = {-30, 0};  // pixels 30 to 110 of the whole
        const QImage seen = painted(line, symbol, part);
        int inkedThere = 0, different = 0;
        for (int x = 2; x < 78; ++x) {
            const bool there = seen.pixelColor(x, 20).green() < 128;
            inkedThere += there ? 1 : 0;
            different += there != (whole.pixelColor(x + 30, 60).green() < 128) ? 1 : 0;
        }
        QVERIFY(inkedThere > 8 && inkedThere < 70);
        QVERIFY2(different <= 2, qPrintable(QString::number(different)));
    }

    void marksPointsInFrameAndNearIt() {
        doc::MarkPart mark{doc::Mark::Square, 20 * 25.4 / 96, 0, kRedInk, {}};
        const QImage image = painted(Geometry::point({0, 0}), {{mark}});
        QVERIFY(inked(image, kRed) > 200 && inked(image, kRed) < 420);
        // Half of a mark whose middle is beyond the edge is there.
        const QImage edge = painted(Geometry::point({-102, 0}), {{mark}});
        QVERIFY(inked(edge, kRed) > 50);
        QCOMPARE(inked(painted(Geometry::point({-300, 0}), {{mark}}), kRed), 0);
        mark.ring = doc::LinePart{kBlueInk, 4 * 25.4 / 96, doc::Dash::Solid};
        const QImage ringed = painted(Geometry::point({0, 0}), {{mark}});
        QVERIFY(inked(ringed, kBlue) > 40);
        mark.fill.reset();
        QCOMPARE(inked(painted(Geometry::point({0, 0}), {{mark}}), kRed), 0);
    }

    void drawsEachMark_data() {
        QTest::addColumn<int>("mark");
        for (int i = 0; i < 4; ++i) QTest::newRow(qPrintable(QString("mark %1").arg(i))) << i;
    }
    void drawsEachMark() {
        QFETCH(int, mark);
        const QPainterPath path = markPath(static_cast<doc::Mark>(mark), 20);
        QVERIFY(path.contains(QPointF(0, 0)));
        const QRectF box = path.boundingRect();
        // About as large as it says, and about its middle.
        QVERIFY(box.width() > 15 && box.width() < 26);
        QVERIFY(box.height() > 15 && box.height() < 26);
        QVERIFY(std::abs(box.center().x()) < 0.5 && std::abs(box.center().y()) < 3);
        for (int other = 0; other < 4; ++other)
            if (other != mark) QVERIFY(markPath(static_cast<doc::Mark>(other), 20) != path);
    }

    void paintsNothingForNothing() {
        const QImage blank = painted(square(25), {});
        QCOMPARE(inked(blank, Qt::white), blank.width() * blank.height());
        const QImage none = painted(Geometry(), {{doc::FillPart{kRedInk}}});
        QCOMPARE(inked(none, Qt::white), none.width() * none.height());
        // A fill finds no inside in a line.
        const QImage line = painted(Geometry::point({0, 0}), {{doc::FillPart{kRedInk}}});
        QCOMPARE(inked(line, kRed), 0);
    }

    // A map of features, its legend and its swatch speak of the same colours.
    void showsTheSameInMapAndLegend() {
        const doc::Document d = test::DrawnWorld::documentOf("categories");
        MapRenderer renderer(std::make_shared<test::DrawnWorld>());
        MapReport report;
        MapFrame on;
        on.crs = *crs::crsFromCode(32629);
        on.view = {{500000, 6800000}, 100000, 0};
        on.widthPx = 180, on.heightPx = 120;
        const auto map = renderer.picture(d, d.layers, on, {}, report);
        QVERIFY(map.has_value());
        for (const auto& category : d.layers[0]->as<doc::VectorLayer>()->style.categories) {
            const Colour c = category.look.fill;
            QVERIFY2(inked(*map, QColor(c.r, c.g, c.b)) > 20, category.label.c_str());
        }
    }
};

QTEST_MAIN(SymbolsTest)
#include "symbols_test.moc"
