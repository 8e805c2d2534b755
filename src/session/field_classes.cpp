#include "session/field_classes.h"

#include "core/feature/feature_table.h"
#include "core/feature/summary.h"

namespace ledge::session {
namespace {

std::vector<doc::Category> categories(const std::vector<DistinctValue>& values,
                                      const doc::Look& base, GeometryType geometry) {
    std::vector<doc::Category> out;
    for (const DistinctValue& value : values) {
        doc::Look look = base;
        const Colour colour = categoryColour(out.size());
        (geometry == GeometryType::Line ? look.stroke : look.fill) = colour;
        if (geometry == GeometryType::Polygon) look.stroke = withLightness(colour, 0.5);
        out.push_back({value.text, value.text, look});
    }
    return out;
}

}  // namespace

Result<FieldClasses> fieldClasses(const FeatureTable& table, doc::VectorStyle style,
                                  doc::Classing classing, const std::string& field,
                                  const Progress& progress) {
    FieldClasses out{std::move(style)};
    const bool isKept = out.style.field == field && out.style.classing == classing;
    out.style.classing = classing;
    if (classing == doc::Classing::Single || isKept) return out;
    const int index = table.fieldIndex(field);
    if (index < 0)
        return Error{ErrorCode::NotFound, table.info.name, "has no field \"" + field + "\"",
                     "choose one of its fields"};
    if (classing == doc::Classing::Ramp) {
        const NumberSummary numbers = summarise(table, index, progress);
        if (progress.stopped()) return cancelled(field);
        if (numbers.count == 0)
            return Error{ErrorCode::InvalidArgument, field, "holds no numbers",
                         "choose a field of numbers, or categories"};
        const double high = numbers.max > numbers.min ? numbers.max : numbers.min + 1;
        out.style.ramp = rampOf("slate", numbers.min, high);
    } else {
        // One more than is used tells whether some are left.
        auto values = distinctValues(table, index, kMostCategories + 1, progress);
        if (progress.stopped()) return cancelled(field);
        out.isCut = values.size() > kMostCategories;
        if (out.isCut) values.pop_back();
        out.style.categories = categories(values, out.style.look, table.info.geometry);
    }
    out.style.field = field;
    return out;
}

}  // namespace ledge::session
