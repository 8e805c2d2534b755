#include <algorithm>
#include <cmath>

#include "core/query/node.h"

namespace ledge::query {
namespace {
class GroupNode final : public Node {
public:
    GroupNode(std::size_t index, Kind kind, NodePtr group)
        : Node(kind), m_index(index), m_group(std::move(group)) {}
    void values(const Batch& batch, Values& out) const override {
        out.reset(kind(), batch.count);
        const GroupResults& results = batch.groups[m_index];
        Values group;
        if (m_group) m_group->values(batch, group);
        for (std::size_t i = 0; i < batch.count; ++i) {
            const auto it = results.find(m_group ? exactText(group.value(i)) : std::string());
            if (it == results.end() || std::isnan(it->second)) continue;
            out.valid[i] = 1;
            if (kind() == Kind::Integer)
                out.wholes[i] = static_cast<std::int64_t>(it->second);
            else
                out.reals[i] = it->second;
        }
    }

private:
    std::size_t m_index;
    NodePtr m_group;
};

// Sums to the last digit whatever the order of the rows (Neumaier 1974).
struct Sum {
    double total = 0, lost = 0;
    void add(double v) {
        const double next = total + v;
        lost += std::abs(total) >= std::abs(v) ? (total - next) + v : (v - next) + total;
        total = next;
    }
    double value() const { return total + lost; }
};

struct Gathered {
    std::int64_t count = 0;
    Sum sum;
    double low = kNaN, high = kNaN;
    std::vector<double> all;  // where the median or the spread is asked for
};

double resultOf(const std::string& name, Gathered& g) {
    if (name == "count") return static_cast<double>(g.count);
    if (name == "sum") return g.count == 0 ? kNaN : g.sum.value();
    if (g.count == 0) return kNaN;
    if (name == "min") return g.low;
    if (name == "max") return g.high;
    const double mean = g.sum.value() / static_cast<double>(g.count);
    if (name == "mean") return mean;
    if (name == "stddev") {
        Sum squares;
        for (const double v : g.all) squares.add((v - mean) * (v - mean));
        return std::sqrt(squares.value() / static_cast<double>(g.count));
    }
    const auto middle = g.all.begin() + static_cast<std::ptrdiff_t>(g.all.size() / 2);
    std::nth_element(g.all.begin(), middle, g.all.end());
    if (g.all.size() % 2 == 1) return *middle;
    return (*middle + *std::max_element(g.all.begin(), middle)) / 2;
}
}  // namespace

NodePtr groupNode(std::size_t index, Kind kind, NodePtr group) {
    return std::make_shared<GroupNode>(index, kind, std::move(group));
}

Result<GroupResults> gathered(const AggregateNode& aggregate, const FeatureTable& table,
                              const std::function<Batch(std::size_t, std::size_t)>& batchOf,
                              const Progress& progress) {
    const bool keepsAll = aggregate.name == "median" || aggregate.name == "stddev";
    std::unordered_map<std::string, Gathered> groups;
    Values values, by;
    for (std::size_t begin = 0; begin < table.size(); begin += kBatch) {
        if (progress.stopped()) return cancelled(aggregate.name);
        progress.at(static_cast<double>(begin) / static_cast<double>(table.size()));
        const Batch batch = batchOf(begin, std::min(kBatch, table.size() - begin));
        if (aggregate.argument) aggregate.argument->values(batch, values);
        if (aggregate.group) aggregate.group->values(batch, by);
        Gathered* one = aggregate.group ? nullptr : &groups[""];
        for (std::size_t i = 0; i < batch.count; ++i) {
            if (aggregate.group) one = &groups[exactText(by.value(i))];
            if (!aggregate.argument) {
                ++one->count;
                continue;
            }
            if (values.valid[i] == 0) continue;
            ++one->count;
            if (aggregate.name == "count") continue;
            const double v = values.number(i);
            one->sum.add(v);
            one->low = one->count == 1 ? v : std::min(one->low, v);
            one->high = one->count == 1 ? v : std::max(one->high, v);
            if (keepsAll) one->all.push_back(v);
        }
    }
    GroupResults out;
    for (auto& [group, gathering] : groups) out[group] = resultOf(aggregate.name, gathering);
    return out;
}

}  // namespace ledge::query
