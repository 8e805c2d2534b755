#include "session/typed_position.h"

#include <cmath>
#include <vector>

#include "core/base/numbers.h"
#include "core/crs/catalogue.h"
#include "core/crs/grid_reference.h"
#include "core/crs/transformation.h"

namespace ledge::session {
namespace {
struct Token {
    enum class Kind : std::uint8_t { Number, Degrees, Minutes, Seconds, Wind, Comma, Colon };
    Kind kind = Kind::Number;
    double number = 0;
    bool isNegative = false, isWhole = true;
    char wind = 0;
};
using Kind = Token::Kind;

// One angle or length: up to three numbers and perhaps a wind.
struct Part {
    std::vector<Token> numbers;
    char wind = 0;
};

// Spellings of one sign become one byte.
std::string simplified(std::string text) {
    const std::pair<std::string_view, std::string_view> spellings[] = {
        {"\u2212", "-"}, {"\u2013", "-"},  {"\u00B0", "d"},  {"\u00BA", "d"}, {"\u2032", "'"},
        {"\u2019", "'"}, {"\u2033", "\""}, {"\u201D", "\""}, {"''", "\""},    {"\u00A0", " "},
        {"\u2009", ""},  {"\u202F", ""},   {"deg", "d"},     {"min", "'"},    {"sec", "\""}};
    text = lowered(text);
    for (const auto& [from, to] : spellings)
        for (auto at = text.find(from); at != text.npos; at = text.find(from, at + to.size()))
            text.replace(at, from.size(), to);
    return text;
}

std::optional<std::vector<Token>> tokens(const std::string& text) {
    std::vector<Token> out;
    for (std::size_t at = 0; at < text.size();) {
        const char c = text[at];
        const auto mark = [&](Kind kind) {
            out.push_back({kind});
            ++at;
        };
        if (std::isdigit(static_cast<unsigned char>(c)) || c == '.' || c == '-' || c == '+') {
            std::size_t end = at + 1;
            while (end < text.size() &&
                   (std::isdigit(static_cast<unsigned char>(text[end])) || text[end] == '.'))
                ++end;
            const std::string word =
                text.substr(c == '+' ? at + 1 : at, end - (c == '+' ? at + 1 : at));
            const auto number = parseNumber(word);
            if (!number) return {};
            out.push_back({Kind::Number, std::abs(*number), c == '-', word.find('.') == word.npos});
            at = end;
        } else if (c == 'd') {
            mark(Kind::Degrees);
        } else if (c == '\'') {
            mark(Kind::Minutes);
        } else if (c == '"') {
            mark(Kind::Seconds);
        } else if (c == ':') {
            mark(Kind::Colon);
        } else if (c == ',' || c == ';') {
            mark(Kind::Comma);
        } else if (c == 'n' || c == 's' || c == 'e' || c == 'w') {
            out.push_back({Kind::Wind, 0, false, true, c});
            ++at;
        } else if (c == 'm') {
            // Minutes behind degrees; else metres, which lengths are anyway.
            const bool isMinute = out.size() >= 2 && out[out.size() - 2].kind == Kind::Degrees;
            if (isMinute) out.push_back({Kind::Minutes});
            ++at;
        } else if (std::isspace(static_cast<unsigned char>(c))) {
            ++at;
        } else {
            return {};
        }
    }
    return out;
}

std::size_t countNumbers(const std::vector<Token>& all) {
    std::size_t out = 0;
    for (const Token& one : all) out += one.kind == Kind::Number ? 1 : 0;
    return out;
}

// Where the second of the two begins: after a comma, at a wind, at a sign, at the second degrees,
// after colons end, or in the middle.
std::optional<std::pair<Part, Part>> halves(const std::vector<Token>& all) {
    std::vector<std::size_t> winds, commas, degrees, numbers;
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (all[i].kind == Kind::Wind) winds.push_back(i);
        if (all[i].kind == Kind::Comma) commas.push_back(i);
        if (all[i].kind == Kind::Degrees) degrees.push_back(i);
        if (all[i].kind == Kind::Number) numbers.push_back(i);
    }
    if (numbers.size() < 2 || numbers.size() > 6) return {};
    std::size_t split = numbers[numbers.size() / 2];
    if (winds.size() == 2)
        split = winds[0] < numbers[0] ? winds[1] : winds[0] + 1;
    else if (!winds.empty())
        return {};
    else if (commas.size() == 1)
        split = commas[0];
    else if (degrees.size() == 2)
        split = degrees[1] - 1;
    else {
        for (std::size_t i = 1; i < numbers.size(); ++i)
            if (all[numbers[i]].isNegative) split = numbers[i];
        bool wasColon = false;  // "61:35:12 10:40": the blank where no colon joins
        for (std::size_t i = 1; i < numbers.size(); ++i) {
            const bool joins = numbers[i] > 0 && all[numbers[i] - 1].kind == Kind::Colon;
            if (wasColon && !joins) split = numbers[i];
            wasColon = wasColon || joins;
        }
        const bool isOdd = numbers.size() % 2 == 1;
        if (isOdd && split == numbers[numbers.size() / 2] && !wasColon) return {};
    }
    std::pair<Part, Part> out;
    for (std::size_t i = 0; i < all.size(); ++i) {
        Part& into = i < split ? out.first : out.second;
        if (all[i].kind == Kind::Number) into.numbers.push_back(all[i]);
        if (all[i].kind == Kind::Wind) into.wind = all[i].wind;
    }
    if (out.first.numbers.empty() || out.second.numbers.empty()) return {};
    return out;
}

std::optional<double> valueOf(const Part& part) {
    if (part.numbers.size() > 3) return {};
    double out = 0, unit = 1;
    for (std::size_t i = 0; i < part.numbers.size(); ++i) {
        const Token& one = part.numbers[i];
        if (i > 0 && (one.number >= 60 || one.isNegative)) return {};
        if (i + 1 < part.numbers.size() && !one.isWhole) return {};
        out += one.number * unit;
        unit /= 60;
    }
    const bool isMinus = part.numbers.front().isNegative != (part.wind == 's' || part.wind == 'w');
    return isMinus ? -out : out;
}

bool isAlongNorth(char wind) { return wind == 'n' || wind == 's'; }

std::optional<Point> onMap(const Point& at, int code, const crs::CrsPtr& mapCrs) {
    if (!mapCrs) return {};
    const auto from = crs::crsFromCode(code);
    if (!from) return {};
    const auto way = crs::Transformation::between(*from, mapCrs);
    if (!way) return {};
    const Point p = way->forward(at);
    return p.isFinite() ? std::optional(p) : std::nullopt;
}
}  // namespace

