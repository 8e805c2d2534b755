#include "demo/features.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <map>
#include <queue>

#include "core/base/random.h"
#include "core/geometry/clip.h"
#include "core/geometry/measure.h"
#include "core/terrain/contours.h"
#include "demo/noise.h"

namespace ledge::demo {
namespace {

// The layers while they grow.
struct Lists {
    FeatureList coast, lochs, streams, places, paths, roads, crofts, districts, gauges;
};

FeatureList table(const std::string& name, GeometryType type, std::vector<Field> fields) {
    FeatureList out;
    out.info.name = name;
    out.info.geometry = type;
    out.info.crs = *crs::crsFromCode(32629);
    out.info.fields = std::move(fields);
    return out;
}

void add(FeatureList& table, Geometry geometry, std::vector<Value> values) {
    table.features.push_back({static_cast<std::int64_t>(table.features.size() + 1),
                              std::move(geometry), std::move(values)});
}

struct Cell {
    std::size_t r = 0, c = 0;
};

class Country {
public:
    explicit Country(const Terrain& t) : m_t(t), m_back(*t.toWorld.inverse()) {}
    Point at(double r, double c) const { return m_t.toWorld({c + 0.5, r + 0.5}); }
    Point at(Cell cell) const { return at(double(cell.r), double(cell.c)); }
    Cell cellOf(Point p) const {
        const Point q = m_back(p);
        return {clamped(q.y, m_t.heights.rows()), clamped(q.x, m_t.heights.cols())};
    }
    float height(Point p) const {
        const Cell c = cellOf(p);
        return m_t.heights(c.r, c.c);
    }
    double slope(Point p, double over) const {
        const double dx = double(height(p + Point{over, 0}) - height(p - Point{over, 0}));
        const double dy = double(height(p + Point{0, over}) - height(p - Point{0, over}));
        return std::hypot(dx, dy) / (2 * over);
    }
    const Terrain& terrain() const { return m_t; }

private:
    static std::size_t clamped(double v, std::size_t n) {
        return static_cast<std::size_t>(std::clamp(std::floor(v), 0.0, double(n - 1)));
    }
    const Terrain& m_t;
    Affine m_back;
};

// Polygons of where a grid reaches a level: rings from contours, holes put into their outer ring.
std::vector<Geometry> areasAbove(const Grid<float>& grid, const Affine& toWorld, double level,
                                 double leastArea) {
    terrain::ContourLevels one;
    one.listed = {level};
    const auto lines = terrain::contours(grid.view(), toWorld, one);
    std::vector<std::vector<Point>> outers, holes;
    if (!lines) return {};
    for (const terrain::Contour& line : *lines) {
        if (line.points.size() < 4 || line.points.front() != line.points.back()) continue;
        const double area = signedArea(line.points);
        if (std::abs(area) < leastArea) continue;
        (area > 0 ? outers : holes).push_back(line.points);
    }
    std::sort(outers.begin(), outers.end(),
              [](const auto& a, const auto& b) { return signedArea(a) > signedArea(b); });
    std::vector<Geometry> out;
    for (const auto& outer : outers) {
        std::vector<std::vector<Point>> rings{outer};
        const Geometry shell = Geometry::polygon({outer});
        for (const auto& hole : holes)
            if (isInside(shell, hole.front())) rings.push_back(hole);
        out.push_back(Geometry::polygon(rings));
    }
    return out;
}

const std::vector<std::string> kIslands{"Skerravoe",   "Grunnay",  "Lamholm", "Outer Skarf",
                                        "Little Hulm", "Tirn",     "Maaness", "Stakk",
                                        "Sulay",       "The Calf", "Ronsay"};
const std::vector<std::string> kLochs{"Tarn Hult",     "Loch Brim",   "Mirk Water", "Svartjorn",
                                      "Loch of Vinna", "Gossa Water", "Tarn Mosk",  "Loch Ulver",
                                      "Petta Water",   "Loch Anstie"};
const std::vector<std::string> kBurns{"Brim Burn", "Hult Burn",     "Red Burn",   "Skarra Water",
                                      "Moss Burn", "Vinna Burn",    "Aith Water", "Long Burn",
                                      "Mirk Burn", "Gill of Hamar", "Norra Burn", "Kettle Burn"};
const std::vector<std::string> kSettlements{"Brimvoe", "Hultavik",   "Norrasund", "Selwick",
                                            "Tarnby",  "Westerhult", "Aithness",  "Mosgarth",
                                            "Quoyra",  "Hamarsgill"};
const std::vector<std::string> kSummits{"Skerra Fell", "Hult Hamar", "Raven Stack",
                                        "Mjolla",      "The Saddle", "Grey Cairn",
                                        "Vardin",      "Brim Hamar", "Ulsta Fell"};

void makeCoast(const Country& w, Lists& out) {
    out.coast = table("coast", GeometryType::Polygon,
                      {{"name", FieldType::Text}, {"area_km2", FieldType::Real}});
    const auto islands = areasAbove(w.terrain().heights, w.terrain().toWorld, 0.0, 9000);
    for (std::size_t i = 0; i < islands.size(); ++i) {
        const double km2 = std::round(planarArea(islands[i]) / 1e4) / 100;
        add(out.coast, islands[i], {i < kIslands.size() ? Value(kIslands[i]) : Value(), km2});
    }
}

void makeLochs(const Country& w, Lists& out) {
    out.lochs = table(
        "lochs", GeometryType::Polygon,
        {{"name", FieldType::Text}, {"area_ha", FieldType::Real}, {"height_m", FieldType::Real}});
    const auto lochs = areasAbove(w.terrain().lochDepth, w.terrain().toWorld, 0.25, 14000);
    std::size_t named = 0;
    for (const Geometry& loch : lochs) {
        // Puddles in rough ground are not lochs: somewhere the water must be deep.
        float deepest = 0;
        for (const Point p : {anchorOf(loch), loch.box().centre()}) {
            const Cell c = w.cellOf(p);
            deepest = std::max(deepest, w.terrain().lochDepth(c.r, c.c));
        }
        if (deepest < 1.5F) continue;
        Geometry smooth = Geometry::polygon({smoothed(loch.part(0), 2)});
        const double ha = std::round(planarArea(smooth) / 1e3) / 10;
        const double height = std::round(10 * double(w.height(anchorOf(loch)))) / 10;
        add(out.lochs, smooth,
            {ha > 4 && named < kLochs.size() ? Value(kLochs[named++]) : Value(), ha, height});
    }
}

void makeStreams(const Country& w, const Flow& flow, Lists& out) {
    out.streams = table(
        "streams", GeometryType::Line,
        {{"name", FieldType::Text}, {"order", FieldType::Integer}, {"length_km", FieldType::Real}});
    const std::size_t C = w.terrain().heights.cols();
    const auto cells = w.terrain().heights.cells();
    const double cellArea = w.terrain().cell * w.terrain().cell;
    const double least = 0.22e6 / cellArea;
    const auto isStream = [&](std::size_t i) {
        return double(flow.area[i]) >= least && cells[i] > 0;
    };
    std::vector<std::uint8_t> inflows(cells.size(), 0), order(cells.size(), 0);
    for (std::size_t i = 0; i < cells.size(); ++i)
        if (isStream(i) && flow.receiver[i] != i && inflows[flow.receiver[i]] < 8)
            ++inflows[flow.receiver[i]];
    // Strahler order, upstream cells first.
    std::vector<std::uint8_t> highest(cells.size(), 0), twice(cells.size(), 0);
    for (std::size_t k = flow.order.size(); k-- > 0;) {
        const std::uint32_t i = flow.order[k];
        if (!isStream(i)) continue;
        order[i] = highest[i] == 0 ? 1 : static_cast<std::uint8_t>(highest[i] + (twice[i] ? 1 : 0));
        const std::uint32_t to = flow.receiver[i];
        if (order[i] > highest[to])
            highest[to] = order[i], twice[to] = 0;
        else if (order[i] == highest[to])
            twice[to] = 1;
    }
    struct Reach {
        std::vector<Point> points;
        int order;
        double area;
    };
    std::vector<Reach> reaches;
    for (std::size_t i = 0; i < cells.size(); ++i) {
        const bool isHead = isStream(i) && inflows[i] != 1;
        if (!isHead) continue;
        Reach reach{{}, order[i], double(flow.area[i])};
        std::size_t at = i;
        while (true) {
            reach.points.push_back(w.at(double(at / C), double(at % C)));
            if (!isStream(at) || flow.receiver[at] == at) break;
            if (reach.points.size() > 1 && inflows[at] != 1) break;
            reach.area = double(flow.area[at]);
            at = flow.receiver[at];
        }
        if (reach.points.size() > 4) reaches.push_back(std::move(reach));
    }
    std::sort(reaches.begin(), reaches.end(),
              [](const Reach& a, const Reach& b) { return a.area > b.area; });
    std::size_t named = 0;
    std::vector<Point> mouths;
    for (const Reach& reach : reaches) {
        const auto line = smoothed(simplified(reach.points, w.terrain().cell * 0.8), 2);
        const Geometry g = Geometry::line(line);
        const bool isApart = std::all_of(mouths.begin(), mouths.end(),
                                         [&](Point m) { return distance(m, line.back()) > 1800; });
        const bool isNamed = named < kBurns.size() && isApart && planarLength(g) > 700;
        if (isNamed) mouths.push_back(line.back());
        add(out.streams, g,
            {isNamed ? Value(kBurns[named++]) : Value(), std::int64_t{reach.order},
             std::round(planarLength(g) / 10) / 100});
    }
}

std::vector<Point> findSettlements(const Country& w, Random& random) {
    std::vector<Point> out;
    for (int tries = 0; tries < 60000 && out.size() < kSettlements.size(); ++tries) {
        const Point p{random.between(396500, 423500), random.between(6818500, 6840000)};
        const float h = w.height(p);
        if (h < 4 || h > 45 || w.slope(p, 60) > 0.16) continue;
        bool nearSea = false;
        for (int k = 0; k < 16 && !nearSea; ++k)
            nearSea = w.height(p + Point{std::cos(k * 0.3927), std::sin(k * 0.3927)} * 350) <= 0;
        const double apart = out.size() < 6 ? 3400 : 2300;
        const bool isFree =
            std::all_of(out.begin(), out.end(), [&](Point o) { return distance(o, p) > apart; });
        if (nearSea && isFree) out.push_back(p);
    }
    return out;
}

std::vector<Cell> findSummits(const Country& w) {
    const auto& z = w.terrain().heights;
    const auto reach = static_cast<std::size_t>(900 / w.terrain().cell);
    std::vector<Cell> tops;
    for (std::size_t r = reach; r + reach < z.rows(); ++r)
        for (std::size_t c = reach; c + reach < z.cols(); ++c) {
            const float h = z(r, c);
            if (h < 140) continue;
            if (z(r - 1, c) > h || z(r + 1, c) > h || z(r, c - 1) > h || z(r, c + 1) > h) continue;
            bool isTop = true;
            const std::size_t step = std::max<std::size_t>(1, reach / 24);
            for (std::size_t rr = r - reach; rr <= r + reach && isTop; rr += step)
                for (std::size_t cc = c - reach; cc <= c + reach && isTop; cc += step)
                    isTop = z(rr, cc) <= h;
            if (isTop) tops.push_back({r, c});
        }
    std::sort(tops.begin(), tops.end(), [&](Cell a, Cell b) { return z(a.r, a.c) > z(b.r, b.c); });
    std::vector<Cell> out;
    for (const Cell top : tops)
        if (out.size() < kSummits.size() && std::all_of(out.begin(), out.end(), [&](Cell o) {
                return distance(w.at(o), w.at(top)) > 1500;
            }))
            out.push_back(top);
    return out;
}

// Cheapest way on a coarse grid: walking time grows with slope (Tobler 1993), water is closed.
class Walker {
public:
    Walker(const Country& w, double step, bool isRoad) : m_w(w), m_step(step), m_isRoad(isRoad) {
        const auto& t = w.terrain();
        m_rows = static_cast<std::size_t>(double(t.heights.rows()) * t.cell / step);
        m_cols = static_cast<std::size_t>(double(t.heights.cols()) * t.cell / step);
        m_origin = t.toWorld({0, 0});
        m_heights.resize(m_rows * m_cols);
        m_wet.resize(m_rows * m_cols);
        for (std::size_t i = 0; i < m_heights.size(); ++i) {
            const Cell c = w.cellOf(position(i));
            m_heights[i] = t.heights(c.r, c.c);
            m_wet[i] = m_heights[i] <= 0.5F || t.lochDepth(c.r, c.c) > 1.0F;
        }
    }

