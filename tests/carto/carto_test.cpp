#include <QTest>

#include "carto/contour_painter.h"
#include "carto/legend.h"
#include "carto/map_renderer.h"
#include "carto/profile_runs.h"
#include "carto/relief.h"
#include "carto/scale_bar.h"
#include "carto/sheet/north_arrow.h"
#include "carto/sheet_painter.h"
#include "carto/swatch.h"
#include "core/base/parallel.h"
#include "core/crs/geodesic.h"
#include "core/crs/transformation.h"
#include "core/terrain/derived_raster.h"
#include "document/edits/layer_edits.h"
#include "document/edits/sheet_edits.h"
#include "document/map_crs.h"

using namespace ledge;
using namespace ledge::carto;

namespace {
doc::VectorLayer vectorOf(GeometryType geometry) {
    doc::VectorLayer out;
    out.geometry = geometry;
    return out;
}

// A cone of 500 m in the middle of flat ground, and a square around it.
class World final : public doc::DrawingData {
public:
    World() {
        Grid<float> z(200, 200);
        for (std::size_t r = 0; r < 200; ++r)
            for (std::size_t c = 0; c < 200; ++c)
                z(r, c) = static_cast<float>(
                    std::max(0.0, 500 - 8 * std::hypot(double(r) - 99.5, double(c) - 99.5)));
        RasterInfo info;
        info.crs = *crs::crsFromCode(32629);
        info.toWorld = {10, 0, 499000, 0, -10, 6801000};
        m_pyramid = std::make_shared<Pyramid>(std::make_shared<MemoryRaster>(info, z), 0);
        FeatureList table;
        table.info.fields = {{"name", FieldType::Text}, {"value", FieldType::Real}};
        table.features.push_back(
            {1,
             Geometry::polygon(
                 {{{499500, 6799500}, {500500, 6799500}, {500500, 6800500}, {499500, 6800500}}}),
             {std::string("square"), 5.0}});
        m_features =
            std::make_shared<doc::MapFeatures>(std::make_shared<FeatureTable>(std::move(table)));
    }
    Result<std::shared_ptr<const Pyramid>> raster(const doc::SourceRef& s, int = 0) const override {
        ++reads;
        if (s.name == "turned") return turned();
        if (s.name == "broken") return Error{ErrorCode::BadFormat, "broken", "is damaged", ""};
        return m_pyramid;
    }
    Result<std::shared_ptr<const doc::MapFeatures>>
    features(const doc::SourceRef&, const crs::CrsPtr&, double) const override {
        return m_features;
    }
    std::uint64_t version(const doc::SourceRef&) const override { return data; }
    mutable int reads = 0;
    std::uint64_t data = 0;

private:
    // Metres east of the middle, on a grid turned by 30 degrees with oblong cells.
    static std::shared_ptr<const Pyramid> turned() {
        RasterInfo info;
        info.crs = *crs::crsFromCode(32629);
        const double c = std::cos(M_PI / 6), n = std::sin(M_PI / 6);
        const Affine about{8 * c, 10 * n, 0, 8 * n, -10 * c, 0};
        const Point corner = about({50, 40});
        info.toWorld = {about.a, about.b, 500000 - corner.x, about.d, about.e, 6800000 - corner.y};
        Grid<float> z(80, 100);
        for (std::size_t row = 0; row < 80; ++row)
            for (std::size_t col = 0; col < 100; ++col)
                z(row, col) = static_cast<float>(
                    info.toWorld({double(col) + 0.5, double(row) + 0.5}).x - 500000);
        return std::make_shared<Pyramid>(std::make_shared<MemoryRaster>(info, std::move(z)), 0);
    }

