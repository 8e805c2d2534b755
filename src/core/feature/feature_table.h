#pragma once
#include <functional>
#include <iterator>
#include <map>
#include <memory>
#include <optional>
#include <vector>

#include "core/base/locator.h"
#include "core/base/progress.h"
#include "core/crs/crs.h"
#include "core/feature/column.h"
#include "core/geometry/geometry.h"

namespace ledge {

/// What a source itself calls a feature: its own key where it has one (the primary key of a table),
/// else its place in the file. It stays with the feature through filters, sorting and saving.
using FeatureKey = std::int64_t;

/// One feature on its own, as readers hand them over and small tables are made from.
struct Feature {
    FeatureKey id = 0;
    Geometry geometry;
    std::vector<Value> values;  ///< one for each field
    bool operator==(const Feature&) const = default;
};

struct LayerInfo {
    std::string name;
    GeometryType geometry = GeometryType::None;
    bool isMulti = false;
    bool hasZ = false, hasM = false;  ///< some features have heights, or measures
    std::int64_t count = 0;
    crs::CrsPtr crs;
    Box extent;
    std::vector<Field> fields;
    std::vector<std::string> notes;  ///< oddities met while reading, in words
    Reading reading;                 ///< how its text was read; empty where nothing is to choose
};

/// Features being gathered one by one, before they become a table.
struct FeatureList {
    LayerInfo info;
    std::vector<Feature> features;
};

class FeatureTable;

/// One feature of a table, borrowed from it.
struct FeatureView {
    FeatureKey id = 0;
    GeometryView geometry;
    Value value(std::size_t field) const;
    double number(std::size_t field) const;  ///< NaN where there is none
    bool isMissing(std::size_t field) const;
    /// On its own, for keeping.
    Feature toFeature() const;

    const FeatureTable* table = nullptr;
    std::size_t index = 0;
};

/// Features of one layer in memory, immutable but for what is said of the layer: columns of values
/// and one packed array of coordinates, in runs of kRun features. Copies share them; another CRS is
/// another array of coordinates over the same columns, fewer fields are fewer columns.
class FeatureTable {
public:
    static constexpr std::size_t kRun = 1 << 16;

    LayerInfo info;

    FeatureTable() = default;
    FeatureTable(
        FeatureList list);  // NOLINT(google-explicit-constructor): small tables are made so

    std::size_t size() const { return m_size; }
    bool isEmpty() const { return m_size == 0; }
    FeatureKey key(std::size_t i) const;
    GeometryView geometry(std::size_t i) const;
    /// Empty for features without geometry.
    const Box& box(std::size_t i) const;
    Value value(std::size_t i, std::size_t field) const;
    double number(std::size_t i, std::size_t field) const;
    bool isMissing(std::size_t i, std::size_t field) const;
    /// The columns as they are held: one for each run of kRun features, the last one shorter.
    std::size_t runCount() const { return m_runs.size(); }
    const Column& column(std::size_t run, std::size_t field) const {
        return *m_runs[run].columns[field];
    }
    FeatureView operator[](std::size_t i) const { return {key(i), geometry(i), this, i}; }
    int fieldIndex(const std::string& name) const;  ///< -1 when there is none

    /// With every coordinate replaced by `move`, in runs on all cores. Features that are not finite
    /// afterwards have no geometry in the result; `lost` tells the first of them. The extent is
    /// taken anew. Errors: Cancelled.
    Result<FeatureTable> moved(const std::function<void(std::span<Point>)>& move,
                               std::optional<std::size_t>& lost,
                               const Progress& progress = {}) const;
    /// With other geometries: `make` fills an empty one for each feature that has any, on all cores
    /// at once. What it leaves empty, or fills with coordinates that are no finite numbers, has no
    /// geometry in the result. Columns are shared; so is how points are divided where that stays.
    /// Errors: Cancelled.
    Result<FeatureTable>
    withGeometries(const std::function<void(std::size_t row, const GeometryView&, Geometry&)>& make,
                   const Progress& progress = {}) const;
    /// With these fields only, in this order.
    FeatureTable withFields(std::span<const std::size_t> fields) const;
    /// With other values of a field at some places. All else is shared; a value of another type
    /// widens the column.
    FeatureTable withValues(std::size_t field, const std::map<std::size_t, Value>& values) const;
    /// With one more field, without values.
    FeatureTable withField(const Field& field) const;
    /// With one more field whose values are given for each run. Their types are made the field's.
    FeatureTable withColumn(const Field& field,
                            std::vector<std::shared_ptr<const Column>> columns) const;
    /// The features at these places, in this order; places may repeat, keys then do too.
    FeatureTable atRows(std::span<const std::size_t> rows) const;
    /// Those for which `keep` holds, keys and order kept.
    FeatureTable filtered(const std::function<bool(const FeatureView&)>& keep) const;

