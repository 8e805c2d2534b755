#include "core/raster/expression.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <limits>
#include <numbers>
#include <optional>

#include "core/base/numbers.h"

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

class Parser {
public:
    Parser(const std::string& text, const std::vector<std::string>& names)
        : m_text(text), m_names(names), m_used(names.size(), false) {}

    Result<NodePtr> run() {
        auto root = parseOr();
        skipBlanks();
        if (!m_error && m_at < m_text.size()) fail("something is left over");
        if (m_error) return *m_error;
        return root;
    }
    const std::vector<bool>& used() const { return m_used; }

private:
    static constexpr int kDeepest = 200;

    NodePtr parseOr() {
        auto left = parseAnd();
        while (!m_error && takeWord("or")) left = two(either, left, parseAnd());
        return left;
    }
    NodePtr parseAnd() {
        auto left = parseNot();
        while (!m_error && takeWord("and")) left = two(both, left, parseNot());
        return left;
    }
    NodePtr parseNot() {
        if (!takeWord("not")) return parseComparison();
        return one([](double v) { return std::isnan(v) ? v : truth(v == 0); }, parseNot());
    }
    NodePtr parseComparison() {
        auto left = parseSum();
        static constexpr std::pair<const char*, Node::Two> kSigns[] = {
            {"<=", compared<std::less_equal<>>},   {">=", compared<std::greater_equal<>>},
            {"<>", compared<std::not_equal_to<>>}, {"<", compared<std::less<>>},
            {">", compared<std::greater<>>},       {"=", compared<std::equal_to<>>}};
        for (const auto& [sign, apply] : kSigns)
            if (!m_error && take(sign)) return two(apply, left, parseSum());
        return left;
    }
    NodePtr parseSum() {
        auto left = parseTerm();
        while (!m_error) {
            if (take("+"))
                left = two([](double a, double b) { return a + b; }, left, parseTerm());
            else if (take("-"))
                left = two([](double a, double b) { return a - b; }, left, parseTerm());
            else
                break;
        }
        return left;
    }
    NodePtr parseTerm() {
        auto left = parseSign();
        while (!m_error) {
            if (take("*"))
                left = two([](double a, double b) { return a * b; }, left, parseSign());
            else if (take("/"))
                left = two(quotient, left, parseSign());
            else
                break;
        }
        return left;
    }
    NodePtr parseSign() {
        if (++m_depth > kDeepest) return fail("it is nested too deeply");
        NodePtr out;
        if (take("-"))
            out = one([](double v) { return -v; }, parseSign());
        else if (take("+"))
            out = parseSign();
        else
            out = parsePower();
        --m_depth;
        return out;
    }
    NodePtr parsePower() {
        auto base = parsePrimary();
        if (m_error || !take("^")) return base;
        return two([](double a, double b) { return finite(std::pow(a, b)); }, base, parseSign());
    }
    NodePtr parsePrimary() {
        skipBlanks();
        if (m_at >= m_text.size()) return fail("it ends where a value should follow");
        if (take("(")) {
            if (++m_depth > kDeepest) return fail("it is nested too deeply");
            auto inner = parseOr();
            --m_depth;
            if (!m_error && !take(")")) return fail("a parenthesis is not closed");
            return inner;
        }
        const char c = m_text[m_at];
        if (std::isdigit(static_cast<unsigned char>(c)) || c == '.') return parseNumeral();
        if (isNameStart(c)) return parseName();
        return fail(std::string("\"") + c + "\" cannot stand here");
    }
    NodePtr parseNumeral() {
        std::size_t end = m_at;
        const auto digits = [&] {
            while (end < m_text.size() && std::isdigit(static_cast<unsigned char>(m_text[end])))
                ++end;
        };
        digits();
        if (end < m_text.size() && m_text[end] == '.') ++end, digits();
        if (end < m_text.size() && (m_text[end] == 'e' || m_text[end] == 'E')) {
            ++end;
            if (end < m_text.size() && (m_text[end] == '+' || m_text[end] == '-')) ++end;
            digits();
        }
        const auto value = parseNumber(m_text.substr(m_at, end - m_at));
        if (!value) return fail("\"" + m_text.substr(m_at, end - m_at) + "\" is no number");
        m_at = end;
        return constant(*value);
    }
    NodePtr parseName() {
        const std::size_t start = m_at;
        while (m_at < m_text.size() && isNamePart(m_text[m_at])) ++m_at;
        const std::string name = m_text.substr(start, m_at - start);
        skipBlanks();
        if (m_at < m_text.size() && m_text[m_at] == '(') return parseCall(name, start);
        auto band = std::find(m_names.begin(), m_names.end(), name);
        if (band == m_names.end() && name.size() > 1 && name[0] == 'b' &&
            std::isdigit(static_cast<unsigned char>(name[1])))
            band = std::find(m_names.begin(), m_names.end(), "band" + name.substr(1));
        if (band != m_names.end()) {
            const auto at = static_cast<std::size_t>(band - m_names.begin());
            m_used[at] = true;
            return std::make_shared<Node>(Node{.kind = Node::Kind::Band, .band = at});
        }
        if (name == "pi") return constant(std::numbers::pi);
        if (name == "nodata") return constant(kNothing);
        m_at = start;
        std::string known;
        for (const std::string& n : m_names) known += (known.empty() ? "" : ", ") + n;
        return fail("there is no band \"" + name + "\"",
                    known.empty() ? "name a band first" : "the bands are " + known);
    }
    NodePtr parseCall(const std::string& name, std::size_t start) {
        if (++m_depth > kDeepest) return fail("it is nested too deeply");
        take("(");
        std::vector<NodePtr> parts;
        do {
            parts.push_back(parseOr());
        } while (!m_error && take(","));
        --m_depth;
        if (m_error) return {};
        if (!take(")")) return fail("the list of \"" + name + "\" is not closed");
        const auto wants = [&](std::size_t count) {
            if (parts.size() == count) return true;
            m_at = start;
            fail("\"" + name + "\" takes " + std::to_string(count) + " values");
            return false;
        };
        for (const OneArgument& f : kOne)
            if (name == f.name) return wants(1) ? one(f.apply, parts[0]) : NodePtr();
        if (name == "atan2")
            return wants(2) ? two([](double y, double x) { return std::atan2(y, x); }, parts[0],
                                  parts[1])
                            : NodePtr();
        if (name == "normalised_difference")
            return wants(2) ? two([](double a, double b) { return quotient(a - b, a + b); },
                                  parts[0], parts[1])
                            : NodePtr();
        if (name == "if") return wants(3) ? several(Node::Kind::Choice, parts) : NodePtr();
        if (name == "missing") return wants(1) ? several(Node::Kind::Missing, parts) : NodePtr();
        if (name == "first") return several(Node::Kind::First, parts);
        if (name == "mean") return several(Node::Kind::Mean, parts);
        if (name == "min" || name == "max") {
            NodePtr out = parts[0];
            for (std::size_t i = 1; i < parts.size(); ++i)
                out = two(name == "min" ? least : most, out, parts[i]);
            return out;
        }
        m_at = start;
        return fail("there is no function \"" + name + "\"");
    }

