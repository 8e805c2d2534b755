#include "carto/legend.h"

#include <QObject>
#include <map>
#include <tuple>

#include "carto/map_frame.h"
#include "carto/swatch.h"
#include "document/look_finder.h"

namespace ledge::carto {
namespace {
constexpr double kGapMm = 2.5, kRampMm = 34, kLeastPt = 5, kGroupTimes = 1.15;
// Samples keep their shape.
double patchHeightMm(const doc::LegendItem& item) { return item.patchMm * 4 / 7; }

QString text(const std::string& s) { return QString::fromStdString(s); }

QString nameOf(const doc::Layer& layer, const doc::LegendItem& item) {
    const auto it = item.names.find(layer.id);
    return text(it == item.names.end() ? layer.name : it->second);
}

LegendEntry rampEntry(const doc::Layer& layer, const QString& name, const Ramp& ramp,
                      const NumberFormat& numbers, const char* unit) {
    LegendEntry out;
    out.layer = layer.id;
    out.text = name;
    out.ramp = ramp;
    const double low = ramp.low() < 0 && ramp.high() > 0 ? 0 : ramp.low();
    out.low = text(formatNumber(low, numbers));
    out.middle = text(formatNumber((low + ramp.high()) / 2, numbers));
    out.high = text(formatNumber(ramp.high(), numbers) + unit);
    return out;
}

// Only the land is drawn beside the numbers; the sea is told by its place on the map.
Ramp aboveZero(const Ramp& ramp) {
    if (!(ramp.low() < 0 && ramp.high() > 0)) return ramp;
    Ramp out;
    for (const RampStop& stop : ramp.stops)
        if (stop.value > 0 || (stop.value == 0 && (out.stops.empty() || stop.value == 0)))
            out.stops.push_back(stop);
    // Of the two stops at the shore the second is the land's.
    if (out.stops.size() > 1 && out.stops[0].value == 0 && out.stops[1].value == 0)
        out.stops.erase(out.stops.begin());
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
    QString number(double v) const { return text(formatNumber(v, m_style.numbers)); }
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
                put(text(one.label.empty() ? one.value : one.label), one.look);
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
                put(text(one.label.empty() ? one.keep : one.label), one.look);
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
                                                         ? text(field.field)
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

// One size of type and samples: how high and wide entries are.
class Measure {
public:
    Measure(const doc::LegendItem& item, double mm) : m_item(item), m_mm(mm) {}
    double line() const { return m_item.sizePt * kMmPerPoint * m_mm; }
    double patchWidth() const { return m_item.patchMm * m_mm; }
    double patchHeight() const { return patchHeightMm(m_item) * m_mm; }
    double textLeft(const LegendEntry& e) const {
        return e.isHeading || e.ramp || !e.circles.empty() ? 0 : patchWidth() + 2 * m_mm;
    }
    TextStyle styleOf(const LegendEntry& e) const {
        TextStyle style;
        style.sizePt = m_item.sizePt * (e.isGroup ? kGroupTimes : 1);
        style.isBold = e.isHeading;
        style.font = m_item.font;
        return style;
    }
    QStringList linesOf(const LegendEntry& e, double column) const {
        return wrapped(e.text, styleOf(e), column - textLeft(e) - m_mm, m_mm);
    }
    /// What no line break makes narrower.
    double leastWidth(const LegendEntry& e) const {
        double out = textLeft(e);
        if (e.ramp) out = std::max(out, 20 * m_mm);
        for (const QString& word : e.text.split(' '))
            out = std::max(out, textLeft(e) + measure(word, styleOf(e), m_mm).width + m_mm);
        return out;
    }
    double height(const LegendEntry& e, double column) const {
        const auto more = static_cast<double>(linesOf(e, column).size() - 1) * line() * 1.2;
        if (e.isGroup) return line() * 1.25 * kGroupTimes + more * kGroupTimes + 1.2 * m_mm;
        if (e.isHeading) return line() * 1.25 + more + 0.8 * m_mm;
        if (e.ramp) return line() + more + 4.2 * m_mm + line() * 1.2 + kGapMm * m_mm * 0.6;
        if (!e.circles.empty())
            return line() * 1.3 + more +
                   std::max(e.circles.front().mm * m_mm,
                            line() * static_cast<double>(e.circles.size())) +
                   kGapMm * m_mm;
        return std::max(patchHeight(), line() + more) + kGapMm * m_mm * 0.6;
    }

private:
    const doc::LegendItem& m_item;
    double m_mm;
};

// Marks of three sizes standing in one another, each led to its number.
void paintCircles(QPainter& painter, QPointF at, const LegendEntry& e, const TextStyle& style,
                  double patchMm, double mm) {
    const double line = style.sizePt * kMmPerPoint * mm;
    const double largest = e.circles.front().mm * mm;
    const double top = at.y() + line * 0.3;
    const double bottom = top + std::max(largest, line * static_cast<double>(e.circles.size()));
    const double middle = at.x() + std::max(largest, patchMm * mm) / 2;
    const double right = middle + largest / 2 + 1.5 * mm;
    TextStyle small = style;
    small.sizePt *= 0.86;
    double free = top;  // numbers stand below one another even where tops of marks do not
    for (const LegendEntry::Circle& circle : e.circles) {
        const double d = circle.mm * mm;
        doc::Look look = e.look;
        look.markMm = circle.mm;
        drawSample(painter, QRectF(middle - d / 2, bottom - d, d, d), GeometryType::Point, look,
                   mm);
        const double y = std::max(bottom - d, free + line * 0.4);
        painter.setPen(QPen(qt(Colour{0x6B, 0x6F, 0x8E}), std::max(0.5, 0.1 * mm)));
        painter.drawLine(QPointF(middle, bottom - d), QPointF(right - 0.4 * mm, y));
        drawText(painter, {right, y + line * 0.3}, 0, circle.text, small, mm);
        free = y + line * 0.55;
    }
}

void paintRampEntry(QPainter& painter, QPointF at, double width, const LegendEntry& e,
                    TextStyle style, double mm) {
    const double line = style.sizePt * kMmPerPoint * mm;
    const double barWidth = std::min(width - 4 * mm, kRampMm * mm);
    const QRectF bar(at.x(), at.y() + 0.6 * mm, barWidth, 2.6 * mm);
    drawRamp(painter, bar, aboveZero(*e.ramp));
    style.sizePt *= 0.86;
    style.colour = {0x55, 0x59, 0x78};
    const double baseline = at.y() + 0.6 * mm + 2.6 * mm + line;
    const auto say = [&](double x, const QString& what) {
        drawText(painter, {at.x() + x, baseline}, 0, what, style, mm);
    };
    say(0, e.low);
    say(barWidth / 2 - measure(e.middle, style, mm).width / 2, e.middle);
    say(barWidth - measure(e.high.section(QChar(0xA0), 0, 0), style, mm).width, e.high);
}

void paintEntry(QPainter& painter, QPointF at, double width, const LegendEntry& e,
                const doc::LegendItem& item, double mm) {
    const Measure measured(item, mm);
    const TextStyle style = measured.styleOf(e);
    const QStringList lines = measured.linesOf(e, width);
    const double line = measured.line() * (e.isGroup ? kGroupTimes : 1),
                 left = measured.textLeft(e);
    const bool isPatch = left > 0;
    // Beside a sample the first line stands at its middle.
    double baseline = at.y() + (isPatch ? measured.patchHeight() / 2 + line * 0.36 : line * 0.85);
    if (e.isHeading) baseline = at.y() + line;
    for (const QString& said : lines) {
        drawText(painter, {at.x() + left, baseline}, 0, said, style, mm);
        baseline += line * 1.2;
    }
    const QPointF below(at.x(), at.y() + line + static_cast<double>(lines.size() - 1) * line * 1.2);
    if (e.ramp) return paintRampEntry(painter, below, width, e, style, mm);
    if (!e.circles.empty()) return paintCircles(painter, below, e, style, item.patchMm, mm);
    if (isPatch)
        drawSample(painter, QRectF(at, QSizeF(measured.patchWidth(), measured.patchHeight())),
                   e.geometry, e.look, mm);
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
                patch(text(classes[i].name), classes[i].colour);
        for (std::size_t i = 0; classes.empty() && i <= steps.size(); ++i) {
            const auto number = [&](double v) {
                return text(formatNumber(v, raster.style.numbers));
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
    if (!rule.classes[i].label.empty()) return text(rule.classes[i].label);
    const double from =
        i == 0 ? std::min(rule.low, rule.breaks.empty() ? rule.low : rule.breaks.front())
               : rule.breaks[i - 1];
    const double to = i < rule.breaks.size() ? rule.breaks[i] : std::max(rule.high, from);
    return text(formatNumber(from, numbers)) + QStringLiteral(" \u2013 ") +
           text(formatNumber(to, numbers));
}

namespace {
double titleHeight(const doc::LegendItem& item, double mm) {
    return item.title.empty() ? 0 : item.sizePt * 1.2 * kMmPerPoint * mm * 1.6;
}

// Entries one below the other, going on in the next column when the wanted height is reached.
LegendLayout laidOut(const QRectF& rect, const std::vector<LegendEntry>& entries,
                     const doc::LegendItem& item, double mm, double wanted) {
    const Measure measured(item, mm);
    LegendLayout out;
    out.sizePt = item.sizePt, out.columns = std::max(1, item.columns);
    out.columnPx = rect.width() / out.columns;
    const double top = titleHeight(item, mm);
    double y = top;
    int column = 0;
    for (std::size_t i = 0; i < entries.size(); ++i) {
        const double height = measured.height(entries[i], out.columnPx);
        // A heading stays with what it heads.
        double needed = height;
        for (std::size_t k = i; entries[k].isHeading && k + 1 < entries.size(); ++k)
            needed += measured.height(entries[k + 1], out.columnPx);
        if (column + 1 < out.columns && y > top && y - top + needed / 2 > wanted) {
            ++column;
            y = top;
        }
        // The gap after the last entry may be beyond the edge.
        if (y + needed - kGapMm * mm > rect.height() && column + 1 < out.columns && y > top) {
            ++column;
            y = top;
        }
        if (y + height - kGapMm * mm > rect.height() * (1 + 1e-9)) {
            out.leftOut = entries.size() - i;
            break;
        }
        out.places.push_back({column * out.columnPx, y});
        y += height;
        out.height = std::max(out.height, y);
    }
    out.width = std::min(rect.width(), out.columnPx * (column + 1));
    return out;
}

LegendLayout balanced(const QRectF& rect, const std::vector<LegendEntry>& entries,
                      const doc::LegendItem& item, double mm) {
    const Measure measured(item, mm);
    const int columns = std::max(1, item.columns);
    double total = 0;
    for (const LegendEntry& e : entries) total += measured.height(e, rect.width() / columns);
    return laidOut(rect, entries, item, mm, total / columns);
}

bool isWideEnough(const QRectF& rect, const std::vector<LegendEntry>& entries,
                  const doc::LegendItem& item, double mm) {
    const Measure measured(item, mm);
    const double column = rect.width() / std::max(1, item.columns);
    return std::all_of(entries.begin(), entries.end(), [&](const LegendEntry& e) {
        return measured.leastWidth(e) <= column * (1 + 1e-9);
    });
}
}  // namespace

LegendLayout legendLayout(const QRectF& rect, const std::vector<LegendEntry>& entries,
                          const doc::LegendItem& item, double mm) {
    LegendLayout first = balanced(rect, entries, item, mm);
    if (!item.fits || (first.leftOut == 0 && isWideEnough(rect, entries, item, mm))) return first;
    // Columns give way before type does.
    for (double size = item.sizePt; size >= std::min(kLeastPt, item.sizePt) - 1e-9; size *= 0.94)
        for (const int more : {0, 1, -1, 2, -2, 3, -3}) {
            doc::LegendItem tried = item;
            tried.columns = item.columns + more;
            if (tried.columns < 1 || tried.columns > 12) continue;
            tried.sizePt = size;
            tried.patchMm = item.patchMm * size / item.sizePt;
            if (!isWideEnough(rect, entries, tried, mm)) continue;
            LegendLayout out = balanced(rect, entries, tried, mm);
            if (out.leftOut == 0) return out;
        }
    return first;
}

double paintLegend(QPainter& painter, const QRectF& rect, const std::vector<LegendEntry>& entries,
                   const doc::LegendItem& item, double mm) {
    const LegendLayout layout = legendLayout(rect, entries, item, mm);
    doc::LegendItem shown = item;
    shown.patchMm *= item.sizePt > 0 ? layout.sizePt / item.sizePt : 1;
    shown.sizePt = layout.sizePt;
    TextStyle title{layout.sizePt * 1.2, true, false, {0x23, 0x26, 0x3F}, false, 0};
    title.font = item.font;
    if (!item.title.empty())
        drawText(painter, {rect.left(), rect.top() + title.sizePt * kMmPerPoint * mm}, 0,
                 text(item.title), title, mm);
    for (std::size_t i = 0; i < layout.places.size(); ++i)
        paintEntry(painter, rect.topLeft() + QPointF(layout.places[i].x, layout.places[i].y),
                   layout.columnPx, entries[i], shown, mm);
    if (layout.leftOut > 0) {
        TextStyle style{std::min(6.0, layout.sizePt), false, true, {0xB4, 0x53, 0x2A}, false, 0};
        drawText(painter, {rect.left(), rect.bottom() - 0.6 * mm}, 0,
                 QObject::tr("and %n more", "", static_cast<int>(layout.leftOut)), style, mm);
    }
    return layout.height;
}

}  // namespace ledge::carto
