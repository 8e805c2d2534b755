#include "app/stack/strip_facts.h"

#include <QCoreApplication>

#include "carto/qtext.h"
#include "core/base/numbers.h"
#include "document/drawing_data.h"
#include "document/kinds.h"
#include "session/crs_checks.h"

namespace ledge::app {
namespace {
// What each kind says of itself in a line, from its source's facts where it has one.
struct Words {
    Q_DECLARE_TR_FUNCTIONS(StripFacts)
};

struct FactsLine {
    const doc::SourceRef* source;
    const session::SourceFacts* facts;

    QString of() const { return facts ? qtext(facts->kind) : QString(); }
    QString operator()(const doc::Group& group) const {
        return Words::tr("group of %1").arg(group.children.size());
    }
    QString operator()(const doc::GridLines& grid) const {
        return grid.style.isGraticule ? Words::tr("graticule · live") : Words::tr("grid · live");
    }
    QString operator()(const doc::UnknownLayer& unknown) const {
        return Words::tr("%1 · can't be shown here").arg(qtext(unknown.kind));
    }
    QString operator()(const doc::VectorLayer& vector) const {
        return vector.filter.empty() ? of()
                                     : Words::tr("%1 · only %2").arg(of(), qtext(vector.filter));
    }
    QString operator()(const doc::RasterLayer&) const { return of(); }
    QString operator()(const doc::Contours&) const {
        return Words::tr("live from %1").arg(source ? qtext(source->name) : QString());
    }
    QString operator()(const doc::Hillshade&) const { return Words::tr("hillshade · live"); }
    QString operator()(const doc::Steepness&) const { return Words::tr("slope · live"); }
    QString operator()(const doc::HeightTint& tint) const {
        // The ramp is in metres, whatever the file has.
        const double unit = source ? doc::metresPerHeight(*source) : 1;
        const auto height = [unit](double metres) {
            return qtext(formatNumber(metres / unit, {0, true}));
        };
        return (unit == 1 ? Words::tr("%1 to %2 m") : Words::tr("%1 to %2 ft"))
            .arg(height(tint.style.ramp.low()), height(tint.style.ramp.high()));
    }
};

QString joined(const std::vector<std::string>& sentences) {
    QStringList out;
    for (const std::string& one : sentences) out << qtext(one);
    return out.join('\n');
}
}  // namespace

StripFacts stripFacts(const Workspace& workspace, session::FactBook& book,
                      const doc::Layer& layer) {
    StripFacts out;
    if (!doc::kindInfo(layer).needsSource) {
        if (const auto* unknown = layer.as<doc::UnknownLayer>())
            out.tip =
                Words::tr("This version does not know layers of the kind \"%1\". It is kept in the "
                          "project as it is.")
                    .arg(qtext(unknown->kind));
        out.line = std::visit(FactsLine{}, layer.content);
        return out;
    }
    const auto* source = workspace.document().source(layer.source);
    if (!source) return {Words::tr("its source is gone"), {}, {}};
    const auto* facts = book.facts(*source);
    if (!facts) return {Words::tr("reading…"), {}, {}};
    if (!facts->problem.empty())
        return {Words::tr("cannot be read"), Words::tr("see why"), qtext(facts->problem)};
    // In a project of plain local coordinates nothing needs a CRS.
    if (facts->concern && (facts->definition || workspace.session().mapCrs()))
        return {qtext(facts->concern->badge),
                facts->definition ? Words::tr("see why") : Words::tr("declare"),
                qtext(facts->concern->text)};
    if (const auto& reasons =
            workspace.session().stale().reasons(workspace.session().snapshot(), *source);
        !reasons.empty())
        return {Words::tr("stale"), Words::tr("see why"), qtext(reasons.front())};
    if (const auto& troubles = workspace.troubles(layer.id); !troubles.empty())
        return {Words::tr("partly"), Words::tr("see why"), joined(troubles)};
    out.line = std::visit(FactsLine{source, facts}, layer.content);
    if (source->lineage && !layer.readsHeights())
        out.line =
            (source->isLive() ? Words::tr("live · %1") : Words::tr("derived · %1")).arg(out.line);
    if (facts->definition) out.tip = qtext(session::crsInWords(*facts->definition));
    if ((layer.as<doc::VectorLayer>() || layer.as<doc::RasterLayer>()) && !facts->crs.empty())
        out.line += " · " + qtext(facts->crs);
    return out;
}

}  // namespace ledge::app
