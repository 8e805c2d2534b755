#include "carto/legend.h"

#include <QObject>

#include "carto/map_frame.h"
#include "carto/swatch.h"

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

void addVector(std::vector<LegendEntry>& out, const doc::Layer& layer,
               const doc::LegendItem& item) {
    const auto& vector = *layer.as<doc::VectorLayer>();
    const doc::VectorStyle& style = vector.style;
    const QString name = nameOf(layer, item);
    LegendEntry entry;
    entry.layer = layer.id;
    entry.geometry = vector.geometry;
    if (style.classing == doc::Classing::Categories) {
        entry.isHeading = true;
        entry.text = name;
        out.push_back(entry);
        entry.isHeading = false;
        for (const doc::Category& category : style.categories) {
            entry.text = text(category.label.empty() ? category.value : category.label);
            entry.look = category.look;
            out.push_back(entry);
        }
        return;
    }
    if (style.classing == doc::Classing::Ramp) {
        out.push_back(rampEntry(layer, name, style.ramp, style.numbers, ""));
        if (style.missing.hasFill || style.missing.hasStroke) {
            entry.text = QObject::tr("no data");
            entry.look = style.missing;
            out.push_back(entry);
        }
        return;
    }
    entry.text = name;
    entry.look = style.look;
    out.push_back(entry);
}

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
    return std::max(kPatchHeightMm * mm, line) + kGapMm * mm * 0.6;
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
    drawSample(painter, QRectF(at.x(), at.y(), kPatchWidthMm * mm, kPatchHeightMm * mm), e.geometry,
               e.look, mm);
    say((kPatchWidthMm + 2) * mm, kPatchHeightMm * mm / 2 + line * 0.36, e.text);
}

// What a layer of each kind has in a legend.
struct EntriesOf {
    const doc::Layer& layer;
    const doc::LegendItem& item;
    std::vector<LegendEntry>& out;

    void operator()(const doc::VectorLayer&) const { addVector(out, layer, item); }
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
