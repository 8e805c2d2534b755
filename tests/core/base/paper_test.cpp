#include <QTest>

#include "core/base/paper.h"

using namespace ledge;

/// Lengths on paper and pages by their names.
class PaperTest : public QObject {
    Q_OBJECT

private slots:
    void readsLengths_data() {
        QTest::addColumn<QString>("said");
        QTest::addColumn<double>("mm");
        QTest::newRow("plain") << "210" << 210.0;
        QTest::newRow("mm") << "210 mm" << 210.0;
        QTest::newRow("no space") << "21cm" << 210.0;
        QTest::newRow("inches") << "6 in" << 152.4;
        QTest::newRow("one inch") << "1 inch" << 25.4;
        QTest::newRow("marks") << "6\"" << 152.4;
        QTest::newRow("capitals") << " 6 IN " << 152.4;
        QTest::newRow("points") << "72 pt" << 25.4;
        QTest::newRow("metres") << "1.2 m" << 1200.0;
        QTest::newRow("negative") << "-3 mm" << -3.0;
        QTest::newRow("words") << "wide" << -1e9;
        QTest::newRow("unit alone") << "mm" << -1e9;
        QTest::newRow("other unit") << "6 ft" << -1e9;
        QTest::newRow("nothing") << "" << -1e9;
        QTest::newRow("two") << "6 in 2" << -1e9;
        QTest::newRow("not finite") << "inf mm" << -1e9;
    }
    void readsLengths() {
        QFETCH(QString, said);
        QFETCH(double, mm);
        const auto read = paperMm(said.toStdString());
        QCOMPARE(read.has_value(), mm > -1e8);
        if (read) QVERIFY2(std::abs(*read - mm) < 1e-9, qPrintable(QString::number(*read)));
        if (!read) QVERIFY(read.error().mend.find("in") != std::string::npos);
    }

    // ISO 216: each size is half of the one before, its sides as 1 to the root of 2.
    void knowsPagesOfTheStandard() {
        const auto pages = namedPages();
        for (int i = 0; i < 6; ++i) {
            const NamedPage* large = pageNamed("A" + std::to_string(i));
            const NamedPage* small = pageNamed("A" + std::to_string(i + 1));
            QVERIFY(large && small);
            QVERIFY(std::abs(large->heightMm / large->widthMm - std::sqrt(2.0)) < 0.01);
            QVERIFY(std::abs(small->heightMm - large->widthMm) < 1e-9);
            QVERIFY(std::abs(small->widthMm - std::floor(large->heightMm / 2)) < 1e-9);
        }
        QVERIFY(!pageNamed("A99"));
    }
    void saysPages() {
        for (const NamedPage& page : namedPages()) {
            QCOMPARE(pageText(page.widthMm, page.heightMm), std::string(page.name) + " upright");
            QCOMPARE(pageText(page.heightMm, page.widthMm), std::string(page.name) + " across");
        }
        QCOMPARE(QString::fromStdString(pageText(152.4, 152.4)), QString("152.4 × 152.4 mm"));
    }
};

QTEST_APPLESS_MAIN(PaperTest)
#include "paper_test.moc"
