#include "core/query/trouble_with.h"

#include <algorithm>
#include <cctype>

#include "core/query/question.h"

namespace ledge::query {
namespace {
std::string firstWord(const std::string& text) {
    const auto isLetter = [](char c) {
        return c == '_' || std::isalnum(static_cast<unsigned char>(c));
    };
    const auto begin = std::find_if(text.begin(), text.end(), isLetter);
    return {begin, std::find_if_not(begin, text.end(), isLetter)};
}
}  // namespace

std::string troubleWith(const std::string& text, const std::vector<Field>& fields, Wanted wanted) {
    if (text.find_first_not_of(" \t\n") == std::string::npos) return {};
    LayerInfo layer;
    layer.fields = fields;
    const auto read = wanted == Wanted::Condition ? Question::condition(text, layer)
                                                  : Question::from(text, layer);
    if (read) return {};
    const Error& e = read.error();
    std::string out = e.why;
    // The text itself stands above.
    if (const auto of = out.find(" of \"", std::min(out.size(), out.find(" at character ")));
        of != std::string::npos)
        out.erase(of);
    // A sentence, unless it begins with what was typed.
    if (firstWord(out) != firstWord(text))
        out.front() = static_cast<char>(std::toupper(static_cast<unsigned char>(out.front())));
    return e.mend.empty() ? out : out + "; " + e.mend;
}

}  // namespace ledge::query