    std::shared_ptr<const Pyramid> m_pyramid;
    std::shared_ptr<const doc::MapFeatures> m_features;
};

MapFrame frameOf(int side = 200, double scale = 37795.2755905) {
    MapFrame f;
    f.crs = *crs::crsFromCode(32629);
    f.view = {{500000, 6800000}, scale, 0};
    f.widthPx = f.heightPx = side;
    return f;
}

doc::Document documentWith(doc::LayerContent content, doc::Blend blend = doc::Blend::Normal) {
    doc::Document d;
    d.mapCrs = "EPSG:32629";
    doc::SourceRef s;
    s.name = "source";
    auto [next, id] = doc::addSource(d, s);
    doc::Layer layer;
    layer.name = "layer";
    layer.source = id;
    layer.blend = blend;
    layer.content = std::move(content);
    return doc::addLayer(next, layer).first;
}

QImage draw(const doc::Document& d, const MapFrame& frame,
            std::shared_ptr<World> world = std::make_shared<World>()) {
    MapRenderer renderer(world);
    MapReport report;
    const auto picture = renderer.picture(d, d.layers, frame, {}, report);
    return picture ? *picture : QImage();
}
}  // namespace

class CartoTest : public QObject {
    Q_OBJECT

private slots:
    void mapsPixelsAndBack_data() {
        QTest::addColumn<double>("rotation");
        for (const double r : {0.0, 30.0, -90.0, 180.0})
            QTest::newRow(qPrintable(QString::number(r))) << r;
    }
    void mapsPixelsAndBack() {
        QFETCH(double, rotation);
        MapFrame f = frameOf(400);
        f.view.rotation = rotation;
        const Point middle = f.toPixels()(f.view.centre);
        QVERIFY(distance(middle, {200, 200}) < 1e-6);
        const Point p{500123, 6800456};
        QVERIFY(distance(f.toMap()(f.toPixels()(p)), p) < 1e-6);
        // North turns clockwise by the rotation.
        const Point north = f.toPixels()(f.view.centre + Point{0, 100}) - middle;
        QVERIFY(std::abs(std::remainder(std::atan2(north.x, -north.y) * 180 / M_PI - rotation,
                                        360)) < 1e-9);
        // 1 : 37 795 at 96 dpi is ten metres a pixel.
        QVERIFY(std::abs(f.unitsPerPx() - 10) < 1e-6);
    }

    void keepsThePlaceBeneathThePointerWhenZooming() {
        MapFrame f = frameOf(400);
        f.view.rotation = 25;
        const QPointF pixel(77, 301);
        const Point before = f.toMap()({77, 301});
        f.view = zoomedAt(f, pixel, 0.4);
        QVERIFY(distance(f.toMap()({77, 301}), before) < 1e-6);
    }

    void shadesTheSideAwayFromTheLight() {
        doc::Hillshade shade;
        const QImage image = draw(documentWith(shade), frameOf());
        const auto grey = [&](int x, int y) { return qGray(image.pixel(x, y)); };
        QVERIFY(grey(80, 80) > grey(120, 120) + 60);  // north-west lit, south-east dark
        shade.style.lights = {{135, 45}};
        const QImage turned = draw(documentWith(shade), frameOf());
        QVERIFY(qGray(turned.pixel(80, 80)) + 60 < qGray(turned.pixel(120, 120)));
    }

    void leavesFlatGroundItsColourUnderTheLight() {
        doc::HeightTint tint;
        tint.style.ramp = {{{-1, {200, 220, 180}}, {600, {200, 220, 180}}}};
        doc::Document d = documentWith(tint);
        const QImage plain = draw(d, frameOf());
        doc::Layer shade;
        shade.source = d.sources[0].id;
        shade.blend = doc::Blend::Multiply;
        shade.content = doc::Hillshade{};
        d = doc::addLayer(d, shade).first;
        const QImage relief = draw(d, frameOf());
        const QColor flat = plain.pixelColor(10, 10), shaded = relief.pixelColor(10, 10);
        QVERIFY(std::abs(flat.red() - shaded.red()) <= 2 &&
                std::abs(flat.green() - shaded.green()) <= 2);
        QVERIFY(qGray(relief.pixel(120, 120)) < qGray(plain.pixel(120, 120)) - 30);
    }

