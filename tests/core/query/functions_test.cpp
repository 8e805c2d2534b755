#include <QTest>
#include <set>

#include "core/base/letters.h"
#include "core/query/function_table.h"
#include "core/query/question.h"
#include "core/query/summaries.h"

using namespace ledge;
using namespace ledge::query;

namespace {
FeatureTable gauges() {
    FeatureList list;
    list.info.name = "gauges";
    list.info.crs = *crs::crsFromCode(4326);
    list.info.fields = {{"name", FieldType::Text},      {"mm", FieldType::Real},
                        {"since", FieldType::Date},     {"valley", FieldType::Text},
                        {"read", FieldType::TimeStamp}, {"n", FieldType::Integer}};
    using W = std::int64_t;
    const auto add = [&](Point p, std::vector<Value> values) {
        list.features.push_back(
            {std::int64_t(list.features.size() + 1), Geometry::point(p), std::move(values)});
    };
    add({-10.5, 61.5}, {std::string("Ness"), 4.0, *parseDate("2020-02-29"), std::string("a"),
                        *parseTimeStamp("2026-11-27T08:30:00Z"), W{2}});
    add({-10.25, 61.75}, {std::string(" Voe\u00e9 "), -2.25, *parseDate("1969-12-31"),
                          std::string("a"), *parseTimeStamp("1969-12-31T23:00:00Z"), W{5}});
    add({-10, 61.25}, {std::string("12.5"), Value(), Value(), Value(), Value(), Value()});
    return list;
}
}  // namespace

