#pragma once
#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <variant>
#include <vector>

#include "core/base/progress.h"
#include "core/crs/crs.h"
#include "core/geometry/geometry.h"

namespace ledge {

enum class FieldType : std::uint8_t { Text, Integer, Real, Boolean };
std::string fieldTypeName(FieldType type);

/// An attribute value; monostate is missing.
using Value = std::variant<std::monostate, bool, std::int64_t, double, std::string>;
bool isMissing(const Value& value);
/// As a number where it is one; NaN otherwise. Text is not parsed.
double numberOf(const Value& value);
/// For people; "–" when missing.
std::string displayText(const Value& value);
/// For files: numbers read back exactly; empty when missing.
std::string exactText(const Value& value);

struct Field {
    std::string name;
    FieldType type = FieldType::Text;
    bool operator==(const Field&) const = default;
};

struct Feature {
    std::int64_t id = 0;
    Geometry geometry;
    std::vector<Value> values;  ///< one for each field
    bool operator==(const Feature&) const = default;
};

struct LayerInfo {
    std::string name;
    GeometryType geometry = GeometryType::None;
    bool isMulti = false;
    std::int64_t count = 0;
    crs::CrsPtr crs;
    Box extent;
    std::vector<Field> fields;
    std::vector<std::string> notes;  ///< oddities met while reading, in words
};

/// Features of one layer in memory.
struct FeatureTable {
    LayerInfo info;
    std::vector<Feature> features;

    int fieldIndex(const std::string& name) const;  ///< -1 when there is none
    /// Sets count, extent and geometry type from the features.
    void refreshInfo();
};
using TablePtr = std::shared_ptr<const FeatureTable>;

/// Vector layers of a file. Safe to call from several threads.
class FeatureSource {
public:
    virtual ~FeatureSource() = default;
    virtual std::string format() const = 0;
    virtual const std::vector<LayerInfo>& layers() const = 0;
    /// Calls `visit` for each feature of a layer whose box meets `extent` (all when empty), until
    /// it returns false. Errors: BadFormat, IoFailure, Cancelled.
    virtual Result<void> scan(std::size_t layer, const Box& extent,
                              const std::function<bool(Feature&&)>& visit,
                              const Progress& progress) const = 0;
};
using FeatureSourcePtr = std::shared_ptr<const FeatureSource>;

/// All features of a layer. Those with coordinates that are not finite lose their geometry and are
/// told in the notes.
Result<FeatureTable> readAll(const FeatureSource& source, std::size_t layer,
                             const Progress& progress = {});

}  // namespace ledge
