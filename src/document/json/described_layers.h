#pragma once
#include "document/json/described_style.h"

/// The members of layers: what each kind has beside what all have.
namespace ledge::doc {

LEDGE_DESCRIBED(Group) {
    a("folded", s.isFolded);
    a("layers", s.children);
}
LEDGE_DESCRIBED(ColumnLook) {
    a("field", s.field);
    a.sparse("hidden", s.isHidden);
    a.sparse("placed", s.isPlaced);
    a.sparse("frozen", s.isFrozen);
    a.sparse("percent", s.isPercent);
    a.sparse("unit", s.unit);
    a("numbers", s.numbers);
    a.sparse("dates", s.dates);
}
LEDGE_DESCRIBED(VectorLayer) {
    a("geometry", s.geometry);
    a.sparse("filter", s.filter);
    a.sparse("columns", s.columns);
    a("style", s.style);
    a("labels", s.labels);
    a("keeps_labels_off", s.keepsLabelsOff, Between{0, 100});
}
LEDGE_DESCRIBED(RasterLayer) { a("style", s.style); }
LEDGE_DESCRIBED(HeightTint) { a("style", s.style); }
LEDGE_DESCRIBED(Hillshade) { a("style", s.style); }
LEDGE_DESCRIBED(Steepness) { a("style", s.style); }
LEDGE_DESCRIBED(Contours) { a("style", s.style); }
LEDGE_DESCRIBED(GridLines) { a("style", s.style); }
LEDGE_DESCRIBED(UnknownLayer) { (void)a, (void)s; }  // its members are kept as they were
LEDGE_DESCRIBED(Layer) {
    a.required("id", s.id);
    a.kind("kind", s.content, "vector");
    a("name", s.name);
    a("visible", s.isVisible);
    a("opacity", s.opacity, Between{0, 1});
    a("blend", s.blend);
    a.sparse("source", s.source);
    a.sparse("widest_scale", s.widestScale, kAtLeastZero);
    a.sparse("closest_scale", s.closestScale, kAtLeastZero);
    a.membersOf(s.content);
}

}  // namespace ledge::doc
