#include <algorithm>

#include "core/base/letters.h"
#include "core/base/numbers.h"
#include "core/query/node.h"
#include "core/query/question.h"

namespace ledge::query {
namespace {
using Op = Tree::Op;

// The one of several names that was probably meant; empty when none is near.
std::string nearestOf(const std::string& wanted, const std::vector<std::string>& names) {
    const std::string folded = withoutAccents(caseFolded(wanted));
    std::string best;
    std::size_t least = std::max<std::size_t>(1, wanted.size() / 3) + 1;
    for (const std::string& name : names) {
        const std::string other = withoutAccents(caseFolded(name));
        std::size_t edits = editsBetween(folded, other);
        // The beginning of a longer name is a good guess too.
        if (folded.size() >= 3 && other.starts_with(folded))
            edits = std::min<std::size_t>(edits, 1);
        if (edits < least) best = name, least = edits;
    }
    return best;
}

bool fits(Takes takes, Kind kind) {
    if (kind == Kind::Nothing) return true;
    switch (takes) {
    case Takes::Anything: return kind != Kind::Interval && kind != Kind::Array;
    case Takes::Boolean: return kind == Kind::Boolean;
    case Takes::Number: return isNumber(kind);
    case Takes::Text: return kind == Kind::Text;
    case Takes::Time: return isTime(kind);
    case Takes::Day: return kind == Kind::Date || kind == Kind::TimeStamp;
    case Takes::Shape: return kind == Kind::Shape;
    case Takes::Array: return kind == Kind::Array;
    }
    return false;
}
// The kind that NULL has where this is taken.
Kind kindFor(Takes takes) {
    switch (takes) {
    case Takes::Boolean: return Kind::Boolean;
    case Takes::Number: return Kind::Real;
    case Takes::Time:
    case Takes::Day: return Kind::TimeStamp;
    case Takes::Shape: return Kind::Shape;
    case Takes::Array: return Kind::Array;
    case Takes::Anything:
    case Takes::Text: break;
    }
    return Kind::Text;
}
std::string takesText(Takes takes) {
    switch (takes) {
    case Takes::Anything: return "a value";
    case Takes::Time: return "a date, an instant or an interval";
    case Takes::Day: return "a date or an instant";
    case Takes::Boolean:
    case Takes::Number:
    case Takes::Text:
    case Takes::Shape:
    case Takes::Array: break;
    }
    return kindText(kindFor(takes));
}
}  // namespace

class Binder {
public:
    Binder(const LayerInfo& layer, const std::string& text, Place* place, const Setting& setting)
        : m_layer(layer), m_text(text), m_place(place), m_setting(setting) {}

