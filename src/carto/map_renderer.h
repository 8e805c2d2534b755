#pragma once
#include <QImage>
#include <QPainter>
#include <map>
#include <mutex>
#include <tuple>

#include "carto/contour_painter.h"
#include "carto/drawing_data.h"
#include "carto/map_frame.h"

namespace ledge::carto {

/// What went wrong with a layer while the rest was drawn.
struct LayerProblem {
    doc::Id layer = 0;
    std::string text;
};
struct MapReport {
    std::vector<LayerProblem> problems;
    int labelsPlaced = 0, labelsWithoutRoom = 0;
};

/// Draws maps and keeps the pictures of layers that are still right, so that a change of one layer
/// redraws only that one. One renderer for each place a map is shown; a call at a time.
class MapRenderer {
public:
    explicit MapRenderer(std::shared_ptr<const DrawingData> data) : m_data(std::move(data)) {}

    /// The layers as a picture on a transparent ground. Layers that cannot be drawn are reported
    /// and left out. Errors: Cancelled.
    Result<QImage> picture(const doc::Document& document, const std::vector<doc::LayerPtr>& layers,
                           const MapFrame& frame, const Progress& progress, MapReport& report);

    /// The layers on a painter whose origin is the frame's: everything up to the topmost picture or
    /// blended layer flattened at the frame's resolution, the rest as vectors.
    Result<void> paint(QPainter& painter, const doc::Document& document,
                       const std::vector<doc::LayerPtr>& layers, const MapFrame& frame,
                       const Progress& progress, MapReport& report);

private:
    struct Drawing;
    struct Pictures {
        QImage base, screen;  // `screen` only for shades laid over colour
    };
    struct Kept {
        doc::Layer layer;
        doc::SourceRef source;
        MapFrame frame;
        Pictures pictures;
    };
    struct KeptHeights {
        doc::SourceRef source;
        MapFrame frame;
        std::shared_ptr<const Grid<float>> heights;
    };
    struct KeptField {
        doc::SourceRef source;
        MapFrame frame;
        int smoothing = 0;
        std::shared_ptr<const ContourField> field;
    };
    struct KeptContours {
        doc::Layer layer;
        doc::SourceRef source;
        MapFrame frame;
        std::shared_ptr<const ContourDrawing> drawing;
    };

    Result<Pictures> layerPictures(const doc::Document& document, const doc::Layer& layer,
                                   const MapFrame& frame, const Progress& progress);
    Result<Pictures> drawLayer(const doc::Layer& layer, const doc::SourceRef& source,
                               const MapFrame& frame, const Progress& progress);
    Result<void> paintVectors(QPainter& painter, const doc::Layer& layer,
                              const doc::SourceRef& source, const MapFrame& frame,
                              const Progress& progress);
    Result<Pictures> drawRaster(const doc::RasterStyle& style, const doc::SourceRef& source,
                                const MapFrame& frame, const Progress& progress);
    Result<std::shared_ptr<const Grid<float>>> cells(const doc::SourceRef& source, int band,
                                                     Resampling resampling, const MapFrame& frame,
                                                     const Progress& progress);
    Result<std::shared_ptr<const ContourDrawing>> contours(const doc::Layer& layer,
                                                           const doc::SourceRef& source,
                                                           const MapFrame& frame,
                                                           const Progress& progress);
    Result<void> compose(QPainter& painter, const doc::Document& document,
                         std::span<const doc::DrawnLayer> layers, const MapFrame& frame,
                         const Progress& progress, MapReport& report);
    void paintNames(QPainter& painter, const doc::Document& document,
                    std::span<const doc::DrawnLayer> layers, const MapFrame& frame,
                    MapReport& report);

    std::shared_ptr<const DrawingData> m_data;
    std::map<doc::Id, Kept> m_kept;
    std::map<doc::Id, KeptField> m_fields;        ///< by source
    std::map<doc::Id, std::size_t> m_damageTold;  ///< parts of a source told so far
    std::vector<std::string> m_newDamage;         ///< met since the last report
    /// By source, band and resampling.
    std::map<std::tuple<doc::Id, int, Resampling>, KeptHeights> m_heights;
    std::map<doc::Id, KeptContours> m_contours;
};

/// Whether a layer is drawn as lines, areas and marks rather than as a picture.
bool isVectorKind(const doc::Layer& layer);

}  // namespace ledge::carto
