#include "core/feature/feature_index.h"

#include <algorithm>

#include "core/base/parallel.h"

namespace ledge {
namespace {
std::vector<Box> boxesOf(const FeatureTable& table) {
    constexpr std::size_t kPiece = 1 << 15;
    std::vector<Box> out(table.size());
    parallelRanges(table.size(), kPiece, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) out[i] = table.box(i);
    });
    return out;
}
}  // namespace

FeatureIndex::FeatureIndex(const FeatureTable& table) : m_tree(boxesOf(table)) {}

std::vector<std::size_t> FeatureIndex::meeting(const Box& box) const {
    std::vector<std::size_t> out;
    std::size_t end = 0;
    m_tree.meeting(box, [&](std::size_t i) {
        out.push_back(i);
        end = std::max(end, i + 1);
        return true;
    });
    // Where they are many, to mark them among all is quicker than to sort them.
    constexpr std::size_t kFew = 16;
    if (out.size() < end / kFew) {
        std::sort(out.begin(), out.end());
        return out;
    }
    std::vector<std::uint8_t> isMet(end);
    for (const std::size_t i : out) isMet[i] = 1;
    out.clear();
    for (std::size_t i = 0; i < end; ++i)
        if (isMet[i] != 0) out.push_back(i);
    return out;
}

}  // namespace ledge
