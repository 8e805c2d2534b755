#include "session/sld.h"

#include <QTest>

#include "core/feature/feature_table.h"
#include "core/query/question.h"
#include "session/field_classes.h"
#include "session/sld_filter.h"

using namespace ledge;
using namespace ledge::session;

/// Styles as OGC descriptors: what is written is read back alike, and what cannot be is said.
class SldTest : public QObject {
    Q_OBJECT

private:
    static doc::VectorLayer layerOf(const QString& kind) {
        doc::VectorLayer out;
        out.geometry = GeometryType::Polygon;
        doc::VectorStyle& s = out.style;
        s.look.fill = {200, 210, 160, 128};
        s.look.strokeMm = 0.28;
        if (kind == "line" || kind == "cased line") {
            out.geometry = GeometryType::Line;
            s.look.hasFill = false;
            s.look.dashesMm = {2.8, 1.4};
            s.look.offsetMm = 0.56;
            s.look.join = doc::Join::Bevel;
            if (kind == "line") s.look.cap = doc::Cap::Square;
            if (kind == "cased line") s.look.casingMm = 0.28, s.look.casing = {250, 250, 240};
        }
        if (kind == "point") {
            out.geometry = GeometryType::Point;
            s.look.mark = doc::Mark::Star;
            s.look.markMm = 2.8;
            s.look.markTurn = 30;
        }
        if (kind == "classes") {
            s.classing = doc::Classing::Classes;
            s.field = "sheep";
            s.classes.breaks = {10, 20.5};
            s.classes.classes.resize(3);
            colourClasses(s.classes, s.look, out.geometry);
            s.classes.classes[1].label = "some";
        }
        if (kind == "rules") {
            s.classing = doc::Classing::Rules;
            doc::StyleRule one;
            one.label = "large";
            one.keep = "sheep > 20 AND name LIKE 'N%'";
            one.look.fill = {90, 90, 20};
            one.widestScale = 50000;
            s.rules = {one};
            s.others.fill = {230, 230, 230};
        }
        if (kind == "labels") {
            out.labels[0].isOn = true;
            out.labels[0].text = "name";
            out.labels[0].keep = "sheep IS NULL";
            out.labels[0].isItalic = true;
            out.labels[0].font = "DejaVu Serif";
            out.labels[0].halo = {250, 230, 200}, out.labels[0].haloMm = 0.56;
            out.labels[0].sizePt = 9;
            out.labels[0].widestScale = 20000;
        }
        return out;
    }

private Q_SLOTS:
    void comesBackAlike_data() {
        QTest::addColumn<QString>("kind");
        for (const char* kind :
             {"area", "line", "cased line", "point", "classes", "rules", "labels"})
            QTest::newRow(kind) << kind;
    }
    void comesBackAlike() {
        QFETCH(QString, kind);
        const doc::VectorLayer layer = layerOf(kind);
        const SldText written = writeSld(layer, "Crofts & co");
        QVERIFY2(written.losses.empty(), written.losses.empty() ? "" : written.losses[0].c_str());
        doc::VectorLayer plain;
        plain.geometry = layer.geometry;
        const auto read = readSld(written.text, plain);
        QVERIFY2(read, read ? "" : read.error().text().c_str());
        QVERIFY(read->losses.empty());
        const doc::VectorStyle &one = layer.style, &two = read->layer.style;
        QCOMPARE(two.classing, one.classing);
        const auto isAlike = [](const doc::Look& a, const doc::Look& b) {
            return a.hasFill == b.hasFill && (!a.hasFill || a.fill == b.fill) &&
                   a.hasStroke == b.hasStroke && a.stroke == b.stroke &&
                   std::abs(a.strokeMm - b.strokeMm) < 0.002 && a.mark == b.mark &&
                   std::abs(a.markMm - b.markMm) < 0.01 && a.markTurn == b.markTurn &&
                   a.dashesMm.size() == b.dashesMm.size() && a.cap == b.cap && a.join == b.join &&
                   std::abs(a.offsetMm - b.offsetMm) < 0.01 &&
                   std::abs(a.casingMm - b.casingMm) < 0.01;
        };
        if (kind != "classes" && kind != "rules") QVERIFY(isAlike(one.look, two.look));
        if (kind == "classes") {
            QCOMPARE(two.classes.breaks, one.classes.breaks);
            QCOMPARE(two.field, one.field);
            QCOMPARE(two.classes.classes[1].label, std::string("some"));
            for (std::size_t i = 0; i < 3; ++i)
                QVERIFY(isAlike(one.classes.classes[i].look, two.classes.classes[i].look));
        }
        if (kind == "rules") {
            QCOMPARE(two.rules.size(), std::size_t{1});
            QCOMPARE(two.rules[0].label, std::string("large"));
            QCOMPARE(two.rules[0].widestScale, 50000.0);
            QVERIFY(query::isAlike(**query::parse(two.rules[0].keep),
                                   **query::parse(one.rules[0].keep)));
            QVERIFY(isAlike(two.others, one.others));
        }
        if (kind == "labels") {
            const doc::LabelStyle &a = layer.labels[0], &b = read->layer.labels[0];
            QVERIFY(b.isOn && b.text == a.text && b.isItalic && b.hasHalo);
            QVERIFY(std::abs(b.sizePt - a.sizePt) < 0.02);
            QCOMPARE(b.font, a.font);
            QVERIFY(b.halo == a.halo && std::abs(b.haloMm - a.haloMm) < 0.01);
            QCOMPARE(b.widestScale, a.widestScale);
            QCOMPARE(b.keep, a.keep);
        }
    }

