#pragma once
#include "app/benches/bench_page.h"
#include "app/widgets/colour_button.h"
#include "session/fact_book.h"

namespace ledge::app {

/// Names on features and heights on contours.
class LabelsBench : public BenchPage {
    Q_OBJECT

public:
    LabelsBench(Workspace& workspace, session::FactBook& facts, QWidget* parent = nullptr);
    /// What the last drawing placed and what found no room.
    void setCount(int placed, int withoutRoom);

protected:
    void refresh() override;

private:
    session::FactBook& m_facts;
    QCheckBox* m_on;
    QComboBox* m_field;
    QComboBox* m_rank;
    QDoubleSpinBox* m_size;
    ColourButton* m_colour;
    QCheckBox* m_bold;
    QCheckBox* m_italic;
    QCheckBox* m_halo;
    QDoubleSpinBox* m_widest;
    QWidget* m_namePart;
    QLabel* m_count;
};

}  // namespace ledge::app
