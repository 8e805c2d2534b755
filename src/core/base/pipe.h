#pragma once
#include <condition_variable>
#include <deque>
#include <mutex>
#include <optional>

namespace ledge {

/// What one thread makes and another takes, a few pieces ahead at most. Either side may end it.
template <typename T>
class Pipe {
public:
    explicit Pipe(std::size_t most) : m_most(most) {}

    /// Waits while it is full. False once it was ended: nobody takes any more.
    bool put(T piece) {
        std::unique_lock lock(m_mutex);
        m_changed.wait(lock, [&] { return m_isEnded || m_pieces.size() < m_most; });
        if (m_isEnded) return false;
        m_pieces.push_back(std::move(piece));
        m_changed.notify_all();
        return true;
    }
    /// Waits while it is empty. Nothing once it was ended and all was taken.
    std::optional<T> take() {
        std::unique_lock lock(m_mutex);
        m_changed.wait(lock, [&] { return m_isEnded || !m_pieces.empty(); });
        if (m_pieces.empty()) return {};
        std::optional<T> out(std::move(m_pieces.front()));
        m_pieces.pop_front();
        m_changed.notify_all();
        return out;
    }
    /// What was put before is still to be taken.
    void end() {
        const std::lock_guard lock(m_mutex);
        m_isEnded = true;
        m_changed.notify_all();
    }

private:
    const std::size_t m_most;
    std::mutex m_mutex;  // guards the members below
    std::condition_variable m_changed;
    std::deque<T> m_pieces;
    bool m_isEnded = false;
};

}  // namespace ledge
