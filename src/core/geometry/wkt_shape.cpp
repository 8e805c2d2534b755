#include "core/geometry/wkt_shape.h"

#include <array>

#include "core/base/numbers.h"

namespace ledge {
namespace {
struct Word {
    std::string_view word;
    GeometryType type;
    bool isMulti;
};
constexpr std::array<Word, 6> kWords{{{"point", GeometryType::Point, false},
                                      {"linestring", GeometryType::Line, false},
                                      {"polygon", GeometryType::Polygon, false},
                                      {"multipoint", GeometryType::Point, true},
                                      {"multilinestring", GeometryType::Line, true},
                                      {"multipolygon", GeometryType::Polygon, true}}};

class Reader {
public:
    Reader(std::string_view text, std::size_t& at) : m_text(text), m_at(at) {}

    Result<Geometry> shape() {
        const std::size_t start = m_at;
        const std::string word = takeWord();
        const Word* kind = nullptr;
        for (const Word& one : kWords)
            if (one.word == word) kind = &one;
        if (!kind) {
            m_at = start;
            if (word == "geometrycollection")
                return Error{ErrorCode::Unsupported, "shape", "a collection of several kinds",
                             "write one kind of shape"};
            return fail("a shape begins with POINT, LINESTRING, POLYGON or MULTI…");
        }
        Geometry out;
        out.type = kind->type;
        out.isMulti = kind->isMulti;
        const std::size_t before = m_at;
        const std::string more = takeWord();
        m_hasZ = more == "z" || more == "zm";
        m_hasM = more == "m" || more == "zm";
        if (more == "empty") return out;
        if (!more.empty() && !m_hasZ && !m_hasM) {
            m_at = before;
            return fail("\"" + more + "\" is none of Z, M, ZM and EMPTY");
        }
        if ((m_hasZ || m_hasM) && isWordNext("empty")) return out;
        const int depth = (kind->type == GeometryType::Polygon ? 1 : 0) + (kind->isMulti ? 1 : 0);
        if (const auto done = list(out, kind->type, depth); !done) return done.error();
        if (m_hasZ && out.z.size() < out.points.size()) out.z.resize(out.points.size(), kNaN);
        return out;
    }
    void skipBlanks() {
        while (m_at < m_text.size() &&
               std::string_view(" \t\r\n").find(m_text[m_at]) != std::string_view::npos)
            ++m_at;
    }
    Error fail(const std::string& why) const {
        return {ErrorCode::BadFormat, "shape", why + " at character " + std::to_string(m_at + 1),
                "write for example POINT(3 4) or LINESTRING(0 0, 5 5)"};
    }

private:
    // A list of lists down to the runs of coordinates.
    Result<void> list(Geometry& out, GeometryType type, int depth) {
        if (!take('(')) return fail("\"(\" is missing");
        if (depth == 0) return run(out, type, true);
        const bool arePolygons = type == GeometryType::Polygon && depth == 2;
        bool isFirst = true;
        do {
            skipBlanks();
            // Points of several may stand with or without parentheses of their own.
            if (type == GeometryType::Point && m_at < m_text.size() && m_text[m_at] != '(') {
                out.beginPart();
                if (const auto done = position(out); !done) return done;
                continue;
            }
            if (arePolygons) {
                if (const auto done = list(out, type, 1); !done) return done;
                continue;
            }
            if (!take('(')) return fail("\"(\" is missing");
            if (const auto done = run(out, type, isFirst); !done) return done;
            isFirst = false;
        } while (take(','));
        if (!take(')')) return fail("\")\" is missing");
        return {};
    }
    // One part, its closing parenthesis taken.
    Result<void> run(Geometry& out, GeometryType type, bool isOuter) {
        const std::size_t start = out.points.size();
        out.beginPart(type == GeometryType::Polygon && isOuter);
        do {
            if (const auto done = position(out); !done) return done;
        } while (type != GeometryType::Point && take(','));
        if (!take(')')) return fail("\")\" is missing");
        const std::size_t count = out.points.size() - start;
        if (type == GeometryType::Line && count < 2) return fail("a line has two points or more");
        if (type != GeometryType::Polygon) return {};
        if (out.points.back() != out.points[start]) {
            out.points.push_back(Point(out.points[start]));
            if (!out.z.empty()) out.z.push_back(double(out.z[start]));
            if (!out.m.empty()) out.m.push_back(double(out.m[start]));
        }
        if (out.points.size() - start < 4) return fail("a ring has three corners or more");
        return {};
    }
    Result<void> position(Geometry& out) {
        std::array<double, 4> at{};
        std::size_t count = 0;
        while (count < 4) {
            skipBlanks();
            std::size_t end = m_at;
            while (end < m_text.size() &&
                   std::string_view("+-.0123456789eE").find(m_text[end]) != std::string_view::npos)
                ++end;
            if (end == m_at && count >= 2 && isWordNext("nan")) {
                at[count++] = kNaN;
                continue;
            }
            if (end == m_at) break;
            const auto number = parseNumber(m_text.substr(m_at, end - m_at));
            if (!number) return fail("no number");
            at[count++] = *number;
            m_at = end;
        }
        if (count < 2) return fail("a position has two numbers or more");
        out.points.push_back({at[0], at[1]});
        // Three numbers without a word are a height, as the elder form of the text had it.
        const bool hasZ = m_hasZ || (!m_hasM && count > 2), hasM = m_hasM || (!m_hasZ && count > 3);
        if (hasZ) {
            out.z.resize(out.points.size(), kNaN);
            out.z.back() = count > 2 ? at[2] : kNaN;
        } else if (!out.z.empty()) {
            out.z.push_back(kNaN);
        }
        if (hasM) {
            out.m.resize(out.points.size(), kNaN);
            const std::size_t place = hasZ ? 3 : 2;
            out.m.back() = count > place ? at[place] : kNaN;
        } else if (!out.m.empty()) {
            out.m.push_back(kNaN);
        }
        return {};
    }
    bool take(char sign) {
        skipBlanks();
        if (m_at >= m_text.size() || m_text[m_at] != sign) return false;
        ++m_at;
        return true;
    }
    std::string takeWord() {
        skipBlanks();
        std::size_t end = m_at;
        while (end < m_text.size() && std::isalpha(static_cast<unsigned char>(m_text[end]))) ++end;
        const std::string out = lowered(std::string(m_text.substr(m_at, end - m_at)));
        m_at = end;
        return out;
    }
    bool isWordNext(std::string_view word) {
        const std::size_t before = m_at;
        if (takeWord() == word) return true;
        m_at = before;
        return false;
    }

