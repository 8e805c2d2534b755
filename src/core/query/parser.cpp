#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/calendar.h"
#include "core/base/letters.h"
#include "core/base/numbers.h"
#include "core/geometry/wkt_shape.h"
#include "core/query/lexer.h"

namespace ledge::query {
namespace {
using Op = Tree::Op;

// Words that are never names, unless in double quotes.
constexpr std::array<std::string_view, 12> kReserved{
    "and", "or", "not", "like", "between", "in", "is", "null", "true", "false", "div", "nodata"};
constexpr std::array<std::string_view, 7> kShapeWords{
    "point",           "linestring",   "polygon",           "multipoint",
    "multilinestring", "multipolygon", "geometrycollection"};
constexpr int kDeepest = 200;

class Parser {
public:
    Parser(const std::string& text, std::vector<Token> pieces, Place* place)
        : m_text(text), m_pieces(std::move(pieces)), m_place(place) {}

    Result<TreePtr> run() {
        if (now().kind == Token::Kind::End)
            return *fail("there is nothing to read", "write for example  sheep > 100");
        auto root = parseOr();
        if (!m_error && now().kind != Token::Kind::End)
            fail(now().shown() + " cannot follow here",
                 now().isSign("=") ? "compare once only, and join comparisons with AND"
                                   : "join conditions with AND or OR");
        if (m_error) return *m_error;
        return root;
    }

private:
    const Token& now() const { return m_pieces[m_at]; }
    const Token& following() const { return m_pieces[std::min(m_at + 1, m_pieces.size() - 1)]; }
    bool takeWord(std::string_view word) {
        if (!now().isWord(word)) return false;
        ++m_at;
        return true;
    }
    bool takeSign(std::string_view sign) {
        if (!now().isSign(sign)) return false;
        ++m_at;
        return true;
    }
    std::size_t end() const { return m_at == 0 ? 0 : m_pieces[m_at - 1].at.to; }

    TreePtr parseOr() {
        return chain(Op::Or, "or", [this] { return parseAnd(); });
    }
    TreePtr parseAnd() {
        return chain(Op::And, "and", [this] { return parseNot(); });
    }
    template <typename Next>
    TreePtr chain(Op op, std::string_view word, const Next& next) {
        const std::size_t from = now().at.from;
        std::vector<TreePtr> parts{next()};
        while (!m_error && takeWord(word)) parts.push_back(next());
        return parts.size() == 1 ? parts.front() : made(op, from, std::move(parts));
    }
    TreePtr parseNot() {
        const std::size_t from = now().at.from;
        if (!takeWord("not")) return parsePredicate();
        const Depth depth(*this);
        if (!depth) return {};
        return made(Op::Not, from, {parseNot()});
    }

    TreePtr parsePredicate() {
        const std::size_t from = now().at.from;
        TreePtr left = parseSum();
        if (m_error) return {};
        static constexpr std::array<std::pair<std::string_view, Op>, 6> kComparisons{
            {{"=", Op::Equal},
             {"<>", Op::NotEqual},
             {"<", Op::Less},
             {"<=", Op::LessEqual},
             {">", Op::Greater},
             {">=", Op::GreaterEqual}}};
        for (const auto& [sign, op] : kComparisons)
            if (takeSign(sign)) {
                if (now().kind == Token::Kind::Sign &&
                    std::any_of(kComparisons.begin(), kComparisons.end(),
                                [&](const auto& one) { return now().isSign(one.first); }))
                    return fail(now().shown() + " cannot follow " + std::string(sign),
                                "equal is =, unlike is <>");
                return made(op, from, {left, parseSum()});
            }
        if (takeWord("is")) {
            const bool isNot = takeWord("not");
            if (!takeWord("null") && !takeWord("nodata"))
                return fail(now().shown() + " stands where NULL should",
                            "write IS NULL or IS NOT NULL");
            return negated(isNot, from, made(Op::IsNull, from, {left}));
        }
        const bool isNot =
            now().isWord("not") && (following().isWord("like") || following().isWord("between") ||
                                    following().isWord("in"));
        if (isNot) ++m_at;
        if (takeWord("like")) return negated(isNot, from, made(Op::Like, from, {left, parseSum()}));
        if (takeWord("between")) {
            TreePtr low = parseSum();
            if (!m_error && !takeWord("and"))
                return fail(now().shown() + " stands where AND should",
                            "write BETWEEN lowest AND highest");
            return negated(isNot, from, made(Op::Between, from, {left, low, parseSum()}));
        }
        if (takeWord("in")) {
            if (!takeSign("("))
                return fail(now().shown() + " stands where \"(\" should",
                            "write the values as IN ('a', 'b')");
            std::vector<TreePtr> parts{left};
            do {
                parts.push_back(parseSum());
            } while (!m_error && takeSign(","));
            if (!close("the list")) return {};
            return negated(isNot, from, made(Op::In, from, std::move(parts)));
        }
        return left;
    }
    TreePtr negated(bool isNot, std::size_t from, TreePtr inner) {
        return isNot ? made(Op::Not, from, {std::move(inner)}) : inner;
    }

