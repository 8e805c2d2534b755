#pragma once
#include <memory>
#include <vector>

#include "core/feature/feature.h"

namespace ledge {

/// Packed spatial index over the boxes of a table's features (R-tree, bulk loaded).
class FeatureIndex {
public:
    explicit FeatureIndex(const FeatureTable& table);
    ~FeatureIndex();
    FeatureIndex(FeatureIndex&&) noexcept;
    FeatureIndex& operator=(FeatureIndex&&) noexcept;

    /// Positions in the table of the features whose boxes meet `box`, ascending.
    std::vector<std::size_t> meeting(const Box& box) const;

private:
    struct Tree;
    std::unique_ptr<Tree> m_tree;
};

}  // namespace ledge
