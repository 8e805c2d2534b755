#pragma once
#include <QWidget>

#include "core/raster/counts.h"

namespace ledge::app {

/// How often which values occur, as bars over their range; pointing at a bar tells its numbers.
class HistogramView : public QWidget {
    Q_OBJECT

public:
    explicit HistogramView(QWidget* parent = nullptr);
    void setHistogram(Histogram histogram);
    /// What a bar under a position holds, in words; empty beside all bars.
    QString barText(double x) const;

protected:
    void paintEvent(QPaintEvent*) override;
    bool event(QEvent* event) override;

private:
    QRectF plot() const;

    Histogram m_histogram;
};

}  // namespace ledge::app
