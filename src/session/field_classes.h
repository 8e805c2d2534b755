#pragma once
#include "core/base/progress.h"
#include "core/classify/breaks.h"
#include "core/feature/feature.h"
#include "core/feature/summary.h"
#include "document/style.h"

/// Classes of a layer of features, found in the values of a field or formula.
namespace ledge::session {

/// Most categories that a field is split into; the values after these get the look of the others.
inline constexpr std::size_t kMostCategories = 60;
/// Classes that numbers are put into unless somebody says otherwise.
inline constexpr int kUsualClasses = 5;

struct FieldClasses {
    doc::VectorStyle style;
    bool isCut = false;  ///< there are more values than categories
};

/// `style` drawn by a field, or by a formula, divided by `style.per` where that is given: a
/// category for each value, in order, its colours our series on the base look; a ramp from the
/// smallest to the greatest number; classes of numbers in natural breaks; marks sized up to the
/// greatest; or dots of a round value, about two thousand of them. A style that is drawn so by this
/// field already keeps what it has; one look keeps what the other kinds held. Every feature is
/// read: call it from a job. Errors: NotFound for no such field; InvalidArgument for a formula that
/// cannot be understood, and for no numbers where they are needed; Cancelled.
Result<FieldClasses> fieldClasses(const FeatureTable& table, doc::VectorStyle style,
                                  doc::Classing classing, const std::string& field,
                                  const Progress& progress = {});

/// The distinct values of a field, or of a formula as if it were one. Errors: those of the formula.
Result<std::vector<DistinctValue>> distinctOf(const FeatureTable& table, const std::string& field,
                                              std::size_t most, const Progress& progress = {});

/// The numbers that a style goes by, of every feature. Errors: those.
Result<classify::Sample> numbersOf(const FeatureTable& table, const std::string& field,
                                   const std::string& per, const Progress& progress = {});

/// Classes of numbers anew, coloured by the rule's family on the base look; names that were given
/// stay with their places. For the method Own the breaks are `rule.breaks`. Errors: those of
/// breaksOf.
Result<doc::ClassRule> classRule(const classify::Sample& sample, doc::ClassRule rule,
                                 classify::Method method, int classes, const doc::Look& base,
                                 GeometryType geometry, const Progress& progress = {});
/// The colours of classes anew, from light to dark or the other way.
void colourClasses(doc::ClassRule& rule, const doc::Look& base, GeometryType geometry);

}  // namespace ledge::session
