#pragma once
#include "core/query/question.h"

namespace ledge::query {

/// What the values of a formula come to.
struct Summary {
    std::string
        group;  ///< exact text of the group's value; empty for missing ones, and without groups
    std::int64_t count = 0, missing = 0, distinct = 0;
    /// Of numbers; NaN for other kinds and where there is none. The deviation is that of the whole
    /// (divided by the count).
    double sum = kNaN, mean = kNaN, median = kNaN, min = kNaN, max = kNaN, deviation = kNaN;
};

/// Over all rows or some, together or for each value of `by`: groups of numbers in their order,
/// others by their letters, the missing last. Errors: Cancelled; those of fieldTypeFor.
Result<std::vector<Summary>> summaries(const Question& of, const Question* by,
                                       const FeatureTable& table,
                                       const std::vector<std::size_t>* rows = nullptr,
                                       const Progress& progress = {});

}  // namespace ledge::query
