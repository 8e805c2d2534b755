#pragma once
#include <bit>
#include <cstdint>
#include <cstring>
#include <istream>
#include <ostream>
#include <span>
#include <type_traits>
#include <vector>

/// Arrays of plain numbers one after the other, as this machine has them, for files that only this
/// machine reads again. A sum at the end tells whether all of it is what was written.
namespace ledge {

class ArraySum {
public:
    void add(std::span<const std::byte> bytes) {
        std::size_t i = 0;
        for (; i + sizeof(std::uint64_t) <= bytes.size(); i += sizeof(std::uint64_t)) {
            std::uint64_t word;
            std::memcpy(&word, bytes.data() + i, sizeof word);
            mix(word);
        }
        std::uint64_t rest = bytes.size();
        for (; i < bytes.size(); ++i) rest = rest << 8 | std::to_integer<std::uint64_t>(bytes[i]);
        mix(rest);
    }
    std::uint64_t value() const { return m_sum; }

private:
    void mix(std::uint64_t word) { m_sum = (std::rotl(m_sum, 23) ^ word) * 0x9E3779B97F4A7C15u; }
    std::uint64_t m_sum = 0x243F6A8885A308D3u;
};

class ArrayWriter {
public:
    explicit ArrayWriter(std::ostream& out) : m_out(out) {}

    template <typename T>
    void put(std::span<const T> values) {
        static_assert(std::is_trivially_copyable_v<T>);
        const std::uint64_t count = values.size();
        write(std::as_bytes(std::span(&count, 1)));
        write(std::as_bytes(values));
    }
    template <typename T>
    void put(const std::vector<T>& values) {
        put(std::span<const T>(values));
    }
    template <typename T>
    void put(const T& value) {
        put(std::span<const T>(&value, 1));
    }
    /// Ends the file. False where it could not all be written.
    bool finish() {
        const std::uint64_t sum = m_sum.value();
        m_out.write(reinterpret_cast<const char*>(&sum), sizeof sum);
        return m_out.flush().good();
    }

private:
    void write(std::span<const std::byte> bytes) {
        m_sum.add(bytes);
        m_out.write(reinterpret_cast<const char*>(bytes.data()),
                    static_cast<std::streamsize>(bytes.size()));
    }
    std::ostream& m_out;
    ArraySum m_sum;
};

/// Once something could not be read, nothing can. What is read may be used only when isWhole().
class ArrayReader {
public:
    /// `bytes`: how many there are; no array is made larger.
    ArrayReader(std::istream& in, std::uintmax_t bytes) : m_in(in), m_left(bytes) {}

    template <typename T>
    bool take(std::vector<T>& values) {
        static_assert(std::is_trivially_copyable_v<T>);
        std::uint64_t count = 0;
        if (!read(std::as_writable_bytes(std::span(&count, 1)))) return false;
        if (count > m_left / sizeof(T)) return m_isGood = false;
        values.resize(count);
        return read(std::as_writable_bytes(std::span(values)));
    }
    template <typename T>
    bool take(T& value) {
        std::vector<T> one;
        if (!take(one) || one.size() != 1) return m_isGood = false;
        value = one.front();
        return true;
    }
    bool isGood() const { return m_isGood; }
    /// At the end: all was there and is what was written.
    bool isWhole() {
        const std::uint64_t sum = m_sum.value();
        std::uint64_t kept = 0;
        return read(std::as_writable_bytes(std::span(&kept, 1))) && kept == sum && m_left == 0;
    }

private:
    bool read(std::span<std::byte> bytes) {
        m_isGood = m_isGood && bytes.size() <= m_left;
        if (!m_isGood) return false;
        m_in.read(reinterpret_cast<char*>(bytes.data()),
                  static_cast<std::streamsize>(bytes.size()));
        m_isGood = m_in.good();
        m_left -= bytes.size();
        m_sum.add(bytes);
        return m_isGood;
    }
    std::istream& m_in;
    std::uintmax_t m_left;
    bool m_isGood = true;
    ArraySum m_sum;
};

}  // namespace ledge
