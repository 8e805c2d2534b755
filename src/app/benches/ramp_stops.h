#pragma once
#include <QScrollArea>
#include <QWidget>

#include "core/symbol/ramp.h"

class QGridLayout;

namespace ledge::app {

/// The stops of a ramp, to be changed one by one: value, colour, another beside it, away with it.
class RampStops : public QWidget {
    Q_OBJECT

public:
    explicit RampStops(QWidget* parent = nullptr);
    void show(const Ramp& ramp, int decimals, double step);

Q_SIGNALS:
    void edited(const ledge::Ramp& ramp);
    void refused(const QString& why);

private:
    void rebuild();
    void setValue(std::size_t at, double value);
    void addAfter(std::size_t at);
    void remove(std::size_t at);

    Ramp m_ramp;
    int m_decimals = 2;
    double m_step = 1;
    QGridLayout* m_rows;
};

}  // namespace ledge::app
