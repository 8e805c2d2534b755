#pragma once
#include <string>
#include <string_view>

namespace ledge::crs {

/// A datum's name as names are compared: letters and digits in lower case, "+" as a word, without
/// "D_" before and "ensemble" behind, and dialects' spellings turned into that of the EPSG dataset.
std::string normalisedDatum(std::string_view name);

/// Whether a name says that the datum is not known ("unknown", "not specified …", nothing at all).
bool isNamelessDatum(std::string_view normalised);

}  // namespace ledge::crs
