#pragma once
#include <memory>
#include <utility>

namespace ledge::doc {

/// A value that its copies share: a copy costs a pointer, and comparing one with its copy no look
/// at the value. It never changes in place; change() makes a new one. Never empty.
template <typename T>
class Shared {
public:
    Shared() : Shared(T{}) {}
    Shared(T value) : m_value(std::make_shared<const T>(std::move(value))) {}

    const T& operator*() const { return *m_value; }
    const T* operator->() const { return m_value.get(); }
    operator const T&() const { return *m_value; }

    /// A copy of the value that `change` was done to takes its place here.
    template <typename Change>
    void change(const Change& change) {
        T next = *m_value;
        change(next);
        m_value = std::make_shared<const T>(std::move(next));
    }
    bool isSameAs(const Shared& other) const { return m_value == other.m_value; }
    bool operator==(const Shared& o) const {
        return m_value == o.m_value || *m_value == *o.m_value;
    }

private:
    std::shared_ptr<const T> m_value;
};

}  // namespace ledge::doc
