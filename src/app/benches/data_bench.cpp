#include "app/benches/data_bench.h"

#include <QDir>
#include <QFileInfo>

#include "app/theme.h"
#include "core/base/numbers.h"
#include "document/edits/layer_edits.h"

namespace ledge::app {

DataBench::DataBench(Workspace& workspace, session::FactBook& facts, QWidget* parent)
    : BenchPage(workspace, tr("Data"), parent), m_facts(facts), m_facts_(makeLabel("")),
      m_notes(makeLabel("", "trouble")), m_sourcePart(new QWidget),
      m_crs(makeText(tr("Declare CRS"), tr("EPSG:32628, or WKT"))),
      m_crsHint(makeLabel("", "muted")),
      m_heightUnit(makeChoice(tr("Height unit"), {tr("metres"), tr("feet")})),
      m_credit(makeText(tr("Credit"), tr("Who is to be named on sheets"))),
      m_fields(makeLabel("", "muted")) {
    m_crs->setObjectName("declareCrs");
    m_facts_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    add(m_facts_);
    add(m_notes);
    auto* part = new QVBoxLayout(m_sourcePart);
    part->setContentsMargins(0, 0, 0, 0);
    part->setSpacing(8);
    part->addWidget(makeLabel(tr("Declare CRS"), "heading"));
    part->addWidget(m_crs);
    part->addWidget(m_crsHint);
    auto* declare = makeButton(tr("Declare"),
                               tr("Say which CRS these coordinates are in; they stay as they are"));
    declare->setObjectName("declareButton");
    connect(declare, &QPushButton::clicked, this, &DataBench::declareCrs);
    connect(m_crs, &QLineEdit::returnPressed, this, &DataBench::declareCrs);
    part->addWidget(declare);
    m_heightPart = captioned(tr("Heights are in"), m_heightUnit);
    part->addWidget(m_heightPart);
    part->addWidget(captioned(tr("Credit"), m_credit));
    part->addWidget(makeLabel(tr("Fields"), "heading"));
    part->addWidget(m_fields);
    auto* fit = makeButton(tr("Show all of it"), tr("Move the map so that the whole layer shows"));
    connect(fit, &QPushButton::clicked, this,
            [this] { Q_EMIT this->workspace().fitAsked(this->workspace().selectedLayer()); });
    part->addWidget(fit);
    add(m_sourcePart);
    heading(tr("In the project's folder"));
    auto* folder = new QWidget;
    m_folder = new QVBoxLayout(folder);
    m_folder->setContentsMargins(0, 0, 0, 0);
    m_folder->setSpacing(2);
    add(folder);
    auto* more = makeButton(tr("Add data…"), tr("Choose files to add (Ctrl+Shift+A)"), true);
    connect(more, &QPushButton::clicked, this, &DataBench::addAsked);
    add(more);

    connect(m_heightUnit, &QComboBox::activated, this, [this](int index) {
        if (const auto* source = this->workspace().source())
            this->workspace().edit(tr("Height unit"),
                                   doc::withSource(this->workspace().document(), source->id,
                                                   [index](doc::SourceRef& s) {
                                                       s.heightUnit = index == 1
                                                                          ? doc::HeightUnit::Foot
                                                                          : doc::HeightUnit::Metre;
                                                   }));
    });
    connect(m_credit, &QLineEdit::editingFinished, this, [this] {
        if (const auto* source = this->workspace().source())
            this->workspace().edit(tr("Credit"),
                                   doc::withSource(this->workspace().document(), source->id,
                                                   [this](doc::SourceRef& s) {
                                                       s.credit =
                                                           m_credit->text().trimmed().toStdString();
                                                   }));
    });
    connect(&facts, &session::FactBook::ready, this, [this] {
        if (isVisible()) refresh();
    });
}

void DataBench::declareCrs() {
    const auto* source = workspace().source();
    if (!source) return;
    const std::string typed = trimmed(m_crs->text().toStdString());
    const auto crs = crs::parseCrs(typed);
    m_crs->setProperty("wrong", !crs.has_value());
    m_crs->style()->unpolish(m_crs);
    m_crs->style()->polish(m_crs);
    if (!crs) return workspace().say(qtext(crs.error().text()), true);
    workspace().edit(tr("Declare CRS"),
                     doc::withSource(workspace().document(), source->id, [&](doc::SourceRef& s) {
                         if (typed.empty())
                             s.declaredCrs.reset();
                         else
                             s.declaredCrs = typed;
                     }));
    workspace().say(
        typed.empty()
            ? tr("The CRS is the file's own again")
            : tr("Declared as %1").arg(qtext((*crs) ? (*crs)->name : "local coordinates")));
}

void DataBench::listFolder() {
    while (QLayoutItem* item = m_folder->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    const auto& path = workspace().session().path();
    if (path.empty())
        return m_folder->addWidget(
            makeLabel(tr("Save the project to see the files beside it."), "muted"));
    const QDir dir(qtext(path.parent_path().string()));
    for (const QFileInfo& file :
         dir.entryInfoList({"*.tif", "*.tiff", "*.asc", "*.gpkg", "*.shp", "*.geojson", "*.json"},
                           QDir::Files, QDir::Name)) {
        const std::filesystem::path full = file.absoluteFilePath().toStdString();
        const bool isUsed = std::any_of(workspace().document().sources.begin(),
                                        workspace().document().sources.end(),
                                        [&](const doc::SourceRef& s) { return s.path == full; });
        auto* row = new QWidget;
        auto* layout = new QHBoxLayout(row);
        layout->setContentsMargins(0, 0, 0, 0);
        auto* name = makeLabel(file.fileName(), isUsed ? "muted" : "");
        name->setWordWrap(false);
        layout->addWidget(name, 1);
        if (isUsed) {
            layout->addWidget(makeLabel(tr("in the stack"), "muted"));
        } else {
            auto* addOne = makeLink(tr("add"), tr("Add %1 to the map").arg(file.fileName()));
            addOne->setStyleSheet("font-weight: 600; color: " + theme().indigo.name());
            connect(addOne, &QPushButton::clicked, this,
                    [this, file] { Q_EMIT fileAsked(file.absoluteFilePath()); });
            layout->addWidget(addOne);
        }
        m_folder->addWidget(row);
    }
}

void DataBench::refresh() {
    listFolder();
    const auto* source = workspace().source();
    m_sourcePart->setVisible(source != nullptr);
    m_facts_->setVisible(source != nullptr);
    m_notes->setVisible(false);
    if (!source)
        return setTitle(tr("Data"), workspace().document().layers.empty()
                                        ? tr("No data yet.")
                                        : tr("Select a layer to see where it comes from."));
    setTitle(qtext(source->name),
             qtext(source->path.filename().string()) +
                 (source->layer.empty() ? QString() : " · " + qtext(source->layer)));
    const auto* layer = workspace().layer();
    m_heightPart->setVisible(layer && layer->readsHeights());
    showChoice(m_heightUnit, source->heightUnit == doc::HeightUnit::Foot ? 1 : 0);
    showText(m_credit, qtext(source->credit));
    showText(m_crs, qtext(source->declaredCrs.value_or("")));
    const auto* facts = m_facts.facts(*source);
    if (!facts) return m_facts_->setText(tr("Reading…"));
    if (!facts->problem.empty()) {
        m_facts_->setVisible(false);
        m_notes->setVisible(true);
        return m_notes->setText(qtext(facts->problem));
    }
    const auto& crs = facts->definition;
    const QString where =
        crs ? tr("%1\n%2 · datum %3")
                  .arg(qtext(crs->name), qtext(crs->kindAndUnit()), qtext(crs->datumName))
            : tr("CRS undeclared: coordinates are used as they are");
    const int decimals = crs && crs->isGeographic() ? 4 : 0;
    const Box& e = facts->extent;
    const auto number = [&](double v) { return qtext(formatNumber(v, {decimals, true})); };
    m_facts_->setText(QString("%1%2\n%3\nE %4 to %5\nN %6 to %7")
                          .arg(qtext(facts->kind),
                               facts->format.empty() ? QString() : " · " + qtext(facts->format),
                               where, number(e.xMin), number(e.xMax), number(e.yMin),
                               number(e.yMax)));
    m_crsHint->setText(source->declaredCrs
                           ? tr("Declared here; the file's own statement is not used.")
                       : crs ? tr("Stated by the file. Declare another only if it is wrong.")
                             : tr("The file does not say. Coordinates stay as they are; only their "
                                  "meaning is declared."));
    QStringList fields;
    for (const Field& field : facts->fields)
        fields << QString("%1 (%2)").arg(qtext(field.name), qtext(fieldTypeName(field.type)));
    m_fields->setText(fields.isEmpty() ? tr("A raster has no fields.") : fields.join(", "));
    if (!facts->notes.empty()) {
        QStringList notes;
        for (const std::string& note : facts->notes) notes << qtext(note);
        m_notes->setText(notes.join("\n"));
        m_notes->setVisible(true);
    }
}

}  // namespace ledge::app
