#include "core/geometry/measure.h"
#include "core/geometry/relate.h"
#include "core/geometry/wkt_shape.h"
#include "core/query/function_table.h"

namespace ledge::query {
namespace {
// Of the feature's own shape when none is given.
Function ofShape(std::string_view name, std::string_view help, Kind gives, void (*apply)(Row&)) {
    return {name, Topic::Shapes, "shape", help, {Takes::Shape}, 0, gives, apply};
}
Point anchor(const Row& row) {
    const GeometryView g = row.shape(0);
    return g.type == GeometryType::Point && g.points.size() == 1 ? g.points[0] : centroidOf(g);
}
double planeDistance(const Row& row) {
    static const globe::GroundMeasure plane{nullptr};
    return plane.distance(row.shape(0), row.shape(1));
}
}  // namespace

std::vector<Function> shapeFunctions() {
    return {
        ofShape("area", "Square metres on the ellipsoid", Kind::Real,
                [](Row& row) { row.set(row.ground().area(row.shape(0))); }),
        ofShape("length", "Metres of a line, or around an area, on the ellipsoid", Kind::Real,
                [](Row& row) { row.set(row.ground().length(row.shape(0))); }),
        {"distance",
         Topic::Shapes,
         "shape, shape",
         "Metres between the nearest points of two shapes, on the ellipsoid",
         {Takes::Shape, Takes::Shape},
         2,
         Kind::Real,
         [](Row& row) { row.set(row.ground().distance(row.shape(0), row.shape(1))); }},
        ofShape("planar_area", "Area in the plane of the CRS, in its unit", Kind::Real,
                [](Row& row) { row.set(planarArea(row.shape(0))); }),
        ofShape("planar_length", "Length in the plane of the CRS, in its unit", Kind::Real,
                [](Row& row) {
                    row.set(row.shape(0).type == GeometryType::Point ? 0
                                                                     : planarLength(row.shape(0)));
                }),
        {"planar_distance",
         Topic::Shapes,
         "shape, shape",
         "Distance in the plane of the CRS, in its unit",
         {Takes::Shape, Takes::Shape},
         2,
         Kind::Real,
         [](Row& row) { row.set(planeDistance(row)); }},
        ofShape("centroid", "Centre of gravity; it may lie outside", Kind::Shape,
                [](Row& row) { row.set(Geometry::point(centroidOf(row.shape(0)))); }),
        ofShape("point_inside", "A point well inside, where a name would stand", Kind::Shape,
                [](Row& row) { row.set(Geometry::point(anchorOf(row.shape(0)))); }),
        ofShape("x", "Easting or longitude of a point, of the centroid else", Kind::Real,
                [](Row& row) { row.set(anchor(row).x); }),
        ofShape("y", "Northing or latitude of a point, of the centroid else", Kind::Real,
                [](Row& row) { row.set(anchor(row).y); }),
        ofShape("longitude", "Degrees east, of a point or the centroid", Kind::Real,
                [](Row& row) {
                    const Point at = anchor(row);
                    row.set(row.ground().degrees({&at, 1})[0].x);
                }),
        ofShape("latitude", "Degrees north, of a point or the centroid", Kind::Real,
                [](Row& row) {
                    const Point at = anchor(row);
                    row.set(row.ground().degrees({&at, 1})[0].y);
                }),
        ofShape("corners", "Number of its points", Kind::Integer,
                [](Row& row) { row.set(static_cast<std::int64_t>(row.shape(0).points.size())); }),
        ofShape("parts", "Number of its points, lines or areas", Kind::Integer,
                [](Row& row) {
                    const GeometryView g = row.shape(0);
                    row.set(static_cast<std::int64_t>(
                        g.type == GeometryType::Polygon ? g.polygons.size() : g.partCount()));
                }),
        ofShape("wkt", "As well-known text", Kind::Text,
                [](Row& row) { row.set(wktOf(row.shape(0))); }),
    };
}

}  // namespace ledge::query
