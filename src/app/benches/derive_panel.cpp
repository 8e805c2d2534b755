#include "app/benches/derive_panel.h"

#include <QFileDialog>
#include <QMessageBox>

#include "app/benches/bench_page.h"
#include "app/widgets/file_filters.h"
#include "core/base/numbers.h"
#include "core/crs/transformation.h"
#include "document/json/members.h"
#include "session/derive/ready_formulas.h"
#include "session/new_layers.h"

namespace ledge::app {
namespace {
// What the bench makes of a raster; terrain has a bench of its own.
constexpr const char* kOffered[] = {"calculate", "clip", "resample"};

QString stem(const std::filesystem::path& path) { return qtext(path.stem().string()); }
}  // namespace

DerivePanel::DerivePanel(Workspace& workspace, session::FactBook& facts, QWidget* parent)
    : QWidget(parent), m_workspace(workspace), m_facts(facts), m_made(new QWidget),
      m_from(makeLabel("")), m_remarks(makeLabel("", "muted")), m_stale(makeLabel("", "trouble")),
      m_madeForm(new OperationForm),
      m_again(makeButton(tr("Run again"), tr("Make the file anew with these settings"), true)),
      m_command(new CodeView(tr("The command that makes this file"))), m_new(new QWidget),
      m_operation(makeChoice(tr("What to derive"), {})),
      m_ready(makeChoice(tr("Ready formulas"), {})), m_newForm(new OperationForm),
      m_names(makeLabel("", "muted")), m_by(makeChoice(tr("What to clip by"), {})),
      m_view(makeButton(tr("Extent of the view"), tr("Take what the map shows now"))) {
    setObjectName("derivePanel");
    auto* rows = new QVBoxLayout(this);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(8);
    makeMadePart();
    makeNewPart();
    rows->addWidget(m_made);
}

void DerivePanel::makeMadePart() {
    auto* part = new QVBoxLayout(m_made);
    part->setContentsMargins(0, 0, 0, 0);
    part->setSpacing(6);
    auto* title = makeLabel(tr("Lineage"), "heading");
    title->setContentsMargins(0, 8, 0, 0);
    m_remarks->setObjectName("lineageRemarks");
    m_remarks->setTextInteractionFlags(Qt::TextSelectableByMouse);
    m_stale->setObjectName("staleReasons");
    m_again->setObjectName("runAgain");
    m_command->setObjectName("lineageCommand");
    for (QWidget* widget : std::initializer_list<QWidget*>{title, m_from, m_remarks, m_stale,
                                                           m_madeForm, m_again, m_command})
        part->addWidget(widget);
    connect(m_again, &QPushButton::clicked, this, &DerivePanel::runAgain);
    connect(m_madeForm, &OperationForm::edited, this, [this] {
        const auto* source = m_workspace.source();
        if (source && source->isLive()) return editLive();
        if (const auto lineage = changed(); source && lineage)
            m_command->setText(
                qtext(session::commandOf(*lineage, source->path.filename().string())));
    });
}

void DerivePanel::makeNewPart() {
    auto* part = new QVBoxLayout(m_new);
    part->setContentsMargins(0, 0, 0, 0);
    part->setSpacing(6);
    auto* title = makeLabel(tr("Derive from it"), "heading");
    title->setContentsMargins(0, 8, 0, 0);
    m_operation->setObjectName("deriveWhat");
    m_ready->setObjectName("readyFormulas");
    m_by->setObjectName("clipBy");
    m_view->setObjectName("extentOfView");
    auto* live = makeButton(tr("Show live"),
                            tr("A strip that is computed as it is shown; nothing is stored"), true);
    auto* write = makeButton(tr("Write file…"), tr("Compute all of it into a file"));
    live->setObjectName("deriveLive");
    write->setObjectName("deriveFile");
    part->addWidget(title);
    part->addWidget(m_operation);
    part->addWidget(m_ready);
    part->addWidget(m_by);
    part->addWidget(m_newForm);
    part->addWidget(m_names);
    part->addWidget(m_view);
    part->addWidget(sideBySide({live, write}));
    connect(m_operation, &QComboBox::activated, this, [this] {
        m_newForm->show(nullptr, {});
        refreshNew();
    });
    connect(m_ready, &QComboBox::activated, this, [this](int index) {
        if (index > 0) m_newForm->setText("expression", m_ready->itemData(index).toString());
        m_ready->setCurrentIndex(0);
    });
    connect(m_by, &QComboBox::activated, this, [this] { refreshNew(); });
    connect(m_view, &QPushButton::clicked, this,
            [this] { m_newForm->setText("extent", extentOfView()); });
    connect(live, &QPushButton::clicked, this, &DerivePanel::showAsked);
    connect(write, &QPushButton::clicked, this, &DerivePanel::writeNew);
}

// What can be derived from the selected source.
void DerivePanel::offerOperations(bool isOfFeatures) {
    if (m_operation->count() > 0 && m_isOfFeatures == isOfFeatures) return;
    m_isOfFeatures = isOfFeatures;
    const QSignalBlocker quiet(m_operation);
    m_operation->clear();
    const auto offer = [this](const session::Operation& one) {
        m_operation->addItem(qtext(one.title), qtext(one.name));
        m_operation->setItemData(m_operation->count() - 1, qtext(one.help), Qt::ToolTipRole);
    };
    if (isOfFeatures) {
        for (const session::Operation& one : session::operations())
            if (one.isOfFeatures) offer(one);
    } else {
        for (const char* name : kOffered) offer(*session::operationNamed(name));
    }
    m_newForm->show(nullptr, {});
}

void DerivePanel::choose(const std::string& operation) {
    const int at = m_operation->findData(qtext(operation));
    if (at < 0 || at == m_operation->currentIndex()) return;
    m_operation->setCurrentIndex(at);
    m_newForm->show(nullptr, {});
    refreshNew();
}

const session::Operation* DerivePanel::chosen() const {
    return session::operationNamed(m_operation->currentData().toString().toStdString());
}

std::vector<doc::LineageInput> DerivePanel::bands() const {
    const auto* source = m_workspace.source();
    return session::namedBands(m_workspace.document(), source ? source->id : 0,
                               [this](const doc::SourceRef& one) -> std::size_t {
                                   const auto* facts = m_facts.facts(one);
                                   return facts ? facts->bands.size() : 0;
                               });
}

// The view's extent in the CRS of the selected source.
QString DerivePanel::extentOfView() const {
    const auto* source = m_workspace.source();
    const auto* facts = source ? m_facts.facts(*source) : nullptr;
    if (!facts) return {};
    const auto way =
        crs::Transformation::between(m_workspace.session().mapCrs(), facts->definition);
    if (!way) return {};
    const Box box = way->forward(m_workspace.viewExtent());
    const bool isDegrees = facts->definition && facts->definition->isGeographic();
    const auto number = [isDegrees](double v) {
        const double unit = isDegrees ? 1e-6 : 0.01;
        return qtext(exactNumber(std::round(v / unit) * unit));
    };
    return QStringList{number(box.xMin), number(box.yMin), number(box.xMax), number(box.yMax)}.join(
        ',');
}

Result<doc::Lineage> DerivePanel::asked() const {
    const auto* source = m_workspace.source();
    const auto* operation = chosen();
    if (!source || !operation || source->isLive())
        return Error{ErrorCode::InvalidArgument, "derive", "the source is not stored",
                     "write it to a file first"};
    const auto settings = m_newForm->settings();
    if (operation->name == "calculate")
        return session::calculation(settings.at("expression"), bands());
    doc::Lineage out;
    out.operation = operation->name;
    out.inputs = {session::inputFrom(*source)};
    out.parameters = settings;
    if (operation->isOfFeatures) {
        const auto unsaved = [](const doc::SourceRef& one) {
            return Error{ErrorCode::InvalidArgument, one.name,
                         "has edits that its file has not yet",
                         "save them in its table first (More)"};
        };
        if (!source->edits->isEmpty()) return unsaved(*source);
        if (operation->beside == session::Beside::Nothing) return out;
        const auto* other = m_workspace.document().source(m_by->currentData().value<doc::Id>());
        if (other && !other->isFile())
            return Error{ErrorCode::InvalidArgument, other->name, "is not stored",
                         "write it to a file first"};
        if (other && !other->edits->isEmpty()) return unsaved(*other);
        if (other) out.inputs.push_back(session::inputFrom(*other));
        if (!other && operation->beside != session::Beside::MaybeFeatures)
            return Error{ErrorCode::InvalidArgument, operation->title, "needs another layer",
                         "choose one"};
        return out;
    }
    if (operation->name == "clip" && m_by->currentIndex() > 0) {
        const auto* areas = m_workspace.document().source(m_by->currentData().value<doc::Id>());
        if (!areas)
            return Error{ErrorCode::NotFound, "clip", "the layer to clip by is gone",
                         "choose another"};
        out.inputs.push_back(session::inputFrom(*areas));
        out.parameters.erase("extent");
    } else if (operation->name == "clip" && out.parameters["extent"].empty()) {
        return Error{ErrorCode::InvalidArgument, "clip", "what to clip to is not said",
                     "write an extent, take that of the view, or choose areas"};
    }
    return out;
}

Result<doc::Lineage> DerivePanel::changed() const {
    const auto* source = m_workspace.source();
    if (!source || !source->lineage)
        return Error{ErrorCode::InvalidArgument, "lineage", "nothing is known of it", ""};
    doc::Lineage out = session::brought(*source->lineage, m_workspace.document());
    const auto settings = m_madeForm->settings();
    if (out.operation == "calculate") {
        auto known = out.inputs;
        for (auto& band : bands())
            if (std::none_of(known.begin(), known.end(),
                             [&](const auto& one) { return one.name == band.name; }))
                known.push_back(std::move(band));
        return session::calculation(settings.at("expression"), known);
    }
    for (const auto& [key, value] : settings) out.parameters[key] = value;
    if (out.inputs.size() > 1) out.parameters.erase("extent");
    return out;
}

// What the format would lose is told first.
void DerivePanel::write(const doc::Lineage& lineage, const QString& path) {
    if (!io::mayLimit(path.toStdString())) return writeNow(lineage, path);
    auto losses = std::make_shared<session::Remarks>();
    m_workspace.session().jobs().start(
        tr("Looking what %1 can hold").arg(QFileInfo(path).fileName()),
        [losses, lineage, path,
         sources = m_workspace.session().sources()](const Progress& progress) -> Result<void> {
            auto found = session::lossesOf(lineage, *sources, path.toStdString(), progress);
            if (!found) return found.error();
            *losses = *std::move(found);
            return {};
        },
        [this, losses, lineage, path](const Result<void>& done) {
            if (done && (losses->empty() || mayLose(*losses, path))) writeNow(lineage, path);
        });
}

bool DerivePanel::mayLose(const session::Remarks& losses, const QString& path) {
    QStringList said;
    for (const std::string& loss : losses) said << qtext(loss);
    QMessageBox box(QMessageBox::NoIcon, tr("What is lost"),
                    tr("%1 cannot hold all of it:").arg(QFileInfo(path).fileName()),
                    QMessageBox::NoButton, this);
    box.setObjectName("lossBox");
    box.setInformativeText(said.join("\n"));
    auto* go = box.addButton(tr("Write it so"), QMessageBox::AcceptRole);
    auto* stay = box.addButton(tr("Do not write"), QMessageBox::RejectRole);
    box.setDefaultButton(stay);
    box.exec();
    return box.clickedButton() == go;
}

void DerivePanel::writeNow(const doc::Lineage& lineage, const QString& path) {
    auto made = std::make_shared<doc::Lineage>();
    m_workspace.session().jobs().start(
        tr("Writing %1").arg(QFileInfo(path).fileName()),
        [made, lineage, path,
         sources = m_workspace.session().sources()](const Progress& progress) -> Result<void> {
            *made = session::stamped(lineage);
            auto done = session::writeDerived(*made, *sources, path.toStdString(), progress);
            if (!done) return done.error();
            made->remarks = *std::move(done);
            return {};
        },
        [this, made, path](const Result<void>& done) {
            if (!done) return;
            QStringList said{tr("Wrote %1").arg(path)};
            for (const std::string& remark : made->remarks) said << qtext(remark);
            m_workspace.say(said.join(": "));
            Q_EMIT derived(path, *made);
        });
}

void DerivePanel::chooseFile(const doc::Lineage& lineage, const QString& name) {
    const auto& first = lineage.inputs.front().path;
    const bool areFeatures = session::givesFeatures(lineage);
    const char* suffix = areFeatures ? ".gpkg" : ".tif";
    const QString suggested = qtext(first.parent_path().string()) + "/" + name + suffix;
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Write file"), suggested,
        saveFilter(areFeatures ? io::Writes::Tables : io::Writes::Rasters, suffix), nullptr,
        QFileDialog::DontUseNativeDialog);
    if (!path.isEmpty()) write(lineage, path);
}