    void drawsATurnedRasterInItsPlace() {
        doc::RasterLayer raster;
        raster.style.ramp.stops = {{-600, {0, 0, 0}}, {600, {255, 255, 255}}};
        doc::Document d = documentWith(raster);
        d.sources[0].name = "turned";
        const MapFrame frame = frameOf(200);
        const QImage picture = draw(d, frame);
        int inside = 0;
        for (int y = 4; y < 200; y += 8)
            for (int x = 4; x < 200; x += 8) {
                const Point at = frame.toMap()({x + 0.5, y + 0.5});
                const double e = at.x - 500000, n = at.y - 6800000;
                // In the raster's own axes: 400 m to either side, and 400 m up and down.
                const double c = std::cos(M_PI / 6), s = std::sin(M_PI / 6);
                const double along = e * c + n * s, across = e * s - n * c;
                const QRgb pixel = picture.pixel(x, y);
                if (std::abs(along) < 390 && std::abs(across) < 390) {
                    ++inside;
                    QCOMPARE(qAlpha(pixel), 255);
                    const Colour wanted = raster.style.ramp.at(e);
                    QVERIFY2(std::abs(qRed(pixel) - wanted.r) <= 3,
                             qPrintable(QString("%1 %2").arg(x).arg(y)));
                } else if (std::abs(along) > 412 || std::abs(across) > 412) {
                    QCOMPARE(qAlpha(pixel), 0);
                }
            }
        QVERIFY(inside > 80);
    }

    void drawsContoursWhereTheHeightsAre() {
        doc::Contours contours;
        contours.style.levels = {100, 50, {}};
        contours.style.hasLabels = false;
        const World world;
        const auto drawing = traceContours(*contourField(**world.raster({}), frameOf(), 0, 1, {}),
                                           frameOf(), contours.style, {});
        QVERIFY(drawing.has_value());
        QCOMPARE(drawing->lines.size(), std::size_t{5});
        for (const auto& line : drawing->lines)
            for (const Point p : line.points)
                QVERIFY2(std::abs(distance(p, {100, 100}) - (500 - line.level) / 8) < 0.7,
                         qPrintable(QString::number(line.level)));
    }

    /// The strip on the map and the file written from it: one cell a pixel, in the DEM's own CRS.
    void shadesAsTheFileDoesInEveryCrs_data() {
        QTest::addColumn<QString>("crs");
        QTest::addColumn<double>("lon");
        QTest::addColumn<double>("lat");
        QTest::newRow("UTM") << "EPSG:32629" << -8.0 << 61.0;
        QTest::newRow("web Mercator at 60") << "EPSG:3857" << 10.0 << 60.0;
        QTest::newRow("degrees") << "EPSG:4326" << 10.0 << 60.0;
        QTest::newRow("polar") << "EPSG:3413" << 25.0 << 75.0;
        QTest::newRow("sheared") << "world:sinusoidal" << 60.0 << 50.0;
    }
    void shadesAsTheFileDoesInEveryCrs() {
        QFETCH(QString, crs);
        QFETCH(double, lon);
        QFETCH(double, lat);
        constexpr std::size_t kSide = 120;
        RasterInfo info;
        info.crs = *crs::parseCrs(crs.toStdString());
        const auto way = crs::Transformation::between(*crs::crsFromCode(4326), info.crs);
        const Point middle = way->forward(Point{lon, lat});
        const double cell = info.crs->isGeographic() ? 0.0005 : 40;
        info.toWorld = {cell, 0,     middle.x - cell * kSide / 2,
                        0,    -cell, middle.y + cell * kSide / 2};
        Grid<float> z(kSide, kSide);
        for (std::size_t r = 0; r < kSide; ++r)
            for (std::size_t c = 0; c < kSide; ++c)
                z(r, c) =
                    static_cast<float>(300 * std::sin(double(r) / 11) * std::cos(double(c) / 17));
        const auto dem = std::make_shared<MemoryRaster>(info, z);
        const std::vector<terrain::Light> lights{{300, 40}};
        Grid<float> file(kSide, kSide);
        QVERIFY(terrain::hillshadeRaster({dem}, lights)->read(0, dem->info().whole(), file.view()));
        MapFrame frame;
        frame.crs = info.crs;
        frame.widthPx = frame.heightPx = kSide;
        frame.view.centre = middle;
        frame.view.scale = cell * info.crs->metresPerUnit() * 1000 * frame.pxPerMm;
        const auto heights = frameHeights(Pyramid(dem, 0), frame, Resampling::Nearest, {});
        QVERIFY(heights.has_value());
        doc::HillshadeStyle style;
        style.lights = lights;
        const auto picture = plainShade(*heights, frame, style, 1, {}, {});
        QVERIFY(picture.has_value());
        // The picture's grey is a ramp of illumination; by it the two compare to two in 255.
        const Ramp grey{{{0, style.shade}, {0.7, {0xC9, 0xC9, 0xD2}}, {1, {0xFB, 0xFA, 0xF6}}}};
        const RampTable table(grey);
        int apart = 0;
        for (std::size_t r = 2; r + 2 < kSide; ++r)
            for (std::size_t c = 2; c + 2 < kSide; ++c) {
                const float lit = (file(r, c) - 1) / 254;
                const Colour low = table.at(lit - 0.008F), high = table.at(lit + 0.008F);
                const QRgb seen = picture->pixel(int(c), int(r));
                const int least = std::min<int>(low.g, high.g), most = std::max<int>(low.g, high.g);
                apart += qGreen(seen) < least - 1 || qGreen(seen) > most + 1 ? 1 : 0;
            }
        QVERIFY2(apart == 0, qPrintable(QString::number(apart)));
    }

