#pragma once
#include "core/query/question.h"

namespace ledge::query {

/// The values of a field, or of a formula, for single rows of a table: formulas are worked out a
/// batch at a time where rows are asked for. The table must outlive it. For one thread.
class RowValues {
public:
    /// `said` is the name of a field, exactly, else a formula. Errors: those of the formula;
    /// Cancelled.
    static Result<RowValues> of(const std::string& said, const FeatureTable& table,
                                const Progress& progress = {});

    Value value(std::size_t row);
    double number(std::size_t row);  ///< NaN where there is none
    bool isTrue(std::size_t row);    ///< of a condition: known to be true
    /// Rows that had no value though nothing in them is missing, so far, in words.
    std::string trouble() const;

private:
    explicit RowValues(const FeatureTable& table) : m_table(&table) {}
    std::size_t inBatch(std::size_t row);

    const FeatureTable* m_table;
    int m_field = -1;
    std::shared_ptr<const Question> m_question;
    std::optional<Answering> m_answering;
    std::size_t m_begin = SIZE_MAX;
    Values m_batch;
};

}  // namespace ledge::query
