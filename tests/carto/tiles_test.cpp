#include <QPainter>
#include <QTest>
#include <random>

#include "carto/map_renderer.h"
#include "document/edits/layer_edits.h"
#include "support/drawn_world.h"

using namespace ledge;
using namespace ledge::carto;
using ledge::test::DrawnWorld;

namespace {
MapFrame frameAt(Point centre, double scale = 30000, double rotation = 0) {
    MapFrame out;
    out.crs = *crs::crsFromCode(32629);
    out.view = {centre, scale, rotation};
    out.widthPx = 330, out.heightPx = 210;
    return out;
}

int worstDifference(const QImage& a, const QImage& b) {
    if (a.size() != b.size()) return 999;
    int worst = 0;
    for (int y = 0; y < a.height(); ++y)
        for (int x = 0; x < a.width(); ++x) {
            const QRgb p = a.pixel(x, y), q = b.pixel(x, y);
            for (const int d : {qRed(p) - qRed(q), qGreen(p) - qGreen(q), qBlue(p) - qBlue(q),
                                qAlpha(p) - qAlpha(q)})
                worst = std::max(worst, std::abs(d));
        }
    return worst;
}

// Which share of the pixels differs so that one could see it.
double farShare(const QImage& a, const QImage& b) {
    int far = 0;
    for (int y = 0; y < a.height(); ++y)
        for (int x = 0; x < a.width(); ++x)
            far += std::abs(qGray(a.pixel(x, y)) - qGray(b.pixel(x, y))) > 24 ? 1 : 0;
    return double(far) / (a.width() * a.height());
}

QImage drawn(MapRenderer& renderer, const doc::Document& d, const MapFrame& frame) {
    MapReport report;
    const auto picture = renderer.picture(d, d.layers, frame, {}, report);
    return picture ? *picture : QImage();
}

TileStore::Version versionOf(doc::Id id, const MapFrame& frame) {
    doc::Layer look;
    look.id = id;
    return {look, {}, 0, Lattice(frame)};
}

LayerPictures filled(int width, int height, QColor colour) {
    LayerPictures out{QImage(width, height, QImage::Format_ARGB32_Premultiplied), {}};
    out.base.fill(colour);
    return out;
}
// With what the store keeps about it.
std::size_t bytesOfOne(QColor colour) {
    constexpr int k = TileStore::kSide;
    TileStore store;
    store.put(versionOf(1, frameAt({0, 0})), {0, 0, k, k}, filled(k, k, colour));
    return store.bytes();
}
}  // namespace

/// The map in tiles: what is drawn for one frame serves the next, and looks the same.
class TilesTest : public QObject {
    Q_OBJECT

private slots:
    void alignsFramesToTheLattice_data() {
        QTest::addColumn<double>("scale");
        QTest::addColumn<double>("rotation");
        for (const double scale : {500.0, 30000.0, 4e6})
            for (const double rotation : {0.0, 17.0, -120.0})
                QTest::newRow(qPrintable(QString("1:%1 by %2").arg(scale).arg(rotation)))
                    << scale << rotation;
    }
    void alignsFramesToTheLattice() {
        QFETCH(double, scale);
        QFETCH(double, rotation);
        std::mt19937 random(4);
        std::uniform_real_distribution<double> off(-3000, 3000);
        for (int i = 0; i < 50; ++i) {
            const MapFrame frame =
                frameAt({500000 + off(random), 6800000 + off(random)}, scale, rotation);
            const MapFrame aligned = Lattice::aligned(frame);
            const Lattice lattice(frame);
            QVERIFY(lattice == Lattice(aligned));
            // Moved by half a pixel at most, and staying where it is when aligned again.
            const Point moved =
                frame.toPixels()(aligned.view.centre) - frame.toPixels()(frame.view.centre);
            QVERIFY(std::abs(moved.x) <= 0.5 + 1e-6 && std::abs(moved.y) <= 0.5 + 1e-6);
            const PixelRect pixels = lattice.pixelsOf(aligned);
            QCOMPARE(pixels, lattice.pixelsOf(Lattice::aligned(aligned)));
            QCOMPARE(pixels, lattice.pixelsOf(lattice.frameOf(pixels)));
            // A frame beside it shares its pixels: the same place falls on the same spot.
            const MapFrame beside = lattice.frameOf({pixels.left + 37, pixels.top - 21, 90, 80});
            const Point place = aligned.toMap()({100, 60});
            const Point here = aligned.toPixels()(place), there = beside.toPixels()(place);
            QVERIFY(std::abs(here.x - 37 - there.x) < 1e-5);
            QVERIFY(std::abs(here.y + 21 - there.y) < 1e-5);
        }
        QVERIFY(!(Lattice(frameAt({0, 0}, scale, rotation)) ==
                  Lattice(frameAt({0, 0}, scale * 1.01, rotation))));
        QVERIFY(!(Lattice(frameAt({0, 0}, scale, rotation)) ==
                  Lattice(frameAt({0, 0}, scale, rotation + 1))));
    }