    void paintsContoursAlikeOnAnyNumberOfThreads() {
        const World world;
        MapFrame frame = frameOf(700, 12000);
        doc::ContourStyle style;
        style.levels.interval = 10;
        const auto pyramid = world.raster({});
        const auto field = contourField(**pyramid, frame, 0, 1, {});
        const auto drawing = traceContours(*field, frame, style, {});
        QVERIFY(drawing.has_value() && drawing->lines.size() > 20);
        std::vector<QImage> pictures;
        for (const unsigned threads : {1u, 2u, 5u}) {
            setThreadCount(threads);
            QImage picture(700, 700, QImage::Format_ARGB32_Premultiplied);
            picture.fill(Qt::transparent);
            paintContours(picture, frame, *drawing, style);
            pictures.push_back(picture);
        }
        setThreadCount(0);
        QVERIFY(pictures[0] == pictures[1] && pictures[0] == pictures[2]);
        // In bands or in one go: nothing shows where they meet.
        QImage whole(700, 700, QImage::Format_ARGB32_Premultiplied);
        whole.fill(Qt::transparent);
        {
            QPainter painter(&whole);
            paintContours(painter, frame, *drawing, style);
        }
        int differing = 0, inked = 0;
        for (int y = 0; y < 700; ++y)
            for (int x = 0; x < 700; ++x) {
                inked += qAlpha(whole.pixel(x, y)) > 0 ? 1 : 0;
                const int off =
                    std::abs(qAlpha(whole.pixel(x, y)) - qAlpha(pictures[0].pixel(x, y)));
                differing += off > 8 ? 1 : 0;
            }
        QVERIFY(inked > 5000);
        // The toolkit rounds joins of clipped strokes by other hundredths of a pixel.
        QVERIFY2(differing * 50 < inked, qPrintable(QString::number(differing)));
    }

