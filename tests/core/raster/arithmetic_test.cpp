#include <QTest>

#include "core/raster/calculated_raster.h"
#include "core/raster/coloured_raster.h"

using namespace ledge;

namespace {
double valueOf(const std::string& text, double a = kNaN, double b = kNaN) {
    const auto expression = Expression::parse(text, {"a", "b"});
    if (!expression) {
        qWarning("%s", expression.error().text().c_str());
        return -12345;
    }
    const std::vector<double> as{a}, bs{b};
    const std::vector<std::span<const double>> bands{as, bs};
    double out = 0;
    expression->evaluate(bands, std::span(&out, 1));
    return out;
}

RasterPtr raster(double x, double y, double cell, std::size_t rows, std::size_t cols,
                 const std::function<float(double, double)>& value, int code = 32629) {
    RasterInfo info;
    info.toWorld = {cell, 0, x, 0, -cell, y};
    if (code != 0) info.crs = *crs::crsFromCode(code);
    Grid<float> cells(rows, cols);
    for (std::size_t r = 0; r < rows; ++r)
        for (std::size_t c = 0; c < cols; ++c) {
            const Point p = info.toWorld({double(c) + 0.5, double(r) + 0.5});
            cells(r, c) = value(p.x, p.y);
        }
    return std::make_shared<MemoryRaster>(info, std::move(cells));
}
}  // namespace

