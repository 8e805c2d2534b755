#include "app/benches/terrain_bench.h"

#include <QFileDialog>
#include <algorithm>
#include <array>
#include <cmath>

#include "app/widgets/file_filters.h"
#include "core/base/numbers.h"
#include "document/edits/layer_edits.h"
#include "document/edits/light_edits.h"
#include "document/json/members.h"
#include "document/map_crs.h"
#include "session/derive/operations.h"
#include "session/new_layers.h"
#include "session/terrain_files.h"
#include "session/terrain_layers.h"

namespace ledge::app {

namespace {
// What the interval's slider goes through, metres.
constexpr std::array<double, 16> kRoundIntervals{0.5, 1,  2,  2.5, 5,   10,  20,  25,
                                                 40,  50, 75, 100, 150, 200, 250, 500};

std::size_t nearestInterval(double metres) {
    const auto off = [metres](double one) { return std::abs(std::log(one / metres)); };
    const auto it = std::min_element(kRoundIntervals.begin(), kRoundIntervals.end(),
                                     [&](double a, double b) { return off(a) < off(b); });
    return static_cast<std::size_t>(it - kRoundIntervals.begin());
}

doc::EditWords wordsOf(const terrain::Light& light) {
    return {{"azimuth", exactNumber(light.azimuth)}, {"altitude", exactNumber(light.altitude)}};
}
}  // namespace

TerrainBench::TerrainBench(Workspace& workspace, session::FactBook& facts, QWidget* parent)
    : BenchPage(workspace, tr("Terrain"), parent), m_facts(facts),
      m_empty(makeLabel(tr("Select a layer made from an elevation model: a height tint, light, "
                           "steepness or contours."),
                        "muted")) {
    add(m_empty);
    makeLightPart();
    makeContourPart();
    m_scalePart = new QWidget;
    auto* scale = new QVBoxLayout(m_scalePart);
    scale->setContentsMargins(0, 0, 0, 0);
    scale->setSpacing(4);
    m_scaleText = makeLabel("", "good");
    m_scaleMode = makeChoice(tr("Height scale"), {tr("Auto"), tr("By hand")});
    m_scale = makeNumber(tr("Height scale by hand"), 0.01, 100, 2, {}, 0.1);
    scale->addWidget(makeLabel(tr("Height scale"), "muted"));
    scale->addWidget(m_scaleText);
    scale->addWidget(sideBySide({m_scaleMode, m_scale}));
    m_gradient = makeChoice(
        tr("How the gradient of a cell comes from the eight around it"),
        {tr("Third order (Horn): smooth"), tr("Second order (Zevenbergen-Thorne): sharp")});
    m_gradient->setObjectName("gradient");
    scale->addWidget(captioned(tr("Gradient"), m_gradient));
    add(m_scalePart);
    m_lineageHeading = heading(tr("Lineage"));
    m_lineage = new CodeView(tr("Lineage"));
    add(m_lineage);
    m_toLineage =
        makeButton(tr("Its settings, and run again"), tr("How it was derived, on the Data bench"));
    m_toLineage->setObjectName("toLineage");
    connect(m_toLineage, &QPushButton::clicked, this,
            [this] { this->workspace().setBench(Bench::Data); });
    add(m_toLineage);
    makeActions();
    const auto setScale = [this](const doc::HeightScale& value) {
        // "auto" or a number: a member of either kind is set as part of its style.
        const std::string word = value ? exactNumber(*value) : "\"auto\"";
        this->workspace().setMember("style", "{\"height_scale\":" + word + "}", "heightScale");
    };
    connect(m_scaleMode, &QComboBox::activated, this, [this, setScale](int mode) {
        setScale(mode == 0 ? doc::HeightScale{} : doc::HeightScale(m_scale->value()));
    });
    connect(m_scale, &QDoubleSpinBox::valueChanged, this, [setScale](double v) { setScale(v); });
    connect(m_gradient, &QComboBox::activated, this, [this](int index) {
        const auto method =
            index == 0 ? terrain::GradientMethod::Horn : terrain::GradientMethod::ZevenbergenThorne;
        this->workspace().setMember("style.gradient", std::string(terrain::nameOf(method)));
    });
}

void TerrainBench::makeLightPart() {
    m_lightPart = new QWidget;
    auto* part = new QVBoxLayout(m_lightPart);
    part->setContentsMargins(0, 0, 0, 0);
    part->setSpacing(8);
    m_dial = new SunDial;
    m_azimuth = makeNumber(tr("Azimuth"), 0, 359.9, 0, "°", 5);
    m_azimuth->setObjectName("azimuth");
    m_azimuth->setWrapping(true);
    m_altitude = makeNumber(tr("Altitude"), 0, 90, 0, "°", 5);
    m_altitude->setObjectName("altitude");
    auto* numbers = new QVBoxLayout;
    numbers->setAlignment(Qt::AlignVCenter);
    numbers->addWidget(captioned(tr("Azimuth"), m_azimuth));
    numbers->addWidget(captioned(tr("Altitude"), m_altitude));
    auto* row = new QHBoxLayout;
    row->setSpacing(10);
    row->addWidget(m_dial);
    row->addLayout(numbers, 1);
    part->addLayout(row);
    m_lightPart->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
    m_blend = makeChoice(tr("Laid over what is beneath"), {tr("Plain grey"), tr("Multiply")});
    part->addWidget(captioned(tr("Blend mode"), m_blend));
    m_shadows = new QCheckBox(tr("Shadows cast over the terrain"));
    m_shadows->setObjectName("castShadows");
    m_shadows->setToolTip(tr("Darken ground that this light does not reach past what stands in "
                             "its way"));
    part->addWidget(m_shadows);
    m_shelf = new LightShelf;
    auto* keep = makeButton(tr("Keep this light"),
                            tr("Put this light on the shelf here, to compare with others"));
    keep->setObjectName("keepLight");
    m_prefix = makeText(tr("Word before the names of lights"), tr("Light"));
    m_prefix->setToolTip(tr("Lights are named by this word, azimuth and altitude"));
    m_blended = new QCheckBox(tr("Blend with the lights kept here"));
    m_blended->setObjectName("blendLights");
    m_blended->setToolTip(
        tr("Light the ground from all of them at once, the steeper the stronger"));
    part->addWidget(m_shelf);
    part->addWidget(m_blended);
    part->addWidget(keep);
    part->addWidget(captioned(tr("Name lights"), m_prefix));
    connect(m_blended, &QCheckBox::toggled, this, [this](bool isOn) {
        workspace().performOnLayer("lights-blend", {{"blended", doc::word(isOn)}});
    });
    add(m_lightPart);
    connect(m_shadows, &QCheckBox::toggled, this,
            [this](bool isOn) { workspace().setMember("style.cast_shadows", doc::word(isOn)); });
    connect(keep, &QPushButton::clicked, this, [this] {
        if (const auto* shade = shownShade())
            workspace().performOnLayer("light-keep", wordsOf(shade->style.lights.front()));
    });
    connect(m_shelf, &LightShelf::chosen, this,
            [this](const terrain::Light& l) { setLight(l, {}); });
    connect(m_shelf, &LightShelf::removed, this, [this](int at) {
        const auto* shade = shownShade();
        if (shade && static_cast<std::size_t>(at) < shade->style.kept.size())
            workspace().performOnLayer("light-drop",
                                       wordsOf(shade->style.kept[static_cast<std::size_t>(at)]));
    });
    connect(m_prefix, &QLineEdit::editingFinished, this, [this] {
        workspace().perform("lights-word", {{"word", m_prefix->text().trimmed().toStdString()}});
    });
    connect(&workspace(), &Workspace::viewChanged, this, &TerrainBench::refreshShelf);
    connect(m_dial, &SunDial::lightChanged, this,
            [this](const terrain::Light& l) { setLight(l, "light"); });
    connect(m_dial, &SunDial::dragEnded, this, [this] { workspace().session().seal(); });
    const auto typed = [this] { setLight({m_azimuth->value(), m_altitude->value()}, {}); };
    connect(m_azimuth, &QDoubleSpinBox::valueChanged, this, typed);
    connect(m_altitude, &QDoubleSpinBox::valueChanged, this, typed);
    connect(m_blend, &QComboBox::activated, this, [this](int index) {
        const auto mode = index == 1 ? doc::Blend::Multiply : doc::Blend::Normal;
        workspace().performOnLayer(
            "layer-blend",
            {{"mode", std::string(doc::kBlendNames[static_cast<std::size_t>(mode)])}});
    });
}

const doc::Hillshade* TerrainBench::shownShade() const {
    const auto* layer = workspace().layer();
    return layer ? layer->as<doc::Hillshade>() : nullptr;
}

void TerrainBench::refreshShelf() {
    const auto* layer = workspace().layer();
    const auto* source = workspace().source();
    const auto* shade = layer ? layer->as<doc::Hillshade>() : nullptr;
    if (!shade || !source) return;
    m_shelf->show(shade->style, *source, workspace().session().mapCrs(), workspace().view(),
                  workspace().session().sources());
}

void TerrainBench::makeContourPart() {
    m_contourPart = new QWidget;
    auto* part = new QVBoxLayout(m_contourPart);
    part->setContentsMargins(0, 0, 0, 0);
    part->setSpacing(8);
    m_interval = makeNumber(tr("Contour interval"), 0.01, 10000, 2, " m", 5);
    m_interval->setObjectName("interval");
    m_base = makeNumber(tr("Counted from"), -20000, 20000, 2, " m");
    m_indexEvery = makeNumber(tr("Index line every"), 0, 100, 0, {}, 1);
    part->addWidget(
        sideBySide({captioned(tr("Interval"), m_interval), captioned(tr("Counted from"), m_base)}));
    m_smoothing = makeNumber(tr("Smoothing"), 0, 8, 0, {}, 1);
    m_smoothing->setObjectName("smoothing");
    m_smoothing->setSpecialValueText(tr("none"));
    m_smoothing->setToolTip(tr("Draw on a smoothed surface, in so many steps to a cell; lines "
                               "never cross"));
    part->addWidget(sideBySide({captioned(tr("Index line every"), m_indexEvery),
                                captioned(tr("Smoothing"), m_smoothing)}));
    m_thins = new QCheckBox(tr("Fewer lines at smaller scales"));
    m_thins->setObjectName("contoursThin");
    m_thins->setToolTip(tr("25 m give way to 50 m and 100 m as the scale becomes smaller"));
    part->addWidget(m_thins);
    connect(m_thins, &QCheckBox::clicked, this,
            [this](bool on) { this->workspace().setMember("style.thins", doc::word(on)); });
    connect(m_smoothing, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        workspace().setMember("style.smoothing", exactNumber(v), "smoothing");
    });
    m_drag = new ThinSlider;
    m_drag->setObjectName("intervalSlider");
    m_drag->setRange(0, static_cast<int>(kRoundIntervals.size()) - 1);
    m_drag->setSingleStep(1);
    m_drag->setPageStep(3);
    m_drag->setAccessibleName(tr("Contour interval, by round values"));
    m_drag->setToolTip(tr("Drag through round intervals; the map follows"));
    part->insertWidget(1, m_drag);
    connect(m_drag, &QAbstractSlider::valueChanged, this,
            [this](int at) { setInterval(kRoundIntervals[static_cast<std::size_t>(at)]); });
    connect(m_drag, &QAbstractSlider::sliderReleased, this,
            [this] { workspace().session().seal(); });
    m_levels = makeText(tr("Just these levels"), tr("for example 10, 25, 100"));
    m_levels->setObjectName("listedLevels");
    m_levels->setToolTip(tr("Levels in metres, separated by commas, instead of an interval"));
    part->addWidget(captioned(tr("Or just these levels"), m_levels));
    m_levelsWrong = wrongBelow(m_levels);
    part->addWidget(m_levelsWrong);
    connect(m_levels, &QLineEdit::editingFinished, this, &TerrainBench::listLevels);
    auto* fit =
        makeButton(tr("Interval for this scale"),
                   tr("The smallest round interval that keeps lines 0.5 mm apart on steep ground"));
    auto* areas = makeButton(tr("Write areas…"),
                             tr("Write the areas between the levels to a file, as polygons"));
    areas->setObjectName("writeAreas");
    part->addWidget(sideBySide({fit, areas}));
    connect(areas, &QPushButton::clicked, this, [this] { write(true); });
    add(m_contourPart);
    connect(m_interval, &QDoubleSpinBox::valueChanged, this, &TerrainBench::setInterval);
    connect(m_base, &QDoubleSpinBox::valueChanged, this,
            [this](double v) { workspace().setMember("style.base", exactNumber(v), "base"); });
    connect(m_indexEvery, &QDoubleSpinBox::valueChanged, this, [this](double v) {
        workspace().setMember("style.index_every", exactNumber(v), "index");
    });
    connect(fit, &QPushButton::clicked, this, [this] {
        makeContours([this](const doc::Layer& made) {
            setInterval(made.as<doc::Contours>()->style.levels.interval);
        });
    });
}

