#pragma once
#include <QString>
#include <vector>

#include "core/feature/feature_table.h"
#include "core/label/placement.h"
#include "document/id.h"

namespace ledge::carto {

/// What a label on a map is of.
struct LabelOf {
    doc::Id layer = 0;
    int set = 0;  ///< of the layer's label sets
    FeatureKey key = 0;
    int part = 0;  ///< of those that repeat along one feature
    auto operator<=>(const LabelOf&) const = default;
};

/// A label as it stands on a frame, in its pixels.
struct MapLabel {
    LabelOf of;
    QString text;
    Point anchor;  ///< what pins count from
    Point origin;  ///< left end of the baseline
    Point middle;  ///< of the text
    double angleRadians = 0;
    std::vector<Box> boxes;
    bool isPinned = false;
};

/// A label that found no place, and why.
struct LabelLeftOut {
    LabelOf of;
    QString text, why;
    Point anchor;
};

}  // namespace ledge::carto
