#pragma once
#include <memory>
#include <span>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace ledge {

/// Arithmetic over the bands of rasters, cell by cell.
///
/// Written as formulas are: numbers, names of bands, + - * / ^ (power, to the right), parentheses,
/// comparisons (< <= > >= = <>), and, or, not (truth is 1, untruth 0), and functions: abs, sqrt,
/// exp, ln, log10, sin, cos, tan, asin, acos, atan (radians), atan2(y, x), floor, ceil, round,
/// min(…), max(…), mean(…), if(condition, then, else), missing(x), first(…) (the first that is not
/// missing), normalised_difference(a, b) = (a - b) / (a + b), and the constants pi and nodata.
/// A band named band1 may be written b1.
/// No data: NaN in an operand gives NaN, save for if (only the branch taken), missing and first.
/// What has no value (division by 0, root of a negative) is NaN too.
class Expression {
public:
    /// `names` are the bands that may occur. Errors: InvalidArgument with the position.
    static Result<Expression> parse(const std::string& text, std::vector<std::string> names);

    /// Which of the names occur.
    const std::vector<bool>& used() const { return m_used; }
    /// Values of a row: `bands` in the order of the names, all as long as `out`; those of names
    /// that do not occur may be empty. Safe from several threads.
    void evaluate(std::span<const std::span<const double>> bands, std::span<double> out) const;

    struct Node;

private:
    std::shared_ptr<const Node> m_root;
    std::vector<bool> m_used;
};

}  // namespace ledge
