#pragma once
#include <string>

namespace ledge::query {

/// "Rain, mm: year_mm": what a column or page is called, and the field or formula it is of. Without
/// a name it is called as it is said.
struct NamedFormula {
    std::string name, formula;

    static NamedFormula of(const std::string& said) {
        const auto colon = said.find(": ");
        if (colon == std::string::npos) return {said, said};
        return {said.substr(0, colon), said.substr(colon + 2)};
    }
};

}  // namespace ledge::query