// Every function of the language, each with values worked out by hand.
class FunctionsTest : public QObject {
    Q_OBJECT

private:
    static inline std::set<std::string> s_held;

private Q_SLOTS:
    void gives_data() {
        QTest::addColumn<QString>("value");  // of the first row; rounded where it is a long one
        const auto row = [](const char* text, const char* value) {
            QTest::newRow(text) << QString(value);
            // Names of functions, which stand before a parenthesis.
            const std::string all(text);
            for (std::size_t at = all.find('('); at != std::string::npos;
                 at = all.find('(', at + 1)) {
                std::size_t from = at;
                while (from > 0 && (std::isalnum(static_cast<unsigned char>(all[from - 1])) ||
                                    all[from - 1] == '_'))
                    --from;
                s_held.insert(all.substr(from, at - from));
            }
        };
        row("abs(-3)", "3");
        row("round(2.5)", "3");
        row("round(-2.5)", "-3");
        row("round(1234.567, -2)", "1200");
        row("floor(-1.5)", "-2");
        row("ceil(-1.5)", "-1");
        row("sqrt(2.25)", "1.5");
        row("round(exp(1), 6)", "2.718282");
        row("ln(exp(2))", "2");
        row("log10(1000)", "3");
        row("round(sin(pi() / 6), 9)", "0.5");
        row("cos(0)", "1");
        row("tan(0)", "0");
        row("round(asin(1) * 2 - pi(), 9)", "0");
        row("acos(1)", "0");
        row("round(atan(1) * 4 - pi(), 9)", "0");
        row("round(atan2(1, -1), 6)", "2.356194");
        row("least(3, mm, 9)", "3");
        row("greatest(3, mm, 9)", "9");
        row("normalised_difference(3, 1)", "0.5");
        row("casei('STRA\u00dfE')", "strasse");
        row("accenti('d\u00e9b\u00e1r')", "debar");
        row("upper('\u00e6')", "\u00c6");
        row("lower('\u00c6B')", "\u00e6b");
        row("trim('  a b ')", "a b");
        row("characters('\u00c6r\u00f8')", "3");
        row("part('\u00c6r\u00f8skerra', 3, 2)", "\u00f8s");
        row("part('abc', 9)", "");
        row("replace('a-b-c', '-', '+')", "a+b+c");
        row("join('a', mm, NULL, 'b')", "a4b");
        row("to_text(mm, 2)", "4.00");
        row("to_number('1e3')", "1000");
        row("begins(name, 'Ne')", "true");
        row("holds(name, 'es')", "true");
        row("year(since)", "2020");
        row("month(since)", "2");
        row("day(since)", "29");
        row("weekday(since)", "6");
        row("hour(read)", "8");
        row("days_between(since, DATE('2020-03-01'))", "1");
        row("date(2024, 2, 29)", "2024-02-29");
        row("to_date('2026-11-27')", "2026-11-27");
        row("area()", "0");
        row("length()", "0");
        row("round(distance(geometry, POINT(-10.5 62.5)) / 1000, 3)", "111.446");
        row("planar_area(BBOX(0, 0, 2, 3))", "6");
        row("planar_length(LINESTRING(0 0, 3 4))", "5");
        row("planar_distance(geometry, POINT(-10.5 60.5))", "1");
        row("wkt(centroid(BBOX(0, 0, 2, 4)))", "POINT(1 2)");
        row("wkt(point_inside(POINT(1 2)))", "POINT(1 2)");
        row("x()", "-10.5");
        row("y(geometry)", "61.5");
        row("longitude()", "-10.5");
        row("latitude()", "61.5");
        row("corners(BBOX(0, 0, 1, 1))", "5");
        row("parts(MULTIPOINT((1 2), (3 4)))", "2");
        row("s_intersects(BBOX(0, 0, 1, 1), POINT(1 1))", "true");
        row("s_disjoint(BBOX(0, 0, 1, 1), POINT(2 1))", "true");
        row("s_within(POINT(0.5 0.5), BBOX(0, 0, 1, 1))", "true");
        row("s_contains(BBOX(0, 0, 1, 1), POINT(0.5 0.5))", "true");
        row("s_touches(BBOX(0, 0, 1, 1), BBOX(1, 0, 2, 1))", "true");
        row("s_crosses(LINESTRING(-1 0.5, 2 0.5), BBOX(0, 0, 1, 1))", "true");
        row("s_overlaps(BBOX(0, 0, 2, 2), BBOX(1, 1, 3, 3))", "true");
        row("s_equals(LINESTRING(0 0, 1 1), LINESTRING(1 1, 0 0))", "true");
        row("t_after(read, since)", "true");
        row("t_before(since, read)", "true");
        row("t_contains(INTERVAL('2020-01-01', '2021-01-01'), since)", "true");
        row("t_during(since, INTERVAL('..', '..'))", "true");
        row("t_disjoint(since, read)", "true");
        row("t_equals(since, DATE('2020-02-29'))", "true");
        row("t_finishedby(INTERVAL('2020-01-01', '2020-02-29'), since)", "true");
        row("t_finishes(since, INTERVAL('2020-01-01', '2020-02-29'))", "true");
        row("t_intersects(since, TIMESTAMP('2020-02-29T12:00:00Z'))", "true");
        row("t_meets(INTERVAL('2020-01-01', '2020-02-01'), INTERVAL('2020-02-01', '..'))", "true");
        row("t_metby(INTERVAL('2020-02-01', '..'), INTERVAL('2020-01-01', '2020-02-01'))", "true");
        row("t_overlappedby(INTERVAL('2020-02-01', '2020-06-01'), INTERVAL('2020-01-01', "
            "'2020-03-01'))",
            "true");
        row("t_overlaps(INTERVAL('2020-01-01', '2020-03-01'), INTERVAL('2020-02-01', "
            "'2020-06-01'))",
            "true");
        row("t_startedby(INTERVAL('2020-02-29', '2021-01-01'), since)", "true");
        row("t_starts(since, INTERVAL('2020-02-29', '2021-01-01'))", "true");
        row("a_contains(('a', 'b'), ('a'))", "true");
        row("a_containedby(('a'), ('a', 'b'))", "true");
        row("a_equals((1, 2), (2, 1, 1))", "true");
        row("a_overlaps((1, 2), (2, 3))", "true");
        row("if(mm > 0, 'wet', 'dry')", "wet");
        row("coalesce(NULL, mm)", "4");
        row("missing(mm)", "false");
        row("sum(mm)", "1.75");
        row("mean(mm, valley)", "0.875");
        row("median(mm)", "0.875");
        row("min(mm)", "-2.25");
        row("max(n, valley)", "5");
        row("stddev(n)", "1.5");
        row("count(name, valley)", "2");
    }
    void gives() {
        QFETCH(QString, value);
        const FeatureTable table = gauges();
        const auto formula = Question::from(QTest::currentDataTag(), table.info);
        QVERIFY2(formula, formula ? "" : formula.error().text().c_str());
        const std::vector<std::size_t> first{0};
        const auto values = valuesAt(*formula, table, first);
        QVERIFY(values);
        QCOMPARE(QString::fromStdString(exactText(values->front())), value);
    }
    // None is left out above, and each says what it does.
    void everyOneIsHeld() {
        for (const Function& f : functions()) {
            QVERIFY2(s_held.contains(std::string(f.name)), f.name.data());
            QVERIFY2(!f.help.empty(), f.name.data());
            QVERIFY(functionNamed(f.name) == &f);
        }
        QVERIFY(!functionNamed("nothing"));
    }

