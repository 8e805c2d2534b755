#include "app/benches/data_bench.h"

#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <algorithm>

#include "app/theme.h"
#include "app/widgets/file_filters.h"
#include "app/widgets/rows.h"
#include "core/base/numbers.h"
#include "core/crs/transformation.h"
#include "document/edits/layer_edits.h"
#include "document/edits/project_edits.h"
#include "io/ntv2/ntv2.h"
#include "session/crs_candidates.h"
#include "session/new_layers.h"

namespace ledge::app {

DataBench::DataBench(Workspace& workspace, session::FactBook& facts, QWidget* parent)
    : BenchPage(workspace, tr("Data"), parent), m_facts(facts), m_factsLabel(makeLabel("")),
      m_concern(makeLabel("", "trouble")), m_operation(makeLabel("", "muted")),
      m_notes(makeLabel("", "trouble")), m_sourcePart(new QWidget), m_guessPart(new QWidget),
      m_guessRows(new QVBoxLayout), m_crs(makeText(tr("Declare CRS"), tr("EPSG:n, or WKT"))),
      m_crsHint(makeLabel("", "muted")),
      m_search(makeButton(tr("Search…"), tr("Search the CRS by name, code or place"))),
      m_reproject(makeButton(tr("Reproject to a new file…"),
                             tr("Make new coordinates in another CRS, in a file of their own"))),
      m_grid(makeButton(tr("Datum shift grid…"),
                        tr("Bring the datum onto the map's by a grid file (NTv2)"))),
      m_heightUnit(makeChoice(tr("Height unit"), {tr("metres"), tr("feet")})),
      m_credit(makeText(tr("Credit"), tr("Who is to be named on sheets"))),
      m_fields(makeLabel("", "muted")) {
    m_crs->setObjectName("declareCrs");
    m_concern->setObjectName("crsConcern");
    m_operation->setObjectName("datumOperation");
    m_search->setObjectName("searchCrs");
    m_reproject->setObjectName("reproject");
    m_factsLabel->setTextInteractionFlags(Qt::TextSelectableByMouse);
    add(m_factsLabel);
    m_operations = makeChoice(tr("Datum operation"), {});
    m_operations->setObjectName("datumOperations");
    m_operations->setToolTip(tr("What is done between the source's datum and the map's; kept with "
                                "the project for every layer on these datums"));
    m_operations->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_operations->setMinimumContentsLength(12);
    m_operationPart = captioned(tr("Datum operation"), m_operations);
    connect(m_operations, &QComboBox::activated, this, &DataBench::chooseOperation);
    add(m_operation);
    add(m_operationPart);
    add(m_concern);
    m_notes->setObjectName("notes");
    add(m_notes);
    m_derive = new DerivePanel(workspace, facts);
    add(m_derive);
    auto* part = new QVBoxLayout(m_sourcePart);
    part->setContentsMargins(0, 0, 0, 0);
    part->setSpacing(8);
    part->addWidget(makeLabel(tr("Declare CRS"), "heading"));
    part->addWidget(m_crsHint);
    m_guessPart->setLayout(m_guessRows);
    m_guessRows->setContentsMargins(0, 0, 0, 0);
    m_guessRows->setSpacing(4);
    part->addWidget(m_guessPart);
    auto* declareButton = makeButton(
        tr("Declare"), tr("Say which CRS these coordinates are in; they stay as they are"));
    declareButton->setObjectName("declareButton");
    connect(declareButton, &QPushButton::clicked, this, [this] { declare(m_crs->text()); });
    connect(m_crs, &QLineEdit::returnPressed, this, [this] { declare(m_crs->text()); });
    connect(m_search, &QPushButton::clicked, this,
            [this] { pickCrs(CrsPicker::Purpose::Declare); });
    connect(m_reproject, &QPushButton::clicked, this,
            [this] { pickCrs(CrsPicker::Purpose::Reproject); });
    part->addWidget(m_crs);
    m_crsWrong = wrongBelow(m_crs);
    part->addWidget(m_crsWrong);
    part->addWidget(sideBySide({declareButton, m_search}));
    part->addWidget(m_reproject);
    part->addWidget(m_grid);
    m_grid->setObjectName("shiftGrid");
    connect(m_grid, &QPushButton::clicked, this, &DataBench::chooseGrid);
    m_heightPart = captioned(tr("Heights are in"), m_heightUnit);
    m_heightUnit->setObjectName("heightUnit");
    m_heightHint = makeLabel("", "muted");
    m_heightHint->setObjectName("heightHint");
    m_heightHint->setWordWrap(false);
    m_heightPart->layout()->addWidget(m_heightHint);
    part->addWidget(m_heightPart);
    m_reading = new ReadingPanel(workspace);
    part->addWidget(m_reading);
    part->addWidget(captioned(tr("Credit"), m_credit));
    m_fieldsPart = new QWidget;
    auto* fields = new QVBoxLayout(m_fieldsPart);
    fields->setContentsMargins(0, 0, 0, 0);
    fields->addWidget(makeLabel(tr("Fields"), "heading"));
    fields->addWidget(m_fields);
    part->addWidget(m_fieldsPart);
    m_numbers = new NumbersPanel(workspace, facts);
    part->addWidget(m_numbers);
    auto* fit = makeButton(tr("Show all of it"), tr("Move the map so that the whole layer shows"));
    connect(fit, &QPushButton::clicked, this,
            [this] { Q_EMIT this->workspace().fitAsked(this->workspace().selectedLayer()); });
    auto* lead = makeButton(tr("Read from another file…"),
                            tr("Take the data from another file of the same kind; layers keep "
                               "their styles"));
    lead->setObjectName("leadElsewhere");
    connect(lead, &QPushButton::clicked, this, &DataBench::leadElsewhere);
    part->addWidget(sideBySide({fit, lead}));
    add(m_sourcePart);
    add(m_derive->newPart());
    heading(tr("In the project's folder"));
    auto* folder = new QWidget;
    m_folder = new QVBoxLayout(folder);
    m_folder->setContentsMargins(0, 0, 0, 0);
    m_folder->setSpacing(2);
    add(folder);
    heading(tr("Graticule and grid"));
    auto* graticule = makeButton(tr("Graticule"), tr("Meridians and parallels over the map"));
    auto* grid = makeButton(tr("Grid"), tr("Eastings and northings of the map's CRS over the map"));
    graticule->setObjectName("addGraticule");
    grid->setObjectName("addGrid");
    connect(graticule, &QPushButton::clicked, this, [this] { addGridLines(true); });
    connect(grid, &QPushButton::clicked, this, [this] { addGridLines(false); });
    add(sideBySide({graticule, grid}));
    auto* more = makeButton(tr("Add data…"), tr("Choose files to add (Ctrl+Shift+A)"), true);
    connect(more, &QPushButton::clicked, this, &DataBench::addAsked);
    add(more);

    connect(m_heightUnit, &QComboBox::activated, this, [this](int index) {
        if (const auto* source = this->workspace().source())
            this->workspace().perform("source-height-unit",
                                      {{"source", Workspace::target(source->id)},
                                       {"unit", index == 1 ? "foot" : "metre"}});
    });
    connect(m_credit, &QLineEdit::editingFinished, this, [this] {
        if (const auto* source = this->workspace().source())
            this->workspace().perform("source-credit",
                                      {{"source", Workspace::target(source->id)},
                                       {"credit", m_credit->text().trimmed().toStdString()}});
    });
    connect(&workspace.session().stale(), &session::StaleBook::ready, this, [this] {
        if (isVisible()) m_derive->refresh();
    });
    connect(&facts, &session::FactBook::ready, this, [this] {
        if (isVisible()) refresh();
    });
    connect(&workspace, &Workspace::troublesChanged, this, [this] {
        if (isVisible()) refresh();
    });
}

// Whether all others lie on the earth already, while the map does not: it goes there with this one.
bool DataBench::isFirstOnEarth(const doc::SourceRef& source) {
    if (!workspace().document().mapCrs.empty()) return false;
    const auto& all = workspace().document().sources;
    return std::all_of(all.begin(), all.end(), [&](const doc::SourceRef& other) {
        if (other.id == source.id) return true;
        const auto* facts = m_facts.facts(other);
        return facts && facts->definition;
    });
}

void DataBench::declare(const QString& text) {
    const auto* source = workspace().source();
    if (!source) return;
    const std::string typed = trimmed(text.toStdString());
    const auto crs = crs::parseCrs(typed);
    showWrong(m_crs, m_crsWrong, crs ? QString() : qtext(crs.error().text()));
    if (!crs) return;
    m_crs->clearFocus();
    doc::EditWords words{{"source", Workspace::target(source->id)}, {"crs", typed}};
    const bool isFirst = *crs && isFirstOnEarth(*source);
    if (isFirst) {
        const auto* facts = m_facts.facts(*source);
        words["map-crs"] = session::mapCrsFor(*crs, facts ? facts->extent : Box{});
    }
    if (!workspace().perform("source-crs", words)) return;
    if (isFirst) Q_EMIT workspace().fitAsked(0);
    workspace().say(
        typed.empty()
            ? tr("The CRS is the file's own again")
            : tr("Declared as %1").arg(qtext((*crs) ? (*crs)->name : "local coordinates")));
}

void DataBench::pickCrs(CrsPicker::Purpose purpose) {
    const auto* source = workspace().source();
    const auto* facts = source ? m_facts.facts(*source) : nullptr;
    if (!facts) return;
    CrsPicker::Request request;
    request.purpose = purpose;
    request.current = facts->definition;
    request.source = source->id;
    request.place = facts->lonLat.isEmpty()
                        ? crs::toLonLat(workspace().session().mapCrs(), workspace().view().centre)
                        : facts->lonLat.centre();
    const bool declares = purpose == CrsPicker::Purpose::Declare;
    if (declares && m_guessed == *source) request.guesses = m_guesses;
    request.title =
        (declares ? tr("Declare the CRS of %1") : tr("Reproject %1 to")).arg(qtext(source->name));
    auto* picker = new CrsPicker(workspace(), std::move(request), this);
    connect(picker, &CrsPicker::chosen, this, [this, declares](const QString& crs) {
        if (declares)
            declare(crs);
        else
            reproject(crs);
    });
    picker->openBelow(declares ? m_search : m_reproject);
}

void DataBench::reproject(const QString& text) {
    const auto* source = workspace().source();
    const auto target = crs::parseCrs(text.toStdString());
    if (!source || !target || !*target) return;
    const auto* facts = m_facts.facts(*source);
    const bool isRaster =
        facts && facts->fields.empty() && facts->format.find("band") != std::string::npos;
    const QString ending = isRaster ? "tif" : "gpkg";
    const QString suggested =
        qtext(source->path.parent_path().string()) + "/" + qtext(source->path.stem().string()) +
        "_" + ((*target)->code ? QString::number((*target)->code) : tr("reprojected")) + "." +
        ending;
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Reproject %1").arg(qtext(source->name)), suggested,
                                     isRaster ? saveFilter(io::Writes::Rasters, ".tif")
                                              : saveFilter(io::Writes::Tables, ".gpkg"),
                                     nullptr, QFileDialog::DontUseNativeDialog);
    if (path.isEmpty()) return;
    const auto way = crs::Transformation::between(facts ? facts->definition : nullptr, *target);
    if (way && !way->datumPath().isSameDatum)
        workspace().say(tr("Reprojecting by %1").arg(qtext(way->datumOperation())));
    doc::Lineage lineage;
    lineage.operation = "reproject";
    lineage.inputs = {session::inputFrom(*source)};
    lineage.parameters["to-crs"] = text.toStdString();
    if (facts && facts->definition) {
        const crs::DatumChoices chosen(workspace().document().datumChoices);
        const std::string operation =
            chosen.between(facts->definition->geographicCode, (*target)->geographicCode);
        if (!operation.empty()) lineage.parameters["operation"] = operation;
    }
    m_derive->write(lineage, path);
}

