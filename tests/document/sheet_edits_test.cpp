#include <QTest>
#include <random>

#include "document/edits/edit_table.h"
#include "document/edits/item_layout.h"
#include "document/edits/layer_edits.h"
#include "document/edits/shape_corners.h"
#include "document/edits/sheet_edits.h"
#include "document/edits/sheet_templates.h"
#include "document/json/members.h"
#include "document/json/project_json.h"
#include "document/json/sheet_text.h"
#include "document/panels.h"

using namespace ledge;
using namespace ledge::doc;

namespace {
SheetItem box(Id id, PageRect rect) {
    SheetItem out;
    out.id = id;
    out.name = "box " + std::to_string(id);
    out.rect = rect;
    out.content = ShapeItem{};
    return out;
}

Sheet three() {
    Sheet sheet;
    sheet.id = 1;
    sheet.widthMm = 200, sheet.heightMm = 100;
    sheet.items = {box(10, {10, 10, 20, 10}), box(11, {50, 30, 40, 20}),
                   box(12, {120, 60, 30, 15})};
    return sheet;
}

// The document after an edit that must be possible.
Document after(const Document& d, const char* name, const EditWords& words) {
    auto next = applied(d, name, words);
    if (!next) qWarning("%s", next.error().text().c_str());
    return next ? next->document : Document();
}

Document withLayers() {
    Document d;
    d.mapCrs = "EPSG:32629";
    for (const char* name : {"bottom", "middle", "top"}) {
        Layer layer;
        layer.name = name;
        layer.content = GridLines{};
        d = addLayer(std::move(d), layer, {0, 0}).first;
    }
    return after(d, "sheet-add",
                 {{"name", "Page"}, {"centre", "500000,6800000"}, {"scale", "50000"}});
}

Id layerOf(const Document& d, const char* name) {
    for (const LayerPtr& one : allLayers(d.layers))
        if (one->name == name) return one->id;
    return 0;
}
const MapPanel& panelOf(const Document& d) { return *d.sheets[0]->panel(0)->as<MapPanel>(); }
std::vector<std::string> litIn(const Document& d) {
    std::vector<std::string> out;
    for (const LayerPtr& one : panelLayers(d, panelOf(d)))
        if (one->isVisible) out.push_back(one->name);
    return out;
}
}  // namespace

/// Sheets, their items and panels as edits make them.
class SheetEditsTest : public QObject {
    Q_OBJECT

private slots:
    // Corners come to lie where they are told to, whatever frame, padding and turn the item has.
    void setsCorners() {
        std::mt19937 random(7);
        std::uniform_real_distribution<double> place(5, 190), turn(-180, 180), off(0, 4);
        for (int round = 0; round < 200; ++round) {
            SheetItem item = box(1, {10, 10, 40, 30});
            item.turn = round % 4 == 0 ? 0 : turn(random);
            item.paddingMm = off(random), item.frameMm = off(random);
            ShapeItem& shape = *item.as<ShapeItem>();
            shape.form = round % 2 == 0 ? ShapeForm::Polygon : ShapeForm::Line;
            std::vector<Point> wanted;
            for (int i = 0; i < 3 + round % 5; ++i)
                wanted.push_back({place(random), place(random)});
            if (round == 0) wanted = {{20, 30}, {60, 30}, {40, 30}};  // level
            setCorners(item, wanted);
            const auto now = cornersOf(item);
            QCOMPARE(now.size(), wanted.size());
            for (std::size_t i = 0; i < now.size(); ++i)
                QVERIFY2(distance(now[i], wanted[i]) < 1e-9,
                         qPrintable(QString("%1: %2").arg(round).arg(distance(now[i], wanted[i]))));
            for (const Point share : shape.points)
                QVERIFY(share.x >= -1e-12 && share.x <= 1 + 1e-12 && share.y >= -1e-12 &&
                        share.y <= 1 + 1e-12);
        }
        SheetItem round = box(2, {0, 0, 10, 10});
        round.as<ShapeItem>()->form = ShapeForm::Ellipse;
        QVERIFY(cornersOf(round).empty());
        const SheetItem before = round;
        setCorners(round, std::vector<Point>{{1, 1}, {2, 2}, {3, 1}});
        QVERIFY(round == before);
    }

