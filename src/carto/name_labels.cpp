#include "carto/name_labels.h"

#include <QObject>
#include <cmath>
#include <set>

#include "core/base/constants.h"
#include "core/geometry/clip.h"
#include "core/geometry/measure.h"
#include "core/query/row_values.h"
#include "document/label_pins.h"

namespace ledge::carto {
namespace {
constexpr double kSamePlace = 1.5;  // pixels; and radians

double sizeFactor(double rank) { return rank >= 3 ? 1.4 : (rank >= 2 ? 1.15 : 1.0); }

// Of several polygons the one of which most is seen.
Geometry largestSeen(const GeometryView& g, const Box& frame) {
    Geometry out;
    out.type = GeometryType::Polygon;
    std::size_t best = 0;
    double most = -1;
    for (std::size_t p = 0; p < g.polygons.size(); ++p) {
        const double area = std::abs(signedArea(clipRing(g.part(g.polygons[p]), frame)));
        if (area > most) most = area, best = p;
    }
    const std::size_t end = best + 1 < g.polygons.size() ? g.polygons[best + 1] : g.partCount();
    for (std::size_t i = g.polygons[best]; i < end; ++i) out.addPart(g, i, i == g.polygons[best]);
    return out;
}

std::vector<Point> inPixels(std::span<const Point> line, const Affine& way) {
    std::vector<Point> out;
    out.reserve(line.size());
    for (const Point p : line) out.push_back(way(p));
    return out;
}
double lengthOf(std::span<const Point> line) {
    double out = 0;
    for (std::size_t i = 1; i < line.size(); ++i) out += distance(line[i - 1], line[i]);
    return out;
}
bool isInScale(const doc::LabelStyle& labels, double scale) {
    return (labels.widestScale <= 0 || scale <= labels.widestScale) &&
           (labels.closestScale <= 0 || scale >= labels.closestScale);
}
}  // namespace

/// Makes the wishes of one feature.
struct NameLabels::Maker {
    NameLabels& names;
    const MapFrame& frame;
    const doc::VectorLayer& layer;
    const doc::LabelStyle& labels;
    Wish wish;
    double rank = 0;

    label::Request request() const {
        label::Request out;
        out.rank = rank;
        out.size = wish.text.style.sizePt;
        return out;
    }
    double middle() const { return (wish.text.size.ascent - wish.text.size.descent) / 2; }

    bool pinned(Point anchor) {
        wish.anchor = anchor;
        const double scale = frame.groundScale();
        const doc::LabelPin* pin = labels.pin(wish.of.key, scale);
        if (!pin) return false;
        if (pin->isHidden) return names.leaveOut(wish, QObject::tr("hidden by hand")), true;
        if (!pin->isPlaced || !doc::holdsAt(*pin, scale)) return false;
        const double angle = pin->turn * kRadiansPerDegree;
        const Point along{std::cos(angle), std::sin(angle)}, up{along.y, -along.x};
        label::Candidate at;
        at.angleRadians = angle;
        at.origin = anchor + Point{frame.mm(pin->rightMm), frame.mm(pin->downMm)} -
                    along * (wish.text.size.width / 2) - up * middle();
        at.boxes = label::turnedBoxes(at.origin, angle, wish.text.size);
        wish.isPinned = wish.mayLead = true;
        names.addWish(wish, {}, at);
        return true;
    }

    void ofPoint(Point p) {
        const Point at = frame.toPixels()(p);
        if (pinned(at)) return;
        auto request = this->request();
        request.candidates =
            label::aroundPoint(at, frame.mm(layer.style.look.markMm / 2 + 0.5), wish.text.size);
        wish.align = TextAlign::Left;
        names.addWish(wish, std::move(request));
    }

