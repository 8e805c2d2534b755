#include "app/benches/labels_bench.h"

#include <QHeaderView>

#include "core/base/numbers.h"
#include "document/json/members.h"

namespace ledge::app {
namespace {
constexpr int kMostListed = 500;

QDoubleSpinBox* scaleBox(const QString& name, const QString& none) {
    auto* box = makeNumber(name, 0, 1e9, 0, {}, 10000);
    box->setPrefix("1 : ");
    box->setSpecialValueText(none);
    return box;
}
}  // namespace

LabelsBench::LabelsBench(Workspace& workspace, session::FactBook& facts, QWidget* parent)
    : BenchPage(workspace, tr("Labels"), parent), m_facts(facts), m_namePart(new QWidget) {
    makeSetPart();
    m_on = new QCheckBox(tr("Show labels"));
    m_on->setObjectName("labelsOn");
    add(m_on);
    m_size = makeNumber(tr("Size on paper"), 3, 72, 1, " pt", 0.5);
    m_colour = new ColourButton(tr("Colour of text"));
    m_size->setObjectName("labelSize");
    add(sideBySide({captioned(tr("Size"), m_size), captioned(tr("Colour"), m_colour)}));
    auto* part = new QVBoxLayout(m_namePart);
    part->setContentsMargins(0, 0, 0, 0);
    part->setSpacing(8);
    add(m_namePart);
    makeTextPart();
    makeTypePart();
    makePlacePart();
    makeHandPart();
    connect(m_on, &QCheckBox::clicked, this, [this](bool on) {
        if (isOfContours())
            this->workspace().setMember("style.labels", doc::word(on));
        else
            setLabel("on", doc::word(on));
    });
    connect(m_size, &QDoubleSpinBox::valueChanged, this, [this](double pt) {
        if (isOfContours())
            this->workspace().setMember("style.label_pt", exactNumber(pt), "labelSize");
        else
            setLabel("size_pt", exactNumber(pt), "labelSize");
    });
    connect(m_colour, &ColourButton::chosen, this,
            [this](Colour c) { setLabel("colour", colourText(c)); });
    connect(&workspace, &Workspace::layerSelected, this, [this] { m_set = 0; });
}

bool LabelsBench::isOfContours() const {
    const auto* layer = workspace().layer();
    return layer && layer->as<doc::Contours>();
}

const doc::LabelStyle* LabelsBench::labels() const {
    const auto* layer = workspace().layer();
    const auto* vector = layer ? layer->as<doc::VectorLayer>() : nullptr;
    if (!vector || static_cast<std::size_t>(m_set) >= vector->labels.size()) return nullptr;
    return &vector->labels[static_cast<std::size_t>(m_set)];
}

void LabelsBench::setLabel(const char* member, const std::string& value, const QString& mergeKey) {
    workspace().setMember("labels." + std::to_string(m_set) + "." + member, value, mergeKey);
}

void LabelsBench::number(QDoubleSpinBox* box, const char* member) {
    connect(box, &QDoubleSpinBox::valueChanged, this,
            [this, member](double v) { setLabel(member, exactNumber(v), member); });
}
void LabelsBench::check(QCheckBox* box, const char* member) {
    connect(box, &QCheckBox::clicked, this,
            [this, member](bool on) { setLabel(member, doc::word(on)); });
}
void LabelsBench::choice(QComboBox* box, const char* member, std::vector<std::string> words) {
    connect(box, &QComboBox::activated, this, [this, member, words = std::move(words)](int i) {
        setLabel(member, words[static_cast<std::size_t>(i)]);
    });
}

void LabelsBench::makeSetPart() {
    m_setPart = new QWidget;
    auto* rows = new QVBoxLayout(m_setPart);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(8);
    m_sets = makeChoice(tr("Label set"), {});
    m_name = makeText(tr("Name of the set"), tr("Labels"));
    m_addSet = makeButton(tr("Add set"), tr("Other labels on the same features: of others, at "
                                            "other scales, in another type"));
    m_removeSet = makeButton(tr("Remove set"), tr("Without these labels"));
    m_sets->setObjectName("labelSets");
    m_name->setObjectName("labelSetName");
    m_addSet->setObjectName("addLabelSet");
    m_removeSet->setObjectName("removeLabelSet");
    m_nameWrong = wrongBelow(m_name);
    rows->addWidget(sideBySide({captioned(tr("Set"), m_sets), captioned(tr("Name"), m_name)}));
    rows->addWidget(m_nameWrong);
    rows->addWidget(sideBySide({m_addSet, m_removeSet}));
    add(m_setPart);
    connect(m_sets, &QComboBox::activated, this, [this](int i) {
        m_set = i;
        refresh();
    });
    connect(m_name, &QLineEdit::editingFinished, this, &LabelsBench::rename);
    connect(m_addSet, &QPushButton::clicked, this, [this] {
        const auto* layer = this->workspace().layer();
        const auto* vector = layer ? layer->as<doc::VectorLayer>() : nullptr;
        if (!vector) return;
        const auto count = vector->labels.size();
        auto number = count + 1;
        while (setCalled(tr("Labels %1").arg(number).toStdString())) ++number;
        const std::string name = tr("Labels %1").arg(number).toStdString();
        if (this->workspace().performOnLayer("label-set", {{"name", name}}))
            m_set = static_cast<int>(count);
        refresh();
    });
    connect(m_removeSet, &QPushButton::clicked, this, [this] {
        const auto* now = labels();
        if (!now) return;
        const std::string name = now->name;
        this->workspace().performOnLayer(
            "label-set-remove", {{"name", name}, {"set", std::to_string(std::exchange(m_set, 0))}});
    });
}

const doc::LabelStyle* LabelsBench::setCalled(const std::string& name) const {
    const auto* layer = workspace().layer();
    const auto* vector = layer ? layer->as<doc::VectorLayer>() : nullptr;
    if (!vector) return nullptr;
    const auto it = std::find_if(vector->labels.begin(), vector->labels.end(),
                                 [&](const doc::LabelStyle& one) { return one.name == name; });
    return it == vector->labels.end() ? nullptr : &*it;
}

// Commands and menus know sets by their names.
void LabelsBench::rename() {
    const auto* now = labels();
    const std::string name = m_name->text().trimmed().toStdString();
    if (!now || name == now->name) return;
    const bool isTaken = setCalled(name);
    showWrong(m_name, m_nameWrong,
              isTaken ? tr("There is a set %1 already").arg(m_name->text().trimmed()) : QString());
    if (!isTaken) setLabel("name", name);
}

void LabelsBench::makeTextPart() {
    m_text = new FormulaChoice(tr("Text"),
                               tr("A field, or a formula such as join(name, ' ', height_m)"));
    m_rank = new FormulaChoice(tr("Importance"),
                               tr("A field or formula: higher is placed first, 3 is largest"),
                               tr("none"));
    m_keep = new FormulaText(query::Wanted::Condition, tr("Only features for which this holds"),
                             tr("kind = 'settlement'"));
    m_text->setObjectName("labelText");
    m_rank->setObjectName("labelRank");
    m_keep->setObjectName("labelKeep");
    auto* part = static_cast<QVBoxLayout*>(m_namePart->layout());
    part->addWidget(captioned(tr("Text: field or formula"), m_text));
    part->addWidget(captioned(tr("Only where"), m_keep));
    part->addWidget(captioned(tr("Importance: field or formula (3 is largest)"), m_rank));
    connect(m_text, &FormulaChoice::said, this, [this](const std::string& text) {
        // Who names a field wants to see it.
        this->workspace().setMember("labels." + std::to_string(m_set),
                                    "{\"text\":" + doc::quoted(text) + ",\"on\":true}");
    });
    connect(m_rank, &FormulaChoice::said, this,
            [this](const std::string& text) { setLabel("rank", text); });
    connect(m_keep, &FormulaText::said, this,
            [this](const std::string& text) { setLabel("keep", text); });
}

void LabelsBench::makeTypePart() {
    m_bold = new QCheckBox(tr("Bold"));
    m_italic = new QCheckBox(tr("Italic"));
    m_halo = new QCheckBox(tr("Halo"));
    m_font = new FontChoice(tr("Font of the labels"));
    m_font->setObjectName("labelFont");
    m_haloColour = new ColourButton(tr("Colour of the halo"));
    m_haloMm = makeNumber(tr("Width of the halo"), 0, 5, 2, " mm", 0.05);
    m_haloMm->setObjectName("labelHaloMm");
    m_upper = new QCheckBox(tr("Capitals"));
    m_hasBackground = new QCheckBox(tr("On a plate"));
    m_background = new ColourButton(tr("Colour of the plate"));
    m_letters = makeNumber(tr("Room between letters"), -0.2, 3, 2, " em", 0.05);
    m_lines = makeNumber(tr("From line to line"), 0.7, 3, 2, "", 0.05);
    m_wrap = makeNumber(tr("Characters a line"), 0, 200, 0);
    m_wrap->setSpecialValueText(tr("in one"));
    m_wrap->setObjectName("labelWrap");
    m_decimals = makeChoice(tr("Decimals"), {tr("as needed"), "0", "1", "2", "3"});
    auto* part = static_cast<QVBoxLayout*>(m_namePart->layout());
    part->addWidget(captioned(tr("Font"), m_font));
    part->addWidget(sideBySide({m_bold, m_italic, m_upper}));
    part->addWidget(sideBySide({m_halo, m_haloColour, m_haloMm}));
    part->addWidget(sideBySide({m_hasBackground, m_background}));
    part->addWidget(
        sideBySide({captioned(tr("Letters"), m_letters), captioned(tr("Lines"), m_lines),
                    captioned(tr("Break after"), m_wrap)}));
    part->addWidget(captioned(tr("Numbers"), m_decimals));
    check(m_bold, "bold");
    check(m_italic, "italic");
    check(m_halo, "halo");
    check(m_upper, "capitals");
    check(m_hasBackground, "has_background");
    number(m_haloMm, "halo_mm");
    number(m_letters, "letter_spacing");
    number(m_lines, "line_spacing");
    number(m_wrap, "wrap_at");
    connect(m_font, &FontChoice::said, this,
            [this](const std::string& family) { setLabel("font", family); });
    connect(m_haloColour, &ColourButton::chosen, this,
            [this](Colour c) { setLabel("halo_colour", colourText(c)); });
    connect(m_background, &ColourButton::chosen, this,
            [this](Colour c) { setLabel("background", colourText(c)); });
    connect(m_decimals, &QComboBox::activated, this,
            [this](int i) { setLabel("numbers.decimals", std::to_string(i - 1)); });
}

void LabelsBench::makePlacePart() {
    m_onLines = makeChoice(tr("On lines"), {tr("Above"), tr("On the line"), tr("Below")});
    m_repeat = makeNumber(tr("Repeated every"), 5, 1000, 0, " mm", 10);
    m_inAreas =
        makeChoice(tr("In areas"), {tr("Inside"), tr("Stretched along"), tr("Inside or beside")});
    m_widest = scaleBox(tr("Smallest scale"), tr("no limit"));
    m_closest = scaleBox(tr("Largest scale"), tr("no limit"));
    m_keepOff = makeNumber(tr("Labels keep off its lines"), 0, 10, 1, "", 0.5);
    m_keepOff->setSpecialValueText(tr("not at all"));
    m_keepOff->setToolTip(tr("How much labels of all layers keep off the lines, edges and marks of "
                             "this one"));
    m_onLines->setObjectName("labelOnLines");
    m_inAreas->setObjectName("labelInAreas");
    m_widest->setObjectName("labelWidest");
    m_linePart = sideBySide(
        {captioned(tr("On lines"), m_onLines), captioned(tr("Repeated every"), m_repeat)});
    m_areaPart = captioned(tr("In areas"), m_inAreas);
    auto* part = static_cast<QVBoxLayout*>(m_namePart->layout());
    part->addWidget(m_linePart);
    part->addWidget(m_areaPart);
    part->addWidget(sideBySide(
        {captioned(tr("Smallest scale"), m_widest), captioned(tr("Largest scale"), m_closest)}));
    part->addWidget(captioned(tr("Labels keep off its lines"), m_keepOff));
    choice(m_onLines, "on_lines", {"above", "on", "below"});
    choice(m_inAreas, "in_areas", {"inside", "along", "outside"});
    number(m_repeat, "repeat_mm");
    number(m_widest, "widest_scale");
    number(m_closest, "closest_scale");
    connect(m_keepOff, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        this->workspace().setMember("keeps_labels_off", exactNumber(v), "keepOff");
    });
}

