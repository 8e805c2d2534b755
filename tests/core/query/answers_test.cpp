#include <QTest>
#include <functional>

#include "core/base/parallel.h"
#include "core/base/random.h"
#include "core/query/question.h"

using namespace ledge;
using namespace ledge::query;

namespace {
// Crofts of an invented island, in metres of UTM 29N.
FeatureList crofts() {
    FeatureList t;
    t.info.name = "crofts";
    t.info.crs = *crs::crsFromCode(32629);
    t.info.fields = {{"name", FieldType::Text},      {"district", FieldType::Text},
                     {"sheep", FieldType::Integer},  {"hectares", FieldType::Real},
                     {"let", FieldType::Boolean},    {"since", FieldType::Date},
                     {"seen", FieldType::TimeStamp}, {"per cent", FieldType::Real},
                     {"photo", FieldType::Bytes},    {"huge", FieldType::Integer}};
    const auto square = [](double x, double y) {
        return Geometry::polygon(
            {{{x, y}, {x + 100, y}, {x + 100, y + 100}, {x, y + 100}, {x, y}}});
    };
    const auto add = [&](Geometry g, std::vector<Value> values) {
        t.features.push_back(
            {std::int64_t(t.features.size() + 1), std::move(g), std::move(values)});
    };
    using W = std::int64_t;
    add(square(500000, 6830000),
        {std::string("Ness"), std::string("north"), W{40}, 12.5, true, *parseDate("1987-05-01"),
         *parseTimeStamp("2026-03-01T12:00:00Z"), 10.0, Bytes{"x"}, W{9007199254740993}});
    add(square(500100, 6830000),
        {std::string("Straße"), std::string("north"), W{0}, 4.0, false, *parseDate("2004-11-30"),
         *parseTimeStamp("2026-03-02T00:00:00Z"), 50.0, Value(), W{9007199254740992}});
    add(square(500300, 6830000), {std::string("Débár"), std::string("south"), W{75}, Value(), true,
                                  *parseDate("2011-07-15"), Value(), 100.0, Value(), Value()});
    add(square(500900, 6830000),
        {std::string("O'Hara"), std::string("south"), Value(), 0.0, Value(), Value(),
         *parseTimeStamp("2026-03-02T23:59:59Z"), 0.0, Value(), W{-3}});
    add({}, {Value(), Value(), W{-7}, -2.5, false, *parseDate("2011-07-15"), Value(), Value(),
             Value(), W{7}});
    return t;
}
std::string rowsText(const std::vector<std::size_t>& rows) {
    std::string out;
    for (const std::size_t row : rows) out += std::to_string(row + 1);
    return out;
}
}  // namespace

