#pragma once
#include "app/benches/bench_page.h"
#include "app/benches/category_editor.h"
#include "app/benches/class_editor.h"
#include "app/benches/grid_editor.h"
#include "app/benches/image_editor.h"
#include "app/benches/look_editor.h"
#include "app/benches/number_rules.h"
#include "app/benches/ramp_editor.h"
#include "app/benches/rule_editor.h"
#include "app/benches/spread_editor.h"
#include "app/widgets/formula_choice.h"
#include "core/symbol/colour_vision.h"
#include "session/class_book.h"
#include "session/fact_book.h"
#include "session/sample_book.h"

namespace ledge::app {

/// How a layer looks: one look, categories, a ramp or classes of a field, sizes, dots, rules;
/// opacity and blend mode.
class StyleBench : public BenchPage {
    Q_OBJECT

public:
    StyleBench(Workspace& workspace, session::FactBook& facts, QWidget* parent = nullptr);

    /// Shows the row of a class at a probed spot.
    void pickClass(double value) { m_classTable->pick(value); }

Q_SIGNALS:
    /// The map is to be seen as others see it.
    void visionAsked(ledge::Vision vision);

protected:
    void refresh() override;

private:
    void makeVectors();
    void makeRaster();
    void makeRamp();
    void makeLooks();
    void makeLines();
    void makeVision();
    void makeMix();
    void refreshVector(const doc::VectorLayer& vector, const doc::SourceRef& source);
    void setClassing(doc::Classing classing);
    void setRasterKind(int kind);
    void setLimits(const doc::ImageStyle& style);
    void refreshRaster(const doc::RasterLayer& raster, const doc::SourceRef& source);
    void setField(const QString& field);
    void classify(doc::Classing classing, const std::string& field);
    std::string categoryPath(const std::string& value) const;
    std::string lookPath() const;
    void askBreaks(classify::Method method, int classes);
    void setBreaks(const std::vector<double>& breaks);
    void setFamily(const std::string& family, bool isFlipped);
    const doc::VectorLayer* vector() const;

    session::FactBook& m_facts;
    session::ClassBook m_classBook;
    QWidget* m_vectorPart;
    QComboBox* m_classing;
    QWidget* m_fieldPart;
    FormulaChoice* m_field;
    LookEditor* m_look;
    QLabel* m_lookTitle;
    std::string m_category;             ///< the category in the look editor; empty: the base look
    std::optional<std::size_t> m_rule;  ///< the rule in it
    session::SampleBook m_samples;
    /// Breaks that wait for their numbers.
    std::optional<std::pair<classify::Method, int>> m_waitingBreaks;
    NumberRules* m_numbers;
    RuleEditor* m_rules;
    CategoryEditor* m_categoryEditor;
    QComboBox* m_vision;
    QComboBox* m_lookOf;
    QWidget* m_lookOfPart;
    SpreadEditor* m_spread;
    FormulaChoice* m_turnBy;
    QCheckBox* m_onGround;
    QWidget* m_turnPart;
    RampEditor* m_ramp;
    QWidget* m_numberPart;
    QComboBox* m_decimals;
    QDoubleSpinBox* m_opacity;
    QComboBox* m_blend;
    QWidget* m_mixPart;
    QDoubleSpinBox* m_lineMm;
    QDoubleSpinBox* m_indexMm;
    ColourButton* m_land;
    ColourButton* m_water;
    QWidget* m_contourPart;
    GridEditor* m_grid;
    QComboBox* m_rasterKind;
    QWidget* m_rasterPart;
    ImageEditor* m_image;
    ClassEditor* m_classTable;
    QCheckBox* m_cells;
    QDoubleSpinBox* m_widest;
    QDoubleSpinBox* m_closest;
};

}  // namespace ledge::app
