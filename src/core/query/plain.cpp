#include "core/query/plain.h"

#include "core/base/numbers.h"
#include "core/feature/edit_log.h"

namespace ledge::query {
namespace {
using Op = Tree::Op;
using How = PlainTest::How;
constexpr std::array<Op, 6> kOps{Op::Equal,     Op::NotEqual, Op::Less,
                                 Op::LessEqual, Op::Greater,  Op::GreaterEqual};

TreePtr made(Op op, std::vector<TreePtr> parts) {
    Tree out{.op = op, .parts = std::move(parts)};
    return std::make_shared<const Tree>(std::move(out));
}
TreePtr named(const std::string& name) {
    Tree out{.op = Op::Name, .name = name};
    return std::make_shared<const Tree>(std::move(out));
}
TreePtr literal(Value value) {
    Tree out{.op = Op::Literal, .value = std::move(value)};
    return std::make_shared<const Tree>(std::move(out));
}
TreePtr folded(TreePtr text) {
    Tree out{.op = Op::Call, .name = "casei", .parts = {std::move(text)}};
    return std::make_shared<const Tree>(std::move(out));
}

// As a pattern that means itself.
std::string escaped(const std::string& text) {
    std::string out;
    for (const char c : text) {
        if (c == '%' || c == '_' || c == '\\') out += '\\';
        out += c;
    }
    return out;
}
// Nothing when the pattern has signs of its own.
std::optional<std::string> unescaped(std::string_view pattern) {
    std::string out;
    for (std::size_t i = 0; i < pattern.size(); ++i) {
        if (pattern[i] == '%' || pattern[i] == '_') return {};
        if (pattern[i] == '\\' && i + 1 < pattern.size()) ++i;
        out += pattern[i];
    }
    return out;
}

Value valueFor(const PlainTest& test, const LayerInfo& layer) {
    for (const Field& field : layer.fields) {
        if (field.name != test.field) continue;
        FieldType type = field.type;
        // A whole column may be compared with a real number.
        if (type == FieldType::Integer && !valueOf(test.value, type)) type = FieldType::Real;
        if (auto value = valueOf(test.value, type)) return *std::move(value);
    }
    return test.value;
}

TreePtr treeOf(const PlainTest& test, const LayerInfo& layer) {
    const TreePtr field = named(test.field);
    switch (test.how) {
    case How::Missing: return made(Op::IsNull, {field});
    case How::There: return made(Op::Not, {made(Op::IsNull, {field})});
    case How::Holds:
    case How::Begins: {
        const std::string pattern = (test.how == How::Holds ? "%" : "") + escaped(test.value) + "%";
        return made(Op::Like, {folded(field), folded(literal(pattern))});
    }
    case How::Equal:
    case How::Unequal:
    case How::Less:
    case How::AtMost:
    case How::More:
    case How::AtLeast: break;
    }
    return made(kOps[static_cast<std::size_t>(test.how)], {field, literal(valueFor(test, layer))});
}

bool isFolded(const Tree& t) {
    return t.op == Op::Call && t.name == "casei" && t.parts.size() == 1;
}

std::optional<PlainTest> testOf(const Tree& t) {
    for (std::size_t i = 0; i < kOps.size(); ++i) {
        if (t.op != kOps[i]) continue;
        const Tree &field = *t.parts[0], &value = *t.parts[1];
        if (field.op != Op::Name || value.op != Op::Literal || isMissing(value.value)) return {};
        return PlainTest{field.name, static_cast<How>(i), exactText(value.value)};
    }
    if (t.op == Op::IsNull && t.parts[0]->op == Op::Name)
        return PlainTest{t.parts[0]->name, How::Missing, ""};
    if (t.op == Op::Not && t.parts[0]->op == Op::IsNull && t.parts[0]->parts[0]->op == Op::Name)
        return PlainTest{t.parts[0]->parts[0]->name, How::There, ""};
    if (t.op != Op::Like || !isFolded(*t.parts[0]) || !isFolded(*t.parts[1])) return {};
    const Tree &field = *t.parts[0]->parts[0], &value = *t.parts[1]->parts[0];
    const auto* text = std::get_if<std::string>(&value.value);
    if (field.op != Op::Name || value.op != Op::Literal || !text || !text->ends_with('%'))
        return {};
    const bool isHeld = text->size() > 1 && text->front() == '%';
    const auto plain =
        unescaped(std::string_view(*text).substr(isHeld ? 1 : 0, text->size() - (isHeld ? 2 : 1)));
    if (!plain) return {};
    return PlainTest{field.name, isHeld ? How::Holds : How::Begins, *plain};
}
}  // namespace

TreePtr treeOf(const PlainGroup& group, const LayerInfo& layer) {
    std::vector<TreePtr> parts;
    for (const auto& part : group.parts) {
        TreePtr one = std::visit([&](const auto& p) { return treeOf(p, layer); }, part);
        if (one) parts.push_back(std::move(one));
    }
    if (parts.empty()) return {};
    const Op op = group.join == PlainGroup::Join::All ? Op::And : Op::Or;
    TreePtr out = parts.size() == 1 ? parts.front() : made(op, std::move(parts));
    return group.join == PlainGroup::Join::None ? made(Op::Not, {out}) : out;
}

std::optional<PlainGroup> plainOf(const Tree& tree) {
    if (const auto test = testOf(tree)) return PlainGroup{PlainGroup::Join::All, {*test}};
    const bool isNot = tree.op == Op::Not;
    const Tree& t = isNot ? *tree.parts[0] : tree;
    PlainGroup out;
    if (isNot) {
        out.join = PlainGroup::Join::None;
    } else if (t.op == Op::Or) {
        out.join = PlainGroup::Join::Any;
    } else if (t.op != Op::And) {
        return {};
    }
    // None of several: that is, not one or another.
    std::vector<TreePtr> single;
    const std::vector<TreePtr>* parts = &t.parts;
    if (isNot && t.op != Op::Or) {
        single.push_back(tree.parts[0]);
        parts = &single;
    }
    for (const TreePtr& part : *parts) {
        if (const auto test = testOf(*part)) {
            out.parts.emplace_back(*test);
            continue;
        }
        auto inner = plainOf(*part);
        if (!inner) return {};
        out.parts.emplace_back(*std::move(inner));
    }
    return out;
}

}  // namespace ledge::query
