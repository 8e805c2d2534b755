#include "carto/legend.h"

#include <QObject>

#include "carto/map_frame.h"
#include "carto/swatch.h"
#include "document/look_finder.h"

namespace ledge::carto {
namespace {
constexpr double kPatchWidthMm = 7, kPatchHeightMm = 4, kGapMm = 2.5, kRampMm = 34;

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
                  const doc::LegendItem& item)
        : m_out(out), m_vector(*layer.as<doc::VectorLayer>()), m_style(m_vector.style),
          m_name(nameOf(layer, item)) {
        m_entry.layer = layer.id;
        m_entry.geometry = m_vector.geometry;
    }
    void add() {
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
        entry.look = std::move(look);
        m_out.push_back(entry);
    }
    void missing() {
        if (m_style.missing.hasFill || m_style.missing.hasStroke)
            put(QObject::tr("no data"), m_style.missing);
    }
    void categories() {
        heading();
        for (const doc::Category& one : m_style.categories)
            if (one.isShown) put(text(one.label.empty() ? one.value : one.label), one.look);
    }
    void classes() {
        heading();
        const doc::ClassRule& rule = m_style.classes;
        for (std::size_t i = 0; i < rule.classes.size(); ++i)
            if (rule.classes[i].isShown)
                put(classText(rule, i, m_style.numbers), rule.classes[i].look);
        missing();
    }
    void rules() {
        heading();
        for (const doc::StyleRule& one : m_style.rules)
            if (one.isShown) put(text(one.label.empty() ? one.keep : one.label), one.look);
        if (m_style.showsOthers) put(QObject::tr("others"), m_style.others);
    }
    // Three round numbers: about the largest, a third of it, and a tenth.
    void sizes() {
        const doc::SizeRule& rule = m_style.sizes;
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
        for (const double n : numbers) entry.circles.push_back({doc::sizeFor(n, rule), number(n)});
        m_out.push_back(entry);
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
    const doc::VectorLayer& m_vector;
    const doc::VectorStyle& m_style;
    QString m_name;
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

double heightOf(const LegendEntry& e, const doc::LegendItem& item, double mm) {
    const double line = item.sizePt * kMmPerPoint * mm;
    if (e.isHeading) return line * 1.25 + 0.8 * mm;
    if (e.ramp) return line + 4.2 * mm + line * 1.2 + kGapMm * mm * 0.6;
    if (!e.circles.empty())
        return line * 1.3 + std::max(e.circles.front().mm * mm, line * double(e.circles.size())) +
               kGapMm * mm;
    return std::max(kPatchHeightMm * mm, line) + kGapMm * mm * 0.6;
}

// Marks of three sizes standing in one another, each led to its number.
void paintCircles(QPainter& painter, QPointF at, const LegendEntry& e, const TextStyle& style,
                  double mm) {
    const double line = style.sizePt * kMmPerPoint * mm;
    drawText(painter, {at.x(), at.y() + line * 0.85}, 0, e.text, style, mm);
    const double largest = e.circles.front().mm * mm;
    const double top = at.y() + line * 1.3;
    const double bottom = top + std::max(largest, line * double(e.circles.size()));
    const double middle = at.x() + std::max(largest, kPatchWidthMm * mm) / 2;
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

void paintEntry(QPainter& painter, QPointF at, double width, const LegendEntry& e,
                const doc::LegendItem& item, double mm) {
    TextStyle style;
    style.sizePt = item.sizePt;
    style.isBold = e.isHeading;
    const double line = item.sizePt * kMmPerPoint * mm;
    const auto say = [&](double x, double baseline, const QString& what) {
        drawText(painter, {at.x() + x, at.y() + baseline}, 0, what, style, mm);
    };
    if (e.isHeading) return say(0, line, e.text);
    if (e.ramp) {
        say(0, line * 0.85, e.text);
        const double barWidth = std::min(width - 4 * mm, kRampMm * mm);
        const QRectF bar(at.x(), at.y() + line + 0.6 * mm, barWidth, 2.6 * mm);
        drawRamp(painter, bar, aboveZero(*e.ramp));
        style.sizePt = item.sizePt * 0.86;
        style.colour = {0x55, 0x59, 0x78};
        const double baseline = line + 0.6 * mm + 2.6 * mm + line;
        say(0, baseline, e.low);
        say(barWidth / 2 - measure(e.middle, style, mm).width / 2, baseline, e.middle);
        say(barWidth - measure(e.high.section(QChar(0xA0), 0, 0), style, mm).width, baseline,
            e.high);
        return;
    }
    if (!e.circles.empty()) return paintCircles(painter, at, e, style, mm);
    drawSample(painter, QRectF(at.x(), at.y(), kPatchWidthMm * mm, kPatchHeightMm * mm), e.geometry,
               e.look, mm);
    say((kPatchWidthMm + 2) * mm, kPatchHeightMm * mm / 2 + line * 0.36, e.text);
}

// What a layer of each kind has in a legend.
struct EntriesOf {
    const doc::Layer& layer;
    const doc::LegendItem& item;
    std::vector<LegendEntry>& out;

    void operator()(const doc::VectorLayer&) const { VectorEntries(out, layer, item).add(); }
    void operator()(const doc::HeightTint& tint) const {
        out.push_back(
            rampEntry(layer, nameOf(layer, item), tint.style.ramp, tint.style.numbers, "\u00A0m"));
    }
    void operator()(const doc::RasterLayer& raster) const {
        if (raster.style.image) return;  // a picture explains itself
        if (raster.style.classes.empty())
            return out.push_back(
                rampEntry(layer, nameOf(layer, item), raster.style.ramp, raster.style.numbers, ""));
        LegendEntry heading;
        heading.layer = layer.id;
        heading.text = nameOf(layer, item);
        heading.isHeading = true;
        out.push_back(heading);
        for (const doc::RasterClass& shown : raster.style.classes) {
            if (!shown.isShown) continue;
            LegendEntry entry;
            entry.layer = layer.id;
            entry.geometry = GeometryType::Polygon;
            entry.text = text(shown.name);
            entry.look.fill = shown.colour;
            entry.look.hasStroke = false;
            out.push_back(entry);
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
};
}  // namespace

std::vector<LegendEntry> legendEntries(const std::vector<doc::LayerPtr>& layers,
                                       const doc::LegendItem& item) {
    auto drawn = doc::drawnLayers(layers);
    std::reverse(drawn.begin(), drawn.end());
    std::stable_sort(drawn.begin(), drawn.end(), [](const auto& a, const auto& b) {
        return sortKey(*a.layer) < sortKey(*b.layer);
    });
    std::vector<LegendEntry> out;
    for (const doc::DrawnLayer& one : drawn) {
        const doc::Layer& layer = *one.layer;
        if (std::find(item.left_out.begin(), item.left_out.end(), layer.id) != item.left_out.end())
            continue;
        std::visit(EntriesOf{layer, item, out}, layer.content);
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

double paintLegend(QPainter& painter, const QRectF& rect, const std::vector<LegendEntry>& entries,
                   const doc::LegendItem& item, double mm) {
    double top = rect.top();
    if (!item.title.empty()) {
        const TextStyle title{item.sizePt * 1.2, true, false, {0x23, 0x26, 0x3F}, false, 0};
        drawText(painter, {rect.left(), top + title.sizePt * kMmPerPoint * mm}, 0, text(item.title),
                 title, mm);
        top += title.sizePt * kMmPerPoint * mm * 1.6;
    }
    double total = 0, tallest = 0;
    for (const LegendEntry& e : entries) {
        total += heightOf(e, item, mm);
        tallest = std::max(tallest, heightOf(e, item, mm));
    }
    const int columns = std::max(1, item.columns);
    const double goal = total / columns, width = rect.width() / columns;
    double y = top, lowest = top;
    int column = 0;
    for (std::size_t i = 0; i < entries.size(); ++i) {
        const double height = heightOf(entries[i], item, mm);
        // A heading stays with what it heads.
        const double needed = height + (entries[i].isHeading && i + 1 < entries.size()
                                            ? heightOf(entries[i + 1], item, mm)
                                            : 0);
        if (column + 1 < columns && y > top && y - top + needed / 2 > goal) {
            ++column;
            y = top;
        }
        paintEntry(painter, {rect.left() + column * width, y}, width, entries[i], item, mm);
        y += height;
        lowest = std::max(lowest, y);
    }
    return lowest - rect.top();
}

}  // namespace ledge::carto
