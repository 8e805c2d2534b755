#include "core/feature/edit_log.h"

#include <cmath>
#include <map>
#include <set>
#include <unordered_map>

#include "core/base/numbers.h"
#include "core/query/field_rename.h"
#include "core/query/question.h"

namespace ledge {
namespace {
constexpr std::size_t kMostNotes = 20;

// The table as it is made, edit by edit.
class Editing {
public:
    Editing(const FeatureTable& table, const Progress& progress)
        : m_table(table), m_progress(progress) {}

    void operator()(const CellEdit& e) {
        const int field = m_table.fieldIndex(e.field);
        if (field < 0) return note("there is no field \"" + e.field + "\"");
        const auto added = m_addedAt.find(e.key);
        const auto row = added == m_addedAt.end() ? rowOf(e.key) : std::optional(added->second);
        if (!row) return note("there is no feature " + std::to_string(e.key));
        Value value;
        if (e.value) {
            auto read =
                valueOf(*e.value, m_table.info.fields[static_cast<std::size_t>(field)].type);
            if (!read) return note(e.field + ": " + read.error().why);
            value = *std::move(read);
        }
        if (added == m_addedAt.end())
            m_cells[static_cast<std::size_t>(field)][*row] = std::move(value);
        else
            m_added[*row].values[static_cast<std::size_t>(field)] = std::move(value);
    }
    void operator()(const GeometryEdit& e) {
        if (!place(e.key, e.geometry)) note("there is no feature " + std::to_string(e.key));
    }
    void operator()(const RowAdded& e) {
        if (place(e.key, e.geometry)) return;
        m_addedAt[e.key] = m_added.size();
        m_added.push_back({e.key, e.geometry, std::vector<Value>(m_table.info.fields.size())});
    }
    void operator()(const RowRemoved& e) {
        if (m_addedAt.contains(e.key)) flush();
        if (!rowOf(e.key)) return;
        m_removed.insert(e.key);
        m_rows.erase(e.key);
    }
    void operator()(const ColumnAdded& e) {
        if (m_table.fieldIndex(e.field.name) >= 0) return;
        flush();
        m_table = m_table.withField(e.field);
    }
    void operator()(const ColumnRemoved& e) {
        const int field = m_table.fieldIndex(e.name);
        if (field < 0) return;
        flush();
        std::vector<std::size_t> kept;
        for (std::size_t i = 0; i < m_table.info.fields.size(); ++i)
            if (static_cast<int>(i) != field) kept.push_back(i);
        m_table = m_table.withFields(kept);
        std::erase_if(m_live, [&](const ColumnComputed& c) { return c.name == e.name; });
    }
    void operator()(const ColumnNamed& e) {
        const int field = m_table.fieldIndex(e.from);
        if (field < 0) return;
        if (m_table.fieldIndex(e.to) >= 0) return note("there is a field \"" + e.to + "\" already");
        flush();
        m_table.info.fields[static_cast<std::size_t>(field)].name = e.to;
        for (ColumnComputed& c : m_live) {
            if (c.name == e.from) c.name = e.to;
            c.formula = query::withFieldRenamed(c.formula, e.from, e.to);
        }
    }
    void operator()(const ColumnComputed& e) {
        flush();
        std::erase_if(m_live, [&](const ColumnComputed& c) { return c.name == e.name; });
        if (compute(e) && e.isLive) m_live.push_back(e);
    }

    FeatureTable finish() {
        flush();
        const std::vector<ColumnComputed> live = std::move(m_live);
        // In the order in which they were made, so that one may read another.
        for (const ColumnComputed& c : live) compute(c);
        if (m_isMoved) m_table.refreshInfo();
        m_table.info.count = static_cast<std::int64_t>(m_table.size());
        return std::move(m_table);
    }

private:
    // Whether there is a feature to give this geometry to.
    bool place(FeatureKey key, const Geometry& geometry) {
        if (const auto added = m_addedAt.find(key); added != m_addedAt.end())
            m_added[added->second].geometry = geometry;
        else if (rowOf(key))
            m_geometries[key] = geometry;
        else
            return false;
        return true;
    }
    void note(const std::string& what) {
        auto& notes = m_table.info.notes;
        if (notes.size() < kMostNotes) notes.push_back("an edit could not be done: " + what);
    }

