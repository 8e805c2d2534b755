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
      m_colour(new ColourButton(tr("Colour of the lines"))), m_labels(new QCheckBox(tr("Labels"))),
      m_outline(new QCheckBox(tr("Outline of the globe"))),
      m_sea(new QCheckBox(tr("Fill the globe"))),
      m_seaColour(new ColourButton(tr("Colour of the sea"))) {
    setObjectName("gridEditor");
    m_crs->setObjectName("gridCrs");
    m_crsWrong = wrongBelow(m_crs);
    m_interval->setObjectName("gridInterval");
    m_interval->setSpecialValueText(tr("by the scale"));
    m_labels->setToolTip(tr("Write the coordinates at the edges of the map"));
    m_outline->setObjectName("gridOutline");
    m_outline->setToolTip(tr("Draw the edge of the earth where the map shows it"));
    m_sea->setObjectName("gridSea");
    m_sea->setToolTip(tr("Fill the earth with a colour, beneath all layers"));
    m_seaColour->setObjectName("gridSeaColour");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    layout->addWidget(captioned(tr("Lines"), m_kind));
    layout->addWidget(captioned(tr("In the coordinates of"), m_crs));
    layout->addWidget(m_crsWrong);
    layout->addWidget(captioned(tr("Interval, degrees or units of that CRS"), m_interval));
    layout->addWidget(
        sideBySide({captioned(tr("Line width"), m_lineMm), captioned(tr("Colour"), m_colour)}));
    layout->addWidget(m_labels);
    layout->addWidget(captioned(tr("Label size"), m_labelPt));
    layout->addWidget(m_outline);
    layout->addWidget(sideBySide({m_sea, m_seaColour}));
    connect(m_kind, &QComboBox::activated, this, &GridEditor::take);
    connect(m_crs, &QLineEdit::editingFinished, this, &GridEditor::take);
    for (QDoubleSpinBox* box : {m_interval, m_lineMm, m_labelPt})
        connect(box, &QDoubleSpinBox::valueChanged, this, &GridEditor::take);
    connect(m_colour, &ColourButton::chosen, this, [this](Colour colour) {
        m_style.colour = colour;
        take();
    });
    connect(m_seaColour, &ColourButton::chosen, this, [this](Colour colour) {
        m_style.sea = colour;
        take();
    });
    for (QCheckBox* box : {m_labels, m_outline, m_sea})
        connect(box, &QCheckBox::toggled, this, &GridEditor::take);
}

void GridEditor::show(const doc::GridStyle& style) {
    m_style = style;
    showChoice(m_kind, style.isGraticule ? 0 : 1);
    showText(m_crs, QString::fromStdString(style.crs));
    if (!m_crs->hasFocus()) showWrong(m_crs, m_crsWrong, {});
    showNumber(m_interval, style.interval);
    showNumber(m_lineMm, style.lineMm);
    showNumber(m_labelPt, style.labelPt);
    m_colour->setColour(style.colour);
    showCheck(m_labels, style.hasLabels);
    showCheck(m_outline, style.hasOutline);
    showCheck(m_sea, style.hasSea);
    m_seaColour->setColour(style.sea);
    for (QWidget* part : {static_cast<QWidget*>(m_outline), static_cast<QWidget*>(m_sea),
                          static_cast<QWidget*>(m_seaColour)})
        part->setVisible(style.isGraticule);
}

void GridEditor::take() {
    doc::GridStyle next = m_style;
    next.isGraticule = m_kind->currentIndex() == 0;
    next.crs = trimmed(m_crs->text().toStdString());
    next.interval = m_interval->value();
    next.lineMm = m_lineMm->value();
    next.labelPt = m_labelPt->value();
    next.hasLabels = m_labels->isChecked();
    next.hasOutline = m_outline->isChecked();
    next.hasSea = m_sea->isChecked();
    if (const auto crs = crs::parseCrs(next.crs); !crs) {
        if (sender() == m_crs)
            return showWrong(m_crs, m_crsWrong, QString::fromStdString(crs.error().text()));
        next.crs = m_style.crs;  // what is wrong in one field stops no other
    }
    m_style = next;
    Q_EMIT edited(next);
}

}  // namespace ledge::app
