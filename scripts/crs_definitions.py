"""Compiles CRS definitions (WKT1 texts of the EPSG dataset) into one compact table.

Usage: crs_definitions.py ALL_JSON OUT METHODS. Lines of OUT, fields separated by tabs:
  A area    id west south east north name
  E ellipsoid id name semi-major inverse-flattening
  U unit    id name size          (metres or radians)
  G geographic  code name datum ellipsoid prime-meridian unit translation-or-"-" area
  P projected   code name geographic method parameters unit axes area
  R replaced    code code-used-instead kind name    (kind: withdrawn, heights, compound)
METHODS lists the codes of each method as the data's second text of a definition has it: the test
holds the table against it, for either text alone may leave a method out.
Parameters are name=value, as in the WKT: angles in the geographic CRS's unit, lengths in the unit.
Only identifiers of the EPSG dataset itself are kept (below 32768). Shifts to WGS 84 are kept when
they are translations; rotations in such lists are not to be trusted and come from the reviewed
table of datum operations instead.
"""
import json
import re
import sys

def arc(degrees, minutes, seconds):
    """Degrees from a value that was laid down in degrees, minutes and seconds."""
    size = abs(degrees) + (minutes + seconds / 60) / 60
    return repr(-size if degrees < 0 else size)


PRIME_MERIDIANS = {  # east of Greenwich, as laid down
    "Greenwich": "0", "Lisbon": arc(-9, 7, 54.862), "Paris": arc(2, 20, 14.025),
    "Paris RGS": arc(2, 20, 13.95), "Bogota": arc(-74, 4, 51.3), "Rome": arc(12, 27, 8.4),
    "Bern": arc(7, 26, 22.5), "Jakarta": arc(106, 48, 27.79), "Ferro": arc(-17, 40, 0),
    "Stockholm": arc(18, 3, 29.8), "Athens": arc(23, 42, 58.815), "Oslo": arc(10, 43, 22.5),
    "Madrid": arc(-3, 41, 14.55), "Brussels": arc(4, 22, 4.71), "Reference_Meridian": "0",
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


# Spheres of the dataset that it has withdrawn since; files still carry them.
SPHERES = {
    4047: ("Unspecified datum based upon the GRS 1980 Authalic Sphere", "GRS 1980 Authalic Sphere", "6371007"),
    4052: ("Unspecified datum based upon the Clarke 1866 Authalic Sphere", "Clarke 1866 Authalic Sphere", "6370997"),
    4053: ("Unspecified datum based upon the International 1924 Authalic Sphere", "International 1924 Authalic Sphere", "6371228"),
}


def polar_area(base, lat0):
    return (base, "Lambert_Azimuthal_Equal_Area",
            [("latitude_of_center", lat0), ("longitude_of_center", "0"),
             ("false_easting", "0"), ("false_northing", "0")], METRE)


def global_area(base):
    return (base, "Cylindrical_Equal_Area",
            [("standard_parallel_1", "30"), ("central_meridian", "0"),
             ("false_easting", "0"), ("false_northing", "0")], METRE)


# Projected definitions on those spheres, and some withdrawn, kept under their names.
WITHDRAWN = {
    4088: ("World Equidistant Cylindrical (Sphere)",
           (4047, "Equidistant_Cylindrical_Spherical",
            [("standard_parallel_1", "0"), ("central_meridian", "0"),
             ("false_easting", "0"), ("false_northing", "0")], METRE), (-90, -180, 90, 180)),
    3408: ("NSIDC EASE-Grid North", polar_area(4053, "90"), (0, -180, 90, 180)),
    3409: ("NSIDC EASE-Grid South", polar_area(4053, "-90"), (-90, -180, 0, 180)),
    3410: ("NSIDC EASE-Grid Global", global_area(4053), (-86, -180, 86, 180)),
    3973: ("WGS 84 / NSIDC EASE-Grid North", polar_area(4326, "90"), (0, -180, 90, 180)),
    3974: ("WGS 84 / NSIDC EASE-Grid South", polar_area(4326, "-90"), (-90, -180, 0, 180)),
    3975: ("WGS 84 / NSIDC EASE-Grid Global", global_area(4326), (-86, -180, 86, 180)),
}

# Codes that old files carry and what is used instead. Those of five and six digits above 32767
# were never of the dataset, but stand in files as if they were.
REPLACED = {
    900913: 3857, 102100: 3857, 102113: 3857, 3785: 3857, 41001: 3395, 2163: 9311, 4035: 4047,
    32662: 4087, 32663: 4087, 3786: 4088, 3752: 3994, 3349: 3832,
    4140: 4617, 2036: 2953, 2291: 2954, 2292: 2954,
    2140: 2945, 2141: 2946, 2142: 2947, 2143: 2948, 2144: 2949, 2145: 2950, 2146: 2951, 2147: 2952,
    2148: 2962, 2149: 2959, 2150: 2958, 2151: 2957, 2152: 2956, 2153: 2955,
    2600: 3346, 31462: 31466, 31463: 31467, 31464: 31468, 31465: 31469, 2400: 3021,
    26591: 3003, 26592: 3004, 2214: 3119, 4172: 4190, 26747: 26799, 32036: 2204,
    32074: 32064, 32075: 32065, 32076: 32066, 32077: 32067, 4291: 4618, 29100: 29101,
    **{29118 + i: 29168 + i for i in range(5)}, **{29177 + i: 29187 + i for i in range(9)},
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


# What a second text calls the methods of the first; by its first word, which names the method.
SECOND_NAMES = {
    "aea": {"Albers_Conic_Equal_Area"}, "cass": {"Cassini_Soldner"},
    "cea": {"Cylindrical_Equal_Area"}, "eqc": {"Equirectangular"}, "eqearth": {"Equal_Earth"},
    "omerc": {"Hotine_Oblique_Mercator", "Hotine_Oblique_Mercator_Azimuth_Center"},
    "somerc": {"Hotine_Oblique_Mercator_Azimuth_Center"}, "krovak": {"Krovak"},
    "laea": {"Lambert_Azimuthal_Equal_Area"}, "labrd": {"Laborde_Oblique_Mercator"},
    "lcc": {"Lambert_Conformal_Conic_1SP", "Lambert_Conformal_Conic_2SP",
            "Lambert_Conformal_Conic_2SP_Belgium", "Lambert_Conformal_Conic_2SP_Michigan"},
    "merc": {"Mercator_1SP", "Mercator_2SP"}, "nzmg": {"New_Zealand_Map_Grid"},
    "sterea": {"Oblique_Stereographic"}, "stere": {"Polar_Stereographic"}, "poly": {"Polyconic"},
    "tmerc": {"Transverse_Mercator", "Transverse_Mercator_South_Orientated"},
    "utm": {"Transverse_Mercator"},
}
PSEUDO = "Popular_Visualisation_Pseudo_Mercator"


def second_text(entry):
    """The words of the data's other text of a definition, as a dictionary; empty when it has none."""
    text = next((v for v in entry.values() if isinstance(v, str) and v.startswith("+")), "")
    words = dict((w + "=").split("=")[:2] for w in re.findall(r"\+(\S+)", text))
    return words, next(iter(words.values()), "")


def method_by_both(code, first, ellipsoid, entry):
    """The method of a definition that both texts agree on; stops the run where they do not."""
    words, second = second_text(entry)
    if not second:
        return first, False
    if first not in SECOND_NAMES.get(second, ()):
        sys.exit(f"EPSG:{code}: one text says {first}, the other {second}")
    is_sphere = "b" in words and float(words["b"]) == float(words["a"]) or "R" in words
    if is_sphere and float(ellipsoid[2]) != 0:
        if first != "Mercator_1SP":
            sys.exit(f"EPSG:{code}: one text is of the ellipsoid, the other of a sphere")
        return PSEUDO, True
    return first, True


def ranges(codes):
    out = []
    for code in sorted(codes):
        if out and out[-1][1] == code - 1:
            out[-1][1] = code
        else:
            out.append([code, code])
    return " ".join(str(a) if a == b else f"{a}-{b}" for a, b in out)


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


def main(source, target, second_methods):
    data = {int(k): v for k, v in json.load(open(source, encoding="utf-8")).items() if int(k) < 32768}
    told_twice = {}
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
                            PRIME_MERIDIANS[prime[1][0]], units.id(unit[1][0], unit[1][1]), moves, area]

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
            spheroid = child(child(geogcs, "DATUM"), "SPHEROID")[1]
            method, is_told_twice = method_by_both(code, child(tree, "PROJECTION")[1][0], spheroid, entry)
            if is_told_twice:
                told_twice.setdefault(method, []).append(code)
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

    world = areas.id("-180", "-90", "180", "90", "World")
    for code, (name, ellipsoid, radius) in SPHERES.items():
        geographic[code] = [name, name.replace("Unspecified datum", "Not specified"),
                            ellipsoids.id(ellipsoid, radius, "0"), "0",
                            units.id("degree", "0.0174532925199433"), "-", world]
    for code, (name, (base, method, parameters, unit), (south, west, north, east)) in WITHDRAWN.items():
        projected[code] = [name, base, method, ";".join(f"{k}={v}" for k, v in parameters),
                           units.id(*unit), "en", areas.id(west, south, east, north, "World")]

    replaced = {code: (to, "withdrawn", "") for code, to in REPLACED.items()}
    flat = {row[0]: code for code, row in geographic.items()}
    for code, entry in data.items():
        if entry["kind"] == "CRS-GEOG3DCRS" and entry["name"] in flat:
            replaced[code] = (flat[entry["name"]], "heights", entry["name"])
        if entry["kind"] == "CRS-COMPOUNDCRS" and entry.get("wkt"):
            parts = parse(entry["wkt"])[2]
            authority = child(parts[0], "AUTHORITY")
            vertical = child(parse(entry["wkt"]), "VERT_CS")
            if authority and vertical:
                replaced[code] = (int(authority[1][1]), "compound", vertical[1][0])
    known = geographic.keys() | projected.keys()
    for code, (to, kind, _) in list(replaced.items()):
        if code in known or to not in known:
            if kind == "withdrawn":
                sys.exit(f"EPSG:{code} cannot be replaced by EPSG:{to}")
            del replaced[code]

    def rows(letter, table):
        return ["\t".join([letter, str(code)] + [str(v) for v in row]) for code, row in sorted(table.items())]

    lines = areas.lines() + ellipsoids.lines() + units.lines()
    lines += rows("G", geographic) + rows("P", projected)
    lines += rows("R", replaced)
    lines += [f"X\t{code}\t{name}" for code, name in sorted(left_out)]
    with open(target, "w", encoding="utf-8") as out:
        out.write("\n".join(lines) + "\n")
    with open(second_methods, "w", encoding="utf-8") as out:
        out.write("# methods of the EPSG dataset's projected definitions as a second text has them; codes, ranges\n")
        for method, codes in sorted(told_twice.items()):
            out.write(f"{method}\t{ranges(codes)}\n")
    print(f"{len(geographic)} geographic, {len(projected)} projected, {len(left_out)} without a definition, {len(replaced)} replaced")


if __name__ == "__main__":
    main(*sys.argv[1:4])