void DerivePanel::runAgain() {
    const auto* source = m_workspace.source();
    const auto lineage = changed();
    if (!source) return;
    if (!lineage) return m_workspace.say(qtext(lineage.error().text()), true);
    if (source->isLive())
        return chooseFile(*lineage, qtext(source->name).toLower().replace(' ', '_'));
    write(*lineage, qtext(source->path.string()));
}

void DerivePanel::editLive() {
    const auto* source = m_workspace.source();
    const auto lineage = changed();
    if (!lineage) return m_workspace.say(qtext(lineage.error().text()), true);
    if (*lineage == *source->lineage) return;
    m_workspace.perform("source-set",
                        {{"source", Workspace::target(source->id)},
                         {"member", "lineage"},
                         {"value", doc::lineagePatch(*source->lineage, *lineage)},
                         {"said", tr("Settings of %1").arg(qtext(source->name)).toStdString()}});
}

void DerivePanel::showAsked() {
    const auto lineage = asked();
    if (!lineage) return m_workspace.say(qtext(lineage.error().text()), true);
    showLive(*lineage);
}

void DerivePanel::showLive(const doc::Lineage& lineage) {
    const auto* source = m_workspace.source();
    const auto* operation = session::operationNamed(lineage.operation);
    if (!source || !operation) return;
    const std::string name = source->name + ": " + lowered(operation->title);
    auto made = std::make_shared<session::NewLayers>();
    m_workspace.session().jobs().start(
        tr("Computing %1").arg(qtext(name)),
        [made, lineage, name,
         sources = m_workspace.session().sources()](const Progress& progress) -> Result<void> {
            auto layer = session::newLiveLayer(lineage, name, *sources, progress);
            if (!layer) return layer.error();
            *made = *std::move(layer);
            return {};
        },
        [this, made](const Result<void>& done) {
            if (!done) return;
            auto [next, ids] = session::withNewLayers(m_workspace.document(), {*made});
            m_workspace.add(tr("Derive %1").arg(qtext(made->source.name)), next);
            if (!ids.empty()) m_workspace.selectLayer(ids.back());
        });
}