// Questions answered over a table, and formulas.
class AnswersTest : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void finds_data() {
        QTest::addColumn<QString>("rows");  // by their numbers, from 1
        const auto row = [](const char* text, const char* rows) {
            QTest::newRow(text) << QString(rows);
        };
        row("sheep > 0", "13");
        row("sheep >= 0 AND sheep <> 75", "12");
        row("SHEEP = 40", "1");
        row("sheep IS NULL", "4");
        row("sheep IS NOT NULL", "1235");
        row("NOT sheep > 0", "25");  // what is missing is neither
        row("NOT (sheep > 0) OR sheep IS NULL", "245");
        row("sheep BETWEEN -7 AND 0", "25");
        row("sheep NOT BETWEEN -7 AND 0", "13");
        row("sheep IN (40, 75.0, 'x')", "");
        row("sheep IN (40, 75.0)", "13");
        row("sheep NOT IN (40, NULL)", "");
        row("district IN ('south')", "34");
        row("name = 'O''Hara'", "4");
        row("name LIKE '%a%'", "24");
        row("name LIKE 'N_ss'", "1");
        row("name LIKE 'Stra_e'", "2");
        row("name LIKE 'Stra__e'", "");
        row("name NOT LIKE 'N%'", "234");
        row("name LIKE '%'", "1234");
        row("CASEI(name) = CASEI('STRASSE')", "2");
        row("CASEI(name) LIKE CASEI('dÉB%')", "3");
        row("ACCENTI(name) = ACCENTI('Debar')", "3");
        row("\"per cent\" / 100 >= 0.5", "23");
        row("hectares = 12.5 OR sheep = 75", "13");
        row("hectares > sheep", "25");
        row("let", "13");
        row("let = FALSE", "25");
        row("NOT let", "25");
        row("let OR sheep = 0", "123");
        row("since = DATE('2011-07-15')", "35");
        row("since > '2004-11-30'", "35");
        row("since < TIMESTAMP('2004-11-30T12:00:00Z')", "12");
        row("year(since) = 2011 AND month(since) = 7", "35");
        row("weekday(DATE('2026-11-27')) = 5", "12345");
        row("T_AFTER(since, DATE('2000-01-01'))", "235");
        row("T_DURING(since, INTERVAL('1980-01-01', '2005-01-01'))", "12");
        row("T_DURING(since, INTERVAL('..', '2005-01-01'))", "12");
        row("T_INTERSECTS(seen, DATE('2026-03-02'))", "24");
        row("T_BEFORE(seen, DATE('2026-03-02'))", "1");
        row("T_MEETS(INTERVAL('2000-01-01', '2005-01-10'), INTERVAL('2005-01-10', '..'))", "12345");
        row("T_OVERLAPS(INTERVAL('2000-01-01', '2005-01-10'), INTERVAL('2005-01-10', '..'))", "");
        row("T_EQUALS(seen, TIMESTAMP('2026-03-01T12:00:00Z'))", "1");
        row("A_CONTAINS((name, district), ('Ness', 'north'))", "1");
        row("A_OVERLAPS((name, district), ('Ness', 'south'))", "134");
        row("A_CONTAINEDBY((district), ('north', 'east'))", "12");
        row("A_EQUALS((1, 2), (2.0, 1.0))", "12345");
        row("S_INTERSECTS(geom, POINT(500050 6830050))", "1");
        row("S_INTERSECTS(geometry, POINT(500100 6830050))", "12");
        row("S_TOUCHES(geom, BBOX(500100, 6830000, 500200, 6830100))", "1");
        row("S_EQUALS(geom, BBOX(500100, 6830000, 500200, 6830100))", "2");
        row("S_WITHIN(geom, BBOX(500000, 6830000, 500200, 6830100))", "12");
        row("S_DISJOINT(geom, BBOX(500000, 6830000, 500200, 6830100))", "34");
        row("S_CROSSES(LINESTRING(500050 6829900, 500050 6830050), geom)", "1");
        row("S_OVERLAPS(geom, BBOX(500350, 6830050, 500450, 6830950))", "3");
        row("S_CONTAINS(geom, POINT(500310 6830010))", "3");
        row("distance(geom, POINT(500500 6830050)) < 150", "3");
        row("photo IS NULL", "2345");
        row("huge = 9007199254740993", "1");  // beyond what a double holds
        row("huge + 1 = 9007199254740993", "2");
        row("7 % 4 = 3 AND -7 % 4 = -3 AND 7 div 2 = 3 AND 7 / 2 = 3.5 AND 2 ^ 10 = 1024", "12345");
        row("sheep > mean(sheep)", "13");
        row("sheep = max(sheep, district)", "135");
        row("count() = 5 AND count(sheep) = 4 AND sum(sheep) = 108", "12345");
        row("median(sheep) = 20 AND min(hectares) = -2.5", "12345");
        row("if(sheep > 0, hectares, 1) > 0", "12 5");
        row("coalesce(hectares, 99) = 99", "3");
        row("missing(name)", "5");
        row("join(district, '-', sheep) = 'north-40'", "1");
        row("characters(name) = 5 AND part(name, 1, 2) = 'D\u00e9'", "3");
        row("TRUE", "12345");
        row("FALSE", "");
    }
    void finds() {
        const std::string text = QTest::currentDataTag();
        QFETCH(QString, rows);
        const FeatureTable table(crofts());
        const auto question = Question::condition(text, table.info);
        if (text.find("'x')") != std::string::npos) {
            QVERIFY(!question);
            return;
        }
        QVERIFY2(question, question ? "" : question.error().text().c_str());
        const auto found = rowsWhere(*question, table);
        QVERIFY(found);
        QCOMPARE(QString::fromStdString(rowsText(found->rows)), rows.remove(' '));
    }

    void computes_data() {
        QTest::addColumn<QString>("values");
        const auto row = [](const char* text, const char* values) {
            QTest::newRow(text) << QString(values);
        };
        row("sheep / hectares", "3.2|0|||2.8");
        row("round(sheep / 7, 1)", "5.7|0|10.7||-1");
        row("upper(name)", "NESS|STRASSE|D\u00c9B\u00c1R|O'HARA|");
        row("round(area())", "10008|10008|10008|10008|");
        row("round(planar_area())", "10000|10000|10000|10000|");
        row("round(length(geom))", "400|400|400|400|");
        row("x(centroid())", "500050|500150|500350|500950|");
        row("if(let, 'let', 'own')", "let|own|let||own");
        row("sum(sheep, district)", "40|40|75|75|-7");
        row("sheep / sum(sheep, district)", "1|0|1||1");
        row("since", "1987-05-01|2004-11-30|2011-07-15||2011-07-15");
        row("days_between(since, '2011-07-16')", "");
        row("days_between(since, DATE('2011-07-16'))", "8842|2419|1||1");
        row("to_number('4.5') + 1", "5.5|5.5|5.5|5.5|5.5");
        row("to_text(hectares, 1)", "12.5|4.0||0.0|\u22122.5");
        row("replace(name, 'e', 'E')", "NEss|Stra\u00dfE|D\u00e9b\u00e1r|O'Hara|");
        row("wkt(centroid())", "POINT(500050 6830050)|POINT(500150 6830050)|POINT(500350 "
                               "6830050)|POINT(500950 6830050)|");
        row("least(sheep, hectares, 5)", "5|0|||-7");
        row("date(2026, 2, 30)", "||||");
    }
    void computes() {
        const std::string text = QTest::currentDataTag();
        QFETCH(QString, values);
        const FeatureTable table(crofts());
        const auto formula = Question::from(text, table.info);
        if (values.isEmpty()) {
            QVERIFY(!formula);
            return;
        }
        QVERIFY2(formula, formula ? "" : formula.error().text().c_str());
        const auto column = computed(*formula, table);
        QVERIFY(column);
        const FeatureTable with = table.withColumn({"new", column->type}, column->runs);
        std::string out;
        for (std::size_t i = 0; i < with.size(); ++i)
            out += (i > 0 ? "|" : "") + exactText(with.value(i, table.info.fields.size()));
        QCOMPARE(QString::fromStdString(out), values);
        // A preview says the same.
        const std::vector<std::size_t> rows{3, 0};
        const auto some = valuesAt(*formula, table, rows);
        QVERIFY(some);
        QCOMPARE(exactText((*some)[1]), exactText(with.value(0, table.info.fields.size())));
    }

    void tellsWhatFails() {
        const FeatureTable table(crofts());
        const auto formula = Question::from("sheep / hectares + 1 / sheep", table.info);
        const auto column = computed(*formula, table);
        QCOMPARE(column->filled, 2);
        // Row 2: 1 / 0. Row 4 has no sheep: nothing failed there.
        QCOMPARE(QString::fromStdString(column->trouble),
                 QString("1 row has no value: row 2: division by 0"));
        // A branch that isn't taken does not fail.
        const auto guarded = Question::from("if(sheep = 0, 0, 100 / sheep)", table.info);
        QVERIFY(computed(*guarded, table)->trouble.empty());
        const auto spared = Question::condition("sheep <> 0 AND 100 / sheep > 1", table.info);
        QVERIFY(rowsWhere(*spared, table)->trouble.empty());
        const auto large = Question::from("huge * huge", table.info);
        QVERIFY(computed(*large, table)->trouble.find("too large") != std::string::npos);
    }

    void saysWhatIsMeant_data() {
        QTest::addColumn<QString>("says");
        const auto row = [](const char* text, const char* says) {
            QTest::newRow(text) << QString(says);
        };
        row("shep > 4", "did you mean sheep?");
        row("hectare > 4", "did you mean hectares?");
        row("distrct = 'north'", "did you mean district?");
        row("zzz = 1", "the fields are name, district");
        row("percent > 4", "did you mean \"per cent\"?");
        row("sheep = '40'", "write 40 without quotes");
        row("name = 40", "write it in quotes, as '40'");
        row("sheep = 'many'", "compare with a number");
        row("sheep", "compare it, for example sheep > 0");
        row("name AND let", "compare it, for example name = 'word'");
        row("name + 1 > 2", "to_number(name)");
        row("sheep LIKE '4%'", "to_text(sheep)");
        row("geom = geom", "S_EQUALS");
        row("since = 'soon'", "is no date");
        row("rond(sheep) = 1", "did you mean round?");
        row("round() = 1", "write round(number, decimals)");
        row("S_WITHIN(geom) AND let", "takes 2 values, and 1 is given");
        row("S_WITHIN(name, geom)", "takes a shape");
        row("photo = 'x'", "holds bytes");
        row("T_AFTER(name, DATE('2026-01-01'))", "takes a date, an instant or an interval");
        row("if(let, 1, 'x') = 1", "let all its values be of one kind");
    }
    void saysWhatIsMeant() {
        QFETCH(QString, says);
        Place place;
        const auto question =
            Question::condition(QTest::currentDataTag(), FeatureTable(crofts()).info, &place);
        QVERIFY(!question);
        QVERIFY2(QString::fromStdString(question.error().text()).contains(says),
                 question.error().text().c_str());
        QVERIFY(place.to > place.from);
    }

    // Over many rows, many threads and several runs of the table the answer is the plain one.
    void agreesWithPlainLoops() {
        FeatureList list;
        list.info.fields = {
            {"a", FieldType::Integer}, {"b", FieldType::Real}, {"c", FieldType::Text}};
        Random random(3);
        for (int i = 0; i < 140000; ++i) {
            std::vector<Value> values{std::int64_t(random.below(100)), random.between(0, 100),
                                      "w" + std::to_string(random.below(50))};
            if (random.below(10) == 0) values[0] = {};
            if (random.below(10) == 0) values[1] = {};
            if (random.below(10) == 0) values[2] = {};
            list.features.push_back({i, Geometry::point({double(i), 0}), values});
        }
        const FeatureTable table(list);
        const auto question = Question::condition(
            "a > b AND (c LIKE 'w1%' OR c IS NULL) OR a = 7 AND NOT b < 50", table.info);
        QVERIFY(question);
        std::vector<std::size_t> wanted;
        for (std::size_t i = 0; i < table.size(); ++i) {
            const Value c = table.value(i, 2);
            const double a = table.number(i, 0), b = table.number(i, 1);
            const bool is =
                (a > b && (isMissing(c) || std::get<std::string>(c).starts_with("w1"))) ||
                (a == 7 && b >= 50);
            if (is) wanted.push_back(i);
        }
        for (const unsigned threads : {1U, 2U, 5U}) {
            setThreadCount(threads);
            const auto found = rowsWhere(*question, table);
            QVERIFY(found);
            QVERIFY(found->rows == wanted);
        }
        setThreadCount(0);
        std::stop_source stop;
        stop.request_stop();
        const auto stopped = rowsWhere(*question, table, {stop.get_token(), {}});
        QVERIFY(!stopped && stopped.error().code == ErrorCode::Cancelled);
    }

    // Whatever the pattern, what it finds is what trying every way finds.
    void matchesAsTryingEveryWayDoes() {
        const std::function<bool(std::string_view, std::string_view)> matches =
            [&](std::string_view text, std::string_view pattern) -> bool {
            if (pattern.empty()) return text.empty();
            if (pattern[0] == '%')
                return matches(text, pattern.substr(1)) ||
                       (!text.empty() && matches(text.substr(1), pattern));
            return !text.empty() && (pattern[0] == '_' || pattern[0] == text[0]) &&
                   matches(text.substr(1), pattern.substr(1));
        };
        Random random(8);
        const auto any = [&](const char* letters, int most) {
            std::string out;
            const std::string all = letters;
            for (int i = random.below(most + 1); i > 0; --i)
                out += all[static_cast<std::size_t>(random.below(static_cast<int>(all.size())))];
            return out;
        };
        FeatureList list;
        list.info.fields = {{"c", FieldType::Text}};
        for (int i = 0; i < 300; ++i) list.features.push_back({i, {}, {Value(any("aab", 9))}});
        const FeatureTable table(list);
        std::size_t found = 0;
        for (int i = 0; i < 400; ++i) {
            const std::string pattern = any(i % 2 == 0 ? "ab%%" : "ab%_", 6);
            const auto question = Question::condition("c LIKE '" + pattern + "'", table.info);
            QVERIFY(question);
            std::vector<std::size_t> wanted;
            for (std::size_t row = 0; row < table.size(); ++row)
                if (matches(std::get<std::string>(table.value(row, 0)), pattern))
                    wanted.push_back(row);
            const auto rows = rowsWhere(*question, table);
            QVERIFY2(rows && rows->rows == wanted, pattern.c_str());
            found += wanted.size();
        }
        QVERIFY(found > 5000);
    }

    // Written shapes may stand in another CRS than the layer.
    void readsShapesInAnotherCrs() {
        const FeatureTable table(crofts());
        const auto question = Question::condition("S_INTERSECTS(geom, POINT(-9 61.6))", table.info,
                                                  nullptr, {*crs::crsFromCode(4326)});
        QVERIFY(question);
        QVERIFY(rowsWhere(*question, table)->rows.empty());
        const auto wide = Question::condition("S_WITHIN(geom, BBOX(-9.1, 61.5, -8.9, 61.7))",
                                              table.info, nullptr, {*crs::crsFromCode(4326)});
        QCOMPARE(rowsText(rowsWhere(*wide, table)->rows), std::string("1234"));
    }
};

QTEST_APPLESS_MAIN(AnswersTest)
#include "answers_test.moc"
