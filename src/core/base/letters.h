#pragma once
#include <string>
#include <string_view>

namespace ledge {

/// Case folded as Unicode has it (full folding: "Straße" and "STRASSE" are alike). Bytes that are
/// no UTF-8 become the replacement character.
std::string caseFolded(std::string_view text);
/// Without the marks that stand on or under letters: "Skerravøe" keeps its ø, "é" becomes "e".
std::string withoutAccents(std::string_view text);
std::string upperCased(std::string_view text);
std::string lowerCased(std::string_view text);
/// Number of characters (code points).
std::size_t letterCount(std::string_view text);
/// Characters from `start` (from 0), at most `count` of them.
std::string_view letters(std::string_view text, std::size_t start, std::size_t count);
/// How many letters have to be put in, left out, changed or exchanged with their neighbour to turn
/// one text into the other (Damerau 1964), by bytes.
std::size_t editsBetween(std::string_view one, std::string_view other);

}  // namespace ledge