    void ofLine(const GeometryView& g) {
        const Affine way = frame.toPixels();
        // The longest part; what is very long only where it is seen.
        std::vector<Point> line;
        double length = 0;
        const double most = 12.0 * (frame.widthPx + frame.heightPx);
        for (std::size_t i = 0; i < g.partCount(); ++i) {
            auto part = inPixels(g.part(i), way);
            if (lengthOf(part) > most) {
                const Box page{0, 0, double(frame.widthPx), double(frame.heightPx)};
                std::vector<Point> seen;
                for (auto& piece : clipLine(part, page))
                    if (lengthOf(piece) > lengthOf(seen)) seen = std::move(piece);
                part = std::move(seen);
            }
            if (const double own = lengthOf(part); own > length)
                length = own, line = std::move(part);
        }
        if (line.size() < 2) return;
        if (pinned(way(anchorOf(g)))) return;
        // Letters need a calm baseline.
        line = smoothed(simplified(line, frame.mm(0.4)), 2);
        const double ascent = wish.text.size.ascent, descent = wish.text.size.descent;
        const double off = frame.mm(layer.style.look.strokeMm / 2 + 0.6);
        wish.lift = labels.onLines == doc::LinePlace::Above   ? off + descent * 0.5
                    : labels.onLines == doc::LinePlace::Below ? -(off + ascent)
                                                              : -(ascent - descent) / 2;
        std::vector<label::Candidate> all;
        if (wish.text.canBend()) {
            wish.line = line;
            wish.advances = wish.text.advances(frame.pxPerMm);
            all = label::alongCurve(line, wish.advances, wish.text.size, frame.mm(3), wish.lift);
        } else {
            all = label::alongLine(line, wish.text.size, frame.mm(4), false);
            const double lift = wish.lift + (ascent - descent) / 2;
            for (label::Candidate& c : all) {
                const Point up{std::sin(c.angleRadians) * lift, -std::cos(c.angleRadians) * lift};
                c.origin = c.origin + up;
                for (Box& box : c.boxes)
                    box = {box.xMin + up.x, box.yMin + up.y, box.xMax + up.x, box.yMax + up.y};
            }
        }
        if (all.empty())
            return names.leaveOut(wish, QObject::tr("its line is too short or too bent here"));
        repeat(std::move(all), lengthOf(line));
    }

    // One wish for each stretch as long as labels lie apart.
    void repeat(std::vector<label::Candidate> all, double length) {
        const double every = frame.mm(labels.repeatMm);
        const int parts = std::max(1, static_cast<int>(std::lround(length / every)));
        std::vector<label::Request> requests(static_cast<std::size_t>(parts), request());
        const auto count = all.size();
        for (std::size_t i = 0; i < count; ++i) {
            const auto part = std::min<std::size_t>(i * static_cast<std::size_t>(parts) / count,
                                                    static_cast<std::size_t>(parts) - 1);
            requests[part].candidates.push_back(std::move(all[i]));
        }
        for (int part = 0; part < parts; ++part) {
            wish.of.part = part;
            names.addWish(wish, std::move(requests[static_cast<std::size_t>(part)]));
        }
    }

    void ofArea(const GeometryView& g) {
        const bool isMulti = g.polygons.size() > 1;
        const Geometry part = isMulti ? largestSeen(g, frame.extent()) : Geometry();
        const GeometryView seen = isMulti ? GeometryView(part) : g;
        const Affine way = frame.toPixels();
        const Point anchor = way(anchorOf(seen));
        if (pinned(anchor)) return;
        auto request = this->request();
        if (labels.inAreas == doc::AreaPlace::Along && wish.text.canBend())
            alongAxis(seen, way, request);
        const double room = seen.box().width() / frame.unitsPerPx();
        if (request.candidates.empty() && room > wish.text.size.width * 0.7)
            inside(seen, way, request);
        if (labels.inAreas == doc::AreaPlace::Outside) outside(seen, way, request);
        if (request.candidates.empty())
            return names.leaveOut(wish, QObject::tr("its area is too small at this scale"));
        names.addWish(wish, std::move(request));
    }

