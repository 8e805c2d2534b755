#include "carto/live_formula.h"

#include <QObject>
#include <QRegularExpression>

#include "core/base/numbers.h"
#include "core/query/question.h"
#include "document/map_crs.h"

namespace ledge::carto {
namespace {
const doc::Layer* layerCalled(const doc::Document& document, const std::string& name) {
    for (const doc::LayerPtr& layer : doc::allLayers(document.layers))
        if (layer->name == name && layer->as<doc::VectorLayer>()) return layer.get();
    return nullptr;
}

QString said(const std::string& why) { return "[" + QString::fromStdString(why) + "]"; }

QString textOf(const Value& value) {
    if (isMissing(value)) return QStringLiteral("\u2013");
    if (std::holds_alternative<double>(value))
        return QString::fromStdString(formatNumber(std::get<double>(value)));
    return QString::fromStdString(displayText(value));
}

QString answer(const doc::Layer& layer, const std::string& formula, const doc::Document& document,
               const doc::DrawingData& data) {
    const auto* source = document.source(layer.source);
    if (!source) return said("no source");
    const auto features = data.features(doc::readBy(layer, *source), doc::mapCrs(document));
    if (!features) return said(features.error().why);
    const FeatureTable& table = *(*features)->table;
    const auto question = query::Question::from(formula, table.info);
    if (!question) return said(question.error().why);
    if (table.isEmpty()) return textOf({});
    // The first and the last row tell formulas of all rows from those of each.
    const std::size_t rows[] = {0, table.size() - 1};
    const auto values = query::valuesAt(*question, table, rows);
    if (!values) return said(values.error().why);
    if (!(values->front() == values->back()))
        return said(QObject::tr("differs from row to row; sum(\u2026), count() and their like are "
                                "of all rows")
                        .toStdString());
    return textOf(values->front());
}
}  // namespace

QString withFormulas(const QString& text, const doc::Document& document,
                     const doc::DrawingData& data) {
    static const QRegularExpression braces(QStringLiteral("\\{([^{}]+?):\\s*([^{}]+)\\}"));
    QString out;
    qsizetype from = 0;
    for (auto found = braces.globalMatch(text); found.hasNext();) {
        const auto one = found.next();
        const doc::Layer* layer = layerCalled(document, one.captured(1).toStdString());
        out += text.mid(from, one.capturedStart() - from);
        out += layer ? answer(*layer, one.captured(2).trimmed().toStdString(), document, data)
                     : one.captured(0);
        from = one.capturedEnd();
    }
    return out + text.mid(from);
}

}  // namespace ledge::carto
