#include "carto/swatch.h"

#include <QPainter>
#include <QPainterPath>

#include "carto/relief.h"
#include "carto/symbol_painter.h"
#include "carto/text.h"
#include "core/base/random.h"

namespace ledge::carto {
namespace {
// Two hills and a hollow on a slope, with the shape's height range.
Grid<float> hills(int rows, int cols, double low, double high) {
    Grid<float> out(static_cast<std::size_t>(rows), static_cast<std::size_t>(cols));
    for (int r = 0; r < rows; ++r) {
        for (int c = 0; c < cols; ++c) {
            const double x = double(c) / cols, y = double(r) / rows;
            const auto bump = [&](double cx, double cy, double w) {
                return std::exp(-((x - cx) * (x - cx) + (y - cy) * (y - cy)) / (w * w));
            };
            const double h = 0.95 * bump(0.36, 0.42, 0.24) + 0.7 * bump(0.72, 0.62, 0.2) +
                             0.12 * std::sin(9 * x + 4 * y) * bump(0.5, 0.5, 0.4);
            out(static_cast<std::size_t>(r), static_cast<std::size_t>(c)) =
                static_cast<float>(low + (high - low) * std::min(1.0, h));
        }
    }
    return out;
}

// Patches of the first classes as a small map would show them.
QImage classSwatch(const std::vector<doc::RasterClass>& classes, QSize px) {
    QImage out(px, QImage::Format_ARGB32_Premultiplied);
    const auto field = hills(px.height(), px.width(), 0, 1);
    const std::size_t count = std::min<std::size_t>(classes.size(), 6);
    for (int y = 0; y < px.height(); ++y)
        for (int x = 0; x < px.width(); ++x) {
            const float v = field(static_cast<std::size_t>(y), static_cast<std::size_t>(x));
            const auto at =
                std::min(count - 1, static_cast<std::size_t>(v * static_cast<float>(count)));
            out.setPixelColor(x, y, qt(classes[at].colour));
        }
    return out;
}

void drawContourRings(QPainter& painter, const QRectF& r, const doc::ContourStyle& style,
                      double mm) {
    painter.setBrush(Qt::NoBrush);
    for (int i = 0; i < 4; ++i) {
        painter.setPen(
            QPen(qt(style.land), std::max(0.8, (i == 1 ? style.indexMm : style.lineMm) * mm)));
        const double in = i * r.height() * 0.13;
        QPainterPath path;
        const QRectF e = r.adjusted(in * 1.3 + 1, in + 1, -in * 1.1 - 1, -in * 0.9 - 1);
        path.moveTo(e.left(), e.center().y());
        path.cubicTo(e.left(), e.top(), e.center().x(), e.top() - 1,
                     e.center().x() + e.width() * 0.15, e.top() + e.height() * 0.12);
        path.cubicTo(e.right(), e.top() + e.height() * 0.2, e.right(), e.bottom(), e.center().x(),
                     e.bottom());
        path.cubicTo(e.left() + e.width() * 0.1, e.bottom(), e.left(),
                     e.center().y() + e.height() * 0.2, e.left(), e.center().y());
        painter.drawPath(path);
    }
}

const doc::Layer* firstPicture(const std::vector<doc::LayerPtr>& layers) {
    for (auto it = layers.rbegin(); it != layers.rend(); ++it)
        if (!(*it)->isGroup()) return it->get();
    return nullptr;
}
}  // namespace

void drawRamp(QPainter& painter, const QRectF& rect, const Ramp& ramp) {
    QImage strip(256, 1, QImage::Format_ARGB32);
    for (int i = 0; i < 256; ++i)
        strip.setPixelColor(i, 0, qt(ramp.at(ramp.low() + (ramp.high() - ramp.low()) * i / 255.0)));
    painter.save();
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(rect, strip);
    painter.restore();
}

namespace {
// The patch of a legend: a place, a bent line, or a rectangle.
class SampleShape final : public SymbolShape {
public:
    explicit SampleShape(const QRectF& rect) : m_rect(rect) {}
    QPainterPath area(double) const override {
        QPainterPath path;
        path.addRect(m_rect);
        return path;
    }
    QPainterPath lines(double) const override { return m_isArea ? area(0) : bend(); }
    std::vector<Piece> pieces(double) const override { return {{lines(0), 0}}; }
    std::vector<QPointF> points(double) const override { return {m_rect.center()}; }
    bool m_isArea = false;

private:
    QPainterPath bend() const {
        const QRectF& r = m_rect;
        QPainterPath path(QPointF(r.left(), r.bottom() - r.height() * 0.25));
        path.cubicTo(r.left() + r.width() * 0.3, r.top() - r.height() * 0.1,
                     r.left() + r.width() * 0.65, r.bottom() + r.height() * 0.1, r.right(),
                     r.top() + r.height() * 0.25);
        return path;
    }
    QRectF m_rect;
};
}  // namespace

void drawSample(QPainter& painter, const QRectF& r, GeometryType type, const doc::Look& look,
                double pxPerMm) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const bool isSpot = type == GeometryType::Point || type == GeometryType::Line;
    SampleShape shape(r);
    shape.m_isArea = !isSpot;
    paintSymbol(painter, doc::symbolOf(look, isSpot ? type : GeometryType::Polygon), shape,
                pxPerMm);
    painter.restore();
}