    void aligns_data() {
        QTest::addColumn<int>("edge");
        QTest::addColumn<double>("expected");
        for (int i = 0; i < 6; ++i)
            QTest::newRow(std::string(kEdgeNames[std::size_t(i)]).c_str())
                << i << std::array{10.0, 80.0, 150.0, 10.0, 42.5, 75.0}[std::size_t(i)];
    }
    void aligns() {
        QFETCH(int, edge);
        QFETCH(double, expected);
        Sheet sheet = three();
        alignItems(sheet, {10, 11, 12}, static_cast<Edge>(edge));
        for (const SheetItem& item : sheet.items) {
            const PageRect& r = item.rect;
            const double at =
                std::array{r.left, r.left + r.width / 2, r.left + r.width,
                           r.top,  r.top + r.height / 2, r.top + r.height}[std::size_t(edge)];
            QCOMPARE(at, expected);
        }
    }
    void alignsOneWithTheMargins() {
        Sheet sheet = three();
        alignItems(sheet, {11}, Edge::Right);
        alignItems(sheet, {11}, Edge::Foot);
        QCOMPARE(sheet.item(11)->rect.left + 40, 200 - sheet.marginMm);
        QCOMPARE(sheet.item(11)->rect.top + 20, 100 - sheet.marginMm);
    }
    void leavesWhatIsLocked() {
        Sheet sheet = three();
        sheet.items[1].change([](SheetItem& i) { i.isLocked = true; });
        const PageRect before = sheet.items[1]->rect;
        alignItems(sheet, {10, 11, 12}, Edge::Left);
        moveItems(sheet, {10, 11, 12}, 5, 5);
        QVERIFY(sheet.item(11)->rect == before);
        QCOMPARE(sheet.item(12)->rect.left, 15.0);
    }
    void distributesWithEqualGaps() {
        Sheet sheet = three();
        distributeItems(sheet, {12, 10, 11}, true);
        const auto &a = sheet.item(10)->rect, &b = sheet.item(11)->rect, &c = sheet.item(12)->rect;
        QCOMPARE(b.left - (a.left + a.width), c.left - (b.left + b.width));
        QCOMPARE(a.left, 10.0);
        QCOMPARE(c.left + c.width, 150.0);
    }
    void takesSizeFromTheFirst() {
        Sheet sheet = three();
        sizeItems(sheet, {11, 10, 12}, true, false);
        for (const SheetItem& item : sheet.items) QCOMPARE(item.rect.width, 40.0);
        QCOMPARE(sheet.item(10)->rect.height, 10.0);
    }
    void orders_data() {
        QTest::addColumn<QString>("to");
        QTest::addColumn<int>("of");
        QTest::addColumn<QString>("order");
        QTest::newRow("front") << "front" << 0 << "11 12 10";
        QTest::newRow("back") << "back" << 0 << "10 11 12";
        QTest::newRow("above") << "above" << 10 << "11 12 10";
        QTest::newRow("below") << "below" << 10 << "10 11 12";
    }
    void orders() {
        QFETCH(QString, to);
        QFETCH(int, of);
        QFETCH(QString, order);
        Sheet sheet = three();
        const auto at = std::find(kLayeringNames.begin(), kLayeringNames.end(), to.toStdString());
        orderItems(sheet, {11, 12}, static_cast<Layering>(at - kLayeringNames.begin()), of);
        QStringList now;
        for (const SheetItem& item : sheet.items) now << QString::number(item.id);
        QCOMPARE(now.join(' '), order);
    }
    // A step at a time each comes to the top and to the bottom, and no further.
    void stepsThroughTheOrder() {
        Sheet sheet = three();
        QCOMPARE(nextInOrder(sheet, {10}, true), Id{0});
        QCOMPARE(nextInOrder(sheet, {12}, true), Id{11});
        QCOMPARE(nextInOrder(sheet, {11, 12}, true), Id{10});
        QCOMPARE(nextInOrder(sheet, {10}, false), Id{11});
        QCOMPARE(nextInOrder(sheet, {10, 11}, false), Id{12});
        QCOMPARE(nextInOrder(sheet, {10, 12}, false), Id{0});
    }
    void keepsGroupsTogether() {
        Sheet sheet = three();
        groupItems(sheet, {10, 12});
        QVERIFY(sheet.item(10)->group != 0 && sheet.item(11)->group == 0);
        moveItems(sheet, {10}, 7, -3);
        QCOMPARE(sheet.item(12)->rect.left, 127.0);
        QCOMPARE(sheet.item(11)->rect.left, 50.0);
        groupItems(sheet, {11, 10});  // the group of one takes the other in
        QCOMPARE(withGroups(sheet, {11}).size(), std::size_t{3});
        ungroupItems(sheet, {12});
        QCOMPARE(withGroups(sheet, {11}).size(), std::size_t{1});
    }