    void saysWhereAScaleHolds_data() {
        QTest::addColumn<QString>("crs");
        QTest::addColumn<double>("lon");
        QTest::addColumn<double>("lat");
        QTest::addColumn<double>("scale");
        QTest::addColumn<QString>("text");
        const QString hundred = QString::fromUtf8("1 : 100\u2009000");
        QTest::newRow("UTM") << "EPSG:32629" << -8.0 << 61.0 << 1e5 << hundred;
        QTest::newRow("web Mercator") << "EPSG:3857" << 10.0 << 60.0 << 1e5 << hundred;
        QTest::newRow("small scale") << "EPSG:3857" << 10.0 << 60.0 << 2e6
                                     << QString::fromUtf8("1 : 2\u2009000\u2009000 at 60.0° N");
        QTest::newRow("south") << "EPSG:3857" << 10.0 << -45.0 << 2e7
                               << QString::fromUtf8("1 : 20\u2009000\u2009000 at 45.0° S");
        QTest::newRow("local") << "local" << 0.0 << 0.0 << 1e5 << hundred;
    }
    void saysWhereAScaleHolds() {
        QFETCH(QString, crs);
        QFETCH(double, lon);
        QFETCH(double, lat);
        QFETCH(double, scale);
        QFETCH(QString, text);
        MapFrame frame = frameOf(600);
        frame.crs = *crs::parseCrs(crs.toStdString());
        frame.view.centre = crs::Transformation::between(*crs::crsFromCode(4326), frame.crs)
                                ->forward(Point{lon, lat});
        frame.view = doc::atGroundScale(frame.view, frame.crs, scale);
        QCOMPARE(QString::fromStdString(frame.scaleText()), text);
        QVERIFY(std::abs(frame.groundScale() / scale - 1) < 1e-9);
        // A millimetre of the map is as many metres of ground, measured on the ellipsoid.
        if (!frame.crs) return;
        const Affine map = frame.toMap();
        const double half = 0.5 * frame.pxPerMm;
        const auto lonLat = [&](double x, double y) {
            return crs::Transformation::between(frame.crs, *crs::crsFromCode(4326))
                ->forward(map({300 + x, 300 + y}));
        };
        const crs::Geodesic geodesic(frame.crs->ellipsoid);
        const double across = geodesic.inverse(lonLat(-half, 0), lonLat(half, 0)).distance;
        const double up = geodesic.inverse(lonLat(0, half), lonLat(0, -half)).distance;
        QVERIFY(std::abs(std::sqrt(across * up) * 1000 / scale - 1) < 1e-4);
    }

    void breaksIndexLinesBeneathTheirLabels() {
        doc::Contours contours;
        contours.style.levels = {100, 50, {}};
        contours.style.indexEvery = 1;
        const World world;
        MapFrame frame = frameOf(800, 9448.8);
        const auto drawing = traceContours(*contourField(**world.raster({}), frame, 0, 1, {}),
                                           frame, contours.style, {});
        QVERIFY(!drawing->labels.empty());
        for (const auto& label : drawing->labels)
            for (const auto& line : drawing->lines)
                for (const Point p : line.points)
                    for (const Box& box : label.boxes)
                        if (line.isIndex && QString::number(line.level) == label.text)
                            QVERIFY2(!box.grown(-0.6).contains(p),
                                     qPrintable(QString("%1 at %2 %3 box %4 %5 %6 %7, %8 points")
                                                    .arg(line.level)
                                                    .arg(p.x)
                                                    .arg(p.y)
                                                    .arg(box.xMin)
                                                    .arg(box.yMin)
                                                    .arg(box.xMax)
                                                    .arg(box.yMax)
                                                    .arg(line.points.size())));
    }

    void redrawsOnlyTheLayerThatChanged() {
        const auto world = std::make_shared<World>();
        doc::Document d = documentWith(doc::Hillshade{});
        doc::Layer second;
        second.source = d.sources[0].id;
        doc::Contours contours;
        second.content = contours;
        d = doc::addLayer(d, second).first;
        MapRenderer renderer(world);
        MapReport report;
        (void)renderer.picture(d, d.layers, frameOf(), {}, report);
        const int first = world->reads;
        const auto faded = doc::withLayer(d, d.layers[0]->id,
                                          [](doc::Layer& l) { l.opacity = 0.2, l.name = "new"; });
        (void)renderer.picture(faded, faded.layers, frameOf(), {}, report);
        QCOMPARE(world->reads, first);
        const auto turned = doc::withLayer(d, d.layers[1]->id, [](doc::Layer& l) {
            l.as<doc::Hillshade>()->style.lights = {{90, 30}};
        });
        (void)renderer.picture(turned, turned.layers, frameOf(), {}, report);
        QCOMPARE(world->reads, first);  // the heights are kept too
    }

    void reportsABrokenLayerAndDrawsTheRest() {
        doc::Document d = documentWith(vectorOf(GeometryType::Polygon));
        doc::SourceRef broken;
        broken.name = "broken";
        broken.path = "/b";
        auto [next, id] = doc::addSource(d, broken);
        doc::Layer layer;
        layer.source = id;
        layer.content = doc::HeightTint{};
        d = doc::addLayer(next, layer).first;
        MapRenderer renderer(std::make_shared<World>());
        MapReport report;
        const auto picture = renderer.picture(d, d.layers, frameOf(), {}, report);
        QVERIFY(picture.has_value());
        QCOMPARE(report.problems.size(), std::size_t{1});
        QVERIFY(picture->pixelColor(100, 100).alpha() == 255);
    }

