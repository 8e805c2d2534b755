#include "core/query/trouble_with.h"

#include "core/query/question.h"

namespace ledge::query {

std::string troubleWith(const std::string& text, const std::vector<Field>& fields, Wanted wanted) {
    if (text.find_first_not_of(" \t\n") == std::string::npos) return {};
    LayerInfo layer;
    layer.fields = fields;
    const auto read = wanted == Wanted::Condition ? Question::condition(text, layer)
                                                  : Question::from(text, layer);
    if (read) return {};
    const Error& e = read.error();
    return e.mend.empty() ? e.why : e.why + "; " + e.mend;
}

}  // namespace ledge::query
