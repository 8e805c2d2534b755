#include "document/json/keep.h"

#include <QTest>

#include "document/edits/layer_edits.h"
#include "document/edits/sheet_edits.h"
#include "document/json/project_json.h"
#include "document/kinds.h"

using namespace ledge;
using namespace ledge::doc;

namespace {
// A project as a later version may write it: members, kinds, choices and values of its own in every
// place, and numbers spelled in its own way.
const char* const kFuture = R"json({
  "ledge_project": 1,
  "name": "From tomorrow",
  "map_crs": "EPSG:32629",
  "weather": {"wind": [3, 4.50], "storm": null},
  "sources": [
    {"id": 1, "name": "DEM", "path": "dem.tif", "height_unit": "fathom", "tides": ["spring", "neap"]}
  ],
  "layers": [
    {"id": 2, "kind": "group", "name": "Relief", "folded": true, "glow": 0.5, "layers": [
      {"id": 3, "kind": "hillshade", "name": "Light", "visible": true, "opacity": 0.50,
       "blend": "dodge", "source": 1,
       "style": {"lights": [{"azimuth": 315, "altitude": 45, "lamp": "moon"}], "haze": {"km": 12}}},
      {"id": 4, "kind": "glacier flow", "name": "Ice", "visible": true, "opacity": 1, "source": 1,
       "style": {"particles": 9000}}
    ]}
  ],
  "views": [
    {"id": 5, "name": "Bay", "centre": [500000, 6800000], "scale": 50000, "rotation": 0,
     "dark": [], "season": "winter"}
  ],
  "sheets": [
    {"id": 6, "name": "A4", "width_mm": 297, "height_mm": 210, "bleed_mm": 3, "items": [
      {"id": 7, "kind": "map panel", "name": "Map", "rect_mm": [10, 10, 200, 150],
       "centre": [500000, 6800000], "scale": 25000, "crs": "EPSG:32629", "shadow": true},
      {"id": 8, "kind": "wind rose", "name": "Rose", "rect_mm": [220, 10, 40, 40], "sectors": 16}
    ]}
  ],
  "last_view": {"centre": [500000, 6800000], "scale": 50000, "rotation": 0, "tilt": 30}
})json";

Json parsed(const std::string& text) { return Json::parse(text); }

// Whether everything of one text stands in another too; the path of the first that does not.
QString missing(const Json& from, const Json& in, const QString& path = {}) {
    if (from.is_object()) {
        if (!in.is_object()) return path;
        for (const auto& [key, value] : from.items()) {
            if (!in.contains(key)) return path + "/" + QString::fromStdString(key);
            const QString inner = missing(value, in[key], path + "/" + QString::fromStdString(key));
            if (!inner.isEmpty()) return inner;
        }
        return {};
    }
    if (from.is_array()) {
        if (!in.is_array() || in.size() != from.size()) return path + " (size)";
        for (std::size_t i = 0; i < from.size(); ++i) {
            const QString inner = missing(from[i], in[i], path + QString("/%1").arg(i));
            if (!inner.isEmpty()) return inner;
        }
        return {};
    }
    return from == in ? QString() : path;
}

Document future() {
    auto document = projectFromText(kFuture, "/data/area");
    if (!document) qFatal("%s", document.error().text().c_str());
    return *std::move(document);
}
}  // namespace

namespace ledge::doc {
// A kind that only this test has: its row, and nothing else.
struct Marsh {
    double wetness = 0.75;
};
template <>
inline constexpr LayerKindInfo kLayerKind<Marsh>{"marsh", true, false, true};
}  // namespace ledge::doc

/// Projects of later versions, and kinds by their rows.
class KeepTest : public QObject {
    Q_OBJECT

private slots:
    void findsAllOfAProjectFromTheFutureAgain() {
        const Json again = parsed(projectText(future(), "/data/area"));
        const QString lost = missing(parsed(kFuture), again);
        QVERIFY2(lost.isEmpty(), qPrintable(lost));
        // Written, read and written again it stays the same.
        const std::string once = projectText(future(), "/data/area");
        QCOMPARE(projectText(*projectFromText(once, "/data/area"), "/data/area"), once);
    }

