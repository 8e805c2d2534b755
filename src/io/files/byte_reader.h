#pragma once
#include <bit>
#include <cstdint>
#include <cstring>
#include <span>
#include <string>

namespace ledge::io {

/// Reads numbers from bytes with bounds checks; once past the end, everything reads as zero and
/// `isGood()` is false.
class ByteReader {
public:
    explicit ByteReader(std::span<const std::byte> bytes) : m_bytes(bytes) {}

    bool isGood() const { return m_good; }
    std::size_t position() const { return m_at; }
    std::size_t left() const { return m_bytes.size() - m_at; }
    void seek(std::size_t at) {
        m_good = m_good && at <= m_bytes.size();
        if (m_good) m_at = at;
    }
    void skip(std::size_t count) { seek(count <= left() ? m_at + count : m_bytes.size() + 1); }

    template <typename T>
    T read(std::endian order) {
        T value{};
        if (!m_good || left() < sizeof(T)) {
            m_good = false;
            return value;
        }
        std::byte raw[sizeof(T)];
        std::memcpy(raw, m_bytes.data() + m_at, sizeof(T));
        if (order != std::endian::native)
            for (std::size_t i = 0; i < sizeof(T) / 2; ++i)
                std::swap(raw[i], raw[sizeof(T) - 1 - i]);
        std::memcpy(&value, raw, sizeof(T));
        m_at += sizeof(T);
        return value;
    }
    std::string text(std::size_t count) {
        if (!m_good || left() < count) {
            m_good = false;
            return {};
        }
        std::string out(reinterpret_cast<const char*>(m_bytes.data()) + m_at, count);
        m_at += count;
        return out;
    }

private:
    std::span<const std::byte> m_bytes;
    std::size_t m_at = 0;
    bool m_good = true;
};

inline std::span<const std::byte> bytesOf(const std::string& text) {
    return std::as_bytes(std::span(text.data(), text.size()));
}

/// Appends a number's bytes in the given order.
template <typename T>
void putNumber(std::string& out, T value, std::endian order) {
    char raw[sizeof(T)];
    std::memcpy(raw, &value, sizeof(T));
    if (order != std::endian::native)
        for (std::size_t i = 0; i < sizeof(T) / 2; ++i) std::swap(raw[i], raw[sizeof(T) - 1 - i]);
    out.append(raw, sizeof(T));
}

}  // namespace ledge::io
