#include "core/feature/feature_index.h"

#include <boost/geometry.hpp>
#include <boost/geometry/index/rtree.hpp>

namespace ledge {
namespace bg = boost::geometry;
namespace bgi = boost::geometry::index;
using BoostPoint = bg::model::point<double, 2, bg::cs::cartesian>;
using BoostBox = bg::model::box<BoostPoint>;
using Entry = std::pair<BoostBox, std::size_t>;

struct FeatureIndex::Tree {
    bgi::rtree<Entry, bgi::rstar<16>> boxes;
};

namespace {
BoostBox boost(const Box& b) { return {{b.xMin, b.yMin}, {b.xMax, b.yMax}}; }
}  // namespace

FeatureIndex::FeatureIndex(const FeatureTable& table) : m_tree(std::make_unique<Tree>()) {
    std::vector<Entry> entries;
    entries.reserve(table.size());
    for (std::size_t i = 0; i < table.size(); ++i)
        if (const Box& box = table.box(i); !box.isEmpty()) entries.emplace_back(boost(box), i);
    m_tree->boxes = bgi::rtree<Entry, bgi::rstar<16>>(entries.begin(), entries.end());
}
FeatureIndex::~FeatureIndex() = default;
FeatureIndex::FeatureIndex(FeatureIndex&&) noexcept = default;
FeatureIndex& FeatureIndex::operator=(FeatureIndex&&) noexcept = default;

std::vector<std::size_t> FeatureIndex::meeting(const Box& box) const {
    std::vector<std::size_t> out;
    if (box.isEmpty()) return out;
    for (auto it = m_tree->boxes.qbegin(bgi::intersects(boost(box))); it != m_tree->boxes.qend();
         ++it)
        out.push_back(it->second);
    std::sort(out.begin(), out.end());
    return out;
}

}  // namespace ledge