    // Whether the column could be filled.
    bool compute(const ColumnComputed& e) {
        const auto formula = query::Question::from(e.formula, m_table.info);
        auto column = formula ? query::computed(*formula, m_table, m_progress)
                              : Result<query::ComputedColumn>(formula.error());
        if (!column) {
            if (column.error().code != ErrorCode::Cancelled)
                note(e.name + ": " + column.error().text());
            return false;
        }
        if (!column->trouble.empty() && m_table.info.notes.size() < kMostNotes)
            m_table.info.notes.push_back(e.name + ": " + column->trouble);
        const int field = m_table.fieldIndex(e.name);
        const std::set<FeatureKey> only(e.rows.begin(), e.rows.end());
        if (!only.empty()) {
            if (field < 0) m_table = m_table.withField({e.name, column->type});
            const auto at = static_cast<std::size_t>(m_table.fieldIndex(e.name));
            std::map<std::size_t, Value> values;
            for (std::size_t i = 0; i < m_table.size(); ++i)
                if (only.contains(m_table.key(i)))
                    values[i] = column->runs[i / FeatureTable::kRun]->value(i % FeatureTable::kRun);
            m_table = m_table.withValues(at, values);
            return true;
        }
        // A column that is there keeps its place.
        std::vector<std::size_t> order;
        for (std::size_t i = 0; i < m_table.info.fields.size(); ++i)
            order.push_back(static_cast<int>(i) == field ? m_table.info.fields.size() : i);
        m_table = m_table.withColumn({e.name, column->type}, std::move(column->runs));
        if (field >= 0) m_table = m_table.withFields(order);
        return true;
    }

    // Rows by key, gathered when the first is asked for.
    std::optional<std::size_t> rowOf(FeatureKey key) {
        if (m_rows.empty())
            for (std::size_t i = 0; i < m_table.size(); ++i) m_rows.emplace(m_table.key(i), i);
        const auto it = m_rows.find(key);
        return it == m_rows.end() || m_removed.contains(key) ? std::nullopt
                                                             : std::optional(it->second);
    }

    void copyTo(FeatureTableBuilder& builder, const std::set<FeatureKey>& without) const {
        std::vector<Value> values(m_table.info.fields.size());
        for (const FeatureView feature : m_table) {
            if (without.contains(feature.id)) continue;
            for (std::size_t k = 0; k < values.size(); ++k) values[k] = feature.value(k);
            const auto moved = m_geometries.find(feature.id);
            if (moved == m_geometries.end())
                builder.add(feature.id, feature.geometry, values);
            else
                builder.add(feature.id, moved->second, values);
        }
    }
    void renew(FeatureTable next) {
        m_table = std::move(next);
        m_isMoved = true;
        m_rows.clear();
        m_geometries.clear();
        m_removed.clear();
        m_added.clear();
        m_addedAt.clear();
    }
    // Cells column by column, then rows and geometries in one go.
    void flush() {
        for (const auto& [field, rows] : m_cells) m_table = m_table.withValues(field, rows);
        m_cells.clear();
        if (m_geometries.empty() && m_removed.empty() && m_added.empty()) return;
        FeatureTableBuilder builder(m_table.info);
        copyTo(builder, m_removed);
        for (const Feature& feature : m_added) builder.add(feature);
        renew(builder.finish());
    }