    void asksForWhatIsMissingInFewPieces() {
        TileStore store;
        const auto version = versionOf(1, frameAt({0, 0}));
        constexpr int k = TileStore::kSide;
        const PixelRect all{-k - 5, 10, 3 * k, 2 * k};
        store.beginPicture({1});
        const auto first = store.missing(version, all);
        QCOMPARE(first.size(), std::size_t{1});
        QVERIFY(first[0] == (PixelRect{-2 * k, 0, 4 * k, 3 * k}));
        store.put(version, first[0], filled(first[0].width, first[0].height, Qt::red));
        QVERIFY(store.missing(version, all).empty());
        // A step to the right and down: two strips, and nothing that is there already.
        const PixelRect moved{all.left + k, all.top + k, all.width, all.height};
        const auto strips = store.missing(version, moved);
        int pixels = 0;
        for (const PixelRect& strip : strips) pixels += strip.width * strip.height / (k * k);
        QVERIFY(strips.size() <= 2);
        QCOMPARE(pixels, 3 + 3);  // a row of four where one is there already, and a column of three
    }

    void drawsNothingTwiceAndForgetsWhatIsOldest() {
        constexpr int k = TileStore::kSide;
        const MapFrame frame = frameAt({0, 0});
        const std::size_t one = bytesOfOne(Qt::blue);
        TileStore store(10 * one);
        const auto put = [&](doc::Id id, std::int64_t col) {
            store.put(versionOf(id, frame), {col * k, 0, k, k}, filled(k, k, Qt::blue));
        };
        store.beginPicture({1, 2});
        for (int col = 0; col < 6; ++col) put(1, col);
        for (int col = 0; col < 4; ++col) put(2, col);
        QCOMPARE(store.bytes(), 10 * one);
        store.beginPicture({1, 2});
        QVERIFY(store.missing(versionOf(1, frame), {0, 0, 6 * k, k}).empty());
        put(1, 6);  // there is no room: what the last picture showed and this one does not goes
        QVERIFY(store.bytes() <= 10 * one);
        QVERIFY(store.missing(versionOf(1, frame), {0, 0, 7 * k, k}).empty());
        QCOMPARE(store.missing(versionOf(2, frame), {0, 0, 4 * k, k}).size(), std::size_t{1});
        // What the map shows now stays, whatever the limit says.
        for (int col = 7; col < 30; ++col) put(1, col);
        QVERIFY(store.missing(versionOf(1, frame), {0, 0, 30 * k, k}).empty());
        QCOMPARE(store.bytes(), 30 * one);
        store.beginPicture({2});
        QCOMPARE(store.bytes(), std::size_t{0});
        QVERIFY(!store.layers().contains(1));
        // Clear tiles are kept and cost next to nothing.
        store.put(versionOf(2, frame), {0, 0, k, k}, filled(k, k, Qt::transparent));
        QVERIFY(store.bytes() > 0 && store.bytes() < 512);
        QVERIFY(store.missing(versionOf(2, frame), {0, 0, k, k}).empty());
    }

