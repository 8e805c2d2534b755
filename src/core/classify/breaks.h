#pragma once
#include <cstdint>
#include <span>
#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/base/result.h"

/// Classes of numbers: where one ends and the next begins.
namespace ledge::classify {

/// How breaks are found.
enum class Method : std::uint8_t {
    Natural,    ///< least squared deviation from the classes' means, exactly
    Quantile,   ///< about as many values in each
    Equal,      ///< as wide as each other
    Round,      ///< at multiples of 1, 2, 2.5 or 5 times a power of ten
    Geometric,  ///< each so many times as wide as the one before; needs numbers of one sign
    Deviation,  ///< at whole standard deviations from half of one on either side of the mean
    Own,        ///< given by hand
};

/// Values sorted, equal ones once with their counts; made once for many tries.
class Sample {
public:
    /// NaN and infinite ones are left out and counted. Cost: a sort.
    explicit Sample(std::vector<double> values);

    bool isEmpty() const { return m_values.empty(); }
    std::int64_t count() const { return m_count; }
    std::int64_t missing() const { return m_missing; }
    double low() const { return m_values.front(); }
    double high() const { return m_values.back(); }
    double mean() const;
    double deviation() const;  ///< standard deviation of all
    /// Distinct values, ascending, and how many there are up to each.
    std::span<const double> values() const { return m_values; }
    std::int64_t upTo(std::size_t i) const { return m_counts[i]; }
    /// How many are below a number.
    std::int64_t below(double number) const;
    /// How many lie in each of so many parts of the range as wide as each other.
    std::vector<std::int64_t> histogram(std::size_t parts, double low, double high) const;

private:
    std::vector<double> m_values;
    std::vector<std::int64_t> m_counts;
    std::int64_t m_count = 0, m_missing = 0;
};

/// The first value of each class but the lowest: ascending, at most `classes` - 1 of them, fewer
/// where there are too few distinct values. Each is written as short as it can be without moving
/// a value to another class.
///
/// Natural breaks minimise the sum of squared deviations from the means of the classes (Fisher, "On
/// grouping for maximum homogeneity", 1958) over all values, not a sample of them: dynamic
/// programming whose best splits move one way only, so that each of the classes costs n log n for n
/// distinct values.
/// Errors: InvalidArgument for no values, and for Geometric over numbers of both signs or zero;
/// Cancelled.
Result<std::vector<double>> breaksOf(const Sample& sample, Method method, int classes,
                                     const Progress& progress = {});

/// The class of a number, from 0: how many breaks it reaches.
std::size_t classOf(double number, std::span<const double> breaks);
/// How many values each class has.
std::vector<std::int64_t> countsOf(const Sample& sample, std::span<const double> breaks);
/// How much of the variance the classes explain, 0 to 1: 1 - (variance within) / (variance).
double goodnessOf(const Sample& sample, std::span<const double> breaks);

/// The number with the fewest digits above `below` and not above `above`.
double shortestBetween(double below, double above);

}  // namespace ledge::classify
