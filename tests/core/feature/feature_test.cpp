#include "core/feature/feature.h"

#include <QTest>

#include "core/base/parallel.h"
#include "core/base/random.h"
#include "core/feature/summary.h"
#include "core/globe/reproject.h"

using namespace ledge;

namespace {
FeatureList table() {
    FeatureList t;
    t.info.name = "t";
    t.info.crs = *crs::crsFromCode(4326);
    t.info.fields = {{"kind", FieldType::Text}, {"n", FieldType::Integer}, {"v", FieldType::Real}};
    const auto add = [&](Value kind, Value n, Value v, Point p) {
        t.features.push_back({std::int64_t(t.features.size()), Geometry::point(p), {kind, n, v}});
    };
    add(std::string("b"), std::int64_t{3}, 0.5, {-10, 61});
    add(std::string("a"), std::int64_t{-1}, Value(), {-10.5, 61.5});
    add(std::string("b"), Value(), 2.5, {-11, 62});
    add(Value(), std::int64_t{3}, kNaN, {-10, 62});
    return t;
}
}  // namespace

class FeatureTest : public QObject {
    Q_OBJECT

private:
    // As many features as asked, of every kind in turn, with values of every kind, some missing.
    static FeatureList many(std::size_t count) {
        FeatureList list;
        list.info.fields = {{"text", FieldType::Text},
                            {"whole", FieldType::Integer},
                            {"real", FieldType::Real},
                            {"flag", FieldType::Boolean}};
        Random random(5);
        for (std::size_t i = 0; i < count; ++i) {
            const Point at{random.between(-9, 9), random.between(50, 60)};
            Feature f;
            f.id = static_cast<std::int64_t>(i * 3 + 7);
            if (i % 5 == 0) f.geometry = Geometry::point(at);
            if (i % 5 == 1) f.geometry = Geometry::line({at, at + Point{1, 1}, at + Point{2, 0}});
            if (i % 5 == 2)
                f.geometry = Geometry::polygon(
                    {{at, at + Point{3, 0}, at + Point{0, 3}},
                     {at + Point{0.5, 0.5}, at + Point{0.5, 1}, at + Point{1, 0.5}}});
            if (i % 5 == 3) {
                f.geometry = Geometry::line({at, at + Point{0, 2}});
                f.geometry.isMulti = true;
                f.geometry.beginPart();
                f.geometry.points.push_back(at);
                f.geometry.points.push_back(at + Point{4, 4});
            }
            const auto some = [&](Value value) { return random.below(6) == 0 ? Value() : value; };
            f.values = {some("kind " + std::to_string(random.below(9))),
                        some(std::int64_t{random.below(1000)} - 500), some(random.between(-1, 1)),
                        some(random.below(2) == 0)};
            list.features.push_back(std::move(f));
        }
        return list;
    }

private slots:
    void keepsWhatItIsMadeFrom_data() {
        QTest::addColumn<int>("count");
        for (const int count : {0, 1, 5, 63, 64, 65, 1000, int(FeatureTable::kRun) + 3})
            QTest::addRow("%d", count) << count;
    }
    void keepsWhatItIsMadeFrom() {
        QFETCH(int, count);
        const FeatureList list = many(static_cast<std::size_t>(count));
        const FeatureTable table(list);
        QCOMPARE(table.size(), list.features.size());
        std::size_t i = 0;
        for (const FeatureView view : table) {
            const Feature& f = list.features[i++];
            if (!(view.toFeature() == f)) QFAIL(qPrintable(QString::number(i)));
            for (std::size_t k = 0; k < 4; ++k) {
                QCOMPARE(view.isMissing(k), isMissing(f.values[k]));
                const double a = view.number(k), b = numberOf(f.values[k]);
                QVERIFY(std::isnan(a) ? std::isnan(b) : a == b);
            }
        }
        QCOMPARE(i, list.features.size());
    }

