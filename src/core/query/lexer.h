#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/query/tree.h"

namespace ledge::query {

struct Token {
    enum class Kind : std::uint8_t { Name, QuotedName, Text, Whole, Real, Sign, End };
    Kind kind = Kind::End;
    std::string text;  ///< of names and texts without their quotes; else as it stands
    Place at;
    /// Whether it is this word, in any case; quoted names are no words.
    bool isWord(std::string_view word) const;
    bool isSign(std::string_view sign) const { return kind == Kind::Sign && text == sign; }
    /// For messages: "the end", or what stands there.
    std::string shown() const;
};

/// The pieces of a text; the last is the end. Errors: InvalidArgument for what can't be a piece.
Result<std::vector<Token>> tokens(const std::string& text, Place* place);

}  // namespace ledge::query
