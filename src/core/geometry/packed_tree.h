#pragma once
#include <array>
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

#include "core/geometry/point.h"

namespace ledge {

/// A static tree over boxes: sorted once along a Hilbert curve and packed bottom-up, nodes full
/// (Kamel and Faloutsos, "On packing R-trees", 1993). Empty boxes are in no answer.
class PackedTree {
public:
    PackedTree() = default;
    explicit PackedTree(std::span<const Box> boxes);

    std::size_t size() const { return m_count; }
    std::size_t bytes() const {
        return m_boxes.capacity() * sizeof(Box) + m_items.capacity() * sizeof(std::uint32_t);
    }

    /// As arrays, and read from them.
    void save(class ArrayWriter& out) const;
    static std::optional<PackedTree> saved(class ArrayReader& in);

    /// Calls `visit(i)` for each box that meets `box`, in no order, until it returns false. Whether
    /// all were visited.
    template <typename Visit>
    bool meeting(const Box& box, const Visit& visit) const {
        if (m_count == 0 || !meets(m_boxes.back(), box)) return true;
        if (m_levels.size() == 1) return visit(static_cast<std::size_t>(m_items.front()));
        struct Step {
            std::uint32_t node, level;
            bool isInside;  // so that all beneath it meets
        };
        // A node on each level at most waits with its siblings.
        std::array<Step, kNode * 12> waiting;  // NOLINT: filled as it is used
        std::size_t depth = 0;
        waiting[depth++] = {static_cast<std::uint32_t>(m_boxes.size() - 1),
                            static_cast<std::uint32_t>(m_levels.size() - 1),
                            holds(box, m_boxes.back())};
        while (depth > 0) {
            const Step at = waiting[--depth];
            const std::uint32_t first = m_items[at.node];
            const std::uint32_t end = std::min(first + kNode, m_levels[at.level - 1]);
            if (at.level == 1) {
                for (std::uint32_t leaf = first; leaf < end; ++leaf)
                    if ((at.isInside || meets(m_boxes[leaf], box)) &&
                        !visit(static_cast<std::size_t>(m_items[leaf])))
                        return false;
            } else {
                for (std::uint32_t child = first; child < end; ++child)
                    if (at.isInside || meets(m_boxes[child], box))
                        waiting[depth++] = {child, at.level - 1,
                                            at.isInside || holds(box, m_boxes[child])};
            }
        }
        return true;
    }

private:
    static constexpr std::uint32_t kNode = 32;
    // All four at once: which of them fails first cannot be foretold.
    static bool meets(const Box& a, const Box& b) {
        return ((a.xMin <= b.xMax) & (b.xMin <= a.xMax) & (a.yMin <= b.yMax) &
                (b.yMin <= a.yMax)) != 0;
    }

    static bool holds(const Box& outer, const Box& inner) {
        return outer.xMin <= inner.xMin && outer.yMin <= inner.yMin && outer.xMax >= inner.xMax &&
               outer.yMax >= inner.yMax;
    }

    std::size_t m_count = 0;              ///< of boxes that are not empty
    std::vector<Box> m_boxes;             ///< those in order, then their nodes level by level
    std::vector<std::uint32_t> m_items;   ///< what a box is of; of nodes their first child
    std::vector<std::uint32_t> m_levels;  ///< where each level ends
};

/// The places of boxes in order along the curve by their centres; empty ones left out. Cost:
/// linear.
std::vector<std::uint32_t> hilbertOrder(std::span<const Box> boxes);
/// Place of a cell of a square grid of 2^16 cells a side along the Hilbert curve.
std::uint32_t hilbertPlace(std::uint32_t x, std::uint32_t y);

}  // namespace ledge