    std::string_view m_text;
    std::size_t& m_at;
    bool m_hasZ = false, m_hasM = false;
};

std::string partText(const GeometryView& g, std::size_t part, Gaps gaps) {
    std::string out = "(";
    const auto points = g.part(part);
    const auto z = g.ofPart(g.z, part), m = g.ofPart(g.m, part);
    for (std::size_t i = 0; i < points.size(); ++i) {
        if (i > 0) out += ", ";
        out += exactNumber(points[i].x) + " " + exactNumber(points[i].y);
        for (const auto values : {z, m})
            if (!values.empty())
                out += !std::isnan(values[i]) ? " " + exactNumber(values[i])
                       : gaps == Gaps::Zero   ? " 0"
                                              : " nan";
    }
    return out + ")";
}
}  // namespace

Result<Geometry> shapeFromWkt(std::string_view text, std::size_t& at) {
    return Reader(text, at).shape();
}

Result<Geometry> shapeFromWkt(std::string_view text) {
    std::size_t at = 0;
    Reader reader(text, at);
    auto out = reader.shape();
    if (!out) return out;
    reader.skipBlanks();
    if (at < text.size()) return reader.fail("something is left over");
    return out;
}

std::string wktOf(const GeometryView& g, Gaps gaps) {
    const std::size_t wholes = g.type == GeometryType::Polygon ? g.polygons.size() : g.partCount();
    const bool isMulti = g.isMulti || wholes > 1;
    std::string_view word;
    for (const Word& one : kWords)
        if (one.type == g.type && one.isMulti == isMulti) word = one.word;
    std::string out;
    for (const char c : word) out += static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    if (g.type == GeometryType::None) return "GEOMETRYCOLLECTION EMPTY";
    if (!g.z.empty() || !g.m.empty())
        out += std::string(" ") + (g.z.empty() ? "" : "Z") + (g.m.empty() ? "" : "M") + " ";
    if (g.isEmpty()) return out + (out.ends_with(' ') ? "EMPTY" : " EMPTY");
    if (g.type != GeometryType::Polygon) {
        if (!isMulti) return out + partText(g, 0, gaps);
        out += "(";
        for (std::size_t i = 0; i < g.partCount(); ++i)
            out += (i > 0 ? ", " : "") + partText(g, i, gaps);
        return out + ")";
    }
    if (isMulti) out += "(";
    for (std::size_t p = 0; p < g.polygons.size(); ++p) {
        const std::size_t end = p + 1 < g.polygons.size() ? g.polygons[p + 1] : g.partCount();
        out += p > 0 ? ", (" : "(";
        for (std::size_t i = g.polygons[p]; i < end; ++i)
            out += (i > g.polygons[p] ? ", " : "") + partText(g, i, gaps);
        out += ")";
    }
    return isMulti ? out + ")" : out;
}

}  // namespace ledge