    // Conditions through the filter and back ask the same.
    void filtersAskTheSame_data() {
        QTest::addColumn<QString>("text");
        for (const char* text :
             {"sheep = 3", "sheep <> 3 AND name = 'Ness'", "NOT (sheep < 3 OR sheep > 9)",
              "sheep BETWEEN 3 AND 9", "name LIKE 'N%s_'", "name IS NULL",
              "sheep * 2 + 1 >= area / 3", "name IN ('a', 'b''c')", "sheep = -4"})
            QTest::newRow(text) << text;
    }
    void filtersAskTheSame() {
        QFETCH(QString, text);
        FeatureList list;
        list.info.fields = {
            {"name", FieldType::Text}, {"sheep", FieldType::Integer}, {"area", FieldType::Real}};
        const char* names[] = {"Ness", "Nessy", "Nes", "a", "b'c", "N%s_"};
        for (int i = 0; i < 120; ++i)
            list.features.push_back({i,
                                     {},
                                     {i % 11 == 0 ? Value() : Value(std::string(names[i % 6])),
                                      Value(std::int64_t{i % 13 - 4}), i * 0.7}});
        const FeatureTable table(std::move(list));
        pugi::xml_document document;
        QVERIFY(addFilter(document, **query::parse(text.toStdString())));
        const auto back = filterText(document.first_child());
        QVERIFY2(back, back ? "" : back.error().text().c_str());
        const auto rows = [&](const std::string& said) {
            const auto question = query::Question::condition(said, table.info);
            return question ? query::rowsWhere(*question, table)->rows
                            : std::vector<std::size_t>{99999};
        };
        QCOMPARE(rows(*back), rows(text.toStdString()));
    }
    void saysWhatItCannotHold_data() {
        QTest::addColumn<int>("classing");
        QTest::addColumn<QString>("said");
        QTest::newRow("dots") << int(doc::Classing::Dots) << "dots";
        QTest::newRow("sizes") << int(doc::Classing::Sized) << "sizes";
        QTest::newRow("ramp") << int(doc::Classing::Ramp) << "ramp";
    }
    void saysWhatItCannotHold() {
        QFETCH(int, classing);
        QFETCH(QString, said);
        doc::VectorLayer layer = layerOf("area");
        layer.style.classing = static_cast<doc::Classing>(classing);
        layer.style.field = "sheep";
        layer.style.ramp = rampOf("moss", 0, 10);
        layer.style.look.pattern = doc::Pattern::Hatch;
        const SldText written = writeSld(layer, "x");
        QString all;
        for (const std::string& loss : written.losses) all += QString::fromStdString(loss) + "; ";
        QVERIFY2(all.contains(said) && all.contains("pattern"), qPrintable(all));
        QVERIFY(readSld(written.text, layer));
    }
    void readsWhatOthersWrite() {
        // Elements without a prefix, the parameters of SLD 1.0, and parts unknown here.
        const auto read = readSld(R"(<?xml version="1.0"?><StyledLayerDescriptor version="1.0.0">
<NamedLayer><Name>roads</Name><UserStyle><FeatureTypeStyle>
<Rule><Name>main</Name><Filter><PropertyIsEqualTo><PropertyName>kind</PropertyName>
<Literal>main</Literal></PropertyIsEqualTo></Filter><MaxScaleDenominator>25000</MaxScaleDenominator>
<LineSymbolizer><Stroke><CssParameter name="stroke">#aa0000</CssParameter>
<CssParameter name="stroke-width">4</CssParameter></Stroke></LineSymbolizer>
<LineSymbolizer><Stroke><CssParameter name="stroke">#ffffff</CssParameter>
<CssParameter name="stroke-width">2</CssParameter></Stroke></LineSymbolizer></Rule>
<Rule><RasterSymbolizer/></Rule>
<Rule><Filter><Beyond/></Filter><LineSymbolizer/></Rule>
</FeatureTypeStyle></UserStyle></NamedLayer><NamedLayer/></StyledLayerDescriptor>)",
                                  {});
        QVERIFY2(read, read ? "" : read.error().text().c_str());
        QCOMPARE(read->layer.style.classing, doc::Classing::Rules);
        const doc::StyleRule& rule = read->layer.style.rules.at(0);
        QCOMPARE(rule.keep, std::string("kind = 'main'"));
        QVERIFY(std::abs(rule.look.strokeMm - 0.56) < 1e-9);
        QVERIFY(std::abs(rule.look.casingMm - 0.28) < 1e-9);
        // What is not said is as the standard has it.
        QCOMPARE(rule.look.cap, doc::Cap::Flat);
        QCOMPARE(rule.look.join, doc::Join::Mitre);
        QCOMPARE(read->losses.size(), std::size_t{3});
    }
    void refuses_data() {
        QTest::addColumn<QString>("text");
        QTest::newRow("no XML") << "colour: red";
        QTest::newRow("cut") << "<StyledLayerDescriptor><NamedLayer>";
        QTest::newRow("another") << "<kml/>";
        QTest::newRow("empty") << "";
        QTest::newRow("no rule") << "<StyledLayerDescriptor/>";
    }
    void refuses() {
        QFETCH(QString, text);
        const auto read = readSld(text.toStdString(), {});
        QVERIFY(!read && read.error().code == ErrorCode::BadFormat);
    }
};

QTEST_GUILESS_MAIN(SldTest)
#include "sld_test.moc"
