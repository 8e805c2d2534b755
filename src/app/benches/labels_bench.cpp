#include "app/benches/labels_bench.h"

namespace ledge::app {

LabelsBench::LabelsBench(Workspace& workspace, session::FactBook& facts, QWidget* parent)
    : BenchPage(workspace, tr("Labels"), parent), m_facts(facts),
      m_on(new QCheckBox(tr("Show labels"))), m_field(makeChoice(tr("Text from field"), {})),
      m_rank(makeChoice(tr("Rank from field"), {})),
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
    part->addWidget(captioned(tr("Rank from field (3 large, 2 middle)"), m_rank));
    part->addWidget(sideBySide({m_bold, m_italic, m_halo}));
    part->addWidget(captioned(tr("Not at smaller scales than"), m_widest));
    add(sideBySide({captioned(tr("Size"), m_size), captioned(tr("Colour"), m_colour)}));
    add(m_namePart);
    add(m_count);
    connect(m_on, &QCheckBox::clicked, this, [this](bool on) {
        this->workspace().editLayer(tr("Labels"), [on](doc::Layer& l) {
            if (auto* v = l.as<doc::VectorLayer>()) v->labels.isOn = on;
            if (auto* c = l.as<doc::Contours>()) c->style.hasLabels = on;
        });
    });
    connect(m_size, &QDoubleSpinBox::valueChanged, this, [this](double pt) {
        this->workspace().editLayer(
            tr("Label size"),
            [pt](doc::Layer& l) {
                if (auto* v = l.as<doc::VectorLayer>()) v->labels.sizePt = pt;
                if (auto* c = l.as<doc::Contours>()) c->style.labelPt = pt;
            },
            "labelSize");
    });
    connect(m_field, &QComboBox::textActivated, this, [this](const QString& f) {
        editLabels(tr("Label field"),
                   [&](doc::LabelStyle& s) { s.field = f.toStdString(), s.isOn = true; });
    });
    connect(m_rank, &QComboBox::activated, this, [this](int i) {
        const std::string f = i == 0 ? "" : m_rank->itemText(i).toStdString();
        editLabels(tr("Label rank"), [&](doc::LabelStyle& s) { s.rankField = f; });
    });
    connect(m_colour, &ColourButton::chosen, this, [this](Colour c) {
        editLabels(tr("Label colour"), [c](doc::LabelStyle& s) { s.colour = c; });
    });
    connect(m_bold, &QCheckBox::clicked, this, [this](bool on) {
        editLabels(tr("Bold labels"), [on](doc::LabelStyle& s) { s.isBold = on; });
    });
    connect(m_italic, &QCheckBox::clicked, this, [this](bool on) {
        editLabels(tr("Italic labels"), [on](doc::LabelStyle& s) { s.isItalic = on; });
    });
    connect(m_halo, &QCheckBox::clicked, this, [this](bool on) {
        editLabels(tr("Label halo"), [on](doc::LabelStyle& s) { s.hasHalo = on; });
    });
    connect(m_widest, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        editLabels(
            tr("Label scale"), [v](doc::LabelStyle& s) { s.widestScale = v; }, "widest");
    });
}

void LabelsBench::editLabels(const QString& label, const std::function<void(doc::LabelStyle&)>& f,
                             const QString& mergeKey) {
    workspace().editLayer(
        label,
        [&f](doc::Layer& l) {
            if (auto* v = l.as<doc::VectorLayer>()) f(v->labels);
        },
        mergeKey);
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
