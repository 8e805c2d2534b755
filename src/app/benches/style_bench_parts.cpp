// The parts of the Style bench from top to bottom, and what each of them changes.
#include "app/benches/style_bench.h"
#include "core/base/numbers.h"
#include "document/json/members.h"
#include "io/files/atomic_file.h"
#include "session/aside.h"
#include "session/class_table.h"

namespace ledge::app {

void StyleBench::makeVectors() {
    m_classing->setObjectName("classing");
    m_field->setObjectName("styleField");
    auto* vector = new QVBoxLayout(m_vectorPart);
    vector->setContentsMargins(0, 0, 0, 0);
    vector->setSpacing(8);
    vector->addWidget(captioned(tr("Drawn as"), m_classing));
    m_fieldPart = captioned(tr("Field or formula"), m_field);
    vector->addWidget(m_fieldPart);
    vector->addWidget(m_categoryEditor);
    connect(m_categoryEditor, &CategoryEditor::edited, this,
            [this](const QString& member, const std::string& value, const QString& key) {
                workspace().setMember(member.toStdString(), value, key);
            });
    connect(m_categoryEditor, &CategoryEditor::chosen, this, [this](const std::string& value) {
        m_category = value;
        refresh();
    });
    vector->addWidget(m_numbers);
    vector->addWidget(m_rules);
    add(m_vectorPart);
    connect(m_numbers, &NumberRules::edited, this,
            [this](const QString& member, const std::string& value, const QString& key) {
                workspace().setMember(member.toStdString(), value, key);
            });
    connect(m_numbers, &NumberRules::breaksAsked, this, &StyleBench::askBreaks);
    connect(m_numbers, &NumberRules::breaksMoved, this, &StyleBench::setBreaks);
    connect(m_numbers, &NumberRules::familyAsked, this, &StyleBench::setFamily);
    connect(m_rules, &RuleEditor::edited, this,
            [this](const QString& member, const std::string& value, const QString& key) {
                workspace().setMember(member.toStdString(), value, key);
            });
    connect(m_rules, &RuleEditor::chosen, this, [this](int rule) {
        m_rule = rule < 0 ? std::nullopt : std::optional(static_cast<std::size_t>(rule));
        refresh();
    });
    connect(m_classing, &QComboBox::activated, this,
            [this](int i) { setClassing(static_cast<doc::Classing>(i)); });
    connect(m_field, &FormulaChoice::said, this,
            [this](const std::string& field) { setField(qtext(field)); });
}

void StyleBench::makeRaster() {
    m_rasterKind = makeChoice(
        tr("Drawn as"), {tr("Picture of three bands"), tr("Classes"), tr("One band in colours")});
    m_rasterKind->setObjectName("rasterKind");
    m_rasterPart = captioned(tr("Drawn as"), m_rasterKind);
    add(m_rasterPart);
    m_image = new ImageEditor;
    add(m_image);
    m_classTable = new ClassEditor;
    add(m_classTable);
    m_cells = new QCheckBox(tr("No blending between cells"));
    add(m_cells);
    m_cells->setObjectName("showsCells");
    m_cells->setToolTip(
        tr("Each cell in the colour of its own value: for directions, codes and counts"));
    connect(&m_classBook, &session::ClassBook::ready, this, [this] {
        if (isVisible()) refresh();
    });
    connect(m_cells, &QCheckBox::toggled, this,
            [this](bool isOn) { workspace().setMember("style.shows_cells", doc::word(isOn)); });
    connect(m_rasterKind, &QComboBox::activated, this, &StyleBench::setRasterKind);
    connect(m_image, &ImageEditor::edited, this, [this](const doc::ImageStyle& style) {
        workspace().setMember("style.image", doc::styleText(style), "image");
    });
    connect(m_image, &ImageEditor::limitsAsked, this, &StyleBench::setLimits);
    connect(m_classTable, &ClassEditor::edited, this,
            [this](const QString& act, const doc::RasterStyle& style) {
                workspace().performOnLayer("layer-set", {{"member", "style"},
                                                         {"value", doc::styleText(style)},
                                                         {"said", act.toStdString()}});
            });
    connect(m_classTable, &ClassEditor::pickedChanged, this,
            [this] { workspace().lightClasses(m_classTable->picked()); });
    connect(m_classTable, &ClassEditor::refused, this,
            [this](const QString& why) { workspace().say(why, true); });
    connect(m_classTable, &ClassEditor::sidecarAsked, this, [this] {
        const auto* layer = workspace().layer();
        const auto* source = workspace().source();
        const auto* raster = layer ? layer->as<doc::RasterLayer>() : nullptr;
        if (!raster || !source || source->isLive()) return;
        const auto path = session::classSidecar(source->path);
        const auto done = session::aside(
            [&path, text = session::classCsv(raster->style)] { return io::writeText(path, text); });
        workspace().say(
            done ? tr("Wrote %1").arg(qtext(path.string())) : qtext(done.error().text()), !done);
    });
}

void StyleBench::makeRamp() {
    add(m_ramp);
    m_spread = new SpreadEditor(workspace());
    add(m_spread);
    m_numberPart = captioned(tr("Values in the legend"), m_decimals);
    add(m_numberPart);
    connect(m_ramp, &RampEditor::edited, this, [this](const Ramp& ramp, const std::string& family) {
        std::string patch = "{\"ramp\":" + doc::styleText(ramp);
        const auto* layer = workspace().layer();
        if (layer && (layer->as<doc::RasterLayer>() || layer->as<doc::HeightTint>()))
            patch += ",\"family\":" + doc::quoted(family);
        // Another family takes the spread of the one before.
        const auto* raster = layer ? layer->as<doc::RasterLayer>() : nullptr;
        if (raster && !family.empty() && raster->style.spread == doc::Spread::Logarithmic &&
            ramp.low() > 0)
            patch =
                "{\"ramp\":" + doc::styleText(logarithmicRamp(family, ramp.low(), ramp.high())) +
                ",\"family\":" + doc::quoted(family);
        if (raster && !family.empty() && raster->style.spread == doc::Spread::Steps)
            patch = "{\"ramp\":" +
                    doc::styleText(
                        steppedRamp(family, ramp.low(), ramp.high(), stepsOf(raster->style.ramp))) +
                    ",\"family\":" + doc::quoted(family);
        workspace().setMember("style", patch + "}", m_ramp->isDragging() ? "ramp" : "");
    });
    connect(m_ramp, &RampEditor::settled, this, [this] { workspace().session().seal(); });
    connect(m_decimals, &QComboBox::activated, this, [this](int i) {
        workspace().setMember("style.numbers.decimals", std::to_string(i - 1));
    });
    connect(m_ramp, &RampEditor::refused, this,
            [this](const QString& why) { workspace().say(why, true); });
}

void StyleBench::makeLooks() {
    m_lookOf->setObjectName("lookOf");
    m_lookOfPart = captioned(tr("Look of"), m_lookOf);
    add(m_lookTitle);
    add(m_lookOfPart);
    add(m_look);
    m_turnBy = new FormulaChoice(tr("Marks are turned by"),
                                 tr("A field or formula: degrees clockwise"), tr("nothing"));
    m_turnBy->setObjectName("turnBy");
    m_onGround = new QCheckBox(tr("Sizes are metres on the ground"));
    m_onGround->setObjectName("onGround");
    m_onGround->setToolTip(
        tr("Widths and sizes follow the scale; else they are millimetres on paper"));
    m_turnPart = captioned(tr("Marks are turned by"), m_turnBy);
    add(m_turnPart);
    add(m_onGround);
    connect(m_lookOf, &QComboBox::activated, this, [this] {
        m_category.clear();
        m_rule.reset();
        refresh();
    });
    connect(&m_samples, &session::SampleBook::ready, this, [this] {
        if (isVisible()) refresh();
    });
    connect(m_look, &LookEditor::refused, this,
            [this](const QString& why) { workspace().say(why, true); });
    connect(m_look, &LookEditor::edited, this, [this](const doc::Look& look) {
        workspace().setMember(lookPath(), doc::styleText(look), "look");
    });
    connect(m_turnBy, &FormulaChoice::said, this,
            [this](const std::string& said) { workspace().setMember("style.turn_by", said); });
    connect(m_onGround, &QCheckBox::clicked, this,
            [this](bool on) { workspace().setMember("style.on_ground", doc::word(on)); });
}

void StyleBench::makeLines() {
    m_contourPart = new QWidget;
    auto* contour = new QVBoxLayout(m_contourPart);
    contour->setContentsMargins(0, 0, 0, 0);
    contour->addWidget(
        sideBySide({captioned(tr("Lines"), m_lineMm), captioned(tr("Index lines"), m_indexMm)}));
    contour->addWidget(
        sideBySide({captioned(tr("On land"), m_land), captioned(tr("On water"), m_water)}));
    add(m_contourPart);
    m_grid = new GridEditor;
    add(m_grid);
    connect(m_grid, &GridEditor::edited, this, [this](const doc::GridStyle& style) {
        workspace().setMember("style", doc::styleText(style), "gridLines");
    });
    connect(m_lineMm, &QDoubleSpinBox::valueChanged, this,
            [this](double v) { workspace().setMember("style.line_mm", exactNumber(v), "lineMm"); });
    connect(m_indexMm, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        workspace().setMember("style.index_mm", exactNumber(v), "indexMm");
    });
    connect(m_land, &ColourButton::chosen, this,
            [this](Colour c) { workspace().setMember("style.land", colourText(c)); });
    connect(m_water, &ColourButton::chosen, this,
            [this](Colour c) { workspace().setMember("style.water", colourText(c)); });
}

