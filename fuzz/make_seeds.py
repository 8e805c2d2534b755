#!/usr/bin/env python3
"""Makes the corpus: small files of every format that is written, and texts of every kind.

Files with parts are packed as fuzz/targets.cpp unpacks them: each with its length before it, the
main file first, then its parts in the order of the table of formats.
"""
import json
import pathlib
import struct
import subprocess
import sys
import tempfile
import zipfile

ledge, corpus = pathlib.Path(sys.argv[1]).resolve(), pathlib.Path(sys.argv[2])
work = pathlib.Path(tempfile.mkdtemp())


def run(*words):
    subprocess.run([ledge, *map(str, words), "--quiet"], check=True, cwd=work)


def keep(target, name, content):
    folder = corpus / target
    folder.mkdir(parents=True, exist_ok=True)
    (folder / name).write_bytes(content if isinstance(content, bytes) else content.encode())


def packed(main, *suffixes):
    out = b""
    for path in [main] + [pathlib.Path(str(main) + s[1:]) if s.startswith("+") else main.with_suffix(s)
                          for s in suffixes]:
        content = path.read_bytes() if path.exists() else b""
        out += struct.pack("<I", len(content)) + content
    return out


def alone(content):
    return struct.pack("<I", len(content)) + content + struct.pack("<I", 0)


def feature(geometry, **properties):
    return {"type": "Feature", "geometry": geometry, "properties": properties}


shapes = {
    "points": [feature({"type": "Point", "coordinates": [-9.1, 61.2]}, name="Ness", people=12, share=0.25),
               feature({"type": "Point", "coordinates": [-9.0, 61.3, 40]}, name="Skerra", people=None)],
    "lines": [feature({"type": "MultiLineString", "coordinates": [[[0, 0], [1, 1], [2, 0]], [[179, 5], [-179, 6]]]},
                      since="2026-01-31", is_open=True)],
    "areas": [feature({"type": "MultiPolygon", "coordinates": [
        [[[0, 0], [4, 0], [4, 4], [0, 4], [0, 0]], [[1, 1], [1, 2], [2, 2], [2, 1], [1, 1]]],
        [[[5, 5], [6, 5], [6, 6], [5, 5]]]]}, kind="moor")],
}
for name, features in shapes.items():
    path = work / f"{name}.geojson"
    path.write_text(json.dumps({"type": "FeatureCollection", "features": features}))
    keep("GeoJSON", name, path.read_bytes())
    run("convert", path, f"{name}.gpkg")
    run("convert", path, f"{name}.shp", "--to-crs", "EPSG:32629" if name == "points" else "EPSG:4326")
    keep("shapefile", name, packed(work / f"{name}.shp", ".shx", ".dbf", ".cpg", ".prj"))
keep("GeoPackage", "areas", (work / "areas.gpkg").read_bytes())
for name in shapes:
    run("convert", f"{name}.gpkg", f"{name}_drawn.dxf")
    keep("DXF", name, packed(work / f"{name}_drawn.dxf", ".prj"))
run("convert", "areas.gpkg", "areas.kmz")
keep("KMZ", "areas", (work / "areas.kmz").read_bytes())
with zipfile.ZipFile(work / "areas.zip", "w") as archive:
    for suffix in (".shp", ".dbf", ".cpg", ".prj"):
        archive.write(work / f"areas{suffix}", f"data/areas{suffix}")
keep("zipped shapefile", "areas", (work / "areas.zip").read_bytes())
keep("DXF", "curves", alone(
    "\n".join(str(one) for one in [
        0, "SECTION", 2, "ENTITIES", 0, "LWPOLYLINE", 8, "moor", 70, 1, 38, 30, 10, 0, 20, 0, 42, 1, 10, 10, 20, 0,
        10, 10, 20, 10, 0, "ARC", 8, 0, 10, 0, 20, 0, 40, 2, 50, 270, 51, 90, 0, "ELLIPSE", 10, 0, 20, 0, 11, 4, 21,
        0, 40, 0.5, 0, "TEXT", 8, "names", 10, 3, 20, 4, 1, "H\\U+00E6%%d", 0, "INSERT", 2, "b", 0, "ENDSEC", 0,
        "EOF", ""]).encode()))
