#pragma once
#include <QWidget>

#include "app/widgets/colour_button.h"
#include "app/widgets/font_choice.h"
#include "app/widgets/form.h"
#include "core/geometry/geometry.h"
#include "document/style.h"

namespace ledge::app {

/// Fill, pattern, outline, casing, dashes and mark of one look.
class LookEditor : public QWidget {
    Q_OBJECT

public:
    explicit LookEditor(QWidget* parent = nullptr);
    void show(const doc::Look& look, GeometryType type);

Q_SIGNALS:
    void edited(const doc::Look& look);
    /// Why what was typed cannot be used.
    void refused(const QString& why);

private:
    void change(const std::function<void(doc::Look&)>& f);
    doc::Look m_look;
    QWidget* m_fillRow;
    QCheckBox* m_hasFill;
    ColourButton* m_fill;
    QCheckBox* m_hasStroke;
    ColourButton* m_stroke;
    QDoubleSpinBox* m_width;
    QComboBox* m_dash;
    QWidget* m_dashPart;
    QComboBox* m_mark;
    QDoubleSpinBox* m_size;
    QWidget* m_markPart;
    QWidget* makeMorePart();
    QCheckBox* m_more;
    QWidget* m_morePart;
    QComboBox* m_pattern;
    ColourButton* m_patternInk;
    QDoubleSpinBox* m_patternMm;
    QDoubleSpinBox* m_patternTurn;
    QDoubleSpinBox* m_patternLine;
    QWidget* m_patternPart;
    QDoubleSpinBox* m_casingMm;
    ColourButton* m_casing;
    QDoubleSpinBox* m_offset;
    QLineEdit* m_dashes;
    QLabel* m_dashesWrong;
    QComboBox* m_cap;
    QComboBox* m_join;
    QComboBox* m_along;
    QDoubleSpinBox* m_alongMm;
    QWidget* m_linePart;
    void chooseDrawing(std::string doc::Look::*member);
    QDoubleSpinBox* m_turn;
    QPushButton *m_drawing, *m_patternDrawing;
    QLineEdit* m_characters;
    FontChoice* m_font;
    QWidget* m_turnPart;
};

}  // namespace ledge::app