    Result<Question> run(const TreePtr& tree) {
        Question out;
        out.m_tree = tree;
        out.m_root = bind(*tree);
        if (m_error) return *m_error;
        out.m_aggregates = std::move(m_aggregates);
        std::sort(m_fields.begin(), m_fields.end());
        m_fields.erase(std::unique(m_fields.begin(), m_fields.end()), m_fields.end());
        out.m_fields = std::move(m_fields);
        out.m_readsShapes = m_readsShapes;
        return out;
    }
    Error wrongKind(const Tree& tree, Kind kind) {
        fail(tree, describe(tree) + " is " + kindText(kind) + ", not true or false",
             "compare it, for example " + toText(tree) +
                 (kind == Kind::Text ? " = 'word'"
                  : isNumber(kind)   ? " > 0"
                                     : " IS NOT NULL"));
        return *m_error;
    }

private:
    NodePtr bind(const Tree& t) {
        if (m_error) return {};
        switch (t.op) {
        case Op::Literal: return literal(t);
        case Op::Name: return field(t);
        case Op::Shape: return shape(t);
        case Op::Interval: return interval(t);
        case Op::Array: {
            auto parts = bindAll(t.parts);
            return m_error ? NodePtr() : arrayNode(std::move(parts));
        }
        case Op::Call: return call(t);
        case Op::Or:
        case Op::And: {
            std::vector<NodePtr> parts;
            for (const TreePtr& part : t.parts) parts.push_back(truth(*part));
            return m_error ? NodePtr() : logicNode(t.op == Op::And, std::move(parts));
        }
        case Op::Not: {
            auto part = truth(*t.parts[0]);
            return m_error ? NodePtr() : notNode(part);
        }
        case Op::Equal:
        case Op::NotEqual:
        case Op::Less:
        case Op::LessEqual:
        case Op::Greater:
        case Op::GreaterEqual: {
            auto parts = comparable(t);
            return m_error ? NodePtr() : comparisonNode(t.op, parts[0], parts[1]);
        }
        case Op::Between: {
            auto parts = comparable(t);
            if (m_error) return {};
            return logicNode(true, {comparisonNode(Op::GreaterEqual, parts[0], parts[1]),
                                    comparisonNode(Op::LessEqual, parts[0], parts[2])});
        }
        case Op::In: {
            auto parts = comparable(t);
            return m_error ? NodePtr() : inNode(std::move(parts));
        }
        case Op::Like: {
            auto text = taken(*t.parts[0], Takes::Text, "LIKE");
            auto pattern = taken(*t.parts[1], Takes::Text, "LIKE");
            return m_error ? NodePtr() : likeNode(text, pattern);
        }
        case Op::IsNull: {
            auto part = anyField(*t.parts[0]);
            return m_error ? NodePtr() : isNullNode(part);
        }
        case Op::Plus:
        case Op::Minus:
        case Op::Times:
        case Op::Divide:
        case Op::Remainder:
        case Op::WholeQuotient:
        case Op::Power: {
            auto a = taken(*t.parts[0], Takes::Number, "arithmetic"),
                 b = taken(*t.parts[1], Takes::Number, "arithmetic");
            return m_error ? NodePtr() : arithmeticNode(t.op, a, b);
        }
        case Op::Negative: {
            auto part = taken(*t.parts[0], Takes::Number, "a sign");
            return m_error ? NodePtr() : negativeNode(part);
        }
        }
        return {};
    }
    std::vector<NodePtr> bindAll(const std::vector<TreePtr>& parts) {
        std::vector<NodePtr> out;
        for (const TreePtr& part : parts) out.push_back(bind(*part));
        return out;
    }

    static NodePtr literal(const Tree& t) {
        if (isMissing(t.value)) return constantNode({}, Kind::Nothing);
        return constantNode(t.value, kindOf(typeOf(t.value)));
    }
    // Exactly so named, else so named in another case when only one is.
    std::optional<std::size_t> placeOf(const std::string& name) const {
        std::optional<std::size_t> alike;
        std::size_t count = 0;
        for (std::size_t i = 0; i < m_layer.fields.size(); ++i) {
            if (m_layer.fields[i].name == name) return i;
            if (caseFolded(m_layer.fields[i].name) == caseFolded(name)) alike = i, ++count;
        }
        return count == 1 ? alike : std::nullopt;
    }
    bool isOwnShape(const std::string& name) const {
        const std::string word = lowerCased(name);
        return (word == "geometry" || word == "geom") && !placeOf(name);
    }
    NodePtr ownShape() {
        m_readsShapes = true;
        return ownShapeNode();
    }
    NodePtr field(const Tree& t, bool mayBeBytes = false) {
        if (isOwnShape(t.name)) return ownShape();
        const auto at = placeOf(t.name);
        if (!at) {
            std::vector<std::string> names;
            for (const Field& f : m_layer.fields) names.push_back(f.name);
            const std::string meant = nearestOf(t.name, names);
            std::string mend;
            if (!meant.empty()) {
                mend = "did you mean " + nameText(meant) + "?";
            } else {
                for (const std::string& name : names)
                    mend += (mend.empty() ? "the fields are " : ", ") + nameText(name);
                if (mend.empty()) mend = "the layer has no fields";
            }
            fail(t, "there is no field \"" + t.name + "\"", mend);
            return {};
        }
        const FieldType type = m_layer.fields[*at].type;
        if (type == FieldType::Bytes && !mayBeBytes) {
            fail(t, "the field \"" + t.name + "\" holds bytes", "ask only whether it IS NULL");
            return {};
        }
        m_fields.push_back(*at);
        return fieldNode(*at, kindOf(type));
    }
    NodePtr anyField(const Tree& t) { return t.op == Op::Name ? field(t, true) : bind(t); }

