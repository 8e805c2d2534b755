#pragma once
#include <cassert>
#include <string>
#include <utility>
#include <variant>

namespace ledge {

/// What a caller can do about a failure; the texts of Error tell the rest.
enum class ErrorCode {
    InvalidArgument,
    NotFound,
    BadFormat,
    Unsupported,
    LimitExceeded,
    IoFailure,
    Cancelled,
    Conflict  ///< somebody else changed it meanwhile
};

/// A failure told in three parts: what could not be done, why, and how to mend it.
struct Error {
    ErrorCode code = ErrorCode::InvalidArgument;
    std::string what;  ///< the file, field or operation concerned
    std::string why;   ///< the reason, with offset or value where known
    std::string mend;  ///< what the user can do; may be empty

    /// "WHAT: WHY (HOW TO MEND)" on one line.
    std::string text() const {
        std::string line = what.empty() ? why : what + ": " + why;
        if (!mend.empty()) line += " (" + mend + ")";
        return line;
    }
};

/// A value or an Error, named as in std::expected so that it can become an alias of it.
template <typename T>
class [[nodiscard]] Result {
public:
    Result(T value) : m_state(std::move(value)) {}
    Result(Error error) : m_state(std::move(error)) {}

    bool has_value() const { return std::holds_alternative<T>(m_state); }
    explicit operator bool() const { return has_value(); }
    T& operator*() & { return std::get<T>(m_state); }
    const T& operator*() const& { return std::get<T>(m_state); }
    T&& operator*() && { return std::get<T>(std::move(m_state)); }
    T* operator->() { return &std::get<T>(m_state); }
    const T* operator->() const { return &std::get<T>(m_state); }
    const Error& error() const { return std::get<Error>(m_state); }
    T value_or(T other) const { return has_value() ? **this : std::move(other); }

private:
    std::variant<T, Error> m_state;
};

/// Success or an Error.
template <>
class [[nodiscard]] Result<void> {
public:
    Result() = default;
    Result(Error error) : m_error(std::move(error)), m_failed(true) {}

    bool has_value() const { return !m_failed; }
    explicit operator bool() const { return has_value(); }
    const Error& error() const {
        assert(m_failed);
        return m_error;
    }

private:
    Error m_error;
    bool m_failed = false;
};

}  // namespace ledge
