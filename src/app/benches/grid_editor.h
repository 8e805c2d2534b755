#pragma once
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>

#include "app/widgets/colour_button.h"
#include "document/style.h"

namespace ledge::app {

/// Edits a graticule or grid: whose coordinates, interval, line, labels.
class GridEditor : public QWidget {
    Q_OBJECT

public:
    explicit GridEditor(QWidget* parent = nullptr);
    void show(const doc::GridStyle& style);

Q_SIGNALS:
    void edited(const ledge::doc::GridStyle& style);

private:
    void take();

    doc::GridStyle m_style;
    QComboBox* m_kind;
    QLineEdit* m_crs;
    QLabel* m_crsWrong;
    QDoubleSpinBox* m_interval;
    QDoubleSpinBox* m_lineMm;
    QDoubleSpinBox* m_labelPt;
    ColourButton* m_colour;
    QCheckBox* m_labels;
    QCheckBox* m_outline;
    QCheckBox* m_sea;
    ColourButton* m_seaColour;
};

}  // namespace ledge::app
