#include "app/benches/ask_bench.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QSignalBlocker>
#include <cmath>

#include "app/theme.h"
#include "app/widgets/file_filters.h"
#include "carto/qtext.h"
#include "core/base/numbers.h"
#include "core/feature/summary.h"
#include "core/geometry/relate.h"
#include "core/query/plain.h"
#include "session/derive/lineage.h"

namespace ledge::app {
namespace {
constexpr std::size_t kMostOffered = 200;
// Without the text itself, which stands above.
QString reasonOf(const Error& e) {
    const std::string why = e.why.substr(0, e.why.find(" at character"));
    return qtext(why) + (e.mend.empty() ? QString() : " \u00b7 " + qtext(e.mend));
}
}  // namespace

AskBench::AskBench(Workspace& workspace, session::FactBook& facts, QWidget* parent)
    : BenchPage(workspace, tr("Ask"), parent), m_facts(facts), m_askPart(new QWidget),
      m_conditions(new ConditionEditor(
          [this](const std::string& field, std::function<void(const QStringList&)> use) {
              offerValues(field, std::move(use));
          },
          false)),
      m_onlyText(
          makeLabel(tr("This question says more than the controls can: edit it below."), "muted")),
      m_text(
          new FormulaEdit(tr("Question as text"), tr("for example  sheep > 20 AND use = 'hay'"))),
      m_trouble(makeLabel("")), m_hasNear(new QCheckBox(tr("By features of another layer"))),
      m_nearPart(new QWidget), m_near(makeChoice(tr("Layer that must be near"), {})),
      m_relation(makeChoice(tr("How they stand to it"), {})),
      m_metres(makeNumber(tr("Within"), 0, 1e7, 0, " m", 50)),
      m_nearKeep(new FormulaEdit(tr("Which of its features"),
                                 tr("all, or a condition: condition = 'worn'"), 2)),
      m_count(makeLabel("")), m_sumOf(makeChoice(tr("Field to sum up"), {})),
      m_sum(makeLabel("", "muted")), m_name(makeText(tr("Name of the question"))),
      m_filter(makeLink(tr("Show only these"),
                        tr("The layer shows these features only; its data stay"))),
      m_all(makeLink(tr("Show all features again"), tr("Take the layer's filter away"))),
      m_command(new CodeView(tr("The same as a command"))) {
    m_text->setObjectName("askText");
    m_trouble->setObjectName("askTrouble");
    m_count->setObjectName("askCount");
    m_sum->setObjectName("askSum");
    m_sumOf->setObjectName("askSumOf");
    m_hasNear->setObjectName("askHasNear");
    m_near->setObjectName("askNear");
    m_metres->setObjectName("askMetres");
    m_nearKeep->setObjectName("askNearKeep");
    m_filter->setObjectName("askFilter");
    m_all->setObjectName("askAll");
    m_name->setObjectName("askName");
    m_command->setObjectName("askCommand");
    m_onlyText->setWordWrap(true);
    m_trouble->setWordWrap(true);
    m_trouble->setStyleSheet("color: " + theme().rust.name());
    m_count->setStyleSheet("font-size: 15px; font-weight: 600; color: " + theme().ink.name());
    m_sum->setWordWrap(true);
    auto* part = new QVBoxLayout(m_askPart);
    part->setContentsMargins(0, 0, 0, 0);
    part->setSpacing(10);
    part->addWidget(m_conditions);
    part->addWidget(m_onlyText);
    part->addWidget(captioned(tr("As text"), m_text));
    part->addWidget(m_trouble);
    makeNear();
    part->addWidget(m_hasNear);
    part->addWidget(m_nearPart);
    part->addWidget(m_count);
    makeActs();
    add(m_askPart);
    connect(&m_facts, &session::FactBook::ready, this, [this] {
        if (isVisible()) refresh();
    });
    connect(&m_later, &QTimer::timeout, this, &AskBench::ask);
    connect(m_conditions, &ConditionEditor::edited, this, &AskBench::takeControls);
    connect(m_text, &QPlainTextEdit::textChanged, this, &AskBench::takeText);
    connect(m_text, &FormulaEdit::entered, this, [this] { pick(Workspace::Joining::Instead); });
    connect(m_sumOf, &QComboBox::activated, &m_later, qOverload<>(&QTimer::start));
}

void AskBench::makeNear() {
    auto* near = new QVBoxLayout(m_nearPart);
    near->setContentsMargins(16, 0, 0, 0);
    near->setSpacing(8);
    m_relation->setObjectName("askRelation");
    m_relation->addItem(tr("within metres of"), "near");
    const QStringList relations{tr("meet"),       tr("are apart from all of"),
                                tr("lie within"), tr("contain"),
                                tr("touch"),      tr("cross"),
                                tr("overlap"),    tr("are equal to")};
    static_assert(kRelationNames.size() == 8);
    for (std::size_t i = 0; i < kRelationNames.size(); ++i)
        m_relation->addItem(relations[static_cast<int>(i)], qtext(std::string(kRelationNames[i])));
    m_distance = captioned(tr("Distance"), m_metres);
    near->addWidget(sideBySide({captioned(tr("They"), m_relation), m_distance}));
    near->addWidget(captioned(tr("Layer"), m_near));
    connect(m_relation, &QComboBox::activated, this, [this](int index) {
        m_distance->setVisible(index == 0);
        m_later.start();
    });
    near->addWidget(captioned(tr("Which of its features"), m_nearKeep));
    m_metres->setToolTip(tr("Metres on the ellipsoid; 0: they meet"));
    connect(m_hasNear, &QCheckBox::toggled, this, [this](bool on) {
        m_nearPart->setVisible(on);
        m_later.start();
    });
    connect(m_near, &QComboBox::activated, this, [this] {
        const auto* layer = workspace().document().layer(m_near->currentData().toLongLong());
        const auto* source = layer ? workspace().document().source(layer->source) : nullptr;
        if (const auto* facts = source ? m_facts.facts(*source) : nullptr)
            m_nearKeep->setFields(facts->fields);
        m_later.start();
    });
    connect(m_metres, &QDoubleSpinBox::valueChanged, &m_later, qOverload<>(&QTimer::start));
    connect(m_nearKeep, &QPlainTextEdit::textChanged, &m_later, qOverload<>(&QTimer::start));
    m_nearPart->hide();
}

void AskBench::makeActs() {
    auto* part = static_cast<QVBoxLayout*>(m_askPart->layout());
    const auto act = [&](QPushButton* button, const char* name, auto does) {
        button->setObjectName(name);
        connect(button, &QPushButton::clicked, this, does);
        m_acts.push_back(button);
        return button;
    };
    using Joining = Workspace::Joining;
    part->addWidget(sideBySide(
        {act(makeButton(tr("Pick"), tr("Pick these instead of what is picked (Ctrl+Return)"), true),
             "askPick", [this] { pick(Joining::Instead); }),
         act(makeButton(tr("Add"), tr("Pick these too")), "askAlso",
             [this] { pick(Joining::Also); }),
         act(makeButton(tr("Less"), tr("Of what is picked, take these away")), "askWithout",
             [this] { pick(Joining::Without); }),
         act(makeButton(tr("Within"), tr("Of what is picked, keep only these")), "askWithin",
             [this] { pick(Joining::Within); })}));
    part->addWidget(captioned(tr("They come to"), m_sumOf));
    part->addWidget(m_sum);
    act(m_filter, "askFilter", [this] { filter(); });
    part->addWidget(m_filter, 0, Qt::AlignLeft);
    connect(m_all, &QPushButton::clicked, this, [this] {
        workspace().perform("layer-filter", {{"layer", Workspace::target(m_layer)}});
    });
    part->addWidget(m_all, 0, Qt::AlignLeft);
    part->addWidget(act(makeLink(tr("Open them in the table"), tr("Pick them and show their rows")),
                        "askTable",
                        [this] {
                            pick(Joining::Instead);
                            Q_EMIT workspace().tableAsked(m_layer);
                        }),
                    0, Qt::AlignLeft);
    part->addWidget(act(makeLink(tr("Show as a layer of its own"),
                                 tr("A live layer: it asks anew whenever the data change")),
                        "askLive",
                        [this] {
                            if (const auto made = lineage()) Q_EMIT liveAsked(*made);
                        }),
                    0, Qt::AlignLeft);
    part->addWidget(act(makeLink(tr("Write as a new layer\u2026"),
                                 tr("Write these features to a file and show it")),
                        "askWrite", [this] { writeNew(); }),
                    0, Qt::AlignLeft);
    auto* keeping = new QHBoxLayout;
    m_name->setPlaceholderText(tr("name of the question"));
    keeping->addWidget(m_name, 1);
    keeping->addWidget(act(makeButton(tr("Keep"), tr("Keep the question as a card on the ledge")),
                           "askKeep", [this] { keep(); }));
    connect(m_name, &QLineEdit::returnPressed, this, &AskBench::keep);
    part->addLayout(keeping);
    part->addWidget(captioned(tr("The same as a command"), m_command));
}

const doc::VectorLayer* AskBench::vector() const {
    const auto* layer = workspace().document().layer(m_layer);
    return layer ? layer->as<doc::VectorLayer>() : nullptr;
}

void AskBench::refresh() {
    const auto* layer = workspace().layer();
    const bool isAskable = layer && layer->as<doc::VectorLayer>();
    m_askPart->setVisible(isAskable);
    if (!isAskable) {
        m_layer = 0;
        Q_EMIT answered(0, {});
        return setTitle(tr("Ask"), tr("Select a layer of features to ask it."));
    }
    setTitle(tr("Ask"), qtext(layer->name));
    m_all->setVisible(!layer->as<doc::VectorLayer>()->filter.empty());
    const auto* source = workspace().source();
    const auto* facts = source ? m_facts.facts(*source) : nullptr;
    if (facts) {
        m_text->setFields(facts->fields);
        m_conditions->setFields(facts->fields);
        const QString chosen = m_sumOf->currentText();
        const QSignalBlocker quiet(m_sumOf);
        m_sumOf->clear();
        m_sumOf->addItem(tr("nothing summed up"));
        for (const Field& field : facts->fields)
            if (field.type == FieldType::Integer || field.type == FieldType::Real)
                m_sumOf->addItem(qtext(field.name));
        m_sumOf->setCurrentIndex(std::max(0, m_sumOf->findText(chosen)));
    }
    const QVariant near = m_near->currentData();
    {
        const QSignalBlocker quiet(m_near);
        m_near->clear();
        for (const auto& other : doc::allLayers(workspace().document().layers))
            if (other->as<doc::VectorLayer>() && other->id != layer->id)
                m_near->addItem(qtext(other->name), QVariant::fromValue<qlonglong>(other->id));
        m_near->setCurrentIndex(std::max(0, m_near->findData(near)));
    }
    m_hasNear->setEnabled(m_near->count() > 0);
    if (m_layer != layer->id) {
        // Each layer keeps what was asked of it.
        if (m_layer != 0) m_open[m_layer] = question();
        m_layer = layer->id;
        const auto known = m_open.find(m_layer);
        doc::SavedQuestion blank;
        blank.layer = m_layer;
        blank.keep = layer->as<doc::VectorLayer>()->filter;
        show(known == m_open.end() ? blank : known->second);
    } else {
        m_later.start();
    }
}

void AskBench::show(const doc::SavedQuestion& asked) {
    m_layer = asked.layer;
    {
        const QSignalBlocker quietNear(m_hasNear), quietMetres(m_metres), quietKeep(m_nearKeep);
        m_hasNear->setChecked(asked.near != 0);
        m_nearPart->setVisible(asked.near != 0);
        if (asked.near != 0)
            m_near->setCurrentIndex(
                std::max(0, m_near->findData(QVariant::fromValue<qlonglong>(asked.near))));
        m_metres->setValue(asked.withinMetres);
        showChoice(m_relation, std::max(0, m_relation->findData(qtext(asked.relation))));
        m_distance->setVisible(m_relation->currentIndex() == 0);
        m_nearKeep->showText(qtext(asked.nearKeep));
    }
    showText(m_name, qtext(asked.name));
    const QSignalBlocker quiet(m_text);
    m_text->showText(qtext(asked.keep));
    takeText();
}

void AskBench::hideEvent(QHideEvent* event) {
    BenchPage::hideEvent(event);
    Q_EMIT answered(0, {});
}

// What was typed into the text is shown in the controls, as far as they can.
void AskBench::takeText() {
    const std::string text = trimmed(m_text->text().toStdString());
    const auto tree = query::parse(text);
    std::optional<query::PlainGroup> plain;
    if (text.empty())
        plain = query::PlainGroup{};
    else if (tree)
        plain = query::plainOf(**tree);
    const QSignalBlocker quiet(m_conditions);
    if (plain) m_conditions->show(*plain);
    const bool isPlain = plain.has_value() || (!tree && !text.empty());
    m_conditions->setVisible(isPlain);
    m_conditions->setEnabled(plain.has_value());
    m_onlyText->setVisible(!isPlain);
    m_later.start();
}

void AskBench::takeControls() {
    const auto* source = workspace().source();
    const auto* facts = source ? m_facts.facts(*source) : nullptr;
    LayerInfo info;
    if (facts) info.fields = facts->fields;
    const auto tree = query::treeOf(m_conditions->group(), info);
    const QSignalBlocker quiet(m_text);
    m_text->showText(tree ? qtext(query::toText(*tree)) : QString());
    m_later.start();
}

doc::SavedQuestion AskBench::question() const {
    doc::SavedQuestion out;
    out.name = m_name->text().trimmed().toStdString();
    out.layer = m_layer;
    out.keep = trimmed(m_text->text().toStdString());
    if (m_hasNear->isChecked()) {
        out.near = m_near->currentData().toLongLong();
        out.nearKeep = trimmed(m_nearKeep->text().toStdString());
        if (m_relation->currentIndex() == 0)
            out.withinMetres = m_metres->value();
        else
            out.relation = m_relation->currentData().toString().toStdString();
    }
    return out;
}

void AskBench::ask() {
    const doc::SavedQuestion asked = question();
    const auto& document = workspace().document();
    const auto* layer = document.layer(asked.layer);
    const auto* source = layer ? document.source(layer->source) : nullptr;
    if (!source || !isVisible()) return;
    const auto* near = document.layer(asked.near);
    const auto* nearSource = near ? document.source(near->source) : nullptr;
    refreshCommand();
    m_count->setText(tr("asking\u2026"));
    m_isAsking = true;
    const std::string sumOf =
        m_sumOf->currentIndex() > 0 ? m_sumOf->currentText().toStdString() : "";
    m_worker.start(
        [this, asked, from = *source, sumOf,
         nearFrom = nearSource ? std::optional(doc::readBy(*near, *nearSource)) : std::nullopt,
         sources = workspace().session().sources()](const std::stop_token& stop) {
            const Progress progress{stop, {}};
            query::Place place;
            TablePtr table;
            std::optional<query::Summary> sum;
            const auto found = [&]() -> Result<query::Rows> {
                const auto read = sources->table(from, progress);
                if (!read) return read.error();
                table = *read;
                session::Asked question{asked.keep};
                if (nearFrom) {
                    const auto others = sources->table(*nearFrom, progress);
                    if (!others) return others.error();
                    question.near = *others;
                    question.nearKeep = asked.nearKeep;
                    question.withinMetres = asked.withinMetres;
                    question.relation = asked.relation;
                }
                auto rows = session::askedRows(*table, question, progress, &place);
                if (!rows || sumOf.empty()) return rows;
                const auto of = query::Question::from(query::nameText(sumOf), table->info);
                if (!of) return of.error();
                const auto sums = query::summaries(*of, nullptr, *table, &rows->rows, progress);
                if (!sums) return sums.error();
                sum = sums->front();
                return rows;
            }();
            if (stop.stop_requested()) return;
            QMetaObject::invokeMethod(
                this, [this, found, place, table, sum] { show(found, place, table, sum); });
        });
}

void AskBench::show(const Result<query::Rows>& found, query::Place place, const TablePtr& table,
                    const std::optional<query::Summary>& sum) {
    m_isAnswered = found.has_value();
    m_isAsking = false;
    m_answer.clear();
    m_text->markWrong(found ? query::Place{} : place);
    m_trouble->setVisible(!found || !found->trouble.empty());
    m_trouble->setText(found ? qtext(found->trouble) : reasonOf(found.error()));
    for (QPushButton* act : m_acts) act->setEnabled(m_isAnswered);
    m_sum->setVisible(sum.has_value());
    if (!found) {
        m_count->setText(tr("no answer"));
        Q_EMIT answered(0, {});
        return;
    }
    for (const std::size_t row : found->rows) m_answer.push_back(table->key(row));
    m_count->setText(
        tr("%1 of %2 features").arg(counted(found->rows.size()), counted(table->size())));
    if (sum) {
        const auto number = [](double v) {
            return qtext(formatNumber(v, {v == std::floor(v) ? 0 : 2, true}));
        };
        m_sum->setText(
            tr("sum %1 \u00b7 mean %2 \u00b7 median %3 \u00b7 %4 to %5 \u00b7 %6 missing")
                .arg(number(sum->sum), number(sum->mean), number(sum->median), number(sum->min),
                     number(sum->max), counted(static_cast<std::size_t>(sum->missing))));
    }
    const auto* layer = workspace().document().layer(m_layer);
    const bool isAll = found->rows.size() == table->size();
    if (isVisible() && layer)
        Q_EMIT answered(layer->source, isAll ? std::vector<FeatureKey>() : m_answer);
}

void AskBench::refreshCommand() {
    const doc::SavedQuestion asked = question();
    const auto& document = workspace().document();
    const auto fileOf = [&](doc::Id id) {
        const auto* layer = document.layer(id);
        const auto* source = layer ? document.source(layer->source) : nullptr;
        return source ? *source : doc::SourceRef{};
    };
    const auto quoted = [](const std::string& text) {
        std::string out = "\"";
        for (const char c : text) {
            if (c == '"' || c == '\\' || c == '$' || c == '`') out += '\\';
            out += c;
        }
        return out + "\"";
    };
    const doc::SourceRef from = fileOf(asked.layer);
    const bool isSummed = m_sumOf->currentIndex() > 0;
    std::string out = isSummed ? "ledge summarise " : "ledge ask ";
    out += from.path.filename().string();
    if (!from.layer.empty()) out += " --layer " + from.layer;
    if (isSummed)
        out += " --column " + quoted(query::nameText(m_sumOf->currentText().toStdString()));
    if (!asked.keep.empty()) out += " --keep " + quoted(asked.keep);
    if (asked.near != 0) {
        const doc::SourceRef near = fileOf(asked.near);
        out += " --near " + near.path.filename().string();
        if (!near.layer.empty()) out += " --near-layer " + near.layer;
        if (!asked.nearKeep.empty()) out += " --near-keep " + quoted(asked.nearKeep);
        out += asked.relation.empty() ? " --within-metres " + exactNumber(asked.withinMetres)
                                      : " --relation " + asked.relation;
    }
    m_command->setText(qtext(out));
}

void AskBench::offerValues(const std::string& field, std::function<void(const QStringList&)> use) {
    const auto* source = workspace().source();
    if (!source) return;
    m_values.start([this, from = *source, field, use = std::move(use),
                    sources = workspace().session().sources()](const std::stop_token& stop) {
        const auto table = sources->table(from, {stop, {}});
        if (!table) return;
        const int at = (*table)->fieldIndex(field);
        if (at < 0) return;
        QStringList out;
        for (const DistinctValue& one : distinctValues(**table, at, kMostOffered, {stop, {}}))
            out << qtext(one.text) + "\t" + counted(static_cast<std::size_t>(one.count));
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [use, out] { use(out); });
    });
}

