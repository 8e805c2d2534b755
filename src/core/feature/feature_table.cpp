#include "core/feature/feature_table.h"

#include <atomic>

#include "core/base/parallel.h"

namespace ledge {
namespace {
constexpr std::uint8_t kType = 7, kMulti = 8, kWithZ = 16, kWithM = 32;

std::uint8_t kindOf(const GeometryView& g) {
    return static_cast<std::uint8_t>(static_cast<std::uint8_t>(g.type) | (g.isMulti ? kMulti : 0) |
                                     (g.z.empty() ? 0 : kWithZ) | (g.m.empty() ? 0 : kWithM));
}

// Empty as soon as one of the points is not finite.
Box strictBox(std::span<const Point> points) {
    Box box;
    for (const Point p : points) {
        if (!p.isFinite()) return {};
        box.add(p);
    }
    return box;
}
// Brings the heights or measures of a run to the length of its points.
void follow(std::vector<double>& all, std::span<const double> added, std::size_t points) {
    if (all.empty() && added.empty()) return;
    all.resize(points - added.size(), std::nan(""));
    all.insert(all.end(), added.begin(), added.end());
}
}  // namespace

Value FeatureView::value(std::size_t field) const { return table->value(index, field); }
double FeatureView::number(std::size_t field) const { return table->number(index, field); }
bool FeatureView::isMissing(std::size_t field) const { return table->isMissing(index, field); }

Feature FeatureView::toFeature() const {
    Feature out{id, geometry.toGeometry(), {}};
    for (std::size_t k = 0; k < table->info.fields.size(); ++k) out.values.push_back(value(k));
    return out;
}

FeatureTable::FeatureTable(FeatureList list) {
    FeatureTableBuilder builder(std::move(list.info));
    for (const Feature& feature : list.features) builder.add(feature);
    *this = builder.finish();
}

FeatureKey FeatureTable::key(std::size_t i) const { return run(i).layout->keys[i % kRun]; }

GeometryView FeatureTable::geometry(std::size_t i) const {
    const Run& r = run(i);
    const std::size_t k = i % kRun;
    if (r.places->boxes[k].isEmpty()) return {};
    const Layout& l = *r.layout;
    const auto part = [k](const auto& all, const std::vector<std::uint32_t>& begins) {
        return std::span(all).subspan(begins[k], begins[k + 1] - begins[k]);
    };
    GeometryView out;
    out.type = static_cast<GeometryType>(l.kinds[k] & kType);
    out.isMulti = (l.kinds[k] & kMulti) != 0;
    out.points = part(r.places->points, l.points);
    out.parts = part(l.parts, l.firstParts);
    out.polygons = part(l.polygons, l.firstPolygons);
    if ((l.kinds[k] & kWithZ) != 0) out.z = part(l.z, l.points);
    if ((l.kinds[k] & kWithM) != 0) out.m = part(l.m, l.points);
    return out;
}

const Box& FeatureTable::box(std::size_t i) const { return run(i).places->boxes[i % kRun]; }

Value FeatureTable::value(std::size_t i, std::size_t field) const {
    return run(i).columns[field]->value(i % kRun);
}
double FeatureTable::number(std::size_t i, std::size_t field) const {
    return run(i).columns[field]->number(i % kRun);
}
bool FeatureTable::isMissing(std::size_t i, std::size_t field) const {
    return run(i).columns[field]->isMissing(i % kRun);
}

int FeatureTable::fieldIndex(const std::string& name) const {
    for (std::size_t i = 0; i < info.fields.size(); ++i)
        if (info.fields[i].name == name) return static_cast<int>(i);
    return -1;
}

Result<FeatureTable> FeatureTable::moved(const std::function<void(std::span<Point>)>& move,
                                         std::optional<std::size_t>& lost,
                                         const Progress& progress) const {
    constexpr std::size_t kPiece = 4096;  // points between looks at the stop sign
    FeatureTable out = *this;
    std::vector<std::size_t> firstLost(m_runs.size(), kRun);
    std::atomic<std::size_t> done{0};
    parallelRanges(m_runs.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t r = begin; r < end; ++r) {
            const Layout& layout = *m_runs[r].layout;
            auto places = std::make_shared<Places>();
            places->points = m_runs[r].places->points;
            const std::span<Point> points(places->points);
            for (std::size_t at = 0; at < points.size() && !progress.stopped(); at += kPiece)
                move(points.subspan(at, std::min(kPiece, points.size() - at)));
            places->boxes.resize(layout.keys.size());
            for (std::size_t k = 0; k < layout.keys.size(); ++k) {
                const Box& old = m_runs[r].places->boxes[k];
                if (old.isEmpty()) continue;
                places->boxes[k] = strictBox(
                    points.subspan(layout.points[k], layout.points[k + 1] - layout.points[k]));
                if (places->boxes[k].isEmpty() && firstLost[r] == kRun) firstLost[r] = k;
            }
            out.m_runs[r].places = std::move(places);
            progress.at(static_cast<double>(++done) / static_cast<double>(m_runs.size()));
        }
    });
    if (progress.stopped()) return cancelled(info.name);
    lost.reset();
    for (std::size_t r = 0; r < firstLost.size() && !lost; ++r)
        if (firstLost[r] < kRun) lost = r * kRun + firstLost[r];
    out.info.extent = {};
    for (const Run& r : out.m_runs)
        for (const Box& box : r.places->boxes) out.info.extent.add(box);
    return out;
}

