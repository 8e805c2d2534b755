#include "core/geometry/packed_tree.h"

#include <algorithm>
#include <array>

#include "core/base/array_file.h"
#include "core/base/parallel.h"

namespace ledge {

// The curve by turning the quadrant at each level (Hilbert 1891).
std::uint32_t hilbertPlace(std::uint32_t x, std::uint32_t y) {
    std::uint32_t place = 0;
    for (std::uint32_t side = 1U << 15; side > 0; side >>= 1) {
        const std::uint32_t right = (x & side) != 0 ? 1 : 0, upper = (y & side) != 0 ? 1 : 0;
        place += side * side * ((3 * right) ^ upper);
        if (upper == 0) {
            if (right == 1) x = 0xFFFF - x, y = 0xFFFF - y;
            std::swap(x, y);
        }
    }
    return place;
}

namespace {
constexpr std::size_t kPiece = 1 << 15;  // boxes that one core takes at a time

std::uint32_t cellOf(double v) { return v >= 0 && v <= 65535 ? static_cast<std::uint32_t>(v) : 0; }
}  // namespace

// Sorted by digits of eleven bits, the lowest first: what is alike keeps its order.
std::vector<std::uint32_t> hilbertOrder(std::span<const Box> boxes) {
    Box all;
    for (const Box& box : boxes) all.add(box);
    struct Placed {
        std::uint32_t place, item;
    };
    std::vector<Placed> order(boxes.size()), sorted;
    const double toX = all.width() > 0 ? 65535 / all.width() : 0,
                 toY = all.height() > 0 ? 65535 / all.height() : 0;
    parallelRanges(boxes.size(), kPiece, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            const Point centre = boxes[i].centre();
            order[i] = {hilbertPlace(cellOf((centre.x - all.xMin) * toX),
                                     cellOf((centre.y - all.yMin) * toY)),
                        static_cast<std::uint32_t>(i)};
        }
    });
    std::erase_if(order, [&](const Placed& one) { return boxes[one.item].isEmpty(); });
    constexpr std::uint32_t kBits = 11, kDigits = 1U << kBits;
    sorted.resize(order.size());
    for (std::uint32_t shift = 0; shift < 32; shift += kBits) {
        std::array<std::size_t, kDigits + 1> first{};
        for (const Placed& one : order) ++first[((one.place >> shift) & (kDigits - 1)) + 1];
        for (std::uint32_t d = 0; d < kDigits; ++d) first[d + 1] += first[d];
        for (const Placed& one : order) sorted[first[(one.place >> shift) & (kDigits - 1)]++] = one;
        order.swap(sorted);
    }
    std::vector<std::uint32_t> out;
    out.reserve(order.size());
    for (const Placed& one : order) out.push_back(one.item);
    return out;
}

PackedTree::PackedTree(std::span<const Box> boxes) {
    const std::vector<std::uint32_t> order = hilbertOrder(boxes);
    m_count = order.size();
    if (m_count == 0) return;
    m_boxes.reserve(m_count + m_count / (kNode - 1) + 12);
    m_items.reserve(m_boxes.capacity());
    m_boxes.resize(m_count);
    m_items.assign(order.begin(), order.end());
    parallelRanges(m_count, kPiece, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) m_boxes[i] = boxes[order[i]];
    });
    std::uint32_t begin = 0;
    m_levels.push_back(static_cast<std::uint32_t>(m_boxes.size()));
    while (m_levels.back() - begin > 1) {
        const std::uint32_t end = m_levels.back();
        for (std::uint32_t first = begin; first < end; first += kNode) {
            Box node;
            for (std::uint32_t i = first; i < std::min(first + kNode, end); ++i)
                node.add(m_boxes[i]);
            m_boxes.push_back(node);
            m_items.push_back(first);
        }
        begin = end;
        m_levels.push_back(static_cast<std::uint32_t>(m_boxes.size()));
    }
}

void PackedTree::save(ArrayWriter& out) const {
    out.put(static_cast<std::uint64_t>(m_count));
    out.put(m_boxes);
    out.put(m_items);
    out.put(m_levels);
}

std::optional<PackedTree> PackedTree::saved(ArrayReader& in) {
    PackedTree out;
    std::uint64_t count = 0;
    in.take(count);
    in.take(out.m_boxes);
    in.take(out.m_items);
    in.take(out.m_levels);
    if (!in.isGood()) return {};
    out.m_count = count;
    return out;
}

}  // namespace ledge
