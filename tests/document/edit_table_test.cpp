#include "document/edits/edit_table.h"

#include <QTest>

#include "core/crs/transformation.h"
#include "document/edits/additions.h"
#include "document/edits/layer_edits.h"
#include "document/edits/sheet_edits.h"
#include "document/map_crs.h"

using namespace ledge;
using namespace ledge::doc;

namespace {
// Two layers of one source, a group, a view, a profile, a sheet.
Document sample() {
    Document d;
    d.mapCrs = "EPSG:32629";
    SourceRef s;
    s.name = "DEM";
    s.path = "/data/dem.tif";
    auto [one, source] = addSource(d, s);
    d = one;
    for (const char* name : {"Light", "Lines"}) {
        Layer l;
        l.name = name;
        l.source = source;
        if (std::string(name) == "Light") {
            Hillshade shade;
            shade.style.kept = {{45, 40}};
            l.content = shade;
        } else {
            l.content = Contours{};
        }
        d = addLayer(std::move(d), std::move(l)).first;
    }
    Layer crofts;
    crofts.name = "Crofts";
    crofts.source = source;
    VectorLayer vector;
    vector.labels.resize(2);
    vector.labels[0].pins.emplace_back().key = 7;
    vector.labels[1].name = "Owners";
    crofts.content = vector;
    d = addLayer(std::move(d), std::move(crofts)).first;
    d.questions.emplace_back().id = d.nextId++;
    d.questions.back().name = "Hay";
    Layer group;
    group.name = "Relief";
    group.content = Group{};
    d = addLayer(std::move(d), std::move(group)).first;
    d = saveView(std::move(d), "Bay", {{500000, 6800000}, 50000, 0}).first;
    SavedProfile profile;
    profile.name = "Ridge";
    d = saveProfile(std::move(d), profile).first;
    d = addSheet(std::move(d), "A4", 297, 210, {{500000, 6800000}, 20000, 0}).first;
    SheetItem inset;
    inset.name = "Inset";
    inset.content = MapPanel{};
    d = addItem(std::move(d), d.sheets[0]->id, inset).first;
    SheetItem way;
    way.name = "Way";
    ShapeItem line;
    line.form = ShapeForm::Line;
    way.content = line;
    d = addItem(std::move(d), d.sheets[0]->id, way).first;
    for (const char* name : {"May", "June"}) {
        Layer month;
        month.name = name;
        RasterLayer raster;
        raster.style.ramp = rampOf("stone", 0, name[1] == 'a' ? 10 : 20);
        month.content = raster;
        d = addLayer(std::move(d), std::move(month)).first;
    }
    return d;
}

// Words for every edit of the table, such as a script would give.
const std::map<std::string, EditWords>& words() {
    static const std::map<std::string, EditWords> all{
        {"project-name", {{"name", "Storm"}}},
        {"map-crs", {{"crs", "EPSG:3035"}}},
        {"layer-style",
         {{"layer", "Lines"},
          {"style", "{\"ledge_style\":1,\"kind\":\"contours\",\"style\":{\"line_mm\":0.4}}"}}},
        {"label-pin",
         {{"layer", "Crofts"},
          {"key", "7"},
          {"right-mm", "4"},
          {"down-mm", "-2.5"},
          {"turn", "10"},
          {"scale", "25000"},
          {"text", "Ness"}}},
        {"label-unpin", {{"layer", "Crofts"}, {"key", "7"}}},
        {"label-set", {{"layer", "Crofts"}, {"name", "Heights"}}},
        {"label-set-remove", {{"layer", "Crofts"}, {"name", "Owners"}}},
        {"datum-operation", {{"one", "4230"}, {"other", "4326"}, {"operation", "1133"}}},
        {"source-crs", {{"source", "DEM"}, {"crs", "EPSG:32628"}}},
        {"source-height-unit", {{"source", "DEM"}, {"unit", "foot"}}},
        {"source-path", {{"source", "DEM"}, {"path", "/elsewhere/dem.tif"}}},
        {"source-set", {{"source", "DEM"}, {"member", "credit"}, {"value", "somebody"}}},
        {"source-shift-grid", {{"source", "DEM"}, {"path", "/grids/old.gsb"}, {"target", "4258"}}},
        {"units", {{"lengths", "feet"}, {"coordinates", "decimal degrees"}}},
        {"custom-crs", {{"name", "Ours"}, {"wkt", "EPSG:3035"}}},
        {"grid-lines-add", {{"name", "Graticule"}, {"lines", "graticule"}}},
        {"profile-save",
         {{"name", "Ridge"}, {"line", "1,2,30,40"}, {"crs", "EPSG:32629"}, {"sources", "DEM"}}},
        {"light", {{"layer", "Light"}, {"azimuth", "270"}, {"altitude", "30"}}},
        {"light-keep", {{"layer", "Light"}, {"azimuth", "90"}, {"altitude", "30"}}},
        {"light-drop", {{"layer", "Light"}, {"azimuth", "45"}, {"altitude", "40"}}},
        {"lights-blend", {{"layer", "Light"}, {"blended", "yes"}}},
        {"lights-word", {{"word", "Sun"}}},
        {"light-add", {{"beside", "Light"}, {"azimuth", "225"}, {"altitude", "40"}}},
        {"contour-interval", {{"layer", "Lines"}, {"metres", "25"}}},
        {"cell-set", {{"source", "DEM"}, {"row", "4"}, {"field", "name"}, {"value", "x"}}},
        {"geometry-set", {{"source", "DEM"}, {"row", "4"}, {"shape", "LINESTRING (1 2, 3 4)"}}},
        {"row-add", {{"source", "DEM"}, {"row", "-1"}, {"shape", "POINT (1 2)"}}},
        {"row-remove", {{"source", "DEM"}, {"row", "4"}}},
        {"cells-set", {{"source", "DEM"}, {"cells", "4\tname\tx\n5\tname\n"}}},
        {"table-edits",
         {{"source", "DEM"},
          {"what", "Draw"},
          {"edits", "add\t9\tPOINT (1 2)\nshape\t4\tPOINT (3 4)\ncell\t9\tname\tx\n"}}},
        {"table-saved", {{"source", "DEM"}}},
        {"source-reading",
         {{"source", "DEM"}, {"encoding", "UTF-8"}, {"delimiter", "tab"}, {"header", "no"}}},
        {"rows-remove", {{"source", "DEM"}, {"rows", "4,5"}}},
        {"column-compute",
         {{"source", "DEM"}, {"name", "twice"}, {"formula", "2 * sheep"}, {"live", "yes"}}},
        {"layer-filter", {{"layer", "Crofts"}, {"keep", "sheep > 2"}}},
        {"column-look",
         {{"layer", "Crofts"}, {"field", "sheep"}, {"decimals", "2"}, {"frozen", "yes"}}},
        {"columns-order", {{"layer", "Crofts"}, {"fields", "sheep,name"}}},
        {"question-keep",
         {{"name", "Near"}, {"layer", "Crofts"}, {"near", "Crofts"}, {"within-metres", "500"}}},
        {"question-name", {{"question", "Hay"}, {"name", "Hay"}}},
        {"question-remove", {{"question", "Hay"}}},
        {"column-add", {{"source", "DEM"}, {"name", "share"}, {"type", "real"}}},
        {"column-remove", {{"source", "DEM"}, {"name", "share"}}},
        {"column-name", {{"source", "DEM"}, {"from", "a"}, {"to", "b"}}},
        {"table-revert", {{"source", "DEM"}}},
        {"panel-place",
         {{"sheet", "A4"}, {"item", "Main map"}, {"centre", "501000,6801000"}, {"scale", "5000"}}},
        {"panel-keep", {{"sheet", "A4"}, {"item", "Main map"}, {"keep", "yes"}}},
        {"legend-name", {{"sheet", "A4"}, {"item", "Key"}, {"layer", "Light"}, {"name", "Sun"}}},
        {"legend-listed", {{"sheet", "A4"}, {"item", "Key"}, {"layer", "Lines"}, {"listed", "no"}}},
        {"source-credit", {{"source", "DEM"}, {"credit", "somebody"}}},
        {"view-save", {{"name", "Cape"}, {"centre", "510000,6810000"}, {"scale", "25000"}}},
        {"view-name", {{"view", "Bay"}, {"name", "Bay"}}},
        {"view-lamps", {{"view", "Bay"}}},
        {"view-remove", {{"view", "Bay"}}},
        {"profile-name", {{"profile", "Ridge"}, {"name", "Ridge"}}},
        {"profile-remove", {{"profile", "Ridge"}}},
        {"project-author", {{"author", "A. Surveyor"}}},
        {"layer-name", {{"layer", "#2"}, {"name", "Evening light"}}},
        {"layer-visible", {{"layer", "Light"}, {"visible", "no"}}},
        {"layer-opacity", {{"layer", "Light"}, {"percent", "35"}}},
        {"layer-blend", {{"layer", "Light"}, {"mode", "soft light"}}},
        {"layer-scales", {{"layer", "Light"}, {"widest", "200000"}}},
        {"layer-fold", {{"group", "Relief"}, {"folded", "yes"}}},
        {"layer-move", {{"layer", "Light"}, {"group", "Relief"}, {"index", "0"}}},
        {"layer-group", {{"layers", "Light,Lines"}, {"name", "Both"}}},
        {"layer-remove", {{"layer", "Lines"}}},
        {"layers-visible", {{"layers", "Light,Lines"}, {"visible", "no"}}},
        {"layers-move", {{"layers", "Light,Lines"}, {"group", ""}, {"index", "0"}}},
        {"layers-remove", {{"layers", "Light,Lines"}}},
        {"layers-add",
         {{"sources", R"([{"id":0,"name":"Tracks","path":"/data/tracks.gpkg"}])"},
          {"layers", R"([{"id":0,"name":"Ways","kind":"group","children":[
              {"id":0,"name":"Tracks","kind":"vector","source":0}]}])"}}},
        {"layer-set", {{"layer", "Lines"}, {"member", "style.interval"}, {"value", "25"}}},
        {"sheet-add", {{"name", "Poster"}, {"width", "594"}, {"height", "420"}}},
        {"sheet-name", {{"sheet", "A4"}, {"name", "A4"}}},
        {"sheet-size", {{"sheet", "A4"}, {"width", "420"}, {"height", "297"}}},
        {"sheet-remove", {{"sheet", "A4"}}},
        {"item-add", {{"sheet", "A4"}, {"kind", "text"}, {"name", "Note"}, {"rect", "10,10,40,8"}}},
        {"item-name", {{"sheet", "A4"}, {"item", "Key"}, {"name", "Key"}}},
        {"item-rect", {{"sheet", "A4"}, {"item", "Key"}, {"rect", "5,5,60,40"}}},
        {"item-visible", {{"sheet", "A4"}, {"item", "Key"}, {"visible", "no"}}},
        {"item-locked", {{"sheet", "A4"}, {"item", "Key"}, {"locked", "yes"}}},
        {"item-remove", {{"sheet", "A4"}, {"item", "Key"}}},
        {"item-set", {{"sheet", "A4"}, {"item", "Key"}, {"member", "columns"}, {"value", "2"}}},
        {"panel-scale", {{"sheet", "A4"}, {"item", "Main map"}, {"scale", "10000"}}},
        {"panel-rotation", {{"sheet", "A4"}, {"item", "Main map"}, {"degrees", "30"}}},
        {"panel-crs", {{"sheet", "A4"}, {"item", "Main map"}, {"crs", "EPSG:3857"}}},
        {"panel-view", {{"sheet", "A4"}, {"item", "Main map"}, {"view", "Bay"}}},
        {"panel-look",
         {{"sheet", "A4"}, {"item", "Main map"}, {"centre", "1,2"}, {"scale", "7000"}}},
        {"panel-like",
         {{"sheet", "A4"}, {"item", "Inset"}, {"other", "Main map"}, {"what", "all"}}},
        {"panel-follow", {{"sheet", "A4"}, {"item", "Main map"}, {"what", "Bay"}}},
        {"panel-lamps", {{"sheet", "A4"}, {"item", "Main map"}, {"from", "map"}}},
        {"panel-lamp", {{"sheet", "A4"}, {"item", "Main map"}, {"layer", "Lines"}, {"lit", "no"}}},
        {"panel-order",
         {{"sheet", "A4"},
          {"item", "Main map"},
          {"layer", "Lines"},
          {"to", "below"},
          {"of", "Light"}}},
        {"credit-wording",
         {{"sheet", "A4"}, {"item", "Sources"}, {"credit", "survey"}, {"wording", "by us"}}},
        {"legend-rename", {{"layer", "#2"}, {"name", "Sun"}}},
        {"legend-order",
         {{"sheet", "A4"},
          {"item", "Key"},
          {"layer", "Lines"},
          {"to", "up"},
          {"among", "Light,Lines"}}},
        {"shape-corners", {{"sheet", "A4"}, {"item", "Way"}, {"points", "20,30,60,30,40,50.5"}}},
        {"series-filter",
         {{"sheet", "A4"}, {"layer", "Crofts"}, {"condition", "parish = {feature: name}"}}},
        {"sheet-copy", {{"sheet", "A4"}, {"name", "Twin"}}},
        {"sheet-from",
         {{"name", "From a file"},
          {"text",
           R"({"ledge_sheet": {"id": 1, "width_mm": 90, "height_mm": 50, "items": [{"id": 2, "kind": "text", "name": "a", "rect_mm": [1, 1, 9, 9]}]}})"}}},
        {"sheet-set", {{"sheet", "A4"}, {"member", "margin_mm"}, {"value", "12"}}},
        {"items-set",
         {{"sheet", "A4"}, {"items", "Title,Subtitle"}, {"member", "size_pt"}, {"value", "11"}}},
        {"items-place", {{"sheet", "A4"}, {"items", "Title"}, {"rects", "1,2,30,4"}}},
        {"items-align", {{"sheet", "A4"}, {"items", "Title,North"}, {"edge", "middle"}}},
        {"items-distribute", {{"sheet", "A4"}, {"items", "Title,North,Scale"}, {"way", "down"}}},
        {"items-size", {{"sheet", "A4"}, {"items", "Title,North"}, {"as", "both"}}},
        {"items-order", {{"sheet", "A4"}, {"items", "Title"}, {"to", "below"}, {"of", "North"}}},
        {"items-group", {{"sheet", "A4"}, {"items", "Title,North"}, {"grouped", "yes"}}},
        {"items-remove", {{"sheet", "A4"}, {"items", "Title,North"}}},
        {"items-paste",
         {{"sheet", "A4"},
          {"text",
           R"({"ledge_items": [{"id": 2, "kind": "text", "name": "a", "rect_mm": [1, 1, 9, 9]}]})"}}},
        {"item-pin",
         {{"sheet", "A4"},
          {"item", "North"},
          {"side", "right"},
          {"to", "page"},
          {"distance", "-20"}}},
        {"ramp-share", {{"layer", "May"}, {"with", "June"}}},
    };
    return all;
}
}  // namespace

