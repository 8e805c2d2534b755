#include "core/base/random.h"
#include "core/query/question.h"
#include "core/query/tree.h"

#include <QTest>

using namespace ledge;
using namespace ledge::query;

// Reading and writing the language.
class LanguageTest : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // As written in OGC 21-065r2, and what our writer makes of it.
    void readsTheStandardsExamples_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("written");
        const auto row = [](const char* text, const char* written = nullptr) {
            QTest::newRow(text) << QString(text) << QString(written ? written : text);
        };
        row("city='Toronto'", "city = 'Toronto'");
        row("balance-150.0 > 0", "balance - 150.0 > 0");
        row("updated >= DATE('2012-08-10')");
        row("name LIKE 'Smith%'");
        row("depth BETWEEN 100.0 and 150.0", "depth BETWEEN 100.0 AND 150.0");
        row("depth NOT BETWEEN 100.0 AND 150.0");
        row("cityName IN ('Toronto','Frankfurt','Tokyo','New York')",
            "cityName IN ('Toronto', 'Frankfurt', 'Tokyo', 'New York')");
        row("category NOT IN (1,2,3,4)", "category NOT IN (1, 2, 3, 4)");
        row("geophys:SURV_NAME IS NOT NULL");
        row("geophys:SURV_NAME IS NULL");
        row("CASEI(road_class) IN (casei('Οδος'),casei('Straße'))",
            "CASEI(road_class) IN (CASEI('Οδος'), CASEI('Straße'))");
        row("accenti(etat_vol) = accenti('débárquér')", "ACCENTI(etat_vol) = ACCENTI('débárquér')");
        row("S_INTERSECTS(geom,POINT(36.3 32.3))", "S_INTERSECTS(geom, POINT(36.3 32.3))");
        row("S_CROSSES(road,POLYGON((43.7 -79.3,43.5 -79.2,43.4 -79.1,43.7 -79.3)))",
            "S_CROSSES(road, POLYGON((43.7 -79.3, 43.5 -79.2, 43.4 -79.1, 43.7 -79.3)))");
        row("T_INTERSECTS(event_time, INTERVAL('1969-07-16T05:32:00Z', '1969-07-24T16:50:35Z'))",
            "T_INTERSECTS(event_time, INTERVAL('1969-07-16T05:32:00.000Z', "
            "'1969-07-24T16:50:35.000Z'))");
        row("T_DURING(INTERVAL(starts_at, ends_at), INTERVAL('2005-01-01', '..'))");
        row("A_CONTAINS(layer:ids, ('layers-ca','layers-us'))",
            "A_CONTAINS(layer:ids, ('layers-ca', 'layers-us'))");
        row("eo:cloud_cover BETWEEN 0.1 AND 0.2 AND eo:instrument LIKE 'OLI%'");
        row("vehicle_height > (bridge_clearance-1)", "vehicle_height > bridge_clearance - 1");
        row("swimming_pool=true AND (floors>5 OR material LIKE 'brick%' OR material LIKE "
            "'%brick')",
            "swimming_pool = TRUE AND (floors > 5 OR material LIKE 'brick%' OR material LIKE "
            "'%brick')");
        row("NOT (floors<5) OR swimming_pool=true", "NOT floors < 5 OR swimming_pool = TRUE");
        row("avg(windSpeed) < 4");
        row("S_WITHIN(location,BBOX(-118,33.8,-117.9,34))",
            "S_WITHIN(location, BBOX(-118, 33.8, -117.9, 34))");
        row("\"date of issue\" = TIMESTAMP('2012-08-10T05:30:00Z')",
            "\"date of issue\" = TIMESTAMP('2012-08-10T05:30:00.000Z')");
        row("value = field^2");
        row("6 div 4 = 1 AND 6 % 4 = 2");
        row("S_EQUALS(geom, MULTIPOLYGON(((0 0,1 0,1 1,0 0)),((5 5,6 5,6 6,5 5))))",
            "S_EQUALS(geom, MULTIPOLYGON(((0 0, 1 0, 1 1, 0 0)), ((5 5, 6 5, 6 6, 5 5))))");
        row("owner = 'O''Hara' OR owner = 'O\\'Hara'", "owner = 'O''Hara' OR owner = 'O''Hara'");
    }
    void readsTheStandardsExamples() {
        QFETCH(QString, text);
        QFETCH(QString, written);
        const auto tree = parse(text.toStdString());
        QVERIFY2(tree, tree ? "" : tree.error().text().c_str());
        QCOMPARE(QString::fromStdString(toText(**tree)), written);
        const auto again = parse(written.toStdString());
        QVERIFY(again);
        QVERIFY(isAlike(**tree, **again));
    }

    void bindsByStrength_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("same");
        QTest::newRow("and before or") << "a OR b AND c"
                                       << "a OR (b AND c)";
        QTest::newRow("not before and") << "NOT a AND b"
                                        << "(NOT a) AND b";
        QTest::newRow("comparison before not") << "NOT a = 1"
                                               << "NOT (a = 1)";
        QTest::newRow("times before plus") << "1 + 2 * 3 = x"
                                           << "1 + (2 * 3) = x";
        QTest::newRow("left to right") << "9 - 4 - 3 = x"
                                       << "(9 - 4) - 3 = x";
        QTest::newRow("power to the right") << "2 ^ 3 ^ 2 = x"
                                            << "2 ^ (3 ^ 2) = x";
        QTest::newRow("power before sign") << "-a ^ 2 = x"
                                           << "-(a ^ 2) = x";
        QTest::newRow("between takes its and") << "a BETWEEN 1 AND 2 AND b"
                                               << "(a BETWEEN 1 AND 2) AND b";
    }
    void bindsByStrength() {
        QFETCH(QString, text);
        QFETCH(QString, same);
        const auto one = parse(text.toStdString()), other = parse(same.toStdString());
        QVERIFY(one && other);
        QVERIFY(isAlike(**one, **other));
    }

    void saysWhatIsWrongAndWhere_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<int>("at");
        QTest::addColumn<QString>("says");
        QTest::newRow("nothing") << "" << 0 << "nothing to read";
        QTest::newRow("ends early") << "sheep >" << 7 << "it ends where a value should follow";
        QTest::newRow("doubled") << "sheep == 4" << 7 << "equal is =";
        QTest::newRow("open text") << "name = 'Nes" << 7 << "a quote is not closed";
        QTest::newRow("open list") << "sheep IN (1, 2" << 14 << "should be closed";
        QTest::newRow("no and") << "sheep BETWEEN 1 OR 2" << 16 << "where AND should";
        QTest::newRow("two in a row") << "sheep > 4 name = 'x'" << 10 << "AND or OR";
        QTest::newRow("odd sign") << "sheep ! 4" << 6 << "cannot stand here";
        QTest::newRow("odd shape")
            << "S_WITHIN(geom, POLYGON((0 0, 1 1)))" << 33 << "three corners";
        QTest::newRow("no date") << "d = DATE('2026-02-30')" << 9 << "is no date";
        QTest::newRow("box turned") << "S_WITHIN(geom, BBOX(5,0,1,1))" << 15 << "wrong way round";
        QTest::newRow("number and word") << "4sheep > 1" << 0 << "runs into a word";
    }
    void saysWhatIsWrongAndWhere() {
        QFETCH(QString, text);
        QFETCH(int, at);
        QFETCH(QString, says);
        Place place;
        const auto tree = parse(text.toStdString(), &place);
        QVERIFY(!tree);
        QVERIFY2(QString::fromStdString(tree.error().text()).contains(says),
                 tree.error().text().c_str());
        QCOMPARE(static_cast<int>(place.from), at);
    }

    // Whatever is written is read back alike.
    void writesWhatItReads() {
        Random random(7);
        for (int i = 0; i < 3000; ++i) {
            const TreePtr tree = grown(random, 4);
            const std::string text = toText(*tree);
            const auto again = parse(text);
            QVERIFY2(again, (text + ": " + (again ? "" : again.error().text())).c_str());
            QVERIFY2(isAlike(*tree, **again), (text + " / " + toText(**again)).c_str());
        }
    }
    void manySignsAreReadBack() {
        const auto tree = parse("6 - " + std::string(150, '-') + "n");
        QVERIFY(tree.has_value());
        const auto again = parse(toText(**tree));
        QVERIFY2(again, again ? "" : again.error().text().c_str());
        QVERIFY(isAlike(**tree, **again));
    }
    void deepNestingIsRefused() {
        for (const char* open : {"(", "NOT ", "-", "abs("}) {
            std::string text;
            for (int i = 0; i < 100000; ++i) text += open;
            const auto tree = parse(text + "1");
            QVERIFY(!tree);
        }
    }
    void quotesEveryText() {
        for (const char* text : {"", "'", "\\", "\\'", "a\\", "\\\\", "it''s", "\\\\'\\", "%_"}) {
            const auto tree = parse(literalText(text));
            QVERIFY2(tree, text);
            QCOMPARE(std::get<std::string>((*tree)->value), std::string(text));
        }
        for (const char* name :
             {"sheep", "per cent", "and", "a\"b", "5th", "Ærøy", "a.b", "", "point"}) {
            if (!*name) continue;
            const auto tree = parse(nameText(name));
            QVERIFY2(tree, name);
            QCOMPARE((*tree)->op, Tree::Op::Name);
            QCOMPARE((*tree)->name, std::string(name));
        }
    }