    // Texts that come again, that never do, and first the one, then the other.
    void remembersTexts_data() {
        QTest::addColumn<int>("count");
        QTest::addColumn<int>("different");
        QTest::addColumn<bool>("isOnce");  // stored
        QTest::newRow("few") << 60000 << 9 << true;
        QTest::newRow("as many as are remembered") << 60000 << 16384 << true;
        QTest::newRow("more") << 60000 << 20000 << false;
        QTest::newRow("all") << 60000 << 60000 << false;
    }
    void remembersTexts() {
        QFETCH(int, count);
        QFETCH(int, different);
        QFETCH(bool, isOnce);
        const auto textOf = [&](int i) {
            return "text " + std::to_string(std::int64_t{i} * 7919 % different);
        };
        Column column(FieldType::Text);
        std::size_t letters = 0;
        for (int i = 0; i < count; ++i) {
            column.append(Value(textOf(i)));
            letters += textOf(i).size();
        }
        column.close();
        for (int i = 0; i < count; ++i)
            if (column.text(std::size_t(i)) != textOf(i)) QFAIL(qPrintable(QString::number(i)));
        const std::size_t bytes = column.bytes() - std::size_t(count) * 4;
        QVERIFY2((bytes < letters / 2) == isOnce || different == 16384,
                 qPrintable(QString::number(bytes)));
        if (isOnce) QVERIFY(bytes < std::size_t(different) * 24 + 10000);
    }

    // However a layer is parted, and whatever runs its parts have: together they are the layer.
    void joinsParts_data() {
        QTest::addColumn<std::vector<int>>("sizes");
        const int run = int(FeatureTable::kRun);
        const auto row = [](const char* name, std::vector<int> sizes) {
            QTest::newRow(name) << std::move(sizes);
        };
        row("one", {1000});
        row("none of any", {0, 0});
        row("of runs", {run, run, 17});
        row("a row less", {run - 1, run, 20});
        row("a row more", {run + 1, run, 20});
        row("many small", {900, 1, 0, 63, 64, 65, 3000, 0, 7});
        row("small before large", {5, 2 * run + 9});
        row("empty in between", {run, 0, run, 0});
    }
    void joinsParts() {
        QFETCH(std::vector<int>, sizes);
        std::size_t count = 0;
        for (const int size : sizes) count += std::size_t(size);
        FeatureList list = many(count);
        // Heights, measures, a wider value and an infinite place somewhere in it.
        for (std::size_t i = 0; i < count; ++i) {
            Feature& f = list.features[i];
            if (i % 701 == 11) f.geometry.z.assign(f.geometry.points.size(), double(i));
            if (i > count / 2 && i % 907 == 3)
                f.geometry.m.assign(f.geometry.points.size(), -double(i));
            if (i == count - 3) f.values[1] = std::string("many");
            if (i % 977 == 500) f.geometry = Geometry::point({INFINITY, 0});
        }
        std::vector<FeatureTableBuilder> parts;
        std::size_t next = 0;
        for (const int size : sizes) {
            parts.emplace_back(list.info);
            if (parts.size() > 1) parts.back().expectLike(parts[parts.size() - 2]);
            for (int k = 0; k < size; ++k) parts.back().add(list.features[next++]);
        }
        const FeatureTable joined = FeatureTableBuilder::finish(std::move(parts)), whole(list);
        QCOMPARE(joined.size(), whole.size());
        QCOMPARE(joined.runCount(), whole.runCount());
        QVERIFY(joined.info.fields == whole.info.fields);
        QVERIFY(joined.info.notes == whole.info.notes);
        QCOMPARE(joined.info.hasZ, whole.info.hasZ);
        QCOMPARE(joined.info.hasM, whole.info.hasM);
        QCOMPARE(joined.info.extent.xMax, whole.info.extent.xMax);
        for (std::size_t i = 0; i < whole.size(); ++i) {
            const Feature a = joined[i].toFeature(), b = whole[i].toFeature();
            // Heights of a part without any stand as NaN, which equals nothing.
            if (a.id != b.id || a.values != b.values || a.geometry.points != b.geometry.points ||
                a.geometry.parts != b.geometry.parts ||
                a.geometry.polygons != b.geometry.polygons || a.geometry.z != b.geometry.z ||
                a.geometry.m != b.geometry.m)
                QFAIL(qPrintable(QString::number(i)));
        }
    }