keep("GML", "areas.gml", """<wfs:FeatureCollection xmlns:gml="http://www.opengis.net/gml/3.2" xmlns:c="urn:c"
 xmlns:wfs="urn:w"><wfs:member><c:Croft gml:id="c.1"><c:sheep>12</c:sheep><c:keeper><c:name>Ann</c:name></c:keeper>
<c:place><gml:MultiSurface srsName="urn:ogc:def:crs:EPSG::4326" srsDimension="2"><gml:surfaceMember><gml:Polygon>
<gml:exterior><gml:LinearRing><gml:posList>61 -9 61 -8 62 -8 61 -9</gml:posList></gml:LinearRing></gml:exterior>
</gml:Polygon></gml:surfaceMember></gml:MultiSurface></c:place></c:Croft></wfs:member><wfs:member><c:Path><c:line>
<gml:Curve srsName="EPSG:32629"><gml:segments><gml:Arc><gml:posList>1 0 0 1 -1 0</gml:posList></gml:Arc><gml:Circle>
<gml:posList>1 0 0 1 -1 0</gml:posList></gml:Circle></gml:segments></gml:Curve></c:line></c:Path></wfs:member>
</wfs:FeatureCollection>""")
keep("TopoJSON", "shared.topojson", json.dumps({
    "type": "Topology", "transform": {"scale": [0.5, 0.5], "translate": [100, 0]},
    "objects": {"things": {"type": "GeometryCollection", "geometries": [
        {"type": "Point", "id": 7, "properties": {"name": "well"}, "coordinates": [4, 6]},
        {"type": "LineString", "properties": {"n": 2}, "arcs": [0]},
        {"type": "Polygon", "arcs": [[-1, 1]]}]}, "one": {"type": "MultiLineString", "arcs": [[0], [1]]}},
    "arcs": [[[0, 0], [2, 0], [0, 2]], [[0, 0], [0, 2], [2, 0]]]}))
las = bytearray(227)
las[:4] = b"LASF"
las[24:26] = bytes([1, 2])
struct.pack_into("<HII", las, 94, 227, 227, 0)
struct.pack_into("<BHI", las, 104, 0, 20, 3)
struct.pack_into("<6d", las, 131, 0.01, 0.01, 0.01, 500000, 6800000, 0)
struct.pack_into("<6d", las, 179, 500010, 500000, 6800010, 6800000, 50, 1)
keep("LAS", "three", bytes(las) + b"".join(
    struct.pack("<iiiHBBbBH", 100 * i, 200 * i, 1000 + i, 77, 0x11, 2, 0, 0, 1) for i in range(3)))

(work / "heights.asc").write_text("ncols 5\nnrows 4\nxllcorner 500000\nyllcorner 6800000\ncellsize 10\n"
                                  "nodata_value -9999\n" + "1 2 3 4 5\n6 7 -9999 9 10\n1.5 2e1 3 4 5\n5 4 3 2 1\n")
keep("ASCII grid", "heights", packed(work / "heights.asc", ".prj"))
for name, more in {"plain": ["--compression", "none"], "lzw": ["--compression", "lzw"],
                   "deflate": [], "zstd": ["--compression", "zstd"], "overviews": ["--overviews"]}.items():
    run("convert", "heights.asc", f"{name}.tif", "--declare-crs", "EPSG:32629", *more)
    if name == "plain":
        continue  # a tile of doubles: large
    keep("GeoTIFF", name, packed(work / f"{name}.tif", "+.ovr", "+.msk", ".prj", ".tfw"))
run("terrain", "hillshade", "plain.tif", "light.tif")
keep("GeoTIFF", "bytes", packed(work / "light.tif", "+.ovr", "+.msk", ".prj", ".tfw"))
run("convert", "light.tif", "light.png")
run("convert", "light.tif", "light.jpg")
keep("PNG", "light", packed(work / "light.png", ".pgw", ".prj"))
keep("JPEG", "light", packed(work / "light.jpg", ".jgw", ".prj"))
(work / "grid.flt").write_bytes(struct.pack("<6f", 1, 2, 3, -9999, 5, 6))
(work / "grid.hdr").write_text("ncols 3\nnrows 2\nxllcorner 0\nyllcorner 50\ncellsize 0.5\nnodata_value -9999\n"
                               "byteorder LSBFIRST\n")
keep("binary grid", "grid", packed(work / "grid.flt", ".hdr", ".prj"))
keep("elevation tile", "short", struct.pack(">4h", 1, 2, 3, 4))


def record(name, value):
    return name.encode().ljust(8) + value


