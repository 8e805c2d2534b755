#pragma once
#include <QPainter>
#include <functional>

#include "carto/map_renderer.h"

namespace ledge::carto {

/// Paints what a panel shows, with the painter's origin at the panel's upper left corner and
/// clipped to it.
using PanelPainter = std::function<Result<void>(QPainter&, const doc::SheetItem&, const MapFrame&)>;

/// The layers a panel shows: frozen ones, or the map's.
const std::vector<doc::LayerPtr>& panelLayers(const doc::Document& document,
                                              const doc::MapPanel& panel);
/// A panel's frame at a resolution.
MapFrame panelFrame(const doc::Document& document, const doc::SheetItem& item, double pxPerMm);

/// A sheet on white paper, its upper left corner at the painter's origin. The same call serves
/// screen, PNG and PDF. `data` is read for profiles. Errors are those of the panels.
Result<void> paintSheet(QPainter& painter, const doc::Document& document, const doc::Sheet& sheet,
                        double pxPerMm, const doc::DrawingData& data,
                        const PanelPainter& paintPanel);

/// A text with its braces filled in: {project}, {sheet}, {crs}, {scale}, {date}. Unknown ones stay.
QString liveText(const std::string& text, const doc::Document& document, const doc::Sheet& sheet);

/// Credits of the sources that the sheet's panels draw, each once, then the text added.
QString creditsText(const doc::Document& document, const doc::Sheet& sheet,
                    const doc::CreditsItem& item);
/// Credits that no credits item on the sheet shows; export warns of them.
QStringList missingCredits(const doc::Document& document, const doc::Sheet& sheet);

/// Pixels of a page at a resolution: page size x dpi, rounded.
QSize pagePixels(const doc::Sheet& sheet, double dpi);

}  // namespace ledge::carto