bool FeatureTable::isSharedWith(const FeatureTable& other) const {
    if (m_runs.size() != other.m_runs.size()) return false;
    for (std::size_t r = 0; r < m_runs.size(); ++r)
        if (m_runs[r].places != other.m_runs[r].places) return false;
    return true;
}

FeatureTable FeatureTable::withFields(std::span<const std::size_t> fields) const {
    FeatureTable out = *this;
    out.info.fields.clear();
    for (const std::size_t field : fields) out.info.fields.push_back(info.fields[field]);
    for (std::size_t r = 0; r < m_runs.size(); ++r) {
        out.m_runs[r].columns.clear();
        for (const std::size_t field : fields)
            out.m_runs[r].columns.push_back(m_runs[r].columns[field]);
    }
    return out;
}

FeatureTable FeatureTable::withValues(std::size_t field,
                                      const std::map<std::size_t, Value>& values) const {
    FeatureTable out = *this;
    FieldType type = info.fields[field].type;
    for (const auto& [row, value] : values)
        if (!ledge::isMissing(value)) type = widerType(type, typeOf(value));
    out.info.fields[field].type = type;
    for (std::size_t r = 0; r < m_runs.size(); ++r) {
        const Column& old = *m_runs[r].columns[field];
        const auto first = values.lower_bound(r * kRun), last = values.lower_bound((r + 1) * kRun);
        if (first == last && old.type() == type) continue;  // shared
        Column next(type);
        auto it = first;
        for (std::size_t i = 0; i < old.size(); ++i) {
            if (it != last && it->first == r * kRun + i)
                next.append((it++)->second);
            else
                next.append(old.value(i));
        }
        next.close();
        if (next.type() != type) next = next.converted(type);
        out.m_runs[r].columns[field] = std::make_shared<const Column>(std::move(next));
    }
    return out;
}

FeatureTable FeatureTable::withField(const Field& field) const {
    FeatureTable out = *this;
    out.info.fields.push_back(field);
    for (Run& r : out.m_runs) {
        Column empty(field.type);
        for (std::size_t i = 0; i < r.layout->keys.size(); ++i) empty.append({});
        empty.close();
        r.columns.push_back(std::make_shared<const Column>(std::move(empty)));
    }
    return out;
}

FeatureTable FeatureTable::withColumn(const Field& field,
                                      std::vector<std::shared_ptr<const Column>> columns) const {
    FeatureTable out = *this;
    out.info.fields.push_back(field);
    for (std::size_t r = 0; r < out.m_runs.size(); ++r) {
        auto& column = columns[r];
        if (column->type() != field.type)
            column = std::make_shared<const Column>(column->converted(field.type));
        out.m_runs[r].columns.push_back(std::move(column));
    }
    return out;
}

FeatureTable FeatureTable::atRows(std::span<const std::size_t> rows) const {
    FeatureTableBuilder builder(info);
    std::vector<Value> values(info.fields.size());
    for (const std::size_t row : rows) {
        for (std::size_t k = 0; k < values.size(); ++k) values[k] = value(row, k);
        builder.add(key(row), geometry(row), values);
    }
    return builder.finish();
}

FeatureTable FeatureTable::filtered(const std::function<bool(const FeatureView&)>& keep) const {
    FeatureTableBuilder builder(info);
    std::vector<Value> values(info.fields.size());
    for (const FeatureView feature : *this) {
        if (!keep(feature)) continue;
        for (std::size_t k = 0; k < values.size(); ++k) values[k] = feature.value(k);
        builder.add(feature.id, feature.geometry, values);
    }
    return builder.finish();
}

void FeatureTable::refreshInfo() {
    info.count = static_cast<std::int64_t>(m_size);
    info.extent = {};
    info.hasZ = info.hasM = false;
    for (const Run& r : m_runs)
        for (std::size_t k = 0; k < r.layout->keys.size(); ++k) {
            if (r.places->boxes[k].isEmpty()) continue;
            info.extent.add(r.places->boxes[k]);
            const std::uint8_t kind = r.layout->kinds[k];
            if (info.geometry == GeometryType::None)
                info.geometry = static_cast<GeometryType>(kind & kType);
            info.isMulti = info.isMulti || (kind & kMulti) != 0;
            info.hasZ = info.hasZ || (kind & kWithZ) != 0;
            info.hasM = info.hasM || (kind & kWithM) != 0;
        }
}

