#pragma once
#include <string>
#include <vector>

#include "core/base/result.h"
#include "document/document.h"

/// Styles of features in OGC Styled Layer Descriptor 1.1.0 (05-078r4) with Symbology Encoding 1.1.0
/// (05-077r4), as far as those reach. Lengths on paper become pixels of 0.28 mm, as the standard
/// has them.
namespace ledge::session {

struct SldText {
    std::string text;
    std::vector<std::string> losses;  ///< what it cannot hold, in words
};
SldText writeSld(const doc::VectorLayer& layer, const std::string& name);

struct SldStyle {
    doc::VectorLayer layer;           ///< style and first label set; the rest as it was given
    std::vector<std::string> losses;  ///< what of the text was left out, in words
};
/// The first style of the first layer. One rule without a condition becomes one look; rules that
/// compare one field with texts become categories, with ranges of numbers classes; all else rules.
/// Errors: BadFormat for what is no XML, no descriptor, or holds no rule.
Result<SldStyle> readSld(const std::string& text, const doc::VectorLayer& before);

}  // namespace ledge::session
