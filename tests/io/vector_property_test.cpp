#include <QTemporaryDir>
#include <QTest>
#include <random>
#include <set>

#include "io/registry.h"

using namespace ledge;
using namespace ledge::io;

namespace {
// Random tables of one geometry type, as files hold them.
class Maker {
public:
    explicit Maker(unsigned seed, bool hasZ = false, bool hasM = false)
        : m_random(seed), m_hasZ(hasZ), m_hasM(hasM) {}

    FeatureTable table(GeometryType type, int count) {
        FeatureList list;
        list.info.name = "things";
        list.info.geometry = type;
        list.info.crs = *crs::crsFromCode(4326);
        list.info.fields = {{"name", FieldType::Text},
                            {"whole", FieldType::Integer},
                            {"share", FieldType::Real},
                            {"seen", FieldType::Date},
                            {"noted", FieldType::TimeStamp}};
        for (int i = 0; i < count; ++i) {
            std::vector<Value> values{text(), std::int64_t(m_random() % 2000000) - 1000000,
                                      number(-1e4, 1e4),
                                      Date{static_cast<std::int32_t>(m_random() % 40000) - 9000},
                                      TimeStamp{std::int64_t(m_random()) * 700}};
            for (Value& value : values)
                if (m_random() % 7 == 0) value = {};
            list.features.push_back({i + 1, geometry(type), std::move(values)});
            if (m_hasZ) fill(list.features.back().geometry, &Geometry::z);
            if (m_hasM) fill(list.features.back().geometry, &Geometry::m);
        }
        // A column of nothing but gaps has no type that a file could tell.
        list.features[0].values = {std::string("first"), std::int64_t{-5}, 0.1, Date{1},
                                   TimeStamp{1001}};
        return FeatureTable(std::move(list));
    }

private:
    double number(double low, double high) {
        return std::uniform_real_distribution(low, high)(m_random);
    }
    std::string text() {
        static const std::vector<std::string> words{"moor",  "Åsgård", "a,b;c", "\"said\"",
                                                    "línea", "0012",   "x",     "two words"};
        return words[m_random() % words.size()];
    }
    // Sides are shorter than half the earth: longer ones would run over the antimeridian.
    Point place() { return {number(-85, 85), number(-80, 80)}; }
    Geometry geometry(GeometryType type) {
        switch (type) {
        case GeometryType::Point: return Geometry::point(place());
        case GeometryType::Line: {
            std::vector<Point> line;
            for (std::size_t i = 2 + m_random() % 9; i > 0; --i) line.push_back(place());
            return Geometry::line(line);
        }
        default: {
            // Counter-clockwise around a middle, so that winding is as the formats want it.
            const Point middle = place();
            std::vector<Point> ring;
            const int corners = 3 + static_cast<int>(m_random() % 8);
            for (int i = 0; i < corners; ++i) {
                const double turn = 2 * 3.14159265358979 * i / corners;
                const double radius = number(0.5, 3);
                ring.push_back(
                    {middle.x + radius * std::cos(turn), middle.y + radius * std::sin(turn)});
            }
            ring.push_back(ring.front());
            return Geometry::polygon({ring});
        }
        }
    }
    // A ring ends at the height it began at. Some features have none.
    void fill(Geometry& g, std::vector<double> Geometry::*values) {
        if (m_random() % 5 == 0) return;
        for (std::size_t i = 0; i < g.points.size(); ++i)
            (g.*values).push_back(std::round(number(-500, 9000) * 8) / 8);
        if (g.type == GeometryType::Polygon) (g.*values).back() = (g.*values).front();
    }
    std::mt19937 m_random;
    bool m_hasZ, m_hasM;
};

// Rings begin anywhere and run either way round: their corners are compared as a set.
bool areAlike(const GeometryView& a, const GeometryView& b) {
    if (a.type != b.type || a.partCount() != b.partCount()) return false;
    std::vector<std::pair<double, double>> one, other;
    for (const Point p : a.points) one.emplace_back(p.x, p.y);
    for (const Point p : b.points) other.emplace_back(p.x, p.y);
    std::sort(one.begin(), one.end());
    std::sort(other.begin(), other.end());
    one.erase(std::unique(one.begin(), one.end()), one.end());
    other.erase(std::unique(other.begin(), other.end()), other.end());
    if (one.size() != other.size()) return false;
    for (std::size_t i = 0; i < one.size(); ++i)
        if (std::abs(one[i].first - other[i].first) > 1e-9 ||
            std::abs(one[i].second - other[i].second) > 1e-9)
            return false;
    return true;
}
}  // namespace

