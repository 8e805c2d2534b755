#include "document/edits/field_rename.h"

#include <QTest>

#include "document/edits/edit_table.h"
#include "document/edits/layer_edits.h"
#include "document/edits/sheet_edits.h"

using namespace ledge;
using namespace ledge::doc;

namespace {
// Everything in a project that can name a field, of a layer of the table and of another's.
struct Project {
    Document document;
    Id source = 0, crofts = 0, roads = 0;

    Project() {
        for (const char* name : {"Crofts", "Roads"}) {
            SourceRef ref;
            ref.name = name;
            ref.path = std::string("/data/") + name + ".gpkg";
            auto [next, id] = addSource(document, ref);
            Layer layer;
            layer.name = name;
            layer.source = id;
            layer.content = vector();
            auto [with, layerId] = addLayer(std::move(next), std::move(layer));
            document = std::move(with);
            if (std::string(name) == "Crofts")
                source = id, crofts = layerId;
            else
                roads = layerId;
        }
        SavedQuestion question;
        question.id = document.nextId++;
        question.layer = roads;
        question.keep = "sheep > 1";
        question.near = crofts;
        question.nearKeep = "sheep > 1";
        document.questions.push_back(question);
        document = addSheet(std::move(document), "A4", 297, 210, {}).first;
        document.sheets[0].change([this](Sheet& sheet) {
            TableItem table;
            table.layer = crofts;
            table.fields = {"sheep", "Ewes, head: sheep", "A share: sheep / area", "area"};
            table.keep = "sheep IS NOT NULL";
            table.sortBy = "sheep";
            ChartItem chart;
            chart.layer = crofts;
            chart.field = "sheep / area";
            chart.names = "sheep";
            TextItem text;
            text.text = "{Crofts: sum(sheep)} of {Roads: sum(sheep)}, {feature: sheep}, {scale}, "
                        "{Crofts:} {never closed: sheep";
            MapPanel panel;
            panel.frozen = document.layers;
            for (const SheetContent& content : {SheetContent(table), SheetContent(chart),
                                                SheetContent(text), SheetContent(panel)}) {
                SheetItem item;
                item.id = document.nextId++;
                item.content = content;
                sheet.items.push_back(item);
            }
            sheet.series.over = SeriesOver::Features;
            sheet.series.layer = crofts;
            sheet.series.keep = "sheep > 3";
            sheet.series.sortBy = "sheep";
            sheet.series.naming = "sheep";
            sheet.series.fields = {"Ewes: sheep"};
            sheet.series.filters = {{roads, "sheep = {feature: sheep} AND use = 'a'"},
                                    {crofts, "sheep > {feature: sheep}"}};
        });
    }
    static VectorLayer vector() {
        VectorLayer out;
        out.style.classing = Classing::Rules;
        out.style.field = "sheep";
        out.style.per = "sheep";
        out.style.turnBy = "sheep * 2";
        out.style.dots.fields = {{"sheep", {}}};
        out.style.rules.emplace_back().keep = "sheep > 4";
        out.filter = "sheep > 0";
        out.labels.resize(2);
        out.labels[1].text = "sheep";
        out.labels[1].keep = "sheep > 2";
        out.labels[1].rank = "sheep";
        out.columns.resize(2);
        out.columns[0].field = "sheep";
        out.columns[0].unit = "head";
        out.columns[1].field = "area";
        return out;
    }
    Document renamed() const {
        const auto done =
            applied(document, "column-name",
                    {{"source", "#" + std::to_string(source)}, {"from", "sheep"}, {"to", "ewes"}});
        if (!done) qFatal("%s", done.error().text().c_str());
        return done->document;
    }
};
// The last one: what the sheet began with comes before.
template <typename T>
const T& item(const Document& document) {
    const auto& items = document.sheets[0]->items;
    for (auto it = items.rbegin(); it != items.rend(); ++it)
        if (const auto* found = (*it)->template as<T>()) return *found;
    qFatal("no such item");
}
}  // namespace