    void fulfilsPins() {
        Document d;
        Sheet sheet = three();
        sheet.items[0].change([](SheetItem& i) {
            i.pins = {{Side::Left, 0, Side::Left, 12}, {Side::Right, 0, Side::Right, -12}};
        });
        sheet.items[1].change([](SheetItem& i) { i.pins = {{Side::Top, 10, Side::Bottom, 4}}; });
        d.sheets.push_back(sheet);
        d = resizeSheet(d, 1, 300, 150, false);
        const Sheet& now = d.sheets[0];
        QCOMPARE(now.item(10)->rect.left, 12.0);
        QCOMPARE(now.item(10)->rect.width, 300.0 - 24);
        QCOMPARE(now.item(11)->rect.top, now.item(10)->rect.top + 10 + 4);
        d = withItem(d, 1, 10, [](SheetItem& i) { i.rect.top = 40; });
        QCOMPARE(d.sheets[0]->item(11)->rect.top, 54.0);
    }
    // Pins in a circle, to nothing, across: nothing hangs or flies away.
    void survivesPinsThatCannotBe() {
        Sheet sheet = three();
        sheet.items[0].change([](SheetItem& i) { i.pins = {{Side::Left, 11, Side::Right, 5}}; });
        sheet.items[1].change([](SheetItem& i) {
            i.pins = {{Side::Left, 10, Side::Right, 5},
                      {Side::Top, 999, Side::Top, 1},
                      {Side::Top, 10, Side::Left, 1}};
        });
        settlePins(sheet);
        for (const SheetItem& item : sheet.items)
            QVERIFY(std::abs(item.rect.left) < 1e5 && std::isfinite(item.rect.left));
        QCOMPARE(sheet.item(11)->rect.top, 30.0);
    }

    void fillsEveryTemplate_data() {
        QTest::addColumn<QString>("name");
        for (const SheetTemplate& one : sheetTemplates())
            QTest::newRow(std::string(one.name).c_str())
                << QString::fromUtf8(one.name.data(), qsizetype(one.name.size()));
    }
    // Whole on any page, nothing over another thing that is read, every reference to a panel kept.
    void fillsEveryTemplate() {
        QFETCH(QString, name);
        const SheetTemplate* from = sheetTemplate(name.toStdString());
        QVERIFY(from);
        const std::pair<double, double> sizes[] = {{from->widthMm, from->heightMm},
                                                   {from->heightMm, from->widthMm},
                                                   {from->widthMm * 1.6, from->heightMm * 1.4}};
        for (const auto& [w, h] : sizes) {
            const Document d = after({}, "sheet-add",
                                     {{"name", "x"},
                                      {"template", name.toStdString()},
                                      {"width", std::to_string(w)},
                                      {"height", std::to_string(h)}});
            QCOMPARE(d.sheets.size(), std::size_t{1});
            const Sheet& sheet = d.sheets[0];
            for (const SheetItem& item : sheet.items) {
                QVERIFY2(item.rect.left >= -1e-6 && item.rect.top >= -1e-6 &&
                             item.rect.left + item.rect.width <= w + 1e-6 &&
                             item.rect.top + item.rect.height <= h + 1e-6,
                         item.name.c_str());
                std::visit(
                    [&](const auto& content) {
                        if constexpr (requires { content.panel; }) {
                            const SheetItem* panel = sheet.item(content.panel);
                            QVERIFY(panel && panel->as<MapPanel>());
                        }
                    },
                    item.content);
            }
        }
        QCOMPARE(after({}, "sheet-add", {{"name", "x"}, {"template", name.toStdString()}})
                     .sheets[0]
                     ->items.empty(),
                 name == "empty");
    }