    void inside(const GeometryView& seen, const Affine& way, label::Request& request) {
        // A little off the middle where others stand there; what leaves the area stands worse.
        const Point anchor = way(anchorOf(seen));
        const double down = wish.text.size.ascent + wish.text.size.descent,
                     right = wish.text.size.width * 0.25;
        const Point shifts[] = {{0, 0},     {0, -down * 0.6},      {0, down * 0.6},    {-right, 0},
                                {right, 0}, {-right, -down * 0.6}, {right, down * 0.6}};
        const Affine back = frame.toMap();
        for (const Point shift : shifts) {
            auto at = label::centredOn(anchor + shift, wish.text.size).front();
            const Box& box = at.boxes.front();
            int outside = 0;
            for (const Point corner : {Point{box.xMin, box.yMin}, Point{box.xMax, box.yMin},
                                       Point{box.xMax, box.yMax}, Point{box.xMin, box.yMax}})
                outside += isInside(seen, back(corner)) ? 0 : 1;
            at.cost = 0.5 * static_cast<double>(request.candidates.size()) + 2 * outside;
            request.candidates.push_back(std::move(at));
        }
    }

    // Stretched over the long way of the area.
    void alongAxis(const GeometryView& seen, const Affine& way, label::Request& request) {
        std::vector<std::vector<Point>> rings;
        for (std::size_t i = 0; i < seen.partCount(); ++i)
            rings.push_back(inPixels(seen.part(i), way));
        const auto axis = label::axisOf(rings);
        const double length = lengthOf(axis), width = wish.text.size.width;
        if (length < width * 1.15) return;
        const double em = wish.text.style.sizePt * kMmPerPoint * frame.pxPerMm;
        const auto letters = static_cast<double>(wish.text.lines.front().size());
        const double more =
            std::clamp((length * 0.6 - width) / std::max(1.0, letters) / em, 0.0, 2.0);
        wish.line = axis;
        wish.advances = wish.text.advances(frame.pxPerMm, more);
        wish.lift = -middle();
        request.candidates =
            label::alongCurve(axis, wish.advances, wish.text.size, length * 0.04, wish.lift);
        if (request.candidates.empty()) wish.line.clear();
    }