void DataBench::showOperations(const crs::CrsPtr& from, const crs::CrsPtr& to, Point place) {
    m_datums = {from->geographicCode, to->geographicCode, {}};
    const QSignalBlocker quiet(m_operations);
    m_operations->clear();
    const std::string chosen = crs::DatumChoices(workspace().document().datumChoices)
                                   .between(m_datums.one, m_datums.other);
    for (const session::DatumOffer& offer : session::datumOffers(from, to, place)) {
        m_operations->addItem(qtext(offer.text), qtext(offer.choice));
        const int row = m_operations->count() - 1;
        m_operations->setItemData(row, qtext(offer.area), Qt::ToolTipRole);
        if (offer.choice == chosen) m_operations->setCurrentIndex(row);
    }
}

void DataBench::chooseOperation(int index) {
    workspace().perform("datum-operation",
                        {{"one", std::to_string(m_datums.one)},
                         {"other", std::to_string(m_datums.other)},
                         {"operation", m_operations->itemData(index).toString().toStdString()}});
}

void DataBench::chooseGrid() {
    const auto* source = workspace().source();
    const auto mapCrs = workspace().session().mapCrs();
    if (!source || !mapCrs) return;
    if (source->shiftGrid)
        return void(
            workspace().perform("source-shift-grid", {{"source", Workspace::target(source->id)}}));
    const QString path = QFileDialog::getOpenFileName(
        this,
        tr("Datum shift grid from %1 to %2")
            .arg(qtext(source->name), qtext(mapCrs->geographicName)),
        qtext(source->path.parent_path().string()), tr("Grids of shifts (*.gsb *.GSB)"), nullptr,
        QFileDialog::DontUseNativeDialog);
    if (path.isEmpty()) return;
    const int target = mapCrs->geographicCode ? mapCrs->geographicCode : 4326;
    workspace().session().jobs().start(
        tr("Reading %1").arg(QFileInfo(path).fileName()),
        [path](const Progress&) -> Result<void> {
            const auto grid = io::readShiftGrid(path.toStdString());
            return grid ? Result<void>() : Result<void>(grid.error());
        },
        [this, path, target, id = source->id](const Result<void>& done) {
            if (done)
                workspace().perform("source-shift-grid", {{"source", Workspace::target(id)},
                                                          {"path", path.toStdString()},
                                                          {"target", std::to_string(target)}});
        });
}

