#include <algorithm>
#include <unordered_set>

#include "core/query/node.h"

namespace ledge::query {
namespace {
class LogicNode final : public Node {
public:
    LogicNode(bool isAnd, std::vector<NodePtr> parts)
        : Node(Kind::Boolean), m_isAnd(isAnd), m_parts(std::move(parts)) {}
    // What decides alone (untrue in AND, true in OR) spares the parts behind it.
    void values(const Batch& batch, Values& out) const override {
        m_parts.front()->values(batch, out);
        const std::int64_t decides = m_isAnd ? 0 : 1;
        Values next;
        for (std::size_t k = 1; k < m_parts.size(); ++k) {
            std::vector<std::uint8_t> open(batch.count);
            std::size_t left = 0;
            for (std::size_t i = 0; i < batch.count; ++i) {
                const bool isDecided = out.valid[i] != 0 && out.wholes[i] == decides;
                open[i] = !isDecided && batch.isWanted(i) ? 1 : 0;
                left += open[i];
            }
            if (left == 0) return;
            m_parts[k]->values(batch.only(open), next);
            for (std::size_t i = 0; i < batch.count; ++i) {
                if (open[i] == 0) continue;
                if (next.valid[i] != 0 && next.wholes[i] == decides) {
                    out.valid[i] = 1;
                    out.wholes[i] = decides;
                } else if (next.valid[i] == 0) {
                    out.valid[i] = 0;
                }
            }
        }
    }

private:
    bool m_isAnd;
    std::vector<NodePtr> m_parts;
};

class NotNode final : public Node {
public:
    explicit NotNode(NodePtr part) : Node(Kind::Boolean), m_part(std::move(part)) {}
    void values(const Batch& batch, Values& out) const override {
        m_part->values(batch, out);
        for (std::int64_t& v : out.wholes) v = v == 0 ? 1 : 0;
    }

private:
    NodePtr m_part;
};

// The operator is chosen once for all rows.
template <typename Get>
void compareAll(Tree::Op op, std::size_t count, const Get& get, std::vector<std::int64_t>& out) {
    const auto all = [&](auto is) {
        for (std::size_t i = 0; i < count; ++i) {
            const auto [a, b] = get(i);
            out[i] = is(a, b) ? 1 : 0;
        }
    };
    switch (op) {
    case Tree::Op::Equal: all([](const auto& a, const auto& b) { return a == b; }); break;
    case Tree::Op::NotEqual: all([](const auto& a, const auto& b) { return a != b; }); break;
    case Tree::Op::Less: all([](const auto& a, const auto& b) { return a < b; }); break;
    case Tree::Op::LessEqual: all([](const auto& a, const auto& b) { return a <= b; }); break;
    case Tree::Op::Greater: all([](const auto& a, const auto& b) { return a > b; }); break;
    default: all([](const auto& a, const auto& b) { return a >= b; }); break;
    }
}

class ComparisonNode final : public Node {
public:
    ComparisonNode(Tree::Op op, NodePtr a, NodePtr b)
        : Node(Kind::Boolean), m_op(op), m_a(std::move(a)), m_b(std::move(b)) {}
    void values(const Batch& batch, Values& out) const override {
        Values a, b;
        m_a->values(batch, a);
        m_b->values(batch, b);
        out.reset(Kind::Boolean, batch.count);
        for (std::size_t i = 0; i < batch.count; ++i) out.valid[i] = a.valid[i] & b.valid[i];
        switch (a.kind) {
        case Kind::Text:
            compareAll(
                m_op, batch.count, [&](std::size_t i) { return std::pair(a.texts[i], b.texts[i]); },
                out.wholes);
            break;
        case Kind::Real:
            compareAll(
                m_op, batch.count, [&](std::size_t i) { return std::pair(a.reals[i], b.reals[i]); },
                out.wholes);
            break;
        case Kind::Boolean:
        case Kind::Integer:
        case Kind::Date:
        case Kind::TimeStamp:
            compareAll(
                m_op, batch.count,
                [&](std::size_t i) { return std::pair(a.wholes[i], b.wholes[i]); }, out.wholes);
            break;
        case Kind::Nothing:
        case Kind::Interval:
        case Kind::Shape:
        case Kind::Array: break;
        }
    }

private:
    Tree::Op m_op;
    NodePtr m_a, m_b;
};

std::size_t lengthOfLetter(std::string_view text, std::size_t at) {
    std::size_t end = at + 1;
    while (end < text.size() && (static_cast<unsigned char>(text[end]) & 0xC0) == 0x80) ++end;
    return end - at;
}

// % stands for any run of characters, _ for one; a backslash before them, or before itself, takes
// them as they are. Goes back to the last % only, so that no pattern takes long.
bool isLike(std::string_view text, std::string_view pattern) {
    std::size_t t = 0, p = 0, backT = std::string_view::npos, backP = 0;
    while (t < text.size()) {
        if (p < pattern.size() && pattern[p] == '%') {
            backP = ++p;
            backT = t;
            continue;
        }
        if (p < pattern.size() && pattern[p] == '_') {
            t += lengthOfLetter(text, t);
            ++p;
            continue;
        }
        const bool isEscaped =
            p + 1 < pattern.size() && pattern[p] == '\\' &&
            std::string_view("%_\\").find(pattern[p + 1]) != std::string_view::npos;
        const std::size_t at = isEscaped ? p + 1 : p;
        if (at < pattern.size() && pattern[at] == text[t]) {
            p = at + 1;
            ++t;
            continue;
        }
        if (backT == std::string_view::npos) return false;
        p = backP;
        backT += lengthOfLetter(text, backT);
        t = backT;
    }
    while (p < pattern.size() && pattern[p] == '%') ++p;
    return p == pattern.size();
}

// A pattern made ready: what stands between its %, where nothing else is special.
class Pattern {
public:
    explicit Pattern(std::string_view pattern) : m_pattern(pattern) {
        if (pattern.find_first_of("_\\") != std::string_view::npos) return;
        m_isPlain = true;
        for (std::size_t at = 0; at <= pattern.size();) {
            const std::size_t end = std::min(pattern.find('%', at), pattern.size());
            m_pieces.push_back(pattern.substr(at, end - at));
            at = end + 1;
        }
    }
    // Bytes are enough: a letter of UTF-8 begins nowhere within another.
    bool matches(std::string_view text) const {
        if (!m_isPlain) return isLike(text, m_pattern);
        if (m_pieces.size() == 1) return text == m_pieces.front();
        if (!text.starts_with(m_pieces.front())) return false;
        text.remove_prefix(m_pieces.front().size());
        for (std::size_t k = 1; k + 1 < m_pieces.size(); ++k) {
            const std::size_t at = text.find(m_pieces[k]);
            if (at == std::string_view::npos) return false;
            text.remove_prefix(at + m_pieces[k].size());
        }
        return text.ends_with(m_pieces.back());
    }

private:
    std::string_view m_pattern;
    bool m_isPlain = false;
    std::vector<std::string_view> m_pieces;
};

class LikeNode final : public Node {
public:
    LikeNode(NodePtr text, NodePtr pattern)
        : Node(Kind::Boolean), m_text(std::move(text)), m_pattern(std::move(pattern)) {}
    void values(const Batch& batch, Values& out) const override {
        Values text, pattern;
        m_text->values(batch, text);
        m_pattern->values(batch, pattern);
        out.reset(Kind::Boolean, batch.count);
        std::string_view readied;
        Pattern ready(readied);
        for (std::size_t i = 0; i < batch.count; ++i) {
            if (text.valid[i] == 0 || pattern.valid[i] == 0) continue;
            if (readied != pattern.texts[i]) ready = Pattern(readied = pattern.texts[i]);
            out.valid[i] = 1;
            out.wholes[i] = ready.matches(text.texts[i]) ? 1 : 0;
        }
    }

private:
    NodePtr m_text, m_pattern;
};

class InNode final : public Node {
public:
    explicit InNode(std::vector<NodePtr> parts) : Node(Kind::Boolean), m_parts(std::move(parts)) {
        for (std::size_t k = 1; k < m_parts.size(); ++k)
            m_areConstant = m_areConstant && m_parts[k]->isConstant();
    }
    // A value that is in none of the list is missing when one of the list is.
    void values(const Batch& batch, Values& out) const override {
        Values value;
        m_parts.front()->values(batch, value);
        out.reset(Kind::Boolean, batch.count);
        if (batch.count == 0) return;
        std::vector<Values> list(m_parts.size() - 1);
        const Batch one{batch.table, batch.begin, 1, batch.ground, batch.troubles, batch.groups};
        for (std::size_t k = 0; k < list.size(); ++k)
            m_parts[k + 1]->values(m_areConstant ? one : batch, list[k]);
        if (m_areConstant && value.kind == Kind::Text) return inTexts(value, list, out);
        for (std::size_t i = 0; i < batch.count; ++i) {
            if (value.valid[i] == 0) continue;
            bool isIn = false, isOpen = false;
            for (const Values& other : list) {
                const std::size_t at = m_areConstant ? 0 : i;
                if (other.valid[at] == 0)
                    isOpen = true;
                else if (isSame(value, i, other, at))
                    isIn = true;
            }
            out.valid[i] = isIn || !isOpen ? 1 : 0;
            out.wholes[i] = isIn ? 1 : 0;
        }
    }

private:
    static bool isSame(const Values& a, std::size_t i, const Values& b, std::size_t k) {
        if (a.kind == Kind::Text) return a.texts[i] == b.texts[k];
        if (a.kind == Kind::Real) return a.reals[i] == b.reals[k];
        return a.wholes[i] == b.wholes[k];
    }
    static void inTexts(const Values& value, const std::vector<Values>& list, Values& out) {
        std::unordered_set<std::string_view> known;
        bool isOpen = false;
        for (const Values& one : list) {
            if (one.valid[0] == 0)
                isOpen = true;
            else
                known.insert(one.texts[0]);
        }
        for (std::size_t i = 0; i < value.size(); ++i) {
            if (value.valid[i] == 0) continue;
            const bool isIn = known.contains(value.texts[i]);
            out.valid[i] = isIn || !isOpen ? 1 : 0;
            out.wholes[i] = isIn ? 1 : 0;
        }
    }

