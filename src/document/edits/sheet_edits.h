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
/// A sheet as it is given, from a template, a file or another sheet: it and its items get ids of
/// this document, and what refers to one of them (panels of legends, pins, a series' panels) goes
/// on doing so. Layers that are not in the document are let go.
std::pair<Document, Id> addSheet(Document document, Sheet sheet);
/// Items on top of a sheet, alike: what refers to one another stays so, else to what the sheet has.
/// Those of a name and kind that the sheet has take its place.
Document addItems(Document document, Id sheet, std::vector<SheetItem> items);
Document removeSheet(Document document, Id id);
/// Another page size. Every item stays on the page. When `fits`, items of a page that grows keep
/// their distance from the edges they are near, those of one that shrinks their share of it; with
/// `fitsType` all keep their share, and sizes of type follow.
Document resizeSheet(Document document, Id id, double widthMm, double heightMm, bool fits,
                     bool fitsType = false);

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