    NodePtr shape(const Tree& t) {
        if (!m_setting.shapesCrs || !m_layer.crs) return shapeNode(t.shape);
        const auto way = crs::Transformation::between(m_setting.shapesCrs, m_layer.crs);
        if (!way) {
            fail(t, way.error().why, way.error().mend);
            return {};
        }
        Geometry moved = *t.shape;
        way->forward(moved.points);
        if (!moved.isFinite()) {
            fail(t, "the shape lies outside what the layer's CRS shows", "write another");
            return {};
        }
        return shapeNode(std::make_shared<const Geometry>(std::move(moved)));
    }
    NodePtr interval(const Tree& t) {
        std::vector<NodePtr> ends;
        for (const TreePtr& end : t.parts) {
            ends.push_back(bind(*end));
            if (m_error) return {};
            const Kind kind = ends.back()->kind();
            if (kind == Kind::Date || kind == Kind::TimeStamp || kind == Kind::Nothing) continue;
            fail(*end, describe(*end) + " is " + kindText(kind) + ", not a date or an instant",
                 "write '2026-11-27', a field of dates, or '..'");
            return {};
        }
        return intervalNode(ends[0], ends[1]);
    }

    // A condition within AND, OR, NOT.
    NodePtr truth(const Tree& t) {
        auto node = bind(t);
        if (m_error) return {};
        if (node->kind() == Kind::Boolean) return node;
        if (node->kind() == Kind::Nothing) return widened(node, Kind::Boolean);
        wrongKind(t, node->kind());
        return {};
    }
    // What a function or operator takes.
    NodePtr taken(const Tree& t, Takes takes, const std::string& by) {
        auto node = bind(t);
        if (m_error) return {};
        return checked(t, node, takes, by);
    }
    NodePtr checked(const Tree& t, const NodePtr& node, Takes takes, const std::string& by) {
        if (takes == Takes::Array && node->kind() != Kind::Array &&
            fits(Takes::Anything, node->kind()))
            return arrayNode({node});  // a list of one
        if (fits(takes, node->kind()))
            return node->kind() == Kind::Nothing && takes != Takes::Anything
                       ? widened(node, kindFor(takes))
                       : node;
        std::string mend = "give " + takesText(takes);
        if (takes == Takes::Number && node->kind() == Kind::Text) {
            const auto* text = std::get_if<std::string>(&t.value);
            mend = t.op == Op::Literal && text && parseNumber(*text)
                       ? "write " + *text + " without quotes"
                       : "to_number(" + toText(t) + ") reads it as one";
        }
        if (takes == Takes::Text && isNumber(node->kind()))
            mend = t.op == Op::Literal ? "write it in quotes, as '" + exactText(t.value) + "'"
                                       : "to_text(" + toText(t) + ") makes it one";
        fail(t,
             by + " takes " + takesText(takes) + ", and " + describe(t) + " is " +
                 kindText(node->kind()),
             mend);
        return {};
    }