/// Edits by name and arguments.
class EditTableTest : public QObject {
    Q_OBJECT

private slots:
    void doesEachEditTwiceAsOnce_data() {
        QTest::addColumn<QString>("name");
        for (const NamedEdit& edit : namedEdits())
            QTest::newRow(std::string(edit.name).c_str())
                << QString::fromStdString(std::string(edit.name));
        QCOMPARE(namedEdits().size(), words().size());
    }
    void doesEachEditTwiceAsOnce() {
        QFETCH(QString, name);
        const auto given = words().find(name.toStdString());
        QVERIFY2(given != words().end(), "no words for this edit");
        const Document before = sample();
        const auto once = applied(before, name.toStdString(), given->second);
        QVERIFY2(once.has_value(), once ? "" : once.error().text().c_str());
        QVERIFY(!once->sentence.empty());
        QVERIFY2(once->sentence.find('{') == std::string::npos, once->sentence.c_str());
        const bool isSame = once->document == before;
        const bool changesNothing =
            name.endsWith("-name")
                ? name != "project-name" && name != "layer-name" && name != "legend-name" &&
                      name != "column-name"
                : name == "view-lamps" || name == "table-revert" || name == "table-saved";
        QCOMPARE(isSame, changesNothing);
        const auto twice = applied(once->document, name.toStdString(), given->second);
        QVERIFY2(twice.has_value(), twice ? "" : twice.error().text().c_str());
        QVERIFY(twice->document == once->document);
    }

