#pragma once
#include <QWidget>
#include <memory>

#include "core/base/colour.h"
#include "core/classify/breaks.h"

namespace ledge::app {

/// How numbers are spread, as bars in the colours of their classes, with the breaks between classes
/// as handles: dragged, moved by the arrow keys (Page Up and Page Down choose), put in by a double
/// click, taken out by Delete.
class BreakView : public QWidget {
    Q_OBJECT

public:
    explicit BreakView(QWidget* parent = nullptr);
    void show(std::shared_ptr<const classify::Sample> sample, std::vector<double> breaks,
              std::vector<Colour> colours);
    const std::vector<double>& breaks() const { return m_breaks; }
    std::optional<std::size_t> chosen() const { return m_chosen; }
    /// Where a number stands, in pixels.
    double xOf(double number) const;

Q_SIGNALS:
    /// While dragging too.
    void moved(const std::vector<double>& breaks);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    QRectF plot() const;
    double numberAt(double x) const;
    std::optional<std::size_t> breakAt(double x) const;
    void move(std::size_t i, double to);
    void choose(std::optional<std::size_t> i);

    std::shared_ptr<const classify::Sample> m_sample;
    std::vector<std::int64_t> m_bars;
    std::vector<double> m_breaks;
    std::vector<Colour> m_colours;
    std::optional<std::size_t> m_chosen;
    double m_low = 0, m_high = 1;
};

}  // namespace ledge::app