    void keepsItemsOnThePage() {
        std::mt19937 random(7);
        std::uniform_real_distribution<double> size(40, 900);
        Document d = withLayers();
        const Id id = d.sheets[0]->id;
        for (int i = 0; i < 200; ++i) {
            const double w = size(random), h = size(random);
            d = resizeSheet(d, id, w, h, i % 2 == 0, i % 3 == 0);
            for (const SheetItem& item : d.sheets[0]->items) {
                const PageRect& r = item.rect;
                QVERIFY(r.left >= -1e-9 && r.top >= -1e-9 && r.left + r.width <= w + 1e-6 &&
                        r.top + r.height <= h + 1e-6);
                QVERIFY(r.width > 0 && r.height > 0);
            }
        }
    }
    // A4 to six inches: what did not lie over another thing does not now, and type follows.
    void fitsToAFigure() {
        Document d = withLayers();
        const Id id = d.sheets[0]->id;
        d = after(d, "sheet-size",
                  {{"sheet", "Page"},
                   {"width", "6 in"},
                   {"height", "6in"},
                   {"fit", "yes"},
                   {"fit_type", "yes"}});
        const Sheet& sheet = *d.sheet(id);
        QVERIFY(std::abs(sheet.widthMm - 152.4) < 1e-9 && std::abs(sheet.heightMm - 152.4) < 1e-9);
        for (const SheetItem& item : sheet.items)
            if (const auto* text = item.as<TextItem>(); text && item.name == "Title")
                QVERIFY(text->sizePt < 18 && text->sizePt >= 5);
        for (std::size_t i = 0; i < sheet.items.size(); ++i)
            for (std::size_t k = i + 1; k < sheet.items.size(); ++k) {
                const PageRect &a = sheet.items[i]->rect, &b = sheet.items[k]->rect;
                const bool isApart =
                    a.left + a.width <= b.left + 1e-6 || b.left + b.width <= a.left + 1e-6 ||
                    a.top + a.height <= b.top + 1e-6 || b.top + b.height <= a.top + 1e-6;
                QVERIFY2(isApart, (sheet.items[i]->name + " over " + sheet.items[k]->name).c_str());
            }
    }

