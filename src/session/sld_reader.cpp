#include <set>

#include "core/base/numbers.h"
#include "io/xml/xml.h"
#include "session/sld.h"
#include "session/sld_filter.h"

namespace ledge::session {
namespace {
constexpr std::size_t kMostRules = 10'000;

struct Rule {
    std::string name, condition;
    bool isElse = false, hasLook = false;
    double widest = 0, closest = 0;
    doc::Look look;
};

class Reader {
public:
    explicit Reader(const doc::VectorLayer& before) { m_out.layer = before; }

    Result<SldStyle> read(const pugi::xml_node& root) {
        const pugi::xml_node descriptor = io::child(root, "StyledLayerDescriptor");
        if (!descriptor)
            return Error{ErrorCode::BadFormat, "style", "it is no StyledLayerDescriptor",
                         "take a file of OGC SLD 1.1 or 1.0"};
        bool hasLayer = false;
        for (const pugi::xml_node& layer : descriptor.children()) {
            const auto kind = io::nameOfNode(layer);
            if (kind != "NamedLayer" && kind != "UserLayer") continue;
            if (hasLayer) {
                lose("layers after the first");
                break;
            }
            hasLayer = true;
            for (const pugi::xml_node& style : layer.children())
                if (io::nameOfNode(style) == "UserStyle") readStyle(style);
        }
        if (m_rules.empty() && !m_hasLabels)
            return Error{ErrorCode::BadFormat, "style", "it holds no rule that draws features",
                         "take another file"};
        apply();
        m_out.losses = {m_losses.begin(), m_losses.end()};
        return m_out;
    }

private:
    void lose(const std::string& what) { m_losses.insert(what); }

    void readStyle(const pugi::xml_node& style) {
        for (const pugi::xml_node& type : style.children()) {
            if (io::nameOfNode(type) != "FeatureTypeStyle") continue;
            for (const pugi::xml_node& rule : type.children())
                if (io::nameOfNode(rule) == "Rule" && m_rules.size() < kMostRules) readRule(rule);
        }
    }
    void readRule(const pugi::xml_node& node) {
        Rule rule;
        rule.look = m_out.layer.style.look;
        rule.look.hasFill = rule.look.hasStroke = false;
        rule.look.casingMm = 0;
        rule.name = io::textOf(io::child(node, "Name"));
        rule.isElse = static_cast<bool>(io::child(node, "ElseFilter"));
        if (const pugi::xml_node filter = io::child(node, "Filter")) {
            const auto condition = filterText(filter);
            if (!condition) return lose("a rule whose " + condition.error().why);
            rule.condition = *condition;
        }
        rule.closest = numberOf(io::child(node, "MinScaleDenominator"), 0);
        rule.widest = numberOf(io::child(node, "MaxScaleDenominator"), 0);
        for (const pugi::xml_node& part : node.children()) {
            const auto kind = io::nameOfNode(part);
            if (kind == "PolygonSymbolizer")
                readFill(part, rule), readStroke(part, rule);
            else if (kind == "LineSymbolizer")
                readStroke(part, rule), readOffset(part, rule);
            else if (kind == "PointSymbolizer")
                readPoint(part, rule);
            else if (kind == "TextSymbolizer")
                readText(part, rule);
            else if (kind.ends_with("Symbolizer"))
                lose("a " + std::string(kind));
        }
        if (rule.hasLook) m_rules.push_back(std::move(rule));
    }

    static double numberOf(const pugi::xml_node& node, double usual) {
        const auto number = parseNumber(io::textOf(node));
        return number ? *number : usual;
    }
    static std::string parameter(const pugi::xml_node& node, const char* name) {
        for (const pugi::xml_node& one : node.children()) {
            const auto kind = io::nameOfNode(one);
            if ((kind == "SvgParameter" || kind == "CssParameter") &&
                io::attributeOf(one, "name") == name)
                return io::textOf(one);
        }
        return {};
    }
    static Colour colourOf(const pugi::xml_node& node, const char* name, Colour usual) {
        Colour out = parseColour(parameter(node, name)).value_or(usual);
        const auto opacity = parseNumber(parameter(node, (std::string(name) + "-opacity").c_str()));
        if (opacity)
            out.a = static_cast<std::uint8_t>(std::lround(std::clamp(*opacity, 0.0, 1.0) * 255));
        return out;
    }
    static double mm(const std::string& pixels, double usual) {
        const auto number = parseNumber(pixels);
        return number ? std::clamp(*number * kPixelMm, 0.0, 500.0) : usual;
    }