    FeatureTable m_table;
    const Progress& m_progress;
    std::vector<ColumnComputed> m_live;
    bool m_isMoved = false;
    std::unordered_map<FeatureKey, std::size_t> m_rows;
    std::map<std::size_t, std::map<std::size_t, Value>> m_cells;
    std::unordered_map<FeatureKey, Geometry> m_geometries;
    std::set<FeatureKey> m_removed;
    std::vector<Feature> m_added;  ///< at the end, many in one go
    std::unordered_map<FeatureKey, std::size_t> m_addedAt;
};

// Sameness of what an edit is about: which one takes the place of an earlier.
bool replaces(const TableEdit& later, const TableEdit& earlier) {
    if (later == earlier) return true;
    if (later.index() != earlier.index()) return false;
    if (const auto* cell = std::get_if<CellEdit>(&later)) {
        const auto& old = std::get<CellEdit>(earlier);
        return cell->key == old.key && cell->field == old.field;
    }
    if (const auto* geometry = std::get_if<GeometryEdit>(&later))
        return geometry->key == std::get<GeometryEdit>(earlier).key;
    if (const auto* row = std::get_if<RowAdded>(&later))
        return row->key == std::get<RowAdded>(earlier).key;
    if (const auto* column = std::get_if<ColumnComputed>(&later)) {
        const auto& old = std::get<ColumnComputed>(earlier);
        return column->name == old.name && (column->rows.empty() || column->rows == old.rows);
    }
    return false;
}

// FNV-1a over what the edits say.
class Fingerprint {
public:
    std::uint64_t value = 14695981039346656037ULL;
    void add(const void* data, std::size_t size) {
        for (std::size_t i = 0; i < size; ++i)
            value = (value ^ static_cast<const unsigned char*>(data)[i]) * 1099511628211ULL;
    }
    template <typename T>
    void number(T n) {
        add(&n, sizeof n);
    }
    void text(const std::string& s) {
        number(s.size());
        add(s.data(), s.size());
    }
    template <typename T>
    void numbers(const std::vector<T>& all) {
        number(all.size());
        for (const T one : all) number(one);
    }
    void shape(const Geometry& g) {
        number(g.type), number(g.isMulti), number(g.points.size());
        for (const Point p : g.points) number(p.x), number(p.y);
        numbers(g.parts), numbers(g.polygons), numbers(g.z), numbers(g.m);
    }
    void operator()(const CellEdit& e) {
        number(e.key);
        text(e.field);
        number(e.value.has_value());
        if (e.value) text(*e.value);
    }
    void operator()(const GeometryEdit& e) { number(e.key), shape(e.geometry); }
    void operator()(const RowAdded& e) { number(e.key), shape(e.geometry); }
    void operator()(const RowRemoved& e) { number(e.key); }
    void operator()(const ColumnAdded& e) { text(e.field.name), number(e.field.type); }
    void operator()(const ColumnRemoved& e) { text(e.name); }
    void operator()(const ColumnNamed& e) { text(e.from), text(e.to); }
    void operator()(const ColumnComputed& e) {
        text(e.name), text(e.formula), number(e.isLive), number(e.rows.size());
        for (const FeatureKey key : e.rows) number(key);
    }
};
}  // namespace

EditLog EditLog::with(TableEdit edit) const {
    EditLog out = *this;
    if (!out.edits.empty() && replaces(edit, out.edits.back()))
        out.edits.back() = std::move(edit);
    else
        out.edits.push_back(std::move(edit));
    return out;
}

std::uint64_t EditLog::fingerprint() const {
    Fingerprint out;
    for (const TableEdit& edit : edits) {
        out.number(edit.index());
        std::visit(out, edit);
    }
    return out.value;
}

Result<FeatureTable> edited(const FeatureTable& table, const EditLog& log,
                            const Progress& progress) {
    Editing editing(table, progress);
    for (const TableEdit& edit : log.edits) {
        if (progress.stopped()) return cancelled(table.info.name);
        std::visit(editing, edit);
    }
    return editing.finish();
}

Result<Value> valueOf(const std::string& text, FieldType type) {
    const auto none = [&](const char* what) {
        return Error{ErrorCode::InvalidArgument, "value", "\"" + text + "\" is no " + what, ""};
    };
    switch (type) {
    case FieldType::Text: return Value(text);
    case FieldType::Boolean:
        if (text == "yes" || text == "true") return Value(true);
        if (text == "no" || text == "false") return Value(false);
        return none("yes or no");
    case FieldType::Integer: {
        const auto number = parseNumber(text);
        if (!number || *number != std::floor(*number) || std::abs(*number) > 9e18)
            return none("whole number");
        return Value(static_cast<std::int64_t>(*number));
    }
    case FieldType::Real: {
        const auto number = parseNumber(text);
        if (!number) return none("number");
        return Value(*number);
    }
    case FieldType::Date: {
        const auto day = parseDate(text);
        if (!day) return none("date such as 2026-11-26");
        return Value(*day);
    }
    case FieldType::TimeStamp: {
        const auto time = parseTimeStamp(text);
        if (!time) return none("instant such as 2026-11-26T19:12:40Z");
        return Value(*time);
    }
    case FieldType::Bytes: return none("text for bytes, which cannot be typed");
    }
    return none("value");
}

}  // namespace ledge
