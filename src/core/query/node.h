#pragma once
#include <memory>
#include <span>

#include "core/query/batch.h"
#include "core/query/function_table.h"
#include "core/query/tree.h"

namespace ledge::query {

/// A bound part of a question: it knows its kind and makes its values batch by batch.
class Node {
public:
    explicit Node(Kind kind) : m_kind(kind) {}
    virtual ~Node() = default;
    Node(const Node&) = delete;
    Node& operator=(const Node&) = delete;
    Kind kind() const { return m_kind; }
    virtual void values(const Batch& batch, Values& out) const = 0;
    /// The same for every row.
    virtual bool isConstant() const { return false; }

private:
    Kind m_kind;
};
using NodePtr = std::shared_ptr<const Node>;

NodePtr constantNode(Value value, Kind kind);
NodePtr shapeNode(std::shared_ptr<const Geometry> shape);
NodePtr fieldNode(std::size_t field, Kind kind);
NodePtr ownShapeNode();
NodePtr intervalNode(NodePtr from, NodePtr to);
NodePtr arrayNode(std::vector<NodePtr> parts);

NodePtr logicNode(bool isAnd, std::vector<NodePtr> parts);
NodePtr notNode(NodePtr part);
/// Both of kinds that compare: numbers, or the same.
NodePtr comparisonNode(Tree::Op op, NodePtr a, NodePtr b);
NodePtr likeNode(NodePtr text, NodePtr pattern);
NodePtr inNode(std::vector<NodePtr> parts);
NodePtr isNullNode(NodePtr part);
NodePtr arithmeticNode(Tree::Op op, NodePtr a, NodePtr b);
NodePtr negativeNode(NodePtr part);

NodePtr callNode(const Function& function, std::vector<NodePtr> arguments);
/// `name` is that of a spatial predicate, without its "s_".
NodePtr spatialNode(std::string_view name, NodePtr a, NodePtr b);
NodePtr ifNode(Kind kind, NodePtr condition, NodePtr then, NodePtr otherwise);
NodePtr coalesceNode(Kind kind, std::vector<NodePtr> parts);
/// As values of another kind that holds them: whole numbers as real ones, days as instants.
NodePtr widened(NodePtr part, Kind kind);

/// Reads the result of the aggregate at `index` for each row's group.
NodePtr groupNode(std::size_t index, Kind kind, NodePtr group);
/// What an aggregate gathers; no node of an expression.
class AggregateNode final : public Node {
public:
    AggregateNode(std::string what, NodePtr of, NodePtr by)
        : Node(Kind::Real), name(std::move(what)), argument(std::move(of)), group(std::move(by)) {}
    void values(const Batch&, Values&) const override {}
    std::string name;
    NodePtr argument;  ///< null: rows are counted
    NodePtr group;     ///< null: all rows together
};
/// The results of an aggregate over a table. `batchOf(begin, count)` makes a batch of it.
Result<GroupResults> gathered(const AggregateNode& aggregate, const FeatureTable& table,
                              const std::function<Batch(std::size_t, std::size_t)>& batchOf,
                              const Progress& progress);

/// Rows that are answered together; runs of a table are multiples of it.
inline constexpr std::size_t kBatch = 1024;

}  // namespace ledge::query