def count(n):
    return struct.pack("<i4x", n)


def number(x):
    return struct.pack("<d", x)


grid = (record("NUM_OREC", count(11)) + record("NUM_SREC", count(11)) + record("NUM_FILE", count(1)) +
        record("GS_TYPE", b"SECONDS ") + record("VERSION", b"1.0     ") + record("SYSTEM_F", b"OLD     ") +
        record("SYSTEM_T", b"NEW     ") + record("MAJOR_F", number(6377397.155)) +
        record("MINOR_F", number(6356078.963)) + record("MAJOR_T", number(6378137)) +
        record("MINOR_T", number(6356752.3142)) + record("SUB_NAME", b"MAIN    ") + record("PARENT", b"NONE    ") +
        record("CREATED", b"20260101") + record("UPDATED", b"20260101") + record("S_LAT", number(216000)) +
        record("N_LAT", number(219600)) + record("E_LONG", number(28800)) + record("W_LONG", number(32400)) +
        record("LAT_INC", number(3600)) + record("LONG_INC", number(3600)) + record("GS_COUNT", count(4)) +
        b"".join(struct.pack("<4f", 1 + k, 2, 0.1, 0.1) for k in range(4)) + record("END", b"        "))
keep("shift grid", "small", grid)

for code in ("EPSG:3035", "world:robinson@150", "urn:ogc:def:crs:EPSG::4326"):
    keep("crs", code.replace(":", "_").replace("@", "_"), code)
keep("crs", "wkt1", 'PROJCS["Own",GEOGCS["WGS 84",DATUM["WGS_1984",SPHEROID["WGS 84",6378137,298.257223563]],'
     'PRIMEM["Greenwich",0],UNIT["degree",0.0174532925199433]],PROJECTION["Transverse_Mercator"],'
     'PARAMETER["latitude_of_origin",0],PARAMETER["central_meridian",-9],PARAMETER["scale_factor",0.9996],'
     'PARAMETER["false_easting",500000],PARAMETER["false_northing",0],UNIT["metre",1],AXIS["E",EAST],AXIS["N",NORTH]]')
keep("project", "small", json.dumps({
    "ledge_project": 1, "name": "small", "map_crs": "EPSG:3034", "of_later": {"kept": [1, 2]},
    "sources": [{"id": 1, "name": "crofts", "path": "crofts.gpkg"}],
    "layers": [{"id": 2, "kind": "group", "name": "g", "layers": [
        {"id": 3, "kind": "vector", "name": "Crofts", "source": 1,
         "style": {"classing": "categories", "field": "kind", "categories": [{"value": "a", "label": "A"}]}}]},
        {"id": 4, "kind": "grid lines", "name": "Grid"}, {"id": 5, "kind": "of later", "odd": True}],
    "sheets": [{"id": 6, "name": "Sheet", "width_mm": 297, "height_mm": 210,
                "items": [{"id": 7, "kind": "map"}, {"id": 8, "kind": "text", "text": "Skerravoe"}]}],
    "views": [{"id": 9, "name": "All", "centre": [1, 2], "scale": 50000}]}))
for i, text in enumerate(("if(a > 3, sqrt(b), -a^2) + min(a, b, pi)", "not missing(a) and 1e-3 <= b")):
    keep("expression", str(i), text)
keep("csv", "quoted", 'x,y,name\n1,2,"a ""b"", c"\r\n\n3,4,\n')
for i, text in enumerate(("1 234,5", "-1e300", "2026-02-29", "2026-11-27T10:20:30.5+01:00", "0.25,50,75")):
    keep("words", str(i), text)
keep("wkb", "point", struct.pack("<BIdd", 1, 1, 5, 6))
keep("wkb", "area", struct.pack("<BIII8d", 1, 3, 1, 4, 0, 0, 1, 0, 1, 1, 0, 0))
keep("wkb", "lines_z", struct.pack("<BII", 1, 1005, 1) + struct.pack("<BII6d", 1, 1002, 2, 0, 0, 9, 1, 1, 8))
keep("edit", "opacity", "layer-opacity\nlayer=l\npercent=40")
keep("edit", "member", "layer-set\nlayer=l\nmember=style\nvalue={\"classing\":\"ramp\"}")
keep("edit", "add", "layers-add\nlayers=[{\"id\":40,\"kind\":\"group\",\"name\":\"x\"}]")