class ArithmeticTest : public QObject {
    Q_OBJECT

private slots:
    void computes_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<double>("expected");
        const auto row = [](const char* text, double v) { QTest::newRow(text) << text << v; };
        row("1 + 2 * 3", 7);
        row("(1 + 2) * 3", 9);
        row("2 ^ 3 ^ 2", 512);
        row("-2 ^ 2", -4);
        row("2 ^ -1", 0.5);
        row("8 / 4 / 2", 1);
        row("10 - 4 - 3", 3);
        row("1.5e2 + .5", 150.5);
        row("a + b", 9);
        row("normalised_difference(a, b)", -0.4 / 1.8);
        row("(a-b)/(a+b)", -2.0 / 9 * 1);
        row("a < b and not (a = b)", 1);
        row("a >= b or b <> 5.5", 0);
        row("if(a > 3, a * 10, b)", 35);
        row("if(a > 4, a * 10, b)", 5.5);
        row("min(a, b, 2)", 2);
        row("max(a, b, 2)", 5.5);
        row("mean(a, b)", 4.5);
        row("abs(-3) + sqrt(16) + floor(2.9) + ceil(2.1) + round(2.5)", 15);
        row("ln(exp(2)) + log10(1000)", 5);
        row("sin(pi / 2) + cos(0) + atan2(1, 1) * 4 / pi", 3);
        row("missing(nodata) + missing(if(1, nodata, 5)) + missing(2)", 2);
        row("missing(a)", 0);
        row("first(a, b)", 3.5);
        // The words of the language for features are understood too.
        row("a * 0 + 7 % 4 + 7 div 2", 6);
        row("a BETWEEN 3 AND 4 AND b NOT IN (1, 2)", 1);
        row("IF(a IS NULL, 1, COALESCE(NULL, b))", 5.5);
    }
    void computes() {
        QFETCH(QString, text);
        QFETCH(double, expected);
        QVERIFY2(std::abs(valueOf(text.toStdString(), 3.5, 5.5) - expected) < 1e-12,
                 qPrintable(QString::number(valueOf(text.toStdString(), 3.5, 5.5))));
    }

    void missingCellsSpreadButWhereAsked() {
        for (const char* text : {"a + 1", "a * 0", "a < 3", "a and 1", "a or 1", "not a",
                                 "if(a > 1, 2, 3)", "min(a, 1)", "max(1, a)", "mean(a, b)", "b / 0",
                                 "sqrt(-1)", "ln(0)", "0 / 0", "(-1) ^ 0.5"})
            QVERIFY2(std::isnan(valueOf(text, kNaN, 4)), text);
        QCOMPARE(valueOf("missing(a)", kNaN, 4), 1.0);
        QCOMPARE(valueOf("first(a, b)", kNaN, 4), 4.0);
        QCOMPARE(valueOf("if(missing(a), b, a)", kNaN, 4), 4.0);
        QCOMPARE(valueOf("if(b > 1, b, a)", kNaN, 4), 4.0);
    }

    void tellsWhereItIsWrong_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("part");
        const auto row = [](const char* text, const char* part) {
            QTest::newRow(text) << text << part;
        };
        row("", "nothing to read");
        row("1 +", "ends");
        row("1 2", "cannot follow here at character 3");
        row("(1", "should be closed");
        row("c + 1", "no band \"c\" at character 1");
        row("sqrt(1, 2)", "takes 1");
        row("if(1, 2)", "takes 3");
        row("twirl(1)", "no function \"twirl\"");
        row("1 $ 2", "cannot stand here at character 3");
        row("$", "cannot stand here");
        row("min(1", "should be closed");
        row("a LIKE 'x'", "for features");
        row("area() + a", "for features");
    }
    void tellsWhereItIsWrong() {
        QFETCH(QString, text);
        QFETCH(QString, part);
        const auto parsed = Expression::parse(text.toStdString(), {"a"});
        QVERIFY(!parsed);
        QVERIFY2(parsed.error().why.find(part.toStdString()) != std::string::npos,
                 parsed.error().why.c_str());
        const std::string deep(5000, '(');
        QVERIFY(!Expression::parse(deep, {"a"}));
        QVERIFY(!Expression::parse(std::string(5000, '-') + "1", {"a"}));
    }

    void bringsRastersToTheFirstGrid() {
        const auto plane = [](double x, double y) { return float((x - 500000) + 2 * (y - 6.8e6)); };
        const auto one = raster(500000, 6800400, 10, 40, 40, plane);
        // Shifted by a part of a cell, coarser, larger: a plane comes through bilinear unchanged.
        const auto other = raster(499973, 6800433, 15, 40, 40, plane);
        const auto made = calculatedRaster("a - b", {{"a", one, 0}, {"b", other, 0}});
        QVERIFY(made.has_value());
        QCOMPARE((*made)->info().width, std::int64_t{40});
        Grid<double> cells(40, 40);
        QVERIFY((*made)->read(0, (*made)->info().whole(), cells.view()).has_value());
        for (const double v : cells.cells()) QVERIFY(std::abs(v) < 0.01);
        // Another CRS is brought over too.
        const auto lonLat = raster(
            -9.001, 61.34, 0.0001, 90, 90, [](double x, double) { return float(x * 1000); }, 4326);
        const auto mixed = calculatedRaster("b", {{"a", one, 0}, {"b", lonLat, 0}});
        QVERIFY(mixed.has_value());
        const auto undeclared = raster(0, 100, 1, 10, 10, plane, 0);
        QVERIFY(!calculatedRaster("a + b", {{"a", one, 0}, {"b", undeclared, 0}}));
        QVERIFY(!calculatedRaster("a", {{"a", one, 3}}));
        QVERIFY(!calculatedRaster("1", {}));
    }

    void coloursValues() {
        const auto source = raster(0, 40, 1, 4, 4, [](double x, double) {
            return x < 1 ? std::numeric_limits<float>::quiet_NaN() : float(x);
        });
        const Ramp ramp{{{0, {0, 0, 0}}, {8, {200, 100, 40}}}};
        const auto made = colouredRaster(source, 0, ramp, 2);
        QCOMPARE(made->info().bands.size(), std::size_t{4});
        Grid<float> red(4, 4), alpha(4, 4);
        QVERIFY(made->read(0, made->info().whole(), red.view()).has_value());
        QVERIFY(made->read(3, made->info().whole(), alpha.view()).has_value());
        QCOMPARE(alpha(1, 0), 0.0F);
        QCOMPARE(alpha(1, 1), 255.0F);
        QCOMPARE(red(1, 2), float(ramp.at(5).r));
    }
};

QTEST_APPLESS_MAIN(ArithmeticTest)
#include "arithmetic_test.moc"
