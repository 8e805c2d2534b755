#pragma once
#include <QImage>
#include <QPainter>
#include <deque>
#include <functional>
#include <map>
#include <tuple>

#include "carto/contour_painter.h"
#include "carto/map_frame.h"
#include "carto/map_label.h"
#include "carto/name_labels.h"
#include "carto/tile_store.h"
#include "document/drawing_data.h"
#include "document/layer_formulas.h"

namespace ledge::carto {

/// What went wrong with a layer while the rest was drawn.
struct LayerProblem {
    doc::Id layer = 0;
    std::string text;
};
struct MapReport {
    std::vector<LayerProblem> problems;
    std::vector<MapLabel> labels;
    std::vector<LabelLeftOut> leftOut;
};

/// The labels of a frame on transparent ground: those that were seen at the same place on the frame
/// before, and those that come with this one.
struct LabelPictures {
    QImage standing, coming;
};

/// A part of a map that a format keeps apart: pictures that lie beneath all vectors, a layer, the
/// labels. How opaque it is as a whole, and how it is blended, is not its painter's business.
struct MapPart {
    QString name;
    double opacity = 1;
    doc::Blend blend = doc::Blend::Normal;
};

/// What formats that keep the parts of a map apart hook into.
struct PaintHooks {
    /// Told before each part that is painted.
    std::function<void(const MapPart&)> partBegins;
    /// Whether parts are blended by the format, so that vectors stay vectors.
    bool canBlend = false;
    /// Takes a picture in place of the painter, which has the place where it belongs.
    std::function<Result<void>(QPainter&, const QRectF&, const QImage&)> picture;
};

/// Draws maps and keeps the pictures of layers that are still right, so that a change of one layer
/// redraws only that one. One renderer for each place a map is shown; a call at a time.
class MapRenderer {
public:
    /// What is kept: pictures of the last frame, for what is drawn exactly where it is asked for,
    /// or tiles, for a map that is panned. Tiles want frames that are aligned to their lattice.
    enum class Keeping : std::uint8_t { Frame, Tiles };
    explicit MapRenderer(std::shared_ptr<const doc::DrawingData> data,
                         Keeping keeping = Keeping::Frame)
        : m_data(std::move(data)), m_keeping(keeping) {}

    /// Asked after each layer that takes its time with the map up to it, names left out.
    using Partial = std::function<void(const QImage&)>;

    /// The layers as a picture on a transparent ground. Layers that cannot be drawn are reported
    /// and left out. Errors: Cancelled.
    Result<QImage> picture(const doc::Document& document, const std::vector<doc::LayerPtr>& layers,
                           const MapFrame& frame, const Progress& progress, MapReport& report,
                           const Partial& partial = {});
    /// The same without labels, so that they hold nothing up.
    Result<QImage> ground(const doc::Document& document, const std::vector<doc::LayerPtr>& layers,
                          const MapFrame& frame, const Progress& progress, MapReport& report,
                          const Partial& partial = {});
    /// What is left to ground(): on it they give picture(). Reports, too, what formulas of the
    /// layers could not be worked out. Errors: Cancelled.
    Result<LabelPictures> labels(const doc::Document& document,
                                 const std::vector<doc::LayerPtr>& layers, const MapFrame& frame,
                                 const Progress& progress, MapReport& report);
    const TileStore& tiles() const { return m_tiles; }
    /// How labels are placed, for measuring what improving them brings.
    void setLabelEffort(label::Effort effort) { m_effort = effort; }

    /// The layers on a painter whose origin is the frame's: everything up to the topmost picture or
    /// blended layer flattened at the frame's resolution, a strip at a time, so that memory does
    /// not grow with the page; the rest as vectors. On a picture it paints what picture() gives.
    Result<void> paint(QPainter& painter, const doc::Document& document,
                       const std::vector<doc::LayerPtr>& layers, const MapFrame& frame,
                       const Progress& progress, MapReport& report, const PaintHooks& hooks = {});

private:
    struct Drawing;
    using Pictures = LayerPictures;
    struct Kept {
        doc::Layer layer;
        doc::SourceRef source;
        std::uint64_t data = 0;
        MapFrame frame;
        Pictures pictures;
    };
    struct KeptHeights {
        std::tuple<doc::Id, int, Resampling, bool> key;
        doc::SourceRef source;
        std::uint64_t data = 0;
        MapFrame frame;
        std::shared_ptr<const Grid<float>> heights;
    };
    struct KeptField {
        doc::SourceRef source;
        std::uint64_t data = 0;
        MapFrame frame;
        int smoothing = 0;
        std::shared_ptr<const ContourField> field;
    };
    struct KeptContours {
        doc::Layer layer;
        doc::SourceRef source;
        std::uint64_t data = 0;
        MapFrame frame;
        std::shared_ptr<const ContourDrawing> drawing;
    };
    struct KeptTroubles {
        std::vector<doc::LayerFormula> formulas;
        doc::SourceRef source;
        std::uint64_t data = 0;
        std::vector<std::string> said;
    };

