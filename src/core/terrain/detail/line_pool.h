#pragma once
#include <sys/mman.h>

#include <algorithm>
#include <array>
#include <cstdint>
#include <limits>
#include <new>
#include <utility>
#include <vector>

#include "core/geometry/point.h"

namespace ledge::terrain {

/// Many lines that grow at both ends and are joined. Vertices lie in blocks that follow each other.
/// An open end says itself where it stands, so that a new vertex is written without anything being
/// read. A vertex equal to its neighbour is left out. Joined to itself a line becomes a ring; rings
/// are copied out soon after they close, so that their blocks are used again.
/// Blocks are small: where hills are rough, many lines begin that are soon joined.
class LinePool {
public:
    /// An open end: the last vertex of a line and the place after it, or the first and its place.
    struct End {
        static constexpr std::uint32_t kFree = std::numeric_limits<std::uint32_t>::max();
        Point at;
        std::uint32_t block = kFree, place = 0;
        bool isFree() const { return block == kFree; }
    };
    struct Done {
        std::uint32_t level = 0, line = 0;
        std::vector<Point> points;
    };

    /// A line of two vertices, both free until now.
    void begin(End& first, End& last, std::uint32_t level) {
        const auto line = static_cast<std::uint32_t>(m_lines.size());
        const std::uint32_t block = fresh(line, kSize / 2);
        Block& b = m_blocks[block];
        b.at[b.end++] = first.at;
        if (!(first.at == last.at)) b.at[b.end++] = last.at;
        m_lines.push_back({block, level, line, 2 * kSize});
        first.block = last.block = block;
        first.place = b.begin, last.place = b.end;
    }
    /// A free vertex after the last of a line.
    [[gnu::always_inline]] void append(const End& last, End& added) {
        added.block = last.block, added.place = last.place;
        if (last.at == added.at) return;
        if (last.place == kSize) return appendFresh(added);
        Block& b = m_blocks[last.block];
        b.at[last.place] = added.at;
        b.end = ++added.place;
    }
    /// A free vertex before the first of a line.
    [[gnu::always_inline]] void prepend(const End& first, End& added) {
        added.block = first.block, added.place = first.place;
        if (first.at == added.at) return;
        if (first.place == 0) return prependFresh(added);
        Block& b = m_blocks[first.block];
        b.at[--added.place] = added.at;
        b.begin = added.place;
    }
    /// The line that ends at one goes on with the line that begins at the other.
    void join(const End& last, const End& first) {
        const std::uint32_t one = find(m_blocks[last.block].line);
        const std::uint32_t other = find(m_blocks[first.block].line);
        if (one == other) {
            End closing{first.at};
            append(last, closing);
            m_closed.push_back(one);
            m_waiting += m_lines[one].room;
            if (m_waiting >= kMostWaiting) takeClosed();
            return;
        }
        if (last.at == first.at) m_blocks[first.block].begin = first.place + 1;
        m_blocks[last.block].next = first.block;
        m_lines[other].parent = one;
        m_lines[one].room += m_lines[other].room;
    }
    /// About how many vertices there are: never fewer.
    std::uint64_t roughCount() const { return std::uint64_t{m_blocks.count()} * kSize + m_taken; }

    /// All lines of two vertices or more, by level, then by age.
    std::vector<Done> take() {
        takeClosed();
        std::vector<std::uint32_t> open;
        for (std::uint32_t i = 0; i < m_lines.size(); ++i)
            if (m_lines[i].parent == i && m_lines[i].head != kNone) open.push_back(i);
        copyOut(open);
        std::erase_if(m_done, [](const Done& line) { return line.points.size() < 2; });
        std::sort(m_done.begin(), m_done.end(), [](const Done& a, const Done& b) {
            return a.level != b.level ? a.level < b.level : a.line < b.line;
        });
        return std::move(m_done);
    }

private:
    static constexpr std::uint32_t kNone = std::numeric_limits<std::uint32_t>::max();
    static constexpr std::uint32_t kSize = 7;
    static constexpr std::uint64_t kMostWaiting = 1u << 16;
    struct Block {
        std::uint32_t next, line, begin, end;
        Point at[kSize];
    };
    struct Line {
        std::uint32_t head, level;
        std::uint32_t parent;  ///< the line it went into; itself as long as it is one
        std::uint32_t room;    ///< for its vertices, at least
    };

    // Blocks in memory that grows without being copied, in large pages.
    class Blocks {
    public:
        Blocks() = default;
        ~Blocks() {
            if (m_first) ::munmap(m_first, bytes(m_room));
        }
        Blocks(const Blocks&) = delete;
        Blocks& operator=(const Blocks&) = delete;
        Block& operator[](std::uint32_t i) { return m_first[i]; }
        const Block& operator[](std::uint32_t i) const { return m_first[i]; }
        std::uint32_t count() const { return m_count; }
        std::uint32_t add() {
            if (m_count == m_room) grow();
            return m_count++;
        }

