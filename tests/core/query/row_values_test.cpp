#include "core/query/row_values.h"

#include <QTest>

#include "core/base/random.h"

using namespace ledge;
using namespace ledge::query;

/// Values of fields and formulas for single rows: the same as for all rows at once.
class RowValuesTest : public QObject {
    Q_OBJECT

private:
    static FeatureTable crofts(int count) {
        FeatureList list;
        list.info.fields = {{"name", FieldType::Text},
                            {"sheep", FieldType::Integer},
                            {"sheep / 2", FieldType::Real}};
        Random random(2);
        for (int i = 0; i < count; ++i)
            list.features.push_back(
                {i + 1,
                 Geometry::point({double(i), 0}),
                 {"croft " + std::to_string(i),
                  i % 7 == 0 ? Value() : Value(std::int64_t{random.below(50)}), i * 0.5}});
        return list;
    }

private Q_SLOTS:
    void agreesWithAllRows_data() {
        QTest::addColumn<QString>("said");
        for (const char* said : {"sheep", "name", "sheep * 2 + 1", "join(name, '!')", "sheep > 20",
                                 "sheep / sum(sheep)", "sheep / 0"})
            QTest::newRow(said) << said;
    }
    void agreesWithAllRows() {
        QFETCH(QString, said);
        const FeatureTable table = crofts(5000);
        auto one = RowValues::of(said.toStdString(), table);
        QVERIFY2(one, one ? "" : one.error().text().c_str());
        FeatureTable with = table;
        int field = table.fieldIndex(said.toStdString());
        if (field < 0) {
            const auto question = Question::from(said.toStdString(), table.info);
            QVERIFY(question);
            auto column = computed(*question, table);
            QVERIFY(column);
            with = table.withColumn({"value", column->type}, std::move(column->runs));
            field = static_cast<int>(with.info.fields.size()) - 1;
        }
        // In any order: batches come and go.
        Random random(8);
        for (int i = 0; i < 3000; ++i) {
            const auto row = static_cast<std::size_t>(random.below(5000));
            QVERIFY(one->value(row) == with.value(row, static_cast<std::size_t>(field)));
            const double number = one->number(row);
            const double wanted = with.number(row, static_cast<std::size_t>(field));
            QVERIFY(number == wanted || (std::isnan(number) && std::isnan(wanted)));
        }
    }
    void takesAFieldBeforeAFormula() {
        const FeatureTable table = crofts(20);
        auto values = RowValues::of("sheep / 2", table);
        QVERIFY(values);
        QCOMPARE(values->number(9), 4.5);  // the field of that name
    }
    void knowsWhatIsTrue() {
        const FeatureTable table = crofts(20);
        auto values = RowValues::of("sheep >= 0", table);
        QVERIFY(values);
        QVERIFY(!values->isTrue(0));  // missing is not true
        QVERIFY(values->isTrue(1));
        auto text = RowValues::of("name", table);
        QVERIFY(text && !text->isTrue(1));
        QVERIFY(std::isnan(text->number(1)));
    }
    void saysWhatCannotBeUnderstood() {
        const FeatureTable table = crofts(20);
        for (const char* said : {"goats", "sheep +", "geometry", ""})
            QVERIFY2(!RowValues::of(said, table), said);
        QVERIFY(RowValues::of("goats", table).error().text().find("goats") != std::string::npos);
        QVERIFY(RowValues::of("sheep", crofts(0)));
    }
};

QTEST_APPLESS_MAIN(RowValuesTest)
#include "row_values_test.moc"
