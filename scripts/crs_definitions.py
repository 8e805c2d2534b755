"""Compiles CRS definitions (WKT1 texts of the EPSG dataset) into one compact table.

Usage: crs_definitions.py ALL_JSON OUT. Lines, fields separated by tabs:
  A area    id west south east north name
  E ellipsoid id name semi-major inverse-flattening
  U unit    id name size          (metres or radians)
  G geographic  code name datum ellipsoid prime-meridian unit translation-or-"-" area
  P projected   code name geographic method parameters unit axes area
Parameters are name=value, as in the WKT: angles in the geographic CRS's unit, lengths in the unit.
Only identifiers of the EPSG dataset itself are kept (below 32768). Shifts to WGS 84 are kept when
they are translations; rotations in such lists are not to be trusted and come from the reviewed
table of datum operations instead.
"""
import json
import re
import sys

PRIME_MERIDIANS = {  # degrees east of Greenwich, as the EPSG dataset lists them
    "Lisbon": "-9.131906111", "Paris": "2.33722917", "Bogota": "-74.08091667",
    "Rome": "12.45233333", "Bern": "7.439583333", "Jakarta": "106.8077194",
    "Ferro": "-17.66666667", "Stockholm": "18.05827778", "Athens": "23.7163375",
    "Oslo": "10.72291667", "Madrid": "-3.687938889",
}
GRAD = ("grad", "0.015707963267949")
METRE = ("metre", "1")
US_FOOT = ("US survey foot", "0.304800609601219")


def cone(lat0, scale, east, north):
    return (4807, "Lambert_Conformal_Conic_1SP",
            [("latitude_of_origin", lat0), ("central_meridian", "0"), ("scale_factor", scale),
             ("false_easting", east), ("false_northing", north)], METRE)


def michigan(lat0, lon0, first, second):
    return (4267, "Lambert_Conformal_Conic_2SP_Michigan",
            [("latitude_of_origin", lat0), ("central_meridian", lon0),
             ("standard_parallel_1", first), ("standard_parallel_2", second),
             ("false_easting", "2000000"), ("false_northing", "0"),
             ("ellipsoid_scaling_factor", "1.0000382")], US_FOOT)


def equal_earth(lon0):
    return (4326, "Equal_Earth",
            [("central_meridian", lon0), ("false_easting", "0"), ("false_northing", "0")], METRE)


# Geographic CRSs whose texts the data lack: datum and the name of its ellipsoid.
GEOGRAPHIC_SUPPLEMENT = {
    4120: ("Greek", "Bessel 1841"), 4135: ("Old Hawaiian", "Clarke 1866"),
    4136: ("St. Lawrence Island", "Clarke 1866"), 4137: ("St. Paul Island", "Clarke 1866"),
    4138: ("St. George Island", "Clarke 1866"), 4675: ("Guam 1963", "Clarke 1866"),
    5132: ("Tokyo 1892", "Bessel 1841"),
}


def hawaii(lat0, lon0, scale):
    return (4135, "Transverse_Mercator",
            [("latitude_of_origin", lat0), ("central_meridian", lon0), ("scale_factor", scale),
             ("false_easting", "500000"), ("false_northing", "0")], US_FOOT)


# Projected CRSs whose texts the data lack, from the published parameters.
SUPPLEMENT = {
    27561: cone("55", "0.999877341", "600000", "200000"),
    27562: cone("52", "0.99987742", "600000", "200000"),
    27563: cone("49", "0.999877499", "600000", "200000"),
    27564: cone("46.85", "0.99994471", "234.358", "185861.369"),
    27571: cone("55", "0.999877341", "600000", "1200000"),
    27572: cone("52", "0.99987742", "600000", "2200000"),
    27573: cone("49", "0.999877499", "600000", "3200000"),
    27574: cone("46.85", "0.99994471", "234.358", "4185861.369"),
    6201: michigan("44.7833333333333", "-87", "45.4833333333333", "47.0833333333333"),
    6202: michigan("43.3166666666667", "-84.3333333333333", "44.1833333333333", "45.7"),
    6203: michigan("41.5", "-84.3333333333333", "42.1", "43.6666666666667"),
    3561: hawaii("18.8333333333333", "-155.5", "0.999966667"),
    3562: hawaii("20.3333333333333", "-156.666666666667", "0.999966667"),
    3563: hawaii("21.1666666666667", "-158", "0.99999"),
    3564: hawaii("21.8333333333333", "-159.5", "0.99999"),
    3565: hawaii("21.6666666666667", "-160.166666666667", "1"),
    8857: equal_earth("0"), 8858: equal_earth("-90"), 8859: equal_earth("150"),
}
SOUTH_WEST = {"Transverse_Mercator_South_Orientated": "ws", "Bonne_(South_Orientated)": "ws",
              "Lambert_Conic_Conformal_(West_Orientated)": "wn"}
DATUM_NAMES = {"WGS_1984": "World Geodetic System 1984"}


def parse(text):
    """One KEYWORD[...] of a WKT text as (keyword, values, children)."""
    at = 0

    def node():
        nonlocal at
        keyword = re.compile(r"\s*([A-Z_0-9]+)\s*\[").match(text, at)
        at = keyword.end()
        values, children = [], []
        while True:
            quoted = re.compile(r'\s*"((?:[^"]|"")*)"').match(text, at)
            bare = re.compile(r"\s*([-+0-9.eE]+|[A-Z]+)\s*(?=[,\]])").match(text, at)
            if quoted:
                values.append(quoted.group(1).replace('""', '"'))
                at = quoted.end()
            elif bare:
                values.append(bare.group(1))
                at = bare.end()
            else:
                children.append(node())
            if text[at] == ",":
                at += 1
                continue
            at += 1
            return keyword.group(1), values, children

    return node()


