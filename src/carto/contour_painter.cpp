#include "carto/contour_painter.h"

#include <QPolygonF>
#include <map>

#include "carto/contour_ladders.h"
#include "carto/relief.h"
#include "carto/text.h"
#include "core/base/numbers.h"
#include "core/base/parallel.h"
#include "core/crs/transformation.h"
#include "core/geometry/clip.h"
#include "core/terrain/smooth_surface.h"

namespace ledge::carto {
namespace {
constexpr double kLabelEveryMm = 90;

// Pixels between grid points: fine enough to look smooth, not finer than what can be seen.
double gridStep(const Pyramid& pyramid, const MapFrame& frame) {
    const double cellPx = cellPixels(pyramid, frame);
    return std::max({1.0, 0.22 * frame.pxPerMm, std::min(cellPx / 2, 6.0)});
}

// As files are smoothed: by a spline over the cells. Here by as many passes of it over the finer
// points as spread each height as far (variances add up).
void smoothToCells(Grid<float>& heights, double step, const Pyramid& pyramid,
                   const MapFrame& frame) {
    const double share = cellPixels(pyramid, frame) / step;
    const int passes = static_cast<int>(std::clamp(std::round(share * share), 1.0, 16.0));
    for (int i = 0; i < passes; ++i)
        heights = terrain::smoothSurface(heights.view(), {}, 1).heights;
}

TextStyle labelText(const doc::ContourStyle& style, bool isWater) {
    TextStyle text;
    text.sizePt = style.labelPt;
    text.isItalic = isWater;
    text.colour = isWater ? style.water : style.land;
    return text;
}

// The stretches of a line that lie outside all boxes, cut to within half a pixel.
std::vector<std::vector<Point>> without(const std::vector<Point>& line,
                                        const std::vector<Box>& boxes) {
    std::vector<std::vector<Point>> out(1);
    const auto add = [&](Point p) {
        const bool isBeneath =
            std::any_of(boxes.begin(), boxes.end(), [p](const Box& b) { return b.contains(p); });
        if (!isBeneath)
            out.back().push_back(p);
        else if (!out.back().empty())
            out.emplace_back();
    };
    Box all;
    for (const Box& box : boxes) all.add(box);
    for (std::size_t i = 0; i < line.size(); ++i) {
        Box segment;
        if (i > 0) segment.add(line[i - 1]), segment.add(line[i]);
        if (i > 0 && segment.intersects(all)) {
            const int steps = static_cast<int>(distance(line[i - 1], line[i]) / 0.5);
            for (int k = 1; k < steps; ++k)
                add(line[i - 1] + (line[i] - line[i - 1]) * (double(k) / steps));
        }
        add(line[i]);
    }
    std::erase_if(out, [](const auto& piece) { return piece.size() < 2; });
    return out;
}

// The labels of a frame before in the pixels of this one, by their levels.
std::multimap<double, ContourDrawing::Label>
standing(const ContourDrawing* before, const MapFrame& beforeFrame, const MapFrame& frame) {
    std::multimap<double, ContourDrawing::Label> out;
    if (!before) return out;
    const Point shift = frame.toPixels()(beforeFrame.toMap()({0, 0}));
    for (ContourDrawing::Label label : before->labels) {
        label.origin = label.origin + shift;
        for (Box& box : label.boxes)
            box = {box.xMin + shift.x, box.yMin + shift.y, box.xMax + shift.x, box.yMax + shift.y};
        out.emplace(label.level, std::move(label));
    }
    return out;
}

// Where a label of before lies on a line still, as one more place for it: the number of the place
// that it is nearest to.
std::optional<std::size_t> nearestPlace(const std::vector<label::Candidate>& places, Point at,
                                        double within) {
    std::optional<std::size_t> best;
    for (std::size_t i = 0; i < places.size(); ++i)
        if (const double away = distance(places[i].origin, at); away < within)
            within = away, best = i;
    return best;
}

void placeLabels(ContourDrawing& drawing, const ContourField& field, const MapFrame& frame,
                 const doc::ContourStyle& style,
                 const std::multimap<double, ContourDrawing::Label>& before,
                 const std::vector<Box>& keepOff) {
    // As much for two centimetres beside a ladder as for a bent and falling place.
    constexpr double kOffLadder = 2;
    const Ladders ladders(field, frame);
    const double far = frame.mm(Ladders::kFar);
    std::vector<label::Request> requests;
    std::vector<std::size_t> lineOf;
    for (std::size_t i = 0; i < drawing.lines.size(); ++i) {
        const auto& line = drawing.lines[i];
        if (!line.isIndex) continue;
        const QString text = QString::fromStdString(formatNumber(line.level));
        auto size = measure(text, labelText(style, line.level < 0), frame.pxPerMm);
        size.width += frame.mm(0.8);
        // Heights read uphill; depths stand upright.
        auto places = label::alongLine(line.points, size, frame.mm(2.5), line.level >= 0);
        if (places.empty()) continue;
        for (label::Candidate& place : places)
            place.cost += kOffLadder * ladders.away(place.origin) / far;
        // One label for each stretch of the line.
        double length = 0;
        for (std::size_t k = 1; k < line.points.size(); ++k)
            length += distance(line.points[k - 1], line.points[k]);
        if (length < frame.mm(18)) continue;
        const auto groups =
            static_cast<std::size_t>(std::max(1.0, std::round(length / frame.mm(kLabelEveryMm))));
        std::vector<const ContourDrawing::Label*> kept(groups, nullptr);
        const auto [first, last] = before.equal_range(line.level);
        for (auto it = first; it != last; ++it)
            if (const auto near = nearestPlace(places, it->second.origin, frame.mm(1.6)))
                kept[*near * groups / places.size()] = &it->second;
        for (std::size_t g = 0; g < groups; ++g) {
            const std::size_t from = places.size() * g / groups;
            const std::size_t to = places.size() * (g + 1) / groups;
            if (from == to) continue;
            label::Request request;
            request.size = length;
            request.candidates.assign(places.begin() + static_cast<std::ptrdiff_t>(from),
                                      places.begin() + static_cast<std::ptrdiff_t>(to));
            if (const ContourDrawing::Label* label = kept[std::min(g, groups - 1)]) {
                // It was drawn a little way in from where its place begins.
                const Point along{std::cos(label->angle), std::sin(label->angle)};
                request.kept = request.candidates.size();
                request.candidates.push_back({label->origin - along * frame.mm(0.4),
                                              label->angle,
                                              label->boxes,
                                              0,
                                              {},
                                              false});
            }
            requests.push_back(std::move(request));
            lineOf.push_back(i);
        }
    }
    const Box page{0, 0, double(frame.widthPx), double(frame.heightPx)};
    const auto chosen = label::place(requests, keepOff, page);
    std::vector<std::vector<Box>> gaps(drawing.lines.size());
    for (std::size_t i = 0; i < requests.size(); ++i) {
        if (!chosen[i]) continue;
        const auto& place = requests[i].candidates[*chosen[i]];
        const auto& line = drawing.lines[lineOf[i]];
        const Point shift{std::cos(place.angleRadians) * frame.mm(0.4),
                          std::sin(place.angleRadians) * frame.mm(0.4)};
        drawing.labels.push_back({line.level, QString::fromStdString(formatNumber(line.level)),
                                  place.origin + shift, place.angleRadians, line.level < 0,
                                  place.boxes});
        auto& gap = gaps[lineOf[i]];
        gap.insert(gap.end(), place.boxes.begin(), place.boxes.end());
    }
    std::vector<ContourDrawing::Line> lines;
    for (std::size_t i = 0; i < drawing.lines.size(); ++i) {
        auto& line = drawing.lines[i];
        if (gaps[i].empty()) {
            lines.push_back(std::move(line));
            continue;
        }
        for (auto& piece : without(line.points, gaps[i]))
            lines.push_back({line.level, line.isIndex, std::move(piece)});
    }
    drawing.lines = std::move(lines);
}
}  // namespace

Result<ContourField> contourField(const Pyramid& pyramid, const MapFrame& frame, int smoothing,
                                  double metresPerHeight, const Progress& progress) {
    const auto way = crs::Transformation::between(pyramid.source().info().crs, frame.crs);
    if (!way) return way.error();
    const double step = gridStep(pyramid, frame);
    const double rim = frame.mm(2);
    TargetGrid grid;
    grid.cols = static_cast<std::size_t>((frame.widthPx + 2 * rim) / step) + 1;
    grid.rows = static_cast<std::size_t>((frame.heightPx + 2 * rim) / step) + 1;
    const Affine toPx{step, 0, -rim, 0, step, -rim};
    grid.toWorld = frame.toMap().after(toPx);
    auto heights = warped(pyramid, *way, grid, Resampling::Cubic, progress);
    if (!heights) return heights.error();
    if (metresPerHeight != 1)
        for (float& h : heights->cells()) h *= static_cast<float>(metresPerHeight);
    if (smoothing > 0) smoothToCells(*heights, step, pyramid, frame);
    return ContourField{*std::move(heights), toPx};
}

Result<ContourDrawing> traceContours(const ContourField& field, const MapFrame& frame,
                                     const doc::ContourStyle& style, const Progress& progress,
                                     const ContourDrawing* before, const MapFrame& beforeFrame,
                                     const std::vector<Box>& keepOff) {
    auto traced = terrain::contours(field.heights.view(), field.toPixels, style.levels, progress);
    if (!traced) return traced.error();
    std::vector<ContourDrawing::Line> lines(traced->size());
    parallelRanges(lines.size(), 64, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            const terrain::Contour& contour = (*traced)[i];
            lines[i].level = contour.level;
            lines[i].isIndex = style.levels.isIndex(contour.level, style.indexEvery);
            Box box;
            for (const Point p : contour.points) box.add(p);
            if (std::max(box.width(), box.height()) < frame.mm(0.8)) continue;  // specks
            lines[i].points = simplified(smoothed(contour.points, 1), 0.025 * frame.pxPerMm);
        }
    });
    std::erase_if(lines, [](const ContourDrawing::Line& line) { return line.points.size() < 2; });
    ContourDrawing out;
    out.lines = std::move(lines);
    if (style.hasLabels)
        placeLabels(out, field, frame, style, standing(before, beforeFrame, frame), keepOff);
    return out;
}