    // Beside a small area, with a line that leads to it.
    void outside(const GeometryView& seen, const Affine& way, label::Request& request) {
        const Point anchor = way(anchorOf(seen));
        const Box box = seen.box();
        const double radius =
            std::hypot(box.width(), box.height()) / 2 / frame.unitsPerPx() * 0.7 + frame.mm(0.8);
        // Where it fits inside it stands there; with half of it outside it is led to.
        const double base = request.candidates.empty() ? 0 : 3.5;
        for (const double away : {radius, radius + frame.mm(5)})
            for (label::Candidate& at : label::aroundPoint(anchor, away, wish.text.size)) {
                at.cost += base + (away > radius ? 8 : 0);
                request.candidates.push_back(std::move(at));
            }
        wish.mayLead = true;
    }
};

void NameLabels::pin(label::Key key, const std::vector<Box>& boxes) {
    m_scene.add({key, {}, label::Candidate{{}, 0, boxes, 0, {}, false}});
}

void NameLabels::add(const doc::MapFeatures& features, const doc::VectorLayer& layer, doc::Id id) {
    const auto rows = features.index.meeting(m_frame.extent());
    keepOff(features, layer, rows);
    for (std::size_t set = 0; set < layer.labels.size(); ++set) {
        const doc::LabelStyle& labels = layer.labels[set];
        if (labels.isOn && !labels.text.empty() && isInScale(labels, m_frame.groundScale()))
            addSet(features, layer, id, static_cast<int>(set), rows);
    }
}

void NameLabels::keepOff(const doc::MapFeatures& features, const doc::VectorLayer& layer,
                         std::span<const std::size_t> rows) {
    // Where there are very many, keeping off all of them is keeping off none.
    constexpr std::size_t kMostRows = 20'000, kMostPoints = 400'000;
    constexpr double kWeight = 12;  // a line across a label costs about as much as the next place
    if (!(layer.keepsLabelsOff > 0) || rows.size() > kMostRows) return;
    const Affine way = m_frame.toPixels();
    const double radius = m_frame.mm(layer.style.look.markMm / 2);
    std::size_t points = 0;
    for (const std::size_t i : rows) {
        const GeometryView g = features.shapeOf(i, m_frame.unitsPerPx());
        if ((points += g.points.size()) > kMostPoints) return;
        if (g.type == GeometryType::Point) {
            for (const Point p : g.points) {
                const Point at = way(p);
                m_scene.avoid(Box{at.x, at.y, at.x, at.y}.grown(radius * 0.7));
            }
            continue;
        }
        for (std::size_t k = 0; k < g.partCount(); ++k)
            m_scene.field().add(inPixels(g.part(k), way),
                                kWeight * layer.keepsLabelsOff *
                                    (g.type == GeometryType::Line ? 1 : 0.5));
    }
}

void NameLabels::addSet(const doc::MapFeatures& features, const doc::VectorLayer& layer, doc::Id id,
                        int set, std::span<const std::size_t> rows) {
    const doc::LabelStyle& labels = layer.labels[static_cast<std::size_t>(set)];
    const FeatureTable& table = *features.table;
    auto texts = query::RowValues::of(labels.text, table);
    if (!texts) return;
    std::optional<query::RowValues> ranks, keep;
    if (!labels.rank.empty())
        if (auto read = query::RowValues::of(labels.rank, table)) ranks = *std::move(read);
    if (!labels.keep.empty()) {
        auto read = query::RowValues::of(labels.keep, table);
        if (!read) return;
        keep = *std::move(read);
    }
    for (const std::size_t row : rows) {
        if (keep && !keep->isTrue(row)) continue;
        const FeatureView feature = table[row];
        const GeometryView shape = features.shapeOf(row, m_frame.unitsPerPx());
        const doc::LabelPin* pin = labels.pin(feature.id, m_frame.groundScale());
        const QString text = pin && !pin->text.empty() ? QString::fromStdString(pin->text)
                                                       : labelled(texts->value(row), labels);
        if (text.trimmed().isEmpty()) continue;
        const double ranked = ranks ? ranks->number(row) : 1;
        const double rank = std::isfinite(ranked) ? ranked : 0;
        Maker maker{*this, m_frame, layer, labels, {}, rank};
        maker.wish.of = {id, set, feature.id, 0};
        const double size = pin && pin->sizePt > 0 ? pin->sizePt : labels.sizePt * sizeFactor(rank);
        maker.wish.text = carto::set(text, labels, size, m_frame.pxPerMm);
        if (pin && pin->colour) maker.wish.text.style.colour = *pin->colour;
        switch (shape.type) {
        case GeometryType::Point: maker.ofPoint(shape.points.front()); break;
        case GeometryType::Line: maker.ofLine(shape); break;
        case GeometryType::Polygon: maker.ofArea(shape); break;
        case GeometryType::None: break;
        }
    }
}

void NameLabels::addWish(Wish wish, label::Request request, std::optional<label::Candidate> pin) {
    const Box page{0, 0, double(m_frame.widthPx), double(m_frame.heightPx)};
    // What lies beyond the frame is of no use; of a line only what is seen.
    std::erase_if(request.candidates, [&](const label::Candidate& at) {
        return std::none_of(at.boxes.begin(), at.boxes.end(),
                            [&](const Box& box) { return page.intersects(box); });
    });
    if (!pin && request.candidates.empty()) return;
    if (m_before && !pin)
        if (const auto it = m_before->find(wish.of); it != m_before->end()) {
            const Point was = m_frame.toPixels()(it->second.origin);
            double nearest = kSamePlace;
            for (std::size_t i = 0; i < request.candidates.size(); ++i) {
                const auto& at = request.candidates[i];
                const double away =
                    distance(at.origin, was) + std::abs(at.angleRadians - it->second.angleRadians);
                if (away < nearest) nearest = away, request.kept = i;
            }
            // One that the edge cuts leaves the map where it stands, rather than jump to another
            // side of what it names.
            if (request.kept)
                for (const Box& box : request.candidates[*request.kept].boxes)
                    if (!page.contains({box.xMin, box.yMin}) ||
                        !page.contains({box.xMax, box.yMax}))
                        return leaveOut(wish, QObject::tr("it leaves the map at the edge"));
        }
    const label::Key key{wish.of.layer, wish.of.key, wish.of.part + 4096 * wish.of.set};
    const std::size_t number = m_scene.add({key, std::move(request), std::move(pin)});
    m_wishes.emplace(number, std::move(wish));
}

void NameLabels::leaveOut(const Wish& wish, const QString& why) {
    const Box page{0, 0, double(m_frame.widthPx), double(m_frame.heightPx)};
    if (page.contains(wish.anchor))
        m_leftOut.push_back({wish.of, wish.text.plain(), why, wish.anchor});
}

Point NameLabels::middleOf(const Wish& wish, const label::Candidate& at) const {
    if (!at.boxes.empty() && at.from) return at.boxes[at.boxes.size() / 2].centre();
    const Point along{std::cos(at.angleRadians), std::sin(at.angleRadians)}, up{along.y, -along.x};
    return at.origin + along * (wish.text.size.width / 2) +
           up * ((wish.text.size.ascent - wish.text.size.descent) / 2);
}

void NameLabels::draw(QPainter& painter, const Wish& wish, const label::Candidate& at) const {
    if (at.from)
        return drawLetters(
            painter, wish.text,
            label::lettersAlong(wish.line, wish.advances, *at.from, at.isReversed, wish.lift),
            m_frame.pxPerMm);
    if (wish.mayLead) {
        // From the nearest edge of the text, where that is far enough to be seen.
        Box all;
        for (const Box& box : at.boxes) all.add(box);
        const Point from{std::clamp(wish.anchor.x, all.xMin, all.xMax),
                         std::clamp(wish.anchor.y, all.yMin, all.yMax)};
        if (distance(from, wish.anchor) > m_frame.mm(2.5)) {
            painter.setRenderHint(QPainter::Antialiasing);
            painter.setPen(QPen(qt(wish.text.style.colour), std::max(0.5, m_frame.mm(0.13))));
            painter.drawLine(qt(from), qt(wish.anchor));
        }
    }
    drawLabel(painter, wish.text, at.origin, at.angleRadians, wish.align, m_frame.pxPerMm);
}

bool NameLabels::stoodThere(const Wish& wish, const label::Candidate& at) const {
    if (!m_before) return false;
    const auto it = m_before->find(wish.of);
    if (it == m_before->end() || it->second.boxes.empty()) return false;
    const Point was = m_frame.toPixels()(it->second.origin);
    return distance(at.origin, was) + std::abs(at.angleRadians - it->second.angleRadians) <
           kSamePlace;
}

NameLabels::Outcome NameLabels::paint(const LabelPainters& painters) {
    Outcome out;
    out.leftOut = m_leftOut;
    std::vector<bool> isPlaced(m_scene.size(), false);
    for (const label::Scene::Placed& placed : m_scene.place()) {
        isPlaced[placed.wish] = true;
        const auto it = m_wishes.find(placed.wish);
        if (it == m_wishes.end()) continue;
        const Wish& wish = it->second;
        draw(stoodThere(wish, placed.at) ? painters.standing : painters.coming, wish, placed.at);
        out.placed.push_back({wish.of, wish.text.plain(), wish.anchor, placed.at.origin,
                              middleOf(wish, placed.at), placed.at.angleRadians, placed.at.boxes,
                              wish.isPinned});
    }
    // One that is repeated is left out only where none of it stands.
    const auto whole = [](LabelOf of) { return of.part = 0, of; };
    std::set<LabelOf> told;
    for (const MapLabel& label : out.placed) told.insert(whole(label.of));
    for (const auto& [number, wish] : m_wishes) {
        if (isPlaced[number] || !told.insert(whole(wish.of)).second) continue;
        out.leftOut.push_back({wish.of, wish.text.plain(),
                               QObject::tr("other labels, marks or the edge are in its way"),
                               wish.anchor});
    }
    return out;
}

}  // namespace ledge::carto
