#include "carto/vector_painter.h"

#include <QPaintEngine>
#include <QPainterPath>
#include <array>

#include "carto/dot_painter.h"
#include "carto/symbol_painter.h"
#include "carto/text.h"
#include "core/base/parallel.h"
#include "core/geometry/clip.h"
#include "core/geometry/measure.h"
#include "document/look_finder.h"

namespace ledge::carto {
namespace {
// As many points as can be seen; `place` says where each falls.
template <typename Place>
std::vector<Point> thinned(std::size_t count, const Place& place) {
    std::vector<Point> out;
    out.reserve(count);
    Point last = kNowhere;
    for (std::size_t i = 0; i < count; ++i) {
        const Point q = place(i);
        // Points closer than a quarter of a pixel to the last add nothing to see.
        if (!out.empty() && std::abs(q.x - last.x) + std::abs(q.y - last.y) < 0.25) continue;
        out.push_back(q);
        last = q;
    }
    if (count > 1 && !out.empty()) {
        const Point end = place(count - 1);
        if (out.back() != end) out.push_back(end);
    }
    return out;
}

std::vector<Point> toPixels(std::span<const Point> points, const Affine& way) {
    return thinned(points.size(), [&](std::size_t i) { return way(points[i]); });
}

// A ring with its upright tears on whole pixels: what goes on at the other side of one meets it
// there, where halves of pixels would show a line.
std::vector<Point> ringInPixels(std::span<const Point> ring, std::span<const std::uint8_t> seams,
                                const Affine& way) {
    if (seams.empty()) return toPixels(ring, way);
    constexpr double kUpright = 1e-3;
    const auto isUpright = [&](std::size_t from) {
        return seams[from] != 0 && std::abs(way(ring[from]).x - way(ring[from + 1]).x) < kUpright;
    };
    return thinned(ring.size(), [&](std::size_t i) {
        const std::size_t last = ring.size() - 1;
        Point at = way(ring[i]);
        if (last > 0 && (isUpright(i == last ? 0 : i) || isUpright(i == 0 ? last - 1 : i - 1)))
            at.x = std::round(at.x);
        return at;
    });
}

void addLine(QPainterPath& path, std::span<const Point> line) {
    if (line.empty()) return;
    path.moveTo(qt(line[0]));
    for (const Point p : line.subspan(1)) path.lineTo(qt(p));
}

Box frameBox(const MapFrame& frame, double growPx) {
    return Box{0, 0, double(frame.widthPx), double(frame.heightPx)}.grown(growPx);
}

// A geometry as it falls on a frame.
class GeometryShape final : public SymbolShape {
public:
    GeometryShape(const MapFrame& frame, const GeometryView& geometry,
                  std::span<const std::uint8_t> seams = {})
        : m_frame(frame), m_geometry(geometry), m_seams(seams), m_way(frame.toPixels()) {}

    QPainterPath area(double reach) const override {
        QPainterPath path;
        path.setFillRule(Qt::OddEvenFill);
        const Box box = frameBox(m_frame, reach);
        for (std::size_t i = 0; i < m_geometry.partCount(); ++i) {
            const auto part = m_geometry.part(i);
            const auto seams =
                m_seams.empty() ? m_seams : m_seams.subspan(m_geometry.parts[i], part.size());
            const auto ring = clipRing(ringInPixels(part, seams, m_way), box);
            if (ring.empty()) continue;
            addLine(path, ring);
            path.closeSubpath();
        }
        return path;
    }
    QPainterPath lines(double reach) const override {
        QPainterPath path;
        const Box box = frameBox(m_frame, reach);
        forEachOutline([&](std::span<const Point> line) {
            for (const auto& piece : clipLine(toPixels(line, m_way), box)) addLine(path, piece);
        });
        return path;
    }
    std::vector<Piece> pieces(double reach) const override {
        std::vector<Piece> out;
        const Box box = frameBox(m_frame, reach);
        forEachOutline([&](std::span<const Point> line) {
            for (const LinePiece& piece : clippedPieces(toPixels(line, m_way), box)) {
                out.push_back({{}, piece.from});
                addLine(out.back().path, piece.points);
            }
        });
        return out;
    }
    QPointF origin() const override { return qt(m_way({0, 0})); }
    std::vector<QPointF> points(double reach) const override {
        std::vector<QPointF> out;
        const Box box = frameBox(m_frame, reach);
        for (const Point p : m_geometry.points)
            if (const Point at = m_way(p); box.contains(at)) out.push_back(qt(at));
        return out;
    }

private:
    // Rings and lines without the sides that are no outlines.
    template <typename Use>
    void forEachOutline(const Use& use) const {
        for (std::size_t i = 0; i < m_geometry.partCount(); ++i) {
            const auto part = m_geometry.part(i);
            if (m_seams.empty()) {
                use(part);
                continue;
            }
            const auto seams = m_seams.subspan(m_geometry.parts[i], part.size());
            for (std::size_t begin = 0, k = 0; k < part.size(); ++k) {
                if (k + 1 < part.size() && seams[k] == 0) continue;
                if (k > begin) use(part.subspan(begin, k - begin + 1));
                begin = k + 1;
            }
        }
    }

