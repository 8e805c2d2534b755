#include "io/query/query_json.h"

#include <algorithm>
#include <array>
#include <nlohmann/json.hpp>

#include "core/base/letters.h"
#include "core/base/numbers.h"

namespace ledge::io {
namespace {
using Json = nlohmann::ordered_json;
using query::Tree;
using query::TreePtr;
using Op = Tree::Op;
constexpr int kDeepest = 200;

struct Named {
    const char* name;
    Op op;
};
constexpr std::array<Named, 20> kOps{
    {{"or", Op::Or},         {"and", Op::And},         {"not", Op::Not},
     {"=", Op::Equal},       {"<>", Op::NotEqual},     {"<", Op::Less},
     {"<=", Op::LessEqual},  {">", Op::Greater},       {">=", Op::GreaterEqual},
     {"like", Op::Like},     {"between", Op::Between}, {"in", Op::In},
     {"isNull", Op::IsNull}, {"+", Op::Plus},          {"*", Op::Times},
     {"/", Op::Divide},      {"%", Op::Remainder},     {"div", Op::WholeQuotient},
     {"^", Op::Power},       {"-", Op::Minus}}};
struct Shape {
    const char* name;
    GeometryType type;
    bool isMulti;
};
constexpr std::array<Shape, 6> kShapes{{{"Point", GeometryType::Point, false},
                                        {"LineString", GeometryType::Line, false},
                                        {"Polygon", GeometryType::Polygon, false},
                                        {"MultiPoint", GeometryType::Point, true},
                                        {"MultiLineString", GeometryType::Line, true},
                                        {"MultiPolygon", GeometryType::Polygon, true}}};

class Reader {
public:
    TreePtr read(const Json& json) {
        if (m_error) return {};
        if (++m_depth > kDeepest) return fail("it is nested too deeply");
        TreePtr out = json.is_object()  ? object(json)
                      : json.is_array() ? array(json)
                                        : literal(json);
        --m_depth;
        return out;
    }
    const std::optional<Error>& error() const { return m_error; }

private:
    TreePtr literal(const Json& json) {
        if (json.is_null()) return made({.value = Value()});
        if (json.is_boolean()) return made({.value = json.get<bool>()});
        if (json.is_number_integer() &&
            !(json.is_number_unsigned() && json.get<std::uint64_t>() > INT64_MAX))
            return made({.value = json.get<std::int64_t>()});
        if (json.is_number()) return made({.value = json.get<double>()});
        return made({.value = json.get<std::string>()});
    }
    TreePtr array(const Json& json) {
        Tree out{.op = Op::Array};
        for (const Json& one : json) out.parts.push_back(read(one));
        return made(std::move(out));
    }
    TreePtr object(const Json& json) {
        if (json.contains("property")) {
            if (!json["property"].is_string()) return fail("a property has no name");
            return made({.op = Op::Name, .name = json["property"].get<std::string>()});
        }
        if (json.contains("date") || json.contains("timestamp")) return instant(json);
        if (json.contains("interval")) return interval(json["interval"]);
        if (json.contains("bbox")) return box(json["bbox"]);
        if (json.contains("coordinates")) return shape(json);
        if (json.contains("op")) return operation(json);
        return fail("\"" + json.dump().substr(0, 60) + "\" is none of its objects");
    }
    TreePtr instant(const Json& json) {
        const bool isDate = json.contains("date");
        const Json& said = json[isDate ? "date" : "timestamp"];
        const std::string text = said.is_string() ? said.get<std::string>() : said.dump();
        if (isDate) {
            if (const auto day = parseDate(text)) return made({.value = *day});
        } else if (const auto time = parseTimeStamp(text)) {
            return made({.value = *time});
        }
        return fail("\"" + text + "\" is no " + (isDate ? "date" : "instant"));
    }
    TreePtr interval(const Json& json) {
        if (!json.is_array() || json.size() != 2) return fail("an interval has two ends");
        Tree out{.op = Op::Interval};
        for (const Json& end : json) {
            if (!end.is_string()) {
                out.parts.push_back(read(end));
                continue;
            }
            const auto text = end.get<std::string>();
            if (text == "..")
                out.parts.push_back(made({.value = Value()}));
            else if (const auto day = parseDate(text))
                out.parts.push_back(made({.value = *day}));
            else if (const auto time = parseTimeStamp(text))
                out.parts.push_back(made({.value = *time}));
            else
                return fail("\"" + text + "\" is neither a date nor an instant");
        }
        return made(std::move(out));
    }
    TreePtr box(const Json& json) {
        std::vector<double> at;
        if (json.is_array())
            for (const Json& one : json)
                if (one.is_number()) at.push_back(one.get<double>());
        if ((at.size() != 4 && at.size() != 6) || at.size() != json.size())
            return fail("a box has four numbers, or six");
        const std::size_t half = at.size() / 2;
        const double x0 = at[0], y0 = at[1], x1 = at[half], y1 = at[half + 1];
        if (!(x0 <= x1 && y0 <= y1)) return fail("a box is the wrong way round");
        return shaped(Geometry::polygon({{{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}, {x0, y0}}}),
                      "bbox");
    }
    bool position(const Json& json, Geometry& out) {
        if (!json.is_array() || json.size() < 2 || !json[0].is_number() || !json[1].is_number())
            return false;
        out.points.push_back({json[0].get<double>(), json[1].get<double>()});
        return true;
    }
    // Positions of one part; rings are closed where they are not.
    bool part(const Json& json, Geometry& out, bool isOuter) {
        const bool isPoint = out.type == GeometryType::Point;
        const std::size_t start = out.points.size();
        out.beginPart(out.type == GeometryType::Polygon && isOuter);
        if (isPoint) return position(json, out);
        if (!json.is_array()) return false;
        for (const Json& one : json)
            if (!position(one, out)) return false;
        const std::size_t count = out.points.size() - start;
        if (count < (out.type == GeometryType::Line ? 2U : 3U)) return false;
        if (out.type == GeometryType::Polygon && out.points.back() != out.points[start])
            out.points.push_back(Point(out.points[start]));
        return true;
    }
    bool rings(const Json& json, Geometry& out) {
        if (!json.is_array()) return false;
        bool isOuter = true;
        for (const Json& ring : json) {
            if (!part(ring, out, isOuter)) return false;
            isOuter = false;
        }
        return true;
    }
    TreePtr shape(const Json& json) {
        const std::string type = json.value("type", "");
        for (const Shape& kind : kShapes) {
            if (kind.name != type) continue;
            Geometry out;
            out.type = kind.type;
            out.isMulti = kind.isMulti;
            const Json& all = json["coordinates"];
            bool isFine = true;
            const auto one = [&](const Json& of) {
                isFine = isFine && (kind.type == GeometryType::Polygon ? rings(of, out)
                                                                       : part(of, out, false));
            };
            if (!kind.isMulti)
                one(all);
            else if (all.is_array())
                for (const Json& of : all) one(of);
            if (!isFine || !out.isFinite()) return fail("the coordinates of a " + type);
            return shaped(std::move(out), "");
        }
        return fail("\"" + type + "\" is no shape that can be used");
    }
    TreePtr operation(const Json& json) {
        if (!json["op"].is_string()) return fail("an operation has no name");
        const auto name = json["op"].get<std::string>();
        if (!json.contains("args") || !json["args"].is_array())
            return fail("\"" + name + "\" has no args");
        const Json& args = json["args"];
        Tree out;
        const auto known = std::find_if(kOps.begin(), kOps.end(),
                                        [&](const Named& one) { return one.name == name; });
        if (known == kOps.end()) {
            out.op = Op::Call;
            out.name = lowerCased(name);
            for (const Json& one : args) out.parts.push_back(read(one));
            return made(std::move(out));
        }
        out.op = known->op;
        if (out.op == Op::In) {
            if (args.size() != 2 || !args[1].is_array() || args[1].empty())
                return fail("\"in\" takes a value and a list");
            out.parts.push_back(read(args[0]));
            for (const Json& one : args[1]) out.parts.push_back(read(one));
            return made(std::move(out));
        }
        for (const Json& one : args) out.parts.push_back(read(one));
        const std::size_t count = out.parts.size();
        if (out.op == Op::Minus && count == 1) out.op = Op::Negative;
        const bool isChain = out.op == Op::And || out.op == Op::Or;
        const std::size_t wanted =
            out.op == Op::Not || out.op == Op::IsNull || out.op == Op::Negative ? 1
            : out.op == Op::Between                                             ? 3
                                                                                : 2;
        if (isChain ? count < 2 : count != wanted)
            return fail("\"" + name + "\" takes " + std::to_string(wanted) + " values");
        return made(std::move(out));
    }