    // What a row lacks leaves it without a value, and is no failure.
    void missingIsNoFailure() {
        const FeatureTable table = gauges();
        for (const char* text : {"abs(mm)", "round(mm, 1)", "year(since)", "hour(read)", "mm + n",
                                 "part(valley, 1)", "t_after(read, since)"}) {
            const auto formula = Question::from(text, table.info);
            QVERIFY2(formula, text);
            const auto made = computed(*formula, table);
            QVERIFY(made && made->filled == 2 && made->trouble.empty());
            QVERIFY(made->runs[0]->isMissing(2));
        }
        // What cannot be worked out is one.
        for (const char* text : {"sqrt(mm)", "ln(mm)", "to_number(name)", "date(2026, n * 9, 1)"}) {
            const auto formula = Question::from(text, table.info);
            QVERIFY2(formula, text);
            QVERIFY2(!computed(*formula, table)->trouble.empty(), text);
        }
    }

    void sumsUp() {
        const FeatureTable table = gauges();
        const auto mm = Question::from("mm", table.info),
                   valley = Question::from("valley", table.info),
                   name = Question::from("name", table.info);
        const auto all = summaries(*mm, nullptr, table);
        QVERIFY(all && all->size() == 1);
        QCOMPARE(all->front().count, std::int64_t(2));
        QCOMPARE(all->front().missing, std::int64_t(1));
        QCOMPARE(all->front().sum, 1.75);
        QCOMPARE(all->front().median, 0.875);
        QCOMPARE(all->front().deviation, 3.125);
        const auto groups = summaries(*mm, &*valley, table);
        QVERIFY(groups && groups->size() == 2);
        QCOMPARE(groups->front().group, std::string("a"));
        QVERIFY(std::isnan(groups->back().sum));  // those without a valley come last
        const std::vector<std::size_t> some{1, 2};
        QCOMPARE(summaries(*mm, nullptr, table, &some)->front().sum, -2.25);
        QCOMPARE(summaries(*name, nullptr, table)->front().distinct, std::int64_t(3));
        const auto centre = Question::from("centroid()", table.info);
        QVERIFY(!summaries(*centre, nullptr, table));
        std::stop_source stop;
        stop.request_stop();
        QVERIFY(!summaries(*mm, nullptr, table, nullptr, {stop.get_token(), {}}));
    }

    void lettersAreCountedAndNear() {
        QCOMPARE(letterCount("\u00c6r\u00f8"), std::size_t(3));
        QCOMPARE(std::string(letters("\u00c6r\u00f8y", 1, 2)), std::string("r\u00f8"));
        QCOMPARE(editsBetween("sheep", "shep"), std::size_t(1));
        QCOMPARE(editsBetween("shepe", "sheep"), std::size_t(1));  // neighbours exchanged
        QCOMPARE(editsBetween("", "abc"), std::size_t(3));
        QCOMPARE(caseFolded("\u0130"), caseFolded(std::string("i\u0307")));
        QCOMPARE(withoutAccents("\u00f8"), std::string("\u00f8"));  // a letter of its own
        QCOMPARE(upperCased("stra\u00dfe"), std::string("STRASSE"));
        QVERIFY(!caseFolded("a\xFFz").empty());  // no UTF-8
    }
};

QTEST_APPLESS_MAIN(FunctionsTest)
#include "functions_test.moc"