    TreePtr parseSum() {
        const std::size_t from = now().at.from;
        TreePtr left = parseTerm();
        while (!m_error) {
            if (takeSign("+"))
                left = made(Op::Plus, from, {left, parseTerm()});
            else if (takeSign("-"))
                left = made(Op::Minus, from, {left, parseTerm()});
            else
                break;
        }
        return left;
    }
    TreePtr parseTerm() {
        const std::size_t from = now().at.from;
        TreePtr left = parseSign();
        while (!m_error) {
            if (takeSign("*"))
                left = made(Op::Times, from, {left, parseSign()});
            else if (takeSign("/"))
                left = made(Op::Divide, from, {left, parseSign()});
            else if (takeSign("%"))
                left = made(Op::Remainder, from, {left, parseSign()});
            else if (takeWord("div"))
                left = made(Op::WholeQuotient, from, {left, parseSign()});
            else
                break;
        }
        return left;
    }
    TreePtr parseSign() {
        const Depth depth(*this);
        if (!depth) return {};
        const std::size_t from = now().at.from;
        if (takeSign("+")) return parseSign();
        if (!takeSign("-")) return parsePower();
        TreePtr inner = parseSign();
        if (m_error) return {};
        // A number with its sign is one literal.
        if (inner->op == Op::Literal) {
            if (const auto* whole = std::get_if<std::int64_t>(&inner->value))
                return literal(from, -*whole);
            if (const auto* real = std::get_if<double>(&inner->value)) return literal(from, -*real);
        }
        return made(Op::Negative, from, {inner});
    }
    TreePtr parsePower() {
        const std::size_t from = now().at.from;
        TreePtr base = parsePrimary();
        if (m_error || !takeSign("^")) return base;
        return made(Op::Power, from, {base, parseSign()});
    }

