#include "document/edits/field_rename.h"

#include <set>

#include "core/query/field_rename.h"
#include "core/query/named_formula.h"

namespace ledge::doc {
namespace {
class Renaming {
public:
    Renaming(const Document& document, Id source, const std::string& from, const std::string& to)
        : m_source(source), m_from(from), m_to(to) {
        for (const LayerPtr& layer : allLayers(document.layers))
            if (layer->as<VectorLayer>() && layer->source == source) {
                m_layers.insert(layer->id);
                m_names.insert(layer->name);
            }
    }
    bool isPageOf(const Series& series) const { return m_layers.contains(series.layer); }

    void operator()(std::string& said) const { said = query::withFieldRenamed(said, m_from, m_to); }
    void operator()(VectorLayer& layer) const {
        VectorStyle& style = layer.style;
        for (std::string* said : {&style.field, &style.per, &style.turnBy, &layer.filter})
            (*this)(*said);
        for (DotField& one : style.dots.fields) (*this)(one.field);
        for (StyleRule& rule : style.rules) (*this)(rule.keep);
        for (LabelStyle& labels : layer.labels)
            for (std::string* said : {&labels.text, &labels.keep, &labels.rank}) (*this)(*said);
        for (ColumnLook& look : layer.columns)
            if (look.field == m_from) look.field = m_to;
    }
    // A panel may keep layers of its own.
    void operator()(std::vector<LayerPtr>& layers) const {
        for (LayerPtr& slot : layers) {
            auto next = std::make_shared<Layer>(*slot);
            if (auto* group = next->as<Group>()) (*this)(group->children);
            auto* vector = next->source == m_source ? next->as<VectorLayer>() : nullptr;
            if (vector) (*this)(*vector);
            if (!(*next == *slot)) slot = std::move(next);
        }
    }
    void operator()(SavedQuestion& question) const {
        if (m_layers.contains(question.layer)) (*this)(question.keep);
        if (m_layers.contains(question.near)) (*this)(question.nearKeep);
    }
    // A column of a sheet's table may have a head of its own: "Ewes, head: sheep".
    void column(std::string& said) const {
        const query::NamedFormula named = query::NamedFormula::of(said);
        std::string formula = named.formula;
        (*this)(formula);
        if (said == m_from || named.name == named.formula)
            (*this)(said);
        else if (formula != named.formula)
            said = named.name + ": " + formula;
    }
    void operator()(TableItem& table) const {
        if (!m_layers.contains(table.layer)) return;
        for (std::string& field : table.fields) column(field);
        for (std::string* said : {&table.keep, &table.sortBy}) (*this)(*said);
    }
    void operator()(ChartItem& chart) const {
        if (!m_layers.contains(chart.layer)) return;
        for (std::string* said : {&chart.field, &chart.names}) (*this)(*said);
    }
    // What stands in braces is of the layer named there, or of the page's feature.
    void braces(std::string& text, bool isOfPage) const {
        std::string out;
        std::size_t done = 0;
        for (std::size_t open = text.find('{'); open != std::string::npos;
             open = text.find('{', done)) {
            const std::size_t close = text.find('}', open), colon = text.find(':', open);
            if (close == std::string::npos) break;
            out += text.substr(done, open - done);
            std::string inside = text.substr(open, close - open);
            const std::size_t first =
                colon < close ? text.find_first_not_of(' ', colon + 1) : close;
            if (first < close) {
                const std::string name = text.substr(open + 1, colon - open - 1);
                std::string formula = text.substr(first, close - first);
                if (name == "feature" ? isOfPage : m_names.contains(name)) (*this)(formula);
                inside = text.substr(open, first - open) + formula;
            }
            out += inside;
            done = close;
        }
        text = out + text.substr(done);
    }
    void operator()(Series& series) const {
        const bool isOfPage = isPageOf(series);
        if (isOfPage) {
            for (std::string* said : {&series.keep, &series.sortBy, &series.naming}) (*this)(*said);
            for (std::string& field : series.fields) column(field);
        }
        for (auto& [layer, condition] : series.filters) {
            braces(condition, isOfPage);
            if (m_layers.contains(layer)) besideBraces(condition);
        }
    }

private:
    // A condition with values of the page in it is read with names in their place.
    void besideBraces(std::string& condition) const {
        std::vector<std::string> values;
        std::string plain;
        std::size_t done = 0;
        const auto standIn = [](std::size_t i) { return "page_value_" + std::to_string(i) + "_"; };
        for (std::size_t open = condition.find('{'); open != std::string::npos;
             open = condition.find('{', done)) {
            const std::size_t close = condition.find('}', open);
            if (close == std::string::npos) break;
            plain += condition.substr(done, open - done) + standIn(values.size());
            values.push_back(condition.substr(open, close + 1 - open));
            done = close + 1;
        }
        plain += condition.substr(done);
        (*this)(plain);
        for (std::size_t i = 0; i < values.size(); ++i)
            if (const std::size_t at = plain.find(standIn(i)); at != std::string::npos)
                plain.replace(at, standIn(i).size(), values[i]);
        condition = plain;
    }

    const Id m_source;
    const std::string &m_from, &m_to;
    std::set<Id> m_layers;
    std::set<std::string> m_names;
};
}  // namespace

Document withFieldRenamed(Document document, Id source, const std::string& from,
                          const std::string& to) {
    if (from.empty() || from == to) return document;
    const Renaming rename(document, source, from, to);
    rename(document.layers);
    for (SavedQuestion& question : document.questions) rename(question);
    for (Shared<Sheet>& sheet : document.sheets) {
        Sheet next = *sheet;
        rename(next.series);
        for (Shared<SheetItem>& slot : next.items) {
            SheetItem item = *slot;
            if (auto* table = item.as<TableItem>()) rename(*table);
            if (auto* chart = item.as<ChartItem>()) rename(*chart);
            if (auto* text = item.as<TextItem>())
                rename.braces(text->text, rename.isPageOf(next.series));
            if (auto* panel = item.as<MapPanel>(); panel && panel->frozen) rename(*panel->frozen);
            if (!(item == *slot)) slot = Shared<SheetItem>(std::move(item));
        }
        if (!(next == *sheet)) sheet = Shared<Sheet>(std::move(next));
    }
    return document;
}

}  // namespace ledge::doc
