#include <pugixml.hpp>
#include <set>
#include <sstream>

#include "core/base/numbers.h"
#include "session/sld.h"
#include "session/sld_filter.h"

namespace ledge::session {
namespace {

std::string px(double mm) { return roundedNumber(mm / kPixelMm, 4); }
std::string hex(Colour c) { return colourText({c.r, c.g, c.b, 255}); }

const char* markName(doc::Mark mark) {
    switch (mark) {
    case doc::Mark::Circle: return "circle";
    case doc::Mark::Square: return "square";
    case doc::Mark::Triangle: return "triangle";
    case doc::Mark::Star: return "star";
    case doc::Mark::Plus: return "cross";
    case doc::Mark::Cross: return "x";
    case doc::Mark::Diamond:
    case doc::Mark::Pentagon:
    case doc::Mark::Drop:
    case doc::Mark::Needle: break;
    }
    return nullptr;
}

std::string dashes(const doc::Look& look) {
    std::vector<double> mm = look.dashesMm;
    if (mm.empty()) {
        switch (look.dash) {
        case doc::Dash::Solid: return {};
        case doc::Dash::Dashes: mm = {1.7, 0.8}; break;
        case doc::Dash::Dots: mm = {0.35, 0.75}; break;
        case doc::Dash::DashDot: mm = {2.4, 0.7, 0.4, 0.7}; break;
        }
    }
    std::string out;
    for (const double length : mm) out += (out.empty() ? "" : " ") + px(length);
    return out;
}

const char* capOf(const doc::Look& look, bool isDashed) {
    switch (look.cap) {
    case doc::Cap::Usual: return isDashed ? "butt" : "round";
    case doc::Cap::Round: return "round";
    case doc::Cap::Flat: return "butt";
    case doc::Cap::Square: return "square";
    }
    return "round";
}
const char* joinOf(doc::Join join) {
    switch (join) {
    case doc::Join::Round: return "round";
    case doc::Join::Mitre: return "mitre";
    case doc::Join::Bevel: return "bevel";
    }
    return "round";
}

class Writer {
public:
    SldText write(const doc::VectorLayer& layer, const std::string& name) {
        m_geometry = layer.geometry;
        m_style = &layer.style;
        pugi::xml_document document;
        pugi::xml_node declaration = document.append_child(pugi::node_declaration);
        declaration.append_attribute("version") = "1.0";
        declaration.append_attribute("encoding") = "UTF-8";
        pugi::xml_node root = document.append_child("sld:StyledLayerDescriptor");
        root.append_attribute("version") = "1.1.0";
        for (const auto& [prefix, space] : {std::pair{"xmlns:sld", "http://www.opengis.net/sld"},
                                            {"xmlns:se", "http://www.opengis.net/se"},
                                            {"xmlns:ogc", "http://www.opengis.net/ogc"}})
            root.append_attribute(prefix) = space;
        pugi::xml_node named = root.append_child("sld:NamedLayer");
        named.append_child("se:Name").text().set(name.c_str());
        m_rules = named.append_child("sld:UserStyle").append_child("se:FeatureTypeStyle");
        writeRules();
        for (const doc::LabelStyle& labels : layer.labels)
            if (labels.isOn && !labels.text.empty()) writeLabels(labels);
        std::ostringstream out;
        document.save(out, "  ");
        return {out.str(), {m_losses.begin(), m_losses.end()}};
    }

private:
    void lose(const std::string& what) { m_losses.insert(what); }

    pugi::xml_node rule(const std::string& name, double widest = 0, double closest = 0) {
        pugi::xml_node out = m_rules.append_child("se:Rule");
        if (!name.empty()) out.append_child("se:Name").text().set(name.c_str());
        m_widest = widest, m_closest = closest;
        return out;
    }
    // Scales stand behind the filter.
    void finish(pugi::xml_node rule, const doc::Look& look) {
        if (m_closest > 0)
            rule.append_child("se:MinScaleDenominator").text().set(exactNumber(m_closest).c_str());
        if (m_widest > 0)
            rule.append_child("se:MaxScaleDenominator").text().set(exactNumber(m_widest).c_str());
        symbolizer(rule, look);
    }
    bool filter(pugi::xml_node rule, const std::string& condition) {
        const auto tree = query::parse(condition);
        if (tree && addFilter(rule, **tree)) return true;
        lose("the condition " + condition);
        return false;
    }
    void otherwise(const std::string& name, const doc::Look& look) {
        pugi::xml_node node = rule(name);
        node.append_child("se:ElseFilter");
        finish(node, look);
    }
    std::string number() const {
        const auto plain = [](const std::string& said) {
            return query::parse(said) ? "(" + said + ")" : query::nameText(said);
        };
        return m_style->per.empty() ? plain(m_style->field)
                                    : plain(m_style->field) + " / " + plain(m_style->per);
    }