    void colorsFeaturesByClass() {
        doc::VectorLayer vector;
        vector.geometry = GeometryType::Polygon;
        vector.style.classing = doc::Classing::Ramp;
        vector.style.field = "value";
        vector.style.ramp = {{{0, {0, 0, 0}}, {5, {250, 10, 20}}}};
        QCOMPARE(draw(documentWith(vector), frameOf()).pixelColor(100, 100), QColor(250, 10, 20));
        vector.style.classing = doc::Classing::Categories;
        vector.style.field = "name";
        doc::Look look;
        look.fill = {1, 2, 3};
        vector.style.categories = {{"square", "", look}};
        QCOMPARE(draw(documentWith(vector), frameOf()).pixelColor(100, 100), QColor(1, 2, 3));
        vector.style.categories[0].value = "other";
        vector.style.others.hasFill = false;
        QCOMPARE(draw(documentWith(vector), frameOf()).pixelColor(100, 100).alpha(), 0);
    }

    void choosesRoundScaleBars_data() {
        QTest::addColumn<double>("scale");
        QTest::addColumn<double>("metres");
        QTest::newRow("street") << 1000.0 << 50.0;
        QTest::newRow("island") << 50000.0 << 2000.0;
        QTest::newRow("country") << 2.0e6 << 1.0e5;
    }
    void choosesRoundScaleBars() {
        QFETCH(double, scale);
        QFETCH(double, metres);
        const MapFrame f = frameOf(800, scale);
        const ScaleBar bar = scaleBarFor(f, 800 / 3.5);
        QCOMPARE(bar.metres, metres);
        // On the central meridian of UTM the grid is 0.9996 of the ground.
        QVERIFY(std::abs(bar.lengthPx * f.unitsPerPx() - metres * 0.9996) < metres * 1e-5);
    }

    void pointsNorthToTrueNorth() {
        MapFrame f = frameOf();
        QCOMPARE(northAngle(f), 0.0);
        f.view.centre = {800000, 6800000};  // grid north lies about 5 degrees east of true north
        QVERIFY(northAngle(f) < -4 && northAngle(f) > -6);
        f.view.rotation = 40;
        QVERIFY(northAngle(f) > 34 && northAngle(f) < 36);
    }

    void listsPointsBeforeLinesBeforeAreas() {
        doc::Document d = documentWith(vectorOf(GeometryType::Polygon));
        const auto add = [&](doc::LayerContent content, const char* name) {
            doc::Layer l;
            l.name = name;
            l.source = d.sources[0].id;
            l.content = std::move(content);
            d = doc::addLayer(d, l).first;
        };
        add(vectorOf(GeometryType::Point), "points");
        add(doc::Hillshade{}, "shade");
        add(vectorOf(GeometryType::Line), "lines");
        doc::LegendItem item;
        item.names[d.layers[0]->id] = "ways";
        const auto entries = legendEntries(d.layers, item);
        QCOMPARE(entries.size(), std::size_t{3});
        QCOMPARE(entries[0].text, QString("points"));
        QCOMPARE(entries[1].text, QString("ways"));
        item.left_out = {d.layers[0]->id};
        QCOMPARE(legendEntries(d.layers, item).size(), std::size_t{2});
    }

    void fillsLiveText() {
        auto [d, sheetId] = doc::addSheet(documentWith(doc::Hillshade{}), "One", 297, 210,
                                          {{500000, 6800000}, 25000, 0});
        const auto& sheet = *d.sheet(sheetId);
        QCOMPARE(liveText("{sheet} · {scale} · {what}", d, sheet),
                 QString::fromUtf8("One · 1 : 25\u2009000 · {what}"));
        QCOMPARE(liveText("{crs}", d, sheet), QString("WGS 84 / UTM zone 29N"));
    }