    std::vector<Point> way(Point from, Point to) const {
        const std::size_t start = indexOf(from), goal = indexOf(to);
        std::vector<double> cost(m_heights.size(), 1e18);
        std::vector<std::uint32_t> before(m_heights.size(), UINT32_MAX);
        using Item = std::pair<double, std::uint32_t>;
        std::priority_queue<Item, std::vector<Item>, std::greater<>> open;
        cost[start] = 0;
        open.push({0, static_cast<std::uint32_t>(start)});
        while (!open.empty()) {
            const auto [spent, i] = open.top();
            open.pop();
            if (spent > cost[i]) continue;
            if (i == goal) break;
            const std::size_t r = i / m_cols, c = i % m_cols;
            for (int k = 0; k < 16; ++k) {
                constexpr int kRow[] = {-1, 1, 0, 0, -1, -1, 1, 1, -2, -2, -1, -1, 1, 1, 2, 2};
                constexpr int kCol[] = {0, 0, -1, 1, -1, 1, -1, 1, -1, 1, -2, 2, -2, 2, -1, 1};
                const std::size_t rr = r + std::size_t(kRow[k]), cc = c + std::size_t(kCol[k]);
                if (rr >= m_rows || cc >= m_cols) continue;
                const std::size_t n = rr * m_cols + cc;
                if (m_wet[n]) continue;
                const double length = m_step * std::hypot(kRow[k], kCol[k]);
                const double slope = std::abs(double(m_heights[n] - m_heights[i])) / length;
                const double pace =
                    m_isRoad ? 1 + 260 * slope * slope : std::exp(3.5 * slope) + 14 * slope * slope;
                const double next = spent + length * pace;
                if (next >= cost[n]) continue;
                cost[n] = next;
                before[n] = i;
                open.push({next, static_cast<std::uint32_t>(n)});
            }
        }
        std::vector<Point> out;
        if (before[goal] == UINT32_MAX) return out;
        for (std::size_t i = goal; i != start; i = before[i]) out.push_back(position(i));
        out.push_back(from);
        std::reverse(out.begin(), out.end());
        out.back() = to;
        return smoothed(simplified(out, m_step * 0.45), 2);
    }

private:
    Point position(std::size_t i) const {
        return {m_origin.x + (double(i % m_cols) + 0.5) * m_step,
                m_origin.y - (double(i / m_cols) + 0.5) * m_step};
    }
    std::size_t indexOf(Point p) const {
        const auto c = static_cast<std::size_t>(
            std::clamp((p.x - m_origin.x) / m_step, 0.0, double(m_cols - 1)));
        const auto r = static_cast<std::size_t>(
            std::clamp((m_origin.y - p.y) / m_step, 0.0, double(m_rows - 1)));
        return r * m_cols + c;
    }
    const Country& m_w;
    double m_step;
    bool m_isRoad;
    std::size_t m_rows = 0, m_cols = 0;
    Point m_origin;
    std::vector<float> m_heights;
    std::vector<bool> m_wet;
};

void makePlaces(const Country& w, const std::vector<Point>& towns, const std::vector<Cell>& summits,
                Random& random, Lists& out) {
    out.places = table("places", GeometryType::Point,
                       {{"name", FieldType::Text},
                        {"kind", FieldType::Text},
                        {"rank", FieldType::Integer},
                        {"height_m", FieldType::Real},
                        {"people", FieldType::Integer}});
    for (std::size_t i = 0; i < towns.size(); ++i) {
        const std::int64_t rank = i == 0 ? 3 : (i < 4 ? 2 : 1);
        const std::int64_t people = i == 0 ? 1460 : 40 + random.below(i < 4 ? 420 : 110);
        add(out.places, Geometry::point(towns[i]),
            {kSettlements[i], std::string("settlement"), rank,
             std::round(double(w.height(towns[i]))), people});
    }
    const auto names = kSummits;
    for (std::size_t i = 0; i < summits.size(); ++i)
        add(out.places, Geometry::point(w.at(summits[i])),
            {names[i], std::string("summit"), std::int64_t{i == 0 ? 2 : 1},
             std::round(double(w.height(w.at(summits[i])))), Value()});
}

void makeWays(const Country& w, const std::vector<Point>& towns, const std::vector<Cell>& summits,
              Lists& out) {
    out.paths = table("hill_paths", GeometryType::Line,
                      {{"name", FieldType::Text},
                       {"condition", FieldType::Text},
                       {"length_km", FieldType::Real},
                       {"surveyed", FieldType::Integer}});
    out.roads =
        table("roads", GeometryType::Line, {{"name", FieldType::Text}, {"class", FieldType::Text}});
    const Walker walker(w, 60, false), driver(w, 60, true);
    static const char* const kConditions[] = {"sound", "worn", "to be re-routed"};
    int count = 0;
    const auto addPath = [&](const std::string& name, const std::vector<Point>& line) {
        const Geometry g = Geometry::line(line);
        const double km = planarLength(g) / 1000;
        if (line.size() < 3 || km > 12) return;
        // What crosses steep ground is worn first.
        const auto steep =
            std::count_if(line.begin(), line.end(), [&](Point p) { return w.slope(p, 40) > 0.42; });
        const double share = static_cast<double>(steep) / static_cast<double>(line.size());
        const int state = share > 0.5 ? 2 : (share > 0.3 ? 1 : 0);
        add(out.paths, g,
            {name, std::string(kConditions[state]), std::round(km * 100) / 100,
             std::int64_t{2024 + count++ % 3}});
    };
    for (std::size_t i = 0; i < summits.size(); ++i) {
        std::vector<std::size_t> near(towns.size());
        for (std::size_t k = 0; k < near.size(); ++k) near[k] = k;
        const Point top = w.at(summits[i]);
        std::sort(near.begin(), near.end(), [&](std::size_t a, std::size_t b) {
            return distance(towns[a], top) < distance(towns[b], top);
        });
        for (std::size_t k = 0; k < std::min<std::size_t>(i < 4 ? 2 : 1, near.size()); ++k)
            addPath(kSettlements[near[k]] + " to " + kSummits[i], walker.way(towns[near[k]], top));
        if (i > 0) addPath(kSummits[i - 1] + " ridge", walker.way(w.at(summits[i - 1]), top));
    }
    for (std::size_t i = 1; i < towns.size(); ++i) {
        std::size_t best = 0;
        for (std::size_t k = 1; k < i; ++k)
            if (distance(towns[k], towns[i]) < distance(towns[best], towns[i])) best = k;
        const auto line = driver.way(towns[best], towns[i]);
        if (line.size() > 2)
            add(out.roads, Geometry::line(line),
                {kSettlements[best] + " to " + kSettlements[i],
                 std::string(i < 4 ? "main" : "minor")});
    }
}

void makeCrofts(const Country& w, const std::vector<Point>& towns, Random& random, Lists& out) {
    out.crofts = table("crofts", GeometryType::Polygon,
                       {{"croft", FieldType::Text},
                        {"township", FieldType::Text},
                        {"area_ha", FieldType::Real},
                        {"use", FieldType::Text},
                        {"sheep", FieldType::Integer}});
    static const char* const kUses[] = {"grazing", "hay", "grazing", "arable", "grazing", "fallow"};
    for (std::size_t t = 0; t < towns.size(); ++t) {
        // Long strips square to the contour, as crofts run from shore to hill.
        const double gx =
            double(w.height(towns[t] + Point{250, 0}) - w.height(towns[t] - Point{250, 0}));
        const double gy =
            double(w.height(towns[t] + Point{0, 250}) - w.height(towns[t] - Point{0, 250}));
        const double turn = std::atan2(gy, gx);
        const Point up{std::cos(turn), std::sin(turn)}, along{-up.y, up.x};
        const double width = random.between(85, 120), length = random.between(330, 430);
        int number = 0;
        for (int band = 0; band < 2; ++band)
            for (int i = -7; i <= 7; ++i) {
                const double from = -length * 0.6 + band * (length + 24);
                std::vector<Point> ring;
                bool isUsable = true;
                for (const auto& [a, u] : {std::pair{0.0, 0.0},
                                           {1.0, 0.0},
                                           {1.0, 0.5},
                                           {1.0, 1.0},
                                           {0.0, 1.0},
                                           {0.0, 0.5}}) {
                    const double bend = 0.06 * width * std::sin(i * 1.7 + a);
                    const Point p =
                        towns[t] + along * ((i + a) * width) + up * (from + u * length + bend);
                    isUsable = isUsable && w.height(p) > 2 && w.slope(p, 40) < 0.42;
                    ring.push_back(p);
                }
                if (!isUsable) continue;
                const Geometry g = Geometry::polygon({ring});
                const bool isCounted = random.below(9) != 0;
                add(out.crofts, g,
                    {std::to_string(++number) + " " + kSettlements[t], kSettlements[t],
                     std::round(planarArea(g) / 1e3) / 10, std::string(kUses[random.below(6)]),
                     isCounted ? Value(std::int64_t{random.below(46)}) : Value()});
            }
    }
}

void makeDistricts(const Country& w, const std::vector<Point>& towns, Random& random, Lists& out) {
    out.districts = table("districts", GeometryType::Polygon,
                          {{"name", FieldType::Text},
                           {"households", FieldType::Integer},
                           {"sheep", FieldType::Integer},
                           {"area_km2", FieldType::Real}});
    const auto& t = w.terrain();
    const double step = 40;
    const auto rows = static_cast<std::size_t>(double(t.heights.rows()) * t.cell / step);
    const auto cols = static_cast<std::size_t>(double(t.heights.cols()) * t.cell / step);
    const Point origin = t.toWorld({0, 0});
    const Affine toWorld{step, 0, origin.x, 0, -step, origin.y};
    const std::size_t seats = std::min<std::size_t>(7, towns.size());
    std::vector<Grid<float>> masks(seats, Grid<float>(rows, cols));
    for (std::size_t r = 0; r < rows; ++r)
        for (std::size_t c = 0; c < cols; ++c) {
            const Point p = toWorld({double(c) + 0.5, double(r) + 0.5});
            if (w.height(p) <= 0) continue;
            const Point bent = p + Point{fractalNoise(p.x / 1700, p.y / 1700, 3, 3),
                                         fractalNoise(p.x / 1700, p.y / 1700, 4, 3)} *
                                       900;
            std::size_t best = 0;
            for (std::size_t k = 1; k < seats; ++k)
                if (distance(towns[k], bent) < distance(towns[best], bent)) best = k;
            masks[best](r, c) = 1;
        }
    for (std::size_t k = 0; k < seats; ++k) {
        Geometry all;
        all.type = GeometryType::Polygon;
        all.isMulti = true;
        for (const Geometry& part : areasAbove(masks[k], toWorld, 0.5, 40000)) {
            for (std::size_t i = 0; i < part.partCount(); ++i) {
                all.beginPart(i == 0);
                all.points.insert(all.points.end(), part.part(i).begin(), part.part(i).end());
            }
        }
        if (all.isEmpty()) continue;
        const bool isCounted = k != 4;
        add(out.districts, all,
            {kSettlements[k] + " district", std::int64_t{60 + random.below(k == 0 ? 500 : 130)},
             isCounted ? Value(std::int64_t{300 + random.below(1400)}) : Value(),
             std::round(planarArea(all) / 1e4) / 100});
    }
}

void makeGauges(const Country& w, Random& random, Lists& out) {
    static const char* const kMonths[] = {"jan", "feb", "mar", "apr", "may", "jun",
                                          "jul", "aug", "sep", "oct", "nov", "dec"};
    std::vector<Field> fields{{"gauge", FieldType::Text}, {"height_m", FieldType::Real}};
    for (const char* month : kMonths)
        fields.push_back({std::string(month) + "_mm", FieldType::Real});
    fields.push_back({"year_mm", FieldType::Real});
    out.gauges = table("rain_gauges", GeometryType::Point, std::move(fields));
    constexpr double kShare[] = {0.115, 0.09,  0.085, 0.06,  0.055, 0.055,
                                 0.06,  0.075, 0.09,  0.105, 0.105, 0.105};
    std::vector<Point> taken;
    for (int tries = 0; tries < 20000 && taken.size() < 28; ++tries) {
        const Point p{random.between(397500, 422500), random.between(6819500, 6839000)};
        const float h = w.height(p);
        if (h < 4 || w.slope(p, 30) > 0.4) continue;
        if (!std::all_of(taken.begin(), taken.end(),
                         [&](Point o) { return distance(o, p) > 1250; }))
            continue;
        taken.push_back(p);
        const double year =
            1050 + 1.6 * double(h) - 0.014 * (p.x - 398000) + random.between(-60, 60);
        std::vector<Value> values{"G" + std::to_string(100 + taken.size()), std::round(double(h))};
        double sum = 0;
        for (const double share : kShare) {
            const double mm = std::round(10 * year * share * random.between(0.88, 1.12)) / 10;
            values.emplace_back(mm);
            sum += mm;
        }
        values.emplace_back(std::round(sum * 10) / 10);
        add(out.gauges, Geometry::point(p), std::move(values));
    }
}
}  // namespace

Result<Features> makeFeatures(const Terrain& terrain, const Options& options,
                              const Progress& progress) {
    Lists out;
    Random random(options.seed * 1009 + 7);
    const Country w(terrain);
    makeCoast(w, out);
    makeLochs(w, out);
    progress.at(0.2);
    const Flow flow = routeFlow(terrain.heights);
    makeStreams(w, flow, out);
    progress.at(0.4);
    if (progress.stopped()) return cancelled("demo features");
    const auto towns = findSettlements(w, random);
    const auto summits = findSummits(w);
    if (towns.size() < 4 || summits.size() < 3)
        return Error{ErrorCode::InvalidArgument, "demo", "this seed makes no habitable islands",
                     "use another seed"};
    makePlaces(w, towns, summits, random, out);
    makeWays(w, towns, summits, out);
    progress.at(0.8);
    makeCrofts(w, towns, random, out);
    makeDistricts(w, towns, random, out);
    makeGauges(w, random, out);
    progress.at(1);
    return Features{std::move(out.coast),  std::move(out.lochs),     std::move(out.streams),
                    std::move(out.places), std::move(out.paths),     std::move(out.roads),
                    std::move(out.crofts), std::move(out.districts), std::move(out.gauges)};
}

}  // namespace ledge::demo
