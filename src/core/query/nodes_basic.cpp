#include <algorithm>

#include "core/query/node.h"

namespace ledge::query {
namespace {
class ConstantNode final : public Node {
public:
    ConstantNode(Value value, Kind kind) : Node(kind), m_value(std::move(value)) {}
    bool isConstant() const override { return true; }
    void values(const Batch& batch, Values& out) const override {
        out.reset(kind(), batch.count);
        if (isMissing(m_value)) return;
        if (const auto* text = std::get_if<std::string>(&m_value)) {
            out.texts.assign(batch.count, *text);  // which lives as long as the question
            out.valid.assign(batch.count, 1);
            return;
        }
        out.put(0, m_value);
        out.valid.assign(batch.count, 1);
        if (!out.wholes.empty()) out.wholes.assign(batch.count, std::int64_t(out.wholes[0]));
        if (!out.reals.empty()) out.reals.assign(batch.count, double(out.reals[0]));
    }

private:
    Value m_value;
};

class ShapeNode final : public Node {
public:
    explicit ShapeNode(std::shared_ptr<const Geometry> shape)
        : Node(Kind::Shape), m_shape(std::move(shape)) {}
    bool isConstant() const override { return true; }
    void values(const Batch& batch, Values& out) const override {
        out.reset(Kind::Shape, batch.count);
        out.shapes.assign(batch.count, *m_shape);
        out.valid.assign(batch.count, 1);
    }

private:
    std::shared_ptr<const Geometry> m_shape;
};

class FieldNode final : public Node {
public:
    FieldNode(std::size_t field, Kind kind) : Node(kind), m_field(field) {}
    void values(const Batch& batch, Values& out) const override {
        out.reset(kind(), batch.count);
        const std::size_t run = batch.begin / FeatureTable::kRun,
                          begin = batch.begin % FeatureTable::kRun;
        const Column& column = batch.table.column(run, m_field);
        for (std::size_t i = 0; i < batch.count; ++i)
            out.valid[i] = column.isMissing(begin + i) ? 0 : 1;
        const auto at = [&](const auto& all) {
            return all.begin() + static_cast<std::ptrdiff_t>(begin);
        };
        const auto count = static_cast<std::ptrdiff_t>(batch.count);
        switch (kind()) {
        case Kind::Real: out.reals.assign(at(column.reals()), at(column.reals()) + count); break;
        case Kind::Integer:
        case Kind::Date:
        case Kind::TimeStamp:
            out.wholes.assign(at(column.wholes()), at(column.wholes()) + count);
            break;
        case Kind::Boolean:
            out.wholes.assign(at(column.flags()), at(column.flags()) + count);
            break;
        case Kind::Text:
            for (std::size_t i = 0; i < batch.count; ++i) out.texts[i] = column.text(begin + i);
            break;
        case Kind::Nothing:
        case Kind::Interval:
        case Kind::Shape:
        case Kind::Array: break;
        }
    }

private:
    std::size_t m_field;
};

class OwnShapeNode final : public Node {
public:
    OwnShapeNode() : Node(Kind::Shape) {}
    void values(const Batch& batch, Values& out) const override {
        out.reset(Kind::Shape, batch.count);
        for (std::size_t i = 0; i < batch.count; ++i) {
            out.shapes[i] = batch.table.geometry(batch.begin + i);
            out.valid[i] = out.shapes[i].isEmpty() ? 0 : 1;
        }
    }
};

class IntervalNode final : public Node {
public:
    IntervalNode(NodePtr from, NodePtr to)
        : Node(Kind::Interval), m_from(std::move(from)), m_to(std::move(to)) {}
    bool isConstant() const override { return m_from->isConstant() && m_to->isConstant(); }
    void values(const Batch& batch, Values& out) const override {
        out.reset(Kind::Interval, batch.count);
        Values from, to;
        m_from->values(batch, from);
        m_to->values(batch, to);
        for (std::size_t i = 0; i < batch.count; ++i) {
            // An end written as ".." is open; one that is missing leaves the interval missing.
            const bool hasFrom = from.kind == Kind::Nothing || from.valid[i] != 0,
                       hasTo = to.kind == Kind::Nothing || to.valid[i] != 0;
            if (!hasFrom || !hasTo) continue;
            Span span;
            if (from.kind != Kind::Nothing) span.from = from.span(i).from;
            if (to.kind != Kind::Nothing) span.to = to.span(i).to;
            out.valid[i] = span.from <= span.to ? 1 : 0;
            out.spans[i] = span;
        }
    }

private:
    NodePtr m_from, m_to;
};

class ArrayNode final : public Node {
public:
    explicit ArrayNode(std::vector<NodePtr> parts) : Node(Kind::Array), m_parts(std::move(parts)) {}
    bool isConstant() const override {
        return std::all_of(m_parts.begin(), m_parts.end(),
                           [](const NodePtr& part) { return part->isConstant(); });
    }
    void values(const Batch& batch, Values& out) const override {
        out.reset(Kind::Array, batch.count);
        out.valid.assign(batch.count, 1);
        Values part;
        for (const NodePtr& one : m_parts) {
            one->values(batch, part);
            // A list of which a member is missing is not known.
            for (std::size_t i = 0; i < batch.count; ++i) {
                out.valid[i] &= part.valid[i];
                out.arrays[i].push_back(part.value(i));
            }
        }
    }

private:
    std::vector<NodePtr> m_parts;
};

class WidenedNode final : public Node {
public:
    WidenedNode(NodePtr part, Kind kind) : Node(kind), m_part(std::move(part)) {}
    bool isConstant() const override { return m_part->isConstant(); }
    void values(const Batch& batch, Values& out) const override {
        Values part;
        m_part->values(batch, part);
        out.reset(kind(), batch.count);
        out.valid = part.valid;
        if (part.kind == Kind::Nothing) return;
        for (std::size_t i = 0; i < batch.count; ++i)
            if (kind() == Kind::Real)
                out.reals[i] = part.number(i);
            else
                out.wholes[i] = part.span(i).from;
    }

private:
    NodePtr m_part;
};
}  // namespace

NodePtr constantNode(Value value, Kind kind) {
    return std::make_shared<ConstantNode>(std::move(value), kind);
}
NodePtr shapeNode(std::shared_ptr<const Geometry> shape) {
    return std::make_shared<ShapeNode>(std::move(shape));
}
NodePtr fieldNode(std::size_t field, Kind kind) { return std::make_shared<FieldNode>(field, kind); }
NodePtr ownShapeNode() { return std::make_shared<OwnShapeNode>(); }
NodePtr intervalNode(NodePtr from, NodePtr to) {
    return std::make_shared<IntervalNode>(std::move(from), std::move(to));
}
NodePtr arrayNode(std::vector<NodePtr> parts) {
    return std::make_shared<ArrayNode>(std::move(parts));
}
NodePtr widened(NodePtr part, Kind kind) {
    const Kind own = part->kind();
    if (own == kind) return part;
    // NULL is missing whatever its kind.
    if (own == Kind::Nothing) return constantNode({}, kind);
    return std::make_shared<WidenedNode>(std::move(part), kind);
}

}  // namespace ledge::query
