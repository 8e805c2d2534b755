#include "app/benches/style_bench.h"

#include "document/json/members.h"
#include "session/field_classes.h"

namespace ledge::app {
StyleBench::StyleBench(Workspace& workspace, session::FactBook& facts, QWidget* parent)
    : BenchPage(workspace, tr("Style"), parent), m_facts(facts),
      m_classBook(workspace.session().sources()), m_vectorPart(new QWidget),
      m_classing(makeChoice(tr("Drawn as"), {tr("All alike"), tr("Categories"), tr("Ramp"),
                                             tr("Classes"), tr("Sizes"), tr("Dots"), tr("Rules")})),
      m_field(new FormulaChoice(tr("Field"), tr("A field, or a formula such as sheep / area_ha"))),
      m_look(new LookEditor), m_lookTitle(makeLabel("", "heading")),
      m_samples(workspace.session().sources()), m_numbers(new NumberRules), m_rules(new RuleEditor),
      m_categoryEditor(new CategoryEditor),
      m_lookOf(makeChoice(tr("Whose look"),
                          {tr("All features"), tr("Values missing"), tr("All others")})),
      m_ramp(new RampEditor),
      m_decimals(makeChoice(tr("Decimals"), {tr("as needed"), "0", "1", "2", "3"})),
      m_opacity(makeNumber(tr("Opacity"), 0, 100, 0, " %", 5)),
      m_blend(makeChoice(tr("Blend mode"), {tr("Normal"), tr("Multiply"), tr("Screen"),
                                            tr("Overlay"), tr("Soft light")})),
      m_lineMm(makeNumber(tr("Width of lines"), 0.02, 3, 2, " mm", 0.02)),
      m_indexMm(makeNumber(tr("Width of index lines"), 0.02, 3, 2, " mm", 0.02)),
      m_land(new ColourButton(tr("Colour on land"))),
      m_water(new ColourButton(tr("Colour on water"))) {
    makeVectors();
    makeRaster();
    makeRamp();
    makeLooks();
    makeLines();
    makeVision();
    makeMix();
    connect(&workspace, &Workspace::layerSelected, this, [this] {
        m_category.clear();
        m_rule.reset();
        m_lookOf->setCurrentIndex(0);
    });
}

const doc::VectorLayer* StyleBench::vector() const {
    const auto* layer = workspace().layer();
    return layer ? layer->as<doc::VectorLayer>() : nullptr;
}

// The member that the look editor shows.
std::string StyleBench::lookPath() const {
    if (!m_category.empty()) return categoryPath(m_category) + ".look";
    if (m_rule) return "style.rules." + std::to_string(*m_rule) + ".look";
    if (!m_lookOfPart->isVisibleTo(this)) return "style.look";
    static constexpr std::array<const char*, 3> kPaths{"style.look", "style.missing",
                                                       "style.others"};
    return kPaths[static_cast<std::size_t>(std::clamp(m_lookOf->currentIndex(), 0, 2))];
}

// Breaks are found beside the interface; of a million numbers natural ones take half a second.
void StyleBench::askBreaks(classify::Method method, int classes) {
    const auto* now = vector();
    const auto* source = workspace().source();
    if (!now || !source) return;
    const auto sample = m_samples.sample(doc::readBy(*workspace().layer(), *source),
                                         now->style.field, now->style.per);
    if (!sample) {
        // What is not read yet is asked for again when it is.
        m_waitingBreaks.emplace(method, classes);
        return;
    }
    auto rule = std::make_shared<doc::ClassRule>(now->style.classes);
    workspace().session().jobs().start(
        tr("Breaks of %1").arg(qtext(now->style.field)),
        [rule, sample, method, classes, base = now->style.look,
         geometry = now->geometry](const Progress& progress) -> Result<void> {
            auto found =
                session::classRule(*sample, *rule, method, classes, base, geometry, progress);
            if (!found) return found.error();
            *rule = *std::move(found);
            return {};
        },
        [this, rule, id = workspace().selectedLayer()](const Result<void>& done) {
            if (!done || workspace().selectedLayer() != id) return refresh();
            workspace().setMember("style.classes", doc::styleText(*rule), "breaks");
        });
}

void StyleBench::setBreaks(const std::vector<double>& breaks) {
    const auto* now = vector();
    if (!now) return;
    doc::ClassRule rule = now->style.classes;
    rule.method = classify::Method::Own;
    const bool isSame = breaks.size() == rule.breaks.size();
    rule.breaks = breaks;
    rule.classes.resize(breaks.size() + 1);
    if (!isSame) session::colourClasses(rule, now->style.look, now->geometry);
    workspace().setMember("style.classes", doc::styleText(rule), "breaks");
}

void StyleBench::setFamily(const std::string& family, bool isFlipped) {
    const auto* now = vector();
    if (!now) return;
    doc::ClassRule rule = now->style.classes;
    rule.family = family;
    rule.isFlipped = isFlipped;
    session::colourClasses(rule, now->style.look, now->geometry);
    workspace().setMember("style.classes", doc::styleText(rule));
}

// Where the look being edited stands among the categories.
std::string StyleBench::categoryPath(const std::string& value) const {
    const auto* layer = workspace().layer();
    const auto* vector = layer ? layer->as<doc::VectorLayer>() : nullptr;
    if (!vector) return {};
    const auto& all = vector->style.categories;
    const auto it = std::find_if(all.begin(), all.end(),
                                 [&](const doc::Category& c) { return c.value == value; });
    return "style.categories." + std::to_string(it - all.begin());
}

void StyleBench::setClassing(doc::Classing classing) {
    const auto* layer = workspace().layer();
    const auto* vector = layer ? layer->as<doc::VectorLayer>() : nullptr;
    if (!vector) return;
    m_category.clear();
    std::string field = vector->style.field;
    const auto* source = workspace().source();
    const auto* facts = source ? m_facts.facts(*source) : nullptr;
    if (facts && classing != doc::Classing::Single) {
        const bool wantsNumbers =
            classing != doc::Classing::Categories && classing != doc::Classing::Rules;
        const auto suits = [wantsNumbers](const Field& f) {
            const bool isNumber = f.type == FieldType::Integer || f.type == FieldType::Real;
            return wantsNumbers ? isNumber : !isNumber;
        };
        const auto current = std::find_if(facts->fields.begin(), facts->fields.end(),
                                          [&](const Field& f) { return f.name == field; });
        const bool isFormula = current == facts->fields.end() && !field.empty();
        if (!isFormula && (current == facts->fields.end() || (wantsNumbers && !suits(*current)))) {
            const auto first = std::find_if(facts->fields.begin(), facts->fields.end(), suits);
            field = first != facts->fields.end() ? first->name : "";
        }
        if (field.empty() && wantsNumbers)
            return workspace().say(tr("This layer has no field of numbers"), true), refresh();
    }
    classify(classing, field);
}

// Limits of the whole raster are read beside; the style follows when they are there.
void StyleBench::setField(const QString& field) {
    const auto* layer = workspace().layer();
    if (const auto* vector = layer ? layer->as<doc::VectorLayer>() : nullptr)
        classify(vector->style.classing, field.toStdString());
}

// Every feature is read: beside the interface, and the style follows.
void StyleBench::classify(doc::Classing classing, const std::string& field) {
    const auto* layer = workspace().layer();
    const auto* source = workspace().source();
    const auto* vector = layer ? layer->as<doc::VectorLayer>() : nullptr;
    if (!vector || !source) return;
    if (classing == doc::Classing::Single)
        return void(workspace().setMember("style.classing", "single"));
    if (classing == doc::Classing::Rules)
        return void(workspace().setMember("style.classing", "rules"));
    auto found = std::make_shared<session::FieldClasses>();
    workspace().session().jobs().start(
        tr("Reading values of %1").arg(qtext(field.empty() ? source->name : field)),
        [found, classing, field, style = vector->style, source = *source,
         sources = workspace().session().sources()](const Progress& progress) -> Result<void> {
            const auto table = sources->table(source, progress.part(0, 0.8));
            if (!table) return table.error();
            auto classes =
                session::fieldClasses(**table, style, classing, field, progress.part(0.8, 1));
            if (!classes) return classes.error();
            *found = std::move(*classes);
            return {};
        },
        [this, found, id = layer->id, before = vector->style](const Result<void>& done) {
            const auto* shown = workspace().document().layer(id);
            const auto* now = shown ? shown->as<doc::VectorLayer>() : nullptr;
            // What was changed meanwhile was changed knowingly.
            if (!done) workspace().say(qtext(done.error().text()), true);
            if (!done || !now || !(now->style == before)) return refresh();
            workspace().perform("layer-set", {{"layer", Workspace::target(id)},
                                              {"member", "style"},
                                              {"value", doc::styleText(found->style)}});
            if (found->isCut)
                workspace().say(
                    tr("Only the first %1 values became categories").arg(session::kMostCategories),
                    true);
        });
}

void StyleBench::refreshVector(const doc::VectorLayer& vector, const doc::SourceRef& source) {
    const doc::VectorStyle& style = vector.style;
    const auto* facts = m_facts.facts(source);
    showChoice(m_classing, static_cast<int>(style.classing));
    const bool isClassed =
        style.classing != doc::Classing::Single && style.classing != doc::Classing::Rules;
    m_fieldPart->setVisible(isClassed && style.classing != doc::Classing::Dots);
    m_categoryEditor->setVisible(style.classing == doc::Classing::Categories);
    if (facts) m_turnBy->show(facts->fields, false, style.turnBy);
    if (facts && isClassed) {
        m_field->show(facts->fields, style.classing != doc::Classing::Categories, style.field);
        const bool readsNumbers = style.classing == doc::Classing::Classes ||
                                  (style.classing == doc::Classing::Sized && style.sizes.isClassed);
        const auto sample = readsNumbers
                                ? m_samples.sample(doc::readBy(*workspace().layer(), source),
                                                   style.field, style.per)
                                : nullptr;
        m_numbers->show(style, vector.geometry, facts->fields, sample,
                        readsNumbers ? qtext(m_samples.problem()) : QString());
        std::vector<std::pair<QString, doc::Id>> areas;
        for (const auto& one : doc::allLayers(workspace().document().layers)) {
            const auto* other = one->as<doc::VectorLayer>();
            if (other && other->geometry == GeometryType::Polygon &&
                one->id != workspace().selectedLayer())
                areas.emplace_back(qtext(one->name), one->id);
        }
        m_numbers->offerAreas(areas);
        if (sample && m_waitingBreaks) {
            const auto [method, classes] = *std::exchange(m_waitingBreaks, std::nullopt);
            askBreaks(method, classes);
        }
    }
    m_numbers->setVisible(isClassed && style.classing != doc::Classing::Categories);
    m_rules->setVisible(style.classing == doc::Classing::Rules);
    if (m_rule && *m_rule >= style.rules.size()) m_rule.reset();
    if (style.classing == doc::Classing::Rules)
        m_rules->show(style, vector.geometry, facts ? facts->fields : std::vector<Field>(), m_rule);
    if (style.classing == doc::Classing::Categories)
        m_categoryEditor->show(
            style, vector.geometry,
            m_samples.counts(doc::readBy(*workspace().layer(), source), style.field), m_category);
    doc::Look look = style.look;
    QString title = style.classing == doc::Classing::Single ? tr("Look") : tr("Looks");
    const bool hasMissing = isClassed && style.classing != doc::Classing::Categories &&
                            style.classing != doc::Classing::Dots;
    const bool hasOthers =
        style.classing == doc::Classing::Categories || style.classing == doc::Classing::Rules;
    if (m_rule && style.classing != doc::Classing::Rules) m_rule.reset();
    m_lookOfPart->setVisible((hasMissing || hasOthers) && m_category.empty() && !m_rule);
    if ((m_lookOf->currentIndex() == 1 && !hasMissing) ||
        (m_lookOf->currentIndex() == 2 && !hasOthers))
        showChoice(m_lookOf, 0);
    if (m_lookOf->currentIndex() == 1) look = style.missing;
    if (m_lookOf->currentIndex() == 2) look = style.others;
    if (m_rule && style.classing == doc::Classing::Rules) {
        look = style.rules[*m_rule].look;
        title = tr("Look of rule %1").arg(*m_rule + 1);
    }
    for (const doc::Category& c : style.categories)
        if (style.classing == doc::Classing::Categories && c.value == m_category) {
            look = c.look;
            title = tr("Look of %1").arg(qtext(c.label));
        }
    m_lookTitle->setText(title);
    m_look->show(look, vector.geometry);
}

void StyleBench::refresh() {
    const auto* layer = workspace().layer();
    const auto* source = workspace().source();
    setEnabled(layer != nullptr);
    const auto* vector = layer ? layer->as<doc::VectorLayer>() : nullptr;
    const auto* raster = layer ? layer->as<doc::RasterLayer>() : nullptr;
    const auto* tint = layer ? layer->as<doc::HeightTint>() : nullptr;
    const auto* steep = layer ? layer->as<doc::Steepness>() : nullptr;
    const auto* contours = layer ? layer->as<doc::Contours>() : nullptr;
    const bool isRampRaster = raster && !raster->style.image && raster->style.classes.empty();
    const bool hasRamp =
        isRampRaster || tint || steep || (vector && vector->style.classing == doc::Classing::Ramp);
    m_vectorPart->setVisible(vector);
    m_look->setVisible(vector);
    m_lookTitle->setVisible(vector);
    m_turnPart->setVisible(vector && vector->geometry == GeometryType::Point);
    m_onGround->setVisible(vector && vector->style.classing != doc::Classing::Dots);
    if (vector) showCheck(m_onGround, vector->style.isOnGround);
    m_ramp->setVisible(hasRamp);
    m_rasterPart->setVisible(raster);
    m_spread->setVisible(isRampRaster);
    if (isRampRaster) m_spread->show(*layer);
    // What is hidden and shown again loses the focus.
    if (!vector || !source) m_lookOfPart->hide();
    if (!raster || !source)
        for (QWidget* part : {static_cast<QWidget*>(m_image), static_cast<QWidget*>(m_classTable),
                              static_cast<QWidget*>(m_cells)})
            part->hide();
    m_numberPart->setVisible(hasRamp && !steep);
    m_contourPart->setVisible(contours);
    const auto* grid = layer ? layer->as<doc::GridLines>() : nullptr;
    m_grid->setVisible(grid);
    if (grid) m_grid->show(grid->style);
    if (!layer) return setTitle(tr("Style"), tr("Select a layer in the stack."));
    const auto* drawn = layer->as<doc::VectorLayer>();
    const std::array<QString, 4> shapes{tr("features"), tr("points"), tr("lines"), tr("areas")};
    setTitle(qtext(layer->name), drawn ? shapes[static_cast<std::size_t>(drawn->geometry)]
                                       : qtext(doc::layerKind(*layer)));
    showNumber(m_opacity, layer->opacity * 100);
    showNumber(m_widest, layer->widestScale);
    showNumber(m_closest, layer->closestScale);
    if (raster && source) refreshRaster(*raster, *source);
    showChoice(m_blend, static_cast<int>(layer->blend));
    m_mixPart->setEnabled(!layer->isGroup());
    NumberFormat numbers;
    if (raster)
        m_ramp->show(raster->style.ramp, raster->style.family, false),
            numbers = raster->style.numbers;
    if (tint)
        m_ramp->show(tint->style.ramp, tint->style.family, true), numbers = tint->style.numbers;
    if (steep) m_ramp->show(steep->style.ramp, "", false);
    if (vector) {
        if (hasRamp) m_ramp->show(vector->style.ramp, "", false), numbers = vector->style.numbers;
        if (source) refreshVector(*vector, *source);
    }
    if (contours) {
        showNumber(m_lineMm, contours->style.lineMm);
        showNumber(m_indexMm, contours->style.indexMm);
        m_land->setColour(contours->style.land);
        m_water->setColour(contours->style.water);
    }
    showChoice(m_decimals, std::clamp(numbers.decimals + 1, 0, 4));
}

}  // namespace ledge::app
