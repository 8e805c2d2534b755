#include "carto/profile_chart.h"

#include <QObject>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "carto/map_frame.h"
#include "core/base/numbers.h"

namespace ledge::carto {
namespace {
constexpr double kLineMm = 0.35;

// A round step that divides a span into about so many parts.
double roundStep(double span, double parts) {
    return roundUpToInterval(std::max(1e-9, span / parts));
}

double heightStep(double low, double high) { return roundStep(std::max(high - low, 1.0), 4); }

TextStyle small(const ProfileChart& chart, Colour colour) {
    TextStyle style;
    style.sizePt = chart.textPt;
    style.colour = colour;
    return style;
}

QString number(double value, double step) {
    int decimals = 0;
    for (double scaled = step;
         decimals < 6 && std::abs(scaled - std::round(scaled)) > 1e-6 * scaled; scaled *= 10)
        ++decimals;
    return QString::fromStdString(formatNumber(value, {decimals, true}));
}

// Stretches of a series without gaps.
template <typename Visit>
void forStretches(const ProfileSeries& series, const Visit& visit) {
    std::vector<Point> stretch;
    for (const Point p : series.points) {
        if (std::isfinite(p.y)) {
            stretch.push_back(p);
            continue;
        }
        if (stretch.size() > 1) visit(stretch);
        stretch.clear();
    }
    if (stretch.size() > 1) visit(stretch);
}
}  // namespace

QPointF ChartFrame::at(double distance, double height) const {
    return {plot.left() + plot.width() * distance / length,
            plot.bottom() - plot.height() * (height - low) / (high - low)};
}

double ChartFrame::distanceAt(double x) const {
    return std::clamp((x - plot.left()) / plot.width(), 0.0, 1.0) * length;
}

ChartFrame chartFrame(const QRectF& rect, const ProfileChart& chart, double mm) {
    ChartFrame out;
    double low = kNaN, high = kNaN;
    out.length = 0;
    for (const ProfileSeries& series : chart.series)
        for (const Point p : series.points) {
            out.length = std::max(out.length, p.x);
            low = std::fmin(low, p.y), high = std::fmax(high, p.y);
        }
    if (!(out.length > 0)) out.length = 1;
    if (std::isnan(low)) low = 0, high = 1;
    // Lines stand at whole steps; the ends at fifths of them, so that little room is lost.
    const double step = heightStep(low, high), part = step / 5;
    out.low = std::floor(low / part) * part;
    out.high = std::ceil(high / part) * part;
    if (!(out.high > out.low)) out.high = out.low + part;
    const double text = chart.textPt * kMmPerPoint * mm;
    const double left =
        std::max(measure(number(out.high, step) + " m", small(chart, chart.ink), mm).width,
                 measure(number(out.low, step) + " m", small(chart, chart.ink), mm).width);
    out.plot = rect.adjusted(left + 2.4 * mm, text * 1.9, -3 * mm, -text * 2.1);
    out.exaggeration = (out.length / std::max(1.0, out.plot.width())) /
                       ((out.high - out.low) / std::max(1.0, out.plot.height()));
    return out;
}

void paintProfileChart(QPainter& painter, const QRectF& rect, const ProfileChart& chart,
                       double mm) {
    const ChartFrame frame = chartFrame(rect, chart, mm);
    if (frame.plot.width() < 10 || frame.plot.height() < 10) return;
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const double text = chart.textPt * kMmPerPoint * mm;
    const auto say = [&](QPointF at, const QString& what, Colour colour) {
        drawText(painter, {at.x(), at.y()}, 0, what, small(chart, colour), mm);
    };
    double low = kNaN, high = kNaN;
    for (const ProfileSeries& series : chart.series)
        for (const Point p : series.points) low = std::fmin(low, p.y), high = std::fmax(high, p.y);
    const double step = std::isnan(low) ? 1 : heightStep(low, high);
    painter.setPen(QPen(qt(chart.lines), 0.1 * mm));
    for (double h = std::ceil(frame.low / step - 1e-9) * step; h <= frame.high + step * 1e-6;
         h += step) {
        const QPointF at = frame.at(0, h);
        painter.drawLine(at, QPointF(frame.plot.right(), at.y()));
        const QString label = number(h, step) + QString(" m");
        say({frame.plot.left() - 1.2 * mm - measure(label, small(chart, chart.quiet), mm).width,
             at.y() + text * 0.36},
            label, chart.quiet);
    }
    const NamedLength unit = scaleBarUnit(frame.length, chart.unit);
    const double across =
        roundStep(frame.length / unit.metres, std::max(2.0, frame.plot.width() / (22 * mm)));
    for (double d = 0; d * unit.metres <= frame.length * (1 + 1e-9); d += across) {
        const QPointF at = frame.at(d * unit.metres, frame.low);
        painter.setPen(QPen(qt(chart.quiet), 0.15 * mm));
        painter.drawLine(at, at + QPointF(0, 0.9 * mm));
        const bool isLast = (d + across) * unit.metres > frame.length * (1 + 1e-9);
        const QString label =
            number(d, across) + (isLast ? " " + QString::fromStdString(unit.name) : QString());
        const double width = measure(label, small(chart, chart.quiet), mm).width;
        const double x = std::min(at.x() - width / 2, frame.plot.right() + 2.5 * mm - width);
        say({x, at.y() + 1.2 * mm + text}, label, chart.quiet);
    }
    for (std::size_t i = 0; i < chart.series.size(); ++i) {
        const ProfileSeries& series = chart.series[i];
        forStretches(series, [&](const std::vector<Point>& stretch) {
            QPainterPath path(frame.at(stretch[0].x, stretch[0].y));
            for (std::size_t k = 1; k < stretch.size(); ++k)
                path.lineTo(frame.at(stretch[k].x, stretch[k].y));
            if (i == 0) {
                QPainterPath area = path;
                area.lineTo(frame.at(stretch.back().x, frame.low));
                area.lineTo(frame.at(stretch.front().x, frame.low));
                QColor fill = qt(series.colour);
                fill.setAlphaF(0.14F);
                painter.fillPath(area, fill);
            }
            QPen pen(qt(series.colour), kLineMm * mm);
            pen.setJoinStyle(Qt::RoundJoin);
            painter.strokePath(path, pen);
        });
    }
    // Names above, in the colour of their line; the exaggeration at the right.
    double x = frame.plot.left();
    for (const ProfileSeries& series : chart.series) {
        painter.setPen(QPen(qt(series.colour), kLineMm * 1.6 * mm));
        const double y = rect.top() + text * 1.05;
        painter.drawLine(QPointF(x, y - text * 0.3), QPointF(x + 4 * mm, y - text * 0.3));
        say({x + 5 * mm, y}, series.name, chart.ink);
        x += 8 * mm + measure(series.name, small(chart, chart.ink), mm).width;
    }
    const QString told =
        QObject::tr("vertical exaggeration %1")
            .arg(QString::fromStdString(formatNumber(frame.exaggeration, {1, true})));
    say({frame.plot.right() - measure(told, small(chart, chart.quiet), mm).width,
         rect.top() + text * 1.05},
        told, chart.quiet);
    if (std::isfinite(chart.marked)) {
        painter.setPen(QPen(qt(chart.ink), 0.2 * mm));
        painter.drawLine(frame.at(chart.marked, frame.low), frame.at(chart.marked, frame.high));
        for (const ProfileSeries& series : chart.series) {
            const auto it =
                std::lower_bound(series.points.begin(), series.points.end(), chart.marked,
                                 [](Point p, double distance) { return p.x < distance; });
            if (it == series.points.end() || !std::isfinite(it->y)) continue;
            painter.setPen(QPen(Qt::white, 0.2 * mm));
            painter.setBrush(qt(series.colour));
            painter.drawEllipse(frame.at(it->x, it->y), 0.8 * mm, 0.8 * mm);
        }
    }
    painter.restore();
}

}  // namespace ledge::carto
