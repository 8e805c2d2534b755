#include "session/field_classes.h"

#include "core/feature/feature_table.h"
#include "core/feature/summary.h"
#include "core/query/row_values.h"

namespace ledge::session {
namespace {
constexpr double kUsualDots = 2000;

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

Error noNumbers(const std::string& field) {
    return {ErrorCode::InvalidArgument, field, "holds no numbers",
            "choose a field of numbers, or categories"};
}

Result<void> byNumbers(FieldClasses& out, const FeatureTable& table, doc::Classing classing,
                       const std::string& field, const Progress& progress) {
    doc::VectorStyle& style = out.style;
    const auto sample = numbersOf(table, field, style.per, progress.part(0, 0.6));
    if (!sample) return sample.error();
    if (sample->isEmpty()) return noNumbers(field);
    const double low = sample->low(), high = sample->high();
    switch (classing) {
    case doc::Classing::Ramp:
        style.ramp = rampOf("slate", low, high > low ? high : low + 1);
        return {};
    case doc::Classing::Classes: {
        auto rule =
            classRule(*sample, std::move(style.classes), classify::Method::Natural, kUsualClasses,
                      style.look, table.info.geometry, progress.part(0.6, 1));
        if (!rule) return rule.error();
        style.classes = *std::move(rule);
        return {};
    }
    case doc::Classing::Sized:
        if (!(high > 0))
            return Error{ErrorCode::InvalidArgument, field, "holds no numbers above zero",
                         "sizes show amounts; choose classes instead"};
        style.sizes.high = classify::shortestBetween(high * 0.98, high * 1.02);
        if (table.info.geometry == GeometryType::Line)
            style.sizes.largestMm = 2.5, style.sizes.smallestMm = 0.1, style.sizes.isByArea = false;
        return {};
    case doc::Classing::Dots: {
        double sum = 0;
        for (std::size_t i = 0; i < sample->values().size(); ++i)
            sum += std::max(0.0, sample->values()[i]) *
                   static_cast<double>(sample->upTo(i) - (i == 0 ? 0 : sample->upTo(i - 1)));
        if (!(sum > 0))
            return Error{ErrorCode::InvalidArgument, field, "holds no numbers above zero",
                         "dots show counts; choose classes instead"};
        style.dots.each = roundDownTo125(std::max(1.0, sum / kUsualDots));
        style.dots.fields = {{field, {0x8A, 0x3B, 0x2E}}};
        return {};
    }
    case doc::Classing::Single:
    case doc::Classing::Categories:
    case doc::Classing::Rules: break;
    }
    return {};
}
}  // namespace

Result<std::vector<DistinctValue>> distinctOf(const FeatureTable& table, const std::string& field,
                                              std::size_t most, const Progress& progress) {
    const int index = table.fieldIndex(field);
    if (index >= 0) return distinctValues(table, index, most, progress);
    const auto formula = query::Question::from(field, table.info);
    if (!formula) return formula.error();
    auto computed = query::computed(*formula, table, progress.part(0, 0.5));
    if (!computed) return computed.error();
    const FeatureTable with =
        table.withColumn({"value", computed->type}, std::move(computed->runs));
    return distinctValues(with, static_cast<int>(with.info.fields.size()) - 1, most,
                          progress.part(0.5, 1));
}

Result<classify::Sample> numbersOf(const FeatureTable& table, const std::string& field,
                                   const std::string& per, const Progress& progress) {
    auto values = query::RowValues::of(field, table, progress);
    if (!values) return values.error();
    std::optional<query::RowValues> divisors;
    if (!per.empty()) {
        auto read = query::RowValues::of(per, table, progress);
        if (!read) return read.error();
        divisors = *std::move(read);
    }
    std::vector<double> numbers(table.size());
    for (std::size_t i = 0; i < numbers.size(); ++i) {
        if (i % 65536 == 0) {
            if (progress.stopped()) return cancelled(field);
            progress.at(static_cast<double>(i) / static_cast<double>(numbers.size()));
        }
        numbers[i] = values->number(i);
        if (!divisors) continue;
        const double by = divisors->number(i);
        numbers[i] = by != 0 ? numbers[i] / by : kNaN;
    }
    return classify::Sample(std::move(numbers));
}

void colourClasses(doc::ClassRule& rule, const doc::Look& base, GeometryType geometry) {
    // Neither white nor black at the ends.
    const Ramp ramp = rampOf(rule.family, 0, 1);
    const std::size_t count = rule.classes.size();
    for (std::size_t i = 0; i < count; ++i) {
        const double place =
            count < 2 ? 0.5 : static_cast<double>(i) / static_cast<double>(count - 1);
        const Colour colour = ramp.at(0.06 + 0.84 * (rule.isFlipped ? 1 - place : place));
        doc::Look& look = rule.classes[i].look;
        look = base;
        if (geometry == GeometryType::Line) {
            look.stroke = colour;
            continue;
        }
        look.fill = colour;
        look.hasFill = true;
        if (geometry != GeometryType::Polygon) continue;
        look.stroke = {0xFB, 0xFA, 0xF6};
        look.strokeMm = 0.1;
    }
}

Result<doc::ClassRule> classRule(const classify::Sample& sample, doc::ClassRule rule,
                                 classify::Method method, int classes, const doc::Look& base,
                                 GeometryType geometry, const Progress& progress) {
    if (sample.isEmpty()) return noNumbers("classes");
    if (method != classify::Method::Own) {
        auto breaks = classify::breaksOf(sample, method, classes, progress);
        if (!breaks) return breaks.error();
        rule.breaks = *std::move(breaks);
    }
    rule.method = method;
    rule.low = sample.low(), rule.high = sample.high();
    std::sort(rule.breaks.begin(), rule.breaks.end());
    rule.classes.resize(rule.breaks.size() + 1);
    colourClasses(rule, base, geometry);
    return rule;
}

Result<FieldClasses> fieldClasses(const FeatureTable& table, doc::VectorStyle style,
                                  doc::Classing classing, const std::string& field,
                                  const Progress& progress) {
    FieldClasses out{std::move(style)};
    const bool isKept = out.style.field == field && out.style.classing == classing;
    out.style.classing = classing;
    if (classing == doc::Classing::Single || classing == doc::Classing::Rules || isKept) return out;
    if (table.fieldIndex(field) < 0)
        if (const auto formula = query::Question::from(field, table.info); !formula)
            return Error{ErrorCode::NotFound, table.info.name,
                         "\"" + field + "\" is no field and no formula: " + formula.error().why,
                         "choose one of its fields"};
    if (classing == doc::Classing::Categories) {
        // One more than is used tells whether some are left.
        auto values = distinctOf(table, field, kMostCategories + 1, progress);
        if (!values) return values.error();
        if (progress.stopped()) return cancelled(field);
        out.isCut = values->size() > kMostCategories;
        if (out.isCut) values->pop_back();
        out.style.categories = categories(*values, out.style.look, table.info.geometry);
    } else if (const auto done = byNumbers(out, table, classing, field, progress); !done) {
        return done.error();
    }
    out.style.field = field;
    return out;
}

}  // namespace ledge::session
