#pragma once
#include <QTreeWidget>

#include "app/benches/bench_page.h"
#include "app/widgets/colour_button.h"
#include "app/widgets/font_choice.h"
#include "app/widgets/formula_choice.h"
#include "app/widgets/formula_text.h"
#include "carto/map_renderer.h"
#include "session/fact_book.h"

namespace ledge::app {

/// The label sets of the selected layer, one at a time: what they say of which features, in which
/// type, where; what was placed by hand, and what found no room.
class LabelsBench : public BenchPage {
    Q_OBJECT

public:
    LabelsBench(Workspace& workspace, session::FactBook& facts, QWidget* parent = nullptr);
    /// What is on the map now.
    void setReport(const carto::MapReport& report);
    int set() const { return m_set; }

Q_SIGNALS:
    /// Labels are to be placed by hand on the map.
    void handAsked();
    void placeAsked(const ledge::carto::LabelOf& of);
    void pinAllAsked(ledge::doc::Id layer, int set);
    /// A label that found no room is to be seen.
    void spotAsked(const ledge::Point& anchor);

protected:
    void refresh() override;

private:
    void makeSetPart();
    void makeTextPart();
    void makeTypePart();
    void makePlacePart();
    void makeHandPart();
    void showSet(const doc::VectorLayer& vector);
    void showLeftOut();
    void fitReasons();
    const doc::LabelStyle* labels() const;
    const doc::LabelStyle* setCalled(const std::string& name) const;
    void rename();
    bool isOfContours() const;
    /// A member of the set shown.
    void setLabel(const char* member, const std::string& value, const QString& mergeKey = {});
    void number(QDoubleSpinBox* box, const char* member);
    void check(QCheckBox* box, const char* member);
    void choice(QComboBox* box, const char* member, std::vector<std::string> words);

    session::FactBook& m_facts;
    int m_set = 0;
    carto::MapReport m_report;
    QComboBox* m_sets;
    QLineEdit* m_name;
    QLabel* m_nameWrong;
    QPushButton* m_addSet;
    QPushButton* m_removeSet;
    QWidget* m_setPart;
    QCheckBox* m_on;
    FormulaChoice* m_text;
    FormulaChoice* m_rank;
    FormulaText* m_keep;
    QDoubleSpinBox* m_size;
    ColourButton* m_colour;
    QCheckBox* m_bold;
    QCheckBox* m_italic;
    FontChoice* m_font;
    QCheckBox* m_halo;
    ColourButton* m_haloColour;
    QDoubleSpinBox* m_haloMm;
    QCheckBox* m_upper;
    QCheckBox* m_hasBackground;
    ColourButton* m_background;
    QDoubleSpinBox* m_letters;
    QDoubleSpinBox* m_lines;
    QDoubleSpinBox* m_wrap;
    QComboBox* m_decimals;
    QComboBox* m_onLines;
    QComboBox* m_inAreas;
    QDoubleSpinBox* m_repeat;
    QWidget* m_linePart;
    QWidget* m_areaPart;
    QDoubleSpinBox* m_widest;
    QDoubleSpinBox* m_closest;
    QDoubleSpinBox* m_keepOff;
    QWidget* m_namePart;
    QLabel* m_count;
    QLabel* m_pins;
    QPushButton* m_reset;
    QTreeWidget* m_leftOut;
    QPushButton* m_place;
};

}  // namespace ledge::app