/// A column of another name takes along what is drawn, asked and printed by it.
class FieldRenameTest : public QObject {
    Q_OBJECT

private slots:
    void layersFollow() {
        const Project project;
        const Document next = project.renamed();
        const auto& crofts = *next.layer(project.crofts)->as<VectorLayer>();
        QCOMPARE(crofts.style.field, std::string("ewes"));
        QCOMPARE(crofts.style.per, std::string("ewes"));
        QCOMPARE(crofts.style.turnBy, std::string("ewes * 2"));
        QCOMPARE(crofts.style.dots.fields[0].field, std::string("ewes"));
        QCOMPARE(crofts.style.rules[0].keep, std::string("ewes > 4"));
        QCOMPARE(crofts.filter, std::string("ewes > 0"));
        QCOMPARE(crofts.labels[1].text, std::string("ewes"));
        QCOMPARE(crofts.labels[1].keep, std::string("ewes > 2"));
        QCOMPARE(crofts.labels[1].rank, std::string("ewes"));
        QCOMPARE(crofts.columns[0].field, std::string("ewes"));
        QCOMPARE(crofts.columns[0].unit, std::string("head"));
        QCOMPARE(crofts.columns[1].field, std::string("area"));
        // Another table's field of that name is another.
        QVERIFY(*next.layer(project.roads) == *project.document.layer(project.roads));
        QVERIFY(!(next == project.document));
    }
    void questionsFollow() {
        const Document next = Project().renamed();
        QCOMPARE(next.questions[0].keep, std::string("sheep > 1"));
        QCOMPARE(next.questions[0].nearKeep, std::string("ewes > 1"));
    }
    void sheetsFollow() {
        const Project project;
        const Document next = project.renamed();
        const auto& table = item<TableItem>(next);
        QCOMPARE(table.fields, (std::vector<std::string>{"ewes", "Ewes, head: ewes",
                                                         "A share: ewes / area", "area"}));
        QCOMPARE(table.keep, std::string("ewes IS NOT NULL"));
        QCOMPARE(table.sortBy, std::string("ewes"));
        QCOMPARE(item<ChartItem>(next).field, std::string("ewes / area"));
        QCOMPARE(item<ChartItem>(next).names, std::string("ewes"));
        QCOMPARE(QString::fromStdString(item<TextItem>(next).text),
                 QString("{Crofts: sum(ewes)} of {Roads: sum(sheep)}, {feature: ewes}, "
                         "{scale}, {Crofts:} {never closed: sheep"));
        const auto& frozen = *item<MapPanel>(next).frozen;
        for (const LayerPtr& layer : frozen)
            QCOMPARE(layer->as<VectorLayer>()->style.field,
                     std::string(layer->source == project.source ? "ewes" : "sheep"));
        const Series& series = next.sheets[0]->series;
        QCOMPARE(series.keep, std::string("ewes > 3"));
        QCOMPARE(series.sortBy, std::string("ewes"));
        QCOMPARE(series.naming, std::string("ewes"));
        QCOMPARE(series.fields, std::vector<std::string>{"Ewes: ewes"});
        QCOMPARE(series.filters.at(project.roads),
                 std::string("sheep = {feature: ewes} AND use = 'a'"));
        QCOMPARE(series.filters.at(project.crofts), std::string("ewes > {feature: ewes}"));
    }
    // What names nothing of it is shared, not copied.
    void touchesNothingElse() {
        const Project project;
        const Document same =
            withFieldRenamed(project.document, project.source, "no such field", "ewes");
        QVERIFY(same == project.document);
        QVERIFY(same.sheets[0].isSameAs(project.document.sheets[0]));
        QVERIFY(same.layers[0] == project.document.layers[0]);
    }
    void isTakenBack() {
        const Project project;
        Document there = project.renamed();
        const Document back = withFieldRenamed(there, project.source, "ewes", "sheep");
        QVERIFY(back.layers.size() == project.document.layers.size());
        for (std::size_t i = 0; i < back.layers.size(); ++i)
            QVERIFY(*back.layers[i] == *project.document.layers[i]);
        QVERIFY(*back.sheets[0] == *project.document.sheets[0]);
    }
};

QTEST_APPLESS_MAIN(FieldRenameTest)
#include "field_rename_test.moc"