    void drawsAProfileOnASheet() {
        doc::Document d = documentWith(doc::HeightTint{});
        doc::SavedProfile kept;
        kept.name = "Over the cone";
        kept.crs = "EPSG:32629";
        kept.line = {{499200, 6800000}, {500800, 6800000}};
        kept.sources = {d.sources[0].id};
        auto [next, profile] = doc::saveProfile(d, kept);
        doc::Sheet sheet;
        sheet.widthMm = 100, sheet.heightMm = 50;
        doc::SheetItem item;
        item.rect = {10, 5, 80, 40};
        item.content = doc::ProfileItem{profile};
        sheet.items = {item};
        const World world;
        const auto inked = [&](const doc::Document& document) {
            QImage page(400, 200, QImage::Format_ARGB32_Premultiplied);
            page.fill(Qt::white);
            QPainter painter(&page);
            const auto done = paintSheet(
                painter, document, sheet, 4, world,
                [](QPainter&, const doc::SheetItem&, const MapFrame&) { return Result<void>(); });
            painter.end();
            if (!done) return std::array<int, 2>{-1, -1};
            // Dark pixels in the upper half of the middle, and anywhere.
            std::array<int, 2> out{0, 0};
            for (int y = 0; y < 200; ++y)
                for (int x = 0; x < 400; ++x) {
                    if (qGray(page.pixel(x, y)) > 180) continue;
                    ++out[1];
                    if (x > 190 && x < 215 && y < 90) ++out[0];
                }
            return out;
        };
        const auto shown = inked(next);
        QVERIFY(shown[0] > 5 && shown[1] > 300);  // the summit is in the middle
        // A profile that is no longer kept says so instead.
        const auto gone = inked(d);
        QVERIFY(gone[1] > 20 && gone[0] < shown[0]);
        const auto runs = runProfile(next, world, *next.profile(profile), {});
        QVERIFY(runs.has_value());
        QVERIFY(std::abs(runs->front().summary.highest - 500) < 6);
        QCOMPARE(chartOf(*runs, LengthUnit::Metric).series.size(), std::size_t{1});
    }

    void warnsOfCreditsThatAreNotShown() {
        auto d = documentWith(doc::Hillshade{});
        d.sources[0].credit = "the surveyors";
        auto [next, sheetId] = doc::addSheet(d, "One", 297, 210, {{500000, 6800000}, 25000, 0});
        QVERIFY(missingCredits(next, *next.sheet(sheetId)).isEmpty());
        QVERIFY(creditsText(next, *next.sheet(sheetId), {}).contains("the surveyors"));
        const auto bare = doc::withSheet(next, sheetId, [](doc::Sheet& s) {
            for (auto& item : s.items)
                if (item->as<doc::CreditsItem>())
                    item.change([](doc::SheetItem& i) { i.isHidden = true; });
        });
        QCOMPARE(missingCredits(bare, *bare.sheet(sheetId)), QStringList{"the surveyors"});
    }

    void sizesTextByPaper() {
        const TextStyle style{10, false, false, {}, false, 0};
        const auto one = measure("Skerravoe 123", style, 4),
                   two = measure("Skerravoe 123", style, 8);
        QVERIFY(std::abs(two.width - 2 * one.width) < 1e-9);
        QVERIFY(one.width > 10 * kMmPerPoint * 4 * 4);
    }

    void drawsASwatchForEveryKind() {
        doc::HeightTint tint;
        tint.style.ramp = heightTint("humid", 0, 100);
        doc::RasterLayer raster;
        raster.style.ramp = rampOf("moss", 0, 1);
        for (const doc::LayerContent& content : std::initializer_list<doc::LayerContent>{
                 vectorOf(GeometryType::Line), raster, tint, doc::Hillshade{}, doc::Steepness{},
                 doc::Contours{}}) {
            doc::Layer layer;
            layer.content = content;
            const QImage image = swatch(layer, {34, 26}, 2);
            QCOMPARE(image.size(), QSize(68, 52));
            std::set<QRgb> colours;
            for (int y = 0; y < 52; ++y)
                for (int x = 0; x < 68; ++x) colours.insert(image.pixel(x, y));
            QVERIFY(colours.size() > 3);
        }
    }
};

QTEST_MAIN(CartoTest)
#include "carto_test.moc"