void DataBench::addGridLines(bool isGraticule) {
    std::string name = (isGraticule ? tr("Graticule") : tr("Grid")).toStdString();
    // Another of the same name is a second one.
    for (int i = 2; workspace().layerNamed(name) != 0; ++i)
        name = (isGraticule ? tr("Graticule %1") : tr("Grid %1")).arg(i).toStdString();
    if (!workspace().perform("grid-lines-add",
                             {{"name", name}, {"lines", isGraticule ? "graticule" : "grid"}}))
        return;
    workspace().selectLayer(workspace().layerNamed(name));
    workspace().setBench(Bench::Style);
}

void DataBench::guess(const doc::SourceRef& source, const session::SourceFacts& facts) {
    if (m_guessed == source) return showGuesses(m_guesses);
    m_guessed = {};
    m_misplaced.clear();
    m_guesses.clear();
    showGuesses({});
    Box place;
    std::vector<int> codes;
    for (const auto& other : workspace().document().sources) {
        if (other.id == source.id) continue;
        const auto* known = m_facts.facts(other);
        if (!known || known->lonLat.isEmpty()) continue;
        place.add(known->lonLat);
        if (known->definition && known->definition->code) codes.push_back(known->definition->code);
    }
    if (place.isEmpty()) return;  // again when the facts of the others are there
    m_guesser.start([this, extent = facts.extent, place, codes, source,
                     isDeclared = facts.definition != nullptr,
                     mapCrs = workspace().session().mapCrs()](const std::stop_token& stop) {
        auto found = session::guessCrs(extent, place, mapCrs, codes);
        const auto misplaced =
            isDeclared ? std::string() : session::misplacement(extent, mapCrs, place);
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, source, misplaced, found = std::move(found)] {
            m_guessed = source;
            m_guesses = found;
            m_misplaced = qtext(misplaced);
            const auto* now = workspace().source();
            if (!now || !(*now == source)) return;
            showGuesses(m_guesses);
            const auto* known = m_facts.facts(source);
            if (known && known->concern)
                m_concern->setText(qtext(known->concern->text) + " " + m_misplaced);
        });
    });
}

