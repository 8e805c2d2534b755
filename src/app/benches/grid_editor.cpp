#include "app/benches/grid_editor.h"

#include "app/widgets/form.h"
#include "core/base/numbers.h"
#include "core/crs/crs.h"

namespace ledge::app {

GridEditor::GridEditor(QWidget* parent)
    : QWidget(parent),
      m_kind(
          makeChoice(tr("Lines"), {tr("Meridians and parallels"), tr("Eastings and northings")})),
      m_crs(makeText(tr("CRS of the lines"), tr("the map's own; or EPSG:n, WKT"))),
      m_interval(makeNumber(tr("Interval"), 0, 1e7, 6)),
      m_lineMm(makeNumber(tr("Line width"), 0.02, 2, 2, " mm", 0.02)),
      m_labelPt(makeNumber(tr("Size of the labels"), 3, 24, 1, " pt", 0.5)),
      m_colour(new ColourButton(tr("Colour of the lines"))), m_labels(new QCheckBox(tr("Labels"))) {
    setObjectName("gridEditor");
    m_crs->setObjectName("gridCrs");
    m_interval->setObjectName("gridInterval");
    m_interval->setSpecialValueText(tr("by the scale"));
    m_labels->setToolTip(tr("Write the coordinates at the edges of the map"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    layout->addWidget(captioned(tr("Lines"), m_kind));
    layout->addWidget(captioned(tr("In the coordinates of"), m_crs));
    layout->addWidget(captioned(tr("Interval, degrees or units of that CRS"), m_interval));
    layout->addWidget(
        sideBySide({captioned(tr("Line width"), m_lineMm), captioned(tr("Colour"), m_colour)}));
    layout->addWidget(m_labels);
    layout->addWidget(captioned(tr("Label size"), m_labelPt));
    connect(m_kind, &QComboBox::activated, this, &GridEditor::take);
    connect(m_crs, &QLineEdit::editingFinished, this, &GridEditor::take);
    for (QDoubleSpinBox* box : {m_interval, m_lineMm, m_labelPt})
        connect(box, &QDoubleSpinBox::valueChanged, this, &GridEditor::take);
    connect(m_colour, &ColourButton::chosen, this, [this](Colour colour) {
        m_style.colour = colour;
        take();
    });
    connect(m_labels, &QCheckBox::toggled, this, &GridEditor::take);
}

void GridEditor::show(const doc::GridStyle& style) {
    m_style = style;
    showChoice(m_kind, style.isGraticule ? 0 : 1);
    showText(m_crs, QString::fromStdString(style.crs));
    showNumber(m_interval, style.interval);
    showNumber(m_lineMm, style.lineMm);
    showNumber(m_labelPt, style.labelPt);
    m_colour->setColour(style.colour);
    showCheck(m_labels, style.hasLabels);
}

void GridEditor::take() {
    doc::GridStyle next = m_style;
    next.isGraticule = m_kind->currentIndex() == 0;
    next.crs = trimmed(m_crs->text().toStdString());
    next.interval = m_interval->value();
    next.lineMm = m_lineMm->value();
    next.labelPt = m_labelPt->value();
    next.hasLabels = m_labels->isChecked();
    if (const auto crs = crs::parseCrs(next.crs); !crs) {
        if (sender() == m_crs) Q_EMIT refused(QString::fromStdString(crs.error().text()));
        next.crs = m_style.crs;  // what is wrong in one field stops no other
    }
    m_style = next;
    Q_EMIT edited(next);
}

}  // namespace ledge::app