    // The parts of a comparison brought to one kind.
    std::vector<NodePtr> comparable(const Tree& t) {
        auto parts = bindAll(t.parts);
        if (m_error) return {};
        Kind common = Kind::Nothing;
        for (std::size_t k = 0; k < parts.size(); ++k) {
            const Kind kind = parts[k]->kind();
            if (kind == Kind::Shape || kind == Kind::Array || kind == Kind::Interval) {
                fail(*t.parts[k],
                     describe(*t.parts[k]) + " is " + kindText(kind) + " and cannot be compared so",
                     kind == Kind::Shape      ? "use S_EQUALS, S_INTERSECTS and their like"
                     : kind == Kind::Interval ? "use T_EQUALS, T_DURING and their like"
                                              : "use A_EQUALS, A_CONTAINS and their like");
                return {};
            }
            // Days written as texts beside a field of dates are days.
            const bool isWordOfTime = isTime(common) && kind == Kind::Text,
                       isTimeAfterWord = common == Kind::Text && isTime(kind);
            if (isWordOfTime || isTimeAfterWord) {
                for (std::size_t j = 0; j <= k; ++j)
                    if (parts[j]->kind() == Kind::Text) parts[j] = timeOf(*t.parts[j]);
                if (m_error) return {};
                common = Kind::Nothing;
                for (std::size_t j = 0; j <= k; ++j) common = both(common, parts[j]->kind());
                continue;
            }
            const Kind next = both(common, kind);
            if (next == Kind::Array) {
                const Tree& other = *t.parts[0];
                fail(*t.parts[k],
                     describe(other) + " is " + kindText(common) + ", and " +
                         describe(*t.parts[k]) + " is " + kindText(kind),
                     unequalMend(*t.parts[k], common, kind));
                return {};
            }
            common = next;
        }
        if (common == Kind::Nothing) common = Kind::Text;
        for (NodePtr& part : parts) part = widened(part, common);
        return parts;
    }
    // The kind that holds values of both; Array when none does.
    static Kind both(Kind a, Kind b) {
        if (a == b || b == Kind::Nothing) return a;
        if (a == Kind::Nothing) return b;
        if (isNumber(a) && isNumber(b)) return Kind::Real;
        if ((a == Kind::Date && b == Kind::TimeStamp) || (a == Kind::TimeStamp && b == Kind::Date))
            return Kind::TimeStamp;
        return Kind::Array;
    }
    NodePtr timeOf(const Tree& t) {
        const auto* text = t.op == Op::Literal ? std::get_if<std::string>(&t.value) : nullptr;
        if (text) {
            if (const auto day = parseDate(*text)) return constantNode(*day, Kind::Date);
            if (const auto time = parseTimeStamp(*text))
                return constantNode(*time, Kind::TimeStamp);
        }
        fail(t, describe(t) + (text ? " is no date" : " is a text, beside dates"),
             "write DATE('2026-11-27')");
        return {};
    }
    static std::string unequalMend(const Tree& t, Kind wanted, Kind is) {
        if (isNumber(wanted) && is == Kind::Text && t.op == Op::Literal) {
            const std::string text = exactText(t.value);
            return parseNumber(text) ? "write " + text + " without quotes"
                                     : "compare with a number";
        }
        if (wanted == Kind::Text && isNumber(is) && t.op == Op::Literal)
            return "write it in quotes, as '" + exactText(t.value) + "'";
        if (wanted == Kind::Text && t.op == Op::Name) return "compare with a text";
        return "compare with " + kindText(wanted);
    }

