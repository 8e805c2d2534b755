#pragma once
#include <vector>

#include "core/feature/feature.h"
#include "core/geometry/packed_tree.h"

namespace ledge {

/// Packed spatial index over the boxes of a table's features.
class FeatureIndex {
public:
    explicit FeatureIndex(const FeatureTable& table);
    explicit FeatureIndex(PackedTree tree) : m_tree(std::move(tree)) {}
    const PackedTree& tree() const { return m_tree; }

    /// Positions in the table of the features whose boxes meet `box`, ascending.
    std::vector<std::size_t> meeting(const Box& box) const;

private:
    PackedTree m_tree;
};

}  // namespace ledge