void StyleBench::makeMix() {
    heading(tr("On the map"));
    m_mixPart = captioned(tr("Blend mode"), m_blend);
    add(sideBySide({captioned(tr("Opacity"), m_opacity), m_mixPart}));
    const auto scaleBox = [](const QString& name) {
        auto* box = makeNumber(name, 0, 1e9, 0, {}, 5000);
        box->setPrefix("1 : ");
        box->setSpecialValueText(tr("no limit"));
        return box;
    };
    m_widest = scaleBox(tr("Smallest scale at which it shows"));
    m_closest = scaleBox(tr("Largest scale at which it shows"));
    m_widest->setObjectName("widestScale");
    add(sideBySide(
        {captioned(tr("Smallest scale"), m_widest), captioned(tr("Largest scale"), m_closest)}));
    connect(m_widest, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        workspace().performOnLayer("layer-scales", {{"widest", exactNumber(v)}}, "widest");
    });
    connect(m_closest, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        workspace().performOnLayer("layer-scales", {{"closest", exactNumber(v)}}, "closest");
    });
    connect(m_opacity, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        workspace().performOnLayer("layer-opacity", {{"percent", exactNumber(v)}}, "opacity");
    });
    connect(m_blend, &QComboBox::activated, this, [this](int i) {
        const auto mode = doc::kBlendNames[static_cast<std::size_t>(i)];
        workspace().performOnLayer("layer-blend", {{"mode", std::string(mode)}});
    });
}

void StyleBench::makeVision() {
    m_vision = makeChoice(tr("The map as it is seen"),
                          {tr("by most"), tr("without red cones"), tr("without green cones"),
                           tr("without blue cones"), tr("in grey print")});
    m_vision->setObjectName("vision");
    m_vision->setToolTip(tr("How the whole map looks to others; the project stays as it is"));
    connect(m_vision, &QComboBox::activated, this,
            [this](int i) { Q_EMIT visionAsked(kVisions[static_cast<std::size_t>(i)]); });
    add(captioned(tr("Seen"), m_vision));
}

}  // namespace ledge::app
