#pragma once
#include "core/feature/feature_table.h"

namespace ledge::derive {

/// A table with one more column of numbers, one for each row, NaN for none. Its name gets a number
/// behind it where there is such a field already.
FeatureTable withNumbers(const FeatureTable& table, Field field, const std::vector<double>& values);

/// Which columns of another table come in, and what they are called beside those of this one.
struct Incoming {
    std::vector<std::size_t> places;
    std::vector<Field> fields;
};
/// `columns`: all when empty, but for the one `without`. Errors: those of fieldPlace.
Result<Incoming> incoming(const FeatureTable& table, const FeatureTable& other,
                          const std::vector<std::string>& columns,
                          std::optional<std::size_t> without);

inline constexpr std::uint32_t kNoMatch = UINT32_MAX;
/// The table with columns of the rows of another that its own were matched with.
FeatureTable withColumnsOf(const FeatureTable& table, const FeatureTable& other, const Incoming& in,
                           const std::vector<std::uint32_t>& matches);

}  // namespace ledge::derive
