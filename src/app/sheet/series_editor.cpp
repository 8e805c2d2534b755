#include "app/sheet/series_editor.h"

#include <algorithm>

#include "app/benches/bench_page.h"
#include "app/widgets/rows.h"
#include "core/base/numbers.h"
#include "document/json/members.h"

namespace ledge::app {
namespace {
const char* const kOver[] = {"nothing", "features", "fields", "layers", "views"};

void choose(QComboBox* box, doc::Id id) {
    const QSignalBlocker quiet(box);
    box->setCurrentIndex(-1);
    for (int i = 0; i < box->count(); ++i)
        if (idAt(box, i) == id) box->setCurrentIndex(i);
}
}  // namespace

SeriesEditor::SeriesEditor(Workspace& workspace, session::FactBook& facts, QWidget* parent)
    : QWidget(parent), m_workspace(workspace), m_facts(facts) {
    auto* rows = new QVBoxLayout(this);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(6);
    m_over = makeChoice(tr("This sheet is repeated for"),
                        {tr("nothing: one page"), tr("each feature of a layer"),
                         tr("several fields of a layer"), tr("several layers"),
                         tr("several saved views")});
    m_over->setObjectName("seriesOver");
    m_layer = makeChoice(tr("Layer of the series"), {});
    m_layer->setObjectName("seriesLayer");
    m_panel = makeChoice(tr("Panel that changes"), {});
    m_index = makeChoice(tr("Panel that marks where the page is"), {});
    m_index->setObjectName("seriesIndex");
    m_sort = new FormulaChoice(tr("Order of the pages"),
                               tr("A field or formula by which pages follow each other"),
                               tr("as in the table"));
    m_naming = new FormulaChoice(tr("Name of a page"),
                                 tr("A field or formula that names the page: {page name}"),
                                 tr("as the layer's labels"));
    m_naming->setObjectName("seriesNaming");
    m_keep = new FormulaText(query::Wanted::Condition, tr("Only features for which this holds"),
                             tr("all"));
    m_keep->setObjectName("seriesKeep");
    m_margin = makeNumber(tr("Margin around the feature"), 0, 200, 0, " %", 5);
    m_scale = makeNumber(tr("Scale of all pages (0: a round one that fits)"), 0, 1e9, 0, {}, 5000);
    m_scale->setObjectName("seriesScale");
    m_scale->setPrefix("1 : ");
    m_scale->setSpecialValueText(tr("round, as fits"));
    m_alone = new QCheckBox(tr("Only the page's own feature of its layer"));
    m_filtered = makeChoice(tr("Other layer that is filtered"), {});
    m_filtered->setObjectName("seriesFiltered");
    m_filter = makeText(tr("Of that layer only features for which this holds"),
                        tr("all; such as parish = {feature: name}"));
    m_filter->setObjectName("seriesFilter");
    m_filter->setToolTip(tr("A condition on the other layer; {feature: …} is worked out for the "
                            "page's own feature"));
    m_page = makeNumber(tr("Page on the canvas"), 1, 100000, 0);
    m_page->setObjectName("seriesPage");
    auto* heading = makeLabel(tr("Series"), "heading");
    rows->addWidget(heading);
    rows->addWidget(m_over);
    m_layerPart = sideBySide({captioned(tr("Layer"), m_layer), captioned(tr("Panel"), m_panel)});
    rows->addWidget(m_layerPart);
    m_featurePart = new QWidget;
    auto* feature = new QVBoxLayout(m_featurePart);
    feature->setContentsMargins(0, 0, 0, 0);
    feature->setSpacing(6);
    feature->addWidget(captioned(tr("Only features for which"), m_keep));
    feature->addWidget(
        sideBySide({captioned(tr("Order"), m_sort), captioned(tr("Called"), m_naming)}));
    feature->addWidget(
        sideBySide({captioned(tr("Margin"), m_margin), captioned(tr("Scale"), m_scale)}));
    feature->addWidget(m_alone);
    feature->addWidget(captioned(tr("Another layer, filtered for each page"), m_filtered));
    feature->addWidget(captioned(tr("Of it only features for which"), m_filter));
    feature->addWidget(captioned(tr("Marked in the panel"), m_index));
    rows->addWidget(m_featurePart);
    m_thingPart = new QWidget;
    m_things = new QVBoxLayout(m_thingPart);
    m_things->setContentsMargins(0, 0, 0, 0);
    m_things->setSpacing(2);
    rows->addWidget(m_thingPart);
    m_pagePart = captioned(tr("Page shown"), m_page);
    rows->addWidget(m_pagePart);
    connect(m_over, &QComboBox::activated, this, [this](int i) { set("series.over", kOver[i]); });
    connect(m_layer, &QComboBox::activated, this,
            [this](int i) { set("series.layer", std::to_string(idAt(m_layer, i))); });
    connect(m_panel, &QComboBox::activated, this,
            [this](int i) { set("series.panel", std::to_string(idAt(m_panel, i))); });
    connect(m_index, &QComboBox::activated, this,
            [this](int i) { set("series.index_panel", std::to_string(idAt(m_index, i))); });
    connect(m_sort, &FormulaChoice::said, this,
            [this](const std::string& said) { set("series.sort_by", said); });
    connect(m_naming, &FormulaChoice::said, this,
            [this](const std::string& said) { set("series.naming", said); });
    connect(m_keep, &FormulaText::said, this,
            [this](const std::string& said) { set("series.keep", said); });
    connect(m_filtered, &QComboBox::activated, this, [this] {
        if (const doc::Sheet* shown = m_workspace.sheet()) showFilter(*shown);
    });
    connect(m_filter, &QLineEdit::editingFinished, this, [this] {
        const doc::Sheet* shown = m_workspace.sheet();
        const doc::Id id = idAt(m_filtered, m_filtered->currentIndex());
        if (!shown || id == 0) return;
        const std::string said = m_filter->text().trimmed().toStdString();
        const auto it = shown->series.filters.find(id);
        if (said == (it == shown->series.filters.end() ? std::string() : it->second)) return;
        m_workspace.performOnSheet("series-filter",
                                   {{"layer", Workspace::target(id)}, {"condition", said}});
    });
    connect(m_margin, &QDoubleSpinBox::valueChanged, this,
            [this](double v) { set("series.margin_percent", exactNumber(v), "series.margin"); });
    connect(m_scale, &QDoubleSpinBox::valueChanged, this,
            [this](double v) { set("series.scale", exactNumber(v), "series.scale"); });
    connect(m_alone, &QCheckBox::clicked, this,
            [this](bool on) { set("series.alone", doc::word(on)); });
    connect(m_page, &QDoubleSpinBox::valueChanged, this,
            [this](double v) { m_workspace.showPage(static_cast<int>(v)); });
}

void SeriesEditor::set(const char* member, const std::string& value, const QString& mergeKey) {
    m_workspace.performOnSheet("sheet-set", {{"member", member}, {"value", value}}, mergeKey);
}

const std::vector<Field>* SeriesEditor::fields(const doc::Sheet& sheet) {
    const doc::Layer* layer = m_workspace.document().layer(sheet.series.layer);
    const auto* source = layer ? m_workspace.document().source(layer->source) : nullptr;
    const auto* facts = source ? m_facts.facts(*source) : nullptr;
    return facts ? &facts->fields : nullptr;
}

void SeriesEditor::listThings(const doc::Sheet& sheet) {
    const doc::Series& series = sheet.series;
    m_all.clear();
    if (series.over == doc::SeriesOver::Fields)
        if (const auto* known = fields(sheet))
            for (const Field& field : *known)
                if (field.type == FieldType::Integer || field.type == FieldType::Real)
                    m_all.push_back({qtext(field.name), field.name});
    if (series.over == doc::SeriesOver::Layers)
        for (const auto& layer : doc::allLayers(m_workspace.document().layers))
            if (!layer->isGroup()) m_all.push_back({qtext(layer->name), std::to_string(layer->id)});
    if (series.over == doc::SeriesOver::Views)
        for (const auto& view : m_workspace.document().views)
            m_all.push_back({qtext(view.name), std::to_string(view.id)});
    const bool isFields = series.over == doc::SeriesOver::Fields;
    const auto isIn = [&](const std::string& word) {
        const auto has = [](const auto& all, const auto& one) {
            return std::find(all.begin(), all.end(), one) != all.end();
        };
        return isFields ? has(series.fields, word) : has(series.things, doc::Id{std::stoll(word)});
    };
    keepRows(m_thingRows, m_all.size(), m_things, [this](std::size_t at) {
        auto* box = new QCheckBox;
        connect(box, &QCheckBox::clicked, this, [this, at](bool on) { setThing(at, on); });
        return ThingRow{box};
    });
    for (std::size_t i = 0; i < m_all.size(); ++i) {
        QCheckBox* box = m_thingRows[i].widget;
        box->setText(m_all[i].shown);
        box->setObjectName("seriesThing." + m_all[i].shown);
        showCheck(box, isIn(m_all[i].word));
    }
}

void SeriesEditor::setThing(std::size_t at, bool isOn) {
    const doc::Sheet* sheet = m_workspace.sheet();
    if (!sheet || at >= m_all.size()) return;
    const std::string& word = m_all[at].word;
    if (sheet->series.over == doc::SeriesOver::Fields) {
        auto names = sheet->series.fields;
        std::erase(names, word);
        if (isOn) names.push_back(word);
        return set("series.fields", doc::styleText(names));
    }
    auto ids = sheet->series.things;
    const doc::Id id = std::stoll(word);
    std::erase(ids, id);
    if (isOn) ids.push_back(id);
    set("series.things", doc::styleText(ids));
}

// The layer looked at stays; at first it is one that has a condition.
void SeriesEditor::showFilter(const doc::Sheet& sheet) {
    const auto& filters = sheet.series.filters;
    doc::Id id = idAt(m_filtered, m_filtered->currentIndex());
    {
        const QSignalBlocker quiet(m_filtered);
        m_filtered->clear();
        for (const auto& layer : doc::allLayers(m_workspace.document().layers))
            if (layer->as<doc::VectorLayer>())
                m_filtered->addItem(qtext(layer->name) +
                                        (filters.contains(layer->id) ? QStringLiteral(" •") : ""),
                                    QVariant::fromValue(layer->id));
        if (!m_workspace.document().layer(id)) id = filters.empty() ? 0 : filters.begin()->first;
        if (id == 0 && m_filtered->count() > 0) id = idAt(m_filtered, 0);
        choose(m_filtered, id);
    }
    const auto it = filters.find(id);
    showText(m_filter, it == filters.end() ? QString() : qtext(it->second));
}

void SeriesEditor::show(const doc::Sheet& sheet) {
    const doc::Series& series = sheet.series;
    const bool isFeatures = series.over == doc::SeriesOver::Features;
    showChoice(m_over, static_cast<int>(series.over));
    m_layerPart->setVisible(series.over != doc::SeriesOver::Nothing);
    m_layer->parentWidget()->setVisible(isFeatures || series.over == doc::SeriesOver::Fields);
    m_featurePart->setVisible(isFeatures);
    m_thingPart->setVisible(series.over != doc::SeriesOver::Nothing && !isFeatures);
    m_pagePart->setVisible(series.over != doc::SeriesOver::Nothing);
    {
        const QSignalBlocker quiet[] = {QSignalBlocker(m_layer), QSignalBlocker(m_panel),
                                        QSignalBlocker(m_index)};
        m_layer->clear(), m_panel->clear(), m_index->clear();
        for (const auto& layer : doc::allLayers(m_workspace.document().layers))
            if (layer->as<doc::VectorLayer>())
                m_layer->addItem(qtext(layer->name), QVariant::fromValue(layer->id));
        m_index->addItem(tr("none"), QVariant::fromValue(doc::Id{0}));
        for (const doc::SheetItem& item : sheet.items) {
            if (!item.as<doc::MapPanel>()) continue;
            m_panel->addItem(qtext(item.name), QVariant::fromValue(item.id));
            m_index->addItem(qtext(item.name), QVariant::fromValue(item.id));
        }
    }
    const doc::SheetItem* panel = sheet.panel(series.panel);
    choose(m_layer, series.layer);
    choose(m_panel, panel ? panel->id : 0);
    choose(m_index, series.indexPanel);
    const auto* known = fields(sheet);
    m_keep->show(known ? *known : std::vector<Field>(), series.keep);
    m_sort->show(known ? *known : std::vector<Field>(), false, series.sortBy);
    m_naming->show(known ? *known : std::vector<Field>(), false, series.naming);
    showNumber(m_margin, series.marginPercent);
    showNumber(m_scale, series.scale);
    showCheck(m_alone, series.isAlone);
    showFilter(sheet);
    showNumber(m_page, m_workspace.shownPage());
    listThings(sheet);
}

}  // namespace ledge::app
