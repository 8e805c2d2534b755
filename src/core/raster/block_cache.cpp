#include "core/raster/block_cache.h"

#include <unistd.h>

#include <algorithm>

namespace ledge {

BlockCache& BlockCache::shared() {
    static BlockCache cache(defaultLimit());
    return cache;
}

std::size_t BlockCache::defaultLimit() {
    constexpr std::size_t kMost = std::size_t{1} << 30;
    const long pages = sysconf(_SC_PHYS_PAGES), page = sysconf(_SC_PAGESIZE);
    if (pages <= 0 || page <= 0) return kMost / 4;
    return std::min(kMost, static_cast<std::size_t>(pages) / 4 * static_cast<std::size_t>(page));
}

void BlockCache::setLimit(std::size_t bytes) {
    const std::lock_guard lock(m_mutex);
    m_limit = bytes;
    shrink();
}

std::size_t BlockCache::limit() const {
    const std::lock_guard lock(m_mutex);
    return m_limit;
}

std::size_t BlockCache::held() const {
    const std::lock_guard lock(m_mutex);
    return m_held;
}

std::uint64_t BlockCache::newOwner() {
    const std::lock_guard lock(m_mutex);
    return ++m_owners;
}

void BlockCache::forget(std::uint64_t owner) {
    const std::lock_guard lock(m_mutex);
    auto it = m_blocks.lower_bound({owner, std::numeric_limits<std::int64_t>::min()});
    while (it != m_blocks.end() && it->first.first == owner) {
        m_held -= it->second.block->size();
        m_recent.erase(it->second.place);
        it = m_blocks.erase(it);
    }
}

BlockCache::Block BlockCache::get(std::uint64_t owner, std::int64_t index,
                                  const std::function<Block()>& make) {
    const Key key{owner, index};
    {
        std::unique_lock lock(m_mutex);
        m_made.wait(lock, [&] { return !m_making.contains(key); });
        if (const auto it = m_blocks.find(key); it != m_blocks.end()) {
            m_recent.splice(m_recent.begin(), m_recent, it->second.place);
            return it->second.block;
        }
        m_making.insert(key);
    }
    Block block;
    try {
        block = make();
    } catch (...) {
        // Those who wait for it are to try themselves, not to wait for ever.
        {
            const std::lock_guard lock(m_mutex);
            m_making.erase(key);
        }
        m_made.notify_all();
        throw;
    }
    {
        const std::lock_guard lock(m_mutex);
        m_making.erase(key);
        m_recent.push_front(key);
        m_blocks[key] = {block, m_recent.begin()};
        m_held += block->size();
        shrink();
    }
    m_made.notify_all();
    return block;
}

void BlockCache::shrink() {
    while (m_held > m_limit && !m_recent.empty()) {
        const auto it = m_blocks.find(m_recent.back());
        m_held -= it->second.block->size();
        m_blocks.erase(it);
        m_recent.pop_back();
    }
}

}  // namespace ledge