    void copiesSheets() {
        Document d = withLayers();
        const Sheet before = d.sheets[0];
        d = after(d, "sheet-copy", {{"sheet", "Page"}, {"name", "Twin"}});
        QCOMPARE(d.sheets.size(), std::size_t{2});
        const Sheet& twin = d.sheets[1];
        QCOMPARE(twin.items.size(), before.items.size());
        std::set<Id> ids;
        for (const SheetItem& item : before.items) ids.insert(item.id);
        for (const SheetItem& item : twin.items) QVERIFY(!ids.contains(item.id));
        for (const SheetItem& item : twin.items)
            if (const auto* legend = item.as<LegendItem>())
                QCOMPARE(legend->panel, twin.panel(0)->id);
        // Done twice it is done once.
        QCOMPARE(after(d, "sheet-copy", {{"sheet", "Page"}, {"name", "Twin"}}).sheets.size(),
                 std::size_t{2});
        QVERIFY(!applied(d, "sheet-copy", {{"sheet", "Page"}, {"name", "Page"}}));
    }
    void carriesItemsAsText() {
        Document d = withLayers();
        const Sheet& sheet = d.sheets[0];
        std::vector<Id> all;
        for (const SheetItem& item : sheet.items) all.push_back(item.id);
        const std::string text = itemsText(sheet, all);
        d = after(d, "sheet-add", {{"name", "Other"}, {"template", "empty"}});
        const Document pasted = after(d, "items-paste", {{"sheet", "Other"}, {"text", text}});
        const Sheet& other = *pasted.sheets[1];
        QCOMPARE(other.items.size(), sheet.items.size());
        for (std::size_t i = 0; i < sheet.items.size(); ++i) {
            QCOMPARE(other.items[i]->name, sheet.items[i]->name);
            if (const auto* bar = other.items[i]->as<ScaleBarItem>())
                QCOMPARE(bar->panel, other.panel(0)->id);
        }
        QVERIFY(after(pasted, "items-paste", {{"sheet", "Other"}, {"text", text}})
                    .sheets[1]
                    ->items.size() == sheet.items.size());
        for (const char* wrong :
             {"", "{}", "{\"ledge_items\": 3}", "words", "{\"ledge_items\": [{\"id\": \"x\"}]}"})
            QVERIFY(!applied(d, "items-paste", {{"sheet", "Other"}, {"text", wrong}}));
    }
    void keepsSheetsAsFiles() {
        Document d = withLayers();
        d = after(d, "sheet-set",
                  {{"sheet", "Page"}, {"member", "guides_across"}, {"value", "[20, 40.5]"}});
        const std::string text = sheetText(d.sheets[0], "/tmp");
        const Document made =
            after({}, "sheet-from", {{"name", "Again"}, {"text", text}, {"folder", "/tmp"}});
        QCOMPARE(made.sheets.size(), std::size_t{1});
        QCOMPARE(made.sheets[0]->guidesAcross.size(), std::size_t{2});
        QCOMPARE(made.sheets[0]->items.size(), d.sheets[0]->items.size());
        QVERIFY(!applied({}, "sheet-from", {{"name", "No"}, {"text", "{}"}}));
    }

    void addsItemsWithMembers() {
        Document d =
            after(withLayers(), "item-add",
                  {{"sheet", "Page"},
                   {"kind", "shape"},
                   {"name", "Arrow"},
                   {"rect", "10,10,2cm,1 in"},
                   {"with", R"({"form": "line", "points": [[0, 1], [1, 0]], "head": true})"}});
        const SheetItem& item = d.sheets[0]->items[0];
        QVERIFY(item.as<ShapeItem>() && item.as<ShapeItem>()->hasHead &&
                item.as<ShapeItem>()->points.size() == 2);
        QCOMPARE(item.rect.width, 20.0);
        QCOMPARE(item.rect.height, 25.4);
        QVERIFY(!applied(d, "item-add",
                         {{"sheet", "Page"},
                          {"kind", "shape"},
                          {"name", "x"},
                          {"rect", "1,1,1,1"},
                          {"with", "{\"heads\": 1}"}}));
        QVERIFY(!applied(d, "item-add",
                         {{"sheet", "Page"},
                          {"kind", "shape"},
                          {"name", "x"},
                          {"rect", "1,1,1,1"},
                          {"with", "[]"}}));
    }
    void setsMembersOfSeveral() {
        const Document d = withLayers();
        const Document set = after(d, "items-set",
                                   {{"sheet", "Page"},
                                    {"items", "Title, Subtitle, North"},
                                    {"member", "size_pt"},
                                    {"value", "11"}});
        for (const SheetItem& item : set.sheets[0]->items)
            if (const auto* text = item.as<TextItem>()) QCOMPARE(text->sizePt, 11.0);
        QVERIFY(!applied(
            d, "items-set",
            {{"sheet", "Page"}, {"items", "North"}, {"member", "size_pt"}, {"value", "11"}}));
        QVERIFY(!applied(
            d, "items-set",
            {{"sheet", "Page"}, {"items", "Title"}, {"member", "size_pt"}, {"value", "large"}}));
    }
    void pinsByName() {
        Document d = withLayers();
        d = after(d, "item-pin",
                  {{"sheet", "Page"},
                   {"item", "North"},
                   {"side", "right"},
                   {"to", "page"},
                   {"distance", "-1cm"}});
        const auto north = [&] {
            for (const SheetItem& item : d.sheets[0]->items)
                if (item.name == "North") return item.rect;
            return PageRect();
        };
        QCOMPARE(north().left + north().width, 287.0);
        d = after(d, "sheet-size",
                  {{"sheet", "Page"}, {"width", "400"}, {"height", "210"}, {"fit", "no"}});
        QCOMPARE(north().left + north().width, 390.0);
        d = after(d, "item-pin",
                  {{"sheet", "Page"}, {"item", "North"}, {"side", "right"}, {"to", "nothing"}});
        d = after(d, "sheet-size",
                  {{"sheet", "Page"}, {"width", "500"}, {"height", "210"}, {"fit", "no"}});
        QCOMPARE(north().left + north().width, 390.0);
        QVERIFY(
            !applied(d, "item-pin",
                     {{"sheet", "Page"}, {"item", "North"}, {"side", "left"}, {"to", "North"}}));
        QVERIFY(!applied(d, "item-pin",
                         {{"sheet", "Page"},
                          {"item", "North"},
                          {"side", "left"},
                          {"to", "page"},
                          {"to_side", "top"}}));
    }