    /// Its geometries as arrays, and a table of the same rows with those of such arrays; nothing
    /// where they are not of these rows. The extent is to be taken anew once the file is known to
    /// be whole.
    void saveShapes(class ArrayWriter& out) const;
    std::optional<FeatureTable> withSavedShapes(class ArrayReader& in) const;

    /// Whether both have the very same coordinates in memory.
    bool isSharedWith(const FeatureTable& other) const;

    /// Sets count, extent and geometry type from the features.
    void refreshInfo();
    /// Bytes of columns and coordinates, roughly; shared ones count.
    std::size_t bytes() const;

    class Iterator {
    public:
        using iterator_category = std::input_iterator_tag;
        using value_type = FeatureView;
        using difference_type = std::ptrdiff_t;
        using pointer = void;
        using reference = FeatureView;
        Iterator(const FeatureTable* table, std::size_t index) : m_table(table), m_index(index) {}
        FeatureView operator*() const { return (*m_table)[m_index]; }
        Iterator& operator++() {
            ++m_index;
            return *this;
        }
        bool operator==(const Iterator& o) const { return m_index == o.m_index; }

    private:
        const FeatureTable* m_table;
        std::size_t m_index;
    };
    Iterator begin() const { return {this, 0}; }
    Iterator end() const { return {this, m_size}; }

private:
    friend class FeatureTableBuilder;

    /// How the points of a run of features are divided among them.
    struct Layout {
        std::vector<FeatureKey> keys;
        std::vector<std::uint8_t> kinds;  ///< GeometryType and bits: multi, with Z, with M
        // Where a feature's points, parts and polygons begin; one more than there are features.
        std::vector<std::uint32_t> points, firstParts, firstPolygons;
        std::vector<std::uint32_t> parts, polygons;  ///< as in Geometry, within the feature
        // One for each point of the run as soon as one of its features has them; else empty.
        std::vector<double> z, m;
    };
    struct Places {
        std::vector<Point> points;
        std::vector<Box> boxes;
    };
    // Brings a geometry in at the end.
    static void put(Layout& layout, Places& places, FeatureKey key, const GeometryView& g);
    // The features [begin, end) of a run are put at the end of another.
    static void join(Layout& layout, Places& places, const Layout& from, const Places& of,
                     std::size_t begin, std::size_t end);
    static bool isAlike(const Layout& a, const Layout& b);
    struct Run {
        std::shared_ptr<const Layout> layout;
        std::shared_ptr<const Places> places;
        std::vector<std::shared_ptr<const Column>> columns;
    };
    const Run& run(std::size_t i) const { return m_runs[i / kRun]; }

    std::vector<Run> m_runs;
    std::size_t m_size = 0;
};
using TablePtr = std::shared_ptr<const FeatureTable>;

/// Makes a table feature by feature. Features with coordinates that are no finite numbers lose
/// their geometry and are told in the notes. Missing values may be left out at the end.
class FeatureTableBuilder {
public:
    /// `info` tells name, CRS and fields; types of fields widen to what comes.
    explicit FeatureTableBuilder(LayerInfo info);
    void add(FeatureKey key, const GeometryView& geometry, std::span<const Value> values);
    void add(const Feature& feature) { add(feature.id, feature.geometry, feature.values); }
    std::size_t size() const { return m_table.m_size + m_layout.keys.size(); }
    /// Takes memory at once for about as much as another one of the same layer holds in a run.
    void expectLike(const FeatureTableBuilder& other);
    FeatureTable finish();
    /// What several gathered of one layer, one after another.
    static FeatureTable finish(std::vector<FeatureTableBuilder> parts);

private:
    void beginRun();
    void reserveLike(const FeatureTable::Layout& layout, const FeatureTable::Places& places);
    void endRun();

    FeatureTable m_table;
    FeatureTable::Layout m_layout;
    FeatureTable::Places m_places;
    std::vector<Column> m_columns;
    std::int64_t m_bad = 0;
};

}  // namespace ledge
