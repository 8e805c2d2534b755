#pragma once
#include <optional>

#include "core/query/batch.h"
#include "core/query/tree.h"

namespace ledge::query {

class Node;
using NodePtr = std::shared_ptr<const Node>;

/// What a question may be about beside the fields.
struct Setting {
    crs::CrsPtr shapesCrs = nullptr;  ///< that written shapes are in; null: the layer's own
};

/// An expression bound to the fields of a layer: names found, kinds checked. Immutable; safe from
/// several threads. It may be answered over any table whose fields begin with those it was bound
/// to, in their order.
///
/// Names are those of fields, exactly or else in any case; "geometry" (or "geom", where no field is
/// called so) is the feature's shape. Shapes that are written stand in the layer's CRS. What is
/// missing makes comparisons and arithmetic missing; AND and OR follow three-valued logic, and only
/// what is true is in an answer.
class Question {
public:
    /// Errors: InvalidArgument with the character, what was expected, and the name that was
    /// probably meant.
    static Result<Question> bind(const TreePtr& tree, const LayerInfo& layer,
                                 const std::string& text, Place* place = nullptr,
                                 const Setting& setting = {});
    /// Parsed and bound.
    static Result<Question> from(const std::string& text, const LayerInfo& layer,
                                 Place* place = nullptr, const Setting& setting = {});
    /// The same where true or false is asked for. Errors: those, and for formulas of other kinds.
    static Result<Question> condition(const std::string& text, const LayerInfo& layer,
                                      Place* place = nullptr, const Setting& setting = {});

    Kind kind() const;
    const Tree& tree() const { return *m_tree; }
    /// Places of the fields that it reads, ascending.
    const std::vector<std::size_t>& fields() const { return m_fields; }
    bool readsShapes() const { return m_readsShapes; }
    /// Whether a row's value depends on other rows.
    bool hasGroups() const { return !m_aggregates.empty(); }

private:
    friend class Answering;
    friend class Binder;
    TreePtr m_tree;
    NodePtr m_root;
    std::vector<NodePtr> m_aggregates;  ///< inner ones first
    std::vector<std::size_t> m_fields;
    bool m_readsShapes = false;
};

/// A question over one table: what depends on all rows is found once, then batches are answered.
class Answering {
public:
    /// Errors: Cancelled.
    static Result<Answering> of(const Question& question, const FeatureTable& table,
                                const Progress& progress = {});
    /// Values for rows from `begin`, which do not reach into another run of the table. `wanted` may
    /// say which of them matter.
    void values(std::size_t begin, std::size_t count, Values& out,
                std::vector<std::uint8_t> wanted = {}) const;
    /// Rows that have no value though nothing in them is missing, so far.
    const Troubles& troubles() const { return *m_troubles; }

private:
    Answering(const Question& question, const FeatureTable& table);

    const Question* m_question;
    const FeatureTable* m_table;
    std::shared_ptr<const globe::GroundMeasure> m_ground;
    std::shared_ptr<Troubles> m_troubles;
    std::vector<GroupResults> m_groups;
};

struct Rows {
    std::vector<std::size_t> rows;  ///< ascending
    std::string trouble;            ///< rows that could not be judged, in words; empty without
};
/// The rows for which a condition is true, on all cores. Errors: Cancelled.
Result<Rows> rowsWhere(const Question& condition, const FeatureTable& table,
                       const Progress& progress = {});

/// The type of a column that a formula fills. Errors: InvalidArgument for shapes, intervals, lists.
Result<FieldType> fieldTypeFor(const Question& formula);

struct ComputedColumn {
    FieldType type = FieldType::Real;
    std::vector<std::shared_ptr<const Column>> runs;  ///< as FeatureTable::withColumn takes them
    std::int64_t filled = 0;                          ///< rows that got a value
    std::string trouble;
};
/// The values of a formula for all rows, on all cores. Errors: Cancelled; those of fieldTypeFor.
Result<ComputedColumn> computed(const Question& formula, const FeatureTable& table,
                                const Progress& progress = {});
/// The values for some rows, for a preview.
Result<std::vector<Value>> valuesAt(const Question& formula, const FeatureTable& table,
                                    std::span<const std::size_t> rows,
                                    const Progress& progress = {});

}  // namespace ledge::query