void AskBench::pick(Workspace::Joining joining) {
    const auto* layer = workspace().document().layer(m_layer);
    if (!layer || !m_isAnswered) return;
    workspace().pick(layer->source, m_answer, joining);
    workspace().say(tr("%1 picked").arg(counted(workspace().picked(layer->source).size())));
}

// A filter says what holds for a feature itself; what is near to what is no part of it.
void AskBench::filter() {
    const doc::SavedQuestion asked = question();
    if (asked.near != 0)
        return workspace().say(tr("A filter knows only the layer's own fields: pick the answer, or "
                                  "write it as a new layer"),
                               true);
    workspace().perform("layer-filter",
                        {{"layer", Workspace::target(m_layer)}, {"keep", asked.keep}});
}

// What is asked, as the lineage of a layer made from it; says why there can be none.
std::optional<doc::Lineage> AskBench::lineage() const {
    const doc::SavedQuestion asked = question();
    const auto& document = workspace().document();
    doc::Lineage out{"keep", {}, {}};
    for (const doc::Id id : {asked.layer, asked.near}) {
        const auto* layer = document.layer(id);
        const auto* source = layer ? document.source(layer->source) : nullptr;
        if (!source) continue;
        if (!source->isFile() || !source->edits->isEmpty()) {
            workspace().say(source->isFile()
                                ? tr("Save the edits of %1 first").arg(qtext(source->name))
                                : tr("Write %1 to a file first").arg(qtext(source->name)),
                            true);
            return {};
        }
        out.inputs.push_back(session::inputFrom(*source));
    }
    if (out.inputs.empty()) return {};
    if (!asked.keep.empty()) out.parameters["keep"] = asked.keep;
    if (asked.near != 0) {
        if (asked.relation.empty())
            out.parameters["within-metres"] = exactNumber(asked.withinMetres);
        else
            out.parameters["relation"] = asked.relation;
        if (!asked.nearKeep.empty()) out.parameters["near-keep"] = asked.nearKeep;
    }
    return out;
}