void LabelsBench::makeHandPart() {
    m_count = makeLabel("", "muted");
    m_count->setObjectName("labelCount");
    m_pins = makeLabel("", "muted");
    auto* hand = makeButton(tr("Place by hand"), tr("Drag labels on the map (Alt+L)"));
    auto* hold = makeButton(tr("Hold all"), tr("All that is on the map stays where it is now"));
    m_reset = makeButton(tr("Let all go"), tr("Labels placed by hand find their own places again"));
    m_place = makeButton(tr("Place it"), tr("Puts the chosen one upon what it names; others "
                                            "flow around it"));
    hand->setObjectName("labelHand");
    hold->setObjectName("labelHold");
    m_reset->setObjectName("labelReset");
    m_place->setObjectName("labelPlace");
    m_leftOut = new QTreeWidget;
    m_leftOut->setObjectName("labelsLeftOut");
    m_leftOut->setAccessibleName(tr("Labels that found no room"));
    m_leftOut->setHeaderLabels({tr("No room for"), tr("Because")});
    m_leftOut->setRootIsDecorated(false);
    m_leftOut->setWordWrap(true);  // reasons are sentences
    m_leftOut->setMinimumHeight(150);
    m_leftOut->header()->setStretchLastSection(true);
    connect(m_leftOut->header(), &QHeaderView::sectionResized, this, &LabelsBench::fitReasons);
    m_leftOut->setToolTip(tr("Double-click to see its place on the map"));
    auto* part = static_cast<QVBoxLayout*>(m_namePart->layout());
    part->addWidget(m_pins);
    part->addWidget(sideBySide({hand, hold, m_reset}));
    part->addWidget(m_count);
    part->addWidget(m_leftOut);
    part->addWidget(m_place);
    connect(hand, &QPushButton::clicked, this, &LabelsBench::handAsked);
    connect(hold, &QPushButton::clicked, this,
            [this] { Q_EMIT pinAllAsked(this->workspace().selectedLayer(), m_set); });
    connect(m_reset, &QPushButton::clicked, this, [this] {
        this->workspace().performOnLayer("label-unpin", {{"set", std::to_string(m_set)}});
    });
    const auto chosen = [this]() -> const carto::LabelLeftOut* {
        const auto* item = m_leftOut->currentItem();
        const int i = item ? item->data(0, Qt::UserRole).toInt() : -1;
        const auto& all = m_report.leftOut;
        return i >= 0 && static_cast<std::size_t>(i) < all.size()
                   ? &all[static_cast<std::size_t>(i)]
                   : nullptr;
    };
    connect(m_leftOut, &QTreeWidget::currentItemChanged, this,
            [this](const QTreeWidgetItem* now) { m_place->setEnabled(now != nullptr); });
    connect(m_place, &QPushButton::clicked, this, [this, chosen] {
        if (const auto* one = chosen()) Q_EMIT placeAsked(one->of);
    });
    connect(m_leftOut, &QTreeWidget::itemActivated, this, [this, chosen] {
        if (const auto* one = chosen()) Q_EMIT spotAsked(one->anchor);
    });
}