std::size_t FeatureTable::bytes() const {
    std::size_t out = 0;
    for (const Run& r : m_runs) {
        const Layout& l = *r.layout;
        out += l.keys.capacity() * 8 + l.kinds.capacity() +
               4 * (l.points.capacity() + l.firstParts.capacity() + l.firstPolygons.capacity() +
                    l.parts.capacity() + l.polygons.capacity()) +
               8 * (l.z.capacity() + l.m.capacity()) + r.places->points.capacity() * sizeof(Point) +
               r.places->boxes.capacity() * sizeof(Box);
        for (const auto& column : r.columns) out += column->bytes();
    }
    return out;
}

void FeatureTable::put(Layout& layout, Places& places, FeatureKey key, const GeometryView& given) {
    const Box box = strictBox(given.points);
    const GeometryView g = box.isEmpty() ? GeometryView() : given;
    layout.keys.push_back(key);
    layout.kinds.push_back(kindOf(g));
    places.points.insert(places.points.end(), g.points.begin(), g.points.end());
    follow(layout.z, g.z, places.points.size());
    follow(layout.m, g.m, places.points.size());
    places.boxes.push_back(box);
    layout.parts.insert(layout.parts.end(), g.parts.begin(), g.parts.end());
    layout.polygons.insert(layout.polygons.end(), g.polygons.begin(), g.polygons.end());
    layout.points.push_back(static_cast<std::uint32_t>(places.points.size()));
    layout.firstParts.push_back(static_cast<std::uint32_t>(layout.parts.size()));
    layout.firstPolygons.push_back(static_cast<std::uint32_t>(layout.polygons.size()));
}

bool FeatureTable::isAlike(const Layout& a, const Layout& b) {
    return a.kinds == b.kinds && a.points == b.points && a.firstParts == b.firstParts &&
           a.firstPolygons == b.firstPolygons && a.parts == b.parts && a.polygons == b.polygons &&
           a.z == b.z && a.m == b.m;
}

Result<FeatureTable> FeatureTable::withGeometries(
    const std::function<void(std::size_t row, const GeometryView&, Geometry&)>& make,
    const Progress& progress) const {
    constexpr std::size_t kPieceBytes = std::size_t{1} << 18;
    struct Piece {
        std::size_t run, begin, end;
        Layout layout;
        Places places;
    };
    // About alike in points, so that a few large countries keep no core waiting for another.
    std::vector<Piece> pieces;
    for (std::size_t r = 0; r < m_runs.size(); ++r) {
        const Layout& l = *m_runs[r].layout;
        for (std::size_t begin = 0, end = 0; begin < l.keys.size(); begin = end) {
            while (end < l.keys.size() &&
                   (l.points[end] - l.points[begin]) * sizeof(Point) + (end - begin) * 32 <
                       kPieceBytes)
                ++end;
            end = std::max(end, begin + 1);
            pieces.push_back({r, begin, end, {}, {}});
        }
    }
    std::atomic<std::size_t> done{0};
    parallelRanges(pieces.size(), 1, [&](std::size_t first, std::size_t last) {
        Geometry image;
        for (std::size_t i = first; i < last; ++i) {
            Piece& piece = pieces[i];
            piece.layout.points = piece.layout.firstParts = piece.layout.firstPolygons = {0};
            for (std::size_t k = piece.begin; k < piece.end && !progress.stopped(); ++k) {
                const std::size_t row = piece.run * kRun + k;
                image.clear();
                if (!box(row).isEmpty()) make(row, geometry(row), image);
                put(piece.layout, piece.places, m_runs[piece.run].layout->keys[k], image);
            }
            progress.at(static_cast<double>(++done) / static_cast<double>(pieces.size()));
        }
    });
    if (progress.stopped()) return cancelled(info.name);
    FeatureTable out = *this;
    for (std::size_t i = 0; i < pieces.size();) {
        const std::size_t r = pieces[i].run;
        Layout layout = std::move(pieces[i].layout);
        Places places = std::move(pieces[i].places);
        std::size_t points = 0;
        for (std::size_t k = i; k < pieces.size() && pieces[k].run == r; ++k)
            points += k == i ? places.points.size() : pieces[k].places.points.size();
        places.points.reserve(points);
        places.boxes.reserve(m_runs[r].layout->keys.size());
        for (++i; i < pieces.size() && pieces[i].run == r; ++i) {
            join(layout, places, pieces[i].layout, pieces[i].places, 0,
                 pieces[i].layout.keys.size());
            pieces[i].layout = {};
            pieces[i].places = {};
        }
        places.points.shrink_to_fit();
        if (!isAlike(layout, *m_runs[r].layout))
            out.m_runs[r].layout = std::make_shared<const Layout>(std::move(layout));
        out.m_runs[r].places = std::make_shared<const Places>(std::move(places));
    }
    out.refreshInfo();
    return out;
}

