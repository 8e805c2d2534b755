#include "carto/own_marks.h"

#include <QFontDatabase>
#include <QFontMetricsF>
#include <QPaintEngine>
#include <QPainterPath>
#include <QSvgRenderer>
#include <list>

#include "carto/text.h"

namespace ledge::carto {
namespace {
constexpr std::size_t kMostBytes = 1'000'000;

// Read drawings and their pictures; a thread has its own, since a renderer is for one thread.
struct Drawing {
    std::string svg;
    Colour ink;
    std::shared_ptr<QSvgRenderer> renderer;
    double pictureOf = 0;  ///< the size of the picture
    QImage picture;
};

Drawing& drawingOf(const std::string& svg, Colour ink) {
    constexpr std::size_t kMost = 32;
    thread_local std::list<Drawing> known;  // the latest first
    for (auto it = known.begin(); it != known.end(); ++it)
        if (it->svg == svg && it->ink == ink) {
            known.splice(known.begin(), known, it);
            return known.front();
        }
    QByteArray text = QByteArray::fromStdString(svg);
    text.replace("currentColor", QByteArray::fromStdString(colourText({ink.r, ink.g, ink.b})));
    Drawing made{svg, ink, std::make_shared<QSvgRenderer>(text), 0, {}};
    made.renderer->setAspectRatioMode(Qt::KeepAspectRatio);
    known.push_front(std::move(made));
    if (known.size() > kMost) known.pop_back();
    return known.front();
}

QRectF boxOf(const QSvgRenderer& renderer, double px) {
    const QSizeF size = QSizeF(renderer.defaultSize()).scaled(px, px, Qt::KeepAspectRatio);
    return {QPointF(-size.width() / 2, -size.height() / 2), size};
}
}  // namespace

QString drawingTrouble(const std::string& svg) {
    if (svg.size() > kMostBytes) return QObject::tr("the drawing is larger than a megabyte");
    QSvgRenderer renderer(QByteArray::fromStdString(svg));
    if (!renderer.isValid()) return QObject::tr("the file is no SVG drawing");
    if (renderer.defaultSize().isEmpty()) return QObject::tr("the drawing has no size");
    return {};
}

bool paintDrawing(QPainter& painter, const std::string& svg, double px, Colour ink) {
    if (svg.size() > kMostBytes || !(px > 0)) return false;
    Drawing& drawing = drawingOf(svg, ink);
    if (!drawing.renderer->isValid() || drawing.renderer->defaultSize().isEmpty()) return false;
    const QRectF box = boxOf(*drawing.renderer, px);
    const bool isPicture =
        painter.paintEngine() && painter.paintEngine()->type() == QPaintEngine::Raster && px < 400;
    if (!isPicture) {
        drawing.renderer->render(&painter, box);
        return true;
    }
    constexpr double kFiner = 2;  // so that it may lie between pixels, and be turned
    if (drawing.pictureOf != px) {
        drawing.picture = QImage((box.size() * kFiner).toSize() + QSize(1, 1),
                                 QImage::Format_ARGB32_Premultiplied);
        drawing.picture.fill(Qt::transparent);
        QPainter picture(&drawing.picture);
        drawing.renderer->render(&picture, QRectF(QPointF(0, 0), box.size() * kFiner));
        drawing.pictureOf = px;
    }
    painter.save();
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(QRectF(box.topLeft(), QSizeF(drawing.picture.size()) / kFiner),
                      drawing.picture);
    painter.restore();
    return true;
}

QPainterPath charactersPath(const std::string& text, const std::string& family, double px) {
    constexpr int kDesignPx = 200;
    QFont font(family.empty() ? kOwnFont : QString::fromStdString(family));
    font.setPixelSize(kDesignPx);
    const QString said = QString::fromStdString(text);
    const QFontMetricsF metrics(font);
    QPainterPath path;
    path.addText(-metrics.horizontalAdvance(said) / 2, metrics.capHeight() / 2, font, said);
    const double k = metrics.capHeight() > 0 ? px / metrics.capHeight() : 0;
    return QTransform::fromScale(k, k).map(path);
}

bool hasFont(const std::string& font) {
    return font.empty() || QFontDatabase::hasFamily(QString::fromStdString(font));
}

}  // namespace ledge::carto
