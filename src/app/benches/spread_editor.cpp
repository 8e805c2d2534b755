#include "app/benches/spread_editor.h"

#include "app/benches/bench_page.h"
#include "document/json/members.h"
#include "session/raster_breaks.h"

namespace ledge::app {

SpreadEditor::SpreadEditor(Workspace& workspace, QWidget* parent)
    : QWidget(parent), m_workspace(workspace) {
    m_spread = makeChoice(tr("How colours are spread"),
                          {tr("Evenly"), tr("By ratios (logarithmic)"), tr("In steps")});
    m_spread->setObjectName("rampSpread");
    m_method = makeChoice(tr("Steps by"),
                          {tr("Natural breaks"), tr("Equal numbers"), tr("Equal intervals"),
                           tr("Round numbers"), tr("Geometric"), tr("Standard deviations")});
    m_method->setObjectName("stepMethod");
    m_count = makeNumber(tr("Number of steps"), 2, 30, 0);
    m_count->setObjectName("stepCount");
    m_cut = makeNumber(tr("Cut at each end"), 0, 40, 1, " %", 1);
    m_cut->setValue(2);
    m_cut->setObjectName("rampCut");
    auto* cut = makeButton(tr("Set limits"),
                           tr("Limits that leave out so many percent of the values at each end"));
    cut->setObjectName("cutRamp");
    m_share = makeChoice(tr("Rasters that share this ramp"), {});
    m_share->setObjectName("shareRamp");
    m_stepPart =
        sideBySide({captioned(tr("Steps by"), m_method), captioned(tr("Number"), m_count)});
    auto* rows = new QVBoxLayout(this);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(8);
    rows->addWidget(captioned(tr("Colours are spread"), m_spread));
    rows->addWidget(m_stepPart);
    rows->addWidget(sideBySide({captioned(tr("Cut at each end"), m_cut), captioned(" ", cut)}));
    rows->addWidget(captioned(tr("Ramp shared with"), m_share));
    connect(m_spread, &QComboBox::activated, this, [this](int i) {
        spread([i](doc::RasterStyle& s) { s.spread = static_cast<doc::Spread>(i); },
               i == 1 ? 0 : -1);
    });
    connect(m_method, &QComboBox::activated, this, [this](int i) {
        spread([i](doc::RasterStyle& s) { s.method = static_cast<classify::Method>(i); }, -1);
    });
    connect(m_count, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        spread([v](doc::RasterStyle& s) { s.stepCount = static_cast<int>(v); }, -1);
    });
    connect(cut, &QPushButton::clicked, this,
            [this] { spread([](doc::RasterStyle&) {}, m_cut->value()); });
    connect(m_share, &QComboBox::activated, this,
            [this](int i) { share(m_share->itemData(i).value<doc::Id>()); });
}

void SpreadEditor::spread(const std::function<void(doc::RasterStyle&)>& change, double cut) {
    spread(m_workspace.selectedLayer(), change, cut);
}

void SpreadEditor::spread(doc::Id id, const std::function<void(doc::RasterStyle&)>& change,
                          double cut) {
    const auto* layer = m_workspace.document().layer(id);
    const auto* raster = layer ? layer->as<doc::RasterLayer>() : nullptr;
    const auto* source = layer ? m_workspace.document().source(layer->source) : nullptr;
    if (!raster || !source) return;
    doc::RasterStyle style = raster->style;
    change(style);
    auto made = std::make_shared<doc::RasterStyle>();
    m_workspace.session().jobs().start(
        tr("Reading values of %1").arg(qtext(layer->name)),
        [style, source = *source, cut, made,
         sources = m_workspace.session().sources()](const Progress& progress) -> Result<void> {
            auto next = session::spreadAnew(style, source, cut, *sources, progress);
            if (!next) return next.error();
            *made = *std::move(next);
            return {};
        },
        [this, id = layer->id, made, change, cut,
         before = raster->style](const Result<void>& done) {
            if (!done) return m_workspace.say(qtext(done.error().text()), true);
            const auto* shown = m_workspace.document().layer(id);
            const auto* now = shown ? shown->as<doc::RasterLayer>() : nullptr;
            if (!now) return;
            // What was changed meanwhile stays: this change is made to what it is now.
            if (!(now->style == before)) return spread(id, change, cut);
            m_workspace.perform("layer-set", {{"layer", Workspace::target(id)},
                                              {"member", "style"},
                                              {"value", doc::styleText(*made)},
                                              {"said", tr("Spread of colours").toStdString()}});
        });
}

void SpreadEditor::share(doc::Id other) {
    const auto* layer = m_workspace.layer();
    if (!layer) return;
    m_workspace.perform("ramp-share",
                        {{"layer", Workspace::target(layer->id)},
                         {"with", other == 0 ? "nothing" : Workspace::target(other)}});
}

void SpreadEditor::show(const doc::Layer& layer) {
    const auto& style = layer.as<doc::RasterLayer>()->style;
    showChoice(m_spread, static_cast<int>(style.spread));
    m_stepPart->setVisible(style.spread == doc::Spread::Steps);
    showChoice(m_method, static_cast<int>(style.method));
    showNumber(m_count, style.stepCount);
    const QSignalBlocker quiet(m_share);
    m_share->clear();
    m_share->addItem(tr("no other"), QVariant::fromValue(doc::Id{0}));
    for (const auto& one : doc::allLayers(m_workspace.document().layers)) {
        const auto* raster = one->as<doc::RasterLayer>();
        if (!raster || one->id == layer.id || raster->style.image || !raster->style.classes.empty())
            continue;
        m_share->addItem(qtext(one->name), QVariant::fromValue(one->id));
        if (style.sharedRamp != 0 && raster->style.sharedRamp == style.sharedRamp)
            m_share->setCurrentIndex(m_share->count() - 1);
    }
}

}  // namespace ledge::app
