#include "core/raster/expression.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <limits>
#include <numbers>
#include <optional>

#include "core/query/function_table.h"
#include "core/query/tree.h"

namespace ledge {

struct Expression::Node {
    using One = double (*)(double);
    using Two = double (*)(double, double);
    enum class Kind { Constant, Band, One, Two, Choice, Missing, First, Mean };
    Kind kind = Kind::Constant;
    double value = 0;
    std::size_t band = 0;
    One one = nullptr;
    Two two = nullptr;
    std::vector<std::shared_ptr<const Node>> parts = {};
};

namespace {
using Node = Expression::Node;
using NodePtr = std::shared_ptr<const Node>;
constexpr double kNothing = std::numeric_limits<double>::quiet_NaN();

double truth(bool is) { return is ? 1.0 : 0.0; }
// Comparisons with what is missing are missing.
template <typename Compare>
double compared(double a, double b) {
    return std::isnan(a) || std::isnan(b) ? kNothing : truth(Compare()(a, b));
}
double finite(double v) { return std::isfinite(v) ? v : kNothing; }

struct OneArgument {
    const char* name;
    Node::One apply;
};
constexpr std::array<OneArgument, 14> kOne{{
    {"abs", [](double v) { return std::abs(v); }},
    {"sqrt", [](double v) { return std::sqrt(v); }},
    {"exp", [](double v) { return finite(std::exp(v)); }},
    {"ln", [](double v) { return finite(std::log(v)); }},
    {"log10", [](double v) { return finite(std::log10(v)); }},
    {"sin", [](double v) { return std::sin(v); }},
    {"cos", [](double v) { return std::cos(v); }},
    {"tan", [](double v) { return std::tan(v); }},
    {"asin", [](double v) { return std::asin(v); }},
    {"acos", [](double v) { return std::acos(v); }},
    {"atan", [](double v) { return std::atan(v); }},
    {"floor", [](double v) { return std::floor(v); }},
    {"ceil", [](double v) { return std::ceil(v); }},
    {"round", [](double v) { return std::round(v); }},
}};

double quotient(double a, double b) { return finite(a / b); }
double least(double a, double b) {
    return std::isnan(a) || std::isnan(b) ? kNothing : std::min(a, b);
}
double most(double a, double b) {
    return std::isnan(a) || std::isnan(b) ? kNothing : std::max(a, b);
}
double both(double a, double b) {
    return std::isnan(a) || std::isnan(b) ? kNothing : truth(a != 0 && b != 0);
}
double either(double a, double b) {
    return std::isnan(a) || std::isnan(b) ? kNothing : truth(a != 0 || b != 0);
}

// A tree of the language made into steps over rows of cells, where truth is a number.
class Builder {
public:
    Builder(const std::string& text, const std::vector<std::string>& names)
        : m_text(text), m_names(names), m_used(names.size(), false) {}

    Result<NodePtr> run() {
        const auto tree = query::parse(m_text);
        if (!tree) return tree.error();
        auto root = build(**tree);
        if (m_error) return *m_error;
        return root;
    }
    const std::vector<bool>& used() const { return m_used; }

private:
    using Tree = query::Tree;
    using Op = Tree::Op;