    // Where one piece cannot be read, that is told, and the others end.
    void tellsWhichPieceBroke() {
        class Pieces final : public TablePieces {
        public:
            std::size_t count() const override { return 40; }
            Result<void> scan(std::size_t piece, const std::function<bool(const Feature&)>& visit,
                              const Progress&) const override {
                for (int i = 0; i < 1000; ++i) {
                    if (piece == 7 && i == 500)
                        return Error{ErrorCode::IoFailure, "piece", "broke", ""};
                    if (!visit({std::int64_t(piece) * 1000 + i, Geometry::point({1, 2}), {}}))
                        return {};
                }
                ++*whole;
                return {};
            }
            std::atomic<int>* whole = nullptr;
        };
        class Parted final : public FeatureSource {
        public:
            Parted() {
                m_layers.resize(1);
                m_layers[0].count = 40'000;
            }
            std::string format() const override { return "parted"; }
            const std::vector<LayerInfo>& layers() const override { return m_layers; }
            Result<void> scan(std::size_t, const Query&, const std::function<bool(const Feature&)>&,
                              const Progress&) const override {
                return Error{ErrorCode::IoFailure, "all", "scanned", ""};
            }
            std::unique_ptr<const TablePieces> pieces(std::size_t, std::size_t,
                                                      const Progress&) const override {
                auto out = std::make_unique<Pieces>();
                out->whole = &whole;
                return out;
            }
            mutable std::atomic<int> whole{0};

        private:
            std::vector<LayerInfo> m_layers;
        };
        setThreadCount(3);
        const Parted source;
        const auto read = readAll(source, 0);
        QVERIFY(!read);
        QCOMPARE(QString::fromStdString(read.error().what), QString("piece"));
        QVERIFY(source.whole < 39);
        // A part of the layer is asked for as ever.
        Query query;
        query.limit = 5;
        QCOMPARE(readAll(source, 0, {}, query).error().why, std::string("scanned"));
        setThreadCount(0);
    }