void TerrainBench::listLevels() {
    const auto* contours = workspace().layer() ? workspace().layer()->as<doc::Contours>() : nullptr;
    if (!contours) return;
    std::vector<double> levels;
    for (const QString& part : m_levels->text().split(',', Qt::SkipEmptyParts)) {
        const auto level = parseNumber(part.toStdString());
        if (!level || !std::isfinite(*level))
            return showWrong(
                m_levels, m_levelsWrong,
                tr("\"%1\" is no level: write numbers separated by commas").arg(part.trimmed()));
        levels.push_back(*level);
    }
    std::sort(levels.begin(), levels.end());
    if (levels == contours->style.levels.listed) return;
    std::string list;
    for (const double level : levels) list += (list.empty() ? "" : ",") + exactNumber(level);
    workspace().setMember("style.levels", "[" + list + "]");
}

void TerrainBench::makeActions() {
    m_actions = new QWidget;
    auto* part = new QVBoxLayout(m_actions);
    part->setContentsMargins(0, 4, 0, 0);
    part->setSpacing(8);
    m_write =
        makeButton(tr("Write file…"), tr("Write this derivative of the whole DEM to a file"), true);
    m_write->setObjectName("writeDerived");
    auto* relief = makeButton(tr("Build relief"),
                              tr("Height tint, light and steepness as a group at tuned opacities"));
    relief->setObjectName("buildRelief");
    auto* contours =
        makeButton(tr("Add contours"), tr("Live contours at an interval that suits the scale"));
    contours->setObjectName("addContours");
    auto* light = makeButton(tr("Add light"), tr("Another light of the same DEM, to compare"));
    light->setObjectName("addLight");
    part->addWidget(sideBySide({m_write, relief}));
    part->addWidget(sideBySide({contours, light}));
    auto* aspect = makeButton(tr("Add aspect"), tr("Which way the ground faces, live"));
    auto* slope = makeButton(tr("Add slope values"), tr("Slope in degrees as a raster, live"));
    aspect->setObjectName("addAspect");
    slope->setObjectName("addSlope");
    part->addWidget(sideBySide({aspect, slope}));
    for (auto [button, operation] : {std::pair{aspect, "aspect"}, std::pair{slope, "slope"}})
        connect(button, &QPushButton::clicked, this, [this, operation = operation] {
            const auto* source = workspace().source();
            if (!source || source->isLive()) return;
            doc::Lineage lineage;
            lineage.operation = operation;
            lineage.inputs = {session::inputFrom(*source)};
            lineage.parameters["height-scale"] = "auto";
            Q_EMIT liveAsked(lineage);
        });
    add(m_actions);
    connect(m_write, &QPushButton::clicked, this, [this] { write(); });
    connect(relief, &QPushButton::clicked, this, [this] { buildRelief(); });
    connect(contours, &QPushButton::clicked, this, [this] {
        makeContours([this](const doc::Layer& made) {
            auto [next, id] = session::withContours(workspace().document(), made);
            workspace().add(tr("Add contours"), next);
            workspace().selectLayer(id);
        });
    });
    connect(light, &QPushButton::clicked, this, [this] {
        const terrain::Light next = doc::nextLight(workspace().document());
        doc::EditWords words = wordsOf(next);
        words["beside"] = Workspace::target(workspace().selectedLayer());
        if (!workspace().perform("light-add", words)) return;
        workspace().selectLayer(
            workspace().layerNamed(doc::lightName(next, workspace().document().lightPrefix)));
    });
}

