#pragma once
#include <QPainter>
#include <functional>

#include "carto/legend.h"
#include "carto/map_renderer.h"
#include "carto/sheet/live_text.h"
#include "carto/sheet/panel_frame.h"
#include "document/panels.h"

namespace ledge::carto {

/// Paints what a panel shows, with the painter's origin at the panel's upper left corner and
/// clipped to it.
using PanelPainter = std::function<Result<void>(QPainter&, const doc::SheetItem&, const MapFrame&)>;

/// A sheet on white paper, its upper left corner at the painter's origin. The same call serves
/// screen, pictures, PDF and SVG. `data` is read for all that is no map. Errors are those of the
/// panels; what else cannot be drawn leaves its reason where it would stand.
Result<void> paintSheet(QPainter& painter, const doc::Document& document, const doc::Sheet& sheet,
                        double pxPerMm, const doc::DrawingData& data,
                        const PanelPainter& paintPanel, const LivePage& page = {});

/// Where the content of an item lies: its rectangle without frame and padding, millimetres.
QRectF contentRect(const doc::SheetItem& item);
/// The legend of an item as it is on the sheet.
std::vector<LegendEntry> legendOf(const doc::Document& document, const doc::Sheet& sheet,
                                  const doc::LegendItem& item, const doc::DrawingData& data);
/// Lines of a text or credits item, wrapped to its width; the last line's foot tells what it needs.
QStringList linesOf(const doc::Document& document, const doc::Sheet& sheet,
                    const doc::SheetItem& item, const doc::DrawingData& data, double pxPerMm,
                    const LivePage& page = {});

/// Credits of the sources that the sheet's panels draw, each once.
QStringList gatheredCredits(const doc::Document& document, const doc::Sheet& sheet);
/// The same as an item words them, then the text added.
QString creditsText(const doc::Document& document, const doc::Sheet& sheet,
                    const doc::CreditsItem& item, const LivePage& page = {});
/// Credits that no credits item and no live text on the sheet shows; export warns of them.
QStringList missingCredits(const doc::Document& document, const doc::Sheet& sheet);

/// Pixels of a page at a resolution: page size x dpi, rounded.
QSize pagePixels(const doc::Sheet& sheet, double dpi);

}  // namespace ledge::carto