    void readFill(const pugi::xml_node& part, Rule& rule) {
        rule.hasLook = true;
        const pugi::xml_node fill = io::child(part, "Fill");
        if (!fill) return;
        if (io::child(fill, "GraphicFill")) lose("fills of graphics");
        rule.look.hasFill = true;
        rule.look.fill = colourOf(fill, "fill", {0x80, 0x80, 0x80});
    }
    void readStroke(const pugi::xml_node& part, Rule& rule) {
        rule.hasLook = true;
        const pugi::xml_node stroke = io::child(part, "Stroke");
        if (!stroke) return;
        if (io::child(stroke, "GraphicStroke")) lose("lines of graphics");
        const Colour colour = colourOf(stroke, "stroke", {0, 0, 0});
        const double width = mm(parameter(stroke, "stroke-width"), kPixelMm);
        if (rule.look.hasStroke && width < rule.look.strokeMm) {
            // A narrower line on a wider one: the wider is its casing.
            rule.look.casingMm = (rule.look.strokeMm - width) / 2;
            rule.look.casing = rule.look.stroke;
        }
        rule.look.hasStroke = true;
        rule.look.stroke = colour;
        rule.look.strokeMm = width;
        const std::string cap = parameter(stroke, "stroke-linecap"),
                          join = parameter(stroke, "stroke-linejoin");
        rule.look.join = join == "round"   ? doc::Join::Round
                         : join == "bevel" ? doc::Join::Bevel
                                           : doc::Join::Mitre;
        rule.look.dash = doc::Dash::Solid;
        rule.look.dashesMm.clear();
        std::string lengths = parameter(stroke, "stroke-dasharray");
        std::replace(lengths.begin(), lengths.end(), ',', ' ');
        std::size_t at = 0;
        while (at < lengths.size()) {
            const std::size_t end = std::min(lengths.find(' ', at), lengths.size());
            if (const auto number = parseNumber(lengths.substr(at, end - at));
                number && *number >= 0)
                rule.look.dashesMm.push_back(std::min(*number * kPixelMm, 1000.0));
            at = end + 1;
        }
        if (rule.look.dashesMm.size() % 2 != 0) {
            // An odd list goes round twice.
            const auto once = rule.look.dashesMm;
            rule.look.dashesMm.insert(rule.look.dashesMm.end(), once.begin(), once.end());
        }
        // What a file does not say is flat, by the standard, as its corners are mitred.
        const bool isFlat = cap != "round" && cap != "square";
        rule.look.cap = cap == "square"                         ? doc::Cap::Square
                        : isFlat == !rule.look.dashesMm.empty() ? doc::Cap::Usual
                        : isFlat                                ? doc::Cap::Flat
                                                                : doc::Cap::Round;
    }
    static void readOffset(const pugi::xml_node& part, Rule& rule) {
        if (const auto offset = parseNumber(io::textOf(io::child(part, "PerpendicularOffset"))))
            rule.look.offsetMm = std::clamp(-*offset * kPixelMm, -50.0, 50.0);
    }
    void readPoint(const pugi::xml_node& part, Rule& rule) {
        rule.hasLook = true;
        const pugi::xml_node graphic = io::child(part, "Graphic");
        const pugi::xml_node mark = io::child(graphic, "Mark");
        if (io::child(graphic, "ExternalGraphic")) lose("marks of pictures");
        static constexpr std::pair<const char*, doc::Mark> kNames[] = {
            {"circle", doc::Mark::Circle},     {"square", doc::Mark::Square},
            {"triangle", doc::Mark::Triangle}, {"star", doc::Mark::Star},
            {"cross", doc::Mark::Plus},        {"x", doc::Mark::Cross}};
        const std::string name = io::textOf(io::child(mark, "WellKnownName"));
        rule.look.mark = doc::Mark::Square;  // what the standard takes where none is named
        bool isKnown = name.empty();
        for (const auto& [known, value] : kNames)
            if (name == known) rule.look.mark = value, isKnown = true;
        if (!isKnown) lose("the mark \"" + name + "\"");
        if (mark) readFill(mark, rule), readStroke(mark, rule);
        rule.look.markMm = mm(io::textOf(io::child(graphic, "Size")), 6 * kPixelMm);
        rule.look.markTurn = numberOf(io::child(graphic, "Rotation"), 0);
    }
    void readText(const pugi::xml_node& part, const Rule& rule) {
        if (m_hasLabels) return lose("label rules after the first");
        m_hasLabels = true;
        auto& all = m_out.layer.labels;
        if (all.empty()) all.emplace_back();
        doc::LabelStyle& labels = all.front();
        const pugi::xml_node label = io::child(part, "Label");
        labels.text = io::textOf(io::child(label, "PropertyName"));
        if (labels.text.empty()) {
            lose("labels that are more than one field");
            return;
        }
        labels.isOn = true;
        labels.keep = rule.condition;
        labels.widestScale = rule.widest, labels.closestScale = rule.closest;
        const pugi::xml_node font = io::child(part, "Font");
        labels.sizePt =
            std::clamp(mm(parameter(font, "font-size"), 10 * kPixelMm) * 72 / 25.4, 0.5, 500.0);
        labels.isItalic = parameter(font, "font-style") == "italic";
        labels.isBold = parameter(font, "font-weight") == "bold";
        labels.font = parameter(font, "font-family");
        const pugi::xml_node halo = io::child(part, "Halo");
        labels.hasHalo = static_cast<bool>(halo);
        if (halo) {
            const auto radius = parseNumber(io::textOf(io::child(halo, "Radius")));
            labels.haloMm = std::clamp(radius.value_or(1) * kPixelMm, 0.0, 10.0);
            labels.halo = colourOf(io::child(halo, "Fill"), "fill", {255, 255, 255});
        }
        labels.colour = colourOf(io::child(part, "Fill"), "fill", {0, 0, 0});
    }