    TreePtr parsePrimary() {
        const Depth depth(*this);
        if (!depth) return {};
        const Token token = now();
        switch (token.kind) {
        case Token::Kind::Text: ++m_at; return literal(token.at.from, token.text);
        case Token::Kind::Whole:
        case Token::Kind::Real: ++m_at; return numeral(token);
        case Token::Kind::QuotedName: ++m_at; return named(token);
        case Token::Kind::Sign:
            if (token.text == "(") return parseParentheses();
            return fail(token.shown() + " stands where a value should",
                        "write a field, a number or a 'text' there");
        case Token::Kind::End:
            return fail("it ends where a value should follow",
                        "write a field, a number or a 'text' there");
        case Token::Kind::Name: break;
        }
        if (takeWord("true")) return literal(token.at.from, true);
        if (takeWord("false")) return literal(token.at.from, false);
        if (takeWord("null") || takeWord("nodata")) return literal(token.at.from, Value());
        const std::string word = lowered(token.text);
        if (following().isSign("(") || isShapeAhead(word)) {
            if (isShape(word)) return parseShape();
            if (word == "bbox") return parseBox();
            if (word == "date" || word == "timestamp") {
                // With another value it is the function that makes one.
                const std::size_t inner = std::min(m_at + 2, m_pieces.size() - 1);
                if (m_pieces[inner].kind == Token::Kind::Text &&
                    m_pieces[std::min(inner + 1, m_pieces.size() - 1)].isSign(")"))
                    return parseInstant(word == "date");
            }
            if (word == "interval") return parseInterval();
            return parseCall(word);
        }
        if (std::find(kReserved.begin(), kReserved.end(), word) != kReserved.end())
            return fail(token.shown() + " stands where a value should",
                        "a field of that name is written \"" + token.text + "\"");
        ++m_at;
        return named(token);
    }
    TreePtr parseParentheses() {
        const std::size_t from = now().at.from;
        takeSign("(");
        if (takeSign(")")) return made(Op::Array, from, {});
        TreePtr inner = parseOr();
        if (m_error) return {};
        if (!now().isSign(",")) return close("the parenthesis") ? inner : TreePtr();
        std::vector<TreePtr> parts{inner};
        while (!m_error && takeSign(",")) parts.push_back(parseOr());
        return close("the list") ? made(Op::Array, from, std::move(parts)) : TreePtr();
    }
    TreePtr parseCall(const std::string& name) {
        const std::size_t from = now().at.from;
        m_at += 2;
        std::vector<TreePtr> parts;
        if (!now().isSign(")")) do {
                parts.push_back(parseOr());
            } while (!m_error && takeSign(","));
        if (m_error || !close("the list of \"" + name + "\"")) return {};
        Tree out{.op = Op::Call, .name = name, .parts = std::move(parts)};
        return placed(std::move(out), from);
    }
    TreePtr parseInstant(bool isDate) {
        const std::size_t from = now().at.from;
        const Token text = m_pieces[m_at + 2];
        m_at += 4;
        if (isDate) {
            if (const auto day = parseDate(text.text)) return literal(from, *day);
            return failAt(text.at, "\"" + text.text + "\" is no date", "write DATE('2026-11-27')");
        }
        if (const auto time = parseTimeStamp(text.text)) return literal(from, *time);
        return failAt(text.at, "\"" + text.text + "\" is no instant",
                      "write TIMESTAMP('2026-11-27T08:30:00Z')");
    }
    TreePtr parseInterval() {
        const std::size_t from = now().at.from;
        m_at += 2;
        TreePtr begin = intervalEnd();
        if (!m_error && !takeSign(","))
            return fail(now().shown() + " stands where \",\" should",
                        "write INTERVAL('2026-01-01', '2026-12-31'), '..' for an open end");
        TreePtr until = intervalEnd();
        if (m_error || !close("the interval")) return {};
        return made(Op::Interval, from, {begin, until});
    }
    TreePtr intervalEnd() {
        if (m_error) return {};
        const Token token = now();
        if (token.kind != Token::Kind::Text) return parseSum();
        ++m_at;
        if (token.text == "..") return literal(token.at.from, Value());
        if (const auto day = parseDate(token.text)) return literal(token.at.from, *day);
        if (const auto time = parseTimeStamp(token.text)) return literal(token.at.from, *time);
        return failAt(token.at, "\"" + token.text + "\" is neither a date nor an instant",
                      "write '2026-11-27', '2026-11-27T08:30:00Z' or '..'");
    }

    static bool isShape(std::string_view word) {
        return std::find(kShapeWords.begin(), kShapeWords.end(), word) != kShapeWords.end();
    }
    bool isShapeAhead(std::string_view word) const {
        return isShape(word) && following().kind == Token::Kind::Name &&
               (following().isWord("z") || following().isWord("m") || following().isWord("zm") ||
                following().isWord("empty"));
    }
    // The pieces of a shape are read as well-known text, then passed over.
    TreePtr parseShape() {
        const std::size_t from = now().at.from;
        std::size_t at = from;
        auto shape = shapeFromWkt(m_text, at);
        if (!shape) {
            const auto& why = shape.error();
            const std::string inner = why.why.substr(0, why.why.find(" at character"));
            return failAt({at, std::min(at + 1, m_text.size())}, inner, why.mend);
        }
        while (now().kind != Token::Kind::End && now().at.from < at) ++m_at;
        return shaped(from, *std::move(shape), {});
    }
    TreePtr parseBox() {
        const std::size_t from = now().at.from;
        m_at += 2;
        std::vector<double> at;
        do {
            const TreePtr number = parseSum();
            if (m_error) return {};
            const double value = number->op == Op::Literal ? numberOf(number->value) : std::nan("");
            if (std::isnan(value))
                return failAt({number->from, number->to}, "a box has numbers only",
                              "write BBOX(west, south, east, north)");
            at.push_back(value);
        } while (takeSign(","));
        if (!close("the box")) return {};
        if (at.size() != 4 && at.size() != 6)
            return failAt({from, end()}, "a box has four numbers, or six with heights",
                          "write BBOX(west, south, east, north)");
        const std::size_t half = at.size() / 2;
        const double x0 = at[0], y0 = at[1], x1 = at[half], y1 = at[half + 1];
        if (!(x0 <= x1 && y0 <= y1))
            return failAt({from, end()}, "the box is the wrong way round",
                          "write BBOX(west, south, east, north)");
        return shaped(from, Geometry::polygon({{{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}, {x0, y0}}}),
                      "bbox");
    }