void DerivePanel::writeNew() {
    const auto* source = m_workspace.source();
    const auto lineage = asked();
    if (!source || !lineage)
        return m_workspace.say(qtext(lineage ? std::string() : lineage.error().text()), true);
    chooseFile(*lineage, stem(source->path) + "_" + qtext(lineage->operation));
}

void DerivePanel::refreshMade(const doc::SourceRef& source) {
    const doc::Lineage& lineage = *source.lineage;
    const session::Operation* operation = session::operationNamed(lineage.operation);
    QStringList files;
    for (const auto& input : lineage.inputs) {
        const QString name = qtext(input.path.filename().string());
        if (!files.contains(name)) files << name;
    }
    m_from->setText(tr("%1 of %2 · %3")
                        .arg(operation ? qtext(operation->title) : qtext(lineage.operation),
                             files.join(", "), source.isLive() ? tr("live") : tr("stored")));
    QStringList reasons;
    for (const std::string& reason :
         m_workspace.session().stale().reasons(m_workspace.session().snapshot(), source))
        reasons << qtext(reason);
    QStringList remarks;
    for (const std::string& remark : lineage.remarks) remarks << qtext(remark);
    m_remarks->setVisible(!remarks.isEmpty());
    m_remarks->setText(remarks.join("\n"));
    m_stale->setVisible(!reasons.isEmpty());
    m_stale->setText(tr("Stale: %1.").arg(reasons.join("; ")));
    m_madeForm->show(operation, lineage.parameters);
    m_again->setEnabled(operation);
    m_again->setText(source.isLive() ? tr("Write file…") : tr("Run again"));
    m_again->setToolTip(source.isLive() ? tr("Compute all of it into a file")
                                        : tr("Make the file anew with these settings"));
    m_command->setText(qtext(session::commandOf(
        lineage, source.isLive() ? (session::givesFeatures(lineage) ? "OUT.gpkg" : "OUT.tif")
                                 : source.path.filename().string())));
}