namespace {
// Lets go of room that is not used, where it is worth copying what is.
template <typename T>
void trim(std::vector<T>& values) {
    if (values.capacity() - values.size() > values.size() / 8) values.shrink_to_fit();
}
}  // namespace

FeatureTableBuilder::FeatureTableBuilder(LayerInfo info) {
    m_table.info = std::move(info);
    beginRun();
}

void FeatureTableBuilder::beginRun() {
    m_layout = {};
    m_places = {};
    if (!m_table.m_runs.empty())
        reserveLike(*m_table.m_runs.back().layout, *m_table.m_runs.back().places);
    for (auto* begins : {&m_layout.points, &m_layout.firstParts, &m_layout.firstPolygons})
        begins->push_back(0);
    m_columns.clear();
    for (const Field& field : m_table.info.fields) m_columns.emplace_back(field.type);
}

// Growing bit by bit goes through the memory three times.
void FeatureTableBuilder::reserveLike(const FeatureTable::Layout& layout,
                                      const FeatureTable::Places& places) {
    const auto likeThat = [](auto& now, const auto& before) {
        now.reserve(before.size() + before.size() / 16);
    };
    likeThat(m_layout.keys, layout.keys);
    likeThat(m_layout.kinds, layout.kinds);
    likeThat(m_layout.points, layout.points);
    likeThat(m_layout.firstParts, layout.firstParts);
    likeThat(m_layout.firstPolygons, layout.firstPolygons);
    likeThat(m_layout.parts, layout.parts);
    likeThat(m_layout.polygons, layout.polygons);
    likeThat(m_places.points, places.points);
    likeThat(m_places.boxes, places.boxes);
}

void FeatureTableBuilder::expectLike(const FeatureTableBuilder& other) {
    if (other.m_table.m_runs.empty())
        reserveLike(other.m_layout, other.m_places);
    else
        reserveLike(*other.m_table.m_runs.back().layout, *other.m_table.m_runs.back().places);
}

void FeatureTableBuilder::add(FeatureKey key, const GeometryView& geometry,
                              std::span<const Value> values) {
    FeatureTable::put(m_layout, m_places, key, geometry);
    if (m_places.boxes.back().isEmpty() && !geometry.isEmpty()) ++m_bad;
    static const Value kNone;
    for (std::size_t k = 0; k < m_columns.size(); ++k)
        m_columns[k].append(k < values.size() ? values[k] : kNone);
    if (m_layout.keys.size() == FeatureTable::kRun) endRun();
}

void FeatureTableBuilder::endRun() {
    if (m_layout.keys.empty()) return;
    FeatureTable::Run run;
    trim(m_layout.parts);
    trim(m_layout.polygons);
    follow(m_layout.z, {}, m_places.points.size());
    follow(m_layout.m, {}, m_places.points.size());
    trim(m_layout.z);
    trim(m_layout.m);
    trim(m_places.points);
    m_table.m_size += m_layout.keys.size();
    run.layout = std::make_shared<FeatureTable::Layout>(std::move(m_layout));
    run.places = std::make_shared<FeatureTable::Places>(std::move(m_places));
    for (std::size_t k = 0; k < m_columns.size(); ++k) {
        m_columns[k].close();
        m_table.info.fields[k].type = widerType(m_table.info.fields[k].type, m_columns[k].type());
        run.columns.push_back(std::make_shared<Column>(std::move(m_columns[k])));
    }
    m_table.m_runs.push_back(std::move(run));
    beginRun();
}

FeatureTable FeatureTableBuilder::finish() {
    endRun();
    // Runs that came before a field grew wider.
    for (FeatureTable::Run& run : m_table.m_runs)
        for (std::size_t k = 0; k < run.columns.size(); ++k)
            if (run.columns[k]->type() != m_table.info.fields[k].type)
                run.columns[k] = std::make_shared<Column>(
                    run.columns[k]->converted(m_table.info.fields[k].type));
    if (m_bad > 0)
        m_table.info.notes.push_back(
            std::to_string(m_bad) +
            " features have coordinates that are no finite numbers; they keep their attributes and "
            "are not drawn");
    m_table.refreshInfo();
    return std::move(m_table);
}

}  // namespace ledge
