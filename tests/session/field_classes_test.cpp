#include "session/field_classes.h"

#include <QTest>

#include "core/feature/feature_table.h"

using namespace ledge;
using namespace ledge::session;

/// Categories and ramps found in the values of a field.
class FieldClassesTest : public QObject {
    Q_OBJECT

private:
    static FeatureTable crofts(int count, GeometryType geometry = GeometryType::Polygon) {
        LayerInfo info;
        info.name = "crofts";
        info.geometry = geometry;
        info.fields = {{"kind", FieldType::Text},
                       {"sheep", FieldType::Integer},
                       {"number", FieldType::Integer},
                       {"empty", FieldType::Real}};
        FeatureTableBuilder table(info);
        for (int i = 0; i < count; ++i) {
            const Value sheep = i == 0 ? Value() : Value(std::int64_t{10 * i});
            table.add(i, {},
                      std::vector<Value>{std::string(i % 2 ? "stone" : "turf"), sheep,
                                         std::int64_t{i}, Value()});
        }
        return table.finish();
    }

private slots:
    void givesEachValueALook_data() {
        QTest::addColumn<int>("geometry");
        QTest::newRow("polygons") << static_cast<int>(GeometryType::Polygon);
        QTest::newRow("lines") << static_cast<int>(GeometryType::Line);
        QTest::newRow("points") << static_cast<int>(GeometryType::Point);
    }
    void givesEachValueALook() {
        QFETCH(int, geometry);
        const auto type = static_cast<GeometryType>(geometry);
        doc::VectorStyle style;
        style.look.strokeMm = 0.7;
        const auto found = fieldClasses(crofts(9, type), style, doc::Classing::Categories, "kind");
        QVERIFY(found.has_value());
        QVERIFY(!found->isCut);
        const auto& categories = found->style.categories;
        QCOMPARE(categories.size(), std::size_t{2});
        QCOMPARE(categories[0].value, std::string("stone"));
        QCOMPARE(categories[1].label, std::string("turf"));
        QCOMPARE(found->style.field, std::string("kind"));
        for (std::size_t i = 0; i < 2; ++i) {
            const doc::Look& look = categories[i].look;
            QCOMPARE(look.strokeMm, 0.7);
            QVERIFY((type == GeometryType::Line ? look.stroke : look.fill) == categoryColour(i));
        }
    }

    void stopsAtTheMostCategoriesAndSaysSo() {
        const auto most = static_cast<int>(kMostCategories);
        const auto full = fieldClasses(crofts(most), {}, doc::Classing::Categories, "number");
        QCOMPARE(full->style.categories.size(), kMostCategories);
        QVERIFY(!full->isCut);
        const auto cut = fieldClasses(crofts(most + 1), {}, doc::Classing::Categories, "number");
        QCOMPARE(cut->style.categories.size(), kMostCategories);
        QVERIFY(cut->isCut);
    }

    void spansARampOverTheNumbers() {
        const auto found = fieldClasses(crofts(5), {}, doc::Classing::Ramp, "sheep");
        QVERIFY(found.has_value());
        QCOMPARE(found->style.ramp.low(), 10.0);
        QCOMPARE(found->style.ramp.high(), 40.0);
        // All alike: still a ramp with some width.
        const auto one = fieldClasses(crofts(2), {}, doc::Classing::Ramp, "sheep");
        QCOMPARE(one->style.ramp.low(), 10.0);
        QCOMPARE(one->style.ramp.high(), 11.0);
    }

    void keepsWhatIsClassedSoAlready() {
        auto style = fieldClasses(crofts(5), {}, doc::Classing::Categories, "kind")->style;
        style.categories[0].label = "Walls of stone";
        const auto again = fieldClasses(crofts(5), style, doc::Classing::Categories, "kind");
        QVERIFY(again->style == style);
        const auto single = fieldClasses(crofts(5), style, doc::Classing::Single, "kind");
        QCOMPARE(single->style.classing, doc::Classing::Single);
        QVERIFY(single->style.categories == style.categories);
    }

    void saysWhyAFieldCannotBeUsed_data() {
        QTest::addColumn<QString>("field");
        QTest::addColumn<int>("classing");
        QTest::addColumn<QString>("said");
        QTest::newRow("no such field")
            << "goats" << static_cast<int>(doc::Classing::Categories) << "no field";
        QTest::newRow("text") << "kind" << static_cast<int>(doc::Classing::Ramp) << "no numbers";
        QTest::newRow("all missing")
            << "empty" << static_cast<int>(doc::Classing::Ramp) << "no numbers";
    }
    void saysWhyAFieldCannotBeUsed() {
        QFETCH(QString, field);
        QFETCH(int, classing);
        QFETCH(QString, said);
        const auto found =
            fieldClasses(crofts(5), {}, static_cast<doc::Classing>(classing), field.toStdString());
        QVERIFY(!found.has_value());
        QVERIFY2(found.error().text().find(said.toStdString()) != std::string::npos,
                 found.error().text().c_str());
    }