def child(tree, keyword):
    return next((c for c in tree[2] if c[0] == keyword), None)


class Table:
    """Numbered distinct rows."""

    def __init__(self, letter):
        self.letter, self.ids = letter, {}

    def id(self, *row):
        return self.ids.setdefault(tuple(map(str, row)), len(self.ids))

    def lines(self):
        return ["\t".join((self.letter, str(i)) + row) for row, i in self.ids.items()]


def number(text):
    value = float(text)
    return str(int(value)) if value == int(value) and abs(value) < 1e15 else repr(value)


def main(source, target):
    data = {int(k): v for k, v in json.load(open(source, encoding="utf-8")).items() if int(k) < 32768}
    areas, ellipsoids, units = Table("A"), Table("E"), Table("U")
    geographic, projected, left_out = {}, {}, []

    def area_of(entry):
        box = entry.get("bbox") or [90, -180, -90, 180]
        north, west, south, east = (number(v) for v in box)
        return areas.id(west, south, east, north, (entry.get("area") or "").strip().rstrip("."))

    def read_geographic(code, name, tree, area):
        datum = child(tree, "DATUM")
        spheroid = child(datum, "SPHEROID")
        shift = child(datum, "TOWGS84")
        moves = "-"
        if shift and all(float(v) == 0 for v in shift[1][3:]):
            moves = ",".join(number(v) for v in shift[1][:3])
        if datum[1][0] == "WGS_1984":
            moves = "0,0,0"
        unit = child(tree, "UNIT")
        prime = child(tree, "PRIMEM")
        geographic[code] = [name, DATUM_NAMES.get(datum[1][0], datum[1][0].replace("_", " ")),
                            ellipsoids.id(spheroid[1][0], number(spheroid[1][1]), number(spheroid[1][2])),
                            number(prime[1][1]), units.id(unit[1][0], unit[1][1]), moves, area]

    for code, entry in sorted(data.items()):
        if entry["kind"] == "CRS-GEOGCRS" and entry.get("wkt"):
            read_geographic(code, entry["name"], parse(entry["wkt"]), area_of(entry))
    for code, entry in sorted(data.items()):
        if entry["kind"] != "CRS-GEOGCRS" or entry.get("wkt"):
            continue
        if code in GEOGRAPHIC_SUPPLEMENT:
            datum, ellipsoid = GEOGRAPHIC_SUPPLEMENT[code]
            row = next(r for r in ellipsoids.ids if r[0] == ellipsoid)
            geographic[code] = [entry["name"], datum, ellipsoids.id(*row), "0",
                                units.id("degree", "0.0174532925199433"), "-", area_of(entry)]
            continue
        # "NTF (Paris)" is NTF with the prime meridian of Paris.
        match = re.fullmatch(r"(.*) \(([A-Za-z]+)\)", entry["name"])
        base = next((r for r in geographic.values() if match and r[0] == match.group(1)), None)
        if not base or match.group(2) not in PRIME_MERIDIANS:
            left_out.append((code, entry["name"]))
            continue
        unit = GRAD if code in (4807, 4811, 4816, 4810) else ("degree", "0.0174532925199433")
        geographic[code] = [entry["name"], base[1] + " (" + match.group(2) + ")", base[2],
                            PRIME_MERIDIANS[match.group(2)], units.id(*unit), base[5], area_of(entry)]
    for code, entry in sorted(data.items()):
        if entry["kind"] != "CRS-PROJCRS":
            continue
        if code in SUPPLEMENT:
            base, method, parameters, unit = SUPPLEMENT[code]
            axes = "en"
        elif entry.get("wkt"):
            tree = parse(entry["wkt"])
            geogcs = child(tree, "GEOGCS")
            authority = child(geogcs, "AUTHORITY")
            base = int(authority[1][1]) if authority else 0
            if base not in geographic:
                read_geographic(base, geogcs[1][0], geogcs, area_of(entry))
            method = child(tree, "PROJECTION")[1][0]
            parameters = [(c[1][0], number(c[1][1])) for c in tree[2] if c[0] == "PARAMETER"]
            unit = tuple(child(tree, "UNIT")[1])
            axes = SOUTH_WEST.get(method, "en")
            if method == "Krovak" and not child(tree, "AXIS"):
                axes = "ws"
        else:
            left_out.append((code, entry["name"]))
            continue
        projected[code] = [entry["name"], base, method, ";".join(f"{k}={v}" for k, v in parameters),
                           units.id(*unit), axes, area_of(entry)]

    def rows(letter, table):
        return ["\t".join([letter, str(code)] + [str(v) for v in row]) for code, row in sorted(table.items())]

    lines = areas.lines() + ellipsoids.lines() + units.lines()
    lines += rows("G", geographic) + rows("P", projected)
    lines += [f"X\t{code}\t{name}" for code, name in sorted(left_out)]
    with open(target, "w", encoding="utf-8") as out:
        out.write("\n".join(lines) + "\n")
    print(f"{len(geographic)} geographic, {len(projected)} projected, {len(left_out)} without a definition")


if __name__ == "__main__":
    main(sys.argv[1], sys.argv[2])