/// Random tables go through every vector format and come back the same.
class VectorPropertyTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;

private slots:
    void comesBackTheSame_data() {
        QTest::addColumn<QString>("suffix");
        QTest::addColumn<int>("type");
        for (const std::string& suffix : suffixes(Writes::Tables))
            for (const auto type : {GeometryType::Point, GeometryType::Line, GeometryType::Polygon})
                QTest::newRow(
                    qPrintable(QString("%1 %2").arg(QString::fromStdString(suffix)).arg(int(type))))
                    << QString::fromStdString(suffix) << int(type);
    }
    static bool says(const std::vector<std::string>& limits, const char* what) {
        return std::any_of(limits.begin(), limits.end(), [&](const std::string& limit) {
            return limit.find(what) != std::string::npos;
        });
    }
    // Whether a format says that it cannot hold a table; then it does not write it either.
    static bool isRefused(const FeatureTable& table, const std::filesystem::path& path) {
        if (!says(limitsOf(table, path), "no areas")) return false;
        return !writeTable(table, path, {}).has_value() && !std::filesystem::exists(path);
    }
    void comesBackTheSame() {
        QFETCH(QString, suffix);
        QFETCH(int, type);
        for (unsigned seed = 0; seed < 6; ++seed) {
            const FeatureTable table =
                Maker(seed).table(static_cast<GeometryType>(type), 1 + int(seed) * 25);
            const std::filesystem::path path =
                m_dir.filePath(QString("t%1_%2").arg(type).arg(seed) + suffix).toStdString();
            if (isRefused(table, path)) return;
            const auto written = writeTable(table, path, {});
            QVERIFY2(written.has_value(), written ? "" : written.error().text().c_str());
            const auto opened = openSource(path);
            QVERIFY2(opened.has_value(), opened ? "" : opened.error().text().c_str());
            const auto read = readAll(*std::get<FeatureSourcePtr>(*opened), 0);
            QVERIFY2(read.has_value(), read ? "" : read.error().text().c_str());
            QCOMPARE((*read)->size(), table.size());
            QVERIFY(crs::isSame((*read)->info.crs, table.info.crs));
            for (std::size_t i = 0; i < table.size(); ++i) {
                QVERIFY(areAlike((*read)->geometry(i), table.geometry(i)));
                for (std::size_t k = 0; k < table.info.fields.size(); ++k) {
                    const int field = (*read)->fieldIndex(table.info.fields[k].name);
                    QVERIFY(field >= 0);
                    const Value was = table.value(i, k);
                    const Value is = (*read)->value(i, static_cast<std::size_t>(field));
                    const QString at = QString("seed %1 row %2 field %3: %4 and %5")
                                           .arg(seed)
                                           .arg(i)
                                           .arg(k)
                                           .arg(QString::fromStdString(displayText(was)),
                                                QString::fromStdString(displayText(is)));
                    // A shapefile has no gaps in texts, and its numbers have so many digits.
                    if (isMissing(was)) {
                        QVERIFY2(isMissing(is) || exactText(is).empty(), qPrintable(at));
                    } else if (std::holds_alternative<double>(was)) {
                        const double a = numberOf(was), b = numberOf(is);
                        QVERIFY2(std::abs(a - b) <= 1e-9 * std::max(1.0, std::abs(a)),
                                 qPrintable(at));
                    } else {
                        QVERIFY2(exactText(was) == exactText(is), qPrintable(at));
                    }
                }
            }
        }
    }

    // Heights and measures come back with the points they belong to, whichever way rings run; only
    // GeoJSON has no measures.
    void keepsHeightsAndMeasures_data() {
        QTest::addColumn<QString>("suffix");
        QTest::addColumn<int>("type");
        QTest::addColumn<bool>("hasZ");
        QTest::addColumn<bool>("hasM");
        for (const std::string& suffix : suffixes(Writes::Tables)) {
            if (suffix == ".csv") continue;
            for (const auto type : {GeometryType::Point, GeometryType::Line, GeometryType::Polygon})
                for (int has = 1; has < 4; ++has)
                    QTest::newRow(qPrintable(QString("%1 %2 %3")
                                                 .arg(QString::fromStdString(suffix))
                                                 .arg(int(type))
                                                 .arg(has)))
                        << QString::fromStdString(suffix) << int(type) << ((has & 1) != 0)
                        << ((has & 2) != 0);
        }
    }
    void keepsHeightsAndMeasures() {
        QFETCH(QString, suffix);
        QFETCH(int, type);
        QFETCH(bool, hasZ);
        QFETCH(bool, hasM);
        const FeatureTable table = Maker(7, hasZ, hasM).table(static_cast<GeometryType>(type), 40);
        QCOMPARE(table.info.hasZ, hasZ);
        QCOMPARE(table.info.hasM, hasM);
        const std::filesystem::path path =
            m_dir.filePath(QString("zm%1%2%3").arg(type).arg(hasZ).arg(hasM) + suffix)
                .toStdString();
        if (isRefused(table, path)) return;
        QVERIFY(writeTable(table, path, {}).has_value());
        const auto read = readAll(*std::get<FeatureSourcePtr>(*openSource(path)), 0);
        QVERIFY(read.has_value());
        // What is lost was told.
        const bool keepsM = hasM && !says(limitsOf(table, path), "measures");
        QCOMPARE((*read)->info.hasZ, hasZ);
        QCOMPARE((*read)->info.hasM, keepsM);
        const auto sorted = [](const GeometryView& g, std::span<const double> values) {
            std::vector<std::array<double, 3>> out;
            for (std::size_t i = 0; i < g.points.size() && !values.empty(); ++i)
                out.push_back({g.points[i].x, g.points[i].y, values[i]});
            std::sort(out.begin(), out.end());
            return out;
        };
        for (std::size_t i = 0; i < table.size(); ++i) {
            const GeometryView was = table.geometry(i), is = (*read)->geometry(i);
            // A shapefile with heights has one at every point: 0 where there was none.
            if (!was.z.empty()) QVERIFY(sorted(was, was.z) == sorted(is, is.z));
            if (keepsM) QVERIFY(sorted(was, was.m) == sorted(is, is.m));
        }
        // Elsewhere, and with fewer columns, they are still there.
        std::optional<std::size_t> lost;
        const auto moved = (*read)->moved(
            [](std::span<Point> points) {
                for (Point& p : points) p.x += 1;
            },
            lost);
        QVERIFY(moved && moved->info.hasZ == hasZ);
        for (std::size_t i = 0; i < table.size(); ++i)
            QVERIFY(std::ranges::equal(moved->geometry(i).z, (*read)->geometry(i).z));
    }

    // As RFC 7946 wants it: nothing in a file runs over the antimeridian.
    void cutsGeoJsonAtTheAntimeridian() {
        FeatureList list;
        list.info.name = "islands";
        list.info.crs = *crs::crsFromCode(4326);
        list.info.geometry = GeometryType::Polygon;
        list.info.fields = {{"name", FieldType::Text}};
        const auto box = [](double west, double east) {
            return Geometry::polygon({{{west, -20}, {east, -20}, {east, -10}, {west, -10}}});
        };
        list.features = {{1, box(177, -178), {std::string("on both sides")}},
                         {2, box(190, 200), {std::string("told beyond 180")}},
                         {3, box(10, 20), {std::string("elsewhere")}}};
        const FeatureTable table(std::move(list));
        const std::filesystem::path path = m_dir.filePath("islands.geojson").toStdString();
        QVERIFY(writeTable(table, path, {}).has_value());
        const auto read = readAll(*std::get<FeatureSourcePtr>(*openSource(path)), 0);
        QVERIFY(read && (*read)->size() == 3);
        const auto spans = [&](std::size_t row) {
            QStringList out;
            const GeometryView g = (*read)->geometry(row);
            for (std::size_t k = 0; k < g.partCount(); ++k) {
                Box part;
                for (const Point p : g.part(k)) part.add(p);
                out << QString("%1 to %2").arg(part.xMin).arg(part.xMax);
            }
            out.sort();
            return out.join(", ");
        };
        QCOMPARE(spans(0), QString("-180 to -178, 177 to 180"));
        QCOMPARE(spans(1), QString("-170 to -160"));
        QCOMPARE(spans(2), QString("10 to 20"));
        QCOMPARE(exactText((*read)->value(1, 0)), std::string("told beyond 180"));
    }

    // Keys are the source's own, through a table written and read again.
    void keepsKeys_data() {
        QTest::addColumn<QString>("suffix");
        QTest::newRow("geojson") << ".geojson";
        QTest::newRow("geopackage") << ".gpkg";
    }
    void keepsKeys() {
        QFETCH(QString, suffix);
        FeatureTable table = Maker(2).table(GeometryType::Point, 30);
        table = table.filtered([](const FeatureView& f) { return f.id % 3 == 1; });
        const auto path = m_dir.filePath("keys" + suffix).toStdString();
        QVERIFY(writeTable(table, path, {}).has_value());
        const auto read = readAll(*std::get<FeatureSourcePtr>(*openSource(path)), 0);
        QVERIFY(read.has_value());
        for (std::size_t i = 0; i < table.size(); ++i) QCOMPARE((*read)->key(i), table.key(i));
    }

    // Days and instants stay what they are where the format has them, and text where it has none.
    void keepsTypes() {
        const FeatureTable table = Maker(3).table(GeometryType::Point, 30);
        const auto typeIn = [&](const char* suffix, const char* field) {
            const std::filesystem::path path =
                m_dir.filePath(QString("types") + suffix).toStdString();
            if (!writeTable(table, path, {})) return FieldType::Bytes;
            const auto opened = openSource(path);
            const auto read = readAll(*std::get<FeatureSourcePtr>(*opened), 0);
            const int at = (*read)->fieldIndex(field);
            return at < 0 ? FieldType::Bytes
                          : (*read)->info.fields[static_cast<std::size_t>(at)].type;
        };
        QVERIFY(typeIn(".gpkg", "seen") == FieldType::Date);
        QVERIFY(typeIn(".gpkg", "noted") == FieldType::TimeStamp);
        QVERIFY(typeIn(".shp", "seen") == FieldType::Date);
        QVERIFY(typeIn(".shp", "noted") == FieldType::Text);
        QVERIFY(typeIn(".geojson", "seen") == FieldType::Text);
    }
    void keepsBytesInAGeoPackage() {
        FeatureList list;
        list.info.name = "keys";
        list.info.crs = *crs::crsFromCode(4326);
        list.info.fields = {{"key", FieldType::Bytes}};
        const std::string data("\0\x01\xff key", 7);
        list.features = {{1, Geometry::point({1, 2}), {Bytes{data}}},
                         {2, Geometry::point({3, 4}), {Value{}}}};
        const std::filesystem::path path = m_dir.filePath("bytes.gpkg").toStdString();
        QVERIFY(writeTable(FeatureTable(std::move(list)), path, {}).has_value());
        const auto opened = openSource(path);
        const auto read = readAll(*std::get<FeatureSourcePtr>(*opened), 0);
        QVERIFY(read.has_value());
        QVERIFY((*read)->info.fields[0].type == FieldType::Bytes);
        QCOMPARE(std::get<Bytes>((*read)->value(0, 0)).data, data);
        QVERIFY((*read)->isMissing(1, 0));
        QCOMPARE(displayText((*read)->value(0, 0)), std::string("7 bytes"));
        QCOMPARE(exactText((*read)->value(0, 0)), std::string("0001ff206b6579"));
    }

    // Whatever is asked for is given, and nothing else.
    void answersQuestions_data() { comesBackTheSame_data(); }
    void answersQuestions() {
        QFETCH(QString, suffix);
        QFETCH(int, type);
        const FeatureTable table = Maker(77).table(static_cast<GeometryType>(type), 120);
        const std::filesystem::path path =
            m_dir.filePath(QString("q%1").arg(type) + suffix).toStdString();
        if (isRefused(table, path)) return;
        QVERIFY(writeTable(table, path, {}).has_value());
        const auto opened = openSource(path);
        QVERIFY(opened.has_value());
        const auto& source = *std::get<FeatureSourcePtr>(*opened);
        Query query;
        query.extent = {-40, -30, 60, 50};
        query.columns = {"share"};
        const auto some = readAll(source, 0, {}, query);
        QVERIFY2(some.has_value(), some ? "" : some.error().text().c_str());
        std::size_t expected = 0;
        for (std::size_t i = 0; i < table.size(); ++i)
            expected += table.box(i).intersects(query.extent) ? 1U : 0U;
        QCOMPARE((*some)->size(), expected);
        QVERIFY(expected > 5 && expected < table.size());
        QCOMPARE((*some)->info.fields.size(), std::size_t{1});
        query = {};
        query.limit = 7;
        const auto few = readAll(source, 0, {}, query);
        QVERIFY(few && (*few)->size() == 7);
        query.columns = {"no such column"};
        const auto none = readAll(source, 0, {}, query);
        QVERIFY(!none && none.error().code == ErrorCode::NotFound);
    }

    // Cut short anywhere, a file is an error in words or fewer features, never more.
    void bearsBeingCutShort_data() {
        QTest::addColumn<QString>("suffix");
        for (const std::string& suffix : suffixes(Writes::Tables))
            QTest::newRow(suffix.c_str()) << QString::fromStdString(suffix);
    }
    void bearsBeingCutShort() {
        QFETCH(QString, suffix);
        const std::filesystem::path path = m_dir.filePath("cut" + suffix).toStdString();
        QVERIFY(writeTable(Maker(5).table(GeometryType::Line, 40), path, {}).has_value());
        const auto whole = std::filesystem::file_size(path);
        int wrong = 0;
        for (int step = 19; step > 0; --step) {
            std::filesystem::resize_file(path, whole * static_cast<unsigned>(step) / 20);
            const auto opened = openSource(path);
            if (!opened) {
                ++wrong;
                QVERIFY(!opened.error().text().empty());
                continue;
            }
            const auto read = readAll(*std::get<FeatureSourcePtr>(*opened), 0);
            if (!read) {
                ++wrong;
                continue;
            }
            // What is missing is told.
            QVERIFY((*read)->size() <= 40);
            if ((*read)->size() == 40) continue;
            ++wrong;
            QVERIFY2(!(*read)->info.notes.empty(), qPrintable(QString::number(step)));
        }
        QVERIFY(wrong > 0);
    }
};

QTEST_GUILESS_MAIN(VectorPropertyTest)
#include "vector_property_test.moc"
