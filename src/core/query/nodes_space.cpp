#include "core/geometry/relate.h"
#include "core/query/node.h"

namespace ledge::query {
namespace {
Relation relationNamed(std::string_view name) {
    for (std::size_t i = 0; i < kRelationNames.size(); ++i)
        if (kRelationNames[i] == name) return static_cast<Relation>(i);
    return Relation::Intersects;
}

class SpatialNode final : public Node {
public:
    SpatialNode(Relation relation, NodePtr a, NodePtr b)
        : Node(Kind::Boolean), m_relation(relation), m_a(std::move(a)), m_b(std::move(b)) {
        m_prepared[0] = preparedOf(m_a);
        m_prepared[1] = preparedOf(m_b);
    }
    bool isConstant() const override { return m_prepared[0] && m_prepared[1]; }
    // A shape that is the same for all rows was laid out once; boxes decide for most others.
    void values(const Batch& batch, Values& out) const override {
        Values a, b;
        m_a->values(batch, a);
        m_b->values(batch, b);
        out.reset(Kind::Boolean, batch.count);
        for (std::size_t i = 0; i < batch.count; ++i) {
            if (a.valid[i] == 0 || b.valid[i] == 0 || !batch.isWanted(i)) continue;
            out.valid[i] = 1;
            if (!boxOf(0, a, i, batch).intersects(boxOf(1, b, i, batch))) {
                out.wholes[i] = m_relation == Relation::Disjoint ? 1 : 0;
                continue;
            }
            std::optional<PreparedShape> ownA, ownB;
            const PreparedShape& first = m_prepared[0] ? *m_prepared[0] : ownA.emplace(a.shapes[i]);
            const PreparedShape& second =
                m_prepared[1] ? *m_prepared[1] : ownB.emplace(b.shapes[i]);
            out.wholes[i] = holds(m_relation, first, second) ? 1 : 0;
        }
    }

private:
    Box boxOf(std::size_t side, const Values& shapes, std::size_t i, const Batch& batch) const {
        if (m_prepared[side]) return m_prepared[side]->box();
        const bool isOwn = shapes.ownShapes.empty();
        const Box& known = batch.table.box(batch.begin + i);
        return isOwn ? known : shapes.shapes[i].box();
    }
    static std::shared_ptr<const PreparedShape> preparedOf(const NodePtr& node) {
        if (!node->isConstant()) return {};
        static const FeatureTable none;
        static const globe::GroundMeasure plane{nullptr};
        Troubles troubles;
        const std::vector<GroupResults> groups;
        Values values;
        node->values({none, 0, 1, plane, troubles, groups}, values);
        if (values.valid[0] == 0) return {};
        return std::make_shared<const PreparedShape>(values.shapes[0]);
    }

    Relation m_relation;
    NodePtr m_a, m_b;
    std::array<std::shared_ptr<const PreparedShape>, 2> m_prepared;
};
}  // namespace

NodePtr spatialNode(std::string_view name, NodePtr a, NodePtr b) {
    return std::make_shared<SpatialNode>(relationNamed(name), std::move(a), std::move(b));
}

}  // namespace ledge::query
