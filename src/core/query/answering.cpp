#include <algorithm>
#include <atomic>
#include <cmath>

#include "core/base/parallel.h"
#include "core/query/node.h"
#include "core/query/question.h"

namespace ledge::query {
namespace {
// Rows that one thread takes at a time: whole batches, none of them in two runs of the table.
constexpr std::size_t kShare = 16 * kBatch;
static_assert(FeatureTable::kRun % kShare == 0);

/// Calls `each(begin, values)` batch by batch on all cores. Errors: Cancelled.
template <typename Each>
Result<void> forBatches(const Answering& answering, const FeatureTable& table,
                        const Progress& progress, const Each& each) {
    std::atomic<std::size_t> done{0};
    parallelRanges(table.size(), kShare, [&](std::size_t from, std::size_t to) {
        if (progress.stopped()) return;
        Values values;
        for (std::size_t begin = from; begin < to; begin += kBatch) {
            answering.values(begin, std::min(kBatch, to - begin), values);
            each(begin, values);
        }
        done += to - from;
        progress.at(static_cast<double>(done) / static_cast<double>(table.size()));
    });
    if (progress.stopped()) return cancelled("expression");
    return {};
}
}  // namespace

Answering::Answering(const Question& question, const FeatureTable& table)
    : m_question(&question), m_table(&table),
      m_ground(std::make_shared<const globe::GroundMeasure>(table.info.crs)),
      m_troubles(std::make_shared<Troubles>()) {}

Result<Answering> Answering::of(const Question& question, const FeatureTable& table,
                                const Progress& progress) {
    Answering out(question, table);
    const std::size_t count = question.m_aggregates.size();
    for (std::size_t i = 0; i < count; ++i) {
        // Rows without a value are told where the formula itself is worked out.
        Troubles untold;
        const auto batchOf = [&](std::size_t begin, std::size_t rows) {
            return Batch{table, begin, rows, *out.m_ground, untold, out.m_groups};
        };
        const double share = 1.0 / static_cast<double>(count);
        auto results = gathered(
            static_cast<const AggregateNode&>(*question.m_aggregates[i]), table, batchOf,
            progress.part(share * static_cast<double>(i), share * static_cast<double>(i + 1)));
        if (!results) return results.error();
        out.m_groups.push_back(*std::move(results));
    }
    return out;
}

void Answering::values(std::size_t begin, std::size_t count, Values& out,
                       std::vector<std::uint8_t> wanted) const {
    const Batch batch{*m_table, begin, count, *m_ground, *m_troubles, m_groups, std::move(wanted)};
    m_question->m_root->values(batch, out);
}

Result<Rows> rowsWhere(const Question& condition, const FeatureTable& table,
                       const Progress& progress) {
    const double before = condition.hasGroups() ? 0.5 : 0;
    const auto answering = Answering::of(condition, table, progress.part(0, before));
    if (!answering) return answering.error();
    std::vector<std::vector<std::size_t>> found(table.size() / kShare + 1);
    const auto done = forBatches(
        *answering, table, progress.part(before, 1), [&](std::size_t begin, const Values& values) {
            auto& rows = found[begin / kShare];
            for (std::size_t i = 0; i < values.size(); ++i)
                if (values.valid[i] != 0 && !values.wholes.empty() && values.wholes[i] != 0)
                    rows.push_back(begin + i);
        });
    if (!done) return done.error();
    Rows out;
    for (const auto& rows : found) out.rows.insert(out.rows.end(), rows.begin(), rows.end());
    out.trouble = answering->troubles().text();
    return out;
}

Result<FieldType> fieldTypeFor(const Question& formula) {
    switch (formula.kind()) {
    case Kind::Boolean: return FieldType::Boolean;
    case Kind::Integer: return FieldType::Integer;
    case Kind::Real:
    case Kind::Nothing: return FieldType::Real;
    case Kind::Text: return FieldType::Text;
    case Kind::Date: return FieldType::Date;
    case Kind::TimeStamp: return FieldType::TimeStamp;
    case Kind::Interval:
    case Kind::Shape:
    case Kind::Array: break;
    }
    return Error{ErrorCode::InvalidArgument, "expression",
                 "gives " + kindText(formula.kind()) + ", which no column holds",
                 formula.kind() == Kind::Shape ? "wkt(\u2026) writes a shape as a text"
                                               : "let it give a number, a text or a date"};
}

Result<ComputedColumn> computed(const Question& formula, const FeatureTable& table,
                                const Progress& progress) {
    const auto type = fieldTypeFor(formula);
    if (!type) return type.error();
    const double before = formula.hasGroups() ? 0.5 : 0;
    const auto answering = Answering::of(formula, table, progress.part(0, before));
    if (!answering) return answering.error();
    ComputedColumn out{*type, {}, 0, {}};
    // Values are worked out on all cores and put into their columns run by run.
    std::atomic<std::int64_t> filled{0};
    std::vector<Value> values;
    for (std::size_t begin = 0; begin < table.size(); begin += FeatureTable::kRun) {
        const std::size_t count = std::min(FeatureTable::kRun, table.size() - begin);
        values.assign(count, {});
        parallelRanges(count, kShare, [&](std::size_t from, std::size_t to) {
            Values batch;
            for (std::size_t at = from; at < to && !progress.stopped(); at += kBatch) {
                answering->values(begin + at, std::min(kBatch, to - at), batch);
                for (std::size_t i = 0; i < batch.size(); ++i) {
                    values[at + i] = batch.value(i);
                    if (batch.valid[i] != 0) ++filled;
                }
            }
        });
        if (progress.stopped()) return cancelled("expression");
        Column column(*type);
        for (const Value& value : values) column.append(value);
        column.close();
        out.runs.push_back(std::make_shared<const Column>(std::move(column)));
        progress.part(before, 1).at(static_cast<double>(begin + count) /
                                    static_cast<double>(table.size()));
    }
    out.filled = filled;
    out.trouble = answering->troubles().text();
    return out;
}

Result<std::vector<Value>> valuesAt(const Question& formula, const FeatureTable& table,
                                    std::span<const std::size_t> rows, const Progress& progress) {
    if (const auto type = fieldTypeFor(formula); !type) return type.error();
    const auto answering = Answering::of(formula, table, progress);
    if (!answering) return answering.error();
    std::vector<Value> out;
    Values values;
    for (const std::size_t row : rows) {
        answering->values(row, 1, values);
        out.push_back(values.value(0));
    }
    return out;
}

}  // namespace ledge::query
