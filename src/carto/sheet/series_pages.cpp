#include "carto/sheet/series_pages.h"

#include <QObject>
#include <QRegularExpression>
#include <algorithm>
#include <cmath>
#include <functional>

#include "carto/qtext.h"
#include "carto/sheet/panel_frame.h"
#include "core/geometry/relate.h"
#include "core/query/named_formula.h"
#include "core/query/row_values.h"
#include "document/edits/sheet_edits.h"
#include "document/look_finder.h"
#include "document/map_crs.h"
#include "document/panels.h"

namespace ledge::carto {
namespace {

Error nothingIn(const std::string& what, const std::string& mend) {
    return {ErrorCode::InvalidArgument, "series", what, mend};
}

void changePanel(doc::Sheet& sheet, doc::Id id, const std::function<void(doc::MapPanel&)>& change) {
    const doc::SheetItem* found = sheet.panel(id);
    if (!found) return;
    for (auto& item : sheet.items)
        if (item->id == found->id) {
            item.change([&](doc::SheetItem& next) { change(*next.as<doc::MapPanel>()); });
            return;
        }
}

// As the Ask language writes a value; nothing for what it has no word for.
std::optional<std::string> literalOf(const Value& value) {
    if (const auto* word = std::get_if<std::string>(&value)) return query::literalText(*word);
    if (const auto* flag = std::get_if<bool>(&value)) return *flag ? "TRUE" : "FALSE";
    if (std::holds_alternative<Date>(value)) return "DATE('" + exactText(value) + "')";
    if (std::holds_alternative<TimeStamp>(value)) return "TIMESTAMP('" + exactText(value) + "')";
    if (std::isfinite(numberOf(value))) return exactText(value);
    return {};
}

// A condition that holds for a row and those that are like it in every field.
std::string onlyLike(const FeatureTable& table, std::size_t row) {
    std::string out;
    for (std::size_t k = 0; k < table.info.fields.size(); ++k) {
        const std::string name = query::nameText(table.info.fields[k].name);
        const Value value = table.value(row, k);
        const auto literal = literalOf(value);
        if (!literal && !isMissing(value)) continue;
        out += (out.empty() ? "" : " AND ") + name + (literal ? " = " + *literal : " IS NULL");
    }
    return out;
}

// The formulas of a condition that are worked out for a page's feature: "{feature: name}".
const QRegularExpression& pageValues() {
    static const QRegularExpression out(QStringLiteral("\\{\\s*feature\\s*:\\s*([^{}]*)\\}"));
    return out;
}

// The condition for one page; nothing fulfils it where the page's feature lacks a value it names.
Result<std::string> filledIn(const std::string& condition, const FeatureTable& table,
                             std::size_t row) {
    const QString said = qtext(condition);
    QString out;
    qsizetype done = 0;
    for (auto found = pageValues().globalMatch(said); found.hasNext();) {
        const auto one = found.next();
        auto values = query::RowValues::of(one.captured(1).trimmed().toStdString(), table);
        if (!values) return values.error();
        const auto literal = literalOf(values->value(row));
        if (!literal) return std::string("FALSE");
        out += said.mid(done, one.capturedStart() - done) + qtext(*literal);
        done = one.capturedEnd();
    }
    return (out + said.mid(done)).toStdString();
}

void withLayer(doc::Document& document, doc::Id id,
               const std::function<void(doc::Layer&)>& change) {
    std::function<void(std::vector<doc::LayerPtr>&)> within =
        [&](std::vector<doc::LayerPtr>& list) {
            for (doc::LayerPtr& slot : list) {
                if (slot->id != id && !slot->isGroup()) continue;
                auto copy = std::make_shared<doc::Layer>(*slot);
                if (slot->id == id) change(*copy);
                if (auto* group = copy->as<doc::Group>()) within(group->children);
                slot = std::move(copy);
            }
        };
    within(document.layers);
}
}  // namespace

Result<SeriesPages> SeriesPages::of(const doc::Document& document, const doc::Sheet& sheet,
                                    const doc::DrawingData& data, const Progress& progress) {
    SeriesPages out(document, sheet, data);
    const doc::Series& series = sheet.series;
    switch (series.over) {
    case doc::SeriesOver::Nothing: out.m_names.push_back(qtext(sheet.name)); break;
    case doc::SeriesOver::Features:
        if (const auto read = out.readFeatures(data, progress); !read) return read.error();
        break;
    case doc::SeriesOver::Fields:
        for (const std::string& field : series.fields)
            out.m_names.push_back(qtext(query::NamedFormula::of(field).name));
        break;
    case doc::SeriesOver::Layers:
        for (const doc::Id id : series.things) {
            const doc::Layer* layer = document.layer(id);
            out.m_names.push_back(layer ? qtext(layer->name) : QObject::tr("a layer that is gone"));
        }
        break;
    case doc::SeriesOver::Views:
        for (const doc::Id id : series.things) {
            const doc::SavedView* view = document.view(id);
            out.m_names.push_back(view ? qtext(view->name) : QObject::tr("a view that is gone"));
        }
        break;
    }
    if (out.m_names.empty())
        return nothingIn("is over nothing", "choose what \"" + sheet.name + "\" is repeated over");
    return out;
}

Result<void> SeriesPages::readFeatures(const doc::DrawingData& data, const Progress& progress) {
    const doc::Series& series = m_sheet->series;
    const doc::Layer* layer = m_document->layer(series.layer);
    const auto* vector = layer ? layer->as<doc::VectorLayer>() : nullptr;
    const doc::SourceRef* source = layer ? m_document->source(layer->source) : nullptr;
    if (!vector || !source) return nothingIn("has no layer with features", "choose its layer");
    const doc::SheetItem* panel = m_sheet->panel(series.panel);
    if (!panel) return nothingIn("has no map panel", "add a map panel to the sheet");
    const auto crs =
        doc::crsIn(*m_document, doc::resolved(*m_document, *panel->as<doc::MapPanel>()).crs);
    auto features = data.features(doc::readBy(*layer, *source), crs);
    if (!features) return features.error();
    m_features = *features;
    const FeatureTable& table = *m_features->table;
    std::optional<query::RowValues> keeps, sorts, names;
    const auto read = [&](const std::string& said,
                          std::optional<query::RowValues>& into) -> Result<void> {
        if (said.empty()) return {};
        auto values = query::RowValues::of(said, table, progress);
        if (!values) return values.error();
        into = *std::move(values);
        return {};
    };
    if (const auto done = read(series.keep, keeps); !done) return done;
    if (const auto done = read(series.sortBy, sorts); !done) return done;
    if (const auto done = read(series.naming.empty() ? vector->naming() : series.naming, names);
        !done)
        return done;
    for (std::size_t row = 0; row < table.size(); ++row)
        if ((!keeps || keeps->isTrue(row)) && !table.box(row).isEmpty()) m_rows.push_back(row);
    if (m_rows.empty()) return nothingIn("keeps no feature", "change what it keeps");
    if (sorts) {
        std::vector<std::tuple<double, std::string, std::size_t>> order;
        for (const std::size_t row : m_rows) {
            const Value v = sorts->value(row);
            const double number = numberOf(v);
            order.emplace_back(std::isfinite(number) ? number
                                                     : std::numeric_limits<double>::infinity(),
                               isMissing(v) ? "\x7f" : exactText(v), row);
        }
        std::sort(order.begin(), order.end());
        for (std::size_t i = 0; i < order.size(); ++i) m_rows[i] = std::get<2>(order[i]);
    }
    if (const auto done = checkFilters(data); !done) return done;
    for (const std::size_t row : m_rows) {
        QString name = names ? qtext(displayText(names->value(row))) : QString();
        if (name.isEmpty()) name = QObject::tr("%1 %2").arg(qtext(layer->name)).arg(row + 1);
        m_names.push_back(name);
    }
    return {};
}

// Of the first page; the others differ by values alone.
Result<void> SeriesPages::checkFilters(const doc::DrawingData& data) const {
    for (const auto& [id, condition] : m_sheet->series.filters) {
        const doc::Layer* layer = m_document->layer(id);
        const doc::SourceRef* source = layer ? m_document->source(layer->source) : nullptr;
        if (!source || !layer->as<doc::VectorLayer>() || condition.empty()) continue;
        const std::string where = "series: filter of " + layer->name;
        const auto filled = filledIn(condition, *m_features->table, m_rows.front());
        if (!filled)
            return Error{ErrorCode::InvalidArgument, where, filled.error().why,
                         filled.error().mend};
        const auto features = data.features(doc::readBy(*layer, *source), doc::mapCrs(*m_document));
        if (!features) continue;  // told where it is drawn
        const auto bound = query::Question::condition(*filled, (*features)->table->info);
        if (!bound)
            return Error{ErrorCode::InvalidArgument, where, bound.error().why, bound.error().mend};
    }
    return {};
}

QString SeriesPages::fileName(std::size_t page) const {
    static const QRegularExpression odd(QStringLiteral("[^\\w.-]+"),
                                        QRegularExpression::UseUnicodePropertiesOption);
    const QString digits = QString::number(m_names.size());
    QString name = m_names[page].toLower().replace(odd, "_").left(80);
    return QString("%1_%2")
        .arg(page + 1, static_cast<int>(digits.size()), 10, QChar('0'))
        .arg(name);
}

// The panel looks at the feature: at the series' scale, else at a round one that leaves the margin.
void SeriesPages::lookAt(SheetPage& page, std::size_t row) const {
    const doc::Series& series = page.sheet.series;
    const doc::SheetItem* item = page.sheet.panel(series.panel);
    const doc::PageRect rect = item->rect;
    const Box box = m_features->table->box(row);
    changePanel(page.sheet, series.panel, [&](doc::MapPanel& panel) {
        panel = doc::resolved(page.document, panel);
        panel.follows = 0;
        panel.centre = box.centre();
        const auto crs = doc::crsIn(page.document, panel.crs);
        if (series.scale > 0) return doc::setGroundScale(panel, crs, series.scale);
        const double metres = crs ? crs->metresPerUnit() : 1;
        const double share = 1 - std::min(0.9, 2 * series.marginPercent / 100);
        const double turn = panel.rotation * 3.14159265358979323846 / 180;
        const double c = std::abs(std::cos(turn)), s = std::abs(std::sin(turn));
        const double width = box.width() * c + box.height() * s;
        const double height = box.width() * s + box.height() * c;
        const double scale =
            1000 * metres * std::max(width / (rect.width * share), height / (rect.height * share));
        if (!(scale > 0)) return;  // a point has no size: the scale stays
        panel.scale = scale;
        doc::setGroundScale(panel, crs, doc::roundScale(doc::groundScale(panel, crs)));
    });
}

void SeriesPages::colourBy(doc::Layer& layer, const std::string& field) const {
    auto* vector = layer.as<doc::VectorLayer>();
    const doc::SourceRef* source = m_document->source(layer.source);
    if (!vector || !source) return;
    doc::VectorStyle& style = vector->style;
    const auto [name, formula] = query::NamedFormula::of(field);
    if (name != formula) style.per.clear();
    style.field = formula;
    if (style.classing != doc::Classing::Classes || style.classes.method == classify::Method::Own)
        return;
    const auto features = m_data->features(doc::readBy(layer, *source), doc::mapCrs(*m_document));
    if (!features) return;
    doc::LookFinder looks(style, *(*features)->table);
    std::vector<double> numbers;
    for (std::size_t row = 0; row < (*features)->table->size(); ++row)
        numbers.push_back(looks.number(row));
    const classify::Sample sample(std::move(numbers));
    if (sample.isEmpty()) return;
    auto breaks = classify::breaksOf(sample, style.classes.method,
                                     static_cast<int>(style.classes.classes.size()));
    // Fewer values than classes: the colours of those that are left out go with them.
    if (!breaks) return;
    style.classes.breaks = *std::move(breaks);
    style.classes.low = sample.low(), style.classes.high = sample.high();
    style.classes.classes.resize(style.classes.breaks.size() + 1);
    for (doc::NumberClass& one : style.classes.classes) one.label.clear();
}

SheetPage SeriesPages::page(std::size_t i) const {
    SheetPage out{*m_document, *m_sheet, {}};
    const doc::Series& series = m_sheet->series;
    out.live.number = static_cast<int>(i) + 1, out.live.count = static_cast<int>(size());
    out.live.name = m_names[i];
    switch (series.over) {
    case doc::SeriesOver::Nothing: break;
    case doc::SeriesOver::Features: {
        const std::size_t row = m_rows[i];
        out.live.table = m_features->table, out.live.row = row;
        lookAt(out, row);
        const PreparedShape own(m_features->table->geometry(row));
        std::optional<query::RowValues> names;
        const doc::Layer* layer = m_document->layer(series.layer);
        const auto& said =
            series.naming.empty() ? layer->as<doc::VectorLayer>()->naming() : series.naming;
        if (!said.empty())
            if (auto read = query::RowValues::of(said, *m_features->table))
                names = *std::move(read);
        for (const std::size_t other : m_features->index.meeting(m_features->table->box(row)))
            if (names && other != row &&
                meets(own, PreparedShape(m_features->table->geometry(other))))
                out.live.neighbours << qtext(displayText(names->value(other)));
        std::map<doc::Id, std::string> only = series.filters;
        for (auto& [id, condition] : only)
            if (auto filled = filledIn(condition, *m_features->table, row))
                condition = *std::move(filled);
        if (series.isAlone) {
            std::string& its = only[series.layer];
            const std::string alike = onlyLike(*m_features->table, row);
            its = its.empty() ? alike : "(" + its + ") AND " + alike;
        }
        for (const auto& [id, condition] : only)
            withLayer(out.document, id, [&](doc::Layer& l) {
                auto* vector = l.as<doc::VectorLayer>();
                if (!vector || condition.empty()) return;
                std::string& filter = vector->filter;
                filter = filter.empty() ? condition : "(" + filter + ") AND (" + condition + ")";
            });
        break;
    }
    case doc::SeriesOver::Fields:
        withLayer(out.document, series.layer,
                  [&](doc::Layer& l) { colourBy(l, series.fields[i]); });
        break;
    case doc::SeriesOver::Layers:
        changePanel(out.sheet, series.panel, [&](doc::MapPanel& panel) {
            auto lit = panel.lit.value_or(doc::litLayers(m_document->layers));
            std::erase_if(lit, [&](doc::Id id) {
                return id != series.things[i] &&
                       std::find(series.things.begin(), series.things.end(), id) !=
                           series.things.end();
            });
            if (std::find(lit.begin(), lit.end(), series.things[i]) == lit.end()) {
                // It takes its place in the map's order.
                lit.push_back(series.things[i]);
                std::vector<doc::Id> ordered;
                for (const auto& layer : doc::allLayers(m_document->layers))
                    if (std::find(lit.begin(), lit.end(), layer->id) != lit.end())
                        ordered.push_back(layer->id);
                lit = ordered;
            }
            panel.lit = lit;
        });
        break;
    case doc::SeriesOver::Views:
        if (const doc::SavedView* view = m_document->view(series.things[i]))
            changePanel(out.sheet, series.panel, [&](doc::MapPanel& panel) {
                panel.lit = doc::litLayers(m_document->layers, view->dark);
            });
        break;
    }
    return out;
}

}  // namespace ledge::carto
