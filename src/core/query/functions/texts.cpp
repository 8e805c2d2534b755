#include <algorithm>
#include <cmath>

#include "core/base/letters.h"
#include "core/base/numbers.h"
#include "core/query/function_table.h"

namespace ledge::query {
namespace {
Function changed(std::string_view name, std::string_view help, void (*apply)(Row&)) {
    return {name, Topic::Texts, "text", help, {Takes::Text}, 1, Kind::Text, apply};
}

// Characters count from 1, as people count them.
void part(Row& row) {
    const double start = row.number(1), length = row.number(2, 1e9);
    if (!(start >= 1)) return row.fail("the first character is number 1");
    if (!(length >= 0)) return row.fail("a length below 0");
    const auto from = static_cast<std::size_t>(start) - 1;
    row.set(std::string(letters(row.text(0), from, static_cast<std::size_t>(length))));
}

void replaced(Row& row) {
    const std::string_view text = row.text(0), what = row.text(1), with = row.text(2);
    if (what.empty()) return row.set(std::string(text));
    std::string out;
    std::size_t at = 0;
    for (std::size_t hit; (hit = text.find(what, at)) != std::string_view::npos;) {
        out += text.substr(at, hit - at);
        out += with;
        at = hit + what.size();
    }
    row.set(out + std::string(text.substr(at)));
}

void joined(Row& row) {
    std::string out;
    for (std::size_t k = 0; k < row.count(); ++k)
        if (row.has(k)) out += exactText(row.value(k));
    row.set(out);
}

void written(Row& row) {
    if (row.kind(0) != Kind::Integer && row.kind(0) != Kind::Real)
        return row.set(exactText(row.value(0)));
    if (row.count() < 2) return row.set(exactText(row.value(0)));
    const double decimals = row.number(1);
    if (!(decimals >= 0 && decimals <= 15)) return row.fail("decimals go from 0 to 15");
    row.set(formatNumber(row.number(0), {static_cast<int>(decimals), false}));
}

void read(Row& row) {
    const auto number = parseNumber(row.text(0));
    if (!number) return row.fail("\"" + std::string(row.text(0)) + "\" is no number");
    row.set(*number);
}
}  // namespace

std::vector<Function> textFunctions() {
    return {
        changed("casei", "For comparing whatever the case",
                [](Row& row) { row.set(caseFolded(row.text(0))); }),
        changed("accenti", "For comparing whatever the accents",
                [](Row& row) { row.set(withoutAccents(row.text(0))); }),
        changed("upper", "In capitals", [](Row& row) { row.set(upperCased(row.text(0))); }),
        changed("lower", "In small letters", [](Row& row) { row.set(lowerCased(row.text(0))); }),
        changed("trim", "Without blanks around it",
                [](Row& row) { row.set(trimmed(row.text(0))); }),
        {"characters",
         Topic::Texts,
         "text",
         "Number of characters",
         {Takes::Text},
         1,
         Kind::Integer,
         [](Row& row) { row.set(static_cast<std::int64_t>(letterCount(row.text(0)))); }},
        {"part",
         Topic::Texts,
         "text, first, count",
         "Some of its characters, counted from 1",
         {Takes::Text, Takes::Number, Takes::Number},
         2,
         Kind::Text,
         part},
        {"replace",
         Topic::Texts,
         "text, what, with",
         "With one text put for another",
         {Takes::Text, Takes::Text, Takes::Text},
         3,
         Kind::Text,
         replaced},
        {"join",
         Topic::Texts,
         "value, value, \u2026",
         "One after the other; missing ones left out",
         {Takes::Anything},
         1,
         Kind::Text,
         joined,
         true,
         true},
        {"to_text",
         Topic::Texts,
         "value, decimals",
         "As a text; numbers with so many decimals",
         {Takes::Anything, Takes::Number},
         1,
         Kind::Text,
         written},
        {"to_number",
         Topic::Texts,
         "text",
         "The number that a text says",
         {Takes::Text},
         1,
         Kind::Real,
         read},
        {"begins",
         Topic::Texts,
         "text, start",
         "Whether a text begins so",
         {Takes::Text, Takes::Text},
         2,
         Kind::Boolean,
         [](Row& row) { row.set(row.text(0).starts_with(row.text(1))); }},
        {"holds",
         Topic::Texts,
         "text, part",
         "Whether a text has another in it",
         {Takes::Text, Takes::Text},
         2,
         Kind::Boolean,
         [](Row& row) { row.set(row.text(0).find(row.text(1)) != std::string_view::npos); }},
    };
}

}  // namespace ledge::query
