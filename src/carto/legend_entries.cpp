#include <QObject>
#include <algorithm>
#include <map>
#include <tuple>

#include "carto/legend.h"
#include "carto/qtext.h"
#include "core/base/numbers.h"
#include "document/look_finder.h"

namespace ledge::carto {
namespace {

QString nameOf(const doc::Layer& layer, const doc::LegendItem& item) {
    const auto it = item.names.find(layer.id);
    return qtext(it == item.names.end() ? layer.name : it->second);
}

LegendEntry rampEntry(const doc::Layer& layer, const QString& name, const Ramp& ramp,
                      const NumberFormat& numbers, const char* unit) {
    LegendEntry out;
    out.layer = layer.id;
    out.text = name;
    out.ramp = ramp;
    const double low = ramp.low() < 0 && ramp.high() > 0 ? 0 : ramp.low();
    out.low = qtext(formatNumber(low, numbers));
    out.middle = qtext(formatNumber((low + ramp.high()) / 2, numbers));
    out.high = qtext(formatNumber(ramp.high(), numbers) + unit);
    return out;
}

// What a vector layer says, rule by rule.
class VectorEntries {
public:
    VectorEntries(std::vector<LegendEntry>& out, const doc::Layer& layer,
                  const doc::LegendItem& item, double scale, const std::set<int>* shown)
        : m_out(out), m_shown(shown), m_vector(*layer.as<doc::VectorLayer>()),
          m_style(m_vector.style), m_name(nameOf(layer, item)),
          m_mm(m_style.isOnGround ? doc::mmPerGroundMetre(scale) : 1) {
        m_entry.layer = layer.id;
        m_entry.geometry = m_vector.geometry;
    }
    void add() {
        if (m_shown && m_shown->empty()) return;
        switch (m_style.classing) {
        case doc::Classing::Single: return put(m_name, m_style.look);
        case doc::Classing::Categories: return categories();
        case doc::Classing::Ramp: m_out.push_back(ramp()); return missing();
        case doc::Classing::Classes: return classes();
        case doc::Classing::Sized: return sizes();
        case doc::Classing::Dots: return dots();
        case doc::Classing::Rules: return rules();
        }
    }

private:
    bool isSeen(int entry) const { return !m_shown || m_shown->contains(entry); }
    LegendEntry ramp() const {
        LegendEntry out = m_entry;
        const Ramp& ramp = m_style.ramp;
        out.text = m_name;
        out.ramp = ramp;
        const double low = ramp.low() < 0 && ramp.high() > 0 ? 0 : ramp.low();
        out.low = number(low);
        out.middle = number((low + ramp.high()) / 2);
        out.high = number(ramp.high());
        return out;
    }
    QString number(double v) const { return qtext(formatNumber(v, m_style.numbers)); }
    void heading() {
        LegendEntry entry = m_entry;
        entry.isHeading = true;
        entry.text = m_name;
        m_out.push_back(entry);
    }
    void put(const QString& said, doc::Look look) {
        LegendEntry entry = m_entry;
        entry.text = said;
        if (!m_style.hasOutlines && m_vector.geometry == GeometryType::Polygon &&
            m_style.classing != doc::Classing::Single)
            look.hasStroke = false;
        entry.look = m_mm == 1 ? std::move(look) : doc::enlarged(std::move(look), m_mm);
        m_out.push_back(entry);
    }
    void missing() {
        if (isSeen(doc::LookFinder::kMissing) &&
            (m_style.missing.hasFill || m_style.missing.hasStroke))
            put(QObject::tr("no data"), m_style.missing);
    }
    void categories() {
        heading();
        for (std::size_t i = 0; i < m_style.categories.size(); ++i)
            if (const doc::Category& one = m_style.categories[i];
                one.isShown && isSeen(static_cast<int>(i)))
                put(qtext(one.label.empty() ? one.value : one.label), one.look);
    }
    void classes() {
        heading();
        const doc::ClassRule& rule = m_style.classes;
        for (std::size_t i = 0; i < rule.classes.size(); ++i)
            if (rule.classes[i].isShown && isSeen(static_cast<int>(i)))
                put(classText(rule, i, m_style.numbers), rule.classes[i].look);
        missing();
    }
    void rules() {
        heading();
        for (std::size_t i = 0; i < m_style.rules.size(); ++i)
            if (const doc::StyleRule& one = m_style.rules[i];
                one.isShown && isSeen(static_cast<int>(i)))
                put(qtext(one.label.empty() ? one.keep : one.label), one.look);
        if (m_style.showsOthers && isSeen(doc::LookFinder::kOthers))
            put(QObject::tr("others"), m_style.others);
    }
    // Those of classes; else of three round numbers: about the largest, a third of it, and a tenth.
    void sizes() {
        const doc::SizeRule& rule = m_style.sizes;
        if (rule.isClassed) return sizedClasses();
        std::vector<double> numbers;
        for (const double share : {1.0, 0.33, 0.08}) {
            const double round = rule.high > 0 ? roundDownTo125(rule.high * share) : 0;
            if (round > 0 && (numbers.empty() || round < numbers.back())) numbers.push_back(round);
        }
        if (m_vector.geometry == GeometryType::Line) {
            heading();
            for (const double n : numbers) {
                doc::Look look = m_style.look;
                look.strokeMm = doc::sizeFor(n, rule);
                put(number(n), look);
            }
            return;
        }
        LegendEntry entry = m_entry;
        entry.text = m_name;
        entry.look = m_style.look;
        for (const double n : numbers)
            entry.circles.push_back({doc::sizeFor(n, rule) * m_mm, number(n)});
        m_out.push_back(entry);
    }
    void sizedClasses() {
        const doc::ClassRule& rule = m_style.classes;
        const std::size_t count = rule.classes.size();
        const bool isLine = m_vector.geometry == GeometryType::Line;
        if (isLine) heading();
        LegendEntry entry = m_entry;
        entry.text = m_name;
        entry.look = m_style.look;
        for (std::size_t k = 0; k < count; ++k) {
            const std::size_t i = isLine ? k : count - 1 - k;  // circles: the largest first
            if (!rule.classes[i].isShown || !isSeen(static_cast<int>(i))) continue;
            const double mm = doc::sizeOfClass(i, count, m_style.sizes);
            const QString said = classText(rule, i, m_style.numbers);
            doc::Look look = m_style.look;
            look.strokeMm = mm;
            if (isLine)
                put(said, look);
            else
                entry.circles.push_back({mm * m_mm, said});
        }
        if (!entry.circles.empty()) m_out.push_back(entry);
        if (!isLine) m_entry.geometry = GeometryType::Point;  // as it stands on areas
        missing();
    }
    void dots() {
        heading();
        const doc::DotRule& rule = m_style.dots;
        for (const doc::DotField& field : rule.fields) {
            LegendEntry entry = m_entry;
            entry.geometry = GeometryType::Point;
            entry.look = {};
            entry.look.fill = field.colour;
            entry.look.hasStroke = false;
            entry.look.markMm = std::max(0.4, rule.dotMm);
            entry.text = QObject::tr("1 dot: %1 %2")
                             .arg(number(rule.each), rule.fields.size() > 1 || m_style.field.empty()
                                                         ? qtext(field.field)
                                                         : QString())
                             .trimmed();
            m_out.push_back(entry);
        }
    }

