#include "app/benches/ramp_stops.h"

#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QLabel>
#include <QSignalBlocker>

#include "app/widgets/colour_button.h"
#include "app/widgets/focus_kept.h"
#include "app/widgets/form.h"
#include "app/widgets/rows.h"

namespace ledge::app {
namespace {
// More are the business of a table in a file.
constexpr std::size_t kMostShown = 24;
enum Column { kColour, kValue, kMore, kAway };
}  // namespace

RampStops::RampStops(QWidget* parent) : QWidget(parent), m_rows(new QGridLayout(this)) {
    setObjectName("rampStops");
    m_rows->setContentsMargins(0, 0, 0, 0);
    m_rows->setHorizontalSpacing(6);
    m_rows->setVerticalSpacing(3);
    m_rows->setColumnStretch(kValue, 1);
}

void RampStops::show(const Ramp& ramp, int decimals, double step) {
    const bool isSame =
        m_ramp.stops.size() == ramp.stops.size() && m_decimals == decimals && m_rows->count() > 0;
    m_ramp = ramp;
    m_decimals = decimals;
    m_step = step;
    if (!isSame) return rebuild();
    // The fields stay, and so does the focus in them.
    for (std::size_t i = 0; i < std::min(kMostShown, m_ramp.stops.size()); ++i) {
        const int row = static_cast<int>(i);
        auto* colour = qobject_cast<ColourButton*>(m_rows->itemAtPosition(row, kColour)->widget());
        auto* value = qobject_cast<QDoubleSpinBox*>(m_rows->itemAtPosition(row, kValue)->widget());
        colour->setColour(m_ramp.stops[i].colour);
        showNumber(value, m_ramp.stops[i].value);
    }
}

void RampStops::rebuild() {
    const FocusKept kept(this);
    clearRows(m_rows);
    const std::size_t count = std::min(kMostShown, m_ramp.stops.size());
    for (std::size_t i = 0; i < count; ++i) {
        const int row = static_cast<int>(i);
        auto* colour = new ColourButton(tr("Colour of stop %1").arg(i + 1));
        colour->setColour(m_ramp.stops[i].colour);
        auto* value =
            makeNumber(tr("Value of stop %1").arg(i + 1), -1e12, 1e12, m_decimals, {}, m_step);
        value->setObjectName(QString("stop%1").arg(i));
        showNumber(value, m_ramp.stops[i].value);
        auto* more = makeLink("+", tr("Another stop between this one and the next"));
        auto* away = makeLink("\u00D7", tr("Remove this stop"));
        more->setObjectName(QString("addStop%1").arg(i));
        away->setObjectName(QString("removeStop%1").arg(i));
        more->setAccessibleName(tr("Add a stop after stop %1").arg(i + 1));
        away->setAccessibleName(tr("Remove stop %1").arg(i + 1));
        more->setEnabled(i + 1 < m_ramp.stops.size());
        away->setEnabled(m_ramp.stops.size() > 2);
        m_rows->addWidget(colour, row, kColour);
        m_rows->addWidget(value, row, kValue);
        m_rows->addWidget(more, row, kMore);
        m_rows->addWidget(away, row, kAway);
        connect(colour, &ColourButton::chosen, this, [this, i](const Colour& chosen) {
            Ramp next = m_ramp;
            next.stops[i].colour = chosen;
            Q_EMIT edited(next);
        });
        connect(value, &QDoubleSpinBox::valueChanged, this,
                [this, i](double v) { setValue(i, v); });
        connect(more, &QPushButton::clicked, this, [this, i] { addAfter(i); });
        connect(away, &QPushButton::clicked, this, [this, i] { remove(i); });
    }
    if (count < m_ramp.stops.size())
        m_rows->addWidget(
            makeLabel(tr("The first %1 of %2 stops").arg(count).arg(m_ramp.stops.size()), "muted"),
            static_cast<int>(count), kValue);
}

void RampStops::setValue(std::size_t at, double value) {
    const auto& stops = m_ramp.stops;
    const bool isLow = at > 0 && value < stops[at - 1].value;
    const bool isHigh = at + 1 < stops.size() && value > stops[at + 1].value;
    if (isLow || isHigh) {
        Q_EMIT refused(isLow ? tr("A stop cannot lie below the one before it")
                             : tr("A stop cannot lie above the one after it"));
        return show(Ramp(m_ramp), m_decimals, m_step);
    }
    Ramp next = m_ramp;
    next.stops[at].value = value;
    Q_EMIT edited(next);
}

void RampStops::addAfter(std::size_t at) {
    if (at + 1 >= m_ramp.stops.size()) return;
    const double middle = (m_ramp.stops[at].value + m_ramp.stops[at + 1].value) / 2;
    Ramp next = m_ramp;
    next.stops.insert(next.stops.begin() + static_cast<std::ptrdiff_t>(at) + 1,
                      {middle, m_ramp.at(middle)});
    Q_EMIT edited(next);
}

void RampStops::remove(std::size_t at) {
    if (m_ramp.stops.size() <= 2) return;
    Ramp next = m_ramp;
    next.stops.erase(next.stops.begin() + static_cast<std::ptrdiff_t>(at));
    Q_EMIT edited(next);
}

}  // namespace ledge::app
