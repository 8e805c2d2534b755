#include <QTest>

#include "document/edits/layer_edits.h"
#include "document/json/described.h"
#include "document/json/members.h"
#include "document/json/project_json.h"
#include "support/random_document.h"

using namespace ledge;
using namespace ledge::doc;

/// One description for reading and writing: whatever it lists survives a project.
class DescribedTest : public QObject {
    Q_OBJECT

private slots:
    void keepsEveryMember() {
        std::set<std::string> kinds;
        for (unsigned seed = 0; seed < 300; ++seed) {
            const Document d = test::randomDocument(seed);
            const std::string text = projectText(d, "/data");
            const auto read = projectFromText(text, "/data");
            QVERIFY2(read.has_value(), read ? "" : read.error().text().c_str());
            QVERIFY2(*read == d, qPrintable(QString("seed %1").arg(seed)));
            // And written again it is the same text, so that saving changes nothing by itself.
            QVERIFY(projectText(*read, "/data") == text);
            for (const auto& layer : allLayers(d.layers)) kinds.insert(layerKind(*layer));
            for (const Sheet& sheet : d.sheets)
                for (const SheetItem& item : sheet.items) kinds.insert(itemKind(item));
        }
        // The random projects held every kind there is.
        std::size_t all = 1;
        forEachKind<LayerContent>([&]<typename T>(const T&) {
            if constexpr (!std::is_same_v<T, UnknownLayer>) {
                QVERIFY(kinds.contains(std::string(kLayerKind<T>.name)));
                ++all;
            }
        });
        forEachKind<SheetContent>([&]<typename T>(const T&) {
            if constexpr (!std::is_same_v<T, UnknownItem>) {
                QVERIFY(kinds.contains(std::string(kItemKind<T>.name)));
                ++all;
            }
        });
        QCOMPARE(kinds.size(), all);
    }

    void takesPathsFromTheFolderItIsIn() {
        const Document d = test::randomDocument(7);
        QVERIFY(!d.sources.empty());
        const auto moved = projectFromText(projectText(d, "/data"), "/elsewhere/deep");
        QVERIFY(moved.has_value());
        for (std::size_t i = 0; i < d.sources.size(); ++i) {
            const auto was = d.sources[i].path, is = moved->sources[i].path;
            if (was.empty()) continue;  // what is derived is no file
            QCOMPARE(is,
                     std::filesystem::path("/elsewhere/deep") / was.lexically_relative("/data"));
        }
    }