    const MapFrame& m_frame;
    const GeometryView& m_geometry;
    std::span<const std::uint8_t> m_seams;
    Affine m_way;
};
}  // namespace

void paintGeometry(QPainter& painter, const MapFrame& frame, const GeometryView& g,
                   const doc::Symbol& symbol, std::span<const std::uint8_t> seams) {
    paintSymbol(painter, symbol, GeometryShape(frame, g, seams), frame.pxPerMm);
}

namespace {
// The symbols of the looks of one style, made when a look is first met.
class Symbols {
public:
    explicit Symbols(const doc::LookFinder& looks) : m_looks(looks) {}
    const doc::Symbol& of(std::size_t look, GeometryType type) {
        auto& made = m_made[static_cast<std::size_t>(type)];
        if (made.size() <= look) made.resize(look + 1);
        if (!made[look]) made[look] = doc::symbolOf(m_looks.look(look), type);
        return *made[look];
    }

private:
    const doc::LookFinder& m_looks;
    std::array<std::vector<std::optional<doc::Symbol>>, 4> m_made;
};
}  // namespace

namespace {
// What is smaller than a pixel shows as one: of a million fields on a screen each is a dot, and
// dots that fall on each other are drawn once.
class Specks {
public:
    Specks(QPainter& painter, const MapFrame& frame)
        : m_painter(painter), m_way(frame.toPixels()), m_width(frame.widthPx),
          m_height(frame.heightPx),
          m_isRaster(painter.paintEngine() &&
                     painter.paintEngine()->type() == QPaintEngine::Raster),
          m_side(1 / frame.unitsPerPx()) {}