    void saysWhatItDid() {
        QCOMPARE(applied(sample(), "layer-opacity", {{"layer", "#2"}, {"percent", "50"}})->sentence,
                 std::string("Opacity of Light"));
        QCOMPARE(applied(sample(), "layer-set",
                         {{"layer", "Lines"}, {"member", "style.interval"}, {"value", "5"}})
                     ->sentence,
                 std::string("Interval of Lines"));
    }

    void renamesInTheStackAndInAllLegends() {
        Document d = sample();
        const EditWords called{
            {"sheet", "A4"}, {"item", "Key"}, {"layer", "#2"}, {"name", "Sun over all"}};
        d = applied(d, "legend-name", called)->document;
        const auto done = applied(d, "legend-rename", {{"layer", "#2"}, {"name", "Sun"}});
        QVERIFY(done.has_value());
        QCOMPARE(done->sentence, std::string("Rename Light everywhere"));
        QCOMPARE(done->document.layer(2)->name, std::string("Sun"));
        for (const Sheet& sheet : done->document.sheets)
            for (const SheetItem& item : sheet.items)
                if (const auto* legend = item.as<LegendItem>()) QVERIFY(!legend->names.contains(2));
    }

    // What a job brought in, said as an edit and done to the document it started from.
    void addsWhatAJobMade() {
        const Document before = sample();
        Document after = before;
        after.mapCrs = "EPSG:3035";
        SourceRef source;
        source.name = "Shores";
        source.path = "/data/shores.gpkg";
        source.layer = "shores";
        source.declaredCrs = "EPSG:4326";
        auto [with, id] = addSource(after, source);
        with.sources[0].credit = "somebody";
        Layer group;
        group.name = "Coast";
        group.content = Group{};
        auto [grouped, groupId] = addLayer(std::move(with), std::move(group));
        after = std::move(grouped);
        Layer layer;
        layer.name = "Shores";
        layer.source = id;
        VectorLayer vector;
        vector.style.look.strokeMm = 0.7;
        layer.content = vector;
        after = addLayer(std::move(after), std::move(layer), {groupId, 0}).first;
        EditWords given = additionsBetween(before, after);
        given["said"] = "Add coast";
        const auto done = applied(before, "layers-add", given);
        QVERIFY2(done.has_value(), done ? "" : done.error().text().c_str());
        QVERIFY(done->document == after);
        QCOMPARE(done->sentence, std::string("Add coast"));
        // Meanwhile something else was edited: that stays.
        Document meanwhile = before;
        meanwhile.name = "Storm";
        QCOMPARE(applied(meanwhile, "layers-add", given)->document.name, std::string("Storm"));
    }