// What reads the DEM runs beside the interface; what it made is added when it is there.
void TerrainBench::buildRelief() {
    const auto* source = workspace().source();
    if (!source) return;
    auto made = std::make_shared<std::vector<doc::Layer>>();
    workspace().session().jobs().start(
        tr("Relief of %1").arg(qtext(source->name)),
        [made, source = *source,
         sources = workspace().session().sources()](const Progress& progress) -> Result<void> {
            auto layers = session::reliefLayers(source, *sources);
            if (!layers) return layers.error();
            *made = *std::move(layers);
            return progress.stopped() ? Result<void>(cancelled(source.name)) : Result<void>();
        },
        [this, made, name = "Relief of " + source->name](const Result<void>& done) {
            if (!done) return;
            auto [next, id] = session::withGroupOf(workspace().document(), name, *made);
            workspace().add(tr("Build relief"), next);
            workspace().selectLayer(id);
        });
}

void TerrainBench::makeContours(const std::function<void(const doc::Layer&)>& use) {
    const auto* source = workspace().source();
    if (!source) return;
    auto made = std::make_shared<doc::Layer>();
    const double scale = doc::groundScale(workspace().view(), workspace().session().mapCrs());
    workspace().session().jobs().start(
        tr("Contours of %1").arg(qtext(source->name)),
        [made, scale, source = *source,
         sources = workspace().session().sources()](const Progress& progress) -> Result<void> {
            auto layer = session::contourLayer(source, *sources, scale);
            if (!layer) return layer.error();
            *made = *std::move(layer);
            return progress.stopped() ? Result<void>(cancelled(source.name)) : Result<void>();
        },
        [made, use](const Result<void>& done) {
            if (done) use(*made);
        });
}