    // A picture of more than there is room for says so, keeps its first layers, and the next
    // picture finds those and is full no sooner.
    void saysWhenItIsFull() {
        constexpr int k = TileStore::kSide;
        const MapFrame frame = frameAt({0, 0});
        TileStore store(5 * bytesOfOne(Qt::blue));
        std::set<doc::Id> all;
        for (doc::Id id = 1; id <= 20; ++id) all.insert(id);
        for (int turn = 0; turn < 3; ++turn) {
            store.beginPicture(all);
            QVERIFY(!store.isFull());
            for (doc::Id id = 1; id <= 20; ++id) {
                if (store.isFull()) continue;
                const auto missing = store.missing(versionOf(id, frame), {0, 0, k, k});
                QCOMPARE(missing.empty(), turn > 0 && id <= 5);
                for (const PixelRect& piece : missing)
                    store.put(versionOf(id, frame), piece, filled(k, k, Qt::blue));
            }
            QCOMPARE(store.layers().size(), std::size_t{6});
        }
        // Another picture, of others: there is room again.
        store.beginPicture({21});
        store.put(versionOf(21, frame), {0, 0, k, k}, filled(k, k, Qt::red));
        QVERIFY(!store.isFull());
    }

    void tellsVersionsApart() {
        TileStore store;
        constexpr int k = TileStore::kSide;
        const auto version = versionOf(1, frameAt({0, 0}));
        store.beginPicture({1});
        store.put(version, {0, 0, k, k}, filled(k, k, Qt::red));
        const PixelRect tile{0, 0, k, k};
        auto other = version;
        other.data = 1;
        QVERIFY(!store.missing(other, tile).empty());
        other = version;
        other.look.widestScale = 5;
        QVERIFY(!store.missing(other, tile).empty());
        other = version;
        other.source.heightUnit = doc::HeightUnit::Foot;
        QVERIFY(!store.missing(other, tile).empty());
        QVERIFY(!store.missing(versionOf(1, frameAt({0, 0}, 31000)), tile).empty());
        QVERIFY(store.missing(version, tile).empty());
        // As they lie, over a corner of four tiles.
        store.put(version, {k, 0, k, k}, filled(k, k, Qt::green));
        const auto put = store.assembled(version, {k / 2, -k / 2, k, k});
        QCOMPARE(QColor(put.base.pixel(k / 4, 3 * k / 4)), QColor(Qt::red));
        QCOMPARE(QColor(put.base.pixel(3 * k / 4, 3 * k / 4)), QColor(Qt::green));
        QCOMPARE(qAlpha(put.base.pixel(k / 4, k / 4)), 0);
        QVERIFY(put.screen.isNull());
    }

    void looksTheSameInTiles_data() {
        QTest::addColumn<QString>("kind");
        QTest::addColumn<double>("rotation");
        QTest::addColumn<int>("tolerance");
        for (const double rotation : {0.0, 25.0}) {
            const auto row = [rotation](const char* kind, int tolerance) {
                QTest::newRow(qPrintable(QString("%1 by %2").arg(kind).arg(rotation)))
                    << kind << rotation << tolerance;
            };
            row("tint", 3);
            row("light", 4);
            row("steepness", 4);
            // Thin lines are set to fractions of a pixel from where the picture cuts them.
            row("areas", 160);
            row("dashed lines", 110);
            row("marks", 80);
            row("contours", 0);
            row("grid", 0);
        }
    }
    void looksTheSameInTiles() {
        QFETCH(QString, kind);
        QFETCH(double, rotation);
        QFETCH(int, tolerance);
        const auto world = std::make_shared<DrawnWorld>();
        doc::Document d = DrawnWorld::documentOf(kind.toStdString());
        QVERIFY(!d.layers.empty());
        // Heights along contours stay where they stood while the map is panned.
        if (kind == "contours")
            d = doc::withLayer(std::move(d), d.layers[0]->id, [](doc::Layer& layer) {
                layer.as<doc::Contours>()->style.hasLabels = false;
            });
        MapRenderer tiles(world, MapRenderer::Keeping::Tiles);
        std::mt19937 random(11);
        std::uniform_real_distribution<double> step(-400, 400);
        Point at{500000, 6800000};
        for (int i = 0; i < 8; ++i) {
            const MapFrame frame = Lattice::aligned(frameAt(at, 30000, rotation));
            MapRenderer fresh(world);
            const QImage whole = drawn(fresh, d, frame), put = drawn(tiles, d, frame);
            const int off = worstDifference(whole, put);
            QVERIFY2(off <= tolerance, qPrintable(QString("step %1: %2").arg(i).arg(off)));
            QVERIFY(farShare(whole, put) < 0.005);
            at = at + Point{step(random), step(random)};
        }
        // There is something to see.
        const QImage last = drawn(tiles, d, Lattice::aligned(frameAt({500000, 6800000})));
        QVERIFY(worstDifference(last, last.mirrored()) > 10);
    }