    void refusesAdditionsItCannotRead_data() {
        QTest::addColumn<QString>("sources");
        QTest::addColumn<QString>("layers");
        QTest::newRow("no list") << ""
                                 << "Light";
        QTest::newRow("an object") << ""
                                   << "{}";
        QTest::newRow("wrong type") << ""
                                    << R"([{"id":0,"name":7,"kind":"group"}])";
        QTest::newRow("no such source") << ""
                                        << R"([{"id":0,"name":"X","kind":"vector","source":77}])";
        QTest::newRow("sources of texts") << R"(["a"])"
                                          << "[]";
    }
    void refusesAdditionsItCannotRead() {
        QFETCH(QString, sources);
        QFETCH(QString, layers);
        const auto done =
            applied(sample(), "layers-add",
                    {{"sources", sources.toStdString()}, {"layers", layers.toStdString()}});
        QVERIFY(!done.has_value());
        QVERIFY(!done.error().mend.empty());
    }

    void findsTargetsByIdWhateverTheirNames() {
        Document d = sample();
        d = withLayer(std::move(d), 3, [](Layer& l) { l.name = "2"; });
        const auto byName = applied(d, "layer-visible", {{"layer", "2"}, {"visible", "no"}});
        QVERIFY(!byName->document.layer(3)->isVisible && byName->document.layer(2)->isVisible);
        const auto byId = applied(d, "layer-visible", {{"layer", "#2"}, {"visible", "no"}});
        QVERIFY(byId->document.layer(3)->isVisible && !byId->document.layer(2)->isVisible);
    }

