#pragma once
#include <QIcon>
#include <QWidget>

#include "app/benches/ramp_stops.h"
#include "app/widgets/form.h"
#include "core/symbol/ramp.h"

namespace ledge::app {

/// A ramp in small, for lists.
QIcon familyIcon(const Ramp& ramp);

/// A ramp drawn with its limits beside it: family, flip, low and high, and its stops one by one.
class RampEditor : public QWidget {
    Q_OBJECT

public:
    explicit RampEditor(QWidget* parent = nullptr);
    /// `isTint`: families of height tints instead of plain ramps.
    void show(const Ramp& ramp, const std::string& family, bool isTint);
    bool isDragging() const { return m_isDragging; }

Q_SIGNALS:
    /// Why what was typed cannot be used.
    void refused(const QString& why);
    void edited(const ledge::Ramp& ramp, const std::string& family);
    /// What was dragged was let go: the next edit is a step of its own.
    void settled();

private:
    class Strip;
    void fillFamilies(bool isTint);
    void setLimits(double low, double high);
    Ramp made(const std::string& family, double low, double high) const;

    Ramp m_ramp;
    std::string m_family;
    bool m_isDragging = false, m_isTint = false, m_hasFamilies = false;
    Strip* m_strip;
    QComboBox* m_families;
    QPushButton* m_grey;
    RampStops* m_stops;
    QDoubleSpinBox* m_low;
    QDoubleSpinBox* m_high;
};

}  // namespace ledge::app
