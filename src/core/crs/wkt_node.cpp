#include "core/crs/wkt_node.h"

#include <algorithm>

namespace ledge::crs {
namespace {
class Parser {
public:
    explicit Parser(const std::string& text) : m_text(text) {}

    Result<WktNode> parse() {
        auto root = node(0);
        if (!root) return root;
        skipBlanks();
        if (m_at != m_text.size()) return fail("text after the end of the definition");
        return root;
    }

private:
    static constexpr int kDeepest = 32;

    Error fail(const std::string& why) const {
        return {ErrorCode::BadFormat, "CRS definition (WKT)",
                why + " at character " + std::to_string(m_at + 1), "check brackets and quotes"};
    }
    void skipBlanks() {
        while (m_at < m_text.size() && std::isspace(static_cast<unsigned char>(m_text[m_at])))
            ++m_at;
    }
    bool take(char c) {
        skipBlanks();
        if (m_at >= m_text.size() || m_text[m_at] != c) return false;
        ++m_at;
        return true;
    }
    bool takeEither(char a, char b) { return take(a) || take(b); }

    std::string word() {
        skipBlanks();
        const std::size_t begin = m_at;
        while (m_at < m_text.size() &&
               std::string_view("[](),\"").find(m_text[m_at]) == std::string_view::npos)
            ++m_at;
        return trimmed(m_text.substr(begin, m_at - begin));
    }
    Result<std::string> quoted() {
        std::string out;
        while (m_at < m_text.size()) {
            const char c = m_text[m_at++];
            if (c != '"') {
                out += c;
            } else if (m_at < m_text.size() && m_text[m_at] == '"') {
                out += '"';
                ++m_at;
            } else {
                return out;
            }
        }
        return fail("a quote is not closed");
    }
    Result<WktNode> node(int depth) {
        if (depth > kDeepest) return fail("nested too deep");
        WktNode out;
        out.keyword = word();
        for (char& c : out.keyword)
            c = static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
        if (out.keyword.empty() || !takeEither('[', '(')) return fail("a bracket is missing");
        do {
            if (take('"')) {
                auto text = quoted();
                if (!text) return text.error();
                out.values.push_back(*std::move(text));
                continue;
            }
            const std::size_t before = m_at;
            const std::string bare = word();
            if (m_at < m_text.size() && (m_text[m_at] == '[' || m_text[m_at] == '(')) {
                m_at = before;
                auto inner = node(depth + 1);
                if (!inner) return inner;
                out.children.push_back(*std::move(inner));
            } else {
                out.values.push_back(bare);
            }
        } while (take(','));
        if (!takeEither(']', ')')) return fail("a closing bracket is missing");
        return out;
    }

    const std::string& m_text;
    std::size_t m_at = 0;
};

}  // namespace

const WktNode* WktNode::child(std::initializer_list<std::string_view> names) const {
    for (const WktNode& node : children)
        if (std::find(names.begin(), names.end(), node.keyword) != names.end()) return &node;
    return nullptr;
}

Result<WktNode> parseWkt(const std::string& text) { return Parser(text).parse(); }

}  // namespace ledge::crs