    void setsAnythingAProjectCanSay_data() {
        QTest::addColumn<QString>("layer");
        QTest::addColumn<QString>("member");
        QTest::addColumn<QString>("value");
        QTest::addColumn<bool>("works");
        QTest::newRow("number") << "Lines"
                                << "style.interval"
                                << "12.5" << true;
        QTest::newRow("in a list") << "Light"
                                   << "style.lights.0.azimuth"
                                   << "270" << true;
        QTest::newRow("truth") << "Light"
                               << "visible"
                               << "no" << true;
        QTest::newRow("choice") << "Light"
                                << "blend"
                                << "multiply" << true;
        QTest::newRow("no such choice") << "Light"
                                        << "blend"
                                        << "dodge" << false;
        QTest::newRow("too much") << "Light"
                                  << "opacity"
                                  << "1.5" << false;
        QTest::newRow("no number") << "Light"
                                   << "opacity"
                                   << "half" << false;
        QTest::newRow("no such member") << "Light"
                                        << "style.colour_of_moon"
                                        << "1" << false;
        QTest::newRow("beyond the list") << "Light"
                                         << "style.lights.7.azimuth"
                                         << "1" << false;
        QTest::newRow("its kind") << "Light"
                                  << "kind"
                                  << "contours" << false;
        QTest::newRow("its id") << "Light"
                                << "id"
                                << "9" << false;
        QTest::newRow("nothing") << "Light"
                                 << ""
                                 << "9" << false;
        QTest::newRow("of another type") << "Light"
                                         << "style.lights"
                                         << "7" << false;
    }
    void setsAnythingAProjectCanSay() {
        QFETCH(QString, layer);
        QFETCH(QString, member);
        QFETCH(QString, value);
        QFETCH(bool, works);
        const Document before = sample();
        const auto done = applied(before, "layer-set",
                                  {{"layer", layer.toStdString()},
                                   {"member", member.toStdString()},
                                   {"value", value.toStdString()}});
        QVERIFY2(done.has_value() == works, done ? "worked" : done.error().text().c_str());
        if (works) QVERIFY(!(done->document == before));
        if (!works) QVERIFY(!done.error().mend.empty());
    }

