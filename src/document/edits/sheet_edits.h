#pragma once
#include <functional>

#include "document/document.h"

namespace ledge::doc {

Document withSheet(Document document, Id id, const std::function<void(Sheet&)>& change);
Document withItem(Document document, Id sheet, Id item,
                  const std::function<void(SheetItem&)>& change);
/// On top of the others.
std::pair<Document, Id> addItem(Document document, Id sheet, SheetItem item);
Document removeItem(Document document, Id sheet, Id item);

/// A new sheet of a size in millimetres with a map panel that looks where `view` does (fitted to
/// the panel by its centre and scale), title, legend, scale bar, north arrow and credits.
std::pair<Document, Id> addSheet(Document document, const std::string& name, double widthMm,
                                 double heightMm, const MapView& view);
Document removeSheet(Document document, Id id);
/// Another page size; when `fits`, items keep their place relative to the edges they are near.
Document resizeSheet(Document document, Id id, double widthMm, double heightMm, bool fits);

/// Saves a view; one of the same name is replaced.
std::pair<Document, Id> saveView(Document document, const std::string& name, const MapView& view);
Document removeView(Document document, Id id);
Document renameView(Document document, Id id, const std::string& name);
/// Keeps a profile (its id is given here and returned); one of the same name is replaced.
std::pair<Document, Id> saveProfile(Document document, SavedProfile profile);
Document removeProfile(Document document, Id id);
Document renameProfile(Document document, Id id, const std::string& name);
/// Lights the lamps as the view had them.
Document withLampsOf(Document document, Id view);

/// Scale denominator from a round series (1, 1.25, 1.5, 2, 2.5, 3, 4, 5, 6, 8 x 10^n) not below
/// `denominator`.
double roundScale(double denominator);

}  // namespace ledge::doc
