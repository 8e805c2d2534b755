#include "core/crs/grid_reference.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <string>

namespace ledge::crs {
namespace {
constexpr double kSquare = 100000, kCycle = 2000000;
// Bands of 8 degrees from 80 south; no I and no O. The last has 12 degrees.
constexpr std::string_view kBands = "CDEFGHJKLMNPQRSTUVWX";
// The lowest northing of each, as the standard rounds it down to whole squares.
constexpr double kLowest[] = {1.1e6, 2.0e6, 2.8e6, 3.7e6, 4.6e6, 5.5e6, 6.4e6, 7.3e6, 8.2e6, 9.1e6,
                              0,     0.8e6, 1.7e6, 2.6e6, 3.5e6, 4.4e6, 5.3e6, 6.2e6, 7.0e6, 7.9e6};
// Columns of squares repeat each three zones, rows each 20 squares.
constexpr std::string_view kColumns[] = {"ABCDEFGH", "JKLMNPQR", "STUVWXYZ"};
constexpr std::string_view kRows = "ABCDEFGHJKLMNPQRSTUV";

// What is asked for in the polar regions: letters of columns and rows, and where they begin.
struct Polar {
    char band;
    int code;
    std::string_view columns;
    double easting;
    std::string_view rows;
    double northing;
};
constexpr Polar kPolar[] = {
    {'A', 32761, "JKLPQRSTUXYZ", 0.8e6, "ABCDEFGHJKLMNPQRSTUVWXYZ", 0.8e6},
    {'B', 32761, "ABCFGHJKLPQR", 2.0e6, "ABCDEFGHJKLMNPQRSTUVWXYZ", 0.8e6},
    {'Y', 32661, "JKLPQRSTUXYZ", 0.8e6, "ABCDEFGHJKLMNP", 1.3e6},
    {'Z', 32661, "ABCFGHJ", 2.0e6, "ABCDEFGHJKLMNP", 1.3e6},
};

std::optional<double> placed(std::string_view letters, char letter) {
    const auto at = letters.find(letter);
    if (at == letters.npos) return {};
    return static_cast<double>(at) * kSquare;
}

std::optional<GridReference> polarSquare(char band, char column, char row) {
    for (const Polar& one : kPolar) {
        if (one.band != band) continue;
        const auto x = placed(one.columns, column), y = placed(one.rows, row);
        if (!x || !y) return {};
        return GridReference{one.code, {one.easting + *x, one.northing + *y}, kSquare};
    }
    return {};
}

std::optional<GridReference> zoneSquare(int zone, char band, char column, char row) {
    const auto at = kBands.find(band);
    if (zone < 1 || zone > 60 || at == kBands.npos) return {};
    const auto x = placed(kColumns[(zone - 1) % 3], column);
    auto y = placed(kRows, row);
    if (!x || !y) return {};
    if (zone % 2 == 0) *y = std::fmod(*y + kCycle - 5 * kSquare, kCycle);  // they begin with F
    // The first of the rows of that letter that is not below the band.
    const double lowest = kLowest[at];
    const double northing = *y + std::ceil((lowest - *y) / kCycle - 1e-9) * kCycle;
    const bool isNorth = band >= 'N';
    return GridReference{(isNorth ? 32600 : 32700) + zone, {kSquare + *x, northing}, kSquare};
}
}  // namespace

std::optional<GridReference> parseGridReference(std::string_view text) {
    std::string word;
    for (const char c : text)
        if (!std::isspace(static_cast<unsigned char>(c)))
            word += static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    std::size_t at = 0;
    int zone = 0;
    while (at < word.size() && at < 2 && std::isdigit(static_cast<unsigned char>(word[at])))
        zone = zone * 10 + (word[at++] - '0');
    if (word.size() < at + 3) return {};
    const auto square = at == 0 ? polarSquare(word[0], word[1], word[2])
                                : zoneSquare(zone, word[at], word[at + 1], word[at + 2]);
    if (!square) return {};
    const std::string digits = word.substr(at + 3);
    const bool areDigits = std::all_of(digits.begin(), digits.end(), [](char c) {
        return std::isdigit(static_cast<unsigned char>(c)) != 0;
    });
    if (!areDigits || digits.size() % 2 != 0 || digits.size() > 10) return {};
    GridReference out = *square;
    const std::size_t count = digits.size() / 2;
    out.side = kSquare / std::pow(10.0, static_cast<double>(count));
    if (count > 0) {
        out.at.x += std::stod(digits.substr(0, count)) * out.side;
        out.at.y += std::stod(digits.substr(count)) * out.side;
    }
    out.at.x += out.side / 2;
    out.at.y += out.side / 2;
    return out;
}

}  // namespace ledge::crs