namespace {
// What a strip of each kind looks like in small, on paper.
class SwatchPainter {
public:
    SwatchPainter(QPainter& painter, QSize px, double ratio)
        : m_painter(painter), m_px(px), m_ratio(ratio), m_mm(4.2 * ratio),
          m_inner(
              QRectF(QPointF(0, 0), px).adjusted(4 * ratio, 4 * ratio, -4 * ratio, -4 * ratio)) {
        m_frame.widthPx = px.width(), m_frame.heightPx = px.height();
        m_frame.pxPerMm = 1;
        m_frame.view.scale = 20000;  // 20 m a pixel
    }

    void operator()(const doc::VectorLayer& vector) const {
        const doc::VectorStyle& style = vector.style;
        switch (style.classing) {
        case doc::Classing::Ramp: return drawRamp(m_painter, m_inner, style.ramp);
        case doc::Classing::Categories: return side(vector.geometry, looksOf(style.categories));
        case doc::Classing::Classes: return side(vector.geometry, looksOf(style.classes.classes));
        case doc::Classing::Rules: return side(vector.geometry, looksOf(style.rules));
        case doc::Classing::Sized: return sizes(vector);
        case doc::Classing::Dots: return dots(style.dots);
        case doc::Classing::Single: break;
        }
        drawSample(m_painter, m_inner, vector.geometry, style.look, m_mm);
    }
    void operator()(const doc::Contours& contours) const {
        // Light lines are meant for dark ground, a photograph's.
        if (qGray(qt(contours.style.land).rgb()) > 190)
            m_painter.fillRect(QRectF(QPointF(0, 0), m_px), QColor(0x3F, 0x4B, 0x45));
        drawContourRings(m_painter,
                         m_inner.adjusted(-3 * m_ratio, -3 * m_ratio, 3 * m_ratio, 3 * m_ratio),
                         contours.style, m_mm);
    }
    void operator()(const doc::GridLines& grid) const {
        m_painter.setPen(
            QPen(qt(grid.style.colour), std::max(m_ratio, grid.style.lineMm * m_mm * 2)));
        for (const double share : {0.3, 0.7}) {
            const double x = m_px.width() * share, y = m_px.height() * share;
            m_painter.drawLine(QPointF(x, 0), QPointF(x, m_px.height()));
            m_painter.drawLine(QPointF(0, y), QPointF(m_px.width(), y));
        }
    }
    void operator()(const doc::Hillshade& shade) const {
        auto plain = shade.style;
        plain.heightScale.reset();
        put(plainShade(relief(), m_frame, plain, 1, {}, {}).value_or(QImage()));
    }
    void operator()(const doc::Steepness& steepness) const {
        auto plain = steepness.style;
        plain.heightScale.reset();
        put(steepnessPicture(relief(), m_frame, plain, 1, {}).value_or(QImage()));
    }
    void operator()(const doc::HeightTint& tint) const {
        put(tinted(heights(tint.style.ramp.low() * 0.6, tint.style.ramp.high()), tint.style.ramp,
                   1));
    }
    void operator()(const doc::RasterLayer& raster) const {
        const doc::RasterStyle& style = raster.style;
        if (style.image)
            return put(tinted(relief(),
                              Ramp{{{0, {0x2C, 0x4A, 0x5E}},
                                    {0.3 * steep(), {0x5B, 0x73, 0x4C}},
                                    {0.6 * steep(), {0x96, 0x8B, 0x68}},
                                    {steep(), {0xDD, 0xD6, 0xC8}}}},
                              1));
        if (!style.classes.empty()) return put(classSwatch(style.classes, m_px));
        put(tinted(heights(style.ramp.low(), style.ramp.high()), style.ramp, 1));
    }
    void operator()(const doc::Group& group) const {
        if (const doc::Layer* first = firstPicture(group.children))
            std::visit(*this, first->content);
    }
    void operator()(const doc::UnknownLayer&) const {
        m_painter.setPen(QPen(QColor(0x6B, 0x6F, 0x8E), m_ratio));
        m_painter.drawText(QRectF(QPointF(0, 0), m_px), Qt::AlignCenter, QStringLiteral("?"));
    }

private:
    template <typename List>
    static std::vector<doc::Look> looksOf(const List& list) {
        std::vector<doc::Look> out;
        for (const auto& one : list) out.push_back(one.look);
        return out;
    }
    // A few of them beside each other.
    void side(GeometryType geometry, const std::vector<doc::Look>& looks) const {
        const std::size_t shown = std::min<std::size_t>(5, looks.size());
        const double w = m_inner.width() / double(std::max<std::size_t>(1, shown));
        for (std::size_t i = 0; i < shown; ++i)
            drawSample(m_painter,
                       QRectF(m_inner.left() + double(i) * w, m_inner.top(),
                              w - (shown > 3 ? 0 : m_ratio), m_inner.height()),
                       geometry, looks[shown < 2 ? i : i * (looks.size() - 1) / (shown - 1)], m_mm);
    }
    void sizes(const doc::VectorLayer& vector) const {
        const bool isLine = vector.geometry == GeometryType::Line;
        double left = m_inner.left();
        for (const double share : {0.9, 0.6, 0.35}) {
            doc::Look look = vector.style.look;
            const double d = m_inner.height() * share;
            (isLine ? look.strokeMm : look.markMm) = (isLine ? d * 0.25 : d) / m_mm;
            drawSample(m_painter, QRectF(left, m_inner.top(), d, m_inner.height()),
                       isLine ? GeometryType::Line : GeometryType::Point, look, m_mm);
            left += d + m_ratio;
        }
    }
    void dots(const doc::DotRule& rule) const {
        m_painter.setPen(Qt::NoPen);
        Random random(5);
        for (int i = 0; i < 26 && !rule.fields.empty(); ++i) {
            const auto of = static_cast<std::size_t>(i) % rule.fields.size();
            m_painter.setBrush(qt(rule.fields[of].colour));
            m_painter.drawEllipse(QPointF(m_inner.left() + random.unit() * m_inner.width(),
                                          m_inner.top() + random.unit() * m_inner.height()),
                                  1.1 * m_ratio, 1.1 * m_ratio);
        }
    }
    double steep() const { return 20.0 * m_px.height() * 0.28; }
    Grid<float> heights(double low, double high) const {
        return hills(m_px.height() + 2, m_px.width() + 2, low, high);
    }
    Grid<float> relief() const { return heights(0, steep()); }
    void put(const QImage& image) const { m_painter.drawImage(0, 0, image); }

    QPainter& m_painter;
    QSize m_px;
    double m_ratio, m_mm;
    QRectF m_inner;
    MapFrame m_frame;
};
}  // namespace

QImage swatch(const doc::Layer& layer, QSize size, double ratio) {
    const QSize px = size * ratio;
    QImage image(px, QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::white);  // ink on paper, in either theme
    {
        QPainter painter(&image);
        painter.setRenderHint(QPainter::Antialiasing);
        std::visit(SwatchPainter(painter, px, ratio), layer.content);
    }
    image.setDevicePixelRatio(ratio);
    return image;
}

}  // namespace ledge::carto
