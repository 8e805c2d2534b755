#pragma once
#include <condition_variable>
#include <cstddef>
#include <cstdint>
#include <functional>
#include <list>
#include <map>
#include <memory>
#include <mutex>
#include <set>
#include <vector>

namespace ledge {

/// Decoded blocks of all open rasters, the least recently used given up first when they pass a
/// limit in bytes. Safe from several threads; a block wanted by two is made once.
class BlockCache {
public:
    using Bytes = std::vector<std::byte>;
    using Block = std::shared_ptr<const Bytes>;

    explicit BlockCache(std::size_t limit) : m_limit(limit) {}

    /// The one of this process; its limit starts at defaultLimit().
    static BlockCache& shared();
    /// A quarter of the machine's memory, at most 1 GB.
    static std::size_t defaultLimit();

    void setLimit(std::size_t bytes);
    std::size_t limit() const;
    std::size_t held() const;

    /// A number under which one raster keeps its blocks.
    std::uint64_t newOwner();
    /// Gives up all blocks of an owner.
    void forget(std::uint64_t owner);
    /// The block if held, else what `make` returns (never null), then held. `make` runs unlocked;
    /// what it throws goes on to its caller, and others who wait for the block make it themselves.
    Block get(std::uint64_t owner, std::int64_t index, const std::function<Block()>& make);

private:
    using Key = std::pair<std::uint64_t, std::int64_t>;
    struct Held {
        Block block;
        std::list<Key>::iterator place;
    };
    void shrink();

    mutable std::mutex m_mutex;  // guards all below
    std::condition_variable m_made;
    std::map<Key, Held> m_blocks;
    std::list<Key> m_recent;  ///< newest first
    std::set<Key> m_making;
    std::size_t m_limit, m_held = 0;
    std::uint64_t m_owners = 0;
};

}  // namespace ledge