    void saysWhereATextIsWrong_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("where");
        const auto row = [](const char* name, const char* body, const char* where) {
            QTest::newRow(name) << QString("{\"ledge_project\":1,%1}").arg(body) << where;
        };
        row("a name that is a number", R"("name":5)", "name");
        row("layers that are none", R"("layers":7)", "layers");
        row("a layer without id", R"("layers":[{"name":"x"}])", "layers.0.id");
        row("a stop without colour",
            R"("layers":[{"id":1,"kind":"height tint","style":{"ramp":[[1]]}}])",
            "layers.0.style.ramp");
        row("a style that is a word", R"("layers":[{"id":1,"style":"blue"}])", "layers.0.style");
        row("a width that is a word",
            R"("layers":[{"id":1,"style":{"look":{"stroke_mm":"thick"}}}])",
            "layers.0.style.look.stroke_mm");
        row("an item without place",
            R"("sheets":[{"id":1,"width_mm":9,"height_mm":9,"items":[{"id":2}]}])",
            "sheets.0.items.0.rect_mm");
        row("a source without file", R"("sources":[{"id":1}])", "sources.0.path");
        row("a view without scale", R"("last_view":{"centre":[1,2]})", "last_view.scale");
        row("half a place", R"("last_view":{"centre":[1],"scale":5})", "last_view.centre");
    }
    void saysWhereATextIsWrong() {
        QFETCH(QString, text);
        QFETCH(QString, where);
        const auto read = projectFromText(text.toStdString(), "/data");
        QVERIFY(!read);
        QVERIFY(read.error().code == ErrorCode::BadFormat);
        const QString said = QString::fromStdString(read.error().text());
        QVERIFY2(said.contains(where + ":"), qPrintable(said));
    }

    void takesWhatIsUsualForWhatIsMissing() {
        const auto read = projectFromText(
            R"({"ledge_project":1,"layers":[{"id":4,"kind":"contours"},{"id":5}],
                "sheets":[{"id":6,"width_mm":1,"height_mm":90000,"items":
                           [{"id":7,"kind":"legend","rect_mm":[1,2,3,4],"columns":50}]}]})",
            "/data");
        QVERIFY2(read.has_value(), read ? "" : read.error().text().c_str());
        QVERIFY(read->layers[0]->as<Contours>()->style == ContourStyle{});
        QVERIFY(read->layers[1]->as<VectorLayer>());
        QCOMPARE(read->sheets[0]->widthMm, 10.0);
        QCOMPARE(read->sheets[0]->heightMm, 5000.0);
        QCOMPARE(read->sheets[0]->items[0]->as<LegendItem>()->columns, 12);
        QCOMPARE(read->nextId, Id{8});
    }

    void givesCategoriesTheLookOfTheLayer() {
        const auto read = projectFromText(
            R"({"ledge_project":1,"layers":[{"id":1,"style":{"look":{"stroke_mm":2.5,"fill":"none"},
                "categories":[{"value":"a"},{"value":"b","look":{"stroke_mm":1}}]}}]})",
            "/data");
        QVERIFY(read.has_value());
        const VectorStyle& style = read->layers[0]->as<VectorLayer>()->style;
        QCOMPARE(style.categories[0].look.strokeMm, 2.5);
        QVERIFY(!style.categories[0].look.hasFill);
        QCOMPARE(style.categories[1].look.strokeMm, 1.0);
    }

    // Groups are kept as deep as they come, up to where it is said that they are too deep.
    void readsGroupsWithinGroups() {
        const auto groups = [](int deep) {
            std::string text = R"({"id":99,"kind":"group"})";
            for (int i = 0; i < deep; ++i)
                text = R"({"id":)" + std::to_string(i + 100) + R"(,"kind":"group","layers":[)" +
                       text + "]}";
            return projectFromText(R"({"ledge_project":1,"layers":[)" + text + "]}", "/data");
        };
        const auto read = groups(200);
        QVERIFY(read.has_value());
        QCOMPARE(allLayers(read->layers).size(), std::size_t{201});
        const auto again = projectFromText(projectText(*read, "/data"), "/data");
        QVERIFY(again.has_value());
        QCOMPARE(allLayers(again->layers).size(), std::size_t{201});
        const auto deeper = groups(400);
        QVERIFY(!deeper);
        QVERIFY(deeper.error().why.find("deep") != std::string::npos);
    }

    void setsAMemberOfEveryKindOfThing() {
        Layer layer;
        layer.id = 3;
        RasterLayer raster;
        raster.style.ramp = rampOf("stone", 0, 1);
        layer.content = raster;
        // Members that a project leaves out because they are as usual can be set too.
        auto next = withMember(layer, "style.shows_cells", "yes");
        QVERIFY2(next.has_value(), next ? "" : next.error().text().c_str());
        QVERIFY(next->as<RasterLayer>()->style.showsCells);
        next = withMember(layer, "widest_scale", "50000");
        QVERIFY(next && next->widestScale == 50000);
        // Of a part the members given, and none for null.
        ImageStyle image;
        image.gamma = 1.5;
        next = withMember(layer, "style.image", styleText(image));
        QVERIFY(next && next->as<RasterLayer>()->style.image == image);
        const auto patched = withMember(*next, "style", R"({"image":null,"family":"moss"})");
        QVERIFY2(patched.has_value(), patched ? "" : patched.error().text().c_str());
        QVERIFY(!patched->as<RasterLayer>()->style.image);
        QCOMPARE(patched->as<RasterLayer>()->style.family, std::string("moss"));
        QVERIFY(patched->as<RasterLayer>()->style.ramp == raster.style.ramp);
        QCOMPARE(memberText(*next, "style.image.gamma"), std::string("1.5"));
        QCOMPARE(memberText(*next, "visible"), std::string("yes"));
        QCOMPARE(memberText(*next, "style.nothing"), std::string());
    }
    void refusesMembersThatCannotBe_data() {
        QTest::addColumn<QString>("path");
        QTest::addColumn<QString>("value");
        QTest::newRow("no such member") << "style.colour_of_hope"
                                        << "1";
        QTest::newRow("its kind") << "kind"
                                  << "raster";
        QTest::newRow("its id") << "id"
                                << "9";
        QTest::newRow("a word for a number") << "opacity"
                                             << "half";
        QTest::newRow("out of range") << "opacity"
                                      << "7";
        QTest::newRow("no truth") << "visible"
                                  << "perhaps";
        QTest::newRow("no choice") << "blend"
                                   << "burnt";
        QTest::newRow("a list for a number") << "style.interval"
                                             << "[1,2]";
        QTest::newRow("a part with a wrong member") << "style"
                                                    << R"({"interval":"wide"})";
        QTest::newRow("a part with a member that is not there") << "style"
                                                                << R"({"hope":1})";
        QTest::newRow("broken text") << "style.levels"
                                     << "[1,";
        QTest::newRow("beyond a list") << "style.levels.4"
                                       << "1";
    }
    void refusesMembersThatCannotBe() {
        QFETCH(QString, path);
        QFETCH(QString, value);
        Layer layer;
        layer.id = 3;
        layer.content.emplace<Contours>();
        const auto next = withMember(layer, path.toStdString(), value.toStdString());
        QVERIFY2(!next, qPrintable(path));
        QVERIFY(!next.error().text().empty());
    }

    // Edits of a later version are passed over, and are there again in the file that is written.
    void keepsEditsItDoesNotKnow() {
        const std::string text =
            R"({"ledge_project":1,"sources":[{"id":1,"path":"a.gpkg","edits":[
                {"edit":"cell","row":4,"field":"n","value":"7"},
                {"edit":"smoothed","row":4,"by":2.5}]}]})";
        const auto read = projectFromText(text, "/data");
        QVERIFY2(read.has_value(), read ? "" : read.error().text().c_str());
        QCOMPARE(read->sources[0].edits->edits.size(), std::size_t{1});
        QVERIFY(projectText(*read, "/data").find("smoothed") != std::string::npos);
        QVERIFY(!projectFromText(
            R"({"ledge_project":1,"sources":[{"id":1,"path":"a","edits":[{"edit":"cell","row":"x"}]}]})",
            "/data"));
    }

    void setsMembersOfSources() {
        SourceRef source;
        source.id = 4;
        Lineage lineage;
        lineage.operation = "clip";
        lineage.parameters = {{"extent", "1,2,3,4"}, {"by", "x"}};
        LineageInput input;
        input.path = "/data/dem.tif";
        lineage.inputs = {input};
        source.lineage = lineage;
        Lineage other = lineage;
        other.parameters.erase("extent");
        other.parameters["by"] = "y";
        const auto next = withMember(source, "lineage", lineagePatch(lineage, other));
        QVERIFY2(next.has_value(), next ? "" : next.error().text().c_str());
        QVERIFY(*next->lineage == other);
    }
};

QTEST_GUILESS_MAIN(DescribedTest)
#include "described_test.moc"
