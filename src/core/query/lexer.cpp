#include "core/query/lexer.h"

#include <algorithm>
#include <array>

#include "core/base/numbers.h"

namespace ledge::query {
namespace {
bool isDigit(char c) { return c >= '0' && c <= '9'; }
bool isLetter(char c) {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_' ||
           (static_cast<unsigned char>(c) & 0x80) != 0;
}
constexpr std::array<std::string_view, 16> kSigns{"<>", "<=", ">=", "..", "=", "<", ">", "(",
                                                  ")",  ",",  "+",  "-",  "*", "/", "^", "%"};

class Lexer {
public:
    Lexer(const std::string& text, Place* place) : m_text(text), m_place(place) {}

    Result<std::vector<Token>> run() {
        std::vector<Token> out;
        while (true) {
            while (m_at < m_text.size() &&
                   std::string_view(" \t\r\n").find(m_text[m_at]) != std::string_view::npos)
                ++m_at;
            auto token = next();
            if (!token) return token.error();
            out.push_back(*std::move(token));
            if (out.back().kind == Token::Kind::End) return out;
        }
    }

private:
    Result<Token> next() {
        if (m_at >= m_text.size()) return made(Token::Kind::End, m_at);
        const char c = m_text[m_at];
        if (c == '\'') return quoted('\'', Token::Kind::Text);
        if (c == '"') return quoted('"', Token::Kind::QuotedName);
        if (isDigit(c) || (c == '.' && m_at + 1 < m_text.size() && isDigit(m_text[m_at + 1])))
            return number();
        if (isLetter(c) || c == ':') return word();
        for (const std::string_view sign : kSigns)
            if (m_text.compare(m_at, sign.size(), sign) == 0)
                return made(Token::Kind::Sign, m_at + sign.size());
        return fail({m_at, m_at + 1}, std::string("\"") + c + "\" cannot stand here",
                    "write texts in 'quotes' and odd names in \"double quotes\"");
    }

    // A quote in a text is doubled, or stands behind a backslash, as the standard has both. So that
    // every text can be written, a run of backslashes before a quote counts half.
    Result<Token> quoted(char quote, Token::Kind kind) {
        const std::size_t start = m_at++;
        std::string inner;
        while (m_at < m_text.size()) {
            const char c = m_text[m_at++];
            const bool isFollowed = m_at < m_text.size() && m_text[m_at] == quote;
            if (c == '\\' && quote == '\'') {
                const std::size_t begin = m_at - 1;
                while (m_at < m_text.size() && m_text[m_at] == '\\') ++m_at;
                const std::size_t run = m_at - begin;
                const bool isBeforeQuote = m_at < m_text.size() && m_text[m_at] == quote;
                inner.append(isBeforeQuote ? run / 2 : run, '\\');
                if (isBeforeQuote && run % 2 == 1) inner += m_text[m_at++];
            } else if (c == quote && isFollowed)
                inner += m_text[m_at++];
            else if (c == quote)
                return Token{kind, inner, {start, m_at}};
            else
                inner += c;
        }
        return fail({start, m_text.size()}, "a quote is not closed",
                    std::string("end it with ") + quote);
    }

    Result<Token> number() {
        const std::size_t start = m_at;
        std::size_t end = m_at;
        bool isWhole = true;
        const auto digits = [&] {
            while (end < m_text.size() && isDigit(m_text[end])) ++end;
        };
        digits();
        if (end < m_text.size() && m_text[end] == '.') ++end, isWhole = false, digits();
        if (end < m_text.size() && (m_text[end] == 'e' || m_text[end] == 'E')) {
            isWhole = false;
            ++end;
            if (end < m_text.size() && (m_text[end] == '+' || m_text[end] == '-')) ++end;
            digits();
        }
        if (!parseNumber(m_text.substr(start, end - start)))
            return fail({start, end}, "\"" + m_text.substr(start, end - start) + "\" is no number",
                        "write numbers as 1234.5 or 1.2e3");
        if (end < m_text.size() && isLetter(m_text[end]))
            return fail({start, end + 1}, "a number runs into a word",
                        "put a blank or a sign between, and names that begin with a digit in "
                        "\"double quotes\"");
        return made(isWhole ? Token::Kind::Whole : Token::Kind::Real, end);
    }

    Result<Token> word() {
        std::size_t end = m_at + 1;
        while (end < m_text.size() &&
               (isLetter(m_text[end]) || isDigit(m_text[end]) || m_text[end] == ':' ||
                (m_text[end] == '.' && end + 1 < m_text.size() && isLetter(m_text[end + 1]))))
            ++end;
        return made(Token::Kind::Name, end);
    }

    Token made(Token::Kind kind, std::size_t end) {
        Token out{kind, m_text.substr(m_at, end - m_at), {m_at, end}};
        m_at = end;
        return out;
    }
    Error fail(Place at, const std::string& why, const std::string& mend) {
        if (m_place) *m_place = at;
        return errorAt(m_text, at, why, mend);
    }

    const std::string& m_text;
    Place* m_place;
    std::size_t m_at = 0;
};
}  // namespace

bool Token::isWord(std::string_view word) const {
    return kind == Kind::Name && text.size() == word.size() && lowered(text) == word;
}

std::string Token::shown() const { return kind == Kind::End ? "the end" : "\"" + text + "\""; }

Result<std::vector<Token>> tokens(const std::string& text, Place* place) {
    return Lexer(text, place).run();
}

}  // namespace ledge::query