namespace {
struct Rows {
    double top, bottom;
};

// Draws the runs of a line that come near some rows. Each run goes on to a point beyond them, so
// that ends and joins are where the whole line has them.
void paintRuns(QPainter& painter, const std::vector<Point>& line, Rows rows, QPolygonF& run) {
    const auto isNear = [&](Point a, Point b) {
        return std::max(a.y, b.y) >= rows.top && std::min(a.y, b.y) <= rows.bottom;
    };
    run.clear();
    for (std::size_t i = 1; i < line.size(); ++i) {
        const bool isWanted = isNear(line[i - 1], line[i]) ||
                              (i >= 2 && isNear(line[i - 2], line[i - 1])) ||
                              (i + 1 < line.size() && isNear(line[i], line[i + 1]));
        if (isWanted) {
            if (run.isEmpty()) run << qt(line[i - 1]);
            run << qt(line[i]);
        } else if (!run.isEmpty()) {
            painter.drawPolyline(run);
            run.clear();
        }
    }
    if (!run.isEmpty()) painter.drawPolyline(run);
}

void paintLines(QPainter& painter, const MapFrame& frame, const ContourDrawing& drawing,
                const doc::ContourStyle& style, Rows rows) {
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setBrush(Qt::NoBrush);
    QPolygonF points;
    for (const bool isIndex : {false, true}) {
        for (const bool isWater : {true, false}) {
            const double width = frame.mm(isIndex ? style.indexMm : style.lineMm);
            QPen pen(qt(isWater ? style.water : style.land), width);
            pen.setJoinStyle(Qt::RoundJoin);
            painter.setPen(pen);
            const Rows reached{rows.top - width - 2, rows.bottom + width + 2};
            // One by one: strokes of one large path would be sorted against each other.
            for (const auto& line : drawing.lines)
                if (line.isIndex == isIndex && (line.level < 0) == isWater)
                    paintRuns(painter, line.points, reached, points);
        }
    }
}

void paintLabels(QPainter& painter, const MapFrame& frame, const ContourDrawing& drawing,
                 const doc::ContourStyle& style) {
    for (const auto& label : drawing.labels)
        drawText(painter, label.origin, label.angle, label.text, labelText(style, label.isWater),
                 frame.pxPerMm);
}

}  // namespace