    void writeRules() {
        const doc::VectorStyle& s = *m_style;
        switch (s.classing) {
        case doc::Classing::Single: return finish(rule({}), s.look);
        case doc::Classing::Categories:
            for (const doc::Category& one : s.categories) {
                if (!one.isShown) continue;
                std::string condition = number() + " = " + query::literalText(one.value);
                for (const std::string& more : one.more)
                    condition += " OR " + number() + " = " + query::literalText(more);
                pugi::xml_node node = rule(one.label.empty() ? one.value : one.label);
                if (filter(node, condition)) finish(node, one.look);
            }
            if (s.showsOthers) otherwise("others", s.others);
            return;
        case doc::Classing::Classes: return classes();
        case doc::Classing::Ramp: return ramp();
        case doc::Classing::Sized:
            lose("sizes by a number: marks of one size are written");
            return finish(rule({}), s.look);
        case doc::Classing::Dots:
            lose("dots for counts: the areas alone are written");
            return finish(rule({}), s.look);
        case doc::Classing::Rules:
            for (const doc::StyleRule& one : s.rules) {
                if (!one.isShown) continue;
                pugi::xml_node node = rule(one.label, one.widestScale, one.closestScale);
                if (one.keep.empty() || filter(node, one.keep)) finish(node, one.look);
            }
            if (s.rules.size() > 1)
                lose("that the first rule that holds draws a feature: there all that hold do");
            if (s.showsOthers) otherwise("others", s.others);
            return;
        }
    }
    void classes() {
        const doc::ClassRule& r = m_style->classes;
        for (std::size_t i = 0; i < r.classes.size(); ++i) {
            if (!r.classes[i].isShown) continue;
            std::string condition;
            if (i > 0) condition = number() + " >= " + exactNumber(r.breaks[i - 1]);
            if (i < r.breaks.size())
                condition += (condition.empty() ? "" : " AND ") + number() + " < " +
                             exactNumber(r.breaks[i]);
            pugi::xml_node node = rule(r.classes[i].label);
            if (condition.empty() || filter(node, condition)) finish(node, r.classes[i].look);
        }
        otherwise("no data", m_style->missing);
    }
    // Eight steps of it.
    void ramp() {
        constexpr int kSteps = 8;
        lose("a ramp without steps: eight classes are written");
        const Ramp& colours = m_style->ramp;
        const double step = (colours.high() - colours.low()) / kSteps;
        for (int i = 0; i < kSteps; ++i) {
            std::string condition;
            if (i > 0) condition = number() + " >= " + exactNumber(colours.low() + i * step);
            if (i + 1 < kSteps)
                condition += (condition.empty() ? "" : " AND ") + number() + " < " +
                             exactNumber(colours.low() + (i + 1) * step);
            doc::Look look = m_style->look;
            (m_geometry == GeometryType::Line ? look.stroke : look.fill) =
                colours.at(colours.low() + (i + 0.5) * step);
            pugi::xml_node node = rule({});
            if (filter(node, condition)) finish(node, look);
        }
        otherwise("no data", m_style->missing);
    }