    /// Whether it was drawn, or need not be.
    bool draw(const Box& box, GeometryType type, const doc::Symbol& symbol) {
        if (!m_isRaster || type == GeometryType::Point ||
            std::max(box.width(), box.height()) * m_side >= 1)
            return false;
        const auto seen = symbol.dominant();
        if (!seen) return true;
        const Point at = m_way(box.centre());
        const int x = static_cast<int>(std::floor(at.x)), y = static_cast<int>(std::floor(at.y));
        if (x < 0 || y < 0 || x >= m_width || y >= m_height) return true;
        const QColor colour = qt(*seen);
        if (m_last.empty()) m_last.resize(static_cast<std::size_t>(m_width * m_height), 0);
        QRgb& last = m_last[static_cast<std::size_t>(y * m_width + x)];
        if (last == colour.rgba()) return true;
        last = colour.rgba();
        m_painter.fillRect(x, y, 1, 1, colour);
        return true;
    }

private:
    QPainter& m_painter;
    Affine m_way;
    int m_width, m_height;
    bool m_isRaster;
    double m_side;
    std::vector<QRgb> m_last;  ///< colour of the dot at a pixel
};
}  // namespace

namespace {
// A mark set on an area, where its name would stand.
class AnchorShape final : public SymbolShape {
public:
    AnchorShape(const MapFrame& frame, const GeometryView& geometry)
        : m_frame(frame), m_at(frame.toPixels()(anchorOf(geometry))) {}
    QPainterPath area(double) const override { return {}; }
    QPainterPath lines(double) const override { return {}; }
    std::vector<Piece> pieces(double) const override { return {}; }
    std::vector<QPointF> points(double reach) const override {
        if (!frameBox(m_frame, reach).contains(m_at)) return {};
        return {qt(m_at)};
    }

private:
    const MapFrame& m_frame;
    Point m_at;
};

struct Pass {
    const MapFrame& frame;
    const doc::MapFeatures& features;
    const doc::VectorStyle& style;
    Parts parts = Parts::All;
};

void paintRows(QPainter& painter, const Pass& pass, std::span<const std::size_t> rows,
               const Progress& progress) {
    const auto& [frame, features, style, parts] = pass;
    doc::LookFinder looks(style, *features.table, frame.groundScale());
    Symbols symbols(looks);
    painter.setRenderHint(QPainter::Antialiasing);
    std::size_t done = 0;
    Specks specks(painter, frame);
    const bool isSized = style.classing == doc::Classing::Sized;
    for (const std::size_t i : rows) {
        if (++done % 256 == 0 && progress.stopped()) return;
        const GeometryView geometry = features.shapeOf(i, frame.unitsPerPx());
        const std::size_t look = looks.indexOf(i);
        if (isSized && geometry.type == GeometryType::Polygon) {
            paintSymbol(painter, doc::markSymbolOf(looks.look(look)), AnchorShape(frame, geometry),
                        frame.pxPerMm, parts);
            continue;
        }
        const doc::Symbol& symbol = symbols.of(look, geometry.type);
        if (specks.draw(features.table->box(i), geometry.type, symbol)) continue;
        paintSymbol(painter, symbol, GeometryShape(frame, geometry, features.seamsOf(i)),
                    frame.pxPerMm, parts);
    }
}

// Largest first, so that small marks stay in sight; alike in the order of the source.
void sortBySize(std::vector<std::size_t>& rows, const doc::VectorStyle& style,
                const FeatureTable& table) {
    doc::LookFinder looks(style, table);
    std::vector<std::pair<double, std::size_t>> order;
    order.reserve(rows.size());
    for (const std::size_t row : rows) {
        const double number = looks.number(row);
        order.emplace_back(std::isfinite(number) ? -number : 0, row);
    }
    std::sort(order.begin(), order.end());
    for (std::size_t i = 0; i < rows.size(); ++i) rows[i] = order[i].second;
}

bool hasCasing(const doc::VectorStyle& style) {
    const auto has = [](const doc::Look& look) { return look.casingMm > 0; };
    const auto hasOne = [&has](const auto& list) {
        return std::any_of(list.begin(), list.end(),
                           [&](const auto& one) { return has(one.look); });
    };
    return has(style.look) || has(style.others) || has(style.missing) || hasOne(style.categories) ||
           hasOne(style.rules) || hasOne(style.classes.classes);
}

// How far ink may lie from what it belongs to, millimetres.
double reachOf(const doc::VectorStyle& style, const MapFrame& frame) {
    constexpr double kUsual = 5;
    const double mm = style.isOnGround ? doc::mmPerGroundMetre(frame.groundScale()) : 1;
    double out = kUsual;
    if (style.isOnGround)
        out = std::max({out, mm * style.look.strokeMm, mm * style.look.markMm * 1.5});
    if (style.classing == doc::Classing::Sized) out = std::max(out, mm * style.sizes.largestMm * 2);
    return std::min(out, 1000.0);
}

// Shares of the rows with about as many points each, in order: one where there is little to paint,
// or where it is not painted on a picture pixel on pixel.
std::vector<std::span<const std::size_t>> sharesOf(const QPainter& painter, const MapFrame& frame,
                                                   const doc::MapFeatures& features,
                                                   std::span<const std::size_t> rows) {
    constexpr std::size_t kFew = 200'000;  // points worth a thread
    const bool isPlain =
        painter.paintEngine() && painter.paintEngine()->type() == QPaintEngine::Raster &&
        painter.worldTransform().isIdentity() && !painter.hasClipping() && painter.opacity() == 1 &&
        painter.compositionMode() == QPainter::CompositionMode_SourceOver;
    const auto cornersOf = [&](std::size_t row) {
        return features.shapeOf(row, frame.unitsPerPx()).points.size();
    };
    std::size_t points = 0;
    if (isPlain)
        for (const std::size_t i : rows) points += cornersOf(i);
    const std::size_t count = std::clamp<std::size_t>(points / kFew, 1, threadCount());
    std::vector<std::span<const std::size_t>> out;
    std::size_t begin = 0, sofar = 0;
    for (std::size_t i = 0; i < rows.size() && count > 1; ++i) {
        sofar += cornersOf(rows[i]);
        if (sofar * count < points * (out.size() + 1) || out.size() + 1 == count) continue;
        out.push_back(rows.subspan(begin, i + 1 - begin));
        begin = i + 1;
    }
    out.push_back(rows.subspan(begin));
    return out;
}
}  // namespace

namespace {
// Painting one half over the other is painting all in order, so halves are painted at once.
Result<void> paintPass(QPainter& painter, const Pass& pass, std::span<const std::size_t> rows,
                       const Progress& progress) {
    const MapFrame& frame = pass.frame;
    const auto shares = sharesOf(painter, frame, pass.features, rows);
    std::vector<QImage> later(shares.size() - 1);
    for (QImage& image : later) {
        image = QImage(frame.widthPx, frame.heightPx, QImage::Format_ARGB32_Premultiplied);
        image.fill(Qt::transparent);
    }
    parallelRanges(shares.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            if (i == 0) {
                paintRows(painter, pass, shares[0], progress);
                continue;
            }
            QPainter own(&later[i - 1]);
            paintRows(own, pass, shares[i], progress);
        }
    });
    if (progress.stopped()) return cancelled("drawing");
    for (const QImage& image : later) painter.drawImage(0, 0, image);
    return {};
}
}  // namespace

