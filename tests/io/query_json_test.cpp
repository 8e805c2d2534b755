#include "io/query/query_json.h"

#include <QTest>

using namespace ledge;
using namespace ledge::io;

// Questions as JSON and as text.
class QueryJsonTest : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void saysTheSame_data() {
        QTest::addColumn<QString>("json");
        const auto row = [](const char* text, const char* json) {
            QTest::newRow(text) << QString(json);
        };
        row("vehicle_height > bridge_clearance - 1",
            R"({"op":">","args":[{"property":"vehicle_height"},{"op":"-","args":[{"property":"bridge_clearance"},1]}]})");
        row("depth BETWEEN 100.5 AND 150.5",
            R"({"op":"between","args":[{"property":"depth"},100.5,150.5]})");
        row("cityName IN ('Toronto', 'Tokyo')",
            R"({"op":"in","args":[{"property":"cityName"},["Toronto","Tokyo"]]})");
        row("category NOT IN (1, 2)",
            R"({"op":"not","args":[{"op":"in","args":[{"property":"category"},[1,2]]}]})");
        row("name IS NOT NULL",
            R"({"op":"not","args":[{"op":"isNull","args":[{"property":"name"}]}]})");
        row("CASEI(road) LIKE CASEI('Str%')",
            R"({"op":"like","args":[{"op":"casei","args":[{"property":"road"}]},{"op":"casei","args":["Str%"]}]})");
        row("S_INTERSECTS(geom, POINT(36.5 32.25))",
            R"({"op":"s_intersects","args":[{"property":"geom"},{"type":"Point","coordinates":[36.5,32.25]}]})");
        row("S_WITHIN(geom, BBOX(-118.5, 33.25, -117.5, 34.5))",
            R"({"op":"s_within","args":[{"property":"geom"},{"bbox":[-118.5,33.25,-117.5,34.5]}]})");
        row("S_EQUALS(geom, MULTIPOLYGON(((0 0, 1 0, 1 1, 0 0)), ((5 5, 6 5, 6 6, 5 5))))",
            R"({"op":"s_equals","args":[{"property":"geom"},{"type":"MultiPolygon","coordinates":[[[[0.0,0.0],[1.0,0.0],[1.0,1.0],[0.0,0.0]]],[[[5.0,5.0],[6.0,5.0],[6.0,6.0],[5.0,5.0]]]]}]})");
        row("T_DURING(seen, INTERVAL('2005-01-01', '..'))",
            R"({"op":"t_during","args":[{"property":"seen"},{"interval":["2005-01-01",".."]}]})");
        row("updated >= DATE('2012-08-10')",
            R"({"op":">=","args":[{"property":"updated"},{"date":"2012-08-10"}]})");
        row("at = TIMESTAMP('2012-08-10T05:30:00.000Z')",
            R"({"op":"=","args":[{"property":"at"},{"timestamp":"2012-08-10T05:30:00.000Z"}]})");
        row("A_CONTAINS(ids, ('a', 'b'))",
            R"({"op":"a_contains","args":[{"property":"ids"},["a","b"]]})");
        row("a = TRUE AND (b > 5 OR NOT c < -2.5)",
            R"({"op":"and","args":[{"op":"=","args":[{"property":"a"},true]},{"op":"or","args":[{"op":">","args":[{"property":"b"},5]},{"op":"not","args":[{"op":"<","args":[{"property":"c"},-2.5]}]}]}]})");
        row("7 div 2 = x % 3 ^ 2",
            R"({"op":"=","args":[{"op":"div","args":[7,2]},{"op":"%","args":[{"property":"x"},{"op":"^","args":[3,2]}]}]})");
        row("-a < avg(b)",
            R"({"op":"<","args":[{"op":"-","args":[{"property":"a"}]},{"op":"avg","args":[{"property":"b"}]}]})");
    }
    void saysTheSame() {
        QFETCH(QString, json);
        const auto tree = query::parse(QTest::currentDataTag());
        QVERIFY(tree);
        QCOMPARE(QString::fromStdString(questionJson(**tree)), json);
        const auto again = questionFromJson(json.toStdString());
        QVERIFY2(again, again ? "" : again.error().text().c_str());
        QVERIFY(query::isAlike(**tree, **again));
    }
    void refuses_data() {
        QTest::addColumn<QString>("says");
        const auto row = [](const char* json, const char* says) { QTest::newRow(json) << says; };
        row("{", "no JSON");
        row(R"({"op":"="})", "has no args");
        row(R"({"op":"=","args":[1]})", "takes 2 values");
        row(R"({"op":7,"args":[]})", "has no name");
        row(R"({"op":"in","args":[1,2]})", "a value and a list");
        row(R"({"date":"2026-02-30"})", "is no date");
        row(R"({"interval":["x",".."]})", "neither a date");
        row(R"({"bbox":[1,2,3]})", "four numbers");
        row(R"({"bbox":[5,0,1,1]})", "wrong way round");
        row(R"({"type":"Polygon","coordinates":[[[0,0],[1,1]]]})", "coordinates");
        row(R"({"type":"Circle","coordinates":[0,0]})", "no shape");
        row(R"({"what":1})", "none of its objects");
        row(R"({"property":4})", "no name");
    }
    void refuses() {
        QFETCH(QString, says);
        const auto tree = questionFromJson(QTest::currentDataTag());
        QVERIFY(!tree);
        QVERIFY2(QString::fromStdString(tree.error().text()).contains(says),
                 tree.error().text().c_str());
    }
    void deepNestingIsRefused() {
        std::string text;
        for (int i = 0; i < 100000; ++i) text += R"({"op":"not","args":[)";
        QVERIFY(!questionFromJson(text));
        for (int i = 0; i < 100000; ++i) text += "]}";
        QVERIFY(!questionFromJson(text));
    }
    void eitherFormIsText() {
        QCOMPARE(*questionText("a > 4"), std::string("a > 4"));
        QCOMPARE(*questionText(R"( {"op":">","args":[{"property":"a"},4]})"), std::string("a > 4"));
        QVERIFY(!questionText("{"));
    }
};

QTEST_APPLESS_MAIN(QueryJsonTest)
#include "query_json_test.moc"
