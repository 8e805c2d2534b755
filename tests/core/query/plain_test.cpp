#include "core/query/plain.h"

#include <QTest>

#include "core/query/question.h"

using namespace ledge;
using namespace ledge::query;

// Questions in plain controls and as text, kept in step.
class PlainTestTest : public QObject {
    Q_OBJECT

private:
    static LayerInfo info() {
        LayerInfo out;
        out.fields = {{"name", FieldType::Text},
                      {"sheep", FieldType::Integer},
                      {"let", FieldType::Boolean},
                      {"since", FieldType::Date}};
        return out;
    }

private Q_SLOTS:
    void goesBothWays_data() {
        QTest::addColumn<bool>("isPlain");
        const auto row = [](const char* text, bool isPlain) { QTest::newRow(text) << isPlain; };
        row("sheep > 4", true);
        row("sheep > 4.5", true);
        row("sheep > 4 AND name = 'Ness'", true);
        row("sheep > 4 OR name = 'Ness' OR let = TRUE", true);
        row("NOT (sheep > 4 OR sheep < 2)", true);
        row("NOT sheep > 4", true);
        row("sheep IS NULL AND (name = 'a' OR name = 'b')", true);
        row("sheep IS NOT NULL", true);
        row("CASEI(name) LIKE CASEI('%ess%')", true);
        row("CASEI(name) LIKE CASEI('N\\_\\%%')", true);
        row("since >= DATE('2020-01-01')", true);
        row("name <> 'it''s'", true);
        row("name LIKE 'N%'", false);  // which minds the case
        row("CASEI(name) LIKE CASEI('N_s%')", false);
        row("sheep > sum(sheep) / 2", false);
        row("sheep IN (1, 2)", false);
        row("S_WITHIN(geom, BBOX(0, 0, 1, 1))", false);
        row("let", false);
        row("4 < sheep", false);
        row("sheep = NULL", false);
    }
    void goesBothWays() {
        QFETCH(bool, isPlain);
        const std::string text = QTest::currentDataTag();
        const auto tree = parse(text);
        QVERIFY(tree);
        const auto plain = plainOf(**tree);
        QCOMPARE(plain.has_value(), isPlain);
        if (!plain) return;
        const auto again = treeOf(*plain, info());
        QVERIFY(again);
        QCOMPARE(QString::fromStdString(toText(*again)), QString::fromStdString(toText(**tree)));
        QVERIFY(plainOf(*again) == plain);
    }
    void whatDoesNotFitIsSaidWhenAsked() {
        const auto tree = treeOf(
            {PlainGroup::Join::All, {PlainTest{"sheep", PlainTest::How::More, "many"}}}, info());
        QCOMPARE(toText(*tree), std::string("sheep > 'many'"));
        QVERIFY(!Question::bind(tree, info(), toText(*tree)));
        QVERIFY(!treeOf(PlainGroup{}, info()));
        QVERIFY(!treeOf({PlainGroup::Join::Any, {PlainGroup{}}}, info()));
    }
};

QTEST_APPLESS_MAIN(PlainTestTest)
#include "plain_test.moc"