    // A panel owns which layers are lit: new ones stay dark in it, the map's lamps change nothing.
    void ownsItsLamps() {
        Document d = withLayers();
        QCOMPARE(litIn(d), (std::vector<std::string>{"top", "middle", "bottom"}));
        const Document followed =
            after(d, "layer-visible", {{"layer", "middle"}, {"visible", "no"}});
        QCOMPARE(litIn(followed), (std::vector<std::string>{"top", "bottom"}));
        d = after(d, "panel-lamps", {{"sheet", "Page"}, {"item", "Main map"}, {"from", "map"}});
        Document later = after(d, "layer-visible", {{"layer", "middle"}, {"visible", "no"}});
        Layer fresh;
        fresh.name = "fresh";
        fresh.content = GridLines{};
        later = addLayer(std::move(later), fresh, {0, 0}).first;
        QCOMPARE(litIn(later), (std::vector<std::string>{"top", "middle", "bottom"}));
        later =
            after(later, "panel-lamp",
                  {{"sheet", "Page"}, {"item", "Main map"}, {"layer", "fresh"}, {"lit", "yes"}});
        QCOMPARE(litIn(later), (std::vector<std::string>{"fresh", "top", "middle", "bottom"}));
        later = after(later, "panel-lamp",
                      {{"sheet", "Page"}, {"item", "Main map"}, {"layer", "top"}, {"lit", "no"}});
        QCOMPARE(litIn(later), (std::vector<std::string>{"fresh", "middle", "bottom"}));
        later =
            after(later, "panel-order",
                  {{"sheet", "Page"}, {"item", "Main map"}, {"layer", "bottom"}, {"to", "top"}});
        QCOMPARE(litIn(later), (std::vector<std::string>{"bottom", "fresh", "middle"}));
        QCOMPARE(later.layers.front()->name, std::string("fresh"));  // the map's order stays
        later = after(later, "panel-lamps",
                      {{"sheet", "Page"}, {"item", "Main map"}, {"from", "follow"}});
        QCOMPARE(litIn(later), (std::vector<std::string>{"fresh", "top", "bottom"}));
    }
    void followsViewsAndPanels() {
        Document d = withLayers();
        d = after(d, "layer-visible", {{"layer", "top"}, {"visible", "no"}});
        d = saveView(std::move(d), "Glen", {{510000, 6810000}, 20000, 15}).first;
        d = after(d, "layer-visible", {{"layer", "top"}, {"visible", "yes"}});
        d = after(d, "panel-follow", {{"sheet", "Page"}, {"item", "Main map"}, {"what", "Glen"}});
        MapPanel shown = resolved(d, panelOf(d));
        QCOMPARE(shown.scale, 20000.0);
        QCOMPARE(shown.rotation, 15.0);
        QCOMPARE(litIn(d), (std::vector<std::string>{"middle", "bottom"}));
        // The view changed: so does what follows it.
        d = saveView(std::move(d), "Glen", {{510000, 6810000}, 30000, 0}).first;
        QCOMPARE(resolved(d, panelOf(d)).scale, 30000.0);
        // A panel that follows the first one, and the first one that one: neither hangs.
        d = after(d, "item-add",
                  {{"sheet", "Page"},
                   {"kind", "map panel"},
                   {"name", "Second"},
                   {"rect", "1,1,50,50"},
                   {"scale", "7000"}});
        d = after(d, "panel-follow", {{"sheet", "Page"}, {"item", "Second"}, {"what", "Main map"}});
        QCOMPARE(resolved(d, *d.sheets[0]->items[0]->as<MapPanel>()).scale, 30000.0);
        d = after(d, "panel-follow", {{"sheet", "Page"}, {"item", "Main map"}, {"what", "Second"}});
        QVERIFY(std::isfinite(resolved(d, panelOf(d)).scale));
        // Moved by hand it stays where it was and follows no more.
        d = after(d, "panel-follow", {{"sheet", "Page"}, {"item", "Main map"}, {"what", "Glen"}});
        d = after(d, "panel-look", {{"sheet", "Page"}, {"item", "Main map"}});
        QCOMPARE(panelOf(d).follows, Id{0});
        QCOMPARE(panelOf(d).centre.x, 510000.0);
        QVERIFY(!applied(d, "panel-follow",
                         {{"sheet", "Page"}, {"item", "Main map"}, {"what", "Nobody"}}));
    }
    void takesScaleAndPlaceFromAnother() {
        Document d = withLayers();
        d = after(d, "item-add",
                  {{"sheet", "Page"},
                   {"kind", "map panel"},
                   {"name", "Second"},
                   {"rect", "1,1,50,50"},
                   {"centre", "400000,6700000"},
                   {"scale", "9000"}});
        const auto second = [](const Document& of) {
            return *of.sheets[0]->items[0]->as<MapPanel>();
        };
        const Document scaled = after(
            d, "panel-like",
            {{"sheet", "Page"}, {"item", "Second"}, {"other", "Main map"}, {"what", "scale"}});
        QVERIFY(std::abs(second(scaled).scale / panelOf(d).scale - 1) < 0.01);
        QCOMPARE(second(scaled).centre.x, 400000.0);
        const Document placed = after(
            d, "panel-like",
            {{"sheet", "Page"}, {"item", "Second"}, {"other", "Main map"}, {"what", "place"}});
        QCOMPARE(second(placed).centre.x, 500000.0);
        QVERIFY(std::abs(second(placed).scale / second(d).scale - 1) < 0.01);
        const Document all =
            after(d, "panel-like",
                  {{"sheet", "Page"}, {"item", "Second"}, {"other", "Main map"}, {"what", "all"}});
        QCOMPARE(second(all).scale, panelOf(d).scale);
    }
    // What a project says of all this comes back the same.
    void survivesTheProjectsText() {
        Document d = withLayers();
        d = after(d, "panel-lamps", {{"sheet", "Page"}, {"item", "Main map"}, {"from", "map"}});
        d = after(d, "item-set",
                  {{"sheet", "Page"},
                   {"item", "Main map"},
                   {"member", "grids"},
                   {"value",
                    R"([{"form": "crosses", "style": {"lines": "grid", "crs": "EPSG:25829"}}])"}});
        d = after(d, "item-set",
                  {{"sheet", "Page"}, {"item", "Title"}, {"member", "turn"}, {"value", "12.5"}});
        d = after(
            d, "item-set",
            {{"sheet", "Page"}, {"item", "Title"}, {"member", "background"}, {"value", "#000000"}});
        d = after(d, "sheet-set",
                  {{"sheet", "Page"}, {"member", "series.over"}, {"value", "layers"}});
        d = after(d, "sheet-set",
                  {{"sheet", "Page"},
                   {"member", "series.things"},
                   {"value", "[" + std::to_string(layerOf(d, "top")) + "]"}});
        const auto back = projectFromText(projectText(d, "/tmp"), "/tmp");
        QVERIFY2(back.has_value(), back ? "" : back.error().text().c_str());
        QVERIFY(back->sheets == d.sheets);
    }
};

QTEST_APPLESS_MAIN(SheetEditsTest)
#include "sheet_edits_test.moc"