    static TreePtr made(Tree tree) { return std::make_shared<const Tree>(std::move(tree)); }
    static TreePtr shaped(Geometry geometry, const char* name) {
        Tree out{.op = Op::Shape, .name = name};
        out.shape = std::make_shared<const Geometry>(std::move(geometry));
        return made(std::move(out));
    }
    TreePtr fail(const std::string& why) {
        if (!m_error)
            m_error = Error{ErrorCode::InvalidArgument, "question", why, "see OGC CQL2-JSON"};
        return made({});
    }

    int m_depth = 0;
    std::optional<Error> m_error;
};

Json ringJson(const GeometryView& g, std::size_t part) {
    Json out = Json::array();
    for (const Point p : g.part(part)) out.push_back({p.x, p.y});
    return out;
}
Json shapeJson(const GeometryView& g) {
    const bool isArea = g.type == GeometryType::Polygon;
    const std::size_t wholes = isArea ? g.polygons.size() : g.partCount();
    const bool isMulti = g.isMulti || wholes > 1;
    Json all = Json::array();
    for (std::size_t i = 0; i < wholes; ++i) {
        if (!isArea) {
            const Json line = ringJson(g, i);
            all.push_back(g.type == GeometryType::Point ? line[0] : line);
            continue;
        }
        const std::size_t end = i + 1 < wholes ? g.polygons[i + 1] : g.partCount();
        Json rings = Json::array();
        for (std::size_t k = g.polygons[i]; k < end; ++k) rings.push_back(ringJson(g, k));
        all.push_back(rings);
    }
    const char* name = "";
    for (const Shape& kind : kShapes)
        if (kind.type == g.type && kind.isMulti == isMulti) name = kind.name;
    return {{"type", name}, {"coordinates", isMulti ? all : all.empty() ? Json::array() : all[0]}};
}

Json valueJson(const Value& value) {
    if (isMissing(value)) return nullptr;
    if (const auto* text = std::get_if<std::string>(&value)) return *text;
    if (const auto* flag = std::get_if<bool>(&value)) return *flag;
    if (const auto* whole = std::get_if<std::int64_t>(&value)) return *whole;
    if (std::holds_alternative<Date>(value)) return {{"date", exactText(value)}};
    if (std::holds_alternative<TimeStamp>(value)) return {{"timestamp", exactText(value)}};
    return numberOf(value);
}

Json jsonOf(const Tree& t) {
    const auto args = [&](std::size_t from = 0) {
        Json out = Json::array();
        for (std::size_t i = from; i < t.parts.size(); ++i) out.push_back(jsonOf(*t.parts[i]));
        return out;
    };
    switch (t.op) {
    case Op::Literal: return valueJson(t.value);
    case Op::Name: return {{"property", t.name}};
    case Op::Call: return {{"op", t.name}, {"args", args()}};
    case Op::Shape: {
        if (t.name != "bbox") return shapeJson(*t.shape);
        const Box box = t.shape->box();
        return {{"bbox", {box.xMin, box.yMin, box.xMax, box.yMax}}};
    }
    case Op::Interval: {
        Json ends = Json::array();
        for (const TreePtr& end : t.parts)
            ends.push_back(end->op != Op::Literal  ? jsonOf(*end)
                           : isMissing(end->value) ? Json("..")
                                                   : Json(exactText(end->value)));
        return {{"interval", ends}};
    }
    case Op::Array: return args();
    case Op::In: return {{"op", "in"}, {"args", {jsonOf(*t.parts[0]), args(1)}}};
    case Op::Negative: return {{"op", "-"}, {"args", args()}};
    default: break;
    }
    for (const Named& one : kOps)
        if (one.op == t.op) return {{"op", one.name}, {"args", args()}};
    return nullptr;
}
}  // namespace

Result<TreePtr> questionFromJson(const std::string& text) {
    const Json json = Json::parse(text, nullptr, false);
    if (json.is_discarded())
        return Error{ErrorCode::BadFormat, "question", "is no JSON", "see OGC CQL2-JSON"};
    Reader reader;
    TreePtr out = reader.read(json);
    if (reader.error()) return *reader.error();
    return out;
}

std::string questionJson(const Tree& tree) {
    return jsonOf(tree).dump(-1, ' ', false, Json::error_handler_t::replace);
}

Result<std::string> questionText(const std::string& text) {
    if (!trimmed(text).starts_with('{')) return text;
    const auto tree = questionFromJson(text);
    if (!tree) return tree.error();
    return query::toText(**tree);
}

}  // namespace ledge::io