// The layers that an operation may take beside the selected one.
void DerivePanel::offerBeside(const session::Operation& operation) {
    const bool wantsRaster = operation.beside == session::Beside::Raster;
    const QVariant before = m_by->currentData();
    const QSignalBlocker quiet(m_by);
    m_by->clear();
    if (operation.beside == session::Beside::MaybeFeatures)
        m_by->addItem(tr("%1: nothing").arg(qtext(operation.besideRole)),
                      QVariant::fromValue(doc::Id{0}));
    const auto* own = m_workspace.source();
    for (const auto& layer : doc::allLayers(m_workspace.document().layers)) {
        const bool isRaster = layer->as<doc::RasterLayer>() || layer->readsHeights();
        const bool suits = wantsRaster ? isRaster : layer->as<doc::VectorLayer>() != nullptr;
        if (!suits || !own || layer->source == own->id) continue;
        const auto* source = m_workspace.document().source(layer->source);
        // Several strips may show one source.
        if (!source || m_by->findData(QVariant::fromValue(layer->source)) >= 0) continue;
        m_by->addItem(tr("%1: %2").arg(qtext(operation.besideRole),
                                       qtext(wantsRaster ? source->name : layer->name)),
                      QVariant::fromValue(layer->source));
    }
    m_by->setCurrentIndex(std::max(0, m_by->findData(before)));
}

