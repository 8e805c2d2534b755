#include "core/feature/order.h"

#include <QTest>
#include <numeric>

#include "core/base/letters.h"
#include "core/base/random.h"

using namespace ledge;

// Rows in the order of fields, and rows in which a text occurs.
class OrderTest : public QObject {
    Q_OBJECT

private:
    static std::vector<std::uint32_t> all(const FeatureTable& table) {
        std::vector<std::uint32_t> out(table.size());
        std::iota(out.begin(), out.end(), 0U);
        return out;
    }
    static FeatureTable table() {
        FeatureList list;
        list.info.fields = {{"text", FieldType::Text}, {"whole", FieldType::Integer},
                            {"real", FieldType::Real}, {"flag", FieldType::Boolean},
                            {"day", FieldType::Date},  {"bytes", FieldType::Bytes}};
        Random random(4);
        const char* words[] = {"Ness",
                               "ness",
                               "nessa",
                               "Ness of the far western shore",
                               "Ness of the far western shire",
                               "",
                               "\u00c6r\u00f8",
                               "zeta"};
        for (int i = 0; i < 70000; ++i) {
            std::vector<Value> values{std::string(words[random.below(8)]),
                                      std::int64_t(random.below(7) - 3),
                                      random.between(-1, 1),
                                      random.below(2) == 0,
                                      Date{random.below(20) - 10},
                                      Bytes{std::string(1, char('a' + random.below(3)))}};
            for (Value& v : values)
                if (random.below(9) == 0) v = {};
            list.features.push_back({i, {}, values});
        }
        return list;
    }

private Q_SLOTS:
    void ordersByAnyFields_data() {
        QTest::addColumn<int>("first");
        QTest::addColumn<int>("second");
        QTest::addColumn<bool>("isDown");
        for (int field = 0; field < 6; ++field)
            for (const bool isDown : {false, true})
                QTest::addRow("%d %d", field, int(isDown)) << field << (field + 1) % 6 << isDown;
    }
    void ordersByAnyFields() {
        QFETCH(int, first);
        QFETCH(int, second);
        QFETCH(bool, isDown);
        static const FeatureTable t = table();
        const std::vector<OrderBy> by{{std::size_t(first), isDown}, {std::size_t(second), !isDown}};
        const auto sorted = ordered(t, by, all(t));
        QVERIFY(sorted);
        // Beside the plainest sort there is.
        auto wanted = all(t);
        const auto compared = [&](std::uint32_t a, std::uint32_t b, std::size_t field) {
            const Value x = t.value(a, field), y = t.value(b, field);
            if (const auto* text = std::get_if<std::string>(&x))
                return caseFolded(*text).compare(caseFolded(std::get<std::string>(y)));
            return x < y ? -1 : y < x ? 1 : 0;
        };
        std::stable_sort(wanted.begin(), wanted.end(), [&](std::uint32_t a, std::uint32_t b) {
            for (const OrderBy& one : by) {
                const bool noA = t.isMissing(a, one.field), noB = t.isMissing(b, one.field);
                if (noA != noB) return noB;
                if (noA) continue;
                const int order = compared(a, b, one.field);
                if (order != 0) return one.isDescending ? order > 0 : order < 0;
            }
            return false;
        });
        QVERIFY(*sorted == wanted);
    }
    void keepsOnlyTheRowsGiven() {
        const FeatureTable t = table();
        const auto sorted = ordered(t, {{1, false}}, {5, 3, 9, 1});
        QVERIFY(sorted);
        auto rows = *sorted;
        std::sort(rows.begin(), rows.end());
        QVERIFY(rows == std::vector<std::uint32_t>({1, 3, 5, 9}));
        QVERIFY(*ordered(t, {}, {5, 3}) == std::vector<std::uint32_t>({3, 5}));
        QVERIFY(ordered(t, {{0, false}}, {})->empty());
        QVERIFY(*ordered(t, {{0, true}}, {7}) == std::vector<std::uint32_t>({7}));
        std::stop_source stop;
        stop.request_stop();
        QVERIFY(!ordered(t, {{0, false}}, all(t), {stop.get_token(), {}}));
    }
    void findsTexts() {
        const FeatureTable t = table();
        const auto count = [&](const std::vector<std::uint32_t>& rows, auto is) {
            return std::all_of(rows.begin(), rows.end(), is);
        };
        const auto found = rowsWithText(t, {0}, "\u00c6R\u00d8");
        QVERIFY(found && found->size() > 1000);
        QVERIFY(count(*found, [&](std::uint32_t row) {
            return t.value(row, 0) == Value(std::string("\u00c6r\u00f8"));
        }));
        // Numbers by what is shown of them.
        const auto numbers = rowsWithText(t, {1}, "-3");
        QVERIFY(numbers &&
                count(*numbers, [&](std::uint32_t row) { return t.number(row, 1) == -3; }));
        QVERIFY(rowsWithText(t, {0, 1}, "nowhere")->empty());
    }
};

QTEST_APPLESS_MAIN(OrderTest)
#include "order_test.moc"
