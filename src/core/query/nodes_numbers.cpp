#include <cmath>

#include "core/query/node.h"

namespace ledge::query {
namespace {
using Op = Tree::Op;

// Whole numbers stay whole as long as 64 bits hold them; a quotient is real.
class WholeArithmeticNode final : public Node {
public:
    WholeArithmeticNode(Op op, NodePtr a, NodePtr b)
        : Node(Kind::Integer), m_op(op), m_a(std::move(a)), m_b(std::move(b)) {}
    bool isConstant() const override { return m_a->isConstant() && m_b->isConstant(); }
    void values(const Batch& batch, Values& out) const override {
        Values a, b;
        m_a->values(batch, a);
        m_b->values(batch, b);
        out.reset(Kind::Integer, batch.count);
        for (std::size_t i = 0; i < batch.count; ++i) {
            if ((a.valid[i] & b.valid[i]) == 0 || !batch.isWanted(i)) continue;
            const char* why = apply(a.wholes[i], b.wholes[i], out.wholes[i]);
            out.valid[i] = why ? 0 : 1;
            if (why) batch.troubles.add(batch.begin + i, why);
        }
    }

private:
    // What is wrong; null when nothing is.
    const char* apply(std::int64_t a, std::int64_t b, std::int64_t& out) const {
        constexpr const char* kLarge = "the number is too large";
        switch (m_op) {
        case Op::Plus: return __builtin_add_overflow(a, b, &out) ? kLarge : nullptr;
        case Op::Minus: return __builtin_sub_overflow(a, b, &out) ? kLarge : nullptr;
        case Op::Times: return __builtin_mul_overflow(a, b, &out) ? kLarge : nullptr;
        default: break;
        }
        if (b == 0) return "division by 0";
        if (b == -1) {
            if (m_op == Op::Remainder) return out = 0, nullptr;
            return __builtin_sub_overflow(std::int64_t{0}, a, &out) ? kLarge : nullptr;
        }
        out = m_op == Op::Remainder ? a % b : a / b;
        return nullptr;
    }
    Op m_op;
    NodePtr m_a, m_b;
};

class RealArithmeticNode final : public Node {
public:
    RealArithmeticNode(Op op, NodePtr a, NodePtr b)
        : Node(Kind::Real), m_op(op), m_a(std::move(a)), m_b(std::move(b)) {}
    bool isConstant() const override { return m_a->isConstant() && m_b->isConstant(); }
    void values(const Batch& batch, Values& out) const override {
        Values b;
        m_a->values(batch, out);
        m_b->values(batch, b);
        for (std::size_t i = 0; i < batch.count; ++i) out.valid[i] &= b.valid[i];
        double* x = out.reals.data();
        const double* y = b.reals.data();
        const auto all = [&](auto f) {
            for (std::size_t i = 0; i < batch.count; ++i) x[i] = f(x[i], y[i]);
        };
        switch (m_op) {
        case Op::Plus: all([](double p, double q) { return p + q; }); break;
        case Op::Minus: all([](double p, double q) { return p - q; }); break;
        case Op::Times: all([](double p, double q) { return p * q; }); break;
        case Op::Divide: all([](double p, double q) { return p / q; }); break;
        case Op::Remainder: all([](double p, double q) { return std::fmod(p, q); }); break;
        case Op::WholeQuotient: all([](double p, double q) { return std::trunc(p / q); }); break;
        default: all([](double p, double q) { return std::pow(p, q); }); break;
        }
        for (std::size_t i = 0; i < batch.count; ++i) {
            if (out.valid[i] == 0 || std::isfinite(x[i])) continue;
            out.valid[i] = 0;
            if (!batch.isWanted(i)) continue;
            const bool isByZero = y[i] == 0 && m_op != Op::Plus && m_op != Op::Minus &&
                                  m_op != Op::Times && m_op != Op::Power;
            batch.troubles.add(batch.begin + i,
                               isByZero ? "division by 0" : "no finite number comes out");
        }
    }

private:
    Op m_op;
    NodePtr m_a, m_b;
};

class NegativeNode final : public Node {
public:
    explicit NegativeNode(NodePtr part) : Node(part->kind()), m_part(std::move(part)) {}
    bool isConstant() const override { return m_part->isConstant(); }
    void values(const Batch& batch, Values& out) const override {
        m_part->values(batch, out);
        for (double& v : out.reals) v = -v;
        for (std::int64_t& v : out.wholes)
            v = static_cast<std::int64_t>(0U - static_cast<std::uint64_t>(v));
    }

private:
    NodePtr m_part;
};

class CallNode final : public Node {
public:
    CallNode(const Function& function, std::vector<NodePtr> arguments)
        : Node(function.gives), m_function(function), m_arguments(std::move(arguments)) {}
    bool isConstant() const override {
        for (const NodePtr& one : m_arguments)
            if (!one->isConstant()) return false;
        return true;
    }
    void values(const Batch& batch, Values& out) const override {
        std::vector<Values> arguments(m_arguments.size());
        for (std::size_t k = 0; k < arguments.size(); ++k)
            m_arguments[k]->values(batch, arguments[k]);
        out.reset(kind(), batch.count);
        for (std::size_t i = 0; i < batch.count; ++i) {
            if (!batch.isWanted(i)) continue;
            bool areThere = true;
            if (!m_function.takesMissing)
                for (const Values& one : arguments) areThere = areThere && one.valid[i] != 0;
            if (!areThere) continue;
            Row row(arguments, i, batch, out);
            m_function.apply(row);
        }
    }

private:
    const Function& m_function;
    std::vector<NodePtr> m_arguments;
};

// Takes rows of one set of values into another of the same kind.
void take(const Values& from, std::size_t i, Values& to) {
    if (from.valid[i] == 0) return;
    if (to.kind == Kind::Shape) {
        if (to.ownShapes.empty()) to.ownShapes.resize(to.size());
        to.ownShapes[i] = from.shapes[i].toGeometry();
        to.shapes[i] = to.ownShapes[i];
        to.valid[i] = 1;
        return;
    }
    to.put(i, from.value(i));
}

class IfNode final : public Node {
public:
    IfNode(Kind kind, NodePtr condition, NodePtr then, NodePtr otherwise)
        : Node(kind), m_condition(std::move(condition)), m_then(std::move(then)),
          m_otherwise(std::move(otherwise)) {}
    // Each branch is asked only for the rows that take it; a missing condition takes none.
    void values(const Batch& batch, Values& out) const override {
        Values condition, branch;
        m_condition->values(batch, condition);
        out.reset(kind(), batch.count);
        for (const std::int64_t way : {1, 0}) {
            std::vector<std::uint8_t> rows(batch.count);
            bool isAny = false;
            for (std::size_t i = 0; i < batch.count; ++i) {
                rows[i] = condition.valid[i] != 0 && condition.wholes[i] == way && batch.isWanted(i)
                              ? 1
                              : 0;
                isAny = isAny || rows[i] != 0;
            }
            if (!isAny) continue;
            (way == 1 ? m_then : m_otherwise)->values(batch.only(rows), branch);
            for (std::size_t i = 0; i < batch.count; ++i)
                if (rows[i] != 0) take(branch, i, out);
        }
    }

private:
    NodePtr m_condition, m_then, m_otherwise;
};

class CoalesceNode final : public Node {
public:
    CoalesceNode(Kind kind, std::vector<NodePtr> parts) : Node(kind), m_parts(std::move(parts)) {}
    void values(const Batch& batch, Values& out) const override {
        out.reset(kind(), batch.count);
        Values part;
        for (const NodePtr& one : m_parts) {
            std::vector<std::uint8_t> rows(batch.count);
            for (std::size_t i = 0; i < batch.count; ++i)
                rows[i] = out.valid[i] == 0 && batch.isWanted(i) ? 1 : 0;
            one->values(batch.only(rows), part);
            for (std::size_t i = 0; i < batch.count; ++i)
                if (rows[i] != 0) take(part, i, out);
        }
    }

private:
    std::vector<NodePtr> m_parts;
};
}  // namespace

NodePtr arithmeticNode(Op op, NodePtr a, NodePtr b) {
    const bool areWhole = a->kind() == Kind::Integer && b->kind() == Kind::Integer;
    if (areWhole && op != Op::Divide && op != Op::Power)
        return std::make_shared<WholeArithmeticNode>(op, std::move(a), std::move(b));
    return std::make_shared<RealArithmeticNode>(op, widened(std::move(a), Kind::Real),
                                                widened(std::move(b), Kind::Real));
}
NodePtr negativeNode(NodePtr part) { return std::make_shared<NegativeNode>(std::move(part)); }
NodePtr callNode(const Function& function, std::vector<NodePtr> arguments) {
    return std::make_shared<CallNode>(function, std::move(arguments));
}
NodePtr ifNode(Kind kind, NodePtr condition, NodePtr then, NodePtr otherwise) {
    return std::make_shared<IfNode>(kind, std::move(condition), std::move(then),
                                    std::move(otherwise));
}
NodePtr coalesceNode(Kind kind, std::vector<NodePtr> parts) {
    return std::make_shared<CoalesceNode>(kind, std::move(parts));
}

}  // namespace ledge::query