void DerivePanel::refreshNew() {
    const auto* facts = m_workspace.source() ? m_facts.facts(*m_workspace.source()) : nullptr;
    offerOperations(facts && facts->bands.empty());
    const auto* operation = chosen();
    const auto* source = m_workspace.source();
    if (!operation || !source) return;
    const bool isFormula = operation->name == "calculate", isClip = operation->name == "clip";
    const auto now = m_newForm->settings();
    m_newForm->show(operation, now);
    m_ready->setVisible(isFormula);
    const auto* shown = m_workspace.layer()->as<doc::VectorLayer>();
    const bool isFiltered = shown && !shown->filter.empty();
    m_names->setVisible(isFormula || isFiltered);
    if (isFiltered)
        m_names->setText(tr("All features of the source are taken, not only those that the layer's "
                            "filter shows."));
    m_by->setVisible(isClip || operation->beside != session::Beside::Nothing);
    if (operation->beside != session::Beside::Nothing) offerBeside(*operation);
    if (isFormula) {
        const auto known = bands();
        QStringList names;
        for (const auto& band : known) names << qtext(band.name);
        constexpr qsizetype kMost = 14;
        const bool isMore = names.size() > kMost;
        if (isMore) names = names.mid(0, kMost);
        m_names->setText(tr("Names: %1").arg(names.join(", ")) + (isMore ? " …" : ""));
        const QSignalBlocker quiet(m_ready);
        m_ready->clear();
        m_ready->addItem(tr("Ready formulas…"));
        if (facts)
            for (const auto& ready : session::readyFormulas(facts->bands, known))
                m_ready->addItem(tr(ready.title.c_str()), qtext(ready.formula));
    }
    if (isClip) {
        const QVariant before = m_by->currentData();
        const QSignalBlocker quiet(m_by);
        m_by->clear();
        m_by->addItem(tr("To an extent"), QVariant::fromValue(doc::Id{0}));
        for (const auto& layer : doc::allLayers(m_workspace.document().layers))
            if (const auto* vector = layer->as<doc::VectorLayer>();
                vector && vector->geometry == GeometryType::Polygon)
                m_by->addItem(tr("To the areas of %1").arg(qtext(layer->name)),
                              QVariant::fromValue(layer->source));
        m_by->setCurrentIndex(std::max(0, m_by->findData(before)));
    }
    const bool takesExtent = operation->setting("extent") && (!isClip || m_by->currentIndex() == 0);
    m_view->setVisible(takesExtent);
    if (auto* extent = m_newForm->findChild<QLineEdit*>("setting_extent"))
        extent->setEnabled(takesExtent);
}

bool DerivePanel::isFeatures() const {
    const auto* layer = m_workspace.layer();
    return layer && layer->as<doc::VectorLayer>();
}

void DerivePanel::refresh() {
    const auto* source = m_workspace.source();
    const auto* facts = source ? m_facts.facts(*source) : nullptr;
    m_made->setVisible(source && source->lineage);
    m_new->setVisible(source && !source->isLive() && facts &&
                      (!facts->bands.empty() || !facts->fields.empty() || isFeatures()));
    setVisible(!m_made->isHidden());
    if (!m_made->isHidden()) refreshMade(*source);
    if (!m_new->isHidden()) refreshNew();
}

}  // namespace ledge::app