    void refusesWhatItCannotUse_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("key");
        QTest::addColumn<QString>("value");
        QTest::addColumn<QString>("said");
        QTest::newRow("no such edit") << "layer-fly"
                                      << ""
                                      << ""
                                      << "ledge edits";
        QTest::newRow("no such argument") << "layer-opacity"
                                          << "alpha"
                                          << "1"
                                          << "percent";
        QTest::newRow("missing") << "layer-opacity"
                                 << "-percent"
                                 << ""
                                 << "percent";
        QTest::newRow("out of range") << "layer-opacity"
                                      << "percent"
                                      << "130"
                                      << "0 to 100";
        QTest::newRow("no number") << "layer-opacity"
                                   << "percent"
                                   << "much"
                                   << "0 to 100";
        QTest::newRow("no choice") << "layer-blend"
                                   << "mode"
                                   << "dodge"
                                   << "soft light";
        QTest::newRow("no such layer") << "layer-opacity"
                                       << "layer"
                                       << "Moon"
                                       << "Light";
        QTest::newRow("no group") << "layer-move"
                                  << "group"
                                  << "Light"
                                  << "Relief";
        QTest::newRow("no CRS") << "map-crs"
                                << "crs"
                                << "EPSG:1"
                                << "crs find";
        QTest::newRow("neither") << "layer-visible"
                                 << "visible"
                                 << "maybe"
                                 << "yes or no";
        QTest::newRow("no panel") << "panel-scale"
                                  << "item"
                                  << "Key"
                                  << "map panel";
        QTest::newRow("no rectangle") << "item-rect"
                                      << "rect"
                                      << "1,2,3"
                                      << "left,top";
        QTest::newRow("no place") << "view-save"
                                  << "centre"
                                  << "1,2,3"
                                  << "x,y";
    }
    void refusesWhatItCannotUse() {
        QFETCH(QString, name);
        QFETCH(QString, key);
        QFETCH(QString, value);
        QFETCH(QString, said);
        EditWords given;
        if (const auto it = words().find(name.toStdString()); it != words().end())
            given = it->second;
        if (key.startsWith('-'))
            given.erase(key.mid(1).toStdString());
        else if (!key.isEmpty())
            given[key.toStdString()] = value.toStdString();
        const auto done = applied(sample(), name.toStdString(), given);
        QVERIFY(!done);
        const QString text = QString::fromStdString(done.error().text());
        QVERIFY2(text.contains(said), qPrintable(text));
    }

    // A local plane that turns out to be degrees: what was kept of it is where it was.
    void takesTheMapToTheEarth() {
        Document plane;
        auto [withIt, id] = addSource(plane, [] {
            SourceRef source;
            source.name = "Survey";
            source.path = "/data/survey.asc";
            return source;
        }());
        withIt.views = {{withIt.nextId++, "Corner", {{-10.7, 61.5}, 50000, 0}, {}}};
        const auto done =
            applied(withIt, "source-crs",
                    {{"source", "Survey"}, {"crs", "EPSG:4326"}, {"map-crs", "EPSG:32629"}});
        QVERIFY2(done, done ? "" : done.error().text().c_str());
        const Document& next = done->document;
        QCOMPARE(next.mapCrs, std::string("EPSG:32629"));
        QCOMPARE(*next.source(id)->declaredCrs, std::string("EPSG:4326"));
        const auto way =
            crs::Transformation::between(*crs::crsFromCode(4326), *crs::crsFromCode(32629));
        const Point there = way->forward(Point{-10.7, 61.5});
        QVERIFY(distance(next.views[0].view.centre, there) < 1e-3);
    }
    void keepsScalesOnTheGround() {
        const auto done = applied(sample(), "panel-crs", words().at("panel-crs"));
        const auto panelOf = [](const Document& d) {
            for (const SheetItem& item : d.sheets[0]->items)
                if (const auto* panel = item.as<MapPanel>(); panel && item.name == "Main map")
                    return *panel;
            return MapPanel{};
        };
        const MapPanel a = panelOf(sample()), b = panelOf(done->document);
        const double one = groundScale(a, crsIn(sample(), a.crs));
        const double other = groundScale(b, crsIn(done->document, b.crs));
        QVERIFY(std::abs(other / one - 1) < 1e-9);
        QVERIFY(b.scale > 1.5 * a.scale);
    }
};

QTEST_APPLESS_MAIN(EditTableTest)
#include "edit_table_test.moc"
