#pragma once
#include <QElapsedTimer>
#include <QTimer>
#include <functional>

#include "carto/map_renderer.h"

namespace ledge::app {

/// The labels over the map, which are drawn after it: those that come with a frame appear, those
/// that left fade, those that stay where they stood do not flicker.
class FadingLabels : public QObject {
    Q_OBJECT

public:
    explicit FadingLabels(QObject* parent = nullptr);

    void show(carto::LabelPictures pictures, const carto::MapFrame& frame, int fadeMs);
    void clear();
    bool isFading() const { return m_ticks.isActive(); }
    /// Paints what is seen now by `paint`, with the painter's opacity set.
    void paint(QPainter& painter,
               const std::function<void(const QImage&, const carto::MapFrame&)>& paint) const;
    /// The frames of what is shown, which a map that goes on around the earth moves.
    std::vector<carto::MapFrame*> frames() { return {&m_frame, &m_leftFrame}; }

Q_SIGNALS:
    void changed();

private:
    double share() const;

    carto::LabelPictures m_pictures;
    QImage m_left;  ///< all of the frame before, as long as it fades
    carto::MapFrame m_frame, m_leftFrame;
    QTimer m_ticks;
    QElapsedTimer m_since;
    int m_fadeMs = 0;
};

}  // namespace ledge::app