void TerrainBench::setLight(terrain::Light light, const QString& mergeKey) {
    workspace().performOnLayer("light", wordsOf(light), mergeKey);
}

void TerrainBench::setInterval(double metres) {
    workspace().performOnLayer("contour-interval", {{"metres", exactNumber(metres)}}, "interval");
}

QString TerrainBench::lineage() const {
    const auto* layer = workspace().layer();
    const auto* source = workspace().source();
    const auto made = layer && source ? session::lineageOf(*layer, *source) : std::nullopt;
    if (!made) return {};
    return tr("%1 → %2").arg(qtext(source->name), qtext(layer->name)) + "\n" +
           qtext(session::commandOf(*made, layer->as<doc::Contours>() ? "OUT.gpkg" : "OUT.tif"));
}

void TerrainBench::refresh() {
    const auto* layer = workspace().layer();
    const auto* source = workspace().source();
    const bool isTerrain = layer && source && layer->readsHeights();
    const auto* shade = layer ? layer->as<doc::Hillshade>() : nullptr;
    const auto* steep = layer ? layer->as<doc::Steepness>() : nullptr;
    const auto* contours = layer ? layer->as<doc::Contours>() : nullptr;
    m_empty->setVisible(!isTerrain);
    m_lightPart->setVisible(shade);
    m_contourPart->setVisible(contours);
    m_scalePart->setVisible(shade || steep);
    const auto* made = !isTerrain && source && source->lineage ? &*source->lineage : nullptr;
    const auto* operation = made ? session::operationNamed(made->operation) : nullptr;
    m_lineage->setVisible(isTerrain || operation);
    m_lineageHeading->setVisible(isTerrain || operation);
    m_toLineage->setVisible(operation);
    m_actions->setVisible(isTerrain);
    if (operation) return showMade(*source, *operation);
    m_empty->setText(tr("Select a layer made from an elevation model: a height tint, light, "
                        "steepness or contours."));
    if (!isTerrain) return setTitle(tr("Terrain"), {});
    setTitle(shade      ? tr("Light")
             : contours ? tr("Contours")
             : steep    ? tr("Steepness")
                        : tr("Height tint"),
             tr("from %1 · live, nothing stored yet").arg(qtext(source->name)));
    m_write->setEnabled(true);
    m_lineage->setText(lineage());
    doc::HeightScale scale;
    const auto showGradient = [this](terrain::GradientMethod method) {
        showChoice(m_gradient, method == terrain::GradientMethod::Horn ? 0 : 1);
    };
    if (shade) {
        const auto& light = shade->style.lights.front();
        m_dial->setLight(light);
        showNumber(m_azimuth, light.azimuth);
        showNumber(m_altitude, light.altitude);
        showChoice(m_blend, layer->blend == doc::Blend::Multiply ? 1 : 0);
        scale = shade->style.heightScale;
        showGradient(shade->style.gradient);
        showCheck(m_shadows, shade->style.hasShadows);
        showCheck(m_blended, shade->style.lights.size() > 1);
        const auto& kept = shade->style.kept;
        m_blended->setEnabled(
            shade->style.lights.size() > 1 ||
            std::any_of(kept.begin(), kept.end(), [&](const auto& one) { return one != light; }));
        showText(m_prefix, qtext(workspace().document().lightPrefix));
        refreshShelf();
    }
    if (steep) {
        scale = steep->style.heightScale;
        showGradient(steep->style.gradient);
    }
    if (contours) {
        showNumber(m_interval, contours->style.levels.interval);
        showNumber(m_base, contours->style.levels.base);
        showNumber(m_indexEvery, contours->style.indexEvery);
        showCheck(m_thins, contours->style.thins);
        showNumber(m_smoothing, contours->style.smoothing);
        if (!m_drag->isSliderDown()) {
            const QSignalBlocker quiet(m_drag);
            m_drag->setValue(static_cast<int>(nearestInterval(contours->style.levels.interval)));
            m_drag->update();
        }
        QStringList listed;
        for (const double level : contours->style.levels.listed)
            listed << qtext(exactNumber(level));
        showText(m_levels, listed.join(", "));
        m_interval->setEnabled(listed.isEmpty());
        m_drag->setEnabled(listed.isEmpty());
    }
    showChoice(m_scaleMode, scale ? 1 : 0);
    m_scale->setEnabled(scale.has_value());
    showNumber(m_scale, scale.value_or(1));
    RasterInfo info;
    if (const auto* facts = m_facts.facts(*source)) info.crs = facts->definition;
    m_scaleText->setText(
        qtext(session::heightScaleText(info, {doc::metresPerHeight(*source), scale})));
}