    void readsOnlyWhatCameIntoView() {
        const auto world = std::make_shared<DrawnWorld>();
        const doc::Document d = DrawnWorld::documentOf("light");
        MapRenderer tiles(world, MapRenderer::Keeping::Tiles);
        const MapFrame frame = Lattice::aligned(frameAt({500000, 6800000}));
        QVERIFY(!drawn(tiles, d, frame).isNull());
        const int before = world->reads;
        QVERIFY(!drawn(tiles, d, frame).isNull());
        QCOMPARE(world->reads, before);
        const Lattice lattice(frame);
        PixelRect pixels = lattice.pixelsOf(frame);
        pixels.left += 300;
        QVERIFY(!drawn(tiles, d, lattice.frameOf(pixels)).isNull());
        QVERIFY(world->reads > before);
        const int after = world->reads;
        pixels.left -= 300;
        QVERIFY(!drawn(tiles, d, lattice.frameOf(pixels)).isNull());
        QCOMPARE(world->reads, after);
        // A change of opacity or name draws nothing, of the light everything, undo nothing.
        const auto edited = [&](auto change) { return doc::withLayer(d, d.layers[0]->id, change); };
        (void)drawn(tiles, edited([](doc::Layer& l) { l.opacity = 0.3, l.name = "x"; }), frame);
        QCOMPARE(world->reads, after);
        // The file changed: what it was drawn from is another.
        ++world->data;
        (void)drawn(tiles, d, frame);
        QVERIFY(world->reads > after);
    }

    void showsLayersAsTheyCome() {
        const auto world = std::make_shared<DrawnWorld>();
        doc::Document d = DrawnWorld::documentOf("tint");
        const doc::Document lines = DrawnWorld::documentOf("areas");
        d = doc::addLayer(d, *lines.layers[0]).first;
        MapRenderer tiles(world, MapRenderer::Keeping::Tiles);
        std::vector<QImage> partial;
        MapReport report;
        const MapFrame frame = Lattice::aligned(frameAt({500000, 6800000}));
        const auto whole = tiles.picture(d, d.layers, frame, {}, report,
                                         [&](const QImage& image) { partial.push_back(image); });
        QVERIFY(whole.has_value());
        QCOMPARE(partial.size(), std::size_t{2});
        MapRenderer fresh(world);
        QVERIFY(worstDifference(partial[0], drawn(fresh, DrawnWorld::documentOf("tint"), frame)) <=
                4);
        QVERIFY(partial[1] != partial[0]);
        QVERIFY(worstDifference(partial[1], *whole) <= 2);
    }

    void stopsWhenToldAndKeepsWhatIsDone() {
        const auto world = std::make_shared<DrawnWorld>();
        const doc::Document d = DrawnWorld::documentOf("areas");
        MapRenderer tiles(world, MapRenderer::Keeping::Tiles);
        std::stop_source stop;
        stop.request_stop();
        MapReport report;
        const MapFrame frame = Lattice::aligned(frameAt({500000, 6800000}));
        const auto stopped = tiles.picture(d, d.layers, frame, {stop.get_token(), {}}, report);
        QVERIFY(!stopped && stopped.error().code == ErrorCode::Cancelled);
        QVERIFY(report.problems.empty());
        MapRenderer fresh(world);
        QVERIFY(farShare(drawn(tiles, d, frame), drawn(fresh, d, frame)) < 0.005);
    }
};

QTEST_MAIN(TilesTest)
#include "tiles_test.moc"
