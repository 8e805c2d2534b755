#pragma once
#include <QString>

#include "document/drawing_data.h"

namespace ledge::carto {

/// A text with its formulas worked out: {Crofts: sum(sheep)} is a formula of the Ask language over
/// the rows of the layer of that name. It stands for one value, so it says the same for each row.
/// What cannot be worked out is said in brackets; braces that name no layer stay.
QString withFormulas(const QString& text, const doc::Document& document,
                     const doc::DrawingData& data);

}  // namespace ledge::carto