Result<void> paintFeatures(QPainter& painter, const MapFrame& frame,
                           const doc::MapFeatures& features, const doc::VectorStyle& style,
                           const Progress& progress, const doc::MapFeatures* keptOff) {
    const double grow = frame.mm(reachOf(style, frame)) * frame.unitsPerPx();
    auto rows = features.index.meeting(frame.extent().grown(grow));
    if (style.classing == doc::Classing::Sized) sortBySize(rows, style, *features.table);
    Pass pass{frame, features, style, Parts::All};
    if (hasCasing(style)) {
        pass.parts = Parts::Beneath;
        if (const auto done = paintPass(painter, pass, rows, progress); !done) return done;
        pass.parts = Parts::Above;
    }
    if (const auto done = paintPass(painter, pass, rows, progress); !done) return done;
    if (style.classing != doc::Classing::Dots) return {};
    return paintDots(painter, frame, features, style.dots, rows, progress, keptOff);
}

void paintOutline(QPainter& painter, const MapFrame& frame, const GeometryView& g,
                  std::span<const std::uint8_t> seams, Outline of) {
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setBrush(Qt::NoBrush);
    QPainterPath path;
    for (const MapFrame& turn : turnsOf(frame)) {
        if (g.type != GeometryType::Point) {
            path.addPath(GeometryShape(turn, g, seams).lines(20));
            continue;
        }
        const Affine way = turn.toPixels();
        for (const Point p : g.points) path.addEllipse(qt(way(p)), frame.mm(1.9), frame.mm(1.9));
    }
    const bool isPicked = of == Outline::Picked;
    const QColor ink = isPicked ? QColor(0xD9, 0x9A, 0x2B) : QColor(0x3D, 0x42, 0x96);
    for (const auto& [colour, widthMm] :
         {std::pair{QColor(0xF6, 0xF6, 0xFB), isPicked ? 1.25 : 0.75},
          std::pair{ink, isPicked ? 0.65 : 0.35}}) {
        QPen pen(colour, frame.mm(widthMm));
        pen.setJoinStyle(Qt::RoundJoin);
        pen.setCapStyle(Qt::RoundCap);
        painter.strokePath(path, pen);
    }
}

}  // namespace ledge::carto