void paintContours(QPainter& painter, const MapFrame& frame, const ContourDrawing& drawing,
                   const doc::ContourStyle& style) {
    constexpr double kAll = 1e9;
    paintLines(painter, frame, drawing, style, {-kAll, kAll});
    paintLabels(painter, frame, drawing, style);
}

void paintContours(QImage& picture, const MapFrame& frame, const ContourDrawing& drawing,
                   const doc::ContourStyle& style) {
    // Bands of fixed height, each drawn in place: the same pixels for any number of threads, and no
    // further picture.
    constexpr int kBandRows = 256;
    const auto bands = static_cast<std::size_t>((picture.height() + kBandRows - 1) / kBandRows);
    uchar* const bits = picture.bits();
    const qsizetype stride = picture.bytesPerLine();
    parallelRanges(bands, 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t band = begin; band < end; ++band) {
            const int top = static_cast<int>(band) * kBandRows;
            const int rows = std::min(kBandRows, picture.height() - top);
            QImage part(bits + top * stride, picture.width(), rows, stride, picture.format());
            QPainter painter(&part);
            painter.translate(0, -top);
            paintLines(painter, frame, drawing, style, {double(top), double(top + rows)});
        }
    });
    QPainter painter(&picture);
    paintLabels(painter, frame, drawing, style);
}

}  // namespace ledge::carto