private:
    static TreePtr made(Tree::Op op, std::vector<TreePtr> parts, std::string name = {}) {
        Tree out{.op = op, .name = std::move(name), .parts = std::move(parts)};
        return std::make_shared<const Tree>(std::move(out));
    }
    static TreePtr leaf(Random& random) {
        Tree out;
        switch (static_cast<int>(random.unit() * 6)) {
        case 0: out.value = static_cast<std::int64_t>(random.unit() * 2000 - 1000); break;
        case 1: out.value = random.unit() * 200 - 100; break;
        case 2: out.value = std::string(random.unit() < 0.5 ? "it's" : "back\\"); break;
        case 3: out.value = random.unit() < 0.5; break;
        case 4:
            out.op = Tree::Op::Name;
            out.name = random.unit() < 0.5 ? "sheep" : "per cent";
            break;
        default: out.value = Date{20000}; break;
        }
        return std::make_shared<const Tree>(std::move(out));
    }
    static TreePtr grown(Random& random, int depth) {
        if (depth == 0 || random.unit() < 0.2) return leaf(random);
        const auto next = [&] { return grown(random, depth - 1); };
        constexpr std::array kTwo{
            Tree::Op::Equal,         Tree::Op::NotEqual,     Tree::Op::Less,   Tree::Op::LessEqual,
            Tree::Op::Greater,       Tree::Op::GreaterEqual, Tree::Op::Like,   Tree::Op::Plus,
            Tree::Op::Minus,         Tree::Op::Times,        Tree::Op::Divide, Tree::Op::Remainder,
            Tree::Op::WholeQuotient, Tree::Op::Power};
        switch (static_cast<int>(random.unit() * 9)) {
        case 0: return made(Tree::Op::Not, {next()});
        case 1: {
            // Chains are one node; a part of the same kind would be read as its own.
            std::vector<TreePtr> parts{leaf(random), leaf(random), next()};
            return made(random.unit() < 0.5 ? Tree::Op::And : Tree::Op::Or, parts);
        }
        case 2: return made(Tree::Op::Between, {next(), next(), next()});
        case 3: return made(Tree::Op::In, {next(), next(), next()});
        case 4: return made(Tree::Op::IsNull, {next()});
        case 5: return made(Tree::Op::Call, {next(), next()}, "greatest");
        case 6: {
            TreePtr inner = next();
            // A sign before a number is the number's own.
            if (inner->op == Tree::Op::Literal) inner = made(Tree::Op::Plus, {inner, leaf(random)});
            return made(Tree::Op::Negative, {inner});
        }
        default:
            return made(kTwo[static_cast<std::size_t>(random.unit() * kTwo.size())],
                        {next(), next()});
        }
    }
};

QTEST_APPLESS_MAIN(LanguageTest)
#include "language_test.moc"
