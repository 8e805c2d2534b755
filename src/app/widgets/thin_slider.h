#pragma once
#include <QAbstractSlider>

namespace ledge::app {

/// A hairline slider, from 0 to 100 unless told otherwise, with a keyboard path.
class ThinSlider : public QAbstractSlider {
    Q_OBJECT

public:
    explicit ThinSlider(QWidget* parent = nullptr);
    QSize sizeHint() const override { return {120, 14}; }

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;

private:
    int valueAt(double x) const;
};

}  // namespace ledge::app
