#include <QTest>

#include "document/change.h"
#include "document/edits/edit_table.h"
#include "document/edits/layer_edits.h"
#include "document/edits/sheet_edits.h"
#include "document/look_finder.h"
#include "document/symbol.h"

using namespace ledge;
using namespace ledge::doc;

namespace {
Document sample() {
    Document d;
    d.mapCrs = "EPSG:32629";
    SourceRef source;
    source.name = "DEM";
    auto [withDem, dem] = addSource(d, source);
    d = std::move(withDem);
    for (const char* name : {"Low", "Middle", "High"}) {
        Layer layer;
        layer.name = name;
        layer.source = dem;
        layer.content = Hillshade{};
        d = addLayer(std::move(d), std::move(layer)).first;
    }
    d = groupLayers(std::move(d), {d.layers[0]->id, d.layers[1]->id}, "Both").first;
    d = saveView(std::move(d), "Bay", {{1, 2}, 3000, 0}).first;
    d = addSheet(std::move(d), "One", 297, 210, {{1, 2}, 3000, 0}).first;
    d = addSheet(std::move(d), "Two", 297, 210, {{1, 2}, 3000, 0}).first;
    return d;
}

Id idOf(const Document& d, const std::string& name) {
    for (const LayerPtr& layer : allLayers(d.layers))
        if (layer->name == name) return layer->id;
    for (const Sheet& sheet : d.sheets)
        if (sheet.name == name) return sheet.id;
    return 0;
}

Document done(const Document& d, const char* edit, const EditWords& words) {
    auto out = applied(d, edit, words);
    return out ? out->document : Document{};
}
}  // namespace

/// What differs between two states, what they share, and which look a row has.
class ChangeTest : public QObject {
    Q_OBJECT

private slots:
    void saysWhatWasChanged_data() {
        QTest::addColumn<QString>("edit");
        QTest::addColumn<QStringList>("words");
        QTest::addColumn<QString>("what");
        const auto row = [](const char* edit, const QStringList& words, const char* what) {
            QTest::newRow(edit) << edit << words << what;
        };
        row("layer-opacity", {"layer=Low", "percent=20"}, "layers:Low");
        row("layer-visible", {"layer=High", "visible=no"}, "layers:High");
        row("layer-name", {"layer=Both", "name=Pair"}, "layers:Both");
        row("layer-move", {"layer=Low", "index=0"}, "stack");
        row("layer-remove", {"layer=High"}, "layers:High stack");
        row("source-height-unit", {"source=DEM", "unit=foot"}, "sources");
        row("map-crs", {"crs=EPSG:3035"}, "crs views");
        row("view-name", {"view=Bay", "name=Cape"}, "views");
        row("sheet-name", {"sheet=One", "name=Uno"}, "sheets:One");
        row("item-rect", {"sheet=Two", "item=Key", "rect=1,2,3,4"}, "sheets:Two");
        row("project-name", {"name=Isle"}, "other");
        row("units", {"lengths=feet"}, "other");
    }
    void saysWhatWasChanged() {
        QFETCH(QString, edit);
        QFETCH(QStringList, words);
        QFETCH(QString, what);
        const Document before = sample();
        EditWords given;
        for (const QString& word : words)
            given[word.section('=', 0, 0).toStdString()] = word.section('=', 1).toStdString();
        const Document after = done(before, qPrintable(edit), given);
        QVERIFY(!after.sheets.empty());
        const Change change = changeBetween(before, after);
        QStringList said;
        const auto named = [&](const char* of, const std::set<Id>& ids) {
            for (const char* name : {"Low", "Middle", "High", "Both", "One", "Two"})
                if (ids.contains(idOf(before, name))) said << QString("%1:%2").arg(of, name);
        };
        named("layers", change.layers);
        if (change.isStackMoved) said << "stack";
        if (!change.sources.empty()) said << "sources";
        if (change.isCrsMoved) said << "crs";
        if (!change.views.empty()) said << "views";
        named("sheets", change.sheets);
        if (change.isOther) said << "other";
        QCOMPARE(said.join(' '), what);
        const bool isOnMap = what.contains("layers") || what.contains("stack") ||
                             what.contains("sources") || what.contains("crs");
        QCOMPARE(change.touchesMap(), isOnMap);
        QVERIFY(!change.isNothing());
        // The other way round it is the same things.
        const Change back = changeBetween(after, before);
        QVERIFY(back.layers == change.layers && back.sheets == change.sheets);
        QVERIFY(changeBetween(after, after).isNothing());
    }

    void sharesSheetsAndItemsThatStay() {
        const Document before = sample();
        const Id two = idOf(before, "Two");
        const Document after =
            done(before, "item-rect", {{"sheet", "Two"}, {"item", "Key"}, {"rect", "1,2,3,4"}});
        QVERIFY(after.sheets[0].isSameAs(before.sheets[0]));
        QVERIFY(!after.sheets[1].isSameAs(before.sheets[1]));
        int shared = 0, own = 0;
        const Sheet &a = *before.sheet(two), &b = *after.sheet(two);
        for (std::size_t i = 0; i < a.items.size(); ++i)
            (a.items[i].isSameAs(b.items[i]) ? shared : own)++;
        QCOMPARE(own, 1);
        QCOMPARE(shared, static_cast<int>(a.items.size()) - 1);
        // The state before is as it was.
        QVERIFY(before == sample());
        QVERIFY(!(before == after));
    }

