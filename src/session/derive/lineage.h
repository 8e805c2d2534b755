#pragma once
#include <functional>

#include "core/base/result.h"
#include "document/document.h"

namespace ledge::session {

/// Size and time of change of a file now; of nothing when it is not there.
doc::FileStamp stampOf(const std::filesystem::path& path);

/// A source as an input of something derived; its file is not looked at (see stamped()).
doc::LineageInput inputFrom(const doc::SourceRef& source, std::string name = {}, int band = 0);

/// How a strip that reads heights would be written to a file: hillshade, slope, height tint,
/// contours or (`isFilled`) the areas between them. Nothing for other strips.
std::optional<doc::Lineage> lineageOf(const doc::Layer& layer, const doc::SourceRef& source,
                                      bool isFilled = false);

/// "band1" for the first, 0.
std::string bandName(std::size_t band);
/// The bands that a formula may name, those of `first` in front: band1, band2 … for its own, the
/// source's name in small letters for others (with _band2, _band3 … for further bands). `bandsOf`
/// tells how many bands a source has; 0 for features.
std::vector<doc::LineageInput>
namedBands(const doc::Document& document, doc::Id first,
           const std::function<std::size_t(const doc::SourceRef&)>& bandsOf);
/// Band arithmetic over those of the bands that the formula names.
/// Errors: those of Expression::parse; InvalidArgument when it names none.
Result<doc::Lineage> calculation(const std::string& formula,
                                 const std::vector<doc::LineageInput>& bands);

/// Why a derived source no longer says what its inputs say, in words; empty when it does.
/// A source whose input is itself stale is stale too.
std::vector<std::string> staleReasons(const doc::Document& document, const doc::SourceRef& source);

/// The lineage with its inputs as the project has them now: declared CRS and height unit.
doc::Lineage brought(doc::Lineage lineage, const doc::Document& document);
/// With the stamps that its files have now, for what is being made from them. Looks at files.
doc::Lineage stamped(doc::Lineage lineage);

/// Says in the document that a file was derived so: the source of that file when the document has
/// one. The id is 0 when it has none.
std::pair<doc::Document, doc::Id>
withDerived(doc::Document document, const std::filesystem::path& path, const doc::Lineage& lineage);

}  // namespace ledge::session