void AskBench::writeNew() {
    const auto made = lineage();
    const auto* layer = workspace().document().layer(m_layer);
    if (!made || !layer || !m_isAnswered) return;
    const auto& first = made->inputs.front().path;
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Write the answer"),
        qtext((first.parent_path() / (first.stem().string() + "_asked.gpkg")).string()),
        saveFilter(io::Writes::Tables, ".gpkg"), nullptr, QFileDialog::DontUseNativeDialog);
    if (!path.isEmpty()) Q_EMIT writeAsked(*made, path);
}

void AskBench::keep() {
    const doc::SavedQuestion asked = question();
    if (asked.name.empty()) {
        m_name->setFocus();
        return workspace().say(tr("Give the question a name first"), true);
    }
    doc::EditWords words{{"name", asked.name}, {"layer", Workspace::target(asked.layer)}};
    if (!asked.keep.empty()) words["keep"] = asked.keep;
    if (asked.near != 0) {
        words["near"] = Workspace::target(asked.near);
        if (!asked.nearKeep.empty()) words["near-keep"] = asked.nearKeep;
        if (asked.relation.empty())
            words["within-metres"] = exactNumber(asked.withinMetres);
        else
            words["relation"] = asked.relation;
    }
    if (workspace().perform("question-keep", words))
        workspace().say(tr("%1 is on the ledge").arg(qtext(asked.name)));
}

}  // namespace ledge::app