    NodePtr build(const Tree& t) {
        if (m_error) return constant(0);
        const auto part = [&](std::size_t i) { return build(*t.parts[i]); };
        switch (t.op) {
        case Op::Literal: return literal(t);
        case Op::Name: return name(t);
        case Op::Call: return call(t);
        case Op::Or:
        case Op::And: {
            NodePtr out = part(0);
            for (std::size_t i = 1; i < t.parts.size(); ++i)
                out = two(t.op == Op::Or ? either : both, out, part(i));
            return out;
        }
        case Op::Not:
            return one([](double v) { return std::isnan(v) ? v : truth(v == 0); }, part(0));
        case Op::Equal: return two(compared<std::equal_to<>>, part(0), part(1));
        case Op::NotEqual: return two(compared<std::not_equal_to<>>, part(0), part(1));
        case Op::Less: return two(compared<std::less<>>, part(0), part(1));
        case Op::LessEqual: return two(compared<std::less_equal<>>, part(0), part(1));
        case Op::Greater: return two(compared<std::greater<>>, part(0), part(1));
        case Op::GreaterEqual: return two(compared<std::greater_equal<>>, part(0), part(1));
        case Op::Between:
            return two(both, two(compared<std::greater_equal<>>, part(0), part(1)),
                       two(compared<std::less_equal<>>, part(0), part(2)));
        case Op::In: {
            NodePtr out = two(compared<std::equal_to<>>, part(0), part(1));
            for (std::size_t i = 2; i < t.parts.size(); ++i)
                out = two(either, out, two(compared<std::equal_to<>>, part(0), part(i)));
            return out;
        }
        case Op::IsNull: return several(Node::Kind::Missing, {part(0)});
        case Op::Plus: return two([](double a, double b) { return a + b; }, part(0), part(1));
        case Op::Minus: return two([](double a, double b) { return a - b; }, part(0), part(1));
        case Op::Times: return two([](double a, double b) { return a * b; }, part(0), part(1));
        case Op::Divide: return two(quotient, part(0), part(1));
        case Op::Remainder:
            return two([](double a, double b) { return finite(std::fmod(a, b)); }, part(0),
                       part(1));
        case Op::WholeQuotient:
            return two([](double a, double b) { return finite(std::trunc(a / b)); }, part(0),
                       part(1));
        case Op::Power:
            return two([](double a, double b) { return finite(std::pow(a, b)); }, part(0), part(1));
        case Op::Negative: return one([](double v) { return -v; }, part(0));
        case Op::Like:
        case Op::Shape:
        case Op::Interval:
        case Op::Array: break;
        }
        return fail(t, query::toText(t) + " is for features, not for cells",
                    "write it with numbers and bands");
    }
    NodePtr literal(const Tree& t) {
        if (isMissing(t.value)) return constant(kNothing);
        const double value = numberOf(t.value);
        if (!std::isnan(value)) return constant(value);
        return fail(t, query::toText(t) + " is no number", "cells hold numbers only");
    }
    NodePtr name(const Tree& t) {
        auto band = std::find(m_names.begin(), m_names.end(), t.name);
        if (band == m_names.end() && t.name.size() > 1 && t.name[0] == 'b' &&
            std::isdigit(static_cast<unsigned char>(t.name[1])))
            band = std::find(m_names.begin(), m_names.end(), "band" + t.name.substr(1));
        if (band != m_names.end()) {
            const auto at = static_cast<std::size_t>(band - m_names.begin());
            m_used[at] = true;
            return std::make_shared<Node>(Node{.kind = Node::Kind::Band, .band = at});
        }
        if (t.name == "pi") return constant(std::numbers::pi);
        std::string known;
        for (const std::string& n : m_names) known += (known.empty() ? "" : ", ") + n;
        return fail(t, "there is no band \"" + t.name + "\"",
                    known.empty() ? "name a band first" : "the bands are " + known);
    }
    NodePtr call(const Tree& t) {
        std::vector<NodePtr> parts;
        for (const auto& part : t.parts) parts.push_back(build(*part));
        if (m_error) return constant(0);
        const auto wants = [&](std::size_t count) {
            if (parts.size() == count) return true;
            fail(t, "\"" + t.name + "\" takes " + std::to_string(count) + " values",
                 "the list of functions is in the help");
            return false;
        };
        for (const OneArgument& f : kOne)
            if (t.name == f.name) return wants(1) ? one(f.apply, parts[0]) : constant(0);
        if (t.name == "pi") return wants(0) ? constant(std::numbers::pi) : constant(0);
        if (t.name == "atan2")
            return wants(2) ? two([](double y, double x) { return std::atan2(y, x); }, parts[0],
                                  parts[1])
                            : constant(0);
        if (t.name == "normalised_difference")
            return wants(2) ? two([](double a, double b) { return quotient(a - b, a + b); },
                                  parts[0], parts[1])
                            : constant(0);
        if (t.name == "if")
            return wants(3) ? several(Node::Kind::Choice, std::move(parts)) : constant(0);
        if (t.name == "missing")
            return wants(1) ? several(Node::Kind::Missing, std::move(parts)) : constant(0);
        const bool isLeast = t.name == "min" || t.name == "least",
                   isMost = t.name == "max" || t.name == "greatest",
                   isFirst = t.name == "first" || t.name == "coalesce", isMean = t.name == "mean";
        if (!isLeast && !isMost && !isFirst && !isMean) {
            const bool isOther = query::functionNamed(t.name) != nullptr;
            return fail(t,
                        isOther ? "\"" + t.name + "\" is for features, not for cells"
                                : "there is no function \"" + t.name + "\"",
                        "the list of functions is in the help");
        }
        if (parts.empty())
            return fail(t, "\"" + t.name + "\" takes 1 value or more",
                        "the list of functions is in the help");
        if (isFirst) return several(Node::Kind::First, std::move(parts));
        if (isMean) return several(Node::Kind::Mean, std::move(parts));
        NodePtr out = parts[0];
        for (std::size_t i = 1; i < parts.size(); ++i)
            out = two(isLeast ? least : most, out, parts[i]);
        return out;
    }