    static void parameter(pugi::xml_node into, const char* name, const std::string& value) {
        pugi::xml_node node = into.append_child("se:SvgParameter");
        node.append_attribute("name") = name;
        node.text().set(value.c_str());
    }
    static void fill(pugi::xml_node into, Colour colour) {
        pugi::xml_node node = into.append_child("se:Fill");
        parameter(node, "fill", hex(colour));
        if (colour.a < 255) parameter(node, "fill-opacity", roundedNumber(colour.a / 255.0, 3));
    }
    static void stroke(pugi::xml_node into, const doc::Look& look, double mm, Colour colour,
                       bool isDashed) {
        pugi::xml_node node = into.append_child("se:Stroke");
        parameter(node, "stroke", hex(colour));
        parameter(node, "stroke-width", px(mm));
        if (colour.a < 255) parameter(node, "stroke-opacity", roundedNumber(colour.a / 255.0, 3));
        const std::string lengths = isDashed ? dashes(look) : std::string();
        parameter(node, "stroke-linejoin", joinOf(look.join));
        parameter(node, "stroke-linecap", capOf(look, !lengths.empty()));
        if (!lengths.empty()) parameter(node, "stroke-dasharray", lengths);
    }
    void symbolizer(pugi::xml_node rule, const doc::Look& look) {
        switch (m_geometry) {
        case GeometryType::Point: return point(rule, look);
        case GeometryType::Polygon: {
            pugi::xml_node node = rule.append_child("se:PolygonSymbolizer");
            if (look.hasFill) fill(node, look.fill);
            if (look.pattern != doc::Pattern::Plain) lose("patterns of areas");
            if (look.hasStroke && m_style->hasOutlines)
                stroke(node, look, look.strokeMm, look.stroke, true);
            return;
        }
        case GeometryType::Line:
        case GeometryType::None: break;
        }
        if (look.along != doc::Along::Nothing) lose("what stands along lines");
        if (!look.hasStroke) return;
        const auto line = [&](double mm, Colour colour, bool isDashed) {
            pugi::xml_node node = rule.append_child("se:LineSymbolizer");
            stroke(node, look, mm, colour, isDashed);
            if (look.offsetMm != 0)
                node.append_child("se:PerpendicularOffset").text().set(px(-look.offsetMm).c_str());
        };
        if (look.casingMm > 0) line(look.strokeMm + 2 * look.casingMm, look.casing, false);
        line(look.strokeMm, look.stroke, true);
    }
    void point(pugi::xml_node rule, const doc::Look& look) {
        pugi::xml_node graphic = rule.append_child("se:PointSymbolizer").append_child("se:Graphic");
        pugi::xml_node mark = graphic.append_child("se:Mark");
        const char* name = markName(look.mark);
        if (!name) lose("marks that the standard has no name for: circles are written");
        mark.append_child("se:WellKnownName").text().set(name ? name : "circle");
        if (look.hasFill) fill(mark, look.fill);
        if (look.hasStroke) stroke(mark, look, look.strokeMm, look.stroke, false);
        graphic.append_child("se:Size").text().set(px(look.markMm).c_str());
        if (look.markTurn != 0)
            graphic.append_child("se:Rotation").text().set(exactNumber(look.markTurn).c_str());
    }
    void writeLabels(const doc::LabelStyle& labels) {
        pugi::xml_node node = rule(labels.name, labels.widestScale, labels.closestScale);
        if (!labels.keep.empty() && !filter(node, labels.keep)) return;
        if (m_closest > 0)
            node.append_child("se:MinScaleDenominator").text().set(exactNumber(m_closest).c_str());
        if (m_widest > 0)
            node.append_child("se:MaxScaleDenominator").text().set(exactNumber(m_widest).c_str());
        const auto tree = query::parse(labels.text);
        const bool isName = tree && (*tree)->op == query::Tree::Op::Name;
        if (tree && !isName) {
            lose("labels by the formula " + labels.text);
            m_rules.remove_child(node);
            return;
        }
        pugi::xml_node text = node.append_child("se:TextSymbolizer");
        text.append_child("se:Label")
            .append_child("ogc:PropertyName")
            .text()
            .set((isName ? (*tree)->name : labels.text).c_str());
        pugi::xml_node font = text.append_child("se:Font");
        if (!labels.font.empty()) parameter(font, "font-family", labels.font);
        parameter(font, "font-size", px(labels.sizePt * 25.4 / 72));
        if (labels.isItalic) parameter(font, "font-style", "italic");
        if (labels.isBold) parameter(font, "font-weight", "bold");
        if (labels.hasHalo) {
            pugi::xml_node halo = text.append_child("se:Halo");
            halo.append_child("se:Radius").text().set(px(labels.haloMm).c_str());
            fill(halo, labels.halo);
        }
        fill(text, labels.colour);
        if (!labels.pins.empty()) lose("labels placed by hand");
        if (!labels.rank.empty()) lose("the importance of labels");
    }

    GeometryType m_geometry = GeometryType::None;
    const doc::VectorStyle* m_style = nullptr;
    pugi::xml_node m_rules;
    std::set<std::string> m_losses;
    double m_widest = 0, m_closest = 0;
};
}  // namespace

SldText writeSld(const doc::VectorLayer& layer, const std::string& name) {
    return Writer().write(layer, name);
}

}  // namespace ledge::session