    std::vector<NodePtr> m_parts;
    bool m_areConstant = true;
};

class IsNullNode final : public Node {
public:
    explicit IsNullNode(NodePtr part) : Node(Kind::Boolean), m_part(std::move(part)) {}
    void values(const Batch& batch, Values& out) const override {
        Values part;
        m_part->values(batch, part);
        out.reset(Kind::Boolean, batch.count);
        out.valid.assign(batch.count, 1);
        for (std::size_t i = 0; i < batch.count; ++i) out.wholes[i] = part.valid[i] == 0 ? 1 : 0;
    }

private:
    NodePtr m_part;
};
}  // namespace

NodePtr logicNode(bool isAnd, std::vector<NodePtr> parts) {
    return std::make_shared<LogicNode>(isAnd, std::move(parts));
}
NodePtr notNode(NodePtr part) { return std::make_shared<NotNode>(std::move(part)); }
NodePtr comparisonNode(Tree::Op op, NodePtr a, NodePtr b) {
    return std::make_shared<ComparisonNode>(op, std::move(a), std::move(b));
}
NodePtr likeNode(NodePtr text, NodePtr pattern) {
    return std::make_shared<LikeNode>(std::move(text), std::move(pattern));
}
NodePtr inNode(std::vector<NodePtr> parts) { return std::make_shared<InNode>(std::move(parts)); }
NodePtr isNullNode(NodePtr part) { return std::make_shared<IsNullNode>(std::move(part)); }

}  // namespace ledge::query