    static bool isNameStart(char c) {
        return std::isalpha(static_cast<unsigned char>(c)) || c == '_';
    }
    static bool isNamePart(char c) {
        return isNameStart(c) || std::isdigit(static_cast<unsigned char>(c));
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
    NodePtr fail(const std::string& why, const std::string& mend = "see the list of functions in "
                                                                   "the help") {
        if (!m_error)
            m_error = Error{
                ErrorCode::InvalidArgument, "expression",
                why + " at character " + std::to_string(m_at + 1) + " of \"" + m_text + "\"", mend};
        return constant(0);
    }
    void skipBlanks() {
        while (m_at < m_text.size() && std::isspace(static_cast<unsigned char>(m_text[m_at])))
            ++m_at;
    }
    bool take(std::string_view sign) {
        skipBlanks();
        if (m_text.compare(m_at, sign.size(), sign) != 0) return false;
        m_at += sign.size();
        return true;
    }
    bool takeWord(std::string_view word) {
        skipBlanks();
        if (m_text.compare(m_at, word.size(), word) != 0) return false;
        const std::size_t end = m_at + word.size();
        if (end < m_text.size() && isNamePart(m_text[end])) return false;
        m_at = end;
        return true;
    }

    const std::string& m_text;
    const std::vector<std::string>& m_names;
    std::vector<bool> m_used;
    std::size_t m_at = 0;
    int m_depth = 0;
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
    Parser parser(text, names);
    auto root = parser.run();
    if (!root) return root.error();
    Expression out;
    out.m_root = *std::move(root);
    out.m_used = parser.used();
    return out;
}

void Expression::evaluate(std::span<const std::span<const double>> bands,
                          std::span<double> out) const {
    evaluateNode(*m_root, bands, out);
}

}  // namespace ledge