    NodePtr call(const Tree& t) {
        const Function* function = functionNamed(t.name);
        if (!function) {
            std::vector<std::string> names;
            for (const Function& f : functions()) names.emplace_back(f.name);
            const std::string meant = nearestOf(t.name, names);
            fail(t, "there is no function \"" + t.name + "\"",
                 meant.empty() ? "the list of functions is in the help"
                               : "did you mean " + meant + "?");
            return {};
        }
        auto trees = t.parts;
        auto nodes = bindAll(trees);
        if (m_error) return {};
        // Without a shape it is the feature's own that is meant.
        if (function->topic == Topic::Shapes && function->least == 0 && nodes.empty())
            nodes.push_back(ownShape()), trees.push_back(std::make_shared<const Tree>(t));
        const bool areTooMany = !function->repeats && nodes.size() > function->takes.size();
        if (nodes.size() < function->least || areTooMany) {
            fail(t,
                 "\"" + t.name + "\" takes " + countText(*function) + ", and " +
                     std::to_string(t.parts.size()) + (t.parts.size() == 1 ? " is" : " are") +
                     " given",
                 "write " + std::string(function->name) + "(" + std::string(function->arguments) +
                     ")");
            return {};
        }
        for (std::size_t k = 0; k < nodes.size(); ++k) {
            nodes[k] = checked(*trees[k], nodes[k],
                               function->takes[std::min(k, function->takes.size() - 1)],
                               "\"" + t.name + "\"");
            if (m_error) return {};
        }
        return applied(t, *function, trees, std::move(nodes));
    }
    NodePtr applied(const Tree& t, const Function& function, const std::vector<TreePtr>& trees,
                    std::vector<NodePtr> nodes) {
        switch (function.topic) {
        case Topic::Space: return spatialNode(function.name.substr(2), nodes[0], nodes[1]);
        case Topic::Groups: return group(function, std::move(nodes));
        case Topic::Choice: break;
        case Topic::Numbers:
        case Topic::Texts:
        case Topic::Dates:
        case Topic::Shapes:
        case Topic::Time:
        case Topic::Lists: return callNode(function, std::move(nodes));
        }
        if (function.name == "missing") return isNullNode(nodes[0]);
        // The values of a choice have one kind.
        const std::size_t first = function.name == "if" ? 1 : 0;
        Kind common = Kind::Nothing;
        for (std::size_t k = first; k < nodes.size(); ++k) {
            const Kind next = both(common, nodes[k]->kind());
            if (next == Kind::Array) {
                fail(*trees[k],
                     "\"" + t.name + "\" gives " + kindText(common) + " or " +
                         kindText(nodes[k]->kind()),
                     "let all its values be of one kind");
                return {};
            }
            common = next;
        }
        for (std::size_t k = first; k < nodes.size(); ++k)
            if (common != Kind::Nothing) nodes[k] = widened(nodes[k], common);
        return first == 1 ? ifNode(common, nodes[0], nodes[1], nodes[2])
                          : coalesceNode(common, std::move(nodes));
    }
    NodePtr group(const Function& function, std::vector<NodePtr> nodes) {
        NodePtr argument = nodes.empty() ? NodePtr() : nodes[0];
        NodePtr by = nodes.size() > 1 ? nodes[1] : NodePtr();
        m_aggregates.push_back(
            std::make_shared<AggregateNode>(std::string(function.name), argument, by));
        return groupNode(m_aggregates.size() - 1, function.gives, by);
    }
    static std::string countText(const Function& f) {
        const auto word = [](std::size_t n) {
            return std::to_string(n) + (n == 1 ? " value" : " values");
        };
        if (f.repeats) return word(f.least) + " or more";
        if (f.least == f.takes.size()) return word(f.least);
        return std::to_string(f.least) + " to " + word(f.takes.size());
    }

    static std::string describe(const Tree& t) {
        if (t.op == Op::Name) return "\"" + t.name + "\"";
        const std::string text = toText(t);
        return text.size() <= 40 ? text : "the expression";
    }
    void fail(const Tree& t, const std::string& why, const std::string& mend) {
        if (m_error) return;
        if (m_place) *m_place = {t.from, t.to};
        m_error = errorAt(m_text, {t.from, t.to}, why, mend);
    }

    const LayerInfo& m_layer;
    const std::string& m_text;
    Place* m_place;
    const Setting& m_setting;
    std::vector<NodePtr> m_aggregates;
    std::vector<std::size_t> m_fields;
    bool m_readsShapes = false;
    std::optional<Error> m_error;
};

Result<Question> Question::bind(const TreePtr& tree, const LayerInfo& layer,
                                const std::string& text, Place* place, const Setting& setting) {
    return Binder(layer, text, place, setting).run(tree);
}

Result<Question> Question::from(const std::string& text, const LayerInfo& layer, Place* place,
                                const Setting& setting) {
    const auto tree = parse(text, place);
    if (!tree) return tree.error();
    return bind(*tree, layer, text, place, setting);
}

Result<Question> Question::condition(const std::string& text, const LayerInfo& layer, Place* place,
                                     const Setting& setting) {
    auto out = from(text, layer, place, setting);
    if (!out || out->kind() == Kind::Boolean) return out;
    return Binder(layer, text, place, setting).wrongKind(out->tree(), out->kind());
}

Kind Question::kind() const { return m_root->kind(); }

}  // namespace ledge::query
