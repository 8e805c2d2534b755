#pragma once
#include <cstdint>
#include <functional>
#include <optional>
#include <string_view>
#include <vector>

namespace ledge {

/// Which codes the texts of a column have while it is filled: a table of hashes beside the codes,
/// probed one by one. Beyond kMost different texts no more are remembered, and where those that are
/// hardly come again, none is looked up any more: that would only cost.
class KnownTexts {
public:
    static constexpr std::size_t kMost = 1 << 14;

    /// The code of a text that was remembered; `textOf` tells what a code stands for.
    template <typename TextOf>
    std::optional<std::uint32_t> find(std::string_view text, const TextOf& textOf) {
        if (m_slots.empty() || !m_isUseful) return {};
        ++m_asked;
        const std::uint32_t hash = hashOf(text);
        for (std::size_t at = hash & (m_slots.size() - 1); m_slots[at].code != 0;
             at = (at + 1) & (m_slots.size() - 1))
            if (m_slots[at].hash == hash && textOf(m_slots[at].code - 1) == text) {
                ++m_found;
                return m_slots[at].code - 1;
            }
        if (m_count >= kMost && m_asked > 2 * kMost && m_found * 8 < m_asked) m_isUseful = false;
        return {};
    }
    void remember(std::string_view text, std::uint32_t code) {
        if (m_count >= kMost) return;
        if (2 * (m_count + 1) > m_slots.size()) grow();
        put({hashOf(text), code + 1});
        ++m_count;
    }

private:
    struct Slot {
        std::uint32_t hash = 0, code = 0;  // the code and one; 0: free
    };
    static std::uint32_t hashOf(std::string_view text) {
        return static_cast<std::uint32_t>(std::hash<std::string_view>()(text));
    }
    void put(Slot slot) {
        std::size_t at = slot.hash & (m_slots.size() - 1);
        while (m_slots[at].code != 0) at = (at + 1) & (m_slots.size() - 1);
        m_slots[at] = slot;
    }
    void grow() {
        std::vector<Slot> before(m_slots.empty() ? 64 : 2 * m_slots.size());
        before.swap(m_slots);
        for (const Slot& slot : before)
            if (slot.code != 0) put(slot);
    }

    std::vector<Slot> m_slots;  ///< as many as a power of two
    std::size_t m_count = 0, m_asked = 0, m_found = 0;
    bool m_isUseful = true;
};

}  // namespace ledge