void DataBench::showGuesses(const std::vector<session::CrsGuess>& guesses) {
    clearRows(m_guessRows);
    m_guessPart->setVisible(!guesses.empty());
    if (guesses.empty()) return;
    m_guessRows->addWidget(makeLabel(tr("In these it would lie on the other data:"), "muted"));
    int index = 0;
    for (const auto& one : guesses) {
        auto* button = makeButton(
            tr("Declare %1").arg(qtext(one.name)),
            tr("%1 % of it would lie where the other data lie").arg(qRound(one.share * 100)),
            index == 0);
        button->setObjectName(QString("guess%1").arg(index++));
        connect(button, &QPushButton::clicked, this,
                [this, code = one.code] { declare(QString("EPSG:%1").arg(code)); });
        m_guessRows->addWidget(button);
    }
}

// A folder may be far away: it is looked at beside the interface.
void DataBench::listFolder() {
    const auto& path = workspace().session().path();
    if (path.empty()) {
        m_folderWorker.cancel();
        return showFolder({}, tr("Save the project to see the files beside it."));
    }
    m_folderWorker.start([this, folder = qtext(path.parent_path().string())](
                             const std::stop_token& stop) {
        const auto files = QDir(folder).entryInfoList(readablePatterns(), QDir::Files, QDir::Name);
        if (!stop.stop_requested())
            QMetaObject::invokeMethod(this, [this, files] { showFolder(files, {}); });
    });
}