    void comparesSharedValues() {
        const Shared<Sheet> one(Sheet{}), copy = one;
        Shared<Sheet> other = one;
        QVERIFY(one.isSameAs(copy) && one == copy);
        other.change([](Sheet& sheet) { sheet.name = "x"; });
        QVERIFY(!(one == other));
        QVERIFY(one->name.empty());
        other.change([](Sheet& sheet) { sheet.name.clear(); });
        QVERIFY(one == other && !one.isSameAs(other));
        QVERIFY(Shared<Sheet>() == one);
    }

    void findsTheLookOfARow() {
        FeatureList list;
        list.info.fields = {{"kind", FieldType::Text}, {"size", FieldType::Real}};
        const auto square = Geometry::polygon({{{0, 0}, {1, 0}, {1, 1}, {0, 1}}});
        const auto line = Geometry::line({{0, 0}, {1, 1}});
        list.features = {{1, square, {std::string("wood"), 0.0}},
                         {2, line, {std::string("moor"), 10.0}},
                         {3, square, {std::string("bog"), 5.0}},
                         {4, square, {Value{}, Value{}}},
                         {5, square, {std::string("wood"), 5.0}}};
        const FeatureTable table(std::move(list));
        VectorStyle style;
        style.look.strokeMm = 1;
        style.others.strokeMm = 2;
        style.missing.strokeMm = 3;
        style.field = "kind";
        for (const char* value : {"wood", "moor"}) {
            style.categories.push_back({value, value, style.look});
            style.categories.back().look.strokeMm = style.categories.size() == 1 ? 4 : 5;
        }
        {
            LookFinder single(style, table);
            for (std::size_t i = 0; i < table.size(); ++i) QCOMPARE(single.lookOf(i).strokeMm, 1.0);
        }
        style.classing = Classing::Categories;
        LookFinder categories(style, table);
        for (const auto& [row, width] : {std::pair{0, 4.0}, {1, 5.0}, {2, 2.0}, {3, 2.0}, {4, 4.0}})
            QCOMPARE(categories.lookOf(static_cast<std::size_t>(row)).strokeMm, width);
        QCOMPARE(categories.indexOf(0), categories.indexOf(4));

        style.classing = Classing::Ramp;
        style.field = "size";
        style.ramp = {{{0, {0, 0, 0}}, {10, {255, 255, 255}}}};
        LookFinder ramp(style, table);
        QVERIFY(ramp.lookOf(0).fill == (Colour{0, 0, 0}));
        QVERIFY(ramp.lookOf(1).stroke == (Colour{255, 255, 255}));  // of a line the line
        QVERIFY(ramp.lookOf(1).fill == style.look.fill);
        QCOMPARE(ramp.lookOf(3).strokeMm, 3.0);
        QCOMPARE(ramp.indexOf(2), ramp.indexOf(4));
        // Looks met before stay where they are.
        const Look* first = &ramp.look(ramp.indexOf(2));
        for (std::size_t i = 0; i < table.size(); ++i) (void)ramp.indexOf(i);
        QCOMPARE(first, &ramp.look(ramp.indexOf(4)));
        QVERIFY(ramp.looks().size() <= 3 + style.categories.size() + table.size());

        // The parts that a look stands for.
        Look look;
        QCOMPARE(symbolOf(look, GeometryType::Polygon).parts.size(), std::size_t{2});
        QCOMPARE(symbolOf(look, GeometryType::Line).parts.size(), std::size_t{1});
        QCOMPARE(symbolOf(look, GeometryType::Point).parts.size(), std::size_t{1});
        QVERIFY(symbolOf(look, GeometryType::Polygon).dominant() == look.stroke);
        QVERIFY(symbolOf(look, GeometryType::Point).reachMm() >= look.markMm);
        look.hasStroke = false;
        QVERIFY(symbolOf(look, GeometryType::Line).isEmpty());
        QVERIFY(symbolOf(look, GeometryType::Polygon).dominant() == look.fill);
        look.hasFill = false;
        for (const auto type : {GeometryType::Point, GeometryType::Line, GeometryType::Polygon}) {
            QVERIFY(symbolOf(look, type).isEmpty());
            QVERIFY(!symbolOf(look, type).dominant());
        }

        style.field = "no such field";
        LookFinder none(style, table);
        QCOMPARE(none.lookOf(0).strokeMm, 3.0);  // no value is known
        QVERIFY(!none.trouble().empty());
        QVERIFY(ramp.trouble().empty());
    }
};

QTEST_GUILESS_MAIN(ChangeTest)
#include "change_test.moc"