    static NodePtr constant(double value) {
        return std::make_shared<Node>(Node{.kind = Node::Kind::Constant, .value = value});
    }
    static NodePtr one(Node::One apply, NodePtr part) {
        return std::make_shared<Node>(
            Node{.kind = Node::Kind::One, .one = apply, .parts = {std::move(part)}});
    }
    static NodePtr two(Node::Two apply, NodePtr a, NodePtr b) {
        return std::make_shared<Node>(
            Node{.kind = Node::Kind::Two, .two = apply, .parts = {std::move(a), std::move(b)}});
    }
    static NodePtr several(Node::Kind kind, std::vector<NodePtr> parts) {
        return std::make_shared<Node>(Node{.kind = kind, .parts = std::move(parts)});
    }
    NodePtr fail(const Tree& t, const std::string& why, const std::string& mend) {
        if (!m_error) m_error = query::errorAt(m_text, {t.from, t.to}, why, mend);
        return constant(0);
    }

    const std::string& m_text;
    const std::vector<std::string>& m_names;
    std::vector<bool> m_used;
    std::optional<Error> m_error;
};

using Bands = std::span<const std::span<const double>>;

void evaluateNode(const Node& node, Bands bands, std::span<double> out) {
    switch (node.kind) {
    case Node::Kind::Constant: std::fill(out.begin(), out.end(), node.value); return;
    case Node::Kind::Band:
        std::copy(bands[node.band].begin(), bands[node.band].end(), out.begin());
        return;
    default: break;
    }
    evaluateNode(*node.parts[0], bands, out);
    std::vector<double> next(out.size());
    switch (node.kind) {
    case Node::Kind::One:
        for (double& v : out) v = node.one(v);
        return;
    case Node::Kind::Two:
        evaluateNode(*node.parts[1], bands, next);
        for (std::size_t i = 0; i < out.size(); ++i) out[i] = node.two(out[i], next[i]);
        return;
    case Node::Kind::Choice: {
        std::vector<double> other(out.size());
        evaluateNode(*node.parts[1], bands, next);
        evaluateNode(*node.parts[2], bands, other);
        for (std::size_t i = 0; i < out.size(); ++i)
            if (!std::isnan(out[i])) out[i] = out[i] != 0 ? next[i] : other[i];
        return;
    }
    case Node::Kind::Missing:
        for (double& v : out) v = truth(std::isnan(v));
        return;
    case Node::Kind::First:
        for (std::size_t k = 1; k < node.parts.size(); ++k) {
            evaluateNode(*node.parts[k], bands, next);
            for (std::size_t i = 0; i < out.size(); ++i)
                if (std::isnan(out[i])) out[i] = next[i];
        }
        return;
    case Node::Kind::Mean:
        for (std::size_t k = 1; k < node.parts.size(); ++k) {
            evaluateNode(*node.parts[k], bands, next);
            for (std::size_t i = 0; i < out.size(); ++i) out[i] += next[i];
        }
        for (double& v : out) v /= static_cast<double>(node.parts.size());
        return;
    default: return;
    }
}
}  // namespace

Result<Expression> Expression::parse(const std::string& text, std::vector<std::string> names) {
    Builder builder(text, names);
    auto root = builder.run();
    if (!root) return root.error();
    Expression out;
    out.m_root = *std::move(root);
    out.m_used = builder.used();
    return out;
}

void Expression::evaluate(std::span<const std::span<const double>> bands,
                          std::span<double> out) const {
    evaluateNode(*m_root, bands, out);
}

}  // namespace ledge