void LabelsBench::setReport(const carto::MapReport& report) {
    m_report = report;
    if (isVisible()) showLeftOut();
}

void LabelsBench::showLeftOut() {
    const doc::Id id = workspace().selectedLayer();
    int placed = 0, leftOut = 0;
    for (const auto& label : m_report.labels)
        if (label.of.layer == id && label.of.set == m_set) ++placed;
    const QString before = m_leftOut->currentItem() ? m_leftOut->currentItem()->text(0) : QString();
    const QSignalBlocker quiet(m_leftOut);
    m_leftOut->clear();
    for (std::size_t i = 0; i < m_report.leftOut.size(); ++i) {
        const auto& one = m_report.leftOut[i];
        if (one.of.layer != id || one.of.set != m_set) continue;
        if (++leftOut > kMostListed) continue;
        auto* item = new QTreeWidgetItem({one.text, one.why});
        item->setData(0, Qt::UserRole, static_cast<int>(i));
        item->setToolTip(1, one.why);
        m_leftOut->addTopLevelItem(item);
        if (one.text == before) m_leftOut->setCurrentItem(item);
    }
    m_count->setText(
        tr("On the map now: %1 placed, %2 found no room").arg(placed).arg(leftOut) +
        (leftOut > kMostListed ? tr("; the first %1 are listed").arg(kMostListed) : QString()));
    // An empty list says no more than its count.
    m_leftOut->setVisible(leftOut > 0);
    m_place->setVisible(leftOut > 0);
    m_place->setEnabled(m_leftOut->currentItem() != nullptr);
    fitReasons();
}

