#pragma once
#include <QPainter>
#include <map>

#include "carto/label_text.h"
#include "carto/map_frame.h"
#include "carto/map_label.h"
#include "core/label/label_scene.h"
#include "document/drawing_data.h"

namespace ledge::carto {

/// Where a label stood on the frame before.
struct LabelPlace {
    Point origin;  ///< in the map's coordinates
    double angleRadians = 0;
    std::vector<Box> boxes;  ///< in that frame's pixels
};
using LabelPlaces = std::map<LabelOf, LabelPlace>;

/// What labels are painted on: those that were seen at the same place on the frame before apart
/// from those that come. May be one and the same.
struct LabelPainters {
    QPainter& standing;
    QPainter& coming;
};

/// Gathers what is written on a frame into one scene, and paints the labels of it: those of
/// features are wishes, heights that stand along contours are pins. Lines and edges of layers weigh
/// against labels over them. A rank makes three sizes: rank 3 and above 1.4 times, rank 2 1.15
/// times the size set.
class NameLabels {
public:
    /// `before`: labels stay where they stood while there is room.
    NameLabels(const MapFrame& frame, const LabelPlaces* before = nullptr,
               label::Effort effort = label::Effort::Improved)
        : m_frame(frame), m_before(before),
          m_scene({0, 0, double(frame.widthPx), double(frame.heightPx)}, effort) {}
    /// A label that another painter writes where it stands.
    void pin(label::Key key, const std::vector<Box>& boxes);
    /// Adds the labels of a layer, its point marks as obstacles, its lines as what to keep off.
    void add(const doc::MapFeatures& features, const doc::VectorLayer& layer, doc::Id id);

    struct Outcome {
        std::vector<MapLabel> placed;
        std::vector<LabelLeftOut> leftOut;
    };
    Outcome paint(const LabelPainters& painters);

private:
    struct Wish {
        LabelOf of;
        LabelText text;
        Point anchor;
        std::vector<Point> line;  ///< that letters are set along
        std::vector<double> advances;
        double lift = 0;
        bool isPinned = false;
        bool mayLead = false;  ///< a line leads from it to what it names
        TextAlign align = TextAlign::Centre;
    };
    struct Maker;

    void keepOff(const doc::MapFeatures& features, const doc::VectorLayer& layer,
                 std::span<const std::size_t> rows);
    void addSet(const doc::MapFeatures& features, const doc::VectorLayer& layer, doc::Id id,
                int set, std::span<const std::size_t> rows);
    void addWish(Wish wish, label::Request request, std::optional<label::Candidate> pin = {});
    void leaveOut(const Wish& wish, const QString& why);
    void draw(QPainter& painter, const Wish& wish, const label::Candidate& at) const;
    Point middleOf(const Wish& wish, const label::Candidate& at) const;
    bool stoodThere(const Wish& wish, const label::Candidate& at) const;

    const MapFrame& m_frame;
    const LabelPlaces* m_before;
    label::Scene m_scene;
    std::map<std::size_t, Wish> m_wishes;  ///< by their numbers in the scene
    std::vector<LabelLeftOut> m_leftOut;
};

}  // namespace ledge::carto