    private:
        static std::size_t bytes(std::size_t count) { return count * sizeof(Block); }
        void grow() {
            const std::uint32_t room = m_room > 0 ? 2 * m_room : 1u << 14;
            void* const memory = m_first
                                     ? ::mremap(m_first, bytes(m_room), bytes(room), MREMAP_MAYMOVE)
                                     : ::mmap(nullptr, bytes(room), PROT_READ | PROT_WRITE,
                                              MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
            if (memory == MAP_FAILED) throw std::bad_alloc();
            ::madvise(memory, bytes(room), MADV_HUGEPAGE);
            m_first = static_cast<Block*>(memory);
            m_room = room;
        }
        Block* m_first = nullptr;
        std::uint32_t m_room = 0, m_count = 0;
    };

    std::uint32_t fresh(std::uint32_t line, std::uint32_t place) {
        std::uint32_t block;
        if (m_free.empty()) {
            block = m_blocks.add();
        } else {
            block = m_free.back();
            m_free.pop_back();
            // Long out of the caches: those needed soon are fetched ahead.
            constexpr std::size_t kAhead = 8;
            if (m_free.size() >= kAhead) {
                const auto* const soon =
                    reinterpret_cast<const char*>(&m_blocks[m_free[m_free.size() - kAhead]]);
                __builtin_prefetch(soon, 1);
                __builtin_prefetch(soon + 64, 1);
            }
        }
        Block& b = m_blocks[block];
        b.next = kNone;
        b.line = line;
        b.begin = b.end = place;
        return block;
    }
    [[gnu::noinline]] void appendFresh(End& added) {
        const std::uint32_t line = find(m_blocks[added.block].line);
        const std::uint32_t after = fresh(line, 0);
        m_lines[line].room += kSize;
        m_blocks[added.block].next = after;
        Block& b = m_blocks[after];
        b.at[b.end++] = added.at;
        added.block = after, added.place = b.end;
    }
    [[gnu::noinline]] void prependFresh(End& added) {
        const std::uint32_t line = find(m_blocks[added.block].line);
        const std::uint32_t before = fresh(line, kSize);
        m_lines[line].room += kSize;
        m_lines[line].head = before;
        Block& b = m_blocks[before];
        b.next = added.block;
        b.at[--b.begin] = added.at;
        added.block = before, added.place = b.begin;
    }
    void takeClosed() {
        copyOut(m_closed);
        m_closed.clear();
        m_waiting = 0;
    }

    std::uint32_t find(std::uint32_t line) {
        while (m_lines[line].parent != line) {
            m_lines[line].parent = m_lines[m_lines[line].parent].parent;
            line = m_lines[line].parent;
        }
        return line;
    }
    // Blocks of a line lie anywhere: several lines are followed in turn, so that each can wait for
    // memory while the others are copied.
    void copyOut(const std::vector<std::uint32_t>& lines) {
        struct Walk {
            std::uint32_t at = kNone;
            Done* done = nullptr;
            std::vector<Point> few;  ///< of a short line, whose room would be mostly empty
            std::vector<Point>* target = nullptr;
        };
        constexpr std::uint32_t kShort = 8 * kSize;
        std::array<Walk, 16> walks;
        const std::size_t first = m_done.size();
        m_done.resize(first + lines.size());
        std::size_t next = 0;
        for (bool isBusy = true; isBusy;) {
            isBusy = next < lines.size();
            for (Walk& walk : walks) {
                if (walk.at != kNone) {
                    const Block& b = m_blocks[walk.at];
                    walk.target->insert(walk.target->end(), b.at + b.begin, b.at + b.end);
                    m_taken += b.end - b.begin;
                    m_free.push_back(walk.at);
                    walk.at = b.next;
                    if (walk.at == kNone && walk.target == &walk.few)
                        walk.done->points.assign(walk.few.begin(), walk.few.end());
                } else if (next < lines.size()) {
                    Line& line = m_lines[lines[next]];
                    walk.done = &m_done[first + next];
                    walk.done->level = line.level, walk.done->line = lines[next];
                    walk.few.clear();
                    walk.target = line.room > kShort ? &walk.done->points : &walk.few;
                    walk.target->reserve(line.room);
                    walk.at = std::exchange(line.head, kNone);
                    ++next;
                }
                if (walk.at == kNone) continue;
                isBusy = true;
                const auto* const block = reinterpret_cast<const char*>(&m_blocks[walk.at]);
                for (std::size_t offset = 0; offset < sizeof(Block); offset += 64)
                    __builtin_prefetch(block + offset);
            }
        }
    }

    Blocks m_blocks;
    std::vector<std::uint32_t> m_free;    ///< blocks to be used again
    std::vector<std::uint32_t> m_closed;  ///< rings not copied out yet
    std::uint64_t m_waiting = 0;          ///< room of those
    std::uint64_t m_taken = 0;            ///< vertices copied out
    std::vector<Done> m_done;
    std::vector<Line> m_lines;
};

}  // namespace ledge::terrain
