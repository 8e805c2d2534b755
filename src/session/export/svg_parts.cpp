#include "session/export/svg_parts.h"

#include <QRegularExpression>

namespace ledge::session {
namespace {
const QString kMark = QStringLiteral("ledge-part:");
}

// A text of its own colour stands in a group of its own, which is found and replaced.
void SvgParts::mark(QPainter& painter, const QString& what) {
    const auto turn = static_cast<int>(m_parts.size() * 2 + (m_isOpen ? 1 : 0));
    painter.save();
    painter.resetTransform();
    painter.setOpacity(1);
    painter.setPen(QColor(turn % 251, (turn / 251) % 251, 253, 254));
    painter.setBrush(Qt::NoBrush);
    painter.setFont(QFont(QStringLiteral("Inter"), 7));
    painter.drawText(QPointF(0, 0), kMark + what);
    painter.restore();
}

void SvgParts::begin(QPainter& painter, const QString& name, const QRectF& clip, double opacity) {
    end(painter);
    m_parts.push_back({name, clip, opacity});
    mark(painter, QString::number(m_parts.size() - 1));
    m_isOpen = true;
}

void SvgParts::end(QPainter& painter) {
    if (!m_isOpen) return;
    mark(painter, QStringLiteral("end"));
    m_isOpen = false;
}

QByteArray SvgParts::grouped(const QByteArray& painted) const {
    static const QRegularExpression marked(
        QStringLiteral("<g\\b[^>]*>\\s*<text\\b[^>]*>\\s*ledge-part:(\\w+)\\s*</text>\\s*</g>"));
    const QString svg = QString::fromUtf8(painted);
    QString out, clips;
    qsizetype done = 0;
    for (auto found = marked.globalMatch(svg); found.hasNext();) {
        const auto one = found.next();
        out += svg.mid(done, one.capturedStart() - done);
        done = one.capturedEnd();
        if (one.captured(1) == "end") {
            out += "</g>\n";
            continue;
        }
        const auto i = one.captured(1).toULongLong();
        if (i >= m_parts.size()) continue;
        const QRectF& r = m_parts[i].clip;
        const double opacity = m_parts[i].opacity;
        out += QString("<g id=\"part%1\" data-name=\"%2\" clip-path=\"url(#clip%1)\"%3>\n"
                       "<title>%2</title>\n")
                   .arg(i)
                   .arg(m_parts[i].name.toHtmlEscaped(),
                        opacity < 1 ? QString(" opacity=\"%1\"").arg(opacity) : QString());
        clips += QString("<clipPath id=\"clip%1\"><rect x=\"%2\" y=\"%3\" width=\"%4\" "
                         "height=\"%5\"/></clipPath>\n")
                     .arg(i)
                     .arg(r.x())
                     .arg(r.y())
                     .arg(r.width())
                     .arg(r.height());
    }
    out += svg.mid(done);
    if (!clips.isEmpty()) out.replace(QStringLiteral("</defs>"), clips + QStringLiteral("</defs>"));
    return out.toUtf8();
}

}  // namespace ledge::session