    std::vector<LegendEntry>& m_out;
    const std::set<int>* m_shown;
    const doc::VectorLayer& m_vector;
    const doc::VectorStyle& m_style;
    QString m_name;
    double m_mm;
    LegendEntry m_entry;
};

int sortKey(const doc::Layer& layer) {
    if (const auto* vector = layer.as<doc::VectorLayer>()) {
        if (vector->geometry == GeometryType::Point) return 0;
        if (vector->geometry == GeometryType::Line) return 1;
        return 2;
    }
    return layer.as<doc::Contours>() ? 1 : 3;
}

// What a layer of each kind has in a legend.
struct EntriesOf {
    const doc::Layer& layer;
    const doc::LegendItem& item;
    std::vector<LegendEntry>& out;
    double scale;
    const std::set<int>* shown;

    void operator()(const doc::VectorLayer&) const {
        VectorEntries(out, layer, item, scale, shown).add();
    }
    void operator()(const doc::HeightTint& tint) const {
        out.push_back(
            rampEntry(layer, nameOf(layer, item), tint.style.ramp, tint.style.numbers, "\u00A0m"));
    }
    void operator()(const doc::RasterLayer& raster) const {
        if (raster.style.image) return;  // a picture explains itself
        if (shown && shown->empty()) return;
        const auto& classes = raster.style.classes;
        const Ramp& ramp = raster.style.ramp;
        const auto steps = stepsOf(ramp);
        if (classes.empty() && steps.empty())
            return out.push_back(
                rampEntry(layer, nameOf(layer, item), ramp, raster.style.numbers, ""));
        heading();
        for (std::size_t i = 0; i < classes.size(); ++i)
            if (classes[i].isShown && (!shown || shown->contains(static_cast<int>(i))))
                patch(qtext(classes[i].name), classes[i].colour);
        for (std::size_t i = 0; classes.empty() && i <= steps.size(); ++i) {
            const auto number = [&](double v) {
                return qtext(formatNumber(v, raster.style.numbers));
            };
            const double from = i == 0 ? ramp.low() : steps[i - 1];
            const double to = i < steps.size() ? steps[i] : ramp.high();
            patch(number(from) + QStringLiteral(" \u2013 ") + number(to), ramp.stops[2 * i].colour);
        }
    }
    void operator()(const doc::Contours& contours) const {
        LegendEntry entry;
        entry.layer = layer.id;
        entry.text = nameOf(layer, item);
        entry.geometry = GeometryType::Line;
        entry.look.stroke = contours.style.land;
        entry.look.strokeMm = contours.style.indexMm;
        out.push_back(entry);
    }
    // Light and steepness are seen as relief, lines of coordinates by their numbers.
    void operator()(const doc::Hillshade&) const {}
    void operator()(const doc::Steepness&) const {}
    void operator()(const doc::GridLines&) const {}
    void operator()(const doc::Group&) const {}
    void operator()(const doc::UnknownLayer&) const {}

private:
    void heading() const {
        LegendEntry heading;
        heading.layer = layer.id;
        heading.text = nameOf(layer, item);
        heading.isHeading = true;
        out.push_back(heading);
    }
    void patch(const QString& said, Colour colour) const {
        LegendEntry entry;
        entry.layer = layer.id;
        entry.geometry = GeometryType::Polygon;
        entry.text = said;
        entry.look.fill = colour;
        entry.look.hasStroke = false;
        out.push_back(entry);
    }
};

// The place an item gives a layer; those it does not name come after.
std::size_t placeIn(const std::vector<doc::Id>& order, doc::Id layer) {
    return static_cast<std::size_t>(std::find(order.begin(), order.end(), layer) - order.begin());
}

// The outermost group of each layer that is in one.
std::map<doc::Id, const doc::Layer*> groupsOf(const std::vector<doc::LayerPtr>& layers) {
    std::map<doc::Id, const doc::Layer*> out;
    for (const doc::LayerPtr& top : layers)
        if (const auto* group = top->as<doc::Group>())
            for (const doc::LayerPtr& inner : doc::allLayers(group->children))
                out.emplace(inner->id, top.get());
    return out;
}

// Where a layer stands in a legend, and the group it stands with.
struct Listed {
    const doc::Layer* layer = nullptr;
    const doc::Layer* group = nullptr;
    std::size_t place = 0;  ///< that the item gives
    int kind = 0;
    std::size_t at = 0;  ///< in the stack, the top first
};

// Groups stand where the first of their layers would.
std::vector<Listed> inOrder(std::vector<Listed> all) {
    using Place = std::tuple<std::size_t, int, std::size_t>;
    std::map<const doc::Layer*, Place> units;
    for (const Listed& one : all) {
        const Place own{one.place, one.kind, one.at};
        const auto [it, isNew] = units.emplace(one.group ? one.group : one.layer, own);
        if (!isNew) it->second = std::min(it->second, own);
    }
    std::sort(all.begin(), all.end(), [&units](const Listed& a, const Listed& b) {
        const auto key = [&units](const Listed& one) {
            return std::pair(units[one.group ? one.group : one.layer],
                             Place(one.place, one.kind, one.at));
        };
        return key(a) < key(b);
    });
    return all;
}
}  // namespace

std::vector<LegendEntry> legendEntries(const std::vector<doc::LayerPtr>& layers,
                                       const doc::LegendItem& item, double scale,
                                       const ShownEntries* shown) {
    const auto drawn = doc::drawnLayers(layers);
    const auto groups = item.hasGroups ? groupsOf(layers) : std::map<doc::Id, const doc::Layer*>();
    const auto isLeftOut = [&item](const doc::Layer& layer) {
        return std::find(item.left_out.begin(), item.left_out.end(), layer.id) !=
               item.left_out.end();
    };
    std::vector<Listed> listed;
    for (auto it = drawn.rbegin(); it != drawn.rend(); ++it) {
        const doc::Layer& layer = *it->layer;
        const auto in = groups.find(layer.id);
        const doc::Layer* group = in == groups.end() ? nullptr : in->second;
        if (isLeftOut(layer) || (group && isLeftOut(*group))) continue;
        std::size_t place = placeIn(item.order, layer.id);
        if (group) place = std::min(place, placeIn(item.order, group->id));
        listed.push_back({&layer, group, place, sortKey(layer), listed.size()});
    }
    std::vector<LegendEntry> out;
    const doc::Layer* last = nullptr;
    for (const Listed& one : inOrder(std::move(listed))) {
        const std::size_t before = out.size();
        if (one.group && one.group != last) {
            LegendEntry heading;
            heading.layer = one.group->id;
            heading.text = nameOf(*one.group, item);
            heading.isHeading = heading.isGroup = true;
            out.push_back(heading);
        }
        const std::size_t headings = out.size() - before;
        const auto seen = shown ? shown->find(one.layer->id) : ShownEntries::const_iterator();
        const bool isCounted = shown && seen != shown->end();
        std::visit(EntriesOf{*one.layer, item, out, scale, isCounted ? &seen->second : nullptr},
                   one.layer->content);
        // A layer that says nothing begins no group.
        if (out.size() == before + headings)
            out.resize(before);
        else
            last = one.group;
    }
    return out;
}

QString classText(const doc::ClassRule& rule, std::size_t i, const NumberFormat& numbers) {
    if (i >= rule.classes.size()) return {};
    if (!rule.classes[i].label.empty()) return qtext(rule.classes[i].label);
    const double from =
        i == 0 ? std::min(rule.low, rule.breaks.empty() ? rule.low : rule.breaks.front())
               : rule.breaks[i - 1];
    const double to = i < rule.breaks.size() ? rule.breaks[i] : std::max(rule.high, from);
    return qtext(formatNumber(from, numbers)) + QStringLiteral(" \u2013 ") +
           qtext(formatNumber(to, numbers));
}

}  // namespace ledge::carto
