#pragma once
#include <QPainter>
#include <QRectF>

/// Named groups in an SVG written by a painter: each is marked in the drawing while it is painted,
/// and the marks become groups with an identifier and a clip afterwards.
namespace ledge::session {

class SvgParts {
public:
    /// What is painted from here on belongs to a part, cut to a rectangle of the device, and is so
    /// opaque as a whole.
    void begin(QPainter& painter, const QString& name, const QRectF& clip, double opacity);
    void end(QPainter& painter);
    /// The SVG with its groups.
    QByteArray grouped(const QByteArray& painted) const;

private:
    struct Part {
        QString name;
        QRectF clip;
        double opacity = 1;
    };
    void mark(QPainter& painter, const QString& what);
    std::vector<Part> m_parts;
    bool m_isOpen = false;
};

}  // namespace ledge::session