void DataBench::showFolder(const QFileInfoList& files, const QString& instead) {
    const auto isUsed = [this](const QFileInfo& file) {
        const std::filesystem::path full = file.absoluteFilePath().toStdString();
        const auto& all = workspace().document().sources;
        return std::any_of(all.begin(), all.end(),
                           [&](const doc::SourceRef& s) { return s.path == full; });
    };
    QStringList rows{instead};
    for (const QFileInfo& file : files)
        rows << file.absoluteFilePath() + (isUsed(file) ? " used" : " free") +
                    m_described[file.absoluteFilePath()];
    if (rows == m_folderShown) return;
    m_folderShown = rows;
    while (QLayoutItem* item = m_folder->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    if (!instead.isEmpty()) return m_folder->addWidget(makeLabel(instead, "muted"));
    for (const QFileInfo& file : files) {
        const bool isInStack = isUsed(file);
        auto* row = new QWidget;
        auto* layout = new QHBoxLayout(row);
        layout->setContentsMargins(0, 0, 0, 0);
        auto* name = makeLabel(file.fileName(), isInStack ? "muted" : "");
        name->setWordWrap(false);
        layout->addWidget(name, 1);
        if (isInStack) {
            layout->addWidget(makeLabel(tr("in the stack"), "muted"));
        } else {
            auto* look = makeLink(tr("describe"),
                                  tr("Say what is in %1 before it is added").arg(file.fileName()));
            connect(look, &QPushButton::clicked, this,
                    [this, file] { describe(file.absoluteFilePath()); });
            layout->addWidget(look);
            auto* addOne = makeLink(tr("add"), tr("Add %1 to the map").arg(file.fileName()));
            addOne->setStyleSheet("font-weight: 600; color: " + theme().indigo.name());
            connect(addOne, &QPushButton::clicked, this,
                    [this, file] { Q_EMIT fileAsked(file.absoluteFilePath()); });
            layout->addWidget(addOne);
        }
        m_folder->addWidget(row);
        const QString& said = m_described[file.absoluteFilePath()];
        if (!said.isEmpty() && !isInStack) m_folder->addWidget(makeLabel(said, "muted"));
    }
}

void DataBench::describe(const QString& path) {
    auto facts = std::make_shared<session::SourceFacts>();
    doc::SourceRef source;
    source.path = path.toStdString();
    workspace().session().jobs().start(
        tr("Reading %1").arg(QFileInfo(path).fileName()),
        [facts, source,
         sources = workspace().session().sources()](const Progress& progress) -> Result<void> {
            *facts = session::readFacts(*sources, source);
            return progress.stopped() ? Result<void>(cancelled(source.path.string()))
                                      : Result<void>();
        },
        [this, facts, path](const Result<void>& done) {
            if (!done) return;
            QStringList said;
            if (!facts->problem.empty()) said << qtext(facts->problem);
            for (const std::string* text : {&facts->kind, &facts->format})
                if (!text->empty()) said << qtext(*text);
            if (facts->problem.empty())
                said << (facts->crs.empty() ? tr("no CRS") : qtext(facts->crs));
            for (const Field& field : facts->fields) said << qtext(field.name);
            m_described[path] = said.join(" · ");
            listFolder();
        });
}

void DataBench::leadElsewhere() {
    const auto* source = workspace().source();
    if (!source) return;
    const QString path = QFileDialog::getOpenFileName(
        this, tr("Point %1 at another file").arg(qtext(source->name)),
        qtext(source->path.parent_path().string()), {}, nullptr, QFileDialog::DontUseNativeDialog);
    if (path.isEmpty()) return;
    auto made = std::make_shared<doc::SourceRef>();
    workspace().session().jobs().start(
        tr("Reading %1").arg(QFileInfo(path).fileName()),
        [made, source = *source, path,
         sources = workspace().session().sources()](const Progress& progress) -> Result<void> {
            auto led = session::ledTo(source, path.toStdString(), *sources, progress);
            if (!led) return led.error();
            *made = *std::move(led);
            return {};
        },
        [this, made](const Result<void>& done) {
            if (!done) return;
            workspace().perform("source-path", {{"source", Workspace::target(made->id)},
                                                {"path", made->path.string()},
                                                {"layer", made->layer}});
        });
}

void DataBench::refresh() {
    listFolder();
    m_derive->refresh();
    const auto* source = workspace().source();
    m_sourcePart->setVisible(source != nullptr);
    m_factsLabel->setVisible(source != nullptr);
    const auto* facts = source ? m_facts.facts(*source) : nullptr;
    // What is hidden and shown again loses the focus.
    if (!facts || !facts->problem.empty())
        for (QWidget* part : {static_cast<QWidget*>(m_notes), static_cast<QWidget*>(m_concern),
                              static_cast<QWidget*>(m_operation), m_operationPart})
            part->hide();
    if (!source)
        return setTitle(tr("Data"), workspace().document().layers.empty()
                                        ? tr("No data yet.")
                                        : tr("Select a layer to see where it comes from."));
    setTitle(
        qtext(source->name),
        (source->isLive() ? tr("live, nothing stored") : qtext(source->path.filename().string())) +
            (source->layer.empty() ? QString() : " · " + qtext(source->layer)));
    const auto* layer = workspace().layer();
    if (facts) m_reading->show(*source, *facts);
    m_heightPart->setVisible(layer && layer->readsHeights());
    showChoice(m_heightUnit, source->heightUnit == doc::HeightUnit::Foot ? 1 : 0);
    showText(m_credit, qtext(source->credit));
    showText(m_crs, qtext(source->declaredCrs.value_or("")));
    if (!facts) return m_factsLabel->setText(tr("Reading…"));
    if (!facts->problem.empty()) {
        m_factsLabel->setVisible(false);
        m_fieldsPart->setVisible(false);
        m_numbers->refresh();
        m_notes->setVisible(true);
        return m_notes->setText(qtext(facts->problem));
    }
    showFacts(*source, *facts);
}

void DataBench::showFacts(const doc::SourceRef& source, const session::SourceFacts& facts) {
    const auto& crs = facts.definition;
    const QString where = crs ? qtext(session::crsInWords(*crs))
                              : tr("CRS undeclared: coordinates are used as they are");
    const int decimals = crs && crs->isGeographic() ? 4 : 0;
    const Box& e = facts.extent;
    const auto number = [&](double v) { return qtext(formatNumber(v, {decimals, true})); };
    m_factsLabel->setText(
        QString("%1%2\n%3\n%4\nN %5 to %6")
            .arg(qtext(facts.kind), facts.format.empty() ? QString() : " · " + qtext(facts.format),
                 where,
                 facts.across.empty() ? QString("E %1 to %2").arg(number(e.xMin), number(e.xMax))
                                      : qtext(facts.across),
                 number(e.yMin), number(e.yMax)));
    const auto mapCrs = workspace().session().mapCrs();
    const auto way = crs::Transformation::between(crs, mapCrs);
    const bool mixes = crs && mapCrs && way && !crs::hasSameDatum(*crs, *mapCrs);
    m_operation->setVisible(mixes);
    m_operationPart->setVisible(mixes);
    if (mixes) showOperations(crs, mapCrs, crs::toLonLat(crs, facts.extent.centre()));
    m_grid->setVisible(mixes || source.shiftGrid);
    m_grid->setText(source.shiftGrid ? tr("Drop the datum shift grid") : tr("Datum shift grid…"));
    if (mixes)
        m_operation->setText(tr("Its datum is not the map's. It is brought there by: %1")
                                 .arg(qtext(way->datumOperation())));
    // In a project of plain local coordinates nothing needs a CRS.
    const bool isDoubtful = facts.concern && (crs || mapCrs);
    m_concern->setVisible(isDoubtful);
    if (isDoubtful)
        m_concern->setText(qtext(facts.concern->text) +
                           (m_guessed == source ? " " + m_misplaced : QString()));
    if (isDoubtful)
        guess(source, facts);
    else
        showGuesses({});
    m_crsHint->setText(source.isLive() && crs ? tr("That of what it is computed from.")
                       : source.declaredCrs
                           ? tr("Declared here; the file's own statement is not used.")
                       : crs ? tr("Stated by the file. Declare another only if it is wrong.")
                             : tr("Coordinates stay as they are; only their meaning is declared."));
    m_reproject->setEnabled(crs && !source.isLive());
    m_numbers->refresh();
    const std::string stated = facts.bands.empty() ? std::string() : facts.bands.front().unit;
    m_heightHint->setText(
        stated.empty() ? tr("%1 taken, not stated by the file")
                             .arg(m_heightUnit->currentIndex() == 1 ? tr("Feet") : tr("Metres"))
                       : tr("The file states: %1").arg(qtext(stated)));
    m_fieldsPart->setVisible(facts.bands.empty());
    QStringList fields;
    for (const Field& field : facts.fields)
        fields << QString("%1 (%2)").arg(qtext(field.name), qtext(fieldTypeName(field.type)));
    m_fields->setText(fields.isEmpty() ? tr("none") : fields.join(", "));
    QStringList notes;
    for (const std::string& trouble : workspace().troubles(workspace().selectedLayer()))
        notes << qtext(trouble);
    if (!isDoubtful || crs)
        for (const std::string& note : facts.notes) notes << qtext(note);
    m_notes->setText(notes.join("\n"));
    m_notes->setVisible(!notes.isEmpty());
}

}  // namespace ledge::app