    void apply() {
        doc::VectorStyle& style = m_out.layer.style;
        style.rules.clear();
        style.showsOthers = false;
        std::vector<Rule> rules;
        for (Rule& rule : m_rules) {
            if (rule.isElse) {
                style.others = style.missing = rule.look;
                style.showsOthers = true;
            } else {
                rules.push_back(std::move(rule));
            }
        }
        if (rules.empty()) return;
        if (rules.size() == 1 && rules[0].condition.empty() && rules[0].widest == 0 &&
            rules[0].closest == 0) {
            style.classing = doc::Classing::Single;
            style.look = rules[0].look;
            return;
        }
        if (areClasses(rules)) return;
        style.classing = doc::Classing::Rules;
        for (const Rule& rule : rules)
            style.rules.push_back(
                {rule.name, rule.condition, rule.look, rule.widest, rule.closest, true});
    }

    // One number below, from and below, …, from: as this writes them.
    bool areClasses(const std::vector<Rule>& rules) {
        doc::ClassRule out = m_out.layer.style.classes;
        out.breaks.clear(), out.classes.clear();
        std::string field;
        for (std::size_t i = 0; i < rules.size(); ++i) {
            const auto tree = query::parse(rules[i].condition);
            if (!tree || rules[i].widest > 0 || rules[i].closest > 0) return false;
            std::optional<double> from, to;
            if (!limits(**tree, field, from, to)) return false;
            if (from.has_value() != (i > 0) || to.has_value() != (i + 1 < rules.size()))
                return false;
            if (i > 0 && *from != out.breaks.back()) return false;
            if (to) out.breaks.push_back(*to);
            out.classes.push_back({rules[i].name, rules[i].look, true});
        }
        if (!std::is_sorted(out.breaks.begin(), out.breaks.end()) || out.breaks.empty())
            return false;
        out.method = classify::Method::Own;
        out.low = out.breaks.front(), out.high = out.breaks.back();
        doc::VectorStyle& style = m_out.layer.style;
        style.classing = doc::Classing::Classes;
        style.classes = std::move(out);
        style.field = field;
        style.per.clear();
        return true;
    }
    static bool limits(const query::Tree& tree, std::string& field, std::optional<double>& from,
                       std::optional<double>& to) {
        using Op = query::Tree::Op;
        if (tree.op == Op::And) {
            for (const auto& part : tree.parts)
                if (!limits(*part, field, from, to)) return false;
            return true;
        }
        if (tree.op != Op::GreaterEqual && tree.op != Op::Less) return false;
        const query::Tree& of = *tree.parts[0];
        const std::string said = of.op == Op::Name ? of.name : query::toText(of);
        if (!field.empty() && field != said) return false;
        field = said;
        const auto number = parseNumber(query::toText(*tree.parts[1]));
        if (!number) return false;
        (tree.op == Op::Less ? to : from) = *number;
        return true;
    }

    SldStyle m_out;
    std::vector<Rule> m_rules;
    bool m_hasLabels = false;
    std::set<std::string> m_losses;
};
}  // namespace

Result<SldStyle> readSld(const std::string& text, const doc::VectorLayer& before) {
    const auto xml = io::xmlOf(text, "style.sld");
    if (!xml) return xml.error();
    return Reader(before).read(**xml);
}

}  // namespace ledge::session