// Rows are as high as their reasons are; a list makes room for one line by itself.
void LabelsBench::fitReasons() {
    constexpr int kMargins = 8;
    const int width = m_leftOut->columnWidth(1) - kMargins;
    for (int i = 0; i < m_leftOut->topLevelItemCount(); ++i) {
        auto* item = m_leftOut->topLevelItem(i);
        const QRect needed = m_leftOut->fontMetrics().boundingRect(QRect(0, 0, width, 1 << 14),
                                                                   Qt::TextWordWrap, item->text(1));
        item->setSizeHint(1, {width, needed.height() + kMargins / 2});
    }
}

void LabelsBench::refresh() {
    const auto* layer = workspace().layer();
    const auto* vector = layer ? layer->as<doc::VectorLayer>() : nullptr;
    const auto* contours = layer ? layer->as<doc::Contours>() : nullptr;
    m_namePart->setVisible(vector);
    m_setPart->setVisible(vector);
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
    if (static_cast<std::size_t>(m_set) >= vector->labels.size()) m_set = 0;
    showSet(*vector);
    showLeftOut();
}

void LabelsBench::showSet(const doc::VectorLayer& vector) {
    const QSignalBlocker quietSets(m_sets);
    m_sets->clear();
    for (std::size_t i = 0; i < vector.labels.size(); ++i)
        m_sets->addItem(vector.labels[i].name.empty() ? tr("Labels")
                                                      : qtext(vector.labels[i].name));
    m_sets->setCurrentIndex(m_set);
    m_removeSet->setEnabled(vector.labels.size() > 1);
    const auto* now = labels();
    if (!now) return;
    const doc::LabelStyle& s = *now;
    showText(m_name, qtext(s.name));
    if (!m_name->hasFocus()) showWrong(m_name, m_nameWrong, {});
    showCheck(m_on, s.isOn);
    showNumber(m_size, s.sizePt);
    m_colour->setColour(s.colour);
    showCheck(m_bold, s.isBold);
    showCheck(m_italic, s.isItalic);
    showCheck(m_halo, s.hasHalo);
    showCheck(m_upper, s.isUpper);
    showCheck(m_hasBackground, s.hasBackground);
    m_haloColour->setColour(s.halo);
    m_haloColour->setEnabled(s.hasHalo);
    showNumber(m_haloMm, s.haloMm);
    m_haloMm->setEnabled(s.hasHalo);
    m_font->show(s.font);
    m_background->setColour(s.background);
    showNumber(m_letters, s.letterSpacing);
    showNumber(m_lines, s.lineSpacing);
    showNumber(m_wrap, s.wrapAt);
    showChoice(m_decimals, std::clamp(s.numbers.decimals + 1, 0, 4));
    showChoice(m_onLines, static_cast<int>(s.onLines));
    showChoice(m_inAreas, static_cast<int>(s.inAreas));
    showNumber(m_repeat, s.repeatMm);
    showNumber(m_widest, s.widestScale);
    showNumber(m_closest, s.closestScale);
    showNumber(m_keepOff, vector.keepsLabelsOff);
    m_linePart->setVisible(vector.geometry == GeometryType::Line);
    m_areaPart->setVisible(vector.geometry == GeometryType::Polygon);
    m_pins->setText(tr("%n placed or hidden by hand", "", static_cast<int>(s.pins.size())));
    m_reset->setEnabled(!s.pins.empty());
    const auto* source = workspace().source();
    const auto* facts = source ? m_facts.facts(*source) : nullptr;
    m_keep->show(facts ? facts->fields : std::vector<Field>(), s.keep);
    if (!facts) return;
    m_text->show(facts->fields, false, s.text);
    m_rank->show(facts->fields, true, s.rank);
}

}  // namespace ledge::app