std::optional<Point> typedPosition(const std::string& typed, const crs::CrsPtr& mapCrs) {
    if (const auto square = crs::parseGridReference(typed))
        return onMap(square->at, square->code, mapCrs);
    const auto all = tokens(simplified(typed));
    if (!all || countNumbers(*all) < 2) return {};
    const auto parts = halves(*all);
    if (!parts) return {};
    const auto first = valueOf(parts->first), second = valueOf(parts->second);
    if (!first || !second) return {};
    const char one = parts->first.wind, other = parts->second.wind;
    if (one != 0 && isAlongNorth(one) == isAlongNorth(other)) return {};
    const bool isPair = parts->first.numbers.size() == 1 && parts->second.numbers.size() == 1;
    // Degrees are told latitude first, lengths easting first.
    const bool northFirst = one != 0 && isAlongNorth(one);
    const double latitude = one == 0 || northFirst ? *first : *second;
    const double longitude = one == 0 || northFirst ? *second : *first;
    const bool fitsDegrees = std::abs(latitude) <= 90 && std::abs(longitude) <= 360;
    if (isPair && (!mapCrs || !fitsDegrees))
        return northFirst ? Point{*second, *first} : Point{*first, *second};
    if (!fitsDegrees) return {};
    return onMap({longitude, latitude}, 4326, mapCrs);
}

}  // namespace ledge::session
