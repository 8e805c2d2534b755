#pragma once
#include <string>

#include "core/base/result.h"
#include "document/document.h"

/// Labels placed by hand as a table of their own: what another project, or another program, goes on
/// with.
namespace ledge::session {

/// CSV: key,right_mm,down_mm,turn,scale,hidden,text. Offsets are empty for labels that are only
/// hidden or worded by hand.
std::string pinsCsv(const doc::LabelStyle& labels);

/// A label set with the places of such a text in place of its own. Columns may stand in any order;
/// only "key" must be there. Errors: BadFormat with the line.
Result<doc::LabelStyle> withPins(const doc::LabelStyle& labels, const std::string& csv);

}  // namespace ledge::session
