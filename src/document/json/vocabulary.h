#pragma once
#include <array>
#include <concepts>
#include <string>
#include <type_traits>

/// What descriptions are made of, without anything of how they are read and written.
namespace ledge::doc {

/// The two numbers that a member is kept between.
struct Between {
    double low, high;
};
inline constexpr Between kAtLeastZero{0, 1e300};

/// Names of an enumeration's values in projects, in its order; a specialisation each.
template <typename E>
inline constexpr std::array<const char*, 0> kNames{};

/// A struct that has a describe().
template <typename T>
struct IsDescribed : std::false_type {};

template <typename S, typename T>
concept Is = std::same_as<std::remove_const_t<S>, T>;

/// An empty alternative of a kind's name; of an unknown one what keeps the name.
template <typename V>
V contentNamed(const std::string& name);

/// The value of an enumeration by its name; the first for others.
template <typename E>
E named(const std::string& word) {
    for (std::size_t i = 0; i < kNames<E>.size(); ++i)
        if (word == kNames<E>[i]) return static_cast<E>(i);
    return {};
}

}  // namespace ledge::doc
