#include "app/benches/labels_bench.h"

#include "core/base/numbers.h"
#include "document/json/members.h"

namespace ledge::app {

LabelsBench::LabelsBench(Workspace& workspace, session::FactBook& facts, QWidget* parent)
    : BenchPage(workspace, tr("Labels"), parent), m_facts(facts),
      m_on(new QCheckBox(tr("Show labels"))), m_field(makeChoice(tr("Text from field"), {})),
      m_rank(makeChoice(tr("Importance from field"), {})),
      m_size(makeNumber(tr("Size on paper"), 3, 72, 1, " pt", 0.5)),
      m_colour(new ColourButton(tr("Colour of text"))), m_bold(new QCheckBox(tr("Bold"))),
      m_italic(new QCheckBox(tr("Italic"))), m_halo(new QCheckBox(tr("Halo"))),
      m_widest(makeNumber(tr("Smallest scale"), 0, 1e8, 0, {}, 10000)), m_namePart(new QWidget),
      m_count(makeLabel("", "muted")) {
    m_on->setObjectName("labelsOn");
    m_size->setObjectName("labelSize");
    m_widest->setPrefix("1 : ");
    m_widest->setSpecialValueText(tr("at any scale"));
    add(m_on);
    auto* part = new QVBoxLayout(m_namePart);
    part->setContentsMargins(0, 0, 0, 0);
    part->setSpacing(8);
    part->addWidget(captioned(tr("Text from field"), m_field));
    part->addWidget(captioned(tr("Importance from field (3 is largest)"), m_rank));
    part->addWidget(sideBySide({m_bold, m_italic, m_halo}));
    part->addWidget(captioned(tr("Not at smaller scales than"), m_widest));
    add(sideBySide({captioned(tr("Size"), m_size), captioned(tr("Colour"), m_colour)}));
    add(m_namePart);
    add(m_count);
    const auto isOfContours = [this] {
        const auto* layer = this->workspace().layer();
        return layer && layer->as<doc::Contours>();
    };
    connect(m_on, &QCheckBox::clicked, this, [this, isOfContours](bool on) {
        this->workspace().setMember(isOfContours() ? "style.labels" : "labels.on", doc::word(on));
    });
    connect(m_size, &QDoubleSpinBox::valueChanged, this, [this, isOfContours](double pt) {
        this->workspace().setMember(isOfContours() ? "style.label_pt" : "labels.size_pt",
                                    exactNumber(pt), "labelSize");
    });
    connect(m_field, &QComboBox::textActivated, this, [this](const QString& field) {
        // Who names a field wants to see it.
        this->workspace().setMember("labels", "{\"field\":" + doc::quoted(field.toStdString()) +
                                                  ",\"on\":true}");
    });
    connect(m_rank, &QComboBox::activated, this, [this](int i) {
        this->workspace().setMember("labels.rank_field",
                                    i == 0 ? "" : m_rank->itemText(i).toStdString());
    });
    connect(m_colour, &ColourButton::chosen, this,
            [this](Colour c) { this->workspace().setMember("labels.colour", colourText(c)); });
    for (const auto& [box, member] :
         {std::pair{m_bold, "labels.bold"}, {m_italic, "labels.italic"}, {m_halo, "labels.halo"}})
        connect(box, &QCheckBox::clicked, this, [this, member = member](bool on) {
            this->workspace().setMember(member, doc::word(on));
        });
    connect(m_widest, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        this->workspace().setMember("labels.widest_scale", exactNumber(v), "widest");
    });
}

void LabelsBench::setCount(int placed, int withoutRoom) {
    m_count->setText(
        tr("On the map now: %1 names placed, %2 found no room.").arg(placed).arg(withoutRoom));
}

void LabelsBench::refresh() {
    const auto* layer = workspace().layer();
    const auto* vector = layer ? layer->as<doc::VectorLayer>() : nullptr;
    const auto* contours = layer ? layer->as<doc::Contours>() : nullptr;
    m_namePart->setVisible(vector);
    m_on->setEnabled(vector || contours);
    m_size->setEnabled(vector || contours);
    m_colour->setEnabled(vector);
    if (!vector && !contours)
        return setTitle(tr("Labels"), tr("Select a vector layer or contours."));
    setTitle(tr("Labels"), qtext(layer->name));
    if (contours) {
        showCheck(m_on, contours->style.hasLabels);
        showNumber(m_size, contours->style.labelPt);
        m_colour->setColour(contours->style.land);
        return;
    }
    const doc::LabelStyle& s = vector->labels;
    showCheck(m_on, s.isOn);
    showNumber(m_size, s.sizePt);
    m_colour->setColour(s.colour);
    showCheck(m_bold, s.isBold);
    showCheck(m_italic, s.isItalic);
    showCheck(m_halo, s.hasHalo);
    showNumber(m_widest, s.widestScale);
    const auto* source = workspace().source();
    const auto* facts = source ? m_facts.facts(*source) : nullptr;
    if (!facts) return;
    const QSignalBlocker quietField(m_field), quietRank(m_rank);
    m_field->clear();
    m_rank->clear();
    m_rank->addItem(tr("none"));
    for (const Field& f : facts->fields) {
        m_field->addItem(qtext(f.name));
        if (f.type == FieldType::Integer || f.type == FieldType::Real)
            m_rank->addItem(qtext(f.name));
    }
    m_field->setCurrentText(qtext(s.field));
    m_rank->setCurrentIndex(
        s.rankField.empty() ? 0 : std::max(0, m_rank->findText(qtext(s.rankField))));
}

}  // namespace ledge::app
