#include "core/query/trouble_with.h"

#include <QTest>

using namespace ledge;
using query::Wanted;

/// What a field says of the formula typed into it.
class TroubleWithTest : public QObject {
    Q_OBJECT

private slots:
    void tells_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<bool>("isCondition");
        QTest::addColumn<QString>("told");
        const auto row = [](const char* text, bool isCondition, const char* told) {
            QTest::newRow(text) << text << isCondition << told;
        };
        row("", true, "");
        row(" \t", true, "");
        row("sheep > 3", true, "");
        row("sheep > 3", false, "");
        row("sheep * 2", false, "");
        row("\"area in ha\" > 1", true, "");
        row("sheeps > 3", true, "There is no field \"sheeps\" at character 1; did you mean sheep?");
        row("upper(use", false,
            "The end stands where the list of \"upper\" should be closed at character 10; put a "
            "\")\" there");
    }
    void tells() {
        QFETCH(QString, text);
        QFETCH(bool, isCondition);
        QFETCH(QString, told);
        const std::vector<Field> fields{{"sheep", FieldType::Integer},
                                        {"use", FieldType::Text},
                                        {"area in ha", FieldType::Real}};
        QCOMPARE(
            QString::fromStdString(query::troubleWith(
                text.toStdString(), fields, isCondition ? Wanted::Condition : Wanted::Anything)),
            told);
    }

    // A number is no condition. What is quoted stays as it is.
    void wantsConditions() {
        const std::vector<Field> fields{{"of", FieldType::Integer}};
        QVERIFY(query::troubleWith("of + 1", fields, Wanted::Anything).empty());
        for (const char* text : {"of + 1", "(of+1)", "of+1"})
            QCOMPARE(QString::fromStdString(query::troubleWith(text, fields, Wanted::Condition)),
                     "of + 1 is a number, not true or false at character " +
                         QString(*text == '(' ? "2" : "1") +
                         "; compare it, for example of + 1 > 0");
    }

    // Whatever is typed, letter by letter, says something or can be asked.
    void neverFails() {
        const std::vector<Field> fields{{"sheep", FieldType::Integer}};
        const std::string text =
            "CASEI(sheep) LIKE 'a%' AND sheep BETWEEN 1 AND 2 OR S_WITHIN(geometry, POINT(1 2))";
        for (std::size_t n = 0; n <= text.size(); ++n)
            for (const Wanted wanted : {Wanted::Anything, Wanted::Condition}) {
                const auto told = query::troubleWith(text.substr(0, n), fields, wanted);
                QVERIFY(told.empty() || told.size() > 10);
            }
    }
};

QTEST_APPLESS_MAIN(TroubleWithTest)
#include "trouble_with_test.moc"