// What a raster derived from heights is, and by which command.
void TerrainBench::showMade(const doc::SourceRef& source, const session::Operation& operation) {
    QStringList from;
    for (const doc::LineageInput& input : source.lineage->inputs)
        from << qtext(input.path.filename().string());
    from.removeDuplicates();
    setTitle(qtext(operation.title), source.isLive()
                                         ? tr("from %1 · live").arg(from.join(", "))
                                         : tr("from %1 · written to %2")
                                               .arg(from.join(", "))
                                               .arg(qtext(source.path.filename().string())));
    m_empty->setText(tr("%1. It is a raster of its own: lights and contours are made from the "
                        "heights it came from.")
                         .arg(qtext(operation.help)));
    const std::string file = source.isLive() ? "OUT.tif" : source.path.filename().string();
    m_lineage->setText(qtext(session::commandOf(*source.lineage, file)));
}

void TerrainBench::write(bool isFilled) {
    const auto* layer = workspace().layer();
    const auto* source = workspace().source();
    if (!layer || !source) return;
    if (source->isLive())
        return workspace().say(
            tr("Write %1 to a file first, in the Data bench").arg(qtext(source->name)), true);
    const bool isLines = layer->as<doc::Contours>() != nullptr;
    QString suggested = qtext(source->path.parent_path().string()) + "/" +
                        qtext(layer->name).toLower().replace(' ', '_').replace('/', '-');
    if (isFilled) suggested += "-areas";
    suggested += isLines ? ".gpkg" : ".tif";
    QFileDialog dialog(this, tr("Write %1").arg(qtext(layer->name)), suggested,
                       isLines ? saveFilter(io::Writes::Tables, ".gpkg") : tr("GeoTIFF (*.tif)"));
    dialog.setAcceptMode(QFileDialog::AcceptSave);
    dialog.setOption(QFileDialog::DontUseNativeDialog);
    dialog.setDefaultSuffix(isLines ? "gpkg" : "tif");
    dialog.selectFile(suggested);
    if (dialog.exec() != QDialog::Accepted || dialog.selectedFiles().isEmpty()) return;
    const auto lineage = session::lineageOf(*layer, *source, isFilled);
    if (!lineage) return;
    Q_EMIT writeAsked(*lineage, dialog.selectedFiles().first());
}

}  // namespace ledge::app
