#include "app/canvas/fading_labels.h"

#include <QPainter>
#include <algorithm>

namespace ledge::app {
namespace {
constexpr int kTickMs = 16;
}

FadingLabels::FadingLabels(QObject* parent) : QObject(parent) {
    m_ticks.setInterval(kTickMs);
    connect(&m_ticks, &QTimer::timeout, this, [this] {
        if (m_since.elapsed() >= m_fadeMs) {
            m_ticks.stop();
            m_left = {};
        }
        Q_EMIT changed();
    });
}

void FadingLabels::show(carto::LabelPictures pictures, const carto::MapFrame& frame, int fadeMs) {
    const bool fades =
        fadeMs > 0 && !m_pictures.standing.isNull() && crs::isSame(m_frame.crs, frame.crs);
    m_left = {};
    if (fades) {
        m_left = std::move(m_pictures.standing);
        QPainter(&m_left).drawImage(0, 0, m_pictures.coming);
        m_leftFrame = m_frame;
        m_fadeMs = fadeMs;
        m_since.start();
        m_ticks.start();
    } else {
        m_ticks.stop();
    }
    m_pictures = std::move(pictures);
    m_frame = frame;
    Q_EMIT changed();
}

void FadingLabels::clear() {
    m_ticks.stop();
    m_pictures = {};
    m_left = {};
    Q_EMIT changed();
}

double FadingLabels::share() const {
    if (!m_ticks.isActive()) return 1;
    return std::clamp(static_cast<double>(m_since.elapsed()) / m_fadeMs, 0.0, 1.0);
}

void FadingLabels::paint(
    QPainter& painter,
    const std::function<void(const QImage&, const carto::MapFrame&)>& paint) const {
    const double come = share();
    const auto put = [&](const QImage& image, const carto::MapFrame& frame, double opacity) {
        if (image.isNull() || opacity <= 0) return;
        painter.setOpacity(opacity);
        paint(image, frame);
    };
    // What stays lies over itself of before, pixel on pixel: it neither dims nor jumps.
    put(m_left, m_leftFrame, 1 - come);
    put(m_pictures.standing, m_frame, 1);
    put(m_pictures.coming, m_frame, come);
    painter.setOpacity(1);
}

}  // namespace ledge::app
