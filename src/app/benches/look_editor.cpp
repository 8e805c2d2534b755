#include "app/benches/look_editor.h"

namespace ledge::app {

LookEditor::LookEditor(QWidget* parent)
    : QWidget(parent), m_hasFill(new QCheckBox(tr("Fill"))),
      m_fill(new ColourButton(tr("Fill colour"))), m_hasStroke(new QCheckBox(tr("Line"))),
      m_stroke(new ColourButton(tr("Line colour"))),
      m_width(makeNumber(tr("Line width on paper"), 0, 10, 2, " mm", 0.05)),
      m_dash(makeChoice(tr("Dashes"), {tr("Solid"), tr("Dashes"), tr("Dots"), tr("Dash-dot")})),
      m_mark(makeChoice(tr("Mark"), {tr("Circle"), tr("Square"), tr("Triangle"), tr("Diamond")})),
      m_size(makeNumber(tr("Mark size on paper"), 0.2, 40, 1, " mm", 0.2)) {
    m_width->setObjectName("lineWidth");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    m_fillRow = sideBySide({m_hasFill, m_fill});
    layout->addWidget(m_fillRow);
    layout->addWidget(sideBySide({m_hasStroke, m_stroke}));
    m_dashPart = captioned(tr("Dashes"), m_dash);
    layout->addWidget(sideBySide({captioned(tr("Width"), m_width), m_dashPart}));
    m_markPart = sideBySide({captioned(tr("Mark"), m_mark), captioned(tr("Size"), m_size)});
    layout->addWidget(m_markPart);
    connect(m_hasFill, &QCheckBox::clicked, this,
            [this](bool on) { change([on](doc::Look& l) { l.hasFill = on; }); });
    connect(m_hasStroke, &QCheckBox::clicked, this,
            [this](bool on) { change([on](doc::Look& l) { l.hasStroke = on; }); });
    connect(m_fill, &ColourButton::chosen, this,
            [this](Colour c) { change([c](doc::Look& l) { l.fill = c; }); });
    connect(m_stroke, &ColourButton::chosen, this,
            [this](Colour c) { change([c](doc::Look& l) { l.stroke = c; }); });
    connect(m_width, &QDoubleSpinBox::valueChanged, this,
            [this](double v) { change([v](doc::Look& l) { l.strokeMm = v; }); });
    connect(m_size, &QDoubleSpinBox::valueChanged, this,
            [this](double v) { change([v](doc::Look& l) { l.markMm = v; }); });
    connect(m_dash, &QComboBox::activated, this,
            [this](int i) { change([i](doc::Look& l) { l.dash = static_cast<doc::Dash>(i); }); });
    connect(m_mark, &QComboBox::activated, this,
            [this](int i) { change([i](doc::Look& l) { l.mark = static_cast<doc::Mark>(i); }); });
}

void LookEditor::change(const std::function<void(doc::Look&)>& f) {
    doc::Look next = m_look;
    f(next);
    if (next == m_look) return;
    m_look = next;
    Q_EMIT edited(next);
}

void LookEditor::show(const doc::Look& look, GeometryType type) {
    m_look = look;
    m_fillRow->setVisible(type != GeometryType::Line);
    m_dashPart->setVisible(type != GeometryType::Point);
    m_markPart->setVisible(type == GeometryType::Point);
    showCheck(m_hasFill, look.hasFill);
    showCheck(m_hasStroke, look.hasStroke);
    m_fill->setColour(look.fill);
    m_stroke->setColour(look.stroke);
    showNumber(m_width, look.strokeMm);
    showNumber(m_size, look.markMm);
    showChoice(m_dash, static_cast<int>(look.dash));
    showChoice(m_mark, static_cast<int>(look.mark));
}

}  // namespace ledge::app
