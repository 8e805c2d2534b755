#include <QTest>
#include <cmath>
#include <random>

#include "core/base/calendar.h"
#include "core/feature/column.h"

using namespace ledge;

/// Days and instants as ISO 8601 writes them, and columns of them.
class CalendarTest : public QObject {
    Q_OBJECT

private slots:
    void writesAndReadsDays_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<int>("days");
        QTest::newRow("the first") << "1970-01-01" << 0;
        QTest::newRow("the day before") << "1969-12-31" << -1;
        QTest::newRow("a leap day") << "2000-02-29" << 11016;
        QTest::newRow("after it") << "2000-03-01" << 11017;
        QTest::newRow("a century without one") << "1900-03-01" << -25508;
        QTest::newRow("long ago") << "0001-01-01" << -719162;
        QTest::newRow("far ahead") << "9999-12-31" << 2932896;
    }
    void writesAndReadsDays() {
        QFETCH(QString, text);
        QFETCH(int, days);
        QCOMPARE(QString::fromStdString(isoText(Date{days})), text);
        const auto read = parseDate(text.toStdString());
        QVERIFY(read && read->days == days);
    }

    void readsInstants_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<qint64>("milliseconds");
        QTest::newRow("the first") << "1970-01-01T00:00:00Z" << qint64(0);
        QTest::newRow("a fraction") << "1970-01-01T00:00:01.25Z" << qint64(1250);
        QTest::newRow("cut off") << "1970-01-01T00:00:00.1239Z" << qint64(123);
        QTest::newRow("a blank, no zone") << "1970-01-02 00:00:00" << qint64(86400000);
        QTest::newRow("no seconds") << "1970-01-01T01:30Z" << qint64(5400000);
        QTest::newRow("east") << "1970-01-01T02:00:00+02:00" << qint64(0);
        QTest::newRow("west") << "1969-12-31T19:00:00-0500" << qint64(0);
        QTest::newRow("before") << "1969-12-31T23:59:59.999Z" << qint64(-1);
    }
    void readsInstants() {
        QFETCH(QString, text);
        QFETCH(qint64, milliseconds);
        const auto read = parseTimeStamp(text.toStdString());
        QVERIFY(read.has_value());
        QCOMPARE(qint64(read->milliseconds), milliseconds);
    }

    void refusesWhatIsNone_data() {
        QTest::addColumn<QString>("text");
        for (const char* text :
             {"", "2026", "2026-13-01", "2026-02-29", "2026-04-31", "2026-1-1", "26-11-26",
              "2026-11-26 ", "2026-11-26T", "2026-11-26T24:00:00Z", "2026-11-26T12:60:00Z",
              "2026-11-26T12:00:61Z", "2026-11-26T12:00:00.Z", "2026-11-26T12:00:00+25:00",
              "2026-11-26T12:00:00Zebra", "yesterday"})
            QTest::newRow(text) << text;
    }
    void refusesWhatIsNone() {
        QFETCH(QString, text);
        QVERIFY(!parseDate(text.toStdString()));
        QVERIFY(!parseTimeStamp(text.toStdString()));
    }

    void comesBackFromItsText() {
        std::mt19937_64 random(1);
        std::uniform_int_distribution<std::int64_t> some(-62135596800000, 253402300799999);
        for (int i = 0; i < 5000; ++i) {
            const TimeStamp time{some(random)};
            const auto read = parseTimeStamp(isoText(time));
            QVERIFY(read && *read == time);
            const Date day{static_cast<std::int32_t>(time.milliseconds / 86400000)};
            QVERIFY(parseDate(isoText(day)) == day);
        }
        QVERIFY(Date{3} < Date{4});
        QVERIFY(TimeStamp{-1} < TimeStamp{0});
    }

    void standsInColumns() {
        Column days(FieldType::Date);
        days.append(Date{5});
        days.append({});
        days.append(Date{-7});
        QVERIFY(days.type() == FieldType::Date);
        QVERIFY(std::get<Date>(days.value(2)) == Date{-7});
        QVERIFY(days.isMissing(1));
        QVERIFY(std::isnan(days.number(0)));
        QVERIFY(days.text(0).empty());
        // What is no day makes texts of all.
        days.append(std::string("about Easter"));
        QVERIFY(days.type() == FieldType::Text);
        QCOMPARE(std::get<std::string>(days.value(0)), std::string("1970-01-06"));
        QVERIFY(days.isMissing(1));
        Column times(FieldType::TimeStamp);
        times.append(TimeStamp{1500});
        QCOMPARE(displayText(times.value(0)), std::string("1970-01-01 00:00:01 UTC"));
        QCOMPARE(exactText(times.value(0)), std::string("1970-01-01T00:00:01.500Z"));
        Column bytes(FieldType::Bytes);
        for (const char* key : {"aa", "b", "aa", ""}) bytes.append(Bytes{key});
        QCOMPARE(std::get<Bytes>(bytes.value(2)).data, std::string("aa"));
        QCOMPARE(std::get<Bytes>(bytes.value(3)).data, std::string());
        QCOMPARE(exactText(bytes.value(1)), std::string("62"));
        QVERIFY(widerType(FieldType::Date, FieldType::Integer) == FieldType::Text);
        for (const auto type : {FieldType::Date, FieldType::TimeStamp, FieldType::Bytes})
            QVERIFY(!fieldTypeName(type).empty());
    }
};

QTEST_GUILESS_MAIN(CalendarTest)
#include "calendar_test.moc"
