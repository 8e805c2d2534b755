#pragma once
#include "document/json/described_sheet.h"

/// The members of every struct of a project, each named once: styles, layers and sheets in files of
/// their own. A new member is a line; a new kind is its describe(). What a file lacks keeps the
/// struct's own default.
namespace ledge::doc {

// Edits of tables.

LEDGE_DESCRIBED(Field) {
    a("name", s.name);
    a("type", s.type);
}
LEDGE_DESCRIBED(CellEdit) {
    a("row", s.key);
    a("field", s.field);
    a.sparse("value", s.value);
}
LEDGE_DESCRIBED(GeometryEdit) {
    a("row", s.key);
    a("shape", s.geometry);
}
LEDGE_DESCRIBED(RowAdded) {
    a("row", s.key);
    a("shape", s.geometry);
}
LEDGE_DESCRIBED(RowRemoved) { a("row", s.key); }
LEDGE_DESCRIBED(ColumnAdded) { a("field", s.field); }
LEDGE_DESCRIBED(ColumnRemoved) { a("field", s.name); }
LEDGE_DESCRIBED(ColumnNamed) {
    a("field", s.from);
    a("name", s.to);
}
LEDGE_DESCRIBED(ColumnComputed) {
    a("field", s.name);
    a("formula", s.formula);
    a.sparse("rows", s.rows);
    a.sparse("live", s.isLive);
}

// Sources and what was derived from what.

LEDGE_DESCRIBED(ShiftGrid) {
    a.required("path", s.path);
    a("target", s.target);
}
LEDGE_DESCRIBED(Reading) {
    a.sparse("encoding", s.encoding);
    a.sparse("delimiter", s.delimiter);
    a.sparse("decimal_sign", s.decimalSign);
    a.sparse("header", s.hasHeader);
}
LEDGE_DESCRIBED(LineageInput) {
    if (a.has("address", !s.address.empty()))
        a("address", s.address);
    else
        a.required("path", s.path);
    a("height_unit", s.heightUnit);
    a("bytes", s.stamp.bytes);
    a("modified_ms", s.stamp.modifiedMs);
    a.sparse("name", s.name);
    a.sparse("layer", s.layer);
    a.sparse("reading", s.reading);
    a.sparse("band", s.band, kAtLeastZero);
    a.sparse("declared_crs", s.declaredCrs);
    a.sparse("shift_grid", s.shiftGrid);
}
LEDGE_DESCRIBED(Lineage) {
    a("operation", s.operation);
    a("inputs", s.inputs);
    a("parameters", s.parameters);
    a.sparse("remarks", s.remarks);
}
LEDGE_DESCRIBED(SourceRef) {
    a.required("id", s.id);
    a("name", s.name);
    // A live source is no file, nor is a service.
    if (a.has("lineage", s.lineage.has_value()) || a.has("address", !s.address.empty()))
        a.sparse("path", s.path);
    else
        a.required("path", s.path);
    a.sparse("address", s.address);
    a.sparse("layer", s.layer);
    a.sparse("reading", s.reading);
    a.sparse("declared_crs", s.declaredCrs);
    a.sparse("shift_grid", s.shiftGrid);
    a("height_unit", s.heightUnit);
    a.sparse("credit", s.credit);
    a.sparse("lineage", s.lineage);
    a.sparse("edits", s.edits);
}

// The project.

LEDGE_DESCRIBED(MapView) {
    a.required("centre", s.centre);
    a.required("scale", s.scale);
    a("rotation", s.rotation);
    a.then([&] {
        if constexpr (std::remove_reference_t<decltype(a)>::isReading)
            if (!(s.scale > 0)) s.scale = MapView{}.scale;
    });
}
LEDGE_DESCRIBED(SavedView) {
    a.required("id", s.id);
    a("name", s.name);
    describe(a, s.view);
    a("dark", s.dark);
}
LEDGE_DESCRIBED(SavedProfile) {
    a.required("id", s.id);
    a("name", s.name);
    a("crs", s.crs);
    a("line", s.line);
    a("sources", s.sources);
}
LEDGE_DESCRIBED(SavedQuestion) {
    a.required("id", s.id);
    a("name", s.name);
    a("layer", s.layer);
    a("keep", s.keep);
    a.sparse("near", s.near);
    a.sparse("relation", s.relation);
    a.sparse("near_keep", s.nearKeep);
    a.sparse("within_metres", s.withinMetres, kAtLeastZero);
}
LEDGE_DESCRIBED(CustomCrs) {
    a("name", s.name);
    a("wkt", s.wkt);
}
LEDGE_DESCRIBED(crs::DatumChoice) {
    a("one", s.one);
    a("other", s.other);
    a("operation", s.operation);
}
LEDGE_DESCRIBED(Display) {
    a("coordinates", s.coordinates);
    a("lengths", s.lengths);
}
LEDGE_DESCRIBED(Document) {
    a("name", s.name);
    a.sparse("author", s.author);
    a("map_crs", s.mapCrs);
    a("sources", s.sources);
    a("layers", s.layers);
    a("views", s.views);
    a("profiles", s.profiles);
    a.sparse("questions", s.questions);
    a("light_prefix", s.lightPrefix);
    a("sheets", s.sheets);
    a("custom_crs", s.customCrs);
    a("datum_operations", s.datumChoices);
    a("display", s.display);
    a("last_view", s.lastView);
}

#undef LEDGE_DESCRIBED

// What edits of tables are called, in the order of TableEdit.
inline constexpr std::array<const char*, 8> kTableEditNames{
    "cell",         "geometry",       "row added",    "row removed",
    "column added", "column removed", "column named", "column computed"};
static_assert(kTableEditNames.size() == std::variant_size_v<TableEdit>);

// What kinds are called, and an empty one of a name.

inline std::string kindName(const LayerContent& content) {
    if (const auto* unknown = std::get_if<UnknownLayer>(&content)) return unknown->kind;
    return std::visit([]<typename T>(const T&) { return std::string(kLayerKind<T>.name); },
                      content);
}
inline std::string kindName(const SheetContent& content) {
    if (const auto* unknown = std::get_if<UnknownItem>(&content)) return unknown->kind;
    return std::visit([]<typename T>(const T&) { return std::string(kItemKind<T>.name); }, content);
}
template <>
inline LayerContent contentNamed<LayerContent>(const std::string& name) {
    LayerContent out = UnknownLayer{name};
    forLayerKind(name, [&out](auto content) { out = std::move(content); });
    return out;
}
template <>
inline SheetContent contentNamed<SheetContent>(const std::string& name) {
    SheetContent out = UnknownItem{name};
    forItemKind(name, [&out](auto content) { out = std::move(content); });
    return out;
}

}  // namespace ledge::doc
