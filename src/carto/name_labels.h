#pragma once
#include <QPainter>
#include <map>

#include "carto/map_frame.h"
#include "carto/text.h"
#include "core/label/label_scene.h"
#include "document/drawing_data.h"

namespace ledge::carto {

/// Gathers what is written on a frame into one scene, and paints the names of it: names of features
/// are wishes, heights that stand along contours are pins.
/// A rank field makes three sizes: rank 3 and above 1.4 times, rank 2 1.15 times the size set.
class NameLabels {
public:
    struct Count {
        int placed = 0, withoutRoom = 0;
    };

    explicit NameLabels(const MapFrame& frame)
        : m_frame(frame), m_scene({0, 0, double(frame.widthPx), double(frame.heightPx)}) {}
    /// A label that another painter writes where it stands.
    void pin(label::Key key, const std::vector<Box>& boxes);
    /// Adds the names of a layer, where it has them, and its point marks as obstacles.
    void add(const doc::MapFeatures& features, const doc::VectorLayer& layer, doc::Id id);
    Count paint(QPainter& painter) const;

private:
    void addName(const FeatureView& feature, const QString& name, double rank,
                 const doc::VectorLayer& layer, doc::Id id);

    const MapFrame& m_frame;
    label::Scene m_scene;
    struct Name {
        QString text;
        TextStyle style;
    };
    std::map<std::size_t, Name> m_names;  ///< by the number of the wish
};

}  // namespace ledge::carto
