#include "core/query/summaries.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <unordered_map>
#include <unordered_set>

namespace ledge::query {
namespace {
// Rows that are worked out together.
constexpr std::size_t kTogether = 1024;

struct Gathered {
    Value group;
    std::int64_t count = 0, missing = 0;
    std::vector<double> numbers;
    std::unordered_set<std::string> texts;
};

double sumOf(const std::vector<double>& values) {
    // Whatever the order of the rows (Neumaier 1974).
    double total = 0, lost = 0;
    for (const double v : values) {
        const double next = total + v;
        lost += std::abs(total) >= std::abs(v) ? (total - next) + v : (v - next) + total;
        total = next;
    }
    return total + lost;
}

Summary summaryOf(Gathered& g) {
    Summary out;
    out.group = exactText(g.group);
    out.count = g.count;
    out.missing = g.missing;
    out.distinct = static_cast<std::int64_t>(g.texts.size());
    auto& n = g.numbers;
    if (n.empty()) return out;
    std::sort(n.begin(), n.end());
    out.distinct = 1;
    for (std::size_t i = 1; i < n.size(); ++i) out.distinct += n[i] != n[i - 1] ? 1 : 0;
    const auto count = static_cast<double>(n.size());
    out.sum = sumOf(n);
    out.mean = out.sum / count;
    out.median = (n[(n.size() - 1) / 2] + n[n.size() / 2]) / 2;
    out.min = n.front();
    out.max = n.back();
    for (double& v : n) v = (v - out.mean) * (v - out.mean);
    out.deviation = std::sqrt(sumOf(n) / count);
    return out;
}

bool comesBefore(const Gathered* a, const Gathered* b) {
    if (isMissing(a->group) != isMissing(b->group)) return isMissing(b->group);
    const double x = numberOf(a->group), y = numberOf(b->group);
    if (!std::isnan(x) && !std::isnan(y)) return x < y;
    return exactText(a->group) < exactText(b->group);
}
}  // namespace

Result<std::vector<Summary>> summaries(const Question& of, const Question* by,
                                       const FeatureTable& table,
                                       const std::vector<std::size_t>* rows,
                                       const Progress& progress) {
    for (const Question* one : {&of, by})
        if (one)
            if (const auto type = fieldTypeFor(*one); !type) return type.error();
    const auto answering = Answering::of(of, table, progress.part(0, 0.2));
    if (!answering) return answering.error();
    const auto grouping = by ? Answering::of(*by, table, progress.part(0.2, 0.3)) : answering;
    if (!grouping) return grouping.error();
    std::unordered_map<std::string, Gathered> groups;
    if (!by) groups[""];
    Values values, group;
    std::size_t next = 0;  // of the rows asked for
    for (std::size_t begin = 0; begin < table.size(); begin += kTogether) {
        if (progress.stopped()) return cancelled("summary");
        progress.at(0.3 + 0.7 * static_cast<double>(begin) / static_cast<double>(table.size()));
        const std::size_t count = std::min(kTogether, table.size() - begin);
        std::vector<std::uint8_t> wanted;
        if (rows) {
            if (next >= rows->size()) break;
            if ((*rows)[next] >= begin + count) continue;
            wanted.assign(count, 0);
            while (next < rows->size() && (*rows)[next] < begin + count)
                wanted[(*rows)[next++] - begin] = 1;
        }
        answering->values(begin, count, values, wanted);
        if (by) grouping->values(begin, count, group, wanted);
        for (std::size_t i = 0; i < count; ++i) {
            if (rows && wanted[i] == 0) continue;
            const Value key = by ? group.value(i) : Value();
            // Missing is not the empty text.
            Gathered& one = groups[by ? (isMissing(key) ? "" : "=") + exactText(key) : ""];
            one.group = key;
            if (values.valid[i] == 0) {
                ++one.missing;
                continue;
            }
            ++one.count;
            if (isNumber(values.kind))
                one.numbers.push_back(values.number(i));
            else
                one.texts.insert(exactText(values.value(i)));
        }
    }
    std::vector<Gathered*> order;
    for (auto& [text, gathered] : groups) order.push_back(&gathered);
    std::sort(order.begin(), order.end(), comesBefore);
    std::vector<Summary> out;
    for (Gathered* one : order) out.push_back(summaryOf(*one));
    return out;
}

}  // namespace ledge::query
