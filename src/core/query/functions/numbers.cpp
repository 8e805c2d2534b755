#include <cmath>
#include <numbers>

#include "core/query/function_table.h"

namespace ledge::query {
namespace {
template <double (*f)(double)>
void one(Row& row) {
    row.set(f(row.number(0)));
}

// Half away from zero, to so many decimals; negative ones round tens and hundreds.
void rounded(Row& row) {
    const double scale = std::pow(10, row.number(1, 0));
    if (!(scale > 0) || !std::isfinite(scale)) return row.fail("so many decimals there are not");
    row.set(std::round(row.number(0) * scale) / scale);
}

template <bool isLeast>
void extreme(Row& row) {
    double out = row.number(0);
    for (std::size_t k = 1; k < row.count(); ++k)
        out = isLeast ? std::min(out, row.number(k)) : std::max(out, row.number(k));
    row.set(out);
}

Function plain(std::string_view name, std::string_view help, void (*apply)(Row&)) {
    return {name, Topic::Numbers, "number", help, {Takes::Number}, 1, Kind::Real, apply};
}
}  // namespace

std::vector<Function> numberFunctions() {
    return {
        plain("abs", "Without its sign", one<std::fabs>),
        {"round",
         Topic::Numbers,
         "number, decimals",
         "Rounded, to whole numbers or to decimals",
         {Takes::Number, Takes::Number},
         1,
         Kind::Real,
         rounded},
        plain("floor", "The next whole number below", one<std::floor>),
        plain("ceil", "The next whole number above", one<std::ceil>),
        plain("sqrt", "Square root", one<std::sqrt>),
        plain("exp", "e to this power", one<std::exp>),
        plain("ln", "Natural logarithm", one<std::log>),
        plain("log10", "Logarithm to the base 10", one<std::log10>),
        plain("sin", "Sine of an angle in radians", one<std::sin>),
        plain("cos", "Cosine of an angle in radians", one<std::cos>),
        plain("tan", "Tangent of an angle in radians", one<std::tan>),
        plain("asin", "Angle in radians with this sine", one<std::asin>),
        plain("acos", "Angle in radians with this cosine", one<std::acos>),
        plain("atan", "Angle in radians with this tangent", one<std::atan>),
        {"atan2",
         Topic::Numbers,
         "y, x",
         "Angle in radians of the direction x, y",
         {Takes::Number, Takes::Number},
         2,
         Kind::Real,
         [](Row& row) { row.set(std::atan2(row.number(0), row.number(1))); }},
        {"pi",
         Topic::Numbers,
         "",
         "3.14159\u2026",
         {},
         0,
         Kind::Real,
         [](Row& row) { row.set(std::numbers::pi); }},
        {"least",
         Topic::Numbers,
         "number, number, \u2026",
         "The smallest of several numbers",
         {Takes::Number, Takes::Number},
         2,
         Kind::Real,
         extreme<true>,
         true},
        {"greatest",
         Topic::Numbers,
         "number, number, \u2026",
         "The largest of several numbers",
         {Takes::Number, Takes::Number},
         2,
         Kind::Real,
         extreme<false>,
         true},
        {"normalised_difference",
         Topic::Numbers,
         "a, b",
         "(a - b) / (a + b)",
         {Takes::Number, Takes::Number},
         2,
         Kind::Real,
         [](Row& row) {
             row.set((row.number(0) - row.number(1)) / (row.number(0) + row.number(1)));
         }},
    };
}

}  // namespace ledge::query