    // A large layer is put together beside the thread that reads it; stopping either is no loss.
    void readsALargeLayer_data() {
        QTest::addColumn<int>("threads");
        QTest::newRow("one thread") << 1;
        QTest::newRow("two") << 2;
    }
    void readsALargeLayer() {
        class Listed final : public FeatureSource {
        public:
            explicit Listed(FeatureList list) : m_list(std::move(list)) {
                m_list.info.count = std::int64_t(m_list.features.size());
                m_layers = {m_list.info};
            }
            std::string format() const override { return "list"; }
            const std::vector<LayerInfo>& layers() const override { return m_layers; }
            Result<void> scan(std::size_t, const Query&,
                              const std::function<bool(const Feature&)>& visit,
                              const Progress&) const override {
                for (std::size_t i = 0; i < m_list.features.size(); ++i) {
                    if (i == breaksAt) return Error{ErrorCode::IoFailure, "list", "broke", ""};
                    if (!visit(m_list.features[i])) break;
                }
                return {};
            }
            std::size_t breaksAt = SIZE_MAX;

        private:
            FeatureList m_list;
            std::vector<LayerInfo> m_layers;
        };
        QFETCH(int, threads);
        setThreadCount(unsigned(threads));
        const FeatureList list = many(70'001);
        Listed source(list);
        const auto table = readAll(source, 0);
        QVERIFY(table);
        QCOMPARE((*table)->size(), list.features.size());
        std::size_t i = 0;
        for (const FeatureView view : **table)
            if (!(view.toFeature() == list.features[i++])) QFAIL(qPrintable(QString::number(i)));
        source.breaksAt = 30'000;
        const auto broken = readAll(source, 0);
        QVERIFY(!broken && broken.error().why == "broke");
        setThreadCount(0);
    }

    void widensAFieldToWhatComes_data() {
        QTest::addColumn<int>("declared");
        QTest::addColumn<int>("became");
        QTest::addColumn<QStringList>("texts");
        QTest::newRow("whole and real")
            << int(FieldType::Integer) << int(FieldType::Real) << QStringList{"1", "", "2.5"};
        QTest::newRow("real takes whole")
            << int(FieldType::Real) << int(FieldType::Real) << QStringList{"1", "", "2.5"};
        QTest::newRow("text takes all")
            << int(FieldType::Text) << int(FieldType::Text) << QStringList{"1", "", "2.5"};
        QTest::newRow("flags and numbers are text")
            << int(FieldType::Boolean) << int(FieldType::Text) << QStringList{"1", "", "2.5"};
    }
    void widensAFieldToWhatComes() {
        QFETCH(int, declared);
        QFETCH(int, became);
        QFETCH(QStringList, texts);
        FeatureTableBuilder builder([&] {
            LayerInfo info;
            info.fields = {{"v", static_cast<FieldType>(declared)}};
            return info;
        }());
        // Over the end of a run, so that one that is complete must widen too.
        for (std::size_t i = 0; i < FeatureTable::kRun; ++i)
            builder.add(0, {}, std::vector<Value>{std::int64_t{1}});
        builder.add(1, {}, {});
        builder.add(2, {}, std::vector<Value>{2.5});
        const FeatureTable table = builder.finish();
        QCOMPARE(int(table.info.fields[0].type), became);
        QStringList got;
        for (const std::size_t i :
             {FeatureTable::kRun - 1, FeatureTable::kRun, FeatureTable::kRun + 1})
            got << QString::fromStdString(exactText(table.value(i, 0)));
        QCOMPARE(got, texts);
    }

    void sharesColumnsWithCopiesInOtherCrss() {
        const FeatureTable table(many(5000));
        std::optional<std::size_t> lost;
        const auto moved = table.moved(
            [](std::span<Point> points) {
                for (Point& p : points) p = p.y > 59 ? kNowhere : p * 2;
            },
            lost);
        QVERIFY(moved.has_value() && lost.has_value());
        std::size_t gone = 0;
        for (std::size_t i = 0; i < table.size(); ++i) {
            QCOMPARE(moved->key(i), table.key(i));
            QCOMPARE(moved->value(i, 0), table.value(i, 0));
            const auto a = table.geometry(i), b = moved->geometry(i);
            const bool isGone =
                std::any_of(a.points.begin(), a.points.end(), [](Point p) { return p.y > 59; });
            QCOMPARE(b.isEmpty(), isGone || a.isEmpty());
            if (isGone && ++gone == 1) QCOMPARE(*lost, i);
            if (b.isEmpty()) continue;
            QCOMPARE(b.points.front(), a.points.front() * 2);
            QCOMPARE(b.parts.data(), a.parts.data());  // not copied
        }
        QVERIFY(gone > 100);
        // A copy costs nothing but the coordinates.
        const std::size_t fields[] = {2, 0};
        const FeatureTable fewer = table.withFields(fields);
        QCOMPARE(fewer.info.fields[1].name, std::string("text"));
        QCOMPARE(fewer.value(7, 1), table.value(7, 0));
        QCOMPARE(fewer.geometry(7).points.data(), table.geometry(7).points.data());
        std::stop_source stop;
        stop.request_stop();
        QCOMPARE(table.moved([](std::span<Point>) {}, lost, {stop.get_token(), {}}).error().code,
                 ErrorCode::Cancelled);
    }

    void keepsKeysThroughAFilter() {
        const FeatureTable table(many(700));
        const FeatureTable some =
            table.filtered([](const FeatureView& f) { return f.number(1) > 100; });
        QVERIFY(some.size() > 50 && some.size() < 400);
        std::size_t at = 0;
        for (const FeatureView f : some) {
            while (table.key(at) != f.id) ++at;
            QVERIFY(f.toFeature() == table[at].toFeature());
        }
    }

    void storesRepeatedTextsOnce() {
        FeatureTableBuilder few([] {
            LayerInfo info;
            info.fields = {{"kind", FieldType::Text}};
            return info;
        }());
        const std::string longText(500, 'x');
        for (int i = 0; i < 50000; ++i)
            few.add(i, {}, std::vector<Value>{longText + std::to_string(i % 4)});
        const FeatureTable table = few.finish();
        QVERIFY2(table.bytes() < 5'000'000, qPrintable(QString::number(table.bytes())));
        QCOMPARE(table.value(49999, 0), Value(longText + "3"));
    }

    void tellsValuesForPeopleAndForFiles_data() {
        QTest::addColumn<int>("which");
        QTest::addColumn<QString>("shown");
        QTest::addColumn<QString>("exact");
        QTest::newRow("missing") << 0 << QString::fromUtf8("\u2013") << "";
        QTest::newRow("yes") << 1 << "yes"
                             << "true";
        QTest::newRow("whole") << 2 << QString::fromUtf8("\u221212\u2009345") << "-12345";
        QTest::newRow("real") << 3 << "0.1"
                              << "0.1";
        QTest::newRow("text") << 4 << "Brimvoe"
                              << "Brimvoe";
        QTest::newRow("no number") << 5 << QString::fromUtf8("\u2013") << "";
    }
    void tellsValuesForPeopleAndForFiles() {
        QFETCH(int, which);
        QFETCH(QString, shown);
        QFETCH(QString, exact);
        const Value values[] = {Value(), true, std::int64_t{-12345}, 0.1, std::string("Brimvoe"),
                                kNaN};
        QCOMPARE(QString::fromStdString(displayText(values[which])), shown);
        QCOMPARE(QString::fromStdString(exactText(values[which])), exact);
        QCOMPARE(isMissing(values[which]), exact.isEmpty());
    }

    void neverTakesTextForANumber() {
        QVERIFY(std::isnan(numberOf(std::string("12"))));
        QCOMPARE(numberOf(std::int64_t{7}), 7.0);
        QVERIFY(std::isnan(numberOf(Value())));
    }

    void countsDistinctValuesInOrder() {
        const auto kinds = distinctValues(table(), 0);
        QCOMPARE(kinds.size(), std::size_t{2});
        QCOMPARE(kinds[0].text, std::string("a"));
        QCOMPARE(kinds[1].count, std::int64_t{2});
        const auto numbers = distinctValues(table(), 1);
        QCOMPARE(numbers[0].text, std::string("-1"));
        QCOMPARE(numbers[1].text, std::string("3"));
        QCOMPARE(distinctValues(table(), 0, 1).size(), std::size_t{1});
        QVERIFY(distinctValues(table(), -1).empty());
    }

    void summarisesNumbersAndTellsWhatIsMissing() {
        const NumberSummary s = summarise(table(), 2);
        QCOMPARE(s.count, std::int64_t{2});
        QCOMPARE(s.missing, std::int64_t{2});
        QCOMPARE(s.min, 0.5);
        QCOMPARE(s.max, 2.5);
        QCOMPARE(s.sum, 3.0);
        QVERIFY(std::isnan(summarise(table(), 0).min));
    }

    void knowsItsExtentAndKind() {
        const FeatureTable t = table();
        QCOMPARE(t.info.extent, (Box{-11, 61, -10, 62}));
        QCOMPARE(int(t.info.geometry), int(GeometryType::Point));
        QCOMPARE(t.fieldIndex("v"), 2);
        QCOMPARE(t.fieldIndex("nothing"), -1);
    }

    void reprojectsThereAndBack() {
        const auto there = globe::reprojected(table(), *crs::crsFromCode(3034));
        QVERIFY(there.has_value());
        QCOMPARE(there->table.info.crs->code, 3034);
        QVERIFY(there->remark(4).empty());
        const auto back = globe::reprojected(there->table, *crs::crsFromCode(4326));
        for (std::size_t i = 0; i < 4; ++i)
            QVERIFY(distance(back->table.geometry(i).points[0],
                             table().features[i].geometry.points[0]) < 1e-10);
    }

    void leavesOutWhatLiesOutside() {
        FeatureList t = table();
        t.features[2].geometry.points[0] = {170, 0};
        const auto moved = globe::reprojected(t, *crs::crsFromCode(32629));
        QVERIFY(moved.has_value());
        QCOMPARE(moved->table.size(), std::size_t{3});
        QCOMPARE(moved->outside, std::size_t{1});
        QCOMPARE(moved->remark(4),
                 std::string("1 of 4 features lies outside WGS 84 / UTM zone 29N and is left out"));
        QCOMPARE(moved->table.key(2), t.features[3].id);
        // Unless that is to be an error, or nothing would be left.
        const auto strict = globe::reprojected(t, *crs::crsFromCode(32629), {0.1, false, true});
        QVERIFY(!strict && strict.error().why.find("1 of 4") != std::string::npos);
        for (Feature& f : t.features)
            if (!f.geometry.isEmpty()) f.geometry.points[0] = {170, 0};
        QVERIFY(!globe::reprojected(t, *crs::crsFromCode(32629)));
    }

    void leavesUndeclaredCoordinatesAsTheyAre() {
        FeatureList t = table();
        t.info.crs = nullptr;
        const auto same = globe::reprojected(t, *crs::crsFromCode(32629));
        QCOMPARE(same->table.geometry(0).points[0], (Point{-10, 61}));
        QVERIFY(same->table.info.crs == nullptr);
    }
};

QTEST_APPLESS_MAIN(FeatureTest)
#include "feature_test.moc"