    TreePtr numeral(const Token& token) {
        const double value = *parseNumber(token.text);
        if (token.kind == Token::Kind::Whole && std::abs(value) < 9.2e18)
            return literal(token.at.from, static_cast<std::int64_t>(std::stoll(token.text)));
        return literal(token.at.from, value);
    }
    TreePtr literal(std::size_t from, Value value) {
        Tree out{.op = Op::Literal, .value = std::move(value)};
        return placed(std::move(out), from);
    }
    TreePtr named(const Token& token) {
        Tree out{.op = Op::Name, .name = token.text};
        return placed(std::move(out), token.at.from);
    }
    TreePtr shaped(std::size_t from, Geometry shape, std::string name) {
        Tree out{.op = Op::Shape,
                 .name = std::move(name),
                 .shape = std::make_shared<const Geometry>(std::move(shape))};
        return placed(std::move(out), from);
    }
    TreePtr made(Op op, std::size_t from, std::vector<TreePtr> parts) {
        if (m_error) return {};
        Tree out{.op = op, .parts = std::move(parts)};
        return placed(std::move(out), from);
    }
    TreePtr placed(Tree tree, std::size_t from) const {
        tree.from = from;
        tree.to = end();
        return std::make_shared<const Tree>(std::move(tree));
    }

    bool close(const std::string& what) {
        if (m_error) return false;
        if (takeSign(")")) return true;
        fail(now().shown() + " stands where " + what + " should be closed", "put a \")\" there");
        return false;
    }
    struct Failed {
        const Error& operator*() const { return *error; }
        operator TreePtr() const { return {}; }  // NOLINT(google-explicit-constructor): an end
        const Error* error;
    };
    Failed fail(const std::string& why, const std::string& mend) {
        return failAt(now().at, why, mend);
    }
    Failed failAt(Place at, const std::string& why, const std::string& mend) {
        if (!m_error) {
            if (m_place) *m_place = at;
            m_error = errorAt(m_text, at, why, mend);
        }
        return {&*m_error};
    }
    // Nothing that is typed is nested so deeply; what is would use up the stack.
    class Depth {
    public:
        explicit Depth(Parser& parser) : m_parser(parser) {
            if (++parser.m_depth > kDeepest)
                parser.fail("it is nested too deeply", "put it in fewer parentheses");
        }
        ~Depth() { --m_parser.m_depth; }
        Depth(const Depth&) = delete;
        Depth& operator=(const Depth&) = delete;
        explicit operator bool() const { return !m_parser.m_error; }

    private:
        Parser& m_parser;
    };

    const std::string& m_text;
    std::vector<Token> m_pieces;
    Place* m_place;
    std::size_t m_at = 0;
    int m_depth = 0;
    std::optional<Error> m_error;
};
}  // namespace

Result<TreePtr> parse(const std::string& text, Place* place) {
    auto pieces = tokens(text, place);
    if (!pieces) return pieces.error();
    return Parser(text, *std::move(pieces), place).run();
}

Error errorAt(const std::string& text, Place at, const std::string& why, const std::string& mend) {
    constexpr std::size_t kMostShown = 200;
    const std::string shown =
        text.size() <= kMostShown ? text : text.substr(0, kMostShown) + "\u2026";
    return {ErrorCode::InvalidArgument, "expression",
            why + " at character " +
                std::to_string(letterCount(std::string_view(text).substr(0, at.from)) + 1) +
                " of \"" + shown + "\"",
            mend};
}

}  // namespace ledge::query
