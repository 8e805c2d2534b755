#pragma once
#include <QWidget>

#include "core/terrain/hillshade.h"

namespace ledge::app {

/// Azimuth as the angle and altitude as the distance from the rim: the sun overhead stands in the
/// middle. Dragged by mouse, turned by arrow keys.
class SunDial : public QWidget {
    Q_OBJECT

public:
    explicit SunDial(QWidget* parent = nullptr);
    terrain::Light light() const { return m_light; }
    void setLight(terrain::Light light);
    /// Where the sun stands, in the widget's pixels.
    QPointF sunAt(terrain::Light light) const;
    QSize sizeHint() const override { return {184, 184}; }

Q_SIGNALS:
    /// While dragging and at each key.
    void lightChanged(const terrain::Light& light);
    void dragEnded();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

private:
    double radius() const;
    void moveTo(QPointF position, bool snaps);
    void choose(terrain::Light light);

    terrain::Light m_light;
};

}  // namespace ledge::app