    struct KeptSymbols {
        doc::VectorStyle style;
        std::vector<doc::LabelStyle> labels;
        std::vector<std::string> said;
    };

    Result<void> paintFlat(QPainter& painter, const doc::Document& document,
                           std::span<const doc::DrawnLayer> layers, const MapFrame& frame,
                           const Progress& progress, MapReport& report, std::size_t flat,
                           const PaintHooks& hooks);
    void beginPicture(const doc::Document& document, const std::vector<doc::LayerPtr>& layers);
    bool isLight(const doc::DrawnLayer& one, const doc::SourceRef& source,
                 const MapFrame& frame) const;
    Result<Pictures> layerPictures(const doc::Layer& layer, const doc::SourceRef& source,
                                   const MapFrame& frame, const Progress& progress);
    Result<Pictures> tiledPictures(const doc::Layer& layer, const doc::SourceRef& source,
                                   const MapFrame& frame, const Progress& progress);
    std::uint64_t versionOf(const doc::Layer& layer, const doc::SourceRef& source) const;
    Result<Pictures> drawLayer(const doc::Layer& layer, const doc::SourceRef& source,
                               const MapFrame& frame, const Progress& progress);
    Result<void> paintVectors(QPainter& painter, const doc::Layer& layer,
                              const doc::SourceRef& source, const MapFrame& frame,
                              const Progress& progress);
    Result<Pictures> drawRaster(const doc::RasterStyle& style, const doc::SourceRef& source,
                                const MapFrame& frame, const Progress& progress);
    Result<std::shared_ptr<const Grid<float>>> cells(const doc::SourceRef& source, int band,
                                                     Resampling resampling, const MapFrame& frame,
                                                     const Progress& progress,
                                                     bool isForRelief = false);
    std::vector<Box> standing(const MapFrame& frame) const;
    Result<std::shared_ptr<const ContourDrawing>> contours(const doc::Layer& layer,
                                                           const doc::SourceRef& source,
                                                           const MapFrame& frame,
                                                           const Progress& progress);
    Result<void> compose(QPainter& painter, const doc::Document& document,
                         std::span<const doc::DrawnLayer> layers, const MapFrame& frame,
                         const Progress& progress, MapReport& report, const Partial& partial = {});
    Result<void> tellTroubles(const doc::Document& document,
                              std::span<const doc::DrawnLayer> layers, const MapFrame& frame,
                              const Progress& progress, MapReport& report);
    std::vector<std::string> fontsAndDrawings(const doc::Layer& layer);
    Result<std::vector<std::string>> troublesOf(const doc::Layer& layer,
                                                const doc::SourceRef& source,
                                                const FeatureTable& table,
                                                const Progress& progress);
    void paintNames(const LabelPainters& painters, const doc::Document& document,
                    std::span<const doc::DrawnLayer> layers, const MapFrame& frame,
                    MapReport& report);
    void paintNamesOf(const LabelPainters& painters, const doc::Document& document,
                      std::span<const doc::DrawnLayer> layers, const MapFrame& frame,
                      const LabelPlaces& before, MapReport& report);

    std::shared_ptr<const doc::DrawingData> m_data;
    Keeping m_keeping;
    TileStore m_tiles;
    std::map<doc::Id, Kept> m_kept;
    std::map<doc::Id, KeptField> m_fields;        ///< by source
    std::map<doc::Id, std::size_t> m_damageTold;  ///< parts of a source told so far
    std::vector<std::string> m_newDamage;         ///< met since the last report
    std::deque<KeptHeights> m_heights;            ///< the latest first
    std::map<doc::Id, KeptContours> m_contours;
    std::map<doc::Id, KeptTroubles> m_troubles;
    std::map<doc::Id, KeptSymbols> m_symbolTroubles;
    std::map<doc::Id, doc::SourceRef> m_keptOff;  ///< by layer: whose areas take none of its dots
    /// Of a map that is panned: where labels stood, while its scale and turn are the same.
    MapFrame m_labelled;
    LabelPlaces m_labelPlaces;
    label::Effort m_effort = label::Effort::Improved;
};

/// Whether a layer is drawn as lines, areas and marks rather than as a picture.
bool isVectorKind(const doc::Layer& layer);

}  // namespace ledge::carto
