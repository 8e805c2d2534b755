#include "core/query/row_values.h"

#include "core/query/node.h"

namespace ledge::query {

Result<RowValues> RowValues::of(const std::string& said, const FeatureTable& table,
                                const Progress& progress) {
    RowValues out(table);
    out.m_field = table.fieldIndex(said);
    if (out.m_field >= 0) return out;
    auto question = Question::from(said, table.info);
    if (!question) return question.error();
    if (const auto type = fieldTypeFor(*question); !type) return type.error();
    out.m_question = std::make_shared<const Question>(*std::move(question));
    auto answering = Answering::of(*out.m_question, table, progress);
    if (!answering) return answering.error();
    out.m_answering.emplace(*std::move(answering));
    return out;
}

std::size_t RowValues::inBatch(std::size_t row) {
    static_assert(FeatureTable::kRun % kBatch == 0);
    const std::size_t begin = row - row % kBatch;
    if (begin != m_begin) {
        m_answering->values(begin, std::min(kBatch, m_table->size() - begin), m_batch);
        m_begin = begin;
    }
    return row - begin;
}

Value RowValues::value(std::size_t row) {
    if (m_field >= 0) return m_table->value(row, static_cast<std::size_t>(m_field));
    return m_batch.value(inBatch(row));
}

double RowValues::number(std::size_t row) {
    if (m_field >= 0) return m_table->number(row, static_cast<std::size_t>(m_field));
    const std::size_t i = inBatch(row);
    if (m_batch.valid[i] == 0) return kNaN;
    if (isNumber(m_batch.kind)) return m_batch.number(i);
    return numberOf(m_batch.value(i));
}

bool RowValues::isTrue(std::size_t row) {
    const Value found = value(row);
    const auto* flag = std::get_if<bool>(&found);
    return flag && *flag;
}

std::string RowValues::trouble() const {
    return m_answering ? m_answering->troubles().text() : std::string();
}

}  // namespace ledge::query