    void findsClassesOfNumbers() {
        const auto found = fieldClasses(crofts(40), {}, doc::Classing::Classes, "sheep");
        QVERIFY(found);
        const doc::ClassRule& rule = found->style.classes;
        QCOMPARE(rule.classes.size(), std::size_t{5});
        QCOMPARE(rule.breaks.size(), std::size_t{4});
        QCOMPARE(rule.low, 10.0);
        QCOMPARE(rule.high, 390.0);
        // From light to dark, all opaque, and neighbours told apart.
        for (std::size_t i = 1; i < rule.classes.size(); ++i) {
            const Colour a = rule.classes[i - 1].look.fill, b = rule.classes[i].look.fill;
            QVERIFY(toOkLab(a).lightness > toOkLab(b).lightness);
            QVERIFY2(colourDistance(a, b) >= 8, qPrintable(QString::number(colourDistance(a, b))));
        }
        // By a formula, and divided.
        doc::VectorStyle rate;
        rate.per = "number";
        const auto byRate = fieldClasses(crofts(40), rate, doc::Classing::Classes, "sheep * 3");
        QVERIFY(byRate);
        QCOMPARE(byRate->style.classes.low, 30.0);
        QCOMPARE(byRate->style.classes.high, 30.0);
        QVERIFY(byRate->style.classes.breaks.empty());
    }
    void keepsNamesOfClasses() {
        const auto sample = numbersOf(crofts(40), "sheep", "");
        QVERIFY(sample);
        QCOMPARE(sample->missing(), std::int64_t{1});
        auto rule = classRule(*sample, {}, classify::Method::Quantile, 4, {}, GeometryType::Line);
        QVERIFY(rule);
        rule->classes[2].label = "many";
        auto again = classRule(*sample, *rule, classify::Method::Equal, 4, {}, GeometryType::Line);
        QVERIFY(again);
        QCOMPARE(again->classes[2].label, std::string("many"));
        doc::ClassRule own = *again;
        own.breaks = {300, 100};
        const auto byHand =
            classRule(*sample, own, classify::Method::Own, 9, {}, GeometryType::Line);
        QCOMPARE(byHand->breaks, (std::vector<double>{100, 300}));
        QCOMPARE(byHand->classes.size(), std::size_t{3});
        // Lines are coloured, not filled.
        QVERIFY(!(byHand->classes[0].look.stroke == byHand->classes[2].look.stroke));
        own.isFlipped = true;
        doc::ClassRule flipped = own;
        colourClasses(flipped, {}, GeometryType::Line);
        QVERIFY(flipped.classes.front().look.stroke == again->classes.back().look.stroke);
    }
    void findsSizesAndDots() {
        const auto sizes = fieldClasses(crofts(40), {}, doc::Classing::Sized, "sheep");
        QVERIFY(sizes);
        QVERIFY(std::abs(sizes->style.sizes.high - 390) < 9);
        const auto dots = fieldClasses(crofts(40), {}, doc::Classing::Dots, "sheep");
        QVERIFY(dots);
        const double sum = 39 * 40 / 2 * 10;
        const double count = sum / dots->style.dots.each;
        QVERIFY2(count > 700 && count < 9000, qPrintable(QString::number(count)));
        QCOMPARE(dots->style.dots.fields.size(), std::size_t{1});
        QVERIFY(!fieldClasses(crofts(40), {}, doc::Classing::Dots, "0 - sheep"));
        QVERIFY(!fieldClasses(crofts(40), {}, doc::Classing::Sized, "empty"));
    }
    void takesFormulasForCategories() {
        const auto found =
            fieldClasses(crofts(40), {}, doc::Classing::Categories, "join(kind, '!')");
        QVERIFY(found);
        QCOMPARE(found->style.categories.size(), std::size_t{2});
        QCOMPARE(found->style.categories[1].value, std::string("turf!"));
    }

    void stopsWhenToldTo() {
        std::stop_source stop;
        stop.request_stop();
        for (const auto classing : {doc::Classing::Categories, doc::Classing::Ramp}) {
            const auto found =
                fieldClasses(crofts(5), {}, classing, "number", {stop.get_token(), {}});
            QVERIFY(!found.has_value());
            QCOMPARE(found.error().code, ErrorCode::Cancelled);
        }
    }
};

QTEST_GUILESS_MAIN(FieldClassesTest)
#include "field_classes_test.moc"
