#include "core/feature/feature_index.h"

#include <algorithm>

namespace ledge {
namespace {
std::vector<Box> boxesOf(const FeatureTable& table) {
    std::vector<Box> out;
    out.reserve(table.size());
    for (std::size_t i = 0; i < table.size(); ++i) out.push_back(table.box(i));
    return out;
}
}  // namespace

FeatureIndex::FeatureIndex(const FeatureTable& table) : m_tree(boxesOf(table)) {}

std::vector<std::size_t> FeatureIndex::meeting(const Box& box) const {
    std::vector<std::size_t> out;
    m_tree.meeting(box, [&out](std::size_t i) {
        out.push_back(i);
        return true;
    });
    std::sort(out.begin(), out.end());
    return out;
}

}  // namespace ledge
