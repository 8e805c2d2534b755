#pragma once
#include <QVBoxLayout>

#include "app/widgets/break_view.h"
#include "app/widgets/colour_button.h"
#include "app/widgets/form.h"
#include "app/widgets/formula_choice.h"
#include "app/widgets/formula_text.h"
#include "core/feature/value.h"
#include "core/geometry/geometry.h"
#include "document/style.h"

namespace ledge::app {

/// How numbers of a field are drawn: classes with their breaks, sizes, or dots. It shows a style
/// and says what is wanted of it; it computes nothing.
class NumberRules : public QWidget {
    Q_OBJECT

public:
    explicit NumberRules(QWidget* parent = nullptr);
    /// Layers of areas that dots may be kept out of.
    void offerAreas(const std::vector<std::pair<QString, doc::Id>>& areas);
    void show(const doc::VectorStyle& style, GeometryType geometry,
              const std::vector<Field>& fields,
              const std::shared_ptr<const classify::Sample>& sample, const QString& problem);
    BreakView* breakView() const { return m_view; }

Q_SIGNALS:
    /// A member of the style and its new value; edits with one key are one step of undo.
    void edited(const QString& member, const std::string& value, const QString& mergeKey);
    /// Breaks anew.
    void breaksAsked(ledge::classify::Method method, int classes);
    /// Breaks by hand, whole.
    void breaksMoved(const std::vector<double>& breaks);
    /// Other colours.
    void familyAsked(const std::string& family, bool isFlipped);

private:
    QWidget* makeClassPart();
    QWidget* makeSizePart();
    QWidget* makeDotPart();
    void showClasses(const doc::VectorStyle& style, GeometryType geometry);
    static std::vector<doc::Look> looksOf(const doc::VectorStyle& style, GeometryType geometry);
    void showDots(const doc::VectorStyle& style, const std::vector<Field>& fields);
    void makeClassRows(std::size_t count);
    void makeDotRows(std::size_t count);
    void ask();

    struct ClassRow {
        QCheckBox* lamp;
        QLabel* sample;
        QLineEdit* label;
        QLabel* count;
    };
    struct DotRow {
        ColourButton* colour;
        FormulaText* field;
    };
    std::vector<ClassRow> m_classRows;
    std::vector<DotRow> m_dotRowsMade;
    doc::VectorStyle m_style;
    std::shared_ptr<const classify::Sample> m_sample;
    FormulaChoice* m_per;
    QWidget* m_perPart;
    QLabel* m_note;
    QWidget* m_classPart;
    QComboBox* m_method;
    QDoubleSpinBox* m_count;
    QComboBox* m_family;
    QPushButton* m_flip;
    BreakView* m_view;
    QVBoxLayout* m_rows;
    QLabel* m_fit;
    QCheckBox* m_outlines;
    QWidget* m_colourPart;
    QWidget* m_sizePart;
    QCheckBox* m_classed;
    QDoubleSpinBox* m_largest;
    QDoubleSpinBox* m_smallest;
    QDoubleSpinBox* m_high;
    QComboBox* m_by;
    QCheckBox* m_perceptual;
    QWidget* m_dotPart;
    QDoubleSpinBox* m_each;
    QDoubleSpinBox* m_dotMm;
    QVBoxLayout* m_dotRows;
    QComboBox* m_addDots;
    QComboBox* m_outside;
};

}  // namespace ledge::app