    // What earlier versions called otherwise is read, written under its name of today, and not left
    // behind under the old one.
    void readsFormerNames() {
        const std::string text =
            R"({"ledge_project": 1, "layers": [{"id": 2, "kind": "grid lines", "name": "g"}],
            "sheets": [{"id": 6, "name": "A4", "width_mm": 297, "height_mm": 210, "items": [{"id": 7, "kind": "map panel", "name": "Map",
            "rect_mm": [10, 10, 50, 50], "centre": [1, 2], "frozen": [{"id": 2, "kind": "grid lines", "name": "g"}]}]}]})";
        const auto read = projectFromText(text, "/data");
        QVERIFY2(read, read ? "" : read.error().text().c_str());
        const auto* panel = read->sheets[0]->items[0]->as<MapPanel>();
        QVERIFY(panel->frozen && panel->frozen->size() == 1);
        const Json now = parsed(projectText(*read, "/data"));
        QVERIFY(!now["sheets"][0]["items"][0].contains("frozen"));
        QCOMPARE(now["sheets"][0]["items"][0]["kept_layers"].size(), std::size_t{1});
        const Document free =
            withItem(*read, 6, 7, [](SheetItem& i) { i.as<MapPanel>()->frozen.reset(); });
        const auto again = projectFromText(projectText(free, "/data"), "/data");
        QVERIFY(!again->sheets[0]->items[0]->as<MapPanel>()->frozen);
    }

    // An id that something unknown has as well does not mix the two up.
    void tellsSharedIdsApart() {
        const std::string text =
            R"({"ledge_project": 1, "layers": [{"id": 1, "kind": "pile", "name": "p", "layers": [
            {"id": 2, "kind": "vector", "name": "inner", "weight": 7}]},
            {"id": 2, "kind": "grid lines", "name": "g", "tide": 3}]})";
        const auto read = projectFromText(text, "/data");
        QVERIFY(read);
        const std::string once = projectText(*read, "/data");
        const Json now = parsed(once);
        QCOMPARE(now["layers"][0]["layers"][0]["weight"].get<int>(), 7);
        QCOMPARE(now["layers"][1]["tide"].get<int>(), 3);
        QVERIFY(!now["layers"][1].contains("weight"));
        QCOMPARE(projectText(*projectFromText(once, "/data"), "/data"), once);
    }

    void refusesNumbersThatAreNone_data() {
        QTest::addColumn<QString>("id");
        for (const char* id : {"8e88", "-8e88", "1e19", "9.3e18"}) QTest::newRow(id) << id;
    }
    void refusesNumbersThatAreNone() {
        QFETCH(QString, id);
        const auto read = projectFromText(
            R"({"ledge_project": 1, "layers": [{"id": )" + id.toStdString() + "}]}", "/data");
        QVERIFY(!read);
        QVERIFY2(read.error().text().find("layers.0.id") != std::string::npos,
                 read.error().text().c_str());
    }

    void keepsWhatItDoesNotKnowThroughEdits() {
        Document d = future();
        d = withLayer(std::move(d), 3, [](Layer& l) {
            l.opacity = 0.25;
            l.name = "Moonlight";
        });
        d = withLayer(std::move(d), 4, [](Layer& l) { l.isVisible = false; });
        // Out of its group, and onto the sheet something new.
        d = moveLayer(std::move(d), 4, {0, 0});
        d = withItem(std::move(d), 6, 7, [](SheetItem& i) { i.as<MapPanel>()->scale = 10000; });
        d = addItem(std::move(d), 6, SheetItem{0, "North", {}, false, false, NorthArrowItem{7}})
                .first;
        const Json now = parsed(projectText(d, "/data/area"));
        const Json& ice = now["layers"][0];
        QCOMPARE(ice["kind"].get<std::string>(), std::string("glacier flow"));
        QCOMPARE(ice["style"]["particles"].get<int>(), 9000);
        QCOMPARE(ice["visible"].get<bool>(), false);
        const Json& light = now["layers"][1]["layers"][0];
        QCOMPARE(light["opacity"].get<double>(), 0.25);
        QCOMPARE(light["name"].get<std::string>(), std::string("Moonlight"));
        QCOMPARE(light["blend"].get<std::string>(), std::string("dodge"));
        QCOMPARE(light["style"]["haze"]["km"].get<int>(), 12);
        QCOMPARE(light["style"]["lights"][0]["lamp"].get<std::string>(), std::string("moon"));
        QCOMPARE(now["sources"][0]["height_unit"].get<std::string>(), std::string("fathom"));
        const Json& items = now["sheets"][0]["items"];
        QCOMPARE(items.size(), std::size_t{3});
        std::set<std::string> kinds;
        for (const Json& item : items) {
            kinds.insert(item["kind"].get<std::string>());
            if (item["kind"] == "wind rose") QCOMPARE(item["sectors"].get<int>(), 16);
            if (item["kind"] == "map panel") {
                QCOMPARE(item["scale"].get<double>(), 10000.0);
                QCOMPARE(item["shadow"].get<bool>(), true);
            }
        }
        QVERIFY(kinds.contains("wind rose") && kinds.contains("north arrow"));
    }

    void letsAnEditWinOverWhatWasUnknown() {
        Document d = future();
        d = withLayer(std::move(d), 3, [](Layer& l) { l.blend = Blend::Screen; });
        d = withSource(std::move(d), 1, [](SourceRef& s) { s.heightUnit = HeightUnit::Foot; });
        const Json now = parsed(projectText(d, "/data/area"));
        QCOMPARE(now["layers"][0]["layers"][0]["blend"].get<std::string>(), std::string("screen"));
        QCOMPARE(now["sources"][0]["height_unit"].get<std::string>(), std::string("foot"));
    }

    void dropsWhatWasRemoved() {
        Document d = removeLayer(future(), 4);
        d = removeItem(std::move(d), 6, 8);
        d = removeView(std::move(d), 5);
        const Json now = parsed(projectText(d, "/data/area"));
        QCOMPARE(now["layers"][0]["layers"].size(), std::size_t{1});
        QCOMPARE(now["sheets"][0]["items"].size(), std::size_t{1});
        QVERIFY(now["views"].empty());
        QVERIFY(now.contains("weather"));
    }

    void movesWithItsFolder() {
        const Json near = parsed(projectText(future(), "/data/area"));
        QCOMPARE(near["sources"][0]["path"].get<std::string>(), std::string("dem.tif"));
        const Json far = parsed(projectText(future(), "/data/elsewhere"));
        QCOMPARE(far["sources"][0]["path"].get<std::string>(), std::string("../area/dem.tif"));
        QCOMPARE(far["sources"][0]["tides"].size(), std::size_t{2});
    }

    void saysWhatCannotBeShown() {
        const Document d = future();
        QCOMPARE(layerKind(*d.layer(4)), std::string("glacier flow"));
        QVERIFY(d.layer(4)->as<UnknownLayer>());
        QCOMPARE(itemKind(*d.sheet(6)->item(8)), std::string("wind rose"));
        QVERIFY(!kindInfo(*d.layer(4)).needsSource);
    }

    void mergesThreeWays_data() {
        QTest::addColumn<QString>("original");
        QTest::addColumn<QString>("read");
        QTest::addColumn<QString>("now");
        QTest::addColumn<QString>("written");
        const auto row = [](const char* name, const char* o, const char* r, const char* n,
                            const char* w) { QTest::newRow(name) << o << r << n << w; };
        row("unknown member", R"({"a":1,"x":2})", R"({"a":1})", R"({"a":3})", R"({"a":3,"x":2})");
        row("spelled its own way", R"({"a":"far"})", R"({"a":"none"})", R"({"a":"none"})",
            R"({"a":"far"})");
        row("edited after all", R"({"a":"far"})", R"({"a":"none"})", R"({"a":"near"})",
            R"({"a":"near"})");
        row("taken away", R"({"a":1,"b":2})", R"({"a":1,"b":2})", R"({"a":1})", R"({"a":1})");
        row("list edited", R"({"l":[1,2]})", R"({"l":[1,2]})", R"({"l":[1,2,3]})",
            R"({"l":[1,2,3]})");
        row("list of objects", R"({"l":[{"v":1,"x":9},{"v":2}]})", R"({"l":[{"v":1},{"v":2}]})",
            R"({"l":[{"v":5},{"v":2}]})", R"({"l":[{"v":5,"x":9},{"v":2}]})");
        row("objects swapped by id", R"({"l":[{"id":1,"x":1},{"id":2,"x":2}]})",
            R"({"l":[{"id":1},{"id":2}]})", R"({"l":[{"id":2},{"id":1}]})",
            R"({"l":[{"id":2,"x":2},{"id":1,"x":1}]})");
        row("another type", R"({"a":{"deep":1}})", R"({"a":0})", R"({"a":0})",
            R"({"a":{"deep":1}})");
    }
    void mergesThreeWays() {
        QFETCH(QString, original);
        QFETCH(QString, read);
        QFETCH(QString, now);
        QFETCH(QString, written);
        const Json out = kept(parsed(original.toStdString()), parsed(read.toStdString()),
                              parsed(now.toStdString()));
        QCOMPARE(QString::fromStdString(out.dump()),
                 QString::fromStdString(parsed(written.toStdString()).dump()));
    }

    void knowsAKindByItsRowAlone() {
        using Content = std::variant<Group, Marsh>;
        double wetness = 0;
        const auto name = []<typename T>(const T&) { return kLayerKind<T>.name; };
        const auto make = [&]<typename T>(T kind) {
            if constexpr (std::is_same_v<T, Marsh>) wetness = kind.wetness;
        };
        QVERIFY(forKindNamed<Content>("marsh", name, make));
        QCOMPARE(wetness, 0.75);
        QVERIFY(!forKindNamed<Content>("bog", name, make));
        QVERIFY(kLayerKind<Marsh>.isVector);
    }

    void findsEveryKindByItsName() {
        for (const char* kind : {"group", "vector", "raster", "height tint", "hillshade",
                                 "steepness tint", "contours", "grid lines"}) {
            Layer layer;
            QVERIFY(forLayerKind(kind, [&](auto content) { layer.content = std::move(content); }));
            QCOMPARE(layerKind(layer), std::string(kind));
        }
        for (const char* kind :
             {"map panel", "text", "legend", "scale bar", "north arrow", "credits", "profile"}) {
            SheetItem item;
            QVERIFY(forItemKind(kind, [&](auto content) { item.content = std::move(content); }));
            QCOMPARE(itemKind(item), std::string(kind));
        }
    }
};

QTEST_APPLESS_MAIN(KeepTest)
#include "keep_test.moc"
