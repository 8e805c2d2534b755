#pragma once
#include <QPainter>

#include "carto/map_frame.h"
#include "carto/text.h"
#include "document/drawing_data.h"

namespace ledge::carto {

/// Gathers the names of a map's features, places them without overlap and paints them.
/// A rank field makes three sizes: rank 3 and above 1.4 times, rank 2 1.15 times the size set.
class NameLabels {
public:
    struct Count {
        int placed = 0, withoutRoom = 0;
    };

    explicit NameLabels(const MapFrame& frame) : m_frame(frame) {}
    void avoid(const std::vector<Box>& boxes);
    /// Adds the names of a layer, where it has them, and its point marks as obstacles.
    void add(const doc::MapFeatures& features, const doc::VectorLayer& layer);
    Count paint(QPainter& painter) const;

private:
    void addName(const FeatureView& feature, const QString& name, double rank,
                 const doc::VectorLayer& layer);

    const MapFrame& m_frame;
    std::vector<label::Request> m_requests;
    std::vector<QString> m_names;
    std::vector<TextStyle> m_styles;
    std::vector<Box> m_obstacles;
};

}  // namespace ledge::carto
